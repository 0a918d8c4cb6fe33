"""Each station's computation on hand-worked cases."""

from __future__ import annotations

import math

import pytest

from tests.kit import changed, finding, worked
from zinc_whistle.core.algebra.findings import Finding
from zinc_whistle.core.assess import Assessment, assess
from zinc_whistle.core.cases.truth import truth_table
from zinc_whistle.core.model.build import Build
from zinc_whistle.core.model.driver import DriverPart
from zinc_whistle.core.model.given import bind
from zinc_whistle.core.stations.bench.scope import nice_down, nice_up, scope_setting
from zinc_whistle.core.stations.driver.candidates import verdicts
from zinc_whistle.demo.data import blank_build, controllers

D = "drives__d1__"


def test_locked_readings_at_two_currents_tell_brush_drop_from_resistance(carousel: Build) -> None:
    for row, angle, amperes in zip(
        carousel.drives[0].motor.locked, (0, 0, 60, 60, 120, 120), (0.5, 1.0) * 3, strict=True
    ):
        row.angle.text, row.current.text = f"{angle}°", f"{amperes} A"
        row.voltage.text = f"{0.25 + 2.0 * amperes} V"
    drive = worked(changed(carousel, **{D + "motor__locked_temperature": "25 °C"}))
    assert drive.motor.brush_drop.value == pytest.approx(0.25)
    assert drive.motor.resistance_25.value == pytest.approx(2.0)
    assert drive.motor.by_slope


def test_one_current_an_angle_is_taken_with_its_bias_said(carousel: Build) -> None:
    carousel.drives[0].motor.locked = carousel.drives[0].motor.locked[::2]
    done = assess(carousel)
    assert finding(done, "motor.brush_drop").severity == "warn"
    assert done.drives["d1"].motor.resistance_25.value == pytest.approx(
        sum(v / i for v, i in ((1.21, 0.502), (1.24, 0.500), (1.23, 0.503))) / 3 * 259.5 / 253.5
    )


def test_leads_are_taken_off_only_where_the_meter_saw_them(carousel: Build) -> None:
    before = worked(carousel).motor.resistance_25.value
    carousel.drives[0].motor.volts_read_at = "leads"
    after = worked(carousel).motor.resistance_25.value
    assert before - after == pytest.approx(0.1 * 259.5 / 253.5)


def test_the_motor_model_closes_on_itself(carousel: Build) -> None:
    drive = worked(carousel)
    at = drive.at_supply
    ke, i0 = drive.motor.motor_constant.value, drive.motor.friction_a.value
    assert at.stall_torque.value == pytest.approx(ke * (at.stall_current.value - i0))
    half = (at.stall_current.value + i0) / 2
    speed = (12.8 - drive.motor.brush_drop.value - half * drive.motor.resistance_25.value) / ke
    assert at.greatest_power.value == pytest.approx(ke * (half - i0) * speed)


def test_a_turntable_as_a_ring_has_twice_the_inertia(carousel: Build) -> None:
    disc = worked(carousel).load.inertia.value
    assert disc == pytest.approx(0.5 * 9.0 * 0.45**2)
    carousel.drives[0].load.mechanisms[0].spread = "ring"
    assert worked(carousel).load.inertia.value == pytest.approx(2 * disc)


def test_load_at_the_motor_shaft(carousel: Build) -> None:
    load = worked(carousel).load
    speed = 12 * 2 * math.pi / 60
    assert load.motor_speed.value == pytest.approx(150 * speed)
    assert load.motor_torque.value == pytest.approx(0.35 / (150 * 0.6))
    alpha = speed / 3
    rotor = 42e-7
    expected = (0.35 + 0.91125 * alpha) / 90 + rotor * 150 * alpha
    assert load.starting_torque.value == pytest.approx(expected)
    assert load.reflected_inertia.value == pytest.approx(0.91125 / 150**2 + rotor)


def test_the_rms_current_lies_between_rest_and_the_peak(carousel: Build) -> None:
    load = worked(carousel).load
    i, s = load.working_current.value, load.starting_current.value
    assert load.rms_current.value == pytest.approx(math.sqrt((s**2 * 3 + i**2 * 600) / 723))


