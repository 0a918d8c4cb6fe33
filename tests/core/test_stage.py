"""A discrete stage: every circuit, every check, what it moves with, its map, its bill."""

from __future__ import annotations

import csv
import io
import itertools
from functools import cache
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.kit import changed, codes, finding, given_at, staged
from zinc_whistle.core.algebra.doubt import basis_of
from zinc_whistle.core.algebra.quantities import notation
from zinc_whistle.core.algebra.units import UNITS
from zinc_whistle.core.assess import Assessment, assess
from zinc_whistle.core.cases import materials
from zinc_whistle.core.design import heatmap
from zinc_whistle.core.model.build import Build
from zinc_whistle.core.model.driver import PART_KINDS, DriverPart
from zinc_whistle.core.model.stage import CIRCUITS, DIODE_CIRCUITS, slots
from zinc_whistle.core.stations.power_stage.circuits import CIRCUIT_STATES, PART_CIRCUITS, as_fitted
from zinc_whistle.demo.data import cider_stirrer, lantern_carousel, puppet_stage, sample_parts
from zinc_whistle.sheets.sheet import reply

DECAYS = ("slow", "fast", "locked anti-phase")
TWO_WAY = ("full bridge", "p/n bridge", "relay pair", "modules")


def carousel_with(circuit: str, decay: str = "slow", **more: Any) -> Build:
    build = staged(lantern_carousel(), circuit, **more)
    build.drives[0].signals.decay = decay
    build.drives[0].signals.reversal = "one way"
    return build


def stage_of(done: Assessment) -> Any:
    return done.drives["d1"].discrete


@pytest.mark.parametrize(("circuit", "decay"), list(itertools.product(CIRCUITS, DECAYS)))
def test_every_circuit_is_worked_out_whole_and_shown(circuit: str, decay: str, shelf: list[DriverPart]) -> None:
    done = assess(carousel_with(circuit, decay), shelf)
    built = stage_of(done)
    assert built.spec.circuit == circuit
    for place in built.places:
        assert place.junction.value is not None
        assert place.heat.value >= 0
        assert place.allowed.value > 0
    heat = done.drives["d1"].chosen.heat
    assert heat.junction.value == pytest.approx(max(p.junction.value for p in built.places))
    assert heat.allowed_current.value == pytest.approx(min(p.allowed.value for p in built.places))
    assert heat.total.value == pytest.approx(sum(p.heat.value for p in built.places))
    shown = reply(done, "power_stage", "d1").sheet
    assert shown.picture.own and shown.picture.map is not None and shown.picture.circuit is not None
    assert not [f for f in done.findings if f.station == "power_stage" and f.unknown]


def test_a_stage_with_nothing_chosen_says_what_is_lacking(shelf: list[DriverPart]) -> None:
    build = lantern_carousel()
    build.units[0].made_of = "stage"
    done = assess(build, shelf)
    assert finding(done, "stage.switch").unknown
    assert "switch" in finding(done, "driver.heat").unknown.lower()
    for station in ("driver", "power_stage", "supply", "signals", "wiring", "bench"):
        assert reply(done, station, "d1").sheet.title
    assert not codes(done) & {"driver.heat", "driver.peak", "driver.continuous"}


@pytest.mark.parametrize("circuit", ["half bridge", "p/n bridge", "relay pair", "bipolar low side"])
def test_no_figure_moves_with_a_given_of_the_stage_that_it_does_not_name(circuit: str, shelf: list[DriverPart]) -> None:
    def made() -> Build:
        return carousel_with(
            circuit, guard="m-n60-8", heat_sink="s-bar-5", fuse="f-blade-5", shunt="5 mΩ", track_width="5 mm"
        )

    before = assess(made(), shelf)
    then = {k: f.value for k, f in before.figures.items()}
    named = cache(lambda id: basis_of(before.figures[id]))
    moved = 0
    for path in [p for p in before.bound.givens if p.startswith("units.u1.stage.")]:
        spot, ask = before.bound.givens[path], before.bound.asks[path]
        if spot.value is None:
            continue
        unit = UNITS[ask.unit]
        number = (spot.value - unit.offset) / unit.factor
        wanted = (number + (1.0 if ask.whole else max(abs(number) * 0.011, 1e-3))) * unit.factor + unit.offset
        if ask.refuse(wanted):
            wanted = (number - max(abs(number) * 0.011, 1e-3)) * unit.factor + unit.offset
        other = made()
        given_at(other, path).text = notation(wanted, ask.kind, ask.unit)
        after = assess(other, shelf)
        assert path not in after.bound.errors
        for id, figure in after.figures.items():
            if id in then and then[id] != figure.value:
                moved += 1
                assert path in named(id) or path in basis_of(figure), f"{id} moved with {path} and does not name it"
    assert moved > 50


