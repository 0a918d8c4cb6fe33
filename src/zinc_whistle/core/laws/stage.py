"""The rules that put a discrete stage together. SI units throughout."""

from __future__ import annotations

from ..algebra.expressions import larger, smaller, sqrt, total
from ..algebra.kinds import (
    Ampere,
    Celsius,
    Coulomb,
    Euro,
    Euros,
    Farad,
    Fraction,
    HeatCapacity,
    Henry,
    Hertz,
    JouleIntegral,
    Kelvin,
    KelvinPerWatt,
    Number,
    Ohm,
    Ratio,
    Second,
    SenseGain,
    SquareMetre,
    Volt,
    Watt,
)
from ..algebra.nodes import Constant
from ..algebra.rules import rule
from .nothing import NO_VOLTS
from .switch import BALOGH, HEAT, PVC

TWICE = Constant("2", 2.0, "number")
GATE_ROOM = Constant(
    "1.2 V", 1.2, "voltage", "common practice, no source: nearer to its threshold a channel is a resistor of any size"
)
BOOT_DROP = Constant("0.8 V", 0.8, "voltage", "common practice, no source: a fast silicon bootstrap diode")
FUSE_SHARE = Constant("0.75", 0.75, "ratio", "common practice, no source: 75 % of the rating for good")
TEN_KELVIN = Constant(
    "10 K", 10.0, "temperature difference", "common practice, no source: life doubles each 10 K cooler"
)
SELF_HEAT = Constant(
    "5 K", 5.0, "temperature difference", "common practice, no source: core over surface at rated ripple"
)
TWO = Constant("2", 2.0, "number")


@rule(
    "σ",
    source="conductances share: one at the low end of the spread, the others at the high end",
    title="Share of the busiest switch",
)
def busiest_share(n: Number, s: Fraction) -> Ratio:
    return (1 + s) / ((1 + s) + (n - 1) * (1 - s))


@rule("I_1", source="share of the whole", title="Current of the busiest switch")
def busiest_current(I: Ampere, sigma: Ratio) -> Ampere:
    return I * sigma


@rule("R_n", source="parallel conductances add", title="On-resistance of one place")
def in_parallel(R: Ohm, n: Number) -> Ohm:
    return R / n


@rule("R", source="series resistances add", title="On-resistance of the way")
def in_series(R_1: Ohm, R_2: Ohm) -> Ohm:
    return R_1 + R_2


@rule("1−D", source="the rest of the period", title="Share of the period, off")
def rest_of(D: Fraction) -> Fraction:
    return 1 - D


@rule("I_h", source="a part of the time, as the heat counts it", title="Current as its heat counts it")
def counted(I: Ampere, d: Fraction) -> Ampere:
    return I * sqrt(d)


@rule(
    "R_g",
    source=BALOGH + ": the driver is shared by n gates, the resistor is each gate's own",
    title="Resistance in one gate's way",
)
def gate_way(n: Number, R_drv: Ohm, R_ext: Ohm, R_int: Ohm) -> Ohm:
    return n * R_drv + R_ext + R_int


@rule("R_g", source=BALOGH + ": driver and resistor are shared by n tied gates", title="Resistance in one gate's way")
def tied_way(n: Number, R_drv: Ohm, R_ext: Ohm, R_int: Ohm) -> Ohm:
    return n * (R_drv + R_ext) + R_int


@rule("I_g", source="never more than the output gives, shared", title="Gate current")
def within_output(I: Ampere, I_max: Ampere, n: Number) -> Ampere:
    return smaller(I, I_max / n)


@rule("P_d", source="a diode carries the motor's current while the switch is off", title="Heat of its diode")
def diode_heat(V_F: Volt, I: Ampere, d: Fraction) -> Watt:
    return V_F * I * d


@rule("P_lin", source="losses that grow with the current", title="Losses in proportion to the current")
def linear_losses(P_sw: Watt, P_dt: Watt, P_d: Watt) -> Watt:
    return P_sw + P_dt + P_d


@rule("P_fix", source="losses that come with each period, at any current", title="Losses at any current")
def fixed_losses(P_rr: Watt, P_oss: Watt) -> Watt:
    return P_rr + P_oss


@rule("P_0", source="sum", title="Losses apart from the on-resistance")
def other_losses(P_lin: Watt, P_fix: Watt) -> Watt:
    return P_lin + P_fix


@rule(
    "R_th",
    source="in series; the sink carries the heat of N switches, each as hot as the busiest",
    title="Junction to air, on the sink",
)
def on_sink(R_JC: KelvinPerWatt, R_CS: KelvinPerWatt, R_SA: KelvinPerWatt, N: Number) -> KelvinPerWatt:
    return R_JC + R_CS + N * R_SA


@rule("R_SA", source=HEAT + "; shared by N switches", title="Heat sink needed, sink to air")
def sink_for(
    T_lim: Celsius, T_a: Celsius, P: Watt, R_JC: KelvinPerWatt, R_CS: KelvinPerWatt, N: Number
) -> KelvinPerWatt:
    return ((T_lim - T_a) / P - R_JC - R_CS) / N


