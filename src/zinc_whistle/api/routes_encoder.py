"""Encoders: a capture of two channels looked at, and a disc to be printed."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated, Any

import numpy as np
from fastapi import APIRouter, HTTPException, Query, Request, Response

from ..core.assess import assess
from ..core.captures import roles
from ..core.captures.encoder_words import said
from ..core.captures.quadrature import Changes, ChannelFound, QuadratureFound, analyse, changes, levels
from ..core.captures.table import CaptureError, decimated, read
from ..core.captures.vcd import read_vcd, together
from ..core.design.disc_print import disc_svg
from ..demo.encoder_capture import TEETH, winch_disc
from . import models
from .heavy import heavy, uploaded
from .routes_builds import MISSING, StoreOf
from .routes_captures import FILE
from .safety import StrictRoute

router = APIRouter(prefix="/api/encoder", route_class=StrictRoute, tags=["encoder"])
SHOWN = 400
MOST_VCD = 30_000_000
SVG: dict[int | str, dict[str, Any]] = {200: {"content": {"image/svg+xml": {"schema": {"type": "string"}}}}}


@router.post("/disc", response_class=Response, responses=MISSING | SVG)
def disc(body: models.AskDisc, store: StoreOf) -> Response:
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
    b: Annotated[int, Query(ge=-1, le=255)] = -1,
    index: Annotated[int, Query(ge=-1, le=255)] = -1,
    teeth: Annotated[int, Query(ge=0, le=100_000)] = 0,
) -> models.EncoderCapture:
    """Two channels of a CSV or VCD capture: phase, duty, counts, which tooth is wrong. ``a``, ``b`` and ``index`` are
    places among its signals (−1: the first two, and none). 422 with a sentence."""
    async with uploaded(request) as file:
        return await heavy(request, _looked_at, file, a, b, index, teeth)


def _looked_at(file: Path, a: int, b: int, index: int, teeth: int) -> models.EncoderCapture:
    try:
        return _found(file, a, b, index, teeth)
    except CaptureError as error:
        raise HTTPException(422, str(error)) from error


def _found(file: Path, a: int, b: int, index: int, teeth: int) -> models.EncoderCapture:
    with file.open("rb") as stream:
        is_vcd = stream.read(400).lstrip().startswith(b"$")
    names, events, index_s, volts = (_of_vcd if is_vcd else _of_table)(file, a, b, index)
    chosen_a, chosen_b = (a if a >= 0 else 0), (b if b >= 0 else 1)
    found = analyse(events, teeth=teeth or None, index_s=index_s)
    time, position = decimated(found.time_s, found.position.astype(float), most=SHOWN)
    return models.EncoderCapture(
        signals=names,
        a=chosen_a,
        b=chosen_b,
        index=index,
        says=said(found, 4.0 * teeth if teeth else None),
        figures=_figures(found, volts),
        phases=[round(x, 2) for x in found.phases[:SHOWN]],
        time_s=[float(f"{t:.6g}") for t in time],
        position=[float(x) for x in position],
    )


def _figures(found: QuadratureFound, volts: list[str]) -> list[models.Said]:
    def channel(name: str, one: ChannelFound) -> models.Said:
        rate = "too short"
        if one.frequency_hz is not None and one.duty is not None:
            rate = f"{one.frequency_hz:.4g} Hz, high {one.duty:.0%}".replace("%", " %")
        return models.Said(name=f"Channel {name}", text=f"{rate}, {one.edges} edges, {one.bounces} bounces")

    phase = "no whole period" if found.phase_deg is None else f"{found.phase_deg:.1f}°"
    if found.phase_spread_deg is not None:
        phase += f", nine of ten within {found.phase_spread_deg:.1f}°"
    made = [
        models.Said(name="Counted, ×4", text=f"{found.count:+d}".replace("-", "−")),
        models.Said(name="Direction", text=found.direction),
        models.Said(name="Phase", text=phase),
        channel("A", found.a),
        channel("B", found.b),
        models.Said(name="Both at once", text=f"{found.illegal} times"),
    ]
    if found.counts_per_turn is not None:
        made.append(
            models.Said(name="Counts of a turn", text=f"{found.counts_per_turn:.2f} over {found.turns:.0f} turns")
        )
    if found.fastest_per_s is not None:
        made.append(models.Said(name="Fastest", text=f"{found.fastest_per_s:.4g} counts a second"))
    return [*made, *(models.Said(name="Levels", text=v) for v in volts)]


Read = tuple[list[str], Changes, np.ndarray | None, list[str]]


def _pick(names: list[str], wanted: int, otherwise: int) -> int:
    place = wanted if wanted >= 0 else otherwise
    if place >= len(names):
        raise CaptureError(f"The capture has {len(names)} signals: an encoder's needs two.")
    return place


def _of_table(file: Path, a: int, b: int, index: int) -> Read:
    table = read(file)
    guess = roles.guess(table)
    clock = roles.column(table, guess, "time")
    if clock is None:
        raise CaptureError("No column tells the time: its values must rise from row to row.")
    places = [i for i in range(len(table.columns)) if i != guess["time"][0]]
    names = [table.layout.names[i] for i in places]
    found = [levels(table.columns[places[_pick(names, w, o)]]) for w, o in ((a, 0), (b, 1))]
    index_s = None
    if index >= 0:
        high = levels(table.columns[places[_pick(names, index, 0)]]).high
        index_s = clock[np.flatnonzero(high[1:] & ~high[:-1]) + 1]
    volts = [f"{n}: {x.low_v:.3g} and {x.high_v:.3g}" for n, x in zip("AB", found, strict=True)]
    return names, changes(clock, found[0].high, found[1].high), index_s, volts


def _of_vcd(file: Path, a: int, b: int, index: int) -> Read:
    if file.stat().st_size > MOST_VCD:
        raise CaptureError("The VCD file is too large: cut it down to what matters.")
    signals, end = read_vcd(file.read_text("utf-8", "replace"))
    names = [s.name for s in signals]
    first, second = (signals[_pick(names, w, o)] for w, o in ((a, 0), (b, 1)))
    time, high_a, high_b = together(first, second)
    events = Changes(time, (high_a.astype(np.uint8) << 1) | high_b, end)
    once = signals[_pick(names, index, 0)] if index >= 0 else None
    return names, events, once.time_s[once.high] if once is not None else None, []
