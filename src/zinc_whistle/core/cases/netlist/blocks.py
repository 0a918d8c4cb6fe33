"""The parts that a drive's wires lead to, by what its rows call them."""

from __future__ import annotations

from collections.abc import Mapping

from ...algebra.quantities import phrase
from ...model.build import Build, ServoDrive
from ...model.driver import DriverUnit
from ...model.given import Given
from ...model.signals import Controller
from ...model.supply import Regulator, Source
from ..operating import DriveContext
from ..pins import IDENTITY, STOP, STOP_LINE, PinUse, block_of
from ..polarity import turned_round
from ..wires import board_lines
from ..wires.device_feed import feed_block
from ..wires.logic_feed import regulator_block
from .parts import WiredPart

UNNAMED = WiredPart(id="source not named", kind="source", name="A source, not named yet", pins=("+", "−"))
"""What feeds a regulator for which nobody has named a source."""


def told(given: Given, unit: str = "") -> str:
    """A value as it is written on a part; nothing where it is not given."""
    kind = given.leaf.kind.name
    return phrase(given.value, kind, unit) if given.value is not None else ""


def _titled(word: str, value: str) -> str:
    return f"{word} {value}" if value else word


def source_part(source: Source) -> WiredPart:
    return WiredPart(
        id=f"source {source.id}",
        kind="source",
        name=source.name or "Source",
        value=told(source.nominal_v),
        pins=("+", "−"),
        marks={"+": "plus", "−": "minus"},
        each=int((source.packs.value or 1) + (source.spare.value or 0)),
    )


def fuse_part(source: Source) -> WiredPart:
    value = told(source.fuse)
    return WiredPart(id=f"fuse {source.id}", kind="fuse", name=_titled("Fuse", value), value=value, pins=("in", "out"))


def switch_part(source: Source) -> WiredPart:
    value = told(source.switch_dc)
    return WiredPart(
        id=f"switch {source.id}", kind="switch", name=_titled("Switch", value), value=value, pins=("in", "out")
    )


def regulator_part(regulator: Regulator) -> WiredPart:
    return WiredPart(
        id=f"regulator {regulator.id}",
        kind="regulator",
        name=regulator.name or "Regulator",
        value=told(regulator.output_v),
        pins=("in", "GND", "out"),
        marks={"in": "in", "GND": "ground", "out": "out"},
    )


def feed_part(build: Build, id: str) -> WiredPart | None:
    """The regulator or source of an id."""
    regulator = next((r for r in build.supply.regulators if r.id == id), None)
    if regulator is not None:
        return regulator_part(regulator)
    source = next((s for s in build.supply.sources if s.id == id), None)
    return source_part(source) if source is not None else None


def controller_part(controller: Controller) -> WiredPart:
    """A controller with its pins in the order of its board."""
    brought = [p for p in controller.pins if "absent" not in p.can]
    placed = sorted(enumerate(brought), key=lambda x: (_row(x[1].place), x[0]))
    return WiredPart(
        id=f"controller {controller.id}",
        kind="controller",
        name=controller.name or "Controller",
        pins=tuple(dict.fromkeys(p.label for _, p in placed)),
        price=controller.price,
    )


def _row(place: str) -> tuple[str, int]:
    """The row and number of a place on a board, as in A12."""
    letters = place.rstrip("0123456789")
    digits = place[len(letters) :]
    return letters, int(digits) if digits else 0


def driver_part(unit: DriverUnit, at: DriveContext) -> WiredPart:
    """A driver unit: a part of the shelf, or the board of a stage of one's own."""
    bought = unit.made_of == "part" and unit.part is not None
    return WiredPart(
        id=f"unit {unit.id}",
        kind="driver",
        # A stage's own name goes on to list its parts: they are told one by one here.
        name=(at.part.name.partition(":")[0] if at.part is not None else "") or unit.name or "Driver",
        price=unit.part.price if bought and unit.part is not None else None,
        altered=tuple(x.drawn for x in unit.alterations if x.undone == "no") if unit.made_of == "part" else (),
    )


