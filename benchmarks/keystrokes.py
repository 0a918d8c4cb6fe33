"""Where the time of a keystroke goes, on every demo build: the page's own trace, as ``./zw dev --trace`` shows it."""

from __future__ import annotations

import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
sys.path[:0] = [str(ROOT / "src"), str(ROOT)]

from playwright.sync_api import Page
from tests.browser.service import browser, service

KEYS = 60
BUILDS = {
    "lantern-carousel": "drives.d1.motor.no_load_a",
    "cider-stirrer": "drives.d1.motor.no_load_a",
    "puppet-stage": "drives.d1.motor.sheet.no_load_a",
    "snow-fan": "drives.d1.motor.sheet.no_load_a",
}
PARTS = ("script", "service", "wire", "frame", "layout", "paint", "whole")
TYPE = """async ([path, keys]) => {
  const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set;
  const input = () => document.querySelector(`[data-path="${path}"] input`);
  const measured = () => performance.getEntriesByName('key to picture');
  for (let k = 0; k < keys; k++) {
    const before = measured().length;
    set.call(input(), `${(0.2 + 0.001 * (k % 30 + 1)).toFixed(3)} A`);
    input().dispatchEvent(new Event('input', {bubbles: true}));
    while (measured().length === before) await new Promise(done => setTimeout(done, 5));
  }
  return measured().slice(-keys).map(m => m.detail);
}"""


def typed(page: Page, address: str, build: str, path: str) -> list[dict[str, float]]:
    """The parts of some keystrokes in one field, in ms, without those that warm the page up."""
    page.goto(f"{address}/b/{build}/motor?trace")
    page.wait_for_selector(".follows")
    page.wait_for_selector(".trace")
    page.wait_for_load_state("networkidle")
    page.evaluate(TYPE, [path, 10])
    found: list[dict[str, float]] = page.evaluate(TYPE, [path, KEYS])
    return found


def keystrokes(folder: Path) -> dict[str, float]:
    """Median and 95th percentile of every part of a key, by build."""
    figures = {}
    with service(folder / "keys.sqlite3") as address, browser() as chrome:
        page = chrome.new_page(viewport={"width": 1280, "height": 800})
        for build, path in BUILDS.items():
            strokes = typed(page, address, build, path)
            for part in PARTS:
                values = sorted(s[part] for s in strokes)
                late = " (aim 50)" if part == "whole" else ""
                figures[f"key in {build}, {part}, median ms"] = values[len(values) // 2]
                figures[f"key in {build}, {part}, 95th percentile ms{late}"] = values[int(len(values) * 0.95) - 1]
    return figures


def main() -> None:
    """A table: a row for each part, two columns for each build."""
    with tempfile.TemporaryDirectory() as folder:
        found = keystrokes(Path(folder))
    print(" " * 9 + "".join(f"{build:>24}" for build in BUILDS))
    for part in PARTS:
        cells = []
        for build in BUILDS:
            middle, late = (v for name, v in found.items() if name.startswith(f"key in {build}, {part},"))
            cells.append(f"{middle:15.1f} {late:8.1f}")
        print(f"{part:9}" + "".join(cells))


if __name__ == "__main__":
    main()
