"""A reading taken on the bench, as it is kept."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

ReadingVerdict = Literal["pass", "doubtful", "fail", "open"]
"""Open where nothing was known to hold it against; doubtful where its own doubt reaches over the bound."""


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
    verdict: ReadingVerdict
    basis: dict[str, str]
    taken_at: str
    note: str = ""
    withdrawn: bool = False
