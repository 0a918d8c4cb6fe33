"""Wiring: the harness and its table."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

from ..core.algebra.quantities import phrase
from ..core.assess import DriveAssessment, DrivenAssessment, ServoAssessment
from ..core.cases.pins import IDENTITY, STOP, STOP_LINE, block_of
from ..core.cases.polarity import turned_round
from ..core.model.driver import DriverUnit
from ..core.stations.wiring import board_lines
from ..core.stations.wiring.device_feed import feed_names
from ..core.stations.wiring.logic_feed import regulator_block
from ..core.stations.wiring.terminal import Role
from .fields import Describer, Section
from .inputs import Shown, StationSheet, shown
from .other_loads import servo_hint
from .views import text_of


@dataclass(frozen=True, slots=True, kw_only=True)
class ConnectionView:
    """One wire."""

    id: str
    start_block: str
    start_pin: str
    end_block: str
    end_pin: str
    signal: str
    colour: str
    gauge: str
    length: str
    drop: str
    role: Role
    made: bool


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
class WiringPicture:
    """Blocks by key and name, the wires between them, and the pins."""

    blocks: dict[str, str]
    connections: list[ConnectionView]
    pins: list[PinView]
    drive_path: str
    altered: dict[str, list[str]]
    """By block, what stands altered on it."""
    kind: Literal["wiring"] = "wiring"


def altered_on(unit: DriverUnit) -> dict[str, list[str]]:
    """What stands altered on the driver's board."""
    standing = [x.drawn for x in unit.alterations if x.undone == "no"] if unit.made_of == "part" else []
    return {"driver": standing} if standing else {}


def _driven_blocks(done: DrivenAssessment) -> dict[str, str]:
    at, motor = done.context, done.drive.of_motor
    blocks = {
        "source": at.source.name or "Source",
        "fuse": f"Fuse {text_of(at.source.fuse.leaf)}",
        "driver": at.part.name if at.part is not None else "Driver",
        "motor": (motor.motor.name if motor is not None else done.drive.name) or "Motor",
    }
    if at.drive.signals.by_program:
        blocks["controller"] = at.controller.name or "Controller"
    if at.drive.signals.told_by == "timer":
        blocks |= {"timer": "Timer circuit", "knob": f"Potentiometer {text_of(at.drive.signals.timer.pot.leaf)}"}
    if turned := turned_round(at.unit, at.part):
        blocks[board_lines.BLOCK] = f"{'Transistor' if len(turned) == 1 else 'Transistors'} to {', '.join(turned)}"
    if at.source.switch_dc.value is not None:
        blocks["switch"] = f"Switch {text_of(at.source.switch_dc.leaf)}"
    if at.unit.bulk_capacitance.value is not None:
        blocks["capacitor"] = f"Capacitor {text_of(at.unit.bulk_capacitance.leaf)}"
    if at.source.lamp_a.value is not None:
        blocks["lamp"] = "Arming lamp"
    straight = next((s for s in at.build.supply.sources if s.id == at.controller.regulator), None)
    if straight is not None and straight.id != at.source.id:
        blocks["logic source"] = straight.name or "Logic source"
    if at.regulator is not None:
        chain = at.build.supply.chain(at.regulator.id)
        for before in chain[:-1]:
            blocks[regulator_block(before.id, at.regulator.id)] = before.name or "Regulator"
        if at.regulator.place == "own":
            blocks["regulator"] = at.regulator.name or "Regulator"
        if chain[0].source != at.source.id:
            sources = {s.id: s.name for s in at.build.supply.sources}
            blocks["logic source"] = sources.get(chain[0].source) or "Logic source"
    if at.build.stop_line == "yes" and any(u.signal == STOP for u in done.wiring.pins):
        blocks[STOP_LINE] = "Stop line, to every controller"
    if done.drive.has_encoder:
        blocks["encoder"] = "Encoder"
    if any(block_of(u.signal) == "panel" for u in done.wiring.pins):
        blocks["panel"] = "Control panel"
    if any(u.signal == IDENTITY for u in done.wiring.pins):
        blocks |= {"serial line": "Serial line, shared by two", "identity": "Link: the second of two"}
    if any(block_of(u.signal) == "devices" for u in done.wiring.pins):
        blocks["devices"] = "Other devices"
        blocks |= feed_names(at)
    return blocks


