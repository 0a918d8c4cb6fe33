"""Loop: does it reach its speed without overshoot, hunting or a jolt?"""

from __future__ import annotations

from ...cases.scene import MotorScene, Outcome, Standing
from . import compute


def motor(scene: MotorScene) -> Outcome:
    """The step response of the speed loop; its tuning stands on the loop's damping."""
    result = compute.compute(scene.at, scene.circuit)
    spec = scene.drive.loop
    return Outcome(
        results={"loop": result},
        checks=compute.checks(scene.at, result),
        standing={f"{spec.path}.gain": Standing(given=spec.gain, on=result.damping)},
    )


def cautions(scene: MotorScene, outcome: Outcome) -> list[str]:
    return ["Make the sign test at low duty before the loop is closed: a drive with swapped leads runs away."]
