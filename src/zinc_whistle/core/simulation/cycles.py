"""Equal periods that each pass the same events, taken together.

Where the current ends in every period no run of periods is one matrix. The map of a whole period is still smooth while
its events stay the same: its derivative carries each event's moment along (saltation matrices). So many periods are
powers of one affine map, and whether that held is seen at the last of them, which is worked out event by event again.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from .plant import ONE, THETA, Mode, Path, State

Grid = NDArray[np.float64]
GRAZES = 1e-3
"""An event grazes if its function falls, over the piece's time, by less than this share of what it stood at."""
NOISE = 1e-6
"""A function that is nothing to within this share of its size has not changed its sign."""
APART = 1e-6
"""So far (share of the drive's sizes) the affine map may be off after all its periods together."""


@dataclass(frozen=True, slots=True)
class Event:
    """What ends a mode: a function that is positive in it, and the variable that is set exactly where it is zero."""

    words: str
    function: Callable[[Grid], Grid]
    place: int | None = None
    value: float = 0.0

    def put(self, x: State) -> None:
        """Set the variable that the event fixes."""
        if self.place is not None:
            x[self.place] = self.value

    def slope(self, x: State, sizes: State) -> State:
        """The function's slopes at a state (5,); it is linear between its kinks."""
        steps = 1e-6 * sizes
        found: State = (self.function(x + np.diag(steps)) - self.function(x[None])) / steps
        found[ONE] = 0.0
        return found


@dataclass(frozen=True, slots=True)
class Piece:
    """A part of a period in one mode: the states where it begins and ends, the end before and after what its event
    sets; no event where its interval ended."""

    mode: Mode
    path: Path
    duty: float
    length: float
    begin: State
    end: State
    set: State
    event: Event | None

    @property
    def way(self) -> tuple[Mode, Path, str]:
        """What has to be the same in another period."""
        return self.mode, self.path, self.event.words if self.event else ""


@dataclass(frozen=True, slots=True)
class PeriodMap:
    """A period's map about the state that it began with: affine to each piece's end (5, 5), and the ends' times as
    rows (5,) for a state at the period's start."""

    pieces: list[Piece]
    maps: list[Grid]
    times: list[State]

    @property
    def whole(self) -> Grid:
        """The affine map over the period."""
        return self.maps[-1]

    def passes_as(self, pieces: Sequence[Piece]) -> bool:
        """Whether another period passes the same modes and events in the same order."""
        return [p.way for p in self.pieces] == [p.way for p in pieces]

    def apart(self, start: State, end: State, sizes: State) -> float:
        """How far the map's end is from the true one, as a share of the drive's sizes; the angle follows the speed."""
        off = np.abs(self.whole @ start - end) / sizes
        off[THETA] = 0.0
        return float(off.max())

    def rows(self, starts: Grid) -> tuple[Grid, Grid]:
        """Times from each period's own start (n, pieces) and states (n, pieces, 5) for states at its start (n, 5)."""
        return np.stack([starts @ t for t in self.times], axis=1), np.stack([starts @ m.T for m in self.maps], axis=1)


def period_map(
    pieces: Sequence[Piece], matrix: Callable[[Mode], Grid], over: Callable[[Mode, float], Grid], sizes: State
) -> PeriodMap | None:
    """The map of a period that passed these pieces; None where it is not smooth, since an event only grazes."""
    start, gone = pieces[0].begin, 0.0
    change = np.eye(len(start))
    maps, times = list[Grid](), list[State]()
    for piece, then in zip(pieces, [*pieces[1:], None], strict=True):
        change, gone = over(piece.mode, piece.length) @ change, gone + piece.length
        late, ended = np.zeros(len(start)), change
        if piece.event is not None:
            if then is None or piece.length <= 0:
                return None
            slope, speed = piece.event.slope(piece.end, sizes), matrix(piece.mode) @ piece.end
            falls = float(slope @ speed)
            between = over(piece.mode, piece.length / 2) @ piece.begin
            stood = float(piece.event.function(np.stack([piece.begin, between])).max())
            if falls * piece.length > -GRAZES * max(stood, 0.0) or not falls:
                return None
            late = -(slope @ change) / falls
            ended = change + np.outer(speed, late)
            if piece.event.place is not None:
                ended[piece.event.place] = 0.0
            # Whoever comes to the event later stands there later: at the same moment it is so much behind.
            change = ended - np.outer(matrix(then.mode) @ then.begin, late)
        maps.append(_affine(ended, start, piece.set))
        times.append(_affine_row(late, start, gone))
    return PeriodMap(list(pieces), maps, times)


def _affine(change: Grid, start: State, end: State) -> Grid:
    made = change.copy()
    made[:, ONE] = end - change[:, :ONE] @ start[:ONE]
    made[ONE] = 0.0
    made[ONE, ONE] = 1.0
    return made


def _affine_row(change: State, start: State, at: float) -> State:
    made = change.copy()
    made[ONE] = at - float(change[:ONE] @ start[:ONE])
    return made


def agree(cycle: PeriodMap, starts: Grid, events: Callable[[Piece], list[Event]], sizes: State) -> int:
    """For how many of the states at periods' starts (n, 5) nothing but the cycle's own events comes to pass."""
    times, states = cycle.rows(starts)
    fine = np.ones(len(starts), dtype=bool)
    before = starts
    last = np.zeros(len(starts))
    for k, piece in enumerate(cycle.pieces):
        fine &= times[:, k] > last
        for event in events(piece):
            noise = NOISE * float(np.abs(event.slope(piece.end, sizes)) @ sizes)
            fine &= event.function(before) > -noise
            if piece.event is None or event.words != piece.event.words:
                fine &= event.function(states[:, k]) > -noise
        before, last = states[:, k], times[:, k]
    return len(fine) if fine.all() else int(np.argmin(fine))


def powers(step: Grid, x: State, count: int) -> Grid:
    """x, step·x, step²·x, … (count, len(x)), by doubling."""
    found = np.empty((count, len(x)))
    found[0] = x
    have, square = 1, step
    while have < count:
        more = min(have, count - have)
        found[have : have + more] = found[:more] @ square.T
        have += more
        square = square @ square
    return found


def bent(step: Grid, x: State, off: State, count: int) -> Grid:
    """x and ``count`` states after it by an affine map that is off by ``off`` (5,) at the last of them.

    The map is right to first order about x: what it is off by grows with the square of the way that was gone.
    """
    size, each = len(x), 1.0 / count
    longer = np.eye(size + 2)
    longer[:size, :size] = step
    longer[:size, size + 1] = off
    longer[size, ONE] = each
    longer[size + 1, [ONE, size]] = each * each, 2 * each
    return powers(longer, np.append(x, [0.0, 0.0]), count + 1)[:, :size]
