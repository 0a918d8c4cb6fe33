"""Units and doubt against published tables."""

from __future__ import annotations

import math

import pytest

from tests.kit import leaf
from zinc_whistle.core.algebra.doubt import doubt_of
from zinc_whistle.core.algebra.expressions import total
from zinc_whistle.core.algebra.kinds import Ampere, Ohm, Ohms, Radian, Volt
from zinc_whistle.core.algebra.preferred import at_least, series
from zinc_whistle.core.algebra.quantities import parse
from zinc_whistle.core.algebra.rules import procedure, rule
from zinc_whistle.core.algebra.units import UNITS
from zinc_whistle.core.model.given import Meter, bind


@pytest.mark.parametrize(
    ("text", "kind", "si"),
    [
        ("1 kg·cm", "torque", 0.0980665),
        ("2.5 kg·cm", "torque", 0.24516625),
        ("1 oz·in", "torque", 7.0615518e-3),
        ("1 lb·ft", "torque", 1.3558179),
        ("1 lb·in", "torque", 0.11298483),
        ("1 mil", "length", 25.4e-6),
        ("1 in", "length", 0.0254),
        ("1 lb", "mass", 0.45359237),
        ("8 oz", "mass", 0.2267962),
        ("1 kgf", "force", 9.80665),
        ("1 lbf", "force", 4.4482216),
        ("1 ozf", "force", 0.27801385),
        ("1 ft/min", "velocity", 0.00508),
        ("6 m/min", "velocity", 0.1),
        ("1 rpm", "speed", 0.10471976),
        ("1 Wh", "energy", 3600.0),
    ],
)
def test_conversion_factors(text: str, kind: str, si: float) -> None:
    """NIST Special Publication 811 (2008), appendix B.8."""
    assert parse(text, kind).value == pytest.approx(si, rel=1e-7)


def test_one_ounce_copper() -> None:
    """Trace charts use 35 µm for 1 oz/ft²: 1.378 mil (common practice; IPC-2221's charts)."""
    assert UNITS["oz/ft²"].factor == pytest.approx(1.378 * 25.4e-6, rel=1e-4)


def test_meter_accuracy_as_an_uncertainty() -> None:
    """±(1.2 % + 3 digits) on 0.70 A at 0.01 A is ±0.038 A as a limit, 0.022 A as a standard uncertainty
    (limit/√3, JCGM 100:2008, 4.3.7)."""
    meter = Meter(id="m")
    meter.amps_share.text, meter.amps_digits.text, meter.amps_resolution.text = "1.2 %", "3", "0.01 A"
    bind(meter, "m")
    found = meter.doubts(0.70, "current")
    assert found is not None
    assert found[0] * math.sqrt(3) == pytest.approx(0.0384)
    assert found[0] == pytest.approx(0.022, abs=5e-4)


@rule("R", source="JCGM 100:2008, 5.2.2")
def in_series(R: Ohms) -> Ohm:
    return total(R)


@procedure("R", "resistance", says="V cos φ / I", source="JCGM 100:2008, H.2")
def resistance(V: Volt, I: Ampere, phi: Radian) -> Ohm:
    return V * math.cos(phi) / I


@procedure("X", "resistance", says="V sin φ / I", source="JCGM 100:2008, H.2")
def reactance(V: Volt, I: Ampere, phi: Radian) -> Ohm:
    return V * math.sin(phi) / I


def test_gum_example_h2_without_correlations() -> None:
    """JCGM 100:2008, H.2 (simultaneous resistance and reactance): V = 4.9990 V, u 0.0032; I = 19.6610 mA,
    u 0.0095 mA; φ = 1.04446 rad, u 0.00075. Values from memory; R = 127.732 Ω and X = 219.847 Ω as published.

    The published u(R) 0.071 Ω includes correlation coefficients; without them the law of propagation (5.1.2)
    gives √((R·u(V)/V)² + (R·u(I)/I)² + (X·u(φ))²) = 0.195 Ω, by hand.
    """
    v = leaf(4.9990, "voltage", "v", doubt=0.0032)
    i = leaf(19.6610e-3, "current", "i", doubt=0.0095e-3)
    phi = leaf(1.04446, "angle", "phi", doubt=0.00075)
    r, x = resistance(v, i, phi), reactance(v, i, phi)
    assert r.value == pytest.approx(127.732, abs=5e-3)
    assert x.value == pytest.approx(219.847, abs=5e-3)
    by_hand = math.sqrt((127.732 * 0.0032 / 4.999) ** 2 + (127.732 * 0.0095 / 19.661) ** 2 + (219.847 * 0.00075) ** 2)
    assert doubt_of(r).standard == pytest.approx(by_hand, rel=1e-3)


def test_fully_correlated_resistors() -> None:
    """JCGM 100:2008, 5.2.2, note 1, example: ten resistors calibrated with the same standard, u 0.1 Ω each,
    in series have u = 1 Ω, not 0.32 Ω."""
    same = [leaf(1000.0, "resistance", f"r{n}", doubt=0.1, gain_group="standard", gain_doubt=0.1) for n in range(10)]
    apart = [leaf(1000.0, "resistance", f"r{n}", doubt=0.1) for n in range(10)]
    assert doubt_of(in_series(same)).standard == pytest.approx(1.0)
    assert doubt_of(in_series(apart)).standard == pytest.approx(0.1 * math.sqrt(10))


def test_preferred_values() -> None:
    """IEC 60063: E6, E12 and E24 lists; E96 begins 1.00, 1.02, 1.05, 1.07 and ends 9.76."""
    assert series("E6") == (1.0, 1.5, 2.2, 3.3, 4.7, 6.8)
    assert series("E12")[-1] == 8.2
    assert len(series("E24")) == 24
    assert series("E96")[:4] == (1.0, 1.02, 1.05, 1.07)
    assert series("E96")[-1] == 9.76
    assert at_least(953.0) == 1000.0
    assert at_least(4700.0, "E12") == 4700.0
    assert at_least(4701.0, "E12") == 5600.0
    with pytest.raises(ValueError, match="above zero"):
        at_least(0.0)
