"""Which column of a capture is what: guessed from names, units and shape, and scaled to SI."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from ..algebra.units import UNITS
from .table import CaptureError, SampleTable

ROLES: dict[str, tuple[str, ...]] = {
    "time": ("s", "ms", "µs", "ns", "min"),
    "current": ("A", "mA"),
    "voltage": ("V", "mV"),
    "speed": ("rpm", "rad/s", "rps"),
}
_WORDS = {
    "time": ("t", "time", "zeit", "sec", "seconds", "x"),
    "current": ("i", "current", "amps", "ampere", "amperes", "a", "strom", "sense"),
    "voltage": ("v", "u", "volt", "volts", "voltage", "bus", "spannung"),
    "speed": ("w", "omega", "speed", "rpm", "n", "velocity", "drehzahl"),
}
SPELT = {"us": "µs", "sec": "s", "volt": "V", "v": "V", "a": "A", "ma": "mA", "mv": "mV", "RPM": "rpm", "r/min": "rpm"}


def guess(table: SampleTable) -> dict[str, tuple[int, str]]:
    """Role → (column, unit), for those that can be told; a column serves one role."""
    found: dict[str, tuple[int, str]] = {}
    taken: set[int] = set()
    units = [SPELT.get(u, u) for u in table.layout.units]
    for role, allowed in ROLES.items():
        by_unit = [i for i, u in enumerate(units) if u in allowed and i not in taken]
        by_word = [i for i, n in enumerate(table.layout.names) if n.lower().strip() in _WORDS[role] and i not in taken]
        for i in (*by_unit, *by_word):
            found[role] = (i, units[i] if units[i] in allowed else allowed[0])
            taken.add(i)
            break
    if "time" not in found and 0 not in taken and np.all(np.diff(table.columns[0]) > 0):
        found["time"] = (0, "s")
        taken.add(0)
    if "current" not in found:
        free = [i for i in range(len(units)) if i not in taken]
        if len(free) == 1:
            found["current"] = (free[0], "A")
    return found


def time_unit(table: SampleTable, place: int) -> str:
    """What a column counts time in, as its head tells; seconds where it tells nothing, or there is no such column."""
    told = table.layout.units[place] if place < len(table.layout.units) else ""
    unit = SPELT.get(told, told)
    return unit if unit in ROLES["time"] else "s"


def column(table: SampleTable, mapping: Mapping[str, tuple[int, str]], role: str) -> np.ndarray | None:
    """A role's column in SI units; None where the mapping has none. Raises CaptureError for one that is not there."""
    if role not in mapping:
        return None
    place, unit = mapping[role]
    if not 0 <= place < len(table.columns):
        raise CaptureError(f"There is no column {place + 1} in this file.")
    if unit not in ROLES[role]:
        raise CaptureError(f"“{unit}” is no unit of {role}: take one of {', '.join(ROLES[role])}.")
    return table.columns[place] * UNITS[unit].factor
