"""Figures with their derivation: a rule of the job is written once, as one expression.

From that expression come the value, the check of units, the printed formula, the partial derivatives and the
dependency. A figure remembers its rule and its inputs, so the workings of one assessment form a graph from what
the builder gave to what the checks found.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from typing import Any, TypeAlias

import numpy as np

from .units import KINDS, Kind

ORIGINS = ("chosen", "measured", "data sheet", "assumed", "default")
"""From the firmest to the weakest; *chosen* is exact."""


@dataclass(frozen=True, slots=True, eq=False)
class Axis:
    """What may stand differently: named ends, in the order in which ties are decided; or, without names, a range.

    An axis is itself alone: two of one name are two axes.
    """

    name: str
    ends: tuple[str, ...] = ()
    in_words: Callable[[float], str] | None = None
    """Words for a place in a range, from 0 at its first end to 1 at its second."""
    rank: int = 0
    """Its place among the words for a corner."""

    @property
    def is_range(self) -> bool:
        return not self.ends


NO_AXES: tuple[Axis, ...] = ()
MANY = (list, tuple)
"""What holds several nodes. A tuple of classes: a union of them would be made anew at each of some thousand calls."""


def _with(axes: tuple[Axis, ...], more: tuple[Axis, ...]) -> tuple[Axis, ...]:
    """Axes with those that are not among them yet; nearly always one of the two is empty or they are the same."""
    if not more or axes == more:
        return axes
    return (*axes, *(a for a in more if a not in axes)) if axes else more


class Constant(float):
    """A named constant of a rule, with its kind and its source."""

    __slots__ = ("kind", "source", "symbol")
    kind: Kind
    symbol: str
    source: str
    axes = NO_AXES

    def __new__(cls, symbol: str, value: float, kind: str, source: str = "") -> Constant:
        made = super().__new__(cls, value)
        made.symbol, made.kind, made.source = symbol, KINDS[kind], source
        return made

    @property
    def title(self) -> str:
        return self.symbol

    @property
    def value(self) -> float:
        """Its number, so that a constant can stand wherever a figure or a given may."""
        return float(self)


class Leaf:
    """Something the builder gave: a quantity (``value`` in SI or None) at a path."""

    axes = NO_AXES

    __slots__ = (
        "choice",
        "doubt",
        "gain_doubt",
        "gain_group",
        "id",
        "kind",
        "origin",
        "title",
        "unit",
        "value",
    )

    def __init__(
        self,
        id: str,
        title: str,
        kind: Kind,
        value: float | None,
        *,
        origin: str = "chosen",
        doubt: float | None = None,
        gain_group: str = "",
        gain_doubt: float = 0.0,
        unit: str = "",
        choice: str | None = None,
    ) -> None:
        self.id, self.title, self.kind, self.value = id, title, kind, value
        self.origin, self.doubt = origin, doubt
        self.gain_group, self.gain_doubt, self.unit = gain_group, gain_doubt, unit
        self.choice = choice

    @property
    def symbol(self) -> str:
        return self.title

    @property
    def token(self) -> str:
        """What staleness compares: the choice, or the value to nine figures."""
        if self.choice is not None:
            return self.choice
        return "" if self.value is None else f"{self.value:.9g}"


def choice_leaf(id: str, title: str, choice: str) -> Leaf:
    """A category or the membership of a list, as something that a figure can rest on."""
    return Leaf(id, title, KINDS["number"], None, choice=choice)


def presence(leaf: Leaf) -> Leaf:
    """Whether an optional given was given at all, as something that figures can rest on."""
    return choice_leaf(f"{leaf.id}.given", f"{leaf.title}, given", "no" if leaf.value is None else "yes")


_GREEK = {"omega": "ω", "eta": "η", "alpha": "α", "tau": "τ", "zeta": "ζ", "dT": "ΔT", "dV": "ΔV"}


def symbol_text(name: str) -> str:
    """A rule's name as its reader's symbol: ``omega_0`` is ω_0."""
    head, _, tail = name.partition("_")
    return "_".join(filter(None, (_GREEK.get(head, head), tail)))


class Law:
    """How a value follows from others: the common side of rules, solved rules, ratios and procedures."""

    symbol: str
    title: str
    source: str
    kind: Kind
    names: tuple[str, ...]

    def evaluate(self, values: Sequence[Any]) -> float:
        raise NotImplementedError

    def partials(self, values: Sequence[Any], result: float) -> list[Any]:
        raise NotImplementedError

    def formula(self, word: Callable[[str], str]) -> str:
        raise NotImplementedError

    def on_arrays(self, values: Sequence[Any]) -> Any:
        """The law's value on numbers and arrays that broadcast; nan where it has none, inf where it runs away."""
        raise NotImplementedError

    def check_kinds(self, inputs: Sequence[Any]) -> None:
        """RuleError if an input's units are not what the law takes there."""

    def __call__(
        self,
        *inputs: Node | Sequence[Node],
        case: str = "",
        because: Sequence[Leaf] = (),
        title: str = "",
        kind: str = "",
        **named: Node | Sequence[Node],
    ) -> Figure:
        if named:
            inputs = self._in_order(inputs, named)
        if len(inputs) != len(self.names):
            raise TypeError(f"{self.symbol} takes {', '.join(self.names)}")
        self.check_kinds(inputs)
        values: list[Any] = []
        known, axes = True, NO_AXES
        for given in inputs:
            if isinstance(given, MANY):
                value = value_of(given)
                for item in given:
                    axes = _with(axes, item.axes)
            else:
                value = given.value  # type: ignore[union-attr]
                if given.axes:  # type: ignore[union-attr]
                    axes = _with(axes, given.axes)  # type: ignore[union-attr]
            values.append(value)
            if value is None:
                known = False
        result: float | None = None
        reason = ""
        if known:
            try:
                result = float(self.evaluate(values))
            except (ZeroDivisionError, ValueError, OverflowError) as error:
                reason = str(error) if isinstance(error, Unbounded) else "the numbers given do not allow it"
            else:
                if not math.isfinite(result):
                    result, reason = None, "it has no bound with the numbers given"
        return Figure(
            self,
            result,
            inputs,
            case,
            tuple(because),
            title or self.title,
            reason,
            KINDS[kind] if kind else self.kind,
            axes,
        )

    def _in_order(self, inputs: tuple[Any, ...], named: dict[str, Any]) -> tuple[Any, ...]:
        rest = self.names[len(inputs) :]
        if set(named) != set(rest):
            raise TypeError(f"{self.symbol} takes {', '.join(self.names)}, not {', '.join(named)}")
        return (*inputs, *(named[n] for n in rest))


