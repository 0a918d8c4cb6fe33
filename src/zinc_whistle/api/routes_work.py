"""Working out: assessment of a draft, the working of a figure, readings, the log, parts and quick sums."""

from __future__ import annotations

import logging
import time
from typing import Annotated, Literal

from fastapi import HTTPException, Path, Query, Request, Response
from pydantic_core import to_json

from ..core.algebra.quantities import QuantityError, phrase
from ..core.assess import Assessment, assess
from ..core.design import what_if
from ..core.model.build import bind_motors
from ..core.model.log_topic import TOPICS, checked, together
from ..core.model.motor import MotorPart
from ..core.model.reading import Reading, ReadingVerdict
from ..core.stations.bench.readings import judge
from ..core.stations.bench.step import Step
from ..core.sums import SUMS, Answer, SumError, work_out
from ..sheets.log_report import log_markdown
from ..sheets.motor import MotorChoice, choice_of
from ..sheets.sheet import Reply, reply, without_drives
from ..sheets.views import WorkingView, working_view
from ..store.builds import new_id
from ..store.journal import Entry
from . import models
from .board_files import zipped
from .heavy import LONGEST_TICKET, queue_of
from .routers import strict_router
from .routes_builds import MISSING, BuildId, StoreOf
from .timing import span

log = logging.getLogger("zinc_whistle")
router = strict_router("/api", "work")


@router.post("/assess", response_model=Reply)
def assess_draft(body: models.Draft, store: StoreOf) -> Response:
    """What follows from a draft: stamps, tight spots and one station's sheet. A field that cannot be read
    keeps its last good value and comes back with an error at its path."""
    readings = store.journal.readings(body.build_id) if body.build_id else []
    motors = store.motors() if body.station in ("motor", "load") else []
    try:
        with span("assess"):
            done = assess(body.build, store.shelf(), readings)
        wanted = _wanted(body, done) if body.station == "motor" else None
        other = None if wanted is None else _what_if(body, motors, wanted)
        with span("views"):
            made = reply(
                done,
                station=body.station,
                drive_id=body.drive,
                readings=readings,
                motors=motors,
                what_if=other,
                refused=wanted.refused if wanted is not None else {},
            )
    except Exception:
        log.exception("a build could not be worked out")
        made = without_drives(body.build, body.drive)
    # Written straight to JSON: checking our own reply against its model again takes a third of the time to answer.
    with span("json"):
        told = to_json(made, inf_nan_mode="null")
    return Response(told, media_type="application/json")


def _wanted(body: models.Draft, done: Assessment) -> what_if.Wanted | None:
    """What the draft's what-if comes to; None where none is asked, or of no motor."""
    asked, drive = body.what_if, what_if.motor_of(done.build, body.drive)
    if asked is None or drive is None:
        return None
    turning = done.drives[drive.id].of_motor
    assert turning is not None
    numbers = what_if.OtherNumbers(
        supply_v=asked.supply_v, gear_ratio=asked.gear_ratio, motor_torque=asked.motor_torque
    )
    return what_if.wanted(done.build, drive, numbers, turning.load)


def _what_if(body: models.Draft, motors: list[MotorPart], wanted: what_if.Wanted) -> Assessment | None:
    """The draft with the what-if's numbers put in, worked out."""
    drive = what_if.motor_of(body.build, body.drive)
    part = next((p for p in motors if body.what_if is not None and p.id == body.what_if.motor), None)
    if drive is None or (part is None and not wanted.changes):
        return None
    return assess(what_if.changed(body.build, drive, wanted.changes, part))


@router.get("/progress/{ticket}")
async def see_work(request: Request, ticket: Annotated[str, Path(max_length=LONGEST_TICKET)]) -> models.WorkView:
    """How far a piece of work is, and how many stand before it. Not known: it is over, or never was."""
    found = queue_of(request).found(ticket)
    if found is None:
        return models.WorkView(known=False, before=0, share=None, seconds=0.0)
    piece, before = found
    return models.WorkView(known=True, before=before, share=piece.share, seconds=time.monotonic() - piece.asked)


@router.post("/what-if", responses=MISSING)
def take_what_if(body: models.Draft) -> list[models.ChangeView]:
    """What taking a what-if over changes of the draft: texts and origins by path."""
    wanted = _wanted(body, assess(body.build))
    if wanted is None:
        raise HTTPException(404, "There is no what-if of a motor to take over.")
    if wanted.refused:
        raise HTTPException(422, " ".join(wanted.refused.values()))
    return [models.ChangeView.model_validate(c) for c in wanted.changes]


