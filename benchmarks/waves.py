"""Captures: what measuring ten million samples costs, from arrays; and reading them from a file, apart."""

from __future__ import annotations

import tempfile
import time
from pathlib import Path

import numpy as np

from zinc_whistle.core.captures.measure import measure
from zinc_whistle.core.captures.table import read

SAMPLES, IN_FILE = 10_000_000, 2_000_000


def waves() -> dict[str, float]:
    """20 kHz of pulses with noise, 50 million samples a second."""
    t = np.arange(SAMPLES) / 50e6
    v = 5.0 * ((t * 20e3) % 1 < 0.4) + 0.05 * np.random.default_rng(1).standard_normal(SAMPLES)
    begun = time.perf_counter()
    measure(t, v)
    measured = time.perf_counter() - begun
    with tempfile.TemporaryDirectory() as folder:
        file = Path(folder) / "capture.csv"
        np.savetxt(file, np.column_stack([t, v])[:IN_FILE], delimiter=",", header="t (s),CH1 (V)", comments="")
        begun = time.perf_counter()
        read(file)
        taken = time.perf_counter() - begun
    return {"10⁷ samples measured (s; aim 1)": measured, "2·10⁶ rows read from CSV (s)": taken}


if __name__ == "__main__":
    for name, value in waves().items():
        print(f"{name}: {value:.3g}")
