"""Power stage: if I build it from transistors, does it stay cool?"""

from __future__ import annotations

from ...cases.scene import DrivenScene, Outcome
from . import compute
from . import limits as stage_limits

HOT_SURFACE_C = 60.0
"""A part whose junction is above it is too hot to touch (common practice, no source)."""


def driven(scene: DrivenScene) -> Outcome:
    """The stage round any driver, and every stress of one of one's own."""
    at, driving = scene.at, scene.driving
    result = compute.compute(at, scene.circuit, driving)
    built = driving.result if driving is not None else None
    return Outcome(
        results={"stage": result, "discrete": built},
        checks=[*compute.checks(at, driving, result), *(stage_limits.checks(at, built) if built is not None else [])],
    )


def cautions(scene: DrivenScene, outcome: Outcome) -> list[str]:
    said = ["The case is not the junction, and a junction at its limit burns skin: no fingers."]
    junction = scene.driving.heat.junction.value if scene.driving is not None else None
    if junction is not None and junction > HOT_SURFACE_C:
        said.append("This part runs hot enough to burn: mount it where nobody touches it.")
    return said
