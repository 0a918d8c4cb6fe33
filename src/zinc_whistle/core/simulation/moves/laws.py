"""How a place is gone to: what duty a law asks for at each sample, from whole counts alone."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np

from .shaft import Shaft

Way = Literal["on/off", "reduced", "p", "pd", "pi", "pid", "cascade"]
WAYS: dict[Way, str] = {
    "on/off": "All or nothing",
    "reduced": "All, then a fifth after crossing",
    "p": "Proportional (P)",
    "pd": "With the speed taken off (PD)",
    "pi": "With an integral (PI)",
    "pid": "With both (PID)",
    "cascade": "Place over speed",
}
STRAIGHT: tuple[Way, ...] = ("on/off", "reduced")
"""These go straight for the target: a setpoint in between means nothing to them."""
REDUCED = 0.2
Control = Callable[[int, int], float | None]
"""From a sample's number and the counts that are seen to the duty; None: nothing is driven."""


@dataclass(frozen=True, slots=True)
class MoveLaw:
    """``gain``: duty a count; ``derivative_s``, ``integral_s`` (0: none); ``outer_per_s``: speed asked for a count of
    error (counts/s a count); ``inner``: duty per rad/s and its integral time; ``window``: counts that are near enough;
    ``offset``: duty below which nothing moves, added where any is asked; ``ahead``: duty for each count/s that the
    setpoint moves (feed-forward); ``most`` and ``least``: the highest and the lowest duty; a drive that runs one way
    has none below nothing. ``delay_s``: computing, until which the duty of before stands."""

    way: Way
    period_s: float
    delay_s: float = 0.0
    gain: float = 0.0
    derivative_s: float = 0.0
    integral_s: float = 0.0
    outer_per_s: float = 0.0
    inner: tuple[float, float] = (0.0, 1.0)
    window: int = 2
    offset: float = 0.0
    ahead: float = 0.0
    most: float = 1.0
    least: float = -1.0


def suggested_laws(
    shaft: Shaft, period_s: float, lag_s: float, dead_s: float, inner: tuple[float, float]
) -> list[MoveLaw]:
    """Laws to compare, with gains from the model (SIMC for a plant that integrates, Skogestad 2003): those without the
    speed take the lag for a dead time, those with the speed taken off cancel it."""
    slope = shaft.motor.bus_v / shaft.motor.constant * shaft.counts_per_turn / (2 * math.pi)
    breakaway = shaft.stiction_nm * shaft.motor.resistance_ohm / (shaft.motor.constant * shaft.motor.bus_v)
    start, ahead = min(breakaway, 0.5), 1 / slope
    dead = max(dead_s, period_s)
    slow, quick = 1 / (2 * slope * (lag_s + dead)), 1 / (2 * slope * dead) / 2
    # Where it integrates the rules' integral time is 8 dead times; the lag counts as one without the speed.
    return [
        MoveLaw("on/off", period_s),
        MoveLaw("reduced", period_s),
        MoveLaw("p", period_s, gain=slow, offset=start, ahead=ahead),
        MoveLaw("pd", period_s, gain=quick, derivative_s=lag_s, offset=start, ahead=ahead),
        MoveLaw("pi", period_s, gain=slow, integral_s=8 * (lag_s + dead), offset=start, ahead=ahead),
        MoveLaw("pid", period_s, gain=quick, derivative_s=lag_s, integral_s=16 * dead, offset=start, ahead=ahead),
        MoveLaw("cascade", period_s, outer_per_s=1 / (8 * dead), inner=inner, offset=start, ahead=ahead),
    ]


def control_of(law: MoveLaw, target: int, places: np.ndarray, speeds: np.ndarray, per_rad: float) -> Control:
    """The law at work: ``places`` (counts) and ``speeds`` (counts/s) are the setpoint's at every sample."""
    wanted_at, moves_at = places.tolist(), speeds.tolist()
    forward = target >= 0
    last, crossed, integral = 0, False, 0.0
    gain, derivative, period, window = law.gain, law.derivative_s, law.period_s, law.window
    adds = gain * period / law.integral_s if law.integral_s else 0.0
    bounds = (max(law.least, -law.most), law.most)

    def straight(_: int, seen: int) -> float:
        nonlocal crossed
        error = target - seen
        crossed = crossed or (error <= 0 if forward else error >= 0)
        if abs(error) <= window:
            return 0.0
        most = REDUCED if crossed and law.way == "reduced" else law.most
        return max(math.copysign(most, error), law.least)

    def kept(wanted: float, asks: float, adds: float) -> float:
        """The duty within its bounds; the integral stands still while it is at one and the error asks for more."""
        nonlocal integral
        if bounds[0] < wanted < bounds[1] or wanted * asks < 0:
            integral += adds
        if wanted:
            wanted += law.offset if wanted > 0 else -law.offset
        return min(max(wanted, bounds[0]), bounds[1])

    def single(n: int, seen: int) -> float:
        nonlocal last, integral
        error, moves = wanted_at[n] - seen, moves_at[n]
        speed = (seen - last) / period
        last = seen
        if abs(target - seen) <= window and not moves:
            integral = 0.0
            return 0.0
        wanted = gain * (error - derivative * (speed - moves)) + integral + law.ahead * moves
        return kept(wanted, error, adds * error)

    inner, time = law.inner

    def cascade(n: int, seen: int) -> float:
        nonlocal last, integral
        error, moves = wanted_at[n] - seen, moves_at[n]
        speed = (seen - last) / period
        last = seen
        if abs(target - seen) <= window and not moves and abs(speed) * law.outer_per_s < 1:
            integral = 0.0
            return 0.0
        off = (law.outer_per_s * error + moves - speed) / per_rad
        return kept(inner * off + integral + law.ahead * moves, off, inner * off * period / time)

    return straight if law.way in STRAIGHT else cascade if law.way == "cascade" else single
