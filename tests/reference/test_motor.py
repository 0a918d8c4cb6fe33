"""Motor, gear and loop against published examples and a reference library."""

from __future__ import annotations

import control
import numpy as np
import pytest
from scipy.integrate import solve_ivp

from tests.kit import leaf
from zinc_whistle.core.algebra.limits import Judge, upper
from zinc_whistle.core.laws import load, motor
from zinc_whistle.core.laws.loop_step import LoopLaw, LoopPlant, discretise, step
from zinc_whistle.core.sums import SUMS, work_out


def test_dc_motor_speed_example() -> None:
    """Control Tutorials, University of Michigan, "DC Motor Speed": poles, gain and settling; values from memory,
    confirmed here with python-control."""
    j, b, k, r, inductance = 0.01, 0.1, 0.01, 1.0, 0.5
    plant = control.tf([k], [j * inductance, j * r + b * inductance, b * r + k * k])
    assert sorted(p.real for p in plant.poles()) == pytest.approx([-9.9975, -2.0025], abs=5e-4)
    assert plant.dcgain() == pytest.approx(0.0999, abs=5e-5)
    assert control.step_info(plant, SettlingTimeThreshold=0.02)["SettlingTime"] == pytest.approx(2.065, rel=0.01)


def test_sampled_motor_agrees_with_python_control() -> None:
    """Our exact zero-order hold against python-control's c2d of the same state space."""
    plant = LoopPlant(
        bus_v=12.0,
        lost_v=0.0,
        resistance_ohm=2.1,
        inductance_h=1.1e-3,
        constant=0.022,
        inertia=4.5e-5,
        load_nm=0.0,
        least_duty=0.0,
    )
    a = np.array([[-2.1 / 1.1e-3, -0.022 / 1.1e-3], [0.022 / 4.5e-5, 0.0]])
    b = np.array([[1 / 1.1e-3, 0.0], [0.0, -1 / 4.5e-5]])
    ours_f, ours_g = discretise(plant, 5e-3)
    theirs = control.c2d(control.ss(a, b, np.eye(2), np.zeros((2, 2))), 5e-3, "zoh")
    assert np.allclose(ours_f, theirs.A, rtol=1e-9, atol=1e-12)
    assert np.allclose(ours_g, theirs.B, rtol=1e-9, atol=1e-12)


@pytest.mark.parametrize("gain", [0.0005, 0.002, 0.004])
def test_proportional_step_agrees_with_python_control(gain: float) -> None:
    """The unsaturated loop, step by step, against a discrete feedback loop built in python-control."""
    plant = LoopPlant(
        bus_v=12.0,
        lost_v=0.0,
        resistance_ohm=2.1,
        inductance_h=1.1e-3,
        constant=0.022,
        inertia=4.5e-5,
        load_nm=0.0,
        least_duty=0.0,
    )
    target, period = 60.0, 2e-3
    ours = step(plant, target, LoopLaw(gain, None, period, 0.0))
    f, g = discretise(plant, period)
    open_loop = control.ss(f, g[:, :1] * 12.0 * gain, [[0.0, 1.0]], 0.0, period)
    closed = control.feedback(open_loop, 1)
    times, speeds = control.step_response(closed, np.array(ours.time_s))
    assert np.allclose(np.asarray(speeds).ravel() * target, ours.speed, rtol=1e-7, atol=1e-6)
    expected = max(np.asarray(speeds).ravel()) / control.dcgain(closed) - 1
    assert ours.overshoot == pytest.approx(max(expected, 0.0), abs=2e-3)
    assert times[-1] == ours.time_s[-1]


def test_best_efficiency_of_a_small_motor() -> None:
    """For constant friction η = (1 − √(I0/Is))² at √(I0·Is): 0.07 and 0.70 A give 46.8 % at 0.221 A
    (derivation: maximum of (I − I0)(Is − I)/(Is·I))."""
    no_load, stall = 0.07, 0.70
    currents = np.linspace(no_load, stall, 200001)
    efficiency = (currents - no_load) * (stall - currents) / (stall * currents)
    best = int(np.argmax(efficiency))
    assert motor.best_efficiency.evaluate([12.0, 0.0, no_load, stall]) == pytest.approx(efficiency[best], rel=1e-8)
    assert motor.best_efficiency_current.evaluate([no_load, stall]) == pytest.approx(currents[best], rel=1e-4)
    assert motor.best_efficiency.evaluate([12.0, 0.0, no_load, stall]) == pytest.approx(0.468, abs=5e-4)
    assert motor.best_efficiency_current.evaluate([no_load, stall]) == pytest.approx(0.221, abs=5e-4)


def test_greatest_power_stands_at_half_the_stall_torque() -> None:
    """Maximum of torque × speed over current (derivation)."""
    v, r, ke, i0 = 12.0, 2.0, 0.02, 0.3
    stall = v / r
    currents = np.linspace(i0, stall, 100001)
    power = np.asarray(motor.torque_at.bare(ke, currents, i0)) * np.asarray(
        motor.speed_at.bare(v, 0.0, currents, r, ke)
    )
    at = int(np.argmax(power))
    assert motor.greatest_power.evaluate([r, stall, i0, ke, 0.0]) == pytest.approx(power[at], rel=1e-8)
    half = motor.stall_torque.evaluate([ke, stall, i0]) / 2
    assert motor.torque_at.evaluate([ke, currents[at], i0]) == pytest.approx(half, rel=1e-4)