def test_power_balances_at_the_working_duty(carousel: Build, shelf: list[DriverPart]) -> None:
    """What the source gives equals motor, brush, copper, wire and driver losses, at every end of the range."""
    drive = worked(carousel, shelf)
    c, at = drive.circuit, drive.context
    part, current = at.unit.part, at.load.working_current.value
    bridge = (
        c.motor_volts.value
        + (part.on_resistance.value * part.hot_factor.value + at.motor_wire.resistance.value) * current
    )
    for volts, duty in ((14.6, c.duty_full.value), (12.8, c.duty_nominal.value), (10.8, c.duty_flat.value)):
        drawn = duty * current
        given = volts * drawn
        lost_on_the_way = drawn**2 * at.feed_resistance.value
        assert given - lost_on_the_way == pytest.approx(bridge * current, rel=1e-9)


def test_stall_reverse_and_brake_currents(carousel: Build, shelf: list[DriverPart]) -> None:
    carousel.drives[0].signals.reversal = "slammed"
    drive = worked(carousel, shelf)
    c, at = drive.circuit, drive.context
    total = (
        at.feed_resistance.value
        + at.unit.part.on_resistance.value
        + at.motor_wire.resistance.value
        + at.winding_cold.value
    )
    lost = at.motor.brush_drop.value
    assert c.stall_full.value == pytest.approx((14.6 - lost) / total)
    emf = at.motor.motor_constant.value * c.delivered_full.value
    assert c.reversal.value == pytest.approx((14.6 - lost + emf) / total)
    assert c.peak.value == c.reversal.value
    assert c.braking.value < c.stall_full.value


@pytest.mark.parametrize(
    ("regulator", "heat"), [("linear", (14.6 - 5) * 0.12), ("switching", 5 * 0.12 * (1 / 0.85 - 1))]
)
def test_regulator_heat(carousel: Build, regulator: str, heat: float) -> None:
    carousel.supply.regulators[0].kind = regulator  # type: ignore[assignment]
    assert assess(carousel).shared.regulator("r1").heat.value == pytest.approx(heat)


def test_a_brown_out_at_start_stops(carousel: Build) -> None:
    done = assess(changed(carousel, supply__sources__s1__resistance="4 Ω"))
    assert finding(done, "supply.brown_out_start").severity == "note"
    carousel.drives[0].signals.soft_start = "no"
    done = assess(changed(carousel, supply__sources__s1__resistance="4 Ω"))
    assert finding(done, "supply.brown_out_start").severity == "stop"


def test_an_adaptor_that_cannot_sink_lets_the_supply_rise(carousel: Build, shelf: list[DriverPart]) -> None:
    carousel.supply.sources[0].sinks = "no"
    # Held by buttons it goes no faster than at work; the port could ask for its top speed.
    carousel.drives[0].panel.command = "hold"
    found = finding(assess(carousel, shelf), "driver.volts_absolute")
    energy = 0.5 * 447.0e-7 * (1800 * 2 * math.pi / 60) ** 2
    assert found.stress.value == pytest.approx(math.sqrt(14.6**2 + 2 * energy / 220e-6), rel=1e-2)
    assert found.severity == "stop"


@pytest.mark.parametrize(
    ("school", "code", "severity"),
    [
        ("stall", "driver.stall", "stop"),
        ("run and peak", "driver.continuous", "note"),
        ("limited", "driver.peak", "note"),
    ],
)
def test_schools_judge_by_their_own_measure(
    carousel: Build, shelf: list[DriverPart], school: str, code: str, severity: str
) -> None:
    carousel.schools.sizing = school  # type: ignore[assignment]
    done = assess(carousel, shelf)
    assert finding(done, code).severity == severity
    drive = done.drives["d1"]
    assert set(verdicts(drive.context, drive.chosen)) == {"stall", "run and peak", "limited"}


def test_run_and_peak_needs_something_that_acts_in_a_jam(carousel: Build, shelf: list[DriverPart]) -> None:
    assert finding(assess(carousel, shelf), "driver.jam_named").severity == "note"
    carousel.units[0].jam_stop = "none"
    assert finding(assess(carousel, shelf), "driver.jam_named").severity == "stop"
    carousel.units[0].jam_stop = "driver limit"
    carousel.units[0].part.trip = "none"
    assert finding(assess(carousel, shelf), "driver.jam_named").severity == "stop"