CHOICES = {
    "units.u1.stage.circuit": list(CIRCUITS),
    "units.u1.stage.gates": ["each", "channel", "tied"],
    "units.u1.stage.driven_by": ["driver", "pin"],
    "units.u1.stage.gate_fed": ["own", "bus"],
    "units.u1.stage.gate_clamp": ["yes", "no"],
    "units.u1.stage.guard_clamp": ["yes", "no"],
    "units.u1.stage.track_layer": ["outer", "inner"],
    "schools.standoff": ["bus", "clamp", "twice"],
    "drives.d1.signals.decay": list(DECAYS),
}


@pytest.mark.parametrize("path", sorted(CHOICES))
def test_no_figure_moves_with_a_choice_that_it_does_not_name(path: str, shelf: list[DriverPart]) -> None:
    results = []
    for value in CHOICES[path]:
        build = carousel_with("full bridge", guard="m-n60-8", track_width="5 mm", parallel="2")
        build.supply.clamp_v.text = "20 V"
        *way, last = path.split(".")
        at: Any = build
        for step in way:
            at = next(i for i in at if i.id == step) if isinstance(at, list) else getattr(at, step)
        setattr(at, last, value)
        results.append(assess(build, shelf))
    for first, second in itertools.pairwise(results):
        for id, figure in second.figures.items():
            other = first.figures.get(id)
            if other is not None and other.value != figure.value:
                named = set(basis_of(figure)) | set(basis_of(other))
                assert path in named, f"{id} moved with {path} and does not name it"


WRONG: list[tuple[str, str, dict[str, Any], str]] = [
    ("stage.gate_high", "half bridge", {"gate_v": "24 V"}, "stop"),
    ("stage.gate_low", "half bridge", {"gate_v": "5 V"}, "warn"),
    ("stage.gate_on", "half bridge", {"gate_v": "3.9 V"}, "stop"),
    ("stage.fuse_start", "low side", {"fuse": "f-glass-05q"}, "warn"),
    ("stage.guard_gate", "low side", {"guard": "m-n30-25-s"}, "stop"),
    ("stage.upper", "p/n bridge", {"upper": "m-n60-8"}, "stop"),
    ("stage.channel", "low side", {"switch": "m-p55-20"}, "stop"),
    ("stage.switch", "low side", {"switch": "b-npn-1a"}, "stop"),
    ("stage.pull_down", "low side", {"pull_down": ""}, "stop"),
    ("stage.tied", "low side", {"parallel": "3", "gates": "tied"}, "warn"),
    ("stage.dead_time", "half bridge", {"dead_time": "20 ns"}, "stop"),
    ("stage.sides", "half bridge", {"gate_driver": "g-low-9a"}, "stop"),
    ("stage.boot", "full bridge", {"boot_capacitor": "10 nF"}, "stop"),
    ("stage.driver_high", "half bridge", {"gate_v": "19 V"}, "stop"),
    ("stage.driver_low", "low side", {"gate_v": "4 V"}, "stop"),
    ("stage.follower", "high side", {"gate_driver": "g-low-4a"}, "stop"),
    ("stage.base", "bipolar low side", {"base_resistor": "10 kΩ"}, "stop"),
    ("stage.diode_speed", "low side", {"diode": "d-rect-1"}, "stop"),
    ("stage.diode_mean", "low side", {"diode": "d-sig"}, "stop"),
    ("stage.pause", "relay pair", {"relay_pause": "10 ms"}, "stop"),
    ("stage.sink_room", "half bridge", {"parallel": "4", "heat_sink": "s-clip-21"}, "warn"),
    ("stage.shunt_heat", "low side", {"shunt": "20 Ω"}, "stop"),
    ("stage.sense_clamp", "low side", {"shunt": "0.5 Ω"}, "stop"),
    ("stage.track", "low side", {"track_width": "0.02 mm"}, "stop"),
    ("stage.capacitor_life", "low side", {"life_wanted": "5000000 h"}, "warn"),
]


