"""The connection table made from the design: pins allotted by what they can do, wire sized, grounds joined."""

from __future__ import annotations

from dataclasses import dataclass, field

from ...algebra.nodes import Figure
from ...algebra.quantities import phrase
from ...cases import heating
from ...cases.circuit import DriveCircuit
from ...cases.operating import DriveContext
from ...cases.pins import DEVICE, FROM_DEVICE, STOP, STOP_LINE, PinUse, block_of, reads
from ...cases.polarity import turned_round
from ...laws import wiring as rules
from ...model.supply import Regulator
from ...model.wiring import WireRun
from . import board_lines, timer
from .contacts import SUPPLY_LINE, contacts_of
from .terminal import GROUND, Role, Terminal

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
    if at.source.lamp_a.value is not None:
        add(
            "lamp+",
            start=feed,
            end=Terminal("lamp", "resistor"),
            name="Arming lamp",
            colour="orange",
            role="logic",
            run=signal,
        )
        add(
            "lamp-",
            start=Terminal("source", "−"),
            end=Terminal("lamp", "−"),
            name=GROUND,
            colour="black",
            role="logic",
            run=signal,
        )
    turned = turned_round(unit, at.part)
    for id, start, end, name, colour, role in (
        *board_lines.rows(turned, ends.minus),
        *board_lines.tied(at.part, ends.minus),
    ):
        add(id, start=start, end=end, name=name, colour=colour, role=role, run=signal)
    if at.drive.signals.told_by == "timer":
        for row in timer.rows(at, feed, ends.minus):
            last = board_lines.by_way_of(row.end, turned)
            add(row.id, start=row.start, end=last, name=row.name, colour=row.colour, role=row.role, run=signal)
    if not at.drive.signals.by_program:
        return tuple(rows)
    for id, start, end, name, colour in logic_feed(at, feed):
        add(id, start=start, end=end, name=name, colour=colour, role="logic", run=signal)
    add(
        "ground",
        start=Terminal("driver", ends.minus),
        end=Terminal("controller", "GND"),
        name=GROUND,
        colour="black",
        role="logic",
        run=signal,
    )
    colours = {"pwm": "blue", "digital": "violet", "interrupt": "white", "analogue": "pink", "bus": "yellow"}
    for pin_use in pins:
        if pin_use.pin is None:
            continue
        joined = pin_use.signal == STOP and at.build.stop_line == "yes"
        block = STOP_LINE if joined else block_of(pin_use.signal)
        there = pin_use.signal.removeprefix("ENC ").removeprefix(FROM_DEVICE).removeprefix(DEVICE)
        start, end = Terminal("controller", pin_use.pin.label), board_lines.by_way_of(Terminal(block, there), turned)
        if reads(pin_use.signal):
            start, end = end, start
        add(
            f"signal:{pin_use.signal}",
            start=start,
            end=end,
            name=pin_use.signal,
            colour="grey" if pin_use.signal == "ENC B" else colours[pin_use.needs],
            role="signal",
            run=signal,
        )
    if any(block_of(u.signal) == "devices" for u in pins):
        volts = "5 V" if (at.controller.logic_v.value or 5) > 4 else "3.3 V"
        plus, minus = Terminal("controller", volts), Terminal("controller", "GND")
        fed, ground = Terminal("devices", "V+"), Terminal("devices", "GND")
        add("devices+", start=plus, end=fed, name="Devices' supply", colour="brown", role="logic", run=signal)
        add("devices-", start=minus, end=ground, name=GROUND, colour="black", role="logic", run=signal)
    if at.build.stop_line == "yes" and any(u.signal == STOP for u in pins):
        add(
            "stop-",
            start=Terminal("controller", "GND"),
            end=Terminal(STOP_LINE, "GND"),
            name=GROUND,
            colour="black",
            role="logic",
            run=signal,
        )
    if any(block_of(u.signal) == "panel" for u in pins):
        add(
            "panel-",
            start=Terminal("controller", "GND"),
            end=Terminal("panel", "GND"),
            name=GROUND,
            colour="black",
            role="logic",
            run=signal,
        )
    if at.drive.has_encoder:
        add(
            "encoder+",
            start=Terminal("controller", "5 V" if (at.controller.logic_v.value or 5) > 4 else "3.3 V"),
            end=Terminal("encoder", "V+"),
            name="Encoder supply",
            colour="brown",
            role="logic",
            run=signal,
        )
        add(
            "encoder-",
            start=Terminal("controller", "GND"),
            end=Terminal("encoder", "GND"),
            name=GROUND,
            colour="black",
            role="logic",
            run=signal,
        )
    return tuple(rows)


