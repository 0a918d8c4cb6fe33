"""Nothing that was typed is lost, and nothing of one build reaches another, whatever ends first."""

from __future__ import annotations

import contextlib
import random
import re
from collections.abc import Callable, Iterator
from functools import partial
from typing import Any

import pytest
from playwright.sync_api import Browser, BrowserContext, Locator, Page, Route, expect
from playwright.sync_api import Error as PlaywrightError
from playwright.sync_api import TimeoutError as PlaywrightTimeout

from .conftest import ask

GEAR = '[data-path="drives.d1.load.gear_ratio"] input'


@pytest.fixture
def rough(chrome: Browser, address: str) -> Iterator[BrowserContext]:
    """A profile in which requests may fail: what the browser logs of it is no fault."""
    made = chrome.new_context(
        viewport={"width": 1280, "height": 800}, locale="en-GB", timezone_id="UTC", base_url=address
    )
    made.set_default_timeout(30000)
    yield made
    made.close()


def gear(page: Page, build: str) -> Locator:
    page.goto(f"/b/{build}/load")
    return page.locator(GEAR)


def saved(address: str, build: str) -> str:
    """The gear ratio as it is stored."""
    got: Any = ask(address, f"/api/builds/{build}")
    return str(got["build"]["drives"][0]["load"]["gear_ratio"]["text"])


def saves(page: Page, answer: Any) -> None:
    """What becomes of every save from now on."""
    page.route(re.compile(r"/api/builds/[^/]+$"), lambda r: answer(r) if r.request.method == "PUT" else r.continue_())


def test_what_was_typed_before_the_tab_was_closed_is_offered_again(
    rough: BrowserContext, address: str, carousel: str
) -> None:
    page = rough.new_page()
    saves(page, lambda route: route.abort())
    gear(page, carousel).fill("77")
    page.close()
    again = rough.new_page()
    field = gear(again, carousel)
    expect(again.locator(".kept-notice")).to_contain_text("never saved")
    assert saved(address, carousel) != "77"
    again.get_by_role("button", name="Take it over").click()
    expect(field).to_have_value("77")
    expect(again.get_by_text(re.compile("^Saved"))).to_be_visible()
    expect(again.locator(".kept-notice")).to_have_count(0)
    assert saved(address, carousel) == "77"
    again.reload()
    expect(again.locator(GEAR)).to_have_value("77")
    expect(again.locator(".kept-notice")).to_have_count(0)


def test_what_is_not_wanted_is_forgotten(rough: BrowserContext, address: str, carousel: str) -> None:
    page = rough.new_page()
    saves(page, lambda route: route.abort())
    gear(page, carousel).fill("78")
    page.close()
    again = rough.new_page()
    gear(again, carousel)
    again.get_by_role("button", name="Forget it").click()
    again.reload()
    expect(again.locator(GEAR)).not_to_have_value("78")
    expect(again.locator(".kept-notice")).to_have_count(0)


def test_a_build_deleted_in_another_tab_becomes_a_new_one(rough: BrowserContext, address: str, carousel: str) -> None:
    page = rough.new_page()
    field = gear(page, carousel)
    expect(field).to_be_visible()
    ask(address, f"/api/builds/{carousel}", method="DELETE")
    field.fill("79")
    expect(page.locator(".kept-notice")).to_contain_text("deleted elsewhere")
    page.get_by_role("button", name="Save it as a new build").click()
    page.wait_for_url(re.compile(rf"/b/(?!{carousel})"))
    made = page.url.split("/b/")[1].split("/")[0]
    assert saved(address, made) == "79"


def test_a_failing_save_is_told_in_its_own_words_and_tried_again(
    rough: BrowserContext, address: str, carousel: str
) -> None:
    page, left = rough.new_page(), [2]

    def full(route: Route) -> None:
        left[0] -= 1
        if left[0] >= 0:
            route.fulfill(status=503, json={"detail": "The disk is full: make room.", "field": ""})
        else:
            route.continue_()

    saves(page, full)
    gear(page, carousel).fill("81")
    expect(page.get_by_text("The disk is full").first).to_be_visible()
    expect(page.get_by_text(re.compile("^Saved"))).to_be_visible()
    assert saved(address, carousel) == "81"


