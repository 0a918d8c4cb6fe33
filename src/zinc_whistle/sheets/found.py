"""Everything of a build that can be gone to: the fields of every station of every drive, and the figures by name."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from ..core.assess import Assessment, DriveAssessment
from ..core.model.motor import MotorPart
from ..core.stations import BY_ID
from .build_page import build_sections
from .fields import Describer, Section
from .inputs import Inputs
from .sheet import SHEETS, safely


@dataclass(frozen=True, slots=True, kw_only=True)
class PlaceFound:
    """A field (by its path) or a figure (by its id), and where it stands."""

    kind: str
    """``field`` or ``figure``."""
    key: str
    title: str
    place: str
    station: str
    drive: str


def places(all: Assessment, motors: Sequence[MotorPart] = ()) -> list[PlaceFound]:
    """Build page first, then drive by drive its stations in their order; each field and figure once a drive."""
    describer = Describer(all)
    made = list(_fields(build_sections(all.build, describer), "Build", "build", ""))
    for done in all.drives.values():
        made += _of_drive(all, done, describer, motors)
    return made


def _of_drive(
    all: Assessment, done: DriveAssessment, describer: Describer, motors: Sequence[MotorPart]
) -> Iterator[PlaceFound]:
    asked = Inputs(all=all, done=done, describer=describer, readings=(), motors=list(motors), what_if=None)
    several = f", {done.drive.name or done.drive.id}" if len(all.drives) > 1 else ""
    seen: set[str] = set()
    for station in done.stations:
        layout, title = SHEETS[station][done.drive.kind], BY_ID[station].title
        for found in _fields(layout.sections(asked), title + several, station, done.drive.id):
            if found.key not in seen:
                seen.add(found.key)
                yield found
        _, figures = safely(station, lambda layout=layout: layout.figures(asked)) or ("", [])  # type: ignore[misc]
        for figure in figures:
            if figure.id and figure.id not in seen:
                seen.add(figure.id)
                yield PlaceFound(
                    kind="figure",
                    key=figure.id,
                    title=figure.title,
                    place=title + several,
                    station=station,
                    drive=done.drive.id,
                )


def _fields(sections: Sequence[Section], place: str, station: str, drive: str) -> Iterator[PlaceFound]:
    for section in sections:
        if section.rows is not None and section.path:
            yield PlaceFound(
                kind="field", key=section.path, title=section.title, place=place, station=station, drive=drive
            )
        rows = [
            ("", section.fields),
            *((f"{section.title}, {n}: ", r.fields) for n, r in enumerate(section.rows or (), 1)),
        ]
        for before, fields in rows:
            for field in fields:
                yield PlaceFound(
                    kind="field", key=field.path, title=before + field.label, place=place, station=station, drive=drive
                )
