"""Where the time of a keystroke goes, on the page that was opened for it and on no other."""

from __future__ import annotations

from typing import Any

from playwright.sync_api import Page, expect

from tests.browser.test_walk import heading

STROKES = "() => performance.getEntriesByName('key to picture').map(m => ({...m.detail, measured: m.duration}))"


def test_a_trace_splits_every_key_into_parts_that_are_its_whole(page: Page) -> None:
    page.goto("/b/lantern-carousel/motor?trace")
    heading(page, "Motor")
    board = page.get_by_label("Trace")
    expect(board).to_contain_text("0 keys")
    # Tried, not saved: the other walks find the carousel as it was.
    page.get_by_role("button", name="Try", exact=True).click()
    page.locator('[data-path="drives.d1.motor.no_load_a"] input').fill("0.305 A")
    expect(board).to_contain_text("1 keys")
    (stroke,) = page.evaluate(STROKES)
    whole: dict[str, Any] = {k: v for k, v in stroke.items() if k not in ("whole", "measured")}
    assert set(whole) == {"script", "service", "wire", "frame", "layout", "paint"}
    assert all(v >= 0 for v in whole.values()) and stroke["service"] > 0
    assert abs(sum(whole.values()) - stroke["measured"]) < 0.01


def test_without_being_asked_for_there_is_none(page: Page) -> None:
    page.goto("/b/lantern-carousel/motor")
    heading(page, "Motor")
    expect(page.get_by_label("Trace")).to_have_count(0)
