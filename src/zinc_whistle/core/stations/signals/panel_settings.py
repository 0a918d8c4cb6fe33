"""The whole numbers that a program holds of a drive's panel, ramp and loop."""

from __future__ import annotations

import math

from ...algebra.nodes import Figure
from ...cases import breakaway
from ...cases.circuit import DriveCircuit
from ...cases.driving import sense_of
from ...cases.operating import Context, DriveContext
from ...model.panel import PanelSpec
from ...panel.settings import FINE, MILLIAMPS, MOST_GAIN, SPEED_FINE, Approach, Loop, Settings
from .compute import SignalsResult

RPM = 30 / math.pi
"""Revolutions a minute in one radian a second."""


def settings_of(
    at: DriveContext,
    solved: DriveCircuit,
    signals: SignalsResult,
    per_turn: Figure | None,
    full: int | None = None,
) -> Settings:
    """The numbers that a program holds. ``full`` is the top of the level (None: the timer's). ValueError where one is
    not known yet."""
    spec, panel, plan = at.drive.signals, at.drive.panel, at.plan
    duty, top = solved.duty_nominal.value, plan.top.value
    if not spec.pulsed:
        # On is the whole of one step, whatever the language's pulses would count to.
        full, duty, top = full or 1, 1.0, 1.0
    if duty is None or top is None:
        raise ValueError("Not known yet: the working duty and a timer for the pulses.")
    own = full if full is not None else int(top)
    steps = own if spec.alignment == "centre" or full is not None else own + 1
    wanted = min(max(round(duty * steps) - (steps - own), 1), own)
    ramp = signals.ramp.value or 0.0
    # The ramp's time is to the working duty; a program's ramp is from nothing to full.
    ramp_ms = round(ramp * 1e3 * own / wanted) if spec.ramped else 0
    first = breakaway.first_duty(motor, solved) if (motor := at.of_motor) is not None else None
    offset = round((first.value or 0.0) * own) if first is not None else 0
    loop = _loop(at, solved, per_turn, own)
    step = _milliamps(at)
    return Settings(
        full=own,
        wanted=wanted,
        ramp_ms=ramp_ms,
        pause_ms=_ms(panel.pause.value),
        debounce_ms=_ms(panel.debounce.value),
        watch_ms=_ms(panel.watch_time.value),
        link_ms=_ms(panel.link_time.value),
        coil_ms=_ms(at.unit.relay_pause_s),
        offset=min(offset, own),
        knob_full=(1 << int(at.controller.sense_bits.value or 10)) - 1,
        home=min(round((panel.home_duty.value or 0.0) * own), own) if spec.pulsed else 0,
        trip=_trip(at, step),
        trip_ms=_ms(panel.trip_time.value) if panel.trip == "yes" else 0,
        milliamps_fine=step,
        ends=_ends(panel),
        loop=loop,
        most=max(round(panel.most_duty.value * own), 1) if panel.most_duty.value is not None and spec.pulsed else 0,
        approach=_approach(at, per_turn, wanted, own),
        watch_from=min(loop.level_of(1), own) if loop is not None else 1,
    )


def _milliamps(at: DriveContext) -> int:
    """What one of 1023 steps at the sense pin stands for (1/256 mA); 0 where nothing is sensed."""
    reference = at.controller.sense_reference.value
    gain = sense_of(at, at.part).value if at.part is not None and at.part.sense_gain.value is not None else None
    return round(reference / 1023 / gain * 1000 * MILLIAMPS) if gain and reference else 0


def _trip(at: DriveContext, step: int) -> int:
    """The reading above which the panel fails. ValueError where it is to, and cannot."""
    panel = at.drive.panel
    if panel.trip == "no":
        return 0
    if panel.trip_a.value is None:
        raise ValueError("Not known yet: the current above which it stops.")
    if not step:
        raise ValueError("it stops above a current, but nothing tells it the current.")
    return max(round(panel.trip_a.value * 1000 * MILLIAMPS / step), 1)


def _ends(panel: PanelSpec) -> tuple[int, int] | None:
    """The counts between which it drives, where they are counted from power-up. ValueError where one is missing."""
    if panel.moves != "relative":
        return None
    if panel.end_front.value is None or panel.end_back.value is None:
        raise ValueError("Not known yet: the ends in counts of its moves.")
    return int(panel.end_back.value), int(panel.end_front.value)


