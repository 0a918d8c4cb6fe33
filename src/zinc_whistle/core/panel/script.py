"""A sequence as what runs: who takes part, the orders, and the interlocks that guard them. Names and whole numbers
only: check, model and both programs read the same."""

from __future__ import annotations

import itertools
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Literal

from ..model.build import Build
from ..model.sequence import PLAY, Do, Fact, Interlock, Sequence, SequenceStep, Until

PLACES = 1000
"""A servo's place is told in so many parts of its travel, as in the protocol."""
WHO_DOES = {"motor": ("forward", "back", "stop"), "load": ("on", "off"), "servo": ("place",)}


@dataclass(frozen=True, slots=True)
class Actor:
    """A drive that takes part: what it is, and the limits that it has."""

    id: str
    name: str
    kind: Literal["motor", "load", "servo"]
    front: bool = False
    back: bool = False


@dataclass(frozen=True, slots=True)
class Order:
    """What an actor is to do, what is waited for, and for how long (ms; of a servo its transit)."""

    actor: str
    do: Do
    until: Until
    place: int = 0
    ms: int = 0


@dataclass(frozen=True, slots=True)
class Guard:
    """An actor is driven only while a fact of another holds."""

    actor: str
    fact: Fact
    of: str
    place: int = 0
    ms: int = 0
    """How long a servo needs to its place."""

    def says(self, actors: Mapping[str, Actor]) -> str:
        """The interlock in words."""
        other = actors[self.of].name
        held = {
            "at front": f"{other} is at its front limit",
            "at back": f"{other} is at its back limit",
            "at rest": f"{other} is at rest",
            "on": f"{other} is switched on",
            "off": f"{other} is switched off",
            "at place": f"{other} is at {self.place / PLACES * 100:.0f} % of its travel",
        }[self.fact]
        return f"{actors[self.actor].name} runs only while {held}"


@dataclass(frozen=True, slots=True)
class Script:
    """One sequence of a controller."""

    id: str
    name: str
    by_button: bool
    actors: Mapping[str, Actor]
    orders: tuple[Order, ...]
    guards: tuple[Guard, ...]


def ticks_of(ms: int, tick_ms: int) -> int:
    """A wait in ticks of a program, at least one."""
    return max(round(ms / tick_ms), 1)


def play_signal(number: int) -> str:
    """What the wire of a sequence's button is called; sequences of a build count from 1."""
    return f"{PLAY}{number}"


def actors_of(build: Build, controller: str) -> dict[str, Actor]:
    """The drives of a controller that a sequence can order."""
    found = {}
    for drive in build.drives:
        if drive.controller != controller:
            continue
        name = drive.name or drive.id
        if drive.of_servo is not None:
            found[drive.id] = Actor(drive.id, name, "servo")
        elif (driven := drive.driven) is not None and driven.signals.by_program:
            limits = driven.panel.limits
            kind: Literal["motor", "load"] = "motor" if drive.of_motor is not None else "load"
            found[drive.id] = Actor(drive.id, name, kind, front=limits == "both", back=limits != "none")
    return found


def guards_of(build: Build, controller: str, transits: Mapping[str, int]) -> tuple[Guard, ...]:
    """The interlocks between drives of a controller. ValueError with a sentence for one that means nothing."""
    actors = actors_of(build, controller)
    return tuple(_guard(lock, actors, transits, build) for lock in build.interlocks if lock.drive in actors)


def _guard(lock: Interlock, actors: Mapping[str, Actor], transits: Mapping[str, int], build: Build) -> Guard:
    other = actors.get(lock.of)
    if other is None:
        raise ValueError(f"The interlock of {actors[lock.drive].name} names no other drive of its controller.")
    if actors[lock.drive].kind == "servo":
        raise ValueError(f"{actors[lock.drive].name} is a servo: an interlock stops what a driver switches.")
    if lock.of == lock.drive:
        raise ValueError(f"The interlock of {other.name} names itself.")
    fits = {
        "at front": other.front,
        "at back": other.back,
        "at rest": other.kind != "servo",
        "on": other.kind == "load",
        "off": other.kind == "load",
        "at place": other.kind == "servo" and _share(build, lock.of, lock) is not None,
    }[lock.fact]
    if not fits:
        raise ValueError(f"The interlock of {actors[lock.drive].name} asks of {other.name} what it cannot tell.")
    place = _of_places(_share(build, lock.of, lock))
    return Guard(lock.drive, lock.fact, lock.of, place, transits.get(lock.of, 0))


