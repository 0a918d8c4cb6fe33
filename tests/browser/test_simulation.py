"""A run of the drive at the Signals station."""

from __future__ import annotations

from playwright.sync_api import Page, expect


def test_a_run_is_simulated_read_off_and_exported(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/signals")
    part = page.get_by_role("region", name="Simulation")
    part.get_by_label("Scenario").select_option(label="Reverse at once")
    part.get_by_role("button", name="Run").click()
    expect(part.locator(".run-figures")).to_contain_text("Peak current", timeout=20000)
    expect(part.locator(".plot svg").first).to_be_visible()
    part.get_by_label("Read off at a time").focus()
    page.keyboard.press("End")
    expect(part).to_contain_text("speed")
    with page.expect_download() as got:
        part.get_by_role("button", name="Export CSV").click()
    assert got.value.suggested_filename == "run.csv"


def test_a_run_that_cannot_be_done_says_why(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/signals")
    part = page.get_by_role("region", name="Simulation")
    part.get_by_label("every pulse").check()
    part.get_by_role("button", name="Run").click()
    expect(part.get_by_role("alert")).to_contain_text("averaged model", timeout=30000)
