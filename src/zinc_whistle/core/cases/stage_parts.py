"""What a stage is made of, as its circuit uses it: switches, gates and their times, the volts they see."""

from __future__ import annotations

from ..algebra.evaluators import Tracing
from ..algebra.nodes import Constant, Figure, Leaf, Node, presence
from ..algebra.rules import AsItIs
from ..algebra.units import KINDS
from ..laws import stage as stage_laws
from ..laws import switch as switch_laws
from ..laws.nothing import NO_AMPERES
from ..model.component import Component
from ..model.stage import BRIDGES, CIRCUITS, SLOTS, StageSpec, switch_kind
from ..model.transistors import Bjt, HalfBridgeModule, Mosfet
from . import arrange, bus, timer_circuit
from .arrange import Device, Gate, Times
from .operating import DriveContext
from .sources import SupplyWindow, window

NOTHING = {
    k: Constant(f"0 {u}", 0.0, k) for k, u in (("resistance", "Ω"), ("charge", "C"), ("time", "s"), ("voltage", "V"))
}


HALF = Constant("½", 0.5, "number")


ONE_PLACE = Constant("1", 1.0, "number")
PIN_OHM = Constant(
    "40 Ω", 40.0, "resistance", "common practice, no source: a pin that gives 20 mA is some 0.8 V off by then"
)


AS_IT_IS = AsItIs("the figure of the part that the circuit puts there")


def taken(k: Tracing, node: Node, title: str = "") -> Figure:
    """A part's own figure, resting on the choices that put the part there."""
    return AS_IT_IS(node, case=k.case, because=k.because, title=title or node.title, kind=node.kind.name)


def missing(stage: StageSpec, slot: str, kind: str) -> Leaf:
    """A figure of a part that is not chosen yet."""
    return Leaf(f"{stage.path}.{slot}", f"the {SLOTS[slot][0].lower()}", KINDS[kind], None)


def because_of(at: DriveContext, stage: StageSpec) -> list[Leaf]:
    """The choices that decide which rules apply."""
    named = ("circuit", "gates", "driven_by", "gate_fed", "gate_source")
    return [*(stage.chosen(n) for n in named), at.drive.signals.chosen("decay"), stage.parallel.leaf]


def threshold_of(part: Mosfet) -> Node:
    """The highest threshold: as its sheet tells it, or estimated from the lowest."""
    if part.threshold_max.value is not None:
        return part.threshold_max.leaf
    return stage_laws.highest_threshold(part.threshold.leaf, because=[presence(part.threshold_max.leaf)])


def drain_of(part: Mosfet) -> Node:
    """The charge at the plateau: as its sheet tells it, or its class's share of the switching charge."""
    if part.drain_charge.value is not None:
        return part.drain_charge.leaf
    return switch_laws.drain_charge(part.switching_charge.leaf, because=[presence(part.drain_charge.leaf)])


def _on_resistance(part: Mosfet, gate_v: Node | None) -> Node:
    """As specified, or estimated where the gate gets less than that takes."""
    if gate_v is None:
        return part.on_resistance.leaf
    return stage_laws.at_gate_volts(
        part.on_resistance.leaf,
        part.on_resistance_at.leaf,
        gate_v,
        threshold_of(part),
        title=part.on_resistance.leaf.title,
    )


def device_of(stage: StageSpec, part: Component | None, slot: str = "switch", gate_v: Node | None = None) -> Device:
    """A switch's figures as nodes, its gate at ``gate_v``; unknown ones where no part is chosen."""
    if isinstance(part, Bjt):
        return Device(
            on_resistance=NOTHING["resistance"],
            hot_factor=arrange.RATIO_ONE,
            limit=part.junction_limit.leaf,
            to_case=part.to_air.leaf,
            to_air=part.to_air.leaf,
            output=Constant("0 F", 0.0, "capacitance"),
            diode_v=part.saturation_v.leaf,
            saturation_v=part.saturation_v.leaf,
        )
    if isinstance(part, HalfBridgeModule):
        return Device(
            on_resistance=part.on_resistance.leaf,
            hot_factor=part.hot_factor.leaf,
            limit=part.junction_limit.leaf,
            to_case=part.to_case.leaf,
            to_air=part.to_air.leaf,
            output=Constant("0 F", 0.0, "capacitance"),
            diode_v=part.diode_v.leaf,
        )
    if isinstance(part, Mosfet):
        return Device(
            on_resistance=_on_resistance(part, gate_v),
            hot_factor=part.hot_factor.leaf,
            limit=part.junction_limit.leaf,
            to_case=part.to_case.leaf,
            to_air=part.to_air.leaf,
            output=part.output.leaf,
            diode_v=part.diode_v.leaf,
        )
    kinds = ("resistance", "ratio", "temperature", "thermal resistance", "thermal resistance", "capacitance", "voltage")
    return Device(*(missing(stage, slot, k) for k in kinds))


