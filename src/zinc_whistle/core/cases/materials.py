"""What a stage is made of: every line with its number and price, the board's share, and the sum for one piece."""

from __future__ import annotations

import csv
import io
from dataclasses import dataclass

from ..algebra.cells import guarded
from ..algebra.nodes import Constant, Figure, Leaf, Node
from ..algebra.quantities import phrase
from ..laws import stage as stage_laws
from ..model.component import Component
from ..model.stage import StageSpec, slots
from ..model.timer_circuit import TimerCircuit
from ..model.transistors import GateDriver


@dataclass(frozen=True, slots=True)
class Line:
    """One line of the list: what, where from, how many, and what they cost."""

    slot: str
    what: str
    part: str
    number: int
    each: Leaf
    price: Figure


@dataclass(frozen=True, slots=True)
class Materials:
    """The lines, and the price of one piece with its share of boards and delivery."""

    lines: tuple[Line, ...]
    price: Figure


WHAT = {
    "switch": "Switch",
    "upper": "Upper switch",
    "gate_driver": "Gate driver",
    "relay": "Relay",
    "diode": "Flyback diode",
    "heat_sink": "Heat sink",
    "fuse": "Fuse",
    "guard": "Guard transistor",
}


def places_of(circuit: str) -> dict[str, int]:
    """How many places a circuit has for each of its slots (paralleled switches are counted apart)."""
    switches = {"half bridge": 2, "full bridge": 4, "p/n bridge": 2, "modules": 2}.get(circuit, 1)
    return {
        "switch": switches,
        "upper": 2,
        "relay": 1 if circuit == "crossed relay" else 2,
        "diode": 1,
        "heat_sink": 1,
        "fuse": 1,
        "guard": 1,
    }


def drivers_needed(stage: StageSpec, driver: GateDriver, parallel: int) -> int:
    """Gate-driver packages: each output serves one place, or one transistor where each has a channel of its own."""
    channels = max(int(driver.channels.value or 1), 1)
    places = places_of(stage.circuit)["switch"] + (2 if stage.circuit == "p/n bridge" else 0)
    wanted = places * (parallel if stage.gates == "channel" else 1)
    return -(-wanted // channels)


def _channels(stage: StageSpec) -> list[Leaf]:
    return [stage.gate_driver.channels.leaf] if stage.gate_driver is not None else []


def because_of(stage: StageSpec, part: Component) -> list[Leaf]:
    """What decides how many of a part there are."""
    named = [stage.chosen(n) for n in ("circuit", "gates", "driven_by")]
    return [*named, stage.parallel.leaf, *(_channels(stage) if isinstance(part, GateDriver) else [])]


def _timer(circuit: TimerCircuit) -> Line:
    """The parts of a timer circuit, as one line: small things that are bought together."""
    one = Constant("1", 1.0, "number")
    values = ((circuit.pot, "resistance"), (circuit.end_resistor, "resistance"), (circuit.capacitor, "capacitance"))
    pot, ends, farad = (phrase(g.value, kind) if g.value is not None else "not known yet" for g, kind in values)
    return Line(
        slot="timer",
        what="Timer circuit",
        part=f"timer, potentiometer {pot}, capacitor {farad}, two resistors {ends}, two small diodes",
        number=1,
        each=circuit.price.leaf,
        price=stage_laws.line_price(circuit.price.leaf, one),
    )


def materials(stage: StageSpec, timer: TimerCircuit | None = None) -> Materials:
    """The bill of materials, with the timer circuit that tells it, if one does. Places that are empty are left out."""
    counts = places_of(stage.circuit)
    parallel = int(stage.parallel.value or 1)
    lines = []
    for slot in slots(stage):
        part = getattr(stage, slot)
        if part is None:
            continue
        number = drivers_needed(stage, part, parallel) if slot == "gate_driver" else counts[slot]
        if slot in ("switch", "upper"):
            number *= parallel if part.kind == "mosfet" else 1
        price = stage_laws.line_price(
            part.price.leaf, Constant(str(number), float(number), "number"), because=because_of(stage, part)
        )
        lines.append(Line(slot=slot, what=WHAT[slot], part=part.name, number=number, each=part.price.leaf, price=price))
    if timer is not None:
        lines.append(_timer(timer))
    prices: list[Node] = [x.price for x in lines] or [Constant("nothing yet", 0.0, "price")]
    because = [stage.chosen("circuit"), stage.chosen("driven_by"), *_channels(stage)]
    total = stage_laws.price_of(prices, stage.board_price.leaf, stage.delivery.leaf, stage.pieces.leaf, because=because)
    return Materials(tuple(lines), total)


def to_csv(found: Materials, stage: StageSpec) -> str:
    """The list as CSV: what, part, number for one piece, price each, price; then boards and the sum, in euros."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["what", "part", "number", "each_eur", "price_eur"])
    for line in found.lines:
        writer.writerow(
            [guarded(line.what), guarded(line.part), line.number, _money(line.each.value), _money(line.price.value)]
        )
    pieces = stage.pieces.value or 1.0
    share = ((stage.board_price.value or 0.0) + (stage.delivery.value or 0.0)) / pieces
    writer.writerow(["Board and delivery, share of one piece", "", 1, "", _money(share)])
    writer.writerow(["One piece", "", "", "", _money(found.price.value)])
    whole = None if found.price.value is None else found.price.value * pieces
    writer.writerow([f"All {pieces:.0f} pieces", "", "", "", _money(whole)])
    return out.getvalue()


def _money(value: float | None) -> str:
    return "" if value is None else f"{value:.2f}"
