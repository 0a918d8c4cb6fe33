"""The rules of driven loads: each mechanism at its shaft, and what the motor feels through the gear."""

from __future__ import annotations

import math
from collections.abc import Sequence

from ..algebra.expressions import larger, sqrt, total
from ..algebra.kinds import (
    Ampere,
    Amperes,
    Fraction,
    Inertia,
    Inertias,
    Joule,
    Kilogram,
    Metre,
    MetrePerSecond,
    MotorConstant,
    Newton,
    NewtonMetre,
    Number,
    Ohm,
    Radian,
    RadPerSecond,
    RadPerSecond2,
    Ratio,
    Second,
    Seconds,
    Torques,
    Volt,
    Watt,
)
from ..algebra.nodes import Constant
from ..algebra.rules import Procedure, procedure, rule
from .nothing import NO_TORQUE

RIGID = "rigid-body mechanics"
GEAR = "gear: torque over ratio and efficiency while motoring"
SHIGLEY = "J. E. Shigley, Mechanical Engineering Design: square-thread power screw (from memory)"
SKID = "even pressure over the contact, friction everywhere: μ W L / 4, or L / 2 with the weight at the corners"
G = Constant("9.807 m/s²", 9.80665, "acceleration of gravity", "standard gravity, SI brochure")
PI = Constant("π", math.pi, "number")
SPARE = Constant("1.2", 1.2, "number")
TWO_PI = Constant("2π", 2 * math.pi, "number")


@rule("J", source=RIGID + ": half for an even disc, one for a ring", title="Inertia of the load")
def turntable_inertia(k: Number, m: Kilogram, r: Metre) -> Inertia:
    return k * m * r**2


@rule("ω", source="speed over radius", title="Speed of the shaft")
def shaft_speed(v: MetrePerSecond, r: Metre) -> RadPerSecond:
    return v / r


@rule("r", source="half the diameter", title="Radius")
def radius(D: Metre) -> Metre:
    return D / 2


@procedure("sin", "number", says="sine of", source="trigonometry")
def sine(theta: float) -> float:
    """Sine of an angle in radians."""
    return math.sin(theta)


@procedure("cos", "number", says="cosine of", source="trigonometry")
def cosine(theta: float) -> float:
    """Cosine of an angle in radians."""
    return math.cos(theta)


@rule("W", source=RIGID, title="Weight")
def weight(m: Kilogram) -> Newton:
    return m * G


@rule("F", source=RIGID + ": rolling resistance and slope", title="Force to roll, on the slope")
def rolling_force(W: Newton, c: Number, s: Number, C_r: Number) -> Newton:
    return W * (C_r * c + s)


@rule("T", source="force at the rim, shared by the motors", title="Torque at the wheels, for each motor")
def rim_torque(F: Newton, r: Metre, n: Number) -> NewtonMetre:
    return F * r / n


@rule("J", source=RIGID + ": mass at the rim, shared by the motors", title="Inertia of the load, for each motor")
def rim_inertia(m: Kilogram, r: Metre, n: Number) -> Inertia:
    return m * r**2 / n


@rule("F_grip", source="dry friction on the driven wheels, weight shared evenly", title="Grip of the driven wheels")
def grip_limit(mu: Number, W: Newton, c: Number, driven: Number, wheels: Number) -> Newton:
    return mu * W * c * driven / wheels


@rule("F_start", source="rolling, slope and acceleration together", title="Force to start, on the slope")
def starting_force(F: Newton, m: Kilogram, v: MetrePerSecond, t: Second) -> Newton:
    return F + m * v / t


@rule("M_skid", source=SKID, title="Moment of a skid turn")
def skid_moment(mu: Number, W: Newton, L: Metre, k: Number) -> NewtonMetre:
    return mu * W * L / k


@rule("T_skid", source="the moment as a pair of forces at the two sides", title="Torque of a skid turn, for each motor")
def skid_torque(M: NewtonMetre, B: Metre, r: Metre, n: Number) -> NewtonMetre:
    """Half of the ``n`` motors stand on each side."""
    return M / B * r * 2 / n


@rule("F", source=RIGID + ": weight along the way, less the counterweight, and the guides", title="Pull on the rope")
def rope_force(W: Newton, s: Number, W_c: Newton, F_f: Newton) -> Newton:
    return W * s - W_c + F_f


@rule("T", source="force at the radius", title="Torque at the drum")
def drum_torque(F: Newton, r: Metre) -> NewtonMetre:
    return F * r


@rule("J", source=RIGID, title="Inertia of the load")
def drum_inertia(m: Kilogram, m_c: Kilogram, r: Metre) -> Inertia:
    return (m + m_c) * r**2