def script_of(build: Build, sequence: Sequence, transits: Mapping[str, int]) -> Script:
    """A sequence made ready; ``transits`` are the servos' times from end to end (ms). ValueError with a sentence for a
    step that its drive cannot do."""
    actors = actors_of(build, sequence.controller)
    title = sequence.name or "The sequence"
    if not sequence.steps:
        raise ValueError(f"{title} has no steps yet.")
    orders = [_order(place, step, actors, transits, build) for place, step in enumerate(sequence.steps, 1)]
    apart = round((sequence.stagger.value or 0.0) * 1000)
    orders = [_apart(order, then, apart) for order, then in itertools.pairwise([*orders, None]) if order is not None]
    for driven in build.driven:
        if driven.id in {o.actor for o in orders} and driven.panel.command == "touch":
            raise ValueError(
                f"{driven.name} starts and stops at a touch: a sequence needs one that runs while ordered."
            )
    return Script(
        id=sequence.id,
        name=title,
        by_button=sequence.started_by == "button",
        actors=actors,
        orders=tuple(orders),
        guards=guards_of(build, sequence.controller, transits),
    )


def _apart(order: Order, then: Order | None, ms: int) -> Order:
    """A servo's order that another servo's follows at once: so much before it."""
    both = order.do == "place" and then is not None and then.do == "place"
    return replace(order, until="time", ms=ms) if ms and both and order.until == "at once" else order


def _share(build: Build, drive: str, asked: SequenceStep | Interlock) -> float | None:
    """Where a servo is sent or must be, as a share of its travel: at a pose, or at a place."""
    if not asked.pose:
        return asked.place.value
    servo = next((d.servo for d in build.servos if d.id == drive), None)
    return servo.place_of(asked.pose) if servo is not None else None


def _of_places(share: float | None) -> int:
    return min(max(round((share or 0.0) * PLACES), 0), PLACES)


def _order(
    number: int, step: SequenceStep, actors: Mapping[str, Actor], transits: Mapping[str, int], build: Build
) -> Order:
    actor = actors.get(step.drive)
    if actor is None:
        raise ValueError(f"Step {number} names no drive of its controller.")
    if step.do not in WHO_DOES[actor.kind]:
        raise ValueError(f"Step {number}: {actor.name} cannot do that.")
    if step.do == "place" and _share(build, step.drive, step) is None:
        raise ValueError(f"Step {number}: give the place of {actor.name}.")
    if step.until == "limit" and step.do not in ("forward", "back"):
        raise ValueError(f"Step {number}: only what drives reaches a limit.")
    if step.until == "there" and step.do != "place":
        raise ValueError(f"Step {number}: only a servo is there.")
    servo = next((d.servo for d in build.servos if d.id == step.drive), None)
    if step.until == "there" and servo is not None and servo.style == "continuous":
        raise ValueError(f"Step {number}: {actor.name} turns on and on: let it turn for a time.")
    if step.until == "there" and not transits.get(step.drive):
        raise ValueError(f"Step {number}: not known yet, how long {actor.name} needs to its place.")
    if step.until == "rest" and step.do != "stop":
        raise ValueError(f"Step {number}: only what is stopped comes to rest.")
    waits = transits.get(step.drive, 0) if step.until == "there" else round((step.time.value or 0.0) * 1000)
    place = _of_places(_share(build, step.drive, step))
    return Order(step.drive, step.do, step.until, place, waits if step.until in ("time", "there") else 0)
