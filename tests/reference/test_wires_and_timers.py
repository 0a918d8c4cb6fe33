"""Conductors, timers, encoders and capacitors against tables and worked examples."""

from __future__ import annotations

import math

import numpy as np
import pytest
from scipy.integrate import solve_ivp

from tests.kit import leaf
from zinc_whistle.core.cases.timer_plan import settings
from zinc_whistle.core.laws import capacitor as stage
from zinc_whistle.core.laws import driver, encoder, supply
from zinc_whistle.core.laws import signals as timer
from zinc_whistle.core.laws import wiring as wire
from zinc_whistle.core.model.signals import Timer
from zinc_whistle.core.sums import SUMS, work_out


@pytest.mark.parametrize(
    ("gauge", "diameter_mm", "ohm_per_km"),
    [(22, 0.644, 53.0), (18, 1.024, 20.9), (10, 2.588, 3.277), (36, 0.127, 1361)],
)
def test_wire_table(gauge: int, diameter_mm: float, ohm_per_km: float) -> None:
    """ASTM B258 diameters; resistance with the IACS value 1.7241e−8 Ω·m at 20 °C. Tables from memory."""
    diameter = wire.wire_diameter.evaluate([gauge])
    per_length = wire.resistance_per_length.evaluate([wire.wire_area.evaluate([diameter])])
    assert diameter * 1e3 == pytest.approx(diameter_mm, abs=6e-4)
    assert per_length * 1e3 == pytest.approx(ohm_per_km, rel=2.5e-3)


def test_wire_sum_counts_both_conductors() -> None:
    """2 m of AWG 22 each way at 3 A: 2 × 2 m × 52.96 Ω/km × 3 A = 0.636 V, by hand."""
    results = work_out(SUMS["wire"], {"awg": "22", "length_m": "2", "current_a": "3"}).results
    assert results["drop_v"].value == pytest.approx(0.6355, abs=5e-4)
    assert results["resistance_ohm_per_km"].value == pytest.approx(52.96, abs=0.01)


def test_track_width() -> None:
    """IPC-2221, I = k ΔT^0.44 A^0.725 with k 0.048 outside: 10 A, +10 K, 1 oz needs 283 mil (7.19 mm)."""
    outer = work_out(SUMS["trace"], {"current_a": "10", "rise_k": "10", "copper_oz": "1", "layer": "outer"}).results
    assert outer["width_mil"].value == pytest.approx(283, abs=0.5)
    assert outer["width_mm"].value == pytest.approx(7.19, abs=0.01)
    inner = work_out(SUMS["trace"], {"current_a": "10", "rise_k": "10", "copper_oz": "1", "layer": "inner"}).results
    assert inner["width_mil"].value == pytest.approx(outer["width_mil"].value * 2 ** (1 / 0.725), rel=1e-6)


@pytest.mark.parametrize(
    ("centre", "prescaler", "top", "hertz"),
    [(False, 64, 255, 976.6), (True, 64, 255, 490.2), (True, 1, 400, 20000.0), (False, 1, 799, 20000.0)],
)
def test_timer_frequencies(centre: bool, prescaler: int, top: int, hertz: float) -> None:
    """Timer arithmetic at 16 MHz (common practice, no source): f = F/(N·(TOP+1)) or F/(2·N·TOP)."""
    law = timer.centre_frequency if centre else timer.edge_frequency
    assert law.evaluate([16e6, prescaler, top]) == pytest.approx(hertz, abs=0.05)


def test_twenty_kilohertz_in_401_steps() -> None:
    """16 MHz, prescaler 1, TOP 400 centre-aligned: 20.0 kHz in 401 steps (common practice, no source)."""
    results = work_out(
        SUMS["pwm-timer"], {"clock_hz": "16M", "frequency_hz": "20k", "mode": "centre", "bits": "16"}
    ).results
    assert (results["prescaler"].value, results["top"].value, results["steps"].value) == (1, 400, 401)
    assert results["real_frequency_hz"].value == pytest.approx(20000.0)


@pytest.mark.parametrize("wanted", [50.0, 490.0, 1000.0, 7300.0, 20000.0, 31000.0])
@pytest.mark.parametrize("centre", [True, False])
def test_the_planner_finds_what_trying_everything_finds(wanted: float, centre: bool) -> None:
    """Brute force over every prescaler and top of a 10-bit timer: no setting within 2 % has more steps."""
    one = Timer(id="t", name="t", bits=10, prescalers=[1, 8, 64, 256, 1024], free_top=True)
    best = settings(16e6, wanted, [one], centre)[0]
    law = timer.centre_frequency if centre else timer.edge_frequency
    close = [
        (top, n)
        for n in one.prescalers
        for top in range(1, 1024)
        if abs(law.evaluate([16e6, n, top]) / wanted - 1) <= abs(best.error) + 1e-12
    ]
    assert close
    assert best.top >= max(top for top, _ in close) or abs(best.error) <= 0.02


