"""A copy of a build shares nothing with it that anybody changes."""

from __future__ import annotations

import copy
from collections.abc import Callable, Iterator
from typing import Any

import pytest
from pydantic import BaseModel

from zinc_whistle.core.assess import assess
from zinc_whistle.core.model.build import Build, bind_build
from zinc_whistle.demo.data import cider_stirrer, lantern_carousel, puppet_stage, snow_fan

DEMOS = [lantern_carousel, cider_stirrer, puppet_stage, snow_fan]


def changeable(value: Any) -> Iterator[Any]:
    """Every model, list and table below and including it."""
    if isinstance(value, BaseModel):
        yield value
        for name in type(value).model_fields:
            yield from changeable(getattr(value, name))
    elif isinstance(value, list | tuple):
        yield value
        for item in value:
            yield from changeable(item)
    elif isinstance(value, dict):
        yield value
        for item in value.values():
            yield from changeable(item)


@pytest.mark.parametrize("make", DEMOS)
def test_nothing_of_a_copy_is_shared(make: Callable[[], Build]) -> None:
    build = make()
    bind_build(build)
    for made in (build.model_copy(deep=True), copy.deepcopy(build)):
        assert made == build
        shared = {id(x) for x in changeable(made) if not isinstance(x, tuple)} & {id(x) for x in changeable(build)}
        assert not shared
        assert made.model_dump() == build.model_dump()
        assert made.drives[0].path == build.drives[0].path


def test_what_is_done_to_a_copy_is_done_to_it_alone(carousel: Build) -> None:
    bind_build(carousel)
    before = carousel.model_dump_json()
    made = carousel.model_copy(deep=True, update={"name": "Another"})
    made.drives[0].name = "Changed"
    made.supply.sources.clear()
    made.meters[0].volts_share.text = "7 %"
    bind_build(made)
    assert carousel.model_dump_json() == before
    assert (made.name, carousel.name == "Another") == ("Another", False)
    assert assess(carousel).bound.givens["meters.m1.volts_share"].text != "7 %"
