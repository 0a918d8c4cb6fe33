"""What each input style's inputs make the bridge do: the truth tables of common driver parts."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache


@dataclass(frozen=True, slots=True)
class LogicRow:
    """One combination: levels of the inputs in order, both bridge outputs, and what the motor does.

    ``action`` names the row that a program takes to drive forward or back (or both), to brake or to let go (off).
    """

    inputs: tuple[str, ...]
    output_1: str
    output_2: str
    motor: str
    action: str = ""


@dataclass(frozen=True, slots=True)
class TruthTable:
    """A truth table: the names of the inputs, what each must be able to do, and the rows."""

    names: tuple[str, ...]
    needs: tuple[str, ...]
    rows: tuple[LogicRow, ...]
    switched: tuple[str, ...] = ()
    """Inputs that would carry the pulses, where there are none: on only while the motor is meant to run."""


def _bridge(off: str) -> dict[str, tuple[LogicRow, ...]]:
    slow = off != "fast"
    rest = "coasts" if off == "fast" else "brakes between pulses"
    return {
        "two inputs": (
            LogicRow(("PWM", "0"), "PWM", "0", f"runs forward, {rest}", "forward"),
            LogicRow(("0", "PWM"), "0", "PWM", f"runs back, {rest}", "back"),
            LogicRow(("0", "0"), "open", "open", "coasts", "off"),
            LogicRow(("1", "1"), "0", "0", "brakes", "brake"),
        ),
        "pwm and direction": (
            LogicRow(("PWM", "1"), "PWM", "0", f"runs forward, {rest}", "forward"),
            LogicRow(("PWM", "0"), "0", "PWM", f"runs back, {rest}", "back"),
            LogicRow(("0", "any"), "0", "0", "brakes" if slow else "coasts", "off"),
        ),
        "pwm, direction, brake": (
            LogicRow(("PWM", "1", "0"), "PWM", "0", f"runs forward, {rest}", "forward"),
            LogicRow(("PWM", "0", "0"), "0", "PWM", f"runs back, {rest}", "back"),
            LogicRow(("0", "any", "0"), "open", "open", "coasts", "off"),
            LogicRow(("any", "any", "1"), "0", "0", "brakes", "brake"),
        ),
        "two inputs and enable": (
            LogicRow(("1", "0", "PWM"), "PWM", "0", "runs forward, coasts between pulses", "forward"),
            LogicRow(("0", "1", "PWM"), "0", "PWM", "runs back, coasts between pulses", "back"),
            LogicRow(("0", "0", "1"), "0", "0", "brakes", "brake"),
            LogicRow(("any", "any", "0"), "open", "open", "coasts", "off"),
        ),
    }


_ONE_WAY = {
    "coil and pwm": TruthTable(
        ("COIL 1", "COIL 2", "PWM"),
        ("digital", "digital", "pwm"),
        (
            LogicRow(("1", "0", "PWM"), "supply", "switched", "runs forward", "forward"),
            LogicRow(("0", "1", "PWM"), "switched", "supply", "runs back", "back"),
            LogicRow(("0", "0", "0"), "supply", "supply", "brakes: both ends on one rail", "brake"),
            LogicRow(("change", "change", "1"), "—", "—", "forbidden: never change over under current"),
        ),
    ),
    "two gates": TruthTable(
        ("HIGH", "LOW"),
        ("pwm", "pwm"),
        (
            LogicRow(("PWM", "not PWM"), "PWM", "0", "runs one way, brakes between pulses", "forward"),
            LogicRow(
                ("PWM", "0"), "PWM", "0", "runs one way, the lower diode carries between pulses", "forward, diode"
            ),
            LogicRow(("0", "1"), "0", "0", "brakes", "brake"),
            LogicRow(("0", "0"), "open", "0", "coasts", "off"),
            LogicRow(("1", "1"), "—", "—", "forbidden: both on short the supply"),
        ),
    ),
    "crossed coil and pwm": TruthTable(
        ("COIL", "PWM"),
        ("digital", "pwm"),
        (
            LogicRow(("1", "PWM"), "supply", "switched", "runs forward", "forward"),
            LogicRow(("0", "PWM"), "switched", "supply", "runs back: at rest the contacts stand that way", "back"),
            LogicRow(("0", "0"), "switched", "supply", "coasts through its diode: only the transistor stops it", "off"),
            LogicRow(("change", "1"), "—", "—", "forbidden: never change over under current"),
        ),
    ),
    "two coils": TruthTable(
        ("COIL 1", "COIL 2"),
        ("digital", "digital"),
        (
            LogicRow(("1", "0"), "supply", "0", "runs forward", "forward"),
            LogicRow(("0", "1"), "0", "supply", "runs back", "back"),
            LogicRow(("0", "0"), "0", "0", "brakes: both ends on one rail", "brake"),
            LogicRow(("1", "1"), "supply", "supply", "brakes: both ends on the other rail"),
        ),
    ),
    "one coil": TruthTable(
        ("COIL",),
        ("digital",),
        (
            LogicRow(("1",), "supply", "0", "runs one way", "forward"),
            LogicRow(("0",), "open", "0", "coasts", "off"),
        ),
    ),
    "by hand": TruthTable(
        (),
        (),
        (
            LogicRow((), "supply", "0", "held over: runs one way", "forward"),
            LogicRow((), "0", "supply", "held over the other way: runs back, where it has two poles", "back"),
            LogicRow((), "open", "open", "let go: coasts", "off"),
        ),
    ),
    "one input": TruthTable(
        ("PWM",),
        ("pwm",),
        (
            LogicRow(("PWM",), "supply", "switched", "runs one way", "forward"),
            LogicRow(("0",), "supply", "open", "coasts through its diode", "off"),
        ),
    ),
}
_NAMES = {
    "two inputs": (("IN 1", "IN 2"), ("pwm", "pwm")),
    "pwm and direction": (("PWM", "DIR"), ("pwm", "digital")),
    "pwm, direction, brake": (("PWM", "DIR", "BRAKE"), ("pwm", "digital", "digital")),
    "two inputs and enable": (("IN 1", "IN 2", "ENABLE"), ("digital", "digital", "pwm")),
}


def truth_table(input_style: str, decay: str, pulsed: bool = True) -> TruthTable:
    """The table for an input style; in locked anti-phase one signal swings both outputs. Without pulses what would
    carry them is on or off."""
    if not pulsed:
        return _unpulsed(truth_table(input_style, "slow"))
    if input_style in _ONE_WAY:
        return _ONE_WAY[input_style]
    names, needs = _NAMES[input_style]
    if decay == "locked anti-phase" and input_style in ("pwm and direction", "pwm, direction, brake"):
        level = ("1", "PWM", "0")[: len(names)]
        rows = (
            LogicRow(level, "PWM", "not PWM", "above ½ forward, below ½ back, at ½ holds still", "forward and back"),
            LogicRow(("0", "any", "0")[: len(names)], "open", "open", "rests", "off"),
            *([LogicRow(("any", "any", "1"), "0", "0", "brakes", "brake")] if len(names) == 3 else []),
        )
        return TruthTable(names, ("digital", "pwm", "digital")[: len(names)], rows)
    return TruthTable(names, needs, _bridge(decay)[input_style])


@cache
def _levels(input_style: str) -> tuple[tuple[tuple[int | None, ...], str], ...]:
    """The rows that have an effect of their own, with the level of each input; None is any."""
    found = []
    for row in truth_table(input_style, "slow").rows:
        effect = row.action.split(" and ")[0].split(",")[0] or ("forbidden" if "forbidden" in row.motor else "")
        if effect and "change" not in row.inputs:
            levels = tuple(None if x == "any" else int(x in ("1", "PWM")) for x in row.inputs)
            found.append((levels, effect))
    return tuple(found)


def effect_of(input_style: str, levels: Sequence[int]) -> str:
    """What a driver of that style does with these levels on its inputs: forward, back, brake, off or forbidden."""
    for asked, effect in _levels(input_style):
        if all(want in (None, level) for want, level in zip(asked, levels, strict=True)):
            return effect
    return "brake" if all(levels) else "off"


def _unpulsed(table: TruthTable) -> TruthTable:
    """The same driver switched on and off: no pulses, so nothing happens between them."""
    levels = {"PWM": "1", "not PWM": "0"}
    outputs = {"PWM": "supply", "not PWM": "0"}
    rows = tuple(
        LogicRow(
            tuple(levels.get(x, x) for x in row.inputs),
            outputs.get(row.output_1, row.output_1),
            outputs.get(row.output_2, row.output_2),
            row.motor.split(" between pulses")[0].rsplit(",", 1)[0] if "between pulses" in row.motor else row.motor,
            row.action,
        )
        for row in table.rows
        if row.action != "forward, diode"
    )
    carried = tuple(n for n, need in zip(table.names, table.needs, strict=True) if need == "pwm")
    return TruthTable(table.names, tuple("digital" for _ in table.needs), rows, carried)
