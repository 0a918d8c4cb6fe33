"""The rules of a brushed motor: v = R i + L di/dt + Ke ω (+ brush drop), with Kt = Ke in SI units."""

from __future__ import annotations

from functools import lru_cache

import scipy

from ..algebra.expressions import larger, log, mean, slope, sqrt
from ..algebra.kinds import (
    Ampere,
    Amperes,
    Celsius,
    Fraction,
    HeatCapacity,
    Henry,
    Inertia,
    Kelvin,
    KelvinPerWatt,
    Kilogram,
    LoopGain,
    MotorConstant,
    NewtonMetre,
    Ohm,
    Ohms,
    Radian,
    RadPerSecond,
    Ratio,
    Second,
    SpeedConstant,
    ViscousFriction,
    Volt,
    Volts,
    Watt,
)
from ..algebra.nodes import Constant
from ..algebra.rules import procedure, rule, solved
from .nothing import NO_AMPERES, NO_SPEED, NO_TIME, NO_VOLTS

COPPER_ZERO = Constant("234.5 °C", 234.5, "temperature", "inferred zero of copper's resistance, IEC 60034-1")
REFERENCE = Constant("25 °C", 25.0, "temperature")
COPPER_HEAT = Constant("385 J/(kg·K)", 385.0, "specific heat", "handbook value of copper, from memory")

IRON_HEAT = Constant("460 J/(kg·K)", 460.0, "specific heat", "handbook value of iron, from memory")
NO_VISCOUS = Constant("0 N·m·s/rad", 0.0, "viscous friction")

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


@rule("T_c", source="the current that it takes overcomes friction", title="Friction torque")
def friction_torque(K_e: MotorConstant, I_c: Ampere) -> NewtonMetre:
    return K_e * I_c


@rule("I_c", source="one no-load test counts all friction as constant", title="Friction current")
def all_constant_friction(I_0: Ampere) -> Ampere:
    return I_0


@rule("I_c", source="friction torque over the constant", title="Friction current")
def current_of_friction(T_c: NewtonMetre, K_e: MotorConstant) -> Ampere:
    return T_c / K_e


@rule("E", source=MODEL, title="Back-EMF in a no-load test")
def back_emf(V: Volt, I: Ampere, R: Ohm, V_b: Volt) -> Volt:
    return V - I * R - V_b


@rule("I_c", source="line through two no-load tests, back to standstill", title="Friction current")
def constant_friction(I_1: Ampere, E_1: Volt, I_2: Ampere, E_2: Volt) -> Ampere:
    return larger(NO_AMPERES, I_1 - E_1 * (I_2 - I_1) / (E_2 - E_1))


@rule("b", source="slope of the same line: torque over speed", title="Viscous friction")
def viscous_friction(K_e: MotorConstant, I_1: Ampere, E_1: Volt, I_2: Ampere, E_2: Volt) -> ViscousFriction:
    return larger(NO_VISCOUS, K_e**2 * (I_2 - I_1) / (E_2 - E_1))


@rule("b", source="a second no-load voltage would tell it", title="Viscous friction")
def no_viscous_friction(b: ViscousFriction) -> ViscousFriction:
    return b


@rule("I_f", source="constant and viscous friction at this speed", title="Current that friction takes")
def friction_current(I_c: Ampere, b: ViscousFriction, K_e: MotorConstant, omega: RadPerSecond) -> Ampere:
    return I_c + b * omega / K_e


@rule("L", source="electrical time constant L / R", title="Inductance")
def inductance_from_time(tau_e: Second, R: Ohm) -> Henry:
    return tau_e * R


@rule("L", source="as given", title="Inductance")
def inductance_given(L: Henry) -> Henry:
    return L


@rule("J", source="mechanical time constant R J / (K_e² + R b)", title="Rotor inertia")
def inertia_from_time(tau_m: Second, R: Ohm, K_e: MotorConstant, b: ViscousFriction) -> Inertia:
    return tau_m * (K_e**2 + R * b) / R


@rule("J", source="coasting under constant friction: T_c t / ω", title="Rotor inertia")
def inertia_from_coasting(T_c: NewtonMetre, t: Second, omega: RadPerSecond) -> Inertia:
    return T_c * t / omega


@rule("J", source="coasting under both frictions: t = J/b · ln(1 + b ω / T_c)", title="Rotor inertia")
def inertia_from_viscous_coasting(T_c: NewtonMetre, b: ViscousFriction, t: Second, omega: RadPerSecond) -> Inertia:
    return b * t / log(1 + b * omega / T_c)


