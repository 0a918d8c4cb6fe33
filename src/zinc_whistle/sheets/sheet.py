"""One station's sheet, the job card's stamps and the tight spots: all that a reply to the screen holds."""

from __future__ import annotations

import logging
import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import TypeVar

from ..core.assess import Assessment, State, assess
from ..core.model.build import Build, bound_parts
from ..core.model.motor import MotorPart
from ..core.model.reading import Reading
from ..core.stations import BY_ID, TABLE, Kind
from . import (
    bench,
    driver,
    encoder,
    load,
    log,
    loop,
    motor,
    other_loads,
    power_stage,
    signals,
    signals_views,
    supply,
    wiring,
)
from .build_page import build_sections
from .fields import Describer, Section
from .inputs import Inputs, PlainPicture
from .views import FigureView, FindingView, finding_view

SHEETS = {
    "motor": motor.SHEETS,
    "load": load.SHEETS,
    "supply": supply.SHEETS,
    "driver": driver.SHEETS,
    "power_stage": power_stage.SHEETS,
    "signals": signals.SHEETS,
    "wiring": wiring.SHEETS,
    "encoder": encoder.SHEETS,
    "loop": loop.SHEETS,
    "bench": bench.SHEETS,
    "log": log.SHEETS,
}
"""How each station of the table is laid out, by kind of drive."""
Picture = (
    motor.MotorPicture
    | load.LoadPicture
    | other_loads.ServoPicture
    | other_loads.DcLoadPicture
    | supply.SupplyPicture
    | driver.DriverPicture
    | power_stage.StagePicture
    | signals_views.SignalsPicture
    | wiring.WiringPicture
    | encoder.EncoderPicture
    | loop.LoopPicture
    | bench.BenchPicture
    | PlainPicture
)


@dataclass(frozen=True, slots=True, kw_only=True)
class StampView:
    """A station on the job card."""

    station: str
    title: str
    key: str
    state: State
    text: str
    open: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class DriveView:
    """A drive in the drive switch."""

    id: str
    name: str
    kind: Kind


logger = logging.getLogger("zinc_whistle")


@dataclass(frozen=True, slots=True, kw_only=True)
class Sheet:
    """One station: what is given, what follows, and what the checks say."""

    station: str
    title: str
    question: str
    subject: str
    sections: list[Section]
    figures: list[FigureView]
    findings: list[FindingView]
    cautions: list[str]
    hint: str
    picture: Picture


@dataclass(frozen=True, slots=True, kw_only=True)
class Reply:
    """The reply to a draft: stamps and tight spots of the whole build, one sheet, and the errors by path."""

    name: str
    keys: dict[str, str]
    """The key of every station of the table, by its id."""
    drive: str
    drives: list[DriveView]
    stamps: list[StampView]
    spots: list[FindingView]
    unknown: int
    sheet: Sheet
    errors: dict[str, str]
    values: dict[str, float | None]
    stale: list[str]
    """What of the whole build has to be measured or tuned again, in words, the shortest first."""


def reply(
    assessment: Assessment,
    station: str,
    drive_id: str,
    readings: Sequence[Reading] = (),
    motors: Sequence[MotorPart] = (),
    what_if: Assessment | None = None,
    refused: Mapping[str, str] | None = None,
) -> Reply:
    """Everything that the screen shows of one station; the first drive where ``drive_id`` is not there.

    ``motors`` is a shelf; ``what_if`` the same build with other numbers, to be drawn beside, and ``refused`` the
    sentences for those numbers that cannot be.
    """
    build = assessment.build
    done = assessment.drives.get(drive_id) or next(iter(assessment.drives.values()), None)
    stamps = []
    if done is not None:
        for name in done.stations:
            stamp, row = assessment.stamp(done.drive.id, name), BY_ID[name]
            stamps.append(
                StampView(
                    station=name, title=row.title, key=row.key, state=stamp.state, text=stamp.text, open=stamp.open
                )
            )
    describer = Describer(assessment)
    if station == "build" or done is None:
        sheet = build_sheet(assessment, describer)
    else:
        at = station if station in done.stations else done.stations[0]
        asked = Inputs(
            all=assessment,
            done=done,
            describer=describer,
            readings=readings,
            motors=bound_parts(motors),
            what_if=what_if,
            refused=refused or {},
        )
        sheet = station_sheet(asked, at)
    return Reply(
        name=build.name,
        keys={s.id: s.key for s in TABLE},
        drive=done.drive.id if done else "",
        drives=[DriveView(id=d.id, name=d.name or d.id, kind=d.kind) for d in build.drives],
        stamps=stamps,
        spots=[finding_view(x) for x in assessment.spots()],
        unknown=sum(1 for x in assessment.findings if x.verdict == "unknown" and x.station != "bench"),
        sheet=sheet,
        errors=assessment.bound.errors,
        values={
            path: given.value for path, given in assessment.bound.givens.items() if path not in assessment.bound.errors
        },
        stale=_stale(assessment, readings, describer),
    )


