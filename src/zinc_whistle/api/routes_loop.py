"""Loops: a move by several laws, and the map of gain and integral time."""

from __future__ import annotations

import math

import numpy as np
from fastapi import APIRouter, HTTPException

from ..core.assess import MotorAssessment, assess
from ..core.stations.loop.moves import map_of, moves_of
from . import models_loops
from .routes_builds import MISSING, StoreOf
from .safety import StrictRoute

router = APIRouter(prefix="/api/loop", route_class=StrictRoute, tags=["loop"])
SHOWN = 500


def _motor(body: models_loops.AskLoop | models_loops.AskMoves, store: StoreOf) -> MotorAssessment:
    found = assess(body.build, store.shelf()).drives.get(body.drive)
    motor = found.of_motor if found is not None else None
    if motor is None:
        raise HTTPException(404, "This build has no such motor.")
    return motor


@router.post("/moves", responses=MISSING)
def moves(body: models_loops.AskMoves, store: StoreOf) -> models_loops.MovesView:
    """A move of the output by every law, on the model of the drive. 422 with what is missing."""
    motor = _motor(body, store)
    try:
        found = moves_of(motor.context, motor.circuit, motor.encoder, math.radians(body.degrees), body.seconds)
    except ValueError as error:
        raise HTTPException(422, str(error)) from error
    return models_loops.MovesView(
        target=found.target,
        window=found.window,
        rows=[
            models_loops.MoveView(
                way=m.way,
                label=label,
                time_s=[float(f"{t:.5g}") for t in m.time_s[:: max(len(m.time_s) // SHOWN, 1)]],
                place=[float(f"{x:.6g}") for x in m.place[:: max(len(m.place) // SHOWN, 1)]],
                duty_pct=[round(100 * x, 1) for x in m.duty[:: max(len(m.duty) // SHOWN, 1)]],
                overshoot=m.overshoot,
                settled_s=m.settled_s,
                hunting=m.hunting,
                peak_a=m.peak_a,
                energy_j=m.energy_j,
            )
            for label, m in found.moves
        ],
        said=found.said,
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
