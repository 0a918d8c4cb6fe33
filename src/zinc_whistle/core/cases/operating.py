"""All specs of a drive solved together for the named operating cases, with one driver part or none.

Physics is cyclic (a ramp decides the peak, the wire's drop decides the motor's volts), so this stands before
the stations: supply full or flat; start, working, stall, reverse, brake; winding cold or hot.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any, TypeVar, cast

from ..algebra.nodes import Constant, Figure, Leaf, Node, Varied
from ..algebra.units import KINDS
from ..laws import driver as driver_rules
from ..laws import load as load_rules
from ..laws import motor as motor_rules
from ..laws import supply as supply_rules
from ..laws import wiring as wire_rules
from ..laws.nothing import NO_AMPERES, NO_SPEED
from ..model.build import Build, LoadDrive, MotorDrive, ServoDrive
from ..model.driver import DriverPart, DriverUnit
from ..model.given import Item, bind
from ..model.signals import Controller
from ..model.supply import Regulator, Source
from ..model.wiring import WireRun
from . import frame, timer_circuit
from .axes import AIR, SPEED
from .dc_load import DcLoadResult
from .dc_load import compute as compute_dc_load
from .load import LoadResult
from .load import compute as compute_load
from .motor import Constants, constants
from .pulses import PulsePlan, pulses
from .sources import SupplyWindow, window
from .timer_plan import TimerPlan
from .timers import Timetable

NO_ENERGY = Constant("0 J", 0.0, "energy")
LEVEL = Constant("0", 0.0, "number", "torque that does not go with the speed")
SQUARE = Constant("2", 2.0, "number", "affinity law of fans and pumps: torque goes with the square of the speed")


@dataclass(frozen=True, slots=True)
class WireFigures:
    """A run of wire: what its gauge and length make of it."""

    diameter: Figure
    area: Figure
    per_length: Figure
    resistance: Figure


def wire(run: WireRun) -> WireFigures:
    """Diameter, area and resistance of a pair."""
    diameter = wire_rules.wire_diameter(run.gauge.leaf)
    area = wire_rules.wire_area(diameter)
    per_length = wire_rules.resistance_per_length(area)
    return WireFigures(diameter, area, per_length, wire_rules.pair_resistance(per_length, run.length.leaf))


@dataclass(frozen=True, slots=True)
class Duty:
    """The currents of a drive over one cycle, and how long each lasts."""

    currents: list[Node]
    times: list[Node]
    because: tuple[Leaf, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class DriveContext:
    """A drive with the parts of the build that it uses, and what any driver must know of it."""

    build: Build
    drive: MotorDrive | LoadDrive
    unit: DriverUnit
    part: DriverPart | None
    """What drives it: the unit's part, or its stage seen as one."""
    source: Source
    volts: SupplyWindow
    controller: Controller
    regulator: Regulator | None
    plan: TimerPlan
    timetable: Timetable | None
    supply_wire: WireFigures
    motor_wire: WireFigures
    feed_resistance: Figure
    lead: Figure
    """Inductance of the wire from the source."""
    rms_current: Figure
    working_current: Figure
    starting_current: Figure
    stored_energy: Node
    duty: Duty
    any_current: Node
    """The working current at any speed that can be set."""
    air: Node
    """The air round the build, from the hottest to the coldest."""
    board_hot: Node
    """The hottest air where the driver sits: beside its motor, or in a box."""
    board_air: Node
    """The same from the hottest to the coldest."""
    links: tuple[Leaf, ...]
    sharing: tuple[DriveContext, ...] = ()
    """The other drives on the same driver unit, whose heat it carries too."""

    @property
    def of_motor(self) -> Context | None:
        """This context, if the drive turns a motor."""
        return None

    @property
    def of_load(self) -> LoadContext | None:
        """This context, if the drive feeds another load."""
        return None

    def at_any_speed(self, current: Figure) -> Node:
        """A current of the working speed at any speed that can be set."""
        return current


@dataclass(frozen=True, slots=True, kw_only=True)
class Context(DriveContext):
    """A motor's drive: what holds whichever driver is chosen."""

    drive: MotorDrive
    motor: Constants
    load: LoadResult
    any_speed: Node
    """From the working speed down to rest where something sets it; else the working speed, whatever the supply."""
    working_speed: Figure
    """The speed at work: the one that is wanted, or that at which the motor settles where nothing holds it back."""
    braked_from: Figure
    """The fastest that it is braked from while it works."""
    winding_cold: Figure
    winding_hot: Figure
    winding_time: Figure

    @property
    def of_motor(self) -> Context:
        return self

    def at_any_speed(self, current: Figure) -> Node:
        return _slowed(self.drive, motor=self.motor, load=self.load, current=current, speed=self.any_speed)


