"""Encoders and loops: decoding a long capture, a long move, the map of gains."""

from __future__ import annotations

import time
from collections.abc import Callable

import numpy as np

from zinc_whistle.core.captures.quadrature import analyse, changes, steps_of
from zinc_whistle.core.laws.gain_map import gain_map
from zinc_whistle.core.laws.loop_margins import lagging, suggested
from zinc_whistle.core.laws.loop_step import LoopLaw, LoopPlant
from zinc_whistle.core.simulation.moves.laws import suggested_laws
from zinc_whistle.core.simulation.moves.run import move
from zinc_whistle.core.simulation.moves.shaft import Shaft

SAMPLES = 10_000_000
MOTOR = LoopPlant(12.0, 0.0, 2.0, 1e-3, 0.02, 2e-5, 0.0, -1.0)
SHAFT = Shaft(MOTOR, 1e-3, 1.5e-3, 48.0, play_rad=0.3, counted="output", source_ohm=0.2, limit_a=5.0, pulses_hz=16e3)
"""Everything on: play within the loop, a source that gives way, a driver that holds its current, pulses."""


def best_ms(work: Callable[[], object], repeats: int = 5) -> float:
    """The shortest of some runs, in ms."""
    found = []
    for _ in range(repeats):
        start = time.perf_counter()
        work()
        found.append(time.perf_counter() - start)
    return 1e3 * min(found)


def loops() -> dict[str, float]:
    """10⁷ samples of two channels beside one numpy difference of an array of that length; 10 s of a move at 1 kHz; 60 ×
    60 gains and integral times."""
    place = np.arange(SAMPLES) * 2e-3
    a, b = place % 1 < 0.5, (place - 0.25) % 1 < 0.5
    seconds = np.arange(SAMPLES) * 1e-6
    difference = best_ms(lambda: np.diff(place))
    read = changes(seconds, a, b)
    decoded = best_ms(lambda: steps_of(changes(seconds, a, b).code))
    slow, gains = lagging(MOTOR, 1e-3), suggested(MOTOR, 1e-3)
    laws = suggested_laws(SHAFT, 1e-3, slow.lag_s or 0.0, slow.dead_s, (gains.gain, gains.integral_s or 1.0))
    stirred = {law.way: best_ms(lambda law=law: move(SHAFT, law, 480, 10.0)) for law in laws}  # type: ignore[misc]
    plant = LoopPlant(12.0, 0.1, 2.0, 1e-3, 0.02, 2e-5, 0.005, 0.0)
    law = LoopLaw(gains.gain, gains.integral_s, 5e-3, 0.3, True)
    across = np.geomspace(gains.gain / 10, gains.gain * 4, 60)
    down = np.geomspace(0.01, 1.0, 60)
    return {
        "decoding 10⁷ samples over one numpy difference (aim 10)": decoded / difference,
        "the same with phases, duty and teeth, ms": best_ms(lambda: analyse(read, teeth=12)),
        "10 s move at 1 kHz with everything on, the slowest law, ms (aim 30)": max(stirred.values()),
        "10 s move at 1 kHz with everything on, the quickest law, ms": min(stirred.values()),
        "60 × 60 gains and integral times, ms (aim 300)": best_ms(
            lambda: gain_map(plant, law, 300.0, across, down, 1.0)
        ),
    }


if __name__ == "__main__":
    for name, value in loops().items():
        print(f"{value:10.2f}  {name}")
