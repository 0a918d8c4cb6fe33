"""What a station's sheet is made from, and what it is made of."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from ..core.assess import Assessment
from ..core.model.build import MotorDrive
from ..core.model.motor import MotorPart
from ..core.model.reading import Reading
from .fields import Describer, Section
from .views import FigureView, figure_view

Shown = tuple[str, list[FigureView]]
"""What the figures are about, and the figures in order."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Inputs:
    """One drive of an assessment, the readings taken of it, and the shelves. ``what_if``: the same build, changed;
    ``refused``: the sentences for what of it cannot be, by field."""

    all: Assessment
    done: Any
    """The drive, of the kind that the sheet was made for."""
    describer: Describer
    readings: Sequence[Reading] = ()
    motors: Sequence[MotorPart] = ()
    what_if: Assessment | None = None
    refused: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True, slots=True, kw_only=True)
class PlainPicture:
    """A station that is a list: its own page shows it."""

    kind: str = "plain"


def _no_sections(asked: Inputs) -> Sequence[Section]:
    return []


def _no_figures(asked: Inputs) -> Shown:
    return "", []


def _no_picture(asked: Inputs) -> Any:
    return PlainPicture()


def _no_hint(asked: Inputs) -> str:
    return ""


@dataclass(frozen=True, slots=True, kw_only=True)
class StationSheet:
    """How a station is laid out for one kind of drive."""

    sections: Callable[[Inputs], Sequence[Section]] = _no_sections
    figures: Callable[[Inputs], Shown] = _no_figures
    picture: Callable[[Inputs], Any] = _no_picture
    hint: Callable[[Inputs], str] = _no_hint


def no_program(drive: MotorDrive, does: str) -> str:
    """What a station of a program's says of a drive that none, or none with pulses, tells."""
    told = drive.signals.told_by
    if told == "pulses" or (told == "level" and does == "counts"):
        return ""
    words = {"level": "only switches it on and off", "timer": "is a timer circuit", "hand": "is a hand at a switch"}
    return f"What tells this drive {words[told]}: nothing there {does}. What is given here waits until a program does."


def shown(subject: str, wanted: Sequence[Any] = ()) -> Shown:
    """Figures in order, each alone or with the unit to show it in; what is not there is left out."""
    made = []
    for item in wanted:
        node, unit = item if isinstance(item, tuple) else (item, "")
        if node is not None and not isinstance(node, float):
            made.append(figure_view(node, unit))
    return subject, made
