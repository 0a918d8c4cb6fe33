"""The discrete stage: design for me, and its bill of materials as a file."""

from __future__ import annotations

from collections.abc import Sequence
from typing import cast

from fastapi import HTTPException, Request, Response
from pydantic import TypeAdapter

from ..core.algebra.findings import TIGHT, Finding
from ..core.algebra.quantities import notation, phrase
from ..core.assess import DrivenAssessment, assess
from ..core.cases import materials
from ..core.design.composing import Design
from ..core.design.exchange import ORDER
from ..core.design.search import design
from ..core.design.wishes import WishError, wishes_of
from ..core.model.build import bind_components, bind_parts
from ..core.model.component import Component
from ..core.model.components import AnyComponent
from ..core.model.driver import DriverPart
from ..core.model.stage import slots
from ..sheets.driver import CandidateDetail, detail_of
from . import models
from .heavy import heavy
from .routers import strict_router
from .routes_builds import MISSING, StoreOf

router = strict_router("/api/stage", "stage")


def _driven(body: models.OfDrive | models.OfPart | models.AskDesign, shelf: Sequence[DriverPart]) -> DrivenAssessment:
    found = assess(body.build, shelf).drives.get(body.drive)
    done = found.driven if found is not None else None
    if done is None:
        raise HTTPException(404, "This build has no such drive with a driver.")
    return done


@router.post("/part", responses=MISSING)
def show_part(body: models.OfPart, store: StoreOf) -> CandidateDetail:
    """What one part of the comparison of drivers says besides its checks."""
    found = detail_of(_driven(body, store.shelf()), body.part, store.components())
    if found is None:
        raise HTTPException(404, "The comparison has no such part.")
    return found


@router.post("/design", responses=MISSING)
async def design_stage(request: Request, body: models.AskDesign, store: StoreOf) -> models.DesignsView:
    """Complete stages for a drive from the shelf of components: the best of each goal, and what lies between them."""
    try:
        wishes_of(body.wishes.model_dump())
    except WishError as error:
        raise HTTPException(422, str(error)) from error
    shelves = DRIVERS.dump_json(store.shelf()), COMPONENTS.dump_json(cast("list[AnyComponent]", store.components()))
    return await heavy(request, _design_stage, body.model_dump_json(), *shelves)


DRIVERS, COMPONENTS = TypeAdapter(list[DriverPart]), TypeAdapter(list[AnyComponent])


def _design_stage(asked: str, shelf: bytes, of_components: bytes) -> models.DesignsView:
    body, parts = models.AskDesign.model_validate_json(asked), DRIVERS.validate_json(shelf)
    components = list[Component](COMPONENTS.validate_json(of_components))
    bind_parts(parts)
    bind_components(components)
    done = _driven(body, parts)
    found = design(done.context, components, body.locks, body.quiet, wishes_of(body.wishes.model_dump()))
    return models.DesignsView(
        designs=[_view(d, done.drive.signals.path) for d in found.designs],
        looked_at=found.looked_at,
        hold=found.hold,
        reason=found.reason,
    )


def _view(made: Design, signals: str) -> models.DesignView:
    stage = made.stage
    switch = stage.switch.name if stage.switch is not None else ""
    number = int(stage.parallel.value or 1)
    words = [f"{number} × {switch}" if number > 1 else switch]
    if stage.gate_driver is not None:
        words.append(f"{stage.gate_driver.name}, {stage.gate_resistor.text}")
    words.append(stage.heat_sink.name if stage.heat_sink is not None else "no heat sink")
    words.append(phrase(made.frequency_hz, "frequency"))
    others = ((slot, getattr(stage, slot)) for slot in ORDER if slot in slots(stage))
    words += [SAID.get(slot, "{}").format(part.name) for slot, part in others if part is not None]
    return models.DesignView(
        label=made.label,
        words=words,
        price=phrase(made.price, "price") if made.price is not None else "not known",
        price_eur=made.price,
        heat_w=made.heat_w,
        heat=phrase(made.heat_w, "power"),
        junction=phrase(made.junction_c, "temperature"),
        use=made.utilisation,
        state="beyond" if made.utilisation > 1 else "tight" if made.utilisation >= TIGHT else "holds",
        use_text=f"{made.utilisation:.0%}".replace("%", " %"),
        tight=[_use(x) for x in made.tight if x.verdict == "tight"],
        warned=[_use(x) for x in made.tight if x.verdict == "exceeded"],
        stage=stage,
        changes=[
            models.ChangeView(
                path=f"{signals}.pwm_frequency",
                text=notation(made.frequency_hz, "frequency", "kHz"),
                origin="chosen",
                note="",
            )
        ],
    )


SAID = {"upper": "above: {}", "guard": "guard: {}"}
"""Slots whose part does not say by its name what it is there for."""


def _use(found: Finding) -> str:
    return f"{found.title}, {found.used:.0%}".replace("%", " %")


@router.post("/materials", responses=MISSING)
def materials_file(body: models.OfDrive, store: StoreOf) -> Response:
    """The bill of materials of a drive's stage, as CSV."""
    done = _driven(body, store.shelf())
    if done.discrete is None:
        raise HTTPException(404, "This drive's unit is no stage of your own.")
    text = materials.to_csv(done.discrete.materials, done.discrete.spec)
    return Response(
        text,
        media_type="text/csv; charset=utf-8",
        headers={"content-disposition": 'attachment; filename="materials.csv"'},
    )
