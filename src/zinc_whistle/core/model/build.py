"""The build: everything the builder gave, validated, with the path of every part."""

from __future__ import annotations

import collections.abc
from functools import lru_cache
from typing import Annotated, Final, Literal, Self, TypeVar, cast

from pydantic import Field, model_validator

from ..algebra.nodes import Leaf, presence
from .bench import BenchSpec, Tools
from .component import Component
from .dc_load import DcLoadSpec
from .driver import Ambient, DriverPart, DriverUnit
from .encoder import EncoderSpec
from .given import Bound, Given, Item, ListOwner, Meter, Spec, bind, bound_copy, choice, given, listing
from .handset import MOST_HANDSETS, Handset, Radio
from .load import LoadSpec
from .loop import LoopSpec
from .motor import MotorPart, MotorSpec
from .panel import PanelLamp, PanelSpec
from .sequence import Interlock, Sequence, Steering
from .servo import ServoSpec
from .signals import Controller, Peripheral, SignalsSpec
from .supply import SupplySpec
from .wiring import DriveWiring

FORMAT_VERSION: Final = 1
MOST_CONTROLLERS, MOST_UNITS, MOST_DRIVES = 8, 16, 16
P = TypeVar("P", bound=Item)
SHELVES = {"DriverPart": "shelf", "MotorPart": "motors"}
"""What the path of a part on a shelf begins with, by its class; any other is a component."""


class Schools(Spec):
    """Where good builders disagree: the school that this build follows."""

    sizing: Literal["stall", "run and peak", "limited"] = choice(
        "Driver sizing",
        {
            "stall": "Stall: continuous rating covers the stall current",
            "run and peak": "Run and peak: running current × 1.25, and the worst peak",
            "limited": "Limited: soft start and a limit define the peak",
        },
        "run and peak",
    )
    standoff: Literal["bus", "clamp", "twice"] = choice(
        "Voltage of transistors",
        {
            "bus": "1.5 × the highest supply, braking included",
            "clamp": "1.25 × the clamp's voltage, where a clamp is fitted",
            "twice": "2 × the highest supply, where nothing clamps",
        },
        "bus",
    )


class _Wired(Item):
    """What every drive has: a name, the controller that commands it, and its wires."""

    name: str = Field("", max_length=80, description="Name")
    controller: str = Field("", max_length=40, description="Controller")
    wiring: DriveWiring = Field(default_factory=DriveWiring)
    bench: BenchSpec = Field(default_factory=BenchSpec)

    # What a drive is, asked of the drive: whoever needs one kind gets that kind or None, and nobody else looks.

    @property
    def driven(self) -> MotorDrive | LoadDrive | None:
        """This drive, if a driver switches it."""
        return None

    @property
    def of_motor(self) -> MotorDrive | None:
        """This drive, if it turns a motor by a driver."""
        return None

    @property
    def of_servo(self) -> ServoDrive | None:
        """This drive, if it is a servo."""
        return None

    @property
    def has_encoder(self) -> bool:
        """Whether something counts its turns."""
        return False

    @property
    def has_tacho(self) -> bool:
        """Whether a generator tells its speed as volts."""
        return False


class _Driven(_Wired):
    """A drive that a channel of a driver unit switches."""

    unit: str = Field("", max_length=40, description="Driver unit")
    channel: Given = given("number", "1", "Channel of the unit", default="1", low=1, high=16, whole=True)
    joined: Given = given(
        "number",
        "1",
        "Channels joined",
        default="1",
        origin="chosen",
        low=1,
        high=4,
        whole=True,
        help="Two channels side by side carry twice the current, where the part's sheet allows it.",
    )
    signals: SignalsSpec = Field(default_factory=SignalsSpec)
    panel: PanelSpec = Field(default_factory=PanelSpec)

    @property
    def sets_speed(self) -> bool:
        """Whether something sets the speed as it runs, down to rest: a knob or the port by a program's pulses, or the
        potentiometer of a timer circuit."""
        return self.signals.told_by == "timer" or (self.signals.told_by == "pulses" and self.panel.sets_speed)

    def setting(self) -> list[Leaf]:
        """The choices that decide what sets the speed."""
        return [self.signals.chosen("told_by"), self.panel.chosen("speed_by"), self.panel.chosen("command")]


