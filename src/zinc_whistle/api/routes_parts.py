"""The shelf of driver parts: listed, added, checked while typed, taken away; CSV and JSON in and out."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Annotated, Any, Literal

from anyio import to_thread
from fastapi import HTTPException, Query, Request, Response

from ..core import exchange
from ..core.exchange import DRIVERS, P
from ..core.model.driver import DriverPart
from ..core.model.given import bind
from ..sheets.fields import part_fields
from ..store.builds import new_id
from . import models
from .heavy import heavy, uploaded
from .routers import strict_router
from .routes_builds import MISSING, BuildId, StoreOf

router = strict_router("/api/parts", "parts")
FILE: dict[str, Any] = {
    "requestBody": {"required": True, "content": {"text/csv": {"schema": {"type": "string", "format": "binary"}}}}
}
Format = Annotated[Literal["csv", "json"], Query(alias="format")]


@router.get("")
def list_parts(store: StoreOf) -> list[DriverPart]:
    """The shelf of driver parts."""
    return store.shelf()


@router.post("/check")
def check_part(part: DriverPart) -> models.PartForm:
    """The fields of a part with their help, and what keeps it from being compared; nothing is kept."""
    wrong = DRIVERS.problems(part)
    return models.PartForm(fields=part_fields(part, wrong), ready=not wrong)


@router.post("", status_code=201)
def add_part(part: DriverPart, store: StoreOf) -> DriverPart:
    """Put a part of the builder's own on the shelf. 422 with the first thing that is wrong."""
    wrong = DRIVERS.problems(part)
    if wrong:
        raise HTTPException(422, next(iter(wrong.values())))
    own = part.model_copy(update={"id": new_id(), "sample": False})
    bind(own, f"shelf.{own.id}")
    store.put_parts([own])
    return own


@router.put("/{part_id}", responses=MISSING)
def correct_part(part_id: BuildId, part: DriverPart, store: StoreOf) -> DriverPart:
    """Correct one of the builder's own parts. Builds that hold a copy keep it, and are offered what was corrected.
    422 with the first thing that is wrong."""
    wrong = DRIVERS.problems(part)
    if wrong:
        raise HTTPException(422, next(iter(wrong.values())))
    own = part.model_copy(update={"id": part_id, "sample": False})
    bind(own, f"shelf.{own.id}")
    store.renew_part(own)
    return own


@router.delete("/{part_id}", status_code=204, responses=MISSING)
def take_part(part_id: BuildId, store: StoreOf) -> None:
    """Take one of the builder's own parts from the shelf; samples stay, and so do the copies in builds."""
    store.take_part(part_id)


@router.get("/export")
def export_parts(store: StoreOf, kind: Format = "csv") -> Response:
    """Every part of the shelf, as CSV or JSON."""
    return exported(store.shelf(), DRIVERS, kind, "parts")


def _taken(path: Path, file: exchange.PartFile[P], form: str) -> tuple[list[str], list[exchange.RefusedRow]]:
    """What a file holds, as texts that another process can send. 422 with a sentence if it cannot be read at all."""
    try:
        text = path.read_text("utf-8")
        taken = (file.from_csv if form == "csv" else file.from_json)(text, new_id)
    except UnicodeDecodeError as error:
        raise HTTPException(422, "That is no text in UTF-8.") from error
    except ValueError as error:
        raise HTTPException(422, f"The file cannot be used: {error}.") from error
    return [p.model_dump_json() for p in taken.parts], taken.bad


async def imported(
    request: Request,
    *,
    file: exchange.PartFile[P],
    form: str,
    keep_good: bool,
    place: str,
    put: Callable[[list[P]], None],
) -> models.PartsTaken:
    """A file put on a shelf: nothing of it if any row is bad, unless ``keep_good`` asks for the good ones.

    It is read beside the service, which goes on answering.
    """
    async with uploaded(request) as path:
        texts, bad = await heavy(request, _taken, path, file, form)

    def keep() -> int:
        kept = [file.model.model_validate_json(t) for t in texts] if keep_good or not bad else []
        for part in kept:
            bind(part, f"{place}.{part.id}")
        if kept:
            put(kept)
        return len(kept)

    kept = await to_thread.run_sync(keep)
    rows = [models.BadRow(line=b.line, sentence=b.sentence) for b in bad]
    return models.PartsTaken(kept=kept, good=len(texts), bad=rows)


def exported(parts: list[P], file: exchange.PartFile[P], form: str, name: str) -> Response:
    """A shelf as a file, CSV or JSON."""
    text, media = (
        (file.to_csv(parts), "text/csv; charset=utf-8") if form == "csv" else (file.to_json(parts), "application/json")
    )
    return Response(text, media_type=media, headers={"content-disposition": f'attachment; filename="{name}.{form}"'})


@router.post("/import", openapi_extra=FILE)
async def import_parts(
    request: Request, store: StoreOf, kind: Format = "csv", keep_good: bool = False
) -> models.PartsTaken:
    """Take parts in. If any row is bad nothing is kept, unless ``keep_good`` asks for the good ones."""
    return await imported(request, file=DRIVERS, form=kind, keep_good=keep_good, place="shelf", put=store.put_parts)
