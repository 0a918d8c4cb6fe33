"""What each kind of drive brings to the netlist."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from ...model.build import Build, ServoDrive
from ...model.signals import Controller
from ..operating import DriveContext
from ..pins import PinUse
from ..wires.connection import Connection, rail_of
from ..wires.rows import DriveWires
from ..wires.servo_rows import ServoWires
from ..wires.terminal import GROUND, Terminal
from .assemble import DriveHarness
from .blocks import driven_blocks, servo_blocks
from .inner import Inner, inner_of, servo_inner
from .stage_parts import GATE_RAIL, stage_inner


def of_driven(at: DriveContext, found: DriveWires, pins: tuple[PinUse, ...]) -> DriveHarness:
    """A drive with a driver: its wires, and what stands on its panel, encoder and stage."""
    channel = int(at.drive.channel.value or 1)
    inner = [*inner_of(at, pins)]
    inner.append(stage_inner(at) if channel == 1 else Inner(on=f"unit {at.unit.id}"))
    return DriveHarness(
        drive=at.drive.id,
        connections=(*found.connections, *_asked_by(inner[-1], at, found)),
        parts=driven_blocks(at, pins),
        inner=inner,
        channel=channel,
    )


def _asked_by(stage: Inner, at: DriveContext, found: DriveWires) -> Iterator[Connection]:
    """Leads that a stage's own parts ask for: logic supply, and a gate supply of its own."""
    asked = {t.pin for j in stage.joints for t in j[:2] if t.block == stage.on}
    like = next((c for c in found.connections if c.role == "signal"), None)
    run = at.drive.wiring.signal_run if like is None else like.run
    left_out = set(at.drive.wiring.left_out)

    def lead(id: str, start: Terminal, pin: str, signal: str) -> Connection:
        end = Terminal("driver", pin)
        fitted = id not in left_out
        return Connection(
            id=id, start=start, end=end, signal=signal, colour="orange", run=run, made=fitted, role="logic"
        )

    if "logic +" in asked and at.drive.signals.by_program:
        rail = Terminal("controller", rail_of(at.controller.logic_v.value))
        yield lead("stage-logic+", rail, "logic +", "Logic supply of the stage")
    named = any(s.id == at.unit.stage.gate_source for s in at.build.supply.sources)
    if GATE_RAIL in asked and at.unit.stage.gate_fed == "source" and named:
        yield lead("gate+", Terminal("gate source", "+"), GATE_RAIL, "Gate supply")
        yield replace(lead("gate-", Terminal("gate source", "−"), "GND", GROUND), colour="black")


def of_servo(
    build: Build, drive: ServoDrive, controller: Controller, found: ServoWires, pins: tuple[PinUse, ...]
) -> DriveHarness:
    """A servo: three wires."""
    return DriveHarness(
        drive=drive.id,
        connections=found.connections,
        parts=servo_blocks(build, drive, controller),
        inner=[servo_inner(drive.id, pins)],
    )
