"""Readings taken on the bench: judged when taken, and stale when what they stood on has changed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ...algebra.doubt import basis_of, moved
from ...algebra.quantities import Quantity, parse
from ...model.reading import Reading, ReadingVerdict
from .step import Step


@dataclass(frozen=True, slots=True)
class Judgement:
    """What a typed reading amounts to at one step."""

    quantity: Quantity
    verdict: ReadingVerdict
    basis: dict[str, str]


def judge(step: Step, text: str) -> Judgement:
    """Read a text and hold it against the step. QuantityError if it cannot be read."""
    quantity = parse(text, step.kind, step.unit)
    return Judgement(quantity, verdict_of(step, quantity), basis_of(step.expected))


def verdict_of(step: Step, quantity: Quantity) -> ReadingVerdict:
    """Pass or fail; doubtful where the reading's own doubt reaches over the bound; open where nothing is known."""
    right = step.holds(quantity.value)
    if right is None:
        return "open"
    width = 2 * (quantity.doubt or 0.0)
    if any(step.holds(quantity.value + side) is not right for side in (-width, width)):
        return "doubtful"
    return "pass" if right else "fail"


def stale(reading: Reading, step: Step | None) -> list[str]:
    """The paths that have moved under a reading; the step itself when it is gone."""
    if step is None:
        return [reading.step]
    return moved(reading.basis, basis_of(step.expected))


def gone_stale(readings: Sequence[Reading], steps: Sequence[Step]) -> dict[str, list[str]]:
    """Stale readings with what moved under them. A step measured again is fresh: only its last reading counts."""
    by_id = {s.id: s for s in steps}
    last = {r.step: r.id for r in readings}
    return {r.id: paths for r in readings if r.id in last.values() and (paths := stale(r, by_id.get(r.step)))}
