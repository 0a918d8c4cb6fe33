"""How sure a figure is: first-order propagation down to the givens, with shared errors kept together.

Source: JCGM 100:2008 (GUM), 5.1.2 for independent inputs and 5.2.2 for correlated ones.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from .nodes import ORIGINS, Constant, Figure, Leaf, Varied, origin_rank

ARITHMETIC = (OverflowError, ZeroDivisionError, ValueError)
"""What a derivative may raise where the figure itself still has a value."""


@dataclass(frozen=True, slots=True)
class Doubt:
    """A standard uncertainty (SI); ``at_least`` when an input's own doubt is not known. None: nothing is known."""

    standard: float | None
    at_least: bool


def doubt_of(node: Any) -> Doubt:
    """The doubt of a figure or a given, through every given that it rests on."""
    if isinstance(node, Constant) or node.value is None:
        return Doubt(None, False)
    try:
        return _propagated(node.gradient if isinstance(node, Figure) else {node: 1.0})
    except ARITHMETIC:
        return Doubt(None, True)


def _propagated(gradient: dict[Leaf, float]) -> Doubt:
    square, unknown, known = 0.0, False, False
    groups: dict[str, float] = {}
    for leaf, slope in gradient.items():
        if leaf.doubt is None:
            unknown = unknown or leaf.origin != "chosen"
            continue
        known = True
        own = leaf.doubt**2 - leaf.gain_doubt**2
        square += slope**2 * max(own, 0.0)
        if leaf.gain_group:
            groups[leaf.gain_group] = groups.get(leaf.gain_group, 0.0) + slope * leaf.gain_doubt
    if not known:
        return Doubt(None if unknown else 0.0, unknown)
    standard = math.sqrt(square + sum(g**2 for g in groups.values()))
    return Doubt(standard, unknown) if math.isfinite(standard) else Doubt(None, True)


def contributions(figure: Figure) -> list[tuple[Leaf, float]]:
    """Each given's share of a figure's doubt (SI, standard), largest first."""
    try:
        gradient = figure.gradient
    except ARITHMETIC:
        return []
    shares = [(leaf, abs(slope) * leaf.doubt) for leaf, slope in gradient.items() if leaf.doubt]
    return sorted(shares, key=lambda pair: -pair[1])


def leaves(node: Any) -> Iterator[Leaf]:
    """Every given and choice below a node, each once."""
    seen: set[int] = set()
    stack = [node]
    while stack:
        at = stack.pop()
        if id(at) in seen or isinstance(at, Constant):
            continue
        seen.add(id(at))
        if isinstance(at, Leaf):
            yield at
        elif isinstance(at, Figure):
            stack.extend(reversed(list(at.parents())))
        elif isinstance(at, Varied):
            stack.extend(reversed(at.ends))


def weakest_origin(node: Any) -> str:
    """The weakest origin among the quantities that a figure rests on."""
    return ORIGINS[origin_rank(node)]


def basis_of(node: Any) -> dict[str, str]:
    """What a figure stands on now: path of each given and choice -> its token."""
    found = {leaf.id: leaf.token for leaf in leaves(node)}
    if isinstance(node, Figure):
        found |= {leaf.id: leaf.token for template in node.others for leaf in leaves(template)}
    return found


def moved(basis: dict[str, str], now: dict[str, str]) -> list[str]:
    """The paths whose value was added, lost or changed since ``basis`` was taken."""
    return sorted(p for p in basis.keys() | now.keys() if basis.get(p) != now.get(p))


def missing(node: Any) -> list[Leaf]:
    """The empty givens that keep a figure from having a value."""
    return [leaf for leaf in leaves(node) if leaf.value is None and leaf.choice is None]


NAMED_GAPS = 3
"""So many of the fields that are missing are told by name."""


def asked_for(node: Any) -> dict[str, str]:
    """What of an unknown figure is to be given: each field's name once, and the path of the first that bears it."""
    found: dict[str, str] = {}
    for leaf in missing(node):
        found.setdefault(leaf.title, leaf.id)
    return found


def why_unknown(node: Any) -> str:
    """A sentence for a figure without value: what to give, or why it has no bound."""
    names = list(asked_for(node))
    if names:
        left = len(names) - NAMED_GAPS
        listed = ", ".join(names[:NAMED_GAPS]) + (f" and {left} more" if left > 0 else "")
        return f"Not known yet: give {listed}."
    stack, seen = [node], set()
    while stack:
        at = stack.pop()
        if id(at) in seen or not isinstance(at, Figure):
            continue
        seen.add(id(at))
        if at.value is None and at.reason:
            return f"{at.title}: {at.reason}."
        stack.extend(at.parents())
    return "Not known yet."
