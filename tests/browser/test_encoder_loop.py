"""Encoder and loop on the screen: a disc of one's own, turns by hand, a capture, moves and the map of gains."""

from __future__ import annotations

import re
from pathlib import Path

from playwright.sync_api import Page, expect

from tests.browser.test_looks import faults
from tests.browser.test_walk import saved


def test_a_disc_is_mended_and_printed(page: Page, puppets: str) -> None:
    page.goto(f"/b/{puppets}/encoder?drive=d1")
    expect(page.get_by_role("table", name=re.compile("four states"))).to_contain_text("59°")
    checks = page.get_by_role("region", name="Checks")
    expect(checks.get_by_text("The channels are a quarter apart")).to_be_visible()
    apart = page.get_by_label("Sensors apart, along the arc")
    apart.fill("20.944 mm")
    expect(page.get_by_text("one of the four states never comes").first).to_be_visible()
    apart.fill("lots")
    expect(apart).to_have_value("lots")
    expect(page.get_by_text(re.compile("“lots”")).first).to_be_visible()
    apart.fill("13.1 mm")
    expect(page.get_by_role("table", name=re.compile("four states"))).to_contain_text("90°")
    saved(page)
    for button, name in (("Save it to cut out", "disc.svg"), ("Save the mask for a film", "disc-film.svg")):
        with page.expect_download() as came:
            page.get_by_role("button", name=button).click()
        assert came.value.suggested_filename == name
        text = Path(came.value.path()).read_text("utf-8")
        assert text.startswith("<svg") and "50 mm long" in text


def test_turns_by_hand_are_typed_by_keyboard(page: Page, puppets: str) -> None:
    page.goto(f"/b/{puppets}/encoder?drive=d1")
    runs = page.get_by_role("region", name="Turns by hand")
    for k, (turns, counts) in enumerate((("1", "2881"), ("5", "14398"))):
        runs.get_by_role("button", name="Add a row").press("Enter")
        runs.get_by_label("Turns of the output").nth(k).fill(turns)
        runs.get_by_label("Counted").nth(k).fill(counts)
        page.keyboard.press("Tab")
    expect(page.get_by_text("Counts of a turn, weighted by turns")).to_be_visible()
    expect(page.get_by_text("The runs by hand agree")).to_be_visible()
    runs.get_by_label("Counted").nth(1).fill("13000")
    expect(page.get_by_text(re.compile("The run of . turns gives")).first).to_be_visible()


def test_a_capture_names_both_faults(page: Page, puppets: str, tmp_path: Path) -> None:
    page.goto(f"/b/{puppets}/encoder?drive=d1")
    page.get_by_role("button", name="Try one with two faults").click()
    says = page.locator(".told-says")
    expect(says).to_contain_text("59° apart where 90° is ideal")
    expect(says).to_contain_text("is cut wrong: its phase is 26°")
    page.get_by_label("Once a turn").select_option(label="Index")
    expect(page.get_by_text("Counts of a turn", exact=True)).to_be_visible()
    expect(page.get_by_text("48.00 over")).to_be_visible()
    page.get_by_label("Channel B").select_option(label="Index")
    expect(says).not_to_contain_text("59° apart")
    wrong = tmp_path / "wrong.csv"
    wrong.write_text("a,b\n1,2\n", "utf-8")
    page.set_input_files("input[accept*='.vcd']", wrong)
    expect(page.get_by_role("region", name="A capture").get_by_role("alert")).to_be_visible()