RUNS_AWAY = "it runs away: each degree makes more heat than it sheds"
"""Why a fixed point has no value: never the same thing as a number that is missing."""


class Unbounded(ValueError):
    """A value without bound, with the reason in words."""


def value_of(given: Any) -> Any:
    """The value of a node (None: not known), or of each node of a list (None where one is not known)."""
    if isinstance(given, float):
        return given
    if isinstance(given, MANY):
        values = [value_of(item) for item in given]
        return None if not values or any(v is None for v in values) else values
    return given.value


def number(node: Node) -> float:
    """A node's value as a plain number; nan where it is not known."""
    return math.nan if node.value is None else float(node.value)


class Varied:
    """A quantity that goes with an axis: one node for each of its ends, or the two between which it runs.

    Its ``value`` is that of the first end: what a template shows before a corner is chosen.
    """

    __slots__ = ("axes", "axis", "case", "ends", "kind", "title", "value")

    def __init__(self, axis: Axis, ends: Sequence[Node], title: str = "") -> None:
        if len(ends) != (2 if axis.is_range else len(axis.ends)):
            raise ValueError(f"{axis.name} has {len(axis.ends) or 2} ends, not {len(ends)}")
        first = ends[0]
        self.axis, self.ends, self.case = axis, tuple(ends), ""
        self.axes: tuple[Axis, ...] = (axis,)
        for end in ends:
            self.axes = _with(self.axes, end.axes)
        self.kind: Kind = first.kind
        self.title: str = title or first.title
        self.value: float | None = None if first.value is None else float(first.value)

    @property
    def symbol(self) -> str:
        return self.title


