"""What a quick sum is made of."""

from __future__ import annotations

import difflib
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any

from ..algebra.doubt import why_unknown
from ..algebra.nodes import Constant, Figure, Leaf, symbol_text
from ..algebra.quantities import QuantityError, parse, phrase
from ..algebra.units import KINDS, UNITS

ResultMap = dict[str, tuple[Figure, str]]
Givens = Mapping[str, Any]


class SumError(ValueError):
    """A sum that cannot be done, with a sentence."""


@dataclass(frozen=True, slots=True)
class SumInput:
    """One input of a sum: its key carries its unit, so that scripts can read it."""

    key: str
    kind: str
    unit: str
    label: str
    example: str
    options: tuple[str, ...] = ()
    default: str = ""
    above: float | None = None


@dataclass(frozen=True, slots=True)
class Sum:
    """A quick sum: name, question, inputs and how it is worked out (leaves in; figures and their units out)."""

    name: str
    title: str
    asks: tuple[SumInput, ...]
    work: Callable[[Givens], ResultMap]
    unbounded: tuple[str, ...] = ()
    """Results that may have no bound; they are told in words then."""


@dataclass(frozen=True, slots=True)
class Result:
    """One answer: the value in ``unit`` (None: without bound), the formula with its numbers, and the source."""

    value: float | None
    unit: str
    title: str
    formula: str
    source: str


@dataclass(frozen=True, slots=True)
class Answer:
    """A sum worked out."""

    sum: str
    given: dict[str, float | str]
    results: dict[str, Result] = field(default_factory=dict)


def _read(ask: SumInput, text: str) -> tuple[Any, float | str]:
    if ask.options:
        found = next((o for o in ask.options if o.casefold() == text.casefold()), None)
        if found is None:
            raise SumError(f"{ask.key}: “{text}” is not one of {', '.join(ask.options)}.")
        return found, found
    if ask.kind == "text":
        return text, text
    try:
        quantity = parse(text, ask.kind, ask.unit)
    except QuantityError as error:
        raise SumError(f"{ask.key}: {error}") from error
    if ask.above is not None and quantity.value <= ask.above:
        raise SumError(f"{ask.key}: {ask.label} must be above {ask.above:g}; “{text}” is not.")
    unit = UNITS[ask.unit]
    shown = float(f"{(quantity.value - unit.offset) / unit.factor:.10g}")
    return Leaf(ask.key, ask.label, KINDS[ask.kind], quantity.value, unit=ask.unit), shown


def work_out(one: Sum, given: Mapping[str, str]) -> Answer:
    """Work a sum out from texts. SumError names the key and what is allowed."""
    keys = [a.key for a in one.asks]
    for key in given:
        if key not in keys:
            near = difflib.get_close_matches(key, keys, 1)
            raise SumError(f"{one.name} does not ask for “{key}”" + (f"; did you mean {near[0]}?" if near else "."))
    leaves: dict[str, Any] = {}
    shown: dict[str, float | str] = {}
    for ask in one.asks:
        text = given.get(ask.key, ask.default)
        if not text.strip():
            raise SumError(f"{one.name} needs {ask.key} ({ask.label}), for example {ask.key}={ask.example}.")
        leaves[ask.key], shown[ask.key] = _read(ask, text.strip())
    results = {}
    for key, (figure, unit_name) in one.work(leaves).items():
        results[key] = _result(one, figure, unit_name, key in one.unbounded)
    return Answer(one.name, shown, results)


def _result(one: Sum, figure: Figure, unit_name: str, may_be_unbounded: bool) -> Result:
    if figure.value is None and figure.reason and may_be_unbounded:
        return Result(None, unit_name, figure.title, f"No bound: {figure.reason}.", figure.law.source)
    if figure.value is None:
        raise SumError(f"{one.name}: {figure.title}: {figure.reason or why_unknown(figure)}.")
    unit = UNITS[unit_name]
    names = dict(zip(figure.law.names, figure.inputs, strict=True))
    symbols = figure.law.formula(symbol_text)
    numbers = figure.law.formula(lambda n: _word(names[n]) if n in names else symbol_text(n))
    value = float(f"{(figure.value - unit.offset) / unit.factor:.10g}")
    end = phrase(figure.value, figure.kind.name, unit_name)
    return Result(
        value,
        unit_name.replace("Ω", "ohm"),
        figure.title,
        f"{figure.law.symbol} = {symbols} = {numbers} = {end}",
        figure.law.source,
    )


def _word(node: Any) -> str:
    if isinstance(node, list | tuple):
        return ", ".join(_word(n) for n in node)
    if isinstance(node, Constant):
        return node.symbol
    return phrase(node.value, node.kind.name, node.unit if node.kind.name in ("gauge", "copper weight") else "")


def ask(
    key: str, kind: str, unit: str, label: str, example: str, *, default: str = "", above: float | None = 0
) -> SumInput:
    """One input: greater than ``above`` (None: of any size)."""
    return SumInput(key, kind, unit, label, example, default=default, above=above)
