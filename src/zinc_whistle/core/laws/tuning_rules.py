"""The tuning rules as laws, and the margins that they leave."""

from __future__ import annotations

from ..algebra.kinds import Number, Radian, RadPerSecond, Second
from ..algebra.nodes import Constant
from ..algebra.rules import procedure, rule
from .tuning import PLACED, SIMC, ULTIMATE, Lagging, of_pi, placed, simc

NO_LAG = Constant("0 s", 0.0, "time", "it integrates")
MARGINS = "the loop's response on a grid of frequencies, its crossings by bracketing"


@procedure("K_c", "number", says="τ over k (τ_c + θ); where it integrates 1 over k (τ_c + θ)", source=SIMC)
def simc_gain(k: Number, tau: Second, theta: Second, tau_c: Second) -> Number:
    return simc(Lagging(k, tau or None, theta), tau_c).gain


@procedure("T_i", "time", says="the smaller of τ and 4 (τ_c + θ); where it integrates the latter", source=SIMC)
def simc_integral(tau: Second, theta: Second, tau_c: Second) -> Second:
    return simc(Lagging(1.0, tau or None, theta), tau_c).integral_s or 0.0


@procedure("GM", "number", says="by how much the gain may grow before it swings", source=MARGINS)
def gain_margin(k: Number, tau: Second, theta: Second, K_c: Number, T_i: Second) -> Number:
    return of_pi(k, tau, theta, K_c, T_i).gain


@procedure("PM", "angle", says="the phase that is left where the gain is one", source=MARGINS)
def phase_margin(k: Number, tau: Second, theta: Second, K_c: Number, T_i: Second) -> Radian:
    return of_pi(k, tau, theta, K_c, T_i).phase


@procedure("M_s", "number", says="the largest sensitivity: one over the least distance from −1", source=MARGINS)
def largest_sensitivity(k: Number, tau: Second, theta: Second, K_c: Number, T_i: Second) -> Number:
    return of_pi(k, tau, theta, K_c, T_i).sensitivity


@procedure("K_c", "number", says="(2 ζ ω τ − 1)/k; where it integrates 2 ζ ω/k", source=PLACED)
def placed_gain(k: Number, tau: Second, zeta: Number, omega: RadPerSecond) -> Number:
    return placed(Lagging(k, tau or None, 0.0), zeta, omega).gain


@procedure("T_i", "time", says="(2 ζ ω τ − 1)/(ω² τ); where it integrates 2 ζ/ω", source=PLACED)
def placed_integral(tau: Second, zeta: Number, omega: RadPerSecond) -> Second:
    return placed(Lagging(1.0, tau or None, 0.0), zeta, omega).integral_s or 0.0


FOUR, PI = Constant("4", 4.0, "number"), Constant("π", 3.141592653589793, "number")
HALF = Constant("0.5", 0.5, "number")
PART_PI, PART_PID = Constant("0.45", 0.45, "number"), Constant("0.6", 0.6, "number")
PER_PI, PER_PID = Constant("1.2", 1.2, "number"), Constant("2", 2.0, "number")
PER_D = Constant("8", 8.0, "number")


@rule("K_c", source=ULTIMATE, title="Gain, P")
def ultimate_p(K_u: Number) -> Number:
    return HALF * K_u


@rule("K_c", source=ULTIMATE, title="Gain, PI")
def ultimate_pi(K_u: Number) -> Number:
    return PART_PI * K_u


@rule("K_c", source=ULTIMATE, title="Gain, PID")
def ultimate_pid(K_u: Number) -> Number:
    return PART_PID * K_u


@rule("T_i", source=ULTIMATE, title="Integral time, PI")
def ultimate_integral_pi(T_u: Second) -> Second:
    return T_u / PER_PI


@rule("T_i", source=ULTIMATE, title="Integral time, PID")
def ultimate_integral_pid(T_u: Second) -> Second:
    return T_u / PER_PID


@rule("T_d", source=ULTIMATE, title="Derivative time")
def ultimate_derivative(T_u: Second) -> Second:
    return T_u / PER_D


ULTIMATE_GAIN = {"p": ultimate_p, "pi": ultimate_pi, "pid": ultimate_pid}
ULTIMATE_INTEGRAL = {"pi": ultimate_integral_pi, "pid": ultimate_integral_pid}


@rule(
    "K_u",
    source="Åström & Hägglund, Automatic tuning of simple regulators, Automatica 20 (1984): 4 d over π a",
    title="Ultimate gain from a relay test",
)
def relay_gain(d: Number, a: Number) -> Number:
    return FOUR * d / (PI * a)
