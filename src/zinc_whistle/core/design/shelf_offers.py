"""What was corrected on the shelf since a build took its copy: field by field, offered and never done by itself.

A copy keeps what the builder changed in it: only a figure that still stands as some earlier entry of the shelf had it,
and that the shelf has otherwise today, is a correction that the build has not heard of.
"""

from __future__ import annotations

import copy
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Literal

from ..model.build import Build, MotorDrive
from ..model.driver import DriverPart
from ..model.given import Given, Spec
from ..model.motor import MotorPart
from ..model.signals import IN_ITS_BUILD, Controller
from ..model.stage import SLOTS

Shelved = Literal["driver", "motor", "component", "controller"]
LEFT_ALONE = ("id", "sample", "kind", *IN_ITS_BUILD)
"""What tells parts apart, and what a copy has from its build: no figure of the part."""


@dataclass(frozen=True, slots=True)
class ShelfEntry:
    """A part as it is on the shelf now, and as it was before, the latest first."""

    kind: Shelved
    now: Spec
    before: tuple[Spec, ...]


@dataclass(frozen=True, slots=True)
class FieldOffer:
    """A field of the copy that the shelf has otherwise: its path below the copy, its label and both texts."""

    path: str
    label: str
    had: str
    has: str


@dataclass(frozen=True, slots=True)
class ShelfOffer:
    """A copy at a path of the build, what it is called, and what was corrected."""

    kind: Shelved
    path: str
    name: str
    fields: tuple[FieldOffer, ...]
    now: Spec


def offers(build: Build, shelf: Sequence[ShelfEntry]) -> list[ShelfOffer]:
    """Every copy in a build of which the shelf's entry was corrected since. Drivers and components are known by their
    ids; a motor and a controller, whose copies have none, by the name that any entry bore."""
    found = []
    for kind, path, held in _copies(build):
        entry = next((e for e in shelf if e.kind == kind and e.before and _is_of(held, e)), None)
        if entry is None:
            continue
        now, before = _body(entry.now), [_body(b) for b in entry.before]
        fields = tuple(_corrected(held, now, before))
        if fields:
            found.append(ShelfOffer(kind, path, str(getattr(entry.now, "name", "")), fields, now))
    return found


def _copies(build: Build) -> Iterator[tuple[Shelved, str, Spec]]:
    for unit in build.units:
        if unit.made_of == "part":
            if unit.part is not None:
                yield "driver", f"units.{unit.id}.part", unit.part
        else:
            for slot in SLOTS:
                held = getattr(unit.stage, slot)
                if held is not None:
                    yield "component", f"units.{unit.id}.stage.{slot}", held
    for drive in build.drives:
        if isinstance(drive, MotorDrive):
            yield "motor", f"drives.{drive.id}.motor", drive.motor
    for controller in build.controllers:
        yield "controller", f"controllers.{controller.id}", controller


def _body(entry: Spec) -> Spec:
    """What a build copies of an entry."""
    return entry.motor if isinstance(entry, MotorPart) else entry


def _is_of(held: Spec, entry: ShelfEntry) -> bool:
    if entry.kind in ("driver", "component"):
        return getattr(held, "id", "") == getattr(entry.now, "id", None)
    name = getattr(held, "name", "").strip()
    return bool(name) and any(name == getattr(_body(e), "name", "").strip() for e in (entry.now, *entry.before))


def _corrected(held: Spec, now: Spec, before: Sequence[Spec]) -> Iterator[FieldOffer]:
    own, has, had = _fields(held), _fields(now), [_fields(b) for b in before]
    for path, (label, text) in own.items():
        new = has.get(path)
        if new is not None and new[1] != text and any(b.get(path, ("", None))[1] == text for b in had):
            yield FieldOffer(path, label, text, new[1])


def _fields(spec: Spec, path: str = "") -> dict[str, tuple[str, str]]:
    """Label and text of every field by its path; a list is one field, which tells how many rows it has."""
    found: dict[str, tuple[str, str]] = {}
    for name, info in type(spec).model_fields.items():
        if not path and name in LEFT_ALONE:
            continue
        here, value = f"{path}{name}", getattr(spec, name)
        meta = spec.meta(name)
        asked = meta.ask or meta.choose
        label = asked.label if asked is not None else info.description or name.replace("_", " ")
        if isinstance(value, Given):
            found[here] = label, value.text
        elif isinstance(value, Spec):
            found |= _fields(value, f"{here}.")
        elif isinstance(value, list):
            found[here] = label, _rows(value)
        else:
            words = meta.choose.options.get(value, value) if meta.choose is not None else value
            found[here] = label, "" if words is None else str(words)
    return found


def _rows(items: list[Any]) -> str:
    told = [", ".join(t for _, t in _fields(i, " ").values() if t) if isinstance(i, Spec) else str(i) for i in items]
    return "; ".join(told)


def taken(build: Build, wanted: Sequence[ShelfOffer]) -> Build:
    """A copy of the build with the corrections made, field by field; all else of each copy stays as it is."""
    made = build.model_copy(deep=True)
    copies: Mapping[str, Spec] = {path: held for _, path, held in _copies(made)}
    for offer in wanted:
        for field in offer.fields:
            at: Any = copies[offer.path]
            new: Any = offer.now
            *way, last = field.path.split(".")
            for step in way:
                at, new = getattr(at, step), getattr(new, step)
            setattr(at, last, copy.deepcopy(getattr(new, last)))
    return made


def entries(
    kind: Shelved, now: Sequence[DriverPart | MotorPart | Controller | Spec], before: Mapping[str, Sequence[Spec]]
) -> list[ShelfEntry]:
    """The entries of a kind that were ever corrected: ``before`` holds the earlier bodies by id, the latest first."""
    return [ShelfEntry(kind, p, tuple(before[id])) for p in now if (id := str(getattr(p, "id", ""))) in before]
