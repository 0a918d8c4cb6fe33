"""Cases as axes: one arrangement of rules stands for all of them, the worst of them is searched, then traced.

An *axis* is a set of named ends (supply full and flat) or a range (knob from stopped to full). A *varied* quantity
takes its
value by where an axis stands. A figure that rests on varied quantities is a template: worked out on arrays it
gives every
corner at once; traced at one corner it gives a figure with its working, as if that corner had been written by hand.

The arrays broadcast: each axis has a dimension of its own, and what does not rest on an axis has length one along it.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from .nodes import MANY, Axis, Constant, Figure, Node, Varied

Grid = NDArray[np.float64]
COARSE, FINE = 65, 17
"""Points of a range at first sight, and in each closer look."""
CLOSER_LOOKS = 1
"""Each divides the step by eight: of a smooth stress less than 10⁻⁴ is left between the points."""


Corner = Mapping[Axis, float]
"""Where each axis stands: the number of an end, or a place between the ends of a range (0 to 1)."""


def axes_of(*nodes: Node) -> tuple[Axis, ...]:
    """The axes that some nodes rest on, in the order in which they are met."""
    return tuple(dict.fromkeys(axis for node in nodes for axis in node.axes))


class Frame:
    """Some axes with the points of each, and what nodes come to on all of them at once.

    Values are kept by node for as long as the frame lives; the nodes live at least as long as their templates.
    """

    def __init__(self, points: Mapping[Axis, Sequence[float]]) -> None:
        self.axes = tuple(points)
        self.points = {a: np.asarray(p, dtype=float) for a, p in points.items()}
        self._kept: dict[int, tuple[Node, Any]] = {}
        self._places = {
            axis: self.points[axis].reshape([-1 if i == n else 1 for i in range(len(self.axes))])
            for n, axis in enumerate(self.axes)
        }

        self._numbers = {a: p.astype(int) for a, p in self._places.items() if not a.is_range}

    def corner(self, axes: Sequence[Axis], flat: int, shape: tuple[int, ...]) -> dict[Axis, float]:
        """Where some axes stand at a place of a flattened array; it has length one along those it does not go with."""
        places = np.unravel_index(flat, shape)
        return {a: float(self.points[a][int(i)]) for a, i in zip(self.axes, places, strict=False) if a in axes}

    def __call__(self, node: Node) -> Any:
        """A node's value on the points: a number where it does not vary. nan is missing, inf has run away.

        Takes ``np.errstate`` as it finds it: whoever asks for many ignores division by zero around all of them."""
        if not node.axes:
            if node.value is None:
                return math.inf if isinstance(node, Figure) and node.runs_away else math.nan
            return node.value
        kept = self._kept.get(id(node))
        if kept is not None:
            return kept[1]
        value = self._worked(node)
        self._kept[id(node)] = (node, value)
        return value

    def _worked(self, node: Node) -> Any:
        if isinstance(node, Varied):
            return self._between(node) if node.axis in self.points else self(node.ends[0])
        assert isinstance(node, Figure)
        inputs = [[self(item) for item in given] if isinstance(given, MANY) else self(given) for given in node.inputs]
        return node.law.on_arrays(inputs)

    def _between(self, node: Varied) -> Any:
        place = self._places[node.axis]
        if node.axis.is_range:
            low, high = (self(end) for end in node.ends)
            return low + place * (high - low)
        ends = [self(end) for end in node.ends]
        if node.axes == (node.axis,) and not any(isinstance(e, np.ndarray) for e in ends):
            return np.array(ends, dtype=float)[self._numbers[node.axis]]
        result = ends[0]
        for number in range(1, len(ends)):
            result = np.where(place == number, ends[number], result)
        return result


@dataclass(frozen=True, slots=True)
class Traced:
    """A template at one corner: the same rules on that corner's nodes."""

    corner: Corner
    kept: dict[tuple[int, tuple[float, ...]], tuple[Node, Node]]
    """What was traced already, by node and by where the axes below it stand; shared between all corners of a drive."""

    def __call__(self, node: Node) -> Node:
        axes = node.axes
        if not axes:
            return node
        key = (id(node), tuple(self.corner.get(a, 0.0) for a in axes))
        if key not in self.kept:
            self.kept[key] = (node, self._traced(node, axes))
        return self.kept[key][1]

    def _traced(self, node: Node, axes: Sequence[Axis]) -> Node:
        if isinstance(node, Varied):
            place = self.corner.get(node.axis, 0.0)
            if not node.axis.is_range:
                return self(node.ends[int(place)])
            return self._placed(node, place)
        assert isinstance(node, Figure)
        inputs = [[self(item) for item in given] if isinstance(given, MANY) else self(given) for given in node.inputs]
        words = in_words(self.corner, axes)
        case = ", ".join(filter(None, (node.case, words)))
        made = node.law(*inputs, case=case, because=node.because, title=node.title)
        made.kind = node.kind
        return made

    def _placed(self, node: Varied, place: float) -> Node:
        low, high = (self(end).value for end in node.ends)
        if low is None or high is None:
            return self(node.ends[0 if low is None else 1])
        value = low + place * (high - low)
        return Constant(f"{value:.4g}", value, node.kind.name, f"where {node.axis.name} is worst, searched")


