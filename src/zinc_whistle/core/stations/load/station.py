"""Load: what must it move, how fast, how long?"""

from __future__ import annotations

from ...cases.scene import LoadScene, MotorScene, Outcome, ServoScene
from . import dc_load_limits, limits, servo_limits


def motor(scene: MotorScene) -> Outcome:
    """Torque, speed and current of the mechanism on the motor's shaft."""
    return Outcome(results={"load": scene.at.load}, checks=limits.checks(scene.at, scene.circuit))


def load(scene: LoadScene) -> Outcome:
    """A solenoid, pump or lamp on its supply."""
    at = scene.at
    return Outcome(checks=dc_load_limits.checks(at.drive.load, at.load, at.volts, at.drive.id))


def servo(scene: ServoScene) -> Outcome:
    """What a servo moves on its rail."""
    return Outcome(
        results={"servo": scene.servo}, checks=servo_limits.checks(scene.drive.servo, scene.servo, scene.drive.id)
    )


def cautions(scene: MotorScene | LoadScene, outcome: Outcome) -> list[str]:
    return [
        "What turns can catch hair, sleeves and fingers: guard it, and keep the public an arm's length away.",
        "Nothing that can fall may be held up by a motor alone. A lift, gate, hoist or vehicle falls under local "
        "codes and standards: ask a qualified person.",
    ]


def servo_cautions(scene: ServoScene, outcome: Outcome) -> list[str]:
    return [
        "A servo does not feel fingers: keep them out of the linkage, and fit the horn with the pulse at its middle."
    ]
