"""The pins that a stacked board takes by sitting on its controller, and those that a cut link has freed."""

from __future__ import annotations

from collections.abc import Iterable

from ..model.board import parsed
from ..model.build import Build, Drive
from ..model.driver import DriverUnit
from ..model.signals import Controller, Pin


def _unit(build: Build, drive: Drive) -> DriverUnit | None:
    driven = drive.driven
    return None if driven is None else next((u for u in build.units if u.id == driven.unit), None)


def _map_of(unit: DriverUnit) -> list[tuple[str, int, str]]:
    """Signal, channel and label of each pin that the unit's board takes; cut links take none."""
    if unit.made_of != "part" or unit.part is None:
        return []
    cut = {x.which.strip().casefold() for x in unit.alterations if x.kind == "link cut" and x.undone == "no"}
    try:
        found = parsed(unit.part.pin_map)
    except ValueError:
        return []  # told where the part is checked
    return [x for x in found if not {x[0].casefold(), x[2].casefold()} & cut]


def pin_of(controller: Controller, label: str) -> Pin | None:
    """The pin with a printed label, or with that id."""
    wanted = label.casefold()
    return next((p for p in controller.pins if wanted in (p.label.casefold(), p.id.casefold())), None)


def fixed(build: Build, drive: Drive, controller: Controller) -> dict[str, str]:
    """The pins of a drive that do not move, by signal: by its board, or (first) as the builder fixed them."""
    unit, driven = _unit(build, drive), drive.driven
    found: dict[str, str] = {}
    if unit is not None and driven is not None:
        channel = int(driven.channel.value or 1)
        for signal, own, label in _map_of(unit):
            if own == channel:
                pin = pin_of(controller, label)
                found[signal] = pin.id if pin is not None else f"{label}, where the board sits,"
    return found | {p.signal: p.pin for p in drive.wiring.fixed_pins}


def taken(build: Build, drives: Iterable[Drive], controller: Controller) -> set[str]:
    """Ids of all pins under the stacked boards of some drives, whatever they carry."""
    units = {u.id: u for d in drives if (u := _unit(build, d)) is not None}
    labels = {label for u in units.values() for _, _, label in _map_of(u)}
    return {p.id for label in labels if (p := pin_of(controller, label)) is not None}
