"""What the wiring sheet shows of the netlist: parts, wires, pins, and the lists that are worked off by hand."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

from ..core.algebra.quantities import phrase
from ..core.assess import Assessment, DriveAssessment
from ..core.cases.netlist import Netlist, Wire, WiredPart
from ..core.cases.pins import Alternative, alternatives
from ..core.cases.wires.terminal import Role, Terminal
from ..core.design.assembly import AssemblyStep, assembly, tools
from ..core.design.bill import Bill, bill
from ..core.design.board import boards
from ..core.design.continuity import Probe, probes
from ..core.design.netlist_table import wire_current
from ..core.laws.wiring import wire_diameter
from .circuit_view import CircuitView, circuit_view
from .views import text_of


@dataclass(frozen=True, slots=True, kw_only=True)
class PinOfPart:
    """A terminal of a part, and the net that it is in (empty: nothing is joined to it)."""

    name: str
    net: str
    row: str = ""
    """The row of the board that it stands in, where that is known."""


@dataclass(frozen=True, slots=True, kw_only=True)
class PartView:
    """A part that stands by itself, as it is drawn."""

    id: str
    kind: str
    title: str
    pins: list[PinOfPart]
    altered: list[str]
    mine: bool
    """Whether the drive in hand has to do with it."""


@dataclass(frozen=True, slots=True, kw_only=True)
class ConnectionView:
    """One wire of the build."""

    id: str
    start_part: str
    start_name: str
    start_pin: str
    end_part: str
    end_name: str
    end_pin: str
    signal: str
    net: str
    colour: str
    gauge: str
    length: str
    current: str
    drop: str
    role: Role
    made: bool
    fitted: bool
    mine: bool
    thick_mm: float
    """How thick its copper is; 0 where it has no lead or that is not known."""
    ends: str
    """How it ends: fixed, plug or breadboard; empty where it has no lead of its own."""
    turns: bool
    """Whether its connector can be put in the wrong way round, as far as that was told."""
    laid: str
    """How an encoder's lead lies: twisted or shielded, where it was told."""
    own: str
    """Its name in the drive in hand, by which the builder leaves it out."""


@dataclass(frozen=True, slots=True, kw_only=True)
class HarnessView:
    """What is drawn of a build's wiring: its parts and leads, those of the drive in hand told apart."""

    parts: list[PartView]
    connections: list[ConnectionView]


@dataclass(frozen=True, slots=True, kw_only=True)
class PinView:
    """A signal and the controller pin that carries it."""

    signal: str
    needs: str
    pin: str
    pin_id: str
    program: str
    fixed: bool
    refusal: str
    choices: list[str] = field(default_factory=list)
    choice_labels: list[str] = field(default_factory=list)


@dataclass(frozen=True, slots=True, kw_only=True)
class ProbeView:
    """Two places to touch with a meter, and what it must say."""

    id: str
    one: str
    other: str
    must: str
    says: str
    done: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class ItemView:
    """One thing to put in, and what tells it apart and the right way round."""

    what: str
    mark: str
    bands: list[str]
    fine: list[str]
    back: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ItemsOn:
    """Things that go on one board (empty: what stands by itself)."""

    on: str
    items: list[ItemView]


@dataclass(frozen=True, slots=True, kw_only=True)
class AssemblyView:
    """One step of the work."""

    id: str
    title: str
    why: str
    groups: list[ItemsOn]
    look: list[str]
    done: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class BillLineView:
    """One line of the bill."""

    what: str
    value: str
    number: str
    spares: str
    each: str
    price: str
    where: str


@dataclass(frozen=True, slots=True, kw_only=True)
class BoardName:
    """A board of one's own."""

    id: str
    name: str


@dataclass(frozen=True, slots=True, kw_only=True)
class WiringPicture:
    """The sheet of the whole build, with the drive in hand told apart."""

    title: str
    issue: str
    harness: HarnessView
    pins: list[PinView]
    unused: list[str]
    probes: list[ProbeView]
    steps: list[AssemblyView]
    tools: list[str]
    bill: list[BillLineView]
    bill_sum: str
    circuit: CircuitView | None
    """The schematic of a stage of one's own."""
    boards: list[BoardName]
    """What somebody solders: each has a plan."""
    drive_path: str
    made: int
    to_make: int
    state: str
    """How far the work is, in a sentence for the log."""
    kind: Literal["wiring"] = "wiring"


