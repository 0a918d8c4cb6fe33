"""The rules of a driver as a whole part."""

from __future__ import annotations

from ..algebra.expressions import larger, sqrt
from ..algebra.kinds import (
    Ampere,
    Celsius,
    Hertz,
    Kelvin,
    KelvinPerWatt,
    MotorConstant,
    NewtonMetre,
    Number,
    Ohm,
    RadPerSecond,
    Ratio,
    Second,
    SenseGain,
    Volt,
    Watt,
)
from ..algebra.nodes import Constant
from ..algebra.rules import rule, solved
from .nothing import NO_AMPERES, NO_VOLTS, NO_WATTS

REFERENCE = Constant("25 °C", 25.0, "temperature")
LEAST = Constant("1 pV", 1e-12, "voltage")
"""Keeps a quotient of nothing by nothing at nothing."""
HEADROOM = Constant("1.25", 1.25, "ratio", "common practice, no source; on current it is 1.56 on heat")
CIRCUIT = "Kirchhoff's voltage law round the motor's circuit"
HEAT = "steady state: junction over air = heat × thermal resistance"


@rule("R", source="series resistances add", title="Resistance round the circuit")
def loop_resistance(R_source: Ohm, R_wire: Ohm, R_on: Ohm, R_leads: Ohm, R_m: Ohm) -> Ohm:
    return R_source + R_wire + R_on + R_leads + R_m


@rule("R_s", source="series resistances add", title="Source and its wire")
def feed_resistance(R_source: Ohm, R_wire: Ohm) -> Ohm:
    return R_source + R_wire


@rule("I_s", source=CIRCUIT, title="Stall current in the circuit")
def stall_in_circuit(V_oc: Volt, V_0: Volt, V_b: Volt, R: Ohm) -> Ampere:
    return larger(V_oc - V_0 - V_b, NO_VOLTS) / R


@rule("I_rev", source=CIRCUIT + ", back-EMF added", title="Current on sudden reversal")
def reversal_in_circuit(V_oc: Volt, V_0: Volt, V_b: Volt, R: Ohm, K_e: MotorConstant, omega: RadPerSecond) -> Ampere:
    return (V_oc - V_0 - V_b + K_e * omega) / R


@rule("I_brake", source=CIRCUIT + ", motor shorted", title="Braking current")
def braking_in_circuit(K_e: MotorConstant, omega: RadPerSecond, V_0: Volt, V_b: Volt, R: Ohm) -> Ampere:
    return larger(K_e * omega - V_0 - V_b, NO_VOLTS) / R


@rule("R_hot", source="the part's own factor at its junction limit", title="On-resistance, hot")
def hot_resistance(R_on: Ohm, h: Ratio) -> Ohm:
    return R_on * h


@rule("R_on/n", source="joined channels lie side by side", title="On-resistance, channels joined")
def joined_resistance(R_on: Ohm, n: Number) -> Ohm:
    return R_on / n


@rule("n I", source="joined channels share the current", title="Rated current, channels joined")
def joined_current(I: Ampere, n: Number) -> Ampere:
    return n * I


@rule("V_drop", source="fixed drop and on-resistance", title="Drop in the driver")
def driver_drop(V_0: Volt, R_hot: Ohm, I: Ampere) -> Volt:
    return V_0 + R_hot * I


@rule("V_d", source="fixed drops add", title="Volts lost at any current")
def fixed_drops(V_0: Volt, V_b: Volt) -> Volt:
    return V_0 + V_b


@rule("V_bridge", source=CIRCUIT, title="Volts the bridge must switch through")
def bridge_volts(V_m: Volt, V_0: Volt, R_hot: Ohm, R_leads: Ohm, I: Ampere) -> Volt:
    return V_m + V_0 + (R_hot + R_leads) * I


@rule("ω_top", source="full duty, " + CIRCUIT, title="Top speed under load")
def top_speed(V_oc: Volt, V_0: Volt, V_b: Volt, I: Ampere, R: Ohm, K_e: MotorConstant) -> RadPerSecond:
    # Where the volts do not reach to push the current it stands: nothing turns it back.
    return larger(V_oc - V_0 - V_b - I * R, NO_VOLTS) / K_e


@rule("1.25 I", source="common practice, no source", title="Running current with headroom")
def with_headroom(I: Ampere) -> Ampere:
    return HEADROOM * I


@rule("I_peak", source="the worst of what the driver may see", title="Worst peak current")
def worst_of(I_1: Ampere, I_2: Ampere) -> Ampere:
    return larger(I_1, I_2)


