"""A first look at a long shelf: every part's order of merit on arrays, by the very limits that its full working uses.

Tracing a part costs about a millisecond, the arrays a few microseconds; so of a long shelf only the parts that come
first here are worked out in full, and those are then ranked by their full working.

Parts that make the same limits (of one kind, with the same abilities, with the same figures given) are one *group*: one
part whose figures are varied along an axis of parts. Its limits are declared once and worked out for all of them.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..algebra.corners import Frame, axes_of, coarse
from ..algebra.doubt import doubt_of
from ..algebra.findings import LEAST_RELATIVE, MARGIN_CAP
from ..algebra.limits import Claim, Limit
from ..algebra.nodes import Axis, Varied
from ..cases.circuit import solve
from ..cases.driving import Driving, heat_of
from ..cases.operating import Context
from ..model.driver import DriverPart
from ..model.given import Given, computed_given
from ..stations.driver.candidates import Candidate, limits

Grid = NDArray[np.float64]
DECIDING = ("channels",)
"""Figures of a part that a claim looks at as they are: parts of a group share them."""


@dataclass(slots=True)
class _Merit:
    """What decides the order of some parts, an array each."""

    stops: Grid
    surety: Grid
    gaps: NDArray[np.bool_]
    speed: Grid
    price: Grid


def order(at: Context, parts: Sequence[DriverPart], reference: Candidate) -> list[int]:
    """Places of the parts, best first: no stop, then what is known, then the least sure destructive margin, then speed,
    then price.

    How sure each margin is comes from ``reference``, a part worked out in full: the doubt of a stress is the motor's
    and the supply's, and hardly the part's.
    """
    relative = {
        c.code: max((doubt_of(c.utilisation).standard or 0.0) / c.used, LEAST_RELATIVE)
        for c in reference.checks
        if c.utilisation is not None and c.used
    }
    whole = _blank(len(parts))
    for places in _groups(parts):
        own = _merit(at, [parts[i] for i in places], relative)
        for name in ("stops", "surety", "gaps", "speed", "price"):
            getattr(whole, name)[places] = getattr(own, name)
    bad = whole.stops > 0
    second = np.where(bad, whole.stops, -np.round(whole.surety, 1))
    first = np.where(bad, 2, whole.gaps.astype(int))
    return [int(i) for i in np.lexsort((whole.price, -np.round(whole.speed, 0), second, first))]


def _blank(count: int) -> _Merit:
    """Nothing counted yet."""
    return _Merit(
        stops=np.zeros(count),
        surety=np.full(count, MARGIN_CAP),
        gaps=np.zeros(count, dtype=bool),
        speed=np.zeros(count),
        price=np.zeros(count),
    )


def _groups(parts: Sequence[DriverPart]) -> list[list[int]]:
    """Places of parts that make the same limits."""
    found: dict[tuple[object, ...], list[int]] = {}
    for place, part in enumerate(parts):
        found.setdefault(_pattern(part), []).append(place)
    return list(found.values())


_NAMES = ("id", "name", "note", "continuous_condition", "source", "size", "sample")
"""What tells parts apart without changing any limit."""


def _pattern(part: DriverPart) -> tuple[object, ...]:
    """A part's choices, which of its figures are given, and those that decide."""
    seen: list[object] = []
    for name, value in part.__dict__.items():
        if isinstance(value, Given):
            seen.append(value.value if name in DECIDING else value.value is None)
        elif name not in _NAMES:
            seen.append(str(value))
    return tuple(seen)


def _together(parts: Sequence[DriverPart], axis: Axis) -> DriverPart:
    """One part that stands for all of a group."""
    made = parts[0].model_copy()
    for name, value in parts[0].__dict__.items():
        if isinstance(value, Given):
            ends = [getattr(p, name).leaf for p in parts]
            made.__dict__[name] = computed_given(Varied(axis, ends)) if value.value is not None else value
    return made


def _merit(at: Context, parts: Sequence[DriverPart], relative: Mapping[str, float]) -> _Merit:
    axis = Axis("part", tuple(p.id for p in parts))
    count = len(parts)
    part = _together(parts, axis)
    solved = solve(at, part)
    driving = Driving(part=part, circuit=solved, heat=heat_of(at, part, solved))
    checks = limits(at, driving)
    every = [x for check in checks if isinstance(check, Limit) for x in axes_of(check.stress, check.bound)]
    frame = coarse(tuple(dict.fromkeys((axis, *every))))
    merit = _blank(count)
    for check in checks:
        if isinstance(check, Claim):
            if check.holds is False and check.over == "stop":
                merit.stops += 1
            continue
        utilisation = _worst(check, frame, axis, count)
        exceeded = utilisation > 1.0
        if check.over == "stop":
            merit.stops += exceeded
        if check.destructive:
            unknown = np.isnan(utilisation)
            merit.gaps |= unknown
            with np.errstate(divide="ignore", invalid="ignore"):
                margin = np.where(
                    utilisation > 0, np.log(1 / utilisation) / relative.get(check.code, LEAST_RELATIVE), MARGIN_CAP
                )
            sure = np.where(unknown, MARGIN_CAP, np.clip(margin, -MARGIN_CAP, MARGIN_CAP))
            merit.surety = np.minimum(merit.surety, sure)
    with np.errstate(all="ignore"):
        merit.speed = np.nan_to_num(_flat(frame(driving.circuit.delivered_flat), count))
        merit.price = np.nan_to_num(_flat(frame(part.price.leaf), count))
    return merit


def _flat(values: object, count: int) -> Grid:
    """Values along the parts alone; nothing else may move them."""
    grid = np.asarray(values, dtype=float)
    return np.broadcast_to(grid.reshape(-1) if grid.ndim else grid, count).copy()


def _worst(limit: Limit, frame: Frame, axis: Axis, count: int) -> Grid:
    """Each part's use of a limit at its own worst corner: beyond it anywhere is beyond it, else a gap is a gap."""
    utilisation = np.asarray(limit.utilisation_on(frame), dtype=float)
    if utilisation.ndim != len(frame.axes):
        return np.full(count, math.inf if utilisation < 0 else float(utilisation))
    utilisation = np.where(utilisation < 0, math.inf, utilisation)
    rows = np.moveaxis(utilisation, frame.axes.index(axis), 0).reshape(utilisation.shape[frame.axes.index(axis)], -1)
    known = np.where(np.isnan(rows), -math.inf, rows).max(axis=1)
    found = np.where(np.isnan(rows).any(axis=1) & ~(known > 1.0), math.nan, known)
    return np.broadcast_to(found, count).copy()
