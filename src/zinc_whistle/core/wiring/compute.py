"""The connection table made from the design: pins allotted by what they can do, wire sized, grounds joined."""

from __future__ import annotations

from dataclasses import dataclass, field

from .. import findings as f
from ..findings import Finding
from ..operating import Circuit, Context, Wire
from ..signals.spec import Pin
from ..signals.truth import truth_table
from ..working import Constant, Figure
from . import rules

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
class PinUse:
    """A signal on a controller pin: what it needs, the pin it got, and why not if it got none."""

    signal: str
    needs: str
    pin: Pin | None
    fixed: bool
    refusal: str = ""


@dataclass(frozen=True, slots=True)
class WiringResult:
    """Connections, pins, and the figures of the two power runs."""

    connections: tuple[Connection, ...]
    pins: tuple[PinUse, ...]
    supply_density: Figure
    motor_density: Figure
    supply_drop: Figure
    motor_drop: Figure
    supply_drop_share: Figure
    motor_drop_share: Figure
    grounds: dict[str, str] = field(default_factory=dict)


def compute(at: Context, solved: Circuit) -> WiringResult:
    """Sizes and drops of the power runs at the RMS current, pins, and every connection."""
    rms, nominal = at.load.rms_current, at.source.nominal_v.leaf
    supply_drop = rules.pair_drop(at.supply_wire.resistance, rms, title="Drop, source to driver")
    motor_drop = rules.pair_drop(at.motor_wire.resistance, rms, title="Drop, driver to motor")
    pins = allot(at)
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


def needed(at: Context) -> list[tuple[str, str]]:
    """The signals that this drive asks of its controller, and what a pin must do for each."""
    wanted: list[tuple[str, str]] = []
    part = at.unit.part
    if part is not None:
        table = truth_table(part.input_style, at.drive.signals.decay)
        wanted += list(zip(table.names, table.needs, strict=True))
        if part.sense_gain.value is not None:
            wanted.append(("SENSE", "analogue"))
    if at.drive.encoder.fitted == "yes":
        kind = "interrupt" if at.drive.encoder.method == "interrupt" else "digital"
        wanted += [("ENC A", kind), ("ENC B", kind)]
    return wanted


def allot(at: Context) -> tuple[PinUse, ...]:
    """Pins by capability: the builder's own first, then the least able pin that will do.

    A PWM signal needs a pin of the planned timer; a boot-strapping pin is used last.
    """
    controller, timer = at.controller, at.plan.timer
    fixed = {p.signal: p.pin for p in at.drive.wiring.fixed_pins}
    by_id = {p.id: p for p in controller.pins}
    taken = {pin for signal, pin in fixed.items() if pin in by_id and signal in dict(needed(at))}
    uses: list[PinUse] = []
    for signal, need in needed(at):
        timer_id = timer.id if timer is not None and need == "pwm" else ""
        if signal in fixed:
            uses.append(_fixed(signal, need, timer_id, by_id.get(fixed[signal]), fixed))
            continue
        able = [p for p in controller.pins if p.id not in taken and not _refuse(p, need, timer_id)]
        able.sort(key=lambda p: ("boot" in p.can, len(p.can)))
        pin = able[0] if able else None
        if pin is not None:
            taken.add(pin.id)
        uses.append(PinUse(signal, need, pin, False, "" if pin else f"no free pin can do {_ability(need)}"))
    return tuple(uses)


def _fixed(signal: str, need: str, timer: str, pin: Pin | None, fixed: dict[str, str]) -> PinUse:
    if pin is None:
        return PinUse(signal, need, None, True, "the pin that was fixed is not on this controller")
    double = [s for s, p in fixed.items() if p == pin.id and s != signal]
    refusal = f"{pin.label} also carries {double[0]}" if double else _refuse(pin, need, timer)
    return PinUse(signal, need, pin, True, refusal)


def _ability(need: str) -> str:
    return {"pwm": "PWM from the planned timer", "interrupt": "interrupts", "analogue": "analogue input"}.get(
        need, need
    )


def _refuse(pin: Pin, need: str, timer: str) -> str:
    if need not in pin.can:
        return f"{pin.label} cannot do {_ability(need)}"
    if timer and pin.timer != timer:
        return f"{pin.label} hangs on another timer than the one planned"
    return ""


