"""The tour of six steps: walked, left, taken up where it was, and done."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from tests.browser.test_looks import faults
from tests.browser.test_walk import heading


def test_the_tour_is_walked_left_and_taken_up(page: Page) -> None:
    page.goto("/")
    page.get_by_role("button", name="Tour in six steps").click()
    heading(page, "Motor")
    tour = page.get_by_role("region", name="Tour")
    expect(tour).to_contain_text("1 of 6")
    tour.get_by_role("button", name=re.compile("^Next")).click()
    heading(page, "Load")
    tour.get_by_role("button", name=re.compile("^Next")).click()
    heading(page, "Driver")
    assert faults(page) == []
    tour.get_by_role("button", name="Leave it for now").click()
    expect(tour).to_have_count(0)
    page.reload()
    heading(page, "Driver")
    expect(tour).to_have_count(0)
    page.get_by_role("button", name="Build …").click()
    page.get_by_role("menuitem", name="Tour in six steps").click()
    expect(tour).to_contain_text("3 of 6")
    for title in ("Power stage", "Supply", "Bench"):
        tour.get_by_role("button", name=re.compile("^Next")).click()
        heading(page, title)
    tour.get_by_role("button", name="Done").click()
    expect(tour).to_have_count(0)
    page.get_by_role("button", name="Build …").click()
    page.get_by_role("menuitem", name="Tour in six steps").click()
    expect(tour).to_contain_text("1 of 6")


def test_on_a_phone_the_tour_stands_below_and_hides_no_name(phone: Page, carousel: str) -> None:
    phone.goto(f"/b/{carousel}/motor")
    heading(phone, "Motor")
    phone.get_by_role("button", name="Build …").click()
    phone.get_by_role("menuitem", name="Tour in six steps").click()
    tour = phone.get_by_role("region", name="Tour")
    expect(tour).to_be_visible()
    box = tour.bounding_box()
    assert box is not None and box["x"] >= 0 and box["x"] + box["width"] <= 390 and box["y"] > 300
