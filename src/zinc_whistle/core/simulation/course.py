"""The way of a state through one mode, and where on it an event first falls."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import scipy
from numpy.typing import NDArray

from .plant import State

Grid = NDArray[np.float64]


class Course:
    """The way of a state through one mode: a Taylor series where it converges to the last digit, else exponentials."""

    TERMS = 32
    NEAR = 4.0
    """Up to this norm of A·t, in units of the drive's own sizes, what is left out is below a double's last digit."""

    def __init__(self, a: State, x: State, length: float, sizes: State) -> None:
        self.a, self.x, self.scale = a, x, length
        self.series: Grid | None = None
        if length and float((np.abs(a) @ sizes / sizes).max()) * length <= self.NEAR:
            found = np.empty((self.TERMS, len(x)))
            found[0] = x
            for k in range(1, self.TERMS):
                found[k] = (a @ found[k - 1]) * (length / k)
            self.series = found

    def at(self, times: Grid) -> Grid:
        """States at some times (n,) as (n, 5)."""
        if self.series is None:
            found: Grid = np.asarray(scipy.linalg.expm(self.a * times[:, None, None])) @ self.x
            return found
        return np.vander(times / self.scale, self.TERMS, increasing=True) @ self.series

    def one(self, time: float) -> State:
        """The state at one time."""
        found: State = self.at(np.array([time]))[0]
        return found


def root(course: Course, places: Grid, states: Grid, rates: Grid, function: Callable[[Grid], Grid]) -> float | None:
    """Where a function first falls below zero; a dip between two places is looked into as well."""
    values = function(states)

    def at(t: float) -> float:
        return float(function(course.one(t)[None])[0])

    for k in range(len(places) - 1):
        low, high = float(places[k]), float(places[k + 1])
        if values[k + 1] < 0:
            if values[k] <= 0 and k == 0:
                # It stands on the edge that was just crossed: leave it a moment, or cross at once if it goes back.
                low = high * 1e-9
                if at(low) <= 0:
                    return 0.0
            return float(scipy.optimize.brentq(at, low, high, xtol=1e-16 + 1e-15 * high, rtol=1e-14))
        span = high - low
        slopes = function(states[k : k + 2] + span * rates[k : k + 2]) - values[k : k + 2]
        if dips(values[k : k + 1], values[k + 1 : k + 2], slopes[:1], slopes[1:])[0]:
            lowest = scipy.optimize.minimize_scalar(
                at, bounds=(low, high), method="bounded", options={"xatol": span * 1e-9}
            )
            if lowest.fun < 0:
                return float(scipy.optimize.brentq(at, low, float(lowest.x), xtol=1e-16 + 1e-15 * high, rtol=1e-14))
    return None


def dips(start: Grid, end: Grid, falls: Grid, rises: Grid) -> NDArray[np.bool_]:
    """Where a function that is positive at both ends may go below zero between: its end tangents meet below zero.

    ``falls`` and ``rises`` are its slopes at both ends, for each unit of the interval.
    """
    bent = (start > 0) & (end > 0) & (falls < 0) & (rises > 0)
    with np.errstate(divide="ignore", invalid="ignore"):
        meet = (end - start - rises) / (falls - rises)
        found: NDArray[np.bool_] = bent & (start + falls * meet < 0)
    return found
