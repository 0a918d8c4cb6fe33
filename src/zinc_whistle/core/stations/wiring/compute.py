"""The connection table made from the design: pins allotted by what they can do, wire sized, grounds joined."""

from __future__ import annotations

from collections.abc import Collection, Iterator
from dataclasses import dataclass, field, replace

from ...algebra.nodes import Figure
from ...algebra.preferred import at_least
from ...algebra.quantities import phrase
from ...cases import heating
from ...cases.circuit import DriveCircuit
from ...cases.operating import DriveContext
from ...cases.pins import DEVICE, FROM_DEVICE, IDENTITY, STOP, STOP_LINE, PinUse, block_of, reads
from ...cases.polarity import turned_round
from ...laws import supply as supply_rules
from ...laws import wiring as rules
from ...model.panel import lamp_signal
from ...model.wiring import WireRun
from . import board_lines, timer
from .contacts import SUPPLY_LINE, contacts_of
from .device_feed import device_feed
from .logic_feed import logic_feed
from .terminal import GROUND, Role, Row, Terminal, grounded

STATION = "wiring"


@dataclass(frozen=True, slots=True)
class Connection:
    """One wire of the build. ``id`` is stable, so that the builder can leave it out or tick it."""

    id: str
    start: Terminal
    end: Terminal
    signal: str
    colour: str
    gauge: float | None
    length_m: float | None
    current: Figure | None
    drop: Figure | None
    made: bool
    role: Role


@dataclass(frozen=True, slots=True)
class WiringResult:
    """Connections, pins, and the figures of the two power runs."""

    connections: tuple[Connection, ...]
    pins: tuple[PinUse, ...]
    supply_density: Figure | None = None
    motor_density: Figure | None = None
    supply_drop: Figure | None = None
    motor_drop: Figure | None = None
    supply_drop_share: Figure | None = None
    motor_drop_share: Figure | None = None
    grounds: dict[str, str] = field(default_factory=dict)


def compute(at: DriveContext, solved: DriveCircuit, pins: tuple[PinUse, ...]) -> WiringResult:
    """Sizes and drops of the power runs at the current that warms each, pins, and every connection."""
    nominal = at.volts.nominal
    pulsed = solved.duty_nominal
    feeding, turning = (heating.heating(at, heating.of_wire(w), pulsed) for w in (at.supply_wire, at.motor_wire))
    supply_drop = rules.pair_drop(at.supply_wire.resistance, feeding, title="Drop, source to driver")
    motor_drop = rules.pair_drop(at.motor_wire.resistance, turning, title="Drop, driver to motor")
    connections = _connections(
        at, pins, feeding=feeding, turning=turning, supply_drop=supply_drop, motor_drop=motor_drop
    )
    return WiringResult(
        connections=connections,
        pins=pins,
        supply_density=rules.current_density(feeding, at.supply_wire.area, title="Current density, source to driver"),
        motor_density=rules.current_density(turning, at.motor_wire.area, title="Current density, driver to motor"),
        supply_drop=supply_drop,
        motor_drop=motor_drop,
        supply_drop_share=rules.drop_share(supply_drop, nominal),
        motor_drop_share=rules.drop_share(motor_drop, nominal),
        grounds=_ground_groups(connections),
    )


