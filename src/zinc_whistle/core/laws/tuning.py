"""Tuning rules of loops, and how far a tuned loop is from trouble.

The plant of the rules is a gain, a lag and a dead time: k exp(−θ s)/(τ s + 1); or k exp(−θ s)/s, which integrates.
"""

from __future__ import annotations

import cmath
import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, TypeVar, cast

import numpy as np
import scipy
from numpy.typing import NDArray

from ..algebra.nodes import Unbounded

SIMC = "Skogestad, Simple analytic rules for model reduction and PID controller tuning, J. Process Control 13 (2003)"
PLACED = "Åström & Hägglund, PID Controllers: Theory, Design and Tuning (1995): pole placement of a first-order plant"
ULTIMATE = "Ziegler & Nichols, Optimum settings for automatic controllers, Trans. ASME 64 (1942)"
S = TypeVar("S", complex, NDArray[np.complex128])
"""A complex frequency, or an array of them."""
POINTS = 4000
DECADES = 5.0


@dataclass(frozen=True, slots=True)
class Lagging:
    """Gain, lag (s) and dead time (s); without a lag it integrates, and the gain is its slope (1/s)."""

    gain: float
    lag_s: float | None
    dead_s: float

    def __call__(self, s: S) -> S:
        """Its response at a complex frequency, or at many."""
        body = s if self.lag_s is None else self.lag_s * s + 1
        found: Any = self.gain * np.exp(-self.dead_s * s) / body
        return cast(S, found)


@dataclass(frozen=True, slots=True)
class Gains:
    """A controller: gain, integral time and derivative time (s; None: without)."""

    gain: float
    integral_s: float | None = None
    derivative_s: float | None = None

    def __call__(self, s: S) -> S:
        """The ideal form K (1 + 1/(Ti s) + Td s)."""
        value: Any = 1.0 + 0 * s
        if self.integral_s is not None:
            value += 1 / (self.integral_s * s)
        if self.derivative_s is not None:
            value += self.derivative_s * s
        return cast(S, self.gain * value)


@dataclass(frozen=True, slots=True)
class Margins:
    """How far a loop is from trouble: by how much the gain may grow, the phase that is left (rad), and the largest
    sensitivity."""

    gain: float
    phase: float
    sensitivity: float


def simc(plant: Lagging, closed_s: float | None = None) -> Gains:
    """Skogestad's rules for a PI controller; ``closed_s`` is the time constant wanted (None: the dead time, as he
    advises). ValueError where neither leaves a time."""
    wanted = plant.dead_s if closed_s is None else closed_s
    if wanted + plant.dead_s <= 0:
        raise ValueError("without a dead time the closed loop's time constant has to be given")
    slow = 4 * (wanted + plant.dead_s)
    if plant.lag_s is None:
        return Gains(1 / (plant.gain * (wanted + plant.dead_s)), slow)
    return Gains(plant.lag_s / (plant.gain * (wanted + plant.dead_s)), min(plant.lag_s, slow))


def placed(plant: Lagging, damping: float, natural: float) -> Gains:
    """Gains of a PI controller that put both poles of a lagging plant where they are wanted, s² + 2 ζ ω s + ω² (its
    dead time left out). ValueError where that would ask for a gain below nothing."""
    if plant.lag_s is None:
        return Gains(2 * damping * natural / plant.gain, 2 * damping / natural)
    strength = 2 * damping * natural * plant.lag_s - 1
    if strength <= 0:
        raise ValueError("the plant is quicker than that by itself: ask for more than 1/(2 ζ τ)")
    return Gains(strength / plant.gain, strength / (natural**2 * plant.lag_s))


def margins(loop: Callable[[Any], Any], scale_s: float, highest: float = math.inf) -> Margins:
    """Margins of an open loop around the frequency 1/``scale_s``; no higher than ``highest`` (rad/s), half the sample
    rate of a sampled one. Infinite where nothing bounds them. ``loop`` answers one complex frequency, and an array of
    them."""
    w = np.logspace(-DECADES, DECADES, POINTS) / scale_s
    w = w[w < highest]
    values = np.asarray(loop(1j * w))
    size, angle = np.abs(values), np.unwrap(np.angle(values))
    # The phase begins near that of its integrators: whole turns that unwrapping cannot know are taken off.
    angle -= 2 * np.pi * np.round((angle[0] + np.pi / 2) / (2 * np.pi))

    def phase_at(x: float) -> float:
        raw = cmath.phase(loop(1j * x))
        near = float(np.interp(math.log(x), np.log(w), angle))
        return raw + 2 * math.pi * round((near - raw) / (2 * math.pi))

    gains, phases = [math.inf], [math.inf]
    for k in np.flatnonzero(np.diff(np.sign(angle + np.pi))):
        at = scipy.optimize.brentq(lambda x: phase_at(x) + math.pi, w[k], w[k + 1], xtol=1e-12 * w[k])
        gains.append(1 / abs(loop(1j * at)))
    for k in np.flatnonzero(np.diff(np.sign(np.log(size)))):
        at = scipy.optimize.brentq(lambda x: math.log(abs(loop(1j * x))), w[k], w[k + 1], xtol=1e-12 * w[k])
        phases.append(math.pi + phase_at(at))
    return Margins(min(gains), min(phases), float(np.max(1 / np.abs(1 + values))))


def of_pi(k: float, tau: float, theta: float, kc: float, ti: float) -> Margins:
    """The margins of a PI controller on a lagging plant (τ of 0: it integrates). Unbounded without a dead time."""
    if theta <= 0:
        raise Unbounded("without a dead time nothing bounds it")
    plant, control = Lagging(k, tau or None, theta), Gains(kc, ti)
    return margins(lambda s: plant(s) * control(s), theta)
