"""Each mechanism at its own shaft: torque at work and at its hardest, inertia and speed."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from ..algebra.nodes import Constant, Figure, Leaf, Node
from ..laws import load as rules
from ..laws.nothing import NO_TORQUE
from ..model.load import Direct, Fan, Lever, Rack, Screw, Turntable, Wheels, Winch

SPREAD = {"disc": Constant("½", 0.5, "number"), "ring": Constant("1", 1.0, "number")}
_CLASS = "class figure, common practice, from memory"
SURFACES = {
    "hard floor": Constant("0.015", 0.015, "number", _CLASS),
    "carpet": Constant("0.03", 0.03, "number", _CLASS),
    "asphalt": Constant("0.02", 0.02, "number", _CLASS),
    "grass": Constant("0.08", 0.08, "number", _CLASS),
    "sand": Constant("0.25", 0.25, "number", _CLASS),
}
SKID_DIVISOR = {"tracks": Constant("4", 4.0, "number"), "corners": Constant("2", 2.0, "number")}
NO_FORCE = Constant("0 N", 0.0, "force")


@dataclass(frozen=True, slots=True)
class Grip:
    """A vehicle's pull against what the driven wheels can hold."""

    force: Figure
    limit: Figure


@dataclass(frozen=True, slots=True)
class MechanismResult:
    """One mechanism at its shaft. ``back`` is the torque that the load gives back when it runs the other way."""

    id: str
    kind: str
    torque: Node
    hardest: Node
    inertia: Node
    speed: Node
    extras: tuple[Figure, ...] = ()
    back: Figure | None = None
    creeps: Figure | None = None
    """What the load gives without power, whichever way it moves; nothing where friction alone holds it."""
    grip: Grip | None = None

    @property
    def lowers(self) -> Figure | None:
        """What the load gives while it is moved back; None where it must be pushed as it was pulled."""
        slides = self.creeps is not None and self.creeps.value is not None and self.creeps.value > 0
        return self.back if self.back is not None else self.creeps if slides else None


def moves_along(mechanism: Any) -> bool:
    """Whether what it moves has a velocity."""
    return isinstance(mechanism, Wheels | Winch | Rack | Screw)


def moved_at(mechanism: Any, velocity: Leaf) -> Node | None:
    """The shaft's speed for a velocity of what it moves; None for what turns."""
    if isinstance(mechanism, Wheels):
        return rules.shaft_speed(velocity, rules.radius(mechanism.diameter.leaf))
    if isinstance(mechanism, Winch | Rack):
        return rules.shaft_speed(velocity, mechanism.radius.leaf)
    if isinstance(mechanism, Screw):
        return rules.screw_speed(velocity, mechanism.lead.leaf)
    return None


def work_out(mechanism: Any, time_to_speed: Leaf) -> MechanismResult:
    """Torque, inertia and speed of one mechanism at its own shaft."""
    return _KINDS[mechanism.kind](mechanism, time_to_speed)


def _turntable(m: Turntable, time: Leaf) -> MechanismResult:
    inertia = rules.turntable_inertia(SPREAD[m.spread], m.mass.leaf, m.radius.leaf, because=[m.chosen("spread")])
    torque = m.friction_torque.leaf
    return MechanismResult(id=m.id, kind=m.kind, torque=torque, hardest=torque, inertia=inertia, speed=m.speed.leaf)


def _wheels(m: Wheels, time: Leaf) -> MechanismResult:
    radius, weight = rules.radius(m.diameter.leaf), rules.weight(m.mass.leaf)
    slope_cosine, slope_sine = rules.cosine(m.slope.leaf), rules.sine(m.slope.leaf)
    because = [m.chosen("surface"), m.chosen("turning")]
    resistance: Node = m.rolling.leaf if m.surface == "own" else SURFACES[m.surface]
    force = rules.rolling_force(weight, slope_cosine, slope_sine, resistance, because=because)
    torque = rules.rim_torque(force, radius, m.motors.leaf)
    hardest: Node = torque
    extras: list[Figure] = [force]
    if m.turning != "steered":
        moment = rules.skid_moment(m.grip.leaf, weight, m.contact_length.leaf, SKID_DIVISOR[m.turning], because=because)
        skid = rules.skid_torque(moment, m.track_width.leaf, radius, m.motors.leaf)
        hardest = rules.worst_torque(torque, skid, title="Torque at the wheels, hardest")
        extras += [moment, skid]
    start = rules.starting_force(force, m.mass.leaf, m.velocity.leaf, time)
    limit = rules.grip_limit(m.grip.leaf, weight, slope_cosine, m.driven.leaf, m.wheels.leaf)
    return MechanismResult(
        id=m.id,
        kind=m.kind,
        torque=torque,
        hardest=hardest,
        inertia=rules.rim_inertia(m.mass.leaf, radius, m.motors.leaf),
        speed=rules.shaft_speed(m.velocity.leaf, radius),
        extras=(*extras, start, limit),
        grip=Grip(start, limit),
        creeps=rules.beyond_friction(
            rules.rim_torque(rules.pull_down(weight, slope_sine, slope_cosine, resistance), radius, m.motors.leaf)
        )
        if m.slope.value
        else None,
    )


