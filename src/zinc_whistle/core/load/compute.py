"""From the mechanism to torque, speed, inertia and current at the motor shaft."""

from __future__ import annotations

from dataclasses import dataclass

from ..motor import rules as motor_rules
from ..motor.compute import Constants
from ..working import Constant, Figure, Leaf, presence
from . import rules
from .spec import Direct, LoadSpec, Turntable

SPREAD = {"disc": Constant("½", 0.5, "number"), "ring": Constant("1", 1.0, "number")}


@dataclass(frozen=True, slots=True)
class LoadResult:
    """What the motor feels."""

    inertia: Figure | Leaf
    acceleration: Figure
    acceleration_torque: Figure
    output_torque: Figure
    motor_speed: Figure
    motor_torque: Figure
    starting_torque: Figure
    reflected_inertia: Figure
    power: Figure
    working_current: Figure
    starting_current: Figure
    rms_current: Figure
    ramp_time: Leaf


def compute(spec: LoadSpec, motor: Constants, rotor_inertia: Leaf, ramp_time: Leaf) -> LoadResult:
    """Torque, speed and inertia at the motor shaft, and the currents that they ask for.

    ``ramp_time`` overrides the load's own time to speed where the builder gave one.
    """
    mechanism = spec.mechanism
    inertia = _inertia(mechanism)
    torque, speed = mechanism.friction_torque.leaf, mechanism.speed.leaf
    time = mechanism.time_to_speed.leaf if ramp_time.value is None else ramp_time
    ratio, efficiency = spec.gear_ratio.leaf, spec.gear_efficiency.leaf
    acceleration = rules.acceleration(speed, time, because=[mechanism.chosen("kind"), presence(ramp_time)])
    to_speed = rules.acceleration_torque(inertia, acceleration)
    working_torque = rules.shaft_torque(torque, ratio, efficiency)
    starting_torque = rules.starting_torque(torque, to_speed, ratio, efficiency, rotor_inertia, acceleration)
    k_e, i_0 = motor.motor_constant, motor.no_load_a
    working = motor_rules.current_for(working_torque, k_e, i_0, case="working", title="Working current")
    starting = motor_rules.current_for(starting_torque, k_e, i_0, case="start", title="Starting current, ramped")
    return LoadResult(
        inertia=inertia,
        acceleration=acceleration,
        acceleration_torque=to_speed,
        output_torque=rules.output_torque(torque, to_speed),
        motor_speed=rules.motor_speed(speed, ratio),
        motor_torque=working_torque,
        starting_torque=starting_torque,
        reflected_inertia=rules.reflected_inertia(inertia, ratio, rotor_inertia),
        power=rules.load_power(torque, speed),
        working_current=working,
        starting_current=starting,
        rms_current=rules.rms_current(starting, time, working, spec.run_for.leaf, spec.rest_for.leaf),
        ramp_time=time,
    )


def _inertia(mechanism: Turntable | Direct) -> Figure | Leaf:
    if isinstance(mechanism, Direct):
        return mechanism.inertia.leaf
    return rules.turntable_inertia(
        SPREAD[mechanism.spread],
        mechanism.mass.leaf,
        mechanism.radius.leaf,
        because=[mechanism.chosen("spread")],
    )
