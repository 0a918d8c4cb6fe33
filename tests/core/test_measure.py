"""Captures measured: against what they were made from, and against scipy, at many sample rates and noises."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import signal

from zinc_whistle.core.captures.doubts import doubts
from zinc_whistle.core.captures.measure import Floats, gaps, measure
from zinc_whistle.core.captures.table import CaptureError
from zinc_whistle.core.captures.wave import Wave


def pulses(
    *,
    frequency: float = 20e3,
    duty: float = 0.4,
    low: float = 0.0,
    high: float = 5.0,
    rate: float = 4e6,
    periods: float = 12.3,
    rise: float = 0.0,
    noise: float = 0.0,
    shift: float = 0.17,
    seed: int = 1,
) -> tuple[np.ndarray, np.ndarray]:
    """Trapezoids by their definition: straight edges of ``rise`` from 0 to 100 %, centred on the ideal ones."""
    t = np.arange(int(periods / frequency * rate)) / rate
    phase = (t * frequency + shift) % 1.0
    if rise:
        half = rise * frequency / 2
        x = np.interp(phase, [0, half, duty - half, duty + half, 1 - half, 1], [0.5, 1, 1, 0, 0, 0.5])
    else:
        x = (phase < duty).astype(float)
    v = low + (high - low) * x + noise * np.random.default_rng(seed).standard_normal(len(t))
    return t, v


@settings(max_examples=60, deadline=None)
@given(
    frequency=st.floats(50, 60e3),
    duty=st.floats(0.08, 0.92),
    high=st.floats(0.5, 24),
    low=st.floats(-2, 0.2),
    noise=st.floats(0, 0.03),
    samples=st.floats(40, 400),
    shift=st.floats(0, 0.99),
)
def test_pulses_are_measured_as_they_were_made(
    frequency: float, duty: float, high: float, low: float, noise: float, samples: float, shift: float
) -> None:
    """At 40 to 400 samples a period and noise up to 3 % of the swing."""
    swing = high - low
    t, v = pulses(
        frequency=frequency,
        duty=duty,
        low=low,
        high=high,
        rate=samples * frequency,
        noise=noise * swing,
        shift=shift,
    )
    found = measure(t, v)
    assert found.frequency_hz is not None and found.duty is not None and found.frequency_doubt_hz is not None
    assert found.frequency_hz == pytest.approx(frequency, rel=3 / samples / 10)
    assert abs(found.frequency_hz - frequency) <= 4 * found.frequency_doubt_hz
    assert found.duty == pytest.approx(duty, abs=1.5 / samples)
    assert found.low == pytest.approx(low, abs=(0.01 + noise / 2) * swing)
    assert found.high == pytest.approx(high, abs=(0.01 + noise / 2) * swing)
    assert found.mean == pytest.approx(np.mean(v)) and found.rms == pytest.approx(math.sqrt(np.mean(v**2)))
    assert found.step_s == pytest.approx(1 / (samples * frequency))


def test_frequency_agrees_with_the_peak_of_scipys_spectrum() -> None:
    """Where noise is a tenth of the swing: the strongest line of a periodogram, which knows nothing of edges."""
    t, v = pulses(frequency=1234.5, duty=0.5, rate=250e3, periods=200.5, noise=0.5)
    places, power = signal.periodogram(v, 250e3, window="hann", detrend="constant", nfft=1 << 20)
    found = measure(t, v)
    assert found.frequency_hz == pytest.approx(float(places[np.argmax(power)]), rel=1e-3)
    assert found.frequency_hz == pytest.approx(1234.5, rel=2e-4)


@pytest.mark.parametrize("rate", [20e6, 100e6, 500e6])
@pytest.mark.parametrize("noise", [0.0, 0.02])
def test_a_straight_edge_takes_eight_tenths_of_its_time_from_10_to_90(rate: float, noise: float) -> None:
    t, v = pulses(rate=rate, rise=1e-6, noise=noise)
    found = measure(t, v)
    assert found.rise_s == pytest.approx(0.8e-6, rel=0.06) and found.fall_s == pytest.approx(0.8e-6, rel=0.06)


def test_an_edge_between_two_samples_is_no_shorter_than_they_are_apart() -> None:
    t, v = pulses(rate=1e6)
    rise = measure(t, v).rise_s
    assert rise is not None and 0.7e-6 <= rise <= 1e-6


@pytest.mark.parametrize("damping", [0.1, 0.2, 0.3])
def test_overshoot_and_ringing_are_those_of_a_second_order_step(damping: float) -> None:
    """exp(−π ζ/√(1−ζ²)) beyond its end, at ω √(1−ζ²) (K. Ogata, Modern Control Engineering, 5-3, from memory); the step
    itself by scipy's lsim."""
    natural, rate = 2 * math.pi * 2e6, 200e6
    t, v = pulses(frequency=20e3, duty=0.5, rate=rate, periods=6.3)
    system = signal.TransferFunction([natural**2], [1, 2 * damping * natural, natural**2])
    _, rung, _ = signal.lsim(system, v, t)
    found = measure(t, np.asarray(rung, dtype=np.float64))
    root = math.sqrt(1 - damping**2)
    assert found.overshoot == pytest.approx(math.exp(-math.pi * damping / root), rel=0.05)
    if damping < 0.3:
        assert found.ringing_hz == pytest.approx(2e6 * root, rel=0.05)


def test_clean_edges_do_not_ring() -> None:
    t, v = pulses(rate=20e6, noise=0.05)
    found = measure(t, v)
    assert found.ringing_hz is None


