"""Sequences of the whole build: each made ready, looked at in every course, and held against its interlocks."""

from __future__ import annotations

import json
import math
from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache

from ...algebra.limits import Check, claim
from ...cases.servo import ServoResult
from ...model.build import Build, LoadDrive, MotorDrive, bind_build
from ...model.servo import ServoSpec
from ...panel.script import Script, guards_of, script_of
from ...panel.script_check import ScriptChecked, check_script

STATION = "signals"


@dataclass(frozen=True, slots=True)
class SequenceResult:
    """A sequence as it runs and what its check says, or why it cannot run."""

    id: str
    name: str
    script: Script | None
    checked: ScriptChecked | None
    refusal: str


def transit_ms(spec: ServoSpec, result: ServoResult) -> int:
    """How long a servo needs from end to end under its load, with the reserve of its dwell; 0 if that is not known, or
    where it has no place."""
    dwell, sweep, travel = result.dwell.value, spec.sweep.value, spec.travel.value
    if spec.style != "positional" or dwell is None or not sweep or travel is None:
        return 0
    return math.ceil(dwell * max(travel / sweep, 1.0) * 1000)


def compute(build: Build, transits: Mapping[str, int]) -> tuple[SequenceResult, ...]:
    """Every sequence of a build."""
    if not build.sequences:
        return ()
    # Only what a sequence reads: a key elsewhere does not look at all courses again.
    read = build.model_dump(mode="json", include={"sequences", "interlocks"})
    drives = [
        {"id": d.id, "kind": d.kind, "name": d.name, "controller": d.controller}
        | (
            {
                "signals": {"told_by": d.driven.signals.told_by},
                "panel": {"limits": d.driven.panel.limits, "command": d.driven.panel.command},
            }
            if d.driven is not None
            else {}
        )
        | (
            {"servo": d.of_servo.servo.model_dump(mode="json", include={"style", "travel", "poses"})}
            if d.of_servo is not None
            else {}
        )
        for d in build.drives
    ]
    controllers = [{"id": c.id} for c in build.controllers]
    text = json.dumps(read | {"drives": drives, "controllers": controllers})
    return _made(text, tuple(sorted(transits.items())))


@lru_cache(maxsize=32)
def _made(text: str, transits: tuple[tuple[str, int], ...]) -> tuple[SequenceResult, ...]:
    build = Build.model_validate_json(text)
    bind_build(build)
    found = []
    for sequence in build.sequences:
        name = sequence.name or "Sequence"
        try:
            script = script_of(build, sequence, dict(transits))
        except ValueError as error:
            found.append(SequenceResult(sequence.id, name, None, None, str(error)))
        else:
            found.append(SequenceResult(sequence.id, name, script, check_script(script), ""))
    return tuple(found)


def _steering(build: Build) -> list[Check]:
    """Both sides of what steers by their difference hear the port, run both ways, and hang on one controller."""
    steering = build.steering
    if not steering.left and not steering.right:
        return []
    sides = {d.id: d for d in build.driven if d.of_motor is not None}
    left, right = sides.get(steering.left), sides.get(steering.right)
    if left is None or right is None or left is right:
        refusal = "Name two motors: one on each side."
    elif left.controller != right.controller:
        refusal = "Both sides must be told by one controller: it mixes speed and turn."
    else:
        refusal = next((why for d in (left, right) if (why := _cannot_steer(d))), "")
    return [
        claim(
            "panel.steering",
            station=STATION,
            title="Both sides can be steered",
            holds=not refusal,
            todo=refusal,
            where="steering",
            destructive=False,
        )
    ]


def _cannot_steer(drive: MotorDrive | LoadDrive) -> str:
    name = drive.name or drive.id
    if drive.signals.told_by != "pulses":
        return f"{name} is not told by pulses: a side that knows only on and off cannot steer."
    if drive.panel.command != "serial":
        return f"{name} is commanded by its buttons: let the serial port command both sides."
    if drive.signals.reversal == "one way":
        return f"{name} runs one way: the inner side of a turn runs back."
    return ""


def checks(build: Build, results: tuple[SequenceResult, ...]) -> list[Check]:
    """Each sequence can run and does nothing that it must not; each interlock means something."""
    found = _steering(build)
    for result in results:
        path = f"sequences.{result.id}.steps"
        found.append(
            claim(
                f"panel.sequence.{result.id}",
                station=STATION,
                title=f"{result.name}: its steps can be done",
                holds=result.script is not None,
                todo=result.refusal,
                where=path,
                destructive=False,
            )
        )
        if result.checked is None:
            continue
        found += [
            claim(
                f"panel.sequence.{result.id}.{verdict.code}",
                station=STATION,
                title=f"{result.name}: {verdict.says[0].lower()}{verdict.says[1:]}",
                holds=verdict.holds,
                todo=f"It can: {'; '.join(verdict.steps)}.",
                unknown="Not looked at whole: it has too many drives and places.",
                where=path,
                destructive=verdict.code in ("free", "steady"),
            )
            for verdict in result.checked.verdicts
        ]
    for controller in build.controllers:
        try:
            guards_of(build, controller.id, {})
        except ValueError as error:
            found.append(
                claim(
                    f"panel.interlocks.{controller.id}",
                    station=STATION,
                    title="Interlocks name what can be told",
                    holds=False,
                    todo=str(error),
                    where="interlocks",
                )
            )
    return found