def fits(stage: StageSpec) -> bool:
    """Whether the chosen switch is of the class that the circuit needs."""
    return stage.switch is not None and stage.switch.kind == switch_kind(stage.circuit)


def _switch(stage: StageSpec) -> Component | None:
    return stage.switch if fits(stage) else None


def name_of(stage: StageSpec) -> str:
    """A stage in a few words."""
    number = int(stage.parallel.value or 1)
    times = f"{number} × " if number > 1 and isinstance(stage.switch, Mosfet) else ""
    switch = f": {times}{stage.switch.name}" if stage.switch is not None else ""
    return f"{CIRCUITS[stage.circuit].split(':')[0].split(',')[0]} of your own{switch}"


def gate_source(at: DriveContext, stage: StageSpec) -> SupplyWindow:
    """What the gate supply is made from: the motor's supply, or a source of its own."""
    if stage.gate_fed != "source":
        return at.volts
    found = next((s for s in at.build.supply.sources if s.id == stage.gate_source), None)
    if found is not None:
        return window(found)
    lack = Leaf(f"{stage.path}.gate_source", "the gate supply's source", KINDS["voltage"], None)
    return SupplyWindow(full=lack, nominal=lack, flat=lack, resistance=lack, any=lack)


def gate_supply(at: DriveContext, stage: StageSpec, k: Tracing) -> tuple[Figure, Figure]:
    """Gate volts at the highest and at the lowest."""
    nothing = NOTHING["voltage"]
    high: Node = stage.gate_v.leaf
    low = k(stage_laws.gate_supply_left, high, gate_source(at, stage).flat, stage.gate_dropout.leaf)
    if stage.driven_by == "pin":
        # A gate takes no steady current: the pin comes up to its own supply, not to its level under load.
        high = at.controller.logic_v.leaf
        lowest = timer_circuit.of_drive(at.build, at.drive).high if at.drive.signals.told_by == "timer" else high
        low = k(stage_laws.gate_supply_left, high, lowest, nothing)
    elif stage.gate_fed == "bus":
        high, low = at.volts.full, k(stage_laws.gate_supply_left, at.volts.flat, at.volts.flat, nothing)
    return taken(k, high, "Gate supply, at most"), low


def gate_of(at: DriveContext, stage: StageSpec, part: Component | None, drive_v: Node, slot: str = "switch") -> Gate:
    """A switch's gate and what drives it, as nodes."""
    shared: Node = ONE_PLACE if stage.gates == "channel" else stage.parallel.leaf
    driver = stage.gate_driver
    if isinstance(part, Mosfet):
        charge, plateau, inside = part.switching_charge.leaf, part.plateau.leaf, part.gate_resistance.leaf
        whole: Node = part.gate_charge.leaf
        drain = drain_of(part)
    else:
        charge, plateau, inside = (missing(stage, slot, k) for k in ("charge", "voltage", "resistance"))
        whole = drain = charge
    if stage.driven_by == "pin":
        pin = at.controller.pin_current.leaf
        # Charging it ends at what the pin may give; holding it down its own resistance counts.
        ohms: tuple[Node, Node] = (NOTHING["resistance"], PIN_OHM)
        amps: tuple[Node, Node] = (pin, pin)
    elif driver is not None:
        ohms, amps = (driver.source_ohm.leaf, driver.sink_ohm.leaf), (driver.source_a.leaf, driver.sink_a.leaf)
    else:
        lack = [missing(stage, "gate_driver", k) for k in ("resistance", "current")]
        ohms, amps = (lack[0], lack[0]), (lack[1], lack[1])
    off = stage.off_resistor.leaf if stage.off_resistor.value is not None else stage.gate_resistor.leaf
    return Gate(
        charge=charge,
        drain=drain,
        total=whole,
        plateau=plateau,
        inside=inside,
        drive_v=drive_v,
        on_resistor=stage.gate_resistor.leaf,
        off_resistor=off,
        source_ohm=ohms[0],
        sink_ohm=ohms[1],
        source_a=amps[0],
        sink_a=amps[1],
        shared=shared,
        tied=stage.gates == "tied",
    )


