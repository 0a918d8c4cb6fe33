"""What a servo can move on its rail, how long it takes, and what it draws."""

from __future__ import annotations

from dataclasses import dataclass

from ..algebra.nodes import Figure, Leaf, Node
from ..laws import servo as rules
from ..laws.heat import REGULATOR_TIME
from ..model.servo import ServoSpec
from .timer_plan import TimerPlan


@dataclass(frozen=True, slots=True)
class ServoResult:
    """Torque, speed, pulse and currents on the rail's volts."""

    rail: Node
    torque_needed: Figure
    sweep: Node
    """Of its own shaft."""
    stall_torque: Figure
    usable_torque: Figure
    speed: Figure
    loaded_speed: Figure
    transit_time: Figure
    dwell: Figure
    pulse_span: Figure
    middle_pulse: Figure
    steps: Figure
    angle_step: Figure
    moving_share: Figure
    mean_current: Figure
    warming_current: Figure | Leaf
    """What its regulator's heat counts: one that turns on and on may do so for as long as it likes."""
    moving_current: Leaf
    stall_current: Figure
    any_rail: Node
    """The rail whatever its source then is; a regulator holds it where it is."""
    any_loaded: Node
    """The same with everything on it stalled."""
    any_usable: Node
    any_stall: Node
    plan: TimerPlan


def compute(spec: ServoSpec, rail: Node, any_rail: Node, any_loaded: Node, plan: TimerPlan) -> ServoResult:
    """A servo on a rail of ``rail`` volts, its pulses made as planned; ``any_loaded`` with all servos stalled."""
    because = [spec.chosen("style")]
    told = [spec.chosen("through")]
    sweep: Node = spec.sweep.leaf
    if spec.through == "gear":
        needed = rules.needed_through_gear(
            spec.force.leaf, spec.arm.leaf, spec.ratio.leaf, spec.gear_efficiency.leaf, because=told
        )
        sweep = rules.own_sweep(spec.sweep.leaf, spec.ratio.leaf, because=told)
    else:
        needed = rules.needed_torque(spec.force.leaf, spec.arm.leaf, because=told)
    stall = rules.stall_on_rail(spec.stall_torque.leaf, rail, spec.rated_v.leaf)
    speed = rules.speed_on_rail(spec.sixty_time.leaf, rail, spec.rated_v.leaf)
    loaded = rules.loaded_speed(speed, needed, stall)
    transit = rules.transit_time(sweep, loaded)
    share = rules.moving_share(spec.moves.leaf, transit)
    low, high = spec.pulse_low.leaf, spec.pulse_high.leaf
    if spec.pulses_cross:
        high = Leaf(high.id, "a longest pulse above the shortest", high.kind, None)
    steps = rules.pulse_steps(low, high, rules.tick(plan.steps, plan.frequency))
    any_stall_torque = rules.stall_on_rail(spec.stall_torque.leaf, any_loaded, spec.rated_v.leaf)
    return ServoResult(
        any_rail=any_rail,
        any_loaded=any_loaded,
        any_usable=rules.usable_torque(any_stall_torque),
        any_stall=rules.current_on_rail(spec.stall_a.leaf, any_rail, spec.rated_v.leaf),
        rail=rail,
        torque_needed=needed,
        sweep=sweep,
        stall_torque=stall,
        usable_torque=rules.usable_torque(stall),
        speed=speed,
        loaded_speed=loaded,
        transit_time=transit,
        dwell=rules.dwell(transit, spec.frame.leaf, because=because),
        pulse_span=rules.pulse_span(low, high, sweep, spec.travel.leaf, because=because),
        middle_pulse=rules.middle_pulse(low, high),
        steps=steps,
        angle_step=rules.angle_step(spec.travel.leaf, steps),
        moving_share=share,
        mean_current=rules.mean_current(spec.idle_a.leaf, spec.moving_a.leaf, share),
        warming_current=spec.moving_a.leaf
        if spec.style == "continuous"
        else rules.warming_current(
            spec.idle_a.leaf,
            spec.moving_a.leaf,
            share,
            transit,
            REGULATOR_TIME,
            because=because,
            title="Warming current",
        ),
        moving_current=spec.moving_a.leaf,
        stall_current=rules.current_on_rail(spec.stall_a.leaf, rail, spec.rated_v.leaf),
        plan=plan,
    )
