"""The connection table and the test sheet of every kind of drive, made from the design."""

from __future__ import annotations

import json
import math
from collections import Counter
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.kit import changed, finding
from zinc_whistle.core.algebra.quantities import QuantityError
from zinc_whistle.core.assess import Assessment, assess
from zinc_whistle.core.cases.timer_plan import settings
from zinc_whistle.core.cases.truth import truth_table
from zinc_whistle.core.design.assembly import assembly
from zinc_whistle.core.model.bench import STAGES
from zinc_whistle.core.model.build import Build
from zinc_whistle.core.model.driver import INPUT_STYLES, DriverPart
from zinc_whistle.core.model.given import Given
from zinc_whistle.core.model.signals import Timer
from zinc_whistle.core.model.wiring import FixedPin
from zinc_whistle.core.stations.bench.readings import judge
from zinc_whistle.core.stations.bench.scope import nice_down, nice_up, scope_setting
from zinc_whistle.core.stations.bench.step import meter_range, series_setting
from zinc_whistle.demo.data import cider_stirrer, lantern_carousel, puppet_stage, sample_parts, snow_fan


def with_part(part_id: str, encoder: str = "yes") -> Assessment:
    build = lantern_carousel()
    build.units[0].part = next(p for p in sample_parts() if p.id == part_id).model_copy(deep=True)
    build.drives[0].encoder.fitted = encoder
    build.drives[0].wiring.fixed_pins = []
    return assess(Build.model_validate(build.model_dump()))


@pytest.mark.parametrize("part", sample_parts(), ids=lambda p: p.id)
def test_every_part_is_wired_input_by_input(part: DriverPart) -> None:
    """Each input of the part has one wire from a pin that can do what it needs, and no pin serves twice."""
    done = with_part(part.id)
    wiring = done.drives["d1"].wiring
    table = truth_table(part.input_style, "slow")
    signals = {u.signal: u for u in wiring.pins}
    for name, need in zip(table.names, table.needs, strict=True):
        use = signals[name]
        assert use.needs == need
        if use.pin is not None:
            assert need in use.pin.can
    pins = [u.pin.id for u in wiring.pins if u.pin is not None]
    assert len(pins) == len(set(pins))
    wired = Counter(c.signal for c in wiring.connections)
    assert all(wired[u.signal] == 1 for u in wiring.pins if u.pin is not None)
    if part.sense_gain.text:
        assert signals["SENSE"].needs == "analogue"


def test_without_an_encoder_nothing_leads_to_one() -> None:
    blocks = {
        b
        for c in with_part("mos-single-5a", "no").drives["d1"].wiring.connections
        for b in (c.start.block, c.end.block)
    }
    assert "encoder" not in blocks
    assert {"source", "fuse", "driver", "capacitor", "motor", "controller", "panel"} == blocks


def test_sense_encoder_and_panel_wires_run_towards_the_controller(done: Assessment) -> None:
    for wire in done.drives["d1"].wiring.connections:
        if wire.signal in ("SENSE", "ENC A", "ENC B") or wire.start.block == "panel":
            assert wire.end.block == "controller"
        elif wire.role == "signal":
            assert wire.start.block == "controller"


def test_the_fuse_stands_first_and_the_drop_counts_both_conductors(done: Assessment) -> None:
    drive = done.drives["d1"]
    first, second = drive.wiring.connections[:2]
    assert (first.start.block, first.end.block, second.start.block) == ("source", "fuse", "fuse")
    per_metre = 1.7241e-8 / (math.pi / 4 * (0.127e-3 * 92 ** ((36 - 18) / 39)) ** 2)
    assert second.drop.value == pytest.approx(2 * 0.8 * per_metre * second.current.value)
    # The wire's own half minute against a ramp of seconds and minutes of turning: between the run and the start.
    assert drive.load.rms_current.value < second.current.value < drive.load.starting_current.value


@pytest.mark.parametrize("left_out", ["supply-", "ground", "encoder-"])
def test_a_missing_ground_is_found_whichever_it_is(carousel: Build, left_out: str) -> None:
    carousel.drives[0].wiring.left_out = [left_out]
    found = finding(assess(carousel), "wiring.ground")
    assert found.severity == "stop"
    assert "Join the ground of the" in found.todo


