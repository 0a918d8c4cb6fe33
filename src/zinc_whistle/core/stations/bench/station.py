"""Bench: what should I measure, and is what I read right?"""

from __future__ import annotations

from collections.abc import Sequence

from ...algebra.limits import Check, claim
from ...cases.scene import LoadScene, MotorScene, Outcome, Scene, ServoScene
from ...model.reading import Reading
from . import compute
from .compute import STATION
from .meter_alone import with_a_meter
from .own_steps import own_steps
from .readings import gone_stale
from .step import Step


def motor(scene: MotorScene) -> Outcome:
    return _held(scene, compute.steps(scene.at, scene.driving, scene.counts))


def load(scene: LoadScene) -> Outcome:
    return _held(scene, compute.load_steps(scene.at, scene.driving))


def servo(scene: ServoScene) -> Outcome:
    return _held(scene, compute.servo_steps(scene.drive.servo, scene.servo))


def _held(scene: Scene, designed: Sequence[Step]) -> Outcome:
    """The test sheet, the builder's own steps last in their stages, with the readings held against it."""
    tools = scene.build.tools
    if tools.scope == "no":
        designed = with_a_meter(designed, tools.chosen("scope"))
    steps = compute.in_order([*designed, *own_steps(scene.drive.bench)])
    last = {r.step: r for r in scene.readings}
    return Outcome(
        results={"steps": steps, "stale_readings": gone_stale(scene.readings, steps)},
        checks=[_verdict(scene.drive.id, step, last.get(step.id)) for step in steps],
    )


def _verdict(drive: str, step: Step, reading: Reading | None) -> Check:
    if reading is None:
        return claim(
            f"bench.{step.id}",
            station=STATION,
            title=step.title,
            holds=None,
            todo="",
            drive=drive,
            unknown="Not measured yet.",
            destructive=False,
        )
    return claim(
        f"bench.{step.id}",
        station=STATION,
        title=f"{step.title}: the reading is right",
        holds=reading.verdict != "fail",
        todo="Measure it again with the setting shown; then look for the cause before going on.",
        drive=drive,
        over="warn",
        destructive=False,
    )


def cautions(scene: Scene, outcome: Outcome) -> list[str]:
    return [
        "The oscilloscope's ground clip is earth: never on a bridge output.",
        "A bench supply's limit does not hold back what its output capacitor still gives into a short.",
    ]


def servo_cautions(scene: ServoScene, outcome: Outcome) -> list[str]:
    return ["Move the meter's lead back to volts afterwards: left in the current socket it is a short."]