def test_a_jam_that_outlasts_driver_or_winding_stops(carousel: Build, shelf: list[DriverPart]) -> None:
    done = assess(changed(carousel, drives__d1__panel__watch_time="1 s"), shelf)
    assert finding(done, "driver.jam_driver").severity == "stop"
    assert finding(done, "driver.jam_winding").severity == "note"
    done = assess(changed(carousel, drives__d1__panel__watch_time="20 s"), shelf)
    assert finding(done, "driver.jam_winding").severity == "stop"


def test_a_motor_straight_on_a_pin_is_listed_and_refused_by_its_numbers(
    carousel: Build, shelf: list[DriverPart]
) -> None:
    pin = next(c for c in worked(carousel, shelf).candidates if c.part.kind == "pin")
    assert {x.code for x in pin.refusals} >= {"driver.volts_high", "driver.continuous", "driver.peak", "driver.heat"}


def test_the_shelf_covers_every_kind(shelf: list[DriverPart]) -> None:
    kinds = {p.kind for p in shelf}
    assert len(shelf) >= 10
    assert kinds == set(DriverPart.meta("kind").choose.options)
    assert all(p.sample for p in shelf)


def test_junction_and_allowed_current_agree(carousel: Build, shelf: list[DriverPart]) -> None:
    """At the current that heat allows, the junction stands at its limit."""
    from zinc_whistle.core.laws import driver as rules

    for candidate in worked(carousel, shelf).candidates:
        part, allowed = candidate.part, candidate.heat.allowed_current.value
        if not allowed:
            continue
        fixed = rules.fixed_heat.evaluate(
            [part.drop_v.value, allowed, 14.6, part.switching_time.value, 20e3, part.quiescent_a.value]
        )
        junction = rules.junction_temperature.evaluate(
            [
                35.0,
                part.thermal_resistance.value,
                allowed,
                part.on_resistance.value,
                part.hot_factor.value,
                part.junction_limit.value,
                fixed,
            ]
        )
        assert junction == pytest.approx(part.junction_limit.value, rel=1e-9)


def test_soft_start_at_its_shortest_meets_the_limit(carousel: Build) -> None:
    drive = worked(carousel)
    shortest = drive.signals.shortest_ramp.value
    j, k = drive.load.reflected_inertia.value, drive.motor.motor_constant.value
    peak = drive.load.working_current.value + j * drive.load.motor_speed.value / (k * shortest)
    assert peak == pytest.approx(1.5)


def test_locked_anti_phase_ripples_more_at_equal_mean(carousel: Build) -> None:
    slow = worked(carousel).signals.ripple.value
    carousel.drives[0].signals.decay = "locked anti-phase"
    assert worked(carousel).signals.ripple.value > 1.3 * slow


@pytest.mark.parametrize("style", sorted(DriverPart.meta("input_style").choose.options))
@pytest.mark.parametrize("decay", ["slow", "fast", "locked anti-phase"])
def test_every_truth_table_is_whole(style: str, decay: str) -> None:
    table = truth_table(style, decay)
    assert len(table.names) == len(table.needs)
    # Contacts alone bear no pulses, and a hand drives no input.
    assert ("pwm" in table.needs) == (style not in ("two coils", "one coil", "by hand"))
    assert all(len(row.inputs) == len(table.names) and row.motor for row in table.rows)
    assert any("forward" in row.motor or "one way" in row.motor for row in table.rows)
    on_off = truth_table(style, decay, pulsed=False)
    assert set(on_off.needs) <= {"digital"} and not any("PWM" in x for row in on_off.rows for x in row.inputs)


def test_pins_go_where_they_can(carousel: Build, shelf: list[DriverPart]) -> None:
    drive = worked(carousel, shelf)
    by_signal = {u.signal: u for u in drive.wiring.pins}
    assert by_signal["PWM"].pin.timer == drive.context.plan.timer.id
    assert "interrupt" in by_signal["ENC A"].pin.can
    assert "analogue" in by_signal["SENSE"].pin.can
    assert len({u.pin.id for u in drive.wiring.pins}) == len(drive.wiring.pins)


