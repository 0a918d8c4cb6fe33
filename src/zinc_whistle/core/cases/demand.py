"""What every drive takes from a source or a rail, so that the supply is judged with all of them together."""

from __future__ import annotations

from dataclasses import dataclass

from ..algebra.nodes import Figure, Leaf, Node


@dataclass(frozen=True, slots=True)
class Demand:
    """One drive's currents at its source or rail: mean over its duty, as heat counts
    it behind a regulator, at work, at its start, and at its worst."""

    drive: str
    name: str
    feed: str
    mean: Figure | Leaf
    warming: Figure | Leaf
    working: Figure | Leaf
    starting: Figure | Leaf
    worst: Figure | Leaf
    any_working: Node
    """At work, at its start and at its worst whatever its supply then is: templates."""
    any_starting: Node
    any_worst: Node