def _moved(on: Node, off: Node) -> Times:
    """The times of a switch without a gate to be charged: its sheet tells them whole."""
    return Times(on_a=NO_AMPERES, off_a=NO_AMPERES, on_s=on, off_s=off, edge_s=on, fall_s=on, delay_s=NOTHING["time"])


def _times(at: DriveContext, stage: StageSpec, k: Tracing, part: Component | None, gate: Gate) -> Times:
    if isinstance(part, Bjt):
        return _moved(part.fall_time.leaf, part.fall_time.leaf)
    if isinstance(part, HalfBridgeModule):
        return _moved(part.switching_time.leaf, NOTHING["time"])
    return arrange.gate_times(k, gate)


def highest_bus(at: DriveContext, stage: StageSpec, volts: Node) -> Node:
    """The highest that the switches see of a supply: after braking, where a bridge sends energy back."""
    return bus.highest_bus(at, stage.circuit in BRIDGES, volts)


def gate_at(at: DriveContext, stage: StageSpec, k: Tracing, volts: Node) -> Node:
    """Gate volts of a supply that has ``volts``."""
    if stage.driven_by == "pin":
        return at.controller.logic_v.leaf
    if stage.gate_fed == "bus":
        return volts
    if stage.gate_fed == "source":
        volts = gate_source(at, stage).any
    return k(stage_laws.gate_supply_left, stage.gate_v.leaf, volts, stage.gate_dropout.leaf)


def _any_gate(at: DriveContext, stage: StageSpec, k: Tracing) -> Node:
    """Gate volts whatever the supply then is."""
    return gate_at(at, stage, k, at.volts.any)


def lifts(stage: StageSpec) -> bool:
    """Whether something drives the gate above the supply."""
    return stage.driven_by == "driver" and stage.gate_driver is not None and stage.gate_driver.sides != "low"


def is_follower(stage: StageSpec) -> bool:
    """Whether the motor hangs on the source of a switch whose gate nothing lifts."""
    switch = stage.switch
    return stage.circuit == "high side" and isinstance(switch, Mosfet) and switch.channel == "N" and not lifts(stage)


def edges(at: DriveContext, stage: StageSpec, k: Tracing, gate_v: Node) -> tuple[Times, Times]:
    """How fast the lower and the upper switches are moved, whatever the supply then is."""
    part, upper = _switch(stage), stage.upper
    times = _times(at, stage, k, part, gate_of(at, stage, part, gate_v))
    if stage.circuit != "p/n bridge":
        return times, times
    clamped: Node = stage.clamp_v.leaf if stage.gate_clamp == "yes" else at.volts.any
    upper_v = k(stage_laws.gate_supply_left, clamped, at.volts.any, NOTHING["voltage"])
    return times, arrange.gate_times(k, gate_of(at, stage, upper, upper_v, "upper"))


def dead_time_needed(at: DriveContext, stage: StageSpec, moved: tuple[Times, Times] | None = None) -> Figure:
    """The slowest turn-off, its delay counted, and the gate driver's mismatch: what the dead time must cover."""
    k = Tracing("", because_of(at, stage))
    times, upper_times = moved or edges(at, stage, k, taken(k, _any_gate(at, stage, k), "Gate supply"))
    driver = stage.gate_driver
    mismatch = driver.mismatch.leaf if driver is not None else missing(stage, "gate_driver", "time")
    lower, upper = (k(switch_laws.until_off, t.delay_s, t.off_s) for t in (times, upper_times))
    slowest = k(switch_laws.of_any_part, k(stage_laws.slower, lower, upper))
    return k(switch_laws.dead_time, slowest, mismatch)


def rating_of(stage: StageSpec, k: Tracing, switch: Component | None) -> Figure:
    """The voltage that the switches bear: of the weaker kind where there are two."""
    own: Node = missing(stage, "switch", "voltage")
    if isinstance(switch, Bjt):
        own = switch.v_ceo.leaf
    elif isinstance(switch, HalfBridgeModule):
        own = switch.v_max.leaf
    elif isinstance(switch, Mosfet):
        own = switch.v_ds.leaf
    if stage.circuit == "p/n bridge":
        return k(stage_laws.weaker, own, stage.upper.v_ds.leaf if stage.upper else missing(stage, "upper", "voltage"))
    return taken(k, own, "Voltage that the switches bear")
