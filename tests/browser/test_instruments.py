"""The bench with instruments on the desk, on a page as small as a phone's, against the stand-ins."""

from __future__ import annotations

import re
from pathlib import Path

from PIL import Image
from playwright.sync_api import Page, expect

from tests.instruments.conftest import Running, running, waits_for  # noqa: F401  (a fixture)


def open_one(page: Page, where: str, board: bool = False) -> None:
    desk = page.get_by_role("region", name="Instruments")
    desk.get_by_label("Address").fill(where)
    desk.get_by_role("radio", name="A motor board" if board else "An instrument").check()
    desk.get_by_role("button", name="Open").click()
    expect(desk.get_by_text(where)).to_be_visible()


def test_a_step_is_read_by_the_meter_and_its_lines_are_sent(phone: Page, carousel: str, running: Running) -> None:  # noqa: F811
    """Supply, meter and board opened; the current at rest is read into the step and kept; F9 turns the supply off."""
    page, world = phone, running.world
    page.goto(f"/b/{carousel}/bench")
    for name in ("supply", "meter", "motor board"):
        open_one(page, running.address[name], board=name == "motor board")
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    supply = page.get_by_role("article", name="Stand-in bench supply")
    supply.get_by_role("textbox", name="Volts").fill("12.8")
    supply.get_by_role("textbox", name="Current limit").fill("1.5")
    supply.get_by_role("button", name="Set").click()
    expect(supply.get_by_text("Output is off")).to_be_visible()
    assert not world.supply.on
    supply.get_by_role("button", name="Output on").click()
    expect(supply.get_by_text("Output is on: 12.8 V, at most 1.5 A")).to_be_visible()
    world.place = "supply"
    page.get_by_role("button", name=re.compile("Source at rest")).click()
    page.get_by_role("button", name="DC volts of Stand-in multimeter").click()
    expect(page.get_by_label("Reading")).to_have_value(re.compile(r"^12\.[78]\d V$"))
    page.get_by_role("button", name="Keep", exact=True).click()
    expect(page.get_by_text("Last reading")).to_be_visible()
    page.get_by_role("button", name=re.compile("No-load current")).click()
    page.get_by_role("button", name="Send duty 1 1000").click()
    assert waits_for(lambda: world.turning.speed > 50), "kept alive it turns, long after half a second of silence"
    world.place = "supply current"
    assert waits_for(lambda: world.action == "forward" and world.level == 1.0)
    page.get_by_role("button", name="DC current of Stand-in multimeter").click()
    expect(page.get_by_label("Reading")).to_have_value(re.compile("A$"))
    page.get_by_role("button", name="Send duty 1 0").click()
    assert waits_for(lambda: world.action != "forward")
    page.keyboard.press("F9")
    expect(page.get_by_text("Every output is told to be off")).to_be_visible()
    assert not world.supply.on
    expect(supply.get_by_text("Output is off")).to_be_visible()
    running.unplug("meter")
    page.get_by_role("button", name="DC current of Stand-in multimeter").click()
    expect(page.get_by_text(re.compile("is gone|broke off|the line is closed")).first).to_be_visible()
    for closing in ("Stand-in bench supply", "Stand-in multimeter", "Motor board"):
        page.get_by_role("article", name=closing).get_by_role("button", name="Close").click()
    expect(page.get_by_role("article")).to_have_count(0)


def test_a_note_and_a_picture_of_a_step_are_in_the_log(phone: Page, carousel: str, tmp_path: Path) -> None:
    shot = tmp_path / "rail.png"
    Image.new("RGB", (40, 30), "red").save(shot)
    phone.goto(f"/b/{carousel}/bench")
    phone.get_by_role("button", name=re.compile("Logic rail")).click()
    phone.get_by_label("Note", exact=True).fill("a hair low, the lead is long")
    phone.get_by_role("button", name="Note it").click()
    expect(phone.get_by_label("Note", exact=True)).to_have_value("")
    phone.get_by_label("Picture of this step").set_input_files(shot)
    expect(phone.get_by_text("The picture is in the log.")).to_be_visible()
    (tmp_path / "none.png").write_bytes(b"no picture")
    phone.get_by_label("Picture of this step").set_input_files(tmp_path / "none.png")
    expect(phone.get_by_role("alert").first).to_be_visible()
    phone.goto(f"/b/{carousel}/log")
    expect(phone.get_by_text("Logic rail: a hair low, the lead is long")).to_be_visible()
    expect(phone.get_by_role("img", name=re.compile("rail.png|Logic rail")).first).to_be_visible()


def test_an_address_that_is_none_is_told(phone: Page, carousel: str) -> None:
    phone.goto(f"/b/{carousel}/bench")
    desk = phone.get_by_role("region", name="Instruments")
    desk.get_by_label("Address").fill("my supply")
    desk.get_by_role("button", name="Open").click()
    expect(desk.get_by_role("alert")).to_contain_text("is no address of an instrument")
    expect(desk.get_by_label("Address")).to_have_value("my supply")
