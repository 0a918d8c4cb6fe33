"""A drive's gain, lag and dead time out of a recorded course of duty and speed, and what a relay test says.

duty as it was held → lag with dead time and a friction that takes its share → least squares of the speed's error
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

import numpy as np
import scipy

from .tuning import Lagging

DEAD_PLACES = 12
"""So many dead times beside the best one are tried."""
MOST_STEPS = 4000
LEAST_TOLD = 0.5
LONGEST_DEAD = 0.1
"""Of the record: no dead time is longer."""
TURNS = 6
"""Half periods that a relay test must show before it counts."""
ALIKE = 0.25
"""Half periods of a relay test differ by less than this of their mean."""


@dataclass(frozen=True, slots=True)
class PlantFit:
    """Gain (rad/s at full duty), lag and dead time (s), the speed that friction takes (rad/s), and what is left: root
    mean square (rad/s) and the share of the course that is told."""

    plant: Lagging
    lost: float
    rms: float
    told: float
    course: np.ndarray


@dataclass(frozen=True, slots=True)
class RelayFound:
    """A duty that went to and fro between two levels: half of their difference, half of the speed's swing (rad/s) and
    its period (s)."""

    half_duty: float
    half_swing: float
    period_s: float

    @property
    def ultimate_gain(self) -> float:
        """Duty per rad/s, by the describing function: 4 d/(π a) (Åström & Hägglund 1984)."""
        return 4 * self.half_duty / (math.pi * self.half_swing)


def course_of(plant: Lagging, lost: float, step_s: float, duty: np.ndarray, start: float) -> np.ndarray:
    """The speed (rad/s) at even steps for a duty that is held from each of them on, exactly from one to the next."""
    assert plant.lag_s is not None
    goal = plant.gain * duty
    goal = np.sign(goal) * np.maximum(np.abs(goal) - lost, 0.0)
    whole = int(plant.dead_s // step_s)
    share = plant.dead_s / step_s - whole
    # Within a step the duty of before holds for a share of it, then the new one.
    new, old = _later(goal, whole), _later(goal, whole + 1)
    first, rest = math.exp(-share * step_s / plant.lag_s), math.exp(-(1 - share) * step_s / plant.lag_s)
    driven = old * (1 - first) * rest + new * (1 - rest)
    course, _ = scipy.signal.lfilter([1.0], [1.0, -first * rest], driven[:-1], zi=[first * rest * start])
    return np.concatenate([[start], course])


def _later(values: np.ndarray, places: int) -> np.ndarray:
    """The same some places later; before them stands the first."""
    return values if places == 0 else np.concatenate([np.full(min(places, len(values)), values[0]), values[:-places]])


def evenly(time: np.ndarray, duty: np.ndarray, speed: np.ndarray) -> tuple[float, np.ndarray, np.ndarray]:
    """A course at even steps (s): the duty as it stood, the speed between its values."""
    step = max(float(np.median(np.diff(time))), float(time[-1]) / MOST_STEPS)
    grid = np.arange(int(time[-1] / step * (1 + 1e-9)) + 1) * step
    stood = np.searchsorted(time, grid * (1 + 1e-12) + 1e-12, side="right") - 1
    return step, duty[stood], np.interp(grid, time, speed)


def fit(time: np.ndarray, duty: np.ndarray, speed: np.ndarray) -> PlantFit:
    """The lag that tells the course best. ValueError where the course tells none."""
    step, duty, speed = evenly(time, duty, speed)
    span, size = step * (len(speed) - 1), float(np.max(np.abs(speed)))
    gain = size / max(float(np.max(np.abs(duty))), 1e-3)

    def course(x: np.ndarray) -> np.ndarray:
        plant = Lagging(math.exp(x[0]), math.exp(x[1]), float(x[2]))
        return course_of(plant, float(x[3]) * size, step, duty, float(speed[0]))

    def error(x: np.ndarray) -> np.ndarray:
        return np.asarray((course(x) - speed) / size)

    low = np.array([math.log(gain / 100), math.log(step / 20), 0.0, 0.0])
    high = np.array([math.log(gain * 100), math.log(10 * span), max(LONGEST_DEAD * span, 4 * step), 1.0])

    def sought(x: np.ndarray) -> Any:
        return scipy.optimize.least_squares(error, np.clip(x, low, high), bounds=(low, high), x_scale=[1, 1, step, 0.1])

    starts = [
        np.array([math.log(gain * 1.1), math.log(span / part), dead, 0.05])
        for part in (100, 20, 5)
        for dead in (0.5 * step, 3 * step)
    ]
    found = min((sought(x) for x in starts), key=lambda f: float(f.cost))
    # The error has corners where the dead time crosses a sample: the places beside the best are tried too.
    for dead in np.linspace(0.0, min(high[2], 2 * found.x[2] + 4 * step), DEAD_PLACES):
        again = sought(np.array([*found.x[:2], dead, found.x[3]]))
        found = again if again.cost < found.cost else found
    plant = Lagging(math.exp(found.x[0]), math.exp(found.x[1]), float(found.x[2]))
    made = course(found.x)
    left, spread = made - speed, float(np.sum((speed - speed.mean()) ** 2))
    told = 1 - float(np.sum(left**2)) / spread
    if told < LEAST_TOLD:
        raise ValueError("The speed does not follow the duty in this record: less than half of its course is told.")
    grid = np.arange(len(made)) * step
    rms = float(np.sqrt(np.mean(left**2)))
    return PlantFit(plant, float(found.x[3]) * size, rms, told, np.interp(time, grid, made))


def relay_test(time: np.ndarray, duty: np.ndarray, speed: np.ndarray) -> RelayFound | None:
    """What a relay test shows; None where the duty did not go to and fro between two levels, evenly."""
    low, high = float(np.min(duty)), float(np.max(duty))
    middle = (low + high) / 2
    up = duty > middle
    near = np.minimum(np.abs(duty - low), np.abs(duty - high)) <= 0.02 * (high - low)
    changes = np.flatnonzero(up[1:] != up[:-1]) + 1
    if near.mean() < 0.98 or len(changes) < TURNS + 1:
        return None
    # The first swings come from wherever it began.
    times = time[changes[-TURNS - 1 :]]
    halves = np.diff(times)
    if np.max(np.abs(halves - halves.mean())) > ALIKE * halves.mean():
        return None
    inside = speed[changes[-TURNS - 1] :]
    return RelayFound((high - low) / 2, float(np.max(inside) - np.min(inside)) / 2, 2 * float(halves.mean()))