def test_moves_and_the_map_of_a_loop(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/loop?drive=d1")
    page.get_by_role("button", name="Map gain and integral time").click()
    expect(page.get_by_text("There is no ring: the loop is proportional alone.")).to_be_visible()
    page.locator('[data-path="drives.d1.loop.integral"] input').fill("300 ms")
    saved(page)
    expect(page.get_by_text("The ring is the working point.")).to_be_visible()
    expect(page.get_by_text("integral time 3", exact=False).first).to_be_visible()
    page.get_by_label("Output, degrees").fill("much")
    page.get_by_role("button", name="Move", exact=True).click()
    moves = page.get_by_role("region", name="A move to a place")
    expect(moves.get_by_role("alert")).to_contain_text("in degrees")
    page.get_by_label("Output, degrees").fill("90")
    page.get_by_role("button", name="Move", exact=True).click()
    expect(moves.get_by_role("row", name=re.compile("All or nothing"))).to_contain_text("never")
    expect(moves.get_by_role("row", name=re.compile("Place over speed"))).to_contain_text("no")
    page.get_by_label("Proportional gain").fill("")
    expect(page.get_by_text("give the gain, or begin with the suggested one").first).to_be_visible()
    page.get_by_role("button", name=re.compile("Take the suggested gain")).first.click()
    expect(page.get_by_label("Proportional gain")).not_to_have_value("")


def test_a_move_is_disturbed_and_drawn_as_one_likes(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/loop?drive=d1")
    moves = page.get_by_role("region", name="A move to a place")
    moves.get_by_label("On the way").select_option("jam")
    moves.get_by_label("At, s", exact=True).fill("9")
    moves.get_by_role("button", name="Move", exact=True).click()
    expect(moves.get_by_role("alert")).to_contain_text("begins within the time")
    moves.get_by_label("At, s", exact=True).fill("0,2")
    moves.get_by_label("Goes").select_option("s")
    moves.get_by_role("button", name="Move", exact=True).click()
    expect(moves.get_by_role("columnheader", name="pushed off by")).to_be_visible()
    expect(moves.get_by_text("the setpoint itself takes")).to_be_visible()
    expect(moves.get_by_text("The program makes no moves here")).to_be_visible()
    own = moves.get_by_role("checkbox", name="With an integral (PI)")
    own.focus()
    page.keyboard.press("Space")
    expect(own).to_be_checked()
    moves.get_by_label("Drawn").select_option("current_a")
    expect(moves.get_by_role("img", name=re.compile("^Current, A over time by 4 laws"))).to_be_visible()
    homing = page.get_by_role("region", name="Homing")
    homing.get_by_role("button", name="Home").click()
    expect(homing.get_by_role("alert")).to_contain_text("It runs one way")


def test_a_record_of_the_loop_gives_gains_and_is_kept(page: Page, carousel: str, tmp_path: Path) -> None:
    page.goto(f"/b/{carousel}/loop?drive=d1")
    record = page.get_by_role("region", name="A record of the real loop")
    wrong = tmp_path / "wrong.txt"
    wrong.write_text("time,volts\n0,1\n1,2\n2,3\n", "utf-8")
    page.set_input_files("input[accept*='.log']", wrong)
    expect(record.get_by_role("alert")).to_contain_text("named for the duty")
    record.get_by_role("button", name="Try one of a heavier carousel").click()
    expect(record.get_by_role("status").first).to_contain_text("more than the design's: more inertia")
    expect(record.get_by_text(re.compile(r"^tune 1 \d+ \d+$"))).to_be_visible()
    before = page.get_by_label("Proportional gain").input_value()
    record.get_by_role("button", name="Take these gains").click()
    expect(page.get_by_label("Proportional gain")).not_to_have_value(before)
    expect(page.locator('[data-path="drives.d1.loop.integral"] input')).not_to_have_value("")
    record.get_by_role("button", name="Keep it with the build").click()
    expect(record.get_by_text("Kept: it is in the log.")).to_be_visible()
    saved(page)
    page.goto(f"/b/{carousel}/log")
    entry = page.locator(".entry-capture")
    expect(entry).to_contain_text("Loop: At full duty it comes to")
    with page.expect_download() as came:
        entry.get_by_role("link").click()
    assert "at 12000 1 idle" in Path(came.value.path()).read_text("utf-8")


def test_an_outer_loop_is_tried_and_refused_where_nothing_balances(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/loop?drive=d1")
    outer = page.get_by_role("region", name="An outer loop")
    outer.get_by_role("button", name="Try it").click()
    expect(outer.get_by_role("alert")).to_contain_text("stands on wheels")
    outer.get_by_label("Felt").select_option("following")
    outer.get_by_label("Time, s").fill("15")
    outer.get_by_label("Target, units").fill("8")
    outer.get_by_role("button", name="Try it").click()
    expect(outer.get_by_text("It comes to its target.")).to_be_visible()
    outer.get_by_label("Sensor’s table").fill("5:1, 2:0")
    outer.get_by_role("button", name="Try it").click()
    expect(outer.get_by_role("alert")).to_contain_text("must rise")


def test_one_sensor_and_a_tacho_are_asked_what_they_have(page: Page, puppets: str) -> None:
    page.goto(f"/b/{puppets}/encoder?drive=d1")
    apart = page.get_by_label("Sensors apart, along the arc")
    expect(apart).to_be_visible()
    page.get_by_label("Sensors", exact=True).select_option("1")
    expect(apart).to_have_count(0)
    expect(page.get_by_role("img", name=re.compile("^A over two teeth"))).to_be_visible()
    expect(page.get_by_text("its load may pull it back").first).to_be_visible()
    page.get_by_role("button", name=re.compile("Two sensors")).click()
    expect(apart).to_be_visible()
    page.get_by_label("What it is").select_option("tacho")
    expect(page.get_by_text("A tacho tells the speed as volts")).to_be_visible()
    page.get_by_label("Its volts for its speed").fill("0.5 V/krpm")
    expect(page.get_by_text("Tacho at the converter").first).to_be_visible()
    expect(page.get_by_text("volts below nothing, which break an input").first).to_be_visible()


def test_encoder_and_loop_at_phone_width_and_with_nothing_serious(page: Page, puppets: str, carousel: str) -> None:
    for where, button, comes in (
        (f"/b/{puppets}/encoder?drive=d1", "Try one with two faults", ".told-figures"),
        (f"/b/{carousel}/loop?drive=d1", "Move", ".loop-moves table"),
    ):
        page.set_viewport_size({"width": 1280, "height": 800})
        page.goto(where)
        page.get_by_role("button", name=button, exact=True).click()
        expect(page.locator(comes)).to_be_visible()
        assert faults(page) == []
        page.set_viewport_size({"width": 390, "height": 844})
        assert page.evaluate("document.querySelector('.sheet').scrollWidth") <= 390
