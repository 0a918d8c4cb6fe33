"""A stage built from transistors, worked out whole, and seen as a driver part by the rest of the build."""

from __future__ import annotations

from typing import Any

from ..algebra.evaluators import Tracing
from ..algebra.nodes import Constant, Figure, Leaf, Node
from ..algebra.units import KINDS
from ..laws import driver as driver_rules
from ..laws import heat as heat_laws
from ..laws import stage as stage_laws
from ..laws import switch as switch_laws
from ..laws.signals import antiphase_duty
from ..model.component import Component
from ..model.driver import DriverPart, PartKind
from ..model.given import bind, computed_given
from ..model.stage import DIODE_CIRCUITS, ONE_WAY, STAGE_INPUTS, StageSpec
from ..model.transistors import Bjt, HalfBridgeModule, Mosfet
from . import arrange, chopping, heating
from .arrange import Cooling, Surround
from .circuit import DriveCircuit, Follower, solve
from .driving import Driving, Heat
from .materials import materials
from .operating import DriveContext
from .stage_parts import (
    NOTHING,
    ONE_PLACE,
    _any_gate,
    _switch,
    _times,
    because_of,
    device_of,
    edges,
    gate_at,
    gate_of,
    gate_supply,
    highest_bus,
    is_follower,
    missing,
    name_of,
    rating_of,
    taken,
)
from .stage_result import StageAnywhere, StageResult, busiest

KINDS_SEEN: dict[str, PartKind] = {
    "low side": "mosfet switch",
    "bipolar low side": "bjt switch",
    "high side": "mosfet switch",
    "relay pair": "relay pair",
    "crossed relay": "relay pair",
    "modules": "half-bridge pair",
}
"""As which kind of part a stage is seen; all others as a discrete bridge."""


def evaluate(at: DriveContext) -> Driving:
    """Work the unit's stage out. Figures are unknown where a part is not chosen yet."""
    stage = at.unit.stage
    part = _way_part(at, stage)
    solved = solve(at, part, _follower(at, stage))
    result = compute(at, stage, solved)
    heat = _heat(result)
    _rate(part, at, stage, result, heat)
    return Driving(part=part, circuit=solved, heat=heat, result=result)


def _follower(at: DriveContext, stage: StageSpec) -> Follower | None:
    """What the motor gets that hangs on a switch's source: the gate's volts less those that its current needs."""
    if not is_follower(stage):
        return None
    assert isinstance(stage.switch, Mosfet)
    k, plateau = Tracing("stage", because_of(at, stage)), stage.switch.plateau.leaf

    def gives(volts: Node) -> Node:
        return k(stage_laws.follower_volts, taken(k, gate_at(at, stage, k, volts), "Gate supply"), plateau)

    return gives


def _way_part(at: DriveContext, stage: StageSpec) -> DriverPart:
    """The stage as a part, as far as the motor's circuit must know it."""
    k = Tracing("stage", because_of(at, stage))
    part = DriverPart(id="stage", name=name_of(stage)[:80], kind=KINDS_SEEN.get(stage.circuit, "discrete bridge"))
    bind(part, f"{at.unit.path}.seen")
    switch = _switch(stage)
    device = device_of(stage, switch, gate_v=gate_supply(at, stage, k)[1])
    number = stage.parallel.leaf if switch is None or isinstance(switch, Mosfet) else ONE_PLACE
    one = k(stage_laws.in_parallel, device.on_resistance, number)
    factor: Node = device.hot_factor
    if stage.circuit in ("full bridge", "modules"):
        one = k(stage_laws.in_series, one, one)
    elif stage.circuit == "p/n bridge":
        upper = device_of(stage, stage.upper, "upper")
        one = k(stage_laws.in_series, one, k(stage_laws.in_parallel, upper.on_resistance, number))
        factor = k(stage_laws.worse_factor, device.hot_factor, upper.hot_factor)
    part.on_resistance, part.hot_factor = computed_given(one), computed_given(factor)
    if isinstance(switch, Bjt):
        part.drop_v = computed_given(switch.saturation_v.leaf)
    return part


