"""In which order a build is put together, what each part's mark is, and what is looked at before power comes."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field

from ..algebra.bands import bands_of, value_of
from ..algebra.quantities import phrase
from ..cases.netlist import Netlist, WiredPart

LOW_FIRST = (
    ("resistor", "Resistors, lying flat", "The lowest first: the board lies flat on its parts while you solder."),
    ("diode", "Diodes", "Low, and each has a way round: look at its band before the first joint."),
    ("zener", "Zener diodes", "As diodes; their band is the end that is at the higher volts."),
    ("gate driver", "Sockets of the chips", "A socket for what may fail; two unused corner pins hold it."),
    ("lamp", "Lamps", "Short lead to the lower side; a drop of tape holds them upright."),
    ("capacitor", "Capacitors", "The small ones first; an electrolytic the wrong way round bursts."),
    ("contact", "Buttons and switches", "Plastic melts: one joint, then a pause."),
    ("transistor", "Transistors", "Tall, and sensitive to a charged hand: touch ground first."),
    ("relay", "Relays", "Tall and heavy: prop the board."),
    ("knob", "Potentiometers", "Last of the board: they are in the way of all else."),
)
"""Kinds of small parts from low to tall, with the reason."""
TOOLS = (
    "Soldering iron, a clean tip at about 350 °C, rosin-core wire",
    "Side cutters, eye protection for cut leads",
    "Meter that beeps",
    "Tape and something to prop the board",
    "Heat-shrink sleeve",
    "Desoldering braid",
)


@dataclass(frozen=True, slots=True)
class WorkItem:
    """One thing to put in: what, on which board, and what tells it apart and the right way round.

    ``bands`` are a resistor's colours with 5 %, ``fine`` those with 1 %; ``back`` is what the latter read from the
    wrong end, where that is a value too."""

    what: str
    on: str = ""
    mark: str = ""
    bands: tuple[str, ...] = ()
    fine: tuple[str, ...] = ()
    back: str = ""


@dataclass(frozen=True, slots=True)
class AssemblyStep:
    """One step of the work: what, why now, what goes in, and what to look at before the next."""

    id: str
    title: str
    why: str
    items: tuple[WorkItem, ...] = ()
    look: tuple[str, ...] = field(default=())


LOOK = (
    "Every joint is wet: it shines and rises to the lead.",
    "No bridge to the next pad: hold it against the light.",
    "Parts sit flush, leads are trimmed.",
)


def assembly(net: Netlist) -> tuple[AssemblyStep, ...]:
    """All steps, in order. What a build does not have has no step."""
    return tuple(_steps(net))


def _steps(net: Netlist) -> Iterator[AssemblyStep]:
    small = [p for p in net.parts.values() if p.on]
    boards = list(dict.fromkeys(net.parts[net.under(p.id)].name for p in small))
    if small:
        yield AssemblyStep(
            "step:bare",
            "Look at the bare board",
            "A fault in the copper is found now, or never.",
            tuple(WorkItem(b) for b in boards),
            ("No track is cut or joined to its neighbour.", "Supply and ground do not beep."),
        )
    for kind, title, why in LOW_FIRST:
        parts = [p for p in small if p.kind == kind]
        if not parts:
            continue
        look = LOOK if kind in ("resistor", "gate driver", "transistor") else LOOK[:1]
        items = tuple(_item(net, p) for p in parts)
        yield AssemblyStep(f"step:{kind}", title, why, items, look)
    yield from _wiring(net)


def _item(net: Netlist, part: WiredPart) -> WorkItem:
    times = f", {part.each} of them" if part.each > 1 else ""
    value = f", {part.value}" if part.value else ""
    outer = net.parts[net.under(part.id)]
    mark = "; ".join(f"{pin} is {said}" if pin else said for pin, said in part.marks.items())
    bands, fine = _bands(part, 0.05, 2), _bands(part, 0.01, 3)
    return WorkItem(
        what=f"{part.name}{value}{times}",
        on=outer.name if outer.id != part.id else "",
        mark=mark,
        bands=bands,
        fine=fine,
        back=_backwards(fine),
    )


def _bands(part: WiredPart, tolerance: float, digits: int) -> tuple[str, ...]:
    """A resistor's colours; none for other parts, and for what bands cannot show."""
    try:
        return bands_of(part.ohms[0][2], tolerance, digits) if part.kind == "resistor" and part.ohms else ()
    except ValueError:
        return ()


def _backwards(bands: Sequence[str]) -> str:
    """What bands read as from the other end; empty where that is no resistor, or the same one."""
    try:
        ohms, _ = value_of([*reversed(bands)])
    except ValueError:
        return ""
    return phrase(ohms, "resistance") if tuple(reversed(bands)) != tuple(bands) else ""


ROUND = (
    (
        "ground",
        "Ground, as a star",
        "Everything else is measured against it.",
        "Each ground wire runs to the star point.",
    ),
    ("power", "Supply wires, the source not yet", "Thick wire first: it decides where the rest can lie.", ""),
    ("logic", "Logic supply", "So that the controller can be tried alone.", "The controller's pin shows its volts."),
    ("signal", "Signals and sensors", "Thin wire last, beside ground and away from the motor's leads.", ""),
    ("motor", "The motor", "It comes last: all before it can be tried without it moving.", ""),
)


def _wiring(net: Netlist) -> Iterator[AssemblyStep]:
    """The leads, group by group: ground and power first, the motor and the source last."""
    leads = [w for w in net.leads if w.fitted]
    for key, title, why, after in ROUND:
        own = [w for w in leads if (w.name == "ground") == (key == "ground") and (key == "ground" or w.role == key)]
        if not own:
            continue
        items = tuple(
            WorkItem(
                f"{net.parts[w.start.block].name} {w.start.pin} to {net.parts[w.end.block].name} {w.end.pin}",
                mark=w.colour,
            )
            for w in own
        )
        look = tuple(x for x in (after, "Pull at each lead: it holds.") if x)
        yield AssemblyStep(f"step:wire:{key}", title, why, items, look)
    sources = [p for p in net.parts.values() if p.kind == "source"]
    if sources:
        fused = any(p.kind == "fuse" for p in net.parts.values())
        yield AssemblyStep(
            "step:source",
            "The source, its fuse taken out" if fused else "The source, behind a current limit: it has no fuse yet",
            "A wrong wire shows itself now without a flame.",
            tuple(_item(net, p) for p in sources),
            (
                "Every pair under Continuity that must be silent is silent.",
                "Volts at the driver's terminals, with a limited supply first.",
            ),
        )


def tools(net: Netlist) -> tuple[str, ...]:
    """Tools and consumables that the work needs."""
    kinds = {p.kind for p in net.parts.values()}
    gauges = sorted({w.gauge for w in net.leads if w.gauge is not None})
    found = list(TOOLS)
    if gauges:
        found.append("Wire stripper for AWG " + ", ".join(f"{g:.0f}" for g in gauges))
    if "heat sink" in kinds:
        found.append("Heat-conducting pad or paste, and an insulated screw if tabs differ in volts")
    if "driver" in kinds or "gate driver" in kinds:
        found.append("A grounded place to touch before chips are handled")
    return tuple(found)
