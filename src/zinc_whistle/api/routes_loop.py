"""Loops: a move by several laws, and the map of gain and integral time."""

from __future__ import annotations

import math

import numpy as np
from fastapi import HTTPException, Response

from ..core.assess import MotorAssessment, assess
from ..core.program.moving import homing_numbers, program_for_moves, tuned_by_port
from ..core.program.numbering import number_of
from ..core.stations.loop.moves import MoveAsked, homing_of, homing_says, map_of, moves_of
from ..core.stations.loop.outer import OuterAsked, outer_of
from ..core.stations.loop.traces import RPM, trace_of
from ..demo.loop_trace import carousel_trace
from . import models, models_loops
from .routers import strict_router
from .routes_builds import MISSING, StoreOf

router = strict_router("/api/loop", "loop")
SHOWN = 500


def _motor(body: models_loops.AskLoop, store: StoreOf) -> MotorAssessment:
    found = assess(body.build, store.shelf()).drives.get(body.drive)
    motor = found.of_motor if found is not None else None
    if motor is None:
        raise HTTPException(404, "This build has no such motor.")
    return motor


@router.post("/moves", responses=MISSING)
def moves(body: models_loops.AskMoves, store: StoreOf) -> models_loops.MovesView:
    """A move of the output by every law, on the model of the drive. 422 with what is missing."""
    motor = _motor(body, store)
    asked = MoveAsked(
        output_rad=math.radians(body.degrees),
        seconds=body.seconds,
        course=body.course,
        delay_s=body.delay_ms / 1000,
        happens=body.happens,
        at_s=body.at_s,
        for_s=body.for_s,
        amount=body.amount * math.pi / 30 if body.happens == "hand" else body.amount,
        limit_a=body.limit_a,
    )
    own = program_for_moves(motor)
    played = (own.panel, own.tick_s) if own is not None else (None,)
    try:
        found = moves_of(motor.context, motor.circuit, motor.encoder, asked, *played)
    except ValueError as error:
        raise HTTPException(422, str(error)) from error
    time = np.linspace(0.0, body.seconds, SHOWN)

    def thinned(own: list[float], values: np.ndarray, digits: str) -> list[float]:
        return [float(format(x, digits)) for x in np.interp(time, own, values)]

    return models_loops.MovesView(
        target=found.target,
        window=found.window,
        setpoint_s=found.setpoint_s,
        time_s=[float(f"{t:.5g}") for t in time],
        rows=[
            models_loops.MoveView(
                label=label,
                place=thinned(m.time_s, m.place, ".6g"),
                duty_pct=thinned(m.time_s, 100 * m.duty, ".4g"),
                current_a=thinned(m.time_s, m.current_a, ".4g"),
                overshoot=m.overshoot,
                overshoot_deg=math.degrees(m.overshoot_rad * found.ratio),
                rest_error=m.rest_error,
                pushed=m.pushed,
                lag=m.lag,
                settled_s=m.settled_s,
                hunting=m.hunting,
                peak_a=m.peak_a,
                energy_j=m.energy_j,
            )
            for label, m in found.moves
        ],
        said=list(found.said),
    )


@router.post("/home", responses=MISSING)
def home(body: models_loops.AskHoming, store: StoreOf) -> models_loops.HomingView:
    """Homing of the output, at the duty that the panel gives it. 422 with what is missing."""
    motor = _motor(body, store)
    panel = motor.drive.panel
    try:
        duty, ramp_s, debounce_s = homing_numbers(motor)
        away = math.radians(body.degrees)
        found = homing_of(motor.context, motor.circuit, motor.encoder, duty, ramp_s, debounce_s, away)
    except ValueError as error:
        raise HTTPException(422, str(error)) from error
    per_degree = (motor.encoder.used_per_output_turn.value or 0.0) / 360
    return models_loops.HomingView(
        speed=found.speed,
        overrun=found.overrun,
        overrun_deg=found.overrun / per_degree if per_degree else 0.0,
        late=found.zero[1],
        spread=found.spread,
        spread_deg=found.spread / per_degree if per_degree else 0.0,
        peak_a=found.peak_a,
        time_s=found.time_s,
        says=homing_says(found, panel.home_duty.value is None),
    )


