"""A page to show: on the screen, on paper, on a phone, as Markdown; and a part beside the chosen one."""

from __future__ import annotations

import zipfile
from pathlib import Path
from xml.etree import ElementTree

from playwright.sync_api import Page, expect

from tests.browser.test_looks import faults
from tests.browser.test_walk import heading


def test_a_build_is_shown_on_one_page_and_goes_out(page: Page, carousel: str, tmp_path: Path) -> None:
    page.goto(f"/b/{carousel}/motor")
    heading(page, "Motor")
    page.get_by_role("button", name="Build …").click()
    page.get_by_role("menuitem", name="A page to show").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("Lantern carousel")
    expect(page.locator("#harness")).to_be_visible()
    expect(page.get_by_role("region", name="How it stands")).to_contain_text("No check stops it.")
    assert faults(page) == []
    with page.expect_download() as got:
        page.get_by_role("button", name="Markdown").click()
    got.value.save_as(tmp_path / "build.zip")
    archive = zipfile.ZipFile(tmp_path / "build.zip")
    text = archive.read("build.md").decode()
    assert "# Lantern carousel" in text
    for name in ("drawings/circuit-1.svg", "drawings/harness.svg"):
        assert f"({name})" in text
        drawing = ElementTree.fromstring(archive.read(name))
        assert drawing.tag == "{http://www.w3.org/2000/svg}svg" and len(list(drawing.iter())) > 30
    page.emulate_media(media="print")
    expect(page.get_by_role("link", name="Back to the build")).to_be_hidden()
    page.emulate_media(media="screen")
    page.get_by_role("link", name="Back to the build").click()
    heading(page, "Motor")


def test_the_page_fits_a_phone_and_a_build_that_is_gone_says_so(phone: Page, puppets: str) -> None:
    phone.goto(f"/b/{puppets}/show")
    expect(phone.get_by_role("region", name="What it cost")).to_be_visible()
    assert phone.evaluate("document.documentElement.scrollWidth") <= 390
    phone.goto("/b/gone/show")
    expect(phone.get_by_role("alert")).to_be_visible()


def test_a_part_is_looked_at_beside_the_chosen_one_in_the_whole_build(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/driver")
    heading(page, "Driver")
    page.locator(".candidate-name", has_text="MOSFET bridge board, 3 A").click()
    page.get_by_role("button", name="The whole build with it, side by side").click()
    beside = page.get_by_role("dialog", name="Side by side")
    expect(beside).to_contain_text("This try: 3 findings stop it")
    beside.get_by_role("button", name="Drop it").click()
    expect(page.get_by_role("region", name="Try")).to_have_count(0)
    expect(page.locator(".candidate-chosen")).to_contain_text("MOSFET bridge board, 5 A")
