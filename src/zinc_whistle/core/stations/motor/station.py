"""Motor: what have I got?"""

from __future__ import annotations

from ...cases import chopping
from ...cases.axes import HOTTEST
from ...cases.scene import MotorScene, Outcome
from ...model.motor import Salvage
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
            *limits.checks(spec, at.motor, at.volts.any, id),
            *thermal.checks(spec, heat, searched, id),
            *low_speed.checks(at, slow),
        ],
    )


def cautions(scene: MotorScene, outcome: Outcome) -> list[str]:
    return [*_salvaged(scene.drive.motor.salvage), *COMMON]


def _salvaged(spec: Salvage) -> list[str]:
    """What to look at on a motor out of an appliance."""
    said = []
    if spec.grease == "hard":
        said.append(
            "Hard grease brakes more than the motor's own friction: clean and grease it anew before the no-load "
            "readings, or they tell of the grease."
        )
    if spec.stages.value:
        least, most = (round(100 * share**spec.stages.value) for share in (0.85, 0.95))
        said.append(
            f"{spec.stages.value:.0f} gear stages pass some {least} to {most} % (common practice: 85 to 95 % each): "
            "give that at Load, not 100 %."
        )
    if spec.appliance:
        said.append("What was made for mains stays shut, its capacitors keep their charge: take out the motor alone.")
    return said


COMMON = [
    ("Clamp the motor before a stall test; hold the shaft mechanically, never by hand. One second, then let it cool."),
    "The 10 A socket of many meters is for seconds, and not all are fused.",
]
