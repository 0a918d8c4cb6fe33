"""A reading taken on the bench, as it is kept."""

from __future__ import annotations

from dataclasses import dataclass


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
