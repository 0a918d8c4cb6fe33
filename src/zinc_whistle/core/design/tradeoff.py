"""What cannot be had together: designs of which none is better in every score than another, and a few that show them.

A score is better the smaller it is. Source: the definition of Pareto efficiency (common practice, no source).
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray

Places = NDArray[np.intp]


def front(scores: Sequence[Any]) -> Places:
    """The places of arrays of scores, one array a score, that no other place beats: none is at least as good in all
    and better in one. Of equal places the first stands for all; what has no score (nan) is never among them.

    In the order of the places.
    """
    table = np.column_stack([np.asarray(s, dtype=float) for s in scores])
    left = np.flatnonzero(np.isfinite(table).all(axis=1))
    # What beats a place has the smaller sum: the first that is left is beaten by none.
    left = left[np.argsort(table[left].sum(axis=1), kind="stable")]
    found: list[int] = []
    while len(left):
        own = table[left[0]]
        found.append(int(left[0]))
        left = left[(table[left] < own).any(axis=1)]
    return np.array(sorted(found), dtype=np.intp)


def spread(scores: Sequence[Any], places: Places, first: Sequence[int] = ()) -> list[int]:
    """The places in an order in which each next one lies farthest from all before it, by the scores' decades.

    ``first`` begins; without it, the place with the smallest first score."""
    if not len(places):
        return []
    table = np.log(np.maximum(np.column_stack([np.asarray(s, dtype=float)[places] for s in scores]), 1e-6))
    span = table.max(axis=0) - table.min(axis=0)
    table = (table - table.min(axis=0)) / np.where(span > 0, span, 1.0)
    index = {int(p): i for i, p in enumerate(places)}
    order = [index[p] for p in first if p in index] or [int(np.argmin(table[:, 0]))]
    apart = np.min([np.linalg.norm(table - table[i], axis=1) for i in order], axis=0)
    while len(order) < len(places):
        apart[order] = -1.0
        following = int(np.argmax(apart))
        order.append(following)
        apart = np.minimum(apart, np.linalg.norm(table - table[following], axis=1))
    return [int(places[i]) for i in order]