def _winch(m: Winch, time: Leaf) -> MechanismResult:
    weight, other = rules.weight(m.mass.leaf), rules.weight(m.counterweight.leaf, title="Counterweight")
    slope = rules.sine(m.slope.leaf)
    force = rules.rope_force(weight, slope, other, m.friction.leaf)
    torque = rules.drum_torque(force, m.radius.leaf)
    falling = rules.drum_torque(
        rules.rope_force(weight, slope, other, NO_FORCE, title="Pull of the load alone"),
        m.radius.leaf,
        title="Torque of the load, running back",
    )
    return MechanismResult(
        id=m.id,
        kind=m.kind,
        torque=torque,
        hardest=torque,
        inertia=rules.drum_inertia(m.mass.leaf, m.counterweight.leaf, m.radius.leaf),
        speed=rules.shaft_speed(m.velocity.leaf, m.radius.leaf),
        extras=(force,),
        back=falling,
        creeps=rules.either_way(falling),
    )


def _screw(m: Screw, time: Leaf) -> MechanismResult:
    force = rules.screw_force(m.force.leaf, m.mass.leaf)
    diameter, lead, friction = m.mean_diameter.leaf, m.lead.leaf, m.friction.leaf
    collar = rules.collar_torque(force, m.collar_friction.leaf, m.collar_diameter.leaf)
    up = rules.screw_torque(rules.screw_raise(force, diameter, lead, friction), collar, title="Torque to raise, all")
    down = rules.screw_torque(rules.screw_lower(force, diameter, lead, friction), collar, title="Torque to lower, all")
    back = rules.screw_back(down, title="Torque of the load, running back")
    return MechanismResult(
        id=m.id,
        kind=m.kind,
        torque=up,
        hardest=up,
        inertia=rules.screw_inertia(m.mass.leaf, lead),
        speed=rules.screw_speed(m.velocity.leaf, lead),
        extras=(down, rules.screw_efficiency(force, lead, up), collar),
        back=back,
        creeps=rules.beyond_friction(back),
    )


def _rack(m: Rack, time: Leaf) -> MechanismResult:
    weight = rules.weight(m.mass.leaf)
    slope_sine, slope_cosine = rules.sine(m.slope.leaf), rules.cosine(m.slope.leaf)
    force = rules.rack_force(weight, slope_sine, slope_cosine, m.friction.leaf, m.force.leaf)
    torque = rules.drum_torque(force, m.radius.leaf, title="Torque at the pinion")
    return MechanismResult(
        id=m.id,
        kind=m.kind,
        torque=torque,
        hardest=torque,
        inertia=rules.turntable_inertia(SPREAD["ring"], m.mass.leaf, m.radius.leaf),
        speed=rules.shaft_speed(m.velocity.leaf, m.radius.leaf),
        extras=(force,),
        creeps=rules.beyond_friction(
            rules.drum_torque(rules.pull_down(weight, slope_sine, slope_cosine, m.friction.leaf), m.radius.leaf)
        )
        if m.slope.value
        else None,
    )


def _lever(m: Lever, time: Leaf) -> MechanismResult:
    weight = rules.weight(m.mass.leaf)
    arm, hinge = m.centre.leaf, m.friction_torque.leaf
    mean = rules.lever_torque(weight, arm, rules.mean_cosine(m.start.leaf, m.end.leaf), hinge, case="RMS of the sweep")
    most = rules.lever_torque(
        weight,
        arm,
        rules.largest_cosine(m.start.leaf, m.end.leaf),
        hinge,
        case="worst angle",
        title="Torque of the flap, worst",
    )
    sweep = rules.sweep_time(m.start.leaf, m.end.leaf, m.speed.leaf)
    return MechanismResult(
        id=m.id,
        kind=m.kind,
        torque=mean,
        hardest=most,
        inertia=rules.lever_inertia(m.mass.leaf, m.length.leaf),
        speed=m.speed.leaf,
        extras=(most, sweep),
        back=rules.lever_torque(
            weight,
            arm,
            rules.largest_cosine(m.start.leaf, m.end.leaf),
            NO_TORQUE,
            title="Torque of the load, running back",
        ),
        creeps=rules.lever_torque(
            weight,
            arm,
            rules.largest_arm(m.start.leaf, m.end.leaf),
            NO_TORQUE,
            title="Torque of the load without power",
        ),
    )


def _fan(m: Fan, time: Leaf) -> MechanismResult:
    torque = rules.fan_torque(m.torque.leaf, m.speed.leaf, m.at_speed.leaf)
    return MechanismResult(
        id=m.id, kind=m.kind, torque=torque, hardest=torque, inertia=m.inertia.leaf, speed=m.speed.leaf
    )


def _direct(m: Direct, time: Leaf) -> MechanismResult:
    torque = m.friction_torque.leaf
    return MechanismResult(
        id=m.id, kind=m.kind, torque=torque, hardest=torque, inertia=m.inertia.leaf, speed=m.speed.leaf
    )


_KINDS: dict[str, Callable[[Any, Leaf], MechanismResult]] = {
    "turntable": _turntable,
    "wheels": _wheels,
    "winch": _winch,
    "screw": _screw,
    "rack": _rack,
    "lever": _lever,
    "fan": _fan,
    "direct": _direct,
}
