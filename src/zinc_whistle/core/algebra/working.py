"""Figures with their derivation: a rule of the job is written once, as one expression.

From that expression come the value, the check of units, the printed formula, the partial derivatives and the
dependency. A figure remembers its rule and its inputs, so the workings of one assessment form a graph from what
the builder gave to what the checks found.
"""

from __future__ import annotations

import ast
import inspect
import math
import textwrap
from collections.abc import Callable, Iterator, Sequence
from typing import Any, Final, get_args, get_origin, get_type_hints

import numpy as np

from . import expressions
from .expressions import RuleError
from .units import KINDS, Kind

ORIGINS = ("chosen", "measured", "data sheet", "assumed", "default")
"""From the firmest to the weakest; *chosen* is exact."""


class Constant(float):
    """A named constant of a rule, with its kind and its source."""

    __slots__ = ("kind", "source", "symbol")
    kind: Kind
    symbol: str
    source: str

    def __new__(cls, symbol: str, value: float, kind: str, source: str = "") -> Constant:
        made = super().__new__(cls, value)
        made.symbol, made.kind, made.source = symbol, KINDS[kind], source
        return made

    @property
    def value(self) -> float:
        """Its number, so that a constant can stand wherever a figure or a given may."""
        return float(self)


class Leaf:
    """Something the builder gave: a quantity (``value`` in SI or None) at a path."""

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


Node = Any  # Leaf | Figure | Constant; a precise recursive type costs more than it tells


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

    def __call__(
        self,
        *inputs: Node | Sequence[Node],
        case: str = "",
        because: Sequence[Leaf] = (),
        title: str = "",
        kind: str = "",
    ) -> Figure:
        if len(inputs) != len(self.names):
            raise TypeError(f"{self.symbol} takes {', '.join(self.names)}")
        values: list[Any] = []
        known = True
        for given in inputs:
            value = _value(given)
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
            self, result, inputs, case, tuple(because), title or self.title, reason, KINDS[kind] if kind else self.kind
        )


class Unbounded(ValueError):
    """A value without bound, with the reason in words."""


def _value(given: Any) -> Any:
    if isinstance(given, Figure | Leaf):
        return given.value
    if isinstance(given, float):
        return given
    values = [_value(item) for item in given]
    return None if not values or any(v is None for v in values) else values


class Figure:
    """A computed value (SI, or None with a reason), the law it follows from and its inputs."""

    __slots__ = ("_gradient", "_weakest", "because", "case", "id", "inputs", "kind", "law", "reason", "title", "value")

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
    ) -> None:
        self.law, self.value, self.inputs, self.case = law, value, inputs, case
        self.because, self.title, self.reason, self.kind = because, title, reason, kind
        self.id = ""
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
        partials = self.law.partials([_value(g) for g in self.inputs], self.value)
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


class Rule(Law):
    """A law given by one explicit expression. Call it with figures; ``bare`` is the function on plain arrays."""

    def __init__(self, function: Callable[..., float], symbol: str, source: str, title: str) -> None:
        self.symbol, self.source = symbol, source
        self.title = title or function.__name__.replace("_", " ").capitalize()
        self.doc = inspect.getdoc(function) or ""
        body = _single_return(function)
        hints = get_type_hints(function, include_extras=True)
        kinds = {name: _kind_of(hints[name], function.__name__) for name in hints}
        self.names = tuple(inspect.signature(function).parameters)
        self.kind = kinds["return"][0]
        vectors = {n for n in self.names if kinds[n][1]}
        self.constants = _constants(body, function, set(self.names))
        expressions.check(body, set(self.names) | set(self.constants), vectors)
        self.kinds = {n: kinds[n][0] for n in self.names}
        dims = {n: k.dimension for n, k in self.kinds.items()}
        dims |= {n: c.kind.dimension for n, c in self.constants.items()}
        found = expressions.dimension_of(body, dims)
        if found != self.kind.dimension:
            raise RuleError(f"{function.__name__} gives {found}, not {_article(self.kind)}")
        self._body = body
        plain = {n: float(c) for n, c in self.constants.items()}
        self.evaluate_plain = expressions.compiled(body, self.names, plain)
        self.bare = expressions.compiled(body, self.names, plain, arrays=True)
        self._derivatives = [
            expressions.compiled(expressions.derivative(body, n), self.names, plain) for n in self.names
        ]

    def evaluate(self, values: Sequence[Any]) -> float:
        return float(self.evaluate_plain(*values))

    def partials(self, values: Sequence[Any], result: float) -> list[Any]:
        slopes = []
        for name_value, derive in zip(values, self._derivatives, strict=True):
            try:
                slope = derive(*values)
            except (ZeroDivisionError, ValueError, OverflowError):
                slope = 0.0
            if isinstance(name_value, Sequence) and np.ndim(slope) == 0:
                slope = np.full(len(name_value), slope)
            slopes.append(slope)
        return slopes

    def formula(self, word: Callable[[str], str]) -> str:
        return expressions.printed(self._body, lambda n: self.constants[n].symbol if n in self.constants else word(n))


