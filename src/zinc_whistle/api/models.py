"""What goes over the wire beside the sheets."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Literal, Self

from pydantic import BaseModel, ConfigDict, Field, model_validator

from ..core.model.build import Build
from ..core.model.components import Class
from ..core.model.given import Origin
from ..core.model.log_topic import TopicKey
from ..core.model.motor import MotorSpec
from ..core.model.reading import ReadingVerdict
from ..core.model.stage import StageSpec
from ..core.stations import IDS as STATIONS
from ..core.sums import SumInput
from ..sheets.fields import Field as Field_

Name = Field(min_length=1, max_length=80, pattern=r"\S")


class Strict(BaseModel):
    """No unknown fields, no numbers without bound."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class Problem(BaseModel):
    """Why something was refused: a sentence, and the field if it is one."""

    detail: str
    field: str = ""


class WorkView(BaseModel):
    """How far a piece of work is that was asked for under a ticket."""

    known: bool
    before: int
    share: float | None
    seconds: float


class AskControllers(Strict):
    """Which controller for a build, in the place of the one named."""

    build: Build
    controller: str = Field(max_length=40)


class Objection(BaseModel):
    """What speaks against a controller: the check, of which drive, and what to do."""

    title: str
    drive: str
    todo: str


class ControllerChoice(BaseModel):
    """A profile in a controller's place, and what the build's own checks say of it."""

    id: str
    name: str
    sample: bool
    meets: bool
    stops: list[Objection]
    warnings: list[Objection]
    no_program: list[str]
    language: str
    logic: str
    price: str
    height: str
    effort: str
    grid: str
    draws: str
    pins_left: int
    added: list[str]
    total: str


class ProfileProblem(BaseModel):
    """What is wrong in a controller's profile, and where."""

    path: str
    sentence: str


class ConflictProblem(Problem):
    """Somebody saved meanwhile; the refused draft is kept as the build ``sibling_id``."""

    current: int
    sibling_id: str
    sibling_name: str


class NewBuild(Strict):
    """Start a build from nothing."""

    name: str = Name


class Save(Strict):
    """A draft and the version that it edits. Without ``sibling`` a draft that comes too late is refused and not kept:
    whoever sends it has it still."""

    version: int = Field(ge=0, le=2**53)
    build: Build
    sibling: bool = True


class AskMerge(Strict):
    """A draft, and the build as it was saved when the draft was begun."""

    base: Build
    mine: Build


class MergeView(BaseModel):
    """What is saved now with the draft's edits in it, to be saved as an edit of ``version``; nothing, and the fields
    that both changed, where they cannot stand together."""

    version: int
    saved: Build
    build: Build | None
    conflicts: list[str]


if TYPE_CHECKING:
    Station = str
else:
    Station = Literal[("build", *STATIONS)]
"""What the service accepts as a station: those of the table, and the page before them."""


class Draft(Strict):
    """A draft to work out, without saving it; ``build_id`` brings the readings in."""

    build: Build
    station: Station = "motor"
    drive: str = Field("", max_length=40)
    build_id: str = Field("", max_length=40)
    what_if: WhatIf | None = None


class WhatIf(Strict):
    """Other numbers to draw beside: texts of supply, gear ratio and the torque that the motor shall work at, and the id
    of a shelf motor; empty means as it is."""

    supply_v: str = Field("", max_length=40)
    gear_ratio: str = Field("", max_length=40)
    motor_torque: str = Field("", max_length=40)
    motor: str = Field("", max_length=40)


class ChangeView(BaseModel):
    """A text to put at a path, and the origin that it has then; without one it is a choice."""

    model_config = ConfigDict(from_attributes=True)

    path: str
    text: str
    origin: Origin | None
    note: str


class AskCompare(BaseModel):
    """What a revision is held against: the build in hand, or another revision."""

    build: Build | None = None
    number: int | None = Field(None, ge=1, le=10**9)

    @model_validator(mode="after")
    def _one_of_both(self) -> Self:
        if (self.build is None) == (self.number is None):
            raise ValueError("Say what the revision is held against: the build in hand, or another revision's number.")
        return self


class KitList(BaseModel):
    """A kit's list of parts, a line for each value."""

    text: str = Field(max_length=20_000)


class PinWayView(BaseModel):
    """A way out where signals have no pin or timer: what it changes, what is left, and what would be exceeded."""

    label: str
    changes: list[ChangeView]
    emptied: list[str]
    left: int
    breaks: list[str]


class PinWaysView(BaseModel):
    """Why pulses have no place, timer by timer, and the ways out."""

    why: list[str]
    ways: list[PinWayView]


class WorkingOf(Strict):
    """Which figure of a draft to show the working of."""

    build: Build
    figure: str = Field(max_length=300)


class NewRevision(Strict):
    """Why the revision is cut."""

    reason: str = Field("", max_length=300)