@rule("F", source=RIGID + ": weight along the way, guides and work", title="Force on the rack")
def rack_force(W: Newton, s: Number, c: Number, mu: Number, F_w: Newton) -> Newton:
    return W * s + mu * W * c + F_w


@rule("T_up", source=SHIGLEY, title="Torque to raise")
def screw_raise(F: Newton, d: Metre, lead: Metre, mu: Number) -> NewtonMetre:
    return F * d / 2 * (lead + PI * mu * d) / (PI * d - mu * lead)


@rule("T_down", source=SHIGLEY, title="Torque to lower")
def screw_lower(F: Newton, d: Metre, lead: Metre, mu: Number) -> NewtonMetre:
    """Below zero: the load drives the screw."""
    return F * d / 2 * (PI * mu * d - lead) / (PI * d + mu * lead)


@rule("T_c", source=SHIGLEY, title="Torque of the collar")
def collar_torque(F: Newton, mu_c: Number, d_c: Metre) -> NewtonMetre:
    return F * mu_c * d_c / 2


@rule("T", source="screw and collar together", title="Torque at the screw")
def screw_torque(T: NewtonMetre, T_c: NewtonMetre) -> NewtonMetre:
    return T + T_c


@rule("η_screw", source="work out over work in, one turn", title="Efficiency of the screw")
def screw_efficiency(F: Newton, lead: Metre, T: NewtonMetre) -> Fraction:
    return F * lead / (TWO_PI * T)


@rule("ω", source="one lead a turn", title="Speed of the screw")
def screw_speed(v: MetrePerSecond, lead: Metre) -> RadPerSecond:
    return TWO_PI * v / lead


@rule("J", source=RIGID, title="Inertia of the load")
def screw_inertia(m: Kilogram, lead: Metre) -> Inertia:
    return m * (lead / TWO_PI) ** 2


@rule("W", source=RIGID, title="Force with the weight")
def screw_force(F: Newton, m: Kilogram) -> Newton:
    return F + m * G


@procedure("c_max", "number", says="largest cosine between the two angles", source="trigonometry")
def largest_cosine(start: float, end: float) -> float:
    """Largest weight arm over the sweep, as a share of the full arm; angles in radians from level."""
    low, high = min(start, end), max(start, end)
    turns = math.floor(high / (2 * math.pi)) * 2 * math.pi
    return 1.0 if low <= turns <= high else max(math.cos(low), math.cos(high), 0.0)


@procedure("c_mean", "number", says="mean of the cosine between the two angles, at least zero", source="trigonometry")
def mean_cosine(start: float, end: float) -> float:
    """Root mean square of the weight arm over the sweep, as a share of the full arm; angles in radians."""
    span = end - start
    if abs(span) < 1e-9:
        return abs(math.cos(start))
    square = 0.5 + (math.sin(2 * end) - math.sin(2 * start)) / (4 * span)
    return math.sqrt(max(square, 0.0))


@rule("T", source="weight × arm, and the hinge", title="Torque of the flap")
def lever_torque(W: Newton, r: Metre, c: Number, T_f: NewtonMetre) -> NewtonMetre:
    return W * r * c + T_f


@rule("J", source=RIGID + ": a flat flap about its edge", title="Inertia of the load")
def lever_inertia(m: Kilogram, length: Metre) -> Inertia:
    return m * length**2 / 3


@rule("t_sweep", source="angle over speed", title="Time for the sweep")
def sweep_time(theta_1: Radian, theta_2: Radian, omega: RadPerSecond) -> Second:
    return sqrt((theta_2 - theta_1) ** 2) / omega


@rule("T", source="torque of a fan or pump grows with the square of the speed", title="Torque at the speed wanted")
def fan_torque(T_ref: NewtonMetre, omega: RadPerSecond, omega_ref: RadPerSecond) -> NewtonMetre:
    return T_ref * (omega / omega_ref) ** 2


@rule("T", source="several loads on one shaft add", title="Torque at the output, working")
def torques_together(T: Torques) -> NewtonMetre:
    return total(T)


@rule("T_hard", source="several loads on one shaft add", title="Torque at the output, hardest")
def hardest_together(T: Torques) -> NewtonMetre:
    return total(T)


@rule("J", source="inertias on one shaft add", title="Inertia of the load")
def inertias_together(J: Inertias) -> Inertia:
    return total(J)


@rule("α", source=RIGID, title="Acceleration of the load")
def acceleration(omega: RadPerSecond, t: Second) -> RadPerSecond2:
    return omega / t


