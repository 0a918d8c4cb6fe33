"""The laws that the job is written in: a rule is one expression, and everything else follows from it.

From that one expression come the value, on numbers and on arrays, the check of units, the printed formula and the
partial
derivatives.
"""

from __future__ import annotations

import ast
import inspect
import math
import textwrap
from collections.abc import Callable, Sequence
from functools import cached_property, lru_cache
from typing import Any, Final, get_args, get_origin, get_type_hints

import numpy as np

from . import expressions
from .expressions import RuleError
from .nodes import MANY, RUNS_AWAY, Constant, Law, Unbounded
from .units import KINDS, Kind


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
        self._dimensions = tuple((n, self.kinds[n], self.kinds[n].dimension) for n in self.names)
        self.all_names = self.names

    # What is compiled of it is compiled when first asked for: some two thousand functions would be half a second of
    # every start, and most builds need a fifth of them.

    def _compiled(self, body: ast.expr, *, arrays: bool = False) -> Callable[..., Any]:
        plain = {n: float(c) for n, c in self.constants.items()}
        made: Callable[..., Any] = expressions.compiled(body, self.all_names, plain, arrays=arrays)
        return made

    @cached_property
    def evaluate_plain(self) -> Callable[..., Any]:
        """The function on plain numbers."""
        return self._compiled(self._body)

    @cached_property
    def bare(self) -> Callable[..., Any]:
        """The function on arrays."""
        return self._compiled(self._body, arrays=True)

    @cached_property
    def _derivatives(self) -> list[Callable[..., Any]]:
        return [self._compiled(expressions.derivative(self._body, n)) for n in self.all_names]

    def evaluate(self, values: Sequence[Any]) -> float:
        return float(self.evaluate_plain(*values))

    def on_arrays(self, values: Sequence[Any]) -> Any:
        # At a corner that has no number (a root of less than nothing) nan is the answer, and nan is not known.
        with np.errstate(all="ignore"):
            try:
                return self.bare(*values)
            except (ZeroDivisionError, OverflowError):  # only where nothing varies: arrays do either without a word
                return math.nan

    def check_kinds(self, inputs: Sequence[Any]) -> None:
        for given, (name, kind, dimension) in zip(inputs, self._dimensions, strict=True):
            many = isinstance(given, MANY)
            if not many and given.kind is kind:
                continue
            for node in given if many else (given,):
                own = node.kind
                if own is not kind and own.dimension != dimension:
                    raise RuleError(
                        f"{self.symbol} takes {_article(kind)} as {name}, not {_article(own)}: {node.title}"
                    )

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
        self.unknown = self.names[0]
        self.names = self.names[1:]
        self._dimensions = self._dimensions[1:]
        self._start = self.names.index(start)

    @cached_property
    def _gain(self) -> Callable[..., Any]:
        return self._compiled(expressions.derivative(self._body, self.unknown), arrays=True)

    def steady(self, *values: Any) -> Any:
        """The fixed point on plain arrays that broadcast; inf where it runs away, nan where a value is nan."""
        x: Any = np.asarray(values[self._start], dtype=float)
        away: Any = False
        with np.errstate(divide="ignore", invalid="ignore", over="ignore"):
            for _ in range(60):
                gain = self._gain(x, *values)
                away = away | (np.greater_equal(gain, 1.0) & np.isfinite(x))
                step = (self.bare(x, *values) - x) / (1.0 - gain)
                x = np.where(away, np.nan, x + step)
                if not np.any(np.abs(step) > 1e-12 * np.maximum(1.0, np.abs(x))):
                    break
        return np.where(away, np.inf, x)

    def on_arrays(self, values: Sequence[Any]) -> Any:
        return self.steady(*values)

    def evaluate(self, values: Sequence[Any]) -> float:
        x = float(values[self._start])
        for _ in range(60):
            gap = float(self.evaluate_plain(x, *values)) - x
            gain = float(self._derivatives[0](x, *values))
            if gain >= 1.0:
                raise Unbounded(RUNS_AWAY)
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
        share = float(values[0] / values[1])
        if share < 0:
            # Neither a share nor a number for anybody's eyes: what should hold it is beyond nothing.
            raise Unbounded("nothing is left to hold it")
        return share

    def on_arrays(self, values: Sequence[Any]) -> Any:
        share = np.divide(values[0], values[1])
        return np.where(share < 0, np.inf, share) if np.any(np.less(share, 0)) else share

    def check_kinds(self, inputs: Sequence[Any]) -> None:
        first, second = inputs
        if first.kind is not second.kind and first.kind.dimension != second.kind.dimension:
            raise RuleError(
                f"{first.title} ({first.kind.name}) cannot be held against {second.title} ({second.kind.name})"
            )

    def partials(self, values: Sequence[Any], result: float) -> list[Any]:
        return [1 / values[1], -(values[0] / values[1]) / values[1]]  # the square of next to nothing is nothing

    def formula(self, word: Callable[[str], str]) -> str:
        return f"{word(self.names[0])} / {word(self.names[1])}"


