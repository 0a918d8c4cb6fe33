"""Takes docs/screenshots/ from the demo data: one picture of each main view. Run by ``./zw shots``.

``--only NAME``, ``--dark``, ``--width N`` and ``--to FOLDER`` take single ones elsewhere, for looking.
"""

from __future__ import annotations

import argparse
import sys
import tempfile
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parents[2]))
from playwright.sync_api import Page

from tests.browser.service import ROOT, browser, service

STATIONS = (
    "build",
    "motor",
    "load",
    "supply",
    "driver",
    "power_stage",
    "signals",
    "wiring",
    "encoder",
    "loop",
    "bench",
    "log",
)
BUILD = "lantern-carousel"
EXTRA = {
    "first": "",
    "faults": "lantern-carousel/bench",
    "puppet-panel": "puppet-stage/signals?drive=d1",
    "signals-run": "lantern-carousel/signals",
    "tries": "lantern-carousel/load",
    "show": "lantern-carousel/show",
}


def prepare(page: Page, name: str) -> None:
    """What has to be done before some views show their matter."""
    if name == "puppet-panel":
        page.get_by_role("tab", name="Panel").click()
        page.get_by_role("button", name="Forward", exact=True).click()
        page.get_by_role("button", name="Wait 1 s").click()
        page.wait_for_selector(".machine-now text:text('forward')")
    elif name == "signals-run":
        page.get_by_role("tab", name="In time").click()
        page.get_by_role("button", name="Run", exact=True).click()
        page.wait_for_selector(".run-figures")
    elif name == "first":
        for label in ("A turntable, a carousel", "Both ways", "In my hand: I can measure it"):
            page.get_by_role("radio", name=label).check()
        for label, text in {"Mass that turns": "4 kg", "Outer radius": "0.3 m", "Speed wanted": "20 rpm"}.items():
            page.get_by_label(label).fill(text)
        for label, text in {"held: volts": "1 V", "held: current": "0.4 A", "free: volts": "12 V"}.items():
            page.get_by_label(label).fill(text)
        page.get_by_label("free: current").fill("150 mA")
        page.get_by_label("free: speed").fill("6000 rpm")
        page.get_by_role("radio", name="Lithium iron phosphate cells").check()
        page.get_by_label("Cells in series").fill("4")
        page.wait_for_selector(".first-drivers")
        page.evaluate("scrollTo(0, 0)")
    elif name == "faults":
        page.get_by_role("tab", name="What is wrong?").click()
        page.get_by_role("radiogroup", name="It does not turn").get_by_text("Yes").click()
        page.get_by_role("radiogroup", name="The fuse blows").get_by_text("No").click()
        page.locator(".faults-best").wait_for()
        page.locator(".faults-suspects summary").first.click()
    elif name == "tries":
        page.get_by_role("button", name="Try", exact=True).click()
        page.get_by_label("Gear ratio").fill("90")
        page.get_by_role("button", name="Set aside, try another").click()
        page.get_by_label("Gear ratio").fill("200")
        page.get_by_role("button", name="Side by side").click()
        page.wait_for_selector(".tries-table")
    elif name == "show":
        page.wait_for_selector("#harness")


def main() -> None:
    """Parse the words and take the pictures."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--only", action="append", default=[])
    parser.add_argument("--dark", action="store_true")
    parser.add_argument("--width", type=int, default=1280)
    parser.add_argument("--height", type=int, default=800)
    parser.add_argument("--full", action="store_true")
    parser.add_argument("--to", type=Path, default=ROOT / "docs" / "screenshots")
    parser.add_argument("--build", default=BUILD)
    words = parser.parse_args()
    words.to.mkdir(parents=True, exist_ok=True)
    with (
        tempfile.TemporaryDirectory() as folder,
        service(Path(folder) / "demo.sqlite3") as address,
        browser() as chrome,
    ):
        page = chrome.new_page(
            viewport={"width": words.width, "height": words.height},
            color_scheme="dark" if words.dark else "light",
            timezone_id="UTC",
            locale="en-GB",
            reduced_motion="reduce",
        )
        for name in words.only or ("home", *STATIONS, *EXTRA):
            build, _, view = EXTRA[name].partition("/") if name in EXTRA else (words.build, "", name)
            where, shown = {
                "home": ("/", ".build-card"),
                "": ("/new", ".first-verdict ul"),
                "show": (f"/b/{build}/show", ".show-decided"),
            }.get(view, (f"/b/{build}/{view}", ".sheet:not([aria-busy=true]) .columns"))
            page.goto(f"{address}{where}")
            page.wait_for_selector(shown)
            page.wait_for_load_state("networkidle")
            if words.full:
                page.add_style_tag(
                    content=".frame,.sheet,html,body,#root{height:auto!important;overflow:visible!important}"
                )
            prepare(page, name)
            page.evaluate("document.fonts.ready")
            page.screenshot(path=words.to / f"{name}.png", full_page=words.full)
            print(words.to / f"{name}.png")


if __name__ == "__main__":
    main()
