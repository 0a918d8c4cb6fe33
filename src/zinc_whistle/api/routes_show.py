"""A build on one page: shown, and as Markdown with its pictures."""

from __future__ import annotations

from fastapi import APIRouter, Response
from pydantic import BaseModel

from ..core.assess import assess
from ..sheets.show import ShowView, cost_words, show_markdown, show_view, stand_words
from ..store.store import Store
from .board_files import zipped
from .routes_builds import MISSING, BuildId, StoreOf
from .safety import StrictRoute

router = APIRouter(prefix="/api/builds", route_class=StrictRoute, tags=["show"], responses=MISSING)


class ShowReply(BaseModel):
    """The page, and its two sentences."""

    page: ShowView
    stands: str
    cost: str


def _page(build_id: str, store: Store) -> ShowView:
    readings = store.journal.readings(build_id)
    done = assess(store.builds.get(build_id).build, store.shelf(), readings)
    return show_view(done, readings, store.journal.log(build_id))


@router.get("/{build_id}/show")
def show_build(build_id: BuildId, store: StoreOf) -> ShowReply:
    """The build as it is saved, on one page."""
    page = _page(build_id, store)
    return ShowReply(page=page, stands=stand_words(page), cost=cost_words(page))


@router.get("/{build_id}/show.zip")
def export_page(build_id: BuildId, store: StoreOf) -> Response:
    """The same as Markdown, with the log's pictures beside it."""
    page = _page(build_id, store)
    bodies = {id: file.body for id, file in store.kept.pictures(build_id)}
    paths = {id: f"pictures/{id}.jpg" for id in bodies}
    archive = zipped({"build.md": show_markdown(page, paths), **{paths[id]: body for id, body in bodies.items()}})
    headers = {"content-disposition": 'attachment; filename="build.zip"'}
    return Response(archive, media_type="application/zip", headers=headers)
