"""The ten tasks of docs/ten-tasks.md, each with exactly as many actions as the page tells."""

from __future__ import annotations

import re
from collections.abc import Callable
from functools import partial

import pytest
from playwright.sync_api import Page, expect

from tests.browser.service import ROOT
from tests.browser.test_first_page import CHOICES, FIELDS
from tests.browser.test_walk import heading

pytestmark = pytest.mark.usefixtures("as_it_comes")

TOLD = {
    int(row[1]): int(row[2])
    for row in re.finditer(r"^\| (\d+) \|.*\| (\d+) \|$", (ROOT / "docs" / "ten-tasks.md").read_text("utf-8"), re.M)
}
Action = Callable[[], object]


def _first(page: Page) -> list[Action]:
    return [
        lambda: page.get_by_role("button", name="A first verdict in two minutes").click(),
        *(page.get_by_role("radio", name=label).check for label in CHOICES),
        *(partial(page.get_by_label(label).fill, text) for label, text in FIELDS.items()),
    ]


def _station(page: Page, name: str) -> Action:
    return lambda: page.get_by_role("navigation", name="Stations").get_by_role("link", name=re.compile(name)).click()


def _button(page: Page, name: str) -> Action:
    return lambda: page.get_by_role("button", name=name, exact=True).click()


def _file(page: Page) -> None:
    with page.expect_download():
        page.get_by_role("button", name="Markdown, with its pictures").click()


def _actions(page: Page, task: int) -> list[Action]:
    of: dict[int, Callable[[], list[Action]]] = {
        1: lambda: _first(page),
        2: lambda: [lambda: page.locator(".figure", has_text="Stall current").first.click()],
        3: lambda: [
            _station(page, "Load"),
            _button(page, "Try"),
            lambda: page.get_by_label("Gear ratio").fill("90"),
            _button(page, "Side by side"),
            _button(page, "Drop it"),
        ],
        4: lambda: [
            _station(page, "Driver"),
            lambda: page.locator(".candidate-name", has_text="MOSFET bridge board, 3 A").click(),
            _button(page, "The whole build with it, side by side"),
        ],
        5: lambda: [
            _station(page, "Bench"),
            lambda: page.get_by_role("button", name=re.compile("Source at rest")).click(),
            lambda: page.get_by_label("Reading", exact=True).fill("13.1 V"),
            _button(page, "Keep"),
        ],
        6: lambda: [
            _station(page, "Bench"),
            lambda: page.get_by_role("tab", name="What is wrong?").click(),
            lambda: page.get_by_role("radiogroup", name="It does not turn").get_by_text("Yes").click(),
        ],
        7: lambda: [
            lambda: page.keyboard.press("Control+k"),
            lambda: page.get_by_role("combobox").fill("follower"),
            lambda: page.get_by_role("option", name=re.compile("^follower word")).click(),
        ],
        8: lambda: [
            _station(page, "Log"),
            lambda: page.get_by_label("What it is").select_option(label="For the next board"),
            lambda: page.get_by_label("Write down what was done").fill("A socket for the encoder"),
            _button(page, "Add to the log"),
        ],
        9: lambda: [_station(page, "Wiring")],
        10: lambda: [
            _button(page, "Build …"),
            lambda: page.get_by_role("menuitem", name="A page to show").click(),
            lambda: _file(page),
        ],
    }
    return of[task]()


def _done(page: Page, task: int) -> None:
    if task == 1:
        expect(page.get_by_role("region", name="First verdict")).to_contain_text("Drivers that may do")
    elif task == 2:
        expect(page.locator(".working-formula")).to_be_visible()
    elif task == 3:
        expect(page.get_by_label("Gear ratio")).to_have_value("150")
    elif task == 4:
        expect(page.get_by_role("dialog", name="Side by side")).to_contain_text("3 findings stop it")
    elif task == 5:
        expect(page.locator(".verdict-pass").first).to_be_visible()
    elif task == 6:
        expect(page.locator(".faults-best .faults-tells li").first).to_be_visible()
    elif task == 7:
        expect(page.get_by_role("dialog")).to_contain_text("follower")
        expect(page.get_by_role("button", name="Back to the list")).to_be_visible()
    elif task == 8:
        expect(page.get_by_role("region", name="Still open")).to_contain_text("A socket for the encoder")
    elif task == 9:
        expect(page.locator("table", has_text="OUT 1").first).to_be_visible()


@pytest.mark.parametrize("task", sorted(TOLD))
def test_each_task_takes_as_many_actions_as_are_told(page: Page, carousel: str, task: int) -> None:
    page.goto("/" if task == 1 else f"/b/{carousel}/motor")
    if task != 1:
        heading(page, "Motor")
    actions = _actions(page, task)
    for act in actions:
        act()
    _done(page, task)
    assert len(actions) == TOLD[task]


def test_there_are_ten() -> None:
    assert sorted(TOLD) == list(range(1, 11))