def _connections(
    at: Context, pins: tuple[PinUse, ...], rms: Figure, supply_drop: Figure, motor_drop: Figure
) -> tuple[Connection, ...]:
    left_out = set(at.drive.wiring.left_out)
    unit, wiring = at.unit, at.drive.wiring
    supply, motor, signal = unit.supply_run, wiring.motor_run, wiring.signal_run
    rows: list[Connection] = []

    def add(id: str, start: Terminal, end: Terminal, name: str, colour: str, role: str, run: object,
            current: Figure | None = None, drop: Figure | None = None) -> None:  # fmt: skip
        gauge, length = run.gauge.value, run.length.value  # type: ignore[attr-defined]
        rows.append(Connection(id, start, end, name, colour, gauge, length, current, drop, id not in left_out, role))

    add("supply+", Terminal("source", "+"), Terminal("fuse", "in"), "Supply", "red", "power", supply, rms)
    add(
        "fused+",
        Terminal("fuse", "out"),
        Terminal("driver", "V+"),
        "Supply, fused",
        "red",
        "power",
        supply,
        rms,
        supply_drop,
    )
    add("supply-", Terminal("source", "−"), Terminal("driver", "GND"), GROUND, "black", "power", supply, rms)
    add(
        "motor1",
        Terminal("driver", "OUT 1"),
        Terminal("motor", "M+"),
        "Motor +",
        "yellow",
        "motor",
        motor,
        rms,
        motor_drop,
    )
    add(
        "motor2",
        Terminal("driver", "OUT 2"),
        Terminal("motor", "M−"),
        "Motor −",
        "green",
        "motor",
        motor,
        rms,
    )
    add(
        "logic+",
        Terminal("fuse", "out"),
        Terminal("controller", "V in"),
        "Logic supply",
        "orange",
        "logic",
        signal,
    )
    add("ground", Terminal("driver", "GND"), Terminal("controller", "GND"), GROUND, "black", "logic", signal)
    colours = {"pwm": "blue", "digital": "violet", "interrupt": "white", "analogue": "pink"}
    for use in pins:
        if use.pin is None:
            continue
        block = "encoder" if use.signal.startswith("ENC") else "driver"
        start, end = Terminal("controller", use.pin.label), Terminal(block, use.signal.removeprefix("ENC "))
        if block == "encoder" or use.signal == "SENSE":
            start, end = end, start
        add(
            f"signal:{use.signal}",
            start,
            end,
            use.signal,
            "grey" if use.signal == "ENC B" else colours[use.needs],
            "signal",
            signal,
        )
    if at.drive.encoder.fitted == "yes":
        add("encoder+", Terminal("controller", "5 V" if (at.controller.logic_v.value or 5) > 4 else "3.3 V"),
            Terminal("encoder", "V+"), "Encoder supply", "brown", "logic", signal)  # fmt: skip
        add(
            "encoder-",
            Terminal("controller", "GND"),
            Terminal("encoder", "GND"),
            GROUND,
            "black",
            "logic",
            signal,
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


def checks(at: Context, result: WiringResult) -> list[Finding]:
    """One ground, every connection made, every signal on a pin that can carry it, wire large enough."""
    drive, wiring = at.drive.id, at.drive.wiring
    split = len(set(result.grounds.values())) > 1
    apart = sorted(b for b, r in result.grounds.items() if r != result.grounds.get("source"))
    missing = [c for c in result.connections if not c.made and c.signal != GROUND]
    refused = [u for u in result.pins if u.refusal]
    named = bool(at.unit.part) or bool(result.pins)
    found = [
        f.yes_no("wiring.ground", STATION, "One common ground", not split,
                 f"Join the ground of the {' and the '.join(apart)} to the battery's minus." if apart else "", drive=drive,
                 where=f"{wiring.path}.left_out"),
        f.yes_no("wiring.made", STATION, "Every connection is made", not missing,
                 f"Still open: {', '.join(c.signal for c in missing[:4])}.", drive=drive, over="warn",
                 where=f"{wiring.path}.left_out", destructive=False),
        f.yes_no("wiring.pins", STATION, "Every signal has a pin that can carry it", (not refused) if named else None,
                 "; ".join(f"{u.signal}: {u.refusal}" for u in refused) + ".", drive=drive, destructive=False,
                 where=f"{wiring.path}.fixed_pins", unknown="Not known yet: choose a driver first."),
    ]  # fmt: skip
    runs: tuple[tuple[str, str, str, Figure, Figure, Wire], ...] = (
        (
            "supply",
            "source to driver",
            f"{at.unit.path}.supply_run",
            result.supply_density,
            result.supply_drop_share,
            at.supply_wire,
        ),
        (
            "motor",
            "driver to motor",
            f"{wiring.path}.motor_run",
            result.motor_density,
            result.motor_drop_share,
            at.motor_wire,
        ),
    )
    for code, words, path, density, share, _ in runs:
        found += [
            f.upper(f"wiring.{code}_density", STATION, f"Wire, {words}", density, MOST_DENSITY,
                    "Take thicker wire (a smaller gauge number).", drive=drive, where=f"{path}.gauge"),
            f.upper(f"wiring.{code}_drop", STATION, f"Drop, {words}", share, MOST_DROP,
                    "Take thicker or shorter wire.", drive=drive, over="warn", where=f"{path}.length", destructive=False),
        ]  # fmt: skip
    return found