@pytest.mark.parametrize(("teeth", "counts", "degrees"), [(4, 16, 22.5), (2, 8, 45.0), (6, 24, 15.0)])
def test_encoder_disc(teeth: int, counts: int, degrees: float) -> None:
    """Four counts a tooth: 4 teeth give 16 counts of 22.5° (common practice, no source)."""
    results = work_out(SUMS["encoder-disc"], {"teeth": str(teeth), "ratio": "13", "decoding": "4"}).results
    assert results["counts_per_turn"].value == counts
    assert results["degrees_per_count"].value == pytest.approx(degrees)


def test_encoder_angles_behind_a_gear() -> None:
    """22.5° over 13 is 1.7°, over 120 is 0.19° (arithmetic)."""
    for ratio, degrees in ((13, 1.73), (120, 0.1875)):
        results = work_out(SUMS["encoder-disc"], {"teeth": "4", "ratio": str(ratio), "decoding": "4"}).results
        assert results["output_degrees_per_count"].value == pytest.approx(degrees, abs=1e-3)


def test_count_rates() -> None:
    """3,000 lines × 4 at 1 rev/s is 12,000/s; a loop of 60 µs with ten passes a count takes 1,667/s; of 15 ms, 6/s
    (common practice, no source). 2,476 counts/rev × 2 rev/s over a loop of 30 Hz is 165.07 counts a period."""
    assert encoder.count_rate.evaluate([12000.0, 2 * math.pi]) == pytest.approx(12000.0)
    assert encoder.polling_limit.evaluate([60e-6, 10.0]) == pytest.approx(1667, abs=0.5)
    assert int(encoder.polling_limit.evaluate([15e-3, 10.0])) == 6
    rate = encoder.count_rate.evaluate([2476.0, 2 * 2 * math.pi])
    assert encoder.counts_per_period.evaluate([rate, 1 / 30]) == pytest.approx(165.07, abs=0.005)


def test_bulk_capacitor() -> None:
    """10 A, D 0.5, 20 kHz, 0.5 V: 5 A of ripple current and 250 µF; twice both in locked anti-phase
    (charge balance, derivation)."""
    for k, amperes, farads in ((1.0, 5.0, 250e-6), (2.0, 10.0, 500e-6)):
        assert stage.ripple_current.evaluate([k, 10.0, 0.5]) == pytest.approx(amperes)
        assert stage.capacitance_needed.evaluate([k, 10.0, 0.5, 20e3, 0.5]) == pytest.approx(farads)


def test_bulk_ripple_against_a_sampled_waveform() -> None:
    """RMS of the capacitor's current (load pulses less their mean), sampled."""
    d, i = 0.3, 7.0
    wave = np.where(np.arange(100000) < 100000 * d, i, 0.0)
    assert stage.ripple_current.evaluate([1.0, i, d]) == pytest.approx(float(np.std(wave)), rel=1e-4)


def test_current_ripple_tends_to_the_textbook_form() -> None:
    """V D(1 − D)/(f L): 12 V, D 0.5, 20 kHz, 1 mH gives 0.15 A; the exact form with small R agrees.
    At x = 0.5 locked anti-phase has 0.225 A (derivation: V(1 − x²)/(2 f L))."""
    assert timer.ripple.evaluate([12.0, 0.1, 0.5, 20e3, 1e-3]) == pytest.approx(0.15, rel=1e-5)
    duty = timer.antiphase_duty.evaluate([0.5])
    assert timer.ripple.evaluate([24.0, 0.1, duty, 20e3, 1e-3]) == pytest.approx(0.225, rel=1e-5)


