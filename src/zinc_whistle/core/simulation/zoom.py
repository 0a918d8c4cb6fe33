"""A few PWM periods of a run at full detail."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from .engine import Engine, Phase, Run
from .plant import BUS, OMEGA, I
from .scenario import PATIENCE, SimulatedDrive
from .telling import RunStory


@dataclass(frozen=True, slots=True)
class Zoomed:
    """A few PWM periods at full detail: times (s), current (A), speed (rad/s), bus (V), and what the bridge does."""

    time_s: list[float]
    current: list[float]
    speed: list[float]
    bus: list[float]
    path: list[str]


SETTLE_PERIODS, SHOWN_PERIODS, SAMPLES = 40, 6, 20


def zoom(seen: RunStory, drive: SimulatedDrive, at_s: float) -> Zoomed:
    """Single PWM cycles of a run, simulated anew with every pulse and sampled densely, from its state at a time.

    An averaged run is first given forty pulsed periods to find its ripple. ValueError for a time outside the run.
    """
    times, states = seen.run.arrays()
    if not 0 <= at_s <= float(times[-1]) or not seen.legs:
        raise ValueError(f"The run lasts from 0 to {float(times[-1]):.3g} s.")
    leg = next(x for x in reversed(seen.legs) if x.start_s <= at_s or x is seen.legs[0])
    phase = drive.pulsed(leg.phase)
    # A cycle begins where the run's own cycles do.
    begins = leg.start_s + math.floor((at_s - leg.start_s) / leg.phase.period_s + 1e-9) * leg.phase.period_s
    x = states[max(int(np.searchsorted(times, begins + 1e-12, side="right")) - 1, 0)].copy()
    engine = Engine(leg.plant, PATIENCE)
    if phase.periods > 1 or 0 < phase.duty < 1:
        period, lead = phase.period_s, SETTLE_PERIODS if leg.phase.averaged else 1
        x = engine.run([replace(phase, periods=lead)], x).last[1]
        pieces = [Phase(1, length / SAMPLES, 1.0, path, path) for path, length in phase.paths()]
        cycle = [p for piece in pieces for p in [piece] * SAMPLES] * SHOWN_PERIODS
    else:
        period = drive.period_s
        cycle = [
            Phase(
                periods=1,
                period_s=period / SAMPLES,
                duty=phase.duty,
                on=phase.on,
                off=phase.off,
                averaged=phase.averaged,
            )
        ] * (SAMPLES * SHOWN_PERIODS)
    run, path = Run(), list[str]()
    now = at_s
    run.add(now, x)
    for piece in cycle:
        part = engine.run([piece], x)
        taken = [(t + now, s) for t, s in part.pieces[1:]]
        run.pieces += taken
        path += [piece.on] * sum(len(t) for t, _ in taken)
        span, x = part.last
        now += span
    t, s = run.arrays()
    return Zoomed(t.tolist(), s[:, I].tolist(), s[:, OMEGA].tolist(), s[:, BUS].tolist(), [path[0], *path])