def driven_blocks(at: DriveContext, pins: tuple[PinUse, ...]) -> dict[str, WiredPart]:
    """Every part of a drive that has a driver, by the block of its wires."""
    drive, source, unit, build = at.drive, at.source, at.unit, at.build
    motor = drive.of_motor
    name = (motor.motor.name if motor is not None else drive.name) or "Motor"
    found = {
        "source": source_part(source),
        "fuse": fuse_part(source),
        "switch": switch_part(source),
        "driver": driver_part(unit, at),
        "motor": WiredPart(
            id=f"motor {drive.id}",
            kind="motor" if motor is not None else "load",
            name=name,
            pins=("M+", "M−"),
            drives=(drive.id,),
            ohms=_winding(at),
        ),
        "capacitor": WiredPart(
            id=f"capacitor {unit.id}",
            kind="capacitor",
            name=_titled("Capacitor", told(unit.bulk_capacitance)),
            value=", ".join(x for x in (told(unit.bulk_capacitance), told(unit.bulk_voltage)) if x),
            pins=("+", "−"),
            marks={"−": "the stripe on its can", "+": "its longer lead"},
        ),
        "lamp": WiredPart(
            id=f"lamp {source.id}",
            kind="lamp",
            name="Arming lamp",
            pins=("resistor", "−"),
            marks={"−": "short lead, flat side of the rim"},
        ),
        "encoder": WiredPart(id=f"encoder {drive.id}", kind="encoder", name="Encoder", drives=(drive.id,)),
        "panel": WiredPart(
            id=f"panel {drive.id}", kind="panel", name=_panel_name(build, drive.name), drives=(drive.id,)
        ),
        **_of_timer(at),
        **_logic_blocks(at),
        **_of_controller(build, at.controller, pins),
    }
    gates = next((s for s in build.supply.sources if s.id == unit.stage.gate_source), None)
    if gates is not None:
        found["gate source"] = source_part(gates)
    if turned := turned_round(unit, at.part):
        words = f"{'Transistor' if len(turned) == 1 else 'Transistors'} to {', '.join(turned)}"
        found[board_lines.BLOCK] = WiredPart(
            id=f"inverters {unit.id}", kind="transistor", name=words, each=len(turned), marks={"": "flat side"}
        )
    return found


def _winding(at: DriveContext) -> tuple[tuple[str, str, float], ...]:
    """What an ohmmeter reads across a motor that does not turn."""
    ohms = at.of_motor.motor.resistance_25.value if at.of_motor is not None else None
    return () if ohms is None else (("M+", "M−", ohms),)


def _panel_name(build: Build, drive: str) -> str:
    return f"Control panel, {drive}" if drive and len(build.drives) > 1 else "Control panel"


def _of_timer(at: DriveContext) -> dict[str, WiredPart]:
    spec, drive = at.drive.signals.timer, at.drive.id
    if at.drive.signals.told_by != "timer":
        return {}
    value = told(spec.pot)
    return {
        "timer": WiredPart(id=f"timer {drive}", kind="timer", name="Timer circuit", drives=(drive,), price=spec.price),
        "knob": WiredPart(
            id=f"knob {drive}", kind="knob", name=_titled("Potentiometer", value), value=value, drives=(drive,)
        ),
    }


def _logic_blocks(at: DriveContext) -> dict[str, WiredPart]:
    """What feeds the logic, as the rows of its way call it."""
    build, found = at.build, dict[str, WiredPart]()
    straight = next((s for s in build.supply.sources if s.id == at.controller.regulator), None)
    if straight is not None:
        found["logic source"] = source_part(straight)
    if at.regulator is not None:
        chain = build.supply.chain(at.regulator.id)
        for one in chain:
            found[regulator_block(one.id, at.regulator.id)] = regulator_part(one)
        source = next((s for s in build.supply.sources if s.id == chain[0].source), None)
        found["logic source"] = source_part(source) if source is not None else UNNAMED
    return found


def _of_controller(build: Build, controller: Controller, pins: tuple[PinUse, ...]) -> dict[str, WiredPart]:
    """The controller and what is its own, whichever drive tells of it."""
    found = {"controller": controller_part(controller)}
    id = controller.id
    if any(u.signal == STOP for u in pins):
        found[STOP_LINE] = WiredPart(id="stop line", kind="line", name="Stop line, to every controller")
    if any(u.signal == IDENTITY for u in pins):
        found["serial line"] = WiredPart(id="serial line", kind="line", name="Serial line, shared by two")
        found["identity"] = WiredPart(id=f"identity {id}", kind="link", name="Link: the second of two")
    if any(block_of(u.signal) == "devices" for u in pins):
        found["devices"] = WiredPart(id=f"devices {id}", kind="device", name="Other devices")
    for feed in {x.feed for x in controller.devices if x.feed}:
        if (part := feed_part(build, feed)) is not None:
            found[feed_block(feed)] = part
    return found


def servo_blocks(build: Build, drive: ServoDrive, controller: Controller) -> Mapping[str, WiredPart]:
    """The parts of a servo, by the block of its wires."""
    rail = feed_part(build, drive.rail) or UNNAMED
    return {
        "source": rail,
        "servo": WiredPart(
            id=f"servo {drive.id}",
            kind="servo",
            name=drive.servo.name or drive.name or "Servo",
            pins=("signal (light)", "+ (middle)", "− (dark)"),
            drives=(drive.id,),
        ),
        "controller": controller_part(controller),
        "panel": WiredPart(
            id=f"panel {drive.id}", kind="panel", name=_panel_name(build, drive.name), drives=(drive.id,)
        ),
    }
