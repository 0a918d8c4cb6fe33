"""A node of two: a controller with all that hangs on it made a second time, so that one program serves both."""

from __future__ import annotations

from collections.abc import Callable

from .model.build import MOST_CONTROLLERS, MOST_DRIVES, MOST_UNITS, Build


def with_second(build: Build, controller_id: str, new_id: Callable[[], str]) -> Build:
    """A copy of a build with a second controller, its drives and their driver units, like those of the one named.

    Both are marked as the two of one program. LookupError where there is no such controller, ValueError with a sentence
    where there cannot be a second.
    """
    made = build.model_copy(deep=True)
    first = next((c for c in made.controllers if c.id == controller_id), None)
    if first is None:
        raise LookupError("This build has no such controller.")
    drives = [d for d in made.drives if d.controller == controller_id]
    units = {u for d in drives if (driven := d.driven) is not None and (u := driven.unit)}
    if any(c.node for c in made.controllers):
        raise ValueError("This build has a node of two already: one program serves two, not more.")
    if any(d.driven is not None and d.driven.unit in units and d.controller != controller_id for d in made.drives):
        raise ValueError("Another controller tells a channel of the same driver unit: part them first.")
    counts = (
        (len(made.controllers) + 1, MOST_CONTROLLERS, "controllers"),
        (len(made.units) + len(units), MOST_UNITS, "driver units"),
        (len(made.drives) + len(drives), MOST_DRIVES, "drives"),
    )
    for count, most, what in counts:
        if count > most:
            raise ValueError(f"A build holds {most} {what} at most; this would make {count}.")
    first.node = "first"
    ids = {controller_id: new_id()} | {u: new_id() for u in units}
    second = first.model_copy(
        update={"id": ids[controller_id], "name": _again(first.name), "node": "second"}, deep=True
    )
    # A regulator that sits on a board comes once more with it.
    for regulator in [r for r in made.supply.regulators if r.id == first.regulator and r.place != "own"]:
        second.regulator = new_id()
        made.supply.regulators.append(
            regulator.model_copy(update={"id": second.regulator, "name": _again(regulator.name)}, deep=True)
        )
    made.controllers.append(second)
    for unit in [u for u in made.units if u.id in units]:
        made.units.append(unit.model_copy(update={"id": ids[unit.id], "name": _again(unit.name)}, deep=True))
    for drive in drives:
        copy = drive.model_copy(update={"id": new_id(), "name": _again(drive.name), "controller": second.id}, deep=True)
        if (driven := copy.driven) is not None:
            driven.unit = ids.get(driven.unit, "")
        made.drives.append(copy)
    return Build.model_validate(made.model_dump(mode="json"))


def _again(name: str) -> str:
    """A name for the second of its kind."""
    return f"{name[:76]} (2)" if name else ""
