"""Recorded courses of a loop: the fitted drive against a known truth, relay tests, and what is refused in words."""

from __future__ import annotations

import math

import control
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from zinc_whistle.core.assess import MotorAssessment, assess
from zinc_whistle.core.captures.loop_trace import read_trace
from zinc_whistle.core.captures.table import CaptureError
from zinc_whistle.core.laws.plant_fit import course_of, fit, relay_test
from zinc_whistle.core.laws.tuning import Lagging
from zinc_whistle.core.stations.loop.traces import trace_of
from zinc_whistle.demo.data import lantern_carousel


def carousel() -> MotorAssessment:
    done = assess(lantern_carousel()).drives["d1"]
    assert isinstance(done, MotorAssessment)
    return done


def steps(time: np.ndarray) -> np.ndarray:
    """Up, further up, down again: what somebody types."""
    return np.select([time < 0.3, time < 1.6, time < 3.0], [0.0, 0.5, 0.8], 0.3)


def test_a_course_is_the_one_of_python_control() -> None:
    """A lag of 180 ms with a dead time of 25 ms, at steps of 10 ms."""
    time = np.arange(400) * 0.01
    plant, duty = Lagging(600.0, 0.18, 0.025), steps(time)
    fine = np.arange(4000) * 0.001
    late = steps(np.maximum(fine - 0.025, 0.0))
    _, want = control.forced_response(
        control.c2d(control.tf([600.0], [0.18, 1]), 0.001, "zoh"), T=fine, U=late, return_x=False
    )
    assert np.max(np.abs(course_of(plant, 0.0, 0.01, duty, 0.0) - want[::10])) < 0.5


@settings(max_examples=40)
@given(
    gain=st.floats(50, 2000),
    lag=st.floats(0.03, 1.0),
    dead=st.floats(0.0, 0.06),
    lost=st.floats(0.0, 0.15),
    seed=st.integers(0, 1000),
)
def test_a_known_drive_is_found_in_the_noise(gain: float, lag: float, dead: float, lost: float, seed: int) -> None:
    """The truth is stepped in tenths of a millisecond by hand; the record has 10 ms, whole rpm and noise of 1 %."""
    fine = np.arange(40_000) * 1e-4
    duty = steps(np.maximum(fine - dead, 0.0))
    goal = np.maximum(gain * duty - lost * gain * 0.8, 0.0)
    speed, truth = 0.0, np.empty(len(fine))
    for k, g in enumerate(goal):
        truth[k] = speed
        speed += (g - speed) * 1e-4 / lag
    time = fine[::100]
    noise = np.random.default_rng(seed).normal(0, 0.01 * truth.max(), len(time))
    found = fit(time, steps(time), np.round((truth[::100] + noise) * 30 / math.pi) * math.pi / 30)
    assert found.plant.gain == pytest.approx(gain, rel=0.06)
    assert found.plant.lag_s == pytest.approx(lag, rel=0.1, abs=0.005)
    assert found.plant.dead_s == pytest.approx(dead, abs=0.012)
    assert found.told > 0.98


def test_a_relay_test_tells_the_ultimate_gain() -> None:
    """On k exp(−θ s)/(τ s + 1) with k = 1, τ = 1 s, θ = 0.1 s the true ultimate gain is 16.3 (phase crosses −180° at
    16.4 rad/s: atan 16.4 + 0.1 · 16.4 = π), the relay's 4 d/(π a) with a = d (1 − e^(−θ/τ)) is 13.4, as is known of
    the describing function on a lag (it leaves out what is no sine)."""
    step, speed, on = 1e-3, 0.0, True
    time, duty, course, wait = [], [], [], []
    for k in range(6000):
        time.append(k * step)
        on = speed < 0.5
        duty.append(0.7 if on else 0.3)
        wait.append(duty[-1])
        course.append(speed)
        driven = wait[-101] if len(wait) > 100 else 0.3
        speed += (driven - speed) * step
    found = relay_test(np.array(time), np.array(duty), np.array(course))
    assert found is not None
    assert found.half_duty == pytest.approx(0.2)
    assert found.half_swing == pytest.approx(0.2 * (1 - math.exp(-0.1)), rel=0.1)
    assert found.ultimate_gain == pytest.approx(13.4, rel=0.1)
    assert found.period_s == pytest.approx(2 * math.pi / 16.4, rel=0.1)
    assert relay_test(np.array(time[:900]), np.array(duty[:900]), np.array(course[:900])) is None, "too few turns"


