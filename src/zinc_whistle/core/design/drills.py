"""Drills of the hand sums that the trade needs, from the builder's own drive; the same by number."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..algebra.bands import bands_of
from ..algebra.preferred import at_least, series
from ..algebra.quantities import parse, phrase
from ..cases.operating import Context
from ..stations.bench.scope import FILLED, HIGH, screen_for
from ..stations.bench.step import Step

Right = Literal["right", "near", "wrong"]
NEAR = 2.0
"""An answer within so many times what is right is near: the idea is right, and the sum is not."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Drill:
    """A question, what is right (SI, from ``low`` to ``high``), and the working."""

    topic: str
    question: str
    kind: str
    unit: str
    low: float
    high: float
    working: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Marked:
    """An answer judged, with the working."""

    verdict: Right
    says: str
    working: str


Maker = Callable[[Context, tuple[Step, ...], np.random.Generator], Drill | None]


def drill(at: Context, steps: tuple[Step, ...], number: int) -> Drill:
    """The drill of a number: the same number, the same question."""
    dice = np.random.default_rng(number)
    order = dice.permutation(len(MAKERS))
    return next(made for k in order if (made := MAKERS[int(k)](at, steps, dice)) is not None)


def mark(asked: Drill, text: str) -> Marked:
    """An answer judged. QuantityError where it cannot be read."""
    value = parse(text, asked.kind, asked.unit).value
    if asked.low <= value <= asked.high:
        return Marked(verdict="right", says="Right.", working=asked.working)
    middle = (asked.low + asked.high) / 2
    if value > 0 and asked.low / NEAR <= value <= asked.high * NEAR:
        return Marked(verdict="near", says="Near, but not it.", working=asked.working)
    off = value / middle if middle else 0.0
    tens = next((f"by {x:g}" for x in (10, 100, 1000, 0.1, 0.01, 0.001) if off and abs(off / x - 1) < 0.15), "")
    return Marked(verdict="wrong", says=f"Off {tens}: a prefix was lost." if tens else "Not it.", working=asked.working)


def _around(value: float, share: float) -> tuple[float, float]:
    return value * (1 - share), value * (1 + share)


def _bands(at: Context, steps: tuple[Step, ...], dice: np.random.Generator) -> Drill:
    ohms = round(float(dice.choice(series("E24"))) * 10.0 ** int(dice.integers(0, 6)), 6)
    colours = ", ".join(bands_of(ohms, 0.05, 2))
    return Drill(
        topic="Read the bands",
        question=f"A resistor's bands are {colours}. What is it?",
        kind="resistance",
        unit="Ω",
        low=ohms * 0.999,
        high=ohms * 1.001,
        working=f"Two digits, then so many noughts, then the tolerance: {phrase(ohms, 'resistance')} (IEC 60062).",
    )


def _lamp(at: Context, steps: tuple[Step, ...], dice: np.random.Generator) -> Drill | None:
    logic = at.controller.logic_v.value
    if not logic:
        return None
    drop, milli = float(dice.choice((1.7, 1.8, 1.9, 2.0, 2.1, 2.2))), int(dice.integers(2, 13))
    needed = (logic - drop) / (milli / 1000)
    if needed <= 0:
        return None
    best = at_least(needed)
    return Drill(
        topic="Pick the resistor",
        question=f"A lamp that drops {drop:g} V is to get {milli} mA at most from a pin of {phrase(logic, 'voltage')}. "
        "Which resistor of the E24 series?",
        kind="resistance",
        unit="Ω",
        low=best * 0.999,
        high=best * 1.101,
        working=f"({logic:g} V − {drop:g} V) / {milli} mA = {needed:.0f} Ω; the next above is "
        f"{phrase(best, 'resistance')} (the one after it does too).",
    )


def _stall(at: Context, steps: tuple[Step, ...], dice: np.random.Generator) -> Drill | None:
    ohms, nominal = at.motor.resistance_25.value, at.volts.nominal.value
    if not ohms or not nominal:
        return None
    volts = round(nominal * dice.uniform(0.4, 1.5), 1)
    amperes = volts / ohms
    return Drill(
        topic="Judge the headline current",
        question=f"This motor's winding is {phrase(ohms, 'resistance')}. Held fast on {volts:g} V, all else without "
        "resistance: what does it draw? No board is to be chosen by what it runs at alone.",
        kind="current",
        unit="A",
        low=_around(amperes, 0.06)[0],
        high=_around(amperes, 0.06)[1],
        working=f"It does not turn, so nothing opposes: {volts:g} V / {phrase(ohms, 'resistance')} = "
        f"{phrase(amperes, 'current')}. What a seller prints large is often borne for a moment only.",
    )


def _screen(at: Context, steps: tuple[Step, ...], dice: np.random.Generator) -> Drill | None:
    waves = [s.wave for s in steps if s.wave is not None]
    if not waves:
        return None
    level = round(float(dice.choice((waves[0].high_v, dice.uniform(1.5, 40.0)))), 1)
    best = screen_for(level, waves[0].frequency_hz)
    return Drill(
        topic="Choose volts a division",
        question=f"Pulses from 0 to {level:g} V are to fill some four to six of {HIGH} divisions. How many volts a "
        "division, of the steps 1, 2, 5?",
        kind="voltage",
        unit="V",
        low=best.volts * 0.999,
        high=best.volts * 1.001,
        working=f"{level:g} V / {FILLED} = {level / FILLED:.2g} V; the next step is {phrase(best.volts, 'voltage')}: "
        f"{level / best.volts:.2g} divisions.",
    )


def _mean(at: Context, steps: tuple[Step, ...], dice: np.random.Generator) -> Drill | None:
    nominal = at.volts.nominal.value
    if not nominal:
        return None
    percent = int(dice.integers(5, 96))
    mean = nominal * percent / 100
    return Drill(
        topic="What a meter shows",
        question=f"Pulses of {phrase(nominal, 'voltage')} are high for {percent} % of the time. What does a meter "
        "on DC volts show?",
        kind="voltage",
        unit="V",
        low=_around(mean, 0.04)[0],
        high=_around(mean, 0.04)[1],
        working=f"The mean: {percent} % of {phrase(nominal, 'voltage')} = {phrase(mean, 'voltage')}.",
    )


def _heat(at: Context, steps: tuple[Step, ...], dice: np.random.Generator) -> Drill | None:
    works = at.load.working_current.value
    if not works:
        return None
    milliohms, amperes = int(dice.choice((8, 22, 50, 120, 300))), round(works * dice.uniform(0.8, 5), 2)
    if amperes <= 0:
        return None
    watts = amperes**2 * milliohms / 1000
    return Drill(
        topic="Heat in a switch",
        question=f"A switch of {milliohms} mΩ carries {amperes:g} A all the time. How much heat is that?",
        kind="power",
        unit="W",
        low=_around(watts, 0.06)[0],
        high=_around(watts, 0.06)[1],
        working=f"I²R = ({amperes:g} A)² × {milliohms} mΩ = {phrase(watts, 'power')}. Twice the current is four times "
        "the heat.",
    )


MAKERS: tuple[Maker, ...] = (_bands, _lamp, _stall, _screen, _mean, _heat)
