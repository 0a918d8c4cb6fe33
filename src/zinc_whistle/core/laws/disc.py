"""A slotted disc and two sensors: the four states of a pitch, their unequal steps, and what cutting by hand does.

Lengths along the disc are in pitches: a tooth and a gap are one. A is covered while frac(x) < w, B while
frac(x − φ) < w.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

NEVER = 1 / 360
"""A state that lasts less than a degree of 360 is none."""
TRIALS = 4000
SEED = 20251
MOST_EDGES = 4_000_000
"""Edges that are thrown at most: of a disc of many lines fewer discs are looked at."""


@dataclass(frozen=True, slots=True)
class FourStates:
    """The states of a pitch in the order in which they come, as shares of the pitch; what each should be is a quarter.

    ``backwards``: B leads A. ``errors`` are of the four edges, in counts, against even steps that fit best.
    """

    widths: tuple[float, float, float, float]
    backwards: bool
    errors: tuple[float, float, float, float]

    @property
    def shortest(self) -> float:
        """The shortest state, as a share of the pitch."""
        return min(self.widths)

    @property
    def largest_error(self) -> float:
        """The largest position error, in counts."""
        return max(map(abs, self.errors))


def four_states(tooth: float, shift: float) -> FourStates:
    """The states that a tooth (share of the pitch) and sensors that stand ``shift`` pitches apart make.

    ValueError where one of the four never comes: then counts are lost at every tooth.
    """
    if not 0 < tooth < 1:
        raise ValueError("a tooth is more than nothing and less than the pitch")
    phase = shift % 1.0
    backwards = phase > 0.5
    lead = min(phase, 1 - phase)
    widths = (lead, tooth - lead, lead, 1 - tooth - lead)
    if min(widths) < NEVER:
        raise ValueError("one of the four states never comes")
    edges = np.cumsum((0.0, *widths[:3]))
    off = 4 * edges - np.arange(4)
    off -= (off.max() + off.min()) / 2
    return FourStates(widths, backwards, (float(off[0]), float(off[1]), float(off[2]), float(off[3])))


@dataclass(frozen=True, slots=True)
class CutByHand:
    """Discs cut with a tolerance: the share that keeps every state at least as long as is needed, and the shortest
    state (share of the pitch) that 19 of 20 discs keep."""

    good: float
    shortest: float
    discs: int


@lru_cache(maxsize=64)
def cut_by_hand(teeth: int, tooth: float, shift: float, tolerance: float, needed: float) -> CutByHand:
    """Every edge off by up to ``tolerance`` pitches either way, evenly spread, and the sensors' distance too;
    ``needed`` is the state (share of the pitch) that the reading needs. The same dice each time."""
    discs = max(min(TRIALS, MOST_EDGES // (4 * teeth)), 50)
    dice = np.random.default_rng(SEED)
    teeth_at = np.arange(teeth)
    up, down = dice.uniform(-tolerance, tolerance, (2, discs, teeth))
    apart = shift + dice.uniform(-tolerance, tolerance, (discs, 1))
    # B sees the same edges later, whole pitches on; where it leads, the tooth before.
    behind = int(np.floor(shift + 0.5))
    a = teeth_at + up, teeth_at + tooth + down
    late = teeth_at - behind + apart
    b = late + np.roll(up, behind, axis=1), late + tooth + np.roll(down, behind, axis=1)
    first, second = (a, b) if shift % 1.0 <= 0.5 else (b, a)
    again = np.concatenate([first[0][:, 1:], first[0][:, :1] + teeth], axis=1)
    steps = (second[0] - first[0], first[1] - second[0], second[1] - first[1], again - second[1])
    shortest = np.min([s.min(axis=1) for s in steps], axis=0)
    return CutByHand(float(np.mean(shortest >= needed)), float(np.quantile(shortest, 0.05)), discs)
