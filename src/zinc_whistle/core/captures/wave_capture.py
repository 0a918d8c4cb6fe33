"""A file of one channel or two, read and measured, beside the wave that was expected."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

import numpy as np

from ..algebra.quantities import phrase, signed_phrase
from ..algebra.units import UNITS
from . import roles
from .doubts import doubts
from .measure import WaveMeasures, gaps, measure
from .table import CaptureError, decimated, read
from .vcd import read_vcd
from .wave import Wave

NONE = -2
"""In the place of a second channel: there is none."""
UNTOLD = "V"
KIND_OF = {"V": "voltage", "A": "current"}
LEVEL_UNITS = ("V", "mV", "A", "mA")
AT_TRIGGER, SAMPLES_AT_TRIGGER = 0.03, 3
"""An edge that the instrument triggered on lies within so much of a period, or so many samples, of time 0."""
MOST_VCD = 30_000_000
SHOWN = 1200
PERIODS_SHOWN = 6


@dataclass(frozen=True, slots=True, kw_only=True)
class WaveFigure:
    """One measure in words, with its kind of quantity: so that a test which asks for that kind may take it."""

    name: str
    text: str
    kind: str


@dataclass(frozen=True, slots=True, kw_only=True)
class WaveCapture:
    """What a capture shows: signals and those taken, measures, what is doubtful, and a piece to draw (s, SI)."""

    names: list[str]
    a: int
    b: int
    columns: list[str]
    """All columns of a table, and which of them is the time, in what unit; none of a logic capture."""
    clock: int
    clock_unit: str
    units: list[str]
    """Of the channels taken, as their numbers stand in the file; empty where they are taken for volts untold."""
    rows: list[WaveFigure]
    says: list[str]
    time_s: list[float]
    first: list[float]
    second: list[float]
    expected: list[float]


@dataclass(frozen=True, slots=True, kw_only=True)
class Mapped:
    """What its reader says of a table's columns; −1 and an empty unit leave it to what the file tells."""

    clock: int = -1
    clock_unit: str = ""
    units: tuple[str, str] = ("", "")
    """Of the first and the second channel."""


FOUND = Mapped()


@dataclass(frozen=True, slots=True)
class _Channels:
    names: list[str]
    taken: tuple[int, int]
    clock: list[np.ndarray]
    values: list[np.ndarray]
    units: list[str]
    note: str = ""
    columns: tuple[str, ...] = ()
    time: tuple[int, str] = (-1, "")
    as_told: tuple[str, ...] = ()


def look_at_wave(file: Path, a: int, b: int, wave: Wave | None, mapped: Mapped = FOUND) -> WaveCapture:
    """A CSV or VCD file; ``a`` and ``b`` are places among its signals (−1: the first, and none; a ``b`` of −2: none).
    CaptureError with a sentence."""
    with file.open("rb") as stream:
        is_vcd = stream.read(400).lstrip().startswith(b"$")
    found = _of_vcd(file, a, b, wave) if is_vcd else _of_table(file, a, b, mapped)
    seen = [measure(t, v) for t, v in zip(found.clock, found.values, strict=True)]
    says = [found.note] if found.note else []
    rows = _rows(seen[0], found.units[0])
    says += doubts(seen[0], wave)
    if not is_vcd and (stray := _trigger(seen, found.units[0])):
        says.append(stray)
    if len(seen) > 1:
        rows += _together(seen[0], seen[1], says)
    time, *drawn = _piece(found, seen[0])
    return WaveCapture(
        names=found.names,
        a=found.taken[0],
        b=found.taken[1],
        columns=list(found.columns),
        clock=found.time[0],
        clock_unit=found.time[1],
        units=list(found.as_told),
        rows=rows,
        says=says or ["Nothing about this capture is suspicious."],
        time_s=_plain(time),
        first=_plain(drawn[0]),
        second=_plain(drawn[1]) if len(drawn) > 1 else [],
        expected=_plain(_laid_over(time, seen[0], wave)) if wave is not None else [],
    )


def _plain(values: np.ndarray) -> list[float]:
    return [float(f"{v:.6g}") for v in values]


def _pick(names: list[str], wanted: int) -> int:
    if wanted >= len(names):
        raise CaptureError(f"The capture has {len(names)} signals: there is no number {wanted + 1}.")
    return max(wanted, 0)


