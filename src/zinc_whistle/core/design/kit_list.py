"""A kit's list of parts, as it lies in the bag, made into the parts that the order of work is made of."""

from __future__ import annotations

import re
from collections.abc import Mapping

from ..algebra.quantities import QuantityError, parse, phrase
from ..cases.netlist import Netlist, WiredPart
from ..cases.netlist.parts import Kind

LETTERS: Mapping[str, tuple[Kind, str]] = {
    "LED": ("lamp", "Lamp"),
    "IC": ("gate driver", "Chip"),
    "ZD": ("zener", "Zener diode"),
    "SW": ("contact", "Button"),
    "R": ("resistor", "Resistor"),
    "C": ("capacitor", "Capacitor"),
    "D": ("diode", "Diode"),
    "Q": ("transistor", "Transistor"),
    "T": ("transistor", "Transistor"),
    "U": ("gate driver", "Chip"),
    "K": ("relay", "Relay"),
    "S": ("contact", "Button"),
    "P": ("knob", "Potentiometer"),
}
"""What the letters before a number stand for (IEC 81346-2 and common practice; from memory), the longest first."""
MARKS: Mapping[str, dict[str, str]] = {
    "lamp": {"A": "long lead", "K": "short lead, flat side of the rim"},
    "diode": {"K": "the band"},
    "zener": {"K": "the band"},
    "gate driver": {"1": "beside the notch or dot"},
    "transistor": {"": "its flat side, or the tab, as the print shows"},
}
ELECTROLYTIC_F = 1e-6
"""From here on a capacitor of a kit is most likely an electrolytic, which has a way round (common practice)."""
MOST_LINES, MOST_PARTS = 200, 400
_NAME = re.compile(r"([A-Z]+)\s*(\d+)")


class KitError(ValueError):
    """A line that cannot be read, with a sentence."""


def parts_of(text: str) -> list[WiredPart]:
    """The parts of a list: a line for each value, ``R1, R2: 10k``. KitError names the line."""
    lines = [x.strip() for x in text.splitlines() if x.strip()]
    if not lines:
        raise KitError("Give the list of parts: a line for each value, as R1, R2: 10k.")
    if len(lines) > MOST_LINES:
        raise KitError(f"A list may have {MOST_LINES} lines; this has {len(lines)}.")
    found: dict[str, WiredPart] = {}
    for line in lines:
        names, _, value = line.partition(":")
        for name in (n.strip().upper() for n in names.split(",") if n.strip()):
            if name in found:
                raise KitError(f"“{line}”: {name} stands in the list twice.")
            found[name] = _part(name, value.strip(), line)
    if len(found) > MOST_PARTS:
        raise KitError(f"A list may have {MOST_PARTS} parts; this has {len(found)}.")
    return list(found.values())


def _part(name: str, value: str, line: str) -> WiredPart:
    match = _NAME.fullmatch(name)
    letters = match[1] if match else ""
    if letters not in LETTERS:
        known = ", ".join(LETTERS)
        raise KitError(f"“{line}”: “{name}” is no part: write a letter and a number, as R1 ({known}).")
    kind, word = LETTERS[letters]
    ohms: tuple[tuple[str, str, float], ...] = ()
    marks = dict(MARKS.get(kind, {}))
    if kind == "resistor":
        size = _size(value, "resistance", "Ω", line)
        ohms, value = (("1", "2", size),), phrase(size, "resistance")
    elif kind == "capacitor":
        farad = _size(value, "capacitance", "F", line)
        value = phrase(farad, "capacitance")
        if farad >= ELECTROLYTIC_F:
            marks = {"−": "the stripe on its can", "+": "its longer lead"}
    return WiredPart(
        id=f"kit/{name}", kind=kind, name=f"{name}, {word.lower()}", value=value, on="kit", marks=marks, ohms=ohms
    )


def _size(value: str, kind: str, unit: str, line: str) -> float:
    try:
        size = parse(value, kind, unit).value
    except QuantityError as error:
        raise KitError(f"“{line}”: {error}") from error
    if not size > 0:
        raise KitError(f"“{line}”: a value above zero is needed.")
    return size


def kit(text: str) -> Netlist:
    """A kit's parts on its board; what its copper joins is not told. KitError with a sentence for a wrong line."""
    board = WiredPart(id="kit", kind="panel", name="The kit's board")
    return Netlist(parts={board.id: board, **{p.id: p for p in parts_of(text)}}, wires=())
