"""All specs of a drive solved together for the named operating cases, with one driver part or none.

Physics is cyclic (a ramp decides the peak, the wire's drop decides the motor's volts), so this stands before
the stations: supply full or flat; start, working, stall, reverse, brake; winding cold or hot.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any, TypeVar

from ..algebra.nodes import Constant, Figure, Leaf, Node, presence
from ..algebra.units import KINDS
from ..laws import dc_load as dc_rules
from ..laws import driver as driver_rules
from ..laws import motor as motor_rules
from ..laws import supply as supply_rules
from ..laws import wiring as wire_rules
from ..model.build import Build, LoadDrive, MotorDrive, ServoDrive
from ..model.driver import DriverPart, DriverUnit
from ..model.given import Item, bind
from ..model.signals import Controller
from ..model.supply import Regulator, Source
from ..model.wiring import Run
from .dc_load import DcLoadResult
from .dc_load import compute as compute_dc_load
from .load import LoadResult
from .load import compute as compute_load
from .motor import Constants, constants
from .pulses import Pulses, pulses
from .sources import Window, window
from .timer_plan import TimerPlan
from .timers import Timetable

NO_OHMS = Constant("0 Ω", 0.0, "resistance")
NO_VOLTS = Constant("0 V", 0.0, "voltage")
NO_ENERGY = Constant("0 J", 0.0, "energy")


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


@dataclass(frozen=True, slots=True, kw_only=True)
class DriveContext:
    """A drive with the parts of the build that it uses, and what any driver must know of it."""

    build: Build
    drive: MotorDrive | LoadDrive
    unit: DriverUnit
    part: DriverPart | None
    """What drives it: the unit's part, or its stage seen as one."""
    source: Source
    volts: Window
    controller: Controller
    regulator: Regulator | None
    plan: TimerPlan
    timetable: Timetable | None
    supply_wire: Wire
    motor_wire: Wire
    feed_resistance: Figure
    rms_current: Figure
    working_current: Figure
    starting_current: Figure
    stored_energy: Node
    links: tuple[Leaf, ...]
    sharing: tuple[DriveContext, ...] = ()
    """The other drives on the same driver unit, whose heat it carries too."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Context(DriveContext):
    """A motor's drive: what holds whichever driver is chosen."""

    drive: MotorDrive
    motor: Constants
    load: LoadResult
    winding_cold: Figure
    winding_hot: Figure
    winding_time: Figure


@dataclass(frozen=True, slots=True, kw_only=True)
class LoadContext(DriveContext):
    """Another load's drive: a solenoid, a pump or a lamp."""

    drive: LoadDrive
    load: DcLoadResult


@dataclass(frozen=True, slots=True, kw_only=True)
class DriveCircuit:
    """A drive's operating cases with one part in the circuit. ``delivered`` is the motor's speed or the load's
    volts."""

    stall_full: Figure
    stall_flat: Figure
    peak: Figure
    planned_peak: Figure
    delivered_full: Figure
    delivered_flat: Figure
    duty_full: Node
    duty_nominal: Node
    duty_flat: Node
    source_current: Figure
    source_start: Figure
    bus_working: Figure
    bus_start: Figure
    bus_jam: Figure
    driver_drop: Figure


@dataclass(frozen=True, slots=True, kw_only=True)
class Circuit(DriveCircuit):
    """A motor's operating cases."""

    reversal: Figure
    braking: Figure
    motor_volts: Figure
    inner_resistance: Figure
    lost_volts: Figure
    stall_torque: Figure


T = TypeVar("T", bound=Item)


def _named(items: list[T], wanted: str, blank: type[T], path: str) -> T:
    found = next((item for item in items if item.id == wanted), None)
    if found is None:
        found = blank(id="none")
        bind(found, f"{path}.none")
    return found


def _common(build: Build, drive: MotorDrive | LoadDrive, planned: Pulses) -> dict[str, Any]:
    """What every driven drive's context holds: the parts of the build that it names (blank ones where it names
    none)."""
    unit = _named(build.units, drive.unit, DriverUnit, "units")
    controller = _named(build.controllers, drive.controller, Controller, "controllers")
    source = _named(build.supply.sources, unit.source, Source, "supply.sources")
    volts, supply_wire = window(source), wire(unit.supply_run)
    return {
        "build": build,
        "drive": drive,
        "unit": unit,
        "part": unit.part if unit.made_of == "part" else None,
        "source": source,
        "volts": volts,
        "controller": controller,
        "regulator": next((r for r in build.supply.regulators if r.id == controller.regulator), None),
        "plan": planned.plans[drive.id],
        "timetable": planned.tables.get(controller.id),
        "supply_wire": supply_wire,
        "motor_wire": wire(drive.wiring.motor_run),
        "feed_resistance": driver_rules.feed_resistance(volts.resistance, supply_wire.resistance),
        "links": (drive.chosen("unit"), drive.chosen("controller"), unit.chosen("source"), unit.chosen("made_of")),
    }


