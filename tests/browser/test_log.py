"""The log on the screen: topics, what stands open, pictures."""

from __future__ import annotations

import re
from pathlib import Path

from PIL import Image
from playwright.sync_api import Page, expect

from tests.browser.test_looks import faults


def test_a_failure_is_written_down_and_stands_until_it_is_undone(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/log")
    page.get_by_label("What it is").select_option(label="Failure")
    page.get_by_label("Write down what was done").fill("It stopped and smelt")
    page.get_by_label("Cause").fill("a strand across")
    page.get_by_label("What must be undone").fill("the tape at the bridge")
    page.keyboard.press("Enter")
    standing = page.get_by_role("region", name="Still open")
    expect(standing).to_contain_text("To be undone: the tape at the bridge")
    expect(page.locator(".entry-note").first).to_contain_text("Cause: a strand across")
    page.get_by_label("What it is").select_option(label="Hours")
    page.get_by_label("Write down what was done").fill("Mended it")
    page.reload()
    expect(page.get_by_label("Write down what was done")).to_have_value("Mended it")
    page.get_by_label("What it is").select_option(label="Hours")
    page.get_by_label("How long").fill("long")
    page.get_by_role("button", name="Add to the log").click()
    expect(page.get_by_text(re.compile("“long”")).first).to_be_visible()
    expect(page.get_by_label("How long")).to_have_value("long")
    page.get_by_label("How long").fill("90 min")
    page.get_by_role("button", name="Add to the log").click()
    expect(page.get_by_text("Together: 1.5 h.")).to_be_visible()
    standing.get_by_role("button", name=re.compile("Done: the tape")).click()
    expect(standing).to_have_count(0)
    page.get_by_label("Search").fill("strand")
    expect(page.locator(".entry-note")).to_have_count(1)
    assert faults(page) == []


def test_a_picture_comes_into_the_log(page: Page, carousel: str, tmp_path: Path) -> None:
    shown = tmp_path / "bench.png"
    Image.new("RGB", (2400, 1200), (40, 90, 60)).save(shown)
    page.goto(f"/b/{carousel}/log")
    page.get_by_label("Write down what was done").fill("The first board")
    page.set_input_files("input[accept*='image']", shown)
    picture = page.get_by_role("img", name="The first board")
    expect(picture).to_be_visible()
    assert picture.evaluate("e => e.decode().then(() => e.naturalWidth)") == 1600
    page.get_by_role("radio", name="Pictures and captures").check()
    expect(page.locator(".entry-photo")).to_have_count(1)
    false = tmp_path / "false.png"
    false.write_text("no picture", "utf-8")
    page.set_input_files("input[accept*='image']", false)
    expect(page.get_by_role("alert")).to_contain_text("no picture that can be kept")
