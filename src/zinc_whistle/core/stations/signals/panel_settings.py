"""The whole numbers that a program holds of a drive's panel, ramp and loop."""

from __future__ import annotations

import math

from ...algebra.nodes import Figure
from ...cases import breakaway
from ...cases.circuit import DriveCircuit
from ...cases.driving import sense_of
from ...cases.operating import DriveContext
from ...model.loop import LoopSpec
from ...model.panel import PanelSpec
from ...panel.runtime import FINE, MILLIAMPS, SPEED_FINE, Loop, Settings
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
    offset = 0
    if spec.pulsed and panel.offset == "yes" and (motor := at.of_motor) is not None:
        offset = round((breakaway.current(motor).value or 0.0) * _around(at, solved) * own)
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


def _ms(seconds: float | None) -> int:
    return max(round((seconds or 0.0) * 1e3), 1)


def _around(at: DriveContext, solved: DriveCircuit) -> float:
    """Duty that one ampere of breakaway current needs at standstill."""
    turning = solved.of_motor
    volts, ohms = at.volts.nominal.value, turning.inner_resistance.value if turning is not None else None
    return ohms / volts if volts and ohms else 0.0


def _loop(at: DriveContext, solved: DriveCircuit, per_turn: Figure | None, full: int) -> Loop | None:
    motor, turning = at.of_motor, solved.of_motor
    if motor is None or turning is None or per_turn is None or not at.drive.has_encoder:
        return None
    counts, spec = per_turn.value, motor.drive.loop
    volts, constant, current = at.volts.nominal.value, motor.motor.motor_constant.value, at.working_current.value
    ohms = turning.inner_resistance.value
    if not counts or not volts or not constant or current is None or ohms is None:
        return None
    period = _ms(spec.period.value)
    gain = spec.gain.value if spec.closed == "yes" else None
    top_rpm = volts / constant * RPM
    drop_rpm = (ohms * current + (turning.lost_volts.value or 0.0)) / constant * RPM
    per_rpm = (gain or 0.0) / RPM
    return Loop(
        period_ms=period,
        rpm_per_count_fine=round(60_000 * FINE / (counts * period)),
        rpm_per_level_fine=max(round(min(top_rpm, MOST_RPM) * SPEED_FINE / full), 1),
        rpm_drop=round(drop_rpm),
        gain_fine=min(round(per_rpm * full * FINE), MOST_GAIN),
        closed=bool(gain),
        integral_fine=_integral(spec, per_rpm * full * FINE, period),
    )


def _integral(spec: LoopSpec, gain_fine: float, period_ms: int) -> int:
    """What an error of one rpm adds to the integral in a period (1/256 level); at least one step where one is asked
    for."""
    time = spec.integral.value
    if time is None or not gain_fine:
        return 0
    return min(max(round(gain_fine * period_ms / (time * 1000)), 1), MOST_GAIN)


MOST_GAIN, MOST_RPM = 32767, 30000
"""So that a program's products stay within 32 bits."""
