"""What is seen, heard or smelt without any instrument, and whether a drive with something wrong would show it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from .healthy import Healthy
from .readings import SheetReadings
from .state import Draws, run

Mask = NDArray[np.bool_]

SLOW_SHARE = 0.85
"""Of the speed that was worked out: less is heard (common practice, no source)."""
STILL_SHARE = 0.03
HOT_SHARE = 2.5
"""Of the losses that were worked out: a finger is taken away (common practice, no source)."""


@dataclass(frozen=True, slots=True)
class Symptom:
    """Something that is seen with the driver told to run forward, nothing on the shaft unless it says so."""

    id: str
    question: str
    shows: Callable[[SheetReadings], Mask]
    asked: Callable[[Healthy], bool] = lambda h: True


def _free_share(r: SheetReadings) -> Draws:
    """Of the free speed that its own source would give."""
    healthy = r.s.emf_v - r.h.bridge_v - r.h.brush_v
    return np.asarray(r.free.speed * r.h.constant / np.maximum(healthy, 1e-9))


def _still(r: SheetReadings) -> Mask:
    return np.abs(_free_share(r)) < STILL_SHARE


def _slow(r: SheetReadings) -> Mask:
    share = np.abs(_free_share(r))
    ohms = r.h.source_ohm + r.h.bridge_ohm + r.h.motor_ohm
    usual = 1 - ohms * r.h.friction_a / max(r.h.flat_v - r.h.bridge_v - r.h.brush_v, 1e-9)
    return np.asarray((share >= STILL_SHARE) & (share < SLOW_SHARE * usual))


def _one_way(r: SheetReadings) -> Mask:
    ahead, back = np.abs(r.s.forward), np.abs(r.s.back)
    return np.asarray(((ahead > 0) != (back > 0)) & (r.s.lead > 0) & (r.s.commanded > 0) & (r.s.supplied > 0))


def _by_itself(r: SheetReadings) -> Mask:
    return np.abs(run(r.h, r.s, ordered=0.0).speed) > 0


def _limits(r: SheetReadings) -> Mask:
    """A short, or the motor held fast by what is wrong; a supply whose limit stands too low shows it under load."""
    shorted = (r.s.short_ohm < 20) | ((r.s.driven_short > 0) & (r.s.commanded > 0) & (r.s.supplied > 0))
    return np.asarray(shorted | (r.loaded.current_a >= r.s.limit_a * 0.999) | ((r.s.locked > 0) & (r.s.lead > 0)))


def _hot(r: SheetReadings) -> Mask:
    lost = (r.loaded.current_a / max(r.h.working_a, 1e-9)) ** 2 * r.s.bridge_ohm / max(r.h.bridge_ohm, 1e-9)
    warm = lost * r.s.heat if r.h.bridge_ohm else (r.loaded.current_a / max(r.h.working_a, 1e-9)) ** 2 * r.s.heat
    return (warm > HOT_SHARE) | (r.s.short_ohm < 20) | (r.s.driven_short > 0)


def _anew(r: SheetReadings) -> Mask:
    sag = r.h.steps.get("sag")
    lowest = r.of(sag) if sag is not None else None
    return np.zeros(len(r.s.emf_v), bool) if lowest is None else (lowest < r.h.least_v) & (r.s.emf_v > r.h.least_v)


SYMPTOMS = (
    Symptom("still", "It does not turn", _still),
    Symptom("other_way", "It turns the other way", lambda r: r.free.speed < 0),
    Symptom("slow", "It turns, but weaker or slower than worked out", _slow),
    Symptom("one_way", "It runs one way and not the other", _one_way, lambda h: h.two_way),
    Symptom("by_itself", "It runs before anything is ordered", _by_itself),
    Symptom("limits", "The fuse blows, or the supply goes into its limit", _limits),
    Symptom("hot", "Something is too hot to touch, or smells", _hot),
    Symptom("anew", "The controller begins anew when it starts", _anew, lambda h: h.least_v > 0),
    Symptom("behind", "The motor turns and its load stays behind", lambda r: (r.s.slips > 0) & (r.free.speed > 0)),
    Symptom("uncounted", "The counter stands still, or counts back", lambda r: r.s.count < 0.1, lambda h: h.counted),
)