MOST_WITHIN = 32767
CREEPS = 5
"""Without a duty of homing it creeps at one part in so many of its own."""


def _approach(at: DriveContext, per_turn: Figure | None, wanted: int, full: int) -> Approach | None:
    """How a move nears its place. ValueError where the stretch over which it slows down is not known."""
    panel, motor = at.drive.panel, at.of_motor
    if panel.moves == "no" or panel.approach == "all" or motor is None:
        return None
    home = round((panel.home_duty.value or 0.0) * full) if panel.homing != "none" else 0
    creep = max(home or wanted // CREEPS, 1)
    if panel.approach == "creep":
        return Approach(0, creep)
    within, ratio = panel.slow_within.value, motor.drive.load.gear_ratio.value
    counts = per_turn.value if per_turn is not None else None
    if within is None or counts is None or ratio is None:
        raise ValueError("Not known yet: the angle within which it slows down, in counts of its encoder.")
    return Approach(min(max(round(within * ratio * counts / (2 * math.pi)), 1), MOST_WITHIN), creep)


def _ms(seconds: float | None) -> int:
    return max(round((seconds or 0.0) * 1e3), 1)


def _loop(at: DriveContext, solved: DriveCircuit, per_turn: Figure | None, full: int) -> Loop | None:
    motor, turning = at.of_motor, solved.of_motor
    if motor is None or turning is None:
        return None
    spec, tacho = motor.drive.loop, motor.drive.has_tacho
    if not tacho and (per_turn is None or not at.drive.has_encoder):
        return None
    counts = 1.0 if tacho or per_turn is None else per_turn.value
    step = _tacho_rpm(motor) if tacho else 0.0
    if step is None:
        raise ValueError("Not known yet: the tacho's volts, its divider and the converter's reference.")
    volts, constant, current = at.volts.nominal.value, motor.motor.motor_constant.value, at.working_current.value
    ohms = turning.inner_resistance.value
    if not counts or not volts or not constant or current is None or ohms is None:
        return None
    period = _ms(spec.period.value)
    gain = spec.gain.value if spec.closed == "yes" else None
    top_rpm = volts / constant * RPM
    drop_rpm = (ohms * current + (turning.lost_volts.value or 0.0)) / constant * RPM
    return Loop(
        period_ms=period,
        rpm_per_count_fine=round(step * FINE) if tacho else round(60_000 * FINE / (counts * period)),
        tacho=tacho,
        rpm_per_level_fine=max(round(min(top_rpm, MOST_RPM) * SPEED_FINE / full), 1),
        rpm_drop=round(drop_rpm),
        gain_fine=gain_in_fine(gain, full) if gain else 0,
        closed=bool(gain),
        integral_fine=adds_in_fine((gain or 0.0) / RPM * full * FINE, period, spec.integral.value),
    )


def _tacho_rpm(at: Context) -> float | None:
    """What a step of a tacho's reading is at the motor (rpm)."""
    spec, ratio, reference = at.drive.encoder, at.drive.load.gear_ratio.value, at.controller.sense_reference.value
    before = {"motor": 1.0, "between": spec.before.value, "output": ratio}[spec.place]
    volts, divider = spec.tacho_v.value, spec.divider.value
    if not reference or not volts or not divider or not before:
        return None
    return reference * divider * before / (1023 * volts) * RPM


def gain_in_fine(gain: float, full: int) -> int:
    """A gain (duty per rad/s) as a program counts it: 1/256 level per rpm."""
    return min(round(gain / RPM * full * FINE), MOST_GAIN)


def adds_in_fine(gain_fine: float, period_ms: int, integral_s: float | None) -> int:
    """What an error of one rpm adds to the integral in a period (1/256 level); at least one step where one is asked
    for."""
    if integral_s is None or not gain_fine:
        return 0
    return min(max(round(gain_fine * period_ms / (integral_s * 1000)), 1), MOST_GAIN)


MOST_RPM = 30000
"""So that a program's products stay within 32 bits."""
