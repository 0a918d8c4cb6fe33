"""Strips of the driver's lines in time: one PWM period with its dead time, and a whole change of direction."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from .lines import Lines, is_pulsed
from .machine import Machine
from .runtime import Panel
from .settings import Settings

LONGEST_MS = 60_000


@dataclass(frozen=True, slots=True)
class StripSegment:
    """A piece of a strip: how long it lasts (s), the levels of the lines in it, and what happens."""

    seconds: float
    levels: Mapping[str, str]
    says: str


def period(lines: Lines, frequency_hz: float, duty: float, dead_s: float, decay: str) -> list[StripSegment]:
    """One period forwards, edge by edge. ``duty`` is the working one; a complementary gate gets its dead time."""
    levels, length = lines.levels["forward"], 1 / frequency_hz
    share = (1 + duty) / 2 if lines.opposed else duty
    on = {n: "1" if v in ("PWM", "1") else "0" for n, v in levels.items()}
    off = {n: "1" if v in ("not PWM", "1") else "0" for n, v in levels.items()}
    both = any(v == "not PWM" for v in levels.values())
    falls = {
        "slow": "the current goes on round through the bridge, and falls slowly",
        "fast": "the current runs back into the supply, and falls fast",
        "locked anti-phase": "the supply stands against the motor, and the current falls fast",
    }[decay]
    if not both:
        made = [StripSegment(share * length, on, "the supply drives the motor, and the current rises")]
        return [*made, StripSegment((1 - share) * length, off, falls)] if share < 1 else made
    quiet = {n: "0" if is_pulsed(v) else v for n, v in levels.items()}
    dead = min(dead_s, share * length / 2, (1 - share) * length / 2)
    return [
        StripSegment(share * length - dead, on, "upper gate on: the supply drives the motor, and the current rises"),
        StripSegment(dead, quiet, "dead time: both gates off, a diode carries the current"),
        StripSegment((1 - share) * length - dead, off, f"lower gate on: {falls}"),
        StripSegment(dead, quiet, "dead time: both gates off, a diode carries the current"),
    ]


def changeover(machine: Machine, lines: Lines, settings: Settings) -> list[StripSegment]:
    """From full forward to full back, as the panel does it: forward is let go, back is pressed. Empty for one way.

    Played on the panel itself, a millisecond at a time; pieces in which nothing changes are joined.
    """
    if "back" not in machine.inputs:
        return []
    panel = Panel(machine, lines, settings)
    quiet = dict.fromkeys(machine.inputs, False)
    ready = {"knob_zero": True} if "knob_zero" in machine.inputs else {}
    for _ in range(2 * settings.debounce_ms + settings.pause_ms + 5):
        panel.tick(quiet, ready)
    _hold(panel, "forward", "forward")
    if panel.mode not in ("forward", "starting_forward"):
        return []
    for name in ("forward", "starting_forward"):
        if panel.mode == name and name != "forward":
            _hold(panel, "", "forward")
    if "slowing_forward" not in machine.by_name:
        return []
    return _record(panel, machine, settings)


def _hold(panel: Panel, pressed: str, until: str) -> None:
    """Hold a button (or none) until a mode is reached and its level has settled."""
    before = -1
    for _ in range(LONGEST_MS):
        now = panel.tick({pressed: True} if pressed else {})
        if now.mode.endswith(until) and now.level == before and now.level >= panel.settings.wanted:
            return
        before = now.level


def _record(panel: Panel, machine: Machine, settings: Settings) -> list[StripSegment]:
    touch = any(n.startswith("starting_") for n in machine.by_name)
    found: list[tuple[int, tuple[tuple[str, str], ...], str]] = []
    pressed = "forward" if touch else "back"
    for k in range(LONGEST_MS):
        if touch and k > 2 * settings.debounce_ms + 5:
            pressed = "" if panel.mode in ("slowing_forward", "resting") else "back"
        now = panel.tick({pressed: True} if pressed else {})
        shown = tuple(now.lines.items())
        says = machine.by_name[now.mode].says
        if found and found[-1][1:] == (shown, says):
            found[-1] = (found[-1][0] + 1, *found[-1][1:])
        else:
            found.append((1, shown, says))
        if now.action == "back" and now.level >= settings.wanted:
            break
    return [StripSegment(ms / 1e3, dict(levels), says) for ms, levels, says in found]
