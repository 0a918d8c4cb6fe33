"""Captures: a CSV file read and previewed, and a spin-up fitted from it. The file is sent whole and not kept."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated, Any, Literal

import numpy as np
from fastapi import HTTPException, Query, Request, Response

from ..core.algebra.quantities import QuantityError, parse, show, show_doubt
from ..core.assess import assess
from ..core.captures import roles, spinup, spinup_capture
from ..core.captures.table import CaptureError, SampleTable, decimated, read
from ..core.captures.wave import Wave
from ..core.captures.wave_capture import Mapped, look_at_wave
from ..core.design.warming import learnt
from ..core.stations.bench.scope import ScopeSetting, Screen, judge_setting
from ..demo.capture import STIRRER, shipped
from . import models, models_captures
from .heavy import heavy, uploaded
from .routers import strict_router
from .routes_builds import MISSING, StoreOf

router = strict_router("/api/captures", "captures")
FILE: dict[str, Any] = {
    "requestBody": {
        "required": True,
        "content": {"text/csv": {"schema": {"type": "string", "format": "binary"}}},
    }
}
SHOWN_ROWS = 6
TimeUnit = Literal["", "s", "ms", "µs", "ns", "min"]
LevelUnit = Literal["", "V", "mV", "A", "mA"]
HIGH_ABOVE_LOW = "The wave's high level must be above its low one."
UNITS = {
    "resistance": ("resistance", ""),
    "inductance": ("inductance", ""),
    "constant": ("motor constant", "mN·m/A"),
    "inertia": ("inertia", "g·cm²"),
    "friction": ("torque", ""),
    "friction_at_speed": ("torque", ""),
    "viscous": ("viscous friction", "µN·m·s/rad"),
}


@router.post("/preview", openapi_extra=FILE)
async def preview_capture(request: Request) -> models_captures.CapturePreview:
    """How a CSV file is written, its first rows, and which column is likely what."""
    async with uploaded(request) as file:
        return await heavy(request, _preview, file)


def _read(file: Path) -> SampleTable:
    try:
        return read(file)
    except CaptureError as error:
        raise HTTPException(422, str(error)) from error


def _preview(file: Path) -> models_captures.CapturePreview:
    table = _read(file)
    layout, guess = table.layout, roles.guess(table)
    by_column = {place: (role, unit) for role, (place, unit) in guess.items()}
    columns = []
    for i, values in enumerate(table.columns):
        role, unit = by_column.get(i, ("", ""))
        thin = decimated(np.arange(len(values), dtype=float), values, most=160)[1]
        columns.append(
            models_captures.CaptureColumn(
                name=layout.names[i],
                unit=layout.units[i],
                role=role,
                role_unit=unit,
                first=[f"{v:.6g}" for v in values[:SHOWN_ROWS]],
                low=float(np.min(values)),
                high=float(np.max(values)),
                shape=[float(f"{v:.5g}") for v in thin],
            )
        )
    names = {"\t": "tab", " ": "space", ";": "semicolon", ",": "comma", "|": "bar"}
    return models_captures.CapturePreview(
        rows=table.rows,
        delimiter=names[layout.delimiter],
        decimal={".": "point", ",": "comma"}[layout.decimal],
        columns=columns,
        roles={role: list(units) for role, units in roles.ROLES.items()},
    )


Finite = Query(ge=-1e4, le=1e4, allow_inf_nan=False)


@router.post("/wave", openapi_extra=FILE)
async def measure_wave(
    request: Request,
    a: Annotated[int, Query(ge=-1, le=255)] = -1,
    b: Annotated[int, Query(ge=-2, le=255)] = -2,
    clock: Annotated[int, Query(ge=-1, le=255)] = -1,
    clock_unit: TimeUnit = "",
    unit_a: LevelUnit = "",
    unit_b: LevelUnit = "",
    low_v: Annotated[float, Finite] = 0.0,
    high_v: Annotated[float, Finite] = 0.0,
    frequency_hz: Annotated[float, Query(ge=0, le=1e9, allow_inf_nan=False)] = 0.0,
    duty: Annotated[float, Query(ge=0, le=1, allow_inf_nan=False)] = 0.0,
) -> models_captures.WaveCaptureView:
    """One or two channels of a CSV or VCD capture, measured, and held against a wave (a ``frequency_hz`` of 0: none is
    expected). ``a`` and ``b`` are places among its signals (−1: the first; a ``b`` of −2: none), ``clock`` the column
    of the time (−1: as found); units as the file tells them, or as told here. 422 with a sentence."""
    if frequency_hz > 0 and high_v <= low_v:
        raise HTTPException(422, HIGH_ABOVE_LOW)
    wave = Wave(low_v, high_v, frequency_hz, duty) if frequency_hz > 0 else None
    async with uploaded(request) as file:
        mapped = Mapped(clock=clock, clock_unit=clock_unit, units=(unit_a, unit_b))
        return await heavy(request, _measured, file, a, b, wave, mapped)


def _measured(file: Path, a: int, b: int, wave: Wave | None, mapped: Mapped) -> models_captures.WaveCaptureView:
    try:
        found = look_at_wave(file, a, b, wave, mapped)
    except CaptureError as error:
        raise HTTPException(422, str(error)) from error
    return models_captures.WaveCaptureView(
        signals=found.names,
        a=found.a,
        b=found.b,
        columns=found.columns,
        clock=found.clock,
        clock_unit=found.clock_unit,
        units=found.units,
        rows=[models_captures.MeasuredRow(name=r.name, text=r.text, kind=r.kind) for r in found.rows],
        says=found.says,
        time_s=found.time_s,
        first=found.first,
        second=found.second,
        expected=found.expected,
    )


@router.post("/setting")
def judge_a_setting(body: models_captures.AskSetting) -> list[models_captures.SettingRemark]:
    """What a setting of an oscilloscope makes of a wave. 422 with what cannot be read."""
    wave = Wave(**body.wave.model_dump())
    volts = _number(body.volts_per_div, "voltage", "V", "Volts a division")
    time = _number(body.time_per_div, "time", "s", "Time a division")
    if not volts or not time or volts < 0 or time < 0:
        raise HTTPException(422, "Give volts and time a division, both above nothing: 1 V and 20 µs.")
    if wave.swing_v <= 0:
        raise HTTPException(422, HIGH_ABOVE_LOW)
    own = ScopeSetting(
        screen=Screen(volts=volts, time=time), probe=body.probe, divides_by=body.divides_by, coupling=body.coupling
    )
    return [models_captures.SettingRemark(good=r.good, text=r.text) for r in judge_setting(wave, own)]


@router.post("/warm-up", responses=MISSING)
def fit_warm_up(body: models_captures.AskWarmUp, store: StoreOf) -> models_captures.WarmUpView:
    """Where temperatures over time end, and what that makes of the thermal model. 422 with a sentence."""
    found = assess(body.build, store.shelf()).drives.get(body.drive)
    motor = found.of_motor if found is not None else None
    if motor is None:
        raise HTTPException(404, "This build has no such drive with a motor.")
    air = _number(body.air, "temperature", "°C", "Air")
    if air is None:
        raise HTTPException(422, "Give the temperature of the air round it.")
    try:
        told = learnt(motor.context, motor.chosen, body.of, body.readings, air)
    except ValueError as error:
        raise HTTPException(422, str(error)) from error
    return models_captures.WarmUpView(
        says=told.says,
        changes=[
            models.ChangeView(path=c.path, text=c.text, origin="measured" if c.measured else None, note=c.note)
            for c in told.changes
        ],
    )


@router.get("/example")
def example_capture() -> Response:
    """The stirrer's spin-up, as a CSV file to import."""
    headers = {"content-disposition": f'attachment; filename="{STIRRER}"'}
    return Response(shipped(STIRRER), media_type="text/csv", headers=headers)


