"""The discrete stage: design for me, and its bill of materials as a file. Simulated runs of a drive."""

from __future__ import annotations

from fastapi import APIRouter, HTTPException, Response

from ..core.assess import DrivenAssessment, MotorAssessment, assess
from ..core.power_stage import materials
from ..core.power_stage.search import Design, design
from ..core.quantities import notation, phrase
from ..core.simulation.scenario import Told, simulate, to_csv
from ..sheets.scale import in_unit
from . import models as m
from .routes_builds import MISSING, Kept
from .safety import StrictRoute

router = APIRouter(prefix="/api/stage", route_class=StrictRoute, tags=["stage"])


def _driven(body: m.OfDrive | m.AskDesign, store: Kept) -> DrivenAssessment:
    done = assess(body.build, store.shelf()).drives.get(body.drive)
    if not isinstance(done, DrivenAssessment):
        raise HTTPException(404, "This build has no such drive with a driver.")
    return done


@router.post("/design", responses=MISSING)
def design_stage(body: m.AskDesign, store: Kept) -> m.DesignsView:
    """The best few complete stages for a drive from the shelf of components."""
    found = design(_driven(body, store).context, store.components(), body.locks, body.quiet)
    return m.DesignsView(
        designs=[_view(d) for d in found.designs], looked_at=found.looked_at, hold=found.hold, reason=found.reason
    )


def _view(made: Design) -> m.DesignView:
    stage = made.stage
    switch = stage.switch.name if stage.switch is not None else ""
    number = int(stage.parallel.value or 1)
    words = [f"{number} × {switch}" if number > 1 else switch]
    if stage.gate_driver is not None:
        words.append(f"{stage.gate_driver.name}, {stage.gate_resistor.text}")
    words.append(stage.heat_sink.name if stage.heat_sink is not None else "no heat sink")
    words.append(phrase(made.frequency_hz, "frequency"))
    return m.DesignView(
        label=made.label, words=words, price=phrase(made.price, "price"), heat=phrase(made.heat_w, "power"),
        junction=phrase(made.junction_c, "temperature"), use=made.use, use_text=f"{made.use:.0%}".replace("%", " %"),
        tight=[f"{x.title}, {x.used:.0%}".replace("%", " %") for x in made.tight if x.used is not None], stage=stage,
        frequency=notation(made.frequency_hz, "frequency", "kHz"),
    )  # fmt: skip


@router.post("/materials", responses=MISSING)
def materials_file(body: m.OfDrive, store: Kept) -> Response:
    """The bill of materials of a drive's stage, as CSV."""
    done = _driven(body, store)
    if done.discrete is None:
        raise HTTPException(404, "This drive's unit is no stage of your own.")
    text = materials.to_csv(done.discrete.materials, done.discrete.spec)
    return Response(text, media_type="text/csv; charset=utf-8",
                    headers={"content-disposition": 'attachment; filename="materials.csv"'})  # fmt: skip


def _run(body: m.AskRun, store: Kept) -> Told:
    done = assess(body.build, store.shelf()).drives.get(body.drive)
    if not isinstance(done, MotorAssessment):
        raise HTTPException(404, "This build has no such drive with a motor.")
    try:
        return simulate(done.context, done.circuit, body.scenario, body.averaged)
    except ValueError as error:
        sentence = str(error)
        raise HTTPException(422, f"{sentence[:1].upper()}{sentence[1:]}".rstrip(".") + ".") from error


@router.post("/simulate", responses=MISSING)
def simulate_drive(body: m.AskRun, store: Kept) -> m.RunView:
    """A run of a drive's motor, bridge, supply and load."""
    run = _run(body, store)
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
    return m.RunView(
        time_s=in_unit(run.time_s.tolist(), "s"), current_low_a=in_unit(run.current_low.tolist(), "A"),
        current_high_a=in_unit(run.current_high.tolist(), "A"), speed_rpm=in_unit(run.speed.tolist(), "rpm"),
        bus_low_v=in_unit(run.bus_low.tolist(), "V"), bus_high_v=in_unit(run.bus_high.tolist(), "V"), measured=[m.Said(name=n, text=t) for n, t in said],
        events=[f"{phrase(t, 'time')}: {words}" for t, words in run.events], notes=run.notes,
    )  # fmt: skip


@router.post("/simulate/file", responses=MISSING)
def simulated_file(body: m.AskRun, store: Kept) -> Response:
    """The same run as CSV, every edge and event."""
    return Response(to_csv(_run(body, store).run), media_type="text/csv; charset=utf-8",
                    headers={"content-disposition": 'attachment; filename="run.csv"'})  # fmt: skip
