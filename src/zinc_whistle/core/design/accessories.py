"""What a driver part needs around it, from the shelf, and what it then costs altogether."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import TypeVar

from ..algebra.nodes import Constant
from ..cases.operating import DriveContext
from ..laws import capacitor as capacitor_rules
from ..model.components import Capacitor, Component, Diode, HeatSink, Priced
from ..model.driver import ONE_SWITCH
from ..stations.driver.candidates import Candidate
from ..stations.power_stage.compute import ONCE, TWICE
from ..stations.power_stage.path_limits import RECTIFIER, SLOW

BRIDGE_DIODES, SWITCH_DIODES = 4, 1
SMALL_BOARD = 3.0
"""€, a piece of ready-made board with terminals for a bare chip: an estimate (common practice, no source)."""
SHIFTER = 1.5
"""€, a small board that shifts logic levels: an estimate (common practice, no source)."""
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


def _cheapest(shelf: Sequence[Component], model: type[C], holds: Callable[[C], bool]) -> C | None:
    found = [c for c in shelf if isinstance(c, model) and holds(c)]
    return min(found, key=lambda c: (c.price.value or 0.0, c.name), default=None)


def _at_least(given: object, wanted: float) -> bool:
    value = getattr(given, "value", None)
    return value is not None and value >= wanted


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

    bus, current, frequency = at.volts.full.value, at.starting_current.value, at.plan.frequency.value
    if part.diodes == "no" and bus is not None and current is not None:
        fast = frequency is None or frequency > SLOW
        wanted_v = float(capacitor_rules.rating_needed.bare(bus))
        diode = _cheapest(
            shelf,
            Diode,
            lambda d: (
                _at_least(d.reverse_v, wanted_v)
                and _at_least(d.forward_a, current)
                and (not fast or (d.recovery.value is not None and d.recovery.value < RECTIFIER))
            ),
        )
        number = SWITCH_DIODES if part.kind in ONE_SWITCH else BRIDGE_DIODES
        add(diode, "a flyback diode", number, "it has no diodes of its own")
    if at.unit.bulk_capacitance.value is None and None not in (bus, current, frequency):
        assert bus is not None and current is not None and frequency is not None
        factor = TWICE if at.drive.signals.decay != "slow" else ONCE
        ripple = float(capacitor_rules.ripple_current.bare(factor, current, capacitor_rules.WORST_DUTY))
        bulk_v = float(capacitor_rules.rating_needed.bare(bus))
        add(
            _cheapest(shelf, Capacitor, lambda c: _at_least(c.rated_v, bulk_v) and _at_least(c.ripple_a, ripple)),
            "a bulk capacitor",
            1,
            "for the ripple of the PWM",
        )
    _cool(at, candidate, shelf, add)
    if any(c.code == "driver.logic" and c.severity == "stop" for c in candidate.refusals):
        extras.append(Extra("Level shifter", 1, SHIFTER, "its inputs want more than the controller gives", True))
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
    limit, air, heat = (
        n.value for n in (candidate.part.junction_limit.leaf, at.build.ambient.hot.leaf, candidate.heat.total)
    )
    if limit is None or air is None or not heat:
        return
    wanted = (limit - air) / heat * SINK_SHARE
    add(
        _cheapest(shelf, HeatSink, lambda s: s.to_air.value is not None and s.to_air.value <= wanted),
        "a heat sink",
        1,
        "it is too hot without",
    )


SINK_SHARE = Constant(
    "½", 0.5, "number", "common practice, no source: the sink takes half of the way, case and pad the rest"
)
