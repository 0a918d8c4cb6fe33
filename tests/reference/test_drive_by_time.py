"""The assessment's figures of a whole drive against the drive integrated in time by scipy, written out here."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from scipy.integrate import solve_ivp

from zinc_whistle.core.assess import assess
from zinc_whistle.demo.data import lantern_carousel, sample_parts


class Drive:
    """The carousel's motor circuit and shaft as an equation of motion, from the assessment's own constants."""

    def __init__(self, hot: bool) -> None:
        self.done: Any = assess(lantern_carousel(), sample_parts()).drives["d1"]
        at, part = self.done.context, self.done.chosen.part
        on = part.on_resistance.value * (part.hot_factor.value if hot else 1.0)
        winding = (at.winding_hot if hot else at.winding_cold).value
        self.ohms = (
            at.volts.resistance.value + at.supply_wire.resistance.value + on + at.motor_wire.resistance.value + winding
        )
        self.inner = on + at.motor_wire.resistance.value + winding
        self.drop = (part.drop_v.value or 0.0) + at.motor.brush_drop.value
        self.k, self.henry = at.motor.motor_constant.value, at.motor.inductance.value
        self.inertia = at.load.reflected_inertia.value
        self.volts = at.volts

    def run(
        self, volts: float, load_a: float, seconds: float, ohms: float, start: tuple[float, float] = (0.0, 0.0)
    ) -> Any:
        """Current and speed under constant volts, the load as the current that it takes."""

        def rates(t: float, y: np.ndarray) -> list[float]:
            current, speed = y
            drop = self.drop * np.tanh(current / 1e-4)
            torque = self.k * (current - load_a) if speed > 1e-9 or current > load_a else 0.0
            return [(volts - drop - ohms * current - self.k * speed) / self.henry, torque / self.inertia]

        return solve_ivp(rates, (0, seconds), start, method="LSODA", rtol=1e-9, atol=1e-10, dense_output=True)


def test_the_stall_current_is_what_a_held_shaft_settles_at() -> None:
    drive = Drive(hot=False)
    run = drive.run(drive.volts.full.value, 1e6, 0.05, drive.ohms)
    assert run.y[0, -1] == pytest.approx(drive.done.circuit.stall_full.value, rel=1e-5)


def test_the_top_speed_is_what_it_settles_at_with_the_battery_flat_and_all_hot() -> None:
    drive = Drive(hot=True)
    working = drive.done.context.working_current.value
    run = drive.run(drive.volts.flat.value, working, 20.0, drive.ohms)
    assert run.y[1, -1] == pytest.approx(drive.done.circuit.delivered_flat.value, rel=1e-4)


def test_at_the_working_duty_it_turns_at_the_working_speed() -> None:
    """The bridge's mean volts are duty × the volts behind the source; the rest of the circuit carries the current."""
    drive = Drive(hot=True)
    at, solved = drive.done.context, drive.done.circuit
    duty, working = solved.duty_nominal.value, at.working_current.value
    # Averaged: the source sees D·i, so that its resistance counts with the square of the duty.
    ohms = drive.inner + duty**2 * at.feed_resistance.value
    run = drive.run(duty * drive.volts.nominal.value, working, 20.0, ohms)
    assert run.y[1, -1] == pytest.approx(at.load.motor_speed.value, rel=2e-3)
    assert run.y[0, -1] == pytest.approx(working, rel=1e-3)
    assert duty * run.y[0, -1] == pytest.approx(solved.source_current.value, rel=1e-3)


def test_braking_at_working_speed_draws_what_the_check_counts() -> None:
    """The motor shorted at speed: the current swings to K·ω less the drops over the loop, before the shaft slows."""
    drive = Drive(hot=False)
    speed = drive.done.load.motor_speed.value
    run = drive.run(0.0, 0.0, 0.03, drive.inner, (0.0, speed))
    lowest = run.y[0].min()
    assert -lowest == pytest.approx(drive.done.circuit.braking.value, rel=0.05)
    assert -lowest <= drive.done.circuit.braking.value * (1 + 1e-9)


def test_the_ramp_needs_the_starting_current_that_is_told() -> None:
    """Turned up linearly in the ramp's time, the shaft takes the load's current and what its inertia asks for; what
    turns behind the gear asks through the gear's efficiency."""
    drive = Drive(hot=False)
    load, at = drive.done.load, drive.done.context
    rate = load.motor_speed.value / load.ramp_time.value
    rotor = at.motor.rotor_inertia.value
    behind = (drive.inertia - rotor) / drive.done.drive.load.gear_efficiency.value
    wanted = at.working_current.value + (rotor + behind) * rate / drive.k
    assert at.starting_current.value == pytest.approx(wanted, rel=1e-3)


def test_the_ripple_of_the_steady_state_pulse_by_pulse() -> None:
    drive = Drive(hot=True)
    signals, at = drive.done.signals, drive.done.context
    duty, period = drive.done.circuit.duty_full.value, 1 / at.plan.frequency.value
    bus, winding = at.volts.full.value, at.winding_hot.value
    current = at.working_current.value
    emf = duty * bus - winding * current
    for _ in range(400):
        for volts, length in ((bus, duty * period), (0.0, (1 - duty) * period)):
            done = solve_ivp(
                lambda t, y, v=volts: [(v - winding * y[0] - emf) / drive.henry],
                (0, length),
                [current],
                rtol=1e-10,
                atol=1e-12,
            )
            before, current = current, done.y[0, -1]
    assert abs(before - current) == pytest.approx(signals.ripple.value, rel=1e-4)


def test_counts_a_second_are_counts_a_turn_times_turns() -> None:
    """Turned by hand for a second at the working speed, teeth and states counted one by one."""
    drive = Drive(hot=False)
    spec, result = drive.done.drive.encoder, drive.done.encoder
    turns = drive.done.load.motor_speed.value / (2 * np.pi)
    phase = np.linspace(0, turns, 2_000_001) * spec.teeth.value
    a, b = (phase % 1.0) < 0.5, ((phase - 0.25) % 1.0) < 0.5
    edges = int(np.count_nonzero(np.diff(a.astype(int))) + np.count_nonzero(np.diff(b.astype(int))))
    per_tooth = {"1": 0.25, "2": 0.5, "4": 1.0}[spec.decoding]
    assert result.rate_working.value == pytest.approx(edges * per_tooth, abs=3)
