"""Preferred values of parts, IEC 60063: E6, E12 and E24 as listed there; E48 and E96 by their rule."""

from __future__ import annotations

import math

_E24 = (10, 11, 12, 13, 15, 16, 18, 20, 22, 24, 27, 30, 33, 36, 39, 43, 47, 51, 56, 62, 68, 75, 82, 91)


def series(name: str) -> tuple[float, ...]:
    """The values of one decade, from 1 to below 10. KeyError for an unknown series."""
    if name in ("E6", "E12", "E24"):
        return tuple(v / 10 for v in _E24[:: {"E6": 4, "E12": 2, "E24": 1}[name]])
    count = {"E48": 48, "E96": 96}[name]
    return tuple(round(10 ** (i / count), 2) for i in range(count))


def at_least(value: float, name: str = "E24") -> float:
    """The smallest preferred value that is not below ``value`` (any unit). ValueError unless above zero."""
    if not value > 0 or not math.isfinite(value):
        raise ValueError("a preferred value needs a number above zero")
    decade = 10.0 ** math.floor(math.log10(value))
    for scale in (decade, decade * 10):
        for step in series(name):
            if step * scale >= value * (1 - 1e-9):
                return float(f"{step * scale:.6g}")
    return float(f"{decade * 100:.6g}")
