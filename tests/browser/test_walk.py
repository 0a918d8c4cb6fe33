"""The walk through the demo's stations, by mouse and by keyboard."""

from __future__ import annotations

import json
import re
import zipfile
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import ask
from tests.browser.test_looks import faults

STATIONS = {
    "motor": "Stall current",
    "load": "Working current",
    "supply": "Supply under load",
    "driver": "Worst peak current",
    "power_stage": "Junction temperature",
    "signals": "Duty steps",
    "wiring": "Drop, source to driver",
    "encoder": "Counts per output turn",
    "loop": "Overshoot",
}
TITLES = ["Motor", "Load", "Supply", "Driver", "Power stage", "Signals", "Wiring", "Encoder", "Loop", "Bench", "Log"]


def heading(page: Page, title: str) -> None:
    expect(page.get_by_role("heading", level=2, name=title, exact=True)).to_be_visible()


def figure(page: Page, title: str):  # type: ignore[no-untyped-def]
    return page.locator(".figure", has=page.locator(".figure-title", has_text=title)).first


def saved(page: Page) -> None:
    expect(page.locator(".card-sub")).to_contain_text("Saved")


def test_the_whole_walk_by_mouse(page: Page, carousel: str) -> None:
    page.goto("/")
    page.locator(f'a[href="/b/{carousel}/motor"]').click()
    for title, (_, shown) in zip(TITLES, STATIONS.items(), strict=False):
        heading(page, title)
        expect(figure(page, shown)).to_be_visible()
        page.locator(".sheet-next").click()
    heading(page, "Bench")
    expect(page.get_by_role("list", name="Test sheet").locator("button")).to_have_count(24)
    page.locator(".sheet-next").click()
    heading(page, "Log")
    expect(page.locator(".sheet-next")).to_have_count(0)