def logic_feed(at: DriveContext, feed: Terminal) -> list[tuple[str, Terminal, Terminal, str, str]]:
    """The way of the logic's supply, as it was planned: from the motor's feed or its own source, through its regulator.

    Nothing where none is named: a wire straight from the motor's supply would put its volts on the board.
    """
    regulator = at.regulator
    if regulator is None:
        return _straight(at, feed)
    chain = at.build.supply.chain(regulator.id)
    own = chain[0].source != at.source.id
    plus = Terminal("logic source", "+") if own else feed
    minus = Terminal("logic source", "−") if own else Terminal("source", "−")
    rows: list[tuple[str, Terminal, Terminal, str, str]] = []
    for before in chain[:-1]:
        block = regulator_block(before.id, regulator.id)
        rows += [
            (f"{block}+", plus, Terminal(block, "in"), f"To {before.name or 'the regulator'}", "orange"),
            (f"{block}-", minus, Terminal(block, "GND"), GROUND, "black"),
        ]
        plus, minus = Terminal(block, "out"), Terminal(block, "GND")
    if regulator.place == "driver":
        return [*rows, *_from_the_driver(at, regulator)]
    if regulator.place == "board":
        rows.append(("logic+", plus, Terminal("controller", "V in"), "Logic supply", "orange"))
        if own or len(chain) > 1:
            rows.append(("logic-", minus, Terminal("controller", "GND"), GROUND, "black"))
        return rows
    volts = phrase(regulator.output_v.value, "voltage", "V") if regulator.output_v.value is not None else "logic"
    return [
        *rows,
        ("regulator+", plus, Terminal("regulator", "in"), "To the regulator", "orange"),
        ("regulator-", minus, Terminal("regulator", "GND"), GROUND, "black"),
        ("logic+", Terminal("regulator", "out"), Terminal("controller", volts), "Logic supply", "orange"),
        ("logic-", Terminal("regulator", "GND"), Terminal("controller", "GND"), GROUND, "black"),
    ]


def _straight(at: DriveContext, feed: Terminal) -> list[tuple[str, Terminal, Terminal, str, str]]:
    """A controller that hangs on a source as it is: by its USB socket, or at V in; nothing where none is named."""
    source = next((s for s in at.build.supply.sources if s.id == at.controller.regulator), None)
    if source is None:
        return []
    socket = "USB" if source.kind == "usb" else "V in"
    if source.id == at.source.id:
        return [("logic+", feed, Terminal("controller", socket), "Logic supply", "orange")]
    return [
        ("logic+", Terminal("logic source", "+"), Terminal("controller", socket), "Logic supply", "orange"),
        ("logic-", Terminal("logic source", "−"), Terminal("controller", "GND"), GROUND, "black"),
    ]


def _from_the_driver(at: DriveContext, regulator: Regulator) -> list[tuple[str, Terminal, Terminal, str, str]]:
    """The logic's feed out of the driver's own board; its ground is the driver's."""
    volts = phrase(regulator.output_v.value, "voltage", "V") if regulator.output_v.value is not None else "logic"
    return [("logic+", Terminal("driver", f"{volts} out"), Terminal("controller", volts), "Logic supply", "orange")]


def regulator_block(id: str, last: str) -> str:
    """What a regulator of the logic's way is called in the drawing: the last one has no number."""
    return "regulator" if id == last else f"regulator {id}"


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
