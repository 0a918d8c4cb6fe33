"""A run for the screen: bins that hide no peak, and what a builder would measure on it."""

from __future__ import annotations

import math
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from .engine import CUT_OFF, Phase, Run
from .plant import BUS, OMEGA, I, Plant

Grid = NDArray[np.float64]
BINS = 320
SHOWN = (
    "it stops",
    "it jams",
    "it is free again",
    "it breaks away",
    "the clamp opens",
    "the source gives no more",
    CUT_OFF,
)


@dataclass(frozen=True, slots=True)
class Measured:
    """Figures of a run, SI: currents, time to 95 % of the last speed (None: not reached), energy drawn, bus at most and
    least, and the energy that a torn current left in its switch, all of them together and the largest."""

    peak_a: float
    rms_a: float
    ripple_a: float
    last_speed: float
    time_to_speed_s: float | None
    energy_j: float
    bus_high_v: float
    bus_low_v: float
    torn_j: float = 0.0
    torn_most_j: float = 0.0


@dataclass(frozen=True, slots=True)
class Leg:
    """A piece of a run: when it begins (s), the plant, and the phase."""

    start_s: float
    plant: Plant
    phase: Phase


@dataclass(frozen=True, slots=True)
class RunStory:
    """A run for the screen: bins of time with lowest and highest current and bus, speed; figures, events, notes."""

    time_s: Grid
    current_low: Grid
    current_high: Grid
    speed: Grid
    bus_low: Grid
    bus_high: Grid
    measured: Measured
    events: list[tuple[float, str]]
    notes: list[str]
    run: Run
    legs: list[Leg] = field(default_factory=list)


def story_of(plant: Plant, run: Run, notes: list[str], period_s: float, legs: list[Leg] | None = None) -> RunStory:
    """A run in bins that hide no peak, and what a builder would measure on it."""
    times, states = run.arrays()
    end = float(times[-1])
    edges = np.linspace(0, end, BINS + 1)
    place = np.clip(np.searchsorted(edges, times, side="right") - 1, 0, BINS - 1)
    low, high = np.full((BINS, 2), np.inf), np.full((BINS, 2), -np.inf)
    for k, column in enumerate((I, BUS)):
        np.minimum.at(low[:, k], place, states[:, column])
        np.maximum.at(high[:, k], place, states[:, column])
    middle = (edges[:-1] + edges[1:]) / 2
    for k, column in enumerate((I, BUS)):
        between = np.interp(middle, times, states[:, column])
        low[:, k] = np.where(np.isfinite(low[:, k]), np.minimum(low[:, k], between), between)
        high[:, k] = np.where(np.isfinite(high[:, k]), np.maximum(high[:, k], between), between)
    shown = [e for e in run.events if e[1] in SHOWN]
    return RunStory(
        time_s=middle,
        current_low=low[:, 0],
        current_high=high[:, 0],
        speed=np.interp(middle, times, states[:, OMEGA]),
        bus_low=low[:, 1],
        bus_high=high[:, 1],
        measured=measured(plant, times, states, period_s),
        events=shown[:12],
        notes=notes,
        run=run,
        legs=legs or [],
    )


def measured(plant: Plant, times: Grid, states: Grid, period_s: float) -> Measured:
    """Peak, RMS, ripple over the last periods, time to speed, energy from the source, the bus's extremes, torn
    energy."""
    current, speed, bus = states[:, I], states[:, OMEGA], states[:, BUS]
    widths = np.diff(times)
    span = float(times[-1] - times[0])
    a, b = current[:-1], current[1:]
    square = float(np.sum(widths * (a * a + a * b + b * b) / 3))
    flow = (plant.source_v - bus) / plant.source_ohm
    if not plant.sinks:
        flow = np.maximum(flow, 0.0)
    energy = float(np.sum(widths * (flow[:-1] + flow[1:]) / 2)) * plant.source_v
    late = current[times >= times[-1] - 2.01 * period_s]
    last = float(speed[-1])
    reached = None
    if abs(last) > 1e-6:
        far = np.flatnonzero(np.abs(speed - last) > 0.05 * abs(last))
        reached = float(times[far[-1] + 1]) if far.size and far[-1] + 1 < len(times) else 0.0 if not far.size else None
    # A current that is nothing at the very moment in which it still was something has been torn.
    torn = plant.inductance_h / 2 * a[(widths == 0) & (b == 0) & (a != 0)] ** 2
    return Measured(
        peak_a=float(np.abs(current).max()),
        rms_a=math.sqrt(square / span) if span else 0.0,
        ripple_a=float(late.max() - late.min()),
        last_speed=last,
        time_to_speed_s=reached,
        energy_j=energy,
        bus_high_v=float(bus.max()),
        bus_low_v=float(bus.min()),
        torn_j=float(torn.sum()),
        torn_most_j=float(torn.max(initial=0.0)),
    )
