"""A file of one or two channels, and another that comes once a turn: read, and looked at."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

import numpy as np

from . import roles
from .quadrature import Changes, QuadratureFound, analyse, analyse_alone, changes, levels
from .table import CaptureError, read
from .vcd import read_vcd, together

MOST_VCD = 30_000_000
EDGES, EDGES_ALONE = 4, 2
"""Counts of a tooth, every edge counted: of two sensors, and of one."""
NONE = -2
"""In the place of a second channel: there is none."""


@dataclass(frozen=True, slots=True)
class EncoderRead:
    """What was found, the signals' names and which were taken, the channels' levels in words, and the counts of a turn
    (×4) that the teeth would give (None: not told)."""

    found: QuadratureFound
    names: list[str]
    a: int
    b: int
    volts: list[str]
    expected: float | None


def look_at(file: Path, a: int, b: int, index: int, teeth: int) -> EncoderRead:
    """A CSV or VCD file; ``a``, ``b`` and ``index`` are places among its signals (−1: the first two, and no index; a
    ``b`` of −2: one sensor alone), ``teeth`` 0 where they are not known. CaptureError with a sentence."""
    with file.open("rb") as stream:
        is_vcd = stream.read(400).lstrip().startswith(b"$")
    names, events, index_s, volts, alone = (_of_vcd if is_vcd else _of_table)(file, a, b, index)
    if alone:
        high = np.asarray(events.code).astype(bool)
        found = analyse_alone(events.time_s, high, teeth=teeth or None, index_s=index_s)
    else:
        found = analyse(events, teeth=teeth or None, index_s=index_s)
    expected = float((EDGES_ALONE if alone else EDGES) * teeth) if teeth else None
    return EncoderRead(found, names, a if a >= 0 else 0, NONE if alone else b if b >= 0 else 1, volts, expected)


Read = tuple[list[str], Changes, np.ndarray | None, list[str], bool]
"""Names, changes (of one sensor alone its level in the code), moments of the index, volts, and whether it is one."""


def _pick(names: list[str], wanted: int, otherwise: int) -> int:
    place = wanted if wanted >= 0 else otherwise
    if place >= len(names):
        raise CaptureError(f"The capture has {len(names)} signals: there is no number {place + 1}.")
    return place


def _of_table(file: Path, a: int, b: int, index: int) -> Read:
    table = read(file)
    guess = roles.guess(table)
    clock = roles.column(table, guess, "time")
    if clock is None:
        raise CaptureError("No column tells the time: its values must rise from row to row.")
    places = [i for i in range(len(table.columns)) if i != guess["time"][0]]
    names = [table.layout.names[i] for i in places]
    alone = b == NONE or len(names) == 1
    asked = ((a, 0),) if alone else ((a, 0), (b, 1))
    found = [levels(table.columns[places[_pick(names, w, o)]]) for w, o in asked]
    index_s = None
    if index >= 0:
        high = levels(table.columns[places[_pick(names, index, 0)]]).high
        index_s = clock[np.flatnonzero(high[1:] & ~high[:-1]) + 1]
    volts = [f"{n}: {x.low_v:.3g} and {x.high_v:.3g}" for n, x in zip("AB", found, strict=False)]
    if alone:
        return names, Changes(clock, found[0].high, float(clock[-1])), index_s, volts, True
    return names, changes(clock, found[0].high, found[1].high), index_s, volts, False


def _of_vcd(file: Path, a: int, b: int, index: int) -> Read:
    if file.stat().st_size > MOST_VCD:
        raise CaptureError("The VCD file is too large: cut it down to what matters.")
    signals, end = read_vcd(file.read_text("utf-8", "replace"))
    names = [s.name for s in signals]
    alone = b == NONE or len(names) == 1
    first = signals[_pick(names, a, 0)]
    if alone:
        events = Changes(first.time_s, first.high, end)
    else:
        time, high_a, high_b = together(first, signals[_pick(names, b, 1)])
        events = Changes(time, (high_a.astype(np.uint8) << 1) | high_b, end)
    once = signals[_pick(names, index, 0)] if index >= 0 else None
    return names, events, once.time_s[once.high] if once is not None else None, [], alone