def _connections(
    at: DriveContext,
    pins: tuple[PinUse, ...],
    *,
    feeding: Figure,
    turning: Figure,
    supply_drop: Figure,
    motor_drop: Figure,
) -> tuple[Connection, ...]:
    left_out = set(at.drive.wiring.left_out)
    unit, wiring = at.unit, at.drive.wiring
    supply, motor, signal = unit.supply_run, wiring.motor_run, wiring.signal_run
    rows: list[Connection] = []

    def add(
        id: str,
        start: Terminal,
        end: Terminal,
        name: str,
        colour: str,
        role: Role,
        run: WireRun | None,
        current: Figure | None = None,
        drop: Figure | None = None,
    ) -> None:
        rows.append(
            Connection(
                id=id,
                start=start,
                end=end,
                signal=name,
                colour=colour,
                gauge=run.gauge.value if run is not None else None,
                length_m=run.length.value if run is not None else None,
                current=current,
                drop=drop,
                made=id not in left_out,
                role=role,
            )
        )

    add(
        "supply+",
        start=Terminal("source", "+"),
        end=Terminal("fuse", "in"),
        name="Supply",
        colour="red",
        role="power",
        run=supply,
        current=feeding,
    )
    switched = at.source.switch_dc.value is not None
    if switched:
        add(
            "switch+",
            start=Terminal("fuse", "out"),
            end=Terminal("switch", "in"),
            name="Supply, fused",
            colour="red",
            role="power",
            run=supply,
            current=feeding,
        )
    feed = Terminal("switch", "out") if switched else Terminal("fuse", "out")
    ends = contacts_of(at.part)
    add(
        "fused+",
        start=feed,
        end=Terminal("driver", ends.plus),
        name="Supply, switched" if switched else "Supply, fused",
        colour="red",
        role="power",
        run=supply,
        current=feeding,
        drop=supply_drop,
    )
    add(
        "supply-",
        start=Terminal("source", "−"),
        end=Terminal("driver", ends.minus),
        name=GROUND,
        colour="black",
        role="power",
        run=supply,
        current=feeding,
    )
    for id, one, other, line in ends.links:
        add(
            id,
            start=Terminal("driver", one),
            end=Terminal("driver", other),
            name=line or GROUND,
            colour="red" if line == SUPPLY_LINE else "black" if line is None else "brown",
            role="power",
            run=motor,
            current=turning,
        )
    add(
        "motor1",
        start=Terminal("driver", ends.out_1),
        end=Terminal("motor", "M+"),
        name="Motor +",
        colour="yellow",
        role="motor",
        run=motor,
        current=turning,
        drop=motor_drop,
    )
    add(
        "motor2",
        start=Terminal("driver", ends.out_2),
        end=Terminal("motor", "M−"),
        name="Motor −",
        colour="green",
        role="motor",
        run=motor,
        current=turning,
    )
    if unit.bulk_capacitance.value is not None:
        for id, pin, name, colour in (
            ("bulk+", ends.plus, "Bulk capacitor", "red"),
            ("bulk-", ends.minus, GROUND, "black"),
        ):
            add(
                id,
                start=Terminal("driver", pin),
                end=Terminal("capacitor", "+" if pin == ends.plus else "−"),
                name=name,
                colour=colour,
                role="power",
                # It stands at the driver's own terminals: a lead would be the inductance that it is there to shut out.
                run=None,
            )
    rows += [
        Connection(
            id=row.id,
            start=row.start,
            end=row.end,
            signal=row.name,
            colour=row.colour,
            gauge=signal.gauge.value,
            length_m=signal.length.value,
            current=None,
            drop=None,
            made=row.id not in left_out,
            role=row.role,
        )
        for row in _small(at, pins, feed, ends.minus)
    ]
    return tuple(rows)


def _small(at: DriveContext, pins: tuple[PinUse, ...], feed: Terminal, minus: str) -> Iterator[Row]:
    """The wires of small current: lamp, board's own lines, and what tells the driver."""
    if at.source.lamp_a.value is not None:
        yield Row("lamp+", feed, Terminal("lamp", "resistor"), "Arming lamp", "orange")
        yield grounded("lamp-", Terminal("source", "−"), Terminal("lamp", "−"))
    turned = turned_round(at.unit, at.part)
    yield from board_lines.rows(turned, minus)
    yield from board_lines.tied(at.part, minus)
    if at.drive.signals.told_by == "timer":
        for row in timer.rows(at, feed, minus):
            yield replace(row, end=board_lines.by_way_of(row.end, turned))
    if at.drive.signals.by_program:
        yield from logic_feed(at, feed)
        yield grounded("ground", Terminal("driver", minus), CONTROLLER_GROUND)
        yield from _signal_lines(at, pins, turned)
        yield from _round_the_controller(at, pins, feed)


CONTROLLER_GROUND = Terminal("controller", "GND")
COLOURS = {"pwm": "blue", "digital": "violet", "interrupt": "white", "analogue": "pink", "bus": "yellow"}


