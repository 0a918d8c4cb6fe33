"""A sampled speed loop as a linear one: its response on the unit circle, its margins, and gains from the model."""

from __future__ import annotations

import math
from functools import lru_cache
from typing import Any

import numpy as np

from .loop_step import LoopLaw, LoopPlant, _with_angle
from .tuning import Gains, Lagging, Margins, margins, simc


def open_loop(plant: LoopPlant, law: LoopLaw) -> tuple[np.ndarray, np.ndarray, np.ndarray, float]:
    """The plant over one period from duty to what is measured: x⁺ = F x + g u, y = c x + d u.

    Not counted: y is the speed at the sample. Counted: the mean of the period before it, so that the angle of the
    last sample is part of the state.
    """
    m = _with_angle(plant, law.period_s)
    volts = plant.bus_v
    if not law.counted:
        return m[:2, :2], m[:2, 3] * volts, np.array([0.0, 1.0]), 0.0
    # States: current, speed, and the mean speed over the period that has just ended.
    f = np.zeros((3, 3))
    f[:2, :2] = m[:2, :2]
    f[2, :2] = m[2, :2] / law.period_s
    g = np.array([m[0, 3], m[1, 3], m[2, 3] / law.period_s]) * volts
    return f, g, np.array([0.0, 0.0, 1.0]), 0.0


@lru_cache(maxsize=256)
def margins_of(plant: LoopPlant, law: LoopLaw) -> Margins:
    """Gain and phase margin (rad) and largest sensitivity, up to half the sample rate."""
    f, g, c, d = open_loop(plant, law)
    eye = np.eye(len(g))
    each = law.period_s / law.integral_s if law.integral_s is not None else 0.0

    def loop(s: Any) -> Any:
        z = np.exp(np.asarray(s) * law.period_s)
        answer = np.linalg.solve(z[..., None, None] * eye - f, np.broadcast_to(g[:, None], (*z.shape, len(g), 1)))
        answer = (c @ answer[..., 0].T if z.ndim else c @ answer[..., 0]) + d
        # The integral counts the error of this sample from the next one on, as the program does.
        control = law.gain * (1 + each / (z - 1))
        return control * answer

    slow = plant.resistance_ohm * plant.inertia / plant.constant**2
    return margins(loop, math.sqrt(slow * law.period_s), math.pi / law.period_s)


def lagging(plant: LoopPlant, period_s: float) -> Lagging:
    """The drive as gain (rad/s at full duty), lag and dead time, by the half rule (Skogestad 2003): half of the
    electrical time goes to the lag, half to the dead time, to which half a period of the hold and half of the counting
    are added."""
    electrical = plant.inductance_h / plant.resistance_ohm
    mechanical = plant.resistance_ohm * plant.inertia / plant.constant**2
    slow, quick = max(electrical, mechanical), min(electrical, mechanical)
    return Lagging(plant.bus_v / plant.constant, slow + quick / 2, quick / 2 + period_s)


def suggested(plant: LoopPlant, period_s: float) -> Gains:
    """SIMC's gains for that, with his advice: as quick as the dead time."""
    return simc(lagging(plant, period_s))
