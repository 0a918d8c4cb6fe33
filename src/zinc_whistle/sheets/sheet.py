"""One station's sheet, the job card's stamps and the tight spots: all that a reply to the screen holds."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..core.assess import Assessment, DriveAssessment, DrivenAssessment, MotorAssessment, ServoAssessment
from ..core.model.build import bind_motors
from ..core.model.components import Component
from ..core.model.motor import MotorPart
from ..core.stations.bench.readings import Reading
from ..core.stations.cautions import cautions, servo_cautions
from . import draw
from . import pictures as p
from .fields import Describer, Section
from .figures import figures_of
from .sections import build_sections, sections_of
from .views import FigureView, FindingView, finding_view

TITLES = {
    "build": ("Build", "What stands round it?"),
    "motor": ("Motor", "What have I got?"),
    "load": ("Load", "What must it move?"),
    "supply": ("Supply", "What feeds it?"),
    "driver": ("Driver", "Which kind, which part?"),
    "power_stage": ("Power stage", "Does it stay cool?"),
    "signals": ("Signals", "What does it hear?"),
    "wiring": ("Wiring", "What goes where?"),
    "encoder": ("Encoder", "Can it keep count?"),
    "loop": ("Loop", "Does it settle?"),
    "bench": ("Bench", "Is what I read right?"),
    "log": ("Log", "What was done?"),
}


@dataclass(frozen=True, slots=True)
class StampView:
    """A station on the job card."""

    station: str
    title: str
    state: str
    text: str


@dataclass(frozen=True, slots=True)
class DriveView:
    """A drive in the drive switch."""

    id: str
    name: str
    kind: str


@dataclass(frozen=True, slots=True)
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
    picture: p.Picture


@dataclass(frozen=True, slots=True)
class Reply:
    """The reply to a draft: stamps and tight spots of the whole build, one sheet, and the errors by path."""

    name: str
    drive: str
    drives: list[DriveView]
    stamps: list[StampView]
    spots: list[FindingView]
    unknown: int
    sheet: Sheet
    errors: dict[str, str]
    values: dict[str, float | None]


def reply(
    assessment: Assessment,
    station: str,
    drive_id: str,
    readings: Sequence[Reading] = (),
    motors: Sequence[MotorPart] = (),
    what_if: Assessment | None = None,
    components: Sequence[Component] = (),
) -> Reply:
    """Everything that the screen shows of one station; the first drive where ``drive_id`` is not there.

    ``motors`` and ``components`` are shelves; ``what_if`` the same build with other numbers, to be drawn beside.
    """
    bind_motors(motors)
    build = assessment.build
    done = assessment.drives.get(drive_id) or next(iter(assessment.drives.values()), None)
    stamps = []
    if done is not None:
        for name in done.stations:
            stamp = assessment.stamp(done.drive.id, name)
            stamps.append(StampView(name, TITLES[name][0], stamp.state, stamp.text))
    describer = Describer(assessment)
    if station == "build" or done is None:
        sheet = build_sheet(assessment, describer)
    else:
        at = station if station in done.stations else done.stations[0]
        sheet = station_sheet(assessment, done, at, describer, readings, motors, what_if, components)
    return Reply(
        build.name,
        done.drive.id if done else "",
        [DriveView(d.id, d.name or d.id, d.kind) for d in build.drives],
        stamps,
        [finding_view(x) for x in assessment.spots()],
        sum(1 for x in assessment.findings if x.unknown and x.station != "bench"),
        sheet,
        assessment.bound.errors,
        {path: given.value for path, given in assessment.bound.givens.items() if path not in assessment.bound.errors},
    )


def build_sheet(assessment: Assessment, describer: Describer) -> Sheet:
    """The page before station 1."""
    title, question = TITLES["build"]
    sections = build_sections(assessment.build, describer)
    return Sheet("build", title, question, "", sections, [], [], [], "", p.PlainPicture())


def station_sheet(
    assessment: Assessment,
    done: DriveAssessment,
    station: str,
    describer: Describer,
    readings: Sequence[Reading],
    motors: Sequence[MotorPart] = (),
    what_if: Assessment | None = None,
    components: Sequence[Component] = (),
) -> Sheet:
    """One station of one drive."""
    title, question = TITLES[station]
    picture = draw.picture(assessment, done, station, readings, describer, motors, what_if, components)
    own = sorted(assessment.of_station(done.drive.id, station), key=lambda x: -(x.used or 0.0))
    subject, figures = figures_of(done, station, assessment)
    if isinstance(done, DrivenAssessment):
        junction = done.stage.heat.junction.value if done.stage.heat is not None else None
        said = cautions(done.context, done.circuit, station, junction)
    else:
        said = servo_cautions(station)
    return Sheet(
        station,
        title,
        question,
        subject,
        sections_of(done, station, describer),
        figures,
        [finding_view(x, assessment.build) for x in own],
        said,
        _hint(done, station),
        picture,
    )


def _hint(done: DriveAssessment, station: str) -> str:
    if isinstance(done, ServoAssessment):
        return "Give the rail a name at Supply: torque and speed go with its volts." if not done.drive.rail else ""
    assert isinstance(done, DrivenAssessment)
    if station == "power_stage" and done.discrete is not None:
        return ""
    if station == "power_stage" and done.chosen is not None:
        return "Switches, gates and diodes are built into this part. What stands beside it is the bulk capacitor."
    if station == "driver" and done.chosen is None:
        return "Choose a part from the list: the best one that holds stands first."
    if (
        station == "motor"
        and isinstance(done, MotorAssessment)
        and done.drive.motor.known_by == "spin-up"
        and done.motor.motor_constant.value is None
    ):
        return "Import a capture of the motor spinning up, fit it, and take the constants over."
    return ""
