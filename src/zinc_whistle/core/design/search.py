"""Design for me: the best few complete stages that the shelf can make, found by the stage's own rules on arrays.

Every combination of transistor, number in parallel, gate driver, gate resistor, frequency and heat sink is held
against the limits at once; what looks best is then worked out as a stage in full, and nothing with a stop is shown.
"""

from __future__ import annotations

import itertools
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from typing import TypeVar

import numpy as np

from ..algebra.findings import TIGHT, Finding
from ..algebra.giving_up import go_on
from ..algebra.limits import Judge
from ..algebra.preferred import at_least
from ..algebra.quantities import notation
from ..cases.operating import DriveContext
from ..cases.stage import evaluate
from ..cases.stage_parts import fits
from ..cases.timer_plan import plan_for
from ..model.component import Component
from ..model.components import HeatSink
from ..model.given import Given, bind
from ..model.stage import BRIDGES, StageSpec, switch_kind
from ..model.transistors import GateDriver, Mosfet
from ..stations.driver.candidates import Candidate, held_against
from ..stations.driver.jam import jam_on_driver
from ..stations.power_stage import compute as surroundings
from ..stations.power_stage import limits as stage_limits
from .sweep import Choice, Slab, Space, sweep

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
LOCKS = ("switch", "parallel", "gate_driver", "gate_resistor", "frequency", "heat_sink")
TRIES = 40
C = TypeVar("C", bound=Component)


@dataclass(frozen=True, slots=True)
class Design:
    """One complete stage: what it is good for, its price (€), heat (W), junction (°C), tightest use, and its tight
    spots."""

    label: str
    stage: StageSpec
    frequency_hz: float
    price: float
    heat_w: float
    junction_c: float
    utilisation: float
    tight: tuple[Finding, ...]


@dataclass(frozen=True, slots=True)
class DesignsFound:
    """The designs, how many combinations were looked at and hold, and why not where none does."""

    designs: tuple[Design, ...]
    looked_at: int
    hold: int
    reason: str = ""


def space_of(at: DriveContext, shelf: Sequence[Component], locks: Sequence[str] = (), quiet: bool = True) -> Space:
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
    chosen = at.drive.signals.told_by == "pulses"
    wanted = at.drive.signals.pwm_frequency.value if chosen else at.plan.frequency.value
    return Space(
        switches=tuple(switches),
        parallel=(int(stage.parallel.value or 1),) if "parallel" in locks else PARALLEL if mosfets else (1,),
        drivers=tuple(drivers),
        resistors=(resistor or 0.0,) if "gate_resistor" in locks or not mosfets else RESISTORS,
        sinks=(stage.heat_sink,) if "heat_sink" in locks else (None, *of(HeatSink)),
        frequencies=(wanted,)
        if ("frequency" in locks or not chosen) and wanted is not None
        else tuple(f for f in FREQUENCIES if not quiet or f > QUIET),
    )


def _texted(value: float, kind: str, unit: str) -> Given:
    return Given(text=notation(value, kind, unit), origin="chosen")


def composed(at: DriveContext, choice: Choice) -> DriveContext:
    """The drive's context with a combination in place of the unit's stage and frequency."""
    stage = at.unit.stage.model_copy(deep=True)
    stage.switch = choice.switch  # type: ignore[assignment]
    stage.gate_driver, stage.heat_sink = choice.driver, choice.sink
    if isinstance(choice.switch, Mosfet):
        stage.parallel = _texted(float(choice.parallel), "number", "1")
        stage.gate_resistor = _texted(choice.resistor, "resistance", "Ω")
        stage.off_resistor = Given(text="")
    if stage.circuit in BRIDGES and isinstance(choice.switch, Mosfet):
        stage.dead_time = _texted(choice.dead_time_s, "time", "ns")
        if choice.boot_f > 0:
            stage.boot_capacitor = _texted(at_least(choice.boot_f, "E6"), "capacitance", "nF")
    stage = StageSpec.model_validate(stage.model_dump())
    bind(stage, at.unit.stage.path)
    unit = at.unit.model_copy(update={"stage": stage, "made_of": "stage"})
    signals = at.drive.signals.model_copy(deep=True)
    signals.pwm_frequency = _texted(choice.frequency, "frequency", "kHz")
    bind(signals, at.drive.signals.path)
    drive = at.drive.model_copy(update={"signals": signals})
    # A timer circuit keeps its own pace, and what is on or off has none.
    plan = plan_for(at.controller, signals) if signals.told_by == "pulses" else at.plan
    return replace(at, unit=unit, drive=drive, plan=plan, part=None)


