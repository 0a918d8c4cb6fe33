"""What must hold for every build: no crash, no hidden dependency, monotony where physics has it."""

from __future__ import annotations

import itertools
from functools import cache
from typing import Any, get_args

import pytest
from hypothesis import Phase, given, settings
from hypothesis import strategies as st

from tests.kit import changed, given_at, worked
from zinc_whistle.core.algebra.doubt import basis_of, doubt_of
from zinc_whistle.core.algebra.findings import order
from zinc_whistle.core.algebra.quantities import notation
from zinc_whistle.core.algebra.units import UNITS
from zinc_whistle.core.assess import Assessment, assess, standing_basis
from zinc_whistle.core.model.build import Build, LoadDrive, bind_build
from zinc_whistle.core.model.driver import ONE_SWITCH, DriverPart
from zinc_whistle.core.model.load import MECHANISMS, Mechanism
from zinc_whistle.core.model.reading import Reading
from zinc_whistle.core.stations import IDS as STATIONS
from zinc_whistle.core.stations.bench.readings import judge
from zinc_whistle.demo.data import cider_stirrer, lantern_carousel, puppet_stage, sample_motors, sample_parts
from zinc_whistle.sheets.sheet import reply
from zinc_whistle.sheets.views import working_view

DEMOS = {"carousel": lantern_carousel, "stirrer": cider_stirrer, "puppets": puppet_stage}
PATHS = sorted(assess(lantern_carousel()).bound.givens)
EVERY = [
    (name, path)
    for name, make in DEMOS.items()
    for path in sorted(assess(make()).bound.givens)
    if ".stage." not in path  # test_stage.py does the same for discrete stages, circuit by circuit
]
TEXTS = st.one_of(
    st.text(max_size=12),
    st.sampled_from(
        ["0", "-1", "1e9", "1e-9", "1e308", "-0", "5 V", "3 A", "1,234", "0.5", "100 %", "4k7", "7 kg", "nan"]
    ),
)
MOTORS = sample_motors()
PIECES = {
    "drives.d1.signals.decay": ["slow", "fast", "locked anti-phase"],
    "drives.d1.signals.soft_start": ["yes", "no"],
    "drives.d1.signals.reversal": ["one way", "through zero", "slammed"],
    "drives.d1.signals.braking": ["coast", "brake"],
    "drives.d1.signals.alignment": ["edge", "centre"],
    "drives.d1.encoder.fitted": ["yes", "no"],
    "drives.d1.encoder.place": ["motor", "output"],
    "drives.d1.encoder.decoding": ["1", "2", "4"],
    "drives.d1.encoder.method": ["polling", "interrupt"],
    "drives.d1.loop.closed": ["yes", "no"],
    "schools.sizing": ["stall", "run and peak", "limited"],
    "units.u1.jam_stop": ["none", "fuse", "program", "driver limit"],
    "supply.sources.s1.sinks": ["yes", "no"],
    "supply.sources.s1.kind": ["battery", "adaptor", "usb"],
    "supply.sources.s1.chemistry": ["own", "lifepo4", "9 v block"],
    "supply.together": ["yes", "no"],
    "supply.motor_and_logic": ["shared", "split"],
    "supply.regulators.r1.kind": ["linear", "switching"],
    "drives.d1.motor.known_by": ["readings", "data sheet", "spin-up"],
    "drives.d1.motor.inductance_by": ["given", "time constant"],
    "drives.d1.motor.inertia_by": ["given", "time constant", "coast-down"],
}


def put(build: Build, path: str, value: Any) -> None:
    *way, last = path.split(".")
    at: Any = build
    for step in way:
        at = next(i for i in at if i.id == step) if isinstance(at, list) else getattr(at, step)
    setattr(at, last, value)


