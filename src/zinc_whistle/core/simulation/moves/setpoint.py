"""Where a move shall be at every sample: at once, with a ramped speed, or with its corners rounded."""

from __future__ import annotations

import math
from typing import Literal

import numpy as np

Course = Literal["step", "ramp", "s"]
"""At once, with a ramped speed, or ramped with its corners rounded."""
ROUNDED = 0.5
"""Of the time to speed: over so long the ramp's corners are rounded, which bounds the jerk."""


def along(
    course: Course, target: float, speed: float, acceleration: float, period_s: float, count: int
) -> tuple[np.ndarray, np.ndarray]:
    """Places (counts) at ``count`` samples and the speeds (counts/s) until the next one. ValueError for a ramp without
    a speed or an acceleration."""
    time = np.arange(count + 1) * period_s
    if course == "step" or target == 0:
        places = np.full(count + 1, float(target))
        return places[:-1], np.zeros(count)
    if not (speed > 0 and acceleration > 0):
        raise ValueError("A ramp needs a speed and a time to speed: give them at Load.")
    far = abs(target)
    top = min(speed, math.sqrt(acceleration * far))
    rise = top / acceleration
    whole = rise + far / top

    def ramped(t: np.ndarray) -> np.ndarray:
        t = np.clip(t, 0.0, whole)
        first = acceleration * np.minimum(t, rise) ** 2 / 2
        even = top * np.clip(t - rise, 0.0, whole - 2 * rise)
        last = np.clip(t - (whole - rise), 0.0, rise)
        return np.asarray(first + even + top * last - acceleration * last**2 / 2)

    places = ramped(time)
    if course == "s":
        # The mean over a moving window: speed and acceleration have no jump where the ramp has its corners.
        window = max(round(ROUNDED * rise / period_s), 1)
        longer = np.concatenate([np.zeros(window - 1), places])
        places = np.convolve(longer, np.full(window, 1 / window), "valid")
    places = math.copysign(1.0, target) * places
    return places[:-1], np.diff(places) / period_s


def time_of(course: Course, target: float, speed: float, acceleration: float) -> float:
    """How long the setpoint itself takes (s)."""
    if course == "step" or target == 0 or not (speed > 0 and acceleration > 0):
        return 0.0
    top = min(speed, math.sqrt(acceleration * abs(target)))
    rise = top / acceleration
    return rise + abs(target) / top + (ROUNDED * rise if course == "s" else 0.0)
