"""Rules that only the quick sums use so far."""

from __future__ import annotations

from ..algebra.expressions import log
from ..algebra.kinds import Ampere, Farad, Hertz, Number, Ohm, Second, Volt, Watt
from ..algebra.nodes import Constant
from ..algebra.preferred import at_least
from ..algebra.rules import procedure, rule

TWO = Constant("2", 2.0, "number")
TWO_PI = Constant("2π", 6.283185307179586, "number")
OHM = "Ohm's law"


@rule("V_out", source="voltage divider, nothing drawn from it", title="Voltage at the tap")
def divider_voltage(V: Volt, R_top: Ohm, R_bottom: Ohm) -> Volt:
    return V * R_bottom / (R_top + R_bottom)


@rule("I", source=OHM, title="Current through both")
def divider_current(V: Volt, R_top: Ohm, R_bottom: Ohm) -> Ampere:
    return V / (R_top + R_bottom)


@rule("R_out", source="both seen in parallel from the tap", title="Resistance at the tap")
def divider_resistance(R_top: Ohm, R_bottom: Ohm) -> Ohm:
    return R_top * R_bottom / (R_top + R_bottom)


@rule("R", source=OHM, title="Resistor")
def led_resistor(V: Volt, V_led: Volt, I: Ampere) -> Ohm:
    return (V - V_led) / I


@procedure("R_E24", "resistance", says="next preferred value above", source="IEC 60063, series E24")
def next_preferred(R: Ohm) -> Ohm:
    """Next E24 value, ohms."""
    return at_least(R, "E24")


@procedure("V_z", "voltage", says="as given, or the highest preferred one below", source="IEC 60063, series E24")
def taken_volts(V: Volt) -> Volt:
    """A zener's volts."""
    return V


@rule("I", source=OHM, title="Current with the preferred resistor")
def led_current(V: Volt, V_led: Volt, R: Ohm) -> Ampere:
    return (V - V_led) / R


@rule("P", source="I²R", title="Heat in the resistor")
def resistor_heat(I: Ampere, R: Ohm) -> Watt:
    return I**2 * R


@rule("τ", source="first-order circuit", title="Time constant")
def time_constant(R: Ohm, C: Farad) -> Second:
    return R * C


@rule("f_c", source="first-order circuit", title="Corner frequency")
def corner_frequency(R: Ohm, C: Farad) -> Hertz:
    return 1 / (TWO_PI * R * C)


@rule("t_half", source="first-order circuit: R C ln 2", title="Time to half")
def half_time(R: Ohm, C: Farad) -> Second:
    return R * C * log(TWO)


@procedure(
    "N",
    "number",
    says="the prescaler that leaves most steps within 2 % of the frequency",
    source="timer arithmetic",
)
def chosen_prescaler(N: Number, F: Hertz, f: Hertz) -> Number:
    """The choice itself is made over all prescalers."""
    return N
