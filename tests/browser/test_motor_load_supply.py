"""Motor, load and supply in full: what-if, spin-up, shelf, mechanisms, servos and other loads."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import ask
from tests.browser.test_looks import AXE, RUN_AXE
from tests.browser.test_walk import figure, heading, saved
from zinc_whistle.core.model.load import MECHANISMS
from zinc_whistle.demo.capture import STIRRER, shipped


@pytest.fixture
def stirrer(address: str) -> str:
    """A copy of the stirrer, for this test alone."""
    made: str = ask(address, "/api/builds/cider-stirrer/duplicate", {})["id"]
    return made


@pytest.fixture
def puppets(address: str) -> str:
    """A copy of the puppet stage, for this test alone."""
    made: str = ask(address, "/api/builds/puppet-stage/duplicate", {})["id"]
    return made


def test_a_spin_up_is_imported_fitted_and_taken_over(page: Page, stirrer: str, address: str, tmp_path: Path) -> None:
    file = tmp_path / STIRRER
    file.write_bytes(shipped(STIRRER))
    page.goto(f"/b/{stirrer}/motor")
    page.get_by_role("button", name="Import a spin-up").click()
    dialog = page.get_by_role("dialog", name="A captured spin-up")
    dialog.get_by_label("Capture file").set_input_files(file)
    expect(dialog).to_contain_text("semicolon between columns, decimal comma", timeout=20000)
    expect(dialog.get_by_label("What speed is")).to_have_value("speed")
    dialog.get_by_label("Brush drop").fill("0.33 V")
    dialog.get_by_role("button", name="Fit the constants").click()
    fitted = dialog.get_by_label("The fit", exact=True)
    # The first capture also loads what reads and fits it: a few seconds on a busy machine.
    expect(fitted).to_contain_text("291.1 mΩ", timeout=20000)
    expect(fitted.locator("svg").first).to_be_visible()
    fitted.get_by_role("button", name="Take the constants over").click()
    expect(page.get_by_label("Known by")).to_have_value("spin-up")
    expect(figure(page, "Resistance at 25")).to_contain_text("291")
    saved(page)
    motor = ask(address, f"/api/builds/{stirrer}")["build"]["drives"][0]["motor"]
    assert motor["fitted"]["constant"]["origin"] == "measured"
    assert motor["fitted"]["constant"]["doubt"] > 0
    page.keyboard.press("Control+z")
    expect(page.get_by_label("Known by")).to_have_value("readings")


def test_a_spin_up_that_cannot_be_used_says_why_and_loses_nothing(page: Page, stirrer: str, tmp_path: Path) -> None:
    page.goto(f"/b/{stirrer}/motor")
    page.get_by_role("button", name="Import a spin-up").click()
    dialog = page.get_by_role("dialog", name="A captured spin-up")
    wrong = tmp_path / "notes.csv"
    wrong.write_text("bought flour\nand sugar\n", "utf-8")
    dialog.get_by_label("Capture file").set_input_files(wrong)
    expect(dialog.get_by_role("alert")).to_contain_text("No table of numbers was found")
    dialog.get_by_role("button", name="Take the stirrer’s example").click()
    dialog.get_by_label("What speed is").select_option("")
    dialog.get_by_role("button", name="Fit the constants").click()
    fitted = dialog.get_by_label("The fit", exact=True)
    expect(fitted).to_contain_text("not reported: The current alone does not tell it", timeout=20000)
    expect(fitted.get_by_role("button", name="Take the constants over")).to_be_disabled()
    page.keyboard.press("Escape")
    expect(dialog).to_have_count(0)
    expect(page.get_by_label("Known by")).to_have_value("readings")


def test_a_what_if_is_drawn_beside_and_can_be_taken(page: Page, stirrer: str) -> None:
    page.goto(f"/b/{stirrer}/motor")
    page.get_by_label("What if: motor").select_option("wheel-350")
    status = page.get_by_label("What if", exact=True).get_by_role("status")
    expect(status).to_contain_text("E-wheel motor, 350 W")
    page.get_by_label("What if: motor").select_option("")
    page.get_by_label("What if: gear ratio").fill("40")
    expect(status).to_contain_text("gear 40 to 1")
    page.get_by_role("button", name="Take these numbers").click()
    expect(status).to_have_count(0)
    page.keyboard.press("Alt+2")
    expect(page.get_by_role("textbox", name="Gear ratio")).to_have_value("40")
    page.keyboard.press("Control+z")
    expect(page.get_by_role("textbox", name="Gear ratio")).to_have_value("60")


def test_the_working_point_is_dragged_slid_and_typed(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/motor")
    point = page.locator(".plot-grip circle")
    expect(point).to_be_visible()
    status = page.get_by_label("What if", exact=True).get_by_role("status")
    torque = page.get_by_label("What if: torque at the motor")
    box = point.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 40, y, steps=4)
    page.mouse.up()
    expect(status).to_contain_text("at a duty of")
    dragged = torque.input_value()
    assert dragged.endswith("mN·m")
    expect(page.locator(".plot-point")).to_have_count(2)
    # By key the point goes on from where it was dragged to.
    slider = page.get_by_role("slider", name="Work at another torque")
    slider.press("ArrowRight")
    expect(torque).not_to_have_value(dragged)
    expect(slider).to_have_attribute("aria-valuetext", re.compile("gear .* to 1"))
    # Of gear and torque the one that was given last counts.
    page.get_by_label("What if: gear ratio").fill("75")
    expect(torque).to_have_value("")
    expect(status).to_contain_text("gear 75 to 1")
    torque.fill("-3")
    expect(page.get_by_role("alert")).to_contain_text("must be above 0")
    expect(torque).to_have_attribute("aria-invalid", "true")
    expect(page.get_by_role("button", name="Take these numbers")).to_have_count(0)
    torque.fill("20")
    page.get_by_role("button", name="Take these numbers").click()
    expect(status).to_have_count(0)
    page.keyboard.press("Alt+2")
    expect(page.get_by_role("textbox", name="Gear ratio")).to_have_value(re.compile(r"^29"))


def test_a_shelf_motor_is_chosen_and_an_own_one_kept(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/motor")
    page.get_by_role("button", name="Motors on the shelf").click()
    dialog = page.get_by_role("dialog", name="Motors on the shelf")
    dialog.get_by_role("button", name="Keep this drive’s motor").click()
    expect(dialog.locator("li", has_text="The builder's own")).to_have_count(1)
    dialog.get_by_role("button", name="Choose Wiper motor, slow winding").click()
    expect(page.get_by_label("Known by")).to_have_value("data sheet")
    expect(page.get_by_label("Ways to the constants")).to_contain_text("trusted")
    page.keyboard.press("Control+z")
    expect(page.get_by_label("Known by")).to_have_value("readings")
    page.get_by_role("button", name="Motors on the shelf").click()
    dialog.get_by_role("button", name="Take away Gear motor with encoder").click()
    expect(dialog.locator("li", has_text="The builder's own")).to_have_count(0)


def test_every_mechanism_is_drawn(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/load")
    for kind, title in MECHANISMS.items():
        page.get_by_label("Mechanism", exact=True).last.select_option(kind)
        expect(page.locator(".load-picture .drawing").first).to_have_attribute("aria-label", re.compile(f"^{title}"))


def test_a_second_mechanism_is_added_and_taken_away(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/load")
    expect(figure(page, "Working current")).to_contain_text("487")
    page.get_by_role("button", name="Another mechanism on the same shaft").click()
    expect(page.locator(".load-picture .drawing")).to_have_count(2)
    page.get_by_label("Mechanism", exact=True).last.select_option("direct")
    second = page.get_by_role("region", name="Mechanism 2")
    second.get_by_label("Torque", exact=True).fill("0.2 N·m")
    second.get_by_label("Inertia", exact=True).fill("0")
    second.get_by_label("Speed wanted").fill("12 rpm")
    expect(figure(page, "Working current")).not_to_contain_text("487")
    second.get_by_role("button", name="Take away").click()
    expect(figure(page, "Working current")).to_contain_text("487")


def test_a_ratio_is_taken_from_the_search(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/load")
    page.get_by_role("button", name="Take ratio 131").click()
    expect(page.get_by_role("textbox", name="Gear ratio")).to_have_value("131")


def test_servos_skip_the_stations_they_do_not_have(page: Page, puppets: str) -> None:
    page.goto(f"/b/{puppets}/motor?drive=d1")
    heading(page, "Motor")
    page.keyboard.press("]")
    heading(page, "Load")
    expect(page.locator(".stations")).not_to_contain_text("Motor")
    expect(figure(page, "Time for the move")).to_be_visible()
    for key, title in (("3", "Supply"), ("6", "Signals"), ("7", "Wiring"), ("0", "Bench"), ("-", "Log")):
        page.keyboard.press(key)
        heading(page, title)
    page.keyboard.press("8")
    heading(page, "Log")
    page.keyboard.press("[")
    expect(page.locator(".drives button", has_text="Curtain winch")).to_have_attribute("aria-pressed", "true")
    page.keyboard.press("1")
    heading(page, "Motor")


def test_a_rail_too_weak_for_its_servos_stops(page: Page, puppets: str) -> None:
    page.goto(f"/b/{puppets}/supply?drive=d2")
    limit = page.locator('[data-path="supply.regulators.r2.limit"] input')
    limit.fill("1.2 A")
    expect(page.get_by_label("Tight spots")).to_contain_text("Rail with every servo stalled at once")
    expect(page.locator(".stations a", has_text="Supply").locator(".stamp-stops")).to_be_visible()
    limit.fill("3 A")
    expect(page.locator(".stations .stamp-stops")).to_have_count(0)


def test_drives_of_every_kind_are_added_and_taken_away(page: Page, fresh: str, address: str) -> None:
    page.goto(f"/b/{fresh}/build")
    page.get_by_role("button", name="Add a servo").click()
    page.get_by_role("button", name="Add a solenoid, pump or lamp").click()
    page.get_by_role("button", name="Add a driver unit").click()
    expect(page.locator(".drives button")).to_have_count(3)
    saved(page)
    kinds = [d["kind"] for d in ask(address, f"/api/builds/{fresh}")["build"]["drives"]]
    assert kinds == ["motor", "servo", "load"]
    page.locator(".drives button").last.click()
    page.keyboard.press("2")
    heading(page, "Load")
    page.get_by_label("Rated voltage").fill("12 V")
    page.keyboard.press("Alt+b")
    page.get_by_role("region", name="Drive: Servo").get_by_role("button", name="Take away").click()
    expect(page.locator(".drives button")).to_have_count(2)


@pytest.mark.parametrize("scheme", ["light", "dark"])
@pytest.mark.parametrize(
    "view",
    [
        "cider-stirrer/motor",
        "cider-stirrer/load",
        "cider-stirrer/supply",
        "puppet-stage/load?drive=d1",
        "puppet-stage/load?drive=d2",
        "puppet-stage/supply?drive=d2",
        "puppet-stage/wiring?drive=d3",
        "puppet-stage/signals?drive=d2",
        "puppet-stage/build",
    ],
)
def test_the_new_views_are_accessible_and_fit_a_phone(page: Page, view: str, scheme: str) -> None:
    page.emulate_media(color_scheme=scheme, reduced_motion="reduce")  # type: ignore[arg-type]
    page.goto(f"/b/{view}")
    expect(page.locator(".sheet[aria-busy=false] .columns")).to_be_visible()
    page.evaluate(AXE.read_text("utf-8"))
    assert page.evaluate(RUN_AXE) == []
    page.set_viewport_size({"width": 390, "height": 844})
    expect(page.locator("#station-choice")).to_be_visible()
    widest = page.evaluate(
        "Math.max(document.documentElement.scrollWidth, document.querySelector('.sheet').scrollWidth)"
    )
    assert widest <= 390


def test_the_import_dialog_is_accessible(page: Page, stirrer: str) -> None:
    page.goto(f"/b/{stirrer}/motor")
    page.get_by_role("button", name="Import a spin-up").click()
    dialog = page.get_by_role("dialog", name="A captured spin-up")
    dialog.get_by_role("button", name="Take the stirrer’s example").click()
    expect(dialog).to_contain_text("semicolon between columns", timeout=20000)
    dialog.get_by_role("button", name="Fit the constants").click()
    expect(dialog.get_by_label("The fit", exact=True)).to_contain_text("Motor constant", timeout=20000)
    page.evaluate(AXE.read_text("utf-8"))
    assert page.evaluate(RUN_AXE) == []


def test_the_wrong_diode_is_moved_by_its_remedy(page: Page, puppets: str) -> None:
    page.goto(f"/b/{puppets}/power_stage?drive=d1")
    checks = page.get_by_role("region", name="Checks")
    # The picture above comes in a chunk of its own and moves what is below it.
    expect(page.locator(".follows .plot svg").first).to_be_visible()
    expect(checks).to_contain_text("Flyback diode before the reversing contacts")
    expect(checks).to_contain_text("Across the motor's own terminals → On the transistor's side, to the rails")
    expect(page.locator(".stations .stamp-stops")).to_have_count(1)
    checks.get_by_role("button", name="Move the diode to the transistor's side").click()
    expect(page.locator(".stations .stamp-stops")).to_have_count(0)
    expect(page.get_by_label("Flyback diodes of your own")).to_have_value("rails")
    page.keyboard.press("Control+z")
    expect(page.locator(".stations .stamp-stops")).to_have_count(1)


def test_a_refused_part_says_what_would_have_to_change(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/driver")
    page.locator(".candidate-name", has_text="MOSFET bridge board, 3 A").click()
    expect(page.get_by_label("What would have to change")).to_contain_text(
        "Would hold below 5 A, or with a peak rating of"
    )


def test_a_part_of_ones_own_is_added_ranked_and_taken_away(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/driver")
    page.get_by_role("button", name="Parts of your own").click()
    dialog = page.get_by_role("dialog", name="Driver parts on the shelf")
    dialog.get_by_role("button", name="Add a part from its data sheet").click()
    expect(dialog.get_by_role("status")).to_contain_text("Still needed")
    for label, text in {
        "Name": "My tiny bridge",
        "Motor supply, lowest": "4 V",
        "Motor supply, highest": "28 V",
        "Absolute highest": "32 V",
        "Continuous current": "six",
        "Peak current": "12 A",
        "Peak current for at most": "0.5 s",
        "Junction to air, on its board": "30 K/W",
        "PWM, at most": "50 kHz",
        "Rise and fall time together": "300 ns",
        "On-resistance, both switches, 25 °C": "80 mΩ",
    }.items():
        dialog.get_by_label(label, exact=True).fill(text)
    expect(dialog.get_by_role("status")).to_have_text("Still needed: Continuous current.")
    expect(dialog.locator(".field-error")).to_contain_text("does not begin with a number")
    expect(dialog.get_by_role("button", name="Put it on the shelf")).to_be_disabled()
    dialog.get_by_label("Continuous current", exact=True).fill("6 A")
    dialog.get_by_role("button", name="Put it on the shelf").click()
    expect(dialog.get_by_role("button", name="Take away My tiny bridge")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.locator("ol[aria-label='Parts that hold']")).to_contain_text("My tiny bridge")
    page.get_by_role("button", name="Parts of your own").click()
    dialog.get_by_role("button", name="Take away My tiny bridge").click()
    page.keyboard.press("Escape")
    expect(page.locator(".candidates")).not_to_contain_text("My tiny bridge")


def test_a_parts_file_with_bad_rows_is_told_by_line(page: Page, carousel: str, tmp_path: Path) -> None:
    head = "name,v_max,continuous_a,peak_a,peak_time,thermal_resistance,pwm_limit,drop_v\n"
    file = tmp_path / "parts.csv"
    file.write_text(
        head + "Good one,28 V,3 A,5 A,0.1 s,40 K/W,30 kHz,1 V\nBad one,28 V,3 kg,5 A,0.1 s,40 K/W,30 kHz\n", "utf-8"
    )
    page.goto(f"/b/{carousel}/driver")
    page.get_by_role("button", name="Parts of your own").click()
    dialog = page.get_by_role("dialog", name="Driver parts on the shelf")
    dialog.get_by_label("Parts file").set_input_files(file)
    expect(dialog.get_by_role("alert")).to_contain_text("Line 3: Column continuous_a")
    expect(dialog.get_by_role("alert")).to_contain_text("nothing was kept")
    dialog.get_by_role("button", name="Keep the 1 good ones").click()
    expect(dialog.get_by_role("button", name="Take away Good one")).to_be_visible()
    dialog.get_by_role("button", name="Take away Good one").click()
    with page.expect_download() as download:
        dialog.get_by_role("button", name="Export CSV").click()
    assert download.value.suggested_filename == "parts.csv"
    page.evaluate(AXE.read_text("utf-8"))
    assert page.evaluate(RUN_AXE) == []
