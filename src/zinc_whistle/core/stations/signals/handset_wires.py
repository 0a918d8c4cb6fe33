"""The wires of a handset, and those of the radio module at the board: from, to, and by what."""

from __future__ import annotations

from dataclasses import dataclass

from ...algebra.preferred import at_least
from ...algebra.quantities import phrase
from ...cases.controller_feed import is_rail
from ...cases.wires.rows import serial_pins
from ...laws import supply as supply_laws
from ...model.build import Build
from ...model.handset import Handset
from ...model.signals import Controller
from .radio import HandsetResult, controller_of

LAMP_A = 5e-3
"""A lamp of 5 mA is seen by day (common practice, no source)."""


@dataclass(frozen=True, slots=True)
class HandsetWire:
    """One wire; ``by`` is what stands in it, if anything does."""

    start: str
    end: str
    by: str = ""


def wires(build: Build, handset: Handset, result: HandsetResult) -> list[HandsetWire]:
    """Every wire of a handset: battery, buttons, lamp, module. Empty without a controller."""
    controller = controller_of(build, handset.controller)
    if controller is None:
        return []
    found = [
        HandsetWire("Battery +", _feed_pin(handset, controller), "Switch: off when it is put away"),
        HandsetWire("Battery −", "GND"),
    ]
    said = [f"Button “{b.name or b.presses.replace('_', ' ')}”" for b in handset.buttons]
    for use, by in zip(result.pins, [*said, _lamp(controller)], strict=True):
        found.append(HandsetWire(use.pin.label if use.pin is not None else "no pin", "GND", by))
    return [*found, *_module(controller)]


def board_wires(controller: Controller) -> list[HandsetWire]:
    """The wires of the module at the controller that hears."""
    return _module(controller)


def _module(controller: Controller) -> list[HandsetWire]:
    """A module hangs on the line over which the program is loaded: its output is taken off for that."""
    hears, tells = serial_pins(controller)
    logic = controller.logic_v.value
    rail = phrase(logic, "voltage") if logic is not None else "logic supply"
    return [
        HandsetWire(rail, "Module: supply", "100 nF at the module, to ground"),
        HandsetWire("GND", "Module: ground"),
        HandsetWire("Module: data out", hears, "A plug: open it while the program is loaded, or two speak at once"),
        HandsetWire(tells, "Module: data in"),
    ]


def _feed_pin(handset: Handset, controller: Controller) -> str:
    full, flat, logic = handset.v_full.value, handset.v_flat.value, controller.logic_v.value
    at_rail = full is not None and flat is not None and is_rail(controller, full, flat)
    return f"{phrase(logic, 'voltage')} pin" if at_rail and logic is not None else "V in"


def _lamp(controller: Controller) -> str:
    """The lamp with its resistor, the next preferred value above."""
    logic = controller.logic_v.value
    needed = supply_laws.lamp_resistor.bare(logic, LAMP_A) if logic is not None else 0.0
    return (
        f"Lamp “answered”, its resistor {phrase(at_least(needed), 'resistance')}" if needed > 0 else "Lamp “answered”"
    )
