"""What a logic analyser would see of a run: what the bridge is told, pulse by pulse, and the encoder's two channels."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from .engine import Run
from .plant import OMEGA, THETA
from .telling import Leg, RunStory

Level = bool | None
"""High, low, or None where it is not told: pulses of an averaged stretch are not simulated one by one."""
MOST_EDGES = 1_000_000
"""A stretch or an encoder with more is not told: such a file is opened by nobody, and fills the memory here."""


@dataclass(frozen=True, slots=True)
class Line:
    """A digital line: its name, and each change of it, times (s) in order."""

    name: str
    changes: list[tuple[float, Level]]


NAMES = {
    "forward": "forward",
    "back": "back",
    "short": "shorted",
    "wheel": "freewheel",
    "wheel back": "freewheel_back",
    "off": "open",
    "cut": "cut_off",
    "shoot": "both_on",
}


def lines_of(seen: RunStory, cycles_per_turn: float | None) -> list[Line]:
    """Bridge and encoder of a run; ``cycles_per_turn`` of the motor is None where no two channels are read."""
    found = bridge_lines(seen.legs, float(seen.run.arrays()[0][-1]))
    return found if cycles_per_turn is None else [*encoder_lines(seen.run, cycles_per_turn), *found]


def bridge_lines(legs: Sequence[Leg], end_s: float) -> list[Line]:
    """A line for each thing that the bridge is told in a run, high while it is told so."""
    told: list[tuple[float, str | None]] = []
    for leg, after in zip(legs, [*(x.start_s for x in legs[1:]), end_s], strict=True):
        paths = leg.phase.paths()
        if len(paths) > 1 and (leg.phase.averaged or leg.phase.periods > MOST_EDGES):
            told.append((leg.start_s, None))
            continue
        # Phases of one path alone are one long piece, however many periods they last.
        periods = leg.phase.periods if len(paths) > 1 else 1
        for n in range(periods):
            at = leg.start_s + n * leg.phase.period_s
            for path, length in paths:
                if at < min(after, end_s):
                    told.append((at, path))
                at += length
    used = {path for _, path in told if path} | {p for x in legs for p, _ in x.phase.paths()}
    return [
        Line(name, _changes([(t, None if p is None else p == path) for t, p in told]))
        for path, name in NAMES.items()
        if path in used
    ]


def _changes(levels: Sequence[tuple[float, Level]]) -> list[tuple[float, Level]]:
    return [x for n, x in enumerate(levels) if n == 0 or x[1] != levels[n - 1][1]]


CHANNELS = ("encoder_a", "encoder_b")


def encoder_lines(run: Run, cycles_per_turn: float) -> list[Line]:
    """Channels A and B of an encoder on a run's angle, with so many cycles in a turn of the motor; A leads B forward.

    Between two states of a run the angle follows its speed at both of them (a cubic), in pieces short enough to be
    taken as straight.
    """
    times, states = run.arrays()
    at, angle = _finer(times, states[:, THETA], states[:, OMEGA], math.tau / cycles_per_turn)
    quarter = angle / math.tau * cycles_per_turn * 4
    place = np.floor(quarter).astype(np.int64)
    steps = np.diff(place)
    if np.sum(np.abs(steps)) > MOST_EDGES:
        return [Line(name, [(float(times[0]), None)]) for name in CHANNELS]
    moved = np.flatnonzero(steps)
    rising = steps[moved] > 0
    # A piece may cross several edges: each gets its own moment on the straight.
    many = np.abs(steps[moved])
    piece, up = np.repeat(moved, many), np.repeat(rising, many)
    nth = np.arange(len(piece)) - np.repeat(np.cumsum(many) - many, many)
    edge = np.where(up, place[piece] + 1 + nth, place[piece] - nth)
    share = (edge - quarter[piece]) / (quarter[piece + 1] - quarter[piece])
    when = at[piece] + np.clip(share, 0.0, 1.0) * (at[piece + 1] - at[piece])
    state = np.concatenate(([place[0]], np.where(up, edge, edge - 1)))
    moment = np.concatenate(([times[0]], when)).tolist()
    a, b = np.isin(state % 4, (0, 1)), np.isin(state % 4, (1, 2))
    return [
        Line(name, _changes(list(zip(moment, channel.tolist(), strict=True))))
        for name, channel in zip(CHANNELS, (a, b), strict=True)
    ]


MOST_PIECES = 64


def _finer(
    times: NDArray[np.float64], angle: NDArray[np.float64], speed: NDArray[np.float64], cycle: float
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Times (s) and angles (rad) with each step of a run cut into pieces of an eighth of an encoder's cycle or less."""
    span = np.diff(times)
    turned = span * np.maximum(np.abs(speed[:-1]), np.abs(speed[1:]))
    pieces = np.clip(np.ceil(8 * turned / cycle), 1, MOST_PIECES).astype(np.int64)
    step = np.repeat(np.arange(len(span)), pieces)
    u = (np.arange(len(step)) - np.repeat(np.cumsum(pieces) - pieces, pieces)) / np.repeat(pieces, pieces)
    h, start, end = span[step], angle[:-1][step], angle[1:][step]
    # Cubic Hermite interpolation.
    fine = (
        (1 + 2 * u) * (1 - u) ** 2 * start
        + u * (1 - u) ** 2 * h * speed[:-1][step]
        + u**2 * (3 - 2 * u) * end
        + u**2 * (u - 1) * h * speed[1:][step]
    )
    return np.append(times[:-1][step] + u * h, times[-1]), np.append(fine, angle[-1])
