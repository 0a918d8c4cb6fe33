"""A temperature that rises to its end: fitted by least squares, and how sure the end is.

T(t) = T_e − (T_e − T_0) e^(−t/τ). For a given τ both temperatures follow linearly, so that only τ is searched for.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import scipy
from numpy.typing import NDArray

Floats = NDArray[np.float64]
LEAST, MOST_READINGS = 4, 500
LONGEST = 30.0
"""Beyond so many times the span of the readings no end can be told from a straight line."""
STRAIGHT = 0.98
READ_K = 0.1
"""A thermometer is read to about this (common practice, no source): readings that fit better tell no more."""


@dataclass(frozen=True, slots=True)
class WarmUp:
    """The readings (s, °C), where they end (°C), the standard doubt of that (K), and the time constant (s)."""

    readings: tuple[tuple[float, float], ...]
    final_c: float
    doubt_k: float
    tau_s: float


def read(text: str) -> tuple[list[float], list[float]]:
    """Times (s) and temperatures (°C) out of ``0:24,2:31.5``: minutes and degrees. ValueError with a sentence."""
    times: list[float] = []
    temperatures: list[float] = []
    for piece in (x.strip() for x in text.replace(";", ",").split(",") if x.strip()):
        left, colon, right = piece.partition(":")
        try:
            minute, celsius = float(left), float(right)
        except ValueError:
            raise ValueError(f"“{piece}” is no reading: write minutes, a colon and degrees, as 2:31.5.") from None
        if not colon or not (math.isfinite(minute) and math.isfinite(celsius)) or minute < 0:
            raise ValueError(f"“{piece}” is no reading: write minutes, a colon and degrees, as 2:31.5.")
        if times and minute * 60 <= times[-1]:
            raise ValueError(f"“{piece}”: the times must follow one another.")
        times.append(minute * 60)
        temperatures.append(celsius)
    if len(times) > MOST_READINGS:
        raise ValueError(f"{MOST_READINGS} readings at most.")
    return times, temperatures


def fit(times: Sequence[float], temperatures: Sequence[float]) -> WarmUp:
    """The end of a rise. ValueError with a sentence where the readings do not tell one yet."""
    if len(times) < LEAST:
        raise ValueError(f"{LEAST} readings at least.")
    t, seen = np.asarray(times, dtype=float), np.asarray(temperatures, dtype=float)
    span = float(t[-1] - t[0])

    def left(log_tau: float) -> float:
        return float(np.sum(_residual(t, seen, math.exp(log_tau)) ** 2))

    low, high = math.log(span / 50), math.log(span * LONGEST)
    found = scipy.optimize.minimize_scalar(left, bounds=(low, high), method="bounded", options={"xatol": 1e-9})
    tau = math.exp(float(found.x))
    if tau > STRAIGHT * span * LONGEST:
        raise ValueError("They rise in a straight line still: where they end cannot be told yet. Go on reading.")
    matrix = _matrix(t, tau)
    end, size = (float(x) for x in np.linalg.lstsq(matrix, seen, rcond=None)[0])
    # The doubt of the end: the slopes of all three unknowns, and what the readings scatter by.
    slope = size * np.exp(-t / tau) * t / tau**2
    jacobian = np.column_stack([matrix, slope])
    free = max(len(t) - 3, 1)
    scatter = max(math.sqrt(left(math.log(tau)) / free), READ_K)
    covariance = np.linalg.pinv(jacobian.T @ jacobian) * scatter**2
    return WarmUp(
        readings=tuple(zip((float(x) for x in t), (float(x) for x in seen), strict=True)),
        final_c=end,
        doubt_k=math.sqrt(float(covariance[0, 0])),
        tau_s=tau,
    )


def _matrix(t: Floats, tau: float) -> Floats:
    return np.column_stack([np.ones_like(t), np.exp(-t / tau)])


def _residual(t: Floats, seen: Floats, tau: float) -> Floats:
    matrix = _matrix(t, tau)
    found = np.linalg.lstsq(matrix, seen, rcond=None)[0]
    return np.asarray(matrix @ found - seen)