@rule("P_lim", source=HEAT + ", what is left at the junction's limit", title="Heat it may shed")
def heat_left(T_lim: Celsius, T_a: Celsius, R_th: KelvinPerWatt, P_fix: Watt) -> Watt:
    return (T_lim - T_a) / R_th - P_fix


@rule(
    "R_eff", source="I²R of the busiest switch, for each ampere of the motor squared", title="Resistance that heats it"
)
def heating_resistance(R: Ohm, h: Ratio, d: Fraction, sigma: Ratio) -> Ohm:
    return R * h * d * sigma**2


@rule("a", source="losses in proportion, for each ampere", title="Volts lost per ampere")
def volts_per_ampere(P_lin: Watt, I: Ampere) -> Volt:
    return P_lin / I


@rule("I_allow", source="the least of what its switches allow", title="Current its heat allows")
def lesser(I_1: Ampere, I_2: Ampere) -> Ampere:
    return smaller(I_1, I_2)


@rule("T_j", source="the hottest of its switches", title="Hottest junction")
def hotter(T_1: Celsius, T_2: Celsius) -> Celsius:
    return larger(T_1, T_2)


@rule("P_n", source="each of n alike", title="Heat of one place")
def of_place(P: Watt, n: Number) -> Watt:
    return P * n


@rule("P", source="sum", title="Heat together")
def heat_sum(P_1: Watt, P_2: Watt) -> Watt:
    return P_1 + P_2


@rule("k V", source="school of the build", title="Voltage rating wanted")
def standoff(k: Ratio, V: Volt) -> Volt:
    return k * V


@rule("V_ring", source="½ L I² into ½ C V², or L dI/dt, whichever is less", title="Ringing over the supply")
def ringing(V: Volt, L: Henry, I: Ampere, C: Farad, t: Second) -> Volt:
    return V + smaller(I * sqrt(L / C), L * I / t)


@rule("V_g,low", source="a regulator without headroom gives what is left", title="Gate supply, supply flat")
def gate_supply_left(V_g: Volt, V_flat: Volt, V_do: Volt) -> Volt:
    return smaller(V_g, V_flat - V_do)


@rule(
    "R_V",
    source="estimated from the specified point: a channel's resistance goes with 1/(V_g − V_th), the largest threshold",
    title="On-resistance at these gate volts",
)
def at_gate_volts(R: Ohm, V_spec: Volt, V_g: Volt, V_th: Volt) -> Ohm:
    """The specified one where the gate has its volts or more; no value where it does not come past its threshold."""
    return R * larger(1, (V_spec - V_th) / larger(V_g - V_th, NO_VOLTS))


@rule("V_th,max", source="common practice, no source: about twice the lowest", title="Threshold, highest")
def highest_threshold(V_th: Volt) -> Volt:
    return TWICE * V_th


@rule("V_on", source="the largest threshold and a margin", title="Gate volts to be on at all")
def on_from(V_th: Volt) -> Volt:
    return V_th + GATE_ROOM


@rule("V_GS,hi", source="the bootstrap diode takes its drop", title="Gate voltage, high side")
def after_boot_diode(V_g: Volt) -> Volt:
    return V_g - BOOT_DROP


@rule("Q_n", source="n gates", title="Gate charge of one place")
def charge_of(Q: Coulomb, n: Number) -> Coulomb:
    return Q * n


@rule("t_on", source="a period, at most", title="Longest on-time")
def on_time(D: Fraction, f: Hertz) -> Second:
    return D / f


@rule("V_hi", source="the gate's voltage stands on the supply", title="At the driver's high side")
def high_side_volts(V: Volt, V_g: Volt) -> Volt:
    return V + V_g


@rule("P_drv", source="all of the gate power, at the worst", title="Heat in the gate driver")
def driver_heat(P_g: Watt, n: Number) -> Watt:
    return P_g * n


@rule("T", source=HEAT, title="Temperature")
def warmed(T_a: Celsius, P: Watt, R_th: KelvinPerWatt) -> Celsius:
    return T_a + P * R_th


@rule("I_d", source="mean of the freewheeling current", title="Diode, mean current")
def diode_mean(I: Ampere, d: Fraction) -> Ampere:
    return I * d


@rule("V_m", source="a source that follows its gate", title="What the motor gets from a follower")
def follower_volts(V_g: Volt, V_pl: Volt) -> Volt:
    return V_g - V_pl


@rule("V_lost", source="a follower gives what its gate allows, and of a lower supply all", title="Lost in a follower")
def follower_lost(V: Volt, V_m: Volt) -> Volt:
    return larger(V - V_m, NO_VOLTS)


@rule("P_f", source="the rest of the supply stands across the switch", title="Heat of a follower")
def follower_heat(V: Volt, V_m: Volt, I: Ampere) -> Watt:
    return (V - V_m) * I


