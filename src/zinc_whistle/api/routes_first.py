"""The first page of a new build."""

from __future__ import annotations

from typing import Annotated

from fastapi import HTTPException
from pydantic import Field

from ..core.assess import assess
from ..core.design.first_build import First, first_build
from ..core.model.build import bind_build
from ..demo.data import blank_build, controllers
from ..sheets.first_view import CONTROLLER, FirstVerdict, QuestionView, first_verdict, questions
from ..store.store import Store
from . import models
from .routers import strict_router
from .routes_builds import StoreOf, shown

router = strict_router("/api/first", "first page")
USUAL = "eight-bit-16"
Answer = Annotated[str, Field(max_length=120)]


class FirstBody(models.Strict):
    """The answers so far, by question."""

    name: str = Field("", max_length=80)
    answers: dict[Annotated[str, Field(max_length=40)], Answer] = Field(max_length=60)


@router.get("")
def first_questions(store: StoreOf) -> list[QuestionView]:
    """What is asked."""
    return questions({c.id: c.name for c in controllers()}, {m.id: m.name for m in store.motors()})


def _built(body: FirstBody, store: Store) -> First:
    chosen = body.answers.get(CONTROLLER) or USUAL
    if chosen not in {c.id for c in controllers()}:
        raise HTTPException(422, "There is no such controller among those that ship.")
    blank = blank_build(body.name.strip() or "New build", chosen)
    answers = {k: v for k, v in body.answers.items() if k != CONTROLLER}
    return first_build(blank, answers, {m.id: m for m in store.motors()})


@router.post("/verdict")
def verdict_so_far(body: FirstBody, store: StoreOf) -> FirstVerdict:
    """What the answers come to, as far as they go."""
    first = _built(body, store)
    return first_verdict(first, assess(first.build, store.shelf()))


@router.post("/build", status_code=201)
def begin(body: FirstBody, store: StoreOf) -> models.BuildView:
    """A build of the answers; what is missing is open in it."""
    first = _built(body, store)
    if first.errors:
        raise HTTPException(422, next(iter(first.errors.values())))
    bind_build(first.build)
    return shown(store.builds.add(first.build))
