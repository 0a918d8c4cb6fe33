"""The connection table made from the design: pins allotted by what they can do, wire sized, grounds joined."""

from __future__ import annotations

from dataclasses import dataclass, field

from ...algebra.nodes import Figure
from ...cases.netlist import Netlist
from ...cases.operating import wire
from ...cases.pins import PinUse
from ...cases.scene import DrivenScene, ServoScene
from ...cases.wires.connection import Connection, grounds_of
from ...laws import wiring as rules

STATION = "wiring"


@dataclass(frozen=True, slots=True)
class WiringResult:
    """A drive's wires, pins, and the figures of its two power runs; the netlist is that of the whole build."""

    netlist: Netlist
    connections: tuple[Connection, ...]
    pins: tuple[PinUse, ...]
    supply_density: Figure | None = None
    motor_density: Figure | None = None
    supply_drop: Figure | None = None
    motor_drop: Figure | None = None
    supply_drop_share: Figure | None = None
    motor_drop_share: Figure | None = None
    grounds: dict[str, str] = field(default_factory=dict)


def compute(scene: DrivenScene) -> WiringResult:
    """Sizes and drops of the power runs at the current that warms each, pins, and every connection."""
    at, found = scene.at, scene.wires
    nominal = at.volts.nominal
    return WiringResult(
        netlist=scene.netlist,
        connections=found.connections,
        pins=scene.pins,
        supply_density=rules.current_density(
            found.feeding, at.supply_wire.area, title="Current density, source to driver"
        ),
        motor_density=rules.current_density(
            found.turning, at.motor_wire.area, title="Current density, driver to motor"
        ),
        supply_drop=found.supply_drop,
        motor_drop=found.motor_drop,
        supply_drop_share=rules.drop_share(found.supply_drop, nominal),
        motor_drop_share=rules.drop_share(found.motor_drop, nominal),
        grounds=grounds_of(found.connections),
    )


def for_servo(scene: ServoScene) -> WiringResult:
    """A servo's three wires, with it stalled."""
    found, stalled = scene.wires, scene.servo.stall_current
    carrying = wire(scene.drive.wiring.signal_run)
    return WiringResult(
        netlist=scene.netlist,
        connections=found.connections,
        pins=scene.pins,
        motor_drop=found.drop,
        motor_density=rules.current_density(stalled, carrying.area, title="Current density to the servo, stalled"),
        motor_drop_share=rules.drop_share(found.drop, scene.servo.rail),
        grounds=grounds_of(found.connections),
    )
