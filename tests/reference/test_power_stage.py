"""Switches, gates, heat and protection against published and worked cases; by the quick sums that show them."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import solve_ivp
from scipy.optimize import brentq

from zinc_whistle.core.algebra.bands import bands_of, value_of
from zinc_whistle.core.algebra.preferred import series
from zinc_whistle.core.laws import switch as switch_laws
from zinc_whistle.core.sums import SUMS, SumError, work_out


def ask(name: str, **given_: str) -> dict[str, float]:
    return {k: float(v.value or 0.0) for k, v in work_out(SUMS[name], given_).results.items()}


def test_a_headline_of_202_amperes_carries_15_6() -> None:
    """Common practice, no source: 40 V, 4 mΩ, 62 K/W, 175 °C, hot factor 2.07, 50 °C, no heat sink; runaway at
    23.8 A."""
    found = ask(
        "mosfet-heat", on_ohm="4m", hot_factor="2.07", path_k_per_w="62", air_c="50", limit_c="175", current_a="10"
    )
    assert found["allowed_current_a"] == pytest.approx(15.6, abs=0.05)
    assert found["runaway_current_a"] == pytest.approx(23.8, abs=0.05)


def test_the_junction_is_the_bracketed_root() -> None:
    """The fixed point against scipy's bracketed root of the written-out balance."""
    found = ask(
        "mosfet-heat", on_ohm="4m", hot_factor="2.07", path_k_per_w="62", air_c="50", limit_c="175", current_a="12"
    )

    def balance(t: float) -> float:
        return 50 + 62 * 12**2 * 4e-3 * (1 + 1.07 * (t - 25) / 150) - t

    assert found["junction_c"] == pytest.approx(brentq(balance, 50, 400), rel=1e-9)


def test_beyond_runaway_is_refused_by_name() -> None:
    with pytest.raises(SumError, match="runs away"):
        ask("mosfet-heat", on_ohm="4m", hot_factor="2.07", path_k_per_w="62", air_c="50", limit_c="175", current_a="24")


@given(st.floats(0.5, 20), st.floats(0, 80), st.floats(0.5, 3))
def test_the_junction_never_cools_with_air_current_or_path(current: float, air: float, more: float) -> None:
    values = [air, 20.0, current, 4e-3, 1.9, 175.0, 0.5]
    base = switch_laws.junction.evaluate(values)
    for place, step in ((0, more), (1, more), (2, 0.1 * more)):
        other = list(values)
        other[place] += step
        assert switch_laws.junction.evaluate(other) >= base - 1e-9


def test_avalanche_energy() -> None:
    """Worked by hand: 1 mH, 10 A, 50 V breakdown on 12 V gives 65.8 mJ; held against the integrated current."""
    found = ask("avalanche", inductance_h="1m", current_a="10", avalanche_v="50", supply_v="12")["energy_j"]
    assert found == pytest.approx(65.8e-3, rel=1e-3)
    fall = 10 / ((50 - 12) / 1e-3)
    times = np.linspace(0, fall, 20001)
    energy = float(np.trapezoid(50 * (10 - 38e3 * times), times))
    assert found == pytest.approx(energy, rel=1e-6)


def test_switching_loss_is_the_integral_of_its_waveform() -> None:
    """Volts and amperes as straight lines, one after the other, integrated numerically: ½ V I (t_r + t_f) f."""
    volts, current, rise, fall = 24.0, 10.0, 50e-9, 40e-9

    def edge(length: float) -> float:
        t = np.linspace(0, length, 4001)
        half = length / 2
        i = np.where(t < half, current * t / half, current)
        v = np.where(t < half, volts, volts * (1 - (t - half) / half))
        return float(np.trapezoid(v * i, t))

    found = ask("switching-loss", bus_v="24", current_a="10", rise_s="50n", fall_s="40n", frequency_hz="20k")
    assert found["switching_w"] == pytest.approx((edge(rise) + edge(fall)) * 20e3, rel=1e-3)