def harness_view(all: Assessment, done: DriveAssessment) -> HarnessView:
    """The harness of a whole build, seen from one of its drives."""
    net, id = done.wiring.netlist, done.drive.id
    touched = {net.under(t.block) for w in net.wires if _mine(w, id) for t in (w.start, w.end)}
    rows = {p.label: p.place.rstrip("0123456789") for c in all.build.controllers for p in c.pins}
    return HarnessView(
        parts=[_part(net, p, p.id in touched, rows) for p in net.parts.values() if not p.on],
        connections=[_wire(net, w, id, _laid(all, net, w)) for w in net.leads],
    )


def wiring_picture(all: Assessment, done: DriveAssessment) -> WiringPicture:
    """The wiring of a whole build, seen from one of its drives."""
    build, net = all.build, done.wiring.netlist
    ticked, leads, found = set(build.made), net.leads, bill(build, net)
    return WiringPicture(
        title=build.name,
        issue=build.issue,
        harness=harness_view(all, done),
        pins=_pins(all, done),
        unused=[f"{net.parts[t.block].name}, {t.pin}" for t in net.unused if not net.parts[t.block].on],
        probes=[_probe(net, p, ticked) for p in probes(net)],
        steps=steps_of(net, ticked),
        tools=list(tools(net)),
        bill=_bill(found),
        bill_sum=_sum(found),
        circuit=_schematic(done),
        boards=[BoardName(id=id, name=name) for id, name in boards(net).items()],
        drive_path=done.drive.wiring.path,
        made=sum(1 for w in leads if w.fitted and w.made),
        to_make=sum(1 for w in leads if w.fitted),
        state=_state(net, ticked),
    )


def _schematic(done: DriveAssessment) -> CircuitView | None:
    own = done.driven
    return circuit_view(own) if own is not None and own.discrete is not None and own.chosen is not None else None


def _state(net: Netlist, ticked: set[str]) -> str:
    """How far the work is: wires, steps and probes, and what is still to do of the steps."""
    leads, steps, measured = [w.id for w in net.leads if w.fitted], assembly(net), [p.id for p in probes(net)]
    open_ = [s.title for s in steps if s.id not in ticked]
    counts = [f"{sum(1 for x in of if x in ticked)} of {len(of)}" for of in (leads, [s.id for s in steps], measured)]
    said = f"Made: {counts[0]} wires, {counts[1]} steps of the assembly, {counts[2]} probes of the continuity."
    return f"{said} Still to do: {', '.join(open_)}." if open_ else f"{said} All steps are done."


def _mine(w: Wire, drive: str) -> bool:
    return any(d == drive for d, _ in w.own)


def _part(net: Netlist, part: WiredPart, mine: bool, rows: dict[str, str]) -> PartView:
    leads = {t for w in net.leads for t in (w.start, w.end)}
    pins = [
        PinOfPart(
            name=name,
            net=joined.id if (joined := net.net_of.get(t)) is not None else "",
            row=rows.get(name, "") if part.kind == "controller" else "",
        )
        for name in part.pins
        if (t := Terminal(part.id, name)) in leads
    ]
    return PartView(id=part.id, kind=part.kind, title=part.name, pins=pins, altered=list(part.altered), mine=mine)


def _laid(all: Assessment, net: Netlist, w: Wire) -> str:
    """How a lead lies: that is asked of an encoder's leads only."""
    if not any(net.parts[t.block].kind == "encoder" for t in (w.start, w.end)):
        return ""
    told = {d.wiring.laid for d in all.build.drives if _mine(w, d.id)}
    return next((x for x in ("shielded", "twisted") if x in told), "")