class Figure:
    """A computed value (SI, or None with a reason), the law it follows from and its inputs."""

    __slots__ = (
        "_gradient",
        "_weakest",
        "axes",
        "because",
        "case",
        "id",
        "inputs",
        "kind",
        "law",
        "others",
        "reason",
        "title",
        "value",
    )

    def __init__(
        self,
        law: Law,
        value: float | None,
        inputs: tuple[Any, ...],
        case: str,
        because: tuple[Leaf, ...],
        title: str,
        reason: str,
        kind: Kind,
        axes: tuple[Axis, ...] = (),
    ) -> None:
        self.axes = axes
        """What it goes with: none for a figure of one case."""
        self.law, self.value, self.inputs, self.case = law, value, inputs, case
        self.because, self.title, self.reason, self.kind = because, title, reason, kind
        self.id = ""
        self.others: tuple[Node, ...] = ()
        """Templates of which it is the worst corner: the givens of the others belong to its basis, and to nothing
        else."""
        self._gradient: dict[Leaf, float] | None = None
        self._weakest: int | None = None

    @property
    def weakest(self) -> int:
        """Place in ORIGINS of the weakest origin among the quantities that it rests on."""
        if self._weakest is None:
            self._weakest = max((origin_rank(p) for p in self.parents()), default=0)
        return self._weakest

    @property
    def symbol(self) -> str:
        return self.law.symbol

    @property
    def runs_away(self) -> bool:
        """Whether it has no value because a fixed point below it has none; not known is another thing."""
        if self.value is not None:
            return False
        return self.reason == RUNS_AWAY or any(isinstance(p, Figure) and p.runs_away for p in self.parents())

    def parents(self) -> Iterator[Any]:
        """The nodes it follows from, lists flattened, choices last."""
        for given in self.inputs:
            if isinstance(given, Sequence):
                yield from given
            else:
                yield given
        yield from self.because

    @property
    def gradient(self) -> dict[Leaf, float]:
        """Derivatives of the value by every given that it rests on (SI per SI)."""
        if self._gradient is None:
            self._gradient = self._chain()
        return self._gradient

    def _chain(self) -> dict[Leaf, float]:
        gathered: dict[Leaf, float] = {}
        if self.value is None:
            return gathered
        partials = self.law.partials([value_of(g) for g in self.inputs], self.value)
        for given, partial in zip(self.inputs, partials, strict=True):
            if isinstance(given, Sequence):
                for item, part in zip(given, np.atleast_1d(partial), strict=True):
                    _add(gathered, item, float(part))
            else:
                _add(gathered, given, float(partial))
        return gathered


def origin_rank(node: Any) -> int:
    """Place of a node's origin in ORIGINS; choices and constants are exact."""
    if isinstance(node, Figure):
        return node.weakest
    return ORIGINS.index(node.origin) if isinstance(node, Leaf) and node.choice is None else 0


def _add(gathered: dict[Leaf, float], node: Any, weight: float) -> None:
    if not weight or isinstance(node, Constant):
        return
    if isinstance(node, Leaf):
        gathered[node] = gathered.get(node, 0.0) + weight
    elif isinstance(node, Figure):
        for leaf, slope in node.gradient.items():
            gathered[leaf] = gathered.get(leaf, 0.0) + weight * slope


Node: TypeAlias = "Leaf | Figure | Constant | Varied"
"""What a law takes, and what a figure rests on."""
