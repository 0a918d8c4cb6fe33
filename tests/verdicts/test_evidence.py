"""Over all builds: a verdict gets no better by knowing less, a remedy stops nothing else, margins go the right way.

The builds are the demos, the twenty-four of an experienced builder, and circuits of one's own.
"""

from __future__ import annotations

import random
from collections.abc import Callable, Iterator
from functools import cache, partial
from pathlib import Path

import pytest

from tests.kit import given_at, staged
from zinc_whistle.core.algebra.findings import Finding, Remedy
from zinc_whistle.core.algebra.quantities import show
from zinc_whistle.core.assess import Assessment, assess
from zinc_whistle.core.model.build import Build
from zinc_whistle.demo.data import cider_stirrer, lantern_carousel, puppet_stage

from .kit import SHELF, owner_of


def _read(path: Path) -> Build:
    return Build.model_validate_json(path.read_text("utf-8"))


def _staged(circuit: str) -> Build:
    return staged(lantern_carousel(), circuit)


FILES = sorted((Path(__file__).parent / "builds").glob("*.json"))
CIRCUITS = ("low side", "bipolar low side", "half bridge", "full bridge", "p/n bridge", "relay pair")
BUILDS: dict[str, Callable[[], Build]] = {
    "carousel": lantern_carousel,
    "stirrer": cider_stirrer,
    "puppets": puppet_stage,
    **{path.stem: partial(_read, path) for path in FILES},
    **{f"carousel, {circuit}": partial(_staged, circuit) for circuit in CIRCUITS},
}
EACH = 14
"""So many fields of each build are emptied."""
GOOD = ("holds", "tight")


@cache
def known(name: str) -> Assessment:
    return assess(BUILDS[name](), SHELF)


def by_place(done: Assessment) -> dict[tuple[str, str], Finding]:
    return {(f.drive, f.code): f for f in done.findings}


MEANS_ANOTHER = (
    ".segments.",  # an empty cell is "as at work"
    "signals.ramp_time",  # empty: the load's own time to speed
    "current_limit",  # empty: the part's continuous current
    "needs_v",  # empty: 80 % of the rated volts
    "blocked_a",  # empty: what it starts with
)
"""Fields whose emptiness is no missing knowledge but says something of its own."""


OF_TWO_FIGURES = "motor.sheet_"
"""That figures of a sheet contradict each other: without one of them nothing contradicts the other."""


@pytest.mark.parametrize("name", BUILDS)
def test_knowing_less_makes_no_verdict_better(name: str) -> None:
    """What is exceeded or not known does not hold because a field was emptied."""
    before = by_place(known(name))
    dice = random.Random(name)
    paths = [p for p, g in sorted(known(name).bound.givens.items()) if g.value is not None]
    paths = [p for p in paths if not any(x in p for x in MEANS_ANOTHER)]
    wrong = []
    for path in dice.sample(paths, min(EACH, len(paths))):
        build = BUILDS[name]()
        given_at(build, path).text = ""
        for place, now in by_place(assess(build, SHELF)).items():
            was = before.get(place) if not place[1].startswith(OF_TWO_FIGURES) else None
            if was is not None and was.verdict not in GOOD and now.verdict in GOOD:
                wrong.append(f"{place}: {was.verdict} became {now.verdict} without {path}")
    assert not wrong, "\n".join(wrong)


def taken(build: Build, remedy: Remedy) -> Build:
    """A build with a remedy applied as its button does."""
    owner, last = owner_of(build, remedy.path)
    held = getattr(owner, last)
    if hasattr(held, "text"):
        held.text = remedy.text
    else:
        setattr(owner, last, remedy.text)
    return Build.model_validate(build.model_dump())


def offered() -> Iterator[tuple[str, Finding]]:
    for name in BUILDS:
        for f in known(name).findings:
            if f.remedy is not None and f.severity in ("stop", "warn"):
                yield name, f


