"""Encoders: a capture of two channels looked at, and a disc to be printed."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated, Any

import numpy as np
from fastapi import HTTPException, Query, Request, Response

from ..core.assess import assess
from ..core.captures.encoder_capture import look_at
from ..core.captures.encoder_words import figures, said
from ..core.captures.table import CaptureError, decimated
from ..core.design.disc_print import disc_svg
from ..demo.encoder_capture import TEETH, winch_disc
from . import models, models_loops
from .heavy import heavy, uploaded
from .routers import strict_router
from .routes_builds import MISSING, StoreOf
from .routes_captures import FILE

router = strict_router("/api/encoder", "encoder")
SHOWN = 400
SVG: dict[int | str, dict[str, Any]] = {200: {"content": {"image/svg+xml": {"schema": {"type": "string"}}}}}


@router.post("/disc", response_class=Response, responses=MISSING | SVG)
def disc(body: models_loops.AskDisc, store: StoreOf) -> Response:
    """A disc of one's own as SVG, to its scale. 422 with what is missing."""
    found = assess(body.build, store.shelf()).drives.get(body.drive)
    motor = found.of_motor if found is not None else None
    if motor is None or motor.encoder.disc is None:
        raise HTTPException(404, "This drive has no disc of its own.")
    try:
        drawing = disc_svg(motor.drive.encoder, motor.encoder.disc, motor.drive.name or "Disc", film=body.film)
    except ValueError as error:
        raise HTTPException(422, str(error)) from error
    return Response(drawing, media_type="image/svg+xml")


@router.get("/example")
def example() -> Response:
    """A made-up capture with two faults to be found."""
    return Response(winch_disc(), media_type="text/csv", headers={"x-teeth": str(TEETH)})


@router.post("/capture", openapi_extra=FILE)
async def capture(
    request: Request,
    a: Annotated[int, Query(ge=-1, le=255)] = -1,
    b: Annotated[int, Query(ge=-2, le=255)] = -1,
    index: Annotated[int, Query(ge=-1, le=255)] = -1,
    teeth: Annotated[int, Query(ge=0, le=100_000)] = 0,
) -> models_loops.EncoderCapture:
    """One or two channels of a CSV or VCD capture: phase, duty, counts, which tooth is wrong. ``a``, ``b`` and
    ``index`` are places among its signals (−1: the first two, and no index; a ``b`` of −2: one sensor alone). 422 with
    a sentence."""
    async with uploaded(request) as file:
        return await heavy(request, _looked_at, file, a, b, index, teeth)


def _looked_at(file: Path, a: int, b: int, index: int, teeth: int) -> models_loops.EncoderCapture:
    try:
        return _found(file, a, b, index, teeth)
    except CaptureError as error:
        raise HTTPException(422, str(error)) from error


def _speed(time: np.ndarray, position: np.ndarray) -> np.ndarray:
    """Counts a second between the points that are shown."""
    if len(time) < 2:
        return np.zeros(len(time))
    steps = np.diff(time)
    return np.concatenate([[0.0], np.divide(np.diff(position), steps, out=np.zeros(len(steps)), where=steps > 0)])


def _found(file: Path, a: int, b: int, index: int, teeth: int) -> models_loops.EncoderCapture:
    read = look_at(file, a, b, index, teeth)
    time, position = decimated(read.found.time_s, read.found.position.astype(float), most=SHOWN)
    return models_loops.EncoderCapture(
        signals=read.names,
        a=read.a,
        b=read.b,
        index=index,
        says=said(read.found, read.expected),
        figures=[models.Said(name=name, text=text) for name, text in figures(read.found, read.volts)],
        phases=[round(x, 2) for x in read.found.phases[:SHOWN]],
        time_s=[float(f"{t:.6g}") for t in time],
        position=[float(x) for x in position],
        per_s=[float(f"{x:.4g}") for x in _speed(time, position)],
        single=read.found.single,
    )
