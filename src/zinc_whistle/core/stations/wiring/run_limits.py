"""The two power runs of a drive by their heat and their contacts, and how its encoder's leads lie."""

from __future__ import annotations

from collections.abc import Iterator

from ...algebra.limits import Check, claim, upper
from ...algebra.nodes import Figure, Leaf, Node
from ...algebra.units import KINDS
from ...cases import heating
from ...cases.circuit import DriveCircuit
from ...cases.operating import DriveContext, WireFigures
from ...laws import bundles
from ...laws import wiring as rules
from ...model.wiring import WireRun
from .compute import STATION

LONG_LEADS_M = 0.3
"""From here on an encoder's leads beside a motor's are asked about (common practice, no source)."""


def checks(at: DriveContext, circuit: DriveCircuit) -> Iterator[Check]:
    """What a drive's wires bear."""
    pulsed, wiring = circuit.anywhere.duty, at.drive.wiring
    runs = (
        ("supply", "source to driver", at.unit.supply_run, at.supply_wire),
        ("motor", "driver to motor", wiring.motor_run, at.motor_wire),
    )
    for code, words, run, wire in runs:
        current = heating.any_heating(at, heating.of_wire(wire), pulsed)
        yield _warm(at, run, wire, current, code=code, words=words)
        yield from contact(run, current, code=code, words=words, drive=at.drive.id)
    yield from _leads(at)


def _warm(at: DriveContext, run: WireRun, wire: WireFigures, current: Node, *, code: str, words: str) -> Check:
    """The current that warms a wire against what it may carry in its bundle, in the hottest air."""
    return upper(
        f"wiring.{code}_heat",
        station=STATION,
        title=f"Heat of the wire, {words}",
        stress=current,
        bound=carries(at, run, wire),
        todo="Take thicker wire, part the bundle, or an insulation that bears more. Local codes may ask for more.",
        drive=at.drive.id,
        where=f"{run.path}.gauge",
    )


def carries(at: DriveContext, run: WireRun, wire: WireFigures) -> Figure:
    """What a run may carry for good, in its bundle and in the air round the drive."""
    return rules.may_carry(
        wire.area,
        bundled(run),
        bundles.INSULATION[run.insulation],
        at.air,
        because=[run.chosen("insulation"), run.together.leaf],
    )


def bundled(run: WireRun) -> Node:
    """The factor of a run's bundle."""
    count = run.together.value
    if count is None:
        return Leaf(run.together.leaf.id, "loaded wires in its bundle", KINDS["fraction"], None)
    return bundles.together(int(count))


def contact(run: WireRun, current: Node, *, code: str, words: str, drive: str) -> Iterator[Check]:
    """The contacts at the ends of a run; ends that are soldered or under screws bear what the wire does."""
    if run.ends == "fixed":
        return
    board = run.ends == "breadboard"
    if not board:
        yield claim(
            f"wiring.{code}_keyed",
            station=STATION,
            title=f"Connector goes in one way only, {words}",
            holds=None if not run.keyed else run.keyed == "yes",
            todo="Turned round it puts plus on minus: take a keyed one, or two kinds that do not fit one another.",
            drive=drive,
            over="warn",
            where=f"{run.path}.keyed",
            unknown="Not known yet: choose whether the connector can be turned round.",
        )
    bound: Node = rules.BREADBOARD if board else run.contact_a.leaf
    yield upper(
        f"wiring.{code}_contact",
        station=STATION,
        title=f"Contact at its end, {words}",
        stress=current,
        bound=bound,
        todo="A spring of thin metal warms, softens and opens: solder it, or put it under a screw."
        if board
        else "Take a connector that bears more, or two contacts side by side.",
        drive=drive,
        where=f"{run.path}.ends" if board else f"{run.path}.contact_a",
        because=[run.chosen("ends")],
    )


def _leads(at: DriveContext) -> Iterator[Check]:
    wiring, length = at.drive.wiring, at.drive.wiring.signal_run.length.value
    if not at.drive.has_encoder or not at.drive.signals.pulsed or length is None or length <= LONG_LEADS_M:
        return
    yield claim(
        "wiring.encoder_leads",
        station=STATION,
        title="Encoder's leads apart from the motor's",
        holds=None if not wiring.laid else wiring.laid != "beside",
        todo="Edges of the motor's pulses are counted as turns: part the leads by a hand's width, or twist each "
        "channel with its ground.",
        drive=at.drive.id,
        over="warn",
        destructive=False,
        where=f"{wiring.path}.laid",
        unknown="Not known yet: choose how the encoder's leads lie beside the motor's.",
    )
