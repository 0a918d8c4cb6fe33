"""Loop: the step response."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np

from ..core.assess import MotorAssessment
from ..core.model.loop import LoopSpec
from ..core.panel.settings import FINE
from ..core.program.plan import numbers_of
from ..core.stations.loop.compute import simulated
from .fields import Describer, Section
from .inputs import Shown, StationSheet, no_program, shown
from .scale import in_unit, one_in, thin


@dataclass(frozen=True, slots=True, kw_only=True)
class LoopPicture:
    """Step response: s, rpm at the motor, duty %, A; with target and the band of 2 %."""

    time_s: list[float]
    speed_rpm: list[float]
    duty_pct: list[float]
    current_a: list[float]
    target_rpm: float | None
    final_rpm: float | None
    settling_s: float | None
    note: str
    fitted: bool = True
    gain_pct_per_rpm: float | None = None
    integral_ms: float | None = None
    whole: str = ""
    """What whole numbers make of gain and integral time in the program."""
    kind: Literal["loop"] = "loop"


def loop(done: MotorAssessment) -> LoopPicture:
    """The step response, from rest to the working speed."""
    step = simulated(done.loop)
    if step is None:
        return LoopPicture(
            time_s=[],
            speed_rpm=[],
            duty_pct=[],
            current_a=[],
            target_rpm=None,
            final_rpm=None,
            settling_s=None,
            note=done.loop.overshoot.reason,
            **_given(done),
        )
    end = len(step.time_s)
    if step.settling_s is not None:
        end = min(end, max(int(np.searchsorted(step.time_s, 2.5 * step.settling_s)) + 2, 12))
    time, speed, duty, current = thin(step.time_s[:end], step.speed[:end], step.duty[:end], step.current_a[:end])
    return LoopPicture(
        time_s=[float(f"{t:.6g}") for t in time],
        speed_rpm=in_unit(speed, "rpm"),
        duty_pct=in_unit(duty, "%"),
        current_a=in_unit(current, "A"),
        target_rpm=one_in(step.target, "rpm"),
        final_rpm=one_in(step.final, "rpm"),
        settling_s=step.settling_s,
        note="",
        **_given(done),
    )


def _given(done: MotorAssessment) -> dict[str, Any]:
    spec = done.drive.loop
    gain, integral = spec.gain.value, spec.integral.value
    return {
        "fitted": done.drive.has_encoder,
        "gain_pct_per_rpm": 100 * gain * math.pi / 30 if gain is not None else None,
        "integral_ms": 1000 * integral if integral is not None else None,
        "whole": _whole(done),
    }


def _whole(done: MotorAssessment) -> str:
    """The loop as the program holds it; nothing where it has none yet."""
    try:
        settings = numbers_of(done)
    except ValueError:
        return ""
    loop = settings.loop
    if loop is None or not loop.closed:
        return ""
    gain = 100 * loop.gain_fine / FINE / settings.full
    said = f"In the program: {gain:.3g} %/rpm, in steps of {100 / FINE / settings.full:.2g}"
    if loop.integral_fine:
        said += f"; integral time {loop.gain_fine * loop.period_ms / loop.integral_fine:.3g} ms"
    smallest = "One step of the converter" if loop.tacho else "One count in a period"
    return f"{said}. {smallest} is {loop.rpm_per_count_fine / FINE:.3g} rpm: it may hunt by as much."


def _figures_of(done: MotorAssessment) -> Shown:
    r = done.loop
    if not done.drive.closes_loop:
        return "open, no loop", []
    return shown(
        "step from rest to the working speed",
        (
            (r.overshoot, "%"),
            r.settling,
            (r.droop, "%"),
            r.peak_current,
            (r.damping, "1"),
            r.load_torque,
            *(((r.gain_margin, "1"),) if r.gain_margin.value is not None else ()),
            *(((r.phase_margin, "°"),) if r.phase_margin.value is not None else ()),
            *(((r.sensitivity, "1"),) if r.sensitivity.value is not None else ()),
            (r.suggested_gain, "%/rpm"),
            (r.suggested_integral, "ms"),
        ),
    )


OF_A_CLOSED_ONE = ("gain", "integral", "period", "feed_forward", "overshoot_allowed", "settling_allowed")


def _section(spec: LoopSpec, d: Describer) -> Section:
    return d.section(spec, "Speed loop", idle=OF_A_CLOSED_ONE if spec.closed == "no" else ())


SHEETS = {
    "motor": StationSheet(
        sections=lambda asked: [_section(asked.done.drive.loop, asked.describer)],
        figures=lambda asked: _figures_of(asked.done),
        picture=lambda asked: loop(asked.done),
        hint=lambda asked: no_program(asked.done.drive, "closes a loop"),
    )
}
