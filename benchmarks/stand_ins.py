"""The stand-in bench: how much faster than real time it goes, and what a followed reading costs."""

from __future__ import annotations

import time

from zinc_whistle.core.program.protocol import framed
from zinc_whistle.demo.data import lantern_carousel, sample_parts
from zinc_whistle.standins.world import World

SECONDS = 5


def stand_ins() -> dict[str, float]:
    """A bench with its motor turning, for some seconds."""
    world = World(lantern_carousel(), sample_parts())
    world.supply.volts, world.supply.limit_a, world.supply.on = 12.8, 5.0, True
    begun = time.perf_counter()
    world.advance(50)
    world.tell(framed("clear") + "\n")
    for tenth in range(10 * SECONDS):
        world.tell(framed("duty 1 500" if tenth == 0 else "status 1") + "\n")
        world.advance(100)
    return {"stand-in bench, times faster than real time (aim 20)": SECONDS / (time.perf_counter() - begun)}


if __name__ == "__main__":
    for name, value in stand_ins().items():
        print(f"{name}: {value:.3g}")