def test_gate_charge_over_gate_current_is_the_integrated_plateau() -> None:
    """A gate held at its plateau through a resistor, charge integrated until the switching charge has flowed."""
    found = ask(
        "gate-drive",
        drive_v="12",
        plateau_v="5",
        switching_c="20n",
        total_c="90n",
        resistor_ohm="10",
        driver_ohm="2",
        internal_ohm="1.5",
        mismatch_s="50n",
        frequency_hz="20k",
    )

    def full(t: float, q: np.ndarray) -> float:
        return float(q[0] - 20e-9)

    full.terminal = True
    run = solve_ivp(lambda t, q: [(12 - 5) / 13.5], (0, 1e-6), [0.0], events=full, rtol=1e-10, atol=1e-18)
    assert found["turn_on_s"] == pytest.approx(float(run.t_events[0][0]), rel=1e-6)
    assert found["turn_off_s"] == pytest.approx(20e-9 * 13.5 / 5)
    assert found["dead_time_s"] == pytest.approx(found["turn_off_s"] + 50e-9)
    assert found["gate_w"] == pytest.approx(90e-9 * 12 * 20e3)


def test_terminal_capacitor() -> None:
    """Worked by hand: 100 nF, 24 V, 20 kHz costs 1.15 W; in locked anti-phase four times that."""
    asked = {"capacitor_f": "100n", "supply_v": "24", "frequency_hz": "20k"}
    slow = ask("terminal-capacitor", **asked)["heat_w"]
    assert slow == pytest.approx(1.152)
    assert ask("terminal-capacitor", mode="antiphase", **asked)["heat_w"] == pytest.approx(4 * slow)


def test_wire_behind_a_fuse() -> None:
    """IEC 60364-5-54, k 115 for PVC (from memory): 0.5 mm² at 100 A lasts 0.33 s."""
    assert ask("fuse-wire", copper_mm2="0.5", current_a="100")["endures_s"] == pytest.approx(0.33, abs=0.001)


def test_timer_circuits() -> None:
    """Worked by hand: 10 k, 100 k, 10 nF gives 687 Hz; with diodes of 0.6 V it falls 11 % at 12 V and 26 % at 5 V."""
    assert ask("timer-ic", a_ohm="10k", b_ohm="100k", capacitor_f="10n")["frequency_hz"] == pytest.approx(687, abs=0.5)
    for volts, falls in (("12", 0.11), ("5", 0.26)):
        found = ask("timer-pot", total_ohm="102k", end_ohm="1k", capacitor_f="10n", supply_v=volts)
        assert 1 - 1 / found["slower_by"] == pytest.approx(falls, abs=0.005)
    assert found["duty_least"] == pytest.approx(0.0098, abs=1e-4)
    with pytest.raises(SumError, match="three diode drops"):
        ask("timer-pot", total_ohm="102k", end_ohm="1k", capacitor_f="10n", supply_v="1.7")


def test_base_resistor() -> None:
    """Common practice, no source: 330 Ω on 5 V gives 13 mA and saturates about 130 mA."""
    found = ask("base-resistor", pin_v="5", resistor_ohm="330")
    assert found["base_a"] == pytest.approx(0.013, abs=1e-4)
    assert found["saturates_to_a"] == pytest.approx(0.13, abs=1e-3)


def test_bulk_capacitor_and_plugging_in() -> None:
    """Worked by hand: 10 A, half duty, 20 kHz, 0.5 V gives 5 A and 250 µF; locked anti-phase twice both."""
    asked = {"current_a": "10", "duty": "50", "frequency_hz": "20k", "ripple_v": "0.5"}
    slow, both = ask("bulk-capacitor", **asked), ask("bulk-capacitor", mode="antiphase", **asked)
    assert (slow["ripple_current_a"], slow["capacitance_f"]) == (pytest.approx(5.0), pytest.approx(250e-6))
    assert (both["ripple_current_a"], both["capacitance_f"]) == (pytest.approx(10.0), pytest.approx(500e-6))
    found = ask("plug-in", supply_v="24", lead_h="1u", capacitance_f="10u", resistance_ohm="0.1")
    assert found["peak_v"] == pytest.approx(38.5, abs=0.05)


