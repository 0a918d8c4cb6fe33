"""The instruments on the desk: opened by their addresses, read, set, and turned off with one key.

What blocks waits in a thread of its own: the service answers keys meanwhile.
"""

from __future__ import annotations

import io
from typing import Any

from fastapi import Request
from pydantic import BaseModel, Field

from ..core.algebra.quantities import phrase
from ..instruments.desk import Desk, Instrument
from . import models
from .routers import strict_router

PROBLEM: dict[int | str, dict[str, Any]] = {422: {"model": models.Problem}}
router = strict_router("/api/instruments", "instruments", PROBLEM)


class ReadView(BaseModel):
    """One thing that an instrument measures."""

    id: str
    title: str
    unit: str


class InstrumentView(BaseModel):
    """An instrument that was opened. ``lost``: why its line is gone; empty while it is there."""

    id: str
    address: str
    name: str
    told: str
    kind: str
    table: str
    reads: list[ReadView]
    on: bool
    volts: float
    limit_a: float
    most_v: float
    most_a: float
    lost: str


class DeskView(BaseModel):
    """All that is open, and what is wrong with tables of one's own."""

    instruments: list[InstrumentView]
    faults: list[str]


class OpenBody(models.Strict):
    """What is opened: an address as it was typed, and whether a motor board speaks there."""

    address: str = Field(max_length=200)
    board: bool = False


class ReadBody(models.Strict):
    """What is read, by its id in the instrument's table."""

    what: str = Field(max_length=40)


class DeskReading(BaseModel):
    """A reading: SI, as text to take over, and its unit."""

    value: float
    text: str
    unit: str


class SupplyBody(models.Strict):
    """What a supply is set to: its limit first, then its volts, then its output."""

    volts: float = Field(ge=0, le=1000)
    limit_a: float = Field(gt=0, le=1000)
    on: bool


class DeskSaid(BaseModel):
    """What is to be known afterwards; nothing, if all went as asked."""

    said: list[str]


class RecordBody(models.Strict):
    """A record of an oscilloscope: range (V), time from sample to sample (s), and how many."""

    most_v: float = Field(gt=0, le=10_000)
    interval_s: float = Field(gt=0, le=100)
    points: int = Field(ge=10, le=1_000_000)


class Record(BaseModel):
    """A record as a table: time in s, volts."""

    csv: str
    mean_v: float
    low_v: float
    high_v: float
    points: list[list[float]]


class LineBody(models.Strict):
    """A line of the board's protocol, without its check."""

    line: str = Field(min_length=1, max_length=57)


DRAWN = 800


def _desk(request: Request) -> Desk:
    desk: Desk = request.app.state.desk
    return desk


def _view(item: Instrument) -> InstrumentView:
    can = item.can
    return InstrumentView(
        id=item.id,
        address=item.address,
        name=item.name,
        told=item.told,
        kind=item.kind,
        table=can.name if can is not None else "",
        reads=[ReadView(id=id, title=r.title, unit=r.unit) for id, r in can.reads.items()] if can is not None else [],
        on=item.on,
        volts=item.volts,
        limit_a=item.limit_a,
        most_v=can.most_v if can is not None else 0.0,
        most_a=can.most_a if can is not None else 0.0,
        lost=item.lost,
    )


@router.get("")
def desk_now(request: Request) -> DeskView:
    """What is open."""
    desk = _desk(request)
    return DeskView(instruments=[_view(x) for x in desk.all()], faults=desk.faults())


@router.post("/open")
def open_one(request: Request, body: OpenBody) -> InstrumentView:
    """Opens what answers at an address; nothing is looked for that was not typed."""
    return _view(_desk(request).open(body.address, body.board))


@router.post("/off")
def all_off(request: Request) -> DeskSaid:
    """Every output off, every board stopped."""
    return DeskSaid(said=_desk(request).all_off())


@router.post("/{id}/close")
def close_one(request: Request, id: str) -> DeskSaid:
    """Closes one; a supply's output goes off before."""
    said = _desk(request).close(id)
    return DeskSaid(said=[said] if said else [])


@router.post("/{id}/read")
def read_one(request: Request, id: str, body: ReadBody) -> DeskReading:
    """What it measures now."""
    value, unit = _desk(request).read(id, body.what)
    return DeskReading(value=value, text=phrase(value, KINDS_READ[unit], unit), unit=unit)


KINDS_READ = {"V": "voltage", "A": "current", "Hz": "frequency", "Ω": "resistance"}


@router.post("/{id}/supply")
def set_supply(request: Request, id: str, body: SupplyBody) -> InstrumentView:
    """Sets a supply, and switches its output."""
    desk = _desk(request)
    desk.supply(id, body.volts, body.limit_a, body.on)
    return _view(desk.get(id))


@router.post("/{id}/record")
def record(request: Request, id: str, body: RecordBody) -> Record:
    """Takes a record, as a table that the capture's analysis reads."""
    values = _desk(request).record(id, body.most_v, body.interval_s, body.points)
    out = io.StringIO()
    out.write("time_s,volts_v\n")
    out.writelines(f"{k * body.interval_s:.9g},{v:.6g}\n" for k, v in enumerate(values))
    thin = max(len(values) // DRAWN, 1)
    return Record(
        csv=out.getvalue(),
        mean_v=sum(values) / len(values),
        low_v=min(values),
        high_v=max(values),
        points=[[k * body.interval_s, values[k]] for k in range(0, len(values), thin)],
    )


@router.post("/{id}/say")
def say(request: Request, id: str, body: LineBody) -> DeskSaid:
    """A line to a motor board, and its answer."""
    return DeskSaid(said=[_desk(request).say(id, body.line)])
