"""Builds: list, new, save, copy, delete, files in and out, revisions."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import Body, Depends, Path, Request, Response
from fastapi.responses import JSONResponse

from ..core.assess import assess
from ..core.merge import merged
from ..core.model.build import Build, bind_build
from ..demo.data import blank_build
from ..sheets.comparison import ComparisonView, comparison_view
from ..store.builds import Listed, Revision, Stored, Unreadable
from ..store.store import Store
from . import models
from .routers import strict_router

router = strict_router("/api", "builds")
BuildId = Annotated[str, Path(min_length=1, max_length=40, pattern=r"^[A-Za-z0-9_-]+$")]
MISSING: dict[int | str, dict[str, Any]] = {404: {"model": models.Problem}}


def store_of(request: Request) -> Store:
    """The store that the service was started with."""
    store: Store = request.app.state.store
    return store


StoreOf = Annotated[Store, Depends(store_of)]


def shown(stored: Stored) -> models.BuildView:
    return models.BuildView(id=stored.id, version=stored.version, saved_at=stored.saved_at, build=stored.build)


@router.get("/builds")
def list_builds(store: StoreOf) -> list[Listed]:
    """Every build, the last saved first."""
    return store.builds.listed()


@router.post("/builds", status_code=201)
def new_build(body: models.NewBuild, store: StoreOf) -> models.BuildView:
    """A build with one of each thing and nothing known yet."""
    return shown(store.builds.add(blank_build(body.name.strip())))


@router.post("/builds/import", status_code=201)
def import_build(build: Annotated[Build, Body()], store: StoreOf) -> models.BuildView:
    """Take in an exported build file; refused whole, with the path, if anything in it is not known."""
    bind_build(build)
    return shown(store.builds.add(build))


@router.get("/builds/{build_id}", responses=MISSING)
def get_build(build_id: BuildId, store: StoreOf) -> models.BuildView:
    """One build as saved."""
    return shown(store.builds.get(build_id))


@router.put("/builds/{build_id}", responses={**MISSING, 409: {"model": models.ConflictProblem}})
def save_build(build_id: BuildId, body: models.Save, store: StoreOf) -> models.SavedView:
    """Save a draft; 409 if another save came first, and then the draft is kept as a build of its own."""
    bind_build(body.build)
    stored = store.builds.save(build_id, body.build, body.version, body.sibling)
    return models.SavedView(id=stored.id, version=stored.version, saved_at=stored.saved_at)


@router.post("/builds/{build_id}/merge", responses=MISSING)
def merge_build(build_id: BuildId, body: models.AskMerge, store: StoreOf) -> models.MergeView:
    """The edits of a draft brought together with what somebody else saved meanwhile; nothing is kept."""
    stored = store.builds.get(build_id)
    for given in (body.base, body.mine):
        bind_build(given)
    found = merged(body.base, body.mine, stored.build)
    return models.MergeView(version=stored.version, saved=stored.build, build=found.build, conflicts=list(found.named))


@router.delete("/builds/{build_id}", status_code=204, responses=MISSING)
def delete_build(build_id: BuildId, store: StoreOf) -> None:
    """Delete a build; it can be taken back."""
    store.builds.delete(build_id)


@router.post("/builds/{build_id}/undelete", responses=MISSING)
def undelete_build(build_id: BuildId, store: StoreOf) -> models.BuildView:
    """Take a deleted build back."""
    return shown(store.builds.restore_deleted(build_id))


@router.post("/builds/{build_id}/duplicate", status_code=201, responses=MISSING)
def duplicate_build(build_id: BuildId, store: StoreOf) -> models.BuildView:
    """A copy under a name of its own."""
    return shown(store.builds.duplicate(build_id))


@router.get("/builds/{build_id}/export", responses=MISSING, response_model=Build)
def export_build(build_id: BuildId, store: StoreOf) -> Response:
    """The build file, as it is imported again; what this version cannot read goes out as it is stored."""
    try:
        body = store.builds.get(build_id).build.model_dump_json()
    except Unreadable:
        body = store.builds.raw(build_id)
    return Response(body, media_type="application/json")


@router.get("/builds/{build_id}/revisions", responses=MISSING)
def list_revisions(build_id: BuildId, store: StoreOf) -> list[Revision]:
    """Every revision, newest first."""
    return store.builds.revisions(build_id)


@router.post("/builds/{build_id}/revisions", status_code=201, responses=MISSING)
def cut_revision(build_id: BuildId, body: models.NewRevision, store: StoreOf) -> Revision:
    """Keep the build as it is saved now."""
    return store.builds.cut(build_id, body.reason.strip() or "cut by hand")


@router.post("/builds/{build_id}/revisions/{number}/compare", responses=MISSING)
def compare_revision(
    build_id: BuildId, number: Annotated[int, Path(ge=1, le=10**9)], body: models.AskCompare, store: StoreOf
) -> ComparisonView:
    """What differs from a revision to another one, or to the build as it is sent: given, figures, limits."""
    before = store.builds.revision(build_id, number)
    after = store.builds.revision(build_id, body.number) if body.number is not None else body.build
    assert after is not None
    shelf = store.shelf()
    return comparison_view(assess(before, shelf), assess(after, shelf))


@router.post("/builds/{build_id}/revisions/{number}/restore", responses=MISSING)
def restore_revision(
    build_id: BuildId, number: Annotated[int, Path(ge=1, le=10**9)], store: StoreOf
) -> models.BuildView:
    """Take a revision back; what stood before is kept as a revision."""
    return shown(store.builds.restore(build_id, number))


@router.get("/build-schema")
def build_schema() -> JSONResponse:
    """The JSON Schema of a build file."""
    return JSONResponse(Build.model_json_schema())
