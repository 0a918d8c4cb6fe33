"""What is wrong: from a failed step to a suspect and into the log; a hidden fault by keyboard; at a phone's width."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from .conftest import ask


def finder(page: Page, build: str) -> None:
    page.goto(f"/b/{build}/bench")
    page.get_by_role("tab", name="What is wrong?").click()
    expect(page.get_by_role("heading", name="Suspects")).to_be_visible()


def test_a_failed_step_leads_to_what_is_wrong_and_into_the_log(page: Page, carousel: str, address: str) -> None:
    page.goto(f"/b/{carousel}/bench")
    page.get_by_role("button", name=re.compile("Source at rest")).click()
    page.get_by_label("Reading", exact=True).fill("0 V")
    page.get_by_role("button", name="Keep", exact=True).click()
    page.get_by_role("button", name="Find what is wrong").click()
    suspects = page.get_by_role("region", name="Suspects")
    expect(suspects.locator("li summary").first).to_contain_text("Fuse blown")
    expect(page.locator(".faults-read")).to_contain_text("Source at rest: 0 V from the log")
    suspects.locator("li summary").first.click()
    expect(suspects.get_by_text("fits; it would read").first).to_be_visible()
    suspects.get_by_role("button", name="It was this: into the log").first.click()
    expect(page.get_by_text("The failure is in the log")).to_be_visible()
    (entry,) = [e for e in ask(address, f"/api/builds/{carousel}/log") if e["topic"] == "failure"]
    assert "Fuse blown" in entry["details"]["cause"] and "Repeat:" in entry["text"]


def test_symptoms_and_readings_move_the_suspects_and_can_be_taken_back(page: Page, carousel: str) -> None:
    finder(page, carousel)
    top = page.locator(".faults-suspects > li summary").first
    page.get_by_role("radiogroup", name="It turns the other way").get_by_text("Yes").click()
    expect(top).to_contain_text("leads are swapped")
    for symptom, answer in (("It turns the other way", "Open"), ("It does not turn", "Yes")):
        with page.expect_response("**/api/faults") as told:
            page.get_by_role("radiogroup", name=symptom).get_by_text(answer).click()
    # The reply to the last answer is on the screen, not that of the one before.
    title = told.value.json()["tests"][0]["title"]
    best = page.locator(".faults-best")
    expect(best.get_by_role("heading")).to_contain_text(title)
    expect(top).not_to_contain_text("leads are swapped")
    best.get_by_role("textbox").fill("banana")
    best.get_by_role("button", name="Count it").click()
    expect(page.get_by_role("alert")).to_contain_text("banana")
    page.get_by_role("button", name=re.compile("^Leave out")).click()
    expect(page.get_by_role("alert")).to_have_count(0)
    expect(page.locator(".faults-best").get_by_role("heading")).to_contain_text(title)


def test_a_hidden_fault_is_found_by_keyboard(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/bench")
    page.get_by_role("tab", name="Test sheet").focus()
    page.keyboard.press("ArrowRight")
    page.keyboard.press("ArrowRight")
    expect(page.get_by_role("heading", name="What is seen")).to_be_visible()
    page.get_by_role("button", name="No short from supply to ground").focus()
    page.keyboard.press("Enter")
    expect(page.locator(".faults-read li")).to_have_count(1)
    page.get_by_label("It is").focus()
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Tab")
    page.keyboard.press("Enter")
    judged = page.locator(".faults-judged")
    expect(judged).to_contain_text(re.compile("Right: |No[.]"))
    expect(judged).to_contain_text("1 test")
    page.get_by_role("button", name="Another fault").click()
    expect(judged).to_have_count(0)


def test_nothing_is_cut_at_a_phones_width(phone: Page, puppets: str) -> None:
    finder(phone, puppets)
    phone.get_by_role("tab", name="Practice").click()
    expect(phone.get_by_role("heading", name="What is seen")).to_be_visible()
    assert phone.evaluate("document.documentElement.scrollWidth") <= 390


def test_a_servo_is_told_that_it_has_its_sheet_alone(page: Page, puppets: str) -> None:
    page.goto(f"/b/{puppets}/bench")
    page.get_by_role("tab", name="Test sheet").wait_for()
    page.get_by_role("button", name="Left shutter", exact=True).click()
    expect(page.get_by_role("region", name="Servo rail")).to_be_visible()
    page.get_by_role("tab", name="What is wrong?").click()
    expect(page.get_by_role("alert")).to_contain_text("drives with a motor")


def test_a_hand_sum_is_asked_judged_and_worked_out(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/bench")
    page.get_by_role("tab", name="Practice").click()
    sums = page.get_by_role("region", name="Hand sums")
    expect(sums.get_by_label("Answer")).to_be_visible()
    sums.get_by_label("Answer").fill("many")
    sums.get_by_role("button", name="Check it").click()
    expect(sums.get_by_role("alert")).to_contain_text("many")
    sums.get_by_label("Answer").fill("0.000001")
    sums.get_by_role("button", name="Check it").click()
    expect(sums.get_by_text("✕")).to_be_visible()
    expect(sums.get_by_text("0 of 1 right so far")).to_be_visible()
    sums.get_by_role("button", name="Another sum").click()
    expect(sums.get_by_label("Answer")).to_have_value("")
    expect(sums.get_by_text("✕")).to_have_count(0)


def test_a_dry_joint_is_followed_to_its_pad(page: Page, carousel: str) -> None:
    finder(page, carousel)
    suspects = page.get_by_role("region", name="Suspects")
    suspects.locator("summary", has_text="Dry joint").click()
    suspects.get_by_role("button", name="Find the place by a meter").first.click()
    place = page.get_by_role("region", name="Where it sits")
    expect(place).to_contain_text("Touch OUT 1 of MOSFET bridge board, 5 A and M+")
    with page.expect_response("**/api/faults/places"):
        place.get_by_role("button", name="Nothing", exact=True).click()
    expect(place.locator(".fault-places li").first).to_contain_text("Motor +")
    with page.expect_response("**/api/faults/places"):
        place.get_by_role("button", name="Nothing", exact=True).click()
    place.get_by_role("button", name="Take the last one back").click()
    expect(place.locator(".field-help")).to_contain_text("M+ of Gear motor")
