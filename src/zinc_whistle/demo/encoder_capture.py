"""A capture of the winch's disc: 12 teeth turned by hand, the sensors too near together, and one tooth cut wrong."""

from __future__ import annotations

import numpy as np

TEETH, RATE_HZ, SECONDS = 12, 4000, 6.0
PHASE, WRONG_TOOTH, WRONG_PHASE = 60 / 360, 7, 25 / 360


def winch_disc() -> bytes:
    """CSV: time (s), both channels (V), and an index once a turn (V); made up, with the noise of a cheap probe."""
    dice = np.random.default_rng(12)
    time = np.arange(round(RATE_HZ * SECONDS)) / RATE_HZ
    turns = 0.55 * time + 0.02 * np.sin(5 * time)
    place = turns * TEETH
    tooth = np.floor(place).astype(int) % TEETH
    shift = np.where(tooth == WRONG_TOOTH - 1, WRONG_PHASE, PHASE)
    bits = [place % 1 < 0.5, (place % 1 >= shift) & (place % 1 < shift + 0.5), (turns % 1 < 0.01) & (turns > 0.5)]
    volts = [np.where(b, 4.4, 0.3) + dice.normal(0, 0.04, len(time)) for b in bits]
    rows = np.column_stack([time, *volts])
    head = "Time (s),A (V),B (V),Index (V)"
    lines = [f"{t:.5f},{a:.2f},{b:.2f},{i:.2f}" for t, a, b, i in rows]
    return ("\n".join([head, *lines]) + "\n").encode()
