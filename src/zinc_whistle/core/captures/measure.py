"""What a capture of pulses or of a steady level shows: levels, pace, edges, ringing, and two channels of one capture.

Levels are the modes of the histogram's two halves (IEEE Std 181-2011, 5.2.1, from memory). An edge is where the wave
has gone from below 40 % to above 60 % of the swing or back, at the last crossing of the middle before that: noise makes
none. Between samples a wave is a straight line; where rows stand only at edges, it holds until the next row.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from .table import CaptureError

Floats = NDArray[np.floating[Any]]
LEAST_SAMPLES = 8
BINS = 512
NO_SWING = 6.0
"""Pulses stand so many times above what each level scatters by; less is a steady level with ripple."""
UNEVEN = 1.05
"""Steps differ where the longest is so many times the usual one."""
FEW_LEVELS, CHANGING = 4, 0.9
"""Rows stand only at edges where there are no more levels than this, and so many rows differ from the one before."""
EDGES_LOOKED_AT = 200
BLOCKS, BLOCK, MISSED = 16, 1 << 16, 0.05
RINGS = 0.08
"""A share of the swing: less beyond a level is noise, or the instrument's own (common practice, no source)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Edges:
    """When the wave rises and falls through its middle (s)."""

    up: Floats
    down: Floats


@dataclass(frozen=True, slots=True, kw_only=True)
class WaveMeasures:
    """One channel. Levels in the channel's own unit, times in s; None where the capture does not hold it."""

    low: float
    high: float
    least: float
    most: float
    mean: float
    rms: float
    samples: int
    step_s: float
    """The usual time between two samples."""
    begins_s: float
    span_s: float
    at_edges: bool
    """Whether rows stand only where something changed."""
    clipped_low: bool
    clipped_high: bool
    edges: Edges | None = None
    """None: a steady level."""
    frequency_hz: float | None = None
    frequency_doubt_hz: float | None = None
    """Standard: the sampling step at both ends, and the scatter of the periods."""
    duty: float | None = None
    rise_s: float | None = None
    fall_s: float | None = None
    """10 to 90 %; no shorter than the sampling step."""
    overshoot: float | None = None
    """Beyond the high level after a rise, as a share of the swing; the median of the edges."""
    ringing_hz: float | None = None
    ripple: float | None = None
    """Peak to peak of a steady level."""
    ripple_hz: float | None = None

    @property
    def swing(self) -> float:
        return self.high - self.low

    @property
    def rate_hz(self) -> float:
        return 1 / self.step_s


