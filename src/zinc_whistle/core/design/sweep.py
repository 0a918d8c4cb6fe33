"""Every combination of a space at once: the stage's rules on arrays of shape (transistors, numbers, frequencies).

Each limit that would stop a stage is held here as in its checks; what does not depend on the combination is left to
the full working of the best ones.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..algebra.evaluators import plain as k
from ..cases import arrange
from ..cases.arrange import Cooling, Device, Gate, Surround
from ..cases.circuit import solve
from ..cases.materials import drivers_needed, places_of
from ..cases.operating import Context, DriveContext, LoadContext
from ..cases.stage import at_stall, device_of, highest_bus
from ..cases.timer_plan import plan_for
from ..laws import driver as driver_rules
from ..laws import stage as s
from ..laws import supply as supply_rules
from ..laws import switch as r
from ..laws.signals import antiphase_duty
from ..model.components import Component, GateDriver, HeatSink
from ..model.given import Given, bind
from ..model.stage import BRIDGES, DIODE_CIRCUITS
from ..stations.power_stage.limits import RECTIFIER, SCHOOL, SLOW
from .heatmap import bare

Grid = NDArray[np.float64]
Mask = NDArray[np.bool_]
ROOM = 1.5
"""Dead time and bootstrap capacitor are chosen half again as large as needed."""


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


@dataclass(frozen=True, slots=True)
class Slab:
    """One gate driver, resistor and sink: which combinations hold, their price (€), heat (W) and tightest use."""

    space: Space
    driver: GateDriver | None
    resistor: float
    sink: HeatSink | None
    ok: Mask
    price: Grid
    heat: Grid
    use: Grid
    dead_time_s: Grid
    boot_f: Grid
    refused: dict[str, int]

    def choice(self, flat: int) -> Choice:
        """The combination at a place of the flattened arrays."""
        t, n, f = np.unravel_index(flat, self.ok.shape)
        space = self.space
        return Choice(
            space.switches[int(t)],
            space.parallel[int(n)],
            self.driver,
            self.resistor,
            self.sink,
            space.frequencies[int(f)],
            float(self.dead_time_s[t, n, f]),
            float(self.boot_f[t, n, f]),
        )


def sweep(at: DriveContext, space: Space) -> Iterator[Slab]:
    """A slab for each gate driver, resistor and heat sink."""
    held = _Held(at, space)
    for driver in space.drivers:
        for resistor in space.resistors:
            gated = _Gated(held, driver, resistor)
            for sink in space.sinks:
                yield gated.slab(sink)


def _number(node: Any) -> float:
    value = node.value
    return math.nan if value is None else float(value)


class _Held:
    """What is the same for every gate driver, resistor and sink."""

    def __init__(self, at: DriveContext, space: Space) -> None:
        self.at, self.space, self.stage = at, space, at.unit.stage
        self.n = np.array(space.parallel, dtype=float)[None, :, None]
        self.f = np.array([_real_frequency(at, f) for f in space.frequencies])[None, None, :]
        self.shape = (len(space.switches), len(space.parallel), len(space.frequencies))
        self.sigma = k(s.busiest_share, self.n, _number(self.stage.spread))
        self.device = Device(
            *(
                self.column(x)
                for x in ("on_resistance", "hot_factor", "junction_limit", "to_case", "to_air", "output", "diode_v")
            )
        )
        self.upper = bare(device_of(self.stage, self.stage.upper, "upper"))
        self.full, self.flat = _number(at.volts.full), _number(at.volts.flat)
        self.air, self.rms = _number(at.build.ambient.hot), _number(at.rms_current)
        self.bus = _number(highest_bus(at, self.stage))
        self.decay = at.drive.signals.decay
        self.plans = arrange.plans(self.stage.circuit, self.decay)
        self.cold, self.hot = self._way()
        self.duty = self._duty()
        self.open = solve(at, None)
        """The circuit without a driver in the way: its currents are upper bounds."""
        self.bridge = self.stage.circuit in BRIDGES
        self.diode = self.stage.diode if self.stage.circuit in DIODE_CIRCUITS else None

    def column(self, name: str) -> Grid:
        """One figure of every transistor, down the first axis."""
        found = [getattr(p, name, None) for p in self.space.switches]
        return np.array([math.nan if g is None else _number(g) for g in found])[:, None, None]

    def whole(self, x: Any) -> Grid:
        """An array of the full shape."""
        return np.broadcast_to(np.asarray(x, dtype=float), self.shape)

    def _way(self) -> tuple[Any, Any]:
        one = k(s.in_parallel, self.device.on_resistance, self.n)
        factor = self.device.hot_factor
        if self.stage.circuit == "full bridge":
            one = k(s.in_series, one, one)
        elif self.stage.circuit == "p/n bridge":
            one = k(s.in_series, one, k(s.in_parallel, self.upper.on_resistance, self.n))
            factor = k(s.worse_factor, factor, self.upper.hot_factor)
        return one, k(driver_rules.hot_resistance, one, factor)

    def _duty(self) -> Any:
        at = self.at
        if isinstance(at, Context):
            volts = _number(solve(at, None).motor_volts)  # type: ignore[attr-defined]
            working = _number(at.working_current)
            bridge = k(driver_rules.bridge_volts, volts, 0.0, self.hot, _number(at.motor_wire.resistance), working)
            found = k(supply_rules.duty, bridge, self.flat, working, _number(at.feed_resistance))
        else:
            assert isinstance(at, LoadContext)
            found = _number(at.load.duty)
        found = k(s.within_period, found)
        return k(antiphase_duty, found) if self.decay == "locked anti-phase" else found

    def speed_use(self) -> Any:
        """Speed wanted over speed got with the supply flat; nothing for what does not turn."""
        at = self.at
        if not isinstance(at, Context):
            return 0.0
        around = k(
            driver_rules.loop_resistance,
            _number(at.volts.resistance),
            _number(at.supply_wire.resistance),
            self.hot,
            _number(at.motor_wire.resistance),
            _number(at.winding_hot),
        )
        got = k(
            driver_rules.top_speed,
            self.flat,
            0.0,
            _number(at.motor.brush_drop),
            _number(at.working_current),
            around,
            _number(at.motor.motor_constant),
        )
        return np.where(got > 0, _number(at.load.motor_speed) / got, np.inf)


class _Gated:
    """One gate driver with one resistor: times, dead time, and every limit that no heat sink moves."""

    def __init__(self, held: _Held, driver: GateDriver | None, resistor: float) -> None:
        self.held, self.driver, self.resistor = held, driver, resistor
        stage, at = held.stage, held.at
        self.low, self.high = self._gate_volts()
        if driver is not None and stage.driven_by == "driver":
            ohms = (_number(driver.source_ohm), _number(driver.sink_ohm))
            amps = (_number(driver.source_a), _number(driver.sink_a))
        else:
            ohms, amps = (0.0, 0.0), (_number(at.controller.pin_current),) * 2
        shared = np.ones_like(held.n) if stage.gates == "channel" else held.n
        self.gate = Gate(
            held.column("switching_charge"),
            held.column("plateau"),
            held.column("gate_resistance"),
            self.low,
            resistor,
            resistor,
            *ohms,
            *amps,
            shared,
            stage.gates == "tied",
        )
        self.times = arrange.gate_times(k, self.gate)
        mismatch = _number(driver.mismatch) if driver is not None else 0.0
        upper_off = 0.0
        if stage.circuit == "p/n bridge":
            self.upper_times = self._upper_times(shared, ohms, amps)
            upper_off = self.upper_times.off_s
        else:
            self.upper_times = self.times
        self.needed = k(r.dead_time, np.maximum(self.times.off_s, upper_off), mismatch)
        self.dead = np.ceil(self.needed * ROOM * 1e8 - 1e-6) * 1e-8
        self.boot = self._boot()
        self.uses = self._uses()

    def _gate_volts(self) -> tuple[float, float]:
        stage, at, held = self.held.stage, self.held.at, self.held
        if stage.driven_by == "pin":
            pin = _number(at.controller.output_high)
            return pin, pin
        if stage.gate_fed == "bus":
            return held.flat, held.full
        gate = _number(stage.gate_v)
        return float(k(s.gate_supply_left, gate, held.flat, _number(stage.gate_dropout))), gate

    def _upper_times(self, shared: Any, ohms: tuple[float, float], amps: tuple[float, float]) -> Any:
        stage, upper = self.held.stage, self.held.stage.upper
        assert upper is not None
        top = _number(stage.clamp_v) if stage.gate_clamp == "yes" else self.held.full
        gate = Gate(
            _number(upper.switching_charge),
            _number(upper.plateau),
            _number(upper.gate_resistance),
            min(top, self.held.flat),
            self.resistor,
            self.resistor,
            *ohms,
            *amps,
            shared,
            stage.gates == "tied",
        )
        return arrange.gate_times(k, gate)

    def _boosted(self) -> bool:
        stage = self.held.stage
        lifts = self.driver is not None and self.driver.sides != "low"
        return stage.circuit in ("half bridge", "full bridge") or (stage.circuit == "high side" and lifts)

    def _boot(self) -> Any:
        held, driver = self.held, self.driver
        if driver is None or driver.sides != "half bridge" or not self._boosted():
            return np.zeros(held.shape)
        charge = k(
            r.bootstrap_charge,
            k(s.charge_of, held.column("gate_charge"), held.n),
            _number(driver.leak),
            k(s.on_time, held.duty, held.f),
        )
        return k(r.bootstrap_capacitor, charge, _number(held.stage.boot_droop)) * ROOM

    def _uses(self) -> dict[str, tuple[Any, bool]]:
        """Use of each limit that the heat sink does not move, and whether crossing it can break something."""
        held, at, driver = self.held, self.held.at, self.driver
        school = at.build.schools.standoff
        highest = _number(at.build.supply.clamp_v) if school == "clamp" else held.bus
        low = k(s.after_boot_diode, self.low) if self._boosted() else self.low
        uses: dict[str, tuple[Any, bool]] = {
            "Voltage of the switch": (k(s.standoff, float(SCHOOL[school]), highest) / held.column("v_ds"), True),
            "Supply after braking": (held.bus / held.column("v_ds"), True),
            "Gate against its limit": (self.high / held.column("v_gs"), True),
            "Gate fully on, supply flat": (held.column("on_resistance_at") / low, True),
            "Peak current": (self._peak() / k(s.peak_of_packages, held.column("package_a"), held.sigma), True),
            "PWM frequency": (held.f / k(s.fastest, self.times.on_s, self.times.off_s), True),
            "Speed, battery flat": (held.speed_use(), False),
        }
        if held.diode is not None:
            fast = (_number(held.diode.recovery) < RECTIFIER) | (held.f < SLOW)
            uses["The diode is fast enough"] = (np.where(fast, 0.0, np.inf), True)
        if held.bridge:
            lift = k(
                r.miller_lift,
                k(s.gate_way, self.gate.shared, self.gate.sink_ohm, self.gate.off_resistor, self.gate.inside),
                held.column("miller"),
                held.full,
                self.times.on_s,
            )
            uses["Gate lifted by the other switch"] = (lift / held.column("threshold"), True)
        if driver is not None:
            uses |= self._driver_uses(driver)
        return uses

    def _driver_uses(self, driver: GateDriver) -> dict[str, tuple[Any, bool]]:
        held, stage = self.held, self.held.stage
        count = k(s.on_the_sink, held.n, 2.0 if held.bridge else 1.0)
        heat = k(s.driver_heat, k(r.gate_power, held.column("gate_charge"), self.high, held.f), count)
        room = _number(driver.junction_limit) - held.air
        uses: dict[str, tuple[Any, bool]] = {
            "Driver's own supply, highest": (self.high / _number(driver.supply_max), True),
            "Driver's own supply, lowest": (_number(driver.supply_min) / self.low, False),
            "Gate driver, rise to its limit": (heat * _number(driver.to_air) / room, True),
        }
        if self._boosted() and driver.sides != "low":
            bus = k(s.high_side_volts, held.bus, self.high)
            uses["Driver's high side"] = (bus / _number(driver.bus_max), True)
            if driver.sides == "half bridge":
                most = k(r.bootstrap_duty, _number(driver.refresh), held.f)
                uses["Duty against the bootstrap's refill"] = (np.where(most > 0, held.duty / most, np.inf), False)
        elif stage.circuit in ("half bridge", "full bridge", "high side"):
            uses["The driver drives a high side"] = (np.inf, True)
        return uses

    def _peak(self) -> float:
        held = self.held
        limited = held.at.build.schools.sizing == "limited"
        return _number(held.open.planned_peak if limited else held.open.peak)

    def slab(self, sink: HeatSink | None) -> Slab:
        """All combinations with one heat sink, or free in the air."""
        held, stage, at = self.held, self.held.stage, self.held.at
        count = held.n * len(held.plans)
        cooling = Cooling(_number(sink.to_air), _number(stage.pad), count) if sink is not None else Cooling()
        recovery = held.column("recovery")
        if stage.circuit in DIODE_CIRCUITS:
            recovery = (_number(held.diode.recovery) if held.diode is not None else math.nan) / held.n
        around = Surround(held.air, held.full, held.rms, held.f, held.duty, self.dead, recovery)
        allowed: Any = np.inf
        heat: Any = 0.0
        hottest: Any = -np.inf
        for plan in held.plans:
            device, times = (held.upper, self.upper_times) if plan.upper else (held.device, self.times)
            place = arrange.place_heat(
                k, plan, device, times, arrange.thermal_way(k, device, cooling), around, held.sigma
            )
            allowed, heat = np.minimum(allowed, place.allowed), heat + place.heat * held.n
            hottest = np.maximum(hottest, place.junction)
        wanted = _number(held.open.stall_full) if at.build.schools.sizing == "stall" else 1.25 * held.rms
        uses = dict(self.uses)
        with np.errstate(divide="ignore", invalid="ignore"):
            uses["Heat, hottest air"] = (np.where(allowed > 0, wanted / allowed, np.inf), True)
            uses |= self._jam(hottest)
        return self._judged(uses, heat, sink)

    def _jam(self, hottest: Any) -> dict[str, tuple[Any, bool]]:
        held, unit = self.held, self.held.at.unit
        if unit.jam_stop == "none" or unit.jam_time.value is None or not isinstance(held.at, Context):
            return {}
        own = k(s.busiest_current, _number(at_stall(held.at)), held.sigma)
        bears = k(
            s.overload_time,
            held.column("heat_capacity"),
            held.device.limit,
            hottest,
            own,
            held.device.on_resistance,
            held.device.hot_factor,
        )
        return {"Jam: time against the driver's peak": (np.where(bears > 0, unit.jam_time.value / bears, np.inf), True)}

    def _judged(self, uses: dict[str, tuple[Any, bool]], heat: Any, sink: HeatSink | None) -> Slab:
        held = self.held
        ok = np.isfinite(np.broadcast_to(heat, held.shape)).copy()
        refused = {"Heat: it runs away": int((~ok).sum())}
        worst: Any = 0.0
        for name, (use, destructive) in uses.items():
            holds = np.broadcast_to(np.less_equal(use, 1.0), held.shape)
            refused[name] = int((~holds).sum())
            ok &= holds
            if destructive:
                worst = np.maximum(worst, use)
        return Slab(
            held.space,
            self.driver,
            self.resistor,
            sink,
            ok,
            held.whole(self._price(sink)),
            held.whole(heat),
            held.whole(worst),
            held.whole(self.dead),
            held.whole(self.boot),
            {n: c for n, c in refused.items() if c},
        )

    def _price(self, sink: HeatSink | None) -> Any:
        stage, held = self.held.stage, self.held
        counts = places_of(stage.circuit)
        total: Any = held.column("price") * held.n * counts["switch"]
        others: list[tuple[str, Any]] = [("fuse", stage.fuse), ("guard", stage.guard), ("diode", held.diode)]
        if stage.circuit == "relay pair":
            others.append(("relay", stage.relay))
        for slot, part in others:
            if part is not None:
                total = total + _number(part.price) * counts[slot]
        if stage.circuit == "p/n bridge" and stage.upper is not None:
            total = total + _number(stage.upper.price) * held.n * counts["upper"]
        if sink is not None:
            total = total + _number(sink.price)
        if self.driver is not None and stage.driven_by == "driver":
            number = np.array([drivers_needed(stage, self.driver, n) for n in held.space.parallel])[None, :, None]
            total = total + number * _number(self.driver.price)
        return total + (_number(stage.board_price) + _number(stage.delivery)) / (stage.pieces.value or 1.0)


def _real_frequency(at: DriveContext, wanted: float) -> float:
    """What the controller's timer makes of a frequency."""
    signals = at.drive.signals.model_copy(update={"pwm_frequency": Given(text=f"{wanted!r} Hz", origin="chosen")})
    bind(signals, at.drive.signals.path)
    return _number(plan_for(at.controller, signals).frequency)
