"""The first page, walked by keys, by mouse, and on a page as small as a phone's."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

FIELDS = {
    "Mass that turns": "4",
    "Outer radius": "0.3",
    "Speed wanted": "20",
    "Shaft held: volts": "1",
    "Shaft held: current": "0.4",
    "Running free: volts": "12",
    "Running free: current": "150m",
    "Running free: speed": "6000",
    "Cells in series": "4",
}
CHOICES = ("A turntable, a carousel", "Both ways", "In my hand: I can measure it", "Lithium iron phosphate cells")


def answered(page: Page) -> None:
    for label in CHOICES:
        page.get_by_role("radio", name=label).check()
    for label, text in FIELDS.items():
        page.get_by_label(label).fill(text)


def test_the_verdict_grows_and_the_build_begins_with_it(page: Page) -> None:
    page.goto("/")
    page.get_by_role("button", name="A first verdict in two minutes").click()
    verdict = page.get_by_role("region", name="First verdict")
    expect(verdict).to_contain_text("Still to answer:")
    expect(verdict).not_to_contain_text("Drivers that may do")
    page.get_by_label("Its name").fill("Bird feeder")
    answered(page)
    expect(verdict).to_contain_text("Drivers that may do")
    expect(verdict).to_contain_text("Held fast it draws 5.02 A")
    expect(verdict).not_to_contain_text("Still to answer:")
    page.get_by_label("Shaft held: volts").fill("banana")
    expect(page.get_by_text("“banana” does not begin with a number.")).to_be_visible()
    page.reload()
    expect(page.get_by_label("Shaft held: volts")).to_have_value("banana")
    page.get_by_role("button", name="Begin with this").click()
    expect(page.get_by_role("alert")).to_contain_text("banana")
    page.get_by_label("Shaft held: volts").fill("1")
    page.get_by_role("button", name="Begin with this").click()
    page.wait_for_url(re.compile(r"/b/\w+/motor"))
    expect(page.get_by_role("textbox", name="No-load current").first).to_have_value("150m")
    page.goto("/new")
    expect(page.get_by_label("Its name")).to_have_value("")


def test_by_keys_alone(page: Page) -> None:
    page.goto("/new")
    expect(page.get_by_role("radio", name="A turntable, a carousel")).to_be_visible()
    page.get_by_label("Its name").focus()
    page.keyboard.press("Tab")
    page.keyboard.press("Space")
    expect(page.get_by_role("radio", name="A turntable, a carousel")).to_be_checked()
    page.keyboard.press("ArrowRight")
    expect(page.get_by_role("radio", name="A vehicle on wheels")).to_be_checked()
    page.keyboard.press("Tab")
    page.keyboard.type("5 kg")
    expect(page.get_by_label("Mass, all told")).to_have_value("5 kg")
    page.keyboard.press("Enter")
    page.wait_for_url(re.compile("/b/"))


def test_on_a_phone_nothing_is_cut(phone: Page) -> None:
    phone.goto("/new")
    answered(phone)
    expect(phone.get_by_role("region", name="First verdict")).to_contain_text("Drivers that may do")
    assert phone.evaluate("document.documentElement.scrollWidth") <= 390


def test_it_begins_with_a_motor_of_the_shelf_or_with_a_copy(page: Page) -> None:
    page.goto("/new")
    page.get_by_role("radio", name="On my shelf").check()
    which = page.get_by_label("Which one")
    which.select_option(index=1)
    expect(page.get_by_label("Weight of the motor")).to_have_count(0)
    expect(page.get_by_role("region", name="First verdict")).not_to_contain_text("Which motor of the shelf")
    page.get_by_label("Or begin with a copy of").select_option(label="Puppet stage")
    page.get_by_role("button", name="Copy it").click()
    page.wait_for_url(re.compile(r"/b/\w+/build"))
    expect(page.get_by_role("heading", name=re.compile(r"Puppet stage \(copy"))).to_be_visible()