def motor_context(build: Build, drive: MotorDrive, planned: Pulses) -> Context:
    """A motor's drive solved, whichever driver is chosen."""
    motor = constants(drive.motor)
    winding_time = motor_rules.winding_time(
        motor_rules.winding_capacity(drive.motor.winding_copper.leaf), drive.motor.winding_to_housing.leaf
    )
    load = compute_load(drive.load, motor, winding_time, drive.signals.ramp_time.leaf)
    return Context(
        **_common(build, drive, planned),
        motor=motor,
        load=load,
        rms_current=load.rms_current,
        working_current=load.working_current,
        starting_current=load.starting_current,
        stored_energy=supply_rules.stored_energy(load.reflected_inertia, load.motor_speed),
        winding_cold=motor_rules.resistance_at(
            motor.resistance_25, build.ambient.cold.leaf, case="cold", title="Winding, cold"
        ),
        winding_hot=motor_rules.resistance_at(
            motor.resistance_25, drive.motor.winding_hot.leaf, case="hot", title="Winding, hot"
        ),
        winding_time=winding_time,
    )


def load_context(build: Build, drive: LoadDrive, planned: Pulses) -> LoadContext:
    """Another load's drive solved, whichever driver is chosen."""
    common = _common(build, drive, planned)
    load = compute_dc_load(drive.load, common["volts"])
    return LoadContext(
        **common,
        load=load,
        rms_current=load.rms_current,
        working_current=load.working_current,
        starting_current=load.peak_current,
        stored_energy=NO_ENERGY,
    )


def contexts(build: Build, planned: Pulses | None = None) -> dict[str, DriveContext]:
    """The context of every drive that has a driver, by its id, each with those that share its driver unit."""
    planned = planned or pulses(build)
    alone: list[DriveContext] = []
    for drive in build.drives:
        if isinstance(drive, MotorDrive):
            alone.append(motor_context(build, drive, planned))
        elif isinstance(drive, LoadDrive):
            alone.append(load_context(build, drive, planned))
    return {
        at.drive.id: replace(
            at, sharing=tuple(o for o in alone if o is not at and o.drive.unit and o.drive.unit == at.drive.unit)
        )
        for at in alone
    }


def solve(at: DriveContext, part: DriverPart | None) -> DriveCircuit:
    """The operating cases of any drive with ``part`` between source and load (no drop where there is none)."""
    return circuit(at, part) if isinstance(at, Context) else load_circuit(at, part)


@dataclass(frozen=True, slots=True)
class _Ways:
    drop: Node
    cold: Node
    hot: Node


def _through(part: DriverPart | None, at: DriveContext) -> _Ways:
    if part is None:
        return _Ways(NO_VOLTS, NO_OHMS, NO_OHMS)
    because = [at.unit.chosen("made_of")]
    cold = driver_rules.joined_resistance(part.on_resistance.leaf, at.drive.joined.leaf, because=because)
    return _Ways(part.drop_v.leaf, cold, driver_rules.hot_resistance(cold, part.hot_factor.leaf))


def load_circuit(at: DriveContext, part: DriverPart | None) -> DriveCircuit:
    """The cases of a resistive load: its current at full and flat, its inrush, and the volts it gets."""
    assert isinstance(at, LoadContext)
    way, volts, feed = _through(part, at), at.volts, at.feed_resistance
    load = at.load
    round_cold = driver_rules.loop_resistance(
        volts.resistance, at.supply_wire.resistance, way.cold, at.motor_wire.resistance, load.resistance, case="cold"
    )
    steady = [
        driver_rules.stall_in_circuit(v, way.drop, NO_VOLTS, round_cold, case=c, title="Current, switched on")
        for v, c in ((volts.full, "supply full"), (volts.flat, "supply flat"))
    ]
    inrush = dc_rules.inrush(steady[0], load.inrush_factor, because=[at.drive.load.chosen("kind")])
    peak = driver_rules.worst_of(inrush, inrush, title="Worst peak current", because=at.links)
    given = [
        dc_rules.volts_across(i, load.resistance, case=c)
        for i, c in zip(steady, ("supply full", "supply flat"), strict=True)
    ]
    drawn = supply_rules.source_current(load.duty, steady[0], case="working")
    return DriveCircuit(
        stall_full=steady[0],
        stall_flat=steady[1],
        peak=peak,
        planned_peak=peak,
        delivered_full=given[0],
        delivered_flat=given[1],
        duty_full=load.duty,
        duty_nominal=load.duty,
        duty_flat=load.duty,
        source_current=drawn,
        source_start=inrush,
        bus_working=supply_rules.loaded_voltage(volts.flat, steady[1], feed, case="flat, working"),
        bus_start=supply_rules.loaded_voltage(volts.flat, inrush, feed, case="flat, starting"),
        bus_jam=supply_rules.loaded_voltage(volts.flat, steady[1], feed, case="flat, on for good"),
        driver_drop=driver_rules.driver_drop(way.drop, way.hot, load.working_current, case="working"),
    )