def _lag(k: Tracing, device: arrange.Device, capacity: Node, cooling: Cooling) -> heating.Lag:
    """How a switch warms up: what lies between junction and sink quickly, the sink or the air round it slowly."""
    way, inner, slow = arrange.thermal_way(k, device, cooling), device.to_case, cooling.settles
    if cooling.sink is None:
        slow = k(heat_laws.settling_time, device.to_air, capacity)
    else:
        inner = k(heat_laws.to_sink, inner, cooling.pad)
    return heating.Lag(
        share=k(heat_laws.quick_share, inner, way),
        quick=k(heat_laws.settling_time, inner, capacity, title="Time constant, junction to sink"),
        slow=slow,
        because=k.because,
    )


def _heating(at: DriveContext, stage: StageSpec, cooling: Cooling) -> Figure:
    """The current that heats the switches as much as the worst moment of the duty; of two kinds, the quicker one's."""
    k = Tracing("", because_of(at, stage))

    def of(part: Component | None, slot: str) -> Figure:
        held = part.heat_capacity.leaf if isinstance(part, Mosfet | Bjt | HalfBridgeModule) else None
        capacity = held or missing(stage, slot, "heat capacity")
        return heating.heating(at, _lag(k, device_of(stage, part, slot), capacity, cooling))

    own = of(_switch(stage), "switch")
    if stage.circuit != "p/n bridge":
        return own
    return k(driver_rules.worst_of, own, of(stage.upper, "upper"), title="Current, as its heat counts it")


def _anywhere(at: DriveContext, stage: StageSpec, solved: DriveCircuit, sigma: Node, cooling: Cooling) -> StageAnywhere:
    """The stage at every corner: heat, gates and times from one supply, duty and air at a time."""
    k = Tracing("", because_of(at, stage))
    part, upper = _switch(stage), stage.upper
    gate_v = taken(k, _any_gate(at, stage, k), "Gate supply")
    device, upper_device = device_of(stage, part, gate_v=gate_v), device_of(stage, upper, "upper")
    apart = stage.driven_by == "driver" and stage.gate_fed != "bus"
    top = taken(k, stage.gate_v.leaf, "Gate supply, at most") if apart else gate_v
    times, upper_times = edges(at, stage, k, gate_v)
    clamped: Node = at.volts.any
    if stage.gate_clamp == "yes":
        clamped = k(stage_laws.clamped_gate, clamped, stage.clamp_v.leaf)
    duty = k(stage_laws.within_period, solved.anywhere.duty)
    decay = at.drive.signals.decay
    if decay == "locked anti-phase":
        duty = k(antiphase_duty, duty)
    number = stage.parallel.leaf if part is None or isinstance(part, Mosfet) else ONE_PLACE
    around = Surround(
        air=at.board_air,
        bus=at.volts.any,
        current=chopping.in_the_switch(at.at_any_speed(_heating(at, stage, cooling)), solved.anywhere.duty),
        frequency=at.plan.any_frequency,
        duty=duty,
        dead_time=part.dead_time.leaf if isinstance(part, HalfBridgeModule) else stage.dead_time.leaf,
        recovery=_recovery(stage, k, part, number),
    )
    allowed: Figure | None = None
    for plan in arrange.plans(stage.circuit, decay):
        own, moved = (upper_device, upper_times) if plan.upper else (device, times)
        way = arrange.thermal_way(k, own, cooling)
        here = arrange.allowed_current(k, plan=plan, device=own, times=moved, way=way, around=around, sigma=sigma)
        allowed = here if allowed is None else k(stage_laws.lesser, allowed, here)
    assert allowed is not None
    return StageAnywhere(
        around=around,
        bus=highest_bus(at, stage, at.volts.any),
        gate=gate_v,
        gate_top=top,
        fastest=_times(at, stage, k, part, gate_of(at, stage, part, top)),
        upper_gate=clamped,
        times=times,
        upper_times=upper_times,
        allowed=allowed,
        gate_power=_gate_power(k, part, top, at),
        pulsed=solved.anywhere.duty,
    )


