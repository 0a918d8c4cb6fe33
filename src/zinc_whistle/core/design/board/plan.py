"""A build's own board on perforated board: where each part stands, how its holes are joined, how tall it gets."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

import scipy

from ...algebra.giving_up import go_on
from ...cases.bodies import (
    LOOP_MM,
    PITCH_MM,
    SCREW_TALL_MM,
    Body,
    Spot,
    body_of,
    header,
    on_grid,
    screws,
    standing,
    tallest,
)
from ...cases.netlist import Netlist, WiredPart
from ...cases.netlist.parts import Wire
from ...cases.wires.terminal import Terminal
from ...laws.wiring import MOST_DENSITY
from ...model.perf_board import PerfBoard
from ..netlist_table import wire_current
from .place import BoardPiece, Hole, Placement, cost, narrowest, placements
from .route import BoardLink, Routing, Track, route

JOINED = 6
"""Placements that are joined, of all that are found."""
STARTS, MOVES = 3, 600
"""Beginnings of the search for places, and steps of each."""
GAPS = (1, 2)
"""Rows left free between two shelves: few first; more where wire does not pass."""
SHAPE = 1.4
"""Rows to columns of a board whose length is not given, at most."""
PLAIN_MM = 0.6
"""The usual tinned wire, and a lead cut from a part (common practice, no source)."""
TEST_LOOP = ("Gate supply", "Above the shunt", "Gate low", "Gate high", "Gate A", "Gate B", "Gate of the guard")
"""What no terminal shows and a probe is wanted at."""


HEAVY = 4.0
"""How much a step of wire with the motor's current weighs against one of a signal."""


class BoardError(ValueError):
    """There is no such board, or it has nothing to place; the message is a sentence for its reader."""


@dataclass(frozen=True, slots=True, kw_only=True)
class OnBoard:
    """A part on the board: the hole of each pin, what it covers (left, top, right, bottom, in holes), its height (mm),
    and what to look out for."""

    id: str
    name: str
    value: str
    kind: str
    pins: Mapping[str, Hole]
    box: tuple[int, int, int, int]
    height_mm: float
    off_mm: float
    drilled: tuple[str, ...]
    note: str


@dataclass(frozen=True, slots=True, kw_only=True)
class JointOnBoard:
    """A joint: its holes, the largest current in it where that is known (A), and the bare wire that carries it (mm)."""

    name: str
    holes: tuple[Hole, ...]
    current_a: float | None
    wire_mm: float


@dataclass(frozen=True, slots=True, kw_only=True)
class BoardPlan:
    """All of it. ``fits`` tells whether the board that was given is large enough; what is drawn is large enough."""

    title: str
    columns: int
    rows: int
    parts: tuple[OnBoard, ...]
    joints: tuple[JointOnBoard, ...]
    tracks: tuple[Track, ...]
    links: tuple[BoardLink, ...]
    mounting: tuple[Hole, ...]
    height_mm: float
    loop_mm: float | None
    """Once round through the large capacitor and the switches, by wire and parts; None where there is no such way."""
    fits: bool
    beside: tuple[str, ...]
    """What belongs to it and does not stand on it."""

    @property
    def width_mm(self) -> float:
        """Across."""
        return self.columns * PITCH_MM

    @property
    def length_mm(self) -> float:
        """Down."""
        return self.rows * PITCH_MM


def hole_name(hole: Hole) -> str:
    """``A1`` is the hole at the left of the top row, seen from the parts; after Z comes AA."""
    column, row = hole
    letters = ""
    column += 1
    while column:
        column, rest = divmod(column - 1, 26)
        letters = chr(ord("A") + rest) + letters
    return f"{letters}{row + 1}"


def boards(net: Netlist) -> dict[str, str]:
    """What has small parts on it that somebody solders: id and name."""
    counts: dict[str, int] = {}
    for p in net.parts.values():
        if p.on and p.pins:
            counts[net.under(p.id)] = counts.get(net.under(p.id), 0) + 1
    return {id: net.parts[id].name for id, count in counts.items() if count > 1}


def board_plan(net: Netlist, board: str, given: PerfBoard | None = None) -> BoardPlan:
    """The plan of one board of a build. BoardError where it has none."""
    if board not in boards(net):
        raise BoardError("There is nothing to solder on this board.")
    parts = standing(net, board)
    joints = _joints(net, board, {p.id for p in parts})
    bodies = {p.id: body for p in parts if (body := body_of(p)) is not None}
    pieces = [*_terminals(net, board, joints), *_pieces(parts, bodies, joints), *_loops(joints)]
    amps = _amps(net, board, joints)
    place, routing = _best(pieces, given, dict.fromkeys(amps, HEAVY))
    by_id = {p.id: p for p in parts}
    on = tuple(_on_board(place, by_id, bodies))
    plan = BoardPlan(
        title=net.parts[board].name,
        columns=place.columns,
        rows=place.rows,
        parts=on,
        joints=tuple(
            JointOnBoard(name=name, holes=tuple(holes), current_a=amps.get(name), wire_mm=_wire_mm(amps.get(name)))
            for name, holes in place.joints().items()
        ),
        tracks=routing.tracks,
        links=routing.links,
        mounting=place.corners,
        height_mm=tallest(net, board)[1],
        loop_mm=_loop_mm(on, routing),
        fits=True,
        beside=tuple(p.name for p in parts if p.id not in bodies),
    )
    return replace(plan, fits=_fits(plan, given))