@settings(max_examples=150, phases=[Phase.explicit, Phase.generate])
@given(
    st.dictionaries(st.sampled_from(PATHS), TEXTS, max_size=12),
    st.fixed_dictionaries({}, optional={p: st.sampled_from(v) for p, v in PIECES.items()}),
    st.sets(st.sampled_from(["part", "controllers", "regulators", "sources", "locked", "unit"])),
    st.sampled_from([None, *sorted(MECHANISMS)]),
)
def test_assessment_never_raises_on_a_valid_build(
    texts: dict[str, str], choices: dict[str, str], gone: set[str], kind: str | None
) -> None:
    build = lantern_carousel()
    for path, text in texts.items():
        given_at(build, path).text = text
    for path, value in choices.items():
        put(build, path, value)
    if kind is not None:
        model = next(m for m in get_args(get_args(Mechanism)[0]) if m.model_fields["kind"].default == kind)
        build.drives[0].load.mechanisms.append(model(id="m9"))
    if "part" in gone:
        build.units[0].part = None
    if "controllers" in gone:
        build.controllers, build.drives[0].controller = [], ""
    if "regulators" in gone:
        build.supply.regulators = []
        for controller in build.controllers:
            controller.regulator = ""
    if "sources" in gone:
        build.supply.sources, build.units[0].source = [], ""
        for regulator in build.supply.regulators:
            regulator.source = ""
    if "locked" in gone:
        build.drives[0].motor.locked = []
    if "unit" in gone:
        build.drives[0].unit = ""
    done = assess(Build.model_validate(build.model_dump()), sample_parts())
    for station in ("build", *STATIONS):
        made = reply(done, station, "d1", (), MOTORS)
        assert made.sheet.title
    for figure in done.figures.values():
        assert figure.value is None or abs(figure.value) < float("inf")
        doubt_of(figure)
    assert sorted(done.findings, key=order) == done.findings


@cache
def demo_at_rest(demo: str) -> Assessment:
    """A demo as it ships; an assessment changes nothing, so that it may stand beside many others."""
    return assess(DEMOS[demo](), sample_parts())


def figures_of(done: Assessment) -> dict[str, float | None]:
    return {k: f.value for k, f in done.figures.items()}


@pytest.mark.parametrize(("demo", "path"), EVERY)
def test_no_figure_moves_that_does_not_name_the_given(demo: str, path: str, shelf: list[DriverPart]) -> None:
    """Change one given by a little: whatever moves must have it among the things it stands on."""
    before = demo_at_rest(demo)
    spot, ask = before.bound.givens[path], before.bound.asks[path]
    if spot.value is None:
        pytest.skip("an optional given that the demo leaves empty")
    unit = UNITS[ask.unit]
    number = (spot.value - unit.offset) / unit.factor
    step = 1.0 if ask.whole else max(abs(number) * 0.013, 1e-3)
    wanted = (number + step) * unit.factor + unit.offset
    if ask.refuse(wanted):
        wanted = (number - step) * unit.factor + unit.offset
    other = DEMOS[demo]()
    given_at(other, path).text = notation(wanted, ask.kind, ask.unit)
    after = assess(other, shelf)
    assert path not in after.bound.errors
    then = figures_of(before)
    for id, figure in after.figures.items():
        if id in then and then[id] != figure.value:
            named = set(basis_of(figure)) | set(basis_of(before.figures[id]))
            assert path in named or path.startswith("meters."), f"{id} moved with {path} and does not name it"


@pytest.mark.parametrize(("path", "choices"), sorted(PIECES.items()))
def test_no_figure_moves_with_a_choice_that_it_does_not_name(
    path: str, choices: list[str], shelf: list[DriverPart]
) -> None:
    results = []
    for value in choices:
        build = lantern_carousel()
        put(build, path, value)
        results.append(assess(build, shelf))
    for first, second in itertools.pairwise(results):
        for id, figure in second.figures.items():
            other = first.figures.get(id)
            if other is not None and other.value != figure.value:
                named = set(basis_of(figure)) | set(basis_of(other))
                assert path in named, f"{id} moved with {path} and does not name it"


def test_every_refused_part_has_a_reason(carousel: Build, shelf: list[DriverPart]) -> None:
    refused = [c for c in worked(carousel, shelf).candidates if c.refusals]
    assert refused
    for candidate in refused:
        for found in candidate.refusals:
            assert found.title
            assert found.todo
    ranks = [bool(c.refusals) for c in worked(carousel, shelf).candidates]
    assert ranks == sorted(ranks), "a refused part stands before one that holds"


@settings(max_examples=40)
@given(st.floats(-10, 80), st.floats(0.1, 20))
def test_the_junction_never_cools_with_warmer_air(air: float, more: float) -> None:
    parts = sample_parts()
    build = lantern_carousel()
    cool = worked(changed(build, ambient__hot=f"{air:.6f}"), parts)
    warm = worked(changed(build, ambient__hot=f"{min(air + more, 90):.6f}"), parts)
    for a, b in zip(by_part(cool), by_part(warm), strict=True):
        if a.heat.junction.value is not None and b.heat.junction.value is not None:
            assert b.heat.junction.value >= a.heat.junction.value - 1e-9
            assert (b.heat.allowed_current.value or 0.0) <= (a.heat.allowed_current.value or 0.0) + 1e-9


