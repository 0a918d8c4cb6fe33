"""The numbers of a drive that its tests read, taken once from its assessment; SI units."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

from ...algebra.nodes import Node
from ...cases.operating import Context
from ...model.stage import BRIDGES
from ...stations.bench.places import Places
from ...stations.bench.step import Step

USUAL_CELL_V = 3.2
"""Of a pack whose cells nobody has counted (common practice, no source)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Healthy:
    """A drive in order. ``hands`` are the rows that are forced by hand: +1 where the first output is the driven one."""

    full_v: float
    nominal_v: float
    flat_v: float
    fuse_a: float
    """Of the source; endless where it has none."""
    cells: int
    battery: bool
    source_ohm: float
    bridge_v: float
    bridge_ohm: float
    lead_ohm: float
    winding_ohm: float
    brush_v: float
    constant: float
    friction_a: float
    viscous: float
    working_a: float
    starting_a: float
    air: float
    """The hottest air at the driver (°C), in which the case's step is expected."""
    logic_v: float
    least_v: float
    """Below this the controller begins anew."""
    two_way: bool
    pulsed: bool
    by_program: bool
    counted: bool
    counts_motor: bool
    """Whether the encoder sits on the motor's own shaft, before any coupling."""
    bridge: bool
    diode: bool
    own_gates: bool
    sensed: bool
    steps: Mapping[str, Step]
    hands: Mapping[str, float]

    @property
    def motor_ohm(self) -> float:
        return self.lead_ohm + self.winding_ohm


class NotKnownYet(ValueError):
    """What a build must tell before its faults can be told apart; the message is a sentence."""


def healthy(at: Context, steps: tuple[Step, ...]) -> Healthy:
    """A motor's drive in order. NotKnownYet with a sentence for what is missing."""
    told = {s.id: s for s in steps if s.expected.value is not None}

    def need(node: Node, name: str) -> float:
        if node.value is None:
            raise NotKnownYet(f"The finder works from the motor's and the supply's figures: {name} is not known yet.")
        return float(node.value)

    places, part = Places(at), at.part
    full, flat = need(at.volts.full, "the supply's highest voltage"), need(at.volts.flat, "the supply's lowest voltage")
    source = (at.volts.resistance.value or 0.0) + (at.supply_wire.resistance.value or 0.0)
    working = need(at.load.working_current, "the current at work")
    sag = told.get("sag")
    starting = (flat - (sag.expected.value or flat)) / source if sag is not None and source > 0 else working
    circuit = at.unit.stage.circuit if at.unit.made_of == "stage" else ""
    cells = at.source.cells.value or max(round(full / USUAL_CELL_V), 1)
    first = places.outputs[0]
    hands = {
        s.id: (1.0 if s.probes[:1] == (first,) else -1.0) if s.expected.value else 0.0
        for s in told.values()
        if s.id.startswith("hand")
    }
    signals = at.drive.signals
    encoder = at.drive.encoder if at.drive.has_encoder else None
    return Healthy(
        full_v=full,
        nominal_v=need(at.volts.nominal, "the supply's usual voltage"),
        flat_v=flat,
        fuse_a=at.source.fuse.value or math.inf,
        cells=int(cells),
        battery=at.source.kind == "battery",
        source_ohm=source,
        bridge_v=(part.drop_v.value or 0.0) if part is not None else 0.0,
        bridge_ohm=(part.on_resistance.value or 0.0) if part is not None else 0.0,
        lead_ohm=at.motor_wire.resistance.value or 0.0,
        winding_ohm=need(at.motor.resistance_25, "the winding's resistance"),
        brush_v=at.motor.brush_drop.value or 0.0,
        constant=need(at.motor.motor_constant, "the motor's constant"),
        friction_a=need(at.motor.friction_a, "the motor's friction"),
        viscous=at.motor.viscous.value or 0.0,
        working_a=working,
        starting_a=max(starting, working),
        air=at.board_hot.value or 25.0,
        logic_v=at.controller.logic_v.value or 5.0,
        least_v=at.controller.vin_min.value or 0.0,
        two_way=signals.reversal != "one way",
        pulsed=signals.pulsed,
        by_program=signals.by_program,
        counted="counts" in told or "direction" in told,
        counts_motor=encoder is not None and encoder.place == "motor",
        bridge=circuit in BRIDGES or (part is not None and part.reverses == "yes" and not circuit),
        diode="diode" in told,
        own_gates="gate_supply" in told,
        sensed="sense" in told,
        steps=told,
        hands=hands,
    )
