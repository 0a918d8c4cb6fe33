"""Ways out where signals and pulses have no place: each tried on the whole build before it is offered."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

from .assess import Assessment, assess
from .cases.pulses import pulses
from .design.what_if import owner, put
from .model.build import Build, LoadDrive, MotorDrive
from .model.change import Change

MOST_WAYS = 24


@dataclass(frozen=True, slots=True, kw_only=True)
class PinWay:
    """One way: its label, the texts to put, the lists to empty, how many signals are still without a place then, and
    the titles of what would be exceeded besides."""

    label: str
    changes: tuple[Change, ...] = ()
    emptied: tuple[str, ...] = ()
    left: int = 0
    breaks: tuple[str, ...] = ()


def homeless(done: Assessment) -> list[tuple[str, str]]:
    """The signals of a build that have no pin or no timer, as (drive, signal)."""
    return [(id, u.signal) for id, d in done.drives.items() for u in d.wiring.pins if u.refusal]


def pin_ways(build: Build) -> list[PinWay]:
    """The changes that leave fewer signals without a place, best first. Empty where all have one."""
    done = assess(build)
    before = homeless(done)
    if not before:
        return []
    broken = _exceeded(done)
    found = []
    for way in list(_tries(build))[:MOST_WAYS]:
        copy = build.model_copy(deep=True)
        for change in way.changes:
            put(copy, change)
        for path in way.emptied:
            at, last = owner(copy, path)
            setattr(at, last, [])
        then = assess(copy)
        left = len(homeless(then))
        if left < len(before):
            breaks = tuple(dict.fromkeys(title for key, title in _exceeded(then).items() if key not in broken))
            found.append(replace(way, left=left, breaks=breaks))
    return sorted(found, key=lambda w: (w.left, len(w.breaks)))


def reasons(done: Assessment) -> list[str]:
    """Timer by timer, why pulses that ask for a place cannot stand together. Empty where all have one."""
    tables = pulses(done.build).tables
    several = len(done.build.controllers) > 1
    found = []
    for controller in done.build.controllers:
        table = tables[controller.id]
        if table.conflict:
            found += [f"{controller.name or controller.id}: {line}" if several else line for line in table.why]
    return found


def _exceeded(done: Assessment) -> dict[tuple[str, str], str]:
    return {(f.code, f.drive): f.title for f in done.findings if f.verdict == "exceeded"}


def _tries(build: Build) -> Iterator[PinWay]:
    """What a builder could change, controller by controller and drive by drive."""
    for controller in build.controllers:
        if len(controller.libraries) == 1:
            (library,) = controller.libraries
            label = f"Do without the library {library.name or library.id}"
            yield PinWay(label=label, emptied=(f"controllers.{controller.id}.libraries",))
    for drive in build.drives:
        path, name = f"drives.{drive.id}", drive.name or drive.id
        if drive.wiring.fixed_pins:
            yield PinWay(label=f"Let the pins of {name} be found", emptied=(f"{path}.wiring.fixed_pins",))
        if (motor := drive.of_motor) is not None:
            yield from _of_encoder(motor, path, name)
        if (driven := drive.driven) is None:
            continue
        if driven.signals.told_by == "pulses":
            off = Change(path=f"{path}.signals.told_by", text="level", origin=None)
            yield PinWay(label=f"Switch {name} on and off, without pulses", changes=(off,))
        yield from _like_another(build, driven, path, name)


def _like_another(build: Build, driven: MotorDrive | LoadDrive, path: str, name: str) -> Iterator[PinWay]:
    """Pulses like those of another drive of the controller: then both fit on one timer."""
    for other in build.driven:
        if other.id == driven.id or other.controller != driven.controller:
            continue
        theirs, own = other.signals, driven.signals
        changes = []
        if theirs.pwm_frequency.text and theirs.pwm_frequency.text != own.pwm_frequency.text:
            text = theirs.pwm_frequency.text
            changes.append(Change(path=f"{path}.signals.pwm_frequency", text=text, origin="chosen"))
        if theirs.alignment != own.alignment:
            changes.append(Change(path=f"{path}.signals.alignment", text=theirs.alignment, origin=None))
        if changes:
            yield PinWay(label=f"Pulses of {name} like those of {other.name or other.id}", changes=tuple(changes))


def _of_encoder(motor: MotorDrive, path: str, name: str) -> Iterator[PinWay]:
    if motor.encoder.fitted != "yes" or motor.encoder.method != "interrupt":
        return
    poll = Change(path=f"{path}.encoder.method", text="polling", origin=None)
    yield PinWay(label=f"Look at the encoder of {name} in each pass of the loop", changes=(poll,))
    if motor.encoder.decoding == "4":
        fewer = Change(path=f"{path}.encoder.decoding", text="2", origin=None)
        yield PinWay(label=f"Count two edges a slot of {name}", changes=(fewer,))
