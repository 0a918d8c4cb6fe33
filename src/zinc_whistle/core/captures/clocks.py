"""Times in a capture that are no column of seconds: a step or a rate told above the numbers, and clock times."""

from __future__ import annotations

import itertools
import math
import re
from typing import TYPE_CHECKING

import numpy as np

if TYPE_CHECKING:
    import pandas as pd

CLOCK = re.compile(r"(?P<date>\d{4}[-/.]\d{1,2}[-/.]\d{1,2}[T ])?\d{1,2}:\d{2}(:\d{2}([.,:]\d{1,9})?)?Z?$")
DATE = re.compile(r"(\d{4}[-/.]\d{1,2}[-/.]\d{1,2}|\d{1,2}[./]\d{1,2}[./]\d{2,4})$")
DAY_S = 86_400.0
_NUMBER = r"(?P<number>[+-]?\d+(?:[.,]\d+)?(?:[eE][+-]?\d{1,3})?)"
_BETWEEN = r"[^0-9A-Za-z+\-.]*"
_STEP = re.compile(
    r"(?:sampl(?:e|ing)[ _]*(?:interval|period|step|time)|time[ _]*(?:step|increment|base[ _]*step)|x[ _-]*increment|"
    r"horizontal[ _]*(?:interval|increment)|increment|interval|delta[ _]*t|dt|tinc|xincr)"
    r"(?:[ _]*[(\[](?P<inner>[a-zµ]+)[)\]])?" + _BETWEEN + _NUMBER + r"\s*[,;]?\s*\"?(?P<unit>s|ms|us|µs|ns|ps|sec)?\b",
    re.IGNORECASE,
)
_RATE = re.compile(
    r"(?:sampl(?:e|ing)[ _]*(?:rate|frequency|freq)|samplerate|fs)"
    r"(?:[ _]*[(\[](?P<inner>[a-z/]+)[)\]])?"
    + _BETWEEN
    + _NUMBER
    + r"\s*[,;]?\s*\"?(?P<unit>[kmg]?(?:hz|sa/s|s/s|sps|samples/s))?",
    re.IGNORECASE,
)
_SECONDS = {"s": 1.0, "sec": 1.0, "ms": 1e-3, "us": 1e-6, "µs": 1e-6, "ns": 1e-9, "ps": 1e-12}
_MULTIPLES = {"k": 1e3, "m": 1e6, "g": 1e9}


def step_told(lines: list[str]) -> float | None:
    """The time between two samples (s) as the lines above the numbers tell it; None where they do not."""
    for line in lines:
        if (found := _STEP.search(line)) is not None:
            unit = (found["unit"] or found["inner"] or "s").lower()
            step = _number(found["number"]) * _SECONDS.get(unit, math.nan)
        elif (found := _RATE.search(line)) is not None:
            unit = (found["unit"] or found["inner"] or "hz").lower()
            rate = _number(found["number"]) * (_MULTIPLES.get(unit[0], 1.0) if unit[0] != "s" else 1.0)
            step = 1 / rate if rate else math.nan
        else:
            continue
        if math.isfinite(step) and 1e-13 <= step <= 1e6:
            return step
    return _step_below(lines)


_CELLS = re.compile(r"[,;\t]")
_TITLE = re.compile(r'"?(x[ _]*)?increment"?$', re.IGNORECASE)


def _step_below(lines: list[str]) -> float | None:
    """A step that stands in the line below its title."""
    split = [[c.strip() for c in _CELLS.split(line)] for line in lines]
    for above, below in itertools.pairwise(split):
        for title, cell in zip(above, below, strict=False):
            if _TITLE.match(title) and re.fullmatch(r"\d+(\.\d+)?([eE][+-]?\d{1,3})?", cell):
                step = float(cell)
                return step if 1e-13 <= step <= 1e6 else None
    return None


def _number(text: str) -> float:
    return float(text.replace(",", "."))


def is_clock(text: str) -> bool:
    """Whether a cell holds a time of day, a date, or both."""
    return CLOCK.match(text) is not None or DATE.match(text) is not None


def seconds(column: pd.Series[str]) -> np.ndarray:
    """Clock times as seconds, past each midnight a day more; a date alone as the seconds of its day. NaN where a cell
    is neither."""
    import pandas as pd

    text = column.astype(str).str.strip().str.strip('"').str.replace(",", ".", regex=False).str.removesuffix("Z")
    if text.str.contains(r"\d{4}", regex=True).iloc[0] or DATE.match(str(text.iloc[0])):
        moments = pd.to_datetime(text.str.replace("/", "-", regex=False), errors="coerce", dayfirst=False)
        return np.asarray((moments - pd.Timestamp(1970, 1, 1)) / pd.Timedelta(seconds=1), dtype=np.float64)
    # Some write the thousandths behind a third colon; a time without seconds gets its own.
    text = text.str.replace(r"^(\d+:\d+:\d+):(\d+)$", r"\1.\2", regex=True)
    text = text.where(text.str.count(":") > 1, text + ":00")
    return np.asarray(pd.to_timedelta(text, errors="coerce") / pd.Timedelta(seconds=1), dtype=np.float64)


def unwrapped(times: np.ndarray) -> np.ndarray:
    """Times of day from the first, a day more past each midnight."""
    back = np.concatenate([[0.0], np.cumsum(np.diff(times) < -DAY_S / 2)])
    return np.asarray(times + DAY_S * back - times[0])