@rule("I_fuse", source="common practice, no source: 75 % of the rating for good", title="Fuse bears for good")
def fuse_for_good(I_n: Ampere) -> Ampere:
    return FUSE_SHARE * I_n


@rule("I²t", source="current held over the ramp", title="I²t of the start")
def start_integral(I: Ampere, t: Second) -> JouleIntegral:
    return I**2 * t


@rule("k²S²", source="adiabatic: I² t = (k S)², IEC 60364-5-54 (from memory)", title="I²t that the wire bears")
def wire_integral(S: SquareMetre) -> JouleIntegral:
    return (PVC * S) ** 2


@rule("T_c", source="air, and the core's own rise: 5 K at the rated ripple, with its square", title="Capacitor, core")
def core_temperature(T_a: Celsius, I: Ampere, I_r: Ampere) -> Celsius:
    return T_a + SELF_HEAT * (I / I_r) ** 2


@rule("L", source="common practice, no source: doubles for each 10 K below the limit", title="Capacitor's life")
def capacitor_life(L_0: Second, T_0: Celsius, T: Celsius) -> Second:
    return L_0 * 2 ** ((T_0 - T) / TEN_KELVIN)


@rule("t_over", source="adiabatic: C ΔT = P t, at the hot on-resistance", title="Bears a jam for")
def overload_time(C: HeatCapacity, T_lim: Celsius, T_j: Celsius, I: Ampere, R: Ohm, h: Ratio) -> Second:
    return C * (T_lim - T_j) / (I**2 * R * h)


@rule("P_B", source="base current from the pin's voltage", title="Heat of the base current")
def base_heat(V_BE: Volt, I_B: Ampere) -> Watt:
    return V_BE * I_B


@rule("h", source="the worse of the two", title="Hot factor of the way")
def worse_factor(h_1: Ratio, h_2: Ratio) -> Ratio:
    return larger(h_1, h_2)


@rule("D", source="never below nothing nor above all", title="Duty, at most")
def within_period(D: Fraction) -> Fraction:
    return smaller(larger(D, 0), 1)


@rule("Q/n", source="shared by n", title="Recovered charge for each transistor")
def charge_share(Q: Coulomb, n: Number) -> Coulomb:
    return Q / n


@rule("I_pk", source="package current, and the busiest's share", title="Peak current of the packages")
def peak_of_packages(I_pkg: Ampere, sigma: Ratio) -> Ampere:
    return I_pkg / sigma


@rule("f_max", source="common practice, no source: a tenth of the period spent in switching", title="PWM at most")
def fastest(t_on: Second, t_off: Second) -> Hertz:
    return 1 / (10 * (t_on + t_off))


@rule("k", source="Ohm's law, amplified", title="Sense gain")
def sense_gain(R: Ohm, g: Ratio) -> SenseGain:
    return R * g


@rule("N", source="all that share the sink", title="Switches on the sink")
def on_the_sink(n: Number, m: Number) -> Number:
    return n * m


@rule("V_DS", source="the weaker of the two", title="Voltage rating of the way")
def weaker(V_1: Volt, V_2: Volt) -> Volt:
    return smaller(V_1, V_2)


@rule("€", source="sum", title="Parts and board, for one piece")
def price_of(parts: Euros, boards: Euro, delivery: Euro, n: Number) -> Euro:
    return total(parts) + (boards + delivery) / n


@rule("€", source="price × number", title="Price of a line")
def line_price(p: Euro, n: Number) -> Euro:
    return p * n


@rule("t_off", source="the slower of the leg's two switches", title="Slowest turn-off")
def slower(t_1: Second, t_2: Second) -> Second:
    return larger(t_1, t_2)


@rule("ΔT", source="over the air", title="Rise over the air")
def rise(T: Celsius, T_a: Celsius) -> Kelvin:
    return T - T_a


@rule("V_s", source="Ohm's law, amplified", title="Sense signal at the start")
def sensed(I: Ampere, R: Ohm, g: Ratio) -> Volt:
    return I * R * g


@rule(
    "I²t",
    source="its melting I²t, and the current that it bears for good over the ramp",
    title="I²t that the fuse bears",
)
def fuse_bears(I2t: JouleIntegral, I_n: Ampere, t: Second) -> JouleIntegral:
    return I2t + I_n**2 * t


@rule("t_d", source="the time needed, with room", title="Dead time chosen")
def with_room(r: Ratio, t: Second) -> Second:
    return r * t


@rule("C_b", source="the capacitance needed, with room", title="Bootstrap capacitor chosen")
def with_room_farad(r: Ratio, C: Farad) -> Farad:
    return r * C


@rule("V_GS", source="a zener holds what lies above it, and adds nothing", title="Gate, clamped")
def clamped_gate(V: Volt, V_z: Volt) -> Volt:
    return smaller(V, V_z)