def _trigger(seen: list[WaveMeasures], unit: str) -> str:
    """Whether time 0 lies inside, where an instrument triggers, and no channel that swings has an edge there."""
    first = seen[0]
    if not first.begins_s < 0 < first.begins_s + first.span_s or first.edges is None or first.frequency_hz is None:
        return ""
    near = max(AT_TRIGGER / first.frequency_hz, SAMPLES_AT_TRIGGER * first.step_s)
    for channel in seen:
        if channel.edges is not None:
            edges = np.concatenate([channel.edges.up, channel.edges.down])
            if edges.size and float(np.min(np.abs(edges))) <= near:
                return ""
    middle = signed_phrase((first.low + first.high) / 2, KIND_OF[unit])
    return (
        f"No edge lies at time 0, where the instrument triggers: it was triggered by something else, and the picture "
        f"does not stand still. Trigger on this channel, at {middle}."
    )


def _of_table(file: Path, a: int, b: int, mapped: Mapped) -> _Channels:
    table = read(file)
    guess = roles.guess(table)
    rising = next((i for i, c in enumerate(table.columns) if np.all(np.diff(c) > 0)), None)
    if "time" not in guess and rising is not None:
        guess["time"] = (rising, "s")
    if mapped.clock >= 0:
        guess["time"] = (mapped.clock, roles.time_unit(table, mapped.clock))
    if mapped.clock_unit and "time" in guess:
        guess["time"] = (guess["time"][0], mapped.clock_unit)
    clock = roles.column(table, guess, "time")
    if clock is None:
        raise CaptureError("No column tells the time: its values must rise from row to row.")
    places = [i for i in range(len(table.columns)) if i != guess["time"][0] and i not in table.layout.clocks]
    if not places:
        raise CaptureError("Beside the time there is no column of numbers.")
    names = [table.layout.names[i] for i in places]
    taken = [_pick(names, a), *([_pick(names, b)] if b >= 0 else [])]
    values, units, as_told, notes = [], [], [], [table.note] if table.note else []
    for place, chosen in zip(taken, mapped.units, strict=False):
        told = table.layout.units[places[place]]
        unit = chosen or roles.SPELT.get(told, told)
        known = unit in LEVEL_UNITS
        if chosen and not known:
            raise CaptureError(f"“{chosen}” is no unit of a level: take one of {', '.join(LEVEL_UNITS)}.")
        if not known:
            notes.append(f"No unit is told for {names[place]}: it is taken for volts. Choose another beside it.")
        as_told.append(unit if known else "")
        values.append(table.columns[places[place]] * (UNITS[unit].factor if known else 1.0))
        units.append(unit.removeprefix("m") if known else UNTOLD)
    return _Channels(
        names,
        (taken[0], taken[1] if b >= 0 else NONE),
        [clock] * len(values),
        values,
        units,
        " ".join(notes),
        columns=table.layout.names,
        time=guess["time"],
        as_told=tuple(as_told),
    )


def _of_vcd(file: Path, a: int, b: int, wave: Wave | None) -> _Channels:
    """Its signals as levels of the expected wave, or nothing and one; each a row at each change."""
    if file.stat().st_size > MOST_VCD:
        raise CaptureError("The VCD file is too large: cut it down to what matters.")
    signals, _ = read_vcd(file.read_text("utf-8", "replace"))
    names = [s.name for s in signals]
    taken = [_pick(names, a), *([_pick(names, b)] if b >= 0 else [])]
    low, high = (wave.low_v, wave.high_v) if wave is not None else (0.0, 1.0)
    clock = [signals[i].time_s for i in taken]
    values = [np.where(signals[i].high, high, low) for i in taken]
    return _Channels(
        names,
        (taken[0], taken[1] if b >= 0 else NONE),
        clock,
        values,
        [UNTOLD] * len(taken),
        "A logic capture tells times and no levels.",
    )


