"""What kind of motor it is, from what one sees and feels before any reading: all kinds that nothing seen rules out."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from ..model.motor import LOOKS, MotorLooks

BRUSHED = "brushed, with magnets"
KINDS: dict[str, str] = {
    BRUSHED: "a brushed DC motor with magnets",
    "universal": "a universal motor (brushes, and windings in place of magnets)",
    "alternating current": "an alternating-current motor",
    "brushless": "a brushless motor",
    "stepper": "a stepper motor",
}
REFUSED = {
    "universal": "its field comes from a winding: its speed and torque follow other laws than those used here, it runs "
    "away without a load, and it is made for the mains",
    "alternating current": "it turns by a field that alternates: direct current only heats it",
    "brushless": "it needs a controller that switches three phases in turn: on two wires it does not turn",
    "stepper": "it moves a step for each change of its windings: it needs a stepper's driver",
}
SEEN: dict[str, dict[str, frozenset[str]]] = {
    "leads": {
        "two": frozenset({BRUSHED, "universal", "alternating current"}),
        "three": frozenset({"brushless", "alternating current"}),
        "four or more": frozenset({"stepper", "universal", "alternating current", "brushless"}),
    },
    "brushes": {
        "seen": frozenset({BRUSHED, "universal"}),
        "none": frozenset({"alternating current", "brushless", "stepper"}),
    },
    "magnets": {
        "pulls": frozenset({BRUSHED, "brushless", "stepper"}),
        "nothing": frozenset({"universal", "alternating current"}),
    },
    "by_hand": {
        "bumps": frozenset({BRUSHED, "brushless"}),
        "clicks": frozenset({"stepper"}),
        "free": frozenset({BRUSHED, "universal", "alternating current"}),
    },
    "label": {
        "direct": frozenset({BRUSHED, "brushless", "stepper", "universal"}),
        "alternating": frozenset({"universal", "alternating current"}),
    },
}
"""Which kinds are left by what is seen (common practice, no source). A look that may deceive leaves more than one: a
good brushed motor turns freely, a label may be missing, brushes may sit inside."""


@dataclass(frozen=True, slots=True)
class Found:
    """The kinds that are left, those that what was seen rules out with it, and the look that would tell most."""

    left: tuple[str, ...]
    against: tuple[str, ...]
    """Looks that rule a brushed motor out, as they stand on the screen."""
    next_look: str
    rectified: bool


def looked(looks: MotorLooks) -> Iterator[tuple[str, str]]:
    """Each look that was taken, and what was seen."""
    for name in SEEN:
        if value := str(getattr(looks, name)):
            yield name, value


def kind_of(looks: MotorLooks) -> Found | None:
    """What the motor can be; None while nothing was looked at."""
    seen = dict(looked(looks))
    rectified = looks.rectifier == "on it"
    if not seen:
        return Found(tuple(KINDS), (), "leads", True) if rectified else None
    left = tuple(k for k in KINDS if all(k in SEEN[n][v] for n, v in seen.items()))
    against = tuple(
        f"{LOOKS[n].label}: {LOOKS[n].options[v]}".lower() for n, v in seen.items() if BRUSHED not in SEEN[n][v]
    )
    return Found(left, against, _telling(left, seen), rectified)


def _telling(left: tuple[str, ...], seen: dict[str, str]) -> str:
    """The look not taken yet whose answer, at worst, leaves the fewest kinds; empty if none helps."""
    worst = {
        name: max(len(kinds & set(left)) for kinds in answers.values())
        for name, answers in SEEN.items()
        if name not in seen
    }
    best = min(worst, key=lambda n: worst[n], default="")
    return best if best and worst[best] < len(left) else ""