class MotorDrive(_Driven):
    """A brushed motor with its mechanism, signals, encoder and loop; it names its driver unit and controller."""

    kind: Literal["motor"] = "motor"
    motor: MotorSpec = Field(default_factory=MotorSpec)
    load: LoadSpec = Field(default_factory=LoadSpec)
    encoder: EncoderSpec = Field(default_factory=EncoderSpec)
    loop: LoopSpec = Field(default_factory=LoopSpec)

    @property
    def driven(self) -> MotorDrive:
        return self

    @property
    def of_motor(self) -> MotorDrive:
        return self

    @property
    def has_encoder(self) -> bool:
        # Counts are read by a program: without one a disc only turns.
        return self.encoder.fitted == "yes" and self.encoder.kind != "tacho" and self.signals.by_program

    @property
    def has_tacho(self) -> bool:
        return self.encoder.fitted == "yes" and self.encoder.kind == "tacho" and self.signals.told_by == "pulses"

    @property
    def closes_loop(self) -> bool:
        """Whether a program sets the duty by what the encoder counts."""
        return self.loop.closed == "yes" and self.signals.told_by == "pulses"


class ServoDrive(_Wired):
    """A hobby servo on a rail of its own or another's."""

    kind: Literal["servo"] = "servo"
    rail: str = Field("", max_length=40, description="Fed from")
    servo: ServoSpec = Field(default_factory=ServoSpec)

    @property
    def of_servo(self) -> ServoDrive:
        return self


class LoadDrive(_Driven):
    """A solenoid, a pump or a lamp; it names its driver unit and controller."""

    kind: Literal["load"] = "load"
    load: DcLoadSpec = Field(default_factory=DcLoadSpec)

    @property
    def driven(self) -> LoadDrive:
        return self


Ticked = Annotated[str, Field(max_length=200)]
Drive = Annotated[MotorDrive | ServoDrive | LoadDrive, Field(discriminator="kind")]


class Build(ListOwner):
    """One project: a supply, controllers, driver units and drives."""

    format: Literal["zinc-whistle-build"] = "zinc-whistle-build"
    format_version: Literal[1] = FORMAT_VERSION
    name: str = Field("New build", min_length=1, max_length=80, description="Name of the build")
    note: str = Field("", max_length=2000, description="What it is for")
    issue: str = Field("1.0", max_length=20, description="Issue of the board")
    stop_line: Literal["no", "yes"] = choice(
        "One stop line to all controllers",
        {"no": "No: each drive has its own stop, if any", "yes": "Yes: one contact opens, and every drive stops"},
        "no",
        help="One wire joins the stop inputs of all controllers; a contact that is closed at rest holds it to ground.",
    )
    ambient: Ambient = Field(default_factory=Ambient)
    schools: Schools = Field(default_factory=Schools)
    tools: Tools = Field(default_factory=Tools)
    meters: list[Meter] = listing("Meters", columns=False)
    supply: SupplySpec = Field(default_factory=SupplySpec)
    controllers: list[Controller] = Field(default_factory=list, max_length=MOST_CONTROLLERS)
    units: list[DriverUnit] = Field(default_factory=list, max_length=MOST_UNITS)
    drives: list[Drive] = Field(default_factory=list, max_length=MOST_DRIVES)
    steering: Steering = Field(default_factory=Steering, description="Steered by their difference")
    sequences: list[Sequence] = listing("Sequences", columns=False, most=8)
    radio: Radio = Field(default_factory=Radio, description="Radio")
    handsets: list[Handset] = listing("Handsets", columns=False, most=MOST_HANDSETS)
    made: list[Ticked] = Field(default_factory=list, max_length=2000, description="Connections and steps that are made")
    interlocks: list[Interlock] = listing(
        "Interlocks",
        help="A drive runs only while another is as it should be; else the program stops it, whoever ordered it.",
        columns=False,
        most=16,
    )

    def devices_on(self, feed: str) -> list[Peripheral]:
        """The other devices of all controllers that hang on a regulator or source: those without a feed of their own
        hang on what feeds their controller."""
        return [x for c in self.controllers for x in c.devices if (x.feed or c.regulator) == feed]

    def small_on(self, feed: str) -> list[Given]:
        """What the small things on a regulator or source take: other devices, and the encoders of drives whose
        controller hangs there."""
        fed = {c.id for c in self.controllers if c.regulator == feed}
        motors = [d for d in self.drives if isinstance(d, MotorDrive) and d.controller in fed]
        fitted = [d.encoder.takes for d in motors if d.encoder.fitted == "yes" and d.encoder.takes.value is not None]
        return [*(x.current for x in self.devices_on(feed)), *fitted]

    def lamps_on(self, feed: str) -> list[PanelLamp]:
        """The panel lamps of all drives whose controller hangs on a regulator or source."""
        fed = {c.id for c in self.controllers if c.regulator == feed}
        return [lamp for d in self.driven if d.controller in fed for lamp in d.panel.lamps]

    def feeds_of_devices(self) -> list[Leaf]:
        """What decides which device hangs where."""
        told = [leaf for c in self.controllers for leaf in (c.chosen("regulator"), c.members("devices"))]
        told += [d.panel.members("lamps") for d in self.driven]
        for drive in (d for d in self.drives if isinstance(d, MotorDrive)):
            told += [presence(drive.encoder.takes.leaf), drive.encoder.chosen("fitted")]
        return [*told, *(x.chosen("feed") for c in self.controllers for x in c.devices)]

    @property
    def driven(self) -> list[MotorDrive | LoadDrive]:
        """The drives that a driver switches, in order."""
        return [own for d in self.drives if (own := d.driven) is not None]

    @property
    def servos(self) -> list[ServoDrive]:
        """The servos, in order."""
        return [own for d in self.drives if (own := d.of_servo) is not None]

    @model_validator(mode="after")
    def _names_lead_somewhere(self) -> Self:
        sources = {s.id for s in self.supply.sources}
        regulators = {r.id for r in self.supply.regulators}
        units, controllers = {u.id for u in self.units}, {c.id for c in self.controllers}
        drives = {d.id for d in self.drives}
        links = [
            *((f"supply.regulators.{r.id}.source", r.source, sources | regulators) for r in self.supply.regulators),
            *((f"units.{u.id}.stage.gate_source", u.stage.gate_source, sources) for u in self.units),
            *((f"controllers.{c.id}.regulator", c.regulator, sources | regulators) for c in self.controllers),
            *((x.path or x.id, x.feed, sources | regulators) for c in self.controllers for x in c.devices),
            *((f"units.{u.id}.source", u.source, sources) for u in self.units),
            *((f"drives.{d.id}.unit", d.unit, units) for d in self.driven),
            *((f"drives.{d.id}.rail", d.rail, sources | regulators) for d in self.servos),
            *((f"drives.{d.id}.controller", d.controller, controllers) for d in self.drives),
            *((f"sequences.{s.id}.controller", s.controller, controllers) for s in self.sequences),
            *((f"sequences.{s.id}.steps.{x.id}", x.drive, drives) for s in self.sequences for x in s.steps),
            *((f"handsets.{h.id}.controller", h.controller, controllers) for h in self.handsets),
            *((f"handsets.{h.id}.buttons.{b.id}", b.drive, drives) for h in self.handsets for b in h.buttons),
            ("radio.board", self.radio.board, controllers),
            *((f"steering.{n}", getattr(self.steering, n), drives) for n in ("left", "right")),
            *((f"interlocks.{x.id}", name, drives) for x in self.interlocks for name in (x.drive, x.of)),
        ]
        for path, target, allowed in links:
            if target and target not in allowed:
                raise ValueError(f"{path} names “{target}”, which is not in the build")
        return self


