"""The rules of what a test should read."""

from __future__ import annotations

from ..algebra.expressions import larger
from ..algebra.kinds import (
    Ampere,
    Count,
    Fraction,
    MotorConstant,
    Number,
    Ohm,
    RadPerSecond,
    Rate,
    ViscousFriction,
    Volt,
)
from ..algebra.nodes import Constant
from ..algebra.rules import procedure, rule
from .nothing import NO_VOLTS

TEN = Constant("10", 10.0, "number")
ONE_SECOND = Constant("1 s", 1.0, "time")
HALF = Constant("½", 0.5, "fraction")


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


@rule("span", source="full duty of an edge-aligned timer", title="Count of full duty")
def edge_span(TOP: Count) -> Count:
    return TOP + 1
