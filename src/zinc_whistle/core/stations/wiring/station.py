"""Wiring: which pin goes where, which wire?"""

from __future__ import annotations

from ...cases.scene import DrivenScene, Outcome, ServoScene
from . import compute, fuse_limits, limits, run_limits

LARGE_CURRENT_A = 10.0
"""Above it a stall melts thin wire (common practice, no source)."""


def driven(scene: DrivenScene) -> Outcome:
    """Connections, pins and wires of a drive with a driver."""
    result = compute.compute(scene)
    return Outcome(
        results={"wiring": result},
        checks=[
            *limits.checks(scene.at, result),
            *run_limits.checks(scene.at, scene.circuit),
            *fuse_limits.checks(scene.at),
        ],
    )


def servo(scene: ServoScene) -> Outcome:
    """Connections of a servo."""
    result = compute.for_servo(scene)
    run = scene.drive.wiring.signal_run
    ends = run_limits.contact(run, scene.servo.any_stall, code="servo", words="servo", drive=scene.drive.id)
    return Outcome(results={"wiring": result}, checks=[*limits.servo_checks(scene.drive, result), *ends])


def cautions(scene: DrivenScene, outcome: Outcome) -> list[str]:
    said = [
        "Solder in moving air, wash your hands afterwards, and wear eye protection when trimming leads.",
        "Mains only by a finished, approved adaptor: anything beyond that is for a licensed electrician.",
    ]
    if (scene.circuit.stall_full.value or 0.0) > LARGE_CURRENT_A:
        said.append("Stall current here melts thin wire: no bridging of the fuse, not for a moment.")
    return said


def servo_cautions(scene: ServoScene, outcome: Outcome) -> list[str]:
    return ["Colours of servo leads differ: check which is plus with a meter before plugging it in."]