def compute(at: DriveContext, stage: StageSpec, solved: DriveCircuit) -> StageResult:
    """All figures of a stage: hottest air, supply full for switching, supply flat for the share of the period."""
    k = Tracing("hottest air", because_of(at, stage))
    part, upper = _switch(stage), stage.upper
    high, low = gate_supply(at, stage, k)
    device, upper_device = device_of(stage, part, gate_v=low), device_of(stage, upper, "upper")
    number = stage.parallel.leaf if part is None or isinstance(part, Mosfet) else ONE_PLACE
    sigma = k(stage_laws.busiest_share, number, stage.spread.leaf)
    gate = gate_of(at, stage, part, low)
    times = _times(at, stage, k, part, gate)
    clamped: Node = at.volts.full
    if stage.gate_clamp == "yes":
        clamped = k(stage_laws.clamped_gate, clamped, stage.clamp_v.leaf)
    upper_gate = gate_of(
        at, stage, upper, k(stage_laws.gate_supply_left, clamped, at.volts.flat, NOTHING["voltage"]), "upper"
    )
    upper_times = arrange.gate_times(k, upper_gate) if stage.circuit == "p/n bridge" else times
    duty = k(stage_laws.within_period, solved.duty_flat)
    decay = at.drive.signals.decay
    if decay == "locked anti-phase":
        duty = k(antiphase_duty, duty)
    places = arrange.plans(stage.circuit, decay)
    hot = Constant(str(len(places)), float(len(places)), "number")
    count = k(stage_laws.on_the_sink, number, hot)
    sink = stage.heat_sink
    cooling = Cooling(sink.to_air.leaf, stage.pad.leaf, count, sink.settle_time.leaf) if sink is not None else Cooling()
    current = chopping.in_the_switch(_heating(at, stage, cooling), solved.duty_flat)
    around = Surround(
        air=at.board_hot,
        bus=at.volts.full,
        current=current,
        frequency=at.plan.frequency,
        duty=duty,
        dead_time=part.dead_time.leaf if isinstance(part, HalfBridgeModule) else stage.dead_time.leaf,
        recovery=_recovery(stage, k, part, number),
    )
    heats = []
    for plan in places:
        own, moved = (upper_device, upper_times) if plan.upper else (device, times)
        heats.append(
            arrange.place_heat(
                k,
                plan=plan,
                device=own,
                times=moved,
                way=arrange.thermal_way(k, own, cooling),
                around=around,
                sigma=sigma,
            )
        )
    worst = busiest(heats)
    own = upper_device if worst.plan.upper else device
    needed = k(stage_laws.sink_for, own.limit, around.air, worst.heat, own.to_case, stage.pad.leaf, count)
    return StageResult(
        spec=stage,
        around=around,
        sigma=sigma,
        current=k(stage_laws.busiest_current, current, sigma),
        duty=duty,
        gate=gate,
        gate_low=low,
        gate_high=high,
        upper_gate=clamped,
        times=times,
        upper_times=upper_times,
        places=tuple(heats),
        number=number,
        count=count,
        sink_needed=needed,
        highest_bus=highest_bus(at, stage, at.volts.full),
        gate_power=_gate_power(k, part, high, at),
        extras=(*_extras(k, stage, part, around), *_sense(k, at, stage)),
        materials=materials(stage, at.drive.signals.timer if at.drive.signals.told_by == "timer" else None),
        anywhere=_anywhere(at, stage, solved, sigma, cooling),
    )


def _gate_power(k: Tracing, part: Component | None, high: Node, at: DriveContext) -> Figure:
    charge: Node = part.gate_charge.leaf if isinstance(part, Mosfet) else NOTHING["charge"]
    return k(switch_laws.gate_power, charge, high, at.plan.frequency)


