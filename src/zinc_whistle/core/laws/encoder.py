"""The rules of an incremental encoder."""

from __future__ import annotations

from ..algebra.expressions import larger, smaller, sqrt, total
from ..algebra.kinds import (
    Ampere,
    Count,
    Counts,
    Farad,
    Fraction,
    Fractions,
    Hertz,
    Metre,
    MetrePerSecond,
    MotorConstant,
    Number,
    Numbers,
    Ohm,
    Radian,
    RadPerSecond,
    Rate,
    Ratio,
    Second,
    Seconds,
    Volt,
)
from ..algebra.nodes import Constant
from ..algebra.rules import procedure, rule
from . import disc as geometry
from .nothing import NO_VOLTS

METRE, TWO = Constant("1 m", 1.0, "length"), Constant("2", 2.0, "number")
NOTHING = Constant("0", 0.0, "fraction")
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


QUARTER = Constant("1/4", 0.25, "fraction")
PI = Constant("π", 3.141592653589793, "number")
RISE = Constant("2.2", 2.1972245773362196, "number", "ln 9")
BY_HAND = "turns by hand: counts of all runs over turns of all runs"


@rule("φ", source="shift over period, of a full turn", title="Phase of the channels")
def phase(t: Second, T: Second) -> Radian:
    return t / T * TURN


@rule("t_90", source="a quarter of the period: 90°", title="Shift that would be ideal")
def ideal_shift(T: Second) -> Second:
    return QUARTER * T


@rule("c_T", source="counts of a turn × turns a second over periods a second", title="Counts per control period")
def counts_a_period(c: Count, n: Rate, f: Hertz) -> Count:
    return c * n / f


@procedure("c", "count", says="the nearest whole number", source="a command is a whole number")
def whole_command(c_T: Count) -> Count:
    return float(round(c_T))


@rule("Δn/n", source="what is sent over what was wanted", title="Speed error without the fraction")
def command_error(c: Count, c_T: Count) -> Fraction:
    return c / c_T - 1


@rule("c_turn", source=BY_HAND, title="Counts of a turn, weighted by turns")
def weighted_by_turns(c: Counts, n: Numbers) -> Count:
    return total(c) / total(n)


@procedure("c_mean", "count", says="the plain mean of the runs", source="the other school: each run counts the same")
def plain_mean(c: Counts, n: Numbers) -> Count:
    return sum(a / b for a, b in zip(c, n, strict=True)) / len(c)


@procedure("Δc", "count", says="largest less smallest of the runs", source="turns by hand")
def spread_of_runs(c: Counts, n: Numbers) -> Count:
    each = [a / b for a, b in zip(c, n, strict=True)]
    return max(each) - min(each)


@rule("c_b", source="backlash over the angle of one count", title="Backlash, in counts")
def backlash_in_counts(angle: Radian, c_out: Count) -> Count:
    return angle * c_out / TURN


@rule("s_c", source="speed of the load over the count rate", title="Travel of one count")
def travel_per_count(v: MetrePerSecond, r: Rate) -> Metre:
    return v / r


@rule("V_lit", source="Ohm's law at the pull-up; no lower than what the sensor leaves", title="Level, lit")
def lit_level(V: Volt, R: Ohm, I: Ampere, V_sat: Volt) -> Volt:
    return larger(V - I * R, V_sat)


@rule(
    "V_dark",
    source="Ohm's law at the pull-up: dark current, light from elsewhere, and what passes the vane",
    title="Level, dark",
)
def dark_level(V: Volt, R: Ohm, I_d: Ampere, I_s: Ampere, I: Ampere, leak: Fraction) -> Volt:
    return larger(V - (I_d + I_s + leak * I) * R, NO_VOLTS)


@rule("ΔV_L", source="the input's low threshold less the level", title="Margin, low")
def low_margin(V_IL: Volt, V_lit: Volt) -> Volt:
    return V_IL - V_lit


@rule("ΔV_H", source="the level less the input's high threshold", title="Margin, high")
def high_margin(V_dark: Volt, V_IH: Volt) -> Volt:
    return V_dark - V_IH


@rule("I_LED", source="Ohm's law, less what the lamp drops", title="Current of the sensor's lamp")
def lamp_current(V: Volt, V_F: Volt, R: Ohm) -> Ampere:
    return larger(V - V_F, NO_VOLTS) / R


@rule("Δω_f", source="one count more or less in the window", title="Speed step, counts in a window")
def step_by_counting(c_turn: Count, T: Second) -> RadPerSecond:
    return TURN / (c_turn * T)


@rule("ω_x", source="both methods step alike where counts a second are √(f_clk/T)", title="Change over at")
def changeover(c_turn: Count, f: Hertz, T: Second) -> RadPerSecond:
    return sqrt(f / T) * TURN / c_turn


GEOMETRY = "tooth, gap and sensors along the arc: the four states of a pitch"


@rule("p", source="circumference over teeth", title="Pitch of the disc at the sensors")
def pitch(d: Metre, n: Number) -> Metre:
    return PI * d / n


@rule("s/p", source="of the pitch", title="Sensors apart, in pitches")
def in_pitches(s: Metre, p: Metre) -> Fraction:
    return s / p


@procedure("Δ_min", "fraction", says="the shortest of the four states, of a pitch", source=GEOMETRY)
def shortest_state(w: Fraction, s: Fraction) -> Fraction:
    return geometry.four_states(w, s).shortest


