"""The rules of the classic timer circuit: its frequency, its share of the period, the level of its output."""

from __future__ import annotations

from ..algebra.expressions import larger, log
from ..algebra.kinds import Farad, Fraction, Hertz, Number, Ohm, Ratio, Volt
from ..algebra.nodes import Constant
from ..algebra.rules import rule
from .nothing import NO_VOLTS

LN_2 = Constant("ln 2", 0.6931471805599453, "number")
AS_MARKED = Constant("1", 1.0, "ratio", "a part as it is marked")


@rule("f", source="classic timer circuit: 1/(ln 2 · (R_A + 2 R_B) C)", title="Frequency")
def timer_frequency(R_A: Ohm, R_B: Ohm, C: Farad) -> Hertz:
    return 1 / (LN_2 * (R_A + 2 * R_B) * C)


@rule(
    "k", source="thresholds at a third and two thirds of the supply, a diode in the way", title="Slower by the diodes"
)
def diode_slowing(V: Volt, V_d: Volt) -> Number:
    """How much longer a half-period takes with a steering diode. No value below three diode drops."""
    return log((2 * V / 3 - V_d) / (V / 3 - V_d)) / LN_2


@rule("f_d", source="the same circuit with steering diodes: each half through its own part of R", title="Frequency")
def steered_frequency(R: Ohm, C: Farad, k: Number) -> Hertz:
    return 1 / (LN_2 * k * R * C)


@rule("s", source="a part at the lower end of its tolerance", title="Share of the marked value")
def at_least(t: Fraction) -> Ratio:
    return 1 - t


@rule("s", source="a part at the upper end of its tolerance", title="Share of the marked value")
def at_most(t: Fraction) -> Ratio:
    return 1 + t


@rule("R", source="the potentiometer and the resistors at its ends", title="Resistance that both halves pass")
def whole_track(R_P: Ohm, s: Ratio, R_E: Ohm) -> Ohm:
    return R_P * s + 2 * R_E


@rule("C", source="the capacitor within its tolerance", title="Timing capacitor")
def timing_capacitor(C: Farad, s: Ratio) -> Farad:
    return C * s


@rule("D_min", source="the part of R that the wiper cannot leave out", title="Least duty of the knob")
def least_duty(R_E: Ohm, R: Ohm) -> Fraction:
    return R_E / R


@rule("D_max", source="the rest of R, at the other end", title="Greatest duty of the knob")
def greatest_duty(R_E: Ohm, R: Ohm) -> Fraction:
    return 1 - R_E / R


@rule("V_high", source="the timer's supply less the drop of its output", title="High level of the timer's output")
def high_level(V_s: Volt, V_drop: Volt) -> Volt:
    return larger(V_s - V_drop, NO_VOLTS)
