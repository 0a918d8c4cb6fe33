"""What the whole build takes: every part of its netlist, and its wire by the metre."""

from __future__ import annotations

import csv
import io
import math
from collections.abc import Iterable
from dataclasses import dataclass

from ..algebra.cells import guarded
from ..cases.netlist import Netlist, WiredPart
from ..model.build import Build

SPARES = {"fuse": 2, "resistor": 1, "lamp": 1, "diode": 1, "zener": 1}
"""So many more of what is cheap and is lost, burnt or put in the wrong way (common practice, no source)."""
SLACK = 1.2
"""Wire is bought a fifth longer than it lies (common practice, no source)."""
JOINTS = ("line", "link", "panel")
"""What is only a place where wires meet."""


@dataclass(frozen=True, slots=True)
class BillLine:
    """One line: what, its value, how many are needed and how many more to have, the price of each (€, None where nobody
    gave one), and where it goes. ``unit`` is m for wire."""

    what: str
    value: str
    number: float
    spares: int
    each: float | None
    where: tuple[str, ...]
    unit: str = ""

    @property
    def price(self) -> float | None:
        """Of what is needed, without spares."""
        return None if self.each is None else self.each * self.number


@dataclass(frozen=True, slots=True)
class Bill:
    """All lines, what the priced ones come to (€), boards and delivery with it, and how many lines have no price."""

    lines: tuple[BillLine, ...]
    boards: float
    pieces: int

    @property
    def known(self) -> float:
        return sum(x.price for x in self.lines if x.price is not None) + self.boards

    @property
    def unpriced(self) -> int:
        return sum(1 for x in self.lines if x.price is None)


WORDS = {
    "fuse": "Fuse with its holder",
    "resistor": "Resistor",
    "capacitor": "Capacitor",
    "diode": "Diode",
    "zener": "Zener diode",
    "lamp": "LED",
    "contact": "Button or switch",
    "transistor": "Transistor",
    "switch": "Main switch",
    "knob": "Potentiometer",
}


def bill(build: Build, net: Netlist) -> Bill:
    """The bill of a build. Nothing that is inside a bought board, and no part that nobody has chosen."""
    groups: dict[tuple[str, str, float | None], list[WiredPart]] = {}
    boards_of = {p.on for p in net.parts.values() if p.on}
    for part in net.parts.values():
        # The board of a stage of one's own is told by its parts and by what boards cost.
        if part.kind in JOINTS or (part.kind == "driver" and part.id in boards_of):
            continue
        what = WORDS.get(part.kind, part.name)
        value = part.value if part.kind in WORDS else ""
        if part.kind in WORDS and not value and part.kind not in ("contact", "lamp"):
            value = "not known yet"
        groups.setdefault((what, value, part.price_known), []).append(part)
    lines = [
        BillLine(
            what=what,
            value=value,
            number=sum(p.each for p in parts),
            spares=SPARES.get(parts[0].kind, 0),
            each=price,
            where=_where(net, what, parts),
        )
        for (what, value, price), parts in groups.items()
    ]
    stages = [u.stage for u in build.units if u.made_of == "stage"]
    pieces = max((int(s.pieces.value or 1) for s in stages), default=1)
    boards = sum(((s.board_price.value or 0.0) + (s.delivery.value or 0.0)) / (s.pieces.value or 1.0) for s in stages)
    return Bill((*lines, *_wire(net)), boards, pieces)


def _where(net: Netlist, what: str, parts: Iterable[WiredPart]) -> tuple[str, ...]:
    """Where the parts of a line go, board by board; nothing for what stands by itself and is named already."""
    found: dict[str, list[str]] = {}
    for part in parts:
        outer = net.parts[net.under(part.id)]
        found.setdefault("" if outer.id == part.id else outer.name, []).append(part.name)
    alone = [name for name in found.pop("", []) if name != what]
    return (*alone, *(f"{on}: {', '.join(dict.fromkeys(names))}" for on, names in found.items()))


def _wire(net: Netlist) -> Iterable[BillLine]:
    """Wire by gauge and colour, with what is lost at its ends."""
    lengths: dict[tuple[float, str], float] = {}
    for w in net.leads:
        if not w.fitted or w.length_m is None or w.gauge is None:
            continue
        key = w.gauge, w.colour.partition(",")[0]
        lengths[key] = lengths.get(key, 0.0) + w.length_m
    for (gauge, colour), metres in sorted(lengths.items()):
        whole = math.ceil(metres * SLACK * 10) / 10
        yield BillLine(f"Wire, {colour}", f"AWG {gauge:.0f}", whole, 0, None, (), "m")


def to_csv(found: Bill) -> str:
    """The bill as CSV, in euros; an unknown price stays empty."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["what", "value", "number", "unit", "spares", "each_eur", "price_eur", "where"])
    for x in found.lines:
        where = "; ".join(x.where)
        row = [guarded(x.what), guarded(x.value), f"{x.number:g}", x.unit, x.spares, _money(x.each), _money(x.price)]
        writer.writerow([*row, guarded(where)])
    if found.boards:
        writer.writerow(["Boards and delivery, share of one piece", "", 1, "", 0, "", _money(found.boards), ""])
    writer.writerow(["All that has a price", "", "", "", "", "", _money(found.known), ""])
    return out.getvalue()


def _money(value: float | None) -> str:
    return "" if value is None else f"{value:.2f}"
