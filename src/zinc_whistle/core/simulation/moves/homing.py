"""Homing: driven at a low duty until a switch is met, seen late, and stopped; again and again from other places."""

from __future__ import annotations

import math
from dataclasses import dataclass

from .shaft import Shaft, Turning

TRIES = 24
"""Places of the switch within the way of one look, from which it is tried: they are as likely as one another."""
LONGEST_S = 60.0


@dataclass(frozen=True, slots=True, kw_only=True)
class HomingFound:
    """Speed where the switch is met (counts/s), by how much it runs past it at most (counts), how far the zero
    that is set lies behind the switch (counts: least and most of the tries), the largest current (A), and how long it
    takes from there (s)."""

    speed: float
    overrun: float
    zero: tuple[float, float]
    peak_a: float
    time_s: float

    @property
    def spread(self) -> float:
        """By how much the zero differs from time to time (counts)."""
        return self.zero[1] - self.zero[0]


def homing(
    shaft: Shaft, duty: float, ramp_s: float, tick_s: float, debounce_s: float, away: float, *, shorts: bool
) -> HomingFound:
    """From ``away`` counts to a switch at ``duty`` (``ramp_s`` from nothing to it); looked at every ``tick_s``,
    believed after ``debounce_s``; then shorted, or let run out. ValueError where it does not come there."""
    per_rad = shaft.counts_per_turn / (2 * math.pi)
    probe = _one(shaft, duty, ramp_s, tick_s, debounce_s, away / per_rad, shorts)
    way = probe.speed * tick_s
    runs = [
        _one(shaft, duty, ramp_s, tick_s, debounce_s, away / per_rad + way * k / TRIES, shorts) for k in range(TRIES)
    ]
    zeros = [r.zero * per_rad for r in runs]
    return HomingFound(
        speed=probe.speed * per_rad,
        overrun=max(r.past for r in runs) * per_rad,
        zero=(min(zeros), max(zeros)),
        peak_a=max(r.peak for r in runs),
        time_s=max(r.time for r in runs),
    )


@dataclass(frozen=True, slots=True)
class _Try:
    """One homing: speed at the switch (rad/s), how far past it comes and how far past it is believed (rad), the largest
    current (A), time until it is believed (s)."""

    speed: float
    past: float
    zero: float
    peak: float
    time: float


def _one(
    shaft: Shaft, duty: float, ramp_s: float, tick_s: float, debounce_s: float, switch: float, shorts: bool
) -> _Try:
    turning, looks = Turning(shaft), max(round(debounce_s / tick_s), 1)
    seen, met, peak, at_switch = 0, None, 0.0, 0.0
    for n in range(round(LONGEST_S / tick_s)):
        if met is None:
            share = min((n + 1) * tick_s / ramp_s, 1.0) if ramp_s > 0 else 1.0
            turning.go(duty * share, tick_s)
            if turning.angle >= switch:
                at_switch = at_switch or turning.speed
                seen += 1
            if seen > looks:
                met = (turning.angle, (n + 1) * tick_s)
        else:
            turning.go(0.0 if shorts else None, tick_s)
            if turning.speed <= 0.0:
                return _Try(at_switch, turning.angle - switch, met[0] - switch, peak, met[1])
        peak = max(peak, abs(turning.current))
    if met is None:
        raise ValueError("At the duty of homing it does not come to the switch within a minute.")
    raise ValueError("After the switch it does not come to rest within a minute: a load pulls it along.")