def circuit(at: Context, part: DriverPart | None) -> Circuit:
    """The operating cases of a motor's drive with ``part`` between source and motor."""
    way = _through(part, at)
    drop, cold_r, hot_r = way.drop, way.cold, way.hot
    brush, k_e = at.motor.brush_drop, at.motor.motor_constant
    full, nominal, flat, source_r = at.volts.full, at.volts.nominal, at.volts.flat, at.volts.resistance
    feed, leads, wire_r = at.feed_resistance, at.motor_wire.resistance, at.supply_wire.resistance
    total_cold = driver_rules.loop_resistance(source_r, wire_r, cold_r, leads, at.winding_cold, case="cold")
    total_hot = driver_rules.loop_resistance(source_r, wire_r, hot_r, leads, at.winding_hot, case="hot")
    stall_full = driver_rules.stall_in_circuit(
        full, drop, brush, total_cold, case="supply full, cold", because=at.links
    )
    stall_flat = driver_rules.stall_in_circuit(flat, drop, brush, total_cold, case="supply flat, cold")
    working, starting, speed = at.working_current, at.starting_current, at.load.motor_speed
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
    return Circuit(
        stall_full=stall_full,
        stall_flat=stall_flat,
        reversal=reversal,
        braking=braking,
        peak=_worst_peak(at, stall_full, reversal, braking),
        planned_peak=_planned_peak(at, starting, braking, stall_full),
        delivered_full=top_full,
        delivered_flat=top_flat,
        motor_volts=volts,
        duty_full=duties[0],
        duty_nominal=duties[1],
        duty_flat=duties[2],
        source_current=supply_rules.source_current(duties[1], working, case="working"),
        source_start=_source_at_start(at, starting, stall_flat),
        bus_working=supply_rules.loaded_voltage(flat, working, feed, case="flat, working"),
        bus_start=_bus_at_start(at, flat, starting, stall_flat),
        bus_jam=supply_rules.loaded_voltage(flat, stall_flat, feed, case="flat, jammed"),
        driver_drop=driver_rules.driver_drop(drop, hot_r, working, case="working"),
        inner_resistance=driver_rules.loop_resistance(
            NO_OHMS, NO_OHMS, hot_r, leads, at.winding_hot, case="hot", title="Resistance after the bridge"
        ),
        stall_torque=driver_rules.stall_torque_left(k_e, stall_flat, at.motor.friction_a, case="supply flat, cold"),
        lost_volts=driver_rules.fixed_drops(drop, brush, because=[at.drive.motor.chosen("known_by")]),
    )


def _source_at_start(at: Context, starting: Figure, stall: Figure) -> Figure:
    """What the start takes from the source, at most: a ramp ends at the starting current, an unramped start stalls."""
    soft = at.drive.signals.soft_start == "yes"
    return supply_rules.as_drawn(starting if soft else stall, because=[at.drive.signals.chosen("soft_start")])


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
    first = driver_rules.worst_of(first, at.load.peak_current, because=because)
    if signals.braking == "brake":
        return driver_rules.worst_of(first, braking, title="Planned peak current", because=because)
    return driver_rules.worst_of(first, first, title="Planned peak current", because=because)


def _bus_at_start(at: Context, flat: Node, starting: Figure, stall: Figure) -> Figure:
    soft = at.drive.signals.soft_start == "yes"
    return supply_rules.loaded_voltage(
        flat,
        starting if soft else stall,
        at.feed_resistance,
        case="flat, starting",
        because=[at.drive.signals.chosen("soft_start")],
    )


def servo_rail(build: Build, drive: ServoDrive) -> Node:
    """The volts of a servo's rail: a regulator's output, or a source when full."""
    regulator = next((r for r in build.supply.regulators if r.id == drive.rail), None)
    if regulator is not None:
        return regulator.output_v.leaf
    source = next((s for s in build.supply.sources if s.id == drive.rail), None)
    if source is not None:
        return window(source).full
    return Leaf(f"{drive.path}.rail", "the servo's rail", KINDS["voltage"], None, origin="assumed")