def test_a_signal_wire_left_out_is_only_looked_at(carousel: Build) -> None:
    carousel.drives[0].wiring.left_out = ["signal:DIR"]
    done = assess(carousel)
    assert finding(done, "wiring.made").severity == "warn"
    assert "DIR" in finding(done, "wiring.made").todo
    assert finding(done, "wiring.ground").severity == "note"


@pytest.mark.parametrize(
    ("signal", "pin", "says"),
    [
        ("PWM", "p4", "cannot do PWM"),
        ("PWM", "p5", "another timer"),
        ("SENSE", "p7", "cannot do analogue"),
        ("ENC A", "p8", "cannot do interrupts"),
        ("DIR", "nowhere", "not on this controller"),
    ],
)
def test_a_fixed_pin_that_cannot_is_refused_with_its_reason(carousel: Build, signal: str, pin: str, says: str) -> None:
    for own in carousel.controllers[0].pins:
        own.can = [ability for ability in own.can if ability != "change"]
    carousel.drives[0].wiring.fixed_pins = [FixedPin(id="f1", signal=signal, pin=pin)]
    found = finding(assess(carousel), "wiring.pins")
    assert found.severity == "stop"
    assert says in found.todo


def test_two_signals_fixed_to_one_pin_are_both_refused(carousel: Build) -> None:
    carousel.drives[0].wiring.fixed_pins = [
        FixedPin(id="f1", signal="ENC A", pin="p2"),
        FixedPin(id="f2", signal="ENC B", pin="p2"),
    ]
    todo = finding(assess(carousel), "wiring.pins").todo
    assert "also carries ENC B" in todo
    assert "also carries ENC A" in todo


def test_thin_wire_stops_and_thick_wire_holds(carousel: Build) -> None:
    heavy = changed(carousel, drives__d1__load__mechanisms__m1__friction_torque="1.5 N·m")
    thin = changed(heavy, drives__d1__wiring__motor_run__gauge="32")
    thick = changed(heavy, drives__d1__wiring__motor_run__gauge="16")
    assert finding(assess(thin), "wiring.motor_density").severity == "stop"
    assert finding(assess(thick), "wiring.motor_density").severity == "note"


@pytest.mark.parametrize("style", sorted(INPUT_STYLES))
@pytest.mark.parametrize("decay", ["slow", "fast", "locked anti-phase"])
def test_truth_tables_are_whole(style: str, decay: str) -> None:
    """Every row has a level for every input, nothing is said twice, and something stops the motor."""
    table = truth_table(style, decay)
    assert len(table.names) == len(table.needs)
    for row in table.rows:
        assert len(row.inputs) == len(table.names)
        assert row.motor
    assert not table.names or len({r.inputs for r in table.rows}) == len(table.rows)
    words = " ".join(r.motor for r in table.rows)
    assert "brakes" in words or "coasts" in words or "holds still" in words


@given(st.sampled_from([1e6, 8e6, 16e6, 20e6, 48e6]), st.floats(20, 60000), st.sampled_from([8, 10, 16]), st.booleans())
def test_the_chosen_timer_setting_is_the_best_there_is(clock: float, wanted: float, bits: int, centre: bool) -> None:
    """Against every top and prescaler tried one by one: within 2 %, none has more steps; else none is nearer."""
    prescalers = [1, 8, 64, 256, 1024]
    timer = Timer(id="t", name="t", bits=bits, prescalers=prescalers)
    best = settings(clock, wanted, [timer], centre)[0]

    def real(n: int, top: int) -> float:
        return clock / (2 * n * top) if centre else clock / (n * (top + 1))

    for n in prescalers:
        ideal = clock / (2 * n * wanted) if centre else clock / (n * wanted) - 1
        for top in {max(1, min(2**bits - 1, f(ideal))) for f in (math.floor, math.ceil)}:
            error = abs(real(n, top) / wanted - 1)
            if error <= 0.02 and abs(best.error) <= 0.02:
                assert best.top >= top - 1
            elif error > 0.02 and abs(best.error) > 0.02:
                assert abs(best.error) <= error + 0.5 / max(top, 1) + 1e-9