def _sense(k: Tracing, at: DriveContext, stage: StageSpec) -> tuple[Figure, ...]:
    """What the converter reads at work, and the current of one of its counts."""
    if stage.shunt.value is None:
        return ()
    bits, full = at.controller.sense_bits.leaf, at.controller.sense_reference.leaf
    volts = k(switch_laws.shunt_volts, at.working_current, stage.shunt.leaf)
    return (
        k(switch_laws.converter_counts, volts, stage.sense_gain.leaf, full, bits, title="Converter counts at work"),
        k(switch_laws.current_step, full, bits, stage.sense_gain.leaf, stage.shunt.leaf),
    )


def _extras(k: Tracing, stage: StageSpec, part: Component | None, around: Surround) -> tuple[Figure, ...]:
    if not isinstance(part, Mosfet):
        return ()
    capacitor = k(switch_laws.snubber_capacitor, switch_laws.FOUR, part.output.leaf)
    limit, way, ohms, factor = (x.leaf for x in (part.junction_limit, part.to_air, part.on_resistance, part.hot_factor))
    found = [
        k(switch_laws.snubber_resistor, stage.loop.leaf, part.output.leaf),
        capacitor,
        k(switch_laws.snubber_heat, capacitor, around.bus, around.frequency),
        k(
            switch_laws.allowed_current,
            limit,
            around.air,
            way,
            ohms,
            factor,
            title="One transistor alone, free in the air",
        ),
    ]
    if factor.value and factor.value > 1:
        found.append(
            k(switch_laws.runaway_current, limit, way, ohms, factor, title="One transistor alone runs away above")
        )
    return tuple(found)


def _recovery(stage: StageSpec, k: Tracing, part: Component | None, number: Node) -> Node:
    """What the switch that turns on must recover, for each of its transistors."""
    if stage.circuit in DIODE_CIRCUITS:
        diode = stage.diode
        return k(stage_laws.charge_share, diode.recovery.leaf if diode else missing(stage, "diode", "charge"), number)
    return part.recovery.leaf if isinstance(part, Mosfet) else NOTHING["charge"]


def _heat(result: StageResult) -> Heat:
    """The stage's heat as the driver's checks want it: sums over all places, the hottest junction."""
    k = Tracing("hottest air", result.places[0].allowed.because)
    number = result.number
    junction, allowed = result.places[0].junction, result.places[0].allowed
    for place in result.places[1:]:
        junction, allowed = k(stage_laws.hotter, junction, place.junction), k(stage_laws.lesser, allowed, place.allowed)
    conduction = switching = apart = None
    for place in result.places:
        own = k(stage_laws.of_place, place.conduction, number)
        rest = k(stage_laws.of_place, k(stage_laws.other_losses, place.linear, place.fixed), number)
        moved = k(stage_laws.of_place, place.switching, number)
        conduction = (
            own if conduction is None else k(stage_laws.heat_sum, conduction, own, title="Conduction, all switches")
        )
        switching = (
            moved if switching is None else k(stage_laws.heat_sum, switching, moved, title="Switching, all switches")
        )
        apart = rest if apart is None else k(stage_laws.heat_sum, apart, rest)
    assert conduction is not None and switching is not None and apart is not None
    return Heat(
        conduction=conduction,
        switching=switching,
        fixed=apart,
        total=k(stage_laws.heat_sum, conduction, apart, title="Heat of the stage"),
        junction=junction,
        current=result.around.current,
        any_current=result.anywhere.around.current,
        allowed_current=allowed,
        any_allowed=result.anywhere.allowed,
    )