@rule("T_acc", source=RIGID, title="Torque to get to speed")
def acceleration_torque(J: Inertia, alpha: RadPerSecond2) -> NewtonMetre:
    return J * alpha


@rule("T_m", source=GEAR, title="Torque at the motor, working")
def shaft_torque(T: NewtonMetre, N: Ratio, eta: Fraction) -> NewtonMetre:
    return T / (N * eta)


@rule("N", source=GEAR + ": twice the ratio, half the torque", title="Gear for a torque at the motor")
def ratio_for_torque(N: Ratio, T_m: NewtonMetre, T_wanted: NewtonMetre) -> Ratio:
    """The ratio at which a load that asks ``T_m`` of the motor over ``N`` asks ``T_wanted``."""
    return N * T_m / T_wanted


@rule("T_creep", source="the load alone, whichever way it pulls", title="Torque of the load without power")
def either_way(T: NewtonMetre) -> NewtonMetre:
    return larger(T, -T)


@rule("T_creep", source="what is left of it; friction holds the rest", title="Torque of the load without power")
def beyond_friction(T: NewtonMetre) -> NewtonMetre:
    return larger(T, NO_TORQUE)


@rule("F", source=RIGID + ": weight along the slope, less what friction holds", title="Pull down the slope")
def pull_down(W: Newton, s: Number, c: Number, mu: Number) -> Newton:
    return W * s - mu * W * c


@procedure("c_most", "number", says="largest cosine between the two angles, either way", source="trigonometry")
def largest_arm(start: float, end: float) -> float:
    """Largest weight arm over the sweep, past the vertical too, as a share of the full arm; angles in radians."""
    return max(largest_cosine.function(start, end), largest_cosine.function(start + math.pi, end + math.pi))


@rule(
    "T_hold",
    source="half of the motor's friction at standstill: grease and warmth change it; common practice, no source",
    title="What the motor's friction holds",
)
def friction_holds(K_e: MotorConstant, I_c: Ampere) -> NewtonMetre:
    return K_e * I_c / 2


@rule("T_back", source="gear, load driving: torque times efficiency over ratio", title="Torque back at the motor")
def driven_torque(T: NewtonMetre, N: Ratio, eta: Fraction) -> NewtonMetre:
    return T * eta / N


@rule("T_start", source=GEAR + "; the rotor turns N times as fast", title="Torque at the motor, starting")
def starting_torque(
    T: NewtonMetre, T_acc: NewtonMetre, N: Ratio, eta: Fraction, J_r: Inertia, alpha: RadPerSecond2
) -> NewtonMetre:
    return (T + T_acc) / (N * eta) + J_r * N * alpha


@rule("T_out", source="load and acceleration together", title="Torque at the output, starting")
def output_torque(T: NewtonMetre, T_acc: NewtonMetre) -> NewtonMetre:
    return T + T_acc


@rule("T_out", source="the larger of the two", title="Torque at the output, worst")
def worst_torque(T_1: NewtonMetre, T_2: NewtonMetre) -> NewtonMetre:
    return larger(T_1, T_2)


@rule("T_s,out", source="gear: torque times ratio and efficiency", title="Stall torque at the output")
def stall_at_output(T: NewtonMetre, N: Ratio, eta: Fraction) -> NewtonMetre:
    return T * N * eta


@rule("ω_m", source="gear ratio", title="Motor speed, working")
def motor_speed(omega: RadPerSecond, N: Ratio) -> RadPerSecond:
    return omega * N


@rule("J_m", source="inertia falls with the ratio squared", title="Inertia at the motor shaft")
def reflected_inertia(J: Inertia, N: Ratio, J_r: Inertia) -> Inertia:
    return J / N**2 + J_r


@rule("P", source=RIGID, title="Power at the load")
def load_power(T: NewtonMetre, omega: RadPerSecond) -> Watt:
    return T * omega


@rule("ω/2", source="mean of the ramp", title="Mean speed of the ramp")
def half_speed(omega: RadPerSecond) -> RadPerSecond:
    return omega / 2


@rule("I", source="switched off", title="Resting")
def resting(I: Ampere) -> Ampere:
    return I


@rule(
    "T_back", source="what the load gives when the friction does not hold it", title="Torque of the load, running back"
)
def screw_back(T_down: NewtonMetre) -> NewtonMetre:
    """The torque to lower, turned round: above zero the load runs back by itself."""
    return -T_down


@procedure(
    "I_rms",
    "current",
    says="root of the time-weighted mean square of the parts",
    source="root mean square over one cycle",
)
def rms_of_parts(I: Amperes, t: Seconds) -> float:
    """RMS over parts of constant current (A) and their times (s)."""
    return math.sqrt(math.fsum(i * i * s for i, s in zip(I, t, strict=True)) / math.fsum(t))


