"""Readings taken on the bench: judged when taken, and stale when what they stood on has changed."""

from __future__ import annotations

from dataclasses import dataclass

from ...algebra.doubt import basis_of, moved
from ...algebra.quantities import Quantity, parse
from .compute import Step


@dataclass(frozen=True, slots=True)
class Reading:
    """One reading: the text as typed, its SI value, what was expected then and what that stood on."""

    id: str
    drive: str
    step: str
    text: str
    value: float
    expected: float | None
    low: float | None
    high: float | None
    verdict: str
    basis: dict[str, str]
    taken_at: str
    note: str = ""
    withdrawn: bool = False


@dataclass(frozen=True, slots=True)
class Judgement:
    """What a typed reading amounts to at one step."""

    quantity: Quantity
    verdict: str
    basis: dict[str, str]


def judge(step: Step, text: str) -> Judgement:
    """Read a text and hold it against the step. QuantityError if it cannot be read."""
    quantity = parse(text, step.kind, step.unit)
    right = step.holds(quantity.value)
    verdict = {True: "pass", False: "fail", None: "open"}[right]
    return Judgement(quantity, verdict, basis_of(step.expected))


def stale(reading: Reading, step: Step | None) -> list[str]:
    """The paths that have moved under a reading; the step itself when it is gone."""
    if step is None:
        return [reading.step]
    return moved(reading.basis, basis_of(step.expected))
