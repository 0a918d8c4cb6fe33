"""The rules of discrete switches: losses, heat, gates, sharing, protection. SI units throughout."""

from __future__ import annotations

from ..algebra.expressions import exp, larger, log, sqrt
from ..algebra.kinds import (
    Ampere,
    Celsius,
    Coulomb,
    Farad,
    Fraction,
    Henry,
    Hertz,
    Joule,
    KelvinPerWatt,
    Number,
    Ohm,
    Ratio,
    Second,
    SquareMetre,
    Volt,
    Watt,
)
from ..algebra.nodes import Constant
from ..algebra.rules import rule, solved
from .nothing import NO_VOLTS

REFERENCE = Constant("25 °C", 25.0, "temperature")
BALOGH = "L. Balogh, Fundamentals of MOSFET and IGBT Gate Driver Circuits (from memory)"
HEAT = "steady state: junction over air = heat × thermal resistance"
LINEAR = "on-resistance linear from 25 °C to its factor at the junction limit"
PVC = Constant("115 A·√s/mm²", 115e6, "fuse factor", "IEC 60364-5-54, copper in PVC (from memory)")
FOUR = Constant("4", 4.0, "number", "common practice, no source: 3 to 4 times what rings")
FORCED_GAIN = Constant("10", 10.0, "number", "common practice, no source")


@rule("P_on", source="I²R, hot", title="Conduction loss")
def conduction_loss(I: Ampere, R: Ohm, h: Ratio) -> Watt:
    return I**2 * R * h


@rule("P_sw", source="½ V I (t_r + t_f) f; " + BALOGH, title="Switching loss")
def switching_loss(V: Volt, I: Ampere, t_r: Second, t_f: Second, f: Hertz) -> Watt:
    return V * I * (t_r + t_f) * f / 2


@rule("P_dt", source="the body diode carries the current twice each period", title="Dead-time loss")
def dead_time_loss(V_F: Volt, I: Ampere, t_d: Second, f: Hertz) -> Watt:
    return 2 * V_F * I * t_d * f


@rule("P_rr", source="recovered charge at the bus voltage", title="Recovery loss")
def recovery_loss(Q_rr: Coulomb, V: Volt, f: Hertz) -> Watt:
    return Q_rr * V * f


@rule("P_oss", source="energy of the output capacitance, each period", title="Output-capacitance loss")
def output_loss(C: Farad, V: Volt, f: Hertz) -> Watt:
    return C * V**2 * f / 2


@rule(
    "P_g",
    source="charge × voltage × frequency: it heats driver and gate resistor, not the junction",
    title="Gate-drive power",
)
def gate_power(Q_g: Coulomb, V_g: Volt, f: Hertz) -> Watt:
    return Q_g * V_g * f


@solved("T_j", start="T_a", source=HEAT + "; " + LINEAR, title="Junction temperature")
def junction(
    T_j: Celsius, T_a: Celsius, R_th: KelvinPerWatt, I: Ampere, R: Ohm, h: Ratio, T_lim: Celsius, P_0: Watt
) -> Celsius:
    return T_a + R_th * (I**2 * R * (1 + (h - 1) * (T_j - REFERENCE) / (T_lim - REFERENCE)) + P_0)


@rule("I_max", source=HEAT + " at the limit", title="Current its heat allows")
def allowed_current(T_lim: Celsius, T_a: Celsius, R_th: KelvinPerWatt, R: Ohm, h: Ratio) -> Ampere:
    return sqrt((T_lim - T_a) / (R_th * R * h))


@rule("I_run", source="loop gain R_th · dP/dT = 1; " + LINEAR, title="Runaway above")
def runaway_current(T_lim: Celsius, R_th: KelvinPerWatt, R: Ohm, h: Ratio) -> Ampere:
    return sqrt((T_lim - REFERENCE) / (R_th * R * (h - 1)))


@rule("R_SA", source=HEAT, title="Heat sink needed, sink to air")
def heat_sink(T_j: Celsius, T_a: Celsius, P: Watt, R_JC: KelvinPerWatt, R_CS: KelvinPerWatt) -> KelvinPerWatt:
    return (T_j - T_a) / P - R_JC - R_CS


@rule("I_g,on", source=BALOGH, title="Gate current, turning on")
def gate_current_on(V_drv: Volt, V_pl: Volt, R: Ohm) -> Ampere:
    """None flows into a gate that is driven below its plateau: it is never on, and turning on takes for ever."""
    return larger(V_drv - V_pl, NO_VOLTS) / R