class NewReading(Strict):
    """A reading at one step of the saved build's test sheet."""

    drive: str = Field(max_length=40)
    step: str = Field(max_length=40)
    text: str = Field(min_length=1, max_length=80)
    note: str = Field("", max_length=500)


class NewNote(Strict):
    """A log entry of the builder's own: its topic, and what that asks besides."""

    text: str = Field(min_length=1, max_length=5000, pattern=r"\S")
    topic: TopicKey = "note"
    details: dict[str, Annotated[str, Field(max_length=1000)]] = Field(default_factory=dict, max_length=8)


class TopicFieldView(BaseModel):
    """A field that a topic asks."""

    key: str
    label: str


class TopicView(BaseModel):
    """A kind of log entry: its fields, and what stands open until it is settled (empty: nothing)."""

    key: TopicKey
    label: str
    asks: list[TopicFieldView]
    open_as: str


class LogTotals(BaseModel):
    """Hours and money of all entries that stand, as texts; empty where there is none."""

    hours: str
    spent: str


class KeepMotor(Strict):
    """A motor for the shelf."""

    name: str = Name
    note: str = Field("", max_length=300)
    motor: MotorSpec


class PartForm(BaseModel):
    """A part's fields as a form; ``ready`` when it can be put on the shelf."""

    fields: list[Field_]
    ready: bool


class ComponentClass(BaseModel):
    """A class of the shelf: its kind, its plural, how many are on the shelf and how many of them the builder's own."""

    kind: Class
    label: str
    count: int
    own: int


Slot = Literal[
    "switch",
    "parallel",
    "gate_driver",
    "gate_resistor",
    "frequency",
    "heat_sink",
    "upper",
    "relay",
    "diode",
    "guard",
    "fuse",
]


class DesignWishes(Strict):
    """Limits of one's own for a design, as typed; empty where nothing is wished."""

    price: str = Field("", max_length=40)
    junction: str = Field("", max_length=40)
    height: str = Field("", max_length=40)
    slowest: str = Field("", max_length=40)
    fastest: str = Field("", max_length=40)
    parallel: str = Field("", max_length=40)


class AskDesign(Strict):
    """Which drive's stage to design, what stays as it is, whether it must not whine, and limits of one's own."""

    build: Build
    drive: str = Field(max_length=40)
    locks: list[Slot] = Field(default_factory=list, max_length=11)
    quiet: bool = True
    wishes: DesignWishes = Field(default_factory=DesignWishes)


class DesignView(BaseModel):
    """One design: in words, its scores as texts and for the picture, its tight spots, and what to put into the build.

    ``label`` names the goals that it is best at; it is empty for one that lies between those."""

    label: str
    words: list[str]
    price: str
    price_eur: float | None
    heat_w: float
    heat: str
    junction: str
    use: float
    state: Literal["holds", "tight", "beyond"]
    """How near the tightest use comes: beyond is what only warns."""
    use_text: str
    tight: list[str]
    warned: list[str]
    """What lies beyond a limit that only warns."""
    stage: StageSpec
    changes: list[ChangeView]
    """What of the build besides the stage it changes."""


class DesignsView(BaseModel):
    """The designs, how many combinations were looked at and how many hold; the reason where none does."""

    designs: list[DesignView]
    looked_at: int
    hold: int
    reason: str


class Said(BaseModel):
    """A figure's name and its text."""

    name: str
    text: str


class OfDrive(Strict):
    """One drive of a draft."""

    build: Build
    drive: str = Field(max_length=40)


class OfBoard(OfDrive):
    """One board of a draft that somebody solders, by the id of what its parts stand on."""

    board: str = Field(max_length=80)


class OfPart(OfDrive):
    """One part of the comparison of drivers."""

    part: str = Field(max_length=80)


class BadRow(BaseModel):
    """A row of a file that was refused."""

    line: int
    sentence: str


class PartsTaken(BaseModel):
    """What came of an import: how many were kept, how many were good, and the bad rows by line."""

    kept: int
    good: int
    bad: list[BadRow]


class SumGivens(Strict):
    """Inputs of a quick sum, as text by key."""

    given: dict[str, str] = Field(max_length=20)


class SavedView(BaseModel):
    """A save that went well."""

    id: str
    version: int
    saved_at: str


class BuildView(SavedView):
    """A build as it is stored."""

    build: Build


class ReadingView(BaseModel):
    """A reading that was kept, and what it amounts to."""

    id: str
    verdict: ReadingVerdict
    sentence: str


class AskView(BaseModel):
    """One input of a quick sum."""

    key: str
    label: str
    unit: str
    example: str
    default: str
    options: list[str]

    @classmethod
    def of(cls, ask: SumInput) -> Self:
        """As the sum asks it."""
        return cls(
            key=ask.key,
            label=ask.label,
            unit=ask.unit,
            example=ask.example,
            default=ask.default,
            options=list(ask.options),
        )


class SumView(BaseModel):
    """A quick sum that can be asked."""

    name: str
    title: str
    asks: list[AskView]
