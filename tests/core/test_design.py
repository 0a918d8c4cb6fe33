"""Design for me: against brute force, with locks, and never with a stop."""

from __future__ import annotations

import itertools
from typing import Any, cast

import pytest

from tests.kit import components, staged
from zinc_whistle.core.assess import assess
from zinc_whistle.core.cases.operating import DriveContext
from zinc_whistle.core.design import search
from zinc_whistle.core.design.composing import composed, tried, worked
from zinc_whistle.core.design.search import GOALS, design, space_of
from zinc_whistle.core.design.sweep import Choice, Space, sweep
from zinc_whistle.core.model.build import Build
from zinc_whistle.core.model.component import Component
from zinc_whistle.core.model.components import HeatSink
from zinc_whistle.core.model.transistors import GateDriver, Mosfet
from zinc_whistle.demo.data import cider_stirrer, lantern_carousel, puppet_stage, snow_fan

NARROW = (16.5e3, 25e3, 40e3)


def context(build: Build) -> DriveContext:
    found: DriveContext = assess(build).drives["d1"].context
    return found


def small(*ids: str) -> list[Component]:
    return [components()[i] for i in ids]


SHELVES: dict[str, tuple[Any, list[str]]] = {
    "half bridge": (
        lambda: cider_stirrer(),
        ["m-n75-11", "m-n80-7", "m-n100-44", "m-n60-8", "g-half-1a", "g-half-0a2", "g-low-9a", "s-bar-5"],
    ),
    "full bridge": (
        lambda: one_way(staged(lantern_carousel(), "full bridge")),
        ["m-n55-22-ll", "m-n60-35-s", "m-n30-25-s", "g-half-4a", "g-pump-1a", "s-clip-21"],
    ),
    "low side": (
        lambda: one_way(staged(lantern_carousel(), "low side")),
        ["m-n55-22-ll", "m-n40-14-ll", "m-n60-35-s", "g-low-4a", "g-low-1a5", "s-fin-12"],
    ),
    "p/n bridge": (
        lambda: one_way(staged(lantern_carousel(), "p/n bridge")),
        ["m-n55-22-ll", "m-n60-8", "m-n60-35-s", "g-low-4a", "g-low-9a"],
    ),
}


def one_way(build: Build) -> Build:
    build.drives[0].signals.reversal = "one way"
    build.units[0].flyback = "rails"
    return build


def all_of(at: DriveContext, space: Space) -> list[tuple[Choice, bool, Any]]:
    """Every combination of a space, each worked out in full; the dead time and capacitor are those of the sweep."""
    made = []
    for slab in sweep(at, space):
        for place in range(slab.ok.size):
            choice = slab.choice(place)
            made.append((choice, bool(slab.ok.ravel()[place]), worked(at, choice)))
    return made


