"""All builds: where each stands and what comes next, and what they teach one another."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect


def test_a_card_leads_to_what_comes_next(page: Page, puppets: str) -> None:
    page.goto("/")
    card = page.locator(".builds li").filter(has=page.locator(f'a[href="/b/{puppets}/motor"]')).first
    expect(card.get_by_text("1 motor, 2 servos")).to_be_visible()
    card.get_by_role("link", name=re.compile("^Mend:")).click()
    expect(page).to_have_url(re.compile(rf"/b/{puppets}/power_stage"))
    expect(page.get_by_role("heading", name="Power stage", level=2)).to_be_visible()


def test_a_motor_of_another_build_goes_onto_the_shelf_and_is_taken_there(page: Page, carousel: str) -> None:
    page.goto("/")
    page.get_by_role("link", name="What the builds teach one another").click()
    motors = page.get_by_role("region", name="Motors")
    row = motors.get_by_role("listitem").filter(has=page.locator(f'a[href^="/b/{carousel}/"]'))
    row.get_by_role("button").click()
    expect(row.get_by_role("status")).to_contain_text("On the shelf")
    page.goto(f"/b/{carousel}/motor")
    page.get_by_role("button", name="Motors on the shelf").click()
    shelf = page.get_by_role("dialog", name="Motors on the shelf")
    expect(shelf.locator("li", has_text="The builder's own")).to_have_count(1)
    shelf.get_by_role("button", name="Take away Gear motor with encoder").click()
    expect(shelf.locator("li", has_text="The builder's own")).to_have_count(0)


def test_nothing_is_cut_at_a_phones_width(phone: Page) -> None:
    for place in ("/", "/across"):
        phone.goto(place)
        expect(phone.get_by_role("heading", level=1)).to_be_visible()
        expect(phone.locator(".build-card, .across-rows").first).to_be_visible()
        assert phone.evaluate("document.documentElement.scrollWidth") <= 390
