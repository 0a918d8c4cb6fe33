"""Driver: which kind, which part?"""

from __future__ import annotations

from collections.abc import Callable

from ...algebra.findings import Finding
from ...algebra.limits import Check
from ...cases.scene import DrivenScene, LoadScene, MotorScene, Outcome
from . import jam
from .candidates import held_against
from .limits import not_chosen

LARGE_CURRENT_A = 10.0
"""Above it a stall melts thin wire (common practice, no source)."""
HOT_SURFACE_C = 60.0
"""A part whose junction is above it is too hot to touch (common practice, no source)."""


def motor(scene: MotorScene) -> Outcome:
    """The chosen part or stage against the motor's drive, and what acts in a jam."""
    return _judged(scene, lambda: jam.checks(scene.at, scene.driving, scene.judge) if scene.driving else [])


def load(scene: LoadScene) -> Outcome:
    """The chosen part or stage against another load."""
    return _judged(scene, lambda: jam.checks_of_load(scene.at, scene.driving, scene.judge) if scene.driving else [])


def _judged(scene: DrivenScene, more: Callable[[], list[Check]]) -> Outcome:
    if scene.driving is None:
        return Outcome(results={"chosen": None}, checks=[not_chosen(scene.drive.id)])
    chosen = held_against(scene.at, scene.driving, scene.judge)
    checks: list[Check | Finding] = [*chosen.checks, *more()]
    return Outcome(results={"chosen": chosen}, checks=checks)


def cautions(scene: DrivenScene, outcome: Outcome) -> list[str]:
    said = []
    junction = scene.driving.heat.junction.value if scene.driving is not None else None
    if junction is not None and junction > HOT_SURFACE_C:
        said.append("This part runs hot enough to burn: mount it where nobody touches it.")
    if (scene.circuit.stall_full.value or 0.0) > LARGE_CURRENT_A:
        said.append("Stall current here melts thin wire: no bridging of the fuse, not for a moment.")
    return said
