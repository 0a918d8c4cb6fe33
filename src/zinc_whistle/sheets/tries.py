"""Tries side by side, ready to be shown: stations and drives by their names."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..core.assess import Assessment, State
from ..core.stations import BY_ID
from ..core.tries import side_by_side
from .comparison import ComparisonView, comparison_view, drive_name
from .overview import spot_text


@dataclass(frozen=True, slots=True, kw_only=True)
class TryStamp:
    """How a station stands in one state; nothing where that state has no such drive."""

    state: State | None
    text: str


@dataclass(frozen=True, slots=True, kw_only=True)
class TryStation:
    """A station of a drive in each state."""

    title: str
    drive: str
    stamps: list[TryStamp]


@dataclass(frozen=True, slots=True, kw_only=True)
class TryFigure:
    """A figure in each state, and whether it moved from the first."""

    title: str
    drive: str
    texts: list[str]
    moved: list[bool]


@dataclass(frozen=True, slots=True, kw_only=True)
class TriesView:
    """Stations that differ (``alike`` others stand as they did), figures, the tightest spots of each state, and what
    each state after the first has given otherwise."""

    stations: list[TryStation]
    alike: int
    figures: list[TryFigure]
    tightest: list[list[str]]
    stops: list[int]
    """Findings that stop, in each state."""
    changes: list[ComparisonView]


def tries_view(states: Sequence[Assessment]) -> TriesView:
    """States of one build, the first as it is."""
    found = side_by_side(states)
    builds = [s.build for s in states]
    differ = [line for line in found.stamps if line.differs]
    return TriesView(
        stations=[
            TryStation(
                title=BY_ID[line.station].title,
                drive=drive_name(builds, line.drive),
                stamps=[TryStamp(state=s.state if s else None, text=s.text if s else "") for s in line.stamps],
            )
            for line in differ
        ],
        alike=len(found.stamps) - len(differ),
        figures=[
            TryFigure(title=f.title, drive=drive_name(builds, f.drive), texts=list(f.texts), moved=list(f.moved))
            for f in found.figures
        ],
        tightest=[[spot_text(x) for x in spots] for spots in found.tightest],
        stops=[sum(1 for x in s.findings if x.stops) for s in states],
        changes=[comparison_view(states[0], s) for s in states[1:]],
    )
