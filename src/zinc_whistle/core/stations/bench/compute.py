"""The test sheet: steps made from the design, each with its expected reading and the instrument's setting."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ...algebra.doubt import doubt_of
from ...algebra.nodes import Figure, Leaf, Node
from ...algebra.quantities import phrase
from ...cases.driving import Driving
from ...cases.operating import Context, DriveContext, LoadContext
from ...cases.polarity import turned_round
from ...cases.servo import ServoResult
from ...cases.timer_circuit import of_drive
from ...laws import bench as rules
from ...laws import driver as driver_rules
from ...laws import motor as motor_rules
from ...laws.nothing import NO_OHMS, NO_VOLTS
from ...model.servo import ServoSpec

STATION = "bench"
RAIL_SHARE = 0.05
IDLE_SHARE = 0.3
CURRENT_SHARE = 0.15
SPEED_SHARE = 0.05
MARK_ANGLE = math.radians(4.0)


@dataclass(frozen=True, slots=True)
class Step:
    """One test: where, with what set how, what it should read (SI) between ``low`` and ``high``, and why."""

    id: str
    title: str
    where: str
    instrument: str
    setting: str
    expected: Node
    kind: str
    unit: str
    low: float | None
    high: float | None
    reason: str
    caution: str = ""

    def holds(self, value: float) -> bool | None:
        """Whether a reading (SI) is right; None until the expected value is known."""
        if self.low is None or self.high is None:
            return None
        return self.low <= value <= self.high


def nice_down(value: float) -> float:
    """The largest of 1, 2, 5 × 10ⁿ that is not above ``value``: how instruments are stepped."""
    if value <= 0 or not math.isfinite(value):
        return 1.0
    power = 10.0 ** math.floor(math.log10(value) + 1e-9)
    return next(m * power for m in (5, 2, 1) if m * power <= value * (1 + 1e-9))


def nice_up(value: float) -> float:
    """The smallest of 1, 2, 5 × 10ⁿ that is not below ``value``."""
    power = 10.0 ** math.floor(math.log10(value) + 1e-9)
    return next(m * power for m in (1, 2, 5, 10) if m * power >= value * (1 - 1e-9))


def scope_setting(level_v: float, frequency_hz: float) -> str:
    """Volts a division so that the signal fills four to six divisions, and 2 to 5 periods across ten."""
    volts = nice_up(level_v / 6)
    time = nice_down(5 / frequency_hz / 10)
    trigger = phrase(level_v / 2, "voltage")
    return (
        f"Probe ×10, DC coupling, {phrase(volts, 'voltage')} and {phrase(time, 'time')} a division, "
        f"trigger at {trigger}"
    )


SPARE = 1.25
"""A range is taken with a quarter to spare."""


def meter_range(value: float, kind: str) -> str:
    """The lowest usual range that holds the value with a quarter to spare."""
    return f"range {phrase(nice_up(abs(value) * SPARE), kind)} or the next above"


METER_FUSE_A = 10.0
"""Common practice, no source: what the large current socket of a hand-held meter is fused for."""


def series_setting(steady: float | None, start: float | None) -> str:
    """A meter in series with what starts at more than it settles at: the range of the start first.

    On the small range a start would blow the meter's fuse, or the meter.
    """
    if not steady or start is None:
        return "DC amperes, highest range first"
    settled = meter_range(steady, "current")
    if start <= SPARE * steady:
        return f"DC amperes, {settled}"
    if start > METER_FUSE_A:
        return (
            f"DC amperes, {settled}; bridge the meter with a wire while it starts (up to {phrase(start, 'current')}), "
            "take the wire off once it runs evenly"
        )
    return f"DC amperes: start on the {meter_range(start, 'current')}; once it runs evenly, {settled}"


def _step(
    id: str,
    title: str,
    where: str,
    instrument: str,
    setting: str,
    expected: Node,
    unit: str,
    share: float,
    reason: str,
    caution: str = "",
    extra: float = 0.0,
) -> Step:
    low = high = None
    if expected.value is not None:
        spread = 2 * (doubt_of(expected).standard or 0.0)
        width = math.hypot(spread, share * abs(expected.value), extra)
        low, high = expected.value - width, expected.value + width
        if expected.value >= 0 and expected.kind.zero_based:
            low = max(low, 0.0)
    return Step(
        id=id,
        title=title,
        where=where,
        instrument=instrument,
        setting=setting,
        expected=expected,
        kind=expected.kind.name,
        unit=unit,
        low=low,
        high=high,
        reason=reason,
        caution=caution,
    )


def steps(at: Context, chosen: Driving | None, counts_per_turn: Figure) -> tuple[Step, ...]:
    """The test sheet of one drive, in the order in which it is safe to do it."""
    found = [*_power(at, chosen), *_signals(at), *_motor(at, chosen)]
    if at.drive.has_encoder:
        counts = rules.counts_for_ten(counts_per_turn)
        per_angle = (counts_per_turn.value or 0.0) / (2 * math.pi)
        found.append(
            _step(
                "counts",
                title="Encoder, ten turns of the output by hand",
                where="Counter in the program, power off the motor",
                instrument="Program's counter",
                setting="Reset it, turn ten whole turns against a mark, read it",
                expected=counts,
                unit="counts",
                share=0.0,
                reason="a mark is met to about ±4°; a lost count shows as more",
                extra=per_angle * MARK_ANGLE + 1,
            )
        )
    return tuple(found)


def _power(at: DriveContext, chosen: Driving | None) -> list[Step]:
    source = at.volts
    full, flat = source.full.value, source.flat.value
    setting = "DC volts, " + (meter_range(full, "voltage") if full else "highest range first")
    rest = Step(
        id="rail",
        title="Source at rest",
        where="Fuse, out side, to ground",
        instrument="Meter",
        setting=setting,
        expected=source.nominal,
        kind="voltage",
        unit="V",
        low=flat,
        high=full,
        reason="between flat and full",
        caution="Fuse first, at the battery. Check polarity before the driver is joined.",
    )
    found = [rest]
    if at.regulator is not None:
        output = at.regulator.output_v.leaf
        found.append(
            _step(
                "logic",
                title="Logic rail",
                where="Controller, supply pin to ground",
                instrument="Meter",
                setting="DC volts, "
                + (meter_range(output.value, "voltage") if output.value else "highest range first"),
                expected=output,
                unit="V",
                share=RAIL_SHARE,
                reason="regulators are made to about ±5 % (common practice)",
            )
        )
    quiet = _quiet(at)
    if quiet is not None:
        own: Node = (
            chosen.part.quiescent_a.leaf
            if chosen is not None
            else Leaf(f"{at.unit.path}.part", "a driver part", quiet.kind, None)
        )
        idle = rules.idle_current(own, quiet)
        limit = max(1.2 * idle.value, idle.value + 0.02) if idle.value is not None else None
        found.append(
            _step(
                "idle",
                title="Idle current, motor stopped",
                where="In series at the fuse",
                instrument="Meter, current in series",
                setting=(
                    "Bench supply limited to " + phrase(limit, "current") + "; meter on its highest range first"
                    if limit
                    else "Highest range first"
                ),
                expected=idle,
                unit="mA",
                share=IDLE_SHARE,
                reason="own currents are typical values, ±30 %",
                caution="Move the meter's lead back to volts afterwards: left in the current socket it is a short.",
            )
        )
    return found


def _quiet(at: DriveContext) -> Node | None:
    """What is drawn while the motor rests, beside the driver: by the logic, or by a timer circuit; None without
    either."""
    if at.drive.signals.told_by == "timer":
        return at.drive.signals.timer.own_current.leaf
    return at.regulator.load.leaf if at.regulator is not None else None


def _signals(at: DriveContext) -> list[Step]:
    told = at.drive.signals.told_by
    if told == "hand":
        return []
    if told == "level":
        return [_level(at)]
    return _timer(at) if told == "timer" else _pulses(at)


CLIP = "Ground clip to the controller's ground, never to a bridge output: the clip is earth."


def _level(at: DriveContext) -> Step:
    """What a controller's output gives the driver's input."""
    high = at.controller.output_high.leaf
    return _step(
        "on_level",
        title="Level, switched on, motor unplugged",
        where="Controller's pin, before its transistor" if turned_round(at.unit, at.part) else "Driver, its input",
        instrument="Meter",
        setting="DC volts, " + (meter_range(high.value, "voltage") if high.value else "highest range first"),
        expected=at.controller.logic_v.leaf,
        unit="V",
        share=LEVEL_SHARE,
        reason="an output that is lightly loaded comes up to its own supply, ±10 %",
    )


def _timer(at: DriveContext) -> list[Step]:
    """The timer circuit's pace, and its knob at both ends."""
    made, spec = of_drive(at.build, at.drive), at.drive.signals.timer
    setting = "Probe ×10, DC coupling"
    if made.frequency.value and made.high.value:
        setting = scope_setting(made.high.value, made.frequency.value)
    clip = "Ground clip to the timer's ground, never to a motor lead: the clip is earth."
    tolerances = math.hypot(spec.pot_tolerance.value or 0.0, spec.capacitor_tolerance.value or 0.0)
    ends = (
        ("knob_low", "PWM duty, knob turned down, motor unplugged", made.least),
        ("knob_high", "PWM duty, knob turned up, motor unplugged", made.greatest),
    )
    return [
        _step(
            "frequency",
            title="PWM frequency, motor unplugged",
            where="Timer's output",
            instrument="Oscilloscope",
            setting=setting,
            expected=made.frequency,
            unit="kHz",
            share=tolerances,
            reason="the tolerances of potentiometer and capacitor together",
            caution=clip,
        ),
        *(
            _step(
                id,
                title=title,
                where="Timer's output",
                instrument="Oscilloscope",
                setting=setting,
                expected=expected,
                unit="%",
                share=0.0,
                reason="tracks have a dead end of a few per cent, and one per cent to read it off the screen",
                caution=clip,
                extra=TRACK_END,
            )
            for id, title, expected in ends
        ),
    ]