def in_words(corner: Corner, axes: Sequence[Axis]) -> str:
    """A corner in words: ``supply full, knob at 38 %``."""
    words = []
    for axis in sorted(axes, key=lambda a: a.rank):
        place = corner.get(axis, 0.0)
        if not axis.is_range:
            words.append(axis.ends[int(place)])
        else:
            words.append(axis.in_words(place) if axis.in_words is not None else f"{axis.name} {place:.0%}")
    return ", ".join(filter(None, words))


def coarse(axes: Sequence[Axis]) -> Frame:
    """All ends, and ranges at first sight."""
    return Frame({a: np.linspace(0, 1, COARSE).tolist() if a.is_range else list(range(len(a.ends))) for a in axes})


def closer(frame: Frame, corner: Corner) -> Frame:
    """The same ends as in a corner, its ranges looked at between the neighbouring points."""
    points: dict[Axis, Sequence[float]] = {}
    for axis, place in corner.items():
        if not axis.is_range:
            points[axis] = [place]
            continue
        own = frame.points[axis]
        step = float(own[1] - own[0]) if len(own) > 1 else 0.0
        points[axis] = np.linspace(max(place - step, 0.0), min(place + step, 1.0), FINE).tolist()
    return Frame(points)


@dataclass(frozen=True, slots=True)
class Worst:
    """Where a use is worst, what it is there, and whether anything is missing at some corner."""

    corner: Corner
    utilisation: float
    unknown: bool


def worst(utilisation: Callable[[Frame], Any], axes: Sequence[Axis], frame: Frame | None = None) -> Worst:
    """The corner of ``axes`` at which ``use`` (of a frame) is largest; ``frame`` has at least those axes.

    Exceeded at any known corner is exceeded; else the first corner that lacks something stands for all; else the
    largest. Ties go to the first corner, in the order of the axes and of their ends. A negative use is beyond its
    limit.
    """
    at = frame if frame is not None else coarse(axes)
    found = _largest(utilisation, axes, at)
    if any(a.is_range for a in axes) and not found.unknown:
        for _ in range(CLOSER_LOOKS):
            at = closer(at, found.corner)
            again = _largest(utilisation, axes, at)
            if again.utilisation > found.utilisation * (1 + 1e-12):
                found = again
    return found


def _largest(utilisation: Callable[[Frame], Any], axes: Sequence[Axis], frame: Frame) -> Worst:
    values = np.asarray(utilisation(frame), dtype=float)
    shape, flat = values.shape, values.ravel()
    flat = np.where(flat < 0, np.inf, flat)
    best = int(np.argmax(flat))  # a nan, where there is one
    if math.isnan(flat[best]):
        known = np.where(np.isnan(flat), -np.inf, flat)
        largest = int(np.argmax(known))
        if not known[largest] > 1.0:
            return Worst(_whole(frame, axes, best, shape), math.nan, True)
        best = largest
    return Worst(_whole(frame, axes, best, shape), float(flat[best]), False)


def _whole(frame: Frame, axes: Sequence[Axis], flat: int, shape: tuple[int, ...]) -> dict[Axis, float]:
    """A corner of all axes: those along which nothing moves stand at their first point."""
    if len(shape) != len(frame.axes):
        return {a: float(frame.points[a][0]) for a in axes}
    return frame.corner(axes, flat, shape)


def one_corner(axes: Sequence[Axis], corner: Corner) -> Frame:
    """A frame of one corner only: what a search over many designs looks at, active at its reference."""
    return Frame({a: [corner.get(a, 0.0)] for a in axes})
