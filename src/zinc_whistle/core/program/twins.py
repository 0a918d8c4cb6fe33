"""Two controllers that run one program: which is the other, and why one program could not serve both."""

from __future__ import annotations

from ..model.build import Build
from ..model.signals import Controller
from .planned import DriveProgram, NotYet, ProgramPlan, ServoProgram


def other_of_two(build: Build, controller: Controller) -> Controller:
    """The other of two that run one program. NotYet where there is none, or more than one."""
    role = "second" if controller.node == "first" else "first"
    others = [c for c in build.controllers if c.node == role]
    if len(others) != 1 or sum(c.node == controller.node for c in build.controllers) != 1:
        raise NotYet(["One program for two needs one controller that is the first and one that is the second."])
    return others[0]


DIFFER = {
    "panel": "what stands on their panels",
    "machine": "what their panels do",
    "lines": "what their drivers are told",
    "settings": "their numbers",
    "timing": "their timers",
    "pins": "their pins",
    "dead_steps": "their dead times",
    "contacts": "their contacts",
    "counting": "their encoders",
    "pin": "their pins",
    "low_us": "their pulses",
    "high_us": "their pulses",
}
"""What two drives may differ in, by the names in their programs."""


def differences(one: ProgramPlan, other: ProgramPlan) -> list[str]:
    """Why one program cannot serve two controllers; nothing where it can."""
    found = []
    if one.scripts or one.guards or one.steering is not None:
        found.append("One program for two: both would follow one order of a sequence, an interlock or the steering.")
    for what in ("program", "clock_hz"):
        a, b = (getattr(x.controller, what) if what == "program" else x.clock_hz for x in (one, other))
        if a != b:
            found.append("One program for two: the controllers differ in their language or clock.")
    if one.identity is None or other.identity is None or one.identity.label != other.identity.label:
        found.append("One program for two: the identity pin is not the same on both.")
    if len(one.drives) != len(other.drives) or len(one.servos) != len(other.servos):
        return [*found, "One program for two: they have not the same number of drives and servos."]
    pairs: list[tuple[DriveProgram | ServoProgram, DriveProgram | ServoProgram]] = [
        *zip(one.drives, other.drives, strict=True),
        *zip(one.servos, other.servos, strict=True),
    ]
    for a_drive, b_drive in pairs:
        # Compared as they are printed: where in the build a part stands is no difference.
        apart = {DIFFER[n] for n in DIFFER if repr(getattr(a_drive, n, None)) != repr(getattr(b_drive, n, None))}
        if apart:
            found.append(
                f"One program for two: “{a_drive.name}” and “{b_drive.name}” differ in {', '.join(sorted(apart))}."
            )
    return found
