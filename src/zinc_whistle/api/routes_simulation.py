"""Simulated runs of a drive: for the screen, single cycles of them, and as files."""

from __future__ import annotations

from fastapi import HTTPException, Request, Response

from ..core.algebra.quantities import phrase
from ..core.assess import MotorAssessment, assess
from ..core.simulation.digital import lines_of
from ..core.simulation.files import to_csv, to_vcd
from ..core.simulation.scenario import drive_of, simulate
from ..core.simulation.telling import RunStory
from ..core.simulation.zoom import zoom
from ..sheets.scale import in_unit
from . import models, models_runs
from .heavy import heavy
from .routers import strict_router
from .routes_builds import MISSING

router = strict_router("/api/simulation", "simulation")


def _run(body: models_runs.AskRun) -> tuple[MotorAssessment, RunStory]:
    # The shelf takes no part in a run, and reading it takes as long as the run itself.
    found = assess(body.build).drives.get(body.drive)
    done = found.of_motor if found is not None else None
    if done is None:
        raise HTTPException(404, "This build has no such drive with a motor.")
    duty = None if body.duty_pct is None else body.duty_pct / 100
    try:
        return done, simulate(done.context, done.circuit, body.scenario, body.averaged, body.fault, duty)
    except ValueError as error:
        raise _refused(error) from error


def _refused(error: ValueError) -> HTTPException:
    sentence = str(error)
    return HTTPException(422, f"{sentence[:1].upper()}{sentence[1:]}".rstrip(".") + ".")


@router.post("/run", responses=MISSING, response_model=models_runs.RunView)
async def run_drive(request: Request, body: models_runs.AskRun) -> Response:
    """A run of a drive's motor, bridge, supply and load."""
    return Response(await heavy(request, _run_drive, body.model_dump_json()), media_type="application/json")


def _run_drive(asked: str) -> str:
    body = models_runs.AskRun.model_validate_json(asked)
    _, run = _run(body)
    found = run.measured
    said = [
        ("Peak current", phrase(found.peak_a, "current")),
        ("RMS current", phrase(found.rms_a, "current")),
        ("Speed at the end", phrase(found.last_speed, "speed")),
        ("Within 5 % after", "not reached" if found.time_to_speed_s is None else phrase(found.time_to_speed_s, "time")),
        ("Energy from the source", phrase(found.energy_j, "energy")),
        ("Bus, lowest", phrase(found.bus_low_v, "voltage")),
        ("Bus, highest", phrase(found.bus_high_v, "voltage")),
    ]
    if not body.averaged:
        said.insert(2, ("Ripple at the end", phrase(found.ripple_a, "current")))
    if found.torn_j:
        said.append(("Torn in the switch, largest", phrase(found.torn_most_j, "energy")))
    made = models_runs.RunView(
        time_s=in_unit(run.time_s.tolist(), "s"),
        current_low_a=in_unit(run.current_low.tolist(), "A"),
        current_high_a=in_unit(run.current_high.tolist(), "A"),
        speed_rpm=in_unit(run.speed.tolist(), "rpm"),
        bus_low_v=in_unit(run.bus_low.tolist(), "V"),
        bus_high_v=in_unit(run.bus_high.tolist(), "V"),
        measured=[models.Said(name=n, text=t) for n, t in said],
        events=[f"{phrase(t, 'time')}: {words}" for t, words in run.events],
        notes=run.notes,
        duty_pct=100 * (run.legs[-1].phase.duty if body.duty_pct is None else body.duty_pct / 100) if run.legs else 0.0,
    )
    return made.model_dump_json()


@router.post("/zoom", responses=MISSING)
async def zoom_in(request: Request, body: models_runs.AskZoom) -> models_runs.ZoomView:
    """A few PWM cycles of a run at full detail, simulated anew from its state at a time."""
    return await heavy(request, _zoom_in, body.model_dump_json())


def _zoom_in(asked: str) -> models_runs.ZoomView:
    body = models_runs.AskZoom.model_validate_json(asked)
    done, run = _run(body)
    try:
        drive = drive_of(
            done.context, done.circuit, body.averaged, None if body.duty_pct is None else body.duty_pct / 100
        )
        seen = zoom(run, drive, body.at_s)
    except ValueError as error:
        raise _refused(error) from error
    return models_runs.ZoomView(
        time_us=in_unit([t - seen.time_s[0] for t in seen.time_s], "µs"),
        current_a=in_unit(seen.current, "A"),
        bus_v=in_unit(seen.bus, "V"),
        path=seen.path,
        speed=phrase(seen.speed[0], "speed"),
        ripple=phrase(max(seen.current) - min(seen.current), "current"),
    )


@router.post("/file", responses=MISSING)
async def run_file(request: Request, body: models_runs.AskRunFile) -> Response:
    """The run as a file, every edge and event: CSV, or a value-change dump (IEEE 1364)."""
    text = await heavy(request, _run_file, body.model_dump_json())
    kind = "text/plain" if body.kind == "vcd" else "text/csv"
    return Response(
        text,
        media_type=f"{kind}; charset=utf-8",
        headers={"content-disposition": f'attachment; filename="run.{body.kind}"'},
    )


def _run_file(asked: str) -> str:
    body = models_runs.AskRunFile.model_validate_json(asked)
    done, run = _run(body)
    return to_vcd(run.run, lines_of(run, done.encoder.cycles_per_motor_turn)) if body.kind == "vcd" else to_csv(run.run)