@given(st.floats(1e-6, 1e6))
def test_instrument_steps_are_one_two_five(value: float) -> None:
    for step in (nice_down(value), nice_up(value)):
        lead = step / 10 ** math.floor(math.log10(step) + 1e-9)
        assert min(abs(lead - x) for x in (1, 2, 5, 10)) < 1e-6
    assert nice_down(value) <= value * (1 + 1e-9) <= nice_up(value) * (1 + 2e-9)


@given(st.floats(0.5, 60), st.floats(50, 100e3))
def test_a_scope_setting_fills_the_screen(level: float, frequency: float) -> None:
    """Common practice, no source: four to six divisions high at best, two to five periods across ten divisions."""
    assert 1.0 <= level / nice_up(level / 6) <= 6.0 + 1e-6
    periods = nice_down(5 / frequency / 10) * 10 * frequency
    assert 1.9 <= periods <= 5.0 + 1e-6
    words = scope_setting(level, frequency)
    assert "DC coupling" in words
    assert "Probe ×10" in words


def test_a_meter_range_holds_its_value_with_a_quarter_to_spare() -> None:
    assert meter_range(9.0, "voltage").startswith("range 20 V")
    assert meter_range(0.31, "current").startswith("range 0.500 A") or "500 mA" in meter_range(0.31, "current")


@pytest.mark.parametrize("make", [lantern_carousel, puppet_stage])
def test_every_step_says_where_what_with_and_why(make, shelf: list[DriverPart]) -> None:  # type: ignore[no-untyped-def]
    for drive in assess(make(), shelf).drives.values():
        assert drive.steps
        ids = [s.id for s in drive.steps]
        assert len(ids) == len(set(ids))
        for step in drive.steps:
            assert step.where and step.instrument and step.setting and step.reason, step.id
            assert step.stage in STAGES
            if step.expected.value is not None:
                assert step.bounds()
                assert step.low is None or step.low <= step.expected.value * (1 + 1e-9)
                assert step.high is None or step.high >= step.expected.value * (1 - 1e-9)


def test_a_reading_is_judged_at_its_very_limits(done: Assessment) -> None:
    step = next(s for s in done.drives["d1"].steps if s.id == "no_load_a")
    assert step.low is not None
    assert step.high is not None
    for share, verdict in ((0.999, "fail"), (1.001, "pass")):
        assert judge(step, f"{step.low * share:.6f} A").verdict == verdict
    for share, verdict in ((0.999, "pass"), (1.001, "fail")):
        assert judge(step, f"{step.high * share:.6f} A").verdict == verdict
    with pytest.raises(QuantityError):
        judge(step, "three volts")


def test_the_sheet_goes_from_cold_to_warm(done: Assessment) -> None:
    order = [s.id for s in done.drives["d1"].steps]
    wanted = ["short", "rail", "logic", "idle", "rest", "hand1", "proving", "duty", "lamp", "counts"]
    wanted += ["direction", "no_load_a", "no_load_speed", "stall", "loaded", "sag", "sense", "warm", "again"]
    assert [x for x in order if x in wanted] == wanted
    stages = [list(STAGES).index(s.stage) for s in done.drives["d1"].steps]
    assert stages == sorted(stages)


@pytest.mark.parametrize("name", ["carousel", "stirrer", "puppets", "fan"])
def test_probes_go_where_there_is_something(name: str) -> None:
    make = {"carousel": lantern_carousel, "stirrer": cider_stirrer, "puppets": puppet_stage, "fan": snow_fan}[name]
    for drive in assess(make()).drives.values():
        parts = drive.wiring.netlist.parts
        for step in drive.steps:
            assert all(t.pin in parts[t.block].pins for t in step.probes), step.id


