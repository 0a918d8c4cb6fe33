"""What instruments make of a signal: meters on pulses, the screen of an oscilloscope, what measuring itself changes."""

from __future__ import annotations

from collections.abc import Sequence

from ..algebra.expressions import sqrt
from ..algebra.kinds import Ampere, Fraction, Hertz, Number, Ohm, Ratio, Second, Volt
from ..algebra.nodes import Constant
from ..algebra.rules import procedure, rule
from . import warm_up

FORM = Constant("1.1107", 1.1107207345395915, "ratio", "π/(2√2): a sine's effective value over its rectified mean")
TWO = Constant("2", 2.0, "number")
TEN = Constant("10", 10.0, "number")
FITTED = "least squares of one exponential rise"
EDGE = Constant("0.35", 0.35, "number", "a single pole's rise time × its bandwidth")
FIVE = Constant("5", 5.0, "number", "common practice, no source: five samples on an edge")


@rule("V_dc", source="mean of a two-level signal", title="DC range reads")
def pulse_mean(V_h: Volt, V_l: Volt, D: Fraction) -> Volt:
    return V_l + (V_h - V_l) * D


@rule(
    "V_rms", source="effective value of a two-level signal, the direct part with it", title="Effective value, all of it"
)
def pulse_rms(V_h: Volt, V_l: Volt, D: Fraction) -> Volt:
    return sqrt(D * V_h**2 + (1 - D) * V_l**2)


@rule("V_ac", source="effective value with the mean blocked", title="AC range of a true-RMS meter reads")
def pulse_ac(V_h: Volt, V_l: Volt, D: Fraction) -> Volt:
    return (V_h - V_l) * sqrt(D * (1 - D))


@rule("V_avg", source="rectified mean, scaled as if it were a sine", title="AC range of an averaging meter reads")
def pulse_averaged(V_h: Volt, V_l: Volt, D: Fraction) -> Volt:
    return FORM * TWO * D * (1 - D) * (V_h - V_l)


@rule("n_v", source="signal over what a division stands for", title="Divisions high")
def divisions(V: Volt, probe: Ratio, s: Volt) -> Number:
    return V / (probe * s)


@rule("n_t", source="ten divisions across", title="Periods across the screen")
def periods(f: Hertz, t: Second) -> Number:
    return f * t * TEN


@rule("f_s", source="five samples on the shortest edge", title="Sample rate, at least")
def sample_rate(t_r: Second) -> Hertz:
    return FIVE / t_r


@rule("B", source="rise time of a single pole: 0.35 over its bandwidth", title="Bandwidth, at least")
def bandwidth(t_r: Second) -> Hertz:
    return EDGE / t_r


@rule("V_b", source="Ohm's law in the meter's own shunt", title="Burden")
def burden(R: Ohm, I: Ampere) -> Volt:
    return R * I


@rule("V_b / V", source="burden over supply", title="Of the supply")
def burden_share(V_b: Volt, V: Volt) -> Fraction:
    return V_b / V


@procedure("T_e", "temperature", says="where the fitted rise ends", source=FITTED)
def final_temperature(t: Sequence[float], T: Sequence[float]) -> float:
    """Times in s, temperatures in °C."""
    return warm_up.fit(t, T).final_c


@procedure("u", "temperature difference", says="standard doubt of that end", source=FITTED)
def final_doubt(t: Sequence[float], T: Sequence[float]) -> float:
    """Times in s, temperatures in °C."""
    return warm_up.fit(t, T).doubt_k


@procedure("τ", "time", says="time constant of the fitted rise", source=FITTED)
def warm_time(t: Sequence[float], T: Sequence[float]) -> float:
    """Times in s, temperatures in °C."""
    return warm_up.fit(t, T).tau_s
