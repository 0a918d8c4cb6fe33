"""Speed of what a builder waits for, against the aims. Figures, not tests: rerun by hand."""

from __future__ import annotations

import argparse
import gzip
import json
import statistics
import sys
import tempfile
import time
import urllib.request
import warnings
from collections.abc import Callable
from dataclasses import replace
from functools import partial
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
sys.path[:0] = [str(ROOT / "src"), str(ROOT)]

import numpy as np
from benchmarks.keystrokes import keystrokes
from benchmarks.loops import loops
from benchmarks.stand_ins import stand_ins
from benchmarks.waves import waves
from benchmarks.wiring import wiring
from scipy.integrate import solve_ivp
from tests.browser.service import browser, service

from zinc_whistle.core.algebra.doubt import doubt_of
from zinc_whistle.core.algebra.nodes import Leaf
from zinc_whistle.core.algebra.units import KINDS
from zinc_whistle.core.assess import DrivenAssessment, MotorAssessment, assess
from zinc_whistle.core.captures import spinup, spinup_capture
from zinc_whistle.core.captures.table import read
from zinc_whistle.core.cases import stage
from zinc_whistle.core.cases.operating import Context
from zinc_whistle.core.cases.truth import truth_table
from zinc_whistle.core.design import gears as search
from zinc_whistle.core.design import heatmap, screen
from zinc_whistle.core.design import search as design_search
from zinc_whistle.core.design.sweep import Space, sweep
from zinc_whistle.core.laws.driver import stall_in_circuit
from zinc_whistle.core.model.build import bind_components, bind_parts, bound_parts
from zinc_whistle.core.model.panel import PanelSpec
from zinc_whistle.core.model.transistors import GateDriver, Mosfet
from zinc_whistle.core.panel.check import check
from zinc_whistle.core.panel.lines import lines_of
from zinc_whistle.core.panel.machine import Around, assemble
from zinc_whistle.core.panel.script import Actor, Guard, Order, Script
from zinc_whistle.core.panel.script_check import check_script
from zinc_whistle.core.simulation.engine import Engine, Phase
from zinc_whistle.core.simulation.plant import Mode, matrix
from zinc_whistle.core.simulation.scenario import plant_of, simulate
from zinc_whistle.core.stations.driver.candidates import evaluate
from zinc_whistle.demo.data import cider_stirrer, lantern_carousel, puppet_stage, sample_components, sample_parts
from zinc_whistle.demo.seed import seed
from zinc_whistle.store.store import Store


def best_ms(work: Callable[[], object], repeats: int = 30) -> float:
    """The median of some runs, in ms."""
    times = []
    for _ in range(repeats):
        start = time.perf_counter()
        work()
        times.append((time.perf_counter() - start) * 1e3)
    return statistics.median(times)


def yardstick_ms() -> float:
    """A million additions in pure Python, in ms."""
    return best_ms(lambda: sum(i for i in range(1_000_000)), 7)


def assessment() -> dict[str, float]:
    """The demo build worked out, and single figures."""
    build, parts = lantern_carousel(), bound_parts(sample_parts())
    assess(build, parts)
    volts, lost, ohms = (
        Leaf(n, n, KINDS[k], v, doubt=0.1)
        for n, k, v in (("a", "voltage", 12.0), ("b", "voltage", 0.2), ("c", "resistance", 2.0))
    )
    count = 2000
    traced = best_ms(lambda: [stall_in_circuit(volts, lost, lost, ohms) for _ in range(count)]) / count * 1e3
    doubted = best_ms(lambda: [doubt_of(stall_in_circuit(volts, lost, lost, ohms)) for _ in range(count)]) / count * 1e3
    return {
        "assessment of the demo build, ms (aim 20)": best_ms(lambda: assess(build, parts)),
        "assessment of the stirrer, ms": best_ms(lambda: assess(cider_stirrer(), parts)),
        "assessment of the puppet stage, ms": best_ms(lambda: assess(puppet_stage(), parts)),
        "the same with all parts of the shelf ranked, ms": best_ms(
            lambda: assess(build, parts).drives["d1"].candidates
        ),
        "one traced figure, µs": traced,
        "one figure with its doubt, µs": doubted,
    }


def first_answer(folder: Path) -> dict[str, float]:
    """From the command to the first answer, data file already there."""
    with service(folder / "demo.sqlite3"):
        pass
    start = time.perf_counter()
    with service(folder / "demo.sqlite3") as address:
        urllib.request.urlopen(f"{address}/api/builds").read()
        return {"start to first answer, s": time.perf_counter() - start}


