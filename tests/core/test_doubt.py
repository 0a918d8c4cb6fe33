"""Propagation of doubt: shared errors stay together, unknown ones are said."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.kit import leaf
from zinc_whistle.core.algebra.doubt import contributions, doubt_of
from zinc_whistle.core.algebra.kinds import Ampere, Number, Ohm, Volt
from zinc_whistle.core.algebra.rules import rule
from zinc_whistle.core.model.given import Meter, bind


@rule("R", source="test")
def quotient(V: Volt, I: Ampere) -> Ohm:
    return V / I


@rule("x", source="test")
def difference(a: Number, b: Number) -> Number:
    return a - b


def test_independent_inputs_add_in_quadrature() -> None:
    r = quotient(leaf(12.0, "voltage", doubt=0.12), leaf(2.0, "current", doubt=0.04))
    found = doubt_of(r)
    assert found.standard == pytest.approx(6 * math.hypot(0.01, 0.02))
    assert not found.at_least


def test_one_given_used_twice_counts_once() -> None:
    a = leaf(5.0, doubt=0.1)
    assert doubt_of(difference(a, a)).standard == 0.0
    assert doubt_of(difference(a, leaf(5.0, doubt=0.1))).standard == pytest.approx(0.1 * math.sqrt(2))


def test_a_gain_error_of_one_meter_cancels_in_a_difference() -> None:
    a = leaf(5.0, doubt=0.1, gain_group="m:voltage", gain_doubt=0.1)
    b = leaf(5.0, doubt=0.1, gain_group="m:voltage", gain_doubt=0.1)
    other = leaf(5.0, doubt=0.1, gain_group="n:voltage", gain_doubt=0.1)
    assert doubt_of(difference(a, b)).standard == pytest.approx(0.0, abs=1e-12)
    assert doubt_of(difference(a, other)).standard == pytest.approx(0.1 * math.sqrt(2))


def test_an_unknown_doubt_is_said_and_a_choice_is_exact() -> None:
    unknown = leaf(2.0, "current", origin="assumed")
    exact = leaf(2.0, "current", origin="chosen")
    volts = leaf(12.0, "voltage", doubt=0.1)
    assert doubt_of(quotient(volts, unknown)).at_least
    assert not doubt_of(quotient(volts, exact)).at_least
    assert doubt_of(quotient(leaf(1.0, "voltage"), exact)).standard == 0.0
    assert doubt_of(quotient(leaf(1.0, "voltage", origin="assumed"), exact)).standard is None


def test_contributions_come_largest_first() -> None:
    r = quotient(leaf(12.0, "voltage", "v", doubt=0.12), leaf(2.0, "current", "i", doubt=0.04))
    assert [x.id for x, _ in contributions(r)] == ["i", "v"]


@given(st.floats(0.1, 100), st.floats(0, 0.05), st.integers(0, 9))
def test_a_meters_shared_part_is_never_more_than_the_whole(value: float, share: float, digits: int) -> None:
    meter = Meter(id="m")
    for name, text in (
        ("amps_share", f"{share * 100:.4f} %"),
        ("amps_digits", str(digits)),
        ("amps_resolution", "10 mA"),
    ):
        getattr(meter, name).text = text
    bind(meter, "m")
    found = meter.doubts(value, "current")
    assert found is not None
    whole, shared = found
    assert 0 <= shared <= whole * (1 + 1e-12)
    assert meter.doubts(value, "temperature") is None
