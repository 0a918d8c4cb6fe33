"""Makes the stirrer's spin-up capture: the model with made-up noise, written as an oscilloscope would.

Run ``python -m zinc_whistle.demo.capture`` to write the shipped file anew; it is the same every time.
"""

from __future__ import annotations

from importlib.resources import files

import numpy as np

from ..core.captures.spinup_capture import SpinUp, simulate

STIRRER = "cider_stirrer_spin_up.csv"
SEED = 20261125
PERIOD_S = 1e-4
PACK_OHM = 0.12
BRUSH_V = 0.33
TRUE = {
    "resistance": 0.291,
    "inductance": 1.58e-4,
    "constant": 0.0284,
    "inertia": 6.2e-5,
    "friction": 0.0281,
    "viscous": 1.05e-5,
}


def stirrer() -> str:
    """The capture as text: half the cells first, then all of them; semicolons, decimal commas."""
    random = np.random.default_rng(SEED)
    half = np.full(3000, 18.2)
    volts = np.concatenate([np.zeros(60), half, np.full(3400, 36.4)])
    inner = np.array(list(TRUE.values()))
    inner[0] += PACK_OHM
    blank = np.zeros(len(volts))
    current, speed = simulate(inner, SpinUp(PERIOD_S, volts, blank, blank, brush_v=0.0))
    # The brushes take their drop only while current flows; the pack's resistance shows in the measured volts.
    current, speed = simulate(inner, SpinUp(PERIOD_S, np.maximum(volts - BRUSH_V, 0.0), blank, blank))
    seen = np.where(volts > 0, volts - PACK_OHM * current, 0.0)
    rows = np.column_stack(
        [
            np.arange(len(volts)) * PERIOD_S * 1e3,
            current + random.normal(0, 0.15, len(volts)),
            seen + random.normal(0, 0.02, len(volts)),
            speed * 30 / np.pi + random.normal(0, 25, len(volts)),
        ]
    )
    lines = ["time (ms);current (A);voltage (V);speed (rpm)"]
    lines += [";".join((f"{t:.1f}", f"{i:.3f}", f"{v:.3f}", f"{n:.0f}")).replace(".", ",") for t, i, v, n in rows]
    return "\n".join(lines) + "\n"


def shipped(name: str) -> bytes:
    """A capture that ships. FileNotFoundError if there is none of that name."""
    return (files(__package__) / "captures" / name).read_bytes()


if __name__ == "__main__":
    from pathlib import Path

    (Path(__file__).parent / "captures" / STIRRER).write_text(stirrer(), "utf-8")