def test_the_whole_walk_by_keyboard(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/motor")
    heading(page, "Motor")
    for key, title in zip(["2", "3", "4", "5", "6", "7", "8", "9", "0", "-", "1"], [*TITLES[1:], "Motor"], strict=True):
        page.keyboard.press(key)
        heading(page, title)
    page.keyboard.press("b")
    heading(page, "Build")
    page.keyboard.press("1")
    heading(page, "Motor")
    page.keyboard.press("w")
    expect(page.get_by_label("Working", exact=True)).to_contain_text("Ohm's law at standstill")
    page.keyboard.press("Escape")
    expect(page.get_by_label("Working", exact=True)).to_have_count(0)
    page.keyboard.press("t")
    expect(page.get_by_label("Tight spots")).to_have_count(0)
    page.keyboard.press("t")
    expect(page.get_by_label("Tight spots")).to_be_visible()
    page.keyboard.press("?")
    expect(page.get_by_role("dialog", name="Keys")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_have_count(0)


def test_a_plain_key_in_a_field_is_text_and_alt_acts_everywhere(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/motor")
    field = page.get_by_label("What is it?")
    field.fill("Motor 2")
    field.press("3")
    expect(field).to_have_value("Motor 23")
    heading(page, "Motor")
    field.press("Alt+3")
    heading(page, "Supply")


def test_plain_keys_can_be_switched_off(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/motor")
    heading(page, "Motor")
    page.keyboard.press("?")
    page.get_by_role("checkbox").uncheck()
    page.get_by_role("button", name="Close").click()
    page.keyboard.press("2")
    heading(page, "Motor")
    page.keyboard.press("Alt+2")
    heading(page, "Load")


def test_a_change_is_worked_out_saved_and_followed_everywhere(page: Page, carousel: str, address: str) -> None:
    page.goto(f"/b/{carousel}/load")
    expect(figure(page, "Working current")).to_contain_text("487")
    ratio = page.get_by_label("Gear ratio")
    ratio.fill("75")
    expect(figure(page, "Motor speed, working")).to_contain_text("900")
    saved(page)
    kept = ask(address, f"/api/builds/{carousel}")["build"]
    assert kept["drives"][0]["load"]["gear_ratio"]["text"] == "75"
    page.keyboard.press("Alt+8")
    expect(figure(page, "Counts per output turn")).to_contain_text("3\u202f600")
    expect(page.locator(".stations")).to_contain_text("stale")


def test_wrong_input_says_so_under_the_field_and_loses_nothing(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/motor")
    volts = page.get_by_label("No-load voltage")
    before = figure(page, "Motor constant").inner_text()
    volts.fill("twelve")
    expect(page.locator(".field-error")).to_contain_text("does not begin with a number")
    expect(page.locator(".field-error")).to_contain_text("last good value stays in use")
    expect(volts).to_have_attribute("aria-invalid", "true")
    assert figure(page, "Motor constant").inner_text() == before
    saved(page)
    page.reload()
    expect(page.get_by_label("No-load voltage")).to_have_value("twelve")
    expect(page.locator(".field-error")).to_be_visible()
    page.get_by_label("No-load voltage").fill("12.05")
    expect(page.locator(".field-error")).to_have_count(0)


def test_arrow_keys_nudge_and_undo_redo_reach_across_stations(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/motor")
    volts = page.get_by_label("No-load voltage")
    volts.press("ArrowUp")
    expect(volts).to_have_value("12.06 V")
    volts.press("Shift+ArrowDown")
    expect(volts).to_have_value("11.96 V")
    page.keyboard.press("Alt+2")
    heading(page, "Load")
    page.get_by_label("Gear ratio").fill("99")
    page.keyboard.press("Control+z")
    expect(page.get_by_label("Gear ratio")).to_have_value("150")
    page.keyboard.press("Control+z")
    page.keyboard.press("Alt+1")
    expect(page.get_by_label("No-load voltage")).to_have_value("12.05 V")
    page.keyboard.press("Control+y")
    expect(page.get_by_label("No-load voltage")).to_have_value("11.96 V")


def test_undo_survives_a_reload(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/load")
    page.get_by_label("Gear ratio").fill("88")
    saved(page)
    page.reload()
    expect(page.get_by_title("Undo: Gear ratio")).to_be_enabled()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_label("Gear ratio")).to_have_value("150")


def test_tight_spots_lead_to_their_place_and_open_the_working(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/motor")
    page.get_by_label("Tight spots").get_by_role("button", name="Capacitor voltage rating").click()
    heading(page, "Power stage")
    expect(page.get_by_label("Working", exact=True)).to_contain_text("use of the limit")
    expect(page.get_by_label("Its voltage rating")).to_be_focused()


def test_the_working_leads_down_to_the_givens(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/driver")
    figure(page, "Stall current in the circuit").click()
    working = page.get_by_label("Working", exact=True)
    expect(working).to_contain_text("Kirchhoff")
    expect(working).to_contain_text("Most of the doubt")
    working.get_by_role("button", name="Resistance round the circuit").click()
    expect(working).to_contain_text("series resistances add")
    working.get_by_role("button", name="Internal resistance").first.click()
    heading(page, "Supply")
    expect(page.get_by_label("Internal resistance")).to_be_focused()


def test_choosing_a_driver_updates_everything(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/driver")
    page.get_by_role("button", name="Choose Twin bipolar bridge, 2 A").click()
    expect(page.locator(".candidate-chosen")).to_contain_text("Twin bipolar bridge")
    expect(page.locator(".stations")).to_contain_text("✕")
    expect(page.get_by_label("Tight spots")).to_contain_text("Path for the motor's current")
    page.keyboard.press("7")
    page.get_by_role("tab", name="Pins").click()
    expect(page.get_by_role("table", name="Controller pins")).to_contain_text("ENABLE")
    page.keyboard.press("Control+z")
    page.keyboard.press("4")
    expect(page.locator(".candidate-chosen")).to_contain_text("MOSFET bridge board, 5 A")


def test_a_candidate_opens_to_its_checks_by_name(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/driver")
    page.locator(".candidate-name", has_text="Straight on a controller pin").click()
    shown = page.locator(".candidate", has_text="Straight on a controller pin")
    expect(shown).to_contain_text("Running current × 1.25")
    expect(shown).to_contain_text("✕ stops")


def test_the_school_can_be_changed_where_it_decides(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/driver")
    page.get_by_label("Driver sizing").select_option("stall")
    expect(page.get_by_label("Tight spots")).to_contain_text("Stall within continuous")
    expect(page.locator(".verdict-followed")).to_contain_text("Stall")


def test_a_reading_is_judged_at_once_and_stays_in_the_log(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/bench")
    page.get_by_role("list", name="Test sheet").get_by_role("button", name="Encoder, ten turns").click()
    reading = page.get_by_label("Reading", exact=True)
    reading.fill("lots")
    reading.press("Enter")
    expect(page.locator(".step-said")).to_contain_text("does not begin with a number")
    expect(reading).to_have_value("lots")
    reading.fill("72 010")
    reading.press("Enter")
    expect(page.locator(".step-said")).to_contain_text("✓ Right: between")
    page.get_by_role("list", name="Test sheet").get_by_role("button", name="PWM frequency").click()
    page.get_by_label("Reading", exact=True).fill("976 Hz")
    page.get_by_role("button", name="Keep", exact=True).click()
    expect(page.locator(".step-said")).to_contain_text("✕ Not right")
    page.keyboard.press("Alt+-")
    heading(page, "Log")
    expect(page.locator(".entry-reading").first).to_contain_text("976 Hz")
    expect(page.locator(".entry-reading").first).to_contain_text("✕ fail")
    page.locator(".entry-reading").first.get_by_role("button").click()
    expect(page.locator(".entry-withdrawn")).to_contain_text("976 Hz")


def test_notes_go_to_the_log(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/log")
    expect(page.get_by_role("button", name="Add to the log")).to_be_disabled()
    page.get_by_label("Write down what was done").fill("Oiled the bearing.")
    page.get_by_role("button", name="Add to the log").click()
    expect(page.locator(".entry-note").first).to_contain_text("Oiled the bearing.")
    expect(page.get_by_label("Write down what was done")).to_have_value("")


def test_a_change_upstream_makes_a_reading_stale(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/bench")
    page.get_by_role("list", name="Test sheet").get_by_role("button", name="Encoder, ten turns").click()
    page.get_by_label("Reading", exact=True).fill("72000")
    page.get_by_label("Reading", exact=True).press("Enter")
    expect(page.locator(".bench-steps button", has_text="Encoder, ten turns")).to_contain_text("pass")
    page.keyboard.press("Alt+8")
    page.get_by_label("Slots, teeth or lines").fill("11")
    expect(page.locator(".stations a", has_text="Bench")).to_contain_text("stale")
    expect(page.get_by_text(re.compile("^This makes stale: .*Undo takes it back"))).to_be_visible()
    page.keyboard.press("Alt+0")
    page.get_by_role("list", name="Test sheet").get_by_role("button", name="Encoder, ten turns").click()
    expect(page.locator(".field-stale")).to_contain_text("Slots, teeth or lines per turn changed since")


def test_a_stale_tuning_can_be_confirmed(page: Page, carousel: str, address: str) -> None:
    page.goto("/b/lantern-carousel/loop")
    expect(page.locator(".field-stale")).to_contain_text("Gear ratio changed since")
    copy = ask(address, "/api/builds/lantern-carousel/duplicate", {})["id"]
    page.goto(f"/b/{copy}/loop")
    page.get_by_role("button", name="Still right").click()
    expect(page.locator(".field-stale")).to_have_count(0)
    expect(page.locator(".stations a", has_text="Loop")).to_contain_text("93 %")


def test_the_command_box_finds_and_does_sums(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/motor")
    heading(page, "Motor")
    page.keyboard.press("Control+k")
    page.keyboard.type("encod")
    page.keyboard.press("Enter")
    heading(page, "Encoder")
    page.keyboard.press("Control+k")
    page.keyboard.type("divider")
    page.keyboard.press("Enter")
    expect(page.get_by_text("V_out = V · R_bottom")).to_be_visible()
    page.get_by_label("lower resistor").fill("ten")
    expect(page.get_by_role("alert")).to_contain_text("does not begin with a number")


def test_export_and_import_round_trip(page: Page, carousel: str, address: str, tmp_path: Path) -> None:
    page.goto("/")
    row = page.locator("li", has=page.locator(f'a[href="/b/{carousel}/motor"]'))
    with page.expect_download() as download:
        row.get_by_role("button", name="Export").click()
    file = tmp_path / "build.json"
    download.value.save_as(file)
    page.get_by_label("Build file").set_input_files(file)
    heading(page, "Motor")
    again = page.url.split("/b/")[1].split("/")[0]
    assert again != carousel
    assert ask(address, f"/api/builds/{again}/export") == json.loads(file.read_text("utf-8"))


def test_a_bad_file_is_refused_in_words(page: Page, tmp_path: Path) -> None:
    file = tmp_path / "wrong.json"
    file.write_text('{"name": "x", "format_version": 9}', "utf-8")
    page.goto("/")
    page.get_by_label("Build file").set_input_files(file)
    expect(page.get_by_role("alert")).to_contain_text("format_version")


def test_duplicate_rename_delete_and_take_back(page: Page, carousel: str) -> None:
    page.goto("/")
    row = page.locator("li", has=page.locator(f'a[href="/b/{carousel}/motor"]'))
    row.get_by_role("button", name="Rename").click()
    name = page.get_by_label("New name of")
    name.fill(f"Ring {carousel}")
    name.press("Enter")
    row = page.locator("li", has_text=f"Ring {carousel}")
    expect(row).to_have_count(1)
    row.get_by_role("button", name="Duplicate").click()
    copy = page.locator("li", has_text=f"Ring {carousel} (copy)")
    expect(copy).to_have_count(1)
    copy.get_by_role("button", name="Delete").click()
    expect(copy).to_have_count(0)
    page.get_by_role("button", name="Take it back").click()
    expect(copy).to_have_count(1)


def test_a_revision_is_kept_and_taken_back(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/load")
    heading(page, "Load")
    page.get_by_role("button", name="Build …").click()
    page.get_by_role("menuitem", name="Keep a revision").click()
    page.get_by_label("Why").fill("before the new gearbox")
    page.get_by_role("button", name="Keep it").click()
    expect(page.get_by_text("Revision 1 is kept.")).to_be_visible()
    page.get_by_label("Gear ratio").fill("300")
    saved(page)
    page.get_by_role("button", name="Build …").click()
    page.get_by_role("menuitem", name="Revisions").click()
    page.get_by_role("button", name="What differs from revision 1").click()
    told = page.get_by_role("region", name="From revision 1 to now")
    expect(told.get_by_role("table", name="Given otherwise").get_by_role("row", name="Gear ratio")).to_contain_text(
        "300"
    )
    expect(told.get_by_role("table", name="Figures that moved").get_by_role("row")).not_to_have_count(1)
    page.get_by_role("button", name="Take back revision 1").click()
    expect(page.get_by_label("Gear ratio")).to_have_value("150")


def test_the_log_is_searched_and_goes_out(page: Page, carousel: str, tmp_path: Path) -> None:
    page.goto(f"/b/{carousel}/log")
    for words in ("Gear greased", "Brush looked at"):
        page.get_by_label("Write down what was done").fill(words)
        page.get_by_role("button", name="Add to the log").click()
        expect(page.locator(".entry-note").filter(has_text=words)).to_be_visible()
    page.get_by_label("Search").fill("BRUSH")
    expect(page.locator(".entry-note")).to_have_count(1)
    page.get_by_label("Search").fill("nothing of the kind")
    expect(page.get_by_text("No entry has that.")).to_be_visible()
    page.get_by_label("Search").fill("")
    page.get_by_role("radio", name="Readings").check()
    expect(page.locator(".entry-note")).to_have_count(0)
    with page.expect_download() as coming:
        page.get_by_role("button", name="Export as Markdown").click()
    coming.value.save_as(tmp_path / "log.zip")
    with zipfile.ZipFile(tmp_path / "log.zip") as archive:
        assert "Gear greased" in archive.read("log.md").decode()


@pytest.mark.parametrize("choice", ["Go on with what is saved", "Open what I typed"])
def test_two_tabs_get_a_clear_conflict_and_lose_nothing(page: Page, carousel: str, choice: str) -> None:
    other = page.context.new_page()
    for tab in (page, other):
        tab.goto(f"/b/{carousel}/load")
        expect(tab.get_by_label("Gear ratio")).to_have_value("150")
    with page.expect_response(lambda r: r.request.method == "PUT"):
        page.get_by_label("Gear ratio").fill("111")
    other.get_by_label("Gear ratio").fill("222")
    dialog = other.get_by_role("dialog", name="Another tab saved this build first")
    expect(dialog).to_contain_text("kept as a build of its own")
    assert faults(other) == []
    dialog.get_by_role("button", name=choice).click()
    if choice.startswith("Open"):
        expect(other.locator(".card h1")).to_contain_text("kept from the other tab")
        other.keyboard.press("2")
        expect(other.get_by_label("Gear ratio")).to_have_value("222")
    else:
        expect(other.get_by_label("Gear ratio")).to_have_value("111")
        other.goto("/")
        expect(other.locator(".builds")).to_contain_text("kept from the other tab")


def test_two_tabs_that_change_different_fields_are_brought_together(page: Page, carousel: str, address: str) -> None:
    other = page.context.new_page()
    for tab in (page, other):
        tab.goto(f"/b/{carousel}/load")
        expect(tab.get_by_label("Gear ratio")).to_have_value("150")
    with page.expect_response(lambda r: r.request.method == "PUT"):
        page.get_by_label("Gear ratio").fill("131")
    other.get_by_role("textbox", name="Friction torque").fill("0.3 N·m")
    expect(other.get_by_text("What another tab changed meanwhile was taken in")).to_be_visible()
    expect(other.get_by_label("Gear ratio")).to_have_value("131")
    saved(other)
    expect(other.get_by_role("dialog")).to_have_count(0)
    expect(other.get_by_role("button", name="Undo")).to_be_disabled()
    load = ask(address, f"/api/builds/{carousel}")["build"]["drives"][0]["load"]
    assert load["gear_ratio"]["text"] == "131"
    assert load["mechanisms"][0]["friction_torque"]["text"] == "0.3 N·m"


def test_a_sheet_on_paper_tells_of_which_build_it_is(page: Page, carousel: str) -> None:
    for station in ("motor", "bench", "log"):
        page.goto(f"/b/{carousel}/{station}")
        stamp = page.locator(".print-stamp")
        expect(stamp).to_have_count(1)
        expect(stamp).to_be_hidden()
        page.emulate_media(media="print")
        expect(stamp).to_be_visible()
        expect(stamp).to_contain_text(re.compile(r"^Lantern carousel.*, board 1\.1\. Printed on "))
        expect(page.get_by_role("navigation", name="Stations")).to_be_hidden()
        page.emulate_media(media="screen")


def test_fields_of_other_stations_and_words_are_found(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/motor")
    heading(page, "Motor")
    page.keyboard.press("Control+k")
    box = page.get_by_role("combobox", name=re.compile("^Find a station"))
    box.fill("freewheel")
    page.get_by_role("option", name=re.compile("flyback diode")).click()
    expect(page.get_by_text("Gives a motor's current a way when its switch opens")).to_be_visible()
    page.get_by_role("button", name="See it at Power stage").click()
    page.wait_for_url(re.compile("/power_stage"))
    heading(page, "Power stage")
    page.keyboard.press("Control+k")
    page.get_by_role("combobox", name=re.compile("^Find a station")).fill("slots, teeth")
    page.get_by_role("option", name=re.compile("Slots, teeth or lines per turn")).click()
    page.wait_for_url(re.compile("/encoder"))
    expect(page.get_by_label("Slots, teeth or lines per turn")).to_be_focused()
