"""The fault finder: what the draws of a drive cost once, and what each question costs after that."""

from __future__ import annotations

import time

from zinc_whistle.core.assess import assess
from zinc_whistle.core.design.faults import finder_of
from zinc_whistle.demo.data import puppet_stage, sample_parts

TIMES = 20


def faults() -> dict[str, float]:
    """The demo with the most causes and steps."""
    motor = next(m for d in assess(puppet_stage(), sample_parts()).drives.values() if (m := d.of_motor) is not None)
    begun = time.perf_counter()
    finder = finder_of(motor.context, motor.steps)
    made = time.perf_counter()
    for _ in range(TIMES):
        finder.ask({"rail": 18.0}, {"still": True})
    asked = (time.perf_counter() - made) / TIMES
    size = f"{len(finder.causes)} causes, {len(finder.steps)} steps"
    return {f"draws, once a build (ms; {size})": 1e3 * (made - begun), "next best test (ms; aim 300)": 1e3 * asked}


if __name__ == "__main__":
    for name, value in faults().items():
        print(f"{name}: {value:.3g}")