def measure(time: Floats, values: Floats) -> WaveMeasures:
    """All that one channel shows. CaptureError with a sentence where it is no capture over time."""
    if len(time) < LEAST_SAMPLES:
        raise CaptureError(f"The capture has {len(time)} samples: {LEAST_SAMPLES} at least.")
    steps = np.diff(time)
    if float(steps.min()) < 0:
        at = int(np.argmin(steps)) + 2
        raise CaptureError(f"Time runs backwards at sample {at}: is that the right column for the time?")
    span = float(time[-1] - time[0])
    if span <= 0:
        raise CaptureError("All samples have the same time.")
    usual = float(np.median(steps)) or span / len(steps)
    least, most = float(values.min()), float(values.max())
    few = bool(len(np.unique(values[:: max(len(values) // 10_000, 1)])) <= FEW_LEVELS)
    uneven = float(steps.max()) > UNEVEN * usual
    at_edges = few and uneven and float(np.mean(np.diff(values) != 0)) > CHANGING
    weights = np.append(steps, usual) if uneven else None
    mean = float(np.average(values, weights=weights))
    rms = math.sqrt(float(np.average(values * values, weights=weights)))
    some = _some(values, least, most)
    low, high, scatter = _levels(some, least, most)
    clipped_low, clipped_high = _clipped(some, least, most) if not few else (False, False)
    seen = WaveMeasures(
        low=mean,
        high=mean,
        least=least,
        most=most,
        mean=mean,
        rms=rms,
        samples=len(values),
        step_s=usual,
        begins_s=float(time[0]),
        span_s=span,
        at_edges=at_edges,
        clipped_low=clipped_low,
        clipped_high=clipped_high,
    )
    found = None
    if high - low > max(NO_SWING * scatter, 1e-12 * max(abs(low), abs(high))):
        found = _edges(time, values, low, high, held=at_edges)
    if found is None or len(found.up) + len(found.down) == 0:
        ripple, pace = _ripple(values, usual)
        return replace(seen, ripple=ripple, ripple_hz=pace)
    pace, doubt, duty = _pace(found, usual)
    seen = replace(seen, low=low, high=high, edges=found, frequency_hz=pace, frequency_doubt_hz=doubt, duty=duty)
    if at_edges:
        return seen
    beyond, rings = _ringing(time, values, found, low, high, usual)
    rise, fall = _slew(time, values, found.up, low, high), _slew(time, values, found.down, high, low)
    return replace(seen, rise_s=rise, fall_s=fall, overshoot=beyond, ringing_hz=rings)


def _some(values: Floats, least: float, most: float) -> Floats:
    """Enough of a long capture to tell its levels by: blocks that lie evenly in it, as every so manieth sample may
    always meet the same part of a period. All of it, where they miss what is rare."""
    if len(values) <= BLOCKS * BLOCK:
        return values
    starts = np.linspace(0, len(values) - BLOCK, BLOCKS).astype(int)
    found = np.concatenate([values[a : a + BLOCK] for a in starts])
    missed = (float(found.min()) - least) + (most - float(found.max()))
    return found if missed <= MISSED * (most - least) else values


def _levels(values: Floats, least: float, most: float) -> tuple[float, float, float]:
    """The two levels, and what they scatter by (standard)."""
    if most <= least:
        return least, most, 0.0
    counts, sides = np.histogram(values, bins=BINS, range=(least, most))
    half, width = BINS // 2, (most - least) / BINS
    places = [int(np.argmax(counts[:half])), half + int(np.argmax(counts[half:]))]
    found, scatters = [], []
    for place in places:
        # The mean of what stands near the mode is finer than the mode's bin.
        near = values[np.abs(values - (sides[place] + width / 2)) <= max(8 * width, 0.02 * (most - least))]
        found.append(float(near.mean()) if len(near) else sides[place] + width / 2)
        scatters.append(float(near.std()) if len(near) else 0.0)
    return found[0], found[1], max(scatters)


def _clipped(values: Floats, least: float, most: float) -> tuple[bool, bool]:
    """Whether a level is cut off: it stands exactly at its extreme, without the noise that the other level has."""
    tenth = 0.1 * (most - least)
    below, above = values[values < least + tenth], values[values > most - tenth]
    if min(len(below), len(above)) < 20:
        return False, False
    flat_low, flat_high = (float(np.mean(part == end)) for part, end in ((below, least), (above, most)))
    return flat_low > 0.9 and flat_high < 0.6, flat_high > 0.9 and flat_low < 0.6


def _edges(time: Floats, values: Floats, low: float, high: float, held: bool) -> Edges:
    swing = high - low
    above, below = values > low + 0.6 * swing, values < low + 0.4 * swing
    sure = np.flatnonzero(above | below)
    if len(sure) < 2:
        return Edges(up=np.empty(0), down=np.empty(0))
    state = above[sure]
    turns = np.flatnonzero(state[1:] != state[:-1])
    after, rising = sure[turns + 1], state[turns + 1]
    if held:
        found = time[after]
    else:
        crossing = np.flatnonzero((values[1:] > low + 0.5 * swing) != (values[:-1] > low + 0.5 * swing))
        at = crossing[np.searchsorted(crossing, after, side="left") - 1]
        share = (low + 0.5 * swing - values[at]) / (values[at + 1] - values[at])
        found = time[at] + share * (time[at + 1] - time[at])
    return Edges(up=found[rising], down=found[~rising])


def _pace(edges: Edges, step: float) -> tuple[float | None, float | None, float | None]:
    """Frequency with its standard doubt, and duty, both over whole periods."""
    up, down = edges.up, edges.down
    marks = up if len(up) >= len(down) else down
    if len(marks) < 2:
        return None, None, None
    whole = float(marks[-1] - marks[0])
    count = len(marks) - 1
    periods = np.diff(marks)
    scatter = float(periods.std()) / math.sqrt(count) if count > 1 else 0.0
    period = whole / count
    # Each end lies within one step, rectangular (JCGM 100:2008, 4.3.7); where edges are slow it is less.
    doubt = math.hypot(step / math.sqrt(6) / count, scatter) / period**2
    first, last = float(marks[0]), float(marks[-1])
    ups, downs = up[(up >= first) & (up <= last)], down[(down >= first) & (down <= last)]
    if marks is up:
        high = float(downs.sum() - ups[:-1].sum()) if len(downs) == len(ups) - 1 else None
    else:
        high = float(downs[1:].sum() - ups.sum()) if len(ups) == len(downs) - 1 else None
    return 1 / period, doubt, None if high is None else high / whole


def _slew(time: Floats, values: Floats, at: Floats, start: float, end: float) -> float | None:
    """10 to 90 % of the way, the median of the first edges; no shorter than what lies between two samples."""
    if not len(at):
        return None
    found = []
    lower, upper = start + 0.1 * (end - start), start + 0.9 * (end - start)
    sign = 1.0 if end > start else -1.0
    for moment in at[:EDGES_LOOKED_AT]:
        middle = int(np.searchsorted(time, moment))
        left = middle
        while left > 0 and sign * (values[left - 1] - lower) > 0 and middle - left < 10_000:
            left -= 1
        right = max(middle, 1)
        while right < len(values) - 1 and sign * (values[right] - upper) < 0 and right - middle < 10_000:
            right += 1
        if left == 0:
            continue
        began = _between(time, values, left - 1, lower)
        ended = _between(time, values, right - 1, upper)
        if ended >= began:
            found.append(max(ended - began, float(time[min(middle, len(time) - 1)] - time[max(middle - 1, 0)]) * 0.8))
    return float(np.median(found)) if found else None


def _between(time: Floats, values: Floats, i: int, level: float) -> float:
    a, b = float(values[i]), float(values[i + 1])
    share = (level - a) / (b - a) if b != a else 0.5
    return float(time[i] + min(max(share, 0.0), 1.0) * (time[i + 1] - time[i]))


def _ringing(
    time: Floats, values: Floats, edges: Edges, low: float, high: float, step: float
) -> tuple[float | None, float | None]:
    """How far it goes beyond the high level after a rise, and at which frequency it swings about it then."""
    swing, beyond, paces = high - low, [], []
    for moment in edges.up[:EDGES_LOOKED_AT]:
        later = edges.down[edges.down > moment]
        end = float(later[0]) if len(later) else float(time[-1])
        a, b = np.searchsorted(time, (moment, moment + 0.9 * (end - moment)))
        part = values[a:b]
        if len(part) < 3:
            continue
        beyond.append((float(part.max()) - high) / swing)
        away = part[int(np.argmax(part)) :] - high
        big = np.abs(away) > RINGS / 4 * swing
        last = int(np.flatnonzero(big)[-1]) + 1 if big.any() else 0
        away = away[:last]
        turns = np.flatnonzero((away[1:] > 0) != (away[:-1] > 0))
        if len(turns) >= 3:
            share = away[turns] / (away[turns] - away[turns + 1])
            at = turns + share
            paces.append((len(at) - 1) / (2 * float(at[-1] - at[0]) * step))
    if not beyond:
        return None, None
    overshoot = max(float(np.median(beyond)), 0.0)
    rings = overshoot > RINGS and len(paces) * 2 >= len(beyond)
    return overshoot, float(np.median(paces)) if rings else None


def _ripple(values: Floats, step: float) -> tuple[float, float | None]:
    """Peak to peak without the rarest thousandth, and the frequency that is strongest, where one stands out."""
    low, high = (float(x) for x in np.quantile(values, (0.0005, 0.9995)))
    some = values[: 1 << 18]
    if high <= low or len(some) < 32:
        return high - low, None
    power = np.abs(np.fft.rfft((some - some.mean()) * np.hanning(len(some)))) ** 2
    power[0] = 0.0
    peak = int(np.argmax(power[1:])) + 1
    own = float(power[max(peak - 2, 1) : peak + 3].sum())
    strongest = own > 0.3 * float(power.sum())
    return high - low, peak / (len(some) * step) if strongest else None


@dataclass(frozen=True, slots=True, kw_only=True)
class Gap:
    """From the end of one channel's pulse to the beginning of the other's (s); below nothing both are high at once."""

    least_s: float
    mean_s: float
    count: int


def gaps(first: Edges, second: Edges) -> tuple[Gap | None, Gap | None]:
    """Dead times of two gates: the first off until the second on, and the second off until the first on."""
    return _gap(first, second), _gap(second, first)


def _gap(off: Edges, on: Edges) -> Gap | None:
    """Each fall against the rise of the other that is nearest to it."""
    if not len(off.down) or not len(on.up):
        return None
    place = np.searchsorted(on.up, off.down)
    found = []
    for moment, i in zip(off.down, place, strict=True):
        near = [float(on.up[k] - moment) for k in (i - 1, i) if 0 <= k < len(on.up)]
        found.append(min(near, key=abs))
    # The first and the last pulse may have no partner within the capture.
    usual = float(np.median(np.abs(found)))
    held = [x for x in found if abs(x) <= 5 * usual + 1e-12]
    return Gap(least_s=min(held), mean_s=float(np.mean(held)), count=len(held))