def test_after_a_conflict_undo_does_not_write_over_the_other_tab(
    rough: BrowserContext, address: str, carousel: str
) -> None:
    page = rough.new_page()
    field = gear(page, carousel)
    field.fill("82")
    expect(page.get_by_text(re.compile("^Saved"))).to_be_visible()
    other: Any = ask(address, f"/api/builds/{carousel}")
    other["build"]["drives"][0]["load"]["gear_ratio"]["text"] = "90"
    ask(address, f"/api/builds/{carousel}", {"version": other["version"], "build": other["build"]}, "PUT")
    field.fill("83")
    page.get_by_role("button", name="Go on with what is saved").click()
    expect(page.locator(GEAR)).to_have_value("90")
    expect(page.get_by_role("button", name="Undo")).to_be_disabled()
    assert saved(address, carousel) == "90"


UNRELIABLE = """([seed]) => {
  let state = seed * 2654435761 + 1;
  const chance = () => ((state = (state * 1103515245 + 12345) % 2147483648) / 2147483648);
  const sound = window.fetch.bind(window);
  window.fetch = async (where, how) => {
    const told = new Request(where, how);
    if (!new URL(told.url).pathname.startsWith("/api/builds/")) return sound(told);
    const fate = chance();
    if (fate < 0.15) throw new TypeError("the line is dead");
    if (fate < 0.25 && told.method === "PUT")
      return Response.json({ detail: "Not now.", field: "" }, { status: 503 });
    const late = [0, 0, 30, 200][Math.floor(4 * chance())];
    if (late) await new Promise((go) => setTimeout(go, late));
    return sound(told);
  };
}"""
"""Makes the page's own requests about builds late, or fail. In the page: a handler of the test's that waits while its
page is closed may never end."""


def move(go: Callable[[], object]) -> None:
    """One step of a walk. A document that is still arriving from the step before may stop the new one from being begun,
    which Chromium tells as aborted; a person presses once more, and so does this."""
    for _ in range(4):
        try:
            go()
        except PlaywrightError as refused:
            if "ERR_ABORTED" not in str(refused):
                raise
        else:
            return
    go()


@pytest.mark.parametrize("seed", range(3))
def test_nothing_of_one_build_reaches_another(rough: BrowserContext, address: str, seed: int) -> None:
    """Three builds, walked through by links, back and forward, while saves and loads are late, fail, or both."""
    chance, page = random.Random(seed), rough.new_page()
    builds = [ask(address, "/api/builds/lantern-carousel/duplicate", {})["id"] for _ in range(3)]
    for build in builds:
        gear(page, build)
        expect(page.locator(GEAR)).to_be_visible()
    page.add_init_script(f"({UNRELIABLE})([{seed}])")
    for turn in range(14):
        where = page.url.split("/b/")[1].split("/")[0] if "/b/" in page.url else ""
        if where in builds:
            # Each build is only ever given numbers of its own thousand. Where the page is still on its way nothing is
            # given; to ask whether the field is there has no end while the page is between two documents, this has.
            with contextlib.suppress(PlaywrightTimeout):
                page.locator(GEAR).fill(str(1000 * (builds.index(where) + 1) + turn), timeout=1000)
        page.wait_for_timeout(chance.choice((0, 40, 600)))
        step = chance.random()
        if step < 0.4:
            move(lambda: page.go_back(wait_until="commit"))
        elif step < 0.7:
            move(lambda: page.go_forward(wait_until="commit"))
        else:
            move(partial(page.goto, f"/b/{chance.choice(builds)}/load", wait_until="commit"))
    # The last one is waited for: Chromium answers that it closes a page whose next document is just arriving, and then
    # keeps it open for good.
    move(lambda: gear(page, builds[0]))
    expect(page.locator(GEAR)).to_be_visible()
    page.close()
    for number, build in enumerate(builds):
        text = saved(address, build)
        assert text == "150" or int(text) // 1000 == number + 1, f"{build}: {text}"