LEVEL_SHARE = 0.1
TRACK_END = 0.03
"""Share of a potentiometer's turn in which its track does nothing (common practice, no source)."""


def _pulses(at: DriveContext) -> list[Step]:
    plan, level = at.plan, at.controller.logic_v.value
    setting = "Probe ×10, DC coupling"
    if plan.frequency.value and level:
        setting = scope_setting(level, plan.frequency.value)
    centre = at.drive.signals.alignment == "centre"
    span = plan.top if centre else rules.edge_span(plan.top)
    duty = rules.half_duty(span, because=[at.drive.signals.chosen("alignment")])
    one_step = 1 / span.value if span.value else 0.0
    clip = CLIP
    return [
        _step(
            "frequency",
            title="PWM frequency, motor unplugged",
            where="Driver, PWM input",
            instrument="Oscilloscope",
            setting=setting,
            expected=plan.frequency,
            unit="kHz",
            share=at.controller.clock_tolerance.value or 0.01,
            reason="the controller's clock tolerance",
            caution=clip,
        ),
        _step(
            "duty",
            title="PWM duty, half commanded",
            where="Driver, PWM input",
            instrument="Oscilloscope",
            setting=setting,
            expected=duty,
            unit="%",
            share=0.0,
            reason="one step of the timer, and one per cent to read it off the screen",
            caution=clip,
            extra=one_step + 0.01,
        ),
    ]


