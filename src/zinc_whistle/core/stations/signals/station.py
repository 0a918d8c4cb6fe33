"""Signals: what does it hear, what makes it move, what stops it?"""

from __future__ import annotations

from ...cases.scene import DrivenScene, MotorScene, Outcome, Scene, ServoScene
from . import compute, move_limits, panel, panel_checks, servo_limits


def driven(scene: DrivenScene) -> Outcome:
    """Pulses, ramps and the control panel."""
    at = scene.at
    result, controls = compute.compute(at, scene.circuit, scene.driving), panel.compute(at)
    found = [
        *compute.checks(at, scene.circuit, result),
        *panel_checks.checks(at, result, controls, scene.circuit),
    ]
    if isinstance(scene, MotorScene):
        found += move_limits.checks(scene, result.ramp)
    return Outcome(results={"signals": result, "panel": controls}, checks=found)


def servo(scene: ServoScene) -> Outcome:
    """A servo's pulses."""
    return Outcome(checks=servo_limits.checks(scene.drive.servo, scene.servo, scene.drive.id))


def cautions(scene: Scene, outcome: Outcome) -> list[str]:
    driven = scene.drive.driven
    if driven is not None and not driven.signals.by_program:
        return [
            "A switch that stands on starts the motor as soon as power is back: switch off before you join it.",
            "Keep a switch or a fuse within reach that cuts the power: nothing else here stops it.",
        ]
    return ["A program's stop does not cut power: keep a switch or a fuse that does."]
