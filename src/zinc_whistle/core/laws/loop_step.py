"""A sampled proportional speed loop on the averaged motor, solved exactly from sample to sample."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from scipy.linalg import expm

from ..algebra.nodes import Unbounded

MOST_SAMPLES = 4000
EACH_OCTAVE = 8
"""So many moments of each doubling of the time are looked at for the largest current within a period."""


@dataclass(frozen=True, slots=True)
class LoopPlant:
    """The averaged drive, SI: bus and lost volts, ohms, henries, V·s/rad, kg·m², N·m of load, the lowest duty
    allowed."""

    bus_v: float
    lost_v: float
    resistance_ohm: float
    inductance_h: float
    constant: float
    inertia: float
    load_nm: float
    least_duty: float


@dataclass(frozen=True, slots=True)
class LoopResponse:
    """A step to ``target`` rad/s: samples of time (s), speed (rad/s), duty and current (A), and what they amount to."""

    time_s: list[float]
    speed: list[float]
    duty: list[float]
    current_a: list[float]
    target: float
    final: float
    overshoot: float
    settling_s: float | None
    peak_current_a: float


def _held_over(plant: LoopPlant, time_s: float) -> np.ndarray:
    """Current, speed, volts and load after a time in which the last two are held (4, 4)."""
    r, inductance, k, j = plant.resistance_ohm, plant.inductance_h, plant.constant, plant.inertia
    block = np.zeros((4, 4))
    block[:2, :2] = [[-r / inductance, -k / inductance], [k / j, 0.0]]
    block[:2, 2:] = [[1 / inductance, 0.0], [0.0, -1 / j]]
    return np.asarray(expm(block * time_s))


def discretise(plant: LoopPlant, period_s: float) -> tuple[np.ndarray, np.ndarray]:
    """Exact zero-order hold over one period: x⁺ = F x + g·(volts, load), with x = (current, speed)."""
    whole = _held_over(plant, period_s)
    return whole[:2, :2], whole[:2, 2:]


def _beyond(share: float) -> float:
    """Overshoot; what only the tail's rounding shows counts as none."""
    return share if share > 1e-6 else 0.0


@lru_cache(maxsize=64)
def step(plant: LoopPlant, target: float, gain: float, period_s: float, feed_forward: float) -> LoopResponse:
    """The step of ``duty = feed_forward + gain·(target − speed)``, held over each period.

    Units as in LoopPlant; gain in duty per rad/s. Raises Unbounded where the loop does not settle.
    """
    f, g = discretise(plant, period_s)
    f11, f12, f21, f22 = (float(x) for x in f.ravel())
    g11, g12, g21, g22 = (float(x) for x in g.ravel())
    slow = plant.resistance_ohm * plant.inertia / (plant.constant**2 + gain * plant.bus_v * plant.constant)
    count = int(min(max(12 * slow / period_s, 60), MOST_SAMPLES))
    current = speed = 0.0
    held = np.empty((count, 4))
    times, speeds, duties, currents = [0.0], [0.0], [], [0.0]
    for n in range(count):
        duty = min(max(feed_forward + gain * (target - speed), plant.least_duty), 1.0)
        volts = max(plant.bus_v * duty - plant.lost_v, 0.0)
        load = plant.load_nm if speed > 0 or plant.constant * current > plant.load_nm else plant.constant * current
        held[n] = current, speed, volts, load
        current, speed = (
            f11 * current + f12 * speed + g11 * volts + g12 * load,
            f21 * current + f22 * speed + g21 * volts + g22 * load,
        )
        if speed < 0:
            speed = 0.0
        times.append((n + 1) * period_s)
        speeds.append(speed)
        duties.append(duty)
        currents.append(current)
    duties.append(duties[-1])
    if not math.isfinite(speed) or abs(speed) > 1e9:
        raise Unbounded("the loop runs away")
    tail = speeds[-max(len(speeds) // 10, 5) :]
    final = sum(tail) / len(tail)
    if max(tail) - min(tail) > 0.02 * abs(target):
        raise Unbounded("the loop hunts and does not settle: lower the gain or shorten the period")
    outside = [i for i, s in enumerate(speeds) if abs(s - final) > 0.02 * abs(final)]
    settled = times[min(outside[-1] + 1, len(times) - 1)] if outside else 0.0
    return LoopResponse(
        time_s=times,
        speed=speeds,
        duty=duties,
        current_a=currents,
        target=target,
        final=final,
        overshoot=_beyond(max(speeds) / final - 1.0) if final > 0 else 0.0,
        settling_s=settled,
        peak_current_a=max(max(currents), _between(plant, period_s, held)),
    )


def _between(plant: LoopPlant, period_s: float, held: np.ndarray) -> float:
    """The largest current inside the periods: each pulse of duty drives it up in L/R, long before the next sample.

    ``held``: current, speed, volts and load at the beginning of each period (n, 4).
    """
    step_s = min(plant.inductance_h / plant.resistance_ohm, period_s) / EACH_OCTAVE
    step, at, now, rows = _held_over(plant, step_s), np.eye(4), 0.0, list[np.ndarray]()
    while now < period_s:
        for _ in range(EACH_OCTAVE):
            at, now = step @ at, now + step_s
            if now < period_s:
                rows.append(at[0])
        step, step_s = step @ step, 2 * step_s
    return float((held @ np.array(rows).T).max()) if rows else 0.0
