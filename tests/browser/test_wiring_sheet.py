"""The wiring sheet: drawn, ticked, printed; and that the drawing is true to what it draws."""

from __future__ import annotations

import csv
import io
import re
from itertools import combinations
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from .conftest import ask

GEOMETRY = """() => {
  const svg = document.querySelector('#harness');
  const box = e => { const b = e.getBoundingClientRect(); return [b.left, b.top, b.right, b.bottom]; };
  const ends = [...svg.querySelectorAll('.wire-edge')].map(p => {
    const m = p.getScreenCTM(), n = p.getTotalLength();
    return [0, n].map(at => { const q = p.getPointAtLength(at).matrixTransform(m); return [q.x, q.y]; });
  });
  const pins = [...svg.querySelectorAll('.pin')].map(c => {
    const b = c.getBoundingClientRect(); return [(b.left + b.right) / 2, (b.top + b.bottom) / 2]; });
  return {labels: [...svg.querySelectorAll('text')].map(t => [t.textContent, ...box(t)]), ends, pins,
          blocks: [...svg.querySelectorAll('.block')].map(box)};
}"""


def drawn(page: Page, where: str) -> Any:
    page.goto(f"/b/{where}")
    expect(page.locator("#harness .block").first).to_be_visible()
    return page.evaluate(GEOMETRY)


@pytest.mark.parametrize(
    "where", ["lantern-carousel/wiring", "cider-stirrer/wiring", "puppet-stage/wiring?drive=d1", "snow-fan/wiring"]
)
def test_the_harness_is_true_to_what_it_draws(page: Page, where: str) -> None:
    """No two labels overlap, no two blocks, and every wire begins and ends on a pin."""
    found = drawn(page, where)
    for (one, *a), (other, *b) in combinations(found["labels"], 2):
        apart = a[2] <= b[0] + 0.5 or b[2] <= a[0] + 0.5 or a[3] <= b[1] + 1.5 or b[3] <= a[1] + 1.5
        assert apart, f"{one} over {other}"
    for a, b in combinations(found["blocks"], 2):
        assert a[2] <= b[0] or b[2] <= a[0] or a[3] <= b[1] or b[3] <= a[1]
    for wire in found["ends"]:
        for x, y in wire:
            assert any(abs(x - px) < 1.5 and abs(y - py) < 1.5 for px, py in found["pins"]), (x, y)