def _wire(net: Netlist, w: Wire, drive: str, laid: str) -> ConnectionView:
    gauge, length = w.gauge, w.length_m
    amps = wire_current(w.currents)
    joined = net.net_of.get(w.start)
    return ConnectionView(
        id=w.id,
        start_part=w.start.block,
        start_name=net.parts[w.start.block].name,
        start_pin=w.start.pin,
        end_part=w.end.block,
        end_name=net.parts[w.end.block].name,
        end_pin=w.end.pin,
        signal=w.name,
        net=joined.id if joined is not None else "",
        colour=w.colour,
        gauge="" if gauge is None else f"AWG {gauge:.0f}",
        length="short" if w.short else "" if length is None else phrase(length, "length", "m"),
        current="" if amps is None else phrase(amps, "current"),
        drop=text_of(w.drop) if w.drop is not None else "",
        role=w.role,
        made=w.made,
        fitted=w.fitted,
        mine=_mine(w, drive),
        thick_mm=0.0 if gauge is None else round(float(wire_diameter.bare(gauge)) * 1e3, 2),
        ends=w.run.ends if w.run is not None else "",
        turns=w.run is not None and w.run.ends == "plug" and w.run.keyed == "no",
        laid=laid,
        own=next((name for d, name in w.own if d == drive), ""),
    )


def _pins(all: Assessment, done: DriveAssessment) -> list[PinView]:
    controller = done.scene.controller
    carried = {
        u.pin.id: u.signal
        for d in all.drives.values()
        if d.scene.controller.id == controller.id
        for u in d.wiring.pins
        if u.pin is not None
    }
    views = []
    for use in done.wiring.pins:
        able = alternatives(controller, use, carried)
        views.append(
            PinView(
                signal=use.signal,
                needs=use.needs,
                pin=use.pin.label if use.pin else "",
                pin_id=use.pin.id if use.pin else "",
                program=use.pin.program if use.pin else "",
                fixed=use.fixed,
                refusal=use.refusal,
                choices=[x.pin.id for x in able],
                choice_labels=[_choice(x) for x in able],
            )
        )
    return views


def _choice(x: Alternative) -> str:
    told = f"{x.pin.label} (program {x.pin.program})"
    return f"{told}, carries {x.carries}" if x.carries else told


def _probe(net: Netlist, p: Probe, ticked: set[str]) -> ProbeView:
    one, other = (f"{net.parts[t.block].name}, {t.pin}" for t in (p.one, p.other))
    return ProbeView(id=p.id, one=one, other=other, must=p.must, says=p.says, done=p.id in ticked)


def steps_of(net: Netlist, ticked: set[str]) -> list[AssemblyView]:
    """The order of work of a netlist, as far as it is ticked."""
    return [_step(s, ticked) for s in assembly(net)]


def _step(s: AssemblyStep, ticked: set[str]) -> AssemblyView:
    groups: dict[str, list[ItemView]] = {}
    for x in s.items:
        view = ItemView(what=x.what, mark=x.mark, bands=list(x.bands), fine=list(x.fine), back=x.back)
        groups.setdefault(x.on, []).append(view)
    on = [ItemsOn(on=name, items=items) for name, items in groups.items()]
    return AssemblyView(id=s.id, title=s.title, why=s.why, groups=on, look=list(s.look), done=s.id in ticked)


def _euros(value: float | None) -> str:
    return "not known" if value is None else phrase(value, "price", "€")


def _bill(found: Bill) -> list[BillLineView]:
    lines = [
        BillLineView(
            what=x.what,
            value=x.value,
            number=f"{x.number:g} {x.unit}".strip(),
            spares=f"+ {x.spares}" if x.spares else "",
            each=_euros(x.each),
            price=_euros(x.price),
            where="; ".join(x.where),
        )
        for x in found.lines
    ]
    if found.boards:
        lines.append(
            BillLineView(
                what="Boards and delivery",
                value=f"share of one of {found.pieces}",
                number="1",
                spares="",
                each=_euros(found.boards),
                price=_euros(found.boards),
                where="",
            )
        )
    return lines


def _sum(found: Bill) -> str:
    unknown = f"; {found.unpriced} lines have no price yet" if found.unpriced else ""
    return f"All that has a price, without spares: {_euros(found.known)}{unknown}."
