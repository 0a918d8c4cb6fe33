"""What happens to a shaft on its way: more load, a jam, a hand."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Kind = Literal["load", "jam", "hand"]


@dataclass(frozen=True, slots=True)
class Happening:
    """From a moment for a time (s). ``amount`` is at the motor's shaft: N·m that pull back more, or rad/s of a hand's
    turning; a jam has none."""

    kind: Kind
    at_s: float
    for_s: float
    amount: float = 0.0

    def samples(self, period_s: float) -> tuple[int, int]:
        """The first sample in which it is there, and the first in which it is over."""
        first = round(self.at_s / period_s)
        return first, first + max(round(self.for_s / period_s), 1)
