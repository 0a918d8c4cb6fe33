"""Sums at the bench, against what is worked out sample by sample and against printed relations."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.optimize import curve_fit

from zinc_whistle.core.sums import SUMS, SumError, work_out


def got(name: str, **given: str) -> dict[str, float | None]:
    return {k: r.value for k, r in work_out(SUMS[name], given).results.items()}


@pytest.mark.parametrize(
    ("high", "low", "duty"), [(12.0, 0.0, 0.25), (5.0, 0.0, 0.5), (14.6, -0.6, 0.8), (3.3, 0.2, 0.1)]
)
def test_a_meter_on_pulses_against_the_samples(high: float, low: float, duty: float) -> None:
    """A million samples of the signal, averaged, squared, and rectified with the mean taken off."""
    place = (np.arange(1_000_000) + 0.5) / 1_000_000
    v = np.where(place < duty, high, low)
    found = got("meter-pwm", high_v=f"{high}", low_v=f"{low}", duty=f"{duty * 100}")
    swing = v - v.mean()
    assert found["dc_v"] == pytest.approx(v.mean(), abs=1e-4)
    assert found["rms_v"] == pytest.approx(np.sqrt((v**2).mean()), abs=1e-4)
    assert found["ac_true_rms_v"] == pytest.approx(swing.std(), abs=1e-4)
    assert found["ac_average_v"] == pytest.approx(np.abs(swing).mean() * np.pi / (2 * np.sqrt(2)), abs=1e-4)


def test_an_averaging_meter_reads_a_square_wave_high() -> None:
    """A symmetrical square wave: 11 % more than its effective value (a sine's form factor, as text-books have it)."""
    found = got("meter-pwm", high_v="1", low_v="-1", duty="50")
    assert found["ac_true_rms_v"] == pytest.approx(1.0) and found["ac_average_v"] == pytest.approx(1.1107, abs=1e-4)


def test_a_setting_that_shows_the_signal() -> None:
    """5 V through ÷10 on 0.1 V a division: five divisions; 20 kHz at 20 µs a division: four periods across ten."""
    found = got("scope-screen", signal_v="5", frequency_hz="20k", volts_per_div="0.1", time_per_div="20µ")
    assert found == pytest.approx({"divisions": 5.0, "periods": 4.0})


@pytest.mark.parametrize(
    ("wrong", "says"),
    [
        ({"signal_v": "9", "volts_per_div": "0.5", "probe": "1"}, "leaves the screen"),
        ({"volts_per_div": "2"}, "nothing can be read off"),
        ({"time_per_div": "1m"}, "run together"),
        ({"time_per_div": "1µ"}, "of a period"),
    ],
)
def test_a_setting_that_does_not(wrong: dict[str, str], says: str) -> None:
    """9 V on 0.5 V a division are 18 divisions: off the screen."""
    given = {"signal_v": "5", "frequency_hz": "20k", "volts_per_div": "0.1", "time_per_div": "20µ"} | wrong
    with pytest.raises(SumError, match=says):
        got("scope-screen", **given)


def test_an_edge_and_what_it_asks_for() -> None:
    """50 ns: 7 MHz of bandwidth (0.35 over the rise time) and 100 million samples a second for five of them."""
    assert got("scope-edges", rise_s="50n") == pytest.approx({"sample_rate_hz": 1e8, "bandwidth_hz": 7e6})


def test_an_ammeter_takes_its_share() -> None:
    """5 A through 0.1 Ω of shunt and leads: half a volt, of 6 V a twelfth."""
    assert got("meter-burden", shunt_ohm="0.1", current_a="5", supply_v="6") == pytest.approx(
        {"burden_v": 0.5, "share_pct": 100 / 12}
    )


def rise(end: float, tau_min: float, until: int, noise: float = 0.0, seed: int = 1) -> str:
    dice = np.random.default_rng(seed)
    t = np.arange(0, until + 1)
    seen = end - (end - 24) * np.exp(-t / tau_min) + dice.normal(0, noise, len(t)) * (noise > 0)
    return ",".join(f"{m}:{c:.6f}" for m, c in zip(t, seen, strict=True))


def test_a_rise_is_told_to_its_end() -> None:
    """An exact rise to 61 °C with 7 minutes, read for ten of them."""
    found = got("warm-up", readings=rise(61, 7, 10))
    assert found["final_c"] == pytest.approx(61, abs=0.01) and found["time_constant_s"] == pytest.approx(420, rel=1e-3)


def test_the_doubt_of_the_end_covers_it() -> None:
    """Of 100 noisy runs the end lies within two of the told doubts in 88 or more (of 95 expected), and the doubt
    shrinks the longer one reads."""
    inside, doubts = 0, []
    for seed in range(100):
        found = got("warm-up", readings=rise(61, 7, 20, 0.3, seed))
        end, doubt = found["final_c"], found["doubt_k"]
        assert end is not None and doubt is not None
        inside += abs(end - 61) <= 2 * doubt
        doubts.append(doubt)
    assert inside >= 88
    early = got("warm-up", readings=rise(61, 7, 8, 0.3))["doubt_k"]
    assert early is not None and np.median(doubts) < 1.0 < early


@pytest.mark.parametrize(
    ("readings", "says"),
    [
        ("0:24,1:25", "4 readings"),
        ("0:24,2:26,1:25,3:27", "follow one another"),
        ("0:24,x:26,3:25,4:27", "is no reading"),
        ("0:20,1:21,2:22,3:23,4:24,5:25", "straight line"),
    ],
)
def test_a_rise_that_tells_nothing_yet(readings: str, says: str) -> None:
    with pytest.raises(SumError, match=says):
        got("warm-up", readings=readings)


def test_the_doubt_of_a_warm_up_is_scipys() -> None:
    """scipy's curve_fit on the same readings: its covariance, by the scatter of the residuals."""
    t = np.arange(0.0, 40.0, 2.0)
    seen = 60.0 - 38.0 * np.exp(-t / 14.0) + np.random.default_rng(4).normal(0.0, 0.5, len(t))
    found = got("warm-up", readings=", ".join(f"{x:g}:{y:.6f}" for x, y in zip(t, seen, strict=True)))
    fitted, covariance = curve_fit(lambda x, e, d, tau: e - d * np.exp(-x / tau), t, seen, p0=(60.0, 38.0, 14.0))
    assert found["final_c"] == pytest.approx(fitted[0], rel=1e-4)
    assert found["doubt_k"] == pytest.approx(np.sqrt(covariance[0, 0]), rel=5e-3)
    assert found["time_constant_s"] == pytest.approx(60 * fitted[2], rel=1e-3)
