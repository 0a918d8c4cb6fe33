"""The bus under PWM: source, lead and capacitor share the pulses as the nodal solver says, in every regime."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from zinc_whistle.core.laws import capacitor as capacitor_laws
from zinc_whistle.core.laws.bus_ripple import ripple_in_the_capacitor, ripple_on_the_supply

from .net import Net

CASES = {
    "stiff lead, large capacitor": (1.0, 5.0, 0.5, 20e3, 470e-6, 0.05, 0.05, 2e-6),
    "the source takes most": (1.0, 5.0, 0.3, 500.0, 100e-6, 0.1, 0.15, 1e-6),
    "at the ring of lead and capacitor": (1.0, 3.0, 0.5, 5.2e3, 470e-6, 0.02, 0.03, 2e-6),
    "small ceramic": (1.0, 4.0, 0.4, 20e3, 10e-6, 0.005, 0.1, 1.5e-6),
    "slow, rings out": (1.0, 2.0, 0.7, 200.0, 47e-6, 0.3, 0.05, 2e-6),
    "turned round": (2.0, 3.0, 0.5, 16e3, 220e-6, 0.08, 0.1, 1e-6),
}


@pytest.mark.parametrize("values", CASES.values(), ids=CASES.keys())
def test_ripple_and_share_are_the_circuits(values: tuple[float, ...]) -> None:
    """Exact law against exact circuit: 2 %, which is the sampling of the highest swing."""
    k, amperes, duty, f, farad, esr, ohm, henry = values
    net = Net()
    net.source("in", "0", 24.0)
    net.resistor("in", "a", ohm)
    net.inductor("a", "bus", henry, "lead", k * amperes * duty)
    net.resistor("bus", "c", esr)
    net.capacitor("c", "0", farad, volts=24.0 - ohm * k * amperes * duty)
    settled = 8 * 2 * henry / (ohm + esr) + 8 * (ohm + esr) * farad
    periods = min(200, math.ceil(settled * f) + 3)
    net.events = [(n + d) / f for n in range(periods + 1) for d in (0.0, duty)]
    net.feed("bus", "0", lambda t: k * amperes if (t * f) % 1.0 < duty else 0.0)
    found = net.run(periods / f, min(1 / f / 200, math.sqrt(henry * farad) / 20))
    last = found.t >= found.t[-1] - 1 / f
    through = (found.v("bus") - found.v("c"))[last] / esr
    square = float(np.trapezoid(through**2, found.t[last])) * f
    assert ripple_in_the_capacitor.function(*values) == pytest.approx(math.sqrt(square), rel=0.02)
    assert ripple_on_the_supply.function(*values) == pytest.approx(np.ptp(found.v("bus")[last]), rel=0.02)


def test_a_long_lead_leaves_it_all_to_the_capacitor() -> None:
    """Then it is k I √(D(1 − D)) and k I D(1 − D)/(f C), as handbooks have it; a stiff source without a lead gives it
    nearly nothing."""
    alone = capacitor_laws.ripple_current.bare(1.0, 5.0, 0.3)
    assert ripple_in_the_capacitor.function(1.0, 5.0, 0.3, 20e3, 1e-3, 0.01, 0.05, 1e-3) == pytest.approx(
        alone, rel=0.01
    )
    assert ripple_in_the_capacitor.function(1.0, 5.0, 0.3, 200.0, 10e-6, 0.5, 0.01, 1e-9) < 0.1 * alone


def test_no_bus_swings_by_more_than_its_source_can_drop() -> None:
    """10 A at 200 Hz on 100 µF would be 125 V of ripple by charge alone, on any supply. Behind 50 mΩ and a microhenry
    it is the drop in the source, and the ring of the lead on top: less than the drop, the step on the capacitor's own
    resistance and I √(L/C) together."""
    charge_alone = 10.0 * 0.5 * 0.5 / (200.0 * 100e-6)
    swing = ripple_on_the_supply.function(1.0, 10.0, 0.5, 200.0, 100e-6, 0.05, 0.05, 1e-6)
    assert charge_alone > 100 and 0.5 < swing < 2 * 10 * (0.05 + math.sqrt(1e-6 / 100e-6))


REGIMES = st.tuples(
    st.just(1.0),
    st.floats(0.1, 30),
    st.floats(0.02, 0.98),
    st.floats(100, 60e3),
    st.floats(1e-6, 5e-3),
    st.floats(1e-3, 0.5),
    st.floats(1e-3, 1.0),
    st.floats(1e-8, 1e-5),
)


@given(REGIMES)
def test_numbers_and_arrays_are_one_and_neither_is_without_bound(values: tuple[float, ...]) -> None:
    """And a larger current makes a larger ripple in proportion: the circuit is linear."""
    for law in (ripple_on_the_supply, ripple_in_the_capacitor):
        one = law.function(*values)
        assert math.isfinite(one) and one >= 0
        many = law.on_arrays([np.array([v, v]) if n == 2 else v for n, v in enumerate(values)])
        assert many == pytest.approx([one, one], rel=1e-6, abs=1e-9)
        twice = law.function(values[0], 2 * values[1], *values[2:])
        assert twice == pytest.approx(2 * one, rel=1e-6, abs=1e-9)


@pytest.mark.parametrize("law", [ripple_on_the_supply, ripple_in_the_capacitor])
def test_of_many_duties_at_a_few_paces_each_is_its_own(law: Any) -> None:
    # What is read from a table must not be the table of another frequency, however the arrays lie to each other.
    duties, paces = np.linspace(0.0, 1.0, 901), np.array([400.0, 9_000.0, math.nan, 400.0])
    fixed = (1e-3, 0.05, 0.07, 8e-7)
    many = law.on_arrays([1.0, 2.0, duties[:, None], paces[None, :], *fixed])
    assert many.shape == (901, 4) and np.isnan(many[:, 2]).all()
    for d, f in ((17, 0), (450, 1), (893, 3), (0, 1)):
        one = law.function(1.0, 2.0, float(duties[d]), float(paces[f]), *fixed)
        assert many[d, f] == pytest.approx(one, rel=2e-4, abs=1e-9)
    crossed = law.on_arrays([1.0, 2.0, duties[None, :], paces[:, None], *fixed])
    assert np.array_equal(crossed.T, many, equal_nan=True)