@router.post("/trace", responses=MISSING)
def trace(body: models_loops.AskTrace, store: StoreOf) -> models_loops.TraceView:
    """A record of the real loop beside what the design foretells for it. 422 with a sentence."""
    motor = _motor(body, store)
    number = number_of(body.build, motor.drive)
    try:
        found = trace_of(body.text, motor.context, motor.circuit, motor.encoder, number)
    except ValueError as error:
        raise HTTPException(422, str(error)) from error
    every = max(len(found.trace.time_s) // SHOWN, 1)

    def thinned(values: np.ndarray | None, factor: float) -> list[float]:
        return [] if values is None else [float(f"{x * factor:.5g}") for x in values[::every]]

    return models_loops.TraceView(
        source=found.trace.source,
        time_s=thinned(found.trace.time_s, 1.0),
        duty_pct=thinned(found.trace.duty, 100.0),
        speed_rpm=thinned(found.trace.speed, RPM),
        foretold_rpm=thinned(found.foretold, RPM),
        fitted_rpm=thinned(found.fitted.course, RPM),
        says=list(found.says),
        gains=[
            models_loops.GainsView(
                rule=g.rule,
                gain_pct_per_rpm=100 * g.gain / RPM,
                integral_ms=None if g.integral_s is None else 1000 * g.integral_s,
                changes=[models.ChangeView.model_validate(c) for c in g.changes],
                types=tuned_by_port(motor, number, g.gain, g.integral_s),
            )
            for g in found.gains
        ],
    )


@router.get("/trace/example")
def example() -> Response:
    """A made-up record of the demo's loop: more inertia than the design told."""
    return Response(carousel_trace(), media_type="text/plain")


@router.post("/outer", responses=MISSING)
def outer(body: models_loops.AskOuter, store: StoreOf) -> models_loops.OuterView:
    """An outer loop on a sensor of something else. 422 with what is missing or cannot be."""
    motor = _motor(body, store)
    # Gains are told a degree of tilt, and worked with a radian.
    unit = 180 / math.pi if body.kind == "balancing" else 1.0

    def given(percent: float | None) -> float | None:
        return None if percent is None else percent / 100 * unit

    asked = OuterAsked(
        kind=body.kind,
        seconds=body.seconds,
        height_m=body.height_m,
        start_rad=math.radians(body.tilt_deg),
        unit_per_rpm=body.unit_per_rpm,
        lag_s=body.lag_s,
        delay_s=body.delay_s,
        target=body.target,
        table=body.table,
        step=body.step / unit,
        gain=given(body.gain_pct),
        change=given(body.change_pct),
        adds=given(body.adds_pct),
        compensated=body.compensated,
    )
    try:
        tried = outer_of(motor.context, motor.circuit, motor.encoder, asked)
    except ValueError as error:
        raise HTTPException(422, str(error)) from error
    every = max(len(tried.found.time_s) // SHOWN, 1)

    def thinned(values: np.ndarray, factor: float) -> list[float]:
        return [float(f"{x * factor:.5g}") for x in values[::every]]

    return models_loops.OuterView(
        time_s=thinned(tried.found.time_s, 1.0),
        felt=thinned(tried.found.felt, unit),
        speed_rpm=thinned(tried.found.speed, RPM),
        duty_pct=thinned(tried.found.duty, 100.0),
        gain_pct=100 * tried.law.gain / unit,
        change_pct=100 * tried.law.change / unit,
        adds_pct=100 * tried.law.adds / unit,
        by_speed_pct=100 * tried.law.by_speed / RPM,
        offset_pct=100 * tried.law.offset,
        peak_a=tried.found.peak_a,
        says=list(tried.says),
    )


@router.post("/map", responses=MISSING)
def gains(body: models_loops.AskLoop, store: StoreOf) -> models_loops.GainMapView:
    """Overshoot and settling over gain and integral time. 422 with what is missing."""
    motor = _motor(body, store)
    try:
        found = map_of(motor.loop)
    except ValueError as error:
        raise HTTPException(422, str(error)) from error

    def plain(values: np.ndarray) -> list[list[float | None]]:
        return [[None if math.isnan(x) else float(f"{x:.4g}") for x in row] for row in values]

    return models_loops.GainMapView(
        gain_pct_per_rpm=[float(f"{100 * x * math.pi / 30:.5g}") for x in found.gains],
        integral_ms=[float(f"{1000 * x:.5g}") for x in found.integrals],
        overshoot=plain(found.overshoot),
        settling_s=plain(found.settling_s),
        seconds=found.seconds,
    )
