"""The netlist of a whole build, put together from the wires of its drives: shared ones stand once."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace

from ...model.build import Build
from ...model.supply import Source
from ..wires.connection import Connection, rail_of
from ..wires.rows import serial_pins, supply_path
from ..wires.terminal import GROUND, Role, Terminal
from . import blocks
from .inner import Inner
from .parts import Netlist, Wire, WiredPart

STRIPED = 6
SIGNAL_COLOURS = ("blue", "violet", "grey", "white", "pink", "turquoise")
"""Of signal wires, in turn, so that neighbours differ; from the seventh on with a stripe (IEC 60757)."""
CHANNEL_FREE = ("V+", "GND", "logic +")
"""Terminals that all channels of a driver share."""


@dataclass(frozen=True, slots=True, kw_only=True)
class DriveHarness:
    """What a drive brings to the netlist: its wires, the parts that they lead to by block, and the small parts there.

    ``channel`` tells the terminals of a driver's further channels apart."""

    drive: str
    connections: Sequence[Connection]
    parts: Mapping[str, WiredPart]
    inner: Sequence[Inner] = ()
    channel: int = 1


class _Draft:
    """The netlist while it is put together."""

    def __init__(self, build: Build) -> None:
        self.build, self.made = build, set(build.made)
        self.sources = {f"source {s.id}": s for s in build.supply.sources}
        self.parts: dict[str, WiredPart] = {}
        self.wires: dict[str, Wire] = {}

    def part(self, part: WiredPart) -> None:
        """A part, or what another drive knows of it besides."""
        had = self.parts.get(part.id)
        if had is None:
            self.parts[part.id] = part
            return
        self.parts[part.id] = replace(
            had,
            pins=tuple(dict.fromkeys((*had.pins, *part.pins))),
            drives=tuple(dict.fromkeys((*had.drives, *part.drives))),
        )

    def wire(self, wire: Wire) -> None:
        """A wire; one between the same pins is the same wire, and carries what both drives ask of it."""
        for end in (wire.start, wire.end):
            part = self.parts[end.block]
            if end.pin not in part.pins:
                self.parts[end.block] = replace(part, pins=(*part.pins, end.pin))
        had = self.wires.get(wire.id)
        if had is not None:
            wire = replace(
                had,
                currents=(*had.currents, *wire.currents),
                own=(*had.own, *wire.own),
                fitted=had.fitted and wire.fitted,
            )
        self.wires[wire.id] = wire

    def lead(
        self,
        start: Terminal,
        end: Terminal,
        name: str,
        colour: str,
        role: Role,
        like: Connection | None,
        short: bool = False,
    ) -> None:
        """A wire that no drive tells of by itself; it is as long and thick as another."""
        id = wire_id(start, end)
        run = like.run if like is not None else None
        self.wire(
            Wire(
                id=id,
                start=start,
                end=end,
                name=name,
                colour=colour,
                role=role,
                run=run,
                short=short,
                made=id in self.made,
            )
        )

    def feed(self, source: Source, like: Connection | None) -> Terminal:
        """Where a source's plus is taken from: behind its fuse and switch, where it has them."""
        at, said = Terminal(f"source {source.id}", "+"), "Supply"
        self.part(blocks.source_part(source))
        for _, block, after in supply_path(source):
            part = {"fuse": blocks.fuse_part, "switch": blocks.switch_part}[block](source)
            self.part(part)
            self.lead(at, Terminal(part.id, "in"), said, "red", "power", like, short=True)
            at, said = Terminal(part.id, "out"), after
        return at

    def end(self, harness: DriveHarness, t: Terminal, like: Connection) -> Terminal:
        """A drive's terminal as one of the build: the right part, and of a source what stands behind its fuse."""
        part = harness.parts[t.block]
        self.part(replace(part, drives=tuple(dict.fromkeys((*part.drives, harness.drive)))))
        pin = t.pin
        if part.kind == "regulator":
            pin = {"+": "out", "−": "GND"}.get(pin, pin)
        behind = t.block != "source" or part.kind != "source" or "driver" not in harness.parts
        if part.id in self.sources and pin == "+" and behind:
            return self.feed(self.sources[part.id], like)
        if t.block == "driver" and harness.channel > 1 and pin not in CHANNEL_FREE:
            pin = f"{pin}, channel {harness.channel}"
        return Terminal(part.id, pin)


def wire_id(start: Terminal, end: Terminal) -> str:
    """The id of a wire: by its ends, whichever drives it serves."""
    return f"{start.block}:{start.pin} > {end.block}:{end.pin}"


def netlist(build: Build, harnesses: Iterable[DriveHarness]) -> Netlist:
    """All parts and wires of a build."""
    draft = _Draft(build)
    told = list(harnesses)
    for harness in told:
        for c in harness.connections:
            start, end = draft.end(harness, c.start, c), draft.end(harness, c.end, c)
            id = wire_id(start, end)
            draft.wire(
                Wire(
                    id=id,
                    start=start,
                    end=end,
                    name=c.signal,
                    colour=c.colour,
                    role=c.role,
                    run=c.run,
                    short=c.short,
                    currents=() if c.current is None else (c.current,),
                    drop=c.drop,
                    own=((harness.drive, c.id),),
                    fitted=c.made,
                    made=id in draft.made,
                )
            )
        for inner in harness.inner:
            _mount(draft, inner)
    _regulators(draft, told)
    _chargers(draft, told)
    _radio(draft, told)
    names = {d.id: d.name or d.id for d in build.drives} if len(build.drives) > 1 else {}
    wires = _as_a_star(list(draft.wires.values()))
    return Netlist(parts=draft.parts, wires=tuple(_coloured(wires)), names=names)