def _stale(assessment: Assessment, readings: Sequence[Reading], describer: Describer) -> list[str]:
    """Readings by their step, then what was typed as measured or tuned; with the drive's name where there are
    several."""
    step_of = {r.id: r.step for r in readings}
    several = len(assessment.drives) > 1
    found: list[tuple[float, str]] = []
    for drive in assessment.drives.values():
        ending = f" ({drive.drive.name or drive.drive.id})" if several else ""
        gone = {step_of[id] for id in drive.stale_readings if id in step_of}
        again = sorted((s for s in drive.steps if s.id in gone), key=lambda s: s.minutes)
        found += [(s.minutes, s.title + ending) for s in again]
        found += [(math.inf, describer.name_of(path) + ending) for path in drive.stale_givens]
    return [name for _, name in sorted(found, key=lambda f: f[0])]


def build_sheet(assessment: Assessment, describer: Describer) -> Sheet:
    """The page before station 1."""
    sections = build_sections(assessment.build, describer)
    return Sheet(
        station="build",
        title="Build",
        question="What stands round it?",
        subject="",
        sections=sections,
        figures=[],
        findings=[],
        cautions=[],
        hint="",
        picture=PlainPicture(),
    )


def station_sheet(asked: Inputs, station: str) -> Sheet:
    """One station of one drive."""
    row, done = BY_ID[station], asked.done
    kind = done.drive.kind
    layout = SHEETS[station][kind]
    own = sorted(asked.all.of_station(done.drive.id, station), key=lambda x: -(x.used or 0.0))
    hint, picture = layout.hint(asked), safely(station, lambda: layout.picture(asked))
    shown = safely(station, lambda: layout.figures(asked))
    if picture is None or shown is None:
        hint = FAILED
    subject, figures = shown or ("", [])
    return Sheet(
        station=station,
        title=row.title,
        question=row.question,
        subject=subject,
        sections=list(layout.sections(asked)),
        figures=figures,
        findings=[finding_view(x, asked.all.build) for x in own],
        cautions=row.cautions[kind](done.scene, done.outcomes[station]),
        hint=hint,
        picture=picture or PlainPicture(),
    )


FAILED = (
    "A part of this station could not be worked out with these numbers; it was written to the log. All fields and the "
    "other stations work, and the build can be saved and exported."
)
T = TypeVar("T")


def safely(station: str, make: Callable[[], T]) -> T | None:
    """What is made; None where it fails, which must not take the builder's fields away with it."""
    try:
        return make()
    except Exception:
        logger.exception("a part of %s could not be made", station)
        return None


def without_drives(build: Build, drive_id: str) -> Reply:
    """The reply to a build whose figures cannot be worked out at all: it opens, and says so."""
    made = reply(assess(build.model_copy(update={"drives": []})), "build", "")
    drives = [DriveView(id=d.id, name=d.name or d.id, kind=d.kind) for d in build.drives]
    return replace(made, drive=drive_id, drives=drives, sheet=replace(made.sheet, hint=FAILED_WHOLE))


FAILED_WHOLE = (
    "This build's figures could not be worked out with these numbers; it was written to the log. Take the last change "
    "back (Undo), or export the build: nothing of it is lost."
)