@procedure("ε", "count", says="the largest error of an edge against even steps, in counts", source=GEOMETRY)
def step_error(w: Fraction, s: Fraction) -> Count:
    return geometry.four_states(w, s).largest_error


@procedure(
    "Δ_95",
    "fraction",
    says="the shortest state that 19 of 20 discs keep, edges off evenly up to the tolerance; 4,000 of them, same dice",
    source=GEOMETRY,
)
def state_cut_by_hand(n: Number, w: Fraction, s: Fraction, tol: Fraction) -> Fraction:
    return geometry.cut_by_hand(int(n), w, s, tol, 0.0).shortest


@rule("ω_out", source="gear ratio", title="Speed at the output")
def speed_at_output(omega: RadPerSecond, N: Ratio) -> RadPerSecond:
    return omega / N


@rule("t_Δ", source="a share of the pitch at a speed", title="Shortest state at the fastest commanded")
def state_time(share: Fraction, n: Number, omega: RadPerSecond) -> Second:
    return share * TURN / (n * omega)


@procedure("φ", "angle", says="what is left of the sensors' distance after whole pitches, of 360°", source=GEOMETRY)
def phase_of_sensors(s: Fraction) -> Radian:
    return s % 1.0 * TURN


@procedure("Δφ", "angle", says="how far the phase is from 90° or, the other way round, from 270°", source=GEOMETRY)
def off_quadrature(phi: Radian) -> Radian:
    return abs(abs(phi - TURN / 2) - TURN / 4)


@rule("t_r", source="a pull-up and its line: 10 % to 90 % is 2.2 R C", title="Rise of a channel")
def channel_rise(R: Ohm, C: Farad) -> Second:
    return RISE * R * C


@rule("g", source="what the tooth leaves of the pitch", title="Gap")
def gap_width(p: Metre, w: Metre) -> Metre:
    return p - w


@rule("V_th", source="a share of the logic's supply", title="Threshold of an input")
def threshold(share: Fraction, V: Volt) -> Volt:
    return share * V


@procedure("δ", "fraction", says="how far the run that is furthest off lies from the mean", source=BY_HAND)
def furthest_run(c: Counts, n: Numbers) -> Fraction:
    mean = sum(c) / sum(n)
    return max(abs(a / b / mean - 1) for a, b in zip(c, n, strict=True))


@rule("w_min", source="the narrower of tooth and gap", title="Narrower of tooth and gap")
def narrower(w: Metre, g: Metre) -> Metre:
    return smaller(w, g)


@rule(
    "t_Δ/4",
    source="common practice, no source: risen within a quarter of the state",
    title="A quarter of the shortest state",
)
def quarter_of(t: Second) -> Second:
    return QUARTER * t


@rule("N_2", source="gear ratio", title="Gear behind the encoder")
def ratio_behind(N: Ratio, N_1: Ratio) -> Ratio:
    return N / N_1


@rule("Δ_min", source="one sensor: dark by a tooth, lit by a gap", title="Shorter of tooth and gap, of the pitch")
def shorter_part(w: Fraction) -> Fraction:
    return smaller(w, ALL_OF_IT - w)


@rule("Δ_cut", source="both edges off by as much as they may be", title="Shorter of tooth and gap, as cut")
def shorter_as_cut(share: Fraction, tol: Fraction) -> Fraction:
    return larger(share - tol - tol, NOTHING)


@rule("s_c", source="the wheel's circumference over the counts of its turn", title="Travel of a count, by the wheel")
def travel_by_wheel(d: Metre, c: Count) -> Metre:
    return PI * d / c


@rule(
    "s",
    source="told the same counts, one side goes further by a share ε: its heading turns by ε/b a metre, and half of "
    "that goes to the side",
    title="Drift to the side in a metre",
)
def drift_in_a_metre(s_l: Metre, s_r: Metre, b: Metre) -> Metre:
    return larger(s_l / s_r - 1, 1 - s_l / s_r) * METRE * METRE / (TWO * b)


COMPARATOR = "superposition at the input of a comparator whose output goes to both rails, fed back to it (any text)"


@rule("R_f", source=COMPARATOR, title="Resistor from its output back")
def feedback_resistor(V: Volt, R_i: Ohm, V_H: Volt, V_L: Volt) -> Ohm:
    return R_i * V / (V_H - V_L)


@rule("V_ref", source=COMPARATOR, title="Reference at its other input")
def comparator_reference(V_H: Volt, R_i: Ohm, R_f: Ohm) -> Volt:
    return V_H * R_f / (R_i + R_f)


@rule("V_t", source="volts for speed, divided", title="Tacho at the input, fastest commanded")
def tacho_volts(K_t: MotorConstant, omega: RadPerSecond, k: Ratio) -> Volt:
    return K_t * omega / k


@rule("Δω_t", source="one step of the converter", title="Speed step of the tacho, at the motor")
def tacho_step(V: Volt, n: Number, K_t: MotorConstant, k: Ratio, N: Ratio) -> RadPerSecond:
    return V * k * N / (n * K_t)


@rule("d", source="interrupts a second × time of one", title="Time that its interrupts take")
def interrupt_load(r: Rate, t: Second) -> Fraction:
    return r * t


@rule("d", source="one after the other on one processor", title="Time that the interrupts of all take")
def interrupts_together(d: Fractions) -> Fraction:
    return total(d)
