"""The trade's words explained where they stand: pointed at, tapped, and all of a sheet by one key."""

from __future__ import annotations

from playwright.sync_api import Browser, Page, expect

from tests.browser.test_looks import faults
from tests.browser.test_walk import heading


def test_a_word_is_explained_where_it_stands(page: Page) -> None:
    page.goto("/b/cider-stirrer/power_stage")
    # Below the picture: until it is drawn the word moves from under the pointer.
    expect(page.locator(".heatmap svg").first).to_be_visible()
    page.wait_for_load_state("networkidle")
    word = page.locator(".check .word", has_text="duty").first
    word.hover()
    expect(page.get_by_role("tooltip")).to_contain_text("The share of each period for which the switch is on.")
    page.mouse.move(2, 2)
    expect(page.get_by_role("tooltip")).to_have_count(0)


def test_all_words_of_a_sheet_stand_behind_one_key_and_lead_to_their_station(page: Page) -> None:
    page.goto("/b/cider-stirrer/power_stage")
    heading(page, "Power stage")
    page.keyboard.press("e")
    dialog = page.get_by_role("dialog", name="Words on this sheet")
    expect(dialog).to_contain_text("gate charge")
    assert faults(page) == []
    dialog.get_by_role("button", name="See it at Signals").first.click()
    heading(page, "Signals")


def test_a_tap_explains_too(chrome: Browser, address: str) -> None:
    made = chrome.new_context(viewport={"width": 390, "height": 844}, has_touch=True, base_url=address)
    try:
        page = made.new_page()
        page.goto("/b/cider-stirrer/power_stage")
        expect(page.locator(".heatmap svg").first).to_be_visible()
        page.locator(".check .word").first.tap()
        tip = page.get_by_role("tooltip")
        expect(tip).to_be_visible()
        box = tip.bounding_box()
        assert box is not None and box["x"] >= 0 and box["x"] + box["width"] <= 390
    finally:
        made.close()


def test_words_are_no_stops_for_the_tab_key(page: Page) -> None:
    page.goto("/b/cider-stirrer/power_stage")
    heading(page, "Power stage")
    expect(page.locator(".word").first).to_be_visible()
    assert page.locator(".word:not([tabindex='-1'])").count() == 0
