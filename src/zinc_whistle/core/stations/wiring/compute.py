"""The connection table made from the design: pins allotted by what they can do, wire sized, grounds joined."""

from __future__ import annotations

from dataclasses import dataclass, field

from ...algebra.limits import Check, claim, upper
from ...algebra.nodes import Constant, Figure
from ...cases.circuit import DriveCircuit
from ...cases.operating import DriveContext, WireFigures, wire
from ...cases.pins import PinUse, block_of
from ...cases.servo import ServoResult
from ...laws import wiring as rules
from ...model.build import ServoDrive

STATION = "wiring"
MOST_DENSITY = Constant("6 A/mm²", 6e6, "current density", "common practice, no source: short open wiring")
MOST_DROP = Constant("3 %", 0.03, "fraction", "common practice, no source")
GROUND = "ground"


@dataclass(frozen=True, slots=True)
class Terminal:
    """One end of a connection: the block it belongs to and the pin's name there."""

    block: str
    pin: str


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
    role: str


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
    """Sizes and drops of the power runs at the RMS current, pins, and every connection."""
    rms, nominal = at.rms_current, at.volts.nominal
    supply_drop = rules.pair_drop(at.supply_wire.resistance, rms, title="Drop, source to driver")
    motor_drop = rules.pair_drop(at.motor_wire.resistance, rms, title="Drop, driver to motor")
    connections = _connections(at, pins, rms, supply_drop, motor_drop)
    return WiringResult(
        connections=connections,
        pins=pins,
        supply_density=rules.current_density(rms, at.supply_wire.area, title="Current density, source to driver"),
        motor_density=rules.current_density(rms, at.motor_wire.area, title="Current density, driver to motor"),
        supply_drop=supply_drop,
        motor_drop=motor_drop,
        supply_drop_share=rules.drop_share(supply_drop, nominal),
        motor_drop_share=rules.drop_share(motor_drop, nominal),
        grounds=_ground_groups(connections),
    )


