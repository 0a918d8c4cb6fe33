"""Tries: a build as it is, beside what it would be; and what the shelf and other builds have to offer for one."""

from __future__ import annotations

from typing import Annotated

from fastapi import HTTPException
from pydantic import BaseModel, Field

from ..core.assess import assess
from ..core.design.shelf_offers import ShelfEntry, entries, offers, taken
from ..core.design.taking import What, sources, take
from ..core.model.build import Build
from ..core.model.components import CLASSES
from ..sheets.comparison import RetuneRow, retune_rows, retune_words
from ..sheets.tries import TriesView, tries_view
from ..store.builds import Unreadable
from ..store.store import Store
from . import models
from .routers import strict_router
from .routes_builds import MISSING, BuildId, StoreOf
from .routes_find import FindIn

router = strict_router("/api", "tries")


MOST_BUILDS = 60
MOST_TEXT = 4900


class AskTries(models.Strict):
    """The build as it is, and one or two tries of it; its readings are of the first."""

    build_id: str = Field("", max_length=40)
    states: Annotated[list[Build], Field(min_length=2, max_length=3)]


@router.post("/tries")
def compare_tries(body: AskTries, store: StoreOf) -> TriesView:
    """Stamps, figures and tight spots of each state side by side; nothing is kept."""
    readings = store.journal.readings(body.build_id) if body.build_id else []
    shelf = store.shelf()
    return tries_view([assess(state, shelf, readings) for state in body.states])


class FieldOfferView(BaseModel):
    """A field of a copy, as it is and as the shelf has it."""

    label: str
    had: str
    has: str


class AskRetuning(models.Strict):
    """Two states of a build; without the first its newest revision counts. With ``log`` what is found is
    written into the log."""

    before: Build | None = None
    after: Build
    log: bool = False


class RetuningView(BaseModel):
    """What is to be set again, since which revision (0: since the state that was sent), and whether the log holds it
    already."""

    rows: list[RetuneRow]
    since: int
    logged: bool


@router.post("/builds/{build_id}/retuning", responses=MISSING)
def list_retuning(build_id: BuildId, body: AskRetuning, store: StoreOf) -> RetuningView:
    """Settings that stayed while the motor, the gear or the load they were set for moved."""
    store.builds.get(build_id)
    revisions = store.builds.revisions(build_id)
    since = 0 if body.before is not None or not revisions else revisions[0].number
    before = body.before or (store.builds.revision(build_id, since) if since else body.after)
    shelf = store.shelf()
    rows = retune_rows(assess(before, shelf), assess(body.after, shelf))
    words = retune_words(rows)[:MOST_TEXT]
    logged = bool(rows) and any(e.topic == "retune" and e.open and e.text == words for e in store.journal.log(build_id))
    if rows and body.log and not logged:
        store.journal.add_note(build_id, words, "retune")
        logged = True
    return RetuningView(rows=rows, since=since, logged=logged)


class OfferView(BaseModel):
    """A copy of which the shelf's entry was corrected: where it stands, and the fields with both texts."""

    path: str
    name: str
    words: str
    fields: list[FieldOfferView]


class TakeOffers(models.Strict):
    """A build, and the paths of the copies in which the corrections are to be made."""

    build: Build
    paths: Annotated[list[Annotated[str, Field(max_length=120)]], Field(max_length=60)]


class TakeFrom(models.Strict):
    """What is to be taken, for which drive, and from which drive of which build."""

    build: Build
    drive: str = Field(max_length=40)
    from_build: str = Field(max_length=40)
    from_drive: str = Field(max_length=40)
    what: What


class SourceView(BaseModel):
    """Something that another build has to give."""

    what: What
    build: str
    build_name: str
    drive: str
    name: str


def _entries(store: Store) -> list[ShelfEntry]:
    """What of the shelf was ever corrected."""
    before = store.parts.superseded()
    if not before:
        return []
    found = entries("driver", store.shelf(), before.get("driver", {}))
    found += entries("motor", store.motors(), before.get("motor", {}))
    found += entries("controller", store.parts.controllers(), before.get("controller", {}))
    for kind, (_, model) in CLASSES.items():
        own = [c for c in store.components() if isinstance(c, model)]
        found += entries("component", own, before.get(kind, {}))
    return found


@router.post("/offers")
def list_offers(body: FindIn, store: StoreOf) -> list[OfferView]:
    """What was corrected on the shelf since the build took its copies."""
    return [
        OfferView(
            path=o.path,
            name=o.name,
            words=", ".join(f"{f.label}: {f.had or 'nothing'} → {f.has or 'nothing'}" for f in o.fields[:4])
            + (f", and {len(o.fields) - 4} more" if len(o.fields) > 4 else ""),
            fields=[FieldOfferView(label=f.label, had=f.had, has=f.has) for f in o.fields],
        )
        for o in offers(body.build, _entries(store))
    ]


@router.post("/offers/taken")
def take_offers(body: TakeOffers, store: StoreOf) -> Build:
    """The build with the corrections made in the copies that are named; nothing is kept."""
    return taken(body.build, [o for o in offers(body.build, _entries(store)) if o.path in body.paths])


@router.get("/sources")
def list_sources(store: StoreOf) -> list[SourceView]:
    """Motors, drivers, controllers and panels of the sixty builds that were saved last."""
    found = []
    for listed in store.builds.listed()[:MOST_BUILDS]:
        try:
            build = store.builds.get(listed.id).build
        except Unreadable:
            continue
        found += [
            SourceView(what=s.what, build=listed.id, build_name=build.name, drive=s.drive, name=s.name)
            for s in sources(build)
        ]
    return found


@router.post("/sources/taken", responses=MISSING)
def take_source(body: TakeFrom, store: StoreOf) -> Build:
    """The build with another one's part in its drive; nothing is kept."""
    other = store.builds.get(body.from_build).build
    try:
        return take(body.build, body.drive, other, body.from_drive, body.what)
    except LookupError as error:
        raise HTTPException(404, str(error)) from error
