"""Outer loops on a sensor of something else: what falls, what balances, what follows, and the jolt of play."""

from __future__ import annotations

import math
from dataclasses import replace

import control
import numpy as np
import pytest

from zinc_whistle.core.assess import MotorAssessment, assess
from zinc_whistle.core.laws.loop_margins import lagging
from zinc_whistle.core.laws.loop_step import LoopPlant
from zinc_whistle.core.model.load import Wheels
from zinc_whistle.core.simulation.moves.outer import (
    FALLEN,
    Balancing,
    Following,
    OuterLaw,
    Sensed,
    run_outer,
    suggested_balance,
)
from zinc_whistle.core.simulation.moves.shaft import Shaft
from zinc_whistle.core.stations.loop.outer import OuterAsked, outer_of
from zinc_whistle.demo.data import lantern_carousel

MOTOR = LoopPlant(12.0, 0.0, 2.0, 1e-4, 0.02, 2e-5, 0.0, -1.0)
SMOOTH = Shaft(MOTOR, 0.0, 0.0, 1e7)
BASE = Balancing(0.4, 0.04 / 10, math.radians(3))
PERIOD = 5e-3
LAG = lagging(MOTOR, PERIOD).lag_s or 0.0


def test_what_nothing_holds_falls_as_a_pendulum_on_its_head() -> None:
    """θ₀ cosh(t √(g/h)): from 3° to 35° with 0.4 m in arcosh(35/3) ÷ √(9.807/0.4) = 0.635 s."""
    found = run_outer(SMOOTH, BASE, OuterLaw(PERIOD, gain=0.0), 2.0)
    want = math.acosh(math.degrees(FALLEN) / 3) / math.sqrt(9.80665 / 0.4)
    assert found.fell_s == pytest.approx(want, abs=PERIOD)
    time = found.time_s[:100]
    assert found.felt[:100] == pytest.approx(math.radians(3) * np.cosh(time * math.sqrt(9.80665 / 0.4)), rel=1e-9)


def test_a_balanced_base_agrees_with_python_control() -> None:
    """Without friction, with the finest counts: the sampled linear loop, the speed as the mean over its period."""
    law = suggested_balance(SMOOTH, BASE, PERIOD, LAG)
    found = run_outer(SMOOTH, BASE, law, 2.0)
    r, inductance, k, j = MOTOR.resistance_ohm, MOTOR.inductance_h, MOTOR.constant, MOTOR.inertia
    per, quick = BASE.metres_per_rad / BASE.height_m, 9.80665 / BASE.height_m
    # Current, speed, angle; tilt and its change, driven by the acceleration of the wheels.
    a = np.array(
        [
            [-r / inductance, -k / inductance, 0, 0, 0],
            [k / j, 0, 0, 0, 0],
            [0, 1, 0, 0, 0],
            [0, 0, 0, 0, 1],
            [-k / j * per, 0, 0, quick, 0],
        ]
    )
    b = np.array([[MOTOR.bus_v / inductance], [0], [0], [0], [0]])
    d = control.c2d(control.ss(a, b, np.eye(5), np.zeros((5, 1))), PERIOD, "zoh")
    x = np.array([[0.0], [0], [0], [BASE.start_rad], [0]])
    before, place, tilts = BASE.start_rad, 0.0, [BASE.start_rad]
    for _ in range(400):
        tilt, angle = float(x[3, 0]), float(x[2, 0])
        asked = law.gain * tilt + law.change * (tilt - before) / PERIOD + law.by_speed * (angle - place) / PERIOD
        before, place = tilt, angle
        assert abs(asked) < 1
        x = d.A @ x + d.B * asked
        tilts.append(float(x[3, 0]))
    assert found.fell_s is None
    assert np.max(np.abs(found.felt - np.array(tilts))) < 0.01 * BASE.start_rad


def test_looked_at_too_seldom_it_falls() -> None:
    assert run_outer(SMOOTH, BASE, suggested_balance(SMOOTH, BASE, PERIOD, LAG), 3.0).fell_s is None
    hasty = suggested_balance(SMOOTH, BASE, PERIOD, LAG)
    assert run_outer(SMOOTH, BASE, replace(hasty, period_s=0.25), 3.0).fell_s is not None


def test_breakaway_lets_it_run_off_and_adding_its_duty_holds_it() -> None:
    """20 mN·m hold what stands: 20 mN·m × 2 Ω ÷ (0.02 · 12) = 17 % of duty do nothing, and the tilt that makes up for
    them sends it off."""
    rough = replace(SMOOTH, coulomb_nm=15e-3, stiction_nm=20e-3, counts_per_turn=48.0)
    law = suggested_balance(rough, BASE, PERIOD, LAG)
    bare, helped = run_outer(rough, BASE, law, 10.0), run_outer(rough, BASE, replace(law, offset=20e-3 / 0.12), 10.0)
    assert bare.fell_s is None and helped.fell_s is None
    assert np.abs(helped.speed[-400:]).max() < 0.6 * np.abs(bare.speed[-400:]).max()


