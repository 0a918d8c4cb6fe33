"""A drive that is on or off: what it does without pulses, held against what is wanted of it."""

from __future__ import annotations

from collections.abc import Iterator

from ...algebra.findings import Remedy
from ...algebra.limits import Check, claim, upper
from ...algebra.nodes import Constant
from ...cases.operating import DriveContext
from ...laws import load as load_rules
from .window import STATION

MUCH_FASTER = Constant("1.2", 1.2, "ratio", "common practice, no source: a fifth is what a mechanism rarely minds")


def checks(at: DriveContext) -> Iterator[Check]:
    """Nothing sets the speed, ramps the start or holds with less: is that what is wanted?"""
    spec = at.drive.signals
    where = f"{spec.path}.told_by"
    pulses = Remedy("A controller's pulses set the speed", where, "pulses") if spec.told_by == "level" else None
    if (motor := at.of_motor) is not None:
        yield upper(
            "signals.too_fast",
            station=STATION,
            title="Speed on, against a fifth more than wanted",
            stress=motor.any_speed,
            bound=load_rules.speed_by_share(motor.load.motor_speed, MUCH_FASTER),
            todo="Nothing holds it back: gear down, take less supply or a slower motor, or set its speed by pulses.",
            drive=at.drive.id,
            over="warn",
            where=where,
            destructive=False,
            remedy=pulses,
        )
    elif (held := at.of_load) is not None and held.drive.load.kind == "solenoid":
        less = held.drive.load.hold_duty
        yield claim(
            "signals.hold",
            station=STATION,
            title="It is held as it is meant to be",
            holds=None if less.value is None else less.value >= 1,
            todo="Holding with less than the full current takes pulses: here it is held with all of it, as its heat "
            "counts it.",
            drive=at.drive.id,
            over="warn",
            where=f"{held.drive.load.path}.hold_duty",
            destructive=False,
            unknown="Not known yet: give the holding duty.",
            remedy=pulses,
        )
