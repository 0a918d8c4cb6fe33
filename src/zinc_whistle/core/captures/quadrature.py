"""Two channels of an encoder out of a capture: what was counted, what was lost, and which tooth is wrong.

samples or changes → levels → changes of the two bits → steps by the decoder's table → counts, phase, bounce, speed
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..laws.decoder import ILLEGAL, table
from .table import CaptureError

LOOKED_AT = 200_000
"""Samples by which a channel's two levels are found."""
BAND = 0.15
"""Of the swing, to either side of its middle: what lies between keeps the level it had (hysteresis)."""
LEAST_SWING = 1e-9
BOUNCE_SHARE = 0.1
"""Of the usual time between edges of one channel: two edges nearer than that are bounce."""
OUTLIER = 4.0
"""So many times the usual spread (median absolute deviation) is a tooth that is wrong."""
LEAST_SPREAD_DEG = 3.0


@dataclass(frozen=True, slots=True)
class Levels:
    """A channel as high and low, with the volts (or whatever was written) of both."""

    high: np.ndarray
    low_v: float
    high_v: float


@dataclass(frozen=True, slots=True)
class Changes:
    """The moments (s) at which the two bits changed, and what they then were (A << 1 | B); the first is the start."""

    time_s: np.ndarray
    code: np.ndarray
    end_s: float


@dataclass(frozen=True, slots=True)
class ChannelFound:
    """One channel: edges, frequency (Hz) and duty over whole periods, bounces."""

    edges: int
    frequency_hz: float | None
    duty: float | None
    bounces: int


@dataclass(frozen=True, slots=True)
class ToothFound:
    """A period of A within a turn: its place from 1, after the index or, without one, from the first seen; and its
    phase (°)."""

    place: int
    phase_deg: float


@dataclass(frozen=True, slots=True, kw_only=True)
class QuadratureFound:
    """What a capture says. ``count`` is of all edges (×4; ×2 of one sensor alone); ``lost_at`` are moments (s) at which
    both bits changed. Of one sensor alone ``phases`` are how long it is high, of 360° a pitch."""

    count: int
    forward: int
    back: int
    illegal: int
    lost_at: tuple[float, ...]
    a: ChannelFound
    b: ChannelFound
    phase_deg: float | None
    phase_spread_deg: float | None
    phases: tuple[float, ...]
    wrong_teeth: tuple[ToothFound, ...]
    turns: float | None
    counts_per_turn: float | None
    fastest_per_s: float | None
    time_s: np.ndarray
    position: np.ndarray
    single: bool = False

    @property
    def direction(self) -> str:
        """Which way it turned."""
        if self.single and self.forward:
            return "not told by one sensor"
        if not self.forward and not self.back:
            return "it did not turn"
        if min(self.forward, self.back) > 0.02 * (self.forward + self.back):
            return "both ways"
        return "forward: A leads" if self.forward > self.back else "back: B leads"