def test_play_jolts_and_a_base_without_any_does_not() -> None:
    law = suggested_balance(SMOOTH, BASE, PERIOD, LAG)
    tight = run_outer(replace(SMOOTH, coulomb_nm=1e-4), BASE, law, 4.0)
    loose = run_outer(replace(SMOOTH, coulomb_nm=1e-4, play_rad=2.0), BASE, law, 4.0)
    assert loose.jolt > 3 * tight.jolt


@pytest.mark.parametrize(("lag", "delay"), [(0.8, 0.0), (0.0, 0.1), (0.5, 0.2)])
def test_what_follows_comes_to_its_target_as_python_control_says(lag: float, delay: float) -> None:
    what = Following(0.02, lag, delay, 3.0)
    law = OuterLaw(0.02, gain=0.05, adds=0.06 if lag else 0.0)
    found = run_outer(SMOOTH, what, law, 6.0)
    r, inductance, k, j = MOTOR.resistance_ohm, MOTOR.inductance_h, MOTOR.constant, MOTOR.inertia
    s = control.tf("s")
    drive = k * MOTOR.bus_v / (inductance * j * s**2 + r * j * s + k**2)
    plant = control.c2d(control.ss(drive * (0.02 / (lag * s + 1) if lag else 0.02 / s)), 0.02, "zoh")
    x, added, late, told = np.zeros((plant.nstates, 1)), 0.0, [0.0] * round(delay / 0.02), [0.0]
    for _ in range(300):
        value = float((plant.C @ x)[0, 0])
        late.append(value)
        error = 3.0 - late.pop(0)
        asked = law.gain * error + added
        added += law.adds * error * 0.02
        assert 0 <= asked < 1
        x = plant.A @ x + plant.B * asked
        told.append(3.0 - error)
    assert np.max(np.abs(found.felt[1:-1] - np.array(told[2:]))) < 0.02 * 3.0


def test_a_sensors_table_and_its_steps() -> None:
    sense = Sensed((0.0, 10.0, 20.0), (0.0, 9.0, 21.0), 0.5)
    assert [sense(x) for x in (-5.0, 5.0, 15.0, 40.0)] == [0.0, 4.5, 15.0, 21.0]


def wheeled() -> MotorAssessment:
    build = lantern_carousel()
    motor = build.driven[0].of_motor
    wheels = Wheels(id="m1")
    wheels.mass.text, wheels.diameter.text, wheels.velocity.text = "2 kg", "80 mm", "0.3 m/s"
    motor.load.mechanisms[:] = [wheels]
    motor.load.gear_ratio.text, motor.load.time_to_speed.text = "10", "0.3 s"
    motor.signals.reversal, motor.encoder.runs[:] = "through zero", []
    motor.encoder.calibrated.text, motor.load.backlash.text, motor.loop.period.text = "", "1 °", "5 ms"
    done = assess(build).drives["d1"]
    assert isinstance(done, MotorAssessment)
    return done


def test_a_base_on_the_drive_of_a_build_stands_and_what_is_missing_is_told() -> None:
    done = wheeled()
    of = (done.context, done.circuit, done.encoder)
    base = OuterAsked(kind="balancing", seconds=6.0, height_m=0.4, start_rad=math.radians(2))
    found = outer_of(*of, base)
    assert found.found.fell_s is None and any("stands" in s for s in found.says)
    slack = outer_of(*of, replace(base, gain=found.law.gain / 20, change=0.0))
    assert slack.found.fell_s is not None and any("falls after" in s for s in slack.says)
    for change, says in (
        ({"height_m": 0.0}, "height of the centre"),
        ({"height_m": 1e-300}, "1 cm to 100 m"),
        ({"gain": 1e200}, "larger than"),
        ({"table": "0:0, 1:1e300"}, "truth:told"),
        ({"seconds": 21.0}, "between nothing and 20 s"),
        ({"table": "1:2:3, 4"}, "truth:told"),
        ({"table": "2:0, 1:5"}, "must rise"),
        ({"kind": "following", "unit_per_rpm": 0.0}, "a rpm of the output"),
    ):
        with pytest.raises(ValueError, match=says):
            outer_of(*of, replace(base, **change))
    carousel = assess(lantern_carousel()).drives["d1"]
    assert isinstance(carousel, MotorAssessment)
    with pytest.raises(ValueError, match="stands on wheels"):
        outer_of(carousel.context, carousel.circuit, carousel.encoder, base)
    tank = outer_of(
        carousel.context,
        carousel.circuit,
        carousel.encoder,
        OuterAsked(kind="following", seconds=20.0, unit_per_rpm=1.0, lag_s=1.5, target=8.0),
    )
    assert tank.found.rest == pytest.approx(0, abs=0.3) and any("comes to its target" in s for s in tank.says)
