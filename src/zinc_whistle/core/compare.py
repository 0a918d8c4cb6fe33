"""Two states of a build beside one another: what was given otherwise, which figures moved, and which limits."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from pydantic import BaseModel

from .algebra.findings import Finding
from .algebra.nodes import Figure
from .algebra.quantities import phrase
from .assess import Assessment
from .model.build import Build
from .model.given import Given, Spec

MOVED = 0.005
"""A figure that differs by less is the same for its reader."""
MOST_FIGURES = 24
NEARER = 0.05
"""A limit of which so much more or less is used is told as moved."""
LEFT_OUT = ("format", "format_version", "made", "id", "basis", "reading", "value")
"""What of a build is no choice of the builder's: what follows, and what is ticked."""


@dataclass(frozen=True, slots=True)
class GivenChange:
    """One thing given otherwise: its path, what its field is called, and both texts (empty: it was not there)."""

    path: str
    label: str
    before: str
    after: str


@dataclass(frozen=True, slots=True)
class FigureChange:
    """One figure that moved: what it is, of which drive, in words before and after, and the ratio (after over before;
    None where one of them is nothing or has a sign of its own)."""

    title: str
    drive: str
    before: str
    after: str
    ratio: float | None


@dataclass(frozen=True, slots=True)
class LimitChange:
    """One check that says something else, or is nearer to its limit or farther from it."""

    title: str
    drive: str
    before: str
    after: str
    worse: bool


@dataclass(frozen=True, slots=True)
class Comparison:
    """All that differs; ``more`` figures moved beside those that are told, the largest first."""

    given: tuple[GivenChange, ...]
    figures: tuple[FigureChange, ...]
    limits: tuple[LimitChange, ...]
    more: int = 0


def compare(one: Assessment, other: Assessment) -> Comparison:
    """What differs from one state to the other. Drives that only one of them has are told by what is given."""
    figures = sorted(_figures(one, other), key=lambda f: -abs(math.log(f.ratio)) if f.ratio else -math.inf)
    return Comparison(
        given=tuple(_given(one.build, other.build)),
        figures=tuple(figures[:MOST_FIGURES]),
        limits=tuple(_limits(one, other)),
        more=max(len(figures) - MOST_FIGURES, 0),
    )


def _given(one: Build, other: Build) -> Iterator[GivenChange]:
    before, after = (dict(_texts(b)) for b in (one, other))
    for path in dict.fromkeys((*before, *after)):
        had, has = before.get(path), after.get(path)
        told = has or had
        if told is not None and (had is None or has is None or had.text != has.text):
            yield GivenChange(path, told.label, had.text if had else "", has.text if has else "")


def labels(build: Build) -> dict[str, str]:
    """What every field of a build is called, by its path."""
    return {path: told.label for path, told in _texts(build)}


@dataclass(frozen=True, slots=True)
class _Labelled:
    label: str
    text: str


def _texts(value: Any, path: str = "", label: str = "") -> Iterator[tuple[str, _Labelled]]:
    """Every text of a build by its path, with what its field is called; a quantity by what is typed, a choice by its
    words, a list's items by their ids."""
    if isinstance(value, Given):
        yield path, _Labelled(label, value.text)
    elif isinstance(value, BaseModel):
        for name, info in type(value).model_fields.items():
            if name in LEFT_OUT:
                continue
            asked = value.meta(name) if isinstance(value, Spec) else None
            held = getattr(value, name)
            told = info.description or name.replace("_", " ")
            if asked is not None and asked.ask is not None:
                told = asked.ask.label
            elif asked is not None and asked.choose is not None:
                told, held = asked.choose.label, asked.choose.options.get(held, held)
            yield from _texts(held, f"{path}.{name}" if path else name, told)
    elif isinstance(value, list):
        for number, held in enumerate(value):
            yield from _texts(held, f"{path}.{getattr(held, 'id', number)}", label)
    elif value not in (None, ""):
        yield path, _Labelled(label, str(value))


def _figures(one: Assessment, other: Assessment) -> Iterator[FigureChange]:
    """Figures by their ids, those of checks left out: they stand with the limits. One title a drive is told once."""
    told = set[tuple[str, str]]()
    for id, after in other.figures.items():
        before = one.figures.get(id)
        drive = id.split(".")[1] if id.startswith("drives.") else ""
        if before is None or ".checks." in id or (after.title, drive) in told:
            continue
        if before.value is None or after.value is None or not _moved(before.value, after.value):
            continue
        told.add((after.title, drive))
        ratio = after.value / before.value if before.value * after.value > 0 else None
        yield FigureChange(after.title, drive, _phrase(before), _phrase(after), ratio)


def _moved(a: float, b: float) -> bool:
    return not math.isclose(a, b, rel_tol=MOVED, abs_tol=1e-12)


def _phrase(figure: Figure) -> str:
    return phrase(figure.value, figure.kind.name) if figure.value is not None else "not known"


def _limits(one: Assessment, other: Assessment) -> Iterator[LimitChange]:
    before = {(f.code, f.drive): f for f in one.findings}
    for f in other.findings:
        had = before.pop((f.code, f.drive), None)
        if had is None:
            if f.verdict in ("exceeded", "tight"):
                yield LimitChange(f.title, f.drive, "not asked", _said(f), True)
        elif had.verdict != f.verdict or abs(_use(f) - _use(had)) > NEARER:
            yield LimitChange(f.title, f.drive, _said(had), _said(f), _rank(f) > _rank(had))
    for had in before.values():
        if had.verdict in ("exceeded", "tight"):
            yield LimitChange(had.title, had.drive, _said(had), "not asked", False)


ORDER = ("holds", "tight", "unknown", "exceeded")


def _use(f: Finding) -> float:
    used = f.used
    return 0.0 if used is None or not math.isfinite(used) else used


def _rank(f: Finding) -> tuple[int, float]:
    return ORDER.index(f.verdict), _use(f)


def _said(f: Finding) -> str:
    """A verdict in a word or two, with how much of the limit is used."""
    word = {"holds": "holds", "tight": "tight", "unknown": "not known", "exceeded": "exceeded"}[f.verdict]
    return f"{word}, {_use(f):.0%}".replace("%", " %") if f.used is not None else word
