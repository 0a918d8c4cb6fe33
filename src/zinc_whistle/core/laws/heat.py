"""How heat settles: parts of a duty may last minutes, against a chip's second and a board's minute."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any

import numpy as np

from ..algebra.kinds import Amperes, Fraction, HeatCapacity, KelvinPerWatt, Second, Seconds
from ..algebra.nodes import Constant
from ..algebra.rules import procedure, rule
from .forms import ARRAYS, NUMBERS, Form

CLASS = "a value of its class, assumed; no source"
PACKAGE_TIME = Constant("1 s", 1.0, "time", f"junction and package of an integrated driver: {CLASS}")
SHUNT_TIME = Constant("5 s", 5.0, "time", f"a shunt on its board: {CLASS}")
TRACK_TIME = Constant("10 s", 10.0, "time", f"a track on its board: {CLASS}")
FUSE_TIME = Constant("1 s", 1.0, "time", f"the element of a quick fuse: {CLASS}")
CAPACITOR_TIME = Constant("60 s", 60.0, "time", f"the can of a small electrolytic: {CLASS}")
REGULATOR_TIME = Constant("30 s", 30.0, "time", f"a regulator without a sink: {CLASS}")
NONE_OF_IT = Constant("0 %", 0.0, "fraction", "one node")


@rule("s", source="resistances in series", title="Share of the way that settles quickly")
def quick_share(R_1: KelvinPerWatt, R: KelvinPerWatt) -> Fraction:
    return R_1 / R


@rule("R_JS", source="resistances in series", title="Junction to sink")
def to_sink(R_JC: KelvinPerWatt, R_CS: KelvinPerWatt) -> KelvinPerWatt:
    return R_JC + R_CS


@rule("τ", source="thermal resistance × heat capacity", title="Thermal time constant")
def settling_time(R: KelvinPerWatt, C: HeatCapacity) -> Second:
    return R * C


def _square(I: Sequence[float], t: Sequence[float], s: Any, tau_1: Any, tau_2: Any, form: Form) -> Any:
    """The highest level of the squared current through both lags, together (A²)."""
    quick, slow = (_levels(I, t, tau, form) for tau in (tau_1, tau_2))
    highest: Any = 0.0
    for n, (current, span) in enumerate(zip(I, t, strict=True)):
        if span <= 0:
            continue
        square = current * current
        fast, late = s * (quick[n] - square), (1.0 - s) * (slow[n] - square)
        # Between the ends of a part the one lag may still rise while the other falls already: one turning point.
        ratio = form.over(-fast * tau_2, late * tau_1)
        turn = form.within(form.over(form.log(ratio), 1.0 / tau_1 - 1.0 / tau_2), span)
        inside = square + fast * form.exp(-turn / tau_1) + late * form.exp(-turn / tau_2)
        highest = form.larger(highest, form.larger(square + fast + late, inside))
    return highest


def _on_arrays(I: Sequence[float], t: Sequence[float], s: Any, tau_1: Any, tau_2: Any) -> Any:
    """``heating_current`` where share and times are arrays that broadcast; nan where one is missing."""
    if not np.all(np.isfinite([*I, *t])):
        return np.full(np.broadcast_shapes(np.shape(s), np.shape(tau_1), np.shape(tau_2)), np.nan)
    with np.errstate(all="ignore"):
        return np.sqrt(_square(I, t, s, tau_1, tau_2, ARRAYS))


@procedure(
    "I_heat",
    "current",
    says="root of the highest level of the squared current through the lags of its two thermal nodes",
    source="periodic steady state of first-order lags, superposed (Foster network); with a resistance that grows "
    "with heat an upper bound, since it counts the hottest moment's resistance all the time",
    arrays=_on_arrays,
)
def heating_current(I: Amperes, t: Seconds, s: float, tau_1: float, tau_2: float) -> float:
    """The steady current that makes a thing as hot as the worst moment of the cycle; A, s, share, s, s.

    ``s`` of its thermal resistance settles with ``tau_1``, the rest with ``tau_2``.
    """
    return math.sqrt(_square(I, t, s, tau_1, tau_2, NUMBERS))


def _levels(currents: Sequence[float], times: Sequence[float], tau: Any, form: Form) -> list[Any]:
    """Squared current behind a first-order lag (s) at the beginning of each part, in the periodic steady state."""
    kept = [form.exp(-t / tau) for t in times]
    level: Any = 0.0
    decay: Any = 1.0
    for i, keep in zip(currents, kept, strict=True):
        level, decay = i * i + (level - i * i) * keep, decay * keep
    level = level / (1.0 - decay)
    begun = []
    for i, keep in zip(currents, kept, strict=True):
        begun.append(level)
        level = i * i + (level - i * i) * keep
    return begun
