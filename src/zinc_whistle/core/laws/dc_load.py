"""The rules of solenoids, pumps and lamps."""

from __future__ import annotations

from ..algebra.expressions import sqrt
from ..algebra.kinds import Ampere, Fraction, Henry, Joule, Number, Ohm, Ratio, Second, Volt
from ..algebra.nodes import Constant
from ..algebra.rules import rule

PUMP_START = Constant("3", 3.0, "number", "common practice, no source: a small pump's motor starts at some three times")
LAMP_COLD = Constant("10", 10.0, "number", "common practice, no source: a cold filament takes about ten times")
STEADY = Constant("1", 1.0, "number")
SHARE = Constant("80 %", 0.8, "fraction", "common practice, no source")


@rule("R", source="Ohm's law at the rated figures", title="Resistance of the load")
def load_resistance(V: Volt, I: Ampere) -> Ohm:
    return V / I


@rule("I_w", source="Ohm's law, supply full", title="Current, switched on")
def on_current(V: Volt, R: Ohm) -> Ampere:
    return V / R


@rule("I_hold", source="mean of the PWM", title="Holding current")
def held_current(I: Ampere, D: Fraction) -> Ampere:
    return D * I


@rule("I_in", source="switched on cold", title="Inrush current")
def inrush(I: Ampere, k: Number) -> Ampere:
    return k * I


@rule("V_load", source="Ohm's law", title="Volts at the load")
def volts_across(I: Ampere, R: Ohm) -> Volt:
    return I * R


@rule("V_need", source="common practice, no source: four fifths of the rating", title="Volts it needs")
def volts_needed(V: Volt) -> Volt:
    return SHARE * V


@rule("I_rms", source="root of the mean square over one cycle: pull in, hold, off", title="RMS current")
def rms_current(I: Ampere, t_pull: Second, I_hold: Ampere, t_on: Second, t_off: Second) -> Ampere:
    return sqrt((I**2 * t_pull + I_hold**2 * t_on) / (t_pull + t_on + t_off))


@rule("E_L", source="energy in the coil, for the diode to take", title="Energy in the coil")
def coil_energy(L: Henry, I: Ampere) -> Joule:
    return L * I**2 / 2


@rule("V_max", source="common practice, no source: a little over the rating is borne", title="Volts it bears")
def highest_volts(k: Ratio, V: Volt) -> Volt:
    return k * V


@rule("I_block", source="Ohm: the current goes with the volts", title="Current, blocked")
def blocked_current(I: Ampere, V: Volt, V_r: Volt) -> Ampere:
    return I * V / V_r