def _as_a_star(wires: list[Wire]) -> list[Wire]:
    """Grounds without a loop: of the leads that join grounds already joined, none is made.

    The thick ones of the drivers come first, then the tie from a driver to its controller, then the rest: so no thin
    lead lies beside a thick one and takes a share of the motor's return. Of two ways for a current each takes its part.
    """
    ground = [w for w in wires if w.name == GROUND and not w.inside and w.fitted]
    ties = {w.id for w in ground if any(row == TIE for _, row in w.own)}
    roots: dict[Terminal, Terminal] = {}

    def root(t: Terminal) -> Terminal:
        while t in roots:
            t = roots[t]
        return t

    needless = set()
    for w in sorted(ground, key=lambda w: (w.role != "power", w.id not in ties)):
        one, other = root(w.start), root(w.end)
        if one == other:
            needless.add(w.id)
        else:
            roots[other] = one
    return [w for w in wires if w.id not in needless]


TIE = "ground"
"""The row of a drive that joins its driver's ground, or its servo rail's, to the controller's."""


def _mount(draft: _Draft, inner: Inner) -> None:
    """Small parts onto what they stand on, where the drive has that."""
    if inner.on not in draft.parts:
        return
    for part in inner.parts:
        draft.part(part)
    for one, other, carries in inner.joints:
        id = wire_id(one, other)
        role: Role = "power" if carries in ("Supply", GROUND) else "logic"
        draft.wire(Wire(id=id, start=one, end=other, name=carries, colour="", role=role, inside=True))


def _regulators(draft: _Draft, told: Sequence[DriveHarness]) -> None:
    """What feeds the regulators that no drive's rows lead to: a servo's rail, a device's."""
    by_id = {f"regulator {r.id}": r for r in draft.build.supply.regulators}
    like = next((c for h in told for c in h.connections if c.role == "power"), None)
    waiting = [p.id for p in draft.parts.values() if p.id in by_id]
    while waiting:
        id = waiting.pop(0)
        given, ends = by_id[id], {w.end for w in draft.wires.values()} | {w.start for w in draft.wires.values()}
        before = by_id.get(f"regulator {given.source}")
        source = next((s for s in draft.build.supply.sources if s.id == given.source), None)
        if Terminal(id, "in") in ends or (before is None and source is None):
            continue
        if before is not None:
            part = blocks.regulator_part(before)
            if part.id not in draft.parts:
                waiting.append(part.id)
            draft.part(part)
            plus, minus = Terminal(part.id, "out"), Terminal(part.id, "GND")
        elif source is not None:
            plus, minus = draft.feed(source, like), Terminal(f"source {source.id}", "−")
        name = given.name or "the regulator"
        draft.lead(plus, Terminal(id, "in"), f"To {name}", "orange", "power", like)
        draft.lead(minus, Terminal(id, "GND"), GROUND, "black", "power", like)


def _chargers(draft: _Draft, told: Sequence[DriveHarness]) -> None:
    """What charges a source while it runs, at its own terminals: it sees the pack, not the fuse of the drives."""
    like = next((c for h in told for c in h.connections if c.role == "power"), None)
    for id, source in draft.sources.items():
        if id not in draft.parts:
            continue
        for there, key, name in (
            (source.charger == "yes", "charger", "Charger"),
            (source.solar_w.value is not None, "solar", "Solar panel with its regulator"),
        ):
            if not there:
                continue
            marks = {"+": "plus", "−": "minus"}
            marks = {"+": "plus", "−": "minus"}
            part = WiredPart(id=f"{key} {source.id}", kind="source", name=name, pins=("+", "−"), marks=marks)
            draft.part(part)
            draft.lead(Terminal(part.id, "+"), Terminal(id, "+"), "Charging", "orange", "power", like)
            draft.lead(Terminal(part.id, "−"), Terminal(id, "−"), GROUND, "black", "power", like)


def _radio(draft: _Draft, told: Sequence[DriveHarness]) -> None:
    """The module of the link, at the controller that hears the handsets."""
    build = draft.build
    id = f"controller {build.radio.board}"
    controller = next((c for c in build.controllers if c.id == build.radio.board), None)
    if not build.handsets or controller is None:
        return
    draft.part(blocks.controller_part(controller))
    draft.part(WiredPart(id="radio", kind="radio", name="Radio module", pins=("supply", "GND", "data out", "data in")))
    like = next((c for h in told if h.parts.get("controller", None) for c in h.connections if c.role == "signal"), None)
    hears, tells = serial_pins(controller)
    rail = rail_of(controller.logic_v.value)
    draft.lead(Terminal(id, rail), Terminal("radio", "supply"), "Radio's supply", "brown", "logic", like)
    draft.lead(Terminal("radio", "GND"), Terminal(id, "GND"), GROUND, "black", "logic", like)
    draft.lead(Terminal("radio", "data out"), Terminal(id, hears), "Radio, heard", "white", "signal", like)
    draft.lead(Terminal(id, tells), Terminal("radio", "data in"), "Radio, told", "grey", "signal", like)


def _coloured(wires: Iterable[Wire]) -> Iterable[Wire]:
    """Signal wires in turn by colour, controller by controller."""
    counts: dict[str, int] = {}
    for w in wires:
        ends = (w.start.block, w.end.block)
        at = next((b for b in ends if b.startswith("controller ")), ends[0])
        if w.role != "signal" or w.inside:
            yield w
            continue
        place = counts.get(at, 0)
        counts[at] = place + 1
        base = SIGNAL_COLOURS[place % STRIPED]
        stripe = SIGNAL_COLOURS[(place + place // STRIPED) % STRIPED]
        yield replace(w, colour=base if place < STRIPED else f"{base}, {stripe} stripe")