def by_part(drive: Any) -> list[Any]:
    return sorted(drive.candidates, key=lambda c: c.part.id)


@settings(max_examples=25)
@given(st.sampled_from([1, 2, 4, 5, 8, 10, 16, 20, 25, 40, 80]), st.sampled_from([2, 3]))
def test_the_junction_never_cools_with_frequency(kilohertz: int, times: int) -> None:
    parts = sample_parts()
    build = lantern_carousel()
    slow = worked(changed(build, drives__d1__signals__pwm_frequency=f"{kilohertz} kHz"), parts)
    fast = worked(changed(build, drives__d1__signals__pwm_frequency=f"{kilohertz * times} kHz"), parts)
    for a, b in zip(by_part(slow), by_part(fast), strict=True):
        # One switch and a diode: slower pulses heat by their ripple.
        known = a.heat.junction.value is not None and b.heat.junction.value is not None
        if known and a.part.kind not in ONE_SWITCH:
            assert b.heat.junction.value >= a.heat.junction.value - 1e-9


@settings(max_examples=30)
@given(st.floats(0.0, 2.0), st.floats(0.0, 3.0))
def test_the_worst_voltage_margin_never_grows_with_a_wider_supply(up: float, down: float) -> None:
    parts = sample_parts()
    build = lantern_carousel()
    wide = changed(
        build, supply__sources__s1__full_v=f"{14.6 + up:.4f} V", supply__sources__s1__flat_v=f"{10.8 - down:.4f} V"
    )
    for a, b in zip(by_part(worked(build, parts)), by_part(worked(wide, parts)), strict=True):
        for code in ("driver.volts_high", "driver.volts_low", "driver.speed", "driver.peak"):
            before = next(x.used for x in a.checks if x.code == code)
            after = next(x.used for x in b.checks if x.code == code)
            if before is not None and after is not None and before >= 0 and after >= 0:
                assert after >= before - 1e-9, f"{a.part.id} {code}"


def test_stall_current_falls_with_hotter_copper_and_a_weaker_supply(carousel: Build) -> None:
    stall = worked(carousel).circuit.stall_full.value
    assert worked(changed(carousel, ambient__cold="20 °C")).circuit.stall_full.value < stall
    assert worked(changed(carousel, supply__sources__s1__resistance="0.2 Ω")).circuit.stall_full.value < stall


def test_a_bad_text_keeps_the_last_good_value_and_is_reported(carousel: Build) -> None:
    bind_build(carousel)
    before = worked(carousel).motor.motor_constant.value
    carousel.drives[0].motor.no_load_v.text = "12.x"
    done = assess(carousel)
    assert "drives.d1.motor.no_load_v" in done.bound.errors
    assert done.drives["d1"].motor.motor_constant.value == before


def test_a_value_out_of_range_is_refused_with_what_is_allowed(carousel: Build) -> None:
    done = assess(changed(carousel, drives__d1__load__gear_efficiency="140 %", drives__d1__encoder__teeth="4.5"))
    assert "at most 100" in done.bound.errors["drives.d1.load.gear_efficiency"]
    assert "whole number" in done.bound.errors["drives.d1.encoder.teeth"]


def take(build: Build, step_id: str, text: str) -> Reading:
    step = next(s for s in worked(build).steps if s.id == step_id)
    judged = judge(step, text)
    return Reading(
        "r1",
        "d1",
        step_id,
        text,
        judged.quantity.value,
        step.expected.value,
        step.low,
        step.high,
        judged.verdict,
        judged.basis,
        "2026-01-01T00:00:00+00:00",
    )


def test_a_reading_goes_stale_with_what_it_stood_on_and_only_with_that(carousel: Build) -> None:
    reading = take(carousel, "counts", "72 010")
    assert reading.verdict == "pass"
    assert not assess(carousel, (), [reading]).drives["d1"].stale_readings
    other = changed(carousel, drives__d1__loop__gain="0.09 %/rpm")
    assert not assess(other, (), [reading]).drives["d1"].stale_readings
    geared = changed(carousel, drives__d1__load__gear_ratio="131")
    done = assess(geared, (), [reading])
    assert done.drives["d1"].stale_readings == {"r1": ["drives.d1.load.gear_ratio"]}
    assert done.stamp("d1", "bench").state == "stale"


