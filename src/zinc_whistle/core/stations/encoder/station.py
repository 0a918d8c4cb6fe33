"""Encoder: what does it resolve, can the controller keep up?"""

from __future__ import annotations

from ...cases.scene import MotorScene, Outcome, Standing
from . import limits


def motor(scene: MotorScene) -> Outcome:
    """Counts and rates of the encoder; its calibration stands on the counts of one turn."""
    spec, counts = scene.drive.encoder, scene.counts
    return Outcome(
        results={"encoder": counts},
        checks=limits.checks(scene.at, counts),
        standing={f"{spec.path}.calibrated": Standing(given=spec.calibrated, on=counts.counts_per_output_turn)}
        | {f"{r.path}.counts": Standing(given=r.counts, on=counts.counts_per_output_turn) for r in spec.runs},
    )


def cautions(scene: MotorScene, outcome: Outcome) -> list[str]:
    return []
