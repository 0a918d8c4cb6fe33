"""A limit turned round, against roots that are found in closed form or by a bracketing solver."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from scipy.optimize import brentq

from zinc_whistle.core.algebra.along import nearest_that_holds, utilisation_along
from zinc_whistle.core.algebra.limits import upper
from zinc_whistle.core.algebra.nodes import Axis, Leaf, Varied
from zinc_whistle.core.algebra.units import KINDS
from zinc_whistle.core.laws.motor import stall_current
from zinc_whistle.core.laws.supply import risen_voltage

SUPPLY = Axis("supply", ("full", "flat"))


def leaf(name: str, kind: str, value: float | None) -> Leaf:
    return Leaf(name, name, KINDS[kind], value)


def test_the_resistance_that_keeps_a_stall_below_its_limit_is_ohms_law_at_the_full_supply() -> None:
    """14.6 V full, 12 V flat, 0.6 V drop, 5 A allowed: (14.6 − 0.6) / 5 = 2.8 Ω, whatever the flat supply is."""
    volts = Varied(SUPPLY, (leaf("full", "voltage", 14.6), leaf("flat", "voltage", 12.0)))
    ohms = leaf("R", "resistance", 1.0)
    limit = upper(
        "x",
        station="motor",
        title="Stall",
        stress=stall_current(volts, leaf("drop", "voltage", 0.6), ohms),
        bound=leaf("limit", "current", 5.0),
        todo="",
    )
    assert utilisation_along(limit, ohms, [1.0, 2.8, 14.0]) == pytest.approx([2.8, 1.0, 0.2])
    assert nearest_that_holds(limit, ohms, 1.0, 100.0) == pytest.approx(2.8, rel=1e-3)
    assert nearest_that_holds(limit, ohms, 1.0, 2.0) is None
    # What the limit does not rest on cannot mend it.
    assert nearest_that_holds(limit, leaf("other", "resistance", 1.0), 1.0, 100.0) is None


@given(st.floats(5, 40), st.floats(1.02, 2.0), st.floats(0.01, 30))
def test_the_capacitor_that_bears_an_energy_is_found_as_a_bracketing_solver_finds_it(
    volts: float, over: float, joules: float
) -> None:
    bound = volts * over
    capacitance = leaf("C", "capacitance", 1e-6)
    stress = risen_voltage(leaf("V", "voltage", volts), leaf("E", "energy", joules), capacitance)
    limit = upper("x", station="supply", title="Bus", stress=stress, bound=leaf("b", "voltage", bound), todo="")
    wanted = brentq(lambda c: math.sqrt(volts**2 + 2 * joules / c) - bound, 1e-9, 1e6)
    assume(1e-5 < wanted < 0.9e3)
    found = nearest_that_holds(limit, capacitance, 1e-6, 1e3)
    assert found is not None and found == pytest.approx(wanted, rel=1e-3)
    assert float(utilisation_along(limit, capacitance, [found])[0]) <= 1.0


def test_what_is_missing_never_holds() -> None:
    ohms = leaf("R", "resistance", 1.0)
    stress = stall_current(leaf("V", "voltage", None), leaf("drop", "voltage", 0.0), ohms)
    limit = upper("x", station="motor", title="Stall", stress=stress, bound=leaf("b", "current", 5.0), todo="")
    assert np.isinf(utilisation_along(limit, ohms, [1.0, 1e6])).all()
    assert nearest_that_holds(limit, ohms, 1.0, 1e6) is None
