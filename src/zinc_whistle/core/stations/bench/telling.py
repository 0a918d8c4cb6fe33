"""How a drive is told to run at the bench: a line for the port, or what to press."""

from __future__ import annotations

from dataclasses import replace

from ...cases.operating import DriveContext
from .step import Step

PER_MILLE = 1000
BY_PORT = "serial"


def ordered(step: Step, at: DriveContext, duty: float, off: bool = True) -> Step:
    """A step with what makes the drive run at a duty (1: full): lines, where the port commands it; else what to press.

    Nothing for a drive that no program tells: its step says it already."""
    if not at.drive.signals.by_program:
        return step
    if at.drive.panel.command == BY_PORT:
        # A board that has just been switched on, or was stopped, answers ok and waits until it is cleared.
        lines = ["clear", f"duty {{n}} {round(duty * PER_MILLE)}", *(["duty {n} 0"] if off else [])]
        return replace(step, type=tuple(lines))
    press = "Press forward."
    if at.drive.signals.pulsed and duty < 1:
        press = "Press forward, the knob in the middle." if at.drive.panel.speed_by == "knob" else (
            "Its buttons know no half: let the port command it for this step, under Signals, Panel."
        )  # fmt: skip
    return replace(step, do=f"{press} {step.do}".strip())
