"""All specs of a drive solved together for the named operating cases, with one driver part or none.

Physics is cyclic (a ramp decides the peak, the wire's drop decides the motor's volts), so this stands before
the stations: supply full or flat; start, working, stall, reverse, brake; winding cold or hot.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TypeVar

from .build import Build, MotorDrive
from .driver import rules as driver_rules
from .driver.spec import DriverPart, DriverUnit
from .load.compute import LoadResult
from .load.compute import compute as compute_load
from .motor import rules as motor_rules
from .motor.compute import Constants, constants
from .signals.plan import TimerPlan, plan_for
from .signals.spec import Controller
from .spec import Item, bind
from .supply import rules as supply_rules
from .supply.spec import Regulator, Source
from .wiring import rules as wire_rules
from .wiring.spec import Run
from .working import Constant, Figure, Leaf, Node, presence

NO_OHMS = Constant("0 Ω", 0.0, "resistance")
NO_VOLTS = Constant("0 V", 0.0, "voltage")


@dataclass(frozen=True, slots=True)
class Wire:
    """A run of wire: what its gauge and length make of it."""

    diameter: Figure
    area: Figure
    per_length: Figure
    resistance: Figure


def wire(run: Run) -> Wire:
    """Diameter, area and resistance of a pair."""
    diameter = wire_rules.wire_diameter(run.gauge.leaf)
    area = wire_rules.wire_area(diameter)
    per_length = wire_rules.resistance_per_length(area)
    return Wire(diameter, area, per_length, wire_rules.pair_resistance(per_length, run.length.leaf))


@dataclass(frozen=True, slots=True)
class Context:
    """One drive with the parts of the build that it uses, and what holds whichever driver is chosen."""

    build: Build
    drive: MotorDrive
    unit: DriverUnit
    source: Source
    controller: Controller
    regulator: Regulator | None
    motor: Constants
    load: LoadResult
    plan: TimerPlan
    supply_wire: Wire
    motor_wire: Wire
    feed_resistance: Figure
    winding_cold: Figure
    winding_hot: Figure
    links: tuple[Leaf, ...]
    sharing: tuple[Context, ...] = ()
    """The other drives on the same driver unit, whose heat it carries too."""


@dataclass(frozen=True, slots=True)
class Circuit:
    """The drive's operating cases with one part in the circuit."""

    stall_full: Figure
    stall_flat: Figure
    reversal: Figure
    braking: Figure
    peak: Figure
    planned_peak: Figure
    top_speed_full: Figure
    top_speed_flat: Figure
    motor_volts: Figure
    duty_full: Figure
    duty_nominal: Figure
    duty_flat: Figure
    source_current: Figure
    bus_working: Figure
    bus_start: Figure
    bus_jam: Figure
    driver_drop: Figure
    inner_resistance: Figure
    lost_volts: Figure


T = TypeVar("T", bound=Item)


def _named(items: list[T], wanted: str, blank: type[T], path: str) -> T:
    found = next((item for item in items if item.id == wanted), None)
    if found is None:
        found = blank(id="none")
        bind(found, f"{path}.none")
    return found


def context(build: Build, drive: MotorDrive) -> Context:
    """Find the unit, source and controller that the drive names (blank ones where it names none) and solve."""
    unit = _named(build.units, drive.unit, DriverUnit, "units")
    source = _named(build.supply.sources, unit.source, Source, "supply.sources")
    controller = _named(build.controllers, drive.controller, Controller, "controllers")
    regulator = next((r for r in build.supply.regulators if r.id == controller.regulator), None)
    motor = constants(drive.motor)
    load = compute_load(drive.load, motor, drive.motor.rotor_inertia.leaf, drive.signals.ramp_time.leaf)
    supply_wire, motor_wire = wire(unit.supply_run), wire(drive.wiring.motor_run)
    return Context(
        build=build,
        drive=drive,
        unit=unit,
        source=source,
        controller=controller,
        regulator=regulator,
        motor=motor,
        load=load,
        plan=plan_for(controller, drive.signals),
        supply_wire=supply_wire,
        motor_wire=motor_wire,
        feed_resistance=driver_rules.feed_resistance(source.resistance.leaf, supply_wire.resistance),
        winding_cold=motor_rules.resistance_at(
            motor.resistance_25, build.ambient.cold.leaf, case="cold", title="Winding, cold"
        ),
        winding_hot=motor_rules.resistance_at(
            motor.resistance_25, drive.motor.winding_hot.leaf, case="hot", title="Winding, hot"
        ),
        links=(drive.chosen("unit"), drive.chosen("controller"), unit.chosen("source")),
    )


def contexts(build: Build) -> list[Context]:
    """Every drive's context, each with those that share its driver unit."""
    alone = [context(build, drive) for drive in build.drives]
    return [
        replace(at, sharing=tuple(o for o in alone if o is not at and o.drive.unit and o.drive.unit == at.drive.unit))
        for at in alone
    ]