@rule("J", source="as given", title="Rotor inertia")
def inertia_given(J: Inertia) -> Inertia:
    return J


@rule("I_s", source=OHM, title="Stall current")
def stall_current(V: Volt, V_b: Volt, R: Ohm) -> Ampere:
    return (V - V_b) / R


@rule("T_s", source="what the shaft gives: friction is paid first", title="Stall torque")
def stall_torque(K_e: MotorConstant, I_s: Ampere, I_c: Ampere) -> NewtonMetre:
    return K_e * larger(I_s - I_c, NO_AMPERES)


@rule("ω_0", source=MODEL, title="No-load speed")
def no_load_speed(V: Volt, V_b: Volt, I_c: Ampere, R: Ohm, K_e: MotorConstant, b: ViscousFriction) -> RadPerSecond:
    return larger(V - V_b - I_c * R, NO_VOLTS) / (K_e + R * b / K_e)


@rule("I_η", source="maximum of (I − I_0)(V − V_b − I R)/(V I)", title="Current at best efficiency")
def best_efficiency_current(I_0: Ampere, I_s: Ampere) -> Ampere:
    return sqrt(I_0 * I_s)


@rule("η_best", source="the same maximum, friction constant", title="Best efficiency")
def best_efficiency(V: Volt, V_b: Volt, I_0: Ampere, I_s: Ampere) -> Fraction:
    return (V - V_b) / V * (1 - sqrt(I_0 / I_s)) ** 2


@rule(
    "P_best", source="maximum of (K_e (I − I_c) − b ω) ω; half the stall torque where b is zero", title="Greatest power"
)
def greatest_power(R: Ohm, I_s: Ampere, I_c: Ampere, K_e: MotorConstant, b: ViscousFriction) -> Watt:
    return R * (I_s - I_c) ** 2 / (4 * (1 + R * b / K_e**2))


@rule("R_25", source="as told", title="Resistance at 25 °C")
def told_resistance(R_25: Ohm) -> Ohm:
    return R_25


@rule("K_e", source="as fitted", title="Motor constant")
def fitted_constant(K_e: MotorConstant) -> MotorConstant:
    return K_e


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


@rule(
    "t_start",
    source="the stall's current dies with the mechanical time constant: its I² lasts half of that",
    title="Start without a ramp, as its heat counts it",
)
def unramped_start(R: Ohm, J: Inertia, K_e: MotorConstant) -> Second:
    return R * J / (2 * K_e**2)


@rule("ω", source=MODEL, title="Speed at a current")
def speed_at(V: Volt, V_b: Volt, I: Ampere, R: Ohm, K_e: MotorConstant) -> RadPerSecond:
    return larger(V - V_b - I * R, NO_VOLTS) / K_e


@rule(
    "ω",
    source=MODEL + "; affinity law of fans and pumps: torque goes with the square of the speed",
    title="Speed at full volts",
)
def settled_fan(
    V: Volt, V_b: Volt, R: Ohm, K_e: MotorConstant, I_c: Ampere, I_w: Ampere, omega_w: RadPerSecond
) -> RadPerSecond:
    """Where a fan settles that nothing holds back: K ω + R (I_c + (I_w − I_c)(ω/ω_w)²) = V − V_b, solved for ω.

    ``I_w`` is the current at ``omega_w``, ``I_c`` that of friction alone.
    """
    return (
        2
        * larger(V - V_b - I_c * R, NO_VOLTS)
        / (
            K_e
            + sqrt(K_e**2 + 4 * R * larger(I_w - I_c, NO_AMPERES) / omega_w**2 * larger(V - V_b - I_c * R, NO_VOLTS))
        )
    )


@rule("V_m", source=MODEL, title="Volts the motor needs")
def motor_volts(K_e: MotorConstant, omega: RadPerSecond, I: Ampere, R: Ohm, V_b: Volt) -> Volt:
    return K_e * omega + I * R + V_b


@rule("I", source="torque over the constant, friction added", title="Current for a torque")
def current_for(T: NewtonMetre, K_e: MotorConstant, I_0: Ampere) -> Ampere:
    return T / K_e + I_0


