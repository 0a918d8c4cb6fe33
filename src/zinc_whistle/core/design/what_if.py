"""Other numbers beside a build: what they change, told once, whether they are only drawn or taken over."""

from __future__ import annotations

from ..model.build import Build, MotorDrive
from ..model.change import Change
from ..model.given import Given
from ..model.motor import MotorPart


def motor_of(build: Build, drive_id: str) -> MotorDrive | None:
    """The motor's drive of that id, or the first drive if that is one."""
    found = next((d for d in build.drives if d.id == drive_id), build.drives[0] if build.drives else None)
    return found.of_motor if found is not None else None


def changes(build: Build, drive: MotorDrive, supply_v: str, gear_ratio: str) -> list[Change]:
    """What another supply and another gear change of a build: empty texts change nothing.

    A supply that is only thought of is assumed, whatever meter read the old one; a ratio is chosen.
    """
    found = []
    if gear_ratio.strip():
        found.append(Change(path=f"drives.{drive.id}.load.gear_ratio", text=gear_ratio.strip(), origin="chosen"))
    unit = next((u for u in build.units if u.id == drive.unit), None)
    source = next((s for s in build.supply.sources if unit is not None and s.id == unit.source), None)
    if source is not None and supply_v.strip():
        path = f"supply.sources.{source.id}.nominal_v"
        found.append(Change(path=path, text=supply_v.strip(), origin="assumed"))
    return found


def changed(build: Build, drive: MotorDrive, wanted: list[Change], motor: MotorPart | None) -> Build:
    """A copy of the build with the changes made, and with another motor in the drive."""
    copy = build.model_copy(deep=True)
    own = next(d.of_motor for d in copy.drives if d.id == drive.id)
    if motor is not None and own is not None:
        own.motor = motor.motor.model_copy(deep=True)
    for change in wanted:
        put(copy, change)
    return copy


def put(build: Build, change: Change) -> None:
    """Make one change in a build. LookupError or AttributeError where its path leads nowhere."""
    at, last = owner(build, change.path)
    if change.origin is None:
        setattr(at, last, change.text)
    else:
        setattr(at, last, Given(text=change.text, value=getattr(at, last).value, origin=change.origin))


def owner(build: Build, path: str) -> tuple[object, str]:
    """What holds the last name of a path, and that name; items of lists are named by their ids."""
    *way, last = path.split(".")
    at: object = build
    for step in way:
        at = next(i for i in at if i.id == step) if isinstance(at, list) else getattr(at, step)
    return at, last