class Solved(Rule):
    """A law ``x = f(x, ...)`` in which the first name is the unknown: a fixed point, found by Newton's method.

    It starts at the input named ``start``. Where the slope of f reaches one there is no stable solution:
    the value is None and the reason says runaway.
    """

    def __init__(self, function: Callable[..., float], symbol: str, source: str, title: str, start: str) -> None:
        super().__init__(function, symbol, source, title)
        self.unknown, self.all_names = self.names[0], self.names
        self.names = self.names[1:]
        self._start = self.names.index(start)
        plain = {n: float(c) for n, c in self.constants.items()}
        self._gain = expressions.compiled(
            expressions.derivative(self._body, self.unknown), self.all_names, plain, arrays=True
        )

    def steady(self, *values: Any) -> Any:
        """The fixed point on plain arrays that broadcast; nan where it runs away or a value is nan."""
        x = np.asarray(values[self._start], dtype=float)
        for _ in range(60):
            gain = self._gain(x, *values)
            with np.errstate(divide="ignore", invalid="ignore"):
                step = (self.bare(x, *values) - x) / (1.0 - gain)
                x = np.where(np.less(gain, 1.0), x + step, np.nan)
                if not np.any(np.abs(step) > 1e-12 * np.maximum(1.0, np.abs(x))):
                    break
        return x

    def evaluate(self, values: Sequence[Any]) -> float:
        x = float(values[self._start])
        for _ in range(60):
            gap = float(self.evaluate_plain(x, *values)) - x
            gain = float(self._derivatives[0](x, *values))
            if gain >= 1.0:
                raise Unbounded("it runs away: each degree makes more heat than it sheds")
            step = gap / (1.0 - gain)
            x += step
            if abs(step) <= 1e-12 * max(1.0, abs(x)):
                return x
        raise Unbounded("no steady value was found")

    def partials(self, values: Sequence[Any], result: float) -> list[Any]:
        free = 1.0 - float(self._derivatives[0](result, *values))
        return [float(d(result, *values)) / free for d in self._derivatives[1:]]


class Quotient(Law):
    """Stress over limit (or the other way about), for quantities of any one kind."""

    def __init__(self, symbol: str, title: str, over: str, under: str, source: str) -> None:
        self.symbol, self.title, self.source = symbol, title, source
        self.kind, self.names = KINDS["fraction"], (over, under)

    def evaluate(self, values: Sequence[Any]) -> float:
        return float(values[0] / values[1])

    def partials(self, values: Sequence[Any], result: float) -> list[Any]:
        return [1 / values[1], -values[0] / values[1] ** 2]

    def formula(self, word: Callable[[str], str]) -> str:
        return f"{word(self.names[0])} / {word(self.names[1])}"


