"""What sits on a bought board besides its bridge, and what the builder has altered on it."""

from __future__ import annotations

from collections.abc import Iterator

from ...algebra.findings import Remedy
from ...algebra.limits import Check, claim, upper
from ...cases.operating import DriveContext
from ...cases.polarity import acting_low, misread, tied_lines, turned_round
from ...model.board import ALTERATIONS, Alteration, lamps_of, parsed
from ...model.driver import DriverPart, DriverUnit
from .telling import STATION

TODO = {
    "guard bridged": "Nothing stands against reversed polarity any more, nor cuts the power: make the plug one that "
    "fits one way only, and put something in the guard's place.",
    "link cut": "The pin is free, and the board does not hear it: see that what it carried has another way.",
    "supply split": "Two supplies now: see that their grounds stay joined, and that neither feeds the other.",
    "other": "It is no longer the board that its sheet tells of.",
}


def checks(at: DriveContext, part: DriverPart) -> Iterator[Check]:
    """The guard's gate against the supply, although no motor turns; each alteration until it is undone."""
    here = at.unit.made_of == "part" and at.unit.part is not None and at.unit.part.id == part.id
    standing = [x for x in at.unit.alterations if x.undone == "no"] if here else []
    if part.guard_v.value is not None and not any(x.kind == "guard bridged" for x in standing):
        yield upper(
            "driver.guard",
            station=STATION,
            title="Gate of the board's guard",
            stress=at.volts.any,
            bound=part.guard_v.leaf,
            todo="It breaks down although no motor turns: a zener and a resistor at its gate, or less supply.",
            drive=at.drive.id,
        )
    for alteration in standing:
        yield _standing(at.unit, alteration, at.drive.id)
    for code, title, read in (
        ("driver.pin_map", "The board's map of pins can be read", lambda: parsed(part.pin_map)),
        ("driver.tied", "The board's tied lines can be read", lambda: tied_lines(part)),
        ("driver.lamps", "The board's lamps can be read", lambda: lamps_of(part.lamps)),
    ):
        try:
            read()
        except ValueError as error:
            yield claim(
                code,
                station=STATION,
                title=title,
                holds=False,
                todo=str(error),
                drive=at.drive.id,
                over="warn",
                destructive=False,
            )
    yield from _acting_low(at, part)


def _acting_low(at: DriveContext, part: DriverPart) -> Iterator[Check]:
    """Lines are meant to act when high: what the board makes of them is worked out from its truth table."""
    where = f"{at.unit.path}.inverters"
    try:
        inputs = acting_low(part)
    except ValueError as error:
        yield claim(
            "driver.active_low",
            station=STATION,
            title="Inputs that act when they are low",
            holds=False,
            todo=str(error),
            drive=at.drive.id,
        )
        return
    if not inputs:
        return
    wrong = misread(part.input_style, set(inputs) - set(turned_round(at.unit, part)))
    names, verb = " and ".join(inputs), "acts" if len(inputs) == 1 else "act"
    yield claim(
        "driver.active_low",
        station=STATION,
        title="It reads its lines as they are meant",
        holds=wrong is None,
        todo=""
        if wrong is None
        else f"{names} {verb} when low, and lines are low at rest and high to act: {wrong.says}. Put a small "
        "transistor into each such line, with a pull-down at its base and a pull-up at the board's input.",
        drive=at.drive.id,
        over="warn" if wrong is not None and not wrong.dangerous else "stop",
        destructive=wrong is not None and wrong.dangerous,
        where=where,
        remedy=Remedy("Fit a transistor in each", where, "yes"),
    )


def _standing(unit: DriverUnit, alteration: Alteration, drive: str) -> Check:
    which = f" ({alteration.which})" if alteration.which else ""
    said = f" “{alteration.note}”" if alteration.note else ""
    return claim(
        f"driver.altered.{alteration.id}",
        station=STATION,
        title=f"Altered: {ALTERATIONS[alteration.kind].lower()}{which}",
        holds=False,
        todo=f"{TODO[alteration.kind]}{said}",
        drive=drive,
        over="warn",
        where=f"{unit.path}.alterations",
        destructive=alteration.kind == "guard bridged",
    )