@router.get("/motors")
def list_motors(store: StoreOf) -> list[MotorPart]:
    """The shelf of motors: samples, and the builder's own."""
    return store.motors()


@router.get("/motors/choices")
def list_motor_choices(store: StoreOf) -> list[MotorChoice]:
    """The shelf of motors, a line each."""
    return [choice_of(m) for m in store.motors()]


@router.post("/motors", status_code=201)
def keep_motor(body: models.KeepMotor, store: StoreOf) -> MotorPart:
    """Put a drive's motor on the shelf as one of the builder's own."""
    part = MotorPart(id=new_id(), name=body.name.strip(), kind="own", motor=body.motor, note=body.note.strip())
    bind_motors([part])
    store.put_motors([part])
    return part


@router.put("/motors/{motor_id}", responses=MISSING)
def correct_motor(motor_id: BuildId, body: models.KeepMotor, store: StoreOf) -> MotorPart:
    """Correct one of the builder's own motors by a drive's. Builds that hold a copy keep it, and are offered what was
    corrected."""
    part = MotorPart(id=motor_id, name=body.name.strip(), kind="own", motor=body.motor, note=body.note.strip())
    bind_motors([part])
    store.renew_motor(part)
    return part


@router.delete("/motors/{motor_id}", status_code=204, responses=MISSING)
def take_motor(motor_id: BuildId, store: StoreOf) -> None:
    """Take one of the builder's own motors from the shelf; samples stay."""
    store.take_motor(motor_id)


@router.post("/working", responses=MISSING)
def show_working(body: models.WorkingOf, store: StoreOf) -> WorkingView:
    """Formula, numbers, origins, doubts, source and next use of one figure of a draft."""
    found = working_view(assess(body.build, store.shelf()), body.figure)
    if found is None:
        raise HTTPException(404, f"There is no figure “{body.figure[:80]}” in this build.")
    return found


@router.get("/builds/{build_id}/log", response_model=list[Entry], responses=MISSING)
def list_log(build_id: BuildId, store: StoreOf, newest: Annotated[int, Query(ge=-1, le=100_000)] = -1) -> Response:
    """Entries of one's own, readings, revisions and kept files, newest first: so many of them, or all (−1)."""
    store.builds.get(build_id)
    # A log of years is thousands of entries: checking our own against their model takes longer than telling them.
    return Response(to_json(store.journal.log(build_id, newest)), media_type="application/json")


@router.get("/builds/{build_id}/log.md", responses=MISSING)
def export_log(build_id: BuildId, store: StoreOf) -> Response:
    """The whole log as Markdown, the oldest entry first."""
    build = store.builds.get(build_id).build
    text = log_markdown(build, store.journal.log(build_id))
    headers = {"content-disposition": 'attachment; filename="log.md"'}
    return Response(text, media_type="text/markdown; charset=utf-8", headers=headers)


@router.get("/builds/{build_id}/log.zip", responses=MISSING)
def export_log_with_pictures(build_id: BuildId, store: StoreOf) -> Response:
    """The log as Markdown with its pictures beside it, in one archive."""
    build = store.builds.get(build_id).build
    files = [(f"pictures/{id}.jpg", id, file.body) for id, file in store.kept.pictures(build_id)]
    text = log_markdown(build, store.journal.log(build_id), {id: path for path, id, _ in files})
    archive = zipped({"log.md": text.encode(), **{path: body for path, _, body in files}})
    headers = {"content-disposition": 'attachment; filename="log.zip"'}
    return Response(archive, media_type="application/zip", headers=headers)


@router.post("/builds/{build_id}/log", status_code=201, responses=MISSING)
def add_note(build_id: BuildId, body: models.NewNote, store: StoreOf) -> list[Entry]:
    """Add an entry of the builder's own; a failure keeps the build as it was when it failed. 422 with a sentence."""
    store.builds.get(build_id)
    try:
        details = checked(body.topic, body.details)
    except QuantityError as error:
        raise HTTPException(422, str(error)) from error
    if body.topic == "failure":
        store.builds.cut_if_changed(build_id, "as it failed")
    store.journal.add_note(build_id, body.text.strip(), body.topic, details)
    return store.journal.log(build_id)


