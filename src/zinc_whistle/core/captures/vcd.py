"""Reads the one-bit signals of a VCD file (IEEE 1364-2005, clause 18): names, and the moments at which they change."""

from __future__ import annotations

import re
from dataclasses import dataclass

import numpy as np

from .table import CaptureError

UNITS = {"s": 1.0, "ms": 1e-3, "us": 1e-6, "ns": 1e-9, "ps": 1e-12, "fs": 1e-15}
_SCALE = re.compile(r"\$timescale\s+(1|10|100)\s*(s|ms|us|ns|ps|fs)\s+\$end")
_VAR = re.compile(r"\$var\s+\S+\s+(\d+)\s+(\S+)\s+(.+?)\s+\$end")
MOST_SIGNALS = 256


@dataclass(frozen=True, slots=True)
class Signal:
    """A signal: its name, the moments (s) of its changes and what it then is."""

    name: str
    time_s: np.ndarray
    high: np.ndarray


def read_vcd(text: str) -> tuple[list[Signal], float]:
    """The one-bit signals, and the last moment (s). CaptureError with a sentence for what is no such file."""
    head, ended, body = text.partition("$enddefinitions")
    scale = _SCALE.search(head)
    if not ended or scale is None:
        raise CaptureError("That is no VCD file: its time scale or the end of its definitions is missing.")
    step = int(scale[1]) * UNITS[scale[2]]
    names = {m[2]: m[3].split(" ")[0] for m in _VAR.finditer(head) if m[1] == "1"}
    if not names:
        raise CaptureError("This VCD file has no signal of one bit.")
    if len(names) > MOST_SIGNALS:
        raise CaptureError(f"This VCD file has more than {MOST_SIGNALS} signals: export those of the encoder alone.")
    times: dict[str, list[int]] = {k: [] for k in names}
    values: dict[str, list[bool]] = {k: [] for k in names}
    now = 0
    words = iter(body.split())
    for word in words:
        if word[0] in "bBrR":
            next(words, "")  # a number of several bits, and whose it is
        elif word[0] == "#":
            if not word[1:].isdigit() or int(word[1:]) < now:
                raise CaptureError(f"The VCD file's time “{word[:20]}” is no moment after the one before.")
            now = int(word[1:])
        elif word[0] in "01xXzZ" and word[1:] in names:
            key, high = word[1:], word[0] == "1"
            if not values[key] or values[key][-1] != high:
                times[key].append(now)
                values[key].append(high)
    found = [
        Signal(name, np.array(times[k], dtype=float) * step, np.array(values[k], dtype=bool))
        for k, name in names.items()
        if values[k]
    ]
    if not found:
        raise CaptureError("Nothing changes in this VCD file.")
    return found, now * step


def together(a: Signal, b: Signal) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """The moments at which either changes, and what both then are."""
    time = np.union1d(a.time_s, b.time_s)
    first, second = (x.high[np.maximum(np.searchsorted(x.time_s, time, side="right") - 1, 0)] for x in (a, b))
    return time, first, second
