"""The rules of a link by radio: time in the air, lines lost, false stops, and how long a battery feeds a handset."""

from __future__ import annotations

from ..algebra.expressions import exp, log
from ..algebra.kinds import Ampere, Coulomb, Fraction, Number, Rate, Second
from ..algebra.nodes import Constant
from ..algebra.rules import rule

BITS_A_SIGN = Constant("10 bit a sign", 10.0, "number")
"""A start bit, eight bits, a stop bit."""
LINE_SIGNS = Constant("24 signs", 24.0, "number")
"""``hand 250 8 255 255~XX`` with its line feed, and the two that a module puts before it at least."""
ANSWER_SIGNS = Constant("19 signs", 19.0, "number")
PORT_RATE = Constant("38,400 /s", 38400.0, "rate")
HALF_MORE = Constant("1/2", 0.5, "number")
HOUR = Constant("1 h", 3600.0, "time")


@rule("t_x", source="signs × ten bits over the air", title="Time of a line and its answer in the air")
def exchange_time(air: Rate) -> Second:
    return (LINE_SIGNS + ANSWER_SIGNS) * BITS_A_SIGN / air


@rule(
    "t_r",
    source="a period, and the line over the wire into a module, over the air, and over the wire out of the other",
    title="A press arrives within",
)
def press_arrives(T: Second, air: Rate) -> Second:
    return T + LINE_SIGNS * BITS_A_SIGN * (1 / air + 2 / PORT_RATE)


@rule("t_a", source="signs × ten bits over the air", title="Time that a line is in the air")
def line_in_air(air: Rate) -> Second:
    return LINE_SIGNS * BITS_A_SIGN / air


@rule(
    "G",
    source="lines and answers of all handsets over the time between two",
    title="Share of the time that the channel is in use",
)
def channel_in_use(n: Number, t_x: Second, T: Second) -> Fraction:
    return n * t_x / T


@rule(
    "p",
    source="senders that do not listen first: Abramson, The ALOHA System, AFIPS 1970: a line survives n − 1 others "
    "with exp(−2 (n − 1) t/T)",
    title="Lines lost, other handsets included",
)
def lines_lost(loss: Fraction, n: Number, t_x: Second, T: Second) -> Fraction:
    return 1 - (1 - loss) * exp(-2 * (n - 1) * t_x / T)


@rule("t_lost", source="the lines that may be missed, and half a period more", title="Silence that stops")
def silence(k: Number, T: Second) -> Second:
    return (k + HALF_MORE) * T


@rule(
    "t_f",
    source="mean time to a run of k: Feller, An Introduction to Probability Theory I, ch. XIII.7: "
    "(1 − p^k) / ((1 − p) p^k) trials",
    title="Mean time between false stops",
)
def between_false_stops(T: Second, p: Fraction, k: Number) -> Second:
    return T * (exp(-k * log(p)) - 1) / (1 - p)


@rule("P", source="rare and independent: 1 − exp(−t/t_f)", title="Chance of a false stop in an hour of driving")
def chance_in_an_hour(t_f: Second) -> Fraction:
    return 1 - exp(-1 * HOUR / t_f)


@rule("I", source="the module listens between its lines", title="Mean current of a handset")
def handset_current(I_c: Ampere, I_l: Ampere, I_s: Ampere, t_a: Second, T: Second) -> Ampere:
    return I_c + I_l + (I_s - I_l) * t_a / T


@rule("t_b", source="capacity over mean current", title="Battery of a handset lasts")
def battery_life(Q: Coulomb, I: Ampere) -> Second:
    return Q / I
