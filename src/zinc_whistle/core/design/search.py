"""Design for me: the best few complete stages that the shelf can make, found by the stage's own rules on arrays.

Every combination of transistor, number in parallel, gate driver, gate resistor, frequency and heat sink is held
against the limits at once; the other slots are chosen one after the other, before and after. What looks best, and what
cannot be beaten in price, heat and margin together, is then worked out in full: nothing with a stop is shown.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from functools import partial
from typing import TypeVar

import numpy as np

from ..algebra.giving_up import go_on, within
from ..algebra.quantities import phrase
from ..cases.operating import DriveContext
from ..cases.stage_parts import fits
from ..model.component import Component
from ..model.components import HeatSink
from ..model.stage import SLOTS, slots, switch_kind
from ..model.transistors import GateDriver, Mosfet
from .composing import Design, worked
from .exchange import NEEDED, ORDER, exchanged, refined, settled
from .sweep import Choice, Slab, Space, sweep
from .tradeoff import front, spread
from .wishes import YOURS, Wishes

PARALLEL = tuple(range(1, 9))
RESISTORS = (2.2, 4.7, 10.0, 22.0, 47.0)
FREQUENCIES = (
    500.0,
    1e3,
    2e3,
    4e3,
    8e3,
    12e3,
    16.5e3,
    18e3,
    20e3,
    22e3,
    25e3,
    28e3,
    32e3,
    36e3,
    40e3,
    50e3,
    60e3,
    75e3,
    90e3,
    100e3,
)
QUIET = 16e3
LOCKS = ("switch", "parallel", "gate_driver", "gate_resistor", "frequency", "heat_sink", *ORDER)
TRIES = 40
BETWEEN = 12
"""So many designs are shown between those that are best at one thing."""
ROOMY_S, ROOMY_F = 2e-6, 1e-6
"""Dead time and bootstrap capacitor with which neither stands in the way while other slots are looked at."""
NOTHING_WISHED = Wishes()
C = TypeVar("C", bound=Component)


@dataclass(frozen=True, slots=True)
class DesignsFound:
    """The designs, how many combinations were looked at and hold, and why not where none does."""

    designs: tuple[Design, ...]
    looked_at: int
    hold: int
    reason: str = ""


def space_of(
    at: DriveContext,
    shelf: Sequence[Component],
    locks: Sequence[str] = (),
    quiet: bool = True,
    wishes: Wishes = NOTHING_WISHED,
) -> Space:
    """What may be combined for a unit's stage: the shelf's parts of the right class, or what is locked."""
    stage = at.unit.stage
    kind = switch_kind(stage.circuit)

    def of(model: type[C]) -> list[C]:
        return [c for c in shelf if isinstance(c, model)]

    switches: list[Component] = [
        c for c in shelf if getattr(c, "kind", "") == kind and (not isinstance(c, Mosfet) or c.channel == "N")
    ]
    if "switch" in locks and fits(stage):
        switches = [stage.switch]  # type: ignore[list-item]
    mosfets = kind == "mosfet"
    drivers: list[GateDriver | None] = [None]
    if mosfets and stage.driven_by == "driver":
        high = stage.circuit in ("half bridge", "full bridge", "high side")
        drivers = [d for d in of(GateDriver) if not high or d.sides != "low"]
    if "gate_driver" in locks:
        drivers = [stage.gate_driver]
    resistor = stage.gate_resistor.value
    parallel = (int(stage.parallel.value or 1),) if "parallel" in locks else PARALLEL if mosfets else (1,)
    chosen = at.drive.signals.told_by == "pulses"
    wanted = at.drive.signals.pwm_frequency.value if chosen else at.plan.frequency.value
    sinks = (stage.heat_sink,) if "heat_sink" in locks else (None, *of(HeatSink))
    frequencies = tuple(f for f in FREQUENCIES if not quiet or f > QUIET)
    if ("frequency" in locks or not chosen) and wanted is not None:
        frequencies = (wanted,)
    return Space(
        switches=tuple(switches),
        parallel=tuple(n for n in parallel if wishes.parallel is None or n <= wishes.parallel),
        drivers=tuple(drivers),
        resistors=(resistor or 0.0,) if "gate_resistor" in locks or not mosfets else RESISTORS,
        sinks=tuple(s for s in sinks if wishes.fits(s)),
        frequencies=tuple(f for f in frequencies if wishes.takes(f)),
    )


def design(
    at: DriveContext,
    shelf: Sequence[Component],
    locks: Sequence[str] = (),
    quiet: bool = True,
    wishes: Wishes = NOTHING_WISHED,
) -> DesignsFound:
    """Stages for a drive: cheapest, coolest, most margin, the best of all three together, and what lies between them.

    ``locks`` names what stays as it is in the unit's stage; ``quiet`` leaves out frequencies that people hear;
    ``wishes`` are limits of the builder's own.
    """
    space = space_of(at, shelf, locks, quiet, wishes)
    able = exchanged(at.unit.stage, shelf, locks)
    reason = _lacking(at, space, able)
    if reason:
        return DesignsFound((), 0, 0, reason)
    with within(0.0, 0.1):
        at = settled(at, able, middle(space))
    mosfets = switch_kind(at.unit.stage.circuit) == "mosfet"
    with within(0.1, 0.7):
        pool = _Swept(at, space, wishes) if mosfets else _Listed(at, space, wishes)
    made = _by_goal(at, able, pool, wishes)
    if not made:
        return DesignsFound((), pool.looked_at, 0, pool.reason())
    for number, other in enumerate(pool.between()):
        go_on(0.85 + 0.15 * number / BETWEEN)
        made.setdefault(_same(other), other)
    return DesignsFound(_unbeaten(list(made.values())), pool.looked_at, pool.hold)


def _lacking(at: DriveContext, space: Space, able: dict[str, list[Component]]) -> str:
    """What must be known or on the shelf before anything can be searched, in words; nothing where all is there."""
    if not space.switches or not space.drivers:
        return "The shelf has no part of the class that this circuit needs."
    for slot in NEEDED:
        if slot in slots(at.unit.stage) and slot not in able and getattr(at.unit.stage, slot) is None:
            return f"Choose this first, it stays as you choose it: {SLOTS[slot][0].lower()}."
    for slot, parts in able.items():
        if not parts:
            return f"The shelf has no part for this place: {SLOTS[slot][0].lower()}."
    if not space.frequencies:
        return "No PWM frequency lies within what you wish."
    if not space.sinks:
        return "The heat sink that stays is higher than you wish, or its height is not told."
    if not space.parallel:
        return "More transistors in parallel stay than you wish."
    if at.rms_current.value is None or at.plan.frequency.value is None:
        return "The motor's current and a timer must be known first."
    return ""


def middle(space: Space) -> Choice:
    """The combination in the middle of a space, that stands for all of them while the other slots are chosen."""
    return Choice(
        switch=space.switches[len(space.switches) // 2],
        parallel=space.parallel[len(space.parallel) // 2],
        driver=space.drivers[len(space.drivers) // 2],
        resistor=space.resistors[len(space.resistors) // 2],
        sink=space.sinks[-1],
        frequency=space.frequencies[0],
        dead_time_s=ROOMY_S,
        boot_f=ROOMY_F,
    )


def _by_goal(
    at: DriveContext, able: dict[str, list[Component]], pool: _Pool, wishes: Wishes
) -> dict[tuple[object, ...], Design]:
    """The best design of each goal, its slots chosen for that goal; goals that meet share one."""
    found: dict[tuple[object, ...], Design] = {}
    for number, (label, key) in enumerate(GOALS):
        go_on(0.7 + 0.15 * number / len(GOALS))
        made = pool.best(label, key)
        if made is None:
            continue
        made, looked_at = refined(at, able, made, partial(_meets, wishes, BETTER[label]))
        pool.looked_at += looked_at
        before = found.get(_same(made))
        found[_same(made)] = made if before is None else replace(before, label=f"{before.label}, {label}")
    return found


def _meets(wishes: Wishes, key: Callable[[Design], tuple[float, ...]], design: Design) -> tuple[float, ...]:
    refused = bool(wishes.refuses(design.price, design.junction_c))
    return (float(refused), *key(design))


def _unbeaten(designs: list[Design]) -> tuple[Design, ...]:
    """The designs that stand in the trade-off or have a goal to their name, by price."""
    places = {int(i) for i in front([[_euros(d) for d in designs], *_heat_and_use(designs)])}
    kept = [d for i, d in enumerate(designs) if d.label or i in places]
    return tuple(sorted(kept, key=_euros))


def _heat_and_use(designs: list[Design]) -> tuple[list[float], list[float]]:
    return [d.heat_w for d in designs], [d.utilisation for d in designs]


def _euros(design: Design) -> float:
    return math.inf if design.price is None else design.price


BETTER: dict[str, Callable[[Design], tuple[float, ...]]] = {
    "cheapest": lambda d: (_euros(d), d.heat_w),
    "coolest": lambda d: (d.heat_w, _euros(d)),
    "most margin": lambda d: (round(d.utilisation, 3), _euros(d), d.heat_w),
    "best of all three": lambda d: (
        max(_euros(d), 0.01) * max(d.heat_w, 0.001) * max(d.utilisation, 0.01),
        _euros(d),
    ),
}
"""What a goal asks of two designs that differ in one slot: the smaller is better."""


Key = Callable[[np.ndarray, np.ndarray, np.ndarray], tuple[np.ndarray, ...]]
"""Scores (price, heat, use) to sort keys, the weightiest last, as ``numpy.lexsort`` wants them."""


def _balance(price: np.ndarray, heat: np.ndarray, utilisation: np.ndarray) -> tuple[np.ndarray, ...]:
    product = np.maximum(price, 0.01) * np.maximum(heat, 0.001) * np.maximum(utilisation, 0.01)
    return price, product, utilisation > 1


GOALS: tuple[tuple[str, Key], ...] = (
    ("cheapest", lambda price, heat, utilisation: (heat, price, utilisation > 1)),
    ("coolest", lambda price, heat, utilisation: (price, heat, utilisation > 1)),
    ("most margin", lambda price, heat, utilisation: (heat, price, np.round(utilisation, 3))),
    ("best of all three", _balance),
)
"""What is beyond a limit that only warns comes after all that is not."""


def _same(design: Design) -> tuple[object, ...]:
    s = design.stage
    parts = (getattr(x, "id", None) for x in (s.switch, s.gate_driver, s.heat_sink))
    return (*parts, s.parallel.text, s.gate_resistor.text, design.frequency_hz)


class _Pool:
    """Where designs come from."""

    def __init__(self, at: DriveContext, space: Space, wishes: Wishes) -> None:
        self.at, self.space, self.wishes = at, space, wishes
        self.looked_at = self.hold = 0
        self.refused: dict[str, int] = {}
        self.stopped: dict[str, int] = {}
        """What stops those that are worked out in full."""
        self.unwished: dict[str, int] = {}
        """How many hold, and only a wish refuses them: by that wish."""

    def best(self, label: str, key: Key) -> Design | None:
        raise NotImplementedError

    def between(self) -> Iterator[Design]:
        """Designs of the trade-off of price, heat and tightest use, spread over it."""
        raise NotImplementedError

    def worked(self, choice: Choice, label: str = "") -> Design | None:
        """A combination in full; None, and counted, where it is stopped or does not meet a wish."""
        made, stops = worked(self.at, choice, label)
        refused = self.wishes.refuses(made.price, made.junction_c) if made is not None else ""
        for stop in stops:
            self.stopped[stop.title] = self.stopped.get(stop.title, 0) + 1
        if refused:
            self.unwished[refused] = self.unwished.get(refused, 0) + 1
        return None if refused else made

    def reason(self) -> str:
        """Why there is nothing: what only a wish refuses, or the limits that refuse most combinations."""
        if self.unwished:
            told = ", ".join(f"{count} are not {wish}" for wish, count in self.unwished.items())
            return f"Some combinations hold, but none keeps to what you wish: {told}."
        most = sorted((self.stopped or self.refused).items(), key=lambda x: -x[1])[:3]
        return (
            "No combination holds. What refuses most: " + ", ".join(name for name, _ in most) + "."
            if most
            else ("No combination holds.")
        )


class _Swept(_Pool):
    """MOSFET stages: all combinations on arrays, the best ones in full."""

    def __init__(self, at: DriveContext, space: Space, wishes: Wishes) -> None:
        super().__init__(at, space, wishes)
        self.slabs: list[Slab] = []
        where: list[np.ndarray] = []
        whole = len(space.drivers) * len(space.resistors) * len(space.sinks)
        for slab in sweep(at, space):
            go_on(len(self.slabs) / whole)
            self.looked_at += slab.ok.size
            self.slabs.append(slab)
            for name, count in slab.refused.items():
                self.refused[name] = self.refused.get(name, 0) + count
            where.append(np.flatnonzero(self._meets(slab)))
        self.slab = np.concatenate([np.full(len(w), i) for i, w in enumerate(where)])
        self.place = np.concatenate(where)
        self.hold = len(self.place)
        self.scores = [
            np.concatenate([getattr(s, name).ravel()[w] for s, w in zip(self.slabs, where, strict=True)])
            for name in ("price", "heat", "utilisation")
        ]
        self.failed: set[int] = set()

    def _meets(self, slab: Slab) -> np.ndarray:
        """Which combinations of a slab hold and are what is wished; those that only a wish refuses are counted."""
        ok = slab.ok
        for most, found, kind in (
            (self.wishes.price, slab.price, "price"),
            (self.wishes.junction, slab.junction, "temperature"),
        ):
            if most is None:
                continue
            kept = ok & (found <= most * (1 + 1e-12))
            if lost := int(ok.sum() - kept.sum()):
                name = YOURS[kind].format(phrase(most, kind))
                self.unwished[name] = self.unwished.get(name, 0) + lost
            ok = kept
        return ok

    def _made(self, i: int, label: str = "") -> Design | None:
        made = self.worked(self.slabs[int(self.slab[i])].choice(int(self.place[i])), label)
        if made is None:
            self.failed.add(i)
        return made

    def best(self, label: str, key: Key) -> Design | None:
        for i in (int(i) for i in np.lexsort(key(*self.scores)) if int(i) not in self.failed):
            go_on()
            if len(self.failed) >= TRIES:
                return None
            if (made := self._made(i, label)) is not None:
                return made
        return None

    def between(self) -> Iterator[Design]:
        places = front(self.scores)
        made = (self._made(i) for i in spread(self.scores, places)[: 2 * BETWEEN] if i not in self.failed)
        return itertools.islice((d for d in made if d is not None), BETWEEN)


class _Listed(_Pool):
    """Stages of modules or bipolar transistors: few enough to work out each in full."""

    def __init__(self, at: DriveContext, space: Space, wishes: Wishes) -> None:
        super().__init__(at, space, wishes)
        self.made: list[Design] = []
        for choice in listed(space):
            go_on()
            self.looked_at += 1
            if (made := self.worked(choice)) is not None:
                self.made.append(made)
        self.hold = len(self.made)
        self.scores = [np.array([_euros(d) for d in self.made]), *map(np.array, _heat_and_use(self.made))]

    def best(self, label: str, key: Key) -> Design | None:
        if not self.made:
            return None
        return replace(self.made[int(np.lexsort(key(*self.scores))[0])], label=label)

    def between(self) -> Iterator[Design]:
        places = front(self.scores) if self.made else np.array([], dtype=np.intp)
        return (self.made[i] for i in spread(self.scores, places)[:BETWEEN])


def listed(space: Space) -> Iterator[Choice]:
    """Every combination of a space, one by one; at most six frequencies."""
    step = max(len(space.frequencies) // 6, 1)
    for switch, sink, frequency in itertools.product(space.switches, space.sinks, space.frequencies[::step]):
        yield Choice(
            switch=switch,
            parallel=1,
            driver=None,
            resistor=space.resistors[0],
            sink=sink,
            frequency=frequency,
            dead_time_s=0.0,
            boot_f=0.0,
        )
