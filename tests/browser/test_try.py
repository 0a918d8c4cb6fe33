"""Changes that are only tried: beside the build as it is, kept or dropped as one, and what the shelf and other builds
offer for a try."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import ask
from tests.browser.test_looks import faults
from tests.browser.test_walk import heading, saved

GEAR = "Gear ratio"


def gear_of(address: str, id: str) -> str:
    return str(ask(address, f"/api/builds/{id}")["build"]["drives"][0]["load"]["gear_ratio"]["text"])


def begin(page: Page, id: str) -> None:
    page.goto(f"/b/{id}/load")
    heading(page, "Load")
    page.get_by_role("button", name="Try", exact=True).click()
    expect(page.get_by_role("region", name="Try")).to_be_visible()


def test_a_try_is_compared_survives_a_reload_and_is_dropped_as_one(page: Page, carousel: str, address: str) -> None:
    begin(page, carousel)
    page.get_by_label(GEAR).fill("90")
    page.goto(f"/b/{carousel}/motor")  # within the same tab, also after a load
    bar = page.get_by_role("region", name="Try")
    expect(bar).to_contain_text("1 change, not saved")
    bar.get_by_role("button", name="Side by side").click()
    dialog = page.get_by_role("dialog", name="Side by side")
    row = dialog.get_by_role("row", name="Current at the hardest")
    expect(row).to_contain_text("487 mA")
    expect(row.locator("td.moved")).to_have_count(1)
    expect(dialog.get_by_role("region", name="This try: what differs")).to_contain_text("90")
    assert faults(page) == []
    dialog.get_by_role("button", name="Drop it").click()
    expect(bar).to_have_count(0)
    page.goto(f"/b/{carousel}/load")
    expect(page.get_by_label(GEAR)).to_have_value("150")
    assert gear_of(address, carousel) == "150"


def test_two_tries_are_compared_and_one_kept_is_one_step_to_undo(page: Page, carousel: str, address: str) -> None:
    begin(page, carousel)
    page.get_by_label(GEAR).fill("90")
    expect(page.get_by_role("region", name="Try")).to_contain_text("1 change")
    page.get_by_role("button", name="Set aside, try another").click()
    expect(page.get_by_label(GEAR)).to_have_value("150")
    page.get_by_label(GEAR).fill("131")
    page.get_by_role("textbox", name="Friction torque").fill("0.4 N·m")
    page.get_by_role("button", name="Side by side").click()
    dialog = page.get_by_role("dialog", name="Side by side")
    expect(dialog.get_by_role("columnheader", name="Set aside").first).to_be_visible()
    expect(dialog.get_by_role("region", name="This try: what differs")).to_contain_text("To be set again")
    with page.expect_response(re.compile("/retuning$")):
        dialog.get_by_role("button", name="Keep this try").click()
    expect(page.get_by_text(re.compile("to be set again: the list stands in the log"))).to_be_visible()
    saved(page)
    assert gear_of(address, carousel) == "131"
    with page.expect_response(lambda r: r.request.method == "PUT"):
        page.get_by_role("button", name="Undo").click()
    expect(page.get_by_label(GEAR)).to_have_value("150")
    expect(page.get_by_role("textbox", name="Friction torque")).to_have_value("0.35 N·m ± 0.05")
    expect(page.get_by_role("button", name="Undo")).to_be_disabled()
    page.goto(f"/b/{carousel}/log")
    open_ones = page.get_by_role("region", name="Still open")
    expect(open_ones).to_contain_text("Proportional gain, set to 0.05 %/rpm")
    open_ones.get_by_role("button", name=re.compile("Done: Proportional gain")).click()
    expect(page.get_by_text("Proportional gain, set to").filter(has=page.locator("b"))).to_have_count(0)


def test_a_gear_that_is_swapped_without_a_try_is_told_in_the_log(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/load")
    ask_for = page.get_by_role("button", name="Build …")
    ask_for.click()
    page.get_by_role("menuitem", name="Keep a revision").click()
    page.get_by_role("button", name="Keep it").click()
    expect(page.get_by_text(re.compile("Revision [0-9]+ is kept"))).to_be_visible()
    page.get_by_label(GEAR).fill("90")
    saved(page)
    page.keyboard.press("Alt+-")
    again = page.get_by_role("region", name="To be set again")
    expect(again).to_contain_text("Proportional gain")
    again.get_by_role("button", name="Into the log").click()
    expect(page.get_by_role("region", name="Still open")).to_contain_text("Proportional gain, set to 0.05 %/rpm")
    expect(again).to_have_count(0)


def test_while_something_is_only_tried_no_revision_is_kept_of_it(page: Page, carousel: str) -> None:
    begin(page, carousel)
    page.get_by_role("button", name="Build …").click()
    page.get_by_role("menuitem", name="Keep a revision").click()
    page.get_by_role("button", name="Keep it").click()
    expect(page.get_by_text("A try is open: keep it or drop it first.")).to_be_visible()


def test_a_try_works_by_keys_and_on_a_phone(phone: Page, carousel: str) -> None:
    phone.goto(f"/b/{carousel}/load")
    heading(phone, "Load")
    phone.get_by_role("button", name="Try", exact=True).focus()
    phone.keyboard.press("Enter")
    phone.get_by_label(GEAR).fill("90")
    expect(phone.get_by_role("region", name="Try")).to_contain_text("1 change")
    phone.get_by_role("button", name="Side by side").focus()
    phone.keyboard.press("Enter")
    expect(phone.get_by_role("dialog", name="Side by side")).to_contain_text("487 mA")
    assert phone.evaluate("document.documentElement.scrollWidth") <= 390
    phone.keyboard.press("Escape")
    phone.get_by_role("button", name="Drop", exact=True).focus()
    phone.keyboard.press("Enter")
    expect(phone.get_by_label(GEAR)).to_have_value("150")


@pytest.fixture
def own_part(address: str, carousel: str) -> Iterator[dict[str, Any]]:
    """A driver of the builder's own, of which the carousel holds a copy."""
    got = ask(address, f"/api/builds/{carousel}")
    build = got["build"]
    part: dict[str, Any] = ask(address, "/api/parts", build["units"][0]["part"] | {"name": "My bridge"})
    build["units"][0]["part"] = part
    ask(address, f"/api/builds/{carousel}", {"version": got["version"], "build": build}, "PUT")
    yield part
    ask(address, f"/api/parts/{part['id']}", method="DELETE")


