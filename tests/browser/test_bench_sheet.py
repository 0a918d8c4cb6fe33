"""The test sheet walked whole on a page as small as a phone's; a step of one's own; a capture measured."""

from __future__ import annotations

import math
import re
from pathlib import Path

import numpy as np
from playwright.sync_api import Page, expect

from zinc_whistle.core.algebra.quantities import notation
from zinc_whistle.core.assess import assess
from zinc_whistle.core.stations.bench.step import Step
from zinc_whistle.demo.data import lantern_carousel


def good_reading(step: Step) -> str:
    """Something that the step must let pass: the middle of its bounds, or twice a bound that stands alone."""
    low, high = step.low, step.high
    if low is not None and high is not None:
        value = (low + high) / 2
    elif low is not None:
        value = 2 * low if low > 0 else 1.0
    else:
        assert high is not None
        value = high / 2
    return notation(value if math.isfinite(value) else 1.0, step.kind, step.unit)


def test_the_whole_sheet_is_walked_on_a_phone(phone: Page, carousel: str) -> None:
    """Every step in its order: what passes, passes; the open step stands above what comes after it."""
    steps = assess(lantern_carousel()).drives["d1"].steps
    phone.goto(f"/b/{carousel}/bench")
    for step in steps:
        expect(phone.get_by_role("list", name="Test sheet")).to_be_visible()
        phone.get_by_role("list", name="Test sheet").get_by_role(
            "button", name=re.compile(re.escape(step.title))
        ).click()
        form = phone.get_by_role("region", name=step.title, exact=True)
        form.get_by_label("Reading", exact=True).fill(good_reading(step))
        form.get_by_role("button", name="Keep", exact=True).click()
        expect(form.get_by_text("Last reading")).to_be_visible()
        expect(form.locator(".verdict-pass").first).to_be_visible()
    expect(phone.get_by_text(f"{len(steps)} of {len(steps)} steps pass")).to_be_visible()
    assert phone.evaluate("document.documentElement.scrollWidth") <= 390


