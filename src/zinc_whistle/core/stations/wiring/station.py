"""Wiring: which pin goes where, which wire?"""

from __future__ import annotations

from ...cases.scene import DrivenScene, Outcome, ServoScene
from . import compute, fuse_limits, limits
from . import servo as servo_wires

LARGE_CURRENT_A = 10.0
"""Above it a stall melts thin wire (common practice, no source)."""


def driven(scene: DrivenScene) -> Outcome:
    """Connections, pins and wires of a drive with a driver."""
    result = compute.compute(scene.at, scene.circuit, scene.pins)
    return Outcome(results={"wiring": result}, checks=[*limits.checks(scene.at, result), *fuse_limits.checks(scene.at)])


def servo(scene: ServoScene) -> Outcome:
    """Connections of a servo."""
    result = servo_wires.for_servo(scene.drive, scene.servo, scene.pins)
    return Outcome(results={"wiring": result}, checks=limits.servo_checks(scene.drive, result))


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