@dataclass(frozen=True, slots=True, kw_only=True)
class LoadContext(DriveContext):
    """Another load's drive: a solenoid, a pump or a lamp."""

    drive: LoadDrive
    load: DcLoadResult

    @property
    def of_load(self) -> LoadContext:
        return self


T = TypeVar("T", bound=Item)


def _named(items: list[T], wanted: str, blank: type[T], path: str) -> T:
    found = next((item for item in items if item.id == wanted), None)
    if found is None:
        found = blank(id="none")
        bind(found, f"{path}.none")
    return found


def _common(build: Build, drive: MotorDrive | LoadDrive, planned: PulsePlan) -> dict[str, Any]:
    """What every driven drive's context holds: the parts of the build that it names (blank ones where it names
    none)."""
    unit = _named(build.units, drive.unit, DriverUnit, "units")
    controller = _commanding(build, drive)
    source = _named(build.supply.sources, unit.source, Source, "supply.sources")
    volts, supply_wire = window(source), wire(unit.supply_run)
    hot, cold, warmer = build.ambient.hot.leaf, build.ambient.cold.leaf, unit.warmer.leaf
    board = driver_rules.air_at_board(hot, warmer, case="hottest air")
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
        "timetable": planned.tables.get(controller.id) if drive.signals.told_by == "pulses" else None,
        "supply_wire": supply_wire,
        "motor_wire": wire(drive.wiring.motor_run),
        "feed_resistance": driver_rules.feed_resistance(volts.resistance, supply_wire.resistance),
        "lead": supply_rules.lead_inductance(supply_rules.LEAD_INDUCTANCE, unit.supply_run.length.leaf),
        "air": Varied(AIR, (hot, cold), "Air"),
        "board_hot": board,
        "board_air": Varied(AIR, (board, driver_rules.air_at_board(cold, warmer)), "Air at the board"),
        "links": (
            drive.chosen("unit"),
            drive.chosen("controller"),
            drive.signals.chosen("told_by"),
            unit.chosen("source"),
            unit.chosen("made_of"),
        ),
    }


def _commanding(build: Build, drive: MotorDrive | LoadDrive) -> Controller:
    """What tells the driver: the controller that the drive names, or a timer's output seen as a pin; else a blank."""
    if drive.signals.told_by == "timer":
        return timer_circuit.as_controller(drive.signals, timer_circuit.of_drive(build, drive))
    named = drive.controller if drive.signals.by_program else ""
    return _named(build.controllers, named, Controller, "controllers")


def motor_context(build: Build, drive: MotorDrive, planned: PulsePlan) -> Context:
    """A motor's drive solved, whichever driver is chosen."""
    motor = constants(drive.motor)
    winding_time = motor_rules.winding_time(
        motor_rules.winding_capacity(frame.copper(drive.motor)), frame.to_housing(drive.motor)
    )
    load = compute_load(drive.load, motor, winding_time, drive.signals.ramp_time.leaf)
    common = _common(build, drive, planned)
    winding_cold = motor_rules.resistance_at(
        motor.resistance_25, build.ambient.cold.leaf, case="cold", title="Winding, cold"
    )
    speed: Node = load.motor_speed
    working = load.motor_speed
    current, braked = load.working_current, load.motor_speed
    if not drive.signals.pulsed:
        # Nothing holds it back: it runs as fast as its volts let it, cold and with nothing lost in the driver at most.
        ends = _settled(drive, motor=motor, load=load, ohms=winding_cold, common=common)
        working, braked, speed = ends
        current = _slowed(drive, motor=motor, load=load, current=current, speed=working)
    elif drive.sets_speed:
        speed = Varied(SPEED, (load.motor_speed, NO_SPEED), "Speed asked for")
    return Context(
        **common,
        motor=motor,
        load=load,
        any_speed=speed,
        working_speed=working,
        braked_from=braked,
        any_current=_slowed(drive, motor=motor, load=load, current=load.working_current, speed=speed),
        duty=Duty([p.current for p in load.parts], [p.time for p in load.parts], (drive.load.members("segments"),)),
        rms_current=load.rms_current,
        working_current=current,
        starting_current=load.starting_current,
        stored_energy=load_rules.stored_with_height(
            load.reflected_inertia, _top_speed(build, drive, motor, load), load.energy_back
        ),
        winding_cold=winding_cold,
        winding_hot=motor_rules.resistance_at(
            motor.resistance_25, drive.motor.winding_hot.leaf, case="hot", title="Winding, hot"
        ),
        winding_time=winding_time,
    )


def _fans(drive: MotorDrive) -> bool:
    """Whether the load's torque goes with the square of the speed.

    Slower than wanted only a load of fans alone grows lighter; what runs as fast as it may is braked by any fan.
    """
    kinds = [m.kind == "fan" for m in drive.load.mechanisms]
    return any(kinds) and (all(kinds) or not drive.signals.pulsed)