@pytest.mark.parametrize(("code", "circuit", "more", "severity"), WRONG)
def test_each_check_finds_what_is_wrong_and_only_that(
    code: str, circuit: str, more: dict[str, Any], severity: str, shelf: list[DriverPart]
) -> None:
    sound = assess(carousel_with(circuit), shelf)
    bad = assess(carousel_with(circuit, **more), shelf)
    found = finding(bad, code)
    assert found.severity == severity
    assert found.todo
    assert found.where.startswith(("units.u1.stage.", "schools."))
    assert code not in codes(sound) | codes(sound, "warn")


def test_one_switch_cannot_do_locked_anti_phase(shelf: list[DriverPart]) -> None:
    assert "stage.decay" in codes(assess(carousel_with("low side", "locked anti-phase"), shelf))


@pytest.mark.parametrize(
    ("code", "circuit", "more"),
    [
        ("stage.guard_gate", "low side", {"guard": "m-n30-25-s"}),
        ("stage.upper_gate", "p/n bridge", {"upper": "m-p30-20", "gate_clamp": "no"}),
        ("stage.pull_down", "low side", {"pull_down": ""}),
        ("stage.tied", "low side", {"parallel": "3", "gates": "tied"}),
        ("stage.sense_clamp", "low side", {"shunt": "0.5 Ω"}),
    ],
)
def test_a_remedy_that_the_app_offers_mends_its_finding(
    code: str, circuit: str, more: dict[str, Any], shelf: list[DriverPart]
) -> None:
    """The guard's and the upper gate's limits are 12 V and 20 V here, and the supply is raised to cross them."""

    def made() -> Build:
        build = carousel_with(circuit, **more)
        build.supply.sources[0].full_v.text = "21 V"
        return build

    found = finding(assess(made(), shelf), code)
    remedy = found.remedy
    assert found.severity in ("stop", "warn") and remedy is not None
    mended = made()
    *way, last = remedy.path.split(".")
    at: Any = mended
    for step in way:
        at = next(i for i in at if i.id == step) if isinstance(at, list) else getattr(at, step)
    if isinstance(getattr(at, last), str):
        setattr(at, last, remedy.text)
    else:
        getattr(at, last).text = remedy.text
    if code == "stage.guard_gate":
        mended.units[0].stage.clamp_v.text = "10 V"
    assert finding(assess(mended, shelf), code).severity == "note"


def test_nothing_turns_and_the_guards_gate_is_past_its_limit(shelf: list[DriverPart]) -> None:
    """The board that dies on the bench although no motor turned: the supply against the gate, and nothing else."""
    build = staged(cider_stirrer(), "half bridge", guard="m-n75-11", guard_clamp="no", switch="m-n75-11")
    found = finding(assess(build, shelf), "stage.guard_gate")
    assert found.severity == "stop"
    assert found.stress.value == pytest.approx(42.0)
    assert found.limit.value == pytest.approx(20.0)


@settings(max_examples=16)
@given(st.sampled_from(sorted(CIRCUITS)), st.floats(0, 60), st.floats(0.5, 25))
def test_no_junction_cools_with_warmer_air(circuit: str, air: float, more: float) -> None:
    cool = stage_of(assess(changed(carousel_with(circuit), ambient__hot=f"{air:.4f}")))
    warm = stage_of(assess(changed(carousel_with(circuit), ambient__hot=f"{air + more:.4f}")))
    for a, b in zip(cool.places, warm.places, strict=True):
        if b.junction.value is not None:
            assert b.junction.value >= a.junction.value - 1e-9
            assert b.allowed.value <= a.allowed.value + 1e-9


@settings(max_examples=14)
@given(st.sampled_from(["low side", "half bridge", "full bridge", "p/n bridge", "relay pair"]), st.integers(1, 7))
def test_no_junction_cools_with_fewer_transistors(circuit: str, number: int) -> None:
    """A driver channel each: with a shared driver more gates are slower, which is another matter."""
    few = stage_of(assess(carousel_with(circuit, parallel=str(number), gates="channel")))
    many = stage_of(assess(carousel_with(circuit, parallel=str(number + 1), gates="channel")))
    conduction = [(a.conduction.value, b.conduction.value) for a, b in zip(few.places, many.places, strict=True)]
    assert all(b <= a + 1e-12 for a, b in conduction)
    if circuit not in ("low side", "relay pair"):
        assert all(b.junction.value <= a.junction.value + 1e-9 for a, b in zip(few.places, many.places, strict=True))


