"""The rules of timers, PWM ripple and ramps."""

from __future__ import annotations

from ..algebra.expressions import exp, larger, log, sqrt
from ..algebra.kinds import (
    Ampere,
    Bits,
    Celsius,
    Count,
    Fraction,
    Henry,
    Hertz,
    Inertia,
    MotorConstant,
    Number,
    Ohm,
    Radian,
    RadPerSecond,
    Ratio,
    Second,
    Steps,
    Volt,
    Watt,
)
from ..algebra.nodes import Constant
from ..algebra.rules import procedure, rule

FOUR = Constant("4", 4.0, "number")
HALF = Constant("0.5", 0.5, "number")
TURN = Constant("360°", 6.283185307179586, "angle")
LN_2 = Constant("ln 2", 0.6931471805599453, "number")
TIMER = "timer arithmetic, common practice: a count to TOP and back, or to TOP and over"
RIPPLE = "steady state of an R-L circuit under PWM, exact"


@rule("f", source=TIMER, title="PWM frequency, centre-aligned")
def centre_frequency(F: Hertz, N: Number, TOP: Count) -> Hertz:
    return F / (2 * N * TOP)


@rule("f", source=TIMER, title="PWM frequency, edge-aligned")
def edge_frequency(F: Hertz, N: Number, TOP: Count) -> Hertz:
    return F / (N * (TOP + 1))


MOST_COUNTS = 10**15
"""More than any counter holds: what a frequency of next to nothing asks for."""


def _counts(F: float, pace: float) -> int:
    """The nearest whole number of a clock's ticks in a period of ``pace`` (both Hz)."""
    return round(F / pace) if MOST_COUNTS * pace > F else MOST_COUNTS


@procedure("TOP", "count", says="nearest count to F / (2 N f)", source=TIMER)
def centre_top(F: Hertz, N: Number, f: Hertz) -> Count:
    """Nearest top of a centre-aligned count, at least 1."""
    return float(max(1, _counts(F, 2 * N * f)))


@procedure("TOP", "count", says="nearest count to F / (N f) − 1", source=TIMER)
def edge_top(F: Hertz, N: Number, f: Hertz) -> Count:
    """Nearest top of an edge-aligned count, at least 1."""
    return float(max(1, _counts(F, N * f) - 1))


@rule("steps", source=TIMER, title="Duty steps")
def duty_steps(TOP: Count) -> Steps:
    return TOP + 1


@rule("bits", source="log₂ of the steps", title="Resolution")
def resolution_bits(n: Steps) -> Bits:
    return log(n) / LN_2


@rule("Δf/f", source="off by this share", title="Frequency error")
def frequency_error(f: Hertz, f_wanted: Hertz) -> Fraction:
    return f / f_wanted - 1


@rule("ΔI", source=RIPPLE, title="Current ripple, peak to peak")
def ripple(V: Volt, R: Ohm, D: Fraction, f: Hertz, L: Henry) -> Ampere:
    """``V`` is the swing of the bridge's output: the supply, or twice it in locked anti-phase."""
    return V / R * (1 - exp(-D * R / (f * L))) * (1 - exp(-larger(1 - D, 0) * R / (f * L))) / (1 - exp(-R / (f * L)))


@rule("2V", source="the output swings from −V to +V", title="Swing, locked anti-phase")
def double_swing(V: Volt) -> Volt:
    return 2 * V


@rule("D'", source="mean output (2D' − 1)·V", title="Duty, locked anti-phase")
def antiphase_duty(x: Fraction) -> Fraction:
    return (1 + x) / 2


@rule("t_ramp", source="what current is left over the load turns the inertia", title="Shortest ramp")
def shortest_ramp(J: Inertia, omega: RadPerSecond, K_e: MotorConstant, I_lim: Ampere, I_load: Ampere) -> Second:
    return J * omega / (K_e * (I_lim - I_load))