def captures(folder: Path) -> dict[str, float]:
    """Reading 10⁶ rows × 3 columns, beside polars where it is installed, and the fit of 10⁵ rows."""
    random = np.random.default_rng(1)
    rows = 1_000_000
    table = np.column_stack([np.arange(rows) * 1e-5, random.normal(2, 0.3, rows), random.normal(12, 1, rows)])
    path = folder / "capture.csv"
    np.savetxt(path, table, fmt="%.6f", delimiter=",", header="time (s),current (A),voltage (V)", comments="")
    data = path.read_bytes()
    read(data)
    found = {"reading 10⁶ rows × 3 columns, ms": best_ms(lambda: read(data), 5)}
    try:
        import polars
    except ImportError:
        print("polars is not installed: pip install polars to see the ratio", file=sys.stderr)
    else:
        theirs = best_ms(lambda: polars.read_csv(data), 5)
        found["the same over polars (aim 2)"] = found["reading 10⁶ rows × 3 columns, ms"] / theirs
    truth = np.array([0.29, 3e-4, 0.0285, 6e-5, 0.03, 1.2e-5])
    volts = np.full(100_000, 36.0)
    volts[50_000:] = 18.0
    blank = np.zeros(len(volts))
    current, speed = spinup_capture.simulate(truth, spinup_capture.SpinUp(3e-6, volts, blank, blank))
    noisy, seen = current + random.normal(0, 0.3, len(volts)), speed + random.normal(0, 4, len(volts))
    capture = spinup_capture.prepare(np.arange(len(volts)) * 3e-6, noisy, volts=volts, speed=seen)
    found["fit of a 10⁵-row capture, ms (aim 1000)"] = best_ms(lambda: spinup.fit(capture), 5)
    return found


def gears() -> dict[str, float]:
    """500 motors × 50 ratios held against one load."""
    random = np.random.default_rng(2)
    motors = search.Motors(
        random.uniform(0.2, 5, 500),
        random.uniform(0.005, 0.1, 500),
        random.uniform(0.05, 1, 500),
        np.zeros(500),
        np.zeros(500),
        random.uniform(1e-7, 1e-4, 500),
        random.uniform(0.5, 8, 500),
    )
    ratios = list(np.geomspace(2, 300, 50))
    wanted = search.Wanted(0.5, 0.6, 0.2, 1.5, 1.0, 0.7, 10.8, 0.8)
    return {
        "500 motors × 50 ratios, searched and ranked, ms (aim 200)": best_ms(
            lambda: search.best(search.search(motors, ratios, wanted), 20)
        )
    }


def a_thousand_drivers() -> dict[str, float]:
    """A shelf of 1,000 drivers put in order, and its best worked out in full."""
    samples = bound_parts(sample_parts())
    shelf = []
    for i in range(1000):
        part = samples[i % len(samples)].model_copy(deep=True)
        part.id, part.name = f"p{i}", f"Part {i}"
        shelf.append(part)
    bind_parts(shelf)
    drive = assess(lantern_carousel(), samples).drives["d1"]
    assert isinstance(drive, DrivenAssessment) and isinstance(drive.context, Context) and drive.chosen is not None
    at, chosen = drive.context, drive.chosen
    return {
        "1,000 drivers ranked, ms (aim 100)": best_ms(lambda: screen.order(at, shelf, chosen), 7),
        "one driver worked out in full, ms": best_ms(lambda: evaluate(at, samples[0]), 30),
    }


def discrete_stages() -> dict[str, float]:
    """The map at 120 × 80, the sweep over 300 transistors × 8 × 20, and the whole search over the samples."""
    drive = assess(cider_stirrer(), sample_parts()).drives["d1"]
    assert isinstance(drive, DrivenAssessment) and drive.discrete is not None
    at, built = drive.context, drive.discrete
    shelf = sample_components()
    bind_components(shelf)
    mosfets = [c for c in shelf if isinstance(c, Mosfet) and c.channel == "N"]
    many = tuple(mosfets[i % len(mosfets)] for i in range(300))
    driver = next(c for c in shelf if isinstance(c, GateDriver) and c.sides == "half bridge")
    space = Space(many, tuple(range(1, 9)), (driver,), (10.0,), (None,), design_search.FREQUENCIES)
    return {
        "map at 120 × 80, ms (aim 50)": best_ms(lambda: heatmap.of_stage(at, built, 120, 80), 15),
        "300 transistors × 8 × 20 frequencies swept, ms (aim 1000)": best_ms(lambda: list(sweep(at, space)), 5),
        "design for me over the samples, ms": best_ms(lambda: design_search.design(at, shelf), 3),
        "one stage worked out in full, ms": best_ms(lambda: stage.evaluate(at), 15),
    }