@settings(max_examples=14)
@given(st.sampled_from(sorted(CIRCUITS)), st.floats(1, 60), st.floats(1.3, 3))
def test_no_junction_cools_with_frequency(circuit: str, khz: float, times: float) -> None:
    low = assess(changed(carousel_with(circuit), drives__d1__signals__pwm_frequency=f"{khz:.4f} kHz"))
    high = assess(changed(carousel_with(circuit), drives__d1__signals__pwm_frequency=f"{khz * times:.4f} kHz"))
    if high.drives["d1"].context.plan.frequency.value < low.drives["d1"].context.plan.frequency.value:
        return
    for a, b in zip(stage_of(low).places, stage_of(high).places, strict=True):
        if circuit in DIODE_CIRCUITS:
            # Slower pulses heat by their ripple: only what is lost at the edges grows with the frequency.
            assert b.switching.value / b.current.value >= a.switching.value / a.current.value * (1 - 1e-9)
        elif b.junction.value is not None:
            assert b.junction.value >= a.junction.value - 1e-9


@pytest.mark.parametrize("circuit", ["low side", "half bridge", "full bridge", "p/n bridge", "modules", "relay pair"])
def test_the_map_is_the_figure_at_the_working_point(circuit: str, shelf: list[DriverPart]) -> None:
    """Drawn on a grid that runs through the working point exactly, map and figure are the same number."""
    done = assess(carousel_with(circuit, heat_sink="s-fin-12"), shelf)
    drive, built = done.drives["d1"], stage_of(done)
    around = built.around
    here = heatmap.bare(around)
    places = heatmap.stage_places(built, here)
    for place, figure in zip(places, built.places, strict=True):
        assert float(place.junction) == pytest.approx(figure.junction.value, rel=1e-9)
        assert float(place.heat) == pytest.approx(figure.heat.value, rel=1e-9)
    drawn = heatmap.of_stage(drive.context, built)
    assert drawn is not None
    assert drawn.junction_c.shape == (heatmap.ROWS, heatmap.COLUMNS)
    rising = np.diff(drawn.junction_c, axis=1)
    assert np.nanmin(rising) >= -1e-9, "more current never cools"
    assert np.nanmin(np.diff(drawn.junction_c, axis=0)) >= -1e-9, "more frequency never cools"
    row = int(np.argmin(np.abs(drawn.frequency_hz - drawn.working_hz)))
    if np.isfinite(drawn.limit_a[row]):
        allowed = drive.chosen.heat.allowed_current.value
        assert drawn.limit_a[row] == pytest.approx(allowed, rel=0.08), "rows lie a few per cent apart"


def test_a_map_says_where_it_runs_away(shelf: list[DriverPart]) -> None:
    done = assess(staged(lantern_carousel(), "low side", switch="m-n100-44"), shelf)
    drawn = heatmap.of_stage(done.drives["d1"].context, stage_of(done))
    assert drawn is not None
    for row, limit in zip(drawn.junction_c, drawn.limit_a, strict=True):
        gone = np.flatnonzero(np.isnan(row))
        if gone.size:
            assert np.isnan(row[gone[0] :]).all(), "once it runs away, more current does not bring it back"
            assert limit <= drawn.current_a[gone[0]]


def test_an_integrated_parts_map_agrees_with_its_junction(done: Assessment) -> None:
    drive = done.drives["d1"]
    drawn = heatmap.of_part(drive.context, drive.chosen)
    assert drawn is not None
    column = int(np.argmin(np.abs(drawn.current_a - drawn.working_a)))
    row = int(np.argmin(np.abs(drawn.frequency_hz - drawn.working_hz)))
    assert drawn.junction_c[row, column] == pytest.approx(drive.chosen.heat.junction.value, abs=2.0)


def test_the_current_allowed_over_the_air(shelf: list[DriverPart]) -> None:
    done = assess(carousel_with("half bridge", heat_sink="s-bar-2"), shelf)
    drive, built = done.drives["d1"], stage_of(done)
    found = heatmap.over_air(drive.context, built)
    assert found is not None and found.sink_a is not None
    assert (np.diff(found.free_a) <= 1e-9).all()
    assert (found.sink_a >= found.free_a).all(), "a heat sink never takes current away here"
    at_hot = np.interp(drive.context.build.ambient.hot.value, found.air_c, found.sink_a)
    assert at_hot == pytest.approx(drive.chosen.heat.allowed_current.value, rel=5e-3)


