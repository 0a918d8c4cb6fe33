"""The wave that a test is to show, as numbers: a picture of it, a setting and a capture are held against it."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Wave:
    """Pulses between two levels (V) at a frequency (Hz), high for a share of the time."""

    low_v: float
    high_v: float
    frequency_hz: float
    duty: float

    @property
    def swing_v(self) -> float:
        return self.high_v - self.low_v

    @property
    def mean_v(self) -> float:
        return self.low_v + self.duty * self.swing_v

    def alias_hz(self, rate_hz: float) -> float:
        """What it seems to be where it is sampled at ``rate_hz``: folded about half of it (sampling theorem)."""
        folded = self.frequency_hz % rate_hz
        return min(folded, rate_hz - folded)
