"""Loop: the step response."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..core.assess import MotorAssessment
from ..core.stations.loop.compute import simulated
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
    )


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
        ),
    )


SHEETS = {
    "motor": StationSheet(
        sections=lambda asked: [asked.describer.section(asked.done.drive.loop, "Speed loop")],
        figures=lambda asked: _figures_of(asked.done),
        picture=lambda asked: loop(asked.done),
        hint=lambda asked: no_program(asked.done.drive, "closes a loop"),
    )
}
