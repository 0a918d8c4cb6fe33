"""What a servo can move on its rail, how long it takes, and what it draws."""

from __future__ import annotations

from dataclasses import dataclass

from ..algebra import findings as f
from ..algebra.findings import Finding
from ..algebra.working import Constant, Figure, Leaf, Node
from ..laws import servo as rules
from ..model.servo import ServoSpec
from .timer_plan import TimerPlan

SHORTEST = Constant("0.5 ms", 0.5e-3, "time", "common practice, no source: real servos reach 0.5 to 2.5 ms")
LONGEST = Constant("2.5 ms", 2.5e-3, "time", "common practice, no source: real servos reach 0.5 to 2.5 ms")


@dataclass(frozen=True, slots=True)
class ServoResult:
    """Torque, speed, pulse and currents on the rail's volts."""

    rail: Node
    torque_needed: Figure
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
    moving_current: Leaf
    stall_current: Figure
    plan: TimerPlan


def compute(spec: ServoSpec, rail: Node, plan: TimerPlan) -> ServoResult:
    """A servo on a rail of ``rail`` volts, its pulses made as planned."""
    because = [spec.chosen("style")]
    needed = rules.needed_torque(spec.force.leaf, spec.arm.leaf)
    stall = rules.stall_on_rail(spec.stall_torque.leaf, rail, spec.rated_v.leaf)
    speed = rules.speed_on_rail(spec.sixty_time.leaf, rail, spec.rated_v.leaf)
    loaded = rules.loaded_speed(speed, needed, stall)
    transit = rules.transit_time(spec.sweep.leaf, loaded)
    share = rules.moving_share(spec.moves.leaf, transit)
    low, high = spec.pulse_low.leaf, spec.pulse_high.leaf
    steps = rules.pulse_steps(low, high, rules.tick(plan.steps, plan.frequency))
    return ServoResult(
        rail=rail,
        torque_needed=needed,
        stall_torque=stall,
        usable_torque=rules.usable_torque(stall),
        speed=speed,
        loaded_speed=loaded,
        transit_time=transit,
        dwell=rules.dwell(transit, spec.frame.leaf, because=because),
        pulse_span=rules.pulse_span(low, high, spec.sweep.leaf, spec.travel.leaf, because=because),
        middle_pulse=rules.middle_pulse(low, high),
        steps=steps,
        angle_step=rules.angle_step(spec.travel.leaf, steps),
        moving_share=share,
        mean_current=rules.mean_current(spec.idle_a.leaf, spec.moving_a.leaf, share),
        moving_current=spec.moving_a.leaf,
        stall_current=rules.current_on_rail(spec.stall_a.leaf, rail, spec.rated_v.leaf),
        plan=plan,
    )


def checks(spec: ServoSpec, result: ServoResult, drive: str, rail_named: bool) -> list[Finding]:
    """Torque, travel, volts, pulse range and the controller's timer."""
    known = result.rail.value is not None if not isinstance(result.rail, float) else True
    found = [
        f.upper(
            "servo.torque",
            "load",
            "Torque against half the stall torque",
            result.torque_needed,
            result.usable_torque,
            "Shorten the horn, take a stronger servo, or give it a higher rail.",
            drive=drive,
            where=f"{spec.path}.force",
            over="warn",
            destructive=False,
        ),
        f.yes_no(
            "servo.rail",
            "supply",
            "The servo's rail is named",
            True if rail_named else None,
            "",
            drive=drive,
            unknown="Not known yet: name its rail at Supply.",
            destructive=False,
        ),
        f.upper(
            "servo.volts_high",
            "supply",
            "Rail, highest",
            result.rail,
            spec.high_v.leaf,
            "Give it a lower rail: a regulator of its own.",
            drive=drive,
            where=f"{spec.path}.high_v",
        ),
        f.lower(
            "servo.volts_low",
            "supply",
            "Rail, lowest",
            result.rail,
            spec.low_v.leaf,
            "Give it a higher rail.",
            drive=drive,
            where=f"{spec.path}.low_v",
            destructive=False,
            over="warn",
        ),
        f.yes_no(
            "servo.pulse_low",
            "signals",
            "Shortest pulse is one that servos follow",
            _at_least(spec.pulse_low.value, SHORTEST),
            "Few servos follow so short a pulse: try the ends by hand, with the horn off.",
            drive=drive,
            where=f"{spec.path}.pulse_low",
            over="warn",
            destructive=False,
            unknown="Not known yet: give the pulse.",
        ),
        f.yes_no(
            "servo.pulse_high",
            "signals",
            "Longest pulse is one that servos follow",
            _at_most(spec.pulse_high.value, LONGEST),
            "Few servos follow so long a pulse: try the ends by hand, with the horn off.",
            drive=drive,
            where=f"{spec.path}.pulse_high",
            over="warn",
            destructive=False,
            unknown="Not known yet: give the pulse.",
        ),
        f.yes_no(
            "servo.timer",
            "signals",
            "A timer makes the frame",
            None if result.plan.error.value is None else abs(result.plan.error.value) < 0.2,
            "No timer of this controller goes slow enough: make the pulse in software, or take a finer prescaler.",
            drive=drive,
            over="warn",
            where=f"{spec.path}.frame",
            destructive=False,
            unknown="Not known yet: name a controller with timers.",
        ),
    ]
    if spec.style == "positional":
        found.append(
            f.yes_no(
                "servo.travel",
                "load",
                "The sweep lies within its travel",
                _at_most(spec.sweep.value, spec.travel.value),
                "Ask for less, gear the horn, or take a servo that turns further.",
                drive=drive,
                where=f"{spec.path}.sweep",
                destructive=False,
                unknown="Not known yet: give sweep and travel.",
            )
        )
    return found if known else [x for x in found if x.station != "supply" or x.code == "servo.rail"]


def _at_least(value: float | None, limit: float | None) -> bool | None:
    return None if value is None or limit is None else value >= limit * (1 - 1e-9)


def _at_most(value: float | None, limit: float | None) -> bool | None:
    return None if value is None or limit is None else value <= limit * (1 + 1e-9)
