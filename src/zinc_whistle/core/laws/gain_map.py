"""Overshoot and settling of the speed loop over gain and integral time, all of them at once."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from .loop_step import LoopLaw, LoopPlant, _with_angle

SETTLED = 0.02


@dataclass(frozen=True, slots=True)
class GainMap:
    """Over gains (duty per rad/s; columns) and integral times (s; rows): overshoot (share; nan where it does not come
    to the target) and settling time (s; nan: not within the time looked at)."""

    gains: np.ndarray
    integrals: np.ndarray
    overshoot: np.ndarray
    settling_s: np.ndarray
    seconds: float


def gain_map(
    plant: LoopPlant, law: LoopLaw, target: float, gains: np.ndarray, integrals: np.ndarray, seconds: float
) -> GainMap:
    """The same step as in ``loop_step`` for every pair: counted speed, duty between nothing and full, no wind-up."""
    m = _with_angle(plant, law.period_s)
    kp, ti = np.meshgrid(gains, integrals)
    each = kp * law.period_s / ti
    shape = kp.shape
    current, speed, measured, integral = (np.zeros(shape) for _ in range(4))
    most, settled = np.zeros(shape), np.zeros(shape)
    count = max(round(seconds / law.period_s), 2)
    for n in range(count):
        error = target - measured
        wanted = kp * error + integral + law.feed_forward
        duty = np.clip(wanted, plant.least_duty, 1.0)
        free = (duty == wanted) | ((duty - wanted) * error > 0)
        integral += np.where(free, each * error, 0.0)
        volts = np.maximum(plant.bus_v * duty - plant.lost_v, 0.0)
        turns = (speed > 0) | (plant.constant * current > plant.load_nm)
        load = np.where(turns, plant.load_nm, plant.constant * current)
        ahead = m[2, 0] * current + m[2, 1] * speed + m[2, 3] * volts + m[2, 4] * load
        current, speed = (
            m[0, 0] * current + m[0, 1] * speed + m[0, 3] * volts + m[0, 4] * load,
            m[1, 0] * current + m[1, 1] * speed + m[1, 3] * volts + m[1, 4] * load,
        )
        stopped = speed < 0
        speed = np.where(stopped, 0.0, speed)
        measured = np.where(stopped, 0.0, ahead / law.period_s)
        np.maximum(most, speed, out=most)
        settled = np.where(np.abs(speed - target) > SETTLED * target, (n + 2) * law.period_s, settled)
    reached = settled <= count * law.period_s
    return GainMap(
        gains,
        integrals,
        np.where(most >= (1 - SETTLED) * target, np.maximum(most / target - 1, 0.0), np.nan),
        np.where(reached, settled, np.nan),
        seconds,
    )
