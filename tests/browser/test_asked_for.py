"""A sentence that asks for a field leads to it, on whichever station it is given."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from tests.browser.conftest import ask
from tests.browser.test_walk import heading


def test_what_is_not_known_leads_to_the_field_that_is_asked_for(page: Page, address: str) -> None:
    build = ask(address, "/api/builds/lantern-carousel")["build"]
    build["name"] = "Without its inertia"
    build["drives"][0]["motor"]["rotor_inertia"]["text"] = ""
    made = ask(address, "/api/builds/import", build)["id"]
    page.goto(f"/b/{made}/load")
    heading(page, "Load")
    asked = page.locator(".unknown, .check-unknown").get_by_role("button", name="Rotor inertia").first
    asked.click()
    heading(page, "Motor")
    field = page.locator('[data-path="drives.d1.motor.rotor_inertia"] input')
    expect(field).to_be_focused()
    # Given there, it is asked for nowhere any more.
    field.fill("30 g·cm²")
    page.keyboard.press("Escape")
    page.goto(f"/b/{made}/load")
    heading(page, "Load")
    expect(page.locator(".unknown, .check-unknown").get_by_role("button", name="Rotor inertia")).to_have_count(0)
