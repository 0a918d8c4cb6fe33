"""The wires of a drive that has a driver: power, motor, logic, signals."""

from __future__ import annotations

from collections.abc import Collection, Iterator
from dataclasses import dataclass, replace

from ...algebra.nodes import Figure, Leaf
from ...algebra.preferred import at_least
from ...algebra.quantities import phrase
from ...laws import supply as supply_rules
from ...laws import wiring as rules
from ...model.panel import PanelLamp, lamp_signal
from ...model.signals import Controller
from ...model.supply import Source
from ...model.wiring import WireRun
from .. import heating
from ..circuit import DriveCircuit
from ..operating import DriveContext
from ..pins import DEVICE, FROM_DEVICE, IDENTITY, PANEL, STOP, STOP_LINE, PinUse, block_of, reads
from ..polarity import turned_round
from . import board_lines, timer
from .connection import Connection, rail_of, small
from .contacts import SUPPLY_LINE, contacts_of
from .device_feed import device_feed
from .logic_feed import logic_feed
from .terminal import GROUND, Role, Row, Terminal, grounded


@dataclass(frozen=True, slots=True, kw_only=True)
class DriveWires:
    """The wires of a drive, the currents that warm its two power runs, and what drops in them (both conductors)."""

    connections: tuple[Connection, ...]
    feeding: Figure
    turning: Figure
    supply_drop: Figure
    motor_drop: Figure


def wires(at: DriveContext, solved: DriveCircuit, pins: tuple[PinUse, ...]) -> DriveWires:
    """Every wire of a drive, at the current that warms each."""
    pulsed = solved.duty_nominal
    feeding, turning = (heating.heating(at, heating.of_wire(w), pulsed) for w in (at.supply_wire, at.motor_wire))
    supply_drop = rules.pair_drop(at.supply_wire.resistance, feeding, title="Drop, source to driver")
    motor_drop = rules.pair_drop(at.motor_wire.resistance, turning, title="Drop, driver to motor")
    return DriveWires(
        connections=_connections(
            at, pins, feeding=feeding, turning=turning, supply_drop=supply_drop, motor_drop=motor_drop
        ),
        feeding=feeding,
        turning=turning,
        supply_drop=supply_drop,
        motor_drop=motor_drop,
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
        short: bool = False,
    ) -> None:
        rows.append(
            Connection(
                id=id,
                start=start,
                end=end,
                signal=name,
                colour=colour,
                run=run,
                current=current,
                drop=drop,
                made=id not in left_out,
                role=role,
                short=short,
            )
        )

    feed, said = Terminal("source", "+"), "Supply"
    for id, block, after in supply_path(at.source):
        add(
            id,
            start=feed,
            end=Terminal(block, "in"),
            name=said,
            colour="red",
            role="power",
            run=supply,
            current=feeding,
            short=True,
        )
        feed, said = Terminal(block, "out"), after
    ends = contacts_of(at.part)
    add(
        "fused+",
        start=feed,
        end=Terminal("driver", ends.plus),
        name=said,
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
    rows += [small(row, signal, row.id not in left_out) for row in _small(at, pins, feed, ends.minus)]
    return tuple(rows)


def supply_path(source: Source) -> Iterator[tuple[str, str, str]]:
    """What stands behind a source, in order: the wire's id, the block, and what its feed is called behind it. Only what
    is given: a fuse that nobody has chosen protects nothing."""
    if source.fuse.value is not None:
        yield "supply+", "fuse", "Supply, fused"
    if source.switch_dc.value is not None:
        yield "switch+", "switch", "Supply, switched"


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


def lamp_resistance(logic: Leaf, lamp: PanelLamp) -> float | None:
    """The resistor before a lamp of the panel (Ω), the next preferred value above; None where it needs none or is not
    known."""
    needed = supply_rules.panel_lamp_resistor(logic, lamp.drop_v.leaf, lamp.current.leaf).value
    return at_least(needed) if needed is not None and needed > 0 else None


def _lamp_resistors(at: DriveContext) -> dict[str, str]:
    """The resistor before each lamp of the panel that needs one, by the lamp's wire."""
    logic = at.controller.logic_v.leaf
    lamps = enumerate(at.drive.panel.lamps, 1)
    found = {lamp_signal(n, lamp): lamp_resistance(logic, lamp) for n, lamp in lamps}
    return {signal: phrase(ohms, "resistance") for signal, ohms in found.items() if ohms is not None}


def _round_the_controller(at: DriveContext, pins: tuple[PinUse, ...], feed: Terminal) -> Iterator[Row]:
    """Supply and ground of what hangs on the controller's pins."""
    rail = Terminal("controller", rail_of(at.controller.logic_v.value))
    blocks = {block_of(u.signal) for u in pins}
    if "devices" in blocks:
        yield from device_feed(at, rail, feed)
        yield grounded("devices-", CONTROLLER_GROUND, Terminal("devices", "GND"))
    if any(u.signal == IDENTITY for u in pins):
        yield from _shared_line(at)
    if at.build.stop_line == "yes" and any(u.signal == STOP for u in pins):
        yield grounded("stop-", CONTROLLER_GROUND, Terminal(STOP_LINE, "GND"))
    if any(u.signal == "KNOB" for u in pins) or _presses_high(at, pins):
        yield Row("panel+", rail, Terminal("panel", "V+"), "Panel's supply", "brown")
    if "panel" in blocks:
        yield grounded("panel-", CONTROLLER_GROUND, Terminal("panel", "GND"))
    if at.drive.has_encoder:
        yield Row("encoder+", rail, Terminal("encoder", "V+"), _encoder_supply(at), "brown")
    if at.drive.has_encoder or at.drive.has_tacho:
        yield grounded("encoder-", CONTROLLER_GROUND, Terminal("encoder", "GND"))


def _shared_line(at: DriveContext) -> Iterator[Row]:
    """One serial line for two: only one may pull it low at a time, so each speaks through a diode and a resistor pulls
    it up where it is heard."""
    line, (hears, tells) = "serial line", serial_pins(at.controller)
    yield Row("line:in", Terminal(line, "OUT"), Terminal("controller", hears), "Serial line, in", "white", "signal")
    spoken, diode = Terminal("controller", tells), Terminal(line, "IN, by a diode")
    yield Row("line:out", spoken, diode, "Serial line, out, its diode's cathode here", "grey", "signal")
    yield grounded("line-", CONTROLLER_GROUND, Terminal(line, "GND"))


def _presses_high(at: DriveContext, pins: tuple[PinUse, ...]) -> bool:
    """Whether a button of the panel joins its wire to the supply; stop and limits always go to ground."""
    to_ground = {PANEL[n] for n in ("stop", "limit_front", "limit_back")}
    own = {u.signal for u in pins} & set(PANEL.values())
    return at.drive.panel.pressed != "low" and bool(own - to_ground)


def serial_pins(controller: Controller) -> tuple[str, str]:
    """The pins of a controller's serial line: where it hears, and where it tells."""
    labels = [p.label for p in controller.pins if "serial" in p.can]
    hears, tells = (labels[0], labels[1]) if len(labels) > 1 else ("serial in", "serial out")
    return (tells, hears) if hears.upper().startswith("TX") else (hears, tells)
