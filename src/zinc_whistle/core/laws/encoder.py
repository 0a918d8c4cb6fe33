"""The rules of an incremental encoder."""

from __future__ import annotations

from ..algebra.expressions import smaller, total
from ..algebra.kinds import (
    Count,
    Fraction,
    MotorConstant,
    Number,
    Radian,
    RadPerSecond,
    Rate,
    Ratio,
    Second,
    Seconds,
    Volt,
)
from ..algebra.nodes import Constant
from ..algebra.rules import rule

ALL_OF_IT = Constant("100 %", 1.0, "fraction")
TURN = Constant("360°", 6.283185307179586, "angle")
DISC = "a slotted disc and two sensors give up to four counts a tooth"


@rule("c_turn", source=DISC, title="Counts per turn of the disc")
def counts_per_turn(teeth: Number, decoding: Number) -> Count:
    return teeth * decoding


@rule("c_out", source="gear ratio", title="Counts per output turn")
def counts_per_output_turn(c_turn: Count, N: Ratio) -> Count:
    return c_turn * N


@rule("Δθ", source="one turn over its counts", title="Angle of one count")
def angle_per_count(c: Count) -> Radian:
    return TURN / c


@rule("r", source="counts per turn × turns per second", title="Count rate")
def count_rate(c_turn: Count, omega: RadPerSecond) -> Rate:
    return c_turn * omega / TURN


@rule("t_loop", source="one after the other in each pass", title="Loop time, with other devices")
def loop_with_devices(t: Seconds) -> Second:
    return total(t)


@rule("r_poll", source="common practice, no source: ten passes for each count", title="Polling limit")
def polling_limit(t_loop: Second, safety: Ratio) -> Rate:
    return 1 / (t_loop * safety)


@rule("r_int", source="share of the processor's time over the time of one interrupt", title="Interrupt limit")
def interrupt_limit(share: Fraction, t_int: Second) -> Rate:
    return share / t_int


@rule("ω", source="back-EMF at a duty of the supply, nothing on the shaft", title="Top speed at a duty")
def top_at_duty(D: Fraction, V: Volt, V_b: Volt, K_e: MotorConstant) -> RadPerSecond:
    return (D * V - V_b) / K_e


@rule("ω", source="what sets the speed", title="Fastest commanded")
def as_commanded(omega: RadPerSecond) -> RadPerSecond:
    return omega


@rule("ω_max", source="the limit's counts over the counts of a turn", title="Speed that the reading follows")
def speed_followed(r: Rate, c_turn: Count) -> RadPerSecond:
    return r * TURN / c_turn


@rule("D_max", source="back-EMF, nothing on the shaft", title="Duty up to which it is read, supply full")
def duty_followed(omega: RadPerSecond, K_e: MotorConstant, V_b: Volt, V: Volt) -> Fraction:
    return smaller(ALL_OF_IT, (K_e * omega + V_b) / V)


@rule("c_T", source="carry the fraction from period to period", title="Counts per control period")
def counts_per_period(r: Rate, T_c: Second) -> Count:
    return r * T_c


@rule("n_m", source="gear ratio", title="Counts per motor turn")
def counts_at_motor(n: Count, N: Ratio) -> Count:
    return n / N


@rule("Δc/c", source="measured over nominal", title="Calibration against the nominal")
def calibration_error(measured: Count, nominal: Count) -> Fraction:
    return measured / nominal - 1