class AsItIs(Law):
    """A quantity of any one kind taken over unchanged, where which one it is rests on choices."""

    def __init__(self, source: str) -> None:
        self.symbol, self.title, self.source = "x", "Taken over", source
        self.kind, self.names = KINDS["number"], ("x",)

    def evaluate(self, values: Sequence[Any]) -> float:
        return float(values[0])

    def partials(self, values: Sequence[Any], result: float) -> list[Any]:
        return [1.0]

    def formula(self, word: Callable[[str], str]) -> str:
        return word("x")


class Procedure(Law):
    """A law that is no single expression (a simulation, a count); its derivatives are central differences."""

    def __init__(self, function: Callable[..., float], symbol: str, kind: str, says: str, source: str) -> None:
        self.symbol, self.source, self.says = symbol, source, says
        self.title = function.__name__.replace("_", " ").capitalize()
        self.kind = KINDS[kind]
        self.names = tuple(inspect.signature(function).parameters)
        self.function = function

    def evaluate(self, values: Sequence[Any]) -> float:
        return float(self.function(*values))

    def partials(self, values: Sequence[Any], result: float) -> list[Any]:
        slopes: list[Any] = []
        for i, value in enumerate(values):
            if isinstance(value, Sequence):
                slopes.append([self._slope(values, i, j) for j in range(len(value))])
            else:
                slopes.append(self._slope(values, i, None))
        return slopes

    def _slope(self, values: Sequence[Any], i: int, j: int | None) -> float:
        at = float(values[i] if j is None else values[i][j])
        width = 1e-4 * (abs(at) or 1e-3)
        ends = []
        for side in (-width, width):
            moved = list(values)
            moved[i] = at + side if j is None else [*values[i][:j], at + side, *values[i][j + 1 :]]
            try:
                ends.append(float(self.function(*moved)))
            except (ZeroDivisionError, ValueError, OverflowError):
                return 0.0
        return (ends[1] - ends[0]) / (2 * width)

    def formula(self, word: Callable[[str], str]) -> str:
        return f"{self.says} ({', '.join(word(n) for n in self.names)})"


def rule(symbol: str, *, source: str, title: str = "") -> Callable[[Callable[..., float]], Rule]:
    """Make a rule of the job from a function whose body is one ``return`` of one expression.

    Refused at import, with RuleError: statements, foreign names, and units that do not agree.
    """
    return lambda function: Rule(function, symbol, source, title)


def solved(symbol: str, *, start: str, source: str, title: str = "") -> Callable[[Callable[..., float]], Solved]:
    """Make a rule whose first name is the unknown on both sides of its equation."""
    return lambda function: Solved(function, symbol, source, title, start)


def procedure(symbol: str, kind: str, *, says: str, source: str) -> Callable[[Callable[..., float]], Procedure]:
    """Make a law from a function that is more than one expression; ``says`` tells its reader what it does."""
    return lambda function: Procedure(function, symbol, kind, says, source)


def _article(kind: Kind) -> str:
    return f"{kind.name} ({kind.dimension})"


def _single_return(function: Callable[..., float]) -> ast.expr:
    tree = ast.parse(textwrap.dedent(inspect.getsource(function))).body[0]
    assert isinstance(tree, ast.FunctionDef)
    body = tree.body
    if body and isinstance(body[0], ast.Expr) and isinstance(body[0].value, ast.Constant):
        body = body[1:]
    if len(body) != 1 or not isinstance(body[0], ast.Return) or body[0].value is None:
        raise RuleError(f"{function.__name__}: a rule is one return of one expression")
    return body[0].value


def _kind_of(hint: Any, where: str) -> tuple[Kind, bool]:
    parts = get_args(hint)
    if len(parts) != 2 or parts[1] not in KINDS:
        raise RuleError(f"{where}: every name of a rule needs its kind of quantity")
    return KINDS[parts[1]], get_origin(parts[0]) is Sequence


def _constants(body: ast.expr, function: Callable[..., float], names: set[str]) -> dict[str, Constant]:
    space: Final = function.__globals__
    used = {n.id for n in ast.walk(body) if isinstance(n, ast.Name)} - names
    return {n: space[n] for n in used if isinstance(space.get(n), Constant)}