def _signal_lines(at: DriveContext, pins: tuple[PinUse, ...], turned: Collection[str]) -> Iterator[Row]:
    """A wire for each pin in use, from who speaks to who listens."""
    ohms = _lamp_resistors(at)
    for use in pins:
        if use.pin is None or (use.signal == IDENTITY and at.controller.node == "first"):
            continue
        joined = use.signal == STOP and at.build.stop_line == "yes"
        block = STOP_LINE if joined else block_of(use.signal)
        there = use.signal.removeprefix("ENC ").removeprefix(FROM_DEVICE).removeprefix(DEVICE)
        start, end = Terminal("controller", use.pin.label), board_lines.by_way_of(Terminal(block, there), turned)
        if reads(use.signal):
            start, end = end, start
        if use.signal == IDENTITY:
            start = Terminal("identity", "GND")
        colour = "grey" if use.signal == "ENC B" else COLOURS[use.needs]
        name = f"{use.signal}, by {ohms[use.signal]}" if use.signal in ohms else use.signal
        if use.signal in ("ENC A", "ENC B") and (up := _pull_up(at)):
            name = f"{use.signal}, {up} up to the logic's supply"
        yield Row(f"signal:{use.signal}", start, end, name, colour, "signal")


def _pull_up(at: DriveContext) -> str:
    """The pull-up of each of an encoder's channels; nothing where its outputs drive both ways."""
    motor = at.drive.of_motor
    if motor is None or not (motor.encoder.optical or motor.encoder.outputs == "open collector"):
        return ""
    ohms = motor.encoder.pull_up.value
    return phrase(ohms, "resistance") if ohms is not None else ""


def _encoder_supply(at: DriveContext) -> str:
    """What feeds an encoder; the lamps of light barriers have a resistor each."""
    motor = at.drive.of_motor
    ohms = motor.encoder.lamp_ohm.value if motor is not None and motor.encoder.optical else None
    return f"Encoder supply, each lamp by {phrase(ohms, 'resistance')}" if ohms is not None else "Encoder supply"


def _lamp_resistors(at: DriveContext) -> dict[str, str]:
    """The resistor before each lamp of the panel, the next preferred value above, by the lamp's wire."""
    found = {}
    for place, lamp in enumerate(at.drive.panel.lamps, 1):
        needed = supply_rules.panel_lamp_resistor(at.controller.logic_v.leaf, lamp.drop_v.leaf, lamp.current.leaf).value
        if needed is not None and needed > 0:
            found[lamp_signal(place, lamp)] = phrase(at_least(needed), "resistance")
    return found


def _round_the_controller(at: DriveContext, pins: tuple[PinUse, ...], feed: Terminal) -> Iterator[Row]:
    """Supply and ground of what hangs on the controller's pins."""
    rail = Terminal("controller", "5 V" if (at.controller.logic_v.value or 5) > 4 else "3.3 V")
    blocks = {block_of(u.signal) for u in pins}
    if "devices" in blocks:
        yield from device_feed(at, rail, feed)
        yield grounded("devices-", CONTROLLER_GROUND, Terminal("devices", "GND"))
    if any(u.signal == IDENTITY for u in pins):
        yield from _shared_line()
    if at.build.stop_line == "yes" and any(u.signal == STOP for u in pins):
        yield grounded("stop-", CONTROLLER_GROUND, Terminal(STOP_LINE, "GND"))
    if "panel" in blocks:
        yield grounded("panel-", CONTROLLER_GROUND, Terminal("panel", "GND"))
    if at.drive.has_encoder:
        yield Row("encoder+", rail, Terminal("encoder", "V+"), _encoder_supply(at), "brown")
        yield grounded("encoder-", CONTROLLER_GROUND, Terminal("encoder", "GND"))


def _shared_line() -> Iterator[Row]:
    """One serial line for two: only one may pull it low at a time, so each speaks through a diode and a resistor pulls
    it up where it is heard."""
    line = "serial line"
    yield Row("line:in", Terminal(line, "OUT"), Terminal("controller", "RX"), "Serial line, in", "white", "signal")
    spoken = Terminal("controller", "TX, its diode's cathode")
    yield Row("line:out", spoken, Terminal(line, "IN, 4.7 kΩ up"), "Serial line, out", "grey", "signal")
    yield grounded("line-", CONTROLLER_GROUND, Terminal(line, "GND"))


def _ground_groups(connections: tuple[Connection, ...]) -> dict[str, str]:
    """Which ground each block stands on: blocks with the same root share one (union-find)."""
    parent: dict[str, str] = {}

    def root(block: str) -> str:
        parent.setdefault(block, block)
        while parent[block] != block:
            block = parent[block]
        return block

    for c in connections:
        if c.signal == GROUND:
            a, b = root(c.start.block), root(c.end.block)
            if c.made:
                parent[a] = b
    return {block: root(block) for block in parent}