def test_a_pin_that_cannot_carry_its_signal_stops_with_the_reason(carousel: Build, shelf: list[DriverPart]) -> None:
    carousel.drives[0].wiring.fixed_pins[0].pin = "p4"
    assert finding(assess(carousel, shelf), "wiring.pins").severity == "note", (
        "an interrupt shared with its port will do"
    )
    own = next(p for p in carousel.controllers[0].pins if p.id == "p4")
    own.can = ["digital"]
    found = finding(assess(carousel, shelf), "wiring.pins")
    assert found.severity == "stop"
    assert "D4 cannot do interrupts" in found.todo


def test_two_signals_on_one_pin_stop(carousel: Build, shelf: list[DriverPart]) -> None:
    carousel.drives[0].wiring.fixed_pins[0].pin = "p3"
    assert "also carries" in finding(assess(carousel, shelf), "wiring.pins").todo


@pytest.mark.parametrize(("left", "who"), [("ground", "controller"), ("supply-", "driver"), ("encoder-", "encoder")])
def test_a_ground_left_out_stops_and_names_who_stands_apart(
    carousel: Build, shelf: list[DriverPart], left: str, who: str
) -> None:
    carousel.drives[0].wiring.left_out = [left]
    found = finding(assess(carousel, shelf), "wiring.ground")
    assert found.severity == "stop"
    assert who in found.todo


def test_a_lead_left_out_is_looked_at(carousel: Build, shelf: list[DriverPart]) -> None:
    carousel.drives[0].wiring.left_out = ["motor1"]
    assert finding(assess(carousel, shelf), "wiring.made").severity == "warn"


def test_polling_too_slowly_stops(carousel: Build) -> None:
    carousel.drives[0].encoder.method = "polling"
    done = assess(carousel)
    found = finding(done, "encoder.rate")
    assert found.severity == "stop"
    assert found.limit.value == pytest.approx(1 / 600e-6)


def test_an_encoder_on_the_output_counts_the_gear_once(carousel: Build) -> None:
    carousel.drives[0].encoder.place = "output"
    carousel.drives[0].encoder.calibrated.text, carousel.drives[0].encoder.runs = "", []
    result = worked(carousel).encoder
    assert result.counts_per_output_turn.value == 48
    assert result.rate_working.value == pytest.approx(48 * 12 / 60)


def test_what_was_counted_is_so(carousel: Build) -> None:
    """7,000 counts for a turn of the output, at 12 rpm: 1,400 a second and 28 in a period of 20 ms, whatever the disc
    and the gear should have given."""
    carousel.drives[0].encoder.runs = []
    result = worked(changed(carousel, **{D + "encoder__calibrated": "7000"})).encoder
    assert result.rate_working.value == pytest.approx(7000 * 12 / 60)
    assert result.counts_per_period.value == pytest.approx(28)


def test_a_calibration_far_from_the_nominal_is_looked_at(carousel: Build) -> None:
    carousel.drives[0].encoder.runs = []
    done = assess(changed(carousel, **{D + "encoder__calibrated": "7000"}))
    assert finding(done, "encoder.calibration").severity == "warn"


def test_more_gain_droops_less_without_feed_forward(carousel: Build) -> None:
    carousel.drives[0].loop.feed_forward = "no"
    low = worked(changed(carousel, **{D + "loop__gain": "0.02 %/rpm"})).loop.droop.value
    high = worked(changed(carousel, **{D + "loop__gain": "0.08 %/rpm"})).loop.droop.value
    assert 0 < high < low < 1


def test_feed_forward_ends_on_the_target(carousel: Build, shelf: list[DriverPart]) -> None:
    """The working duty is worked out by the supply's rules, the step by simulation: they must meet."""
    assert abs(worked(carousel, shelf).loop.droop.value) < 0.002


def test_too_much_gain_hunts_and_says_so(carousel: Build) -> None:
    drive = worked(changed(carousel, **{D + "loop__gain": "5 %/rpm", D + "loop__period": "50 ms"}))
    assert drive.loop.overshoot.value is None
    assert "hunts" in drive.loop.overshoot.reason


@pytest.mark.parametrize(("value", "down", "up"), [(9.0, 5, 10), (1.0, 1, 1), (0.03, 0.02, 0.05), (2.5e-5, 2e-5, 5e-5)])
def test_instruments_are_stepped_in_1_2_5(value: float, down: float, up: float) -> None:
    assert nice_down(value) == pytest.approx(down)
    assert nice_up(value) == pytest.approx(up)