def _loop_mm(parts: Sequence[OnBoard], routing: Routing) -> float | None:
    """The shortest way from the capacitor's one leg to its other, along tracks and links and through what switches."""
    can = next((p for p in parts if p.kind == "capacitor" and "+" in p.pins), None)
    if can is None:
        return None
    hops = [(x.one, x.other) for x in routing.links]
    hops += [(p.pins[a], p.pins[b]) for p in parts for a, b in _through(p)]
    hops += [(a, b) for t in routing.tracks for a, b in pairwise(t.holes)]
    number = {h: k for k, h in enumerate(sorted({h for hop in hops for h in hop}))}
    start, end = can.pins["+"], can.pins["−"]
    if start not in number or end not in number:
        return None
    way = scipy.sparse.lil_array((len(number), len(number)))
    for a, b in hops:
        way[number[a], number[b]] = PITCH_MM * math.dist(a, b)
    far = scipy.sparse.csgraph.dijkstra(way.tocsr(), directed=False, indices=number[start])[number[end]]
    return float(far) + PITCH_MM * math.dist(start, end) if math.isfinite(far) else None


def _through(p: OnBoard) -> list[tuple[str, str]]:
    """Between which pins of a part the current of a switching edge passes; none for all that only steers."""
    if {"D", "S"} <= set(p.pins):
        return [("D", "S")]
    if p.name == "Q":
        return [("C", "E")]
    if p.name == "Flyback diode":
        return [("A", "K")]
    if "sense +" in p.pins:
        return [("1", "2")]
    return [("V+", "GND")] if p.kind == "driver" else []


def _fits(plan: BoardPlan, given: PerfBoard | None) -> bool:
    if given is None:
        return True
    width, length, room = given.width.value, given.length.value, given.room.value
    over = [
        width is not None and plan.width_mm > width * 1e3,
        length is not None and plan.length_mm > length * 1e3,
        room is not None and plan.height_mm > room * 1e3,
    ]
    return not any(over)


def _widths(pieces: Sequence[BoardPiece], given: PerfBoard | None) -> list[int]:
    """Columns that are tried: those of the board that is given, or a few round a square."""
    least = narrowest(pieces)
    if given is not None and given.width.value is not None:
        return [max(least, int(given.width.value * 1e3 / PITCH_MM + 1e-9))]
    covered = sum((p.shape.box[2] - p.shape.box[0] + 2) * (p.shape.box[3] - p.shape.box[1] + 2) for p in pieces)
    square = int((covered * SHAPE) ** 0.5)
    return sorted({max(least, square), max(least, int(square * 1.25))})


def _plain(id: str, net: Netlist) -> str:
    """The part of the netlist that one of several is a copy of."""
    return id if id in net.parts else id.rpartition(" ")[0]


def _joints(net: Netlist, board: str, standing: set[str]) -> dict[Terminal, str]:
    """The joint of every pin on the board, by what is joined on the board itself; its own terminals with them."""
    plain = {_plain(id, net) for id in standing}

    def here(t: Terminal) -> bool:
        return t.block == board or t.block in plain

    wires = [w for w in net.wires if w.fitted and here(w.start) and here(w.end)]
    alone = Netlist(parts=net.parts, wires=tuple(wires), names=net.names)
    return {t: alone.net_of[t].name for t in alone.net_of}


def _terminals(net: Netlist, board: str, joints: Mapping[Terminal, str]) -> Iterator[BoardPiece]:
    """What leads outside: screws for what carries current, a plug for signals."""
    leads: dict[str, Wire] = {}
    for w in net.leads:
        ends = [t for t in (w.start, w.end) if t.block == board]
        outside = w.start.block != w.end.block and not any(t.block.startswith("capacitor ") for t in (w.start, w.end))
        if outside and w.fitted:
            for t in ends:
                had = leads.get(t.pin)
                if had is None or w.role in ("power", "motor"):
                    leads[t.pin] = w
    for edge, roles, shape, id in (
        ("top", ("power", "motor"), screws, "Screw terminals"),
        ("bottom", ("logic", "signal"), header, "Plug"),
    ):
        pins = [pin for pin, w in leads.items() if w.role in roles]
        if edge == "bottom" and pins and "GND" in leads and "GND" not in pins:
            pins.append("GND")
        joined = {pin: name for pin in pins if (name := joints.get(Terminal(board, pin)))}
        if joined:
            yield BoardPiece(id=id, shape=on_grid(shape(list(joined))), joints=joined, edge=edge)


