"""Every dialog: nothing for axe in either light, no text cut at any width, and Escape gives the focus back."""

from __future__ import annotations

import re
from collections.abc import Callable

import pytest
from playwright.sync_api import Locator, Page, expect

from tests.browser.service import ROOT
from tests.browser.test_looks import faults
from tests.browser.test_overflow import FAULTS

Opener = Callable[[Page], None]


def press(name: str) -> Opener:
    """Opened by a button."""
    return lambda page: page.get_by_role("button", name=name, exact=True).first.click()


def key(name: str) -> Opener:
    """Opened by a key, wherever the focus is."""
    return lambda page: page.keyboard.press(name)


def menu(name: str) -> Opener:
    """Opened from the build's menu."""

    def opened(page: Page) -> None:
        press("Build …")(page)
        page.get_by_role("menuitem", name=name, exact=True).click()

    return opened


DIALOGS: dict[str, tuple[str, Opener, str]] = {
    "Keep a revision": ("motor", menu("Keep a revision …"), "SheetMenu"),
    "Revisions": ("motor", menu("Revisions, take one back …"), "SheetMenu"),
    "Take from another build": ("motor", menu("Take from another build …"), "TakeFrom"),
    "Phone at the bench": ("motor", menu("Phone at the bench …"), "PhoneDialog"),
    "Words on this sheet": ("motor", menu("Words on this sheet …"), "WordList"),
    "Keys": ("motor", key("?"), "KeyHelp"),
    "Find": ("motor", press("Find"), "CommandBox"),
    "Import a spin-up": ("motor", press("Import a spin-up …"), "SpinUp"),
    "Motors on the shelf": ("motor", press("Motors on the shelf …"), "WhatIf"),
    "Parts": ("driver", press("Parts of your own …"), "Shelf"),
    "Design for me": ("power_stage", press("Design for me …"), "Design"),
    "Components": ("power_stage", press("The shelf of components …"), "Shelf"),
    "Pins and timers": ("build", press("Pins and timers …"), "ControllerEditor"),
    "Which controller": ("build", press("Which controller? …"), "Which"),
}
ELSEWHERE = {"TryBar": "test_try", "ConflictDialog": "test_walk"}
"""These need more than a press to open: they are looked at where that is walked."""
BUILD = {"Design for me": "cider-stirrer", "Components": "cider-stirrer"}


def opened(page: Page, name: str) -> Locator:
    view, opener, _ = DIALOGS[name]
    page.goto(f"/b/{BUILD.get(name, 'lantern-carousel')}/{view}")
    expect(page.locator(".sheet[aria-busy=false] .columns")).to_be_visible()
    opener(page)
    dialog = page.get_by_role("dialog")
    expect(dialog).to_be_visible()
    if name == "Which controller":  # each of the profiles is worked out before they are listed
        expect(dialog.get_by_role("listitem").first).to_be_visible()
    page.wait_for_load_state("networkidle")
    return dialog


def test_no_dialog_is_left_out() -> None:
    sources = (ROOT / "web" / "src").rglob("*.tsx")
    found = {p.stem for p in sources if re.search(r"<Dialog\b", p.read_text("utf-8"))}
    assert found == {source for _, _, source in DIALOGS.values()} | set(ELSEWHERE)


@pytest.mark.parametrize("name", DIALOGS)
def test_axe_finds_nothing_in_it_and_escape_gives_the_focus_back(glance: Page, name: str) -> None:
    glance.emulate_media(color_scheme="light", reduced_motion="reduce")
    dialog = opened(glance, name)
    assert glance.evaluate("document.activeElement.closest('[role=dialog]') !== null")
    assert faults(glance) == []
    assert dialog.get_by_role("heading").count() or dialog.get_attribute("aria-label")
    glance.keyboard.press("Escape")
    expect(dialog).to_have_count(0)
    # Whoever opened it by a key had the focus nowhere, and has it there again.
    assert glance.evaluate("document.activeElement !== document.body") or name == "Keys"


@pytest.mark.parametrize("width", [390, 1280])
@pytest.mark.parametrize("name", DIALOGS)
def test_nothing_in_it_is_cut_at_any_width(glance: Page, name: str, width: int) -> None:
    glance.emulate_media(reduced_motion="reduce")
    glance.set_viewport_size({"width": width, "height": 844})
    dialog = opened(glance, name)
    # What it covers was scrolled to press what opened it, and lies under the page's head.
    assert [f for f in glance.evaluate(FAULTS) if not f.startswith("overlap")] == []
    box = dialog.bounding_box()
    assert box is not None
    assert box["x"] >= 0
    assert box["x"] + box["width"] <= width
    assert dialog.evaluate("e => e.scrollWidth <= e.clientWidth + 1")
