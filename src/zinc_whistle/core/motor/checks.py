"""Checks of the readings themselves."""

from __future__ import annotations

from .. import findings as f
from ..doubt import doubt_of, why_unknown
from ..findings import Finding
from .compute import Constants
from .spec import MotorSpec

STATION = "motor"
LOOSE = 0.1
"""A resistance known to worse than ten per cent (k = 2) decides drivers badly."""


def checks(spec: MotorSpec, known: Constants, drive: str) -> list[Finding]:
    """Whether the motor is known, how well, and whether the readings contradict each other."""
    resistance, constant = known.resistance_25, known.motor_constant
    found = [
        f.yes_no("motor.known", STATION, "The motor is known", None if constant.value is None else constant.value > 0,
                 "The no-load volts are less than what the resistance drops: check the no-load readings.", drive=drive,
                 where=f"{spec.path}.no_load_v", unknown=why_unknown(constant)),
    ]  # fmt: skip
    if resistance.value is not None and resistance.value > 0:
        doubt = doubt_of(resistance)
        spread = None if doubt.standard is None else 2 * doubt.standard / resistance.value <= LOOSE
        found.append(f.yes_no(
            "motor.resistance_sure", STATION, "Resistance is known to 10 %", spread,
            "Read more shaft angles, with a larger current, or with a better meter.", drive=drive, over="warn",
            where=f"{spec.path}.locked", destructive=False, unknown="Not known yet: say which meter took the readings.",
        ))  # fmt: skip
    if known.angles and not known.by_slope:
        found.append(f.yes_no(
            "motor.brush_drop", STATION, "Brush drop told from resistance", False,
            "One current per angle counts the brush drop as resistance, so stall current comes out low: "
            "read two currents at each angle.", drive=drive, over="warn", where=f"{spec.path}.locked", destructive=False,
        ))  # fmt: skip
    return found
