"""The Power stage: the circuit stepped by keys, parts, the map, design for me, the shelf and the bill."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import ask
from tests.browser.test_looks import AXE, RUN_AXE, faults
from tests.browser.test_motor_load_supply import puppets, stirrer
from tests.browser.test_walk import figure, saved

__all__ = ["puppets", "stirrer"]


def test_the_circuit_is_stepped_through_by_keys(page: Page, stirrer: str) -> None:
    page.goto(f"/b/{stirrer}/power_stage")
    states = page.get_by_role("radiogroup", name="Switch state")
    drive = states.get_by_role("radio", name="Drive")
    expect(drive).to_be_checked()
    expect(page.locator(".circuit-words")).to_contain_text("7.11 A")
    drive.focus()
    for name in ("Dead time", "Slow decay", "Brake", "Coast", "Both on: forbidden"):
        page.keyboard.press("ArrowRight")
        expect(states.get_by_role("radio", name=name)).to_be_checked()
        expect(states.get_by_role("radio", name=name)).to_be_focused()
    expect(page.locator(".circuit-words")).to_contain_text("Shoot-through")
    expect(page.locator(".way-stop polyline")).to_have_count(1)
    page.keyboard.press("ArrowRight")
    expect(drive).to_be_checked()
    page.keyboard.press("ArrowLeft")
    expect(states.get_by_role("radio", name="Both on: forbidden")).to_be_checked()


def test_every_circuit_draws_a_way_for_its_current(page: Page, stirrer: str) -> None:
    page.goto(f"/b/{stirrer}/power_stage")
    for label, count in (
        ("Low-side switch, one MOSFET and a diode", 3),
        ("High-side switch, one MOSFET and a diode", 3),
        ("Full bridge, four N channel with bootstrap", 8),
        ("Relay pair for direction, one MOSFET for speed", 6),
        ("Full bridge of two half-bridge modules", 8),
    ):
        page.get_by_role("combobox", name="Circuit", exact=True).select_option(label=label)
        states = page.get_by_role("radiogroup", name="Switch state").get_by_role("radio")
        expect(page.locator(".circuit figcaption")).to_have_text(label)
        expect(states).to_have_count(count)
        expect(page.locator(".circuit-drawing .way polyline")).to_have_count(1)
    page.keyboard.press("Control+z")
    expect(page.locator(".circuit figcaption")).to_contain_text("Half bridge")


def test_another_part_moves_heat_map_and_bill(page: Page, stirrer: str, address: str) -> None:
    page.goto(f"/b/{stirrer}/power_stage")
    bill = page.get_by_role("region", name="Bill of materials")
    expect(bill).to_contain_text("11.30 €")
    before = page.locator(".heatmap-frame").get_attribute("aria-label")
    page.get_by_label("Switch", exact=True).select_option(label="N channel, 80 V, 7 mΩ, tab")
    expect(bill).to_contain_text("N channel, 80 V, 7 mΩ, tab")
    expect(page.locator(".heatmap-frame")).not_to_have_attribute("aria-label", before or "")
    saved(page)
    stage = ask(address, f"/api/builds/{stirrer}")["build"]["units"][0]["stage"]
    assert stage["switch"]["name"] == "N channel, 80 V, 7 mΩ, tab"
    page.get_by_label("Heat sink", exact=True).select_option(label="Finned bar, 5 K/W, six transistors")
    expect(page.get_by_label("Case to heat sink")).to_be_visible()
    expect(bill).to_contain_text("Finned bar")


def test_the_map_is_read_off_by_keyboard_and_shows_loss_too(page: Page, stirrer: str) -> None:
    page.goto(f"/b/{stirrer}/power_stage")
    slider = page.get_by_label(re.compile("Read off at a current"))
    slider.focus()
    first = page.locator(".heatmap output").inner_text()
    page.keyboard.press("End")
    expect(page.locator(".heatmap output")).to_contain_text("267 °C")
    page.keyboard.press("Home")
    expect(page.locator(".heatmap output")).not_to_have_text(first)
    page.get_by_role("button", name="Pin it, to compare").click()
    page.get_by_label("and a frequency").focus()
    page.keyboard.press("End")
    apart = page.locator(".map-reading p[role=status]")
    expect(apart).to_contain_text("Against the pin")
    expect(apart).to_contain_text(re.compile(r"\+\d+ K, \+"))
    page.locator(".heatmap-frame svg").hover(position={"x": 200, "y": 200})
    expect(apart).to_contain_text("Against the pin")
    page.get_by_role("button", name="Take the pin away").click()
    expect(apart).to_have_count(0)
    page.get_by_role("radio", name="Loss").click()
    expect(page.locator(".heatmap figcaption")).to_contain_text("W")


def test_design_for_me_is_taken_over_and_undone(page: Page, stirrer: str) -> None:
    page.goto(f"/b/{stirrer}/power_stage")
    page.get_by_role("button", name="Design for me").click()
    dialog = page.get_by_role("dialog", name="Design for me")
    dialog.get_by_label("Gate driver").check()
    dialog.get_by_role("button", name="Search").click()
    expect(dialog.get_by_role("status")).to_contain_text("combinations hold", timeout=30000)
    expect(dialog.locator(".designs li").first).to_contain_text("Half-bridge gate driver, 1 A, 100 V")
    dialog.get_by_role("button", name=re.compile("Take over: .*cheapest", re.IGNORECASE)).click()
    expect(dialog).to_be_hidden()
    expect(page.get_by_label("In parallel, each place")).not_to_have_value("3")
    page.keyboard.press("Control+z")
    expect(page.get_by_label("In parallel, each place")).to_have_value("3")


def test_designs_are_picked_in_the_trade_off_within_limits_of_ones_own(page: Page, stirrer: str) -> None:
    page.goto(f"/b/{stirrer}/power_stage")
    page.get_by_role("button", name="Design for me").click()
    dialog = page.get_by_role("dialog", name="Design for me")
    for lock in ("Gate driver", "Gate resistor", "Fuse", "Guard: reversed polarity or power switch"):
        dialog.get_by_label(lock).check()
    dialog.get_by_label("Price, at most").fill("a tenner")
    dialog.get_by_role("button", name="Search").click()
    expect(dialog.get_by_role("alert")).to_contain_text("Price, at most: ")
    expect(dialog.get_by_label("Price, at most")).to_have_value("a tenner")
    dialog.get_by_label("Price, at most").fill("14")
    dialog.get_by_label("Junction, at most").fill("100 °C")
    dialog.get_by_role("button", name="Search").click()
    picture = dialog.get_by_role("img", name=re.compile("designs by price and heat"))
    expect(picture).to_be_visible(timeout=30000)
    card = dialog.locator(".design-picked")
    expect(card).to_contain_text("Cheapest")
    # By keys along the price, by pointer in the picture.
    slider = dialog.get_by_role("slider", name="Pick by price")
    slider.focus()
    page.keyboard.press("End")
    expect(card).not_to_contain_text("Cheapest")
    assert 0 < float(card.locator("dd").first.inner_text().split()[0]) <= 14
    assert faults(page) == []
    dialog.locator(".trade-reach").first.click()
    expect(card).to_contain_text("Cheapest")
    card.get_by_role("button", name=re.compile("Take over")).click()
    expect(dialog).to_be_hidden()
    page.keyboard.press("Control+z")
    expect(page.get_by_label("In parallel, each place")).to_have_value("3")


def test_why_nothing_can_be_designed_is_said(page: Page, puppets: str) -> None:
    page.goto(f"/b/{puppets}/power_stage?drive=d1")
    page.get_by_role("button", name="Design for me").click()
    dialog = page.get_by_role("dialog", name="Design for me")
    dialog.get_by_role("button", name="Search").press("Enter")
    expect(dialog.get_by_role("status")).to_contain_text("Flyback diode before the reversing contacts", timeout=30000)


def test_a_mosfet_of_ones_own_is_added_and_used(page: Page, stirrer: str, address: str) -> None:
    page.goto(f"/b/{stirrer}/power_stage")
    page.get_by_role("button", name="The shelf of components").click()
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("MOSFETs on the shelf")
    dialog.get_by_role("button", name="Add a MOSFET").click()
    dialog.get_by_label("Name", exact=True).fill("Out of an old inverter")
    expect(dialog.get_by_role("status")).to_contain_text("Still needed")
    texts = {
        "Drain to source, absolute": "85 V",
        "Gate to source, absolute": "20 V",
        "On-resistance, 25 °C, highest": "9 mΩ",
        "… at a gate voltage of": "10 V",
        "Junction to air, no heat sink": "62 K/W",
        "Threshold, lowest": "2 V",
        "Plateau": "twelve",
        "Switching charge": "25 nC",
        "Gate charge, total": "80 nC",
    }
    for label, text in texts.items():
        dialog.get_by_label(label, exact=True).fill(text)
    expect(dialog.locator(".field-error").filter(has_text="twelve")).to_be_visible()
    expect(dialog.get_by_role("button", name="Put it on the shelf")).to_be_disabled()
    dialog.get_by_label("Plateau", exact=True).fill("5 V")
    dialog.get_by_label("Switching charge: estimated").check()
    dialog.get_by_role("button", name="Put it on the shelf").click()
    expect(dialog.locator(".motor-shelf")).to_contain_text("Out of an old inverter")
    dialog.get_by_role("button", name="Close").click()
    page.get_by_label("Switch", exact=True).select_option(label="Out of an old inverter (your own)")
    saved(page)
    switch = ask(address, f"/api/builds/{stirrer}")["build"]["units"][0]["stage"]["switch"]
    assert switch["switching_charge"]["origin"] == "assumed"
    assert switch["plateau"]["origin"] == "data sheet"


def test_a_file_of_diodes_with_a_bad_row_names_it(page: Page, stirrer: str, tmp_path: Path) -> None:
    file = tmp_path / "diodes.csv"
    file.write_text(
        "name,reverse_v,forward_a,forward_v,recovery\nFine,60 V,3 A,0.5 V,4 nC\nNot so,60 V,lots,0.5 V,4 nC\n"
    )
    page.goto(f"/b/{stirrer}/power_stage")
    page.get_by_role("button", name="The shelf of components").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Class").select_option(label="Diodes (8)")
    expect(dialog.get_by_role("heading", name="Diodes on the shelf")).to_be_visible()
    dialog.get_by_label("Parts file").set_input_files(file)
    expect(dialog.get_by_role("alert")).to_contain_text("Line 3")
    dialog.get_by_role("button", name="Keep the 1 good ones").click()
    expect(dialog.locator(".motor-shelf")).to_contain_text("Fine")
    dialog.get_by_role("button", name="Take away Fine").click()
    expect(dialog.locator(".motor-shelf")).not_to_contain_text("Fine")


def test_the_bill_goes_out_as_a_file(page: Page, stirrer: str) -> None:
    page.goto(f"/b/{stirrer}/power_stage")
    with page.expect_download() as got:
        page.get_by_role("region", name="Bill of materials").get_by_role("button", name="Export CSV").click()
    text = Path(got.value.path()).read_text("utf-8")
    assert got.value.suggested_filename == "materials.csv"
    assert text.startswith("what,part,number")
    assert "One piece" in text


def test_a_part_build_becomes_a_stage_and_back_without_loss(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/power_stage")
    made = page.get_by_label("Made of", exact=True)
    made.select_option(label="A stage built from transistors")
    expect(page.locator(".checks")).to_contain_text("choose a switch")
    page.get_by_label("Switch", exact=True).select_option(label="N channel, 55 V, 22 mΩ, logic level, tab")
    page.get_by_label("Gate driver", exact=True).select_option(label="Half-bridge gate driver, 4 A, 100 V")
    expect(figure(page, "Hottest junction")).to_contain_text("°C")
    made.select_option(label="A driver from the shelf")
    expect(page.locator(".circuit figcaption")).to_contain_text("Inside")
    made.select_option(label="A stage built from transistors")
    expect(page.get_by_label("Switch", exact=True)).to_have_value("m-n55-22-ll")


def test_a_capacitors_figures_are_copied_from_the_shelf(page: Page, stirrer: str) -> None:
    page.goto(f"/b/{stirrer}/power_stage")
    page.get_by_label("Figures from the shelf").select_option(label="Electrolytic, 470 µF, 63 V, low loss")
    expect(page.get_by_role("textbox", name="Bulk capacitor")).to_have_value("470 µF")
    expect(page.get_by_label("Its voltage rating")).to_have_value("63 V")
    expect(
        page.get_by_label("Capacitor’s life at its limit").or_(page.get_by_label("Capacitor's life at its limit"))
    ).to_have_value("5000 h")
    page.keyboard.press("Control+z")
    expect(page.get_by_role("textbox", name="Bulk capacitor")).to_have_value("660 µF")


def test_what_a_driver_needs_around_it_and_each_schools_word(page: Page, puppets: str) -> None:
    page.goto(f"/b/{puppets}/driver?drive=d1")
    page.locator(".candidate-name", has_text="Single NPN switch").click()
    opened = page.locator(".candidate-more")
    expect(opened).to_contain_text("with what it needs around it")
    expect(opened.get_by_label("What each school says of this part").get_by_role("listitem")).to_have_count(3)
    expect(opened.get_by_label("What would have to change")).to_be_visible()


@pytest.mark.parametrize("scheme", ["light", "dark"])
def test_the_stage_at_phone_width_has_nothing_serious(page: Page, stirrer: str, scheme: str) -> None:
    page.emulate_media(color_scheme=scheme)  # type: ignore[arg-type]
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"/b/{stirrer}/power_stage")
    expect(page.locator(".heatmap canvas")).to_be_visible()
    wide = page.evaluate("document.documentElement.scrollWidth")
    assert wide <= 390
    page.get_by_role("radio", name="Brake").click()
    page.evaluate(AXE.read_text("utf-8"))
    assert page.evaluate(RUN_AXE) == []


def test_another_controllers_profile_is_taken_from_the_shelf(page: Page, stirrer: str, address: str) -> None:
    page.goto(f"/b/{stirrer}/build")
    page.get_by_label("Profile from the shelf").select_option(label="32-bit, 48 MHz, 3.3 V logic")
    expect(page.get_by_label("Logic voltage")).to_have_value("3.3 V")
    saved(page)
    controller = ask(address, f"/api/builds/{stirrer}")["build"]["controllers"][0]
    assert (controller["id"], controller["regulator"]) == ("c1", "r1"), "its place in the build stays"
    assert {t["bits"] for t in controller["timers"]} != {8}
    page.keyboard.press("Control+z")
    expect(page.get_by_label("Logic voltage")).to_have_value("5 V")


def test_drivers_are_compared_in_a_table_and_one_is_chosen_there(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/driver")
    page.get_by_role("radio", name="Table").check()
    table = page.get_by_role("region", name="Parts compared")
    expect(table).to_be_visible()
    expect(page.get_by_text("Parts that hold come first, then those")).to_be_visible()
    rows = table.get_by_role("rowheader")
    first = rows.first.inner_text()
    table.get_by_role("button", name="Price", exact=True).focus()
    page.keyboard.press("Enter")
    expect(table.locator("th[aria-sort=ascending]")).to_have_text(re.compile("Price"))
    expect(rows.first).not_to_have_text(first)
    page.keyboard.press("Enter")
    expect(table.locator("th[aria-sort=descending]")).to_have_text(re.compile("Price"))
    page.keyboard.press("Enter")
    expect(rows.first).to_have_text(first, use_inner_text=True)
    table.get_by_role("button", name="Choose Twin MOSFET bridge board, 7 A").click()
    expect(table.locator("tr.Mui-selected")).to_contain_text("Twin MOSFET bridge board, 7 A")
    page.get_by_role("radio", name="Bars").check()
    expect(page.get_by_label("Off a salvaged board")).to_be_visible()
