"""Figures that others printed, beside the law that must give them. All are given from memory; the source is named."""

from __future__ import annotations

import math

import numpy as np
import pytest
from scipy.signal import ss2tf

from zinc_whistle.core.laws import chopper, motor, stage, supply, warm_up, wiring
from zinc_whistle.core.laws.loop_step import LoopPlant, discretise

from .test_quantities import leaf, reactance, resistance

CLASS_2 = {1.5: 12.1, 2.5: 7.41, 4.0: 4.61, 6.0: 3.08, 10.0: 1.83}
CLASS_5 = {0.5: 39.0, 0.75: 26.0, 1.0: 19.5, 1.5: 13.3, 2.5: 7.98, 4.0: 4.95, 6.0: 3.30}


@pytest.mark.parametrize("square_mm", CLASS_2)
def test_stranded_copper_by_its_section(square_mm: float) -> None:
    """IEC 60228, class 2, 20 °C, highest Ω/km: the nominal section's own resistance is up to 7 % less (what is sold as
    2.5 mm² may have 2.33)."""
    ours = wiring.resistance_per_length.bare(square_mm * 1e-6) * 1e3
    assert 0.93 <= ours / CLASS_2[square_mm] <= 1.0


@pytest.mark.parametrize("square_mm", CLASS_5)
def test_flexible_copper_by_its_section(square_mm: float) -> None:
    """IEC 60228, class 5, 20 °C, highest Ω/km: fine strands are allowed 8 to 14 % more than their section."""
    ours = wiring.resistance_per_length.bare(square_mm * 1e-6) * 1e3
    assert 0.85 <= ours / CLASS_5[square_mm] <= 0.93


@pytest.mark.parametrize(("gauge", "per_kft"), [(14, 3.07), (12, 1.93), (10, 1.21), (8, 0.764)])
def test_solid_copper_at_75_degrees(gauge: int, per_kft: float) -> None:
    """NFPA 70 (National Electrical Code), chapter 9, table 8: solid uncoated copper, Ω per 1,000 ft at 75 °C. One per
    cent: the code rounds its sections."""
    section = wiring.wire_area.bare(wiring.wire_diameter.bare(float(gauge)))
    cold = wiring.resistance_per_length.bare(section) * 304.8
    assert motor.resistance_at.bare(motor.resistance_at_25.bare(cold, 20.0), 75.0) == pytest.approx(per_kft, rel=0.012)


@pytest.mark.parametrize("square_mm", [0.5, 1.5, 4.0])
def test_a_wires_short_by_another_formula(square_mm: float) -> None:
    """E. R. Stauffacher (1928), after I. M. Onderdonk: I²t = A² log₁₀(ΔT/(234 + T_a) + 1)/33, A in circular mils. From
    70 to 160 °C it gives (k S)² with IEC 60364-5-54's k of 115 for PVC."""
    mils = square_mm / (math.pi / 4 * 0.0254**2)
    theirs = mils**2 * math.log10(90 / (234 + 70) + 1) / 33
    assert stage.wire_integral.bare(square_mm * 1e-6) == pytest.approx(theirs, rel=0.01)


def test_the_inductance_of_a_pair_of_leads() -> None:
    """F. W. Grover, Inductance Calculations (1946): two parallel wires (µ₀/π)(ln(D/r) + 1/4) H/m. Insulated leads side
    by side, D/r from 3 to 15, are 0.5 to 1.2 µH/m: the class value lies among them."""
    low, high = (4e-7 * (math.log(ratio) + 0.25) for ratio in (3, 15))
    assert low <= float(supply.LEAD_INDUCTANCE) <= high


def test_a_zero_order_hold() -> None:
    """Franklin, Powell & Workman, Digital Control of Dynamic Systems: 1/(s(s + 1)) at T = 1 s is
    (0.3679 z + 0.2642)/((z − 1)(z − 0.3679))."""
    tiny = 1e-6
    plant = LoopPlant(1.0, 0.0, 1.0, 1.0, tiny, tiny, 0.0, 0.0)
    f, g = discretise(plant, 1.0)
    numerator, denominator = ss2tf(f, g[:, :1], np.array([[0.0, 1.0]]), np.array([[0.0]]))
    assert numerator[0] == pytest.approx([0.0, 0.3679, 0.2642], abs=1e-4)
    assert denominator == pytest.approx([1.0, -1.3679, 0.3679], abs=1e-4)