def tried(at: DriveContext) -> tuple[Candidate, list[Finding]]:
    """A stage worked out in full, with every finding of the stations Driver and Power stage."""
    driving = evaluate(at)
    at = replace(at, part=driving.part)
    built = held_against(at, driving)
    assert built.result is not None
    around = surroundings.compute(at, built.circuit, built)
    more = [*stage_limits.checks(at, built.result), *surroundings.checks(at, built, around), *jam_on_driver(at, built)]
    return built, [*built.checks, *Judge().all(more)]


def design(at: DriveContext, shelf: Sequence[Component], locks: Sequence[str] = (), quiet: bool = True) -> DesignsFound:
    """The best few stages for a drive: cheapest, coolest, most margin, and the best of all three together.

    ``locks`` names what stays as it is in the unit's stage; ``quiet`` leaves out frequencies that people hear.
    """
    space = space_of(at, shelf, locks, quiet)
    if not space.switches or not space.drivers:
        return DesignsFound((), 0, 0, "The shelf has no part of the class that this circuit needs.")
    if at.unit.stage.circuit == "p/n bridge" and at.unit.stage.upper is None:
        return DesignsFound((), 0, 0, "Choose the upper switch first: it stays as you choose it.")
    if at.rms_current.value is None or at.plan.frequency.value is None:
        return DesignsFound((), 0, 0, "The motor's current and a timer must be known first.")
    mosfets = switch_kind(at.unit.stage.circuit) == "mosfet"
    pool = _Swept(at, space) if mosfets else _Listed(at, space)
    designs: dict[tuple[object, ...], Design] = {}
    for label, key in GOALS:
        made = pool.best(label, key)
        if made is not None:
            before = designs.get(_same(made))
            designs[_same(made)] = made if before is None else replace(before, label=f"{before.label}, {label}")
    ordered = tuple(sorted(designs.values(), key=lambda d: d.price))
    if ordered:
        return DesignsFound(ordered, pool.looked_at, pool.hold)
    return DesignsFound((), pool.looked_at, 0, pool.reason())


Key = Callable[[np.ndarray, np.ndarray, np.ndarray], tuple[np.ndarray, ...]]
"""Scores (price, heat, use) to sort keys, the weightiest last, as ``numpy.lexsort`` wants them."""


def _balance(price: np.ndarray, heat: np.ndarray, utilisation: np.ndarray) -> tuple[np.ndarray, ...]:
    return (
        price,
        price / max(price.min(), 0.01) + heat / max(heat.min(), 0.01) + utilisation / max(utilisation.min(), 0.01),
    )


GOALS: tuple[tuple[str, Key], ...] = (
    ("cheapest", lambda price, heat, utilisation: (heat, price)),
    ("coolest", lambda price, heat, utilisation: (price, heat)),
    ("most margin", lambda price, heat, utilisation: (heat, price, np.round(utilisation, 3))),
    ("best of all three", _balance),
)


def _same(design: Design) -> tuple[object, ...]:
    s = design.stage
    parts = (getattr(x, "id", None) for x in (s.switch, s.gate_driver, s.heat_sink))
    return (*parts, s.parallel.text, s.gate_resistor.text, design.frequency_hz)