@procedure(
    "I_η",
    "current",
    says="the maximum of shaft power over V I, searched",
    source="maximum of T ω / (V I), any friction",
)
def searched_best_current(V: float, V_b: float, I_c: float, I_s: float, K_e: float, b: float) -> float:
    """Current at the best efficiency with viscous friction; amperes."""
    return _best(V, V_b=V_b, I_c=I_c, I_s=I_s, K_e=K_e, b=b)[0]


@procedure("η_best", "fraction", says="the maximum of shaft power over V I, searched", source="the same maximum")
def searched_best_efficiency(V: float, V_b: float, I_c: float, I_s: float, K_e: float, b: float) -> float:
    """Best efficiency with viscous friction."""
    return _best(V, V_b=V_b, I_c=I_c, I_s=I_s, K_e=K_e, b=b)[1]


@lru_cache(maxsize=64)
def _best(V: float, V_b: float, I_c: float, I_s: float, K_e: float, b: float) -> tuple[float, float]:
    resistance = (V - V_b) / I_s

    def loss(current: float) -> float:
        omega = (V - V_b - current * resistance) / K_e
        return -(K_e * (current - I_c) - b * omega) * omega / (V * current)

    found = scipy.optimize.minimize_scalar(
        loss, bounds=(max(I_c, 1e-9 * I_s), I_s), method="bounded", options={"xatol": 1e-10 * I_s}
    )
    return float(found.x), float(-found.fun)


@rule("K_e", source="one over the speed constant, in SI units", title="Motor constant, from the speed constant")
def constant_from_kv(K_v: SpeedConstant) -> MotorConstant:
    return 1 / K_v


@rule("K_e", source="what the shaft gives at stall: T_s = K_e (I_s − I_0)", title="Motor constant, from stall torque")
def constant_from_torque(T_s: NewtonMetre, I_s: Ampere, I_0: Ampere) -> MotorConstant:
    return T_s / (I_s - I_0)


@rule(
    "R", source="T_s ω_0 / V = (I_s − I_0)² / I_s, solved for I_s; R = V / I_s", title="Resistance, from stall torque"
)
def resistance_from_torque(V: Volt, T_s: NewtonMetre, omega_0: RadPerSecond, I_0: Ampere) -> Ohm:
    return 2 * V / (2 * I_0 + T_s * omega_0 / V + sqrt((2 * I_0 + T_s * omega_0 / V) ** 2 - 4 * I_0**2))


@rule("V'", source="what the brushes leave of the rated volts", title="Volts past the brushes")
def volts_past_brushes(V: Volt, V_b: Volt) -> Volt:
    return V - V_b


@rule("R", source=OHM, title="Resistance, from stall current")
def resistance_from_stall(V: Volt, I_s: Ampere) -> Ohm:
    return V / I_s


@rule("R", source="as given", title="Resistance, given")
def resistance_given(R: Ohm) -> Ohm:
    return R


@rule("I_0", source="as given", title="No-load current, given")
def no_load_given(I_0: Ampere) -> Ampere:
    return I_0


@rule("I_0", source="T_s ω_0 / V = (I_s − I_0)² / I_s, solved for I_0", title="No-load current, from stall")
def no_load_from_power(V: Volt, T_s: NewtonMetre, omega_0: RadPerSecond, I_s: Ampere) -> Ampere:
    return I_s - sqrt(T_s * omega_0 * I_s / V)


@rule("I_0", source="T_s = K_e (I_s − I_0)", title="No-load current, from stall torque")
def no_load_from_torque(I_s: Ampere, T_s: NewtonMetre, K_e: MotorConstant) -> Ampere:
    return I_s - T_s / K_e


@rule("x", source="two ways to one constant", title="One way over the other")
def resistance_ratio(R_1: Ohm, R_2: Ohm) -> Ratio:
    return R_1 / R_2


@rule("x", source="two ways to one constant", title="One way over the other")
def constant_ratio(K_1: MotorConstant, K_2: MotorConstant) -> Ratio:
    return K_1 / K_2


ALPHA = "copper's resistance is linear: 1 / (234.5 + 25) per kelvin of the value at 25 °C"
TWO_NODES = "steady state of two nodes: winding to housing to air; " + ALPHA


@solved("T_w", start="T_a", source=TWO_NODES, title="Winding temperature")
def winding_temperature(
    T_w: Celsius, T_a: Celsius, I: Ampere, R_25: Ohm, R_wh: KelvinPerWatt, R_ha: KelvinPerWatt
) -> Celsius:
    return T_a + I**2 * R_25 * (COPPER_ZERO + T_w) / (COPPER_ZERO + REFERENCE) * (R_wh + R_ha)


