"""Fields that nobody has touched are folded with a line that tells what they hold; none is ever out of reach."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from playwright.sync_api import Browser, Page, expect

from .test_walk import heading

SUPPLY = ".given .item"


@pytest.fixture
def folded(chrome: Browser, address: str) -> Iterator[Page]:
    """A page as it comes: nobody has asked for every field."""
    made = chrome.new_context(viewport={"width": 1280, "height": 800}, locale="en-GB", base_url=address)
    made.set_default_timeout(15000)
    yield made.new_page()
    made.close()


def seen(page: Page) -> int:
    return int(
        page.evaluate("() => [...document.querySelectorAll('.given .field')].filter(f => f.checkVisibility()).length")
    )


def test_the_line_tells_what_is_held_and_a_key_opens_it(folded: Page, carousel: str) -> None:
    folded.goto(f"/b/{carousel}/supply")
    heading(folded, "Supply")
    line = folded.locator(".fold summary").first
    expect(line).to_contain_text("Peukert exponent: 1.05")
    expect(line).to_contain_text("Not given: ")
    field = folded.get_by_label("Peukert exponent")
    expect(field).not_to_be_visible()
    line.focus()
    folded.keyboard.press("Enter")
    expect(field).to_be_visible()
    expect(line.locator("span").first).not_to_be_visible()


def test_a_field_neither_leaves_its_place_nor_its_focus_while_it_is_filled_and_emptied(
    folded: Page, carousel: str
) -> None:
    folded.goto(f"/b/{carousel}/supply")
    heading(folded, "Supply")
    folded.locator(".fold summary").first.click()
    inside = folded.locator('[data-path="supply.sources.s1.limit"] input')
    inside.fill("12 A")
    expect(folded.get_by_text("Saved").first).to_be_visible()
    expect(folded.locator('.fold [data-path="supply.sources.s1.limit"] .origin')).to_be_visible()
    expect(inside).to_be_focused()
    outside = folded.locator('[data-path="supply.sources.s1.capacity"] input')
    outside.fill("")
    expect(folded.locator('[data-path="supply.sources.s1.capacity"] .origin')).to_have_count(0)
    expect(outside).to_be_focused()
    # Who comes back finds each where it belongs now.
    folded.reload()
    heading(folded, "Supply")
    expect(folded.locator('[data-path="supply.sources.s1.limit"] input')).to_be_visible()
    expect(outside).not_to_be_visible()


def test_what_cannot_be_read_is_never_folded(folded: Page, carousel: str) -> None:
    folded.goto(f"/b/{carousel}/supply")
    heading(folded, "Supply")
    folded.locator(".fold summary").first.click()
    folded.locator('[data-path="supply.sources.s1.peukert"] input').fill("soon")
    wrong = folded.locator('[data-path="supply.sources.s1.peukert"] .field-error')
    expect(wrong).to_be_visible()
    expect(folded.get_by_text("Saved").first).to_be_visible()
    folded.reload()
    heading(folded, "Supply")
    expect(wrong).to_be_visible()


def test_the_skip_link_leads_to_the_first_field_that_is_in_sight(folded: Page, carousel: str) -> None:
    folded.goto(f"/b/{carousel}/supply")
    heading(folded, "Supply")
    folded.keyboard.press("Tab")
    folded.keyboard.press("Enter")
    expect(folded.locator('[data-path="supply.sources.s1.name"] input')).to_be_focused()


def test_find_leads_into_a_fold(folded: Page, carousel: str) -> None:
    folded.goto(f"/b/{carousel}/motor")
    heading(folded, "Motor")
    folded.keyboard.press("Control+k")
    folded.get_by_role("combobox").fill("peukert exponent")
    folded.get_by_role("option", name="Peukert exponent").first.click()
    heading(folded, "Supply")
    expect(folded.locator('[data-path="supply.sources.s1.peukert"] input')).to_be_focused()


def test_every_field_is_one_press_away_and_stays_so(folded: Page, carousel: str) -> None:
    folded.goto(f"/b/{carousel}/motor")
    heading(folded, "Motor")
    few = seen(folded)
    folded.get_by_role("button", name="All fields").click()
    expect(folded.locator(".fold")).to_have_count(0)
    every = seen(folded)
    assert few <= 0.62 * every, f"{few} of {every} in sight"
    folded.goto(f"/b/{carousel}/signals")
    heading(folded, "Signals")
    expect(folded.get_by_role("button", name="All fields")).to_have_attribute("aria-pressed", "true")
    expect(folded.locator(".fold")).to_have_count(0)


def test_a_drive_without_a_loop_is_asked_nothing_of_it(folded: Page, puppets: str) -> None:
    folded.goto(f"/b/{puppets}/loop")
    heading(folded, "Loop")
    expect(folded.locator(".given .field")).to_have_count(1)
    folded.get_by_role("combobox", name="Speed loop").select_option(label="Closed")
    expect(folded.get_by_label("Proportional gain")).to_be_visible()