class AsItIs(Law):
    """A quantity of any one kind taken over unchanged, where which one it is rests on choices."""

    def __init__(self, source: str) -> None:
        self.symbol, self.title, self.source = "x", "Taken over", source
        self.kind, self.names = KINDS["number"], ("x",)

    def evaluate(self, values: Sequence[Any]) -> float:
        return float(values[0])

    def on_arrays(self, values: Sequence[Any]) -> Any:
        return values[0]

    def partials(self, values: Sequence[Any], result: float) -> list[Any]:
        return [1.0]

    def formula(self, word: Callable[[str], str]) -> str:
        return word("x")


class Procedure(Law):
    """A law that is no single expression (a simulation, a count); its derivatives are central differences."""

    def __init__(
        self,
        function: Callable[..., float],
        symbol: str,
        kind: str,
        says: str,
        source: str,
        arrays: Callable[..., Any] | None = None,
    ) -> None:
        self.symbol, self.source, self.says = symbol, source, says
        self._arrays = arrays
        self.title = function.__name__.replace("_", " ").capitalize()
        self.kind = KINDS[kind]
        self.names = tuple(inspect.signature(function).parameters)
        self.function = function
        # A procedure may search or simulate, and at a keystroke nearly all are asked what they were asked before.
        self._known = lru_cache(maxsize=128)(function)

    def evaluate(self, values: Sequence[Any]) -> float:
        return float(self._value(values))

    def _value(self, values: Sequence[Any]) -> float:
        """Its value on numbers; lists of numbers among them are no key."""
        if any(v.__class__ is list for v in values):
            return self.function(*values)
        return self._known(*values)

    def on_arrays(self, values: Sequence[Any]) -> Any:
        """Lists stay as they are where nothing in them varies; the rest broadcasts."""
        lists = {i: v for i, v in enumerate(values) if isinstance(v, list)}
        if any(isinstance(item, np.ndarray) for given in lists.values() for item in given):
            raise TypeError(f"{self.title} takes a list of plain numbers: it has no form on lists of arrays")
        if self._arrays is not None:
            with np.errstate(all="ignore"):
                try:
                    return self._arrays(*values)
                except (ZeroDivisionError, ValueError, OverflowError):
                    return math.nan
        if not lists:
            return np.vectorize(self._or_nan, otypes=[float])(*values)
        free = [i for i in range(len(values)) if i not in lists]

        def at(*numbers: float) -> float:
            given = dict(lists) | dict(zip(free, numbers, strict=True))
            return self._or_nan(*(given[i] for i in range(len(values))))

        return np.vectorize(at, otypes=[float])(*(values[i] for i in free)) if free else self._or_nan(*values)

    def _or_nan(self, *values: Any) -> float:
        try:
            known = all(math.isfinite(v) if isinstance(v, float) else all(map(math.isfinite, v)) for v in values)
            return float(self.function(*values)) if known else math.nan
        except Unbounded:
            return math.inf
        except (ZeroDivisionError, ValueError, OverflowError):
            return math.nan

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
                ends.append(float(self._value(moved)))
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


def procedure(
    symbol: str, kind: str, *, says: str, source: str, arrays: Callable[..., Any] | None = None
) -> Callable[[Callable[..., float]], Procedure]:
    """Make a law from a function that is more than one expression; ``says`` tells its reader what it does.

    ``arrays`` is its form on arrays that broadcast, lists of plain numbers left as they are; without it the function
    is called for each place.
    """
    return lambda function: Procedure(function, symbol, kind, says, source, arrays)


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