@pytest.mark.parametrize(
    ("resistance", "inductance", "duty"), [(2.0, 1e-3, 0.4), (2.0, 0.1e-3, 0.7), (8.0, 0.2e-3, 0.2)]
)
def test_current_ripple_against_an_integrated_waveform(resistance: float, inductance: float, duty: float) -> None:
    """scipy's solve_ivp, restarted at every edge, until the ripple is steady."""
    period, volts, current = 1 / 20e3, 12.0, 0.0
    for _ in range(400):
        swing = []
        for level, span in ((volts, duty * period), (0.0, (1 - duty) * period)):
            done = solve_ivp(
                lambda _, i, level=level: (level - resistance * i) / inductance,
                (0, span),
                [current],
                rtol=1e-10,
                atol=1e-12,
            )
            current = float(done.y[0, -1])
            swing.append(current)
        if len(swing) == 2 and abs(swing[1] - done.y[0, -1]) < 1e-12:
            low, high = swing[1], swing[0]
    assert timer.ripple.evaluate([volts, resistance, duty, 20e3, inductance]) == pytest.approx(high - low, rel=1e-5)


def test_the_headline_of_202_amperes_carries_fifteen() -> None:
    """A 40 V, 4 mΩ transistor with a headline of 202 A: 62 K/W, 175 °C, hot factor 2.07, 50 °C air, no heat sink:
    15.6 A; and with R linear in T, runaway at 23.8 A (common practice, no source)."""
    budget = driver.heat_allowed.evaluate([175.0, 50.0, 62.0, 0.0, 0.0])
    hot = driver.hot_resistance.evaluate([4e-3, 2.07])
    assert driver.current_allowed.evaluate([budget, 0.0, hot]) == pytest.approx(15.6, abs=0.05)

    def junction(current: float) -> float | None:
        return driver.junction_temperature(
            leaf(50.0, "temperature"),
            leaf(62.0, "thermal resistance"),
            leaf(current, "current"),
            leaf(4e-3, "resistance"),
            leaf(2.07, "ratio"),
            leaf(175.0, "temperature"),
            leaf(0.0, "power"),
        ).value

    assert junction(15.61) == pytest.approx(175.0, abs=0.5)
    assert junction(23.7) is not None
    assert junction(23.9) is None


def test_junction_against_plain_iteration() -> None:
    """The fixed point against the same equation iterated by hand."""
    args = [40.0, 30.0, 2.0, 0.15, 1.7, 150.0, 0.1]
    found = driver.junction_temperature.evaluate(args)
    by_hand = 40.0
    for _ in range(2000):
        by_hand = 40.0 + 30.0 * (2.0**2 * 0.15 * (1 + 0.7 * (by_hand - 25) / 125) + 0.1)
    assert found == pytest.approx(by_hand, rel=1e-9)


def test_stall_through_everything_in_series() -> None:
    """12 V through 1 + 0.1 + 0.05 + 0.1 Ω is 9.6 A, not 12 (Ohm's law)."""
    total = driver.loop_resistance.evaluate([0.1, 0.05, 0.1, 0.0, 1.0])
    assert driver.stall_in_circuit.evaluate([12.0, 0.0, 0.0, total]) == pytest.approx(9.6)


def test_linear_regulator_heat() -> None:
    """12 V to 5 V at 0.2 A burns 1.4 W."""
    assert supply.linear_heat.evaluate([12.0, 5.0, 0.2]) == pytest.approx(1.4)


def test_bipolar_bridges_lose_volts() -> None:
    """About 2.5 V at 1 A and 4 to 5 V at 2 A for classic twin bipolar bridges (class figures, common practice;
    the sample's two-term model lies between 3.7 and 5)."""
    from zinc_whistle.demo.data import sample_parts

    part = next(p for p in sample_parts() if p.id == "bip-twin-2a")
    from zinc_whistle.core.model.given import bind

    bind(part, "x")
    at_one = driver.driver_drop.evaluate([part.drop_v.value, part.on_resistance.value, 1.0])
    assert at_one == pytest.approx(2.5, abs=0.1)
    assert 3.6 <= driver.driver_drop.evaluate([part.drop_v.value, part.on_resistance.value, 2.0]) <= 5.0


def test_rc_debounce_is_too_short() -> None:
    """10 kΩ and 100 nF cross half after 0.69 ms, too short for a contact that bounces several ms (common practice)."""
    results = work_out(SUMS["rc"], {"resistance_ohm": "10k", "capacitance_f": "100n"}).results
    assert results["half_time_s"].value == pytest.approx(0.69e-3, abs=5e-6)


def test_sense_range() -> None:
    """1.65 V/A fills a 3.3 V converter at 2 A (common practice, no source)."""
    assert driver.sense_volts.evaluate([1.65, 2.0]) == pytest.approx(3.3)


def test_headroom_on_current_is_more_on_heat() -> None:
    """1.25 on current is 1.56 on heat (arithmetic)."""
    assert driver.with_headroom.evaluate([1.0]) ** 2 == pytest.approx(1.5625)
