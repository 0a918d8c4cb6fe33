"""A motor from its data sheet: every way to each constant that the figures allow, and where the ways disagree."""

from __future__ import annotations

from dataclasses import dataclass

from ..algebra.nodes import Figure, Leaf, presence
from ..algebra.rules import Rule
from ..laws import motor as rules
from ..laws.nothing import NO_VOLTS
from ..model.motor import MotorSheet

WORTH_ASKING = 0.05
"""Two ways that differ by more than this say that a figure is wrong, or holds for another condition."""


@dataclass(frozen=True, slots=True)
class Way:
    """One way to a constant: which figures of the sheet it rests on, and how far it lies from the trusted one."""

    key: str
    words: str
    figure: Figure
    ratio: Figure | None = None


@dataclass(frozen=True, slots=True)
class FromSheet:
    """The trusted constants, and every way to resistance and constant (the trusted first)."""

    resistance: Figure
    constant: Figure
    no_load_a: Figure
    resistance_ways: tuple[Way, ...]
    constant_ways: tuple[Way, ...]


def solve(sheet: MotorSheet) -> FromSheet:
    """Constants from any sufficient subset; figures without value, which say what to give, from a smaller one."""
    because = [sheet.chosen("trust_resistance"), sheet.chosen("trust_constant"), *_given(sheet)]
    drop = sheet.brush_drop.leaf
    volts = rules.volts_past_brushes(sheet.voltage.leaf, drop)
    speed, no_load = sheet.no_load_speed.leaf, sheet.no_load_a.leaf
    stall, torque, kv = sheet.stall_a.leaf, sheet.stall_torque.leaf, sheet.speed_constant.leaf
    by_kv = rules.constant_from_kv(kv)
    resistances = _trusted(
        [
            Way("given", "winding resistance", rules.resistance_given(sheet.resistance.leaf, because=because)),
            Way("stall", "voltage over stall current", rules.resistance_from_stall(volts, stall, because=because)),
            Way(
                "torque",
                "stall torque and no-load speed",
                rules.resistance_from_torque(volts, torque, speed, no_load, because=because),
            ),
        ],
        sheet.trust_resistance,
    )
    resistance = resistances[0].figure
    stalled = stall if stall.value is not None else rules.stall_current(volts, NO_VOLTS, resistance)
    currents = [
        rules.no_load_given(no_load, because=because),
        rules.no_load_from_torque(stalled, torque, by_kv, because=because),
        rules.no_load_from_power(volts, torque, speed, stalled, because=because),
    ]
    idle = next((c for c in currents if c.value is not None), currents[0])
    constants = _trusted(
        [
            Way(
                "speed",
                "no-load speed",
                rules.motor_constant(volts, idle, resistance, NO_VOLTS, speed, because=because),
            ),
            Way(
                "torque",
                "stall torque over current",
                rules.constant_from_torque(torque, stalled, idle, because=because),
            ),
            Way("kv", "speed constant", rules.constant_from_kv(kv, because=because)),
        ],
        sheet.trust_constant,
    )
    return FromSheet(
        resistance,
        constants[0].figure,
        idle,
        _compared(resistances, rules.resistance_ratio),
        _compared(constants, rules.constant_ratio),
    )


def _given(sheet: MotorSheet) -> list[Leaf]:
    """Which figures the sheet has at all decides which way is taken."""
    return [
        presence(getattr(sheet, name).leaf)
        for name in (
            "voltage",
            "no_load_speed",
            "no_load_a",
            "stall_a",
            "stall_torque",
            "speed_constant",
            "resistance",
        )
    ]


def _trusted(ways: list[Way], wanted: str) -> list[Way]:
    """The ways that have a value, the trusted one first; all of them when none has."""
    known = [w for w in ways if w.figure.value is not None and w.figure.value > 0]
    known.sort(key=lambda w: w.key != wanted)
    return known or ways


def _compared(ways: list[Way], ratio: Rule) -> tuple[Way, ...]:
    first, *rest = ways
    if first.figure.value is None:
        return ()
    return (first, *(Way(w.key, w.words, w.figure, ratio(w.figure, first.figure)) for w in rest))