@pytest.mark.parametrize("circuit", sorted(CIRCUIT_STATES))
def test_the_states_of_a_circuit_hold_together(circuit: str) -> None:
    drawn = CIRCUIT_STATES[circuit]
    assert len({s.key for s in drawn.states}) == len(drawn.states)
    assert drawn.states[0].way[0] == "supply" and drawn.states[0].way[-1] == "ground"
    for state in drawn.states:
        assert set(state.diodes) <= set(state.way)
        assert state.words.endswith(".")
        if state.current == "none":
            assert not state.way
        elif "contact" in circuit and state.key == "change":
            assert not state.way, "an open contact"
        elif not state.forbidden:
            assert "motor" in state.way
        legs = {e.split(".")[0] for e in state.on if "." in e}
        both = any({f"{leg}.high", f"{leg}.low"} <= set(state.on) for leg in legs)
        assert both == (state.current == "shoot-through"), "both of a leg are on in the forbidden state alone"
    keys = {s.key for s in drawn.states}
    # A relay for each end rests shorted: it does not coast.
    assert ("coast" in keys) != (circuit == "contacts")
    brakes = circuit not in ("low side", "bipolar low side", "high side", "crossed relay", "reversing switch")
    assert ("brake" in keys) == (brakes and circuit != "single contact")
    if brakes and "contact" not in circuit:
        assert any(s.forbidden for s in drawn.states)


@pytest.mark.parametrize("circuit", sorted(CIRCUIT_STATES))
def test_a_circuit_is_drawn_as_it_is_fitted(circuit: str) -> None:
    """No diode: no state in which one carries. One across the motor: driven the other way it is the short."""
    bare = as_fitted(circuit, "none", inside=False)
    for state, sound in zip(bare.states, CIRCUIT_STATES[circuit].states, strict=True):
        assert not state.diodes
        assert state.forbidden == (sound.forbidden or bool(sound.diodes))
    across = {s.key: s for s in as_fitted(circuit, "motor", inside=False).states}
    for state in across.values():
        assert not state.diodes or "diode" in state.way
    if "back" in across:
        assert across["back"].forbidden and "motor" not in across["back"].way
        assert across["back"].way[0] == "supply" and across["back"].way[-1] == "ground"
    assert as_fitted(circuit, "none", inside=True) is CIRCUIT_STATES[circuit]


def test_a_diode_across_a_motor_that_a_bridge_reverses_is_a_short(shelf: list[DriverPart]) -> None:
    """Forward it blocks; back it conducts across the supply. The neighbour: the same diode where it turns one way."""
    build = carousel_with("full bridge")
    build.units[0].flyback = "motor"
    assert "stage.flyback" not in codes(assess(build, shelf))
    build.drives[0].signals.reversal = "through zero"
    found = finding(assess(build, shelf), "stage.flyback")
    assert found.severity == "stop" and "short" in found.todo
    assert found.remedy is not None and found.remedy.text == "none", "a MOSFET bridge has its own diodes"
    view = reply(assess(build, shelf), "power_stage", "d1").sheet.picture.circuit
    assert view is not None and view.diode == "motor" and view.inside
    assert next(s for s in view.states if s.key == "back").forbidden


def test_what_stands_round_the_switches_is_drawn(shelf: list[DriverPart]) -> None:
    build = carousel_with("half bridge", parallel="2", guard="m-n60-8", shunt="10 mΩ", off_resistor="4.7 Ω")
    view = reply(assess(build, shelf), "power_stage", "d1").sheet.picture.circuit
    assert view is not None and view.parallel == 2
    assert {"fuse", "guard", "capacitor", "shunt", "gate", "off", "driver", "pull-down"} <= set(view.fitted)
    bare = carousel_with("bipolar low side")
    bare.units[0].bulk_capacitance.text = ""
    view = reply(assess(bare, shelf), "power_stage", "d1").sheet.picture.circuit
    assert view is not None and "base" in view.fitted and "gate" not in view.fitted and "capacitor" not in view.fitted


def test_every_kind_of_part_has_a_circuit_inside() -> None:
    assert set(PART_CIRCUITS) == set(PART_KINDS)
    assert set(PART_CIRCUITS.values()) <= set(CIRCUIT_STATES)


