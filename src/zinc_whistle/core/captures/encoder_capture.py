"""A file of two channels, and a third that comes once a turn: read, and looked at."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

import numpy as np

from . import roles
from .quadrature import Changes, QuadratureFound, analyse, changes, levels
from .table import CaptureError, read
from .vcd import read_vcd, together

MOST_VCD = 30_000_000
EDGES = 4
"""Counts of a tooth, every edge counted."""


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
    """A CSV or VCD file; ``a``, ``b`` and ``index`` are places among its signals (below 0: the first two, and none),
    ``teeth`` 0 where they are not known. CaptureError with a sentence."""
    with file.open("rb") as stream:
        is_vcd = stream.read(400).lstrip().startswith(b"$")
    names, events, index_s, volts = (_of_vcd if is_vcd else _of_table)(file, a, b, index)
    found = analyse(events, teeth=teeth or None, index_s=index_s)
    expected = float(EDGES * teeth) if teeth else None
    return EncoderRead(found, names, a if a >= 0 else 0, b if b >= 0 else 1, volts, expected)


Read = tuple[list[str], Changes, np.ndarray | None, list[str]]


def _pick(names: list[str], wanted: int, otherwise: int) -> int:
    place = wanted if wanted >= 0 else otherwise
    if place >= len(names):
        raise CaptureError(f"The capture has {len(names)} signals: an encoder's needs two.")
    return place


def _of_table(file: Path, a: int, b: int, index: int) -> Read:
    table = read(file)
    guess = roles.guess(table)
    clock = roles.column(table, guess, "time")
    if clock is None:
        raise CaptureError("No column tells the time: its values must rise from row to row.")
    places = [i for i in range(len(table.columns)) if i != guess["time"][0]]
    names = [table.layout.names[i] for i in places]
    found = [levels(table.columns[places[_pick(names, w, o)]]) for w, o in ((a, 0), (b, 1))]
    index_s = None
    if index >= 0:
        high = levels(table.columns[places[_pick(names, index, 0)]]).high
        index_s = clock[np.flatnonzero(high[1:] & ~high[:-1]) + 1]
    volts = [f"{n}: {x.low_v:.3g} and {x.high_v:.3g}" for n, x in zip("AB", found, strict=True)]
    return names, changes(clock, found[0].high, found[1].high), index_s, volts


def _of_vcd(file: Path, a: int, b: int, index: int) -> Read:
    if file.stat().st_size > MOST_VCD:
        raise CaptureError("The VCD file is too large: cut it down to what matters.")
    signals, end = read_vcd(file.read_text("utf-8", "replace"))
    names = [s.name for s in signals]
    first, second = (signals[_pick(names, w, o)] for w, o in ((a, 0), (b, 1)))
    time, high_a, high_b = together(first, second)
    events = Changes(time, (high_a.astype(np.uint8) << 1) | high_b, end)
    once = signals[_pick(names, index, 0)] if index >= 0 else None
    return names, events, once.time_s[once.high] if once is not None else None, []
