"""A step of the test sheet, and how an instrument is set for it."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import TypedDict, Unpack

from ...algebra.doubt import doubt_of
from ...algebra.nodes import Node
from ...algebra.quantities import phrase
from ...captures.wave import Wave
from ...cases.wires.terminal import Terminal
from .scope import nice_up

QUICK, WITH_SCOPE = 2, 5
LONG = {
    "warm": 25,
    "housing": 35,
    "loaded": 5,
    "counts": 5,
    "out_and_back": 4,
    "lamp": 5,
    "proving": 4,
    "stall": 6,
    "stops_at": 4,
    "trip_level": 6,
    "lowering": 4,
    "servo_time": 4,
}
"""Minutes, by a hand that knows the way (common practice, no source)."""


@dataclass(frozen=True, slots=True)
class Step:
    """One test: where, with what set how, what it should read (SI) between ``low`` and ``high`` (None: no bound on
    that side, where the other is there), and why."""

    id: str
    title: str
    where: str
    instrument: str
    setting: str
    expected: Node
    kind: str
    unit: str
    low: float | None
    high: float | None
    reason: str
    caution: str = ""
    stage: str = "motor"
    """One of ``STAGES`` of the model: what is joined and powered by then."""
    purpose: str = ""
    do: str = ""
    """What to press or move, beside the instrument's setting."""
    type: tuple[str, ...] = ()
    """Lines for the serial port, without frame; ``{n}`` stands for the drive's number."""
    stop: str = ""
    """When to switch off at once."""
    means: str = ""
    """What a reading beside it would most likely mean."""
    probes: tuple[Terminal, ...] = ()
    """Where red and black go, as pins of the netlist."""
    wave: Wave | None = None
    """What an oscilloscope is to show there; None where it is no pulses, or nothing is known of them."""
    level: Node | None = None
    """The level of those pulses, for a meter that shows their mean."""
    pace: Node | None = None
    """How often they come, where what is read is the length of one."""

    @property
    def minutes(self) -> int:
        """About how long it takes to measure it again, so that the shortest can come first."""
        return LONG.get(self.id, WITH_SCOPE if "scope" in self.instrument.lower() else QUICK)

    def bounds(self) -> str:
        """Where a reading should lie, in words; empty where that is not known."""
        low, high = (None if x is None else phrase(x, self.kind, self.unit) for x in (self.low, self.high))
        if low is not None and high is not None:
            return f"between {low} and {high}"
        return f"at least {low}" if low is not None else f"at most {high}" if high is not None else ""

    def holds(self, value: float) -> bool | None:
        """Whether a reading (SI) is right; None until the expected value is known."""
        if self.low is None and self.high is None:
            return None
        return (self.low is None or self.low <= value) and (self.high is None or value <= self.high)


SPARE = 1.25
"""A range is taken with a quarter to spare."""


def meter_range(value: float, kind: str) -> str:
    """The lowest usual range that holds the value with a quarter to spare."""
    return f"range {phrase(nice_up(abs(value) * SPARE), kind)} or the next above"


def dc_volts(value: float | None) -> str:
    """A meter set to read about so many volts; from the highest range down where they are not known."""
    return "DC volts, " + (meter_range(value, "voltage") if value else "highest range first")


METER_FUSE_A = 10.0
"""Common practice, no source: what the large current socket of a hand-held meter is fused for."""


def series_setting(steady: float | None, start: float | None) -> str:
    """A meter in series with what starts at more than it settles at: the range of the start first.

    On the small range a start would blow the meter's fuse, or the meter.
    """
    if not steady or start is None:
        return "DC amperes, highest range first"
    settled = meter_range(steady, "current")
    if start <= SPARE * steady:
        return f"DC amperes, {settled}"
    if start > METER_FUSE_A:
        return (
            f"DC amperes, {settled}; bridge the meter with a wire while it starts (up to {phrase(start, 'current')}), "
            "take the wire off once it runs evenly"
        )
    return f"DC amperes: start on the {meter_range(start, 'current')}; once it runs evenly, {settled}"


class StepWords(TypedDict, total=False):
    """What a step may tell besides."""

    stage: str
    purpose: str
    do: str
    type: tuple[str, ...]
    stop: str
    means: str
    probes: tuple[Terminal, ...]
    wave: Wave | None
    level: Node | None
    pace: Node | None


def step(
    id: str,
    title: str,
    where: str,
    instrument: str,
    setting: str,
    expected: Node,
    unit: str,
    share: float,
    reason: str,
    caution: str = "",
    extra: float = 0.0,
    **more: Unpack[StepWords],
) -> Step:
    """A step whose reading may differ by the doubt of what is expected, a share of it, and ``extra`` (SI)."""
    low = high = None
    if expected.value is not None:
        spread = 2 * (doubt_of(expected).standard or 0.0)
        width = math.hypot(spread, share * abs(expected.value), extra)
        low, high = expected.value - width, expected.value + width
        if expected.value >= 0 and expected.kind.zero_based:
            low = max(low, 0.0)
    return Step(
        id=id,
        title=title,
        where=where,
        instrument=instrument,
        setting=setting,
        expected=expected,
        kind=expected.kind.name,
        unit=unit,
        low=low,
        high=high,
        reason=reason,
        caution=caution,
        **more,
    )