@pytest.mark.parametrize("circuit", SHELVES)
def test_the_search_finds_the_brute_force_optimum(circuit: str, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(search, "FREQUENCIES", NARROW)
    monkeypatch.setattr(search, "RESISTORS", (4.7, 22.0))
    monkeypatch.setattr(search, "PARALLEL", (1, 2, 3))
    make, ids = SHELVES[circuit]
    at, shelf = context(make()), small(*ids)
    found = design(at, shelf, search.ORDER)
    tried_all = all_of(at, space_of(at, shelf))
    assert found.looked_at == len(tried_all)
    passed = [made for _, _, (made, _) in tried_all if made is not None]
    assert passed, "the shelf of this test holds at least one stage"
    best = {name: d for d in found.designs for name in d.label.split(", ")}
    calm = [d for d in passed if d.utilisation <= 1] or passed
    assert best["cheapest"].price == pytest.approx(min(d.price for d in calm if d.price is not None))
    assert best["coolest"].heat_w == pytest.approx(min(d.heat_w for d in calm))
    for _, on_arrays, (made, stops) in tried_all:
        assert on_arrays == (made is not None), f"arrays and full working disagree: {[x.code for x in stops]}"


@pytest.mark.parametrize("circuit", SHELVES)
def test_arrays_and_full_working_give_the_same_scores(circuit: str, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(search, "FREQUENCIES", NARROW[:2])
    monkeypatch.setattr(search, "RESISTORS", (10.0,))
    monkeypatch.setattr(search, "PARALLEL", (1, 3))
    make, ids = SHELVES[circuit]
    at = context(make())
    for slab in sweep(at, space_of(at, small(*ids))):
        for place in [i for i in range(slab.ok.size) if slab.ok.ravel()[i]]:
            made, _ = worked(at, slab.choice(place))
            if made is not None:
                assert slab.price.ravel()[place] == pytest.approx(made.price)
                assert slab.heat.ravel()[place] == pytest.approx(made.heat_w, rel=1e-6)


@pytest.mark.parametrize("make", [cider_stirrer, lambda: SHELVES["full bridge"][0](), lambda: SHELVES["low side"][0]()])
def test_no_design_has_a_stop(make: Any) -> None:
    at = context(make())
    found = design(at, list(components().values()))
    assert found.designs
    prices = [d.price or 0.0 for d in found.designs]
    assert prices == sorted(prices)
    for made in found.designs:
        choice = Choice(
            cast(Component, made.stage.switch),
            int(made.stage.parallel.value or 1),
            made.stage.gate_driver,
            made.stage.gate_resistor.value or 0.0,
            made.stage.heat_sink,
            made.frequency_hz,
            (made.stage.dead_time.value or 0.0),
            made.stage.boot_capacitor.value or 0.0,
        )
        _, findings = tried(composed(at, choice))
        assert not [x.code for x in findings if x.severity == "stop"]
        assert all(t.used is not None and t.used >= 0.8 for t in made.tight)


@pytest.mark.parametrize(
    ("lock", "kept"),
    [
        ("switch", lambda d, s: d.stage.switch.id == s.switch.id),
        ("parallel", lambda d, s: d.stage.parallel.value == s.parallel.value),
        ("gate_driver", lambda d, s: d.stage.gate_driver.id == s.gate_driver.id),
        ("gate_resistor", lambda d, s: d.stage.gate_resistor.value == s.gate_resistor.value),
        ("frequency", lambda d, s: d.frequency_hz == 20e3),
        ("heat_sink", lambda d, s: d.stage.heat_sink is None and s.heat_sink is None),
    ],
)
def test_what_is_locked_stays(lock: str, kept: Any) -> None:
    at = context(cider_stirrer())
    found = design(at, list(components().values()), [lock])
    assert found.designs
    for made in found.designs:
        assert kept(made, at.unit.stage)


def test_quiet_leaves_out_what_people_hear() -> None:
    at, shelf = context(cider_stirrer()), list(components().values())
    assert min(space_of(at, shelf).frequencies) > 16e3
    loud = design(at, shelf, quiet=False)
    assert min(d.frequency_hz for d in loud.designs) < 16e3
    assert loud.looked_at > design(at, shelf).looked_at


def test_why_nothing_holds_is_said() -> None:
    puppets = context(puppet_stage())
    wrong = design(puppets, list(components().values()))
    assert not wrong.designs
    assert "Flyback diode before the reversing contacts" in wrong.reason
    weak = design(context(cider_stirrer()), small("m-n30-9-ll", "m-n40-4", "g-half-1a"))
    assert not weak.designs
    assert "Voltage of the switch" in weak.reason
    assert "no part of the class" in design(context(cider_stirrer()), small("s-bar-5")).reason
    lacking = context(staged(lantern_carousel(), "p/n bridge", upper=None))
    assert "upper switch" in design(lacking, list(components().values()), ["upper"]).reason
    none = [c for c in components().values() if not (isinstance(c, Mosfet) and c.channel == "P")]
    assert "no part for this place: upper switch" in design(lacking, none).reason


@pytest.mark.parametrize("circuit", ["modules", "bipolar low side"])
def test_modules_and_bipolar_transistors_are_searched_too(circuit: str) -> None:
    at = context(one_way(staged(lantern_carousel(), circuit)))
    found = design(at, list(components().values()), quiet=False)
    passed = [
        made
        for choice in search.listed(space_of(at, list(components().values()), quiet=False))
        if (made := worked(at, choice)[0]) is not None
    ]
    assert len(passed) == found.hold
    if passed:
        assert min(d.price for d in found.designs) == pytest.approx(min(d.price for d in passed))
    else:
        assert found.reason


def test_each_goal_orders_by_what_it_says() -> None:
    import numpy as np

    price, heat, use = np.array([3.0, 1.0, 2.0]), np.array([1.0, 3.0, 2.0]), np.array([0.5, 0.9, 0.2])
    first = {label: int(np.lexsort(key(price, heat, use))[0]) for label, key in GOALS}
    assert first == {"cheapest": 1, "coolest": 0, "most margin": 2, "best of all three": 2}


def test_a_space_holds_what_the_circuit_can_use() -> None:
    everything = list(components().values())
    space = space_of(context(cider_stirrer()), everything)
    assert all(isinstance(c, Mosfet) and c.channel == "N" for c in space.switches)
    assert all(isinstance(d, GateDriver) and d.sides != "low" for d in space.drivers)
    assert space.sinks[0] is None and all(isinstance(s, HeatSink) for s in space.sinks[1:])
    assert len(set(itertools.chain(space.frequencies))) == len(space.frequencies)


def test_a_gate_on_a_pin_or_on_a_timers_output_is_designed_for_too() -> None:
    """No gate driver's mismatch tells a dead time there, and none is needed. A timer circuit keeps its own pace."""
    for build in (staged(lantern_carousel(), "low side", driven_by="pin"), snow_fan()):
        found = design(context(build), list(components().values()))
        assert found.designs, found.reason
    pace = context(snow_fan()).plan.frequency.value
    assert {d.frequency_hz for d in found.designs} == {pace}


def test_what_is_on_or_off_is_designed_for_without_a_frequency() -> None:
    build = staged(lantern_carousel(), "low side", driven_by="pin")
    build.drives[0].signals.told_by = "level"
    found = design(context(build), list(components().values()))
    assert found.designs and {d.frequency_hz for d in found.designs} == {0.0}
