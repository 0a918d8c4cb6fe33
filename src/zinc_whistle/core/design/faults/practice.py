"""A hidden fault to find: drawn by a number, read test by test, and judged by what it took.

The same number and build give the same fault and the same readings, so nothing about it has to be kept.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from ...algebra.quantities import phrase
from ...stations.bench.step import Step
from .finder import SETTING_UP, Finder, scaled
from .readings import SheetReadings
from .state import OVER_RANGE, in_order
from .table import Cause

Level = Literal["first", "usual", "hard"]
LEVELS: dict[Level, str] = {
    "first": "First: what is met most, and bad",
    "usual": "Usual: anything, as often as it is met",
    "hard": "Hard: anything, each as likely, and mild",
}
OFTEN = 4
"""From this weight on a cause counts as one that is met most."""
TRIES = 40


@dataclass(frozen=True, slots=True)
class Hidden:
    """A drive with a fault that is not told: what it shows, and what each test reads."""

    cause: Cause
    symptoms: dict[str, bool]
    readings: dict[str, float]


def hide(finder: Finder, level: Level, number: int) -> Hidden:
    """The fault of a number. It shows: at least one symptom, or a test that lies outside its bounds."""
    chance = np.random.default_rng([number, *level.encode()])
    able = [c for c in finder.causes if c.id != "none" and (level != "first" or c.weight >= OFTEN)]
    weights = np.array([1.0 if level == "hard" else c.weight for c in able])
    found: Hidden | None = None
    for _ in range(TRIES):
        cause = able[int(chance.choice(len(able), p=weights / weights.sum()))]
        found = _drawn(finder, cause, level, chance)
        if any(found.symptoms.values()) or any(
            finder.healthy.steps[k].holds(v) is False for k, v in found.readings.items()
        ):
            return found
    assert found is not None
    return found


def _drawn(finder: Finder, cause: Cause, level: Level, chance: np.random.Generator) -> Hidden:
    """One draw out of eight, by how far it lies from what is right: the mildest where it is hard."""
    h = finder.healthy
    state = in_order(h, 8, chance)
    cause.put_in(h, state, chance)
    reads = SheetReadings(h, state)
    all = {s.id: found for s in finder.steps if (found := reads.of(s)) is not None}
    far = np.sum([np.abs(scaled(h.steps[id], values)) for id, values in all.items()], axis=0)
    place = {"first": int(np.argmax(far)), "hard": int(np.argmin(far))}.get(level, 0)
    return Hidden(
        cause,
        {s.id: bool(s.shows(reads)[place]) for s in finder.symptoms},
        {id: float(values[place]) for id, values in all.items()},
    )


def shown(step: Step, value: float) -> str:
    """A reading as the instrument shows it."""
    return "over range" if abs(value) >= OVER_RANGE else phrase(value, step.kind, step.unit)


@dataclass(frozen=True, slots=True)
class Judged:
    """A guess held against the truth: whether it is right, what the tests cost, and what fewer would have done."""

    right: bool
    alike: tuple[Cause, ...]
    """All that no test tells from the true one: any of them is right."""
    minutes: float
    under_power: int
    """Tests under power while a short was possible: the risk that was taken."""
    way: tuple[str, ...]
    """The tests in the order in which they tell most for their price."""
    points: int


RIGHT, PER_TEST, PER_RISK = 100, 8, 15
"""Of a hundred, each test beyond those of the shortest way and each risk takes some away."""


def judge(finder: Finder, hidden: Hidden, done: Sequence[str], guess: str) -> Judged:
    """What a guess after these tests is worth. Steps that this drive has not are left out."""
    h = finder.healthy
    place = {c.id: k for k, c in enumerate(finder.causes)}
    own = finder.group[place[hidden.cause.id]]
    alike = tuple(c for k, c in enumerate(finder.causes) if finder.group[k] == own)
    taken = [h.steps[id] for id in dict.fromkeys(done) if id in hidden.readings]
    risks, known = 0, dict[str, float]()
    for step in taken:
        if step.stage != "cold" and finder.ask(known, hidden.symptoms).burning > BURNS_FROM:
            risks += 1
        known[step.id] = hidden.readings[step.id]
    right = guess in {c.id for c in alike}
    way = shortest(finder, hidden, own)
    beyond = max(len(taken) - len(way), 0)
    points = max(RIGHT - PER_TEST * beyond - PER_RISK * risks, 10) if right else 0
    return Judged(right, alike, sum((SETTING_UP + s.minutes) for s in taken), risks, way, points)


BURNS_FROM = 0.1
SURE = 0.8
LONGEST_WAY = 8


def shortest(finder: Finder, hidden: Hidden, own: int) -> tuple[str, ...]:
    """The tests that the finder would have asked for until it was sure of the right one."""
    known: dict[str, float] = {}
    first = finder.causes[own].id
    for _ in range(LONGEST_WAY):
        asked = finder.ask(known, hidden.symptoms)
        top = asked.suspects[0]
        if (top.causes[0].id == first and top.probability >= SURE) or not asked.tests:
            break
        known[asked.tests[0].step.id] = hidden.readings[asked.tests[0].step.id]
    return tuple(known)
