"""Encoders and loops: the quick sums and the laws below them, against what others print and by brute force."""

from __future__ import annotations

import cmath
import math
import random

import control
import numpy as np
import pytest

from zinc_whistle.core.laws import tuning
from zinc_whistle.core.laws.tuning import Gains, Lagging, Margins, margins, simc
from zinc_whistle.core.sums import SUMS, SumError, work_out


def got(name: str, **given: str) -> dict[str, float | None]:
    return {k: r.value for k, r in work_out(SUMS[name], given).results.items()}


def test_the_phase_of_a_trace() -> None:
    """12 ms of 72 ms are 60°; a quarter would be 18 ms."""
    assert got("encoder-phase", shift_ms="12", period_ms="72") == pytest.approx({"phase_deg": 60, "ideal_shift_ms": 18})
    with pytest.raises(SumError, match="shorter than the period"):
        got("encoder-phase", shift_ms="72", period_ms="72")


def test_the_command_of_a_period() -> None:
    """2,476 counts × 2 a second ÷ 30 a second = 165.07; 165 is 0.04 % slow."""
    found = got("encoder-command", counts_per_turn="2476", turns_per_s="2", rate_hz="30")
    assert found == pytest.approx({"counts_per_period": 165.0667, "command": 165, "speed_error_pct": -0.0404}, rel=1e-3)


def test_turns_by_hand() -> None:
    """2,470 + 12,391 + 24,768 = 39,629 counts of 16 turns: 2,476.81; the runs by themselves 2,470, 2,478.2, 2,476.8."""
    found = got("hand-turns", runs="1:2470,5:12391,10:24768", nominal="2480")
    assert found["counts_per_turn"] == pytest.approx(39629 / 16)
    assert found["plain_mean"] == pytest.approx((2470 + 2478.2 + 2476.8) / 3)
    assert found["spread"] == pytest.approx(8.2)
    assert found["nominal_error_pct"] == pytest.approx(100 * (39629 / 16 / 2480 - 1))
    assert "nominal_error_pct" not in got("hand-turns", runs="2:4952")
    for wrong in ("", "5", "0:5", "3:-2", "a:b", "1:2:3", "nan:1", "1e9:5"):
        with pytest.raises(SumError):
            got("hand-turns", runs=wrong)


def test_what_a_polled_loop_follows() -> None:
    """A pass of 60 µs and ten passes a count: 1,667 a second (common practice calls it 1,600, no source); 16 counts a
    turn: 6,250 rpm. A loop slowed to 15 ms manages 6 or 7."""
    assert got("encoder-limit", loop_us="60", teeth="4", decoding="4") == pytest.approx(
        {"counts_per_s": 1666.67, "rpm": 6250}, rel=1e-5
    )
    assert got("encoder-limit", loop_us="15000", teeth="4")["counts_per_s"] == pytest.approx(6.67, rel=1e-3)


@pytest.mark.parametrize(("tau", "k"), [("0.5", "2"), ("0.05", "300"), ("none", "4")])
def test_poles_come_where_they_are_wanted(tau: str, k: str) -> None:
    """The closed loop of python-control has the poles of s² + 2 ζ ω s + ω²."""
    omega, zeta = (4.0 if tau == "0.5" else 40.0), 0.7
    given = {"k": k, "omega_rad_s": f"{omega} rad/s", "damping": "0.7"} | ({} if tau == "none" else {"tau_s": tau})
    found = got("tune-poles", **given)
    s = control.tf("s")
    plant = float(k) / s if tau == "none" else float(k) / (float(tau) * s + 1)
    loop = control.feedback(plant * found["kc"] * (1 + 1 / (found["ti_s"] * s)), 1)
    want = np.roots([1, 2 * zeta * omega, omega**2])
    have = control.minreal(loop, verbose=False).poles()
    assert sorted(have, key=lambda p: p.imag) == pytest.approx(sorted(want, key=lambda p: p.imag), rel=1e-6)
    if tau != "none":
        with pytest.raises(SumError, match="quicker than that by itself"):
            got("tune-poles", **given | {"omega_rad_s": f"{0.7 / float(tau)} rad/s"})


def test_a_comparator_switches_at_both_levels() -> None:
    """Held against the circuit itself, by its node equation: the input through 10 kΩ, the output through R_f, and the
    reference at the other input; at each level the node is just at the reference."""
    found = got("hysteresis", low_v="1.5", high_v="2.5", supply_v="5", input_ohm="10k")
    back, reference = found["feedback_ohm"], found["reference_v"]
    assert back == pytest.approx(50e3) and reference is not None and back is not None

    def node(level: float, output: float) -> float:
        return (level / 10e3 + output / back) / (1 / 10e3 + 1 / back)

    assert node(2.5, 0.0) == pytest.approx(reference) and node(1.5, 5.0) == pytest.approx(reference)
    for low, high, says in (("2.5", "1.5", "higher level"), ("1.5", "5", "below the comparator's supply")):
        with pytest.raises(SumError, match=says):
            got("hysteresis", low_v=low, high_v=high, supply_v="5", input_ohm="10k")


def test_levels_of_a_light_barrier() -> None:
    """5 V over 10 kΩ: 1 mA would take 10 V, so it rests on its 0.3 V; dark 5 − (1 + 20 + 5 % × 1,000) µA × 10 kΩ =
    4.29 V. Through paper that lets 40 % pass, 0.79 V: it reads low in the dark."""
    base = {"supply_v": "5", "pull_up_ohm": "10k", "lit_a": "1mA", "low_v": "1.5", "high_v": "3", "stray_a": "20µA"}
    found = got("led-level", **base, leak="5")
    assert found == pytest.approx({"lit_v": 0.3, "dark_v": 4.29, "low_margin_v": 1.2, "high_margin_v": 1.29})
    assert got("led-level", **base, leak="40")["high_margin_v"] == pytest.approx(0.79 - 3)