def test_inputs_by_hand_are_the_truth_table(done: Assessment) -> None:
    """PWM and DIR high: OUT 1 above OUT 2; DIR low: the other way round. PWM low leaves the direction free: no step."""
    hand = [s for s in done.drives["d1"].steps if s.id.startswith("hand")]
    assert [s.title for s in hand] == ["By hand: PWM high, DIR high", "By hand: PWM high, DIR low"]
    assert [[t.pin for t in s.probes] for s in hand] == [["OUT 1", "OUT 2"], ["OUT 2", "OUT 1"]]
    for step in hand:
        assert step.low is not None and step.high is not None
        assert step.low < 10.8 and step.high == pytest.approx(14.6), "from flat, less its drop, to full"


def test_lines_that_act_when_low_are_not_forced_before_they_are_turned_round() -> None:
    build = lantern_carousel()
    part = build.units[0].part
    assert part is not None
    part.input_style, part.active_low = "two inputs and enable", "IN 1"
    build.drives[0].wiring.fixed_pins = []
    assert not [s for s in assess(build).drives["d1"].steps if s.id.startswith("hand")]
    build.units[0].inverters = "yes"
    assert [s for s in assess(build).drives["d1"].steps if s.id.startswith("hand")]


def test_what_is_told_to_run_is_told_as_it_is_commanded() -> None:
    """By the port with lines; by buttons with a press: a duty line would be answered “no panel”."""
    build = lantern_carousel()
    by_port = next(s for s in assess(build).drives["d1"].steps if s.id == "duty")
    assert by_port.type == ("clear", "duty {n} 500", "duty {n} 0")
    build.drives[0].panel.command = "hold"
    by_hand = next(s for s in assess(build).drives["d1"].steps if s.id == "duty")
    assert not by_hand.type and "buttons know no half" in by_hand.do
    build.drives[0].panel.speed_by = "knob"
    assert "the knob in the middle" in next(s for s in assess(build).drives["d1"].steps if s.id == "duty").do


def test_held_on_a_volt_is_ohms_law(done: Assessment) -> None:
    """1 V less the brushes' drop over winding and lead."""
    motor = done.drives["d1"].of_motor
    assert motor is not None
    at = motor.context
    step = next(s for s in done.drives["d1"].steps if s.id == "stall")
    ohms = (at.motor.resistance_25.value or 0) + 2 * 0.6 * 33.31e-3
    assert step.expected.value == pytest.approx((1 - (at.motor.brush_drop.value or 0)) / ohms, rel=2e-3)


def test_a_reading_near_its_bound_is_doubtful(done: Assessment) -> None:
    """Half an ohm of doubt (95 %) each way: it reaches over the bound from either side, and is told so."""
    step = next(s for s in done.drives["d1"].steps if s.id == "winding")
    assert step.high is not None
    assert judge(step, f"{step.high - 0.2:.3f} ± 0.5").verdict == "doubtful"
    assert judge(step, f"{step.high + 0.2:.3f} ± 0.5").verdict == "doubtful"
    assert judge(step, f"{step.high - 0.2:.3f} ± 0.1").verdict == "pass"
    assert judge(step, f"{step.high + 0.2:.3f} ± 0.1").verdict == "fail"
    short = next(s for s in done.drives["d1"].steps if s.id == "short")
    assert judge(short, "20 kΩ").verdict == "pass" and judge(short, "0.3").verdict == "fail"


def test_a_new_resistance_makes_only_the_readings_that_rest_on_it_stale(shelf: list[DriverPart]) -> None:
    before = {
        s.id: judge(s, f"{s.expected.value:.6g}").basis
        for s in assess(lantern_carousel(), shelf).drives["d1"].steps
        if s.expected.value is not None and s.unit not in ("%",) and s.id in ("rail", "logic", "idle", "no_load_speed")
    }
    moved = changed(lantern_carousel(), drives__d1__motor__locked__k1__voltage="1.30 V")
    after = {s.id: judge(s, "1").basis for s in assess(moved, shelf).drives["d1"].steps if s.id in before}
    changed_steps = {i for i in before if before[i] != after[i]}
    assert changed_steps == {"no_load_speed"}