def test_sharing_against_the_parallel_conductances() -> None:
    """One switch at −20 %, two at +20 % of the on-resistance (Kirchhoff)."""
    found = ask("parallel", current_a="30", count="3", spread="20")["busiest_a"]
    conductances = np.array([1 / 0.8, 1 / 1.2, 1 / 1.2])
    assert found == pytest.approx(30 * conductances[0] / conductances.sum())
    assert ask("parallel", current_a="30", count="3", spread="0")["busiest_a"] == pytest.approx(10)


def test_heat_sink_closes_its_own_circle() -> None:
    sink = ask("heat-sink", junction_c="125", air_c="45", heat_w="6", case_k_per_w="1", pad_k_per_w="0.5")[
        "sink_k_per_w"
    ]
    assert 45 + 6 * (sink + 1.5) == pytest.approx(125)
    with pytest.raises(SumError, match="already too hot"):
        ask("heat-sink", junction_c="125", air_c="45", heat_w="80", case_k_per_w="1")


def test_relay_dwell_against_the_integrated_decay() -> None:
    """Current through R, L and a constant diode drop, integrated until it is zero."""
    found = ask("relay-dwell", inductance_h="4m", resistance_ohm="6", current_a="1.5", release_s="10m", bounce_s="15m")

    def out(t: float, i: np.ndarray) -> float:
        return float(i[0])

    out.terminal = True
    run = solve_ivp(lambda t, i: [(-6 * i[0] - 0.8) / 4e-3], (0, 0.1), [1.5], events=out, rtol=1e-10, atol=1e-12)
    assert found["decay_s"] == pytest.approx(float(run.t_events[0][0]), rel=1e-6)
    assert found["dwell_s"] == pytest.approx(found["decay_s"] + 0.025)


def test_shunt_and_bootstrap_by_hand() -> None:
    found = ask("shunt", current_a="10", shunt_ohm="5m", gain="20")
    assert found["shunt_v"] == pytest.approx(0.05)
    assert found["heat_w"] == pytest.approx(0.5)
    assert found["counts"] == pytest.approx(1.0 / 5 * 1024)
    assert found["step_a"] == pytest.approx(10 / found["counts"])
    boot = ask("bootstrap", gate_c="90n", leak_a="150u", on_s="1m", droop_v="0.5", refresh_s="1u", frequency_hz="20k")
    assert boot["capacitor_f"] == pytest.approx((90e-9 + 150e-9) / 0.5)
    assert boot["duty_max"] == pytest.approx(0.98)


def test_colour_bands_both_ways() -> None:
    """IEC 60062: 47 kΩ 5 % is yellow violet orange gold, 2.2 kΩ 5 % is red red red gold."""
    assert bands_of(47e3, 0.05) == ("yellow", "violet", "orange", "gold")
    assert bands_of(2.2e3, 0.05) == ("red", "red", "red", "gold")
    assert bands_of(4.7, 0.01, 3) == ("yellow", "violet", "black", "silver", "brown")
    assert ask("colour-bands", bands="yellow violet orange gold") == {
        "resistance_ohm": 47000.0,
        "tolerance_percent": 5.0,
    }
    answer = work_out(SUMS["bands-of"], {"resistance_ohm": "47k"})
    assert answer.results["resistance_ohm"].title == "yellow, violet, orange, gold"
    with pytest.raises(SumError, match="“pink” is no digit"):
        ask("colour-bands", bands="pink violet orange gold")
    with pytest.raises(SumError, match="2 digits"):
        ask("bands-of", resistance_ohm="4.99k")


@given(st.sampled_from(series("E96")), st.integers(0, 6), st.sampled_from([0.01, 0.02, 0.05]))
def test_every_preferred_value_survives_its_bands(value: float, decade: int, tolerance: float) -> None:
    ohms = float(f"{value * 10**decade:.6g}")
    back = value_of(list(bands_of(ohms, tolerance, 3)))
    assert back == (pytest.approx(ohms), tolerance)


@pytest.mark.parametrize("name", sorted(SUMS))
def test_every_sum_works_on_its_own_examples(name: str) -> None:
    one = SUMS[name]
    answer = work_out(one, {a.key: a.example for a in one.asks})
    assert answer.results
    for result in answer.results.values():
        assert result.formula
        assert result.source
