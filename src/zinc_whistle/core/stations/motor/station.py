"""Motor: what have I got?"""

from __future__ import annotations

from ...cases import chopping
from ...cases.axes import HOTTEST
from ...cases.scene import MotorScene, Outcome
from . import limits, low_speed, thermal


def motor(scene: MotorScene) -> Outcome:
    """What the motor is, how well it is known, its heat, and how slowly it can creep."""
    at, spec, id = scene.at, scene.drive.motor, scene.drive.id
    shown = chopping.as_it_heats(at.load.heat_current, scene.circuit.duty_nominal)
    searched = chopping.as_it_heats(at.at_any_speed(at.load.heat_current), scene.circuit.anywhere.duty)
    heat = thermal.compute(spec, at.motor, shown, at.build.ambient.hot.leaf, at.air)
    scene.judge.seed([(heat.any_allowed, HOTTEST, heat.allowed)])
    slow = low_speed.compute(at, scene.circuit, scene.counts.counts_per_motor_turn)
    return Outcome(
        results={"motor": at.motor, "at_supply": scene.at_supply, "heat": heat, "low_speed": slow},
        checks=[
            *limits.checks(spec, at.motor, id),
            *thermal.checks(spec, heat, searched, id),
            *low_speed.checks(at, slow),
        ],
    )


def cautions(scene: MotorScene, outcome: Outcome) -> list[str]:
    return [
        (
            "Clamp the motor before a stall test; hold the shaft mechanically, never "
            "by hand. One second, then let it cool."
        ),
        "The 10 A socket of many meters is for seconds, and not all are fused.",
    ]