def _pieces(
    parts: Sequence[WiredPart], bodies: Mapping[str, Body], joints: Mapping[Terminal, str]
) -> Iterator[BoardPiece]:
    for p in parts:
        if p.id not in bodies:
            continue
        names = {
            pin: name
            for pin in p.pins
            if (name := joints.get(Terminal(p.id, pin)) or joints.get(Terminal(p.id.rpartition(" ")[0], pin)))
        }
        yield BoardPiece(id=p.id, shape=on_grid(bodies[p.id]), joints=names)


def _loops(joints: Mapping[Terminal, str]) -> Iterator[BoardPiece]:
    """Loops of wire to hang a probe on: ground, and what no terminal shows."""
    for name in dict.fromkeys(joints.values()):
        if name.startswith("ground"):
            pins: dict[str, Spot] = {"1": (0.0, 0.0), "2": (2 * PITCH_MM, 0.0)}
            yield BoardPiece(id="Clip for ground", shape=on_grid(_loop(pins)), joints=dict.fromkeys(pins, name))
        elif name.startswith(TEST_LOOP):
            yield BoardPiece(id=f"Test loop, {name}", shape=on_grid(_loop({"1": (0.0, 0.0)})), joints={"1": name})


def _loop(pins: Mapping[str, Spot]) -> Body:
    return Body(pins=pins, box=(0.0, 0.0, max(x for x, _ in pins.values()), 0.0), height_mm=LOOP_MM)


def _amps(net: Netlist, board: str, joints: Mapping[Terminal, str]) -> dict[str, float]:
    """The largest current of each joint (A): that of the leads which end at it. Where nobody tells it and the motor's
    current may pass, it is the largest on the board: a thin wire there would be found out in a jam."""
    found: dict[str, float] = {}
    for w in net.leads:
        amps = wire_current(w.currents)
        for t in (w.start, w.end):
            if amps is not None and t.block == board and (name := joints.get(t)):
                found[name] = max(found.get(name, 0.0), amps)
    most = max(found.values(), default=0.0)
    for t, name in joints.items():
        if t.pin in MOTOR_PINS.get(net.parts[t.block].kind, ()) and most:
            found[name] = most
    return found


MOTOR_PINS: Mapping[str, tuple[str, ...]] = {
    "transistor": ("D", "S", "C", "E"),
    "relay": ("COM 1", "NO 1", "NC 1", "COM 2", "NO 2", "NC 2"),
    "driver": ("V+", "GND", "OUT"),
}
"""Pins through which the motor's current passes."""


def _wire_mm(amps: float | None) -> float:
    """The bare wire that carries a current, not thinner than the usual one (mm)."""
    across = 1e3 * math.sqrt(4 * (amps or 0.0) / MOST_DENSITY.value / math.pi)
    return max(PLAIN_MM, math.ceil(10 * across - 1e-9) / 10)


def _best(
    pieces: Sequence[BoardPiece], given: PerfBoard | None, weights: Mapping[str, float]
) -> tuple[Placement, Routing]:
    """The placements with the least wire, each joined; of those the one with the fewest links on the least board."""
    found: list[Placement] = []
    tried = [(columns, gap) for columns in _widths(pieces, given) for gap in GAPS]
    for k, (columns, gap) in enumerate(tried):
        go_on(k / len(tried))
        found += placements(pieces, columns, count=STARTS, moves=MOVES, gap=gap, weights=weights)
    found.sort(key=lambda p: cost(p, weights))
    joined = [(place, _routed(place, weights)) for place in found[:JOINED]]
    return min(joined, key=lambda x: (12 * len(x[1].links) + x[0].columns * x[0].rows // 20, x[1].length))


def _routed(place: Placement, weights: Mapping[str, float]) -> Routing:
    """A placement joined, the motor's current first. Tracks pass below bodies: only the holes of pins, and those round
    a screw, let nothing through."""
    joints = place.joints()
    taken = {(c + dx, r + dy) for c, r in place.corners for dx in (-1, 0, 1) for dy in (-1, 0, 1)}
    return route(joints, place.columns, place.rows, taken, weights)


def _on_board(place: Placement, by_id: Mapping[str, WiredPart], bodies: Mapping[str, Body]) -> Iterator[OnBoard]:
    for p in place.placed:
        part, body = by_id.get(p.piece.id), bodies.get(p.piece.id)
        yield OnBoard(
            id=p.piece.id,
            name=part.name if part is not None else p.piece.id,
            value=part.value if part is not None else "",
            kind=part.kind if part is not None else "terminal" if p.piece.edge else "loop",
            pins=p.holes,
            box=p.box,
            height_mm=body.height_mm if body is not None else SCREW_TALL_MM if p.piece.edge else LOOP_MM,
            off_mm=p.piece.shape.off_mm,
            drilled=p.piece.shape.drilled,
            note=body.note if body is not None else "",
        )