def test_skogestad_s_worked_figures() -> None:
    """Skogestad 2003: k 2, τ 0.5 s, θ 0.05 s, τ_c = θ: K_c 2.5, T_i 0.4 s. And his table of margins: with T_i = τ a
    gain margin of 3.14, a phase margin of 61.4° and M_s 1.59; integrating 2.96, 46.9° and 1.70."""
    found = got("tune-simc", k="2", tau_s="0.5", theta_s="0.05")
    assert (found["kc"], found["ti_s"]) == pytest.approx((2.5, 0.4))
    lagging = got("tune-simc", k="2", tau_s="0.4", theta_s="0.05")
    wanted = {"gain_margin": (3.14, 2.96), "phase_margin_deg": (61.4, 46.9), "ms": (1.59, 1.70)}
    integrating = got("tune-simc", k="3", theta_s="0.2", integrating="yes")
    for key, (lag, none) in wanted.items():
        half_a_digit = 0.05 if key == "phase_margin_deg" else 0.005
        assert lagging[key] == pytest.approx(lag, abs=half_a_digit), key
        assert integrating[key] == pytest.approx(none, abs=half_a_digit), key
    with pytest.raises(SumError, match="leave it out"):
        got("tune-simc", k="3", tau_s="1", theta_s="0.2", integrating="yes")


def test_ziegler_and_nichols_worked_figures() -> None:
    """Ziegler & Nichols 1942: K_u 6, T_u 0.5 s: PID 3.6, 0.25 s, 0.0625 s; PI 2.7, 0.417 s; P 3."""
    assert got("tune-ultimate", ku="6", tu_s="0.5", kind="pid") == {"kc": 3.6, "ti_s": 0.25, "td_s": 0.0625}
    assert got("tune-ultimate", ku="6", tu_s="0.5", kind="pi") == pytest.approx({"kc": 2.7, "ti_s": 0.41667}, rel=1e-4)
    assert got("tune-ultimate", ku="6", tu_s="0.5", kind="p") == {"kc": 3.0}


def brute(plant: Lagging, control: Gains) -> Margins:
    """Margins by looking at a million frequencies."""
    w = np.logspace(-3, 3, 1_000_000) / plant.dead_s
    s = 1j * w
    loop = plant.gain * np.exp(-plant.dead_s * s) / (s if plant.lag_s is None else plant.lag_s * s + 1)
    loop = loop * control.gain * (1 + 1 / ((control.integral_s or math.inf) * s))
    angle = np.unwrap(np.angle(loop))
    crossing = np.argmax(angle < -np.pi)
    unity = len(w) - np.argmax((np.abs(loop) > 1)[::-1])
    return Margins(
        float(1 / abs(loop[crossing])), float(np.pi + angle[min(unity, len(w) - 1)]), float(np.max(1 / abs(1 + loop)))
    )


@pytest.mark.parametrize("seed", range(12))
def test_margins_agree_with_a_million_frequencies(seed: int) -> None:
    chance = random.Random(seed)
    plant = Lagging(
        chance.uniform(0.1, 10), None if seed % 3 == 0 else chance.uniform(0.02, 3), chance.uniform(0.01, 0.5)
    )
    control = simc(plant, plant.dead_s * chance.uniform(0.5, 4))
    found = margins(lambda s: plant(s) * control(s), plant.dead_s)
    by_force = brute(plant, control)
    assert found.gain == pytest.approx(by_force.gain, rel=1e-3)
    assert found.phase == pytest.approx(by_force.phase, rel=2e-3)
    assert found.sensitivity == pytest.approx(by_force.sensitivity, rel=2e-3)


def test_margins_that_nothing_bounds_are_infinite() -> None:
    """A lag alone never comes to −180°."""
    found = margins(lambda s: 2 / (s + 1), 1.0)
    assert found.gain == math.inf and found.phase == pytest.approx(math.pi - math.atan(math.sqrt(3)))


def test_a_relay_test_finds_the_ultimate_gain() -> None:
    """A relay round three equal lags swings where their phase is −180°: |G| there is 1/8, K_u = 8. The describing
    function 4 d/(π a) comes within some percent of it (Åström & Hägglund 1984)."""
    dt, state, relay, swing, crossings = 1e-3, [0.0, 0.0, 0.0], 1.0, 0.0, list[float]()
    for k in range(60_000):
        rate = [relay - state[0], state[0] - state[1], state[1] - state[2]]
        before = state[2]
        state = [x + dt * r for x, r in zip(state, rate, strict=True)]
        if k > 40_000:
            swing = max(swing, abs(state[2]))
            if before < 0 <= state[2]:
                crossings.append(k * dt)
        relay = 1.0 if state[2] < 0 else -1.0
    assert got("tune-relay", relay="1", swing=f"{swing}", tu_s="1")["ku"] == pytest.approx(8, rel=0.05)
    period = (crossings[-1] - crossings[0]) / (len(crossings) - 1)
    assert period == pytest.approx(2 * math.pi / math.sqrt(3), rel=0.03)


def test_a_plant_answers_as_its_formula() -> None:
    plant = Lagging(2.0, 0.5, 0.1)
    s = 1j * 3.0
    assert plant(s) == pytest.approx(2 * cmath.exp(-0.3j) / (1 + 1.5j))
    with pytest.raises(ValueError, match="dead time"):
        simc(Lagging(1, 1, 0.0))
    with pytest.raises(ValueError, match="dead time"):
        tuning.of_pi(1, 1, 0, 1, 1)
