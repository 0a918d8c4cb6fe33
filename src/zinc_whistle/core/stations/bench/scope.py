"""How an oscilloscope is set for a wave, and what a setting that is there makes of it."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from ...algebra.quantities import phrase, signed_phrase
from ...captures.wave import Wave

HIGH, WIDE = 8, 10
"""Divisions of a usual screen, high and wide (common practice, no source)."""
FILLED, PERIODS = 6, 5
LEAST_HIGH, LEAST_WIDE, MOST_WIDE = 1.0, 1.0, 25.0
"""Divisions below which levels, and periods between which the pace, can be read off (common practice, no source)."""
RECORD = 1000
"""Samples over a screen that any digital one has at least (common practice, no source)."""
PROBES = {"1": "×1", "10": "×10"}


def nice_down(value: float) -> float:
    """The largest of 1, 2, 5 × 10ⁿ that is not above ``value``: how instruments are stepped."""
    if value <= 0 or not math.isfinite(value):
        return 1.0
    power = 10.0 ** math.floor(math.log10(value) + 1e-9)
    return next(m * power for m in (5, 2, 1) if m * power <= value * (1 + 1e-9))


def nice_up(value: float) -> float:
    """The smallest of 1, 2, 5 × 10ⁿ that is not below ``value``."""
    power = 10.0 ** math.floor(math.log10(value) + 1e-9)
    return next(m * power for m in (1, 2, 5, 10) if m * power >= value * (1 - 1e-9))


@dataclass(frozen=True, slots=True, kw_only=True)
class Screen:
    """Volts and seconds a division."""

    volts: float
    time: float


def screen_for(level_v: float, frequency_hz: float) -> Screen:
    """Volts a division so that the signal fills four to six divisions, and 2 to 5 periods across ten."""
    return Screen(volts=nice_up(level_v / FILLED), time=nice_down(PERIODS / frequency_hz / WIDE))


def scope_setting(level_v: float, frequency_hz: float) -> str:
    """The setting in words."""
    screen = screen_for(level_v, frequency_hz)
    return (
        f"Probe ×10, DC coupling, {phrase(screen.volts, 'voltage')} and {phrase(screen.time, 'time')} a division, "
        f"trigger at {phrase(level_v / 2, 'voltage')}"
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class ScopeSetting:
    """What a builder's instrument is set to."""

    screen: Screen
    probe: Literal["1", "10"]
    divides_by: Literal["1", "10"]
    """What the instrument believes of the probe."""
    coupling: Literal["DC", "AC"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Remark:
    """A sentence on a setting; ``good``: nothing is to be changed for it."""

    good: bool
    text: str


def judge_setting(wave: Wave, own: ScopeSetting) -> list[Remark]:
    """What the setting makes of the wave: how high and wide it stands, and what would mislead."""
    best = screen_for(max(abs(wave.high_v), wave.swing_v), wave.frequency_hz)
    shown = int(own.divides_by) / int(own.probe)
    high = wave.swing_v * shown / own.screen.volts
    found = [_probe(own, shown), _high(high, best), _wide(wave, own, best)]
    if own.coupling == "AC":
        found.append(
            Remark(
                good=False,
                text=f"AC coupling takes the mean of {phrase(wave.mean_v * shown, 'voltage')} away: low would stand "
                f"at {signed_phrase((wave.low_v - wave.mean_v) * shown, 'voltage')}. Set it to DC.",
            )
        )
    return [x for x in found if x is not None]


def _probe(own: ScopeSetting, shown: float) -> Remark | None:
    if shown == 1:
        return None
    return Remark(
        good=False,
        text=f"The probe stands at {PROBES[own.probe]} and the instrument at {PROBES[own.divides_by]}: it shows "
        f"{'ten times' if shown > 1 else 'a tenth of'} what is there.",
    )


def _high(divisions: float, best: Screen) -> Remark:
    volts = phrase(best.volts, "voltage")
    if divisions > HIGH:
        return Remark(good=False, text=f"{divisions:.3g} divisions high: it leaves the screen of {HIGH}. Take {volts}.")
    if divisions < LEAST_HIGH:
        return Remark(
            good=False, text=f"{divisions:.2g} of a division high: no level can be read off. Take {volts} a division."
        )
    return Remark(good=True, text=f"{divisions:.2g} of {HIGH} divisions high.")


def _wide(wave: Wave, own: ScopeSetting, best: Screen) -> Remark:
    periods, time = WIDE * own.screen.time * wave.frequency_hz, phrase(best.time, "time")
    if periods * 2 > RECORD:
        rate = RECORD / (WIDE * own.screen.time)
        seems = wave.alias_hz(rate)
        return Remark(
            good=False,
            text=f"{periods:.0f} periods on the screen: with {RECORD} samples over it that is less than two a period, "
            f"and it may seem to be {phrase(seems, 'frequency')}. Take {time} a division.",
        )
    if periods > MOST_WIDE:
        return Remark(good=False, text=f"{periods:.3g} periods on the screen run together. Take {time} a division.")
    if periods < LEAST_WIDE:
        return Remark(
            good=False,
            text=f"{periods:.2g} of a period on the screen: its pace cannot be read off. Take {time} a division.",
        )
    return Remark(good=True, text=f"{periods:.2g} periods on the screen.")