def worked(at: DriveContext, choice: Choice, label: str = "") -> tuple[Design | None, list[Finding]]:
    """A combination worked out in full: the design, or None and the findings that stop it."""
    made = composed(at, choice)
    built, found = tried(made)
    stops = [x for x in found if x.severity == "stop"]
    if stops or built.heat.junction.value is None or built.heat.total.value is None:
        return None, stops
    destructive = [x for x in found if x.destructive and x.used is not None]
    tight = sorted((x for x in found if x.used is not None and x.used >= TIGHT), key=lambda x: -(x.used or 0.0))
    return Design(
        label=label,
        stage=made.unit.stage,
        frequency_hz=choice.frequency,
        price=built.part.price.value or 0.0,
        heat_w=built.heat.total.value,
        junction_c=built.heat.junction.value,
        utilisation=max((x.used or 0.0 for x in destructive), default=0.0),
        tight=tuple(tight),
    ), []


class _Pool:
    """Where designs come from."""

    def __init__(self, at: DriveContext, space: Space) -> None:
        self.at, self.space = at, space
        self.looked_at = self.hold = 0
        self.refused: dict[str, int] = {}
        self.stopped: dict[str, int] = {}
        """What stops those that are worked out in full."""

    def best(self, label: str, key: Key) -> Design | None:
        raise NotImplementedError

    def reason(self) -> str:
        """Why nothing holds: the limits that refuse most combinations."""
        most = sorted((self.stopped or self.refused).items(), key=lambda x: -x[1])[:3]
        return (
            "No combination holds. What refuses most: " + ", ".join(name for name, _ in most) + "."
            if most
            else ("No combination holds.")
        )


class _Swept(_Pool):
    """MOSFET stages: all combinations on arrays, the best ones in full."""

    def __init__(self, at: DriveContext, space: Space) -> None:
        super().__init__(at, space)
        self.slabs: list[Slab] = []
        whole = len(space.drivers) * len(space.resistors) * len(space.sinks)
        for slab in sweep(at, space):
            go_on(len(self.slabs) / whole)
            self.looked_at += slab.ok.size
            self.hold += int(slab.ok.sum())
            self.slabs.append(slab)
            for name, count in slab.refused.items():
                self.refused[name] = self.refused.get(name, 0) + count
        where = [np.flatnonzero(s.ok) for s in self.slabs]
        self.slab = np.concatenate([np.full(len(w), i) for i, w in enumerate(where)])
        self.place = np.concatenate(where)
        self.scores = [
            np.concatenate([getattr(s, name).ravel()[w] for s, w in zip(self.slabs, where, strict=True)])
            for name in ("price", "heat", "utilisation")
        ]
        self.failed: set[int] = set()

    def best(self, label: str, key: Key) -> Design | None:
        if not len(self.place):
            return None
        order = np.lexsort(key(*self.scores))
        for i in (int(i) for i in order if int(i) not in self.failed):
            go_on()
            if len(self.failed) >= TRIES:
                return None
            made, stops = worked(self.at, self.slabs[int(self.slab[i])].choice(int(self.place[i])), label)
            if made is not None:
                return made
            self.failed.add(i)
            for stop in stops:
                self.stopped[stop.title] = self.stopped.get(stop.title, 0) + 1
        return None


class _Listed(_Pool):
    """Stages of modules or bipolar transistors: few enough to work out each in full."""

    def __init__(self, at: DriveContext, space: Space) -> None:
        super().__init__(at, space)
        self.made: list[Design] = []
        for choice in listed(space):
            go_on()
            self.looked_at += 1
            made, stops = worked(at, choice)
            if made is not None:
                self.made.append(made)
            for stop in stops:
                self.stopped[stop.title] = self.stopped.get(stop.title, 0) + 1
        self.hold = len(self.made)

    def best(self, label: str, key: Key) -> Design | None:
        if not self.made:
            return None
        scores = [np.array([getattr(d, n) for d in self.made]) for n in ("price", "heat_w", "utilisation")]
        return replace(self.made[int(np.lexsort(key(*scores))[0])], label=label)


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