def _rows(m: WaveMeasures, unit: str) -> list[WaveFigure]:
    kind = KIND_OF[unit]

    def level(name: str, value: float) -> WaveFigure:
        return WaveFigure(name=name, text=signed_phrase(value, kind), kind=kind)

    made: list[WaveFigure] = []
    if m.frequency_hz is not None:
        doubt = f" ± {phrase(2 * (m.frequency_doubt_hz or 0), 'frequency')}" if m.frequency_doubt_hz else ""
        made.append(WaveFigure(name="Frequency", text=phrase(m.frequency_hz, "frequency") + doubt, kind="frequency"))
        made.append(WaveFigure(name="Period", text=phrase(1 / m.frequency_hz, "time"), kind="time"))
    if m.duty is not None:
        made.append(WaveFigure(name="Duty", text=phrase(m.duty, "fraction"), kind="fraction"))
        if m.frequency_hz:
            made.append(WaveFigure(name="High for", text=phrase(m.duty / m.frequency_hz, "time"), kind="time"))
    if m.edges is not None:
        made += [level("High", m.high), level("Low", m.low)]
    made += [level("Mean", m.mean), level("RMS", m.rms), level("Highest", m.most), level("Lowest", m.least)]
    for name, took in (("Rise, 10 to 90 %", m.rise_s), ("Fall, 90 to 10 %", m.fall_s)):
        if took is not None:
            least = "at most " if took <= 1.05 * m.step_s else ""
            made.append(WaveFigure(name=name, text=least + phrase(took, "time"), kind="" if least else "time"))
    if m.overshoot is not None and m.ringing_hz is not None:
        made.append(WaveFigure(name="Beyond the high level", text=phrase(m.overshoot, "fraction"), kind="fraction"))
        made.append(WaveFigure(name="Rings at", text=phrase(m.ringing_hz, "frequency"), kind="frequency"))
    if m.ripple is not None:
        made.append(level("Ripple, peak to peak", m.ripple))
        if m.ripple_hz is not None:
            made.append(WaveFigure(name="Ripple's pace", text=phrase(m.ripple_hz, "frequency"), kind="frequency"))
    made.append(WaveFigure(name="Samples", text=f"{m.samples}, one each {phrase(m.step_s, 'time')}", kind=""))
    return made


def _together(first: WaveMeasures, second: WaveMeasures, says: list[str]) -> list[WaveFigure]:
    """Dead times of two gates; that both are on at once is said."""
    if first.edges is None or second.edges is None:
        says.append("One of the two channels has no edges: nothing is told of the time between them.")
        return []
    made = []
    for name, gap in zip(
        ("First off to second on", "Second off to first on"), gaps(first.edges, second.edges), strict=True
    ):
        if gap is None:
            continue
        made.append(WaveFigure(name=f"{name}, the least", text=signed_phrase(gap.least_s, "time"), kind="time"))
        if gap.least_s < -max(first.step_s, second.step_s):
            says.append(
                f"{name}: both are high at once, for up to {phrase(-gap.least_s, 'time')}. Two switches of one leg "
                "would short the supply."
            )
    return made


def _piece(found: _Channels, seen: WaveMeasures) -> list[np.ndarray]:
    """Some periods from the beginning, thinned with no peak hidden; of a logic capture with its corners."""
    clock, values = found.clock[0], found.values
    start = float(clock[0])
    until = float(clock[-1]) if seen.frequency_hz is None else start + PERIODS_SHOWN / seen.frequency_hz
    last = max(int(np.searchsorted(clock, until)), 8)
    if seen.at_edges or found.note.startswith("A logic"):
        times = np.linspace(start, min(until, float(clock[-1])), SHOWN)
        held = [
            v[np.maximum(np.searchsorted(t, times, side="right") - 1, 0)]
            for t, v in zip(found.clock, values, strict=True)
        ]
        return [times - start, *held]
    thin = decimated(clock[:last] - start, *[v[:last] for v in values], most=SHOWN)
    return list(thin)


def _laid_over(time: np.ndarray, seen: WaveMeasures, wave: Wave) -> np.ndarray:
    """The expected wave, laid on a rise of the capture: its second, for the first may be what began before it."""
    start = 0.0
    if seen.edges is not None and len(seen.edges.up):
        start = float(seen.edges.up[:2][-1]) - seen.begins_s
    phase = ((time - start) * wave.frequency_hz) % 1.0
    return np.where(phase < wave.duty, wave.high_v, wave.low_v)
