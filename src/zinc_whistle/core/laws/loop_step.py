"""A sampled proportional speed loop on the averaged motor, solved exactly from sample to sample."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import scipy

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
    return np.asarray(scipy.linalg.expm(block * time_s))


def discretise(plant: LoopPlant, period_s: float) -> tuple[np.ndarray, np.ndarray]:
    """Exact zero-order hold over one period: x⁺ = F x + g·(volts, load), with x = (current, speed)."""
    whole = _held_over(plant, period_s)
    return whole[:2, :2], whole[:2, 2:]


def _beyond(share: float) -> float:
    """Overshoot; what only the tail's rounding shows counts as none."""
    return share if share > 1e-6 else 0.0


def _with_angle(plant: LoopPlant, time_s: float) -> np.ndarray:
    """Current, speed and angle after a time, from those and the held volts and load (3, 5)."""
    r, inductance, k, j = plant.resistance_ohm, plant.inductance_h, plant.constant, plant.inertia
    block = np.zeros((5, 5))
    block[0, :] = [-r / inductance, -k / inductance, 0.0, 1 / inductance, 0.0]
    block[1, :] = [k / j, 0.0, 0.0, 0.0, -1 / j]
    block[2, 1] = 1.0
    return np.asarray(scipy.linalg.expm(block * time_s))[:3]


@dataclass(frozen=True, slots=True)
class LoopLaw:
    """A speed controller: gain (duty per rad/s), integral time (s; None: proportional alone), control period (s), duty
    fed forward. ``counted``: it knows the speed by the counts of its last period, which is the mean over it."""

    gain: float
    integral_s: float | None
    period_s: float
    feed_forward: float
    counted: bool = False


@lru_cache(maxsize=64)
def step(plant: LoopPlant, target: float, law: LoopLaw) -> LoopResponse:
    """The step of ``duty = feed_forward + gain·(error + ∫error/T_i)``, held over each period; the integral stands still
    while the duty is at its end and the error asks for more (no wind-up).

    Units as in LoopPlant. Raises Unbounded where the loop does not settle.
    """
    period_s, gain = law.period_s, law.gain
    m = [[float(x) for x in row] for row in _with_angle(plant, period_s)]
    slow = plant.resistance_ohm * plant.inertia / (plant.constant**2 + gain * plant.bus_v * plant.constant)
    if law.integral_s is not None:
        # The slow tail of the integral: T_i (1 + 1/(gain × plant)).
        slow = max(slow, law.integral_s * (1 + plant.constant / (gain * plant.bus_v)))
    count = int(min(max(12 * slow / period_s, 60), MOST_SAMPLES))
    each = gain * period_s / law.integral_s if law.integral_s is not None else 0.0
    current = speed = angle = integral = measured = 0.0
    held = np.empty((count, 4))
    times, speeds, duties, currents = [0.0], [0.0], [], [0.0]
    for n in range(count):
        error = target - (measured if law.counted else speed)
        wanted = law.feed_forward + gain * error + integral
        duty = min(max(wanted, plant.least_duty), 1.0)
        if duty == wanted or (duty - wanted) * error > 0:
            integral += each * error
        volts = max(plant.bus_v * duty - plant.lost_v, 0.0)
        load = plant.load_nm if speed > 0 or plant.constant * current > plant.load_nm else plant.constant * current
        held[n] = current, speed, volts, load
        before = angle
        current, speed, angle = (
            m[0][0] * current + m[0][1] * speed + m[0][3] * volts + m[0][4] * load,
            m[1][0] * current + m[1][1] * speed + m[1][3] * volts + m[1][4] * load,
            angle + m[2][0] * current + m[2][1] * speed + m[2][3] * volts + m[2][4] * load,
        )
        if speed < 0:
            speed, angle = 0.0, before
        measured = (angle - before) / period_s
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
