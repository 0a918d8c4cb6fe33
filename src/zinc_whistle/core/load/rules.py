"""The rules of a driven load: what the motor shaft feels through the gear."""

from __future__ import annotations

from ..expressions import sqrt
from ..kinds import (
    Ampere,
    Fraction,
    Inertia,
    Kilogram,
    Metre,
    NewtonMetre,
    Number,
    RadPerSecond,
    RadPerSecond2,
    Ratio,
    Second,
    Watt,
)  # fmt: skip
from ..working import rule

RIGID = "rigid-body mechanics"
GEAR = "gear: torque over ratio and efficiency while motoring"


@rule("J", source=RIGID + ": half for an even disc, one for a ring", title="Inertia of the load")
def turntable_inertia(k: Number, m: Kilogram, r: Metre) -> Inertia:
    return k * m * r**2


@rule("α", source=RIGID, title="Acceleration of the load")
def acceleration(omega: RadPerSecond, t: Second) -> RadPerSecond2:
    return omega / t


@rule("T_acc", source=RIGID, title="Torque to get to speed")
def acceleration_torque(J: Inertia, alpha: RadPerSecond2) -> NewtonMetre:
    return J * alpha


@rule("T_m", source=GEAR, title="Torque at the motor, working")
def shaft_torque(T: NewtonMetre, N: Ratio, eta: Fraction) -> NewtonMetre:
    return T / (N * eta)


@rule("T_start", source=GEAR + "; the rotor turns N times as fast", title="Torque at the motor, starting")
def starting_torque(
    T: NewtonMetre, T_acc: NewtonMetre, N: Ratio, eta: Fraction, J_r: Inertia, alpha: RadPerSecond2
) -> NewtonMetre:
    return (T + T_acc) / (N * eta) + J_r * N * alpha


@rule("T_out", source="load and acceleration together", title="Torque at the output, starting")
def output_torque(T: NewtonMetre, T_acc: NewtonMetre) -> NewtonMetre:
    return T + T_acc


@rule("ω_m", source="gear ratio", title="Motor speed, working")
def motor_speed(omega: RadPerSecond, N: Ratio) -> RadPerSecond:
    return omega * N


@rule("J_m", source="inertia falls with the ratio squared", title="Inertia at the motor shaft")
def reflected_inertia(J: Inertia, N: Ratio, J_r: Inertia) -> Inertia:
    return J / N**2 + J_r


@rule("P", source=RIGID, title="Power at the load")
def load_power(T: NewtonMetre, omega: RadPerSecond) -> Watt:
    return T * omega


@rule("I_rms", source="root of the mean square over one cycle; holds while the cycle is short against the heating",
      title="RMS current")  # fmt: skip
def rms_current(I_start: Ampere, t_start: Second, I_work: Ampere, t_run: Second, t_rest: Second) -> Ampere:
    return sqrt((I_start**2 * t_start + I_work**2 * t_run) / (t_start + t_run + t_rest))