def _connections(
    at: DriveContext, pins: tuple[PinUse, ...], rms: Figure, supply_drop: Figure, motor_drop: Figure
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
        role: str,
        run: object,
        current: Figure | None = None,
        drop: Figure | None = None,
    ) -> None:
        gauge, length = run.gauge.value, run.length.value  # type: ignore[attr-defined]
        rows.append(
            Connection(
                id=id,
                start=start,
                end=end,
                signal=name,
                colour=colour,
                gauge=gauge,
                length_m=length,
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
        current=rms,
    )
    add(
        "fused+",
        start=Terminal("fuse", "out"),
        end=Terminal("driver", "V+"),
        name="Supply, fused",
        colour="red",
        role="power",
        run=supply,
        current=rms,
        drop=supply_drop,
    )
    add(
        "supply-",
        start=Terminal("source", "−"),
        end=Terminal("driver", "GND"),
        name=GROUND,
        colour="black",
        role="power",
        run=supply,
        current=rms,
    )
    add(
        "motor1",
        start=Terminal("driver", "OUT 1"),
        end=Terminal("motor", "M+"),
        name="Motor +",
        colour="yellow",
        role="motor",
        run=motor,
        current=rms,
        drop=motor_drop,
    )
    add(
        "motor2",
        start=Terminal("driver", "OUT 2"),
        end=Terminal("motor", "M−"),
        name="Motor −",
        colour="green",
        role="motor",
        run=motor,
        current=rms,
    )
    add(
        "logic+",
        start=Terminal("fuse", "out"),
        end=Terminal("controller", "V in"),
        name="Logic supply",
        colour="orange",
        role="logic",
        run=signal,
    )
    add(
        "ground",
        start=Terminal("driver", "GND"),
        end=Terminal("controller", "GND"),
        name=GROUND,
        colour="black",
        role="logic",
        run=signal,
    )
    colours = {"pwm": "blue", "digital": "violet", "interrupt": "white", "analogue": "pink"}
    for use in pins:
        if use.pin is None:
            continue
        block = block_of(use.signal)
        start, end = Terminal("controller", use.pin.label), Terminal(block, use.signal.removeprefix("ENC "))
        if block != "driver" or use.signal in ("SENSE", "FAULT"):
            start, end = end, start
        add(
            f"signal:{use.signal}",
            start=start,
            end=end,
            name=use.signal,
            colour="grey" if use.signal == "ENC B" else colours[use.needs],
            role="signal",
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


def checks(at: DriveContext, result: WiringResult) -> list[Check]:
    """One ground, every connection made, every signal on a pin that can carry it, wire large enough."""
    drive, wiring = at.drive.id, at.drive.wiring
    split = len(set(result.grounds.values())) > 1
    apart = sorted(b for b, r in result.grounds.items() if r != result.grounds.get("source"))
    missing = [c for c in result.connections if not c.made and c.signal != GROUND]
    refused = [u for u in result.pins if u.refusal]
    named = bool(at.part) or bool(result.pins)
    found: list[Check] = [
        claim(
            "wiring.ground",
            station=STATION,
            title="One common ground",
            holds=not split,
            todo=f"Join the ground of the {' and the '.join(apart)} to the battery's minus." if apart else "",
            drive=drive,
            where=f"{wiring.path}.left_out",
        ),
        claim(
            "wiring.made",
            station=STATION,
            title="Every connection is made",
            holds=not missing,
            todo=f"Still open: {', '.join(c.signal for c in missing[:4])}.",
            drive=drive,
            over="warn",
            where=f"{wiring.path}.left_out",
            destructive=False,
        ),
        claim(
            "wiring.pins",
            station=STATION,
            title="Every signal has a pin that can carry it",
            holds=(not refused) if named else None,
            todo="; ".join(f"{u.signal}: {u.refusal}" for u in refused) + ".",
            drive=drive,
            destructive=False,
            where=f"{wiring.path}.fixed_pins",
            unknown="Not known yet: choose a driver first.",
        ),
    ]
    assert result.supply_density and result.motor_density
    assert result.supply_drop and result.motor_drop
    runs: tuple[tuple[str, str, str, Figure, Figure, WireFigures], ...] = (
        (
            "supply",
            "source to driver",
            f"{at.unit.path}.supply_run",
            result.supply_density,
            rules.drop_share(result.supply_drop, at.volts.any),
            at.supply_wire,
        ),
        (
            "motor",
            "driver to motor",
            f"{wiring.path}.motor_run",
            result.motor_density,
            rules.drop_share(result.motor_drop, at.volts.any),
            at.motor_wire,
        ),
    )
    for code, words, path, density, share, _ in runs:
        found += [
            upper(
                f"wiring.{code}_density",
                station=STATION,
                title=f"Wire, {words}",
                stress=density,
                bound=MOST_DENSITY,
                todo="Take thicker wire (a smaller gauge number).",
                drive=drive,
                where=f"{path}.gauge",
            ),
            upper(
                f"wiring.{code}_drop",
                station=STATION,
                title=f"Drop, {words}",
                stress=share,
                bound=MOST_DROP,
                todo="Take thicker or shorter wire.",
                drive=drive,
                over="warn",
                where=f"{path}.length",
                destructive=False,
            ),
        ]
    return found


def for_servo(drive: ServoDrive, result: ServoResult, pins: tuple[PinUse, ...]) -> WiringResult:
    """Three wires: signal from the controller, plus from the rail, and the ground that both share."""
    left_out = set(drive.wiring.left_out)
    run = drive.wiring.signal_run
    worst = result.stall_current
    carrying = wire(run)
    rows = []

    def add(id: str, start: Terminal, end: Terminal, signal: str, colour: str, role: str, drop: Figure | None) -> None:
        rows.append(
            Connection(
                id=id,
                start=start,
                end=end,
                signal=signal,
                colour=colour,
                gauge=run.gauge.value,
                length_m=run.length.value,
                current=worst if drop is not None else None,
                drop=drop,
                made=id not in left_out,
                role=role,
            )
        )

    drop = rules.pair_drop(carrying.resistance, worst, title="Drop to the servo, stalled")
    add(
        "rail+",
        start=Terminal("source", "+"),
        end=Terminal("servo", "+ (middle)"),
        signal="Servo supply",
        colour="red",
        role="power",
        drop=drop,
    )
    add(
        "rail-",
        start=Terminal("source", "−"),
        end=Terminal("servo", "− (dark)"),
        signal=GROUND,
        colour="black",
        role="power",
        drop=None,
    )
    add(
        "ground",
        start=Terminal("source", "−"),
        end=Terminal("controller", "GND"),
        signal=GROUND,
        colour="black",
        role="logic",
        drop=None,
    )
    if pins[0].pin is not None:
        add(
            "signal:PULSE",
            start=Terminal("controller", pins[0].pin.label),
            end=Terminal("servo", "signal (light)"),
            signal="PULSE",
            colour="yellow",
            role="signal",
            drop=None,
        )
    connections = tuple(rows)
    return WiringResult(
        connections,
        pins,
        motor_drop=drop,
        motor_density=rules.current_density(worst, carrying.area, title="Current density to the servo, stalled"),
        motor_drop_share=rules.drop_share(drop, result.rail),
        grounds=_ground_groups(connections),
    )


def servo_checks(drive: ServoDrive, result: WiringResult) -> list[Check]:
    """Ground, pin and wire of a servo."""
    split = len(set(result.grounds.values())) > 1
    refused = [u for u in result.pins if u.refusal]
    density, share = result.motor_density, result.motor_drop_share
    assert density is not None and share is not None
    path = drive.wiring.path
    return [
        claim(
            "wiring.ground",
            station=STATION,
            title="One common ground",
            holds=not split,
            todo="Join the servo's dark wire, the rail's minus and the controller's ground.",
            drive=drive.id,
            where=f"{path}.left_out",
        ),
        claim(
            "wiring.pins",
            station=STATION,
            title="The pulse has a pin",
            holds=not refused,
            todo="; ".join(f"{u.signal}: {u.refusal}" for u in refused) + ".",
            drive=drive.id,
            destructive=False,
            where=f"{path}.fixed_pins",
        ),
        upper(
            "wiring.servo_density",
            station=STATION,
            title="Wire to the servo",
            stress=density,
            bound=MOST_DENSITY,
            todo="Take thicker wire (a smaller gauge number).",
            drive=drive.id,
            where=f"{path}.signal_run.gauge",
        ),
        upper(
            "wiring.servo_drop",
            station=STATION,
            title="Drop to the servo, stalled",
            stress=share,
            bound=MOST_DROP,
            todo="Take thicker or shorter wire.",
            drive=drive.id,
            over="warn",
            where=f"{path}.signal_run.length",
            destructive=False,
        ),
    ]