def _motor(at: Context, chosen: Driving | None) -> list[Step]:
    part = chosen.part if chosen is not None else None
    drop: Node = part.drop_v.leaf if part else NO_VOLTS
    on: Node = part.on_resistance.leaf if part else NO_OHMS
    round_r = driver_rules.loop_resistance(
        at.volts.resistance,
        at.supply_wire.resistance,
        on,
        at.motor_wire.resistance,
        at.motor.resistance_25,
        case="no load, 25 °C",
    )
    k_e, friction, viscous = at.motor.motor_constant, at.motor.friction_a, at.motor.viscous
    speed = rules.free_speed(at.volts.nominal, drop, at.motor.brush_drop, friction, round_r, k_e, viscous)
    current = motor_rules.friction_current(friction, viscous, k_e, speed, case="no load", title="No-load current")
    full = "full duty" if at.drive.signals.pulsed else "switched on"
    counts = at.drive.has_encoder
    # Nothing on the shaft shortens the start; it does not make it smaller.
    soft = at.drive.signals.ramped
    start = at.starting_current.value
    if not soft:
        start = chosen.circuit.stall_full.value if chosen is not None else None
    return [
        _step(
            "no_load_a",
            title=f"No-load current, {full}",
            where="In series with one motor lead",
            instrument="Meter, current in series",
            setting=series_setting(current.value, start),
            expected=current,
            unit="A",
            share=CURRENT_SHARE,
            reason="friction changes with grease and temperature, ±15 %",
            caution="Uncouple the motor and hold it down: it jumps as it starts. Keep hair and sleeves away.",
        ),
        _step(
            "no_load_speed",
            title=f"No-load speed, {full}",
            where="Motor shaft, by the encoder's counts" if counts else "Motor shaft, against a mark on it",
            instrument="Program's speed reading" if counts else "Tachometer, or a film of the mark",
            setting=f"{full.capitalize()}, supply near nominal",
            expected=speed,
            unit="rpm",
            share=SPEED_SHARE,
            reason="the supply between nominal and full, ±5 %",
        ),
    ]