def test_what_is_left_out_is_told_and_taken_in_again(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/wiring")
    expect(page.locator("#harness .block")).to_have_count(8)
    page.get_by_role("button", name="Omit ground to 8-bit, 16 MHz, three timers GND").click()
    expect(page.locator(".check-stop").first).to_contain_text("One common ground")
    expect(page.locator(".check-stop")).to_contain_text(["Every signal has its ground at both ends"])
    page.get_by_role("button", name="Take in ground to 8-bit, 16 MHz, three timers GND").click()
    expect(page.locator(".check-stop")).to_have_count(0)


def test_pins_are_fixed_and_a_conflict_has_its_ways_out(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/wiring")
    page.get_by_role("tab", name="Pins").click()
    page.get_by_label("Pin of ENC A").select_option(label="D3 (program 3), carries ENC B")
    expect(page.locator(".row-open")).to_contain_text(["also carries"])
    page.get_by_role("button", name="Look for ways out").click()
    way = page.get_by_role("button", name="Let the pins of Carousel be found")
    expect(page.get_by_role("region", name="Ways out")).to_contain_text("all have a place then")
    way.click()
    expect(page.locator(".row-open")).to_have_count(0)


def test_ticks_are_kept_and_start_empty(page: Page, puppets: str) -> None:
    page.goto(f"/b/{puppets}/wiring?drive=d1")
    expect(page.get_by_text("0 of 45 wires of the build are ticked as made.")).to_be_visible()
    tick = page.get_by_role("checkbox", name="Supply from 18 V adaptor + to Fuse 4 A in is made")
    tick.focus()
    page.keyboard.press("Space")
    expect(page.get_by_text("1 of 45 wires of the build are ticked as made.")).to_be_visible()
    page.get_by_role("tab", name="Assembly").click()
    page.get_by_role("checkbox", name="Resistors, lying flat: done").check()
    expect(page.locator(".sheet")).to_have_attribute("aria-busy", "false")
    page.reload()
    expect(page.get_by_text("1 of 45 wires of the build are ticked as made.")).to_be_visible()
    page.get_by_role("tab", name="Assembly").click()
    expect(page.get_by_role("checkbox", name="Resistors, lying flat: done")).to_be_checked()


def test_a_row_in_hand_shows_its_net(page: Page, carousel: str) -> None:
    """By key as by mouse: the wires of its net stand out, the others grow pale."""
    page.goto(f"/b/{carousel}/wiring")
    expect(page.locator("#harness .block").first).to_be_visible()
    page.get_by_role("checkbox", name="PWM from 8-bit, 16 MHz, three timers D9").focus()
    expect(page.locator("#harness .wire-hot")).to_have_count(1)
    page.get_by_role("checkbox", name="Supply, fused from Fuse 5 A out to MOSFET bridge board, 5 A V+").focus()
    expect(page.locator("#harness .wire-hot")).to_have_count(3)


def test_the_tabs_go_by_arrow_keys(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/wiring")
    page.get_by_role("tab", name="Harness").focus()
    for name, words in (
        ("Pins", "In the program"),
        ("Assembly", "Tools and consumables"),
        ("Continuity", "Not joined: a short is what burns"),
        ("Parts", "All that has a price"),
    ):
        page.keyboard.press("ArrowRight")
        expect(page.get_by_role("tab", name=name)).to_be_focused()
        expect(page.get_by_role("tabpanel")).to_contain_text(words)


def kept(page: Page, button: str, at: Path) -> Path:
    with page.expect_download() as coming:
        page.get_by_role("button", name=button).click()
    coming.value.save_as(at)
    return at


def test_files_of_the_sheet(page: Page, carousel: str, tmp_path: Path) -> None:
    page.goto(f"/b/{carousel}/wiring")
    expect(page.locator("#harness .block").first).to_be_visible()
    assert kept(page, "Keep as SVG", tmp_path / "h.svg").read_text("utf-8").startswith("<svg")
    assert kept(page, "Keep as PNG", tmp_path / "h.png").read_bytes()[:4] == b"\x89PNG"
    rows = list(csv.DictReader(io.StringIO(kept(page, "Export the netlist as CSV", tmp_path / "n.csv").read_text())))
    assert {"part", "pin", "net", "current_a", "track_width_mm"} <= set(rows[0])
    page.get_by_role("tab", name="Parts").click()
    assert "MOSFET bridge board" in kept(page, "Export CSV", tmp_path / "b.csv").read_text("utf-8")


def test_print_hides_nothing(page: Page, carousel: str) -> None:
    """On paper all five lists follow one another, each with the build's name, its board and the date."""
    page.goto(f"/b/{carousel}/wiring")
    rows = page.get_by_role("table", name="Connections").locator("tbody tr")
    expect(rows).to_have_count(18)
    page.emulate_media(media="print")
    expect(page.locator(".print-page")).to_have_count(5)
    expect(page.locator("#harness")).to_be_visible()
    expect(rows).to_have_count(18)
    heads = page.locator(".print-head")
    for place, name in enumerate(("harness", "pins", "assembly", "continuity", "parts")):
        expect(heads.nth(place)).to_contain_text(f"Lantern carousel (copy), board 1.1: {name}.")
    for caption in ("Controller pins", "Joined from end to end", "Bill of materials"):
        expect(page.get_by_role("table", name=caption)).to_be_visible()
    assert page.pdf(format="A4")[:4] == b"%PDF" and page.pdf(format="Letter")[:4] == b"%PDF"


@pytest.mark.parametrize("tab", ["Harness", "Pins", "Assembly", "Continuity", "Parts"])
def test_it_fits_a_phone(page: Page, puppets: str, tab: str) -> None:
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"/b/{puppets}/wiring?drive=d1")
    page.get_by_role("tab", name=tab).click()
    widest = page.evaluate(
        "Math.max(document.documentElement.scrollWidth, document.querySelector('.sheet').scrollWidth)"
    )
    assert widest <= 390


def test_a_kits_list_is_put_in_order_and_a_wrong_line_is_told(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/wiring")
    page.get_by_role("tab", name="Assembly").click()
    kit = page.get_by_role("region", name="A kit")
    field = kit.get_by_label("Its list of parts, a line for each value")
    field.fill("R1: tall")
    kit.get_by_role("button", name="Put it in order").click()
    expect(kit).to_contain_text("R1: tall")
    expect(field).to_have_value("R1: tall")
    field.fill("Q1: small\nR1, R2: 4k7")
    kit.get_by_role("button", name="Put it in order").click()
    expect(kit.locator("h4")).to_contain_text(["Look at the bare board", "Resistors, lying flat", "Transistors"])
    expect(kit.get_by_role("img", name="yellow, violet, red, gold").first).to_be_visible()


def test_a_bench_step_marks_its_probes_and_can_be_skipped_with_a_reason(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/bench")
    steps = page.get_by_role("list", name="Test sheet")
    steps.get_by_role("button", name="PWM duty, half commanded").click()
    expect(page.locator(".step-line")).to_have_text(
        [re.compile(rf"^{line}~\w\w$") for line in ("clear", "duty 1 500", "duty 1 0")]
    )
    expect(page.locator("#harness .probe")).to_have_count(2)
    steps.get_by_role("button", name="No short from supply").click()
    page.get_by_label("Skip it, because").fill("measured before it was boxed")
    page.get_by_role("button", name="Skip", exact=True).click()
    expect(steps.get_by_role("button", name="No short from supply")).to_contain_text("skipped")
    page.keyboard.press("Alt+-")
    expect(page.locator(".entry-note").first).to_contain_text(
        "Skipped: No short from supply to ground. measured before"
    )


def test_a_reading_that_is_wrong_says_what_it_most_likely_means(page: Page, carousel: str) -> None:
    page.goto(f"/b/{carousel}/bench")
    page.get_by_role("list", name="Test sheet").get_by_role("button", name="No short from supply").click()
    page.get_by_label("Reading", exact=True).fill("0.3")
    page.get_by_role("button", name="Keep", exact=True).click()
    expect(page.locator(".step-said")).to_contain_text("Not right: it should lie at least 500 Ω. Most likely: A bridge")


def test_a_board_of_ones_own_is_laid_out_and_seen_from_below(page: Page, address: str) -> None:
    """Its legs from above and below stand mirrored, each on a hole; the tables name every part; a change is told."""
    made = ask(address, "/api/builds/puppet-stage/duplicate", {})["id"]
    page.goto(f"/b/{made}/wiring?drive=d1")
    page.get_by_role("tab", name="Board").click()
    page.get_by_role("radio", name="Relay pair for direction of your own").click()
    page.get_by_role("button", name="Lay it out").click()
    board = page.get_by_role("region", name="Drawing of the board")
    expect(board).to_be_visible()
    places = page.get_by_role("table", name="Places, the lowest part first")
    expect(places).to_contain_text("Gate resistor low")
    expect(places.get_by_role("row", name=re.compile("^K1 "))).to_contain_text("widen the holes of")
    legs = (
        "() => [...document.querySelectorAll('.board .leg')].map(c => [+c.getAttribute('cx'), +c.getAttribute('cy')])"
    )
    above = page.evaluate(legs)
    page.get_by_role("radio", name="From below, mirrored").click()
    below = page.evaluate(legs)
    width = page.evaluate("() => document.querySelector('.board').viewBox.baseVal.width")
    assert above and below == [[width - x, y] for x, y in above]
    assert all(x % 20 == 10 and y % 20 == 10 for x, y in above)
    page.get_by_role("button", name="Gate supply", exact=True).focus()
    expect(page.locator(".board .track.joint-hot, .board .link.joint-hot")).not_to_have_count(0)
    with page.expect_download() as kept:
        page.get_by_role("button", name="Keep as SVG").click()
    assert "<svg" in Path(kept.value.path()).read_text()
    field = page.locator('[data-path="units.u1.stage.board.width"] input')
    field.fill("40 mm")
    expect(page.get_by_text("The build has changed since: lay it out anew.")).to_be_visible()
    page.get_by_role("button", name="Lay it out anew").click()
    expect(page.get_by_text("It does not fit what is given")).to_be_visible()


def test_what_a_wire_is_like_is_drawn(page: Page, carousel: str, address: str) -> None:
    """Thick wire is thick, a connector is a square at either end, a twisted lead has its wave; none of it unasked."""
    page.goto(f"/b/{carousel}/wiring")
    expect(page.locator("#harness .block").first).to_be_visible()
    assert page.locator(".wire-marks rect, .wire-marks path").count() == 0
    told: Any = ask(address, f"/api/builds/{carousel}")
    wiring = told["build"]["drives"][0]["wiring"]
    wiring["laid"], wiring["motor_run"]["ends"], wiring["motor_run"]["keyed"] = "twisted", "plug", "no"
    ask(address, f"/api/builds/{carousel}", {"version": told["version"], "build": told["build"]}, "PUT")
    page.reload()
    expect(page.locator(".wire-marks .plug-turns")).to_have_count(4)
    expect(page.locator(".wire-marks .laid-twisted")).to_have_count(4)
    expect(page.get_by_text("a connector that can be turned round")).to_be_visible()
    widths = page.evaluate(
        "() => [...document.querySelectorAll('#harness .wire')].map(w => parseFloat(w.style.strokeWidth))"
    )
    assert max(widths) > 1.2 * min(widths)