def test_every_control_of_the_panel_has_its_wire_and_pin() -> None:
    wires = {c.signal: c for c in assess(puppet_stage()).drives["d1"].wiring.connections}
    for signal in ("FORWARD", "BACK", "STOP", "CLEAR", "LIMIT FRONT", "LIMIT BACK"):
        assert (wires[signal].start.block, wires[signal].end.block) == ("panel", "controller")
    pins = [u.pin.id for d in assess(puppet_stage()).drives.values() for u in d.wiring.pins if u.pin is not None]
    assert len(pins) == len(set(pins)) == 17, "with three lamps, the sequence's button, both channels"
    (lamp,) = (c for name, c in wires.items() if name.startswith("LAMP 1"))
    assert (lamp.start.block, lamp.end.block) == ("controller", "panel")
    assert "620 Ω" in lamp.signal, "5 V less 2 V at 5 mA are 600 Ω; the next of E24 above is 620"


@pytest.mark.parametrize(
    ("choice", "value", "signal"),
    [
        ("speed_by", "knob", "KNOB"),
        ("limits", "both", "LIMIT FRONT"),
        ("stop_input", "open", "STOP"),
        ("fault_input", "low", "FAULT"),
    ],
)
def test_a_choice_of_the_panel_asks_for_its_pin(choice: str, value: str, signal: str) -> None:
    build = lantern_carousel()
    panel = build.drives[0].panel
    panel.stop_input = "none"
    before = {u.signal for u in assess(build).drives["d1"].wiring.pins}
    setattr(panel, choice, value)
    after = {u.signal for u in assess(build).drives["d1"].wiring.pins}
    assert signal not in before and signal in after


def test_where_pins_run_out_it_says_which_signal_is_left() -> None:
    build = puppet_stage()
    build.controllers[0].pins = build.controllers[0].pins[:8]
    left = [u for d in assess(build).drives.values() for u in d.wiring.pins if u.pin is None]
    assert left and all(u.refusal for u in left)
    assert any(x.code == "wiring.pins" and x.severity == "stop" and "no " in x.todo for x in assess(build).findings)


def test_a_meter_in_series_stands_on_the_range_of_the_start_first(carousel: Build) -> None:
    """At full duty at once the carousel's motor starts with its stall, 14.6 V over some 2 Ω: seven amperes through a
    meter that is to read a quarter of one. With a ramp it is two thirds of an ampere."""
    carousel.drives[0].signals.soft_start = "no"
    hard = next(s for s in assess(carousel).drives["d1"].steps if s.id == "no_load_a")
    assert "start on the range 10 A" in hard.setting and hard.setting.index("10 A") < hard.setting.index("once it runs")
    carousel.drives[0].signals.soft_start = "yes"
    soft = next(s for s in assess(carousel).drives["d1"].steps if s.id == "no_load_a")
    assert "start on the range 1 A" in soft.setting


@pytest.mark.parametrize(
    ("steady", "start", "says"),
    [
        (None, 3.0, "highest range first"),
        (0.2, None, "highest range first"),
        (1.0, 1.1, "range"),
        (0.2, 4.0, "start on the"),
        (2.0, 40.0, "bridge the meter"),
    ],
)
def test_what_is_said_of_a_meter_in_series(steady: float | None, start: float | None, says: str) -> None:
    said = series_setting(steady, start)
    twofold = steady is not None and start is not None and start > 1.25 * steady
    assert says in said and ("start on" in said or "bridge" in said) == twofold


def test_no_step_speaks_of_what_is_not_there() -> None:
    """Without a fuse none is taken out; a pump is no motor; and a lamp in the motor's place stands for neither."""
    build = lantern_carousel()
    build.supply.sources[0].fuse = Given(text="")
    for step in assess(build).drives["d1"].steps:
        assert "fuse" not in f"{step.where} {step.setting} {step.do}".lower(), step.id
    assert "no fuse yet" in assembly(assess(build).drives["d1"].wiring.netlist)[-1].title
    (file,) = (Path(__file__).parents[1] / "verdicts" / "builds").glob("11-*.json")
    pump = assess(Build.model_validate(json.loads(file.read_text("utf-8"))))
    for drive in pump.drives.values():
        ours = [s for s in drive.steps if s.stage in ("cold", "inputs", "pulses")]
        assert ours
        for step in ours:
            assert "motor" not in f"{step.title} {step.where} {step.purpose} {step.do} {step.means}", step.id
