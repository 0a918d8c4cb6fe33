"""What a netlist is made of: parts with their pins, wires between pins, and the nets that the wires make."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Literal

from ...algebra.nodes import Figure, Node
from ...model.given import Given
from ...model.wiring import WireRun
from ..wires.terminal import GROUND, Role, Terminal

Kind = Literal[
    "source",
    "fuse",
    "switch",
    "regulator",
    "controller",
    "driver",
    "gate driver",
    "transistor",
    "relay",
    "motor",
    "servo",
    "load",
    "encoder",
    "panel",
    "device",
    "radio",
    "capacitor",
    "resistor",
    "diode",
    "zener",
    "lamp",
    "contact",
    "knob",
    "timer",
    "heat sink",
    "line",
    "link",
]


SHORT_M = 0.1
"""A lead from a source to the fuse beside it (common practice, no source)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class WiredPart:
    """One thing with pins. ``on`` is the part that it is mounted on or in, if one; ``marks`` tell, pin by pin, how a
    part is turned round the right way; ``each`` is how many of it stand side by side."""

    id: str
    kind: Kind
    name: str
    value: str = ""
    pins: tuple[str, ...] = ()
    on: str = ""
    drives: tuple[str, ...] = ()
    marks: Mapping[str, str] = field(default_factory=dict)
    price: Given | None = None
    each: int = 1
    altered: tuple[str, ...] = ()
    in_order: bool = False
    """Whether its pins stand in the order of its legs; – and a number for one that stays free."""
    ohms: tuple[tuple[str, str, float], ...] = ()
    """Pairs of pins and what an ohmmeter reads between them at rest (Ω); none where it reads none or is not known."""

    @property
    def price_known(self) -> float | None:
        """Its price in €; None where nobody gave one: nothing is not the same as free."""
        if self.price is None or self.price.value is None or (self.price.origin == "default" and not self.price.value):
            return None
        return self.price.value


@dataclass(frozen=True, slots=True, kw_only=True)
class Wire:
    """A connection of two pins. ``own`` are the drives that it serves, each with its name there; ``inside`` has no lead
    of its own, ``short`` one is a hand's width; ``fitted`` is False where the builder leaves it out; ``made`` where it
    is ticked."""

    id: str
    start: Terminal
    end: Terminal
    name: str
    colour: str
    role: Role
    run: WireRun | None = None
    short: bool = False
    currents: tuple[Node, ...] = ()
    drop: Figure | None = None
    own: tuple[tuple[str, str], ...] = ()
    inside: bool = False
    fitted: bool = True
    made: bool = False

    @property
    def gauge(self) -> float | None:
        """Its size (AWG); None for what has no lead of its own."""
        return self.run.gauge.value if self.run is not None else None

    @property
    def length_m(self) -> float | None:
        """How long it lies; None for what has no lead, or is not known."""
        if self.short and self.run is not None:
            return SHORT_M
        return self.run.length.value if self.run is not None else None


@dataclass(frozen=True, slots=True, kw_only=True)
class Net:
    """Pins that are one point electrically; ``ground`` is that of a supply."""

    id: str
    name: str
    role: Role
    pins: tuple[Terminal, ...]
    ground: bool = False


@dataclass(frozen=True, kw_only=True)
class Netlist:
    """Everything of a build that is joined by wire, and how."""

    parts: Mapping[str, WiredPart]
    wires: tuple[Wire, ...]
    names: Mapping[str, str] = field(default_factory=dict)
    """What the drives are called, where there is more than one."""

    @cached_property
    def nets(self) -> tuple[Net, ...]:
        """The nets of what is fitted, supplies and grounds first; pins that nothing is joined to are in none."""
        return tuple(_nets(self.names, [w for w in self.wires if w.fitted]))

    @cached_property
    def net_of(self) -> Mapping[Terminal, Net]:
        """The net of every pin that is in one."""
        return {pin: net for net in self.nets for pin in net.pins}

    @property
    def unused(self) -> tuple[Terminal, ...]:
        """Pins to which nothing is joined."""
        return tuple(t for p in self.parts.values() for n in p.pins if (t := Terminal(p.id, n)) not in self.net_of)

    @property
    def leads(self) -> tuple[Wire, ...]:
        """The wires that somebody has to make: not what is inside a part."""
        return tuple(w for w in self.wires if not w.inside)

    def under(self, part: str) -> str:
        """The outermost part that one is mounted on: itself, where it stands alone."""
        while self.parts[part].on:
            part = self.parts[part].on
        return part


_RANK: Mapping[Role, int] = {"power": 0, "motor": 1, "logic": 2, "signal": 3}


def _nets(names: Mapping[str, str], wires: Iterable[Wire]) -> list[Net]:
    roots: dict[Terminal, Terminal] = {}

    def root(t: Terminal) -> Terminal:
        roots.setdefault(t, t)
        while roots[t] != t:
            roots[t] = roots[roots[t]]
            t = roots[t]
        return t

    used = list(wires)
    for w in used:
        a, b = root(w.start), root(w.end)
        if a != b:
            roots[b] = a
    groups: dict[Terminal, list[Terminal]] = {}
    for t in roots:
        groups.setdefault(root(t), []).append(t)
    carried: dict[Terminal, list[Wire]] = {}
    for w in used:
        carried.setdefault(root(w.start), []).append(w)
    found, taken = [], set[str]()
    for key, pins in groups.items():
        through = sorted(carried[key], key=lambda w: (w.inside, _RANK[w.role]))
        ground = any(w.name == GROUND for w in through)
        name = _free(_named(through, ground, names), taken)
        found.append(Net(id=name, name=name, role=through[0].role, pins=tuple(pins), ground=ground))
    return sorted(found, key=lambda n: (not n.ground, _RANK[n.role], n.name))


def _named(through: list[Wire], ground: bool, names: Mapping[str, str]) -> str:
    """What a net is called: ground, or what its foremost wire carries; a motor's or a signal with its drive."""
    first = through[0]
    if ground:
        return "ground"
    drives = [d for w in through for d, _ in w.own]
    own = names.get(drives[0], "") if len(set(drives)) == 1 else ""
    if first.role == "motor":
        return f"{first.name}, {own}" if own else first.name
    # Behind the comma a signal's name tells what stands in its way: that is a part of its own here.
    said = first.name.partition(",")[0] if first.role == "signal" else first.name
    return f"{said}, {own}" if own and first.role == "signal" else said


def _free(name: str, taken: set[str]) -> str:
    number, tried = 1, name
    while tried in taken:
        number += 1
        tried = f"{name} {number}"
    taken.add(tried)
    return tried