@rule("I_g,off", source=BALOGH, title="Gate current, turning off")
def gate_current_off(V_pl: Volt, R: Ohm) -> Ampere:
    return V_pl / R


@rule("t", source=BALOGH + ": switching charge over gate current", title="Switching time")
def switching_time(Q_sw: Coulomb, I_g: Ampere) -> Second:
    return Q_sw / I_g


@rule("R_g", source="series resistances add", title="Resistance in the gate's way")
def gate_resistance(R_drv: Ohm, R_ext: Ohm, R_int: Ohm) -> Ohm:
    return R_drv + R_ext + R_int


@rule(
    "t_delay",
    source="the gate discharges to its plateau before the current moves: R C ln(V_g/V_p), C = (Q_g − Q_sw)/V_g; "
    + BALOGH,
    title="Turn-off delay",
)
def turn_off_delay(R: Ohm, Q_g: Coulomb, Q_sw: Coulomb, V_g: Volt, V_p: Volt) -> Second:
    return R * (Q_g - Q_sw) / V_g * log(larger(V_g, V_p) / V_p)


@rule("R", source="in series", title="Resistance, turning off")
def series_resistance(R_1: Ohm, R_2: Ohm) -> Ohm:
    return R_1 + R_2


@rule("t", source="a capacitance of Q/V discharged through R: " + BALOGH, title="Gate falls")
def gate_discharge(R: Ohm, Q: Coulomb, V_Q: Volt, V_1: Volt, V_2: Volt) -> Second:
    return R * Q / V_Q * log(V_1 / V_2)


@rule("t_off", source="the delay, then the edge", title="Until it is off")
def until_off(t_delay: Second, t_edge: Second) -> Second:
    return t_delay + t_edge


DRAIN_SHARE = Constant("2/3", 2 / 3, "fraction", "a value of its class, assumed; no source")
LEAST_SHARE = Constant("10 %", 0.1, "fraction", "what a sheet's rounding may leave of it; assumed")
SPREAD = Constant("1.3", 1.3, "number", "common practice, no source: a third over a sheet's typical charge")


@rule("Q_gd", source="share of its class", title="Charge, gate to drain")
def drain_charge(Q_sw: Coulomb) -> Coulomb:
    return DRAIN_SHARE * Q_sw


@rule("Q_i", source="what of the switching charge is not the plateau's", title="Charge while the current moves")
def current_charge(Q_sw: Coulomb, Q_gd: Coulomb) -> Coulomb:
    return larger(Q_sw - Q_gd, LEAST_SHARE * Q_sw)


@rule("t_d", source="slowest turn-off and the driver's mismatch", title="Dead time needed")
def dead_time(t_off: Second, t_mismatch: Second) -> Second:
    return t_off + t_mismatch


@rule("t_off", source="spread of parts over their sheet", title="Turn-off of the slowest part")
def of_any_part(t_off: Second) -> Second:
    return SPREAD * t_off


@rule(
    "V_m",
    source="charge through the Miller capacitance in the turn-off resistance, upper bound",
    title="Gate lifted by",
)
def miller_lift(R_off: Ohm, C_gd: Farad, V: Volt, t_r: Second) -> Volt:
    return R_off * C_gd * V / t_r


@rule("C_g", source=BALOGH + ": slope of the gate-charge curve beside its flat part", title="Gate's own capacitance")
def gate_capacitance(Q_g: Coulomb, Q_sw: Coulomb, V_g: Volt, C_gd: Farad) -> Farad:
    return (Q_g - Q_sw) / V_g + C_gd


@rule(
    "V_m",
    source="a ramp through the Miller capacitance into the turn-off resistance and the gate's own capacitance",
    title="Gate lifted by",
)
def gate_lift(R_off: Ohm, C_gd: Farad, V: Volt, t_r: Second, C_g: Farad) -> Volt:
    return R_off * C_gd * V / t_r * (1 - exp(-t_r / (R_off * C_g)))


@rule(
    "Q_b", source=BALOGH + ": gate charge, and what leaks while it is on", title="Charge from the bootstrap capacitor"
)
def bootstrap_charge(Q_g: Coulomb, I_q: Ampere, t_on: Second) -> Coulomb:
    return Q_g + I_q * t_on


@rule("C_b", source=BALOGH, title="Bootstrap capacitor, at least")
def bootstrap_capacitor(Q: Coulomb, dV: Volt) -> Farad:
    return Q / dV


