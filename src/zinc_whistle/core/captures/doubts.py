"""What is suspicious about a capture: a probe, a coupling, a pace or a screen that was set for something else."""

from __future__ import annotations

import math

from ..algebra.quantities import phrase
from .measure import WaveMeasures
from .wave import Wave

NEAR = 0.15
"""Levels agree within this (common practice, no source): probes and references are made to a few per cent."""
MAINS = (50.0, 60.0)
NOTHING = 0.03
"""A share of the expected swing: less is no signal."""
SAMPLES_A_PERIOD = 5.0
"""Fewer draw another shape (common practice, no source); below two the pace itself is another."""


def doubts(seen: WaveMeasures, wave: Wave | None) -> list[str]:
    """A sentence each; those that need to know what was expected only where that is known."""
    made = []
    for cut, side in ((seen.clipped_high, "above"), (seen.clipped_low, "below")):
        if cut:
            made.append(
                f"It is cut off {side}: it stands exactly at one value there. More volts a division, or move it."
            )
    if wave is not None and (nothing := _no_pulses(seen, wave)):
        return [*made, nothing]
    if seen.edges is not None and seen.frequency_hz is None:
        made.append("Not one whole period is in it: a longer time a division.")
    return made if wave is None else [*made, *_levels(seen, wave), *_pace(seen, wave)]


def _no_pulses(seen: WaveMeasures, wave: Wave) -> str:
    """Why a capture in which pulses were expected holds none; empty where it holds some, or none were expected."""
    if not _pulses(wave):
        return ""
    pace = seen.frequency_hz if seen.edges is not None else seen.ripple_hz
    if pace is not None and any(_close(pace, x, 0.05) and not _close(wave.frequency_hz, x, 0.05) for x in MAINS):
        return "It swings with the mains and with nothing else: the probe's ground clip hangs open."
    if seen.edges is not None and seen.swing > NOTHING * wave.swing_v:
        return ""
    if _close(seen.mean, wave.mean_v):
        return (
            "A steady level at the mean of the pulses: a filter is in the way, or the probe's bandwidth is far too low."
        )
    return "No pulses: nothing is ordered, the probe is on another place, or its ground is open."


def _close(a: float, b: float, share: float = NEAR) -> bool:
    return abs(a - b) <= share * abs(b)


def _levels(seen: WaveMeasures, wave: Wave) -> list[str]:
    if not _pulses(wave):
        return []
    swing = seen.swing
    for factor in (10.0, 0.1):
        if _close(swing, wave.swing_v * factor):
            what = "ten times" if factor > 1 else "a tenth of"
            return [
                f"It is {what} what is expected, to a few per cent: the probe's ×10 and the instrument's setting do "
                "not agree."
            ]
    if _close(swing, wave.swing_v) and abs(seen.mean) < 0.1 * swing and abs(wave.mean_v) > 0.2 * swing:
        return [
            "The swing is right and its mean is nothing: the input is AC coupled. Set it to DC, else levels are not to "
            "be read."
        ]
    return []


def _pulses(wave: Wave) -> bool:
    return 0 < wave.duty < 1 and wave.swing_v > 0


def _pace(seen: WaveMeasures, wave: Wave) -> list[str]:
    if seen.at_edges:
        return []
    rate, wanted = seen.rate_hz, wave.frequency_hz
    if wanted <= 0 or not _pulses(wave):
        return []
    if rate < 2 * wanted:
        alias = wave.alias_hz(rate)
        agrees = seen.frequency_hz is not None and math.isclose(seen.frequency_hz, alias, rel_tol=0.1)
        return [
            f"Sampled at {phrase(rate, 'frequency')}, less than twice the pace of {phrase(wanted, 'frequency')}: "
            + (f"it seems to be {phrase(alias, 'frequency')}, and is not. " if agrees else "what is seen is not so. ")
            + "A shorter time a division."
        ]
    if rate < SAMPLES_A_PERIOD * wanted:
        return [
            f"Only {rate / wanted:.2g} samples a period: frequency may do, duty and edges do not. A shorter time a "
            "division."
        ]
    found = []
    if seen.frequency_hz is not None and seen.duty is not None and _close(seen.frequency_hz, wanted):
        turned = abs(seen.duty - (1 - wave.duty)) < 0.02 and abs(wave.duty - 0.5) > 0.05
        if turned:
            found.append("High and low are changed over: the line is inverted, or the probe is behind a transistor.")
    return found
