"""Checks of a servo's pulses."""

from __future__ import annotations

from ...algebra.limits import Check, claim, upper
from ...algebra.nodes import Constant
from ...cases.servo import ServoResult
from ...laws import servo as rules
from ...model.servo import ServoSpec

STATION = "signals"
SHORTEST = Constant("0.5 ms", 0.5e-3, "time", "common practice, no source: real servos reach 0.5 to 2.5 ms")
LATE = Constant("10 µs", 10e-6, "time", "common practice, no source: what another interrupt of such a program takes")
TREMBLE = Constant("2°", 0.03490658503988659, "angle", "common practice, no source: what is seen at a horn")
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
        *_range(spec, drive),
        *_turns(spec, result, drive),
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


def _range(spec: ServoSpec, drive: str) -> list[Check]:
    """Whether somebody has seen how far it turns: schools take 90° for 1 to 2 ms, or 180° for 0.5 to 2.5 ms."""
    if spec.style == "continuous":
        return []
    seen = spec.travel.value is not None and spec.travel.origin in ("measured", "data sheet")
    return [
        claim(
            "servo.range",
            station=STATION,
            title="Travel between its pulses is known",
            holds=True if seen else None,
            todo="",
            drive=drive,
            over="note",
            where=f"{spec.path}.travel",
            destructive=False,
            unknown="Not known yet: give the angle between its two pulses as measured. One school takes 90° for 1 to "
            "2 ms, the other 180° for 0.5 to 2.5 ms, and the same servo may do either.",
        )
    ]


def _turns(spec: ServoSpec, result: ServoResult, drive: str) -> list[Check]:
    """Pulses in turn end when an interrupt comes: what another one delays it by is an angle."""
    if not result.plan.in_turn or spec.style == "continuous":
        return []
    return [
        upper(
            "servo.turn",
            station=STATION,
            title="Trembling of pulses made in turn",
            stress=rules.late_angle(LATE, spec.pulse_low.leaf, spec.pulse_high.leaf, spec.travel.leaf),
            bound=TREMBLE,
            todo="Its pulses are switched by an interrupt that others delay: give it a compare output of its own.",
            drive=drive,
            over="warn",
            destructive=False,
            where=f"{spec.path}.pulse_high",
        )
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
