"""Quick sums at the bench: what a meter reads on pulses, whether a screen shows a signal, what measuring changes."""

from __future__ import annotations

from ..algebra.nodes import Leaf
from ..algebra.units import KINDS
from ..laws import instruments as rules
from ..laws import warm_up
from .kit import Givens, ResultMap, Sum, SumError, SumInput, ask

HIGH, WIDE = 8.0, 10.0
"""Divisions of a usual screen, high and wide (common practice, no source)."""
SMALL = 1.0
FEW, MANY = 1.0, 50.0


def _meter(g: Givens) -> ResultMap:
    if not 0 <= g["duty"].value <= 1:
        raise SumError("duty: give a share between 0 and 100 %.")
    if g["high_v"].value <= g["low_v"].value:
        raise SumError("high_v: it must be above low_v.")
    levels = (g["high_v"], g["low_v"], g["duty"])
    return {
        "dc_v": (rules.pulse_mean(*levels), "V"),
        "rms_v": (rules.pulse_rms(*levels), "V"),
        "ac_true_rms_v": (rules.pulse_ac(*levels), "V"),
        "ac_average_v": (rules.pulse_averaged(*levels), "V"),
    }


def _screen(g: Givens) -> ResultMap:
    high = rules.divisions(g["signal_v"], g["probe"], g["volts_per_div"])
    wide = rules.periods(g["frequency_hz"], g["time_per_div"])
    assert high.value is not None and wide.value is not None
    if high.value > HIGH:
        raise SumError(f"volts_per_div: {high.value:.3g} divisions high: it leaves the screen of {HIGH:g}.")
    if high.value < SMALL:
        raise SumError(f"volts_per_div: {high.value:.2g} of a division: nothing can be read off. Take a smaller one.")
    if wide.value > MANY:
        raise SumError(f"time_per_div: {wide.value:.3g} periods on the screen run together: take a shorter one.")
    if wide.value < FEW:
        raise SumError(f"time_per_div: {wide.value:.2g} of a period on the screen: take a longer one.")
    return {"divisions": (high, "1"), "periods": (wide, "1")}


def _edges(g: Givens) -> ResultMap:
    return {
        "sample_rate_hz": (rules.sample_rate(g["rise_s"]), "Hz"),
        "bandwidth_hz": (rules.bandwidth(g["rise_s"]), "Hz"),
    }


def _burden(g: Givens) -> ResultMap:
    volts = rules.burden(g["shunt_ohm"], g["current_a"])
    return {"burden_v": (volts, "V"), "share_pct": (rules.burden_share(volts, g["supply_v"]), "%")}


def _warm_up(g: Givens) -> ResultMap:
    try:
        found = warm_up.fit(*warm_up.read(g["readings"]))
    except ValueError as error:
        raise SumError(f"readings: {error}") from error
    places = [Leaf(f"t{k}", f"{t:g} s", KINDS["time"], t) for k, (t, _) in enumerate(found.readings)]
    seen = [Leaf(f"T{k}", f"{c:g} °C", KINDS["temperature"], c) for k, (_, c) in enumerate(found.readings)]
    return {
        "final_c": (rules.final_temperature(places, seen), "°C"),
        "doubt_k": (rules.final_doubt(places, seen), "K"),
        "time_constant_s": (rules.warm_time(places, seen), "s"),
    }


INSTRUMENT_SUMS = (
    Sum(
        "meter-pwm",
        "What a meter reads on pulses",
        (
            ask("high_v", "voltage", "V", "high level", "12", above=None),
            ask("low_v", "voltage", "V", "low level", "0", default="0", above=None),
            ask("duty", "fraction", "%", "share of the time high", "25", above=None),
        ),
        _meter,
    ),
    Sum(
        "scope-screen",
        "Does this setting show the signal?",
        (
            ask("signal_v", "voltage", "V", "signal, peak to peak", "5"),
            ask("frequency_hz", "frequency", "Hz", "its frequency", "20k"),
            ask("volts_per_div", "voltage", "V", "volts a division", "0.1"),
            ask("time_per_div", "time", "s", "time a division", "20µ"),
            ask("probe", "ratio", "1", "the probe divides by", "10", default="10"),
        ),
        _screen,
    ),
    Sum(
        "scope-edges",
        "Sample rate and bandwidth for an edge",
        (SumInput("rise_s", "time", "s", "its rise, 10 to 90 %", "50n", above=0),),
        _edges,
    ),
    Sum(
        "meter-burden",
        "What an ammeter takes away",
        (
            ask("shunt_ohm", "resistance", "Ω", "meter and leads", "0.1"),
            ask("current_a", "current", "A", "current", "5"),
            ask("supply_v", "voltage", "V", "supply", "6"),
        ),
        _burden,
    ),
    Sum(
        "warm-up",
        "Where a temperature ends, from a few minutes",
        (SumInput("readings", "text", "", "minutes and °C, from switching on", "0:24,2:31.5,4:36.9,6:40.8,8:43.6"),),
        _warm_up,
    ),
)