def simulation() -> dict[str, float]:
    """A second of 20 kHz, every pulse, beside an integration of the same second's first hundredth at equal accuracy."""
    drive = assess(lantern_carousel(), sample_parts()).drives["d1"]
    assert isinstance(drive, MotorAssessment)
    plant = replace(plant_of(drive.context, drive.circuit)[0], fixed_drop_v=0.0)
    engine, a_second = Engine(plant), Phase(20000, 50e-6, 0.6, "forward", "short")
    ours = best_ms(lambda: engine.run([a_second]), 15)
    mode = {
        path: Mode(swing=swing, drop_v=0.0, flows=1, open=False, source=True, clamp=False, motion=1)
        for path, swing in (("forward", 1.0), ("short", 0.0))
    }
    matrices = {path: matrix(plant, m) for path, m in mode.items()}

    def integrated() -> None:
        x = engine.rest()
        for _ in range(200):
            for path, length in (("forward", 30e-6), ("short", 20e-6)):
                a = matrices[path]
                x = solve_ivp(lambda t, y, a=a: a @ y, (0, length), x, "DOP853", rtol=1e-10, atol=1e-13).y[:, -1]

    theirs = best_ms(integrated, 3) * 100
    return {
        "1 s of 20 kHz, every pulse, ms (aim 20)": ours,
        "solve_ivp over the same, scaled from 10 ms (aim 500)": theirs / ours,
        "start of the stirrer, averaged, ms": best_ms(lambda: _start(), 3),
        "soft start of the carousel, every pulse, ms": best_ms(
            lambda: simulate(drive.context, drive.circuit, "start", averaged=False), 3
        ),
    }


def _start() -> None:
    drive = assess(cider_stirrer(), sample_parts()).drives["d1"]
    assert isinstance(drive, MotorAssessment)
    simulate(drive.context, drive.circuit, "start", averaged=True)


def panels() -> dict[str, float]:
    """The exhaustive check of the largest panel there is: every choice that adds an input."""
    spec = PanelSpec(
        command="touch",
        speed_by="knob",
        limits="both",
        homing="back",
        moves="yes",
        stop_input="closed",
        fault_input="low",
        watch="yes",
    )
    full = spec.model_copy(
        update={"command": "hold", "touch_too": "yes", "trip": "yes", "moves": "relative", "homing": "none"}
    )
    figures = {}
    for one in (spec, full):
        machine, lines = assemble(one, Around(locked=True)), lines_of(truth_table("coil and pwm", "slow"))
        found = check(machine, one, lines)
        name = f"check of the largest panel, {found.states} states × {found.inputs:,} inputs, ms (aim 1000)"
        figures[name] = best_ms(partial(check, machine, one, lines), 3)
    script = _largest_script()
    played = check_script(script)
    name = f"check of a sequence of six drives, {played.states} states, ms (aim 2000)"
    return figures | {name: best_ms(partial(check_script, script), 3)}


def _largest_script() -> Script:
    """Three gates and three bolts, opened and shut one after the other, each gate behind its bolt."""
    actors, orders, guards = dict[str, Actor](), list[Order](), list[Guard]()
    for k in range(3):
        gate, bolt = f"gate {k}", f"bolt {k}"
        actors |= {gate: Actor(gate, gate, "motor", front=True, back=True), bolt: Actor(bolt, bolt, "load")}
        guards.append(Guard(gate, "on", bolt))
        orders += [Order(bolt, "on", "time", ms=300), Order(gate, "forward", "limit"), Order(bolt, "off", "at once")]
    for k in reversed(range(3)):
        gate, bolt = f"gate {k}", f"bolt {k}"
        orders += [Order(bolt, "on", "time", ms=300), Order(gate, "back", "limit"), Order(bolt, "off", "at once")]
    return Script("s", "All gates", True, actors, tuple(orders), tuple(guards))


