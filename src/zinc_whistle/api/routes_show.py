"""A build on one page: shown, and as Markdown with its pictures."""

from __future__ import annotations

from collections.abc import Sequence

from fastapi import Response
from pydantic import BaseModel, Field

from ..core.assess import assess
from ..sheets.show import ShowView, cost_words, show_markdown, show_view, stand_words
from ..store.store import Store
from .board_files import zipped
from .models import Strict
from .routers import strict_router
from .routes_builds import MISSING, BuildId, StoreOf

router = strict_router("/api/builds", "show", MISSING)


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
    return _archive(build_id, store, ())


class Drawing(Strict):
    """A drawing of the page as the screen has it: the circuit of its n-th drive, or the harness."""

    name: str = Field(pattern=r"^(circuit-[1-9][0-9]?|harness)$")
    svg: str = Field(pattern=r"^<svg[\s>]", max_length=1_000_000)


class Drawings(Strict):
    """What the screen adds to the page."""

    drawings: list[Drawing] = Field(max_length=60)


@router.post("/{build_id}/show.zip")
def export_drawn_page(build_id: BuildId, body: Drawings, store: StoreOf) -> Response:
    """The same with the drawings of the screen, which alone lays them out."""
    return _archive(build_id, store, body.drawings)


def _archive(build_id: str, store: Store, drawings: Sequence[Drawing]) -> Response:
    page = _page(build_id, store)
    bodies = {id: file.body for id, file in store.kept.pictures(build_id)}
    paths = {id: f"pictures/{id}.jpg" for id in bodies}
    drawn = {x.name: f"drawings/{x.name}.svg" for x in drawings}
    archive = zipped(
        {
            "build.md": show_markdown(page, {**paths, **drawn}),
            **{paths[id]: body for id, body in bodies.items()},
            **{drawn[x.name]: x.svg for x in drawings},
        }
    )
    headers = {"content-disposition": 'attachment; filename="build.zip"'}
    return Response(archive, media_type="application/zip", headers=headers)