@router.post("/builds/{build_id}/log/{entry_id}/settle", responses=MISSING)
def settle_entry(build_id: BuildId, entry_id: Annotated[str, Path(max_length=40)], store: StoreOf) -> list[Entry]:
    """What stood open is done: undone after a failure, or built into the next board."""
    store.journal.settle(build_id, entry_id)
    return store.journal.log(build_id)


@router.get("/log/topics")
def list_topics() -> list[models.TopicView]:
    """The kinds of log entries and what each asks."""
    return [
        models.TopicView(
            key=t.key,
            label=t.label,
            asks=[models.TopicFieldView(key=f.key, label=f.label) for f in t.asks],
            open_as=t.open_as,
        )
        for t in TOPICS.values()
    ]


@router.get("/builds/{build_id}/log/totals", responses=MISSING)
def sum_log(build_id: BuildId, store: StoreOf) -> models.LogTotals:
    """Hours and money of all entries that stand."""
    store.builds.get(build_id)
    told = [(e.topic, e.details) for e in store.journal.log(build_id) if e.kind == "note" and not e.withdrawn]
    hours, spent = together(told, "hours", "hours"), together(told, "order", "price")
    return models.LogTotals(
        hours=f"{hours / 3600:.3g} h" if hours else "", spent=phrase(spent, "price") if spent else ""
    )


@router.post("/builds/{build_id}/log/{kind}/{entry_id}/withdraw", responses=MISSING)
def withdraw_entry(
    build_id: BuildId,
    kind: Literal["note", "reading", "capture", "photo"],
    entry_id: Annotated[str, Path(max_length=40)],
    store: StoreOf,
) -> list[Entry]:
    """Withdraw a note, a reading or a file: it stays in the log, struck out."""
    store.journal.withdraw(build_id, kind, entry_id)
    return store.journal.log(build_id)


@router.post("/builds/{build_id}/readings", status_code=201, responses=MISSING)
def add_reading(build_id: BuildId, body: models.NewReading, store: StoreOf) -> models.ReadingView:
    """Hold a reading against the saved build's test sheet and keep it; a revision is cut if the build moved."""
    build = store.builds.get(build_id).build
    drive = assess(build, store.shelf()).drives.get(body.drive)
    step = next((s for s in drive.steps if s.id == body.step), None) if drive is not None else None
    if step is None:
        raise HTTPException(404, "This build's test sheet has no such step.")
    try:
        judged = judge(step, body.text)
    except QuantityError as error:
        raise HTTPException(422, str(error)) from error
    store.builds.cut_if_changed(build_id, "before a reading was taken")
    reading = Reading(
        id=new_id(),
        drive=body.drive,
        step=body.step,
        text=body.text.strip(),
        value=judged.quantity.value,
        expected=step.expected.value,
        low=step.low,
        high=step.high,
        verdict=judged.verdict,
        basis=judged.basis,
        taken_at=store.clock(),
        note=body.note.strip(),
    )
    store.journal.add_reading(build_id, step.title, reading)
    return models.ReadingView(id=reading.id, verdict=reading.verdict, sentence=_sentence(step, judged.verdict))


def _sentence(step: Step, verdict: ReadingVerdict) -> str:
    """What is said of a reading at once."""
    where = step.bounds()
    if not where:
        return "Kept. What to expect is not known yet."
    return {
        "pass": f"Right: {where}.",
        "doubtful": f"Doubtful: its own doubt reaches over the bound, it should lie {where}. Read it again, finer.",
        "fail": f"Not right: it should lie {where}." + (f" Most likely: {step.means}" if step.means else ""),
        "open": "Kept. What to expect is not known yet.",
    }[verdict]


@router.get("/sums")
def list_sums() -> list[models.SumView]:
    """The quick sums and what each asks."""
    return [
        models.SumView(
            name=s.name,
            title=s.title,
            asks=[models.AskView.of(a) for a in s.asks],
        )
        for s in SUMS.values()
    ]


@router.post("/sums/{name}", responses=MISSING)
def do_sum(name: Annotated[str, Path(max_length=40)], body: models.SumGivens) -> Answer:
    """Work a quick sum out."""
    if name not in SUMS:
        raise HTTPException(404, f"There is no sum “{name}”.")
    try:
        return work_out(SUMS[name], body.given)
    except SumError as error:
        raise HTTPException(422, str(error)) from error