def load_steps(at: LoadContext, chosen: Driving | None) -> tuple[Step, ...]:
    """The test sheet of a solenoid, a pump or a lamp."""
    current = at.load.working_current
    running = _step(
        "on_a",
        title="Current, switched on",
        where="In series with the load",
        instrument="Meter, current in series",
        setting=series_setting(at.load.on_current.value, at.load.peak_current.value),
        expected=current,
        unit="A",
        share=CURRENT_SHARE,
        reason="coils and pumps are made to about ±15 %",
        caution="A meter shows the mean: the inrush is over before it settles.",
    )
    return (*_power(at, chosen), *_signals(at), running)


def servo_steps(spec: ServoSpec, result: ServoResult) -> tuple[Step, ...]:
    """The test sheet of a servo: its rail, its pulse, its currents and its time."""
    rail = result.rail
    level = rail.value or 5.0
    pulse = scope_setting(level, spec.frame.value) if spec.frame.value else "Probe ×10, DC coupling"
    return (
        _step(
            "servo_rail",
            title="Servo rail",
            where="Servo plug, middle pin to dark wire",
            instrument="Meter",
            setting="DC volts, " + meter_range(level, "voltage"),
            expected=rail,
            unit="V",
            share=RAIL_SHARE,
            reason="regulators are made to about ±5 % (common practice)",
            caution=(
                "Ground is the dark wire, positive the middle one, signal the light one (common practice): check yours."
            ),
        ),
        _step(
            "servo_pulse",
            title="Pulse in the middle, horn off",
            where="Servo plug, light wire",
            instrument="Oscilloscope",
            setting=pulse,
            expected=result.middle_pulse,
            unit="ms",
            share=0.02,
            reason="the controller's clock and one step of its timer",
            caution="Hold at the middle while the horn is fitted.",
        ),
        _step(
            "servo_idle",
            title="Idle current, horn free",
            where="In series with the middle wire",
            instrument="Meter, current in series",
            setting="DC amperes, "
            + (meter_range(spec.idle_a.value, "current") if spec.idle_a.value else "highest range first"),
            expected=spec.idle_a.leaf,
            unit="mA",
            share=1.0,
            reason="a class figure: servos differ by a factor of two",
        ),
        _step(
            "servo_time",
            title="Time for the move, under its load",
            where="At the horn, by a stop-watch or a film",
            instrument="Stop-watch",
            setting="Ten moves there and back, time over twenty",
            expected=result.transit_time,
            unit="s",
            share=0.3,
            reason="start and stop are not in the sum, ±30 %",
            caution="Keep fingers out of the linkage: a servo does not feel them.",
        ),
    )
