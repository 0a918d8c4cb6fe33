"""A motor, a driver, a controller or a panel of another build, put in the place of a drive's own."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from ..model.build import Build, Drive, MotorDrive
from ..model.driver import DriverUnit
from ..model.given import Given, Meter, Spec, walk
from ..model.signals import IN_ITS_BUILD, Controller

What = Literal["motor", "driver", "controller", "panel"]
OF_A_DRIVER = ("made_of", "part", "stage", "salvaged")
"""What of a unit is the driver itself; what stands round it (capacitor, jam stop, ramps' limit) is of its build."""


@dataclass(frozen=True, slots=True)
class ToTake:
    """Something that can be taken: from which drive, and what it is called there."""

    what: What
    drive: str
    name: str


def sources(build: Build) -> Iterator[ToTake]:
    """All that another build could take from this one."""
    for drive in build.drives:
        if isinstance(drive, MotorDrive) and _said(drive.motor):
            yield ToTake("motor", drive.id, drive.motor.name or drive.name)
        driven = drive.driven
        if driven is not None:
            unit = _unit(build, driven.unit)
            if unit is not None and (unit.made_of == "stage" or unit.part is not None):
                yield ToTake("driver", drive.id, unit.part.name if unit.made_of == "part" and unit.part else unit.name)
            if driven.signals.told_by == "pulses":
                yield ToTake("panel", drive.id, f"Panel of {drive.name or drive.id}")
        controller = _controller(build, drive.controller)
        if controller is not None:
            yield ToTake("controller", drive.id, controller.name)


def _said(spec: Spec) -> bool:
    """Whether anything of it was given that is not its default."""
    blank = type(spec)()
    return any(
        isinstance(v, Given) and v.text not in ("", getattr(blank, n).text)
        for n, v in ((n, getattr(spec, n)) for n in type(spec).model_fields)
        if isinstance(getattr(blank, n), Given)
    ) or any(getattr(spec, n) for n in type(spec).model_fields if isinstance(getattr(spec, n), list))


def take(build: Build, drive_id: str, other: Build, other_drive: str, what: What) -> Build:
    """A copy of the build with the other's part in the place of a drive's own.

    What was measured stays measured, with the meter that read it; what it stood on in the other build (readings,
    bases) is not of this one and is left behind. LookupError with a sentence where one of them has no such thing.
    """
    made = build.model_copy(deep=True)
    own = next((d for d in made.drives if d.id == drive_id), None)
    there = next((d for d in other.drives if d.id == other_drive), None)
    if own is None or there is None:
        raise LookupError("There is no such drive.")
    spec: Spec | None = None
    if what == "motor":
        if not isinstance(own, MotorDrive) or not isinstance(there, MotorDrive):
            raise LookupError("A motor goes from one motor's drive to another: one of the two drives has none.")
        own.motor = there.motor.model_copy(deep=True)
        spec = own.motor
    elif what == "panel":
        if own.driven is None or there.driven is None:
            raise LookupError("One of the two drives has no panel.")
        own.driven.panel = there.driven.panel.model_copy(deep=True)
        spec = own.driven.panel
    elif what == "driver":
        spec = _take_driver(made, _unit_of(own), other, _unit_of(there))
    else:
        spec = _take_controller(made, own.controller, other, there.controller)
    _settle(spec, made, other)
    return made


def _unit_of(drive: Drive) -> str:
    return drive.driven.unit if drive.driven is not None else ""


def _unit(build: Build, id: str) -> DriverUnit | None:
    return next((u for u in build.units if u.id == id), None)


def _controller(build: Build, id: str) -> Controller | None:
    return next((c for c in build.controllers if c.id == id), None)


def _take_driver(made: Build, own: str, other: Build, there: str) -> DriverUnit:
    unit, source = _unit(made, own), _unit(other, there)
    if unit is None or source is None:
        raise LookupError("One of the two drives has no driver.")
    copy = source.model_copy(deep=True)
    for name in OF_A_DRIVER:
        setattr(unit, name, getattr(copy, name))
    return unit


def _take_controller(made: Build, own: str, other: Build, there: str) -> Controller:
    controller, source = _controller(made, own), _controller(other, there)
    if controller is None or source is None:
        raise LookupError("One of the two drives has no controller.")
    kept = {n: getattr(controller, n) for n in ("id", *IN_ITS_BUILD)}
    put = source.model_copy(deep=True, update=kept)
    made.controllers[made.controllers.index(controller)] = put
    return put


def _settle(spec: Spec, made: Build, other: Build) -> None:
    """Bring the meters along, and leave behind what belongs to the other build."""
    meters = {m.id: m for m in other.meters}
    names = dict[str, str]()
    for part in walk(spec):
        for name in type(part).model_fields:
            given = getattr(part, name)
            if not isinstance(given, Given):
                continue
            if given.basis is not None or given.reading is not None:
                given.basis = given.reading = None
                given.note = given.note or f"From “{other.name}”."
            if given.meter:
                if given.meter not in names:
                    names[given.meter] = _bring(meters.get(given.meter), made)
                given.meter = names[given.meter]


def _bring(meter: Meter | None, made: Build) -> str:
    """The id of a meter in this build: one that reads alike, or this one with an id that is free."""
    if meter is None:
        return ""
    told = meter.model_dump(exclude={"id"})
    for own in made.meters:
        if own.model_dump(exclude={"id"}) == told:
            return own.id
    taken = {m.id for m in made.meters}
    free = next(id for id in (meter.id, *(f"m{n}" for n in range(1, len(taken) + 2))) if id not in taken)
    made.meters.append(meter.model_copy(deep=True, update={"id": free}))
    return free
