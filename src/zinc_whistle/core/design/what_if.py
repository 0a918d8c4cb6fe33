"""Other numbers beside a build: what they change, told once, whether they are only drawn or taken over."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from ..algebra.quantities import QuantityError
from ..cases.load import LoadResult
from ..laws import load as load_laws
from ..model.build import Build, MotorDrive
from ..model.change import Change
from ..model.given import Ask, Given, Spec
from ..model.load import LoadSpec
from ..model.motor import MotorPart
from ..model.supply import Source


def motor_of(build: Build, drive_id: str) -> MotorDrive | None:
    """The motor's drive of that id, or the first drive if that is one."""
    found = next((d for d in build.drives if d.id == drive_id), build.drives[0] if build.drives else None)
    return found.of_motor if found is not None else None


@dataclass(frozen=True, slots=True, kw_only=True)
class OtherNumbers:
    """Other numbers, as typed; empty is as it is. A torque that the motor shall work at comes to the gear for it."""

    supply_v: str = ""
    gear_ratio: str = ""
    motor_torque: str = ""


@dataclass(frozen=True, slots=True)
class Wanted:
    """What a what-if changes of a build, and the sentences for what of it cannot be."""

    changes: list[Change]
    refused: dict[str, str]


TORQUE = Ask(kind="torque", unit="mN·m", label="Torque at the motor", above=0)


def wanted(build: Build, drive: MotorDrive, asked: OtherNumbers, load: LoadResult) -> Wanted:
    """What a what-if comes to, field by field; ``drive`` is bound and ``load`` what it feels as it is.

    A supply that is only thought of is assumed, whatever meter read the old one; a ratio is chosen.
    """
    found = Wanted([], {})

    def put_in(name: str, make: Callable[[str], Change]) -> None:
        text = getattr(asked, name).strip()
        try:
            found.changes.extend([make(text)] if text else [])
        except QuantityError as error:
            found.refused[name] = str(error)

    put_in("gear_ratio", lambda text: _gear(drive, text))
    put_in("motor_torque", lambda text: _gear(drive, _ratio_for(text, drive, load)))
    put_in("supply_v", lambda text: _supply(build, drive, text))
    return found


def _supply(build: Build, drive: MotorDrive, text: str) -> Change:
    unit = next((u for u in build.units if u.id == drive.unit), None)
    source = next((s for s in build.supply.sources if unit is not None and s.id == unit.source), None)
    if source is None:
        raise QuantityError("This drive has no supply yet that could be another one.")
    _ask(Source, "nominal_v").read(text)
    return Change(path=f"supply.sources.{source.id}.nominal_v", text=text, origin="assumed")


def _gear(drive: MotorDrive, text: str) -> Change:
    _ask(LoadSpec, "gear_ratio").read(text)
    return Change(path=f"drives.{drive.id}.load.gear_ratio", text=text, origin="chosen")


def _ratio_for(text: str, drive: MotorDrive, load: LoadResult) -> str:
    """The ratio, to four figures, that leaves the motor this torque of the load's."""
    torque, ratio, now = TORQUE.read(text).value, drive.load.gear_ratio.value, load.motor_torque.value
    if ratio is None or now is None:
        raise QuantityError("What the load asks of the motor is not known yet: give the load and its gear first.")
    if now <= 0:
        raise QuantityError("The load does not hold the motor back here: no gear gives it that torque.")
    return f"{load_laws.ratio_for_torque.bare(ratio, now, torque):.4g}"


def _ask(kind: type[Spec], name: str) -> Ask:
    ask = kind.meta(name).ask
    assert ask is not None
    return ask


def changed(build: Build, drive: MotorDrive, wanted: Sequence[Change], motor: MotorPart | None) -> Build:
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
