"""The rules of what a test should read."""

from __future__ import annotations

from ..algebra.expressions import larger
from ..algebra.kinds import (
    Ampere,
    Celsius,
    Count,
    Fraction,
    Hertz,
    KelvinPerWatt,
    MotorConstant,
    Number,
    Ohm,
    RadPerSecond,
    Rate,
    Second,
    SenseGain,
    ViscousFriction,
    Volt,
    Watt,
)
from ..algebra.nodes import Constant
from ..algebra.rules import procedure, rule
from .nothing import NO_VOLTS

TEN = Constant("10", 10.0, "number")
ONE_SECOND = Constant("1 s", 1.0, "time")
HALF = Constant("½", 0.5, "fraction")


@rule("V_boot", source="the gate supply less the diode", title="Bootstrap capacitor")
def boot_volts(V_g: Volt, V_d: Volt) -> Volt:
    return V_g - V_d


@rule("I_held", source="Ohm's law at standstill", title="Current, held fast")
def held_current(V: Volt, V_b: Volt, R: Ohm) -> Ampere:
    return larger(V - V_b, NO_VOLTS) / R


@rule("V_s", source="sense gain × current", title="Sense signal at work")
def sensed_at(k: SenseGain, I: Ampere) -> Volt:
    return k * I


@rule("T_c", source="air + heat × the way from case to air", title="Case in the hottest air")
def case_temperature(T_a: Celsius, P: Watt, R: KelvinPerWatt, s: Fraction) -> Celsius:
    return T_a + P * R * (1 - s)


@rule("P_m", source="what does not leave by the shaft stays as heat", title="Heat in the motor at work")
def heat_kept(P_Cu: Watt, P_b: Watt, P_f: Watt) -> Watt:
    return P_Cu + P_b + P_f


@rule("T_h", source="air + heat × the way from housing to air", title="Motor's housing in the hottest air")
def housing_temperature(T_a: Celsius, P: Watt, R: KelvinPerWatt) -> Celsius:
    return T_a + P * R


@rule("I_idle", source="what the parts draw by themselves adds up", title="Idle current")
def idle_current(I_driver: Ampere, I_logic: Ampere) -> Ampere:
    return I_driver + I_logic


@rule("c_10", source="ten turns even out how well a mark is met", title="Counts for ten turns")
def counts_for_ten(c: Count) -> Count:
    return TEN * c


@rule("c_1", source="count rate × a second", title="Counts in a second")
def counts_in_a_second(r: Rate) -> Count:
    return r * ONE_SECOND


@rule("ω_0", source="motor equation, nothing coupled to the shaft", title="No-load speed in the circuit")
def free_speed(
    V: Volt, V_0: Volt, V_b: Volt, I_c: Ampere, R: Ohm, K_e: MotorConstant, b: ViscousFriction
) -> RadPerSecond:
    return larger(V - V_0 - V_b - I_c * R, NO_VOLTS) / (K_e + R * b / K_e)


@procedure("D", "fraction", says="nearest step of the timer to half", source="timer arithmetic")
def half_duty(span: Number) -> Fraction:
    """``span`` is the count that makes full duty."""
    return round(span / 2) / span


@rule("D_h", source="the program's levels begin where the motor starts", title="Duty at half, begun where it starts")
def half_beyond(D_0: Fraction, D: Fraction) -> Fraction:
    return D_0 + D * (1 - D_0)


@rule("t_j", source="the watch begins once the ramp is where the motor must turn", title="From the order to the stop")
def stop_without_counts(t_r: Second, t_w: Second) -> Second:
    return t_r + t_w


@rule("V_m", source="mean of pulses: level × length × how often", title="Mean of the pulses")
def mean_of_pulse(V: Volt, t: Second, f: Hertz) -> Volt:
    return V * t * f


@rule("span", source="full duty of an edge-aligned timer", title="Count of full duty")
def edge_span(TOP: Count) -> Count:
    return TOP + 1
