"""Mechanisms, duty, supply and heat against published and worked cases."""

from __future__ import annotations

import math

import numpy as np
import pytest
from scipy.integrate import solve_ivp

from zinc_whistle.core.laws import heat, load, motor, supply
from zinc_whistle.core.stations.motor import thermal


def test_power_screw_of_shigley_example_8_1() -> None:
    """J. E. Shigley, Mechanical Engineering Design, example 8-1 (figures from memory): 15.94 and −0.466 N·m."""
    up = load.screw_raise.evaluate([6400.0, 0.030, 0.008, 0.08])
    down = load.screw_lower.evaluate([6400.0, 0.030, 0.008, 0.08])
    assert up == pytest.approx(15.94, abs=0.005)
    assert down == pytest.approx(-0.466, abs=0.001)
    collar = load.collar_torque.evaluate([6400.0, 0.08, 0.040])
    assert collar == pytest.approx(10.24, abs=0.005)
    assert up + collar == pytest.approx(26.18, abs=0.01)
    assert load.screw_efficiency.evaluate([6400.0, 0.008, up + collar]) == pytest.approx(0.311, abs=0.001)


def test_a_screw_holds_itself_from_pi_mu_d_equal_to_its_lead() -> None:
    """Self-locking when π μ dm ≥ l (Shigley, the same chapter)."""
    d, mu = 0.012, 0.1
    lead = math.pi * mu * d
    assert load.screw_lower.evaluate([100.0, d, lead, mu]) == pytest.approx(0.0, abs=1e-12)
    assert load.screw_lower.evaluate([100.0, d, lead * 0.9, mu]) > 0
    assert load.screw_lower.evaluate([100.0, d, lead * 1.1, mu]) < 0


def test_skid_turn_of_four_wheels_at_the_corners() -> None:
    """Worked by hand: μ W L / 2 for 5 kg, 0.2 m, 0.7 gives 3.43 N·m; half of it for an even contact."""
    weight = load.weight.evaluate([5.0])
    assert load.skid_moment.evaluate([0.7, weight, 0.2, 2.0]) == pytest.approx(3.43, abs=0.005)
    assert load.skid_moment.evaluate([0.7, weight, 0.2, 4.0]) == pytest.approx(3.43 / 2, abs=0.003)


@pytest.mark.parametrize(("ratio", "share"), [(0.1, 0.259), (1.0, 0.350), (4.0, 0.644)])
def test_pulse_heating_against_the_closed_form(ratio: float, share: float) -> None:
    """Peak of a first-order response to a quarter duty: (1 − e^(−δT/τ))/(1 − e^(−T/τ)) (derivation)."""
    tau = 30.0
    cycle = ratio * tau
    current = heat.heating_current.evaluate([[1.0, 0.0], [0.25 * cycle, 0.75 * cycle], 0.0, tau, tau])
    closed = (1 - math.exp(-0.25 * ratio)) / (1 - math.exp(-ratio))
    assert current**2 == pytest.approx(closed, rel=1e-12)
    assert current**2 == pytest.approx(share, abs=0.0007)


def test_peukert() -> None:
    """W. Peukert (1897), worked: 7 Ah at 20 h, 3.5 A, k 1.2 gives 1.26 h."""
    hours = supply.runtime.evaluate([7 * 3600.0, 3.5, 20 * 3600.0, 1.2]) / 3600
    assert hours == pytest.approx(1.26, abs=0.005)
    assert supply.runtime.evaluate([7 * 3600.0, 3.5, 20 * 3600.0, 1.0]) / 3600 == pytest.approx(2.0)


def test_plugging_in_live_rings_to_38_5_volts() -> None:
    """Step into R-L-C (textbook): 24 V, 1 µH, 10 µF, 0.1 Ω gives 38.5 V; held against the integrated circuit."""
    zeta = supply.lead_damping.evaluate([0.1, 10e-6, 1e-6])
    peak = supply.plug_in_peak.evaluate([24.0, zeta])
    assert peak == pytest.approx(38.5, abs=0.05)
    run = solve_ivp(
        lambda t, x: [(24 - 0.1 * x[0] - x[1]) / 1e-6, x[0] / 10e-6],
        (0, 60e-6),
        [0.0, 0.0],
        rtol=1e-9,
        atol=1e-12,
        max_step=1e-7,
    )
    assert peak == pytest.approx(float(np.max(run.y[1])), rel=1e-4)


def test_two_no_load_voltages_tell_constant_friction() -> None:
    """Worked by hand: 60 mA at 5 V and 70 mA at 12 V with 17.14 Ω give Tc/Kt = 54.2 mA."""
    first, second = (motor.back_emf.evaluate([v, i, 17.14, 0.0]) for v, i in ((5.0, 0.060), (12.0, 0.070)))
    assert motor.constant_friction.evaluate([0.060, first, 0.070, second]) == pytest.approx(0.0542, abs=5e-5)


def test_a_volt_more_wins_eight_per_cent_of_speed() -> None:
    """Common practice, no source: 12 to 13 V is about 8 %."""
    slow, fast = (motor.no_load_speed.evaluate([v, 0.0, 0.07, 17.0, 0.022, 0.0]) for v in (12.0, 13.0))
    assert fast / slow - 1 == pytest.approx(0.08, abs=0.015)


