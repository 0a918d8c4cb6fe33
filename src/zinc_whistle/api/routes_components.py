"""The shelf of components by class: listed, added, checked while typed, taken away; CSV and JSON in and out."""

from __future__ import annotations

from typing import Annotated

from fastapi import Body, HTTPException, Query, Request, Response

from ..core.donor import ASKS, entry
from ..core.exchange import COMPONENTS
from ..core.model.component import Component
from ..core.model.components import CLASSES, AnyComponent, Class
from ..core.model.given import bind
from ..core.model.transistors import Mosfet
from ..core.sums import SumError
from ..sheets.fields import part_fields
from ..store.builds import new_id
from . import models
from .routers import strict_router
from .routes_builds import MISSING, BuildId, StoreOf
from .routes_parts import FILE, Format, exported, imported

router = strict_router("/api/components", "components")
Kind = Annotated[Class, Query(alias="class")]
Given = Annotated[AnyComponent, Body()]


def _kind(part: Component) -> str:
    return str(part.kind)  # type: ignore[attr-defined]


@router.get("")
def list_components(store: StoreOf) -> list[AnyComponent]:
    """The whole shelf of components."""
    return store.components()  # type: ignore[return-value]


@router.get("/classes")
def list_classes(store: StoreOf) -> list[models.ComponentClass]:
    """The classes of the shelf."""
    shelf = store.components()
    return [
        models.ComponentClass(
            kind=kind,
            label=label,
            count=sum(isinstance(c, model) for c in shelf),
            own=sum(isinstance(c, model) and not c.sample for c in shelf),
        )
        for kind, (label, model) in CLASSES.items()
    ]


@router.post("/check")
def check_component(part: Given) -> models.PartForm:
    """The fields of a component with their help, and what keeps it from being used; nothing is kept."""
    wrong = COMPONENTS[_kind(part)].problems(part)
    return models.PartForm(fields=part_fields(part, wrong), ready=not wrong)


@router.post("", status_code=201)
def add_component(part: Given, store: StoreOf) -> AnyComponent:
    """Put a component of the builder's own on the shelf. 422 with the first thing that is wrong."""
    wrong = COMPONENTS[_kind(part)].problems(part)
    if wrong:
        raise HTTPException(422, next(iter(wrong.values())))
    own = part.model_copy(update={"id": new_id(), "sample": False})
    bind(own, f"components.{own.id}")
    store.put_components([own])
    return own


@router.put("/{component_id}", responses=MISSING)
def correct_component(component_id: BuildId, part: Given, store: StoreOf) -> AnyComponent:
    """Correct one of the builder's own components. Builds that hold a copy keep it, and are offered what was
    corrected. 422 with the first thing that is wrong."""
    wrong = COMPONENTS[_kind(part)].problems(part)
    if wrong:
        raise HTTPException(422, next(iter(wrong.values())))
    own = part.model_copy(update={"id": component_id, "sample": False})
    bind(own, f"components.{own.id}")
    store.renew_component(_kind(own), own)
    return own


@router.get("/donor")
def list_donor_readings() -> list[models.AskView]:
    """What is asked of a transistor off a board."""
    return [models.AskView.of(a) for a in ASKS]


@router.post("/donor")
def read_donor(body: models.SumGivens) -> Mosfet:
    """A transistor off a board by two readings, as the form of a new component; nothing is kept. 422 with a sentence
    where a reading is wrong."""
    try:
        return entry(body.given)
    except SumError as error:
        raise HTTPException(422, str(error)) from error


@router.delete("/{component_id}", status_code=204, responses=MISSING)
def take_component(component_id: BuildId, kind: Kind, store: StoreOf) -> None:
    """Take one of the builder's own components from the shelf; samples stay, and so do the copies in builds."""
    store.take_component(kind, component_id)


@router.get("/export")
def export_components(store: StoreOf, kind: Kind, form: Format = "csv") -> Response:
    """Every component of a class, as CSV or JSON."""
    own = [c for c in store.components() if _kind(c) == kind]
    return exported(own, COMPONENTS[kind], form, CLASSES[kind][0].lower().replace(" ", "-"))


@router.post("/import", openapi_extra=FILE)
async def import_components(
    request: Request, store: StoreOf, kind: Kind, form: Format = "csv", keep_good: bool = False
) -> models.PartsTaken:
    """Take components of a class in. If any row is bad nothing is kept, unless ``keep_good`` asks for the good ones."""
    return await imported(
        request,
        file=COMPONENTS[kind],
        form=form,
        keep_good=keep_good,
        place="components",
        put=store.put_components,
    )