@pytest.mark.parametrize(("duty", "share"), [(0.3, 0.3), (0.5, 0.5), (0.7, 0.2)])
def test_discontinuous_conduction_of_a_step_down(duty: float, share: float) -> None:
    """Mohan, Undeland & Robbins, Power Electronics: V_o/V_d = D²/(D² + ¼ I_o/I_LB,max), I_LB,max = T V_d/(8 L)."""
    volts, period, henry = 12.0, 1e-4, 1e-3
    out = volts * duty**2 / (duty**2 + share / 4)
    found = chopper.chopped(chopper.Chopper(V=volts, E=out, R=1e-4, L=henry, f=1 / period, V_d=0.0), duty)
    assert found.mean_a == pytest.approx(share * period * volts / (8 * henry), rel=2e-3)


@pytest.mark.parametrize(("duty", "k"), [(0.4, 0.1), (0.5, 0.3), (0.2, 0.05)])
def test_the_conversion_ratio_of_discontinuous_conduction(duty: float, k: float) -> None:
    """Erickson & Maksimović, Fundamentals of Power Electronics: M = 2/(1 + √(1 + 4K/D²)), K = 2L/(R T)."""
    volts, period, henry = 12.0, 1e-4, 1e-3
    out = volts * 2 / (1 + math.sqrt(1 + 4 * k / duty**2))
    found = chopper.chopped(chopper.Chopper(V=volts, E=out, R=1e-4, L=henry, f=1 / period, V_d=0.0), duty)
    assert found.mean_a == pytest.approx(out / (2 * henry / (k * period)), rel=2e-3)


VOLTS = np.array([5.007, 4.994, 5.005, 4.990, 4.999])
AMPERES = np.array([19.663, 19.639, 19.640, 19.685, 19.678]) * 1e-3
RADIANS = np.array([1.0456, 1.0438, 1.0468, 1.0428, 1.0433])


@pytest.mark.parametrize(("law", "value", "doubt"), [(resistance, 127.732, 0.071), (reactance, 219.847, 0.295)])
def test_gum_example_h2_with_its_correlations(law: object, value: float, doubt: float) -> None:
    """JCGM 100:2008, H.2, table H.2's five readings of V, I and φ: with their correlations (5.2.2) the printed doubts
    of R and X. Our part in it are the law's partial derivatives."""
    readings = np.array([VOLTS, AMPERES, RADIANS])
    kinds = ("voltage", "current", "angle")
    leaves = [leaf(float(x.mean()), k, k) for x, k in zip(readings, kinds, strict=True)]
    figure = law(*leaves)
    slopes = np.array([figure.gradient[x] for x in leaves])
    covariance = np.cov(readings) / readings.shape[1]
    assert figure.value == pytest.approx(value, abs=2e-3)
    assert math.sqrt(slopes @ covariance @ slopes) == pytest.approx(doubt, abs=6e-4)


MISRA_X = (77.6, 114.9, 141.1, 190.8, 239.9, 289.0, 332.8, 378.4, 434.8, 477.3, 536.8, 593.1, 689.1, 760.0)
MISRA_Y = (10.07, 14.73, 17.94, 23.93, 29.61, 35.18, 40.02, 44.82, 50.76, 55.05, 61.01, 66.40, 75.47, 81.78)


def test_the_fit_of_a_rise_against_certified_values() -> None:
    """NIST StRD, Misra1a: y = b₁(1 − e^(−b₂ x)); b₁ 238.94212918 with a doubt of 2.7070075241, b₂ 5.5015643181e−4,
    residual scatter 0.10187876330. Ours has a free beginning besides: it is held at nothing by reading it 100,000
    times, which makes the scatter of all so small that the least that a thermometer scatters, 0.1, counts instead."""
    held = 100_000
    found = warm_up.fit([0.0] * held + list(MISRA_X), [0.0] * held + list(MISRA_Y))
    assert found.final_c == pytest.approx(238.94212918, rel=1e-6)
    assert 1 / found.tau_s == pytest.approx(5.5015643181e-4, rel=1e-6)
    assert found.doubt_k * 0.10187876330 / warm_up.READ_K == pytest.approx(2.7070075241, rel=1e-4)
