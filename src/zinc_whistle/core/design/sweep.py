"""Every combination of a space at once, held against the very limits that a stage worked out in full is held against.

One stage stands for all of them: its switch, its number in parallel and its frequency are varied along axes of
their own.
What a stage's checks declare is worked out on arrays of shape (transistors, numbers, frequencies), at the corner
that was
the worst of the stage as it stands; the best combinations are then worked out in full, at every corner.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..algebra.corners import Frame, axes_of
from ..algebra.limits import Check, Claim, Judge, Limit
from ..algebra.nodes import Axis, Constant, Figure, Node, Varied, number
from ..cases.driving import Driving
from ..cases.materials import drivers_needed, places_of
from ..cases.operating import DriveContext
from ..cases.stage import evaluate
from ..cases.stage_parts import dead_time_needed, drain_of, threshold_of
from ..cases.timer_plan import plan_for
from ..laws import stage as stage_laws
from ..model.component import Component
from ..model.components import HeatSink
from ..model.given import Given, bind, computed_given
from ..model.stage import CONTACT_CIRCUITS, DIODE_CIRCUITS
from ..model.transistors import GateDriver, Mosfet
from ..stations.driver.candidates import limits as driver_limits
from ..stations.driver.jam import jam_on_driver
from ..stations.power_stage import compute as surroundings
from ..stations.power_stage import limits as stage_limits

Grid = NDArray[np.float64]
Mask = NDArray[np.bool_]
ROOM = Constant("1.5", 1.5, "ratio", "half again as large as needed: room for what was not counted")
CHOSEN = ("stage.dead_time", "stage.boot")
"""Limits of what is chosen to suit: dead time and bootstrap capacitor."""
IN_FULL = ("stage.linear",)
"""Limits that only some stages have, by how fast they switch: held when a combination is worked out in full."""


@dataclass(frozen=True, slots=True)
class Space:
    """What may be combined: parts and values, each a single one where it is locked."""

    switches: tuple[Component, ...]
    parallel: tuple[int, ...]
    drivers: tuple[GateDriver | None, ...]
    resistors: tuple[float, ...]
    sinks: tuple[HeatSink | None, ...]
    frequencies: tuple[float, ...]


@dataclass(frozen=True, slots=True)
class Choice:
    """One combination, with the dead time and bootstrap capacitor that go with it (s, F)."""

    switch: Component
    parallel: int
    driver: GateDriver | None
    resistor: float
    sink: HeatSink | None
    frequency: float
    dead_time_s: float
    boot_f: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Slab:
    """One gate driver, resistor and sink: which combinations hold, their price (€), heat (W), junction (°C) and
    tightest use."""

    space: Space
    driver: GateDriver | None
    resistor: float
    sink: HeatSink | None
    ok: Mask
    price: Grid
    heat: Grid
    junction: Grid
    utilisation: Grid
    dead_time_s: Grid
    boot_f: Grid
    refused: dict[str, int]

    def choice(self, flat: int) -> Choice:
        """The combination at a place of the flattened arrays."""
        t, n, f = np.unravel_index(flat, self.ok.shape)
        space = self.space
        return Choice(
            switch=space.switches[int(t)],
            parallel=space.parallel[int(n)],
            driver=self.driver,
            resistor=self.resistor,
            sink=self.sink,
            frequency=space.frequencies[int(f)],
            dead_time_s=float(self.dead_time_s[t, n, f]),
            boot_f=float(self.boot_f[t, n, f]),
        )


def sweep(at: DriveContext, space: Space) -> Iterator[Slab]:
    """A slab for each gate driver, resistor and heat sink."""
    grid = _Grid(at, space)
    for driver in space.drivers:
        for resistor in space.resistors:
            for sink in space.sinks:
                yield grid.slab(driver, resistor, sink)


class _Grid:
    """The axes of a space, and the stage that is varied along them."""

    def __init__(self, at: DriveContext, space: Space) -> None:
        self.at, self.space = at, space
        self.switch = Axis("transistor", tuple(c.id for c in space.switches))
        self.parallel = Axis("parallel", tuple(map(str, space.parallel)))
        self.frequency = Axis("frequency", tuple(f"{f:g}" for f in space.frequencies))
        self.axes = (self.switch, self.parallel, self.frequency)
        self.shape = (len(space.switches), len(space.parallel), len(space.frequencies))
        counts = [Constant(str(n), float(n), "number") for n in space.parallel]
        real = [_real_frequency(at, f) for f in space.frequencies]
        self.n = Varied(self.parallel, counts, "In parallel")
        self.f = Varied(self.frequency, [Constant(f"{f:g} Hz", f, "frequency") for f in real], "PWM frequency")
        self.corners: dict[int, dict[str, Mapping[Axis, float]]] = {}
        """Where each limit is worst, by gate driver: resistor and sink hardly move it, and what looks best is held
        at all."""
        self.numbers = np.array(space.parallel, dtype=float)[None, :, None]

    def slab(self, driver: GateDriver | None, resistor: float, sink: HeatSink | None) -> Slab:
        """All combinations with one gate driver, resistor and heat sink."""
        at = self._context(driver, resistor, sink)
        needed = _chosen_dead_time(at)
        # In steps of ten nanoseconds, as it will be typed.
        times = np.max([self._all(needed, c) for c in (*_ends(needed), {})], axis=0)
        times = np.ceil(times * 1e8 - 1e-6) * 1e-8
        if np.isfinite(times).all():  # a gate on a pin has no driver whose mismatch would tell one
            at.unit.stage.dead_time = computed_given(self._gridded(times[:, :, 0]))
        driving = evaluate(at)
        at = replace(at, part=driving.part)
        boot = _chosen_capacitor(at, driving)
        checks = self._checks(at, driving)
        if id(driver) not in self.corners:
            self.corners[id(driver)] = self._corners(checks)
        corners = self.corners[id(driver)]
        ok, worst, refused = self._held(checks, corners)
        heat = self._all(driving.heat.total, {})
        runaway = ~np.isfinite(heat)
        refused["Heat: it runs away"] = int(runaway.sum())
        capacity = np.max([self._all(boot, c) for c in (*_ends(boot), {})], axis=0) if boot is not None else 0.0
        return Slab(
            space=self.space,
            driver=driver,
            resistor=resistor,
            sink=sink,
            ok=ok & ~runaway,
            price=self._whole(self._price(driver, sink)),
            heat=heat,
            junction=self._all(driving.heat.junction, {}),
            utilisation=worst,
            dead_time_s=times,
            boot_f=self._whole(capacity),
            refused={n: c for n, c in refused.items() if c},
        )

    def _context(self, driver: GateDriver | None, resistor: float, sink: HeatSink | None) -> DriveContext:
        """The drive with one stage for all combinations."""
        stage = self.at.unit.stage.model_copy()
        stage.switch = self._together()  # type: ignore[assignment]
        stage.gate_driver, stage.heat_sink = driver, sink
        stage.parallel = computed_given(self.n)
        stage.gate_resistor = computed_given(Constant(f"{resistor:g} Ω", resistor, "resistance"))
        stage.off_resistor = Given(text="")
        unit = self.at.unit.model_copy(update={"stage": stage, "made_of": "stage"})
        plan = replace(self.at.plan, frequency=self.f)  # type: ignore[arg-type]
        return replace(self.at, unit=unit, plan=plan, part=None)

    def _gridded(self, seconds: Grid) -> Varied:
        """A time of its own for every transistor and number."""
        rows = [[Constant(f"{t * 1e9:.0f} ns", float(t), "time") for t in row] for row in seconds]
        return Varied(self.switch, [Varied(self.parallel, row, "Dead time") for row in rows], "Dead time")

    def _together(self) -> Component:
        """One transistor that stands for all of them; a figure that one of them lacks is missing there."""
        switches = self.space.switches
        made = switches[0].model_copy()
        for name, value in made.__dict__.items():
            if isinstance(value, Given):
                made.__dict__[name] = computed_given(Varied(self.switch, [getattr(p, name).leaf for p in switches]))
        if isinstance(made, Mosfet):
            # Told by some, estimated for the others: a figure of each all the same.
            own = [p for p in switches if isinstance(p, Mosfet)]
            made.threshold_max = computed_given(Varied(self.switch, [threshold_of(p) for p in own]))
            made.drain_charge = computed_given(Varied(self.switch, [drain_of(p) for p in own]))
        return made

    def _checks(self, at: DriveContext, driving: Driving) -> list[Check]:
        assert driving.result is not None
        around = surroundings.compute(at, driving.circuit, driving)
        return [
            *driver_limits(at, driving),
            *stage_limits.checks(at, driving.result),
            *surroundings.checks(at, driving, around),
            *jam_on_driver(at, driving),
        ]

    def _corners(self, checks: Sequence[Check]) -> dict[str, Mapping[Axis, float]]:
        """Where each limit is worst for the combination in the middle of the space: the corner that all are held at."""
        middle = {a: float(len(a.ends) // 2) for a in self.axes}
        found: dict[str, Mapping[Axis, float]] = {}
        for check in checks:
            if isinstance(check, Limit) and (axes := axes_of(check.stress, check.bound)):
                corner = Judge().worst_of(check, tuple(a for a in axes if a not in self.axes), middle)
                found[check.code] = {a: p for a, p in corner.items() if a not in self.axes}
        return found

    def _held(
        self, checks: Sequence[Check], corners: Mapping[str, Mapping[Axis, float]]
    ) -> tuple[Mask, Grid, dict[str, int]]:
        """Which combinations hold, their tightest destructive use, and how many each limit refuses."""
        ok, worst = np.ones(self.shape, dtype=bool), np.zeros(self.shape)
        refused: dict[str, int] = {}
        frames: dict[tuple[tuple[Axis, float], ...], Frame] = {}
        for check in checks:
            if check.code in (*CHOSEN, *IN_FULL):
                continue
            # What only warns refuses nothing; but how near it comes is part of how tight a stage is.
            if check.over != "stop" and (isinstance(check, Claim) or not check.destructive):
                continue
            if isinstance(check, Claim):
                holds: Any = check.holds is not False
                utilisation: Any = 0.0
            else:
                corner = corners.get(check.code, {})
                key = tuple(corner.items())
                if key not in frames:
                    frames[key] = self._frame(corner)
                utilisation = check.utilisation_on(frames[key])
                utilisation = np.where(np.less(utilisation, 0), math.inf, utilisation)
                holds = np.less_equal(utilisation, 1.0)
            if check.over == "stop":
                mask = self._whole(holds).astype(bool)
                refused[check.title] = refused.get(check.title, 0) + int((~mask).sum())
                ok &= mask
            if check.destructive:
                worst = np.fmax(worst, self._whole(utilisation))
        return ok, worst, refused

    def _frame(self, corner: Mapping[Axis, float]) -> Frame:
        points: dict[Axis, Sequence[float]] = {a: list(range(len(a.ends))) for a in self.axes}
        return Frame(points | {a: [place] for a, place in corner.items()})

    def _all(self, node: Node, corner: Mapping[Axis, float]) -> Grid:
        with np.errstate(all="ignore"):
            return self._whole(self._frame(corner)(node))

    def _whole(self, x: Any) -> Grid:
        """An array of the full shape, from one that may have a dimension for each of some corners behind it."""
        grid = np.asarray(x, dtype=float)
        return np.broadcast_to(grid.reshape(grid.shape[:3]) if grid.ndim > 3 else grid, self.shape).copy()

    def _price(self, driver: GateDriver | None, sink: HeatSink | None) -> Any:
        stage = self.at.unit.stage
        prices = [c.price.leaf for c in self.space.switches]  # type: ignore[attr-defined]
        each = np.array([number(p) for p in prices])[:, None, None]
        diode = stage.diode if stage.circuit in DIODE_CIRCUITS else None
        counts = places_of(stage.circuit)
        total: Any = each * self.numbers * counts["switch"]
        others: list[tuple[str, Any]] = [("fuse", stage.fuse), ("guard", stage.guard), ("diode", diode)]
        if stage.circuit in CONTACT_CIRCUITS:
            others.append(("relay", stage.relay))
        for slot, part in others:
            if part is not None:
                total = total + number(part.price.leaf) * counts[slot]
        if stage.circuit == "p/n bridge" and stage.upper is not None:
            total = total + number(stage.upper.price.leaf) * self.numbers * counts["upper"]
        if sink is not None:
            total = total + number(sink.price.leaf)
        if driver is not None and stage.driven_by == "driver":
            packages = np.array([drivers_needed(stage, driver, n) for n in self.space.parallel])[None, :, None]
            total = total + packages * number(driver.price.leaf)
        return total + (number(stage.board_price.leaf) + number(stage.delivery.leaf)) / (stage.pieces.value or 1.0)


def _ends(node: Node) -> list[dict[Axis, float]]:
    """Both ends of the supply, where a node goes with it: what is chosen must do at both."""
    supply = next((a for a in node.axes if a.name == "supply"), None)
    return [{supply: float(i)} for i in range(len(supply.ends))] if supply is not None else []


def _chosen_dead_time(at: DriveContext) -> Figure:
    """Half again the dead time that the gates need."""
    needed = dead_time_needed(at, at.unit.stage)
    return stage_laws.with_room(ROOM, needed)


def _chosen_capacitor(at: DriveContext, driving: Driving) -> Figure | None:
    """Half again the bootstrap capacitor that is needed; None where there is none."""
    assert driving.result is not None
    asked = [x for x in stage_limits.checks(at, driving.result) if isinstance(x, Limit)]
    needed = next((x.bound for x in asked if x.code == "stage.boot"), None)
    return stage_laws.with_room_farad(ROOM, needed) if needed is not None else None


def _real_frequency(at: DriveContext, wanted: float) -> float:
    """What the controller's timer makes of a frequency."""
    if at.drive.signals.told_by != "pulses":
        return number(at.plan.frequency)
    signals = at.drive.signals.model_copy(update={"pwm_frequency": Given(text=f"{wanted!r} Hz", origin="chosen")})
    bind(signals, at.drive.signals.path)
    return number(plan_for(at.controller, signals).frequency)
