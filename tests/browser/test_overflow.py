"""No text is cut off, lies beyond the page or on another one: at four widths, with short names and with long ones."""

from __future__ import annotations

from typing import Any

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import ask
from tests.browser.service import ROOT
from tests.browser.test_looks import VIEWS, ready

WIDTHS = {"phone": 390, "twice as large": 640, "desk": 1280, "wide": 1920}
"""640 px of a page of 1280 at 200 % zoom: WCAG 2.2, 1.4.4 (resize text) and 1.4.10 (reflow)."""
LONG = "Winch of the old curtain behind the second row of the puppets' theatre in the barn"
FAULTS = (ROOT / "tests" / "browser" / "overflow.js").read_text("utf-8")


@pytest.fixture(scope="module")
def lengthy(address: str) -> str:
    """The puppet stage with the longest names that its fields take."""
    build: dict[str, Any] = ask(address, "/api/builds/puppet-stage")["build"]
    build["name"] = LONG[:80]
    for drive in build["drives"]:
        drive["name"] = LONG[:60]
    for unit in build["units"]:
        unit["name"] = LONG[:60]
    for controller in build["controllers"]:
        controller["name"] = LONG[:60]
    return str(ask(address, "/api/builds/import", build)["id"])


@pytest.mark.parametrize("width", WIDTHS)
def test_nothing_is_cut_or_covered(glance: Page, width: str) -> None:
    glance.set_viewport_size({"width": WIDTHS[width], "height": 800})
    found = {}
    for view in VIEWS:
        ready(glance, view)
        glance.wait_for_load_state("networkidle")
        found[view or "home"] = glance.evaluate(FAULTS)
    assert {view: faults for view, faults in found.items() if faults} == {}


@pytest.mark.parametrize("width", WIDTHS)
def test_long_names_are_read_whole(glance: Page, lengthy: str, width: str) -> None:
    glance.set_viewport_size({"width": WIDTHS[width], "height": 800})
    found = {}
    for view in VIEWS[1:]:
        glance.goto(f"/b/{lengthy}/{view}?drive=d1")
        expect(glance.locator(".sheet[aria-busy=false] .columns")).to_be_visible()
        glance.wait_for_load_state("networkidle")
        found[view] = glance.evaluate(FAULTS)
    assert {view: faults for view, faults in found.items() if faults} == {}
