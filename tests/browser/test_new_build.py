"""A build from nothing: the empty states, then number by number until a driver is chosen."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from tests.browser.conftest import ask
from tests.browser.test_walk import figure, heading, saved

GIVENS = {
    "2": {
        "Mass that turns": "4 kg",
        "Outer radius": "0.3 m",
        "Friction torque": "0.2 N·m",
        "Speed wanted": "20 rpm",
        "Time to speed": "2 s",
        "Gear ratio": "100",
    },
    "3": {
        "Full, at rest": "12.6",
        "Nominal": "11.1 V",
        "Flat, at rest": "9.6 V",
        "Internal resistance": "60m",
        "Fuse at the source": "5 A",
        "Logic current, all told": "100 mA",
    },
    "5": {"Bulk capacitor": "470u", "Its voltage rating": "25 V", "Its ripple current rating": "1.2 A"},
    "8": {"Slots, teeth or lines": "12", "Loop time, measured": "60 µs"},
    "9": {"Proportional gain": "0.05 %/rpm"},
}


def test_a_build_from_nothing(page: Page) -> None:
    page.goto("/")
    page.get_by_label("Name of a new build").fill("Bird feeder")
    page.get_by_role("button", name="Start a build").click()
    heading(page, "Motor")
    expect(page.get_by_label("What to read next")).to_contain_text("Rotor locked, one shaft angle, two currents")
    expect(page.locator(".unknown")).to_contain_text("Not known yet: give")
    for angle, volts, amperes in (("0°", "1.0 V", "0.4 A"), ("60°", "1.05 V", "0.41 A"), ("120°", "1.02", "0.4")):
        page.get_by_role("button", name="Add a row").first.click()
        rows = page.locator("[data-path='drives.d1.motor.locked'] .rows tbody tr")
        cells = rows.last.locator("input")
        for cell, text in zip((0, 1, 2), (angle, volts, amperes), strict=True):
            cells.nth(cell).fill(text)
    expect(page.locator(".rows tbody tr")).to_have_count(3)
    for label, text in {
        "No-load voltage": "11.1",
        "No-load current": "150m",
        "No-load speed": "6 000",
        "Weight of the motor": "150 g",
        "Diameter of its case": "35 mm",
    }.items():
        page.get_by_role("textbox", name=label).first.fill(text)
    for key, fields in GIVENS.items():
        page.keyboard.press(f"Alt+{key}")
        for label, text in fields.items():
            page.get_by_role("textbox", name=label).first.fill(text)
    page.keyboard.press("Alt+4")
    expect(page.locator(".hint")).to_contain_text("Choose a part")
    page.locator("ol[aria-label='Parts that hold'] button", has_text="Choose").first.click()
    page.get_by_label("What acts in a jam").select_option("program")
    page.keyboard.press("Alt+6")
    page.get_by_label("Stop above a current").select_option("yes")
    page.get_by_role("textbox", name=re.compile("^Above")).fill("0.5 A")
    page.keyboard.press("Alt+4")
    expect(page.locator(".candidate-chosen")).to_have_count(1)
    saved(page)
    page.keyboard.press("Alt+1")
    expect(page.get_by_label("What to read next")).to_be_visible()
    expect(figure(page, "Stall current")).to_be_visible()
    expect(page.locator(".checks")).to_contain_text("Brush drop told from resistance")
    expect(page.locator(".checks")).to_contain_text("Measured, not estimated: rotor inertia, inductance")
    expect(page.locator(".stations .stamp-stops")).to_have_count(0)
    expect(page.locator(".stations a", has_text="Driver").locator(".stamp")).not_to_contain_text("open")


def test_every_empty_station_says_what_to_do_first(page: Page, fresh: str) -> None:
    for station in (
        "motor",
        "load",
        "supply",
        "driver",
        "power_stage",
        "signals",
        "wiring",
        "encoder",
        "loop",
        "bench",
        "log",
    ):
        page.goto(f"/b/{fresh}/{station}")
        expect(page.locator(".sheet[aria-busy=false] .columns")).to_be_visible()
        expect(page.locator(".follows")).to_contain_text(re.compile("give|choose|nothing yet", re.IGNORECASE))


def test_a_reading_row_can_be_taken_away_and_brought_back(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/motor")
    expect(page.locator(".rows tbody tr")).to_have_count(6)
    page.get_by_role("button", name="Take away row 3 of Locked rotor").click()
    expect(page.locator(".rows tbody tr")).to_have_count(5)
    page.get_by_title("Undo: Take from Locked rotor").click()
    expect(page.locator(".rows tbody tr")).to_have_count(6)


def test_the_mechanism_can_be_another_kind(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/load")
    page.get_by_label("Mechanism", exact=True).last.select_option("direct")
    expect(page.get_by_label("Inertia", exact=True)).to_be_visible()
    expect(page.get_by_label("Mass that turns")).to_have_count(0)
    page.keyboard.press("Control+z")
    expect(page.get_by_label("Mass that turns")).to_have_value("9.0 kg ± 0.2")


def test_an_origin_can_be_changed_and_the_doubt_follows(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/motor")
    field = page.locator('[data-path="drives.d1.motor.no_load_v"]')
    expect(field.locator(".origin")).to_contain_text("measured, ±0.093 V")
    field.locator(".origin").click()
    sheet = page.get_by_role("dialog", name="Origin of No-load voltage")
    sheet.get_by_label("Read with").select_option("")
    sheet.get_by_label("Where it came from").select_option("assumed")
    page.keyboard.press("Escape")
    expect(field.locator(".origin")).to_have_text("assumed: where No-load voltage came from, change")
    page.get_by_role("textbox", name="No-load voltage").fill("12.05 V ± 0.2")
    # A doubt that stands in the value is not said a second time beside it; one that follows from the meter is.
    expect(page.get_by_text("Saved").first).to_be_visible()
    expect(field.locator(".origin")).not_to_contain_text("±")
    page.get_by_role("textbox", name="No-load voltage").fill("12.05 V")
    field.locator(".origin").click()
    sheet.get_by_label("Where it came from").select_option("measured")
    sheet.get_by_label("Read with").select_option(index=1)
    page.keyboard.press("Escape")
    expect(field.locator(".origin")).to_contain_text("measured, ±0.093 V")


def test_a_controller_s_pins_are_edited_kept_and_chosen_again(page: Page, fresh: str, address: str) -> None:
    page.goto(f"/b/{fresh}/build")
    page.get_by_role("button", name="Pins and timers").click()
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_role("status")).to_contain_text("Nothing contradicts itself")
    dialog.get_by_label("Timer of D9").select_option("none")
    expect(dialog.get_by_role("status")).to_contain_text("D9 makes pulses: say by which timer")
    expect(dialog.get_by_role("button", name="Keep this one on the shelf")).to_be_disabled()
    dialog.get_by_label("D9: PWM").uncheck()
    expect(dialog.get_by_role("status")).to_contain_text("Nothing contradicts itself")
    # What cannot be read stays in its cell and changes nothing.
    bits = dialog.get_by_label("Width of Timer 1, 16 bit")
    bits.fill("99")
    expect(bits).to_have_attribute("aria-invalid", "true")
    bits.fill("12")
    expect(bits).to_have_attribute("aria-invalid", "false")
    dialog.get_by_role("button", name="Keep this one on the shelf").click()
    expect(dialog.get_by_role("button", name="Take away 8-bit, 16 MHz, three timers")).to_be_visible()
    with page.expect_download() as got:
        dialog.get_by_role("button", name="Export CSV").click()
    text = got.value.path().read_text("utf-8")
    assert "Teaching board" in text
    bad = text.splitlines()[0] + "\ncontroller,Mine,,,,,,,,,,,,,\n"
    dialog.get_by_label("Profile file").set_input_files(
        {"name": "mine.csv", "mimeType": "text/csv", "buffer": bad.encode()}
    )
    expect(dialog.get_by_role("alert")).to_contain_text("Line 2: Mine: Clock is needed")
    dialog.get_by_role("button", name="Take away 8-bit, 16 MHz, three timers").click()
    expect(dialog.get_by_text("None yet.")).to_be_visible()
    dialog.get_by_role("button", name="Close").click()
    page.get_by_role("button", name="Undo").click()
    page.get_by_label("Profile from the shelf").select_option("Teaching board, 3 V, lamps and two buttons")
    expect(page.get_by_role("heading", name="Controller: Teaching board")).to_be_visible()
    expect(page.get_by_text(re.compile("^Saved"))).to_be_visible()
    held = ask(address, f"/api/builds/{fresh}")["build"]["controllers"][0]
    assert held["logic_v"]["text"] == "3 V" and len(held["pins"]) == 16


def test_the_best_controller_is_found_and_taken(page: Page, puppets: str, address: str) -> None:
    page.goto(f"/b/{puppets}/build")
    page.get_by_role("button", name="Which controller?").first.click()
    dialog = page.get_by_role("dialog")
    rows = dialog.get_by_role("listitem")
    expect(rows).to_have_count(6)
    expect(rows.first).to_contain_text("Meets all that this build asks of it")
    expect(rows.last).to_contain_text("Current of Curtain runs, Curtain winch")
    dialog.get_by_role("button", name="Take this one: 8-bit, 16 MHz, six timers").click()
    expect(dialog).to_have_count(0)
    expect(page.get_by_role("heading", name="Controller: 8-bit, 16 MHz, six timers")).to_be_visible()
    expect(page.get_by_text(re.compile("^Saved"))).to_be_visible()
    held = ask(address, f"/api/builds/{puppets}")["build"]["controllers"][0]
    assert held["id"] == "c1" and len(held["pins"]) == 70


def test_a_display_on_the_controller_is_wired_and_taken_away_again(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/build")
    devices = page.get_by_role("region", name="Other devices on 8-bit")
    devices.get_by_role("button", name="Add one more").click()
    devices.get_by_label("What it is").fill("Display")
    devices.get_by_label("On the bus").select_option("yes")
    devices.get_by_label("Its address there").fill("0x3c")
    page.keyboard.press("Alt+7")
    expect(page.get_by_role("row", name="BUS CLOCK").first).to_be_visible()
    page.keyboard.press("Alt+b")
    page.get_by_role("region", name="Other devices on 8-bit").get_by_role("button", name="Take away").click()
    page.keyboard.press("Alt+7")
    expect(page.get_by_role("heading", name="Wiring")).to_be_visible()
    expect(page.get_by_role("row", name="BUS CLOCK")).to_have_count(0)
    saved(page)