def _rate(part: DriverPart, at: DriveContext, stage: StageSpec, result: StageResult, heat: Heat) -> None:
    """Fill in what the stage can do, where a part of the shelf would tell it from its sheet."""
    k = Tracing("stage", because_of(at, stage))
    switch, circuit, driver = _switch(stage), stage.circuit, stage.gate_driver
    part.input_style = STAGE_INPUTS.get(circuit, "one input")  # type: ignore[assignment]
    part.reverses = "no" if circuit in (*ONE_WAY, "half bridge") else "yes"
    part.brakes = "no" if circuit in (*ONE_WAY, "crossed relay") else "yes"
    part.diodes = "no" if circuit in DIODE_CIRCUITS else "yes"
    part.price = computed_given(result.materials.price)
    bus_fed = stage.gate_fed == "bus" and driver is not None
    lowest: Node = driver.supply_min.leaf if driver is not None and bus_fed else NOTHING["voltage"]
    part.v_min = computed_given(taken(k, lowest, "Motor supply, lowest"))
    part.v_max = part.v_absolute = computed_given(rating_of(stage, k, switch))
    part.continuous_a, part.continuous_condition = (
        computed_given(heat.allowed_current),
        "the hottest air, as computed here",
    )
    part.peak_a = computed_given(_peak(stage, k, switch, result))
    part.peak_time = computed_given(_bears(at, stage=stage, k=k, switch=switch, result=result, heat=heat))
    limit: Node = k(stage_laws.fastest, result.times.on_s, result.times.off_s)
    if isinstance(switch, HalfBridgeModule):
        limit = taken(k, switch.pwm_limit.leaf)
        if switch.sense_gain.value is not None:
            part.sense_gain = switch.sense_gain
    part.pwm_limit = computed_given(limit)
    if isinstance(switch, Bjt):
        base = k(switch_laws.base_current, at.controller.output_high.leaf, switch.base_v.leaf, stage.base_resistor.leaf)
        part.input_current = computed_given(base)
    part.input_high = computed_given(taken(k, _input_high(stage, switch, part), "Input high, at least"))
    if stage.shunt.value is not None:
        part.sense_gain = computed_given(k(stage_laws.sense_gain, stage.shunt.leaf, stage.sense_gain.leaf))


def _input_high(stage: StageSpec, switch: Component | None, part: DriverPart) -> Node:
    """What the controller's pin must give: to a module, a base, a gate, or a gate driver."""
    if isinstance(switch, HalfBridgeModule):
        return switch.input_high.leaf
    if isinstance(switch, Bjt):
        return switch.base_v.leaf
    if stage.driven_by == "pin" and isinstance(switch, Mosfet):
        return NOTHING["voltage"]
    return stage.gate_driver.input_high.leaf if stage.gate_driver is not None else part.input_high.leaf


def _peak(stage: StageSpec, k: Tracing, switch: Component | None, result: StageResult) -> Figure:
    if isinstance(switch, Bjt):
        return taken(k, switch.collector_a.leaf)
    if isinstance(switch, HalfBridgeModule):
        return taken(k, switch.peak_a.leaf)
    own = switch.package_a.leaf if isinstance(switch, Mosfet) else missing(stage, "switch", "current")
    return k(stage_laws.peak_of_packages, own, result.sigma)


def _bears(
    at: DriveContext, stage: StageSpec, k: Tracing, switch: Component | None, result: StageResult, heat: Heat
) -> Node:
    """How long the busiest transistor bears the stall current, starting from its junction at work."""
    if switch is None:
        return missing(stage, "switch", "time")
    device = device_of(stage, switch, gate_v=result.gate_low)
    ohms, factor = device.on_resistance, device.hot_factor
    own = k(stage_laws.busiest_current, at_stall(at), result.sigma, title="Stall current of the busiest switch")
    if isinstance(switch, Bjt):
        return Leaf(f"{stage.path}.switch.overload", "how long a bipolar transistor bears a stall", KINDS["time"], None)
    capacity: Any = switch.heat_capacity.leaf  # type: ignore[attr-defined]
    return k(stage_laws.overload_time, capacity, device.limit, heat.junction, own, ohms, factor)


def at_stall(at: DriveContext) -> Figure:
    """Stall current with nothing but the feed and the winding in the way: an upper bound."""
    winding = getattr(at, "winding_cold", None)
    if winding is None:
        return at.starting_current
    return driver_rules.stall_in_circuit(
        at.volts.full,
        NOTHING["voltage"],
        NOTHING["voltage"],
        driver_rules.loop_resistance(
            at.volts.resistance, at.supply_wire.resistance, NOTHING["resistance"], at.motor_wire.resistance, winding
        ),
        case="upper bound",
    )
