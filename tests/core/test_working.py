"""Rules: refused when they cannot be shown; right in value, derivative, printed form and dependency."""

from __future__ import annotations

import importlib
import pkgutil

import pytest
from hypothesis import given
from hypothesis import strategies as st

import zinc_whistle.core as core
from tests.kit import leaf
from zinc_whistle.core.algebra.doubt import basis_of, leaves, missing, moved, weakest_origin, why_unknown
from zinc_whistle.core.algebra.expressions import RuleError, exp, larger, log, mean, slope, smaller, sqrt, total
from zinc_whistle.core.algebra.kinds import (
    Ampere,
    Amperes,
    Celsius,
    Fraction,
    KelvinPerWatt,
    Number,
    Ohm,
    Volt,
    Volts,
    Watt,
)
from zinc_whistle.core.algebra.nodes import Constant, choice_leaf
from zinc_whistle.core.algebra.rules import Rule, Solved, procedure, rule, solved
from zinc_whistle.core.algebra.units import KINDS

HALF = Constant("½", 0.5, "number")
FOREIGN = 3.0


@rule("I", source="test")
def current(V: Volt, R: Ohm) -> Ampere:
    """Ohm's law."""
    return V / R


def test_volts_and_amperes_cannot_be_added() -> None:
    with pytest.raises(RuleError, match="cannot be added"):

        @rule("x", source="test")
        def wrong(V: Volt, I: Ampere) -> Volt:
            return V + I


def test_the_result_must_have_the_unit_that_is_declared() -> None:
    with pytest.raises(RuleError, match="not power"):

        @rule("x", source="test")
        def wrong(V: Volt, R: Ohm) -> Watt:
            return V / R


def test_statements_foreign_names_and_ifs_are_refused() -> None:
    with pytest.raises(RuleError, match="one return"):

        @rule("x", source="test")
        def statements(V: Volt) -> Volt:
            doubled = V + V
            return doubled  # noqa: RET504

    with pytest.raises(RuleError, match="constants only"):

        @rule("x", source="test")
        def foreign(V: Volt) -> Volt:
            return V * FOREIGN

    with pytest.raises(RuleError, match="can be shown"):

        @rule("x", source="test")
        def branching(V: Volt) -> Volt:
            return V if V > 1 else V  # noqa: RUF034

    with pytest.raises(RuleError, match="outside mean"):

        @rule("x", source="test")
        def listed(V: Volts) -> Volt:
            return V * 2

    with pytest.raises(RuleError, match="plain number"):

        @rule("x", source="test")
        def exponent(V: Volt) -> Number:
            return exp(V)


@rule("y", source="test")
def mixed(a: Number, b: Number, c: Number) -> Number:
    return sqrt(a * b) + HALF * log(a) / (b - c) ** 2 + exp(-c) * larger(a, b) - smaller(b, c) * 92 ** (c / 7)


@given(st.floats(0.5, 5), st.floats(6, 9), st.floats(0.5, 5))
def test_derivatives_agree_with_differences(a: float, b: float, c: float) -> None:
    values = [a, b, c]
    exact = mixed.partials(values, mixed.evaluate(values))
    for i in range(3):
        width = 1e-6
        up, down = [*values], [*values]
        up[i] += width
        down[i] -= width
        numeric = (mixed.evaluate(up) - mixed.evaluate(down)) / (2 * width)
        assert exact[i] == pytest.approx(numeric, rel=2e-5, abs=1e-6)


@rule("R", source="test")
def by_slope(V: Volts, I: Amperes) -> Ohm:
    return slope(V, I)


@rule("V", source="test")
def of_list(V: Volts) -> Volt:
    return mean(V) + total(V) * 2


@given(
    st.lists(st.tuples(st.floats(0, 9), st.floats(0.1, 9)), min_size=3, max_size=6, unique_by=lambda p: round(p[1], 1))
)
def test_derivatives_of_lists_agree_with_differences(pairs: list[tuple[float, float]]) -> None:
    volts, amperes = [p[0] for p in pairs], [p[1] for p in pairs]
    by_volts, by_amperes = by_slope.partials([volts, amperes], 0.0)
    width = 1e-6
    for i in range(len(pairs)):
        for which, exact in ((0, by_volts[i]), (1, by_amperes[i])):
            moved_up = [list(volts), list(amperes)]
            moved_up[which][i] += width
            numeric = (by_slope.evaluate(moved_up) - by_slope.evaluate([volts, amperes])) / width
            assert exact == pytest.approx(numeric, rel=1e-2, abs=1e-3)
    assert of_list.partials([volts], 0.0)[0] == pytest.approx([1 / len(pairs) + 2] * len(pairs))