@pytest.mark.parametrize(("volts", "hertz"), [(5.0, 20e3), (3.3, 976.6), (12.0, 50.0), (9.0, 490.0)])
def test_the_oscilloscope_fills_four_to_six_divisions_and_two_to_five_periods(volts: float, hertz: float) -> None:
    from zinc_whistle.core.algebra.quantities import parse

    words = scope_setting(volts, hertz)
    per_division = parse(words.split(", ")[2].split(" and ")[0], "voltage").value
    timebase = parse(words.split(" and ")[1].split(" a division")[0], "time").value
    assert 2.4 <= volts / per_division <= 6.01
    assert 2 <= 10 * timebase * hertz <= 5.01


def test_every_bench_step_of_the_demo_knows_what_to_expect(carousel: Build, shelf: list[DriverPart]) -> None:
    for step in worked(carousel, shelf).steps:
        assert step.bounds(), step.id
        assert step.holds(step.expected.value)
        assert step.low is None or step.low <= step.expected.value
        assert step.high is None or step.expected.value <= step.high
        beyond = [x for x in (step.high and step.high * 1.01 + 1e-9, step.low and step.low - abs(step.low) / 100) if x]
        assert beyond and not any(step.holds(x) for x in beyond), step.id
        assert step.reason and step.setting and step.where


def test_every_controller_profile_is_whole() -> None:
    for controller in controllers():
        assert not bind(controller, "c").errors
        timers = {t.id for t in controller.timers}
        assert all(p.timer in timers for p in controller.pins if "pwm" in p.can)


def test_a_blank_build_is_all_open_and_says_what_to_give(shelf: list[DriverPart]) -> None:
    done = assess(blank_build("Nothing yet"), shelf)
    for found in done.findings:
        assert found.severity != "stop", found.code
        if found.unknown:
            assert (
                "give" in found.unknown
                or "choose" in found.unknown
                or "add" in found.unknown
                or "Not measured" in found.unknown
            )


def twins(build: Build, part: DriverPart, channel: str = "2") -> Build:
    """The same drive twice on one dual part."""
    build.units[0].part = part.model_copy(deep=True)
    second = build.drives[0].model_copy(deep=True)
    second.id, second.channel.text = "d2", channel
    build.drives.append(second)
    return build


def test_a_dual_part_serves_two_drives_and_bears_the_heat_of_both(carousel: Build, shelf: list[DriverPart]) -> None:
    part = next(p for p in shelf if p.id == "mos-twin-7a")
    alone = worked(changed(twins(carousel.model_copy(deep=True), part), drives__d2__load__mechanisms__m1__mass="1 g"))
    carousel = twins(carousel, part)
    done = assess(carousel, shelf)
    both = done.drives["d1"]
    heat, at = both.chosen.heat, both.context
    current, volts = heat.current.value, 14.6
    assert current > at.load.rms_current.value
    hot = both.context.part.on_resistance.value * (1 + 0.8 * (heat.junction.value - 25) / (150 - 25))
    fixed = 2 * 0.5 * volts * current * 700e-9 * at.plan.frequency.value + volts * 12e-3
    assert heat.total.value == pytest.approx(2 * current**2 * hot + fixed)
    assert heat.junction.value == pytest.approx(35 + 28 * heat.total.value)
    assert heat.junction.value == pytest.approx(done.drives["d2"].chosen.heat.junction.value)
    assert heat.allowed_current.value < alone.chosen.heat.allowed_current.value
    assert all(finding_of(done, d, "driver.channel").severity == "note" for d in ("d1", "d2"))


def test_two_drives_cannot_have_one_channel_nor_one_that_is_not_there(carousel: Build, shelf: list[DriverPart]) -> None:
    part = next(p for p in shelf if p.id == "mos-twin-7a")
    same = assess(twins(carousel.model_copy(deep=True), part, "1"), shelf)
    assert finding_of(same, "d2", "driver.channel").severity == "stop"
    assert "Carousel" in finding_of(same, "d2", "driver.channel").todo
    third = assess(twins(carousel, part, "3"), shelf)
    assert finding_of(third, "d1", "driver.channel").severity == "note"
    assert finding_of(third, "d2", "driver.channel").severity == "stop"


def finding_of(done: Assessment, drive: str, code: str) -> Finding:
    return next(x for x in done.findings if x.drive == drive and x.code == code)