def circuit(at: Context, part: DriverPart | None) -> Circuit:
    """The operating cases of a drive with ``part`` between source and motor (no drop where there is none)."""
    drop: Node = part.drop_v.leaf if part else NO_VOLTS
    cold_r: Node = part.on_resistance.leaf if part else NO_OHMS
    hot_r: Node = driver_rules.hot_resistance(part.on_resistance.leaf, part.hot_factor.leaf) if part else NO_OHMS
    brush, k_e = at.motor.brush_drop, at.motor.motor_constant
    full, nominal, flat = (g.leaf for g in (at.source.full_v, at.source.nominal_v, at.source.flat_v))
    feed, leads = at.feed_resistance, at.motor_wire.resistance
    source_r, wire_r = at.source.resistance.leaf, at.supply_wire.resistance
    total_cold = driver_rules.loop_resistance(source_r, wire_r, cold_r, leads, at.winding_cold, case="cold")
    total_hot = driver_rules.loop_resistance(source_r, wire_r, hot_r, leads, at.winding_hot, case="hot")
    stall_full = driver_rules.stall_in_circuit(
        full, drop, brush, total_cold, case="supply full, cold", because=at.links
    )
    stall_flat = driver_rules.stall_in_circuit(flat, drop, brush, total_cold, case="supply flat, cold")
    working, starting, speed = at.load.working_current, at.load.starting_current, at.load.motor_speed
    top_full = driver_rules.top_speed(full, drop, brush, working, total_cold, k_e, case="supply full, cold")
    top_flat = driver_rules.top_speed(flat, drop, brush, working, total_hot, k_e, case="supply flat, hot")
    reversal = driver_rules.reversal_in_circuit(
        full, drop, brush, total_cold, k_e, top_full, case="reversed at full speed"
    )
    brake_loop = driver_rules.loop_resistance(NO_OHMS, NO_OHMS, cold_r, leads, at.winding_cold, case="motor shorted")
    braking = driver_rules.braking_in_circuit(k_e, speed, drop, brush, brake_loop, case="from working speed")
    volts = motor_rules.motor_volts(k_e, speed, working, at.winding_hot, brush, case="working, hot")
    bridge = driver_rules.bridge_volts(volts, drop, hot_r, leads, working)
    duties = [
        supply_rules.duty(bridge, v, working, feed, case=c)
        for v, c in ((full, "supply full"), (nominal, "supply nominal"), (flat, "supply flat"))
    ]
    planned = _planned_peak(at, starting, braking, stall_full)
    drawn = supply_rules.source_current(duties[1], working, case="working")
    return Circuit(
        stall_full=stall_full,
        stall_flat=stall_flat,
        reversal=reversal,
        braking=braking,
        peak=_worst_peak(at, stall_full, reversal, braking),
        planned_peak=planned,
        top_speed_full=top_full,
        top_speed_flat=top_flat,
        motor_volts=volts,
        duty_full=duties[0],
        duty_nominal=duties[1],
        duty_flat=duties[2],
        source_current=drawn,
        bus_working=supply_rules.loaded_voltage(flat, working, feed, case="flat, working"),
        bus_start=_bus_at_start(at, flat, starting, stall_flat),
        bus_jam=supply_rules.loaded_voltage(flat, stall_flat, feed, case="flat, jammed"),
        driver_drop=driver_rules.driver_drop(drop, hot_r, working, case="working"),
        inner_resistance=driver_rules.loop_resistance(
            NO_OHMS, NO_OHMS, hot_r, leads, at.winding_hot, case="hot", title="Resistance after the bridge"
        ),
        lost_volts=driver_rules.fixed_drops(drop, brush),
    )


def _worst_peak(at: Context, stall: Figure, reversal: Figure, braking: Figure) -> Figure:
    """Stall, or worse: sudden reversal and braking only where the drive does them."""
    signals = at.drive.signals
    because = [signals.chosen("reversal"), signals.chosen("braking")]
    if signals.reversal == "slammed":
        return driver_rules.worst_of(stall, reversal, because=because)
    if signals.braking == "brake":
        return driver_rules.worst_of(stall, braking, because=because)
    return driver_rules.worst_of(stall, stall, because=because)


def _planned_peak(at: Context, starting: Figure, braking: Figure, stall: Figure) -> Figure:
    """The peak when soft start and a limit work as planned."""
    signals = at.drive.signals
    because = [signals.chosen("soft_start"), signals.chosen("braking"), presence(at.unit.current_limit.leaf)]
    limit: Node = at.unit.current_limit.leaf if at.unit.current_limit.value is not None else starting
    first = driver_rules.worst_of(starting if signals.soft_start == "yes" else stall, limit, because=because)
    if signals.braking == "brake":
        return driver_rules.worst_of(first, braking, title="Planned peak current", because=because)
    return driver_rules.worst_of(first, first, title="Planned peak current", because=because)


def _bus_at_start(at: Context, flat: Leaf, starting: Figure, stall: Figure) -> Figure:
    soft = at.drive.signals.soft_start == "yes"
    return supply_rules.loaded_voltage(
        flat, starting if soft else stall, at.feed_resistance,
        case="flat, starting", because=[at.drive.signals.chosen("soft_start")],
    )  # fmt: skip