def reports(time: np.ndarray, duty: np.ndarray, speed: np.ndarray, drive: int = 1) -> str:
    return "\n".join(
        f"at {t * 1000:.0f} {drive} forward {d * 1000:.0f} {w * 30 / math.pi:.0f} 0 0~00"
        for t, d, w in zip(time, duty, speed, strict=True)
    )


def test_a_record_of_the_designs_own_drive_agrees_with_it_and_one_with_more_inertia_is_told() -> None:
    done = carousel()
    at, solved, encoder = done.context, done.circuit, done.encoder
    time = np.arange(0, 8, 0.01)
    duty = np.where(time < 0.2, 0.0, np.where(time < 4, 0.35, 0.6))
    design = trace_of(reports(time, duty, 200 * duty), at, solved, encoder, 1).design
    assert design is not None and design.lag_s is not None
    for more, says in (
        (1.0, "That is the drive of the design"),
        (1.6, "lag is 60 % more than the design's: more inertia"),
    ):
        plant = Lagging(design.gain, design.lag_s * more, design.dead_s)
        speed = course_of(plant, 0.1 * design.gain, 0.01, duty, 0.0)
        found = trace_of("noise before\n" + reports(time, duty, speed), at, solved, encoder, 1)
        assert found.fitted.plant.lag_s == pytest.approx(plant.lag_s, rel=0.03)
        assert any(says.replace("60", x) in s for s in found.says for x in ("58", "59", "60", "61", "62")), found.says
        (gains,) = found.gains
        # Skogestad: τ over k (τ_c + θ), as quick as the dead time, which is no less than a control period.
        late = max(found.fitted.plant.dead_s, 0.01)
        assert gains.gain == pytest.approx((plant.lag_s or 0) / (plant.gain * 2 * late), rel=0.1)
        assert [c.path.rpartition(".")[2] for c in gains.changes] == ["gain", "integral"]
    assert found.foretold is not None and len(found.foretold) == len(time)


def test_tables_are_read_with_their_units_and_counts_become_speed() -> None:
    time = np.arange(0, 1, 0.01)
    rows = "\n".join(f"{1000 * t:.0f},{50 if t > 0.2 else 0},{(240 * max(t - 0.2, 0)):.0f}" for t in time)
    found = read_trace("time (ms),duty (%),count\n" + rows, None, 24.0)
    assert found.duty.max() == 0.5 and found.time_s[-1] == pytest.approx(0.99)
    assert np.median(found.speed[30:]) == pytest.approx(2 * math.pi * 10, rel=0.3)


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "empty|no table"),
        ("at 0 2 idle 0 0 0 0\n" * 3, "reports of drive 2"),
        ("time,volts\n0,1\n1,2\n2,3\n", "named for the duty"),
        ("time,duty\n" + "\n".join(f"{k},0.{k % 2}" for k in range(30)), "for the speed"),
        ("time,duty,count\n" + "\n".join(f"{k},0.{k % 2},{k}" for k in range(30)), "counts of a turn"),
        ("time,duty,rpm\n" + "\n".join(f"{k},{40 + k % 2},{k}" for k in range(30)), "write % or ‰"),
        ("time (h),duty,rpm\n" + "\n".join(f"{k},0.{k % 2},{k}" for k in range(30)), "no unit of time"),
        ("time,duty,rpm\n" + "\n".join(f"{k},0.{k % 2},5" for k in range(30)), "speed never changes"),
        ("time,duty,rpm\n" + "\n".join(f"{k},0.5,{k}" for k in range(30)), "duty never changes"),
        ("time,duty,rpm\n" + "\n".join(f"{k % 5},0.{k % 2},{k}" for k in range(30)), "does not rise"),
        ("time,duty,rpm\n0,0.1,1\n1,0.2,3\n", "at least 20"),
        ("time,duty,rpm\n" + "\n".join(f"{k}e-9,0.{k % 2},{k}" for k in range(30)), "less than a millisecond"),
        ("time,duty,rpm\n" + "\n".join(f"{k},0.{k % 2},{k}e9" for k in range(30)), "beyond any motor's"),
        (f"at {'9' * 400} 1 forward 300 100 0 0\n" * 30, "No table|named for the time"),
    ],
)
def test_what_is_no_record_is_refused_in_a_sentence(text: str, says: str) -> None:
    with pytest.raises(CaptureError, match=says):
        read_trace(text, 1, None)


def test_a_speed_that_does_not_follow_its_duty_is_no_record_of_a_drive() -> None:
    dice = np.random.default_rng(3)
    time = np.arange(0, 5, 0.01)
    with pytest.raises(ValueError, match="does not follow the duty"):
        fit(time, steps(time), dice.normal(100, 10, len(time)))
