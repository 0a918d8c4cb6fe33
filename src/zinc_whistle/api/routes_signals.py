"""Signals: the panel tried on screen, and the program of a controller."""

from __future__ import annotations

from typing import Any

from fastapi import HTTPException, Response

from ..core.algebra.quantities import phrase
from ..core.assess import DrivenAssessment, assess
from ..core.panel.lamps import rules_of
from ..core.panel.machine import Machine
from ..core.panel.settings import BOUNCING, MILLIAMPS, Settings
from ..core.panel.trial import Memory, TrialCourse, advance
from ..core.program.course import SequenceCourse, play_course
from ..core.program.keep import renewed
from ..core.program.plan import plan_program
from ..core.program.planned import NotYet
from ..core.program.written import written
from ..core.simulation.plant import Path, Plant
from ..core.simulation.scenario import drive_of, plant_of
from ..core.stations.signals.panel import lines_for
from ..core.stations.signals.panel_settings import settings_of
from ..sheets.panel import INPUT_LABELS
from ..sheets.scale import in_unit
from . import models, models_runs
from .board_files import image_of, zipped
from .routers import strict_router
from .routes_builds import MISSING, StoreOf

router = strict_router("/api/signals", "signals")


@router.post("/press", responses=MISSING)
def press(body: models_runs.Press, store: StoreOf) -> models_runs.Pressed:
    """Some time of a drive's panel with inputs held, the simulated motor answering. What it remembers goes out and
    comes
    back with the next call."""
    found = assess(body.build, store.shelf()).drives.get(body.drive)
    done = found.driven if found is not None else None
    if done is None:
        raise HTTPException(404, "This build has no such drive with a driver.")
    machine, lines = done.panel.machine, lines_for(done.context)
    if machine is None or lines is None:
        raise HTTPException(422, done.panel.refusal or "Choose a driver first: the panel presses its lines.")
    memory = Memory(**body.memory.model_dump()) if body.memory is not None else Memory()
    per_turn = done.counts_per_motor_turn
    plant, rest, opened, note = _motor(done)
    try:
        settings = settings_of(done.context, done.circuit, done.signals, per_turn)
        course = advance(
            machine,
            lines=lines,
            settings=settings,
            memory=memory,
            pressed=body.pressed,
            knob=body.knob,
            ms=body.ms,
            plant=plant,
            rest=rest,
            opened=opened,
            counts_per_turn=per_turn.value if per_turn is not None and COUNTED & set(machine.inputs) else None,
            lamps=done.drive.panel.lamps,
            prove=body.prove,
        )
    except ValueError as error:
        raise HTTPException(422, str(error)) from error
    mode = machine.by_name[memory.mode]
    lamps = rules_of(machine, done.drive.panel.lamps)
    return models_runs.Pressed(
        memory=models_runs.PanelMemory(**{n: getattr(memory, n) for n in models_runs.PanelMemory.model_fields}),
        mode=mode.name,
        says="proves: everything is off" if body.prove else mode.says,
        action=course.now.action,
        lines=dict(course.now.lines),
        time_s=[t / 1e3 for t in course.ms],
        level_pct=[100 * x for x in course.level],
        speed_rpm=in_unit(course.speed, "rpm"),
        current_a=in_unit(course.current, "A"),
        entered=[models.Said(name=f"{t / 1e3:.2f} s", text=machine.by_name[n].says) for t, n in course.modes],
        lamps=[
            models_runs.LampLit(name=x.name, lit=lit, blinks=x.blinks)
            for x, lit in zip(lamps, course.now.lamps, strict=True)
        ],
        proved=_proved(machine, settings, body, course, memory) if body.prove else [],
        note=note,
    )


