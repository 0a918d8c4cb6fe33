"""Whatever is typed, every station answers, and shows only what can be read.

A build is taken and a few of its givens are made a tenth to a thousand times what they are, either way: what a slip of
the unit does. Every sheet of it must come, with no number below nothing that cannot be, and none of seven figures.
"""

from __future__ import annotations

import itertools
import random
import re
from collections.abc import Iterator
from typing import Any

import pytest
from pydantic import BaseModel
from pydantic_core import to_jsonable_python

from zinc_whistle.core.algebra.quantities import notation
from zinc_whistle.core.assess import Assessment, assess
from zinc_whistle.core.model.build import Build
from zinc_whistle.core.model.given import Given
from zinc_whistle.core.stations import BY_ID
from zinc_whistle.sheets.sheet import reply

from .kit import SHELF
from .test_evidence import BUILDS, known

SIGNED = {"error", "off", "name", "scales", "fields"}
"""What has a sign by its nature: a rate's error, a residual, a range, a scale's count; and what the builder typed."""
COUNTED_BACK = "−"
"""What is read on the way back to a mark may lie to either side of it: its least is below nothing."""
EITHER_WAY = (".droop", ".plan.error", ".phase_margin")
"""Figures that lie below or above a target; a loop that swings by itself has less than no phase left."""
UNREADABLE = re.compile(r"\b(nan|inf)\b|\de[+-]?\d|(?<![\w.])[-−]\d|(?<![.\d])\d{7}|\d(?:[\u202f\u2009 ]\d{3}){2}")


def texts(value: Any, path: tuple[str, ...] = ()) -> Iterator[tuple[tuple[str, ...], str]]:
    """Every text of a sheet, and where it stands."""
    if isinstance(value, dict):
        for key, held in value.items():
            yield from texts(held, (*path, str(key)))
    elif isinstance(value, list):
        for held in value:
            yield from texts(held, path)
    elif isinstance(value, str):
        yield path, value


def unreadable(done: Assessment) -> Iterator[str]:
    """What no builder could read, with where it stands."""
    for station, drive in itertools.product(BY_ID, done.drives):
        sheet = to_jsonable_python(reply(done, station, drive).sheet)
        for step in (sheet.get("picture") or {}).get("steps", []) if station == "bench" else []:
            if step["id"] == "out_and_back":
                assert step["bounds"].startswith(f"between {COUNTED_BACK}") or not step["bounds"]
                step["bounds"] = step["bounds"].replace(COUNTED_BACK, "", 1)
        sheet["figures"] = [f for f in sheet["figures"] if not f["id"].endswith(EITHER_WAY)]
        sheet["findings"] = [f for f in sheet["findings"] if "phase_margin" not in f["key"]]
        for path, text in texts(sheet):
            if not SIGNED & set(path) and UNREADABLE.search(text):
                yield f"{station}, {'.'.join(path)}: {text}"


def givens(value: Any, path: str = "") -> Iterator[tuple[str, Given]]:
    if isinstance(value, Given):
        yield path, value
    elif isinstance(value, BaseModel):
        for name in type(value).model_fields:
            yield from givens(getattr(value, name), f"{path}.{name}")
    elif isinstance(value, list):
        for i, held in enumerate(value):
            yield from givens(held, f"{path}[{i}]")


def slipped(name: str, seed: int, how_many: int) -> tuple[Build, str]:
    """A build with some of its givens off by powers of ten, and which."""
    chance, build = random.Random(f"{name}, {seed}"), BUILDS[name]()
    texts_of = dict(givens(build))
    told = [(p, g) for p, g in givens(known(name).build) if g.value and p in texts_of]
    words = []
    for path, given in chance.sample(told, min(how_many, len(told))):
        slip = 10.0 ** chance.choice((-3, -2, -1, 1, 2, 3))
        text = notation(given.value * slip, given.leaf.kind.name, given.leaf.unit)
        texts_of[path].text = text
        words.append(f"{path} {text}")
    return build, ", ".join(words)


@pytest.mark.parametrize("name", BUILDS)
def test_no_sheet_shows_what_cannot_be_read(name: str) -> None:
    assert not list(unreadable(known(name)))


@pytest.mark.parametrize("seed", range(2))
@pytest.mark.parametrize("name", BUILDS)
def test_every_station_answers_whatever_is_typed(name: str, seed: int) -> None:
    build, words = slipped(name, seed, 1 + 2 * seed)
    assert not list(unreadable(assess(build, SHELF))), words
