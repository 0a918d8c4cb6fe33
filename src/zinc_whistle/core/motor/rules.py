"""The rules of a brushed motor: v = R i + L di/dt + Ke ω (+ brush drop), with Kt = Ke in SI units."""

from __future__ import annotations

from ..expressions import larger, mean, slope, sqrt
from ..kinds import (
    Ampere,
    Amperes,
    Celsius,
    Fraction,
    Inertia,
    Kilogram,
    MotorConstant,
    NewtonMetre,
    Ohm,
    Ohms,
    RadPerSecond,
    Second,
    Volt,
    Volts,
    Watt,
)  # fmt: skip
from ..working import Constant, rule

COPPER_ZERO = Constant("234.5 °C", 234.5, "temperature", "inferred zero of copper's resistance, IEC 60034-1")
REFERENCE = Constant("25 °C", 25.0, "temperature")
NO_VOLTS = Constant("0 V", 0.0, "voltage")
COPPER_HEAT = Constant("385 J/(kg·K)", 385.0, "specific heat", "handbook value of copper, from memory")

OHM = "Ohm's law at standstill"
COPPER = "resistance of copper over temperature, IEC 60034-1 (234.5 °C)"
MODEL = "steady state of the motor equation"


@rule("R_row", source=OHM, title="Resistance of one locked reading")
def row_resistance(V: Volt, I: Ampere) -> Ohm:
    """Volts over amperes; what the brushes drop is counted as resistance."""
    return V / I


@rule(
    "R_angle",
    source="least-squares slope of locked readings; the brush drop falls out",
    title="Resistance at one angle",
)
def slope_resistance(V: Volts, I: Amperes) -> Ohm:
    """Slope of volts over amperes at one shaft angle."""
    return slope(V, I)


@rule("V_angle", source="intercept of the same line", title="Brush drop at one angle")
def slope_intercept(V: Volts, I: Amperes) -> Volt:
    """Volts that do not grow with the current."""
    return larger(NO_VOLTS, mean(V) - slope(V, I) * mean(I))


@rule("V_b", source="mean over the angles", title="Brush drop")
def brush_drop(V: Volts) -> Volt:
    return mean(V)


@rule("V_b", source="one current per angle cannot tell it from resistance", title="Brush drop")
def no_brush_drop(V: Volt) -> Volt:
    return V


@rule(
    "R_T",
    source="mean over the angles, less the leads; the spread over angles is a doubt",
    title="Resistance as measured",
)
def measured_resistance(R: Ohms, R_leads: Ohm, spread: Ohm) -> Ohm:
    return mean(R) - R_leads + spread


@rule("R_25", source=COPPER, title="Resistance at 25 °C")
def resistance_at_25(R: Ohm, T: Celsius) -> Ohm:
    return R * (COPPER_ZERO + REFERENCE) / (COPPER_ZERO + T)


@rule("R", source=COPPER, title="Resistance")
def resistance_at(R_25: Ohm, T: Celsius) -> Ohm:
    return R_25 * (COPPER_ZERO + T) / (COPPER_ZERO + REFERENCE)


@rule("K_e", source=MODEL, title="Motor constant")
def motor_constant(V_0: Volt, I_0: Ampere, R: Ohm, V_b: Volt, omega_0: RadPerSecond) -> MotorConstant:
    """Volts per rad/s, and N·m per ampere."""
    return (V_0 - I_0 * R - V_b) / omega_0


@rule("T_f", source="the no-load current overcomes friction", title="Friction torque")
def friction_torque(K_e: MotorConstant, I_0: Ampere) -> NewtonMetre:
    return K_e * I_0


@rule("I_s", source=OHM, title="Stall current")
def stall_current(V: Volt, V_b: Volt, R: Ohm) -> Ampere:
    return (V - V_b) / R


@rule("T_s", source="what the shaft gives: friction is paid first", title="Stall torque")
def stall_torque(K_e: MotorConstant, I_s: Ampere, I_0: Ampere) -> NewtonMetre:
    return K_e * (I_s - I_0)


@rule("ω_0", source=MODEL, title="No-load speed")
def no_load_speed(V: Volt, V_b: Volt, I_0: Ampere, R: Ohm, K_e: MotorConstant) -> RadPerSecond:
    return (V - V_b - I_0 * R) / K_e


@rule("I_η", source="maximum of (I − I_0)(V − V_b − I R)/(V I)", title="Current at best efficiency")
def best_efficiency_current(I_0: Ampere, I_s: Ampere) -> Ampere:
    return sqrt(I_0 * I_s)


@rule("η_best", source="the same maximum, friction constant", title="Best efficiency")
def best_efficiency(V: Volt, V_b: Volt, I_0: Ampere, I_s: Ampere) -> Fraction:
    return (V - V_b) / V * (1 - sqrt(I_0 / I_s)) ** 2


@rule("P_best", source="maximum of K_e (I − I_0) ω, at half the stall torque", title="Greatest power")
def greatest_power(R: Ohm, I_s: Ampere, I_0: Ampere) -> Watt:
    return R * (I_s - I_0) ** 2 / 4


@rule("τ_m", source=MODEL, title="Mechanical time constant")
def mechanical_time_constant(R: Ohm, J: Inertia, K_e: MotorConstant) -> Second:
    return R * J / (K_e * K_e)


@rule(
    "t_stall",
    source="adiabatic heating of the winding's copper, 385 J/(kg·K)",
    title="Stall the winding survives",
)
def survivable_stall(m: Kilogram, T_limit: Celsius, T_start: Celsius, I_s: Ampere, R: Ohm) -> Second:
    return m * COPPER_HEAT * (T_limit - T_start) / (I_s**2 * R)


@rule("T", source=MODEL, title="Torque at a current")
def torque_at(K_e: MotorConstant, I: Ampere, I_0: Ampere) -> NewtonMetre:
    return K_e * (I - I_0)


@rule("ω", source=MODEL, title="Speed at a current")
def speed_at(V: Volt, V_b: Volt, I: Ampere, R: Ohm, K_e: MotorConstant) -> RadPerSecond:
    return (V - V_b - I * R) / K_e


@rule("V_m", source=MODEL, title="Volts the motor needs")
def motor_volts(K_e: MotorConstant, omega: RadPerSecond, I: Ampere, R: Ohm, V_b: Volt) -> Volt:
    return K_e * omega + I * R + V_b


@rule("I", source="torque over the constant, friction added", title="Current for a torque")
def current_for(T: NewtonMetre, K_e: MotorConstant, I_0: Ampere) -> Ampere:
    return T / K_e + I_0