def _servo_blocks(done: ServoAssessment) -> dict[str, str]:
    return {
        "source": "Servo rail",
        "servo": done.drive.servo.name or "Servo",
        "controller": done.controller.name or "Controller",
        **({"panel": "Control panel"} if len(done.wiring.pins) > 1 else {}),
    }


def wiring(done: DriveAssessment, blocks: dict[str, str], altered: dict[str, list[str]] | None = None) -> WiringPicture:
    """The harness and its table."""
    result, controller = done.wiring, done.scene.controller
    wires = [
        ConnectionView(
            id=c.id,
            start_block=c.start.block,
            start_pin=c.start.pin,
            end_block=c.end.block,
            end_pin=c.end.pin,
            signal=c.signal,
            colour=c.colour,
            gauge="" if c.gauge is None else f"AWG {c.gauge:.0f}",
            length="" if c.length_m is None else phrase(c.length_m, "length", "m"),
            drop=text_of(c.drop) if c.drop is not None else "",
            role=c.role,
            made=c.made,
        )
        for c in result.connections
    ]
    pins = []
    for pin_use in result.pins:
        able = [x for x in controller.pins if pin_use.needs in x.can]
        pins.append(
            PinView(
                signal=pin_use.signal,
                needs=pin_use.needs,
                pin=pin_use.pin.label if pin_use.pin else "",
                pin_id=pin_use.pin.id if pin_use.pin else "",
                program=pin_use.pin.program if pin_use.pin else "",
                fixed=pin_use.fixed,
                refusal=pin_use.refusal,
                choices=[x.id for x in able],
                choice_labels=[f"{x.label} (program {x.program})" for x in able],
            )
        )
    return WiringPicture(
        blocks=blocks, connections=wires, pins=pins, drive_path=done.drive.wiring.path, altered=altered or {}
    )


def _servo_figures(done: ServoAssessment) -> Shown:
    return shown(
        "with the servo stalled",
        (
            done.wiring.motor_drop,
            (done.wiring.motor_density, "A/mm²"),
        ),
    )


def _driven_figures(done: DrivenAssessment) -> Shown:
    r, at = done.wiring, done.context
    return shown(
        "at the current that warms them",
        (
            r.supply_drop,
            (r.supply_density, "A/mm²"),
            at.supply_wire.resistance,
            r.motor_drop,
            (r.motor_density, "A/mm²"),
            at.motor_wire.resistance,
        ),
    )


def _driven_sections(done: DrivenAssessment, d: Describer) -> list[Section]:
    return [
        d.section(done.context.unit.supply_run, "Source to driver"),
        d.section(done.drive.wiring.motor_run, "Driver to motor"),
        d.section(done.drive.wiring.signal_run, "Signals and encoder"),
    ]


def _servo_sections(done: ServoAssessment, d: Describer) -> list[Section]:
    return [d.section(done.drive.wiring.signal_run, "To the servo")]


_DRIVEN = StationSheet(
    sections=lambda asked: _driven_sections(asked.done, asked.describer),
    figures=lambda asked: _driven_figures(asked.done),
    picture=lambda asked: wiring(asked.done, _driven_blocks(asked.done), altered_on(asked.done.context.unit)),
)
SHEETS = {
    "motor": _DRIVEN,
    "load": _DRIVEN,
    "servo": StationSheet(
        sections=lambda asked: _servo_sections(asked.done, asked.describer),
        figures=lambda asked: _servo_figures(asked.done),
        picture=lambda asked: wiring(asked.done, _servo_blocks(asked.done)),
        hint=servo_hint,
    ),
}
