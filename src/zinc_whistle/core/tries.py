"""Several states of one build side by side: how it stands, what is tight, how fast, how hot, how dear."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from .algebra.findings import Finding
from .algebra.nodes import Figure
from .algebra.quantities import phrase
from .assess import Assessment, Stamp
from .design.bill import bill
from .stations import TABLE

TOLD = (
    ("circuit.delivered_full", "Top speed under load, supply full"),
    ("circuit.delivered_flat", "Top speed under load, supply flat"),
    ("servo.loaded_speed", "Speed under its load"),
    ("context.load.hardest_current", "Current at the hardest"),
    ("circuit.stall_full", "Stall current, supply full"),
    ("circuit.peak", "Worst peak current"),
    ("heat.temperature", "Winding, in the hottest air"),
    ("chosen.heat.junction", "Driver's hottest junction"),
    ("servo.warming_current", "Current that warms its regulator"),
    ("context.rms_current", "RMS current"),
)
"""What a drive is judged by at a glance, where it has the figure; by the end of its id."""
SAME = 0.005
"""Less than this apart is the same for its reader."""
NO_FIGURE = "none"


@dataclass(frozen=True, slots=True)
class StampLine:
    """One station of one drive in each state; None where that state has no such drive."""

    station: str
    drive: str
    stamps: tuple[Stamp | None, ...]

    @property
    def differs(self) -> bool:
        return len(set(self.stamps)) > 1


@dataclass(frozen=True, slots=True)
class FigureLine:
    """One figure in each state, in words, and whether it moved from the first state's."""

    title: str
    drive: str
    texts: tuple[str, ...]
    moved: tuple[bool, ...]


@dataclass(frozen=True, slots=True)
class SideBySide:
    """All of it; ``tightest`` holds for each state the findings nearest to their limits."""

    stamps: tuple[StampLine, ...]
    figures: tuple[FigureLine, ...]
    tightest: tuple[tuple[Finding, ...], ...]


def side_by_side(states: Sequence[Assessment], most: int = 5) -> SideBySide:
    """Two states or more, the first being what the others are held against."""
    return SideBySide(
        stamps=tuple(_stamps(states)),
        figures=(*_figures(states), _price(states)),
        tightest=tuple(tuple(s.spots()[:most]) for s in states),
    )


def _drives(states: Sequence[Assessment]) -> list[str]:
    return list(dict.fromkeys(id for s in states for id in s.drives))


def _stamps(states: Sequence[Assessment]) -> Iterator[StampLine]:
    for drive in _drives(states):
        for row in TABLE:
            # A log is never finished: its stamp tells nothing.
            if row.id == "log":
                continue
            found = tuple(
                s.stamp(drive, row.id) if drive in s.drives and row.id in s.drives[drive].stations else None
                for s in states
            )
            if any(found):
                yield StampLine(row.id, drive, found)


def _figures(states: Sequence[Assessment]) -> Iterator[FigureLine]:
    for drive in _drives(states):
        for end, title in TOLD:
            found = [s.figures.get(f"drives.{drive}.{end}") for s in states]
            if any(f is not None for f in found):
                yield FigureLine(title, drive, tuple(map(_text, found)), tuple(_apart(found[0], f) for f in found))
    rails = dict.fromkeys(
        id for s in states for id in s.figures if id.startswith("supply.") and id.endswith((".junction", ".working"))
    )
    for id in rails:
        found = [s.figures.get(id) for s in states]
        named = next(f for f in found if f is not None)
        yield FigureLine(named.title, "", tuple(map(_text, found)), tuple(_apart(found[0], f) for f in found))


def _text(figure: Figure | None) -> str:
    if figure is None:
        return NO_FIGURE
    return "not known" if figure.value is None else phrase(figure.value, figure.kind.name)


def _apart(first: Figure | None, other: Figure | None) -> bool:
    a, b = (f.value if f is not None else None for f in (first, other))
    if a is None or b is None:
        return (first is None) != (other is None) or (a is None) != (b is None)
    return abs(a - b) > SAME * max(abs(a), abs(b))


def _price(states: Sequence[Assessment]) -> FigureLine:
    """What the priced parts of the whole bill come to; what has no price is told, never counted as nothing."""
    bills = []
    for s in states:
        first = next(iter(s.drives.values()), None)
        bills.append(bill(s.build, first.wiring.netlist) if first is not None else None)
    texts = tuple(
        NO_FIGURE if b is None else f"{b.known:.2f} €" + (f", {b.unpriced} lines without a price" if b.unpriced else "")
        for b in bills
    )
    return FigureLine("Parts of the bill that have a price", "", texts, tuple(t != texts[0] for t in texts))