def bind_build(build: Build) -> Bound:
    """Read every text of the build and give its parts their paths."""
    bound = Bound()
    for meter in build.meters:
        bind(meter, f"meters.{meter.id}", None, bound)
    meters = {m.id: m for m in build.meters}
    bind(build, "", meters, bound)
    for unit in build.units:
        if unit.part is not None:
            bind(unit.part, f"units.{unit.id}.part", meters, bound)
    return bound


def bound_build(build: Build) -> tuple[Build, Bound]:
    """A copy of a build with its texts read and its parts' paths known, and what was found; the build stays as it
    is."""
    bound = Bound()
    meters = {m.id: bound_copy(m, f"meters.{m.id}", {}, Bound()) for m in build.meters}
    return bound_copy(build, "", meters, bound), bound


def bound_parts(parts: collections.abc.Sequence[P]) -> list[P]:
    """Shelf parts with their texts read and their paths known; those that have theirs are taken as they are."""
    return [p if p.path else cast(P, _bound_part(type(p), p.model_dump_json())) for p in parts]


@lru_cache(maxsize=1024)
def _bound_part(model: type[Item], text: str) -> Item:
    """One part by all that it holds: a shelf is bound once, however often it is handed over."""
    part = model.model_validate_json(text)
    return bound_copy(part, f"{SHELVES.get(model.__name__, 'components')}.{part.id}", {}, Bound())


def bind_motors(parts: collections.abc.Sequence[MotorPart]) -> None:
    """Read the texts of shelf motors and give them their paths; one that has its path is left as it is."""
    for part in parts:
        if not part.path:
            bind(part, f"motors.{part.id}")


def bind_components(parts: collections.abc.Sequence[Component]) -> None:
    """Read the texts of components and give them their paths; one that has its path is left as it is."""
    for part in parts:
        if not part.path:
            bind(part, f"components.{part.id}")


def bind_parts(parts: list[DriverPart]) -> None:
    """Read the texts of shelf parts and give them their paths; a part that has its path is left as it is."""
    for part in parts:
        if not part.path:
            bind(part, f"shelf.{part.id}")
