"""What a drive's own program does of a move, and what is typed to tune it: its panel and its numbers."""

from __future__ import annotations

from dataclasses import dataclass

from ..assess import MotorAssessment
from ..panel.runtime import Panel
from ..panel.settings import Settings
from ..stations.signals.panel import lines_for
from ..stations.signals.panel_settings import adds_in_fine, gain_in_fine
from .plan import TICK_MS, numbers_of


@dataclass(frozen=True, slots=True)
class OwnProgram:
    """The panel as the program runs it, homed and idle, and how often it looks (s)."""

    panel: Panel
    tick_s: float


def _in_ticks(done: MotorAssessment) -> tuple[Settings, int] | None:
    """The program's numbers in its own rounds, and ms of one; None where it cannot be made yet."""
    tick = TICK_MS.get(done.context.controller.program, 1)
    try:
        return numbers_of(done).in_ticks(tick), tick
    except ValueError:
        return None


def program_for_moves(done: MotorAssessment) -> OwnProgram | None:
    """None where the panel makes no moves, or where the program cannot be made yet."""
    machine, lines, told = done.panel.machine, lines_for(done.context), _in_ticks(done)
    if machine is None or lines is None or told is None or "ahead" not in machine.inputs:
        return None
    panel = Panel(machine, lines, told[0])
    # Waiting is left once nothing is pressed; a move to a count asks for homing first.
    panel.tick({})
    panel.homed = True
    return OwnProgram(panel, told[1] / 1000)


def tuned_by_port(done: MotorAssessment, number: int | None, gain: float, integral_s: float | None) -> str:
    """What to type at the port to try a gain (duty per rad/s) and an integral time until power goes; nothing where the
    program closes no loop, or cannot count so little."""
    told = _in_ticks(done)
    loop = told[0].loop if told is not None else None
    if number is None or told is None or loop is None or not loop.closed:
        return ""
    fine = gain_in_fine(gain, told[0].full)
    return f"tune {number} {fine} {adds_in_fine(fine, loop.period_ms * told[1], integral_s)}" if fine else ""


def homing_numbers(done: MotorAssessment) -> tuple[float, float, float]:
    """Duty of homing (a share; the working one where none is given), the ramp up to it and the debounce time (s), as
    the program holds them. ValueError where one is not known yet."""
    settings = numbers_of(done)
    duty = (settings.home or settings.wanted) / settings.full
    return duty, duty * settings.ramp_ms / 1000, settings.debounce_ms / 1000
