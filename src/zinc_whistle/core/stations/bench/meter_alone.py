"""A test sheet for a builder who has no oscilloscope: what a meter reads instead, and what has to be left open."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from ...algebra.nodes import Leaf
from ...laws import bench as rules
from ...laws import instruments
from ...laws.nothing import NO_VOLTS
from .step import Step, dc_volts

LEVEL_SHARE = 0.06
"""An output comes up to its supply to about this, and a meter reads pulses to a per cent (common practice, no
source)."""
MEAN = (
    "a meter shows the mean of pulses: their level times the share of the time that they are high; the level is sure "
)
"""Why volts stand for a duty."""


def with_a_meter(steps: Sequence[Step], because: Leaf) -> list[Step]:
    """The sheet with its oscilloscope's steps as a meter can do them."""
    return [_with_a_meter(s, because) if "Oscilloscope" in s.instrument else s for s in steps]


def _with_a_meter(step: Step, because: Leaf) -> Step:
    if step.level is not None and step.kind in ("fraction", "time"):
        return _mean(step, because)
    if step.kind == "frequency":
        return replace(
            step,
            instrument="Meter with an Hz range",
            setting="Hz, on the same pin. A meter without it: skip the step, and say so",
            wave=None,
        )
    if step.id == "sag":
        return replace(step, instrument="Meter with MIN", setting=step.setting.partition("; ")[2].capitalize())
    return replace(
        step,
        setting="It takes an oscilloscope: borrow one. Without it, at half duty and behind a supply limited to twice "
        "the idle current, the supply must draw no more than at rest, and nothing may get warm",
        wave=None,
    )


def _mean(step: Step, because: Leaf) -> Step:
    """Volts for a duty, or for the length of a pulse that comes so many times a second."""
    level = step.level
    assert level is not None
    if step.kind == "time" and step.pace is not None:
        expected = rules.mean_of_pulse(level, step.expected, step.pace, because=[because])
        per = step.pace.value
    else:
        expected, per = instruments.pulse_mean(level, NO_VOLTS, step.expected, because=[because]), 1.0
    low = high = None
    if level.value is not None and per is not None and step.low is not None and step.high is not None:
        low, high = (1 - LEVEL_SHARE) * step.low * level.value * per, (1 + LEVEL_SHARE) * step.high * level.value * per
    return replace(
        step,
        instrument="Meter",
        setting=dc_volts(expected.value) + "; not AC: that range reads something else of pulses",
        expected=expected,
        kind="voltage",
        unit="V",
        low=low,
        high=high,
        reason=MEAN + "to some ±5 %",
        caution="",
        wave=None,
    )