@rule("I_th", source="the same steady state with the winding at its limit", title="Current the winding bears for good")
def winding_allowed(T_lim: Celsius, T_a: Celsius, R_25: Ohm, R_wh: KelvinPerWatt, R_ha: KelvinPerWatt) -> Ampere:
    return sqrt((T_lim - T_a) / ((R_wh + R_ha) * R_25 * (COPPER_ZERO + T_lim) / (COPPER_ZERO + REFERENCE)))


@rule("C_w", source="mass × 385 J/(kg·K)", title="Heat capacity of the winding")
def winding_capacity(m: Kilogram) -> HeatCapacity:
    return m * COPPER_HEAT


@rule("C_h", source="mass × 460 J/(kg·K)", title="Heat capacity of the housing")
def housing_capacity(m: Kilogram) -> HeatCapacity:
    return m * IRON_HEAT


@rule("τ_w", source="winding against its housing", title="Thermal time constant of the winding")
def winding_time(C_w: HeatCapacity, R_wh: KelvinPerWatt) -> Second:
    return C_w * R_wh


@rule("ΔT_w", source="heat × resistance", title="Rise of the winding")
def rise(P: Watt, R_wh: KelvinPerWatt) -> Kelvin:
    return P * R_wh


@rule(
    "I_b",
    source="lowest smooth speed (I_b − I_w) R / K_e, solved for the current",
    title="Breakaway current, as the slowest speed tells it",
)
def breakaway_from_speed(I_w: Ampere, omega: RadPerSecond, R: Ohm, K_e: MotorConstant) -> Ampere:
    return I_w + omega * K_e / R


@rule("ω_min", source="measured", title="Lowest smooth speed")
def smooth_as_measured(omega: RadPerSecond) -> RadPerSecond:
    return omega


@rule("V_s", source="a share of what it was made for", title="Volts that are put up with")
def volts_by_share(V: Volt, s: Ratio) -> Volt:
    return V * s


@rule("q", source="what the model says over what was measured", title="Breakaway model over the measured speed")
def smooth_agreement(omega: RadPerSecond, omega_measured: RadPerSecond) -> Ratio:
    return omega / omega_measured


@rule("D_b", source="the current at which it starts, times what is round the circuit", title="Breakaway duty")
def breakaway_duty(I_b: Ampere, R: Ohm, V_lost: Volt, V: Volt) -> Fraction:
    return (I_b * R + V_lost) / V


@rule("D_s", source="a watch for counts begins where it must turn, or where the program begins", title="Watched from")
def watched_from(D_t: Fraction, D_1: Fraction) -> Fraction:
    return larger(D_t, D_1)


@rule("t_b", source="a ramp passes the duty that breaks it away", title="From the order to the first turn")
def first_turn(D_b: Fraction, D_0: Fraction, t_r: Second, D_w: Fraction) -> Second:
    """``D_0`` is where the ramp begins; ``t_r`` is its time from nothing to the working duty ``D_w``."""
    return larger(NO_TIME, (D_b - D_0) * t_r / D_w)


@rule(
    "ω_min",
    source="once loose, the volts that broke it away drive it on: (I_b − I_w) R / K_e",
    title="Lowest smooth speed, open loop",
)
def lowest_open(I_b: Ampere, I_w: Ampere, R: Ohm, K_e: MotorConstant) -> RadPerSecond:
    return larger(NO_SPEED, (I_b - I_w) * R / K_e)


@rule(
    "ω_min,cl", source="a proportional loop divides the dip by 1 + K_p V / K_e", title="Lowest speed by loop stiffness"
)
def lowest_stiff(omega_o: RadPerSecond, K_p: LoopGain, V: Volt, K_e: MotorConstant) -> RadPerSecond:
    return omega_o / (1 + K_p * V / K_e)


@rule("ω_q", source="one count a control period", title="Lowest speed by the encoder")
def lowest_counted(dtheta: Radian, T_c: Second) -> RadPerSecond:
    return dtheta / T_c


@rule("ω_min,cl", source="the larger of the two", title="Lowest smooth speed, closed loop")
def lowest_closed(omega_1: RadPerSecond, omega_2: RadPerSecond) -> RadPerSecond:
    return larger(omega_1, omega_2)


@rule("ω_out", source="gear ratio", title="At the output")
def at_output(omega: RadPerSecond, N: Ratio) -> RadPerSecond:
    return omega / N
