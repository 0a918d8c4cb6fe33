"""A made-up record of the carousel's loop, as its board would report it: more inertia than was reckoned with."""

from __future__ import annotations

import math

import numpy as np

HEAVIER = 1.5
STEP_MS = 20


def carousel_trace() -> str:
    """Duty by the port: 0, 30, 55 and 40 %, four seconds each; speed in whole rpm, as it is counted."""
    dice = np.random.default_rng(20261127)
    gain, lag = 574.0, 0.225 * HEAVIER
    speed, count, rows = 0.0, 0.0, []
    for k in range(800):
        duty, before = (0, 300, 550, 400)[k // 200], (0, 300, 550, 400)[max(k - 1, 0) // 200]
        told = speed * 30 / math.pi + float(dice.normal(0, 12))
        mode = "forward" if duty else "idle"
        rows.append(f"at {12000 + k * STEP_MS} 1 {mode} {duty} {max(round(told), 0)} {round(count)} 0")
        goal = max(gain * before / 1000 - 62.0, 0.0)
        speed += (goal - speed) * (1 - math.exp(-STEP_MS / 1000 / lag))
        count += speed * STEP_MS / 1000 / (2 * math.pi) * 47.98
    return "\n".join(rows) + "\n"