@rule("I_peak", source="the larger of the two", title="Largest current of the cycle")
def larger_current(I_1: Ampere, I_2: Ampere) -> Ampere:
    return larger(I_1, I_2)


@rule("T_cycle", source="the parts add", title="Length of the cycle")
def cycle_time(t: Seconds) -> Second:
    return total(t)


@rule("ω", source="the same, the other way", title="Speed, running back")
def backwards(omega: RadPerSecond) -> RadPerSecond:
    return -omega


@rule("T", source="it pulls the motor along", title="Torque against the motion")
def with_the_motion(T: NewtonMetre) -> NewtonMetre:
    return -T


@rule("T_m", source=GEAR + "; driven by its load it loses the other way", title="Torque at the motor")
def either_direction(T: NewtonMetre, N: Ratio, eta: Fraction) -> NewtonMetre:
    return larger(T, NO_TORQUE) / (N * eta) - larger(-T, NO_TORQUE) * eta / N


@rule("I", source="whichever way it flows", title="Size of the current")
def size_of(I: Ampere) -> Ampere:
    return larger(I, -I)


@rule("T", source="pushed or pulled, the teeth bear it", title="Torque, whichever way")
def torque_size(T: NewtonMetre) -> NewtonMetre:
    return larger(T, -T)


@rule("ω_low", source="shorted, its EMF drives the load's torque through the ohms", title="Speed of lowering, shorted")
def shorted_speed(I: Ampere, R: Ohm, K_e: MotorConstant) -> RadPerSecond:
    return I * R / K_e


@rule(
    "ω_max", source="common practice, no source: a rotor bears a fifth more than its free speed", title="Highest speed"
)
def bears_speed(omega: RadPerSecond) -> RadPerSecond:
    return SPARE * omega


def _energy(symbol: str, name: str, sign: float, says: str, source: str) -> Procedure:
    """A sum over the parts of a cycle of the power one way; V, A (below nothing: out of the motor), s to J."""

    def law(V: Sequence[float], I: Amperes, t: Seconds) -> float:
        return math.fsum(max(sign * v * i, 0.0) * s for v, i, s in zip(V, I, t, strict=True))

    law.__name__ = name
    return procedure(symbol, "energy", says=says, source=source)(law)


energy_of_parts = _energy(
    "E",
    "energy_of_parts",
    1.0,
    says="sum of volts × current × time over the parts, none below zero",
    source="power into the motor over each part",
)
energy_back = _energy(
    "E_back",
    "energy_back",
    -1.0,
    says="sum of volts × current × time over the parts in which the load drives the motor",
    source="power out of the motor: what the load gives, less friction and winding",
)


@rule("E", source=RIGID + ": motion, and height", title="Energy that braking or lowering gives back, at most")
def stored_with_height(J: Inertia, omega: RadPerSecond, E_h: Joule) -> Joule:
    return J * omega**2 / 2 + E_h


@rule("P_in", source="volts × current into the motor", title="Electrical power into the motor")
def electrical_power(V_m: Volt, I: Ampere) -> Watt:
    return V_m * I


@rule("P_Cu", source="I²R", title="Heat in the winding")
def copper_loss(I: Ampere, R: Ohm) -> Watt:
    return I**2 * R


@rule("P_b", source="volts × current", title="Heat in the brushes")
def brush_loss(V_b: Volt, I: Ampere) -> Watt:
    return V_b * I


@rule("P_f", source="torque × speed", title="Heat of the motor's friction")
def friction_loss(K_e: MotorConstant, I_f: Ampere, omega: RadPerSecond) -> Watt:
    return K_e * I_f * omega


@rule("P_g", source="what the gear's efficiency leaves", title="Heat in the gear")
def gear_loss(T_m: NewtonMetre, omega_m: RadPerSecond, P: Watt) -> Watt:
    return T_m * omega_m - P


@rule("I_n", source="friction as it is, the load's torque as a power of the speed", title="Current at that speed")
def current_at_speed(I_c: Ampere, I_w: Ampere, omega: RadPerSecond, omega_w: RadPerSecond, n: Number) -> Ampere:
    return I_c + (I_w - I_c) * (omega / omega_w) ** n  # type: ignore[no-any-return]


@rule("ω_s", source="a share of the speed that is wanted", title="Speed that is put up with")
def speed_by_share(omega: RadPerSecond, s: Ratio) -> RadPerSecond:
    return omega * s
