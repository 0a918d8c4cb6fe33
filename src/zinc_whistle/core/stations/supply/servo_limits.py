"""Checks of a servo's rail."""

from __future__ import annotations

from ...algebra.limits import Check, claim, lower, upper
from ...cases.servo import ServoResult
from ...model.servo import ServoSpec

STATION = "supply"


def checks(spec: ServoSpec, result: ServoResult, drive: str, rail_named: bool) -> list[Check]:
    """The rail is named, and its volts suit the servo."""
    named = claim(
        "servo.rail",
        station=STATION,
        title="The servo's rail is named",
        holds=True if rail_named else None,
        todo="",
        drive=drive,
        unknown="Not known yet: name its rail at Supply.",
        destructive=False,
    )
    if result.rail.value is None:
        return [named]
    return [
        named,
        upper(
            "servo.volts_high",
            station=STATION,
            title="Rail, highest",
            stress=result.any_rail,
            bound=spec.high_v.leaf,
            todo="Give it a lower rail: a regulator of its own.",
            drive=drive,
            where=f"{spec.path}.high_v",
        ),
        lower(
            "servo.volts_low",
            station=STATION,
            title="Rail, lowest",
            stress=result.any_loaded,
            bound=spec.low_v.leaf,
            todo="Give it a higher rail, or one that gives more: servos that jam draw their stall currents together.",
            drive=drive,
            where=f"{spec.path}.low_v",
            destructive=False,
            over="warn",
        ),
    ]
