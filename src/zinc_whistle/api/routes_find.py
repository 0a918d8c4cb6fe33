"""What can be gone to from anywhere: fields and figures of a draft, and the words."""

from __future__ import annotations

from fastapi import APIRouter

from ..core.assess import assess
from ..core.model.build import Build, bound_parts
from ..sheets.found import PlaceFound, places
from ..sheets.words import Word, words
from . import models
from .routes_builds import StoreOf
from .safety import StrictRoute

router = APIRouter(prefix="/api", route_class=StrictRoute, tags=["find"], responses={422: {"model": models.Problem}})


class FindIn(models.Strict):
    """The draft in which is looked."""

    build: Build


@router.post("/find")
def find_places(body: FindIn, store: StoreOf) -> list[PlaceFound]:
    """Every field of every station of every drive, and every figure by its name."""
    return places(assess(body.build, store.shelf()), bound_parts(store.motors()))


@router.get("/words")
def list_words() -> list[Word]:
    """The trade's words and ours, a sentence each."""
    return list(words())