Column = Annotated[str, Query(max_length=20, pattern=r"^(\d{1,2}:[A-Za-zµ/]{1,6})?$")]
Typed = Annotated[str, Query(max_length=60)]


@router.post("/spin-up", openapi_extra=FILE)
async def fit_spin_up(
    request: Request,
    time: Column,
    current: Column,
    voltage: Column = "",
    speed: Column = "",
    supply: Typed = "",
    final_speed: Typed = "",
    brush_drop: Typed = "0 V",
) -> models_captures.SpinUpView:
    """Fit R, L, Ke, J and friction to a spin-up. Columns are ``place:unit``, counted from 0; without a voltage column
    ``supply`` gives the volts, and without a speed column ``final_speed`` may stand in."""
    async with uploaded(request) as file:
        return await heavy(request, _fit, file, time, current, voltage, speed, supply, final_speed, brush_drop)


def _place(text: str) -> tuple[int, str]:
    place, _, unit = text.partition(":")
    return int(place), unit


def _number(text: str, kind: str, unit: str, name: str) -> float | None:
    if not text.strip():
        return None
    try:
        return parse(text, kind, unit).value
    except QuantityError as error:
        raise HTTPException(422, f"{name}: {error}") from error


def _fit(
    file: Path, time: str, current: str, voltage: str, speed: str, supply: str, final_speed: str, brush_drop: str
) -> models_captures.SpinUpView:
    table = _read(file).at_most(spinup.MOST_SAMPLES)
    mapping = {
        role: _place(text)
        for role, text in (("time", time), ("current", current), ("voltage", voltage), ("speed", speed))
        if text
    }
    supply_v = _number(supply, "voltage", "V", "Supply")
    final = _number(final_speed, "speed", "rpm", "Final speed")
    brush = _number(brush_drop, "voltage", "V", "Brush drop") or 0.0
    try:
        columns = {role: roles.column(table, mapping, role) for role in roles.ROLES}
        if columns["time"] is None or columns["current"] is None:
            raise CaptureError("Say which column is the time and which the current.")
        volts = columns["voltage"] if columns["voltage"] is not None else supply_v
        if volts is None:
            raise CaptureError("Say which column is the voltage, or give the supply's volts.")
        capture = spinup_capture.prepare(
            columns["time"], columns["current"], volts=volts, speed=columns["speed"], final_speed=final, brush_v=brush
        )
        found = spinup.fit(capture)
    except CaptureError as error:
        raise HTTPException(422, str(error)) from error
    except (ValueError, OverflowError, np.linalg.LinAlgError) as error:
        raise HTTPException(422, "No motor fits this capture: check the columns and their units.") from error
    return models_captures.SpinUpView(
        rows=len(capture.current),
        constants=[_constant(c) for c in found.constants.values()],
        take_over=_taken_over(found, brush_drop),
        time_constant="" if found.time_constant_s is None else " ".join(show(found.time_constant_s, "time")),
        noise=" ".join(show(found.noise_a, "current")),
        follows=found.follows,
        notes=[*(f"One sample of every {table.every} was taken." for _ in range(table.every > 1)), *found.notes],
        trace=found.trace,
    )


