"""From the mechanisms to torque, speed, inertia and current at the motor shaft, over the duty."""

from __future__ import annotations

from dataclasses import dataclass

from ..algebra.nodes import Figure, Leaf, Node, presence
from ..algebra.units import KINDS
from ..laws import heat as heat_rules
from ..laws import load as rules
from ..laws import motor as motor_rules
from ..laws.nothing import NO_AMPERES, NO_SPEED, NO_TORQUE
from ..model.load import LoadSpec, Segment
from .mechanisms import MechanismResult, moved_at, work_out
from .motor import Constants


@dataclass(frozen=True, slots=True)
class Part:
    """One part of the duty at the motor: speed, current, and how long."""

    name: str
    speed: Node
    current: Figure | Leaf
    volts: Figure
    time: Leaf
    back: bool = False
    """Whether it runs the other way, as in lowering."""


@dataclass(frozen=True, slots=True)
class Books:
    """Where the power goes at work, winding at 25 °C: what goes in is what comes out and the heats."""

    electrical: Figure
    copper: Figure
    brushes: Figure
    friction: Figure
    gear: Figure
    mechanical: Figure


@dataclass(frozen=True, slots=True)
class LoadResult:
    """What the motor feels."""

    mechanisms: tuple[MechanismResult, ...]
    torque: Figure
    hardest: Figure
    inertia: Figure
    speed: Node
    acceleration: Figure
    acceleration_torque: Figure
    output_torque: Figure
    motor_speed: Figure
    motor_torque: Figure
    hardest_torque: Figure
    starting_torque: Figure
    reflected_inertia: Figure
    power: Figure
    friction_a: Figure
    working_current: Figure
    hardest_current: Figure
    slow_current: Figure
    peak_current: Figure
    starting_current: Figure
    rms_current: Figure
    heat_current: Figure
    cycle_time: Figure
    cycle_energy: Figure
    energy_back: Figure
    """What the load gives back in the parts of a cycle in which it pulls the motor along."""
    lowering: Figure | None
    """The largest current that such a part makes; None where there is none."""
    back_torque: Figure | None
    creeping: Figure | None
    """What the load gives to the motor without power; None where it gives nothing by its nature."""
    books: Books
    ramp_time: Leaf
    parts: tuple[Part, ...]


def compute(spec: LoadSpec, motor: Constants, winding_time: Figure, ramp_time: Leaf) -> LoadResult:
    """Torque, speed and inertia at the motor shaft, and the currents that they ask for.

    ``ramp_time`` overrides the load's own time to speed where the builder gave one.
    """
    time = spec.time_to_speed.leaf if ramp_time.value is None else ramp_time
    because = [_members(spec), presence(ramp_time)]
    found = tuple(work_out(m, time) for m in spec.mechanisms)
    torque = rules.torques_together([m.torque for m in found], because=because)
    hardest = rules.hardest_together([m.hardest for m in found], because=because)
    inertia = rules.inertias_together([m.inertia for m in found], because=because)
    speed = found[0].speed
    rotor = motor.rotor_inertia
    ratio, efficiency = spec.gear_ratio.leaf, spec.gear_efficiency.leaf
    acceleration = rules.acceleration(speed, time, because=because)
    to_speed = rules.acceleration_torque(inertia, acceleration)
    working_torque = rules.shaft_torque(torque, ratio, efficiency)
    hardest_torque = rules.shaft_torque(hardest, ratio, efficiency, title="Torque at the motor, hardest")
    starting_torque = rules.starting_torque(
        T=torque, T_acc=to_speed, N=ratio, eta=efficiency, J_r=rotor, alpha=acceleration
    )
    motor_speed = rules.motor_speed(speed, ratio)
    k_e = motor.motor_constant
    friction = motor_rules.friction_current(motor.friction_a, motor.viscous, k_e, motor_speed, case="working")
    working = motor_rules.current_for(working_torque, k_e, friction, case="working", title="Working current")
    creeping = rules.torques_together(
        [m.torque for m in found if m.kind != "fan"] or [NO_TORQUE],
        because=because,
        title="Torque at the output, creeping",
    )
    slow = motor_rules.current_for(
        rules.shaft_torque(creeping, ratio, efficiency),
        k_e,
        motor.friction_a,
        case="creeping",
        title="Current, creeping",
    )
    hard = motor_rules.current_for(hardest_torque, k_e, friction, case="hardest", title="Current at the hardest")
    starting = motor_rules.current_for(starting_torque, k_e, friction, case="start", title="Starting current, ramped")
    parts = _parts(spec, motor, (motor_speed, working, starting), time)
    currents, times = [p.current for p in parts], [p.time for p in parts]
    duty = [spec.members("segments")]
    largest = rules.larger_current(starting, hard, because=duty)
    driven = [p.current for p in parts if p.current.value is not None and p.current.value < 0]
    for part in parts[1:] if not spec.segments else parts:
        current = rules.size_of(part.current, because=duty) if part.current in driven else part.current
        largest = rules.larger_current(largest, current, because=duty)
    lowering: Figure | None = None
    for current in driven:
        size = rules.size_of(current, because=duty)
        lowering = size if lowering is None else rules.larger_current(lowering, size, because=duty)
    power = rules.load_power(torque, speed)
    backs = [m.back for m in found if m.back is not None]
    creeps = [m.creeps for m in found if m.creeps is not None]
    return LoadResult(
        mechanisms=found,
        torque=torque,
        hardest=hardest,
        inertia=inertia,
        speed=speed,
        acceleration=acceleration,
        acceleration_torque=to_speed,
        output_torque=_through_gear(rules.worst_torque(rules.output_torque(torque, to_speed), hardest)),
        motor_speed=motor_speed,
        motor_torque=working_torque,
        hardest_torque=hardest_torque,
        starting_torque=starting_torque,
        reflected_inertia=rules.reflected_inertia(inertia, ratio, rotor),
        power=power,
        friction_a=friction,
        working_current=_either_way(working),
        hardest_current=hard,
        slow_current=slow,
        peak_current=largest,
        starting_current=_either_way(starting),
        rms_current=rules.rms_of_parts(currents, times, because=duty, title="RMS current"),
        # A winding is one node against its housing: no share of it settles more quickly.
        heat_current=heat_rules.heating_current(
            currents,
            times,
            heat_rules.NONE_OF_IT,
            winding_time,
            winding_time,
            because=duty,
            title="Current, as heat counts it",
        ),
        cycle_time=rules.cycle_time(times, because=duty),
        cycle_energy=rules.energy_of_parts(
            [p.volts for p in parts], currents, times, because=duty, title="Energy into the motor, each cycle"
        ),
        energy_back=rules.energy_back(
            [p.volts for p in parts], currents, times, because=duty, title="Energy out of the motor, each cycle"
        ),
        lowering=lowering,
        back_torque=rules.driven_torque(
            rules.torques_together(backs, title="Torque of the load, running back"), ratio, efficiency
        )
        if backs
        else None,
        creeping=rules.driven_torque(
            rules.torques_together(creeps, because=because, title="Torque of the load without power"), ratio, efficiency
        )
        if creeps
        else None,
        books=_books(motor, current=working, friction=friction, speed=motor_speed, torque=working_torque, out=power),
        ramp_time=time,
        parts=parts,
    )