def test_a_step_of_ones_own_is_told_judged_and_taken_away(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/bench")
    page.get_by_role("tab", name="Steps of your own").click()
    page.get_by_role("button", name="Add a step of your own").click()
    page.get_by_label("What is tested").fill("Reference of the converter")
    page.get_by_label("It reads").select_option("Amperes")
    page.get_by_label("It reads").select_option("Volts")
    expect(page.get_by_label("What is tested")).to_have_value("Reference of the converter")
    page.get_by_label("It should read").fill("3.3 V")
    page.get_by_label("Give or take").fill("lots")
    expect(page.get_by_text(re.compile("lots"))).to_be_visible()
    page.get_by_label("Give or take").fill("100m")
    page.get_by_label("When").select_option("Signals, before anything moves")
    page.get_by_role("tab", name="Test sheet").click()
    page.get_by_role("button", name=re.compile("Reference of the converter")).click()
    form = page.get_by_role("region", name="Reference of the converter")
    expect(form.get_by_text("between 3.20 V and 3.40 V")).to_be_visible()
    form.get_by_label("Reading", exact=True).fill("3.5")
    form.get_by_role("button", name="Keep", exact=True).click()
    expect(form.get_by_text(re.compile("✕"))).to_be_visible()
    page.get_by_role("tab", name="Steps of your own").click()
    page.get_by_role("button", name="Take away").click()
    page.get_by_role("tab", name="Test sheet").click()
    expect(page.get_by_role("button", name=re.compile("Reference of the converter"))).to_have_count(0)


def test_a_setting_is_judged_and_a_capture_becomes_the_reading(page: Page, carousel: str, tmp_path: Path) -> None:
    page.goto(f"/b/{carousel}/bench")
    page.get_by_role("button", name=re.compile("PWM duty, half commanded")).click()
    form = page.get_by_role("region", name=re.compile("PWM duty, half commanded"))
    expect(form.get_by_role("img", name=re.compile("To be seen, at 1 V and 20 µs"))).to_be_visible()
    form.get_by_text("Where the ground clips may go").click()
    expect(form.get_by_text("both sit on ground")).to_be_visible()
    expect(form.get_by_text(re.compile(r"^✕ Four-cell LiFePO4 pack, \+: shorts a supply"))).to_be_visible()
    form.get_by_text("Mine is set otherwise").click()
    form.get_by_label("Volts a division").fill("much")
    form.get_by_label("Time a division").fill("5 ms")
    form.get_by_label("Time a division").press("Enter")
    expect(form.get_by_role("alert")).to_contain_text("much")
    form.get_by_label("Volts a division").fill("100m")
    form.get_by_role("button", name="What will it show?").click()
    expect(form.get_by_text("it leaves the screen of 8. Take 1 V.")).to_be_visible()
    t = np.arange(3000) / 5e6
    rows = "\n".join(f"{x:.3f}" for x in 5.0 * ((t * 20e3 + 0.7) % 1 < 0.5))
    file = tmp_path / "pwm.csv"
    file.write_text(f"Sampling Rate,5MSa/s\nCH1\nV\n{rows}\n")
    form.get_by_label("Capture to measure").set_input_files(file)
    expect(form.get_by_text("Nothing about this capture is suspicious.")).to_be_visible()
    form.get_by_role("button", name="Take Duty as the reading").click()
    expect(form.get_by_label("Reading", exact=True)).to_have_value(re.compile("50"))
    form.get_by_role("button", name="Keep", exact=True).click()
    expect(form.get_by_text(re.compile("✓")).first).to_be_visible()
    bad = tmp_path / "bad.csv"
    bad.write_text("no numbers here\n")
    form.get_by_label("Capture to measure").set_input_files(bad)
    expect(form.get_by_role("alert")).to_contain_text("No table of numbers")


def test_a_rise_read_for_some_minutes_corrects_the_motors_model(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/bench")
    page.get_by_role("button", name=re.compile("Motor's housing")).click()
    form = page.get_by_role("region", name=re.compile("Motor's housing"))
    form.get_by_text("Read it over some minutes").click()
    form.get_by_label("Minutes:degrees").fill("0:21, 1:x")
    form.get_by_label("Air round it, °C").fill("21")
    form.get_by_role("button", name="Where does it end?").click()
    expect(form.get_by_role("alert")).to_contain_text("no reading")
    form.get_by_label("Minutes:degrees").fill("0:21, 2:27.6, 4:32.0, 6:34.9, 8:36.9, 10:38.2")
    form.get_by_role("button", name="Where does it end?").click()
    expect(form.get_by_text(re.compile("It ends at 4[01]"))).to_be_visible()
    form.get_by_role("button", name="Take it over").click()
    expect(form.get_by_role("button", name="Take it over")).to_have_count(0)
    page.goto(f"/b/{carousel}/motor")
    expect(page.get_by_label("Housing to air")).to_have_value(re.compile("K/W"))


def test_the_columns_of_a_capture_are_told_by_its_reader(page: Page, carousel: str, tmp_path: Path) -> None:
    """Sample numbers first, then a time and a channel without units: microseconds and millivolts are told."""
    page.goto(f"/b/{carousel}/bench")
    page.get_by_role("button", name=re.compile("PWM duty, half commanded")).click()
    form = page.get_by_role("region", name=re.compile("PWM duty, half commanded"))
    t = np.arange(3000) * 0.2
    rows = "\n".join(f"{i},{x:.1f},{v:.0f}" for i, (x, v) in enumerate(zip(t, 5000 * (t / 50 % 1 < 0.5), strict=True)))
    file = tmp_path / "told.csv"
    file.write_text(f"n,clock,probe\n{rows}\n")
    form.get_by_label("Capture to measure").set_input_files(file)
    expect(form.get_by_text("No unit is told for clock: it is taken for volts.")).to_be_visible()
    form.get_by_label("Column of the time").select_option("clock")
    form.get_by_label("Unit of the time").select_option("µs")
    form.get_by_label("Channel").select_option("probe")
    form.get_by_label("Unit of probe").select_option("mV")
    expect(form.get_by_text("Nothing about this capture is suspicious.")).to_be_visible()
    expect(form.get_by_role("button", name="Take Duty as the reading")).to_be_visible()