def levels(values: np.ndarray) -> Levels:
    """A column as high and low, by its own two levels and with hysteresis between. CaptureError where it has one
    level only."""
    some = values[:: max(len(values) // LOOKED_AT, 1)]
    low, high = float(np.min(some)), float(np.max(some))
    if high - low <= LEAST_SWING:
        low, high = float(np.min(values)), float(np.max(values))
    if not np.isfinite(low + high) or high - low <= LEAST_SWING:
        raise CaptureError("This channel never changes: take another column, or a longer capture.")
    middle, half = (low + high) / 2, BAND * (high - low)
    above, below = values > middle + half, values < middle - half
    if np.count_nonzero(above) + np.count_nonzero(below) == len(values):
        return Levels(above, _median(values[~above], low), _median(values[above], high))
    # Between the two it stays what it was last.
    told = np.where(above | below, np.arange(len(values)), -1)
    last = np.maximum.accumulate(told)
    held = above[np.maximum(last, 0)]
    return Levels(held, _median(values[below], low), _median(values[above], high))


def _median(values: np.ndarray, otherwise: float) -> float:
    some = values[:: max(len(values) // LOOKED_AT, 1)]
    return float(np.median(some)) if len(some) else otherwise


def changes(time_s: np.ndarray, a: np.ndarray, b: np.ndarray) -> Changes:
    """The changes of two sampled channels."""
    code = (a.view(np.uint8) << 1) | b.view(np.uint8)
    at = np.flatnonzero(code[1:] != code[:-1]) + 1
    return Changes(np.concatenate([time_s[:1], time_s[at]]), np.concatenate([code[:1], code[at]]), float(time_s[-1]))


def steps_of(code: np.ndarray, decoding: str = "4") -> np.ndarray:
    """What each change counts: 1, −1, 0, or ILLEGAL."""
    counts = np.asarray(table(decoding), dtype=np.int8)
    steps: np.ndarray = np.take(counts, code[:-1] << 2 | code[1:])
    return steps


def analyse(
    found: Changes, *, teeth: int | None = None, index_s: np.ndarray | None = None, swap: bool = False
) -> QuadratureFound:
    """Everything that two channels say. ``teeth`` of the disc: then phases are told by tooth; ``index_s`` are moments
    of a third channel that comes once a turn."""
    code = ((found.code & 1) << 1 | found.code >> 1) if swap else found.code
    steps, at = steps_of(code), found.time_s[1:]
    lost = steps == ILLEGAL
    moved = np.where(lost, 0, steps)
    position = np.cumsum(moved)
    forward, back = int(np.sum(moved > 0)), int(np.sum(moved < 0))
    phases, begins = _phases(code, found.time_s, forward >= back)
    first = int(np.searchsorted(begins, index_s[0])) if index_s is not None and len(index_s) else 0
    wrong = _wrong(phases[first:], teeth)
    turns, per_turn = _turns(position, at, index_s)
    gaps = np.diff(at)
    quick = gaps[gaps > 0]
    return QuadratureFound(
        count=int(position[-1]) if len(position) else 0,
        forward=forward,
        back=back,
        illegal=int(np.sum(lost)),
        lost_at=tuple(float(t) for t in at[lost][:50]),
        a=_channel(code >> 1, found),
        b=_channel(code & 1, found),
        phase_deg=float(np.median(phases)) if len(phases) else None,
        phase_spread_deg=float(np.quantile(phases, 0.95) - np.quantile(phases, 0.05)) if len(phases) > 3 else None,
        phases=tuple(float(x) for x in phases[:5000]),
        wrong_teeth=wrong,
        turns=turns,
        counts_per_turn=per_turn,
        fastest_per_s=float(1 / np.quantile(quick, 0.01)) if len(quick) > 10 else None,
        time_s=at,
        position=position,
    )


def analyse_alone(
    time_s: np.ndarray, high: np.ndarray, *, teeth: int | None = None, index_s: np.ndarray | None = None
) -> QuadratureFound:
    """One sensor alone, at every sample or change (s): each of its edges counts, whichever way it turned."""
    at = np.flatnonzero(high[1:] != high[:-1]) + 1
    edges = time_s[at]
    changes_of = Changes(np.concatenate([time_s[:1], edges]), high[np.concatenate([[0], at])], float(time_s[-1]))
    position = np.arange(1, len(edges) + 1)
    rise, fall = edges[high[at]], edges[~high[at]]
    widths, begins = _widths(rise, fall)
    first = int(np.searchsorted(begins, index_s[0])) if index_s is not None and len(index_s) else 0
    turns, per_turn = _turns(position, edges, index_s)
    quick = np.diff(edges)
    quick = quick[quick > 0]
    channel = _channel(changes_of.code.astype(np.uint8), changes_of)
    return QuadratureFound(
        count=len(edges),
        forward=len(edges),
        back=0,
        illegal=0,
        lost_at=(),
        a=channel,
        b=channel,
        phase_deg=float(np.median(widths)) if len(widths) else None,
        phase_spread_deg=float(np.quantile(widths, 0.95) - np.quantile(widths, 0.05)) if len(widths) > 3 else None,
        phases=tuple(float(x) for x in widths[:5000]),
        wrong_teeth=_wrong(widths[first:], teeth),
        turns=turns,
        counts_per_turn=per_turn,
        fastest_per_s=float(1 / np.quantile(quick, 0.01)) if len(quick) > 10 else None,
        time_s=edges,
        position=position,
        single=True,
    )


def _widths(rise: np.ndarray, fall: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """How long every whole period is high (°, of 360), and when it begins (s)."""
    if len(rise) < 2 or not len(fall):
        return np.empty(0), np.empty(0)
    following = np.searchsorted(fall, rise[:-1], side="left")
    there = following < len(fall)
    start, end = rise[:-1][there], rise[1:][there]
    high = fall[following[there]] - start
    return np.asarray(360 * high / (end - start)), start


def _channel(bit: np.ndarray, found: Changes) -> ChannelFound:
    change = np.flatnonzero(np.diff(bit.astype(np.int8)))
    times, up = found.time_s[change + 1], bit[change + 1].astype(bool)
    gaps = np.diff(times)
    usual = float(np.median(gaps)) if len(gaps) else 0.0
    bounces = int(np.sum(gaps < BOUNCE_SHARE * usual)) if usual > 0 else 0
    rises = times[up]
    if len(rises) < 2:
        return ChannelFound(len(times), None, None, bounces)
    span = float(rises[-1] - rises[0])
    inside = (times >= rises[0]) & (times <= rises[-1])
    high = 0.0
    begun: float | None = None
    own, ups = times[inside], up[inside]
    if len(own) > 1:
        high = float(np.sum(np.diff(own)[ups[:-1]]))
    return ChannelFound(
        len(times), (len(rises) - 1) / span if span > 0 else None, high / span if span > 0 else begun, bounces
    )


def _phases(code: np.ndarray, time_s: np.ndarray, forward: bool) -> tuple[np.ndarray, np.ndarray]:
    """The phase (°) of every whole period of A: from its rise to B's next one, of the time to A's next rise; and when
    it begins (s)."""
    a, b = (code >> 1).astype(np.int8), (code & 1).astype(np.int8)
    rise_a = time_s[np.flatnonzero(np.diff(a) > 0) + 1]
    rise_b = time_s[np.flatnonzero(np.diff(b) > 0) + 1]
    if len(rise_a) < 2 or not len(rise_b):
        return np.empty(0), np.empty(0)
    following = np.searchsorted(rise_b, rise_a[:-1], side="left")
    there = following < len(rise_b)
    start, end = rise_a[:-1][there], rise_a[1:][there]
    shift = rise_b[following[there]] - start
    inside = (shift < end - start) & (end > start)
    phases = np.asarray(360 * shift[inside] / (end - start)[inside])
    return (phases if forward else np.asarray(360 - phases)), start[inside]


def _wrong(phases: np.ndarray, teeth: int | None) -> tuple[ToothFound, ...]:
    """Teeth whose phase lies far from the others', turn after turn."""
    if not teeth or len(phases) < 2 * teeth:
        return ()
    whole = phases[: len(phases) // teeth * teeth].reshape(-1, teeth)
    each = np.median(whole, axis=0)
    middle = float(np.median(each))
    spread = max(float(np.median(np.abs(each - middle))), LEAST_SPREAD_DEG)
    return tuple(ToothFound(k + 1, float(x)) for k, x in enumerate(each) if abs(x - middle) > OUTLIER * spread)


def _turns(position: np.ndarray, at: np.ndarray, index_s: np.ndarray | None) -> tuple[float | None, float | None]:
    """Turns between the first and the last index, and the counts of each."""
    if index_s is None or len(index_s) < 2 or not len(at):
        return None, None
    places = np.concatenate([[0], position])[np.searchsorted(at, index_s, side="right")]
    turns = len(index_s) - 1
    return float(turns), float(abs(places[-1] - places[0])) / turns
