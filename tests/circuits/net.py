"""A small nodal solver, for tests alone: circuits as they are drawn, and nothing of the product's own formulas.

Modified nodal analysis (C. Ho, A. Ruehli, P. Brennan 1975): a row of currents for each node, a row for each source
and inductor; integrated by TR-BDF2 (R. Bank et al. 1985), L-stable, with two short implicit Euler steps after every
switching; Newton's method at each step, exponential diodes limited as in L. Nagel 1975. All from memory.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from functools import partial

import numpy as np
from numpy.typing import NDArray

Grid = NDArray[np.float64]
Drive = Callable[[float], float]
GAMMA = 2 - math.sqrt(2)
THERMAL_V = 0.02585
"""kT/q at 300 K."""
LEAST_S = 1e-12
"""Siemens from each node to ground: a node that hangs in the air has a voltage still."""


def constant(value: float | Drive) -> Drive:
    return value if callable(value) else lambda _: value


@dataclass(slots=True)
class Diode:
    a: int
    k: int
    sat_a: float
    vt: float
    last: float = 0.0

    def stamp(self, net: Net, x: Grid, f: Grid, jacobian: Grid) -> None:
        v = _limited(net.across(x, self.a, self.k), self.last, self.vt, self.sat_a)
        self.last = v
        current, slope = self.sat_a * math.expm1(v / self.vt), self.sat_a / self.vt * math.exp(v / self.vt)
        # Linear about the limited voltage, so that Newton's step is the limited diode's.
        current += slope * (net.across(x, self.a, self.k) - v)
        net.flows(f, jacobian, (self.a, self.k), current, ((self.a, self.k, slope),))


def _limited(v: float, last: float, vt: float, sat_a: float) -> float:
    critical = vt * math.log(vt / (math.sqrt(2) * sat_a))
    if v > critical and abs(v - last) > 2 * vt:
        if last > 0:
            grown = 1 + (v - last) / vt
            return last + vt * math.log(grown) if grown > 0 else critical
        return vt * math.log(max(v / vt, 1.0))
    return v


@dataclass(slots=True)
class Mosfet:
    """A square-law transistor (H. Shichman, D. Hodges 1968); its capacitances and diode are elements of their own."""

    d: int
    g: int
    s: int
    k: float
    threshold_v: float

    def stamp(self, net: Net, x: Grid, f: Grid, jacobian: Grid) -> None:
        d, s = (self.d, self.s) if net.across(x, self.d, self.s) >= 0 else (self.s, self.d)
        over, v = net.across(x, self.g, s) - self.threshold_v, net.across(x, d, s)
        if over <= 0:
            current, gm, gd = 0.0, 0.0, LEAST_S
        elif v < over:
            current, gm, gd = self.k * (over - v / 2) * v, self.k * v, self.k * (over - v)
        else:
            current, gm, gd = self.k / 2 * over**2, self.k * over, LEAST_S
        net.flows(f, jacobian, (d, s), current, ((self.g, s, gm), (d, s, gd)))


@dataclass(slots=True)
class Switch:
    a: int
    b: int
    on_ohm: float
    off_ohm: float
    closed: Callable[[float], bool]

    def siemens(self, t: float) -> float:
        return 1 / (self.on_ohm if self.closed(t) else self.off_ohm)


@dataclass(slots=True)
class Net:
    """A circuit; nodes by name, ``0`` is ground. Units SI."""

    _nodes: dict[str, int] = field(default_factory=lambda: {"0": -1})
    _branches: int = 0
    _linear: list[tuple[str, tuple[int, ...], float]] = field(default_factory=list)
    _sources: list[tuple[str, tuple[int, ...], Drive]] = field(default_factory=list)
    _switches: list[Switch] = field(default_factory=list)
    _bent: list[Diode | Mosfet] = field(default_factory=list)
    _start: dict[int, float] = field(default_factory=dict)
    _first: dict[int, float] = field(default_factory=dict)
    _names: dict[str, int] = field(default_factory=dict)
    events: list[float] = field(default_factory=list)
    watch: Callable[[float, Callable[[str], float]], bool] | None = None
    """Asked after each step with the time and a reader of nodes; true where it switched something."""

    def node(self, name: str) -> int:
        return self._nodes.setdefault(name, len(self._nodes) - 1)

    def resistor(self, a: str, b: str, ohm: float) -> None:
        self._linear.append(("R", (self.node(a), self.node(b)), ohm))

    def capacitor(self, a: str, b: str, farad: float, volts: float | None = None) -> None:
        """``volts`` at the beginning, from a to b, where b is ground or begins at nothing."""
        self._linear.append(("C", (self.node(a), self.node(b)), farad))
        if volts is not None:
            self._start[self.node(a)] = volts

    def inductor(self, a: str, b: str, henry: float, name: str = "", amperes: float = 0.0) -> None:
        place = self._branch(name)
        self._linear.append(("L", (self.node(a), self.node(b), place), henry))
        self._first[place] = amperes

    def source(self, a: str, b: str, volts: float | Drive, name: str = "") -> None:
        self._sources.append(("V", (self.node(a), self.node(b), self._branch(name)), constant(volts)))

    def feed(self, a: str, b: str, amperes: float | Drive) -> None:
        """A current from a through the source to b."""
        self._sources.append(("I", (self.node(a), self.node(b)), constant(amperes)))

    def switch(
        self, a: str, b: str, closed: Callable[[float], bool], on_ohm: float = 1e-3, off_ohm: float = 1e8
    ) -> None:
        self._switches.append(Switch(self.node(a), self.node(b), on_ohm, off_ohm, closed))

    def diode(self, a: str, k: str, sat_a: float = 1e-9, n: float = 1.0) -> None:
        self._bent.append(Diode(self.node(a), self.node(k), sat_a, n * THERMAL_V))

    def knee(self, a: str, k: str, volts: float) -> None:
        """A diode of a fixed drop: a sharp one and a source."""
        middle = f"{a}>{k}{len(self._nodes)}"
        self.diode(a, middle, n=0.05)
        self.source(middle, k, volts)

    def mosfet(self, d: str, g: str, s: str, k: float, threshold_v: float) -> None:
        self._bent.append(Mosfet(self.node(d), self.node(g), self.node(s), k, threshold_v))

    def _branch(self, name: str) -> int:
        self._branches += 1
        if name:
            self._names[name] = self._branches - 1
        return self._branches - 1

    def across(self, x: Grid, a: int, b: int) -> float:
        return float((x[a] if a >= 0 else 0.0) - (x[b] if b >= 0 else 0.0))

    def flows(
        self, f: Grid, jacobian: Grid, ends: tuple[int, int], current: float, slopes: Sequence[tuple[int, int, float]]
    ) -> None:
        """A current from one node to another, and how it grows with voltages between nodes."""
        for node, sign in zip(ends, (1.0, -1.0), strict=True):
            if node < 0:
                continue
            f[node] += sign * current
            for plus, minus, slope in slopes:
                if plus >= 0:
                    jacobian[node, plus] += sign * slope
                if minus >= 0:
                    jacobian[node, minus] -= sign * slope

    def run(self, until: float, step: float, start: float = 0.0) -> Trace:
        """Integrate with steps of ``step``, each switching met exactly."""
        return _Run(self, step).go(start, until)


@dataclass(slots=True)
class Trace:
    """What was found: times, and voltages and currents by name."""

    t: Grid
    x: Grid
    net: Net

    def v(self, a: str, b: str = "0") -> Grid:
        one, other = self.net._nodes[a], self.net._nodes[b]
        zero = np.zeros(len(self.t))
        return (self.x[:, one] if one >= 0 else zero) - (self.x[:, other] if other >= 0 else zero)

    def i(self, name: str) -> Grid:
        return self.x[:, len(self.net._nodes) - 1 + self.net._names[name]]

    def mean(self, y: Grid, after: float = 0.0) -> float:
        """Time-weighted mean from ``after`` to the end."""
        m = self.t >= after
        return float(np.trapezoid(y[m], self.t[m]) / (self.t[m][-1] - self.t[m][0]))

    def rms(self, y: Grid, after: float = 0.0) -> float:
        return math.sqrt(self.mean(y**2, after))

    def energy(self, watts: Grid) -> float:
        return float(np.trapezoid(watts, self.t))

    def first(self, y: Grid, level: float, after: float = 0.0) -> float:
        """When y first passes a level after a time, between two samples."""
        m = np.flatnonzero(self.t >= after)
        side = np.sign(y[m] - level)
        place = m[int(np.flatnonzero(side[1:] != side[:-1])[0])]
        share = (level - y[place]) / (y[place + 1] - y[place])
        return float(self.t[place] + share * (self.t[place + 1] - self.t[place]))


class _Run:
    def __init__(self, net: Net, step: float) -> None:
        self.net, self.step = net, step
        self.nodes = len(net._nodes) - 1
        self.size = self.nodes + net._branches
        self.c, self.g = np.zeros((self.size, self.size)), np.zeros((self.size, self.size))
        for node in range(self.nodes):
            self.g[node, node] = LEAST_S
        for kind, places, value in net._linear:
            self._stamp(kind, places, value)
        for kind, places, _ in net._sources:
            if kind == "V":
                self._across(*places)

    def _stamp(self, kind: str, places: tuple[int, ...], value: float) -> None:
        if kind == "L":
            self._across(*places)
            self.c[self.nodes + places[2], self.nodes + places[2]] = -value
        else:
            self._between(self.c if kind == "C" else self.g, places, value if kind == "C" else 1 / value)

    def _between(self, into: Grid, ends: tuple[int, ...], value: float) -> None:
        for p in ends:
            for q in ends:
                if p >= 0 and q >= 0:
                    into[p, q] += value if p == q else -value

    def _across(self, a: int, b: int, branch: int) -> None:
        row = self.nodes + branch
        for node, sign in ((a, 1.0), (b, -1.0)):
            if node >= 0:
                self.g[node, row] += sign
                self.g[row, node] += sign

    def go(self, start: float, until: float) -> Trace:
        x, q = np.zeros(self.size), np.zeros(self.size)
        for node, volts in self.net._start.items():
            x[node] = volts
        for branch, amperes in self.net._first.items():
            x[self.nodes + branch] = amperes
        t, times, states, anew = start, [start], [x.copy()], 2
        stops = iter(sorted(e for e in self.net.events if start < e < until))
        stop = next(stops, until)
        while t < until - 1e-15 * max(1.0, until):
            h = self.step / 50 if anew else self.step
            if t + 1.0001 * h >= stop:
                h = stop - t
            x, q = self._euler(t, h, x) if anew else self._tr_bdf2(t, h, x, q)
            anew, t = max(anew - 1, 0), t + h
            if t >= stop - 1e-18:
                t, anew = stop, 2
                stop = next(stops, until)
            if self.net.watch is not None and self.net.watch(t, partial(self._read, x)):
                anew = 2
            times.append(t)
            states.append(x.copy())
        return Trace(np.array(times), np.array(states), self.net)

    def _read(self, x: Grid, node: str) -> float:
        return float(x[self.net._nodes[node]])

    def _euler(self, t: float, h: float, x: Grid) -> tuple[Grid, Grid]:
        found = self._newton(t + h, x, self.c / h, -self.c @ x / h, t + h / 2)
        return found, self.c @ (found - x) / h

    def _tr_bdf2(self, t: float, h: float, x: Grid, q: Grid) -> tuple[Grid, Grid]:
        inner, during = 2 / (GAMMA * h), t + h / 2
        middle = self._newton(t + GAMMA * h, x, self.c * inner, -self.c @ x * inner - q, during)
        scale = (2 - GAMMA) / ((1 - GAMMA) * h)
        rest = self.c @ (-middle / (GAMMA * (2 - GAMMA)) + x * (1 - GAMMA) ** 2 / (GAMMA * (2 - GAMMA))) * scale
        found = self._newton(t + h, middle, self.c * scale, rest, during)
        return found, self.c @ found * scale + rest

    def _newton(self, t: float, x: Grid, slope: Grid, rest: Grid, during: float) -> Grid:
        """Solves ``slope x + rest + what flows at t = 0``; switches stand as they do within the step."""
        fixed, bias = slope + self.g, rest.copy()
        for switch in self.net._switches:
            self._between(fixed, (switch.a, switch.b), switch.siemens(during))
        for kind, places, value in self.net._sources:
            if kind == "V":
                bias[self.nodes + places[2]] -= value(t)
            else:
                for node, sign in zip(places, (1.0, -1.0), strict=True):
                    if node >= 0:
                        bias[node] += sign * value(t)
        if not self.net._bent:
            return np.asarray(np.linalg.solve(fixed, -bias), dtype=float)
        at = x.copy()
        for turn in range(300):
            f, jacobian = fixed @ at + bias, fixed.copy()
            for element in self.net._bent:
                element.stamp(self.net, at, f, jacobian)
            change = np.linalg.solve(jacobian, -f)
            # A diode that turns off may leap to and fro between two states; half the way ends that.
            at = at + change * (1.0 if turn < 60 else 0.4)
            if np.max(np.abs(change) / (1e-7 + 1e-7 * np.abs(at))) < 1:
                return at
        raise ArithmeticError(f"no solution at {t} s")