def _proved(
    machine: Machine, settings: Settings, body: models_runs.Press, course: TrialCourse, memory: Memory
) -> list[models.Said]:
    """What the program would tell of its inputs: contacts as they stand, knob, current and count."""
    found = [
        models.Said(name=INPUT_LABELS[n], text="pressed" if n in body.pressed else "not pressed")
        for n in BOUNCING
        if n in machine.inputs
    ]
    if "knob_zero" in machine.inputs:
        found.append(models.Said(name="Knob", text=f"{body.knob} of 1023"))
    if settings.milliamps_fine:
        amps = phrase(course.sensed * settings.milliamps_fine / MILLIAMPS / 1000, "current")
        found.append(models.Said(name="Current sense", text=f"{course.sensed} of 1023: {amps}"))
    if COUNTED & set(machine.inputs):
        found.append(models.Said(name="Encoder", text=f"{memory.last_count} counts"))
    return found


COUNTED = {"stuck", "end_front"}
"""Inputs that a program finds in its counts."""


def _motor(done: DrivenAssessment) -> tuple[Plant | None, Path, Path, str]:
    """The motor behind a panel, its ways at brake and at off, and why there is none."""
    motor = done.of_motor
    if motor is None:
        return None, "off", "off", "Only the panel answers: this drive is no motor."
    try:
        plant, _ = plant_of(motor.context, motor.circuit)
        drive = drive_of(motor.context, motor.circuit, True)
    except ValueError as error:
        return None, "off", "off", f"Only the panel answers. {error}"
    opened: Path = "wheel" if drive.one_switch else "off"
    shorts = done.panel.around.rest == "brake" and (drive.relay_pause_s is not None or not drive.one_switch)
    return plant, "short" if shorts else opened, opened, ""


@router.post("/play", responses=MISSING)
def play(body: models_runs.AskCourse, store: StoreOf) -> SequenceCourse:
    """A sequence played on the model of its program. 422 with what is missing."""
    done = assess(body.build, store.shelf())
    sequence = next((s for s in done.build.sequences if s.id == body.sequence), None)
    if sequence is None:
        raise HTTPException(404, "This build has no such sequence.")
    try:
        plan = plan_program(done, sequence.controller)
    except NotYet as error:
        raise HTTPException(422, str(error)) from error
    number = next(k for k, s in enumerate(plan.scripts, 1) if s.id == sequence.id)
    to_limit = {x.drive: round((x.time.value or 1.0) * 1000) for x in sequence.steps if x.until == "limit"}
    return play_course(plan, number, to_limit)


ZIP: dict[int | str, dict[str, Any]] = {
    200: {"content": {"application/zip": {"schema": {"type": "string", "format": "binary"}}}}
}


@router.post("/board", response_class=Response, responses=MISSING | ZIP)
def board(body: models_runs.AskProgram, store: StoreOf) -> Response:
    """A program with all that goes to the board beside it: how to compile and load it, what to type at it, its numbers,
    and the image where the compiler is installed. 422 with what is missing."""
    done = assess(body.build, store.shelf())
    try:
        program = written(done, body.controller)
        source = renewed(program.source, body.edited).source if body.edited.strip() else program.source
    except ValueError as error:
        raise HTTPException(422, str(error)) from error
    image = image_of(program.plan, source)
    archive = zipped(program.files(source) | ({"program.hex": image} if image is not None else {}))
    return Response(
        archive, media_type="application/zip", headers={"content-disposition": 'attachment; filename="board.zip"'}
    )


@router.post("/program", responses=MISSING)
def program(body: models_runs.AskProgram, store: StoreOf) -> models_runs.ProgramView:
    """The program of a controller; with an ``edited`` one, what the builder wrote between the marks is taken over."""
    done = assess(body.build, store.shelf())
    try:
        own = written(done, body.controller)
    except NotYet as error:
        return models_runs.ProgramView(language="", file="", source="", missing=error.missing, warnings=[], kept=[])
    source, warnings, kept = own.source, list[str](), list[str]()
    if body.edited.strip():
        try:
            made = renewed(source, body.edited)
        except ValueError as error:
            raise HTTPException(422, str(error)) from error
        source, warnings, kept = made.source, list(made.warnings), list(made.kept)
    return models_runs.ProgramView(
        language=own.language, file=own.file, source=source, missing=[], warnings=warnings, kept=kept
    )
