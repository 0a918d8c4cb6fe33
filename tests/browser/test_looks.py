"""What every view must keep: accessible, light and dark, on a phone, and told when the service is gone."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Literal

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.browser.service import ROOT, service

VIEWS = (
    "",
    "build",
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
)
AXE = ROOT / "web" / "node_modules" / "axe-core" / "axe.min.js"
RUN_AXE = """async () => {
  const found = await axe.run(document, {runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa',
  'best-practice']});
  return found.violations
    .map(v => `${v.id}: ${v.nodes.slice(0, 3).map(n => n.target + ' ' + (n.any[0]?.message ?? '')).join(' | ')}`);
}"""


def ready(page: Page, view: str) -> None:
    page.goto(f"/b/lantern-carousel/{view}" if view else "/")
    expect(page.locator(".sheet[aria-busy=false] .columns" if view else ".builds a").first).to_be_visible()
    if view in ("motor", "load", "power_stage", "signals", "loop"):
        expect(page.locator(".plot svg, .heatmap svg").first).to_be_visible()
    if view == "wiring":
        expect(page.locator("#harness")).to_be_visible()


SCHEMES: tuple[Literal["light", "dark"], ...] = ("light", "dark")


def faults(page: Page) -> list[str]:
    """What axe finds of any weight, in either light: the page follows the system's while it stands open."""
    page.evaluate(AXE.read_text("utf-8"))
    found: list[str] = []
    for scheme in SCHEMES:
        page.emulate_media(color_scheme=scheme, reduced_motion="reduce")
        expect(page.locator("html")).to_have_css("color-scheme", scheme)
        found += [f"{scheme}: {fault}" for fault in page.evaluate(RUN_AXE)]
    return found


@pytest.mark.parametrize("view", VIEWS)
def test_axe_finds_nothing(glance: Page, view: str) -> None:
    glance.emulate_media(color_scheme="light", reduced_motion="reduce")
    ready(glance, view)
    assert faults(glance) == []


TABS = ("Pulses", "Timers", "Panel", "In time", "Program")


def open_tab(page: Page, tab: str) -> None:
    """A page of the Signals station, with what it shows once it was asked for."""
    page.goto("/b/puppet-stage/signals?drive=d1")
    expect(page.locator(".sheet[aria-busy=false] .columns")).to_be_visible()
    page.get_by_role("tab", name=tab).click()
    if tab == "Panel":
        page.get_by_role("button", name="Wait 0.1 s").click()
        expect(page.locator(".try-now")).to_contain_text("ready")
    elif tab == "In time":
        page.get_by_role("button", name="Run", exact=True).click()
        expect(page.locator(".run-figures")).to_be_visible()
    elif tab == "Program":
        page.get_by_role("button", name="Make the program").click()
        expect(page.locator("pre.source")).to_be_visible()


@pytest.mark.parametrize("tab", TABS)
def test_axe_finds_nothing_serious_behind_the_tabs(glance: Page, tab: str) -> None:
    glance.emulate_media(color_scheme="light", reduced_motion="reduce")
    open_tab(glance, tab)
    assert faults(glance) == []


@pytest.mark.parametrize("tab", TABS)
def test_no_tab_is_wider_than_a_phone(glance: Page, tab: str) -> None:
    glance.set_viewport_size({"width": 390, "height": 844})
    open_tab(glance, tab)
    assert glance.evaluate("document.querySelector('.sheet').scrollWidth") <= 390


@pytest.mark.parametrize("view", VIEWS)
def test_a_phone_needs_no_sideways_scrolling(glance: Page, view: str) -> None:
    glance.set_viewport_size({"width": 390, "height": 844})
    ready(glance, view)
    widest = glance.evaluate(
        "Math.max(document.documentElement.scrollWidth, document.querySelector('.sheet')?.scrollWidth ?? 0)"
    )
    assert widest <= 390


def test_a_reading_can_be_taken_on_a_phone(page: Page, carousel: str) -> None:
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"/b/{carousel}/motor")
    page.get_by_label("Station", exact=True).select_option("bench")
    page.get_by_role("list", name="Test sheet").get_by_role("button", name="Logic rail").click()
    page.get_by_label("Reading", exact=True).fill("5.01")
    page.get_by_role("button", name="Keep", exact=True).click()
    expect(page.locator(".step-said")).to_contain_text("✓ Right")


def test_the_widest_screen_still_shows_all_three_parts(glance: Page) -> None:
    glance.set_viewport_size({"width": 2560, "height": 1300})
    ready(glance, "motor")
    for part in (".card", ".sheet", ".spots"):
        expect(glance.locator(part)).to_be_visible()


def test_the_light_can_be_turned_down_and_stays(page: Page) -> None:
    ready(page, "motor")
    page.get_by_role("button", name="Build …").click()
    page.get_by_role("menuitem", name=re.compile("colours")).click()
    expect(page.locator("html")).to_have_attribute("data-scheme", "dark")
    page.reload()
    expect(page.locator("html")).to_have_attribute("data-scheme", "dark")


def test_fonts_come_from_the_app(page: Page) -> None:
    fonts: list[str] = []
    page.on("response", lambda r: fonts.append(r.url) if r.url.endswith(".woff2") else None)
    ready(page, "motor")
    page.evaluate("document.fonts.ready")
    assert fonts
    assert page.evaluate("document.fonts.check('16px \"Atkinson Hyperlegible Next Variable\"')")


def test_a_service_that_is_gone_is_told_plainly_and_nothing_is_lost(chrome: Browser, tmp_path: Path) -> None:
    data = tmp_path / "demo.sqlite3"
    page = chrome.new_page()
    with service(data) as address:
        page.goto(f"{address}/b/lantern-carousel/load")
        expect(page.get_by_label("Gear ratio")).to_have_value("150")
    page.get_by_label("Gear ratio").fill("77")
    expect(page.locator(".card-sub")).to_contain_text("Not saved: the service does not answer")
    expect(page.get_by_role("alert")).to_contain_text("does not answer")
    expect(page.get_by_label("Gear ratio")).to_have_value("77")
    page.close()


@pytest.mark.parametrize("view", [v for v in VIEWS if v])
def test_the_first_field_is_three_keys_away(glance: Page, view: str) -> None:
    ready(glance, view)
    own = ".given .field :is(input, select)"
    if glance.locator(own).count() == 0:
        own = ".follows :is(input, select, textarea, button, a)"
    first = glance.locator(own).locator("visible=true").first
    expect(first).to_be_visible()
    glance.keyboard.press("Tab")
    skip = glance.get_by_role("button", name="To the first field")
    expect(skip).to_be_focused()
    glance.keyboard.press("Enter")
    expect(first).to_be_focused()
