"""What is wrong: suspects from symptoms and readings, and a hidden fault to practise on."""

from __future__ import annotations

import hashlib
from collections import OrderedDict
from typing import Annotated, Literal

from fastapi import HTTPException
from pydantic import BaseModel, Field

from ..core.algebra.quantities import QuantityError, parse
from ..core.assess import MotorAssessment, assess
from ..core.design.continuity import Must
from ..core.design.drills import Right, drill, mark
from ..core.design.faults import Finder, finder_of
from ..core.design.faults.healthy import NotKnownYet
from ..core.design.faults.pads import locate
from ..core.design.faults.practice import Level, hide, judge
from ..core.design.faults.state import OVER_RANGE
from ..core.model.build import Build
from ..core.model.reading import Reading
from ..core.stations.bench.step import Step
from ..sheets.faults_view import (
    FaultsView,
    PlacesView,
    PracticeView,
    TakenView,
    faults_view,
    places_view,
    practice_view,
)
from . import models
from .routers import strict_router
from .routes_builds import MISSING, StoreOf

router = strict_router("/api/faults", "faults", MISSING)
Key = Annotated[str, Field(max_length=40)]
OVER_WORDS = ("ol", "o.l", "over", "over range", "open", "∞", "inf")
"""How a meter's end of range is written."""


class AskFaults(models.Strict):
    """A drive with what was seen and read; the log's failed readings come in by ``build_id``, those that passed only
    where ``still`` tells that they hold yet: the fault may be younger than they. A text here goes before them, and an
    empty one leaves its step out."""

    build: Build
    drive: Key
    build_id: str = Field("", max_length=40)
    readings: dict[Key, Annotated[str, Field(max_length=60)]] = Field({}, max_length=80)
    symptoms: dict[Key, bool] = Field({}, max_length=40)
    still: bool = False


class AskPractice(models.Strict):
    """A hidden fault by its number, the tests that were done on it in their order, and a guess (empty: none yet)."""

    build: Build
    drive: Key
    level: Level = "usual"
    number: int = Field(1, ge=1, le=1_000_000_000)
    done: list[Key] = Field([], max_length=80)
    guess: Key = ""


class AskPlaces(models.Strict):
    """A cause, and what the meter did at each touch so far."""

    build: Build
    drive: Key
    cause: Key
    answers: dict[Annotated[str, Field(max_length=300)], Must] = Field({}, max_length=200)


class AskDrill(models.Strict):
    """A hand sum by its number, and an answer as written (empty: none yet)."""

    build: Build
    drive: Key
    number: int = Field(1, ge=1, le=1_000_000_000)
    answer: str = Field("", max_length=60)


class DrillView(BaseModel):
    """A hand sum of this drive; with an answer its verdict, and the working."""

    topic: str
    question: str
    unit: str
    verdict: Right | Literal[""]
    says: str
    working: str


_KEPT: OrderedDict[str, Finder] = OrderedDict()
MOST_KEPT = 4
"""Finders by the build's own text: the draws of one cost more than all questions to it."""


def _finder(build: Build, motor: MotorAssessment) -> Finder:
    key = hashlib.sha256(f"{motor.drive.id}\n{build.model_dump_json()}".encode()).hexdigest()
    found = _KEPT.get(key)
    if found is None:
        try:
            found = finder_of(motor.context, motor.steps)
        except NotKnownYet as error:
            raise HTTPException(422, str(error)) from error
        _KEPT[key] = found
        while len(_KEPT) > MOST_KEPT:
            _KEPT.popitem(last=False)
    return found


def _motor(build: Build, drive: str, store: StoreOf, readings: list[Reading]) -> MotorAssessment:
    found = assess(build, store.shelf(), readings).drives.get(drive)
    if found is None:
        raise HTTPException(404, "This build has no such drive.")
    if (motor := found.of_motor) is None:
        raise HTTPException(422, "The finder knows drives with a motor: servos and other loads have their test sheet.")
    return motor


@router.post("")
def suspects(body: AskFaults, store: StoreOf) -> FaultsView:
    """The causes that could be behind what was seen and read, and the test that would tell most for its price."""
    kept = store.journal.readings(body.build_id) if body.build_id else []
    motor = _motor(body.build, body.drive, store, kept)
    finder = _finder(body.build, motor)
    fresh = _fresh(motor, kept)
    passed = [s.title for s in finder.steps if s.id in fresh and fresh[s.id].verdict == "pass"]
    counted = {k: r for k, r in fresh.items() if body.still or r.verdict != "pass"}
    taken, values = _taken(finder, counted, body.readings)
    return faults_view(finder, finder.ask(values, body.symptoms), taken, passed, body.symptoms)


@router.post("/places")
def find_place(body: AskPlaces, store: StoreOf) -> PlacesView:
    """In which joint or between which pads a cause sits, and what to touch next. 422 where it sits in none."""
    motor = _motor(body.build, body.drive, store, [])
    net = motor.wiring.netlist
    try:
        return places_view(net, locate(net, body.drive, body.cause, body.answers))
    except LookupError as error:
        raise HTTPException(422, str(error)) from error


def _fresh(motor: MotorAssessment, kept: list[Reading]) -> dict[str, Reading]:
    """The last reading of each step that still stands on what it stood on."""
    last = {r.step: r for r in kept if r.drive == motor.drive.id and not r.withdrawn}
    return {step: r for step, r in last.items() if r.id not in motor.stale_readings}


def _taken(finder: Finder, kept: dict[str, Reading], texts: dict[str, str]) -> tuple[list[TakenView], dict[str, float]]:
    """The readings that count with their texts, and their values (SI)."""
    taken, values = [], dict[str, float]()
    for step in finder.steps:
        text, reading, error = texts.get(step.id), kept.get(step.id), ""
        if (text is None and reading is None) or (text is not None and not text.strip()):
            continue
        if text is None and reading is not None:
            values[step.id] = reading.value
        elif text is not None:
            try:
                values[step.id] = _read(step, text)
            except QuantityError as refused:
                error = str(refused)
        said = text if text is not None else reading.text if reading is not None else ""
        if said[-1:].isdigit() and step.unit != "1":
            said = f"{said} {step.unit}"
        taken.append(TakenView(step=step.id, title=step.title, text=said, from_log=text is None, error=error))
    return taken, values


def _read(step: Step, text: str) -> float:
    return OVER_RANGE if text.strip().lower() in OVER_WORDS else parse(text, step.kind, step.unit).value


@router.post("/practice")
def practise(body: AskPractice, store: StoreOf) -> PracticeView:
    """A hidden fault of this drive: what it shows, what the tests done on it read, and how a guess did."""
    motor = _motor(body.build, body.drive, store, [])
    finder = _finder(body.build, motor)
    hidden = hide(finder, body.level, body.number)
    judged = judge(finder, hidden, body.done, body.guess) if body.guess else None
    return practice_view(finder, hidden, body.done, judged)


@router.post("/drill")
def hand_sum(body: AskDrill, store: StoreOf) -> DrillView:
    """A sum of the trade from this drive's own figures. 422 where the answer cannot be read."""
    motor = _motor(body.build, body.drive, store, [])
    asked = drill(motor.context, motor.steps, body.number)
    told = DrillView(
        topic=asked.topic,
        question=asked.question,
        unit="" if asked.unit == "1" else asked.unit,
        verdict="",
        says="",
        working="",
    )
    if not body.answer.strip():
        return told
    try:
        marked = mark(asked, body.answer)
    except QuantityError as error:
        raise HTTPException(422, str(error)) from error
    return told.model_copy(update={"verdict": marked.verdict, "says": marked.says, "working": marked.working})
