"""The speed loop with its integral against python-control: margins of the sampled loop, and its step."""

from __future__ import annotations

import math
import random

import control
import numpy as np
import pytest

from zinc_whistle.core.laws.loop_margins import lagging, margins_of, open_loop, suggested
from zinc_whistle.core.laws.loop_step import LoopLaw, LoopPlant, step


def plant_of(seed: int) -> LoopPlant:
    """A drive of a hobbyist's size."""
    dice = random.Random(seed)
    return LoopPlant(
        bus_v=dice.uniform(6, 24),
        lost_v=0.0,
        resistance_ohm=dice.uniform(0.5, 8),
        inductance_h=dice.uniform(0.3e-3, 5e-3),
        constant=dice.uniform(5e-3, 40e-3),
        inertia=dice.uniform(2e-6, 80e-6),
        load_nm=0.0,
        least_duty=0.0,
    )


def theirs(plant: LoopPlant, law: LoopLaw) -> tuple[control.StateSpace, control.TransferFunction]:
    """Plant and controller built from the differential equations alone, by python-control's own zero-order hold."""
    r, inductance, k, j = plant.resistance_ohm, plant.inductance_h, plant.constant, plant.inertia
    a = np.array([[-r / inductance, -k / inductance, 0], [k / j, 0, 0], [0, 1, 0]])
    b = np.array([[plant.bus_v / inductance], [0], [0]])
    c = np.array([[0.0, 1.0, 0.0]]) if not law.counted else np.array([[0.0, 0.0, 1.0]])
    sampled = control.c2d(control.ss(a, b, c, [[0.0]]), law.period_s, "zoh")
    z = control.tf([1, 0], [1], law.period_s)
    measured = (
        sampled if not law.counted else control.ss(control.tf([1, -1], [law.period_s, 0], law.period_s)) * sampled
    )
    each = law.period_s / law.integral_s if law.integral_s is not None else 0.0
    return measured, law.gain * (1 + each / (z - 1))


@pytest.mark.parametrize("counted", [False, True])
@pytest.mark.parametrize("integral", [False, True])
@pytest.mark.parametrize("seed", range(5))
def test_margins_agree_with_python_control(seed: int, integral: bool, counted: bool) -> None:
    plant, dice = plant_of(seed), random.Random(100 + seed)
    period = dice.choice((2e-3, 5e-3, 10e-3))
    gains = suggested(plant, period)
    law = LoopLaw(gains.gain * dice.uniform(0.5, 1.3), gains.integral_s if integral else None, period, 0.0, counted)
    measured, controller = theirs(plant, law)
    ours = margins_of(plant, law)
    whole = control.minreal(controller * control.tf(measured), verbose=False)
    gains_found, phases, *_ = control.stability_margins(whole, returnall=True)
    # An integrator's phase touches −180° at no frequency at all: rounding takes that for a crossing.
    gain = min((g for g in gains_found if g > 1e-3), default=math.inf)
    assert ours.gain == pytest.approx(gain, rel=1e-2)
    if len(phases):
        assert math.degrees(ours.phase) == pytest.approx(min(phases, key=abs), abs=0.5)


@pytest.mark.parametrize("counted", [False, True])
@pytest.mark.parametrize("seed", range(4))
def test_the_step_with_its_integral_agrees_while_nothing_is_at_its_end(seed: int, counted: bool) -> None:
    """A small step on top of a duty that is fed forward, so that nothing saturates: within 1 % of the step."""
    plant = plant_of(seed)
    period = 5e-3
    gains = suggested(plant, period)
    law = LoopLaw(0.3 * gains.gain, lagging(plant, period).lag_s, period, 0.02, counted)
    target = min(0.4 / law.gain, 0.5 * plant.bus_v / plant.constant)
    ours = step(plant, target, law)
    assert max(ours.duty) < 1 and min(ours.duty) > 0
    measured, controller = theirs(plant, law)
    loop = control.feedback(control.ss(control.tf(controller)) * measured, 1)
    # What is fed forward is a second input at the plant; both are steps, so that their answers add up.
    fed = control.feedback(measured, control.ss(control.tf(controller)))
    count = 200
    time = np.arange(count) * period
    _, by_target = control.forced_response(loop, time, np.full(count, target))
    _, by_feed = control.forced_response(fed, time, np.full(count, law.feed_forward))
    whole = np.asarray(by_target).ravel() + np.asarray(by_feed).ravel()
    own = np.array(ours.speed[:count])
    if counted:  # theirs answers what is measured: the mean over the period that ended
        assert whole[-1] == pytest.approx(own[-1], rel=1e-2)
        assert np.max(np.abs(whole[1:] - (own[1:] + own[:-1]) / 2)) < 0.05 * target
    else:
        assert np.max(np.abs(whole - own)) < 0.01 * target


def test_the_integral_ends_at_the_target_and_does_not_wind_up() -> None:
    """With a load that was not fed forward: proportional alone ends low, the integral at the target. From rest to
    nearly all that the supply gives, the duty stands at its end at first; wound up, it would overshoot by far more."""
    plant = LoopPlant(12.0, 0.0, 2.0, 1e-3, 0.02, 2e-5, 0.02, 0.0)
    period = 5e-3
    gains = suggested(plant, period)
    alone = step(plant, 300.0, LoopLaw(gains.gain, None, period, 0.0, True))
    both = step(plant, 300.0, LoopLaw(gains.gain, gains.integral_s, period, 0.0, True))
    assert alone.final < 297 and both.final == pytest.approx(300, rel=1e-3)
    far = step(plant, 480.0, LoopLaw(gains.gain, gains.integral_s, period, 0.0, True))
    assert max(far.duty[:3]) == 1.0 and far.overshoot < 0.12


def test_the_half_rule() -> None:
    """Skogestad 2003, the half rule: lags of 1 s and 0.2 s become a lag of 1.1 s and a dead time of 0.1 s."""
    # R J / K² = 1 s, L/R = 0.2 s.
    plant = LoopPlant(10.0, 0.0, 1.0, 0.2, 1.0, 1.0, 0.0, 0.0)
    found = lagging(plant, 0.01)
    assert found.lag_s == pytest.approx(1.1) and found.dead_s == pytest.approx(0.1 + 0.01)
    assert found.gain == pytest.approx(10)


def test_counting_delays_by_half_a_period() -> None:
    """The mean over a period lags by half of it: at low frequencies the phases differ by ω T/2."""
    plant, period, w = plant_of(1), 5e-3, 2.0
    answers = []
    for counted in (False, True):
        f, g, c, _ = open_loop(plant, LoopLaw(1.0, None, period, 0.0, counted))
        z = np.exp(1j * w * period)
        answers.append(complex(c @ np.linalg.solve(z * np.eye(len(g)) - f, g)))
    lag = np.angle(answers[0]) - np.angle(answers[1])
    assert lag == pytest.approx(w * period / 2, rel=0.02)
