"""A board's lines: which act when they are low, what it makes of lines meant to act when high, and which are tied."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass

from ..model.board import levels_of
from ..model.driver import DriverPart, DriverUnit
from .truth import effect_of, truth_table

DRIVES = ("forward", "back")


def acting_low(part: DriverPart) -> tuple[str, ...]:
    """The part's inputs that act when they are low, in the order of its truth table. ValueError for one that it has
    not."""
    told = [x.strip().upper() for x in part.active_low.split(",") if x.strip()]
    names = truth_table(part.input_style, "slow").names
    unknown = [x for x in told if x not in names]
    if unknown:
        has = f"has {', '.join(names)}" if names else "has none"
        raise ValueError(f"“{unknown[0]}” is no input of a driver of this kind: it {has}.")
    return tuple(n for n in names if n in told)


def tied_lines(part: DriverPart) -> dict[str, int]:
    """The part's lines that stand at one level for good. ValueError for one that cannot be read, or that is told."""
    found = levels_of(part.tied)
    told = truth_table(part.input_style, "slow").names
    both = [x for x in found if x.upper() in told]
    if both:
        raise ValueError(f"“{both[0]}” is told what to do: it cannot be tied as well.")
    return found


def turned_round(unit: DriverUnit, part: DriverPart | None) -> tuple[str, ...]:
    """The inputs whose lines go through a transistor that turns them round."""
    if part is None or unit.inverters != "yes":
        return ()
    try:
        return acting_low(part)
    except ValueError:
        return ()


@dataclass(frozen=True, slots=True)
class Misread:
    """What comes of lines that a board reads the other way round: a sentence, and whether the motor runs untold or the
    supply is shorted."""

    says: str
    dangerous: bool


def misread(input_style: str, inverted: Collection[str]) -> Misread | None:
    """What a driver does that reads some of its lines the other way round. None where it does all as it is told.

    Every line rests low: pins before a program has started, pull-downs, a timer without its supply.
    """
    table = truth_table(input_style, "slow")

    def done(levels: tuple[int, ...]) -> str:
        return effect_of(
            input_style, [level ^ (name in inverted) for name, level in zip(table.names, levels, strict=True)]
        )

    def phases(inputs: tuple[str, ...]) -> tuple[str, str]:
        """While the pulse is high, and while it is low."""
        high, low = (tuple(int(x in ("1", pulse)) for x in inputs) for pulse in ("PWM", "not PWM"))
        return done(high), done(low)

    rest = done(tuple(0 for _ in table.names))
    pulsed = {a: phases(r.inputs) for r in table.rows for a in r.action.split(" and ") if a in DRIVES}
    if rest == "forbidden" or any("forbidden" in x for x in pulsed.values()):
        return Misread("the supply would be shorted", True)
    if rest in DRIVES and rest != effect_of(input_style, [0] * len(table.names)):
        return Misread("the motor would run from the moment of switching on", True)
    still = {r.action: done(tuple(int(x == "1") for x in r.inputs)) for r in table.rows if r.action in ("off", "brake")}
    if any(effect in DRIVES for effect in still.values()):
        return Misread("the motor would run when it is told to stop", True)
    if any(low in DRIVES and high not in DRIVES for high, low in pulsed.values()):
        return Misread("the less is commanded, the faster it would run", True)
    if any(high not in DRIVES for high, _ in pulsed.values()):
        return Misread("the motor would not run", False)
    if any(high != way for way, (high, _) in pulsed.items()):
        return Misread("the motor would run the other way", False)
    if any(effect != action for action, effect in still.items()):
        return Misread("the motor would brake where it is meant to coast", False)
    return None
