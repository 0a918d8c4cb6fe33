"""What can be gone to from anywhere: fields and figures of a draft, and the words."""

from __future__ import annotations

from ..core.assess import assess
from ..core.model.build import Build, bound_parts
from ..sheets.found import PlaceFound, places
from ..sheets.words import Word, words
from . import models
from .routers import strict_router
from .routes_builds import StoreOf

router = strict_router("/api", "find")


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
