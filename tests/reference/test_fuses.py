"""Fuses against the gates of their standards and against adiabatic heating.

ISO 8820-3 (blade), IEC 60127-2 sheets 2 and 3 (5 × 20 mm), UL 248-14: gates from memory. DIN VDE 0298-4, single cores
in free air at 30 °C: from memory. IEC 60364-5-52, correction of PVC for warmer air: from memory.
"""

from __future__ import annotations

import math

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from zinc_whistle.core.algebra.nodes import Unbounded
from zinc_whistle.core.laws import fuse, wiring

BLADE = [(1.35, 0.75, 600), (1.60, 0.25, 50), (2.00, 0.15, 5), (3.50, 0.04, 0.5), (6.00, 0.02, 0.1)]
QUICK = [(2.75, 0.05, 2), (4, 0.01, 0.3)]
SLOW = [(2.75, 0.6, 10), (4, 0.15, 3), (10, 0.02, 0.3)]


@pytest.mark.parametrize(
    ("curve", "gates"), [("blade", BLADE), ("glass quick", QUICK), ("glass slow", SLOW)], ids=["blade", "F", "T"]
)
def test_the_gates_are_those_of_the_standard(curve: fuse.Curve, gates: list[tuple[float, float, float]]) -> None:
    for times, first, last in gates:
        assert fuse.earliest(curve, times) == pytest.approx(first)
        assert fuse.latest(curve, times) == pytest.approx(last)


def test_single_gates() -> None:
    assert fuse.earliest("blade", 1.10) == pytest.approx(100 * 3600)
    assert fuse.earliest("glass quick", 1.5) == pytest.approx(3600)
    assert fuse.latest("glass quick", 2.1) == pytest.approx(30 * 60)
    assert fuse.latest("glass slow", 2.1) == pytest.approx(2 * 60)
    assert fuse.latest("glass quick", 10) == pytest.approx(0.02)
    assert fuse.latest("ul 248-14", 1.35) == pytest.approx(3600)
    assert fuse.latest("ul 248-14", 2.0) == pytest.approx(120)


def test_between_two_gates_it_is_a_straight_line_on_logarithmic_paper() -> None:
    """Half way between 2 and 3.5 times on a logarithmic axis, √7 = 2.646 times: √(5 · 0.5) = 1.58 s."""
    assert fuse.latest("blade", math.sqrt(7.0)) == pytest.approx(math.sqrt(2.5))


@pytest.mark.parametrize("curve", sorted(fuse.GATES))
def test_nothing_promises_that_a_fuse_opens_near_its_rating(curve: fuse.Curve) -> None:
    first = fuse.GATES[curve].latest[0][0]
    with pytest.raises(Unbounded, match="does not promise"):
        fuse.latest(curve, first * 0.99)


@given(st.sampled_from(sorted(fuse.GATES)), st.floats(1.0, 60.0), st.floats(1.0, 1.5))
def test_more_current_never_opens_later_and_the_earliest_is_never_later_than_the_latest(
    curve: fuse.Curve, times: float, more: float
) -> None:
    assert fuse.earliest(curve, times * more) <= fuse.earliest(curve, times) * (1 + 1e-12)
    assume(times >= fuse.GATES[curve].latest[0][0])
    assert fuse.latest(curve, times * more) <= fuse.latest(curve, times) * (1 + 1e-12)
    if curve != "ul 248-14":
        assert fuse.earliest(curve, times) <= fuse.latest(curve, times)


def test_beyond_its_last_gate_the_earliest_keeps_its_i2t() -> None:
    """No heat leaves the wire in so short a time: I²t is what melts it, whatever the current."""
    heats = [fuse.earliest("blade", n) * n**2 for n in (6.0, 12.0, 60.0)]
    assert heats == pytest.approx([heats[0]] * 3)


@pytest.mark.parametrize(
    ("mm2", "amps"), [(0.75, 15), (1.0, 19), (1.5, 24), (2.5, 32), (4.0, 42), (6.0, 54), (10.0, 73)]
)
def test_what_a_single_core_carries_in_free_air(mm2: float, amps: float) -> None:
    """DIN VDE 0298-4, table for flexible single cores in free air at 30 °C (from memory)."""
    assert wiring.wire_carries.bare(mm2 * 1e-6, 30.0) == pytest.approx(amps, rel=0.06)


@pytest.mark.parametrize(("air", "factor"), [(10, 1.22), (20, 1.12), (30, 1.0), (40, 0.87), (50, 0.71), (60, 0.50)])
def test_warmer_air_by_the_printed_factors_for_pvc(air: float, factor: float) -> None:
    """IEC 60364-5-52, table B.52.14, PVC 70 °C (from memory)."""
    there, table = (wiring.wire_carries.bare(1e-6, t) for t in (air, 30.0))
    assert there / table == pytest.approx(factor, abs=0.006)
