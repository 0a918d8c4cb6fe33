"""The rules of timers, PWM ripple and ramps."""

from __future__ import annotations

from ..expressions import exp, log
from ..kinds import (
    Ampere,
    Bits,
    Count,
    Fraction,
    Henry,
    Hertz,
    Inertia,
    MotorConstant,
    Number,
    Ohm,
    RadPerSecond,
    Second,
    Steps,
    Volt,
)  # fmt: skip
from ..working import Constant, procedure, rule

LN_2 = Constant("ln 2", 0.6931471805599453, "number")
TIMER = "timer arithmetic, common practice: a count to TOP and back, or to TOP and over"
RIPPLE = "steady state of an R-L circuit under PWM, exact"


@rule("f", source=TIMER, title="PWM frequency, centre-aligned")
def centre_frequency(F: Hertz, N: Number, TOP: Count) -> Hertz:
    return F / (2 * N * TOP)


@rule("f", source=TIMER, title="PWM frequency, edge-aligned")
def edge_frequency(F: Hertz, N: Number, TOP: Count) -> Hertz:
    return F / (N * (TOP + 1))


@procedure("TOP", "count", says="nearest count to F / (2 N f)", source=TIMER)
def centre_top(F: Hertz, N: Number, f: Hertz) -> Count:
    """Nearest top of a centre-aligned count, at least 1."""
    return float(max(1, round(F / (2 * N * f))))


@procedure("TOP", "count", says="nearest count to F / (N f) − 1", source=TIMER)
def edge_top(F: Hertz, N: Number, f: Hertz) -> Count:
    """Nearest top of an edge-aligned count, at least 1."""
    return float(max(1, round(F / (N * f)) - 1))


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
    return V / R * (1 - exp(-D * R / (f * L))) * (1 - exp(-(1 - D) * R / (f * L))) / (1 - exp(-R / (f * L)))


@rule("2V", source="the output swings from −V to +V", title="Swing, locked anti-phase")
def double_swing(V: Volt) -> Volt:
    return 2 * V


@rule("D'", source="mean output (2D' − 1)·V", title="Duty, locked anti-phase")
def antiphase_duty(x: Fraction) -> Fraction:
    return (1 + x) / 2


@rule("t_ramp", source="what current is left over the load turns the inertia", title="Shortest ramp")
def shortest_ramp(J: Inertia, omega: RadPerSecond, K_e: MotorConstant, I_lim: Ampere, I_load: Ampere) -> Second:
    return J * omega / (K_e * (I_lim - I_load))