@rule("P_0", source="fixed drop, switching and own current", title="Heat apart from the on-resistance")
def fixed_heat(V_0: Volt, I: Ampere, V: Volt, t_sw: Second, f: Hertz, I_q: Ampere) -> Watt:
    return V_0 * I + V * I * t_sw * f / 2 + V * I_q


@rule(
    "P_sw",
    source="½ V I (t_r + t_f) f; L. Balogh, gate-drive fundamentals (from memory)",
    title="Switching loss",
)
def switching_loss(V: Volt, I: Ampere, t_sw: Second, f: Hertz) -> Watt:
    return V * I * t_sw * f / 2


@rule("T_a", source="what stands beside it warms its air", title="Air at the board")
def air_at_board(T_a: Celsius, dT: Kelvin) -> Celsius:
    return T_a + dT


@rule("h_j", source="on-resistance linear from 25 °C to its factor at the junction limit", title="Resistance by heat")
def warm_factor(h: Ratio, T_j: Celsius, T_lim: Celsius) -> Ratio:
    return 1 + (h - 1) * (T_j - REFERENCE) / (T_lim - REFERENCE)


@rule("P_on", source="I²R at the junction's temperature", title="Conduction loss")
def conduction_loss(I: Ampere, R_on: Ohm, h: Ratio, T_j: Celsius, T_lim: Celsius) -> Watt:
    return I**2 * R_on * (1 + (h - 1) * (T_j - REFERENCE) / (T_lim - REFERENCE))


@rule("P", source="sum of the losses", title="Heat in the driver")
def total_heat(P_on: Watt, P_0: Watt) -> Watt:
    return P_on + P_0


@solved("T_j", start="T_a", source=HEAT + "; on-resistance linear in temperature", title="Junction temperature")
def junction_temperature(
    T_j: Celsius, T_a: Celsius, R_th: KelvinPerWatt, I: Ampere, R_on: Ohm, h: Ratio, T_lim: Celsius, P_0: Watt
) -> Celsius:
    return T_a + R_th * (I**2 * R_on * (1 + (h - 1) * (T_j - REFERENCE) / (T_lim - REFERENCE)) + P_0)


@rule("P_max", source=HEAT, title="Heat it may shed")
def heat_allowed(T_lim: Celsius, T_a: Celsius, R_th: KelvinPerWatt, V: Volt, I_q: Ampere) -> Watt:
    return (T_lim - T_a) / R_th - V * I_q


@rule(
    "I_both",
    source="heat adds, and conduction grows with the square",
    title="Currents on one part, as heat counts them",
)
def together(I_1: Ampere, I_2: Ampere) -> Ampere:
    return sqrt(I_1**2 + I_2**2)


@rule("P_n", source=HEAT + "; the other channel's share, at the limit", title="Heat of another channel")
def heat_at_limit(I: Ampere, a: Volt, R_hot: Ohm) -> Watt:
    return R_hot * I**2 + a * I


@rule("P_left", source="heat is shared by the channels of a part", title="Heat left for this channel")
def heat_left(P_max: Watt, P_n: Watt) -> Watt:
    return P_max - P_n


@rule("a", source="volts lost that do not grow with the current", title="Volts lost per ampere")
def linear_loss(V_0: Volt, V: Volt, t_sw: Second, f: Hertz) -> Volt:
    return V_0 + V * t_sw * f / 2


@rule(
    "I_allow",
    source="R I² + a I = P_max, solved for I with the on-resistance at its limit",
    title="Current its heat allows",
)
def current_allowed(P_max: Watt, a: Volt, R_hot: Ohm) -> Ampere:
    return 2 * larger(P_max, NO_WATTS) / larger(a + sqrt(a**2 + 4 * R_hot * larger(P_max, NO_WATTS)), LEAST)


@rule("k/n", source="each of the joined channels senses its own share", title="Current sense, channels joined")
def joined_sense(k: SenseGain, n: Number) -> SenseGain:
    return k / n


@rule("V_sense", source="gain of the part", title="Sense signal at the peak")
def sense_volts(k: SenseGain, I: Ampere) -> Volt:
    return k * I


@rule("T_s", source=CIRCUIT + ", at standstill, supply flat", title="Stall torque that is left")
def stall_torque_left(K_e: MotorConstant, I_s: Ampere, I_0: Ampere) -> NewtonMetre:
    return K_e * larger(I_s - I_0, NO_AMPERES)