def _members(spec: LoadSpec) -> Leaf:
    """Which mechanisms there are, and of which kind."""
    leaf = spec.members("mechanisms")
    leaf.choice = " ".join(f"{m.id}:{m.kind}" for m in spec.mechanisms)
    return leaf


def _either_way(current: Figure) -> Figure:
    """What flows, whichever way: a load that pulls the motor along makes it a generator."""
    pulled = current.value is not None and current.value < 0
    return rules.size_of(current, title=current.title) if pulled else current


def _through_gear(torque: Figure) -> Figure:
    """What the gear's teeth bear, whichever way it pushes."""
    return rules.torque_size(torque, title=torque.title) if torque.value is not None and torque.value < 0 else torque


def _books(motor: Constants, current: Figure, friction: Figure, speed: Figure, torque: Figure, out: Figure) -> Books:
    r, k_e, drop = motor.resistance_25, motor.motor_constant, motor.brush_drop
    volts = motor_rules.motor_volts(k_e, speed, current, r, drop, case="working, 25 °C")
    return Books(
        electrical=rules.electrical_power(volts, current),
        copper=rules.copper_loss(current, r),
        brushes=rules.brush_loss(drop, current),
        friction=rules.friction_loss(k_e, friction, speed),
        gear=rules.gear_loss(torque, speed, out),
        mechanical=out,
    )


def _no_turns(segment: Segment) -> Leaf:
    """What turns has no velocity: its speed is still to be given."""
    return Leaf(segment.speed.leaf.id, "Speed, in turns: what turns has no speed along", KINDS["speed"], None)


def _parts(spec: LoadSpec, motor: Constants, at_work: tuple[Figure, Figure, Figure], ramp: Leaf) -> tuple[Part, ...]:
    """Start, run and rest; or the builder's own parts, each empty field as at work."""
    speed, working, starting = at_work
    r, k_e, drop = motor.resistance_25, motor.motor_constant, motor.brush_drop

    def part(name: str, at: Node, current: Figure | Leaf, time: Leaf, back: bool = False) -> Part:
        return Part(
            name=name,
            speed=at,
            current=current,
            volts=motor_rules.motor_volts(k_e, at, current, r, drop, case=name),
            time=time,
            back=back,
        )

    if not spec.segments:
        half = rules.half_speed(speed)
        return (
            part("start", half, starting, ramp),
            part("run", speed, working, spec.run_for.leaf),
            part("rest", NO_SPEED, rules.resting(NO_AMPERES), spec.rest_for.leaf),
        )
    ratio, efficiency = spec.gear_ratio.leaf, spec.gear_efficiency.leaf
    made = []
    for number, segment in enumerate(spec.segments, 1):
        because = [presence(x.leaf) for x in (segment.speed, segment.velocity, segment.torque)]
        asked: Node | None = segment.speed.leaf if segment.speed.value is not None else None
        if asked is None and segment.velocity.value is not None:
            asked = moved_at(spec.mechanisms[0], segment.velocity.leaf) or _no_turns(segment)
        back = asked is not None and asked.value is not None and asked.value < 0
        own: Node = speed
        if asked is not None:
            forward = rules.backwards(asked, because=because) if back else asked
            own = rules.motor_speed(forward, ratio, because=because, case=f"part {number}")
        if asked is not None and asked.value == 0 and segment.torque.value in (None, 0):
            made.append(part(f"part {number}", own, rules.resting(NO_AMPERES, because=because), segment.time.leaf))
            continue
        current = working
        if segment.torque.value is not None or asked is not None:
            torque: Node = segment.torque.leaf
            if segment.torque.value is None:
                worked = [work_out(m, ramp) for m in spec.mechanisms]
                torques = [
                    rules.with_the_motion(m.lowers) if back and m.lowers is not None else m.torque for m in worked
                ]
                torque = rules.torques_together(torques, because=because)
            at_motor = rules.either_direction(torque, ratio, efficiency, because=because)
            friction = motor_rules.friction_current(motor.friction_a, motor.viscous, k_e, own)
            current = motor_rules.current_for(at_motor, k_e, friction, case=f"part {number}")
        made.append(part(f"part {number}", own, current, segment.time.leaf, back))
    return tuple(made)