@pytest.mark.parametrize(("name", "failed"), [pytest.param(n, f, id=f"{n}: {f.code}") for n, f in offered()])
def test_a_remedy_mends_what_it_is_offered_for_and_stops_nothing_else(name: str, failed: Finding) -> None:
    assert failed.remedy is not None
    done = assess(taken(BUILDS[name](), failed.remedy), SHELF)
    after, before = by_place(done), by_place(known(name))
    again = after.get((failed.drive, failed.code)) if failed.code not in LIVED_WITH else None
    assert again is None or again.verdict in GOOD, f"{again.verdict} still: {again.todo}"
    new = [place for place, f in after.items() if f.severity == "stop" and before.get(place, f).severity != "stop"]
    new += [place for place, f in after.items() if f.severity == "stop" and place not in before]
    assert not new, f"{failed.remedy.label} stops {new}"


LIVED_WITH = {"signals.window"}
"""There is no frequency at which all is well: what is offered says itself what one has to live with then."""


def used(build: Build, code: str) -> float | None:
    return next((f.used for f in assess(build, SHELF).findings if f.code == code), None)


MARGINS = (
    # The margin's check, the field, its worse and its better text.
    ("wiring.supply_density", "units.u1.supply_run.gauge", "1 mm", "2 mm"),
    ("wiring.motor_density", "drives.d1.wiring.motor_run.gauge", "1 mm", "2 mm"),
    ("wiring.supply_drop", "units.u1.supply_run.length", "2 m", "1 m"),
    ("driver.heat", "ambient.hot", "45 °C", "35 °C"),
    ("motor.heat", "ambient.hot", "45 °C", "35 °C"),
    ("driver.heat", "units.u1.warmer", "15 K", "0 K"),
    ("driver.peak", "units.u1.part.peak_a", "20 A", "25 A"),
    ("driver.continuous", "units.u1.part.continuous_a", "5 A", "8 A"),
    ("driver.volts_absolute", "units.u1.part.v_absolute", "30 V", "40 V"),
    ("driver.heat", "units.u1.stage.heat_sink.to_air", "4 K/W", "2 K/W"),
    ("stage.diode_mean", "units.u1.stage.diode.forward_a", "8 A", "16 A"),
    ("stage.fuse", "units.u1.stage.fuse.rated_a", "15 A", "30 A"),
    ("stage.capacitor_volts", "units.u1.bulk_voltage", "50 V", "63 V"),
    ("load.gear", "drives.d1.load.gear_torque_limit", "2 N·m", "4 N·m"),
    ("load.starting_current", "drives.d1.load.time_to_speed", "1 s", "2 s"),
)


@pytest.mark.parametrize(("code", "path", "worse", "better"), MARGINS, ids=[f"{m[0]} by {m[1]}" for m in MARGINS])
def test_a_margin_grows_with_what_makes_it(code: str, path: str, worse: str, better: str) -> None:
    """Thicker wire for its own heat, cooler air and larger sinks for a junction, a higher rating for its own limit."""
    compared = 0
    for name in BUILDS:
        if not any(f.code == code for f in known(name).findings):
            continue
        uses = []
        for text in (worse, better):
            build = BUILDS[name]()
            try:
                given_at(build, path).text = text
            except (AttributeError, StopIteration, KeyError, ValueError):
                break
            uses.append(used(build, code))
        if len(uses) == 2 and None not in uses:
            compared += 1
            assert uses[1] <= uses[0] * (1 + 1e-9), f"{name}: {uses}"
    assert compared, "on no build"


@pytest.mark.parametrize("name", BUILDS)
def test_what_is_shown_can_be_read(name: str) -> None:
    """Every figure that a finding holds against a limit is finite, of a size that a builder can read in its unit, and
    what has no sign below nothing has none."""
    for f in known(name).findings:
        assert f.used is None or 0 <= f.used < 1e6, f"{f.code}: {f.used}"
        for node in (f.stress, f.limit):
            value = getattr(node, "value", None)
            if node is None or value is None:
                continue
            shown, _ = show(value, node.kind.name)
            assert abs(float(shown.replace("\u202f", "").replace(" ", "").replace(",", ""))) < 1e6, f"{f.code}: {shown}"
            if node.kind.name not in ("temperature", "temperature difference", "current", "torque", "force", "number"):
                assert value >= 0 or f.verdict == "exceeded", f"{f.code}: {value} {node.kind.name}"