def test_a_part_corrected_on_the_shelf_is_offered_with_what_it_does(
    page: Page, carousel: str, own_part: dict[str, Any]
) -> None:
    page.goto(f"/b/{carousel}/driver")
    page.get_by_role("button", name="Parts of your own").click()
    dialog = page.get_by_role("dialog", name="Driver parts on the shelf")
    dialog.get_by_role("button", name="Correct My bridge").click()
    dialog.get_by_label("Peak current", exact=True).fill("6 A")
    dialog.get_by_role("button", name="Correct it on the shelf").click()
    expect(page.get_by_text("My bridge is corrected")).to_be_visible()
    dialog.get_by_role("button", name="Close").click()
    notice = page.get_by_role("alert").filter(has_text="Corrected on the shelf")
    expect(notice).to_contain_text("My bridge (Peak current: 8 A → 6 A)")
    notice.get_by_role("button", name="See what it does").click()
    beside = page.get_by_role("dialog", name="Side by side")
    expect(beside).to_contain_text("This try: 2 findings stop it")
    beside.get_by_role("button", name="Drop it").click()
    expect(notice).to_be_visible()
    expect(page.locator(".stations .stamp-stops")).to_have_count(0)


def test_a_driver_of_another_build_is_tried(page: Page, carousel: str, address: str) -> None:
    other = ask(address, "/api/builds/cider-stirrer/duplicate", {})
    named = {"version": other["version"], "build": other["build"] | {"name": "Old stirrer"}}
    ask(address, f"/api/builds/{other['id']}", named, "PUT")
    page.goto(f"/b/{carousel}/driver")
    heading(page, "Driver")
    page.get_by_role("button", name="Build …").click()
    page.get_by_role("menuitem", name="Take from another build").click()
    dialog = page.get_by_role("dialog", name="Take from another build")
    dialog.get_by_role("radio", name="Driver").check()
    dialog.get_by_role("button", name="Try it: Stirrer stage of Old stirrer").click()
    beside = page.get_by_role("dialog", name="Side by side")
    expect(beside.get_by_role("region", name="This try: what differs")).to_contain_text(
        "A stage built from transistors"
    )
    beside.get_by_role("button", name="Keep this try").click()
    saved(page)
    page.goto(f"/b/{carousel}/driver")
    expect(page.get_by_role("region", name="Try")).to_have_count(0)