def _taken_over(found: spinup.Fit, brush_drop: str) -> list[models.ChangeView]:
    """The texts and choices that a build takes over, in order; none if the fit is not enough."""
    taken = spinup.take_over(found)
    if not taken:
        return []
    given = {t.path for t in taken}
    choices = [("known_by", "spin-up")]
    choices += [
        (by, "given")
        for by, path in (("inductance_by", "inductance"), ("inertia_by", "rotor_inertia"))
        if path in given
    ]
    return [
        *(models.ChangeView(path=path, text=text, origin=None, note="") for path, text in choices),
        *(models.ChangeView(path=t.path, text=_field_text(t.constant), origin="measured", note=t.note) for t in taken),
        models.ChangeView(path="fitted.brush_drop", text=brush_drop.strip() or "0 V", origin="measured", note=""),
    ]


def _field_text(c: spinup.SpinUpConstant) -> str:
    """A constant as a field takes it, its 95 % interval behind ±."""
    shown = _constant(c)
    return f"{shown.text} {shown.doubt.replace('±', '± ')}" if c.half_width else shown.text


def _constant(c: spinup.SpinUpConstant) -> models_captures.FittedConstant:
    """A fitted constant with its text for a field: the 95 % half-width stands behind ± (k = 1.96, taken as two)."""
    kind, unit = UNITS[c.name]
    if c.value is None:
        return models_captures.FittedConstant(
            name=c.name, title=spinup.TITLES[c.name], text="", doubt="", value=None, reason=c.reason
        )
    standard = (c.half_width or 0.0) / 2
    number, symbol = show(c.value, kind, unit, standard or None)
    spread = show_doubt(standard, symbol) if standard else ""
    text = f"{number} {symbol}".replace("\u202f", "").replace("−", "-")
    return models_captures.FittedConstant(
        name=c.name,
        title=spinup.TITLES[c.name],
        text=text,
        doubt=spread.replace("\u202f", ""),
        value=c.value,
        reason=c.reason,
    )
