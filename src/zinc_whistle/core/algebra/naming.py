"""Ids of figures: from the fields that lead to them, and from the inputs below them."""

from __future__ import annotations

import dataclasses
from functools import cache
from typing import Any

from .nodes import Figure, Leaf


def name_figures(prefix: str, thing: Any, into: dict[str, Figure]) -> None:
    """Give every figure below ``thing`` an id from the fields that lead to it; the first name stays."""
    if isinstance(thing, Figure):
        if not thing.id:
            thing.id = prefix
            into[prefix] = thing
    elif isinstance(thing, tuple | list):
        for i, item in enumerate(thing):
            if item.__class__ not in _PLAIN:
                name_figures(f"{prefix}.{getattr(item, 'id', '') or i}", item, into)
    else:
        for name in _parts_of(thing.__class__):
            part = getattr(thing, name)
            if part.__class__ not in _PLAIN:
                name_figures(f"{prefix}.{name}", part, into)


_PLAIN = frozenset((type(None), str, float, int, bool))
"""Most of what lies in a result; nothing is below it."""
TEMPLATE = "any"
"""Fields that begin so hold templates of many cases: they bear no id."""
_SKIPPED = {
    "drive",
    "build",
    "findings",
    "stale_readings",
    "stale_givens",
    "others",
    "sharing",
    "shelf",
    "_ranked",
    "checks",
}


@cache
def _parts_of(kind: type) -> tuple[str, ...]:
    """The fields of a result in which figures may lie; nothing of what is no result."""
    if not dataclasses.is_dataclass(kind):
        return ()
    return tuple(x.name for x in dataclasses.fields(kind) if x.name not in _SKIPPED and not x.name.startswith(TEMPLATE))


def node_below(figure: Figure, steps: str) -> Figure | Leaf | None:
    """Follow input names down from a figure: ``R/R_m`` is the input R_m of its input R."""
    at: Any = figure
    for name in filter(None, steps.split("/")):
        stem, _, place = name.partition(":")
        if not isinstance(at, Figure) or stem not in at.law.names:
            return None
        at = at.inputs[at.law.names.index(stem)]
        if place:
            at = at[int(place)] if place.isdigit() and int(place) < len(at) else None
    return at if isinstance(at, Figure | Leaf) else None
