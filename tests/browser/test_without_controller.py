"""Drives that no controller pulses: the timer circuit of the snow fan, and a motor switched by relays or by hand."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import ask
from tests.browser.test_looks import AXE, RUN_AXE
from tests.browser.test_walk import saved
from zinc_whistle.core.model.salvaged import Pad, Trial
from zinc_whistle.demo.data import lantern_carousel


@pytest.fixture
def snow(address: str) -> str:
    """A copy of the snow fan."""
    made: str = ask(address, "/api/builds/snow-fan/duplicate", {})["id"]
    return made


@pytest.fixture
def ring(address: str) -> str:
    """A copy of the carousel."""
    made: str = ask(address, "/api/builds/lantern-carousel/duplicate", {})["id"]
    return made


def test_the_whine_is_mended_by_its_remedy(page: Page, snow: str) -> None:
    page.goto(f"/b/{snow}/signals")
    expect(page.get_by_role("img", name=re.compile("A timer fed with 12 V"))).to_be_visible()
    expect(page.get_by_role("tab")).to_have_text(["Circuit", "Pulses", "Frequency", "In time"])
    field = page.get_by_role("textbox", name="Timing capacitor")
    expect(field).to_have_value("1 nF")
    page.get_by_role("button", name="Take a smaller timing capacitor").click()
    expect(field).to_have_value("470 pF")
    expect(page.get_by_role("button", name="Take a smaller timing capacitor")).to_have_count(0)
    saved(page)
    page.get_by_role("button", name="Undo").click()
    expect(field).to_have_value("1 nF")


def test_a_wrong_value_is_told_and_loses_nothing(page: Page, snow: str) -> None:
    page.goto(f"/b/{snow}/signals")
    field = page.get_by_role("textbox", name="Potentiometer, whole")
    field.fill("100 nF")
    expect(page.get_by_text(re.compile("is not a resistance")).first).to_be_visible()
    expect(page.get_by_text("12.61 kHz as marked")).to_be_visible()
    field.fill("47 kΩ")
    expect(page.get_by_text(re.compile("12.61 kHz as marked"))).to_have_count(0)


def test_without_a_controller_the_wiring_has_none(page: Page, snow: str) -> None:
    page.goto(f"/b/{snow}/wiring")
    table = page.get_by_role("table", name="Connections")
    expect(table).to_contain_text("Potentiometer W")
    expect(page.locator("#harness")).not_to_contain_text("8-bit")
    expect(page.locator("#harness")).to_contain_text("Timer circuit")
    page.goto(f"/b/{snow}/encoder")
    expect(page.get_by_text("What tells this drive is a timer circuit: nothing there counts.")).to_be_visible()


def test_relays_are_chosen_and_switched(page: Page, ring: str) -> None:
    """Pulses through contacts are refused; the remedy makes it a drive that is on or off, with panel and program."""
    page.goto(f"/b/{ring}/driver")
    page.get_by_role("button", name="Choose Two-relay bridge, 8 A DC").click()
    remedy = page.get_by_role("button", name="Switch it on and off", exact=True)
    remedy.click()
    expect(remedy).to_have_count(0)
    page.keyboard.press("6")
    expect(page.get_by_role("tab")).to_have_text(["On and off", "Panel", "In time", "Program"])
    expect(page.get_by_role("cell", name="brakes: both ends on one rail")).to_be_visible()
    expect(page.get_by_role("textbox", name="PWM frequency wanted")).to_have_count(0)
    page.get_by_role("tab", name="Program").click()
    page.get_by_role("button", name="Make the program").click()
    expect(page.get_by_text(re.compile("on or off: one step"))).to_be_visible()


def test_a_switch_by_hand_is_stepped_by_keys(page: Page, ring: str) -> None:
    page.goto(f"/b/{ring}/driver")
    page.get_by_role("button", name="Choose Toggle switch, two poles").click()
    page.get_by_role("button", name="Switch it on and off", exact=True).click()
    page.keyboard.press("5")
    states = page.get_by_role("radiogroup", name="Switch state")
    states.get_by_role("radio", name="Drive forward").focus()
    page.keyboard.press("ArrowRight")
    page.keyboard.press("ArrowRight")
    expect(states.get_by_role("radio", name="In the middle")).to_be_checked()
    expect(page.locator(".circuit-words")).to_contain_text("nothing brakes it")


def test_a_salvaged_board_is_taken_as_the_driver(page: Page, address: str) -> None:
    """High on A runs one way, high on B the other, no relay clicks: then the board is taken, its ratings still to be
    given."""
    build = lantern_carousel()
    build.name, board = "From the attic", build.units[0].salvaged
    board.used, board.volts.text = "yes", "12 V"
    board.pads = [Pad(id="p1", label="A"), Pad(id="p2", label="B"), Pad(id="p3", label="C", leads="ground")]
    board.trials = [Trial(id="t1", pads="A=1", effect="one way", click="no")]
    made = ask(address, "/api/builds/import", build.model_dump(mode="json"))["id"]
    page.goto(f"/b/{made}/driver")
    found = page.get_by_role("region", name="The salvaged board")
    expect(found).to_contain_text("Next, each through 1 kΩ")
    page.get_by_role("button", name="Add one more").last.click()
    touched = page.get_by_role("textbox", name="Touched: A=1 for high, B=0 for low")
    expect(touched).to_have_count(2)
    touched.last.fill("B=2")
    expect(found).to_contain_text("is no level on a pad")
    touched.last.fill("B=1")
    page.get_by_role("combobox", name="The motor", exact=True).last.select_option("other way")
    page.get_by_role("combobox", name="A relay", exact=True).last.select_option("no")
    expect(found).to_contain_text("IN 1, active high")
    found.get_by_role("button", name="Take it as the driver").click()
    expect(page.locator(".candidate-chosen, .checks").first).to_be_visible()
    saved(page)
    kept = ask(address, f"/api/builds/{made}")["build"]["units"][0]["part"]
    assert kept["input_style"] == "two inputs" and kept["v_max"]["text"] == "12 V"


@pytest.mark.parametrize("view", ["signals", "wiring", "power_stage", "build"])
def test_nothing_serious_for_axe_and_it_fits_a_phone(page: Page, snow: str, view: str) -> None:
    page.set_viewport_size({"width": 390, "height": 800})
    page.goto(f"/b/{snow}/{view}")
    page.wait_for_selector(".sheet:not([aria-busy=true]) .columns")
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    page.evaluate(AXE.read_text("utf-8"))
    assert page.evaluate(RUN_AXE) == []