MEASURE = """async ([find, label, values]) => {
  const input = eval(find);
  const text = () => document.querySelector(label).textContent;
  const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set;
  const times = [];
  for (const value of values) {
    const before = text();
    const start = performance.now();
    set.call(input, value);
    input.dispatchEvent(new Event('input', {bubbles: true}));
    await new Promise(done => {
      const look = () => text() !== before ? requestAnimationFrame(() => done()) : requestAnimationFrame(look);
      requestAnimationFrame(look);
    });
    times.push(performance.now() - start);
  }
  return times;
}"""
TYPED = (
    """document.querySelector('[data-path="drives.d1.motor.no_load_a"] input')""",
    ".follows .figures",
    [f"{0.2 + 0.01 * (k % 20 + 1) + (0.003 if k >= 20 else 0):.3f} A" for k in range(60)],
)
SLID = (
    """[...document.querySelectorAll('.simulation input[type=range]')].find(i => i.min === '2')""",
    ".run-figures",
    [str(40 + k % 2 * 20 + k // 2) for k in range(50)],
)


def in_the_browser(folder: Path) -> dict[str, float]:
    """First load over the wire, and key to new picture at the 95th percentile."""
    with service(folder / "demo.sqlite3") as address, browser() as chrome:
        page = chrome.new_page(viewport={"width": 1280, "height": 800})
        session = page.context.new_cdp_session(page)
        session.send("Network.enable")
        sizes: list[float] = []
        session.on("Network.loadingFinished", lambda e: sizes.append(e["encodedDataLength"]))
        page.goto(f"{address}/b/lantern-carousel/motor")
        page.wait_for_selector(".plot svg")
        page.wait_for_load_state("networkidle")
        first_load = sum(sizes) / 1e3
        page.evaluate("() => { const h = document.querySelectorAll('.figure-value'); return h.length; }")
        times = sorted(page.evaluate(MEASURE, list(TYPED)))
        page.goto(f"{address}/b/lantern-carousel/signals")
        page.get_by_role("tab", name="In time").click()
        page.get_by_label("Scenario").select_option(label="Start at full duty at once")
        page.get_by_role("button", name="Run", exact=True).click()
        page.wait_for_selector(".run-figures")
        page.wait_for_load_state("networkidle")
        slid = sorted(page.evaluate(MEASURE, list(SLID)))
    return {
        "first load over the wire, kB (aim 400)": first_load,
        "key to new figures and picture, median ms": statistics.median(times),
        "key to new figures and picture, 95th percentile ms (aim 100)": times[int(len(times) * 0.95) - 1],
        "slider to new waveform, median ms": statistics.median(slid),
        "slider to new waveform, 95th percentile ms (aim 100)": slid[int(len(slid) * 0.95) - 1],
    }


OPEN_LOG = """async () => {
  const start = performance.now();
  document.querySelector('a[href*="/log"]').click();
  while (!document.querySelector('.entry')) await new Promise(requestAnimationFrame);
  await new Promise(requestAnimationFrame);
  return performance.now() - start;
}"""


def a_long_log(folder: Path) -> dict[str, float]:
    """A log of 5,000 entries: told by the store, and opened on the screen from another station."""
    store = Store(str(folder / "log.sqlite3"))
    seed(store)
    with store.database.change() as db:
        db.executemany(
            "INSERT INTO log_entries (id, build_id, text, written_at) VALUES (?, 'lantern-carousel', ?, ?)",
            [
                (f"n{k}", f"Entry {k}: greased, turned, listened to", f"2026-0{k % 9 + 1}-11T10:00:00Z")
                for k in range(5000)
            ],
        )
    told = best_ms(lambda: store.journal.log("lantern-carousel"), 5)
    store.close()
    opened = []
    with service(folder / "log.sqlite3") as address, browser() as chrome:
        page = chrome.new_page(viewport={"width": 1280, "height": 800})
        for _ in range(5):
            page.goto(f"{address}/b/lantern-carousel/motor")
            page.wait_for_selector(".plot svg")
            page.wait_for_load_state("networkidle")
            opened.append(page.evaluate(OPEN_LOG))
    return {
        "a log of 5,000 entries told, ms": told,
        "the same opened on the screen, median ms (aim 300)": statistics.median(opened),
    }


def main() -> None:
    """Run all and print."""
    warnings.simplefilter("error", RuntimeWarning)
    parser = argparse.ArgumentParser()
    parser.add_argument("--json", action="store_true")
    words = parser.parse_args()
    with tempfile.TemporaryDirectory() as folder:
        found = (
            {"yardstick, a million additions, ms": yardstick_ms()}
            | assessment()
            | gears()
            | a_thousand_drivers()
            | discrete_stages()
        )
        found |= panels() | loops() | stand_ins() | waves() | wiring() | simulation() | captures(Path(folder))
        found |= a_long_log(Path(folder)) | first_answer(Path(folder)) | in_the_browser(Path(folder))
        found |= keystrokes(Path(folder))
    scripts = [p for p in (ROOT / "web" / "dist" / "assets").glob("*.js") if not p.name.startswith("elk")]
    found["all scripts but the wiring layout, gzip kB"] = sum(len(gzip.compress(p.read_bytes())) for p in scripts) / 1e3
    if words.json:
        print(json.dumps(found, ensure_ascii=False, indent=1))
    else:
        for name, value in found.items():
            print(f"{value:10.2f}  {name}")


if __name__ == "__main__":
    main()
