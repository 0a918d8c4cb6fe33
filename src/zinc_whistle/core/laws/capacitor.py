"""The rules of a driver's surroundings: the bulk capacitor."""

from __future__ import annotations

from ..algebra.expressions import sqrt
from ..algebra.kinds import Ampere, Farad, Fraction, Hertz, Number, Ohm, Volt
from ..algebra.nodes import Constant
from ..algebra.rules import rule

WORST_DUTY = Constant("½", 0.5, "fraction", "every ramp passes through half duty, the worst")
RATING = Constant("1.25", 1.25, "ratio", "common practice, no source: 1.25 to 1.5 times")
CAPACITOR = "charge balance of the bus capacitor under PWM; the source gives the mean"


@rule("I_C", source=CAPACITOR, title="Ripple current in the capacitor")
def ripple_current(k: Number, I: Ampere, D: Fraction) -> Ampere:
    """``k`` is 1 for slow decay, 2 for locked anti-phase."""
    return k * I * sqrt(D * (1 - D))


@rule("C_min", source=CAPACITOR, title="Capacitance needed, if it takes all of it")
def capacitance_needed(k: Number, I: Ampere, D: Fraction, f: Hertz, dV: Volt) -> Farad:
    return k * I * D * (1 - D) / (f * dV)


@rule("1.25 V", source="common practice, no source", title="Voltage rating needed")
def rating_needed(V: Volt) -> Volt:
    return RATING * V


@rule(
    "I_st", source="Ohm's law: nothing but the feed and two switches in the way", title="Shoot-through current, at most"
)
def shoot_through(V: Volt, R_s: Ohm, R_on: Ohm) -> Ampere:
    return V / (R_s + R_on)
