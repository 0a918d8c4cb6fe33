"""A bench with something wrong behind it: the circuit is drawn with its fault in it and solved by the tests' own nodal
solver; every tolerance and every severity is drawn here. Nothing of the finder's own reckoning is used.

The motor stands as its electrical likeness: its speed is a voltage (k·ω), friction a current that flows only while it
turns, inertia a capacitor (common practice; A. E. Fitzgerald, C. Kingsley, Electric Machinery, from memory).
"""

from __future__ import annotations

import math
from functools import cached_property

import numpy as np

from tests.circuits.net import Net
from zinc_whistle.core.cases.operating import Context
from zinc_whistle.core.stations.bench.step import Step

OVER = 1e6
SHORTING = ("diode_back", "diode_shorted")
SAME_CIRCUIT = {"link": "dead"}
"""Faults that are another one's circuit to every test: a driver that is not enabled gives nothing."""


class HiddenBench:
    """One drive with one fault, its severity by chance."""

    def __init__(self, at: Context, steps: tuple[Step, ...], fault: str, seed: int) -> None:
        self.at, self.fault = at, SAME_CIRCUIT.get(fault, fault)
        self.steps = {s.id: s for s in steps}
        chance = self.chance = np.random.default_rng(seed)

        def about(value: float | None, share: float) -> float:
            return (value or 0.0) * (1 + share * float(chance.uniform(-1, 1)))

        self.level = float(chance.uniform())
        """How bad it is: 0 mild, 1 bad."""
        full, flat = at.volts.full.value or 0.0, at.volts.flat.value or 0.0
        self.emf = float(chance.uniform(flat, full))
        self.near = about(at.volts.nominal.value, 0.02)
        """What a builder brings the source to where a step asks for it."""
        self.source = about((at.volts.resistance.value or 0) + (at.supply_wire.resistance.value or 0), 0.2)
        self.source = max(self.source, 1e-3)
        self.on = max(about(at.part.on_resistance.value, 0.15) if at.part else 0.0, 2e-3)
        self.drop = (at.part.drop_v.value or 0.0) if at.part else 0.0
        self.lead = max(about(at.motor_wire.resistance.value, 0.1), 1e-3)
        self.winding = about(at.motor.resistance_25.value, 0.06)
        self.brush = at.motor.brush_drop.value or 0.0
        self.k = about(at.motor.motor_constant.value, 0.03)
        self.friction = about(at.motor.friction_a.value, 0.12)
        self.load = max(about(at.load.working_current.value, 0.12) - self.friction, 0.0)
        self.viscous = at.motor.viscous.value or 0.0
        self.works_a = at.load.working_current.value or 0.0
        self.limit = math.inf
        self.board_ohm = float(np.exp(chance.uniform(np.log(1e3), np.log(4e4))))
        self.side = bool(chance.integers(2))
        self._break()

    def between(self, low: float, high: float) -> float:
        """A severity: from mild to bad in equal steps of the logarithm."""
        return float(np.exp(np.log(low) + self.level * (np.log(high) - np.log(low))))

    def _break(self) -> None:
        """What the fault does to the parts; what opens or shorts is drawn in the circuit."""
        f = self.fault
        if f == "joint":
            self.lead += (self.lead + self.winding) * self.between(0.5, 5)
        elif f == "feed":
            self.source += self.emf / self.works_a * self.between(0.12, 0.5)
        elif f == "cell":
            left = 1 - 1 / float(self.at.source.cells.value or round((self.at.volts.full.value or 0) / 3.2))
            self.emf, self.near = self.emf * left, self.near * left
        elif f == "limit":
            self.limit = self.works_a * self.between(0.25, 0.85)
        elif f == "gate":
            self.on *= self.between(5, 30)
        elif f == "brushes":
            self.winding *= self.between(1.8, 7)
        elif f == "turns":
            left = 0.83 - 0.25 * self.level
            self.winding, self.k, self.friction = self.winding * left, self.k * left, self.friction * (1.5 + self.level)
        elif f == "magnets":
            self.k *= 0.83 - 0.2 * self.level
            self.friction *= (self.at.motor.motor_constant.value or 1) / self.k
            self.load *= (self.at.motor.motor_constant.value or 1) / self.k
        elif f == "bearing":
            self.friction *= self.between(1.8, 4.5)
        elif f == "binds":
            self.load *= self.between(1.6, 3.5)
        elif f == "slips":
            self.load = 0.0

    def _open(self, what: str) -> bool:
        return self.fault == what

    def _told(self, ordered: bool) -> bool:
        """Whether the driver is told forward."""
        if self.fault in ("ground", "line", "dead", "boot", "boot_pin"):
            return False
        if self.fault == "mixed":
            return ordered and self.side
        return ordered

    def solve(self, load_a: float, ordered: bool = True) -> dict[str, float]:
        """The circuit at rest with itself: amperes and volts, and the speed's voltage."""
        net = Net()
        on, told = self.on / 2, self._told(ordered)
        net.source("pack", "0", self.emf)
        net.switch("pack", "behind", lambda t: not self._open("fuse") and not self._blown)
        net.resistor("behind", "bus", self.source)
        net.resistor("bus", "0", self._short_ohm if self.fault == "short" else self.board_ohm)
        upper = (told and not (self.fault == "leg" and self.side)) or self.fault == "stuck"
        floats = self.fault == "floating" and self.side
        net.switch("bus", "out1", lambda t: upper or floats, on_ohm=on)
        net.switch("out1", "0", lambda t: not (upper or floats), on_ohm=on)
        net.switch("out2", "0", lambda t: True, on_ohm=on)
        if self.fault in SHORTING and told:
            net.diode("out1", "out2", sat_a=1e-6)
        if self.drop:
            net.knee("out1", "lead", self.drop)
        else:
            net.resistor("out1", "lead", 1e-4)
        net.switch("lead", "joint", lambda t: not self._open("open_lead"))
        net.resistor("joint", "m1", self.lead)
        net.resistor("m1", "m2", self.winding)
        if self.brush:
            net.knee("m2", "turn", self.brush)
        else:
            net.resistor("m2", "turn", 1e-4)
        net.inductor("turn", "turns", 1e-9, "motor")
        if self.fault == "held":
            net.resistor("turns", "out2", 1e-5)
        else:
            net.feed("turns", "out2", self.friction + load_a)
            net.diode("out2", "turns", sat_a=1e-6, n=0.2)
            if self.viscous:
                net.resistor("turns", "out2", self.k**2 / self.viscous)
            net.capacitor("turns", "out2", 1e-3)
        whole = self.source + self.on + self.lead + self.winding
        found = net.run(15e-3 * whole, 1e-3 * whole)
        return {
            "i": float(found.i("motor")[-1]),
            "bus": float(found.v("bus")[-1]),
            "out": float(found.v("out1", "out2")[-1]),
            "emf": max(float(found.v("turns", "out2")[-1]), 0.0),
        }

    @cached_property
    def _short_ohm(self) -> float:
        return self.between(0.06, 3)

    @property
    def _blown(self) -> bool:
        """A short takes the fuse with it, where there is one that is small enough."""
        fuse = self.at.source.fuse.value or math.inf
        return self.fault == "short" and self.emf / (self._short_ohm + self.source) > 2 * fuse

    def _limited(self, load_a: float) -> dict[str, float]:
        """Behind a supply that gives so many amperes at most: where that does not turn it, it stands at them."""
        found = self.solve(load_a)
        if found["i"] > self.limit:
            return {
                **found,
                "i": self.limit,
                "emf": 0.0,
                "bus": min(self.limit * (self.on + self.lead + self.winding), found["bus"]),
            }
        return found

    @cached_property
    def free(self) -> dict[str, float]:
        return self._limited(0.0)

    @cached_property
    def loaded(self) -> dict[str, float]:
        return self._limited(self.load)

    @cached_property
    def speed(self) -> float:
        """rad/s, nothing on the shaft, signed by the way that it was told."""
        way = -1.0 if self.fault == "swapped" else 1.0
        return way * self.free["emf"] / self.k if self.free["emf"] > 0.02 * self.emf else 0.0

    def seen(self) -> dict[str, bool]:
        """What one sees, hears and smells who tells it to run forward."""
        starts = self.solve(0.0, ordered=False)["emf"] > 0.05 * self.emf
        whole = self.source + self.on + self.lead + self.winding
        usual = (self.at.volts.flat.value or 0) - self.drop - self.brush
        designed = usual / (self.at.motor.motor_constant.value or 1)
        shorts = self.fault == "short" or (self.fault in SHORTING)
        found = {
            "still": self.speed == 0,
            "other_way": self.speed < 0,
            "slow": 0 < self.speed < 0.75 * designed,
            "by_itself": starts,
            "limits": shorts or self.fault == "held" or self.loaded["i"] >= self.limit * 0.99,
            "behind": self.fault == "slips",
        }
        if whole and self.fault in ("leg", "stuck"):
            found["one_way"] = True
        dumb = self.fault == "boot_pin" and self.at.drive.has_encoder
        if dumb or self.fault in ("channel", "channels", "lit", "stray"):
            found["uncounted"] = True
        return found

    def opening(self) -> dict[str, float]:
        """The first step of the sheet that fails, as a builder meets it who works from its top; nothing if all pass."""
        for step in self.steps.values():
            if hasattr(self, f"_{step.id.rstrip('0123456789')}") and step.holds(value := self.read(step)) is False:
                return {step.id: value}
        return {}

    def read(self, step: Step) -> float:
        """What an instrument shows at a step: half a per cent beside, as meters are."""
        name = "_hand" if step.id.startswith("hand") else f"_{step.id}"
        found = getattr(self, name)(step)
        if step.kind in ("number", "count", "frequency"):
            return float(found)
        return float(found * (1 + 0.005 * self.chance.standard_normal()))

    def _about(self, step: Step) -> float:
        """What a drive in order reads here: somewhere inside the step's bounds."""
        low, high = step.low, step.high
        middle = step.expected.value or 0.0
        if low is None or high is None or middle == 0:
            return middle
        return float(middle + 0.5 * min(high - middle, middle - low) * self.chance.uniform(-1, 1))

    def _short(self, step: Step) -> float:
        net = Net()
        net.feed("0", "bus", 1e-4)
        net.resistor("bus", "0", self._short_ohm if self.fault == "short" else self.board_ohm)
        return float(net.run(1e-3, 1e-3).v("bus")[-1]) / 1e-4 + 0.1

    def _winding(self, step: Step) -> float:
        return self.winding + float(self.chance.uniform(0.02, 0.2))

    def _diode(self, step: Step) -> float:
        if self.fault in ("diode_gone", "diode_back"):
            return OVER
        return 0.01 if self.fault == "diode_shorted" else float(self.chance.uniform(0.22, 0.65))

    def _rail(self, step: Step) -> float:
        if self.fault == "fuse" or self._blown:
            return 0.0
        if self.fault == "short":
            return self.emf * self._short_ohm / (self._short_ohm + self.source)
        return self.emf

    def _logic(self, step: Step) -> float:
        return self._about(step) * (self.between(0.15, 0.8) if self.fault == "logic" else 1.0)

    def _idle(self, step: Step) -> float:
        if self.fault == "fuse" or self._blown:
            return 0.0
        if self.fault == "short":
            return self.emf / (self._short_ohm + self.source)
        found = self.solve(0.0, ordered=False)
        return self._about(step) + (found["i"] if found["emf"] > 0.05 * self.emf else 0.0)

    def _gate_supply(self, step: Step) -> float:
        return self._about(step) * (0.3 + 0.4 * (1 - self.level) if self.fault == "gate" else 1.0)

    def _rest(self, step: Step) -> float:
        logic = self.at.controller.logic_v.value or 5.0
        return logic * float(
            self.chance.uniform(0.25, 0.6) if self.fault == "floating" else self.chance.uniform(0, 0.05)
        )

    def _hand(self, step: Step) -> float:
        """Levels put on the driver's own lines: what the controller does is not in it."""
        middle = step.expected.value or 0.0
        first = bool(step.probes) and step.probes[0].pin.startswith(("OUT 1", "K1"))
        broken = self.fault == "dead" or (self.fault == "leg" and self.side == first) or self.fault in SHORTING
        broken = broken or (self.fault == "boot" and self.level > 0.5) or self.fault == "fuse" or self._blown
        if self.fault == "stuck":
            return self.emf if middle == 0 or first else 0.05
        if middle == 0 or broken:
            return float(self.chance.uniform(0, 0.25))
        if self.fault == "short":
            return self.emf * self._short_ohm / (self._short_ohm + self.source)
        # A gate that is half on leaves part of the volts where the meter hangs.
        return (self.emf - self.drop) * (float(self.chance.uniform(0.45, 0.75)) if self.fault == "gate" else 1.0)

    def _dead_time(self, step: Step) -> float:
        return self._about(step)

    def _boot(self, step: Step) -> float:
        low = {"boot": 0.45 * (1 - self.level), "gate": 0.3 + 0.4 * (1 - self.level)}
        return self._about(step) * low.get(self.fault, 1.0)

    def _proving(self, step: Step) -> float:
        return (step.expected.value or 0.0) - (1.0 if self.fault in ("contact", "boot_pin") else 0.0)

    def _pulsing(self) -> bool:
        return self.fault not in ("ground", "line", "mixed", "boot_pin")

    def _frequency(self, step: Step) -> float:
        if not self._pulsing():
            return 0.0
        other = float(self.chance.choice([1 / 64, 1 / 41, 1 / 8, 0.024, 2.0, 3.1])) if self.fault == "timer" else 1.0
        return self._about(step) * other

    def _duty(self, step: Step) -> float:
        if not self._pulsing():
            return 0.0
        return self._about(step) if self.fault != "timer" else float(self.chance.uniform(0.15, 0.9))

    def _lamp(self, step: Step) -> float:
        """A lamp of some ohms across the outputs: as the motor, without its own voltage."""
        if self.fault in SHORTING or self.fault == "fuse" or self._blown:
            return 0.05
        upper = (self._told(True) and not (self.fault == "leg" and self.side)) or self.fault == "stuck"
        if not upper and not (self.fault == "floating" and self.side):
            return 0.05
        volts = self.emf - self.drop
        if self.fault == "short":
            volts *= self._short_ohm / (self._short_ohm + self.source)
        ohms = 30.0 if self.fault == "gate" else self.on + self.source
        lamp = max(volts / max(self.works_a, 0.2), 1.0)
        return min(volts * lamp / (lamp + ohms), self.limit * lamp)

    def _barrier_lit(self, step: Step) -> float:
        logic = self.at.controller.logic_v.value or 5.0
        return self._about(step) + (logic * float(self.chance.uniform(0.4, 0.9)) if self.fault == "lit" else 0.0)

    def _barrier_dark(self, step: Step) -> float:
        logic = self.at.controller.logic_v.value or 5.0
        return self._about(step) - (logic * float(self.chance.uniform(0.4, 0.85)) if self.fault == "stray" else 0.0)

    def _share(self) -> float:
        """Of the counts that there should be."""
        if self.fault in ("channel", "lit", "stray", "boot_pin"):
            return 0.0
        return {"channels": -1.0, "disc": 0.9 - 0.6 * self.level}.get(self.fault, 1.0)

    def _counts(self, step: Step) -> float:
        slid = self.fault == "slips" and self.at.drive.encoder.place == "motor"
        return self._about(step) * self._share() * (0.15 + 0.4 * self.level if slid else 1.0)

    def _direction(self, step: Step) -> float:
        free = (self.emf - self.drop - self.brush) / self.k
        return 0.85 * (step.expected.value or 0.0) * self.speed / free * self._share()

    def _out_and_back(self, step: Step) -> float:
        bad = {
            "lost": 3.0 + 20 * self.level,
            "disc": 15.0,
            "channel": 10.0,
            "lit": 10.0,
            "stray": 10.0,
            "boot_pin": 10.0,
        }
        return (step.high or 1.0) * bad.get(self.fault, 0.3 * float(self.chance.uniform(-1, 1)))

    def _no_load_a(self, step: Step) -> float:
        return self.free["i"]

    def _no_load_speed(self, step: Step) -> float:
        was, self.emf = self.emf, self.near
        found = self._limited(0.0)["emf"] / self.k
        self.emf = was
        return found * (abs(self._share()) if self.at.drive.has_encoder else 1.0)

    def _stall(self, step: Step) -> float:
        if self.fault == "open_lead":
            return 0.0
        return (1.0 - self.brush) / (self.winding + self.lead) if self.brush < 1 else 0.0

    def _loaded(self, step: Step) -> float:
        return self.loaded["i"]

    def _sense(self, step: Step) -> float:
        wrong = {"sense_off": 0.0, "sense_ohm": 0.35 + 0.2 * self.level if self.side else 1.8 + self.level}
        gain = (step.expected.value or 0.0) / self.works_a
        return gain * self.loaded["i"] * wrong.get(self.fault, 1.0)

    def _sag(self, step: Step) -> float:
        designed = ((self.at.volts.flat.value or 0) - (step.expected.value or 0)) / self.source
        if self.fault == "feed":
            source = (self.at.volts.resistance.value or 0) + (self.at.supply_wire.resistance.value or 0)
            designed = ((self.at.volts.flat.value or 0) - (step.expected.value or 0)) / max(source, 1e-3)
        if self.loaded["i"] <= 0:
            return self.free["bus"]
        more = max(self.loaded["i"] / max(self.works_a, 1e-9), 1.0)
        asked = max(designed, self.works_a) * more
        if asked > self.limit:
            return 0.4 * self.emf
        return (self.emf if self.fault not in ("short", "fuse") else self.free["bus"]) - self.source * asked

    def _again(self, step: Step) -> float:
        return self.loaded["bus"]

    def _warm(self, step: Step) -> float:
        """Measured in cooler air than the hottest: less."""
        air = self.at.board_hot.value or 25.0
        rise = max((step.expected.value or 0.0) - air, 0.0)
        worse = (self.loaded["i"] / self.works_a) ** 2
        worse *= self.between(1.8, 3.5) if self.fault in ("heat", "diode_gone") else 1.0
        worse *= self.on / (self.at.part.on_resistance.value or self.on) if self.at.part else 1.0
        return air + rise * min(worse, 8.0) * 0.95
