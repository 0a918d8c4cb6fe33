"""SI values as the plain numbers of a picture."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np

from ..core.algebra.units import UNITS

MOST_POINTS = 240


def in_unit(values: Sequence[float], unit: str) -> list[float]:
    """SI values as plain numbers in a unit, to six figures."""
    factor = UNITS[unit].factor
    return [float(f"{v / factor:.6g}") for v in values]


def one_in(value: float | None, unit: str) -> float | None:
    return None if value is None else in_unit([value], unit)[0]


def thin(*series: list[Any]) -> list[list[Any]]:
    """At most MOST_POINTS of each list, first and last kept."""
    length = len(series[0])
    if length <= MOST_POINTS:
        return [list(s) for s in series]
    keep = np.unique(np.linspace(0, length - 1, MOST_POINTS).round().astype(int))
    return [[s[i] for i in keep] for s in series]