@rule("D_max", source="the capacitor is refreshed while the low side is on", title="Duty at most")
def bootstrap_duty(t_min: Second, f: Hertz) -> Fraction:
    return larger(1 - t_min * f, 0)


@rule(
    "E_av",
    source="energy of the coil, and of the supply while it falls: ½ L I² V_av/(V_av − V)",
    title="Avalanche energy",
)
def avalanche_energy(L: Henry, I: Ampere, V_av: Volt, V: Volt) -> Joule:
    return L * I**2 / 2 * V_av / (V_av - V)


@rule("R_s", source="characteristic impedance of the ringing", title="Snubber resistor")
def snubber_resistor(L: Henry, C: Farad) -> Ohm:
    return sqrt(L / C)


@rule("C_s", source="common practice, no source: 3 to 4 times what rings", title="Snubber capacitor")
def snubber_capacitor(k: Number, C: Farad) -> Farad:
    return k * C


@rule("P_s", source="the capacitor is filled and emptied each period", title="Heat in the snubber resistor")
def snubber_heat(C: Farad, V: Volt, f: Hertz) -> Watt:
    return C * V**2 * f


@rule(
    "P_C",
    source="charged and discharged each period; the swing is twice the supply in locked anti-phase",
    title="Heat from the capacitor across the terminals",
)
def terminal_capacitor_heat(k: Number, C: Farad, V: Volt, f: Hertz) -> Watt:
    return C * (k * V) ** 2 * f


@rule(
    "t_wire", source="adiabatic: I² t = (k S)², IEC 60364-5-54 (from memory)", title="Wire behind the fuse bears it for"
)
def wire_endures(S: SquareMetre, I: Ampere) -> Second:
    return (PVC * S / I) ** 2


@rule("V_sh", source="Ohm's law", title="Volts across the shunt")
def shunt_volts(I: Ampere, R: Ohm) -> Volt:
    return I * R


@rule("P_sh", source="I²R", title="Heat in the shunt")
def shunt_heat(I: Ampere, R: Ohm) -> Watt:
    return I**2 * R


@rule("counts", source="full scale in 2ⁿ steps", title="Converter counts")
def converter_counts(V: Volt, g: Ratio, V_ref: Volt, n: Number) -> Number:
    return V * g / V_ref * 2**n


@rule("I_step", source="one step of the converter", title="Current of one count")
def current_step(V_ref: Volt, n: Number, g: Ratio, R: Ohm) -> Ampere:
    return V_ref / 2**n / (g * R)


@rule("I_B", source="Ohm's law", title="Base current")
def base_current(V_pin: Volt, V_BE: Volt, R_B: Ohm) -> Ampere:
    return (V_pin - V_BE) / R_B


@rule("I_C", source="collector over base current of the saturation voltage's own condition", title="Saturates up to")
def saturated_at(I_B: Ampere, beta: Ratio) -> Ampere:
    return beta * I_B


@rule("R_B", source="Ohm's law; common practice, no source: forced gain 10", title="Base resistor, at most")
def base_resistor(V_pin: Volt, V_BE: Volt, I_C: Ampere) -> Ohm:
    return (V_pin - V_BE) * FORCED_GAIN / I_C


HOT, ONE_WATT = (
    Constant("1.8", 1.8, "ratio", "common practice, no source: a MOSFET's resistance near its limit over 25 °C"),
    Constant("1 W", 1.0, "power", "common practice, no source: what a tab in free air sheds without growing too hot"),
)


@rule("R_on", source="Ohm's law, leads and clips taken off", title="On-resistance, as read")
def donor_resistance(V: Volt, I: Ampere, R_l: Ohm) -> Ohm:
    return V / I - R_l


@rule("R_hot", source="common practice: 1.8 times", title="On-resistance, hot")
def donor_hot(R: Ohm) -> Ohm:
    return R * HOT


@rule("I", source="a watt in the hot resistance", title="Current in free air, without a sink")
def donor_free_air(R: Ohm) -> Ampere:
    return sqrt(ONE_WATT / (R * HOT))


@rule(
    "t_dwell",
    source="coil current dies through its diode, contacts move, then bounce; common practice for the bounce",
    title="Wait before power, after changing over",
)
def relay_dwell(t_decay: Second, t_release: Second, t_bounce: Second) -> Second:
    return t_decay + t_release + t_bounce


@rule("t_decay", source="motor current through the flyback diode: L/R · ln(1 + I R / V_F)", title="Current dies in")
def current_decay(L: Henry, R: Ohm, I: Ampere, V_F: Volt) -> Second:
    return L / R * log(1 + I * R / V_F)
