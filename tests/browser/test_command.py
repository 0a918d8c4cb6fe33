"""How a builder tells the thing what to do: sequences with interlocks, lamps and both kinds of buttons, the proving
mode, a second controller with the same program, and a transistor off a board."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import ask
from tests.browser.test_looks import AXE, RUN_AXE
from tests.browser.test_walk import saved


@pytest.fixture
def stage(address: str) -> str:
    """A copy of the puppet stage."""
    made: str = ask(address, "/api/builds/puppet-stage/duplicate", {})["id"]
    return made


@pytest.fixture
def ring(address: str) -> str:
    """A copy of the carousel."""
    made: str = ask(address, "/api/builds/lantern-carousel/duplicate", {})["id"]
    return made


def test_a_sequence_is_played_broken_and_mended(page: Page, stage: str) -> None:
    page.goto(f"/b/{stage}/signals?drive=d1")
    page.get_by_role("tab", name="Sequences").click()
    page.get_by_role("button", name="Play it").click()
    expect(page.get_by_text(re.compile("It comes to its end after 14"))).to_be_visible()
    locks = page.get_by_role("region", name="Interlocks")
    locks.get_by_role("button", name="Add one more").click()
    locks.get_by_label("Drive", exact=True).select_option(label="Curtain winch")
    locks.get_by_label("Runs only while the other is").select_option(label="A servo at its place")
    locks.get_by_label("The other drive").select_option(label="Right shutter")
    locks.get_by_label("That pose").select_option(label="Open")
    expect(page.get_by_text("Curtain winch runs only while Right shutter is at 89 % of its travel")).to_be_visible()
    broken = page.get_by_text("No step is given against an interlock: it can.")
    expect(broken).to_have_count(0)
    page.get_by_role("region", name="Steps").get_by_label("Until").nth(1).select_option(
        label="Goes on at once, the order stands"
    )
    expect(broken).to_be_visible()
    expect(page.get_by_text("step 3: Curtain winch drives forward").first).to_be_visible()
    saved(page)
    page.get_by_role("button", name="Undo").click()
    expect(broken).to_have_count(0)


def test_a_step_that_its_drive_cannot_do_is_told(page: Page, stage: str) -> None:
    page.goto(f"/b/{stage}/signals?drive=d1")
    page.get_by_role("tab", name="Sequences").click()
    page.get_by_role("region", name="Steps").get_by_label("Drive").nth(2).select_option(label="Left shutter")
    expect(page.get_by_text("Step 3: Left shutter cannot do that.").first).to_be_visible()


def test_both_kinds_of_buttons_lamps_and_proving_by_keyboard(page: Page, stage: str) -> None:
    page.goto(f"/b/{stage}/signals?drive=d1")
    page.get_by_role("tab", name="Panel").click()
    page.get_by_label("One-touch buttons beside them").select_option(index=1)
    run = page.get_by_role("button", name="Run forward", exact=True)
    run.focus()
    page.keyboard.press("Enter")
    expect(page.get_by_text("runs forward, button still held").first).to_be_visible()
    expect(page.get_by_text("Curtain runs: blinks")).to_be_visible()
    expect(page.get_by_text("Ready: dark")).to_be_visible()
    prove = page.get_by_role("button", name="Prove the inputs")
    prove.focus()
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Wait 0.1 s").click()
    told = page.get_by_role("table", name=re.compile("All outputs stay off"))
    expect(told.get_by_role("row", name="Run forward pressed")).to_be_visible()
    expect(page.get_by_text("Curtain runs: dark")).to_be_visible()


def test_a_stop_above_a_current_asks_for_it_and_can_go_again(page: Page, ring: str) -> None:
    page.goto(f"/b/{ring}/signals")
    page.get_by_label("Stop above a current").select_option(label="Yes")
    field = page.get_by_role("textbox", name=re.compile("^Above"))
    field.fill("2 V")
    expect(page.get_by_text(re.compile("is not a current")).first).to_be_visible()
    field.fill("3 A")
    expect(page.get_by_text("Sense signal at the stop").first).to_be_visible()
    page.get_by_label("Stop above a current").select_option(label="No")
    expect(field).to_have_count(0)


def test_a_second_controller_comes_with_its_drives_and_goes_with_undo(page: Page, ring: str) -> None:
    page.goto(f"/b/{ring}/build")
    page.get_by_role("button", name="A second one, same program").click()
    expect(page.get_by_role("button", name="Carousel (2)", exact=True)).to_be_visible()
    page.get_by_role("button", name="A second one, same program").first.click()
    expect(page.get_by_text("one program serves two, not more").first).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("button", name="Carousel (2)", exact=True)).to_have_count(0)


def test_a_transistor_off_a_board_goes_on_the_shelf(page: Page, address: str) -> None:
    made: str = ask(address, "/api/builds/cider-stirrer/duplicate", {})["id"]
    page.goto(f"/b/{made}/power_stage")
    page.get_by_role("button", name="The shelf of components").click()
    page.get_by_text("Off a board, without a sheet").click()
    page.get_by_label("Gate tied to drain").fill("2.6")
    page.get_by_role("button", name="Put them into the form").click()
    expect(page.get_by_text("Not given yet: “then with the gate at”.")).to_be_visible()
    for label, text in (
        ("Then with the gate at", "10"),
        ("And a current of", "2"),
        ("Volts from drain to source", "48m"),
        ("The board it comes from had at most", "24"),
    ):
        page.get_by_label(label).fill(text)
    page.get_by_role("button", name="Put them into the form").click()
    expect(page.get_by_label("On-resistance, 25 °C, highest")).to_have_value("0.023 Ω")
    page.get_by_role("button", name="Put it on the shelf").click()
    expect(page.get_by_text("Off a board is on the shelf.")).to_be_visible()


@pytest.mark.parametrize("width", [1280, 390])
def test_the_sequences_are_sound_at_any_width(page: Page, stage: str, width: int) -> None:
    page.set_viewport_size({"width": width, "height": 844})
    page.goto(f"/b/{stage}/signals?drive=d1")
    page.get_by_role("tab", name="Sequences").click()
    page.get_by_role("button", name="Play it").click()
    expect(page.get_by_text(re.compile("It comes to its end after"))).to_be_visible()
    assert page.evaluate("document.documentElement.scrollWidth") <= width
    page.evaluate(AXE.read_text("utf-8"))
    assert page.evaluate(RUN_AXE) == []


def test_a_handset_is_added_told_wired_and_programmed(page: Page, ring: str) -> None:
    page.goto(f"/b/{ring}/signals?drive=d1")
    page.get_by_role("button", name="Add a handset").click()
    own = page.get_by_role("region", name="Handset: Handset")
    expect(own).to_be_visible()
    expect(page.get_by_text("Add a controller at Build and name it here.").first).to_be_visible()
    radio = page.get_by_role("region", name="Radio, for all handsets")
    address = radio.get_by_label("Paired address")
    address.fill("300")
    expect(page.get_by_text("must be at most 250; 300 is more").first).to_be_visible()
    expect(address).to_have_value("300")
    address.fill("77")
    radio.get_by_label("Heard by").select_option(index=1)
    page.get_by_role("tab", name="Handsets").click()
    expect(page.get_by_text("Name its controller first")).to_be_visible()
    saved(page)


def test_a_handset_of_the_stage_makes_its_program_and_follows_its_address(page: Page, stage: str) -> None:
    page.goto(f"/b/{stage}/signals?drive=d1")
    page.get_by_role("tab", name="Handsets").click()
    expect(page.get_by_role("cell", name="Button “Halt”")).to_be_visible()
    page.set_viewport_size({"width": 390, "height": 844})
    assert page.evaluate("document.querySelector('.sheet').scrollWidth") <= 390
    page.get_by_role("button", name="Make the program").click()
    source = page.locator("pre.source")
    expect(source).to_contain_text("#define ADDRESS 37")
    page.set_viewport_size({"width": 1280, "height": 800})
    page.get_by_role("region", name="Radio, for all handsets").get_by_label("Paired address").fill("38")
    saved(page)
    page.get_by_role("button", name="Make it anew").click()
    expect(source).to_contain_text("#define ADDRESS 38")


def test_the_panel_stops_when_the_handset_falls_silent(page: Page, stage: str) -> None:
    page.goto(f"/b/{stage}/signals?drive=d1")
    page.get_by_role("tab", name="Panel").click()
    says = page.locator(".try-now")
    page.get_by_role("button", name="Wait 1 s").click()
    expect(says).to_contain_text("ready")
    page.get_by_role("button", name="Forward", exact=True).press("Enter")
    expect(says).to_contain_text("drives forward")
    page.get_by_role("button", name="Handset silent").press("Enter")
    expect(says).to_contain_text("rests")