def test_copper_at_thirty_amperes_a_square_millimetre() -> None:
    """dT/dt = j² ρ/(δ c): about 4.5 K/s at 30 A/mm² (handbook density and heat of copper, from memory).

    1.7241e−8 Ω·m is for 20 °C; (30e6)² · 1.7241e−8 / (8960 · 385) = 4.50 K/s.
    """
    length, area, current = 10.0, 1e-6, 30.0
    resistance = 1.7241e-8 * length / area
    mass = 8960 * length * area
    limit = motor.survivable_stall.evaluate([mass, 45.0, 0.0, current, resistance])
    assert 45.0 / limit == pytest.approx(4.5, abs=0.05)


NODES = thermal.TwoNodes(winding_j_k=8.5, housing_j_k=70.0, inner_k_w=5.0, outer_k_w=12.0, resistance_ohm=1.9)


def test_thermal_course_against_an_independent_integration() -> None:
    """Two nodes with R(T), integrated by DOP853 from the written-out balance."""

    def balance(t: float, x: np.ndarray) -> list[float]:
        heat = 1.2**2 * 1.9 * (1 + (x[0] - 25) / (234.5 + 25))
        over = (x[0] - x[1]) / 5.0
        return [(heat - over) / 8.5, (over - (x[1] - 35.0) / 12.0) / 70.0]

    times = np.linspace(0, 3000, 61)
    ours = thermal.course(NODES, 1.2, 35.0, times, (35.0, 35.0))
    run = solve_ivp(balance, (0, 3000), [35.0, 35.0], method="DOP853", rtol=1e-11, atol=1e-10, t_eval=times, max_step=5)
    assert np.max(np.abs(ours - run.y.T)) < 1e-6


def test_thermal_course_ends_at_the_fixed_point() -> None:
    """The steady rule and the course agree."""
    steady = motor.winding_temperature.evaluate([35.0, 1.2, 1.9, 5.0, 12.0])
    late = thermal.course(NODES, 1.2, 35.0, np.linspace(0, 60000, 61), (35.0, 35.0))[-1, 0]
    assert steady == pytest.approx(float(late), abs=1e-6)
    allowed = motor.winding_allowed.evaluate([steady, 35.0, 1.9, 5.0, 12.0])
    assert allowed == pytest.approx(1.2, rel=1e-9)


def test_one_node_heats_along_the_closed_form() -> None:
    """With a heavy housing and constant resistance the winding follows 1 − e^(−t/τ) (textbook)."""
    nodes = thermal.TwoNodes(8.0, 1e9, 4.0, 1e-3, 1e-9)
    times = np.linspace(0, 120, 25)
    rows = thermal.course(nodes, 0.0, 20.0, times, (80.0, 20.0))
    assert rows[:, 0] == pytest.approx(20 + 60 * np.exp(-times / 32.0), rel=1e-6)


def test_stall_time_meets_its_limit_on_the_course() -> None:
    seconds = thermal.seconds_to(NODES, 6.0, 35.0, (60.0, 45.0), 130.0)
    assert seconds is not None
    rows = thermal.course(NODES, 6.0, 35.0, np.linspace(0, seconds, 3), (60.0, 45.0))
    assert rows[-1, 0] == pytest.approx(130.0, abs=1e-6)
    assert thermal.seconds_to(NODES, 0.1, 35.0, (35.0, 35.0), 130.0) is None
    assert thermal.seconds_to(NODES, 6.0, 35.0, (140.0, 45.0), 130.0) == 0.0


def test_linear_regulator_of_a_servo_burns_what_it_drops() -> None:
    """Worked by hand: 12 V to 5 V at 0.2 A is 1.4 W; at 65 K/W that is 91 K over the air."""
    heat = supply.linear_heat.evaluate([12.0, 5.0, 0.2])
    assert heat == pytest.approx(1.4)
    assert supply.regulator_junction.evaluate([25.0, heat, 65.0]) == pytest.approx(116.0)


def test_braking_energy_and_its_capacitor() -> None:
    """V = √(V0² + 2E/C), and the capacitor that keeps it below a limit is its inverse."""
    capacitance = supply.braking_capacitor.evaluate([2.0, 28.0, 24.0])
    assert supply.risen_voltage.evaluate([24.0, 2.0, capacitance]) == pytest.approx(28.0)


def test_stall_over_all_resistances() -> None:
    """Worked by hand: 12 V over 1 + 0.1 + 0.05 + 0.1 Ω is 9.6 A, not 12."""
    from zinc_whistle.core.laws import driver

    total = driver.loop_resistance.evaluate([0.1, 0.05, 0.1, 0.0, 1.0])
    assert driver.stall_in_circuit.evaluate([12.0, 0.0, 0.0, total]) == pytest.approx(9.6)


@pytest.mark.parametrize(("torque", "ratio", "efficiency"), [(2.0, 20.0, 0.7), (0.35, 5.0, 0.9)])
def test_what_comes_back_through_a_gear_by_its_power(torque: float, ratio: float, efficiency: float) -> None:
    """The load drives: what arrives at the motor is the load's power less what the gear keeps, at N times the speed."""
    output_speed = 3.0
    arrives = efficiency * torque * output_speed
    assert load.driven_torque.evaluate([torque, ratio, efficiency]) == pytest.approx(arrives / (output_speed * ratio))
