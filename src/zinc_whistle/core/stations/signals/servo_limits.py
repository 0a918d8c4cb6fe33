"""Checks of a servo's pulses."""

from __future__ import annotations

from ...algebra.limits import Check, claim
from ...algebra.nodes import Constant
from ...cases.servo import ServoResult
from ...model.servo import ServoSpec

STATION = "signals"
SHORTEST = Constant("0.5 ms", 0.5e-3, "time", "common practice, no source: real servos reach 0.5 to 2.5 ms")
LONGEST = Constant("2.5 ms", 2.5e-3, "time", "common practice, no source: real servos reach 0.5 to 2.5 ms")


def checks(spec: ServoSpec, result: ServoResult, drive: str) -> list[Check]:
    """Pulses that servos follow, and a timer that makes the frame."""
    return [
        claim(
            "servo.pulses",
            station=STATION,
            title="Longest pulse above the shortest",
            holds=None if spec.pulse_low.value is None or spec.pulse_high.value is None else not spec.pulses_cross,
            todo="The ends are crossed: give the pulse of one end as the shortest, that of the other as the longest.",
            drive=drive,
            where=f"{spec.path}.pulse_high",
            unknown="Not known yet: give both pulses.",
        ),
        claim(
            "servo.pulse_low",
            station=STATION,
            title="Shortest pulse is one that servos follow",
            holds=_at_least(spec.pulse_low.value, SHORTEST),
            todo="Few servos follow so short a pulse: try the ends by hand, with the horn off.",
            drive=drive,
            where=f"{spec.path}.pulse_low",
            over="warn",
            destructive=False,
            unknown="Not known yet: give the pulse.",
        ),
        claim(
            "servo.pulse_high",
            station=STATION,
            title="Longest pulse is one that servos follow",
            holds=_at_most(spec.pulse_high.value, LONGEST),
            todo="Few servos follow so long a pulse: try the ends by hand, with the horn off.",
            drive=drive,
            where=f"{spec.path}.pulse_high",
            over="warn",
            destructive=False,
            unknown="Not known yet: give the pulse.",
        ),
        claim(
            "servo.timer",
            station=STATION,
            title="A timer makes the frame",
            holds=_timed(result),
            todo="No timer of this controller goes slow enough: make the pulse in software, or take a finer prescaler.",
            drive=drive,
            over="warn",
            where=f"{spec.path}.frame",
            destructive=False,
            unknown=f"Not known yet: the pulses of {' and '.join(result.plan.waits_for)} want timers too."
            if result.plan.waits_for
            else "Not known yet: name a controller with timers.",
        ),
    ]


def _timed(result: ServoResult) -> bool | None:
    """Whether a timer makes the frame; not known while others of the controller may still want it."""
    error = result.plan.error.value
    if error is None:
        return None
    good = abs(error) < 0.2
    return None if good and result.plan.waits_for else good


def _at_least(value: float | None, limit: float | None) -> bool | None:
    return None if value is None or limit is None else value >= limit * (1 - 1e-9)


def _at_most(value: float | None, limit: float | None) -> bool | None:
    return None if value is None or limit is None else value <= limit * (1 + 1e-9)
