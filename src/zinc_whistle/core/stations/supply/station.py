"""Supply: what feeds it?"""

from __future__ import annotations

from ...cases.scene import DrivenScene, Outcome, ServoScene
from ...model.supply import Chemistry
from . import compute, limits, servo_limits

LITHIUM = "A lithium pack gives hundreds of amperes into a short: use a protected pack, and charge it attended."
CELLS: dict[Chemistry, str] = {
    "own": "Any battery burns wires when shorted; charge it only as its maker says.",
    "lifepo4": LITHIUM,
    "li-ion": LITHIUM,
    "lead": "A lead battery gives hundreds of amperes into a short, and gas when charged: cover its poles, and air it.",
    "nimh": "Nickel-metal hydride cells give tens of amperes into a short: insulate them, and charge with a cut-off.",
    "alkaline": "Alkaline cells heat and leak when shorted or charged: never charge them, never mix old and new.",
    "9 v block": "A 9 V block carries both poles on one face: cap it when it is stored with metal.",
}
"""Common practice, no source."""


def driven(scene: DrivenScene) -> Outcome:
    """What one drive sees of its source, with every other drive on it."""
    result = compute.compute(scene.at, scene.circuit, scene.demands)
    scene.judge.seed(result.any_known)
    return Outcome(
        results={"supply": result},
        checks=limits.checks(
            scene.at, result, scene.logic_needs, scene.circuit.anywhere.source_start, scene.logic_named
        ),
    )


def servo(scene: ServoScene) -> Outcome:
    """A servo's rail."""
    return Outcome(checks=servo_limits.checks(scene.drive.servo, scene.servo, scene.drive.id, bool(scene.drive.rail)))


def cautions(scene: DrivenScene, outcome: Outcome) -> list[str]:
    if scene.at.source.kind == "battery":
        return ["Fuse first, at the source.", CELLS[scene.at.source.chemistry]]
    return ["Fuse first, at the source.", "Mains only by a finished, approved adaptor."]


def servo_cautions(scene: ServoScene, outcome: Outcome) -> list[str]:
    return ["Servos that jam together draw their stall currents together: fuse the rail, and size it for that."]