def _settled(
    drive: MotorDrive, *, motor: Constants, load: LoadResult, ohms: Node, common: dict[str, Any]
) -> tuple[Figure, Figure, Figure]:
    """The speed at which a motor on or off settles: on the nominal supply, on a full one, and on any."""
    volts: SupplyWindow = common["volts"]
    around = driver_rules.feed_resistance(common["feed_resistance"], ohms, title="Source, wire and winding")
    because = [drive.signals.chosen("told_by"), drive.load.members("mechanisms")]

    def at(supply: Node, case: str = "") -> Figure:
        if _fans(drive):
            return motor_rules.settled_fan(
                V=supply,
                V_b=motor.brush_drop,
                R=around,
                K_e=motor.motor_constant,
                I_c=motor.friction_a,
                I_w=load.working_current,
                omega_w=load.motor_speed,
                case=case,
                because=because,
            )
        return motor_rules.speed_at(
            supply,
            motor.brush_drop,
            load.working_current,
            around,
            motor.motor_constant,
            case=case,
            title="Speed at full volts",
            because=because,
        )

    return at(volts.nominal, "supply nominal"), at(volts.full, "supply full"), at(volts.any)


def _slowed(drive: MotorDrive, motor: Constants, load: LoadResult, current: Figure, speed: Node) -> Figure:
    """A current at another speed than the one that is wanted. A fan's torque goes with the square of it."""
    if speed is load.motor_speed:
        return current
    return load_rules.current_at_speed(
        I_c=motor.friction_a,
        I_w=current,
        omega=speed,
        omega_w=load.motor_speed,
        n=SQUARE if _fans(drive) else LEVEL,
        because=[*drive.setting(), drive.load.members("mechanisms")],
    )


def _top_speed(build: Build, drive: MotorDrive, motor: Constants, load: LoadResult) -> Node:
    """The fastest that can be commanded: full duty with nothing to hold it where a knob or the port sets the speed."""
    if drive.signals.pulsed and not drive.sets_speed:
        return load.motor_speed
    unit = _named(build.units, drive.unit, DriverUnit, "units")
    volts = window(_named(build.supply.sources, unit.source, Source, "supply.sources")).full
    return motor_rules.speed_at(
        volts,
        motor.brush_drop,
        NO_AMPERES,
        motor.resistance_25,
        motor.motor_constant,
        title="Top speed, full duty and no load",
        because=[*drive.setting(), drive.chosen("unit"), unit.chosen("source")],
    )


def load_context(build: Build, drive: LoadDrive, planned: PulsePlan) -> LoadContext:
    """Another load's drive solved, whichever driver is chosen."""
    common = _common(build, drive, planned)
    load = compute_dc_load(drive.load, common["volts"], drive.signals)
    return LoadContext(
        **common,
        load=load,
        rms_current=load.rms_current,
        duty=Duty(*load.parts, ()),
        any_current=load.working_current,
        working_current=load.working_current,
        starting_current=load.peak_current,
        stored_energy=NO_ENERGY,
    )


def contexts(build: Build, planned: PulsePlan | None = None) -> dict[str, DriveContext]:
    """The context of every drive that has a driver, by its id, each with those that share its driver unit."""
    planned = planned or pulses(build)
    alone: list[DriveContext] = []
    for drive in build.drives:
        if (motor := drive.of_motor) is not None:
            alone.append(motor_context(build, motor, planned))
        elif (held := drive.driven) is not None:
            alone.append(load_context(build, cast(LoadDrive, held), planned))
    return {
        at.drive.id: replace(
            at, sharing=tuple(o for o in alone if o is not at and o.drive.unit and o.drive.unit == at.drive.unit)
        )
        for at in alone
    }


def servo_rail(build: Build, drive: ServoDrive) -> tuple[Node, Node, Node]:
    """The volts of a servo's rail: to be shown, at rest whatever its source then is, and with all its servos stalled.

    A regulator holds its output (its own limits are checked by themselves); a source sags under what jams together.
    """
    regulator = next((r for r in build.supply.regulators if r.id == drive.rail), None)
    if regulator is not None:
        held = regulator.output_v.leaf
        return held, held, held
    source = next((s for s in build.supply.sources if s.id == drive.rail), None)
    if source is not None:
        volts = window(source)
        stalled = [d.servo.stall_a.leaf for d in build.servos if d.rail == drive.rail]
        members = [d.chosen("rail") for d in build.servos]
        together = supply_rules.currents_together(stalled, title="All its servos stalled", because=members)
        return volts.full, volts.any, supply_rules.sagged_further(volts.any, together, volts.resistance)
    missing = Leaf(f"{drive.path}.rail", "the servo's rail", KINDS["voltage"], None, origin="assumed")
    return missing, missing, missing
