"""The slots that no array stands for: upper switch, relay, diode, guard and fuse, chosen one after the other.

They hardly rest on each other: first whichever part stops and warns least in its slot, the cheapest of those, so that
the sweep stands on parts that hold; then, with a whole design in hand, whichever makes it better still and brings no
new warning: of a fuse that blows at every start the limits only warn, and it is the cheapest there is.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace
from typing import Any

from ..algebra.giving_up import go_on
from ..cases.operating import DriveContext
from ..model.component import Component
from ..model.components import Diode, Fuse, Relay
from ..model.stage import StageSpec, slots
from ..model.transistors import Mosfet
from .composing import Design, composed, tried, worked
from .sweep import Choice

NEEDED = ("upper", "relay", "diode")
"""Filled where the circuit has them, also when they are empty."""
CHOSEN = ("guard", "fuse")
"""Exchanged where one stands: whether there is one is the builder's own choice."""
ORDER = (*NEEDED, *CHOSEN)
CLASSES: dict[str, type[Component]] = {"upper": Mosfet, "relay": Relay, "diode": Diode, "guard": Mosfet, "fuse": Fuse}


def exchanged(stage: StageSpec, shelf: Sequence[Component], locks: Sequence[str]) -> dict[str, list[Component]]:
    """What may stand in each slot of a stage that no array stands for: the part that does first, then the shelf's."""
    found: dict[str, list[Component]] = {}
    for slot in (s for s in ORDER if s in slots(stage) and s not in locks):
        now = getattr(stage, slot)
        if now is None and slot in CHOSEN:
            continue
        able = [c for c in shelf if isinstance(c, CLASSES[slot]) and _suits(slot, c, now)]
        own = [now] if now is not None else []
        found[slot] = own + [c for c in able if now is None or c.id != now.id]
    return found


def _suits(slot: str, part: Component, now: Component | None) -> bool:
    """A guard keeps its channel: the other one sits in the other lead. Above, a P channel."""
    if slot == "upper":
        return isinstance(part, Mosfet) and part.channel == "P"
    if slot == "guard":
        return isinstance(part, Mosfet) and isinstance(now, Mosfet) and part.channel == now.channel
    return True


def with_part(at: DriveContext, slot: str, part: Component) -> DriveContext:
    """The drive's context with another part in one slot of its stage."""
    stage = at.unit.stage.model_copy(update={slot: part})
    return replace(at, unit=at.unit.model_copy(update={"stage": stage}))


def settled(at: DriveContext, able: dict[str, list[Component]], reference: Choice) -> DriveContext:
    """The drive with whichever part stops and warns least in each slot, under one combination that stands for all."""
    for slot, parts in able.items():
        if len(parts) > 1 or getattr(at.unit.stage, slot) is None:
            at = with_part(at, slot, min(parts, key=lambda part: _stops(with_part(at, slot, part), reference)))
    return at


def _stops(at: DriveContext, reference: Choice) -> tuple[int, int, float]:
    go_on()
    built, found = tried(composed(at, reference))
    price = built.part.price.value
    stops, warnings = (sum(1 for x in found if x.severity == severity) for severity in ("stop", "warn"))
    return stops, warnings, float("inf") if price is None else price


def refined(
    at: DriveContext, able: dict[str, list[Component]], design: Design, key: Callable[[Design], Any]
) -> tuple[Design, int]:
    """A design with each slot's best part by ``key`` (smaller is better), and how many were looked at for it."""
    looked_at = 0
    for slot in able:
        for other in _others(at, able, slot, design):
            go_on()
            looked_at += 1
            made, _ = worked(with_part(at, slot, other), design.choice, design.label)
            if made is not None and made.warned <= design.warned and key(made) < key(design):
                design = made
        now = getattr(design.stage, slot)
        at = with_part(at, slot, now) if now is not None else at
    return design, looked_at


def _others(at: DriveContext, able: dict[str, list[Component]], slot: str, design: Design) -> Iterator[Component]:
    now = getattr(design.stage, slot)
    return (part for part in able[slot] if now is None or part.id != now.id)