def test_copper_temperature() -> None:
    """IEC 60034-1: R ∝ 234.5 + T, so R100/R25 = 1.289."""
    assert motor.resistance_at.evaluate([1.0, 100.0]) == pytest.approx(1.289, abs=5e-4)
    assert motor.resistance_at_25.evaluate([1.289, 100.0]) == pytest.approx(1.0, abs=5e-4)


def test_reversal_draws_twice_the_stall_less_the_no_load_current() -> None:
    """(V + Ke ω)/R at full no-load speed is 2 Is − I0: 1.33 A for 0.70 and 0.07 A (derivation)."""
    from zinc_whistle.core.laws import driver

    r = 12 / 0.7
    ke = (12 - 0.07 * r) / 500.0
    assert driver.reversal_in_circuit.evaluate([12.0, 0.0, 0.0, r, ke, 500.0]) == pytest.approx(1.33, abs=1e-9)


def test_motor_constants_sum() -> None:
    """12 V, 0.07 A, 5000 rpm, 0.7 A: R = V/Is = 17.14 Ω; Ke = (V − I0 R)/ω0, by hand."""
    results = work_out(
        SUMS["motor-constants"], {"supply_v": "12", "no_load_a": "0.07", "no_load_rpm": "5000", "stall_a": "0.7"}
    ).results
    assert results["resistance_ohm"].value == pytest.approx(17.142857, rel=1e-6)
    assert results["ke_v_s_per_rad"].value == pytest.approx((12 - 1.2) / (5000 * np.pi / 30), rel=1e-9)
    assert results["stall_torque_nm"].value == pytest.approx(10.8 / (5000 * np.pi / 30) * 0.63, rel=1e-9)
    assert results["best_efficiency"].value == pytest.approx(0.4675, abs=1e-4)
    assert results["best_efficiency_a"].value == pytest.approx(0.22136, abs=1e-5)


def test_adiabatic_winding() -> None:
    """dT/dt = j² ρ/(δ c): 30 A/mm² is about 4.5 K/s (handbook copper: 8960 kg/m³, 385 J/(kg·K), hot; from memory).

    With ρ of copper at 20 °C the slope is 4.50 K/s; a wire of one metre and one mm² tells the same by our rule.
    """
    area, length, resistivity, density = 1e-6, 1.0, 1.7241e-8, 8960.0
    slope = (30e6) ** 2 * resistivity / (density * 385.0)
    assert slope == pytest.approx(4.5, abs=0.05)
    mass, resistance = density * area * length, resistivity * length / area
    seconds = motor.survivable_stall.evaluate([mass, 100.0, 20.0, 30.0, resistance])
    assert 80.0 / seconds == pytest.approx(slope, rel=1e-9)


def test_gear_reduces_inertia_by_the_square() -> None:
    """Energy stays the same through a lossless gear (derivation)."""
    inertia, ratio, speed = 0.9, 150.0, 1.25
    reflected = load.reflected_inertia.evaluate([inertia, ratio, 0.0])
    assert 0.5 * reflected * (speed * ratio) ** 2 == pytest.approx(0.5 * inertia * speed**2)


def test_a_small_motor_fits_a_two_ampere_bridge() -> None:
    """Common practice, no source: 60 to 70 mA idle, 0.7 A near stall fits a 2 A bridge with room."""
    stall = leaf(0.7, "current")
    limit = upper("x", station="driver", title="x", stress=stall, bound=leaf(2.0, "current"), todo="")
    assert Judge()(limit).used == pytest.approx(0.35)


def test_the_loops_largest_current_stands_between_its_samples() -> None:
    """From rest at full duty the current comes to (V/R)·(τ_e's own peak) long before the first sample of 20 ms: against
    the same two equations integrated (DOP853 as in scipy), whose samples alone would show a third of it."""
    plant = LoopPlant(
        bus_v=14.6,
        lost_v=0.0,
        resistance_ohm=2.0,
        inductance_h=2e-3,
        constant=0.05,
        inertia=2e-5,
        load_nm=0.001,
        least_duty=0.0,
    )
    found = step(plant, 200.0, LoopLaw(0.001, None, 0.02, 0.9))
    run = solve_ivp(
        lambda t, x: [(14.6 - 2.0 * x[0] - 0.05 * x[1]) / 2e-3, (0.05 * x[0] - 0.001) / 2e-5],
        (0.0, 0.02),
        [0.0, 0.0],
        method="DOP853",
        rtol=1e-10,
        atol=1e-12,
        max_step=1e-5,
    )
    assert found.peak_current_a == pytest.approx(run.y[0].max(), rel=2e-3)
    assert max(found.current_a) < 0.6 * found.peak_current_a
