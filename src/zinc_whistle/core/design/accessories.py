"""What a driver part needs around it, from the shelf, and what it then costs altogether."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from typing import TypeVar

from ..algebra.along import nearest_that_holds
from ..algebra.limits import Check, Judge, Limit, claim, upper
from ..algebra.nodes import Constant
from ..cases.bus import step_factor
from ..cases.operating import DriveContext
from ..cases.polarity import turned_round
from ..laws import capacitor as capacitor_rules
from ..model.build import bound_parts
from ..model.component import Component, Priced
from ..model.components import Capacitor, Diode, HeatSink
from ..model.driver import ONE_SWITCH
from ..stations.driver.candidates import Candidate, limits
from ..stations.power_stage.ratings import capacitor_ratings, diode_ratings

BRIDGE_DIODES, SWITCH_DIODES = 4, 1
SMALL_BOARD = 3.0
"""€, a piece of ready-made board with terminals for a bare chip: an estimate (common practice, no source)."""
SHIFTER = 1.5
"""€, a small board that shifts logic levels: an estimate (common practice, no source)."""
INVERTER = 0.3
"""€, a small transistor with its resistors: an estimate (common practice, no source)."""
C = TypeVar("C", bound=Priced)


@dataclass(frozen=True, slots=True)
class Extra:
    """One thing that the part needs besides: what, how many, price in all (€), and whether the price is an estimate."""

    what: str
    number: int
    price: float
    why: str
    estimate: bool = False


@dataclass(frozen=True, slots=True)
class Surroundings:
    """The extras, and the price of part and extras (€); ``lacking`` names what the shelf does not have."""

    extras: tuple[Extra, ...]
    total: float
    lacking: tuple[str, ...]


def _cheapest(shelf: Sequence[Component], model: type[C], ratings: Callable[[C], Iterable[Check]]) -> C | None:
    """The cheapest of a class that holds against all its ratings; what is not known of a part does not hold."""
    judge = Judge()
    found = [
        c
        for c in bound_parts([x for x in shelf if isinstance(x, model)])
        if all(judge(x).verdict in ("holds", "tight") for x in ratings(c))
    ]
    return min(found, key=lambda c: (c.price.value or 0.0, c.name), default=None)


def surroundings(at: DriveContext, candidate: Candidate, shelf: Sequence[Component]) -> Surroundings:
    """Diodes, capacitor, heat sink, level shifter and board that the part needs in this drive, cheapest that will
    do."""
    part = candidate.part
    extras: list[Extra] = []
    lacking: list[str] = []

    def add(found: Priced | None, what: str, number: int, why: str) -> None:
        if found is None:
            lacking.append(what)
            return
        price = (found.price.value or 0.0) * number
        extras.append(Extra(found.name, number, price, why))

    drive = at.drive.id
    if part.diodes == "no":
        diode = _cheapest(
            shelf,
            Diode,
            lambda d: (
                # Whether a diode of the shelf recovers fast enough must be known before it is named.
                *_recovers(d, drive),
                *diode_ratings(
                    d,
                    bus=at.volts.any,
                    current=at.starting_current,
                    torn=candidate.circuit.anywhere.stall,
                    frequency=at.plan.frequency,
                    drive=drive,
                ),
            ),
        )
        number = SWITCH_DIODES if part.kind in ONE_SWITCH else BRIDGE_DIODES
        add(diode, "a flyback diode", number, "it has no diodes of its own")
    if at.unit.bulk_capacitance.value is None:
        ripple = capacitor_rules.ripple_current(step_factor(at), at.starting_current, capacitor_rules.WORST_DUTY)
        rating = capacitor_rules.rating_needed(at.volts.any)
        capacitor = _cheapest(
            shelf,
            Capacitor,
            lambda c: capacitor_ratings(
                ripple_limit=c.ripple_a.leaf, volts_limit=c.rated_v.leaf, ripple=ripple, rating=rating, drive=drive
            ),
        )
        add(capacitor, "a bulk capacitor", 1, "for the ripple of the PWM")
    _cool(at, candidate, shelf, add)
    if any(c.code == "driver.logic" and c.severity == "stop" for c in candidate.refusals):
        extras.append(Extra("Level shifter", 1, SHIFTER, "its inputs want more than the controller gives", True))
    if turned := turned_round(at.unit, part):
        why = f"{', '.join(turned)}: low is on, and low is rest"
        extras.append(Extra("Small transistor with three resistors", len(turned), INVERTER * len(turned), why, True))
    if part.effort == "bare chip":
        extras.append(Extra("Board and terminals", 1, SMALL_BOARD, "it is a bare chip", True))
    total = (part.price.value or 0.0) + sum(e.price for e in extras)
    return Surroundings(tuple(extras), total, tuple(lacking))


def _cool(
    at: DriveContext,
    candidate: Candidate,
    shelf: Sequence[Component],
    add: Callable[[Priced | None, str, int, str], None],
) -> None:
    """A heat sink where the heat is what stops it: beside what it has, the sink must bring the whole to what is
    needed."""
    if not any(c.code == "driver.heat" and c.severity == "stop" for c in candidate.refusals):
        return
    declared = next((x for x in limits(at, candidate) if isinstance(x, Limit) and x.code == "driver.heat"), None)
    now = candidate.part.thermal_resistance.leaf
    path = nearest_that_holds(declared, now, now.value, LEAST_PATH) if declared is not None and now.value else None
    if path is None:
        return
    wanted = Constant("path", path * SINK_SHARE, "thermal resistance", "what the sink may take of the way")
    sink = _cheapest(
        shelf,
        HeatSink,
        lambda s: [
            upper(
                "driver.sink",
                station="driver",
                title="Heat sink",
                stress=s.to_air.leaf,
                bound=wanted,
                todo="",
                drive=at.drive.id,
            )
        ],
    )
    add(sink, "a heat sink", 1, "it is too hot without")


def _recovers(diode: Diode, drive: str) -> Iterable[Check]:
    known = None if diode.recovery.value is None else True
    yield claim("stage.diode_known", station="power_stage", title="Recovery", holds=known, todo="", drive=drive)


LEAST_PATH = 0.01
"""K/W: no sink of a hobbyist is better."""
SINK_SHARE = Constant(
    "½", 0.5, "number", "common practice, no source: the sink takes half of the way, case and pad the rest"
)
