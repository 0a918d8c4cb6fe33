"""A limit turned round: which value of one of its givens would let it hold, by the very same declaration.

The given (or any node that a limit rests on) takes many values at once, all the other axes standing at all their
points; at each value the worst corner counts. So nothing that a limit says is solved for by hand a second time.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray

from .corners import Frame, axes_of, coarse
from .limits import Limit
from .nodes import MANY, Axis, Figure, Node, Varied

GIVEN = Axis("given")
"""Its points are the values themselves (SI), not places between two ends."""
POINTS, LOOKS = 33, 3
"""Points at first sight and in each closer look, and how many looks: of the interval 64⁻⁴ is left."""


Touched = dict[int, tuple[Node, bool]]
"""What rests on the node that is varied, and what does not: the same at every look."""


class Along(Frame):
    """Some axes at first sight, with one node taking ``values`` besides, whatever it rests on itself."""

    def __init__(
        self, axes: Sequence[Axis], node: Node, values: Sequence[float], touched: Touched | None = None
    ) -> None:
        super().__init__({**{a: p.tolist() for a, p in coarse(axes).points.items()}, GIVEN: values})
        self.node = node
        self._touched: Touched = touched if touched is not None else {}

    def __call__(self, node: Node) -> Any:
        if node is self.node:
            return self._places[GIVEN]
        if not self._rests(node):
            return super().__call__(node)
        kept = self._kept.get(id(node))
        if kept is None:
            kept = self._kept[id(node)] = (node, self._worked(node))
        return kept[1]

    def _rests(self, node: Node) -> bool:
        """Whether a node rests on the one that is varied."""
        if node is self.node:
            return True
        if id(node) not in self._touched:
            below: Sequence[Node] = ()
            if isinstance(node, Figure):
                below = [n for given in node.inputs for n in (given if isinstance(given, MANY) else (given,))]
            elif isinstance(node, Varied):
                below = node.ends
            self._touched[id(node)] = (node, any(self._rests(n) for n in below))
        return self._touched[id(node)][1]


def utilisation_along(
    limit: Limit, node: Node, values: Sequence[float], touched: Touched | None = None
) -> NDArray[np.float64]:
    """The worst utilisation of a limit at each of some values of a node; inf where anything is missing or beyond."""
    frame = Along(axes_of(limit.stress, limit.bound), node, values, touched)
    found = np.asarray(limit.utilisation_on(frame), dtype=float)
    found = np.where(np.isnan(found) | (found < 0), np.inf, found)
    if found.ndim != len(frame.axes):
        return np.full(len(values), float(found))
    worst = found.max(axis=tuple(range(found.ndim - 1)))
    return np.broadcast_to(worst, len(values))


def nearest_that_holds(limit: Limit, node: Node, present: float, end: float) -> float | None:
    """The value nearest to ``present``, on the way to ``end`` (both above zero), at which a limit holds; None where
    none does."""
    near, far = math.log(present), math.log(end)
    found, touched = None, Touched()
    for _ in range(LOOKS):
        places = np.linspace(near, far, POINTS)
        holds = np.flatnonzero(utilisation_along(limit, node, np.exp(places).tolist(), touched) <= 1.0)
        if not holds.size:
            return found
        first = int(holds[0])
        found = float(np.exp(places[first]))
        near, far = float(places[max(first - 1, 0)]), float(places[first])
    return found