def test_a_formula_is_printed_from_the_same_expression() -> None:
    assert (
        mixed.formula(str)
        == "√(a · b) + ½ · ln (a) / (b − c)² + exp (−c) · larger of (a, b) − smaller of (b, c) · 92^(c / 7)"
    )
    figure = current(leaf(12.0, "voltage"), leaf(2.0, "resistance"))
    assert (figure.value, figure.law.formula(str), figure.title) == (6.0, "V / R", "Current")


def test_bare_takes_arrays() -> None:
    import numpy as np

    assert current.bare(np.array([2.0, 4.0]), 2.0).tolist() == [1.0, 2.0]


def test_a_missing_input_is_named_and_never_becomes_a_number() -> None:
    gap = leaf(None, "resistance", "R1")
    figure = current(leaf(12.0, "voltage"), gap)
    assert figure.value is None
    assert missing(figure) == [gap]
    assert why_unknown(figure) == "Not known yet: give R1."


def test_no_bound_is_no_value_and_says_why() -> None:
    figure = current(leaf(12.0, "voltage"), leaf(0.0, "resistance"))
    assert figure.value is None
    assert "do not allow it" in why_unknown(figure)


@solved("T_j", start="T_a", source="test")
def junction(T_j: Celsius, T_a: Celsius, R_th: KelvinPerWatt, P: Watt, k: Fraction) -> Celsius:
    return T_a + R_th * P * (1 + k * (T_j - T_a) / (T_a + T_a))


def test_a_fixed_point_is_found_with_its_implicit_derivative() -> None:
    values = [25.0, 10.0, 2.0, 0.5]
    found = junction.evaluate(values)
    assert found == pytest.approx(junction.evaluate_plain(found, *values))
    width = 1e-5
    for i, exact in enumerate(junction.partials(values, found)):
        up = [*values]
        up[i] += width
        assert exact == pytest.approx((junction.evaluate(up) - found) / width, rel=1e-3)


def test_slope_of_one_or_more_is_runaway() -> None:
    hot = junction(
        leaf(25.0, "temperature"), leaf(60.0, "thermal resistance"), leaf(2.0, "power"), leaf(0.5, "fraction")
    )
    assert hot.value is None
    assert "runs away" in hot.reason


@procedure("n", "count", says="rounded", source="test")
def rounded(x: float) -> float:
    return float(round(x))


def test_a_procedure_is_a_law_too() -> None:
    assert rounded(leaf(2.6)).value == 3.0
    assert rounded.formula(str) == "rounded (x)"


def test_basis_names_everything_a_figure_stands_on() -> None:
    first = current(leaf(12.0, "voltage", "a"), leaf(2.0, "resistance", "b"), because=[choice_leaf("c", "C", "yes")])
    then = {**basis_of(first)}
    assert then == {"a": "12", "b": "2", "c": "yes"}
    now = basis_of(current(leaf(12.0, "voltage", "a"), leaf(2.5, "resistance", "b")))
    assert moved(then, now) == ["b", "c"]


def test_a_result_is_no_better_than_its_weakest_input() -> None:
    figure = current(leaf(12.0, "voltage", origin="measured"), leaf(2.0, "resistance", origin="assumed"))
    assert weakest_origin(figure) == "assumed"
    assert len(list(leaves(figure))) == 2


def every_rule() -> list[Rule]:
    found = {}
    for module in pkgutil.walk_packages(core.__path__, "zinc_whistle.core."):
        for thing in vars(importlib.import_module(module.name)).values():
            if isinstance(thing, Rule):
                found[id(thing)] = thing
    return list(found.values())


def test_every_rule_of_the_job_names_its_source_and_prints() -> None:
    rules = every_rule()
    assert len(rules) > 80
    for one in rules:
        assert one.source.strip(), one.title
        assert one.formula(str)
        assert one.kind.name in KINDS


@pytest.mark.parametrize("one", [r for r in every_rule() if not isinstance(r, Solved)], ids=lambda r: r.title)
def test_every_rule_has_right_derivatives(one: Rule) -> None:
    values = [1.3 + 0.37 * i for i in range(len(one.names))]
    try:
        base = one.evaluate(values)
    except (TypeError, ValueError, ZeroDivisionError):
        pytest.skip("takes lists, or has no value there")
    for i, exact in enumerate(one.partials(values, base)):
        width = 1e-6
        up, down = [*values], [*values]
        up[i] += width
        down[i] -= width
        assert exact == pytest.approx((one.evaluate(up) - one.evaluate(down)) / (2 * width), rel=1e-4, abs=1e-9)
