"""Runs as files: CSV of every edge and event, and VCD (IEEE 1364) for a logic analyser's viewer."""

from __future__ import annotations

import io
import math
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray
from vcd import VCDWriter

from .digital import Line
from .engine import Run

LEVELS: dict[bool | None, str] = {True: "1", False: "0", None: "x"}
NAMES = ("current_a", "speed_rpm", "angle_turns", "bus_v")
IN_UNITS = np.array([1.0, 60 / math.tau, 1 / math.tau, 1.0])
"""From the run's SI units to those of the screen: a plot and its file can be laid side by side."""


def _told(run: Run) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    times, states = run.arrays()
    return times, states[:, : len(NAMES)] * IN_UNITS


def to_csv(run: Run) -> str:
    """Every edge and event: time (s), current (A), motor's speed (rpm), angle (turns), bus (V)."""
    times, states = _told(run)
    rows = ["time (s),current (A),speed (rpm),angle (turns),bus (V)"]
    rows += [f"{t:.9g},{x[0]:.6g},{x[1]:.6g},{x[2]:.6g},{x[3]:.6g}" for t, x in zip(times, states, strict=True)]
    return "\n".join(rows) + "\n"


def to_vcd(run: Run, lines: Sequence[Line] = ()) -> str:
    """The same as real variables of a value-change dump, in ns, what happens as a text variable, and digital lines: x
    where a line is not told."""
    times, states = _told(run)
    ticks = np.round(times * 1e9).astype(np.int64)
    events = {round(t * 1e9): words for t, words in run.events}
    out = io.StringIO()
    with VCDWriter(out, timescale="1 ns", date="", comment="a simulated run", version="Zinc Whistle") as writer:
        variables = [
            writer.register_var("drive", name, "real", init=float(states[0, k])) for k, name in enumerate(NAMES)
        ]
        event = writer.register_var("drive", "event", "string", init="")
        wires = [writer.register_var("lines", x.name, "wire", size=1, init="x") for x in lines]
        levels = ((t, n, level) for n, x in enumerate(lines) for t, level in x.changes)
        coming = iter(sorted((round(t * 1e9), n, LEVELS[level]) for t, n, level in levels))
        waiting = next(coming, None)
        for row, tick in enumerate(ticks.tolist()):
            while waiting is not None and waiting[0] <= tick:
                writer.change(wires[waiting[1]], waiting[0], waiting[2])
                waiting = next(coming, None)
            for k, variable in enumerate(variables):
                writer.change(variable, tick, float(states[row, k]))
            if tick in events:
                writer.change(event, tick, events[tick].replace(" ", "_"))
    return out.getvalue()
