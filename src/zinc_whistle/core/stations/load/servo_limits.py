"""Checks of what a servo moves: its torque and its travel."""

from __future__ import annotations

from ...algebra.limits import Check, claim, upper
from ...cases.servo import ServoResult
from ...model.servo import ServoSpec

STATION = "load"


def checks(spec: ServoSpec, result: ServoResult, drive: str) -> list[Check]:
    """Torque against what it gives for good, and the sweep within its travel."""
    found: list[Check] = [
        upper(
            "servo.torque",
            station=STATION,
            title="Torque against half the stall torque",
            stress=result.torque_needed,
            bound=result.any_usable,
            todo="Shorten the horn, take a stronger servo, or give it a higher rail.",
            drive=drive,
            where=f"{spec.path}.force",
            over="warn",
            destructive=False,
        ),
    ]
    if spec.style == "positional":
        found.append(
            claim(
                "servo.travel",
                station=STATION,
                title="The sweep lies within its travel",
                holds=_at_most(result.sweep.value, spec.travel.value),
                todo="Ask for less, gear the horn, or take a servo that turns further.",
                drive=drive,
                where=f"{spec.path}.sweep",
                destructive=False,
                unknown="Not known yet: give sweep and travel.",
            )
        )
        found += [
            claim(
                f"servo.pose.{pose.id}",
                station=STATION,
                title=f"{pose.name or 'The pose'} lies within its travel",
                holds=_at_most(pose.angle.value, spec.travel.value),
                todo="It would run against its end: a smaller angle, or a servo that turns further.",
                drive=drive,
                where=f"{spec.path}.poses",
                destructive=False,
                unknown="Not known yet: give its angle.",
            )
            for pose in spec.poses
        ]
    return found


def _at_most(value: float | None, limit: float | None) -> bool | None:
    return None if value is None or limit is None else value <= limit * (1 + 1e-9)