@pytest.mark.parametrize(
    ("circuit", "more", "counts"),
    [
        ("half bridge", {"parallel": "3"}, {"switch": 6, "gate_driver": 1}),
        ("full bridge", {"parallel": "2"}, {"switch": 8, "gate_driver": 2}),
        ("full bridge", {"parallel": "2", "gates": "channel"}, {"switch": 8, "gate_driver": 4}),
        ("p/n bridge", {"parallel": "2"}, {"switch": 4, "upper": 4, "gate_driver": 4}),
        ("relay pair", {}, {"switch": 1, "relay": 2, "diode": 1, "gate_driver": 1}),
        ("modules", {}, {"switch": 2}),
        (
            "bipolar low side",
            {"heat_sink": "s-clip-21", "fuse": "f-blade-5"},
            {"switch": 1, "diode": 1, "heat_sink": 1, "fuse": 1},
        ),
    ],
)
def test_the_bill_counts_and_adds_up(
    circuit: str, more: dict[str, Any], counts: dict[str, int], shelf: list[DriverPart]
) -> None:
    build = carousel_with(circuit, board_price="12 €", delivery="4 €", pieces="8", **more)
    built = stage_of(assess(build, shelf))
    found = built.materials
    assert {x.slot: x.number for x in found.lines} == counts
    parts = sum(x.number * getattr(built.spec, x.slot).price.value for x in found.lines)
    assert found.price.value == pytest.approx(parts + 16 / 8)
    rows = list(csv.DictReader(io.StringIO(materials.to_csv(found, built.spec))))
    assert len(rows) == len(found.lines) + 3
    assert float(rows[-2]["price_eur"]) == pytest.approx(found.price.value, abs=0.006)
    assert float(rows[-1]["price_eur"]) == pytest.approx(8 * found.price.value, abs=0.05)


def test_slots_follow_the_circuit() -> None:
    for circuit in CIRCUITS:
        stage = carousel_with(circuit).units[0].stage
        assert ("relay" in slots(stage)) == (circuit in ("relay pair", "crossed relay"))
        assert ("upper" in slots(stage)) == (circuit == "p/n bridge")
        assert ("gate_driver" in slots(stage)) == (circuit not in ("bipolar low side", "modules"))


def test_the_demos_stages(shelf: list[DriverPart]) -> None:
    """The stirrer's three in parallel with two tight spots; the winch's one wrong choice, a stop."""
    stirrer = assess(cider_stirrer(), shelf)
    assert stage_of(stirrer).spec.parallel.value == 3
    tight = {x.code for x in stirrer.findings if x.station == "power_stage" and x.tight}
    assert tight == {"stage.gate_low", "stage.standoff"}
    assert not codes(stirrer)
    puppets = assess(puppet_stage(), shelf)
    assert {x.code for x in puppets.findings if x.severity == "stop"} == {"stage.flyback"}
    assert stage_of(puppets).spec.circuit == "relay pair"


def test_choosing_a_part_again_keeps_the_stage(shelf: list[DriverPart]) -> None:
    build = carousel_with("half bridge", parallel="3")
    build.units[0].made_of = "part"
    done = assess(build, sample_parts())
    assert stage_of(done) is None
    assert done.drives["d1"].chosen.part.id == lantern_carousel().units[0].part.id
    assert build.units[0].stage.parallel.text == "3", "nothing is lost"


def test_a_sense_chain_is_told_in_counts(shelf: list[DriverPart]) -> None:
    """2 mΩ, gain 20, ten bits over 5 V, by hand: 7.114 A are 58.3 counts; one count is 122 mA."""
    built = stage_of(assess(cider_stirrer(), shelf))
    found = {x.title: x.value for x in built.extras}
    assert found["Converter counts at work"] == pytest.approx(7.1137 * 2e-3 * 20 / 5 * 1024, rel=1e-4)
    assert found["Current of one count"] == pytest.approx(5 / 1024 / 20 / 2e-3)


@pytest.mark.parametrize(
    ("circuit", "crossed"),
    [
        (
            "low side",
            {"stage.standoff", "stage.diode_volts", "stage.fuse_volts", "stage.guard_volts", "stage.guard_gate"},
        ),
        ("half bridge", {"stage.standoff", "stage.driver_bus", "stage.fuse_volts", "stage.guard_volts"}),
        ("relay pair", {"stage.standoff", "stage.contact_volts", "stage.diode_volts"}),
        ("modules", {"stage.standoff", "driver.volts_high"}),
    ],
)
def test_a_supply_that_is_too_high_crosses_every_limit_of_volts(
    circuit: str, crossed: set[str], shelf: list[DriverPart]
) -> None:
    build = carousel_with(circuit, guard="m-n60-8", fuse="f-blade-15")
    assert not crossed & codes(assess(build, shelf))
    build.supply.sources[0].full_v.text = "120 V"
    assert crossed <= codes(assess(build, shelf))