@rule("steps", source="an interrupt a step, in the share of time that interrupts may take", title="Steps in software")
def software_steps(s: Fraction, f: Hertz, t: Second) -> Steps:
    return s / (f * t)


@rule("θ", source="ripple current that heats but does not turn: ΔI²/12 beside I²", title="Heat of the ripple")
def ripple_heat(dI: Ampere, I: Ampere) -> Fraction:
    """A triangle of ``dI`` peak to peak has the square mean dI²/12."""
    return dI**2 / (12 * I**2)


@rule("f_ripple", source="ripple V D (1 − D)/(f L), solved for the frequency", title="Lowest frequency for the ripple")
def ripple_frequency(V: Volt, D: Fraction, L: Henry, dI: Ampere) -> Hertz:
    return V * D * (1 - D) / (L * dI)


@rule("ΔI_max", source="ripple that heats by the allowed share", title="Ripple allowed")
def ripple_allowed(I: Ampere, s: Fraction) -> Ampere:
    return I * sqrt(12 * s)


@rule(
    "f_heat",
    source="switching heat grows with the frequency; what conduction leaves is for it",
    title="Highest frequency for the heat",
)
def heat_frequency(f: Hertz, P_allowed: Watt, P_rest: Watt, P_sw: Watt) -> Hertz:
    return f * (P_allowed - P_rest) / P_sw


@rule("P_allowed", source="heat grows with the rise of the junction over the air", title="Heat that the part may shed")
def heat_to_limit(P: Watt, T_j: Celsius, T_a: Celsius, T_lim: Celsius) -> Watt:
    return P * (T_lim - T_a) / (T_j - T_a)


@rule(
    "P_rest",
    source="all that does not grow with the frequency, conduction as hot as the limit lets it",
    title="Heat without switching",
)
def heat_besides(P: Watt, P_sw: Watt, P_on: Watt, h: Ratio, h_j: Ratio) -> Watt:
    return P - P_sw + P_on * (h / h_j - 1)


@rule("f_steps", source=TIMER, title="Highest frequency for the steps, centre-aligned")
def steps_frequency_centre(F: Hertz, n: Steps) -> Hertz:
    return F / (2 * (n - 1))


@rule("f_steps", source=TIMER, title="Highest frequency for the steps, edge-aligned")
def steps_frequency_edge(F: Hertz, n: Steps) -> Hertz:
    return F / n


@rule("n_low", source="steps above the breakaway duty", title="Steps left above breakaway")
def steps_above(n: Steps, D: Fraction) -> Steps:
    return n * larger(1 - D, 0)


@rule("Δω", source="one step of duty", title="Speed of one step")
def speed_of_step(V: Volt, K_e: MotorConstant, n: Steps) -> RadPerSecond:
    return V / (K_e * n)


@rule("t_turn", source="ramp down, rest, ramp up", title="Time of a reversal")
def reversal_time(t_ramp: Second, t_rest: Second) -> Second:
    return 2 * t_ramp + t_rest


@rule(
    "θ_s",
    source="a speed that falls with the way that is left makes a loop of gain ω/θ round a drive that integrates and "
    "lags by τ: it does not overshoot where 4 τ ω/θ is at most 1 (critical damping of a second-order loop); nor may "
    "it fall faster than the ramp",
    title="Way in which it can slow down",
)
def way_to_slow_down(omega: RadPerSecond, tau: Second, t_ramp: Second) -> Radian:
    return omega * larger(FOUR * tau, t_ramp)


@rule(
    "θ_o",
    source="from its speed to rest: by a ramp half of speed × time, by itself no less than speed × lag",
    title="Way past its place",
)
def way_past(omega: RadPerSecond, tau: Second, t_ramp: Second) -> Radian:
    return omega * larger(tau, HALF * t_ramp)


@rule("θ_w", source="a turn over its counts", title="So many counts, as an angle")
def angle_of_counts(n: Count, c: Count) -> Radian:
    return n * TURN / c