@pytest.mark.parametrize("dead", [0.2e-6, 1e-6, -0.5e-6])
def test_dead_time_between_two_gates(dead: float) -> None:
    """Two gates of one leg, the second on while the first is off, each a dead time late; below nothing they overlap."""
    rate, period = 100e6, 50e-6
    t: Floats = np.arange(int(8.4 * period * rate)) / rate
    phase = (t + 7e-6) % period
    first = 12.0 * (phase < 20e-6)
    second = 12.0 * ((phase >= 20e-6 + dead) & (phase < period - dead))
    if dead < 0:
        second = 12.0 * ((phase >= 20e-6 + dead) | (phase < -dead))
    a, b = measure(t, first).edges, measure(t, second).edges
    assert a is not None and b is not None
    for gap in gaps(a, b):
        assert gap is not None and gap.count >= 7
        assert gap.mean_s == pytest.approx(dead, abs=1.1 / rate)
        assert gap.least_s == pytest.approx(dead, abs=2.1 / rate)


def test_ripple_of_a_steady_level() -> None:
    rate = 2e6
    t: Floats = np.arange(40_000) / rate
    v: Floats = (
        12.4 + 0.05 * signal.sawtooth(2 * np.pi * 20e3 * t) + 0.002 * np.random.default_rng(3).standard_normal(len(t))
    )
    assert measure(t, v).swing < 0.12
    steady = measure(t, 12.4 + 0.02 * np.random.default_rng(4).standard_normal(len(t)))
    assert steady.edges is None and steady.ripple == pytest.approx(2 * 3.29 * 0.02, rel=0.1), "99.9 % of a normal curve"
    assert steady.ripple_hz is None, "noise has no pace"
    sine = measure(t, 12.4 + 0.05 * np.sin(2 * np.pi * 20e3 * t))
    assert sine.most - sine.least == pytest.approx(0.1, rel=0.01)


def test_rows_only_at_edges_are_held_until_the_next() -> None:
    t, v = pulses(rate=10e6, high=1.0)
    keep = np.r_[True, np.diff(v) != 0]
    found, all_rows = measure(t[keep], v[keep]), measure(t, v)
    assert found.at_edges and not all_rows.at_edges
    assert found.frequency_hz == pytest.approx(20e3, rel=1e-3)
    assert found.duty == pytest.approx(0.4, abs=0.005)
    assert found.mean == pytest.approx(all_rows.mean, abs=0.06)
    assert found.rise_s is None


@pytest.mark.parametrize(
    ("t", "says"),
    [([0, 1, 2], "3 samples"), ([0, 1, 2, 1, 3, 4, 5, 6, 7], "backwards at sample 4"), ([1] * 9, "the same time")],
)
def test_what_is_no_capture_over_time_is_refused(t: list[float], says: str) -> None:
    with pytest.raises(CaptureError, match=says):
        measure(np.array(t, dtype=float), np.arange(len(t), dtype=float))


@settings(max_examples=150, deadline=None)
@given(st.lists(st.floats(-1e6, 1e6), min_size=8, max_size=200), st.sampled_from([1e-6, 1.0]))
def test_any_numbers_give_figures_that_are_numbers(values: list[float], step: float) -> None:
    v = np.array(values)
    found = measure(np.arange(len(v)) * step, v)
    for name in ("low", "high", "mean", "rms", "frequency_hz", "duty", "rise_s", "fall_s", "overshoot", "ripple"):
        number = getattr(found, name)
        assert number is None or math.isfinite(number), name
    assert found.duty is None or -1e-9 <= found.duty <= 1 + 1e-9
    assert found.low <= found.high


EXPECTED = Wave(low_v=0.0, high_v=5.0, frequency_hz=20e3, duty=0.3)


def suspected(v: np.ndarray, t: np.ndarray) -> str:
    return " ".join(doubts(measure(t, v), EXPECTED))


def test_a_good_capture_is_not_suspicious() -> None:
    for noise in (0.0, 0.05):
        t, v = pulses(duty=0.3, noise=noise)
        assert doubts(measure(t, v), EXPECTED) == []


@pytest.mark.parametrize(
    ("change", "says"),
    [
        (lambda t, v: v - v.mean(), "AC coupled"),
        (lambda t, v: v / 10, "a tenth of"),
        (lambda t, v: v * 10, "ten times"),
        (lambda t, v: np.minimum(v, 3.6), "cut off above"),
        (lambda t, v: np.maximum(v, 1.1), "cut off below"),
        (lambda t, v: 5 - v, "changed over"),
        (lambda t, v: np.full_like(v, 1.5), "at the mean of the pulses"),
        (lambda t, v: 0.002 * np.sin(t), "No pulses"),
    ],
)
def test_mistakes_are_recognised(change: Callable[[Floats, Floats], Floats], says: str) -> None:
    t, v = pulses(duty=0.3, noise=0.05)
    assert says in suspected(change(t, v), t)


def test_mains_instead_of_pulses_is_an_open_ground_clip() -> None:
    t = np.arange(20_000) / 20e3
    v = 0.4 * np.sin(2 * np.pi * 50 * t) + 0.01 * np.random.default_rng(5).standard_normal(len(t))
    assert "ground clip hangs open" in suspected(v, t)


def test_too_few_samples_are_told_and_what_they_seem_to_be() -> None:
    """20 kHz sampled at 19 kHz seems to be 1 kHz (sampling theorem: folded about half the rate)."""
    t, v = pulses(duty=0.3, rate=19e3, periods=400)
    told = suspected(v, t)
    assert "19 kHz, less than twice the pace of 20 kHz" in told and "seems to be 1 kHz" in told
    t, v = pulses(duty=0.3, rate=70e3, periods=400)
    assert "3.5 samples a period" in suspected(v, t)


def test_less_than_a_period_is_told() -> None:
    t, v = pulses(duty=0.3, periods=0.9, shift=0.9)
    assert "whole period" in suspected(v, t)
