"""A course of a drive's loop: what a board reported over its port, or a table with time, duty and speed or counts."""

from __future__ import annotations

import math
import re
from dataclasses import dataclass

import numpy as np

from .table import CaptureError, SampleTable, read

REPORTED = re.compile(r"\bat (\d{1,10}) (\d{1,3}) \S+ (-?\d{1,5}) (-?\d{1,5}) (-?\d{1,10}) (\d{1,5})\b")
"""A report of the port's protocol: time in ms, drive, state, duty in ‰, speed in rpm, count, counts lost."""
FEWEST, MOST_ROWS = 20, 20_000
MOST_CHARACTERS = 2_000_000
SHORTEST_S, LONGEST_S, FASTEST = 1e-3, 1e5, 1e5
"""A record's length, and a speed (rad/s) beyond any motor's: further off, a unit is wrong."""
NAMES = {
    "time": ("t", "time", "ms", "s"),
    "duty": ("duty", "level", "pwm", "u", "output"),
    "speed": ("speed", "rpm", "w", "omega", "n"),
    "count": ("count", "counts", "position", "pos", "encoder"),
}
SCALES = {
    "time": {"s": 1.0, "": 1.0, "ms": 1e-3, "us": 1e-6, "µs": 1e-6},
    "duty": {"%": 0.01, "‰": 0.001, "": 1.0, "1": 1.0},
    "speed": {"rpm": math.pi / 30, "": math.pi / 30, "rad/s": 1.0, "rps": 2 * math.pi, "r/min": math.pi / 30},
    "count": {"": 1.0, "1": 1.0, "counts": 1.0},
}
WORDS = {"time": "the time", "duty": "the duty", "speed": "the speed", "count": "the counts"}


@dataclass(frozen=True, slots=True)
class LoopTrace:
    """Times (s), duty (a share, below 0 back) as it stood from each of them on, and speed (rad/s at the motor)."""

    time_s: np.ndarray
    duty: np.ndarray
    speed: np.ndarray
    source: str


def read_trace(text: str, drive: int | None, counts_per_turn: float | None) -> LoopTrace:
    """A log of the port or a CSV table. ``drive``: whose reports are taken; ``counts_per_turn`` of the motor turns
    counts into speed where no speed is written. CaptureError with a sentence."""
    if len(text) > MOST_CHARACTERS:
        raise CaptureError(f"The record is longer than {MOST_CHARACTERS} characters: cut out what matters.")
    rows = [tuple(map(int, m.groups())) for m in REPORTED.finditer(text)]
    if rows:
        return _of_reports(rows, drive)
    return _of_table(read(text.encode()), counts_per_turn)


def _of_reports(rows: list[tuple[int, ...]], drive: int | None) -> LoopTrace:
    own = [r for r in rows if drive is None or r[1] == drive]
    if not own:
        told = ", ".join(str(n) for n in sorted({r[1] for r in rows}))
        raise CaptureError(f"These are reports of drive {told}: this one is number {drive} on its board.")
    values = np.array(own, dtype=float)
    return _checked(values[:, 0] * 1e-3, values[:, 2] * 1e-3, values[:, 3] * math.pi / 30, "reports of the board")


def _of_table(table: SampleTable, counts_per_turn: float | None) -> LoopTrace:
    found = {role: _column(table, role) for role in NAMES}
    missing = [WORDS[role] for role in ("time", "duty") if found[role] is None]
    if missing:
        raise CaptureError(f"No column is named for {' and '.join(missing)}: name them in the first line.")
    time, duty, speed, count = (found[role] for role in ("time", "duty", "speed", "count"))
    assert time is not None and duty is not None
    if speed is None:
        if count is None:
            raise CaptureError("No column is named for the speed, nor for counts that it could be told by.")
        if not counts_per_turn:
            raise CaptureError("Counts tell no speed before the encoder's counts of a turn are known.")
        with np.errstate(divide="ignore", invalid="ignore"):
            speed = np.diff(count, prepend=count[0]) / np.diff(time, prepend=np.nan) / counts_per_turn * 2 * math.pi
        speed[0] = 0.0
    return _checked(time, duty, speed, "a table")


def _column(table: SampleTable, role: str) -> np.ndarray | None:
    for place, (name, unit) in enumerate(zip(table.layout.names, table.layout.units, strict=True)):
        if name.lower().strip() in NAMES[role]:
            factor = SCALES[role].get(unit.strip().lower() if unit not in SCALES[role] else unit)
            if factor is None:
                allowed = ", ".join(u for u in SCALES[role] if u)
                raise CaptureError(f"“{unit}” is no unit of {WORDS[role].removeprefix('the ')}: take one of {allowed}.")
            values = table.columns[place] * factor
            if role == "duty" and not unit and np.max(np.abs(values)) > 1:
                raise CaptureError("Duty above 1 without a unit: write % or ‰ after its name.")
            return np.asarray(values)
    return None


def _checked(time: np.ndarray, duty: np.ndarray, speed: np.ndarray, source: str) -> LoopTrace:
    if len(time) < FEWEST:
        raise CaptureError(f"There are {len(time)} rows: at least {FEWEST} are needed.")
    if len(time) > MOST_ROWS:
        raise CaptureError(f"There are more than {MOST_ROWS} rows: cut out what matters.")
    if not np.all(np.diff(time) > 0):
        raise CaptureError("The time does not rise from row to row: one run at a time.")
    if not SHORTEST_S <= time[-1] - time[0] <= LONGEST_S:
        raise CaptureError("The record lasts less than a millisecond or more than a day: write s or ms after the time.")
    if np.max(np.abs(speed)) > FASTEST:
        raise CaptureError("The speed is beyond any motor's: write rpm or rad/s after its name.")
    if np.max(np.abs(duty)) > 1.001:
        raise CaptureError("The duty goes beyond 100 %.")
    if np.max(speed) - np.min(speed) <= 0:
        raise CaptureError("The speed never changes: change the duty while it is recorded.")
    if np.max(duty) - np.min(duty) <= 0:
        raise CaptureError("The duty never changes: a step is needed to tell the drive's lag.")
    return LoopTrace(time - time[0], duty, speed, source)