def test_a_category_makes_stale_too(carousel: Build) -> None:
    reading = take(carousel, "counts", "72000")
    carousel.drives[0].encoder.decoding = "2"
    assert assess(carousel, (), [reading]).drives["d1"].stale_readings["r1"] == ["drives.d1.encoder.decoding"]


def test_a_wrong_reading_fails_and_is_looked_at(carousel: Build) -> None:
    reading = take(carousel, "frequency", "490 Hz")
    assert reading.verdict == "fail"
    found = [x for x in assess(carousel, (), [reading]).findings if x.code == "bench.frequency"]
    assert found[0].severity == "warn"


def test_a_tuning_goes_stale_and_can_be_confirmed(carousel: Build) -> None:
    gain = carousel.drives[0].loop.gain
    drive = worked(carousel)
    gain.basis = standing_basis(drive.loop.damping, "drives.d1.loop.gain")
    assert not worked(carousel).stale_givens
    heavier = changed(carousel, drives__d1__load__mechanisms__m1__mass="14 kg")
    done = assess(heavier)
    assert "drives.d1.load.mechanisms.m1.mass" in done.drives["d1"].stale_givens["drives.d1.loop.gain"]
    assert done.stamp("d1", "loop").state == "stale"
    heavier.drives[0].loop.gain.basis = standing_basis(done.drives["d1"].loop.damping, "drives.d1.loop.gain")
    assert not worked(heavier).stale_givens


def test_two_drives_share_a_unit_and_are_both_assessed(carousel: Build, shelf: list[DriverPart]) -> None:
    second = carousel.drives[0].model_copy(deep=True)
    second.id, second.name = "d2", "Second"
    carousel.drives.append(second)
    done = assess(Build.model_validate(carousel.model_dump()), shelf)
    assert list(done.drives) == ["d1", "d2"]
    assert {x.drive for x in done.findings} == {"", "d1", "d2"}, "the supply's own belong to no drive"
    assert {s.id for s in reply(done, "motor", "d2").drives} == {"d1", "d2"}


def test_the_stamp_is_the_first_of_stops_stale_tight_open_holds(carousel: Build, shelf: list[DriverPart]) -> None:
    done = assess(carousel, shelf)
    assert done.stamp("d1", "driver").state == "tight"
    assert done.stamp("d1", "motor").state == "holds"
    carousel.units[0].jam_stop = "none"
    assert assess(carousel, shelf).stamp("d1", "driver").state == "stops"
    assert assess(lantern_carousel()).stamp("d1", "bench").state == "open"


def test_every_shown_figure_has_its_working_down_to_the_givens(done: Assessment) -> None:
    seen = 0
    for station in STATIONS:
        for figure in reply(done, station, "d1").sheet.figures:
            if not figure.id:
                continue
            stack, met = [figure.id], set()
            while stack:
                at = stack.pop()
                if at in met or not at:
                    continue
                met.add(at)
                view = working_view(done, at)
                assert view is not None, at
                assert view.source
                stack += [i.id for i in view.inputs]
                seen += 1
    assert seen > 200


def test_working_says_where_a_given_is_used(done: Assessment) -> None:
    view = working_view(done, "supply.sources.s1.full_v")
    assert view is not None
    assert "Stall current in the circuit" in {u.title for u in view.used_in}
    assert working_view(done, "no.such.figure") is None
    assert working_view(done, "drives.d1.circuit.stall_full/nothing") is None


@settings(max_examples=25, phases=[Phase.explicit, Phase.generate])
@given(st.data())
def test_servos_and_other_loads_never_make_the_assessment_raise(data: st.DataObject) -> None:
    build = puppet_stage()
    extra = LoadDrive(id="d9", unit=data.draw(st.sampled_from(["", "u1"])), controller="c1")
    extra.load.kind = data.draw(st.sampled_from(["solenoid", "pump", "lamp"]))
    build.drives.append(extra)
    paths = sorted(assess(build).bound.givens)
    for path, text in data.draw(st.dictionaries(st.sampled_from(paths), TEXTS, max_size=10)).items():
        given_at(build, path).text = text
    for drive in build.drives[1:3]:
        drive.rail = data.draw(st.sampled_from(["", "r1", "r2", "s1"]))
        drive.servo.style = data.draw(st.sampled_from(["positional", "continuous"]))
    done = assess(Build.model_validate(build.model_dump()), sample_parts())
    for id, own in done.drives.items():
        for station in ("build", *STATIONS):
            assert reply(done, station, id, (), MOTORS).sheet.title
        assert {x.station for x in own.findings} <= set(own.stations)
    for figure in done.figures.values():
        doubt_of(figure)
