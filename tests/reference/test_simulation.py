"""The exact simulator against integration at tight tolerance, closed forms, and its own symmetries.

The reference integrates the same drive with DOP853 (Hairer, Nørsett & Wanner, Solving Ordinary Differential
Equations I;
as in scipy), restarted at every edge and event, and keeps its own flags of what conducts and what turns.
"""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Any

import control
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import solve_ivp

from zinc_whistle.core.simulation.cycles import powers
from zinc_whistle.core.simulation.engine import Engine, Phase
from zinc_whistle.core.simulation.plant import BUS, OMEGA, THETA, I, Path, Plant

SMALL = Plant(
    resistance_ohm=2.2,
    inductance_h=2e-3,
    constant=0.02,
    inertia=5e-6,
    coulomb_nm=0.003,
    viscous=1e-6,
    load_nm=0.0,
    stiction_nm=0.005,
    source_v=13.0,
    source_ohm=0.08,
    bus_f=220e-6,
    sinks=True,
)


WHEELS = {"wheel": 1, "wheel back": -1}


class Reference:
    """The drive as an ordinary differential equation with flags, integrated from event to event."""

    def __init__(self, plant: Plant) -> None:
        self.p = plant
        self.y = np.array([0.0, 0.0, 0.0, plant.source_v])
        self.flows, self.motion, self.source, self.clamp = 0, 0, True, False

    def push(self, path: str) -> float:
        volts = {"forward": self.y[3], "back": -self.y[3]}.get(path, 0.0)
        return volts - self.p.constant * self.y[1]

    def begin(self, path: str) -> None:
        """What conducts when a path begins, from the current and the volts that push it."""
        i, push = self.y[0], self.push(path)
        if path in ("forward", "back", "short"):
            held = abs(push) <= self.p.fixed_drop_v and self.p.fixed_drop_v > 0
            self.flows = int(np.sign(i)) or (0 if held else int(np.sign(push)) or 1)
        elif path in WHEELS:
            way = WHEELS[path]
            conducts = way * i > 0 or (i == 0 and way * push > self.p.fixed_drop_v + self.p.diode_v)
            self.flows = way if conducts else 0
        else:
            beyond = abs(push) > self.y[3] + self.p.fixed_drop_v + 2 * self.p.diode_v
            self.flows = int(np.sign(i)) or (int(np.sign(push)) if beyond else 0)

    def rates(self, path: str, y: np.ndarray) -> list[float]:
        p, (i, w, _, v) = self.p, y
        diodes = {"wheel": 1, "wheel back": 1, "off": 2}.get(path, 0)
        swing = {"forward": 1.0, "back": -1.0, "off": -float(self.flows)}.get(path, 0.0)
        drop = self.flows * (p.fixed_drop_v + diodes * p.diode_v)
        di = (swing * v - drop - p.resistance_ohm * i - p.constant * w) / p.inductance_h if self.flows else 0.0
        dw = (
            (p.constant * i - p.load_nm - self.motion * p.coulomb_nm - p.viscous * w) / p.inertia
            if self.motion
            else 0.0
        )
        into = (p.source_v - v) / p.source_ohm if self.source else 0.0
        if self.clamp and p.clamp_v is not None:
            into -= (v - p.clamp_v) / p.clamp_ohm
        return [di, dw, w, (into - (swing * i if self.flows else 0.0)) / p.bus_f]

    def watched(self, path: str) -> list[tuple[str, Any]]:
        p = self.p
        found: list[tuple[str, Any]] = []
        diodes = {"wheel": 1, "wheel back": 1, "off": 2}.get(path, 0)
        drop = p.fixed_drop_v + diodes * p.diode_v
        if self.flows and drop:
            found.append(("end", lambda t, y: self.flows * y[0]))
        if not self.flows:
            swing = {"forward": 1.0, "back": -1.0}.get(path, 0.0)
            if path == "off":
                found.append(("start", lambda t, y: y[3] + drop - abs(p.constant * y[1])))
            elif path in WHEELS:
                found.append(("start", lambda t, y: drop + WHEELS[path] * p.constant * y[1]))
            else:
                found.append(("start", lambda t, y: drop - abs(swing * y[3] - p.constant * y[1])))
        if self.motion:
            found.append(("stop", lambda t, y: self.motion * y[1]))
        else:
            found.append(("break", lambda t, y: p.stiction_nm - abs(p.constant * y[0] - p.load_nm)))
        if not p.sinks:
            found.append(("source", lambda t, y: (1 if self.source else -1) * (p.source_v - y[3]) + 1e-11))
        if p.clamp_v is not None:
            found.append(("clamp", lambda t, y: (-1 if self.clamp else 1) * (p.clamp_v - y[3])))
        return found

    def go(self, path: str, length: float) -> None:
        self.begin(path)
        now = 0.0
        for _ in range(400):
            watched = self.watched(path)
            functions = []
            for _, f in watched:
                g = lambda t, y, f=f: f(t, y)  # noqa: E731
                g.terminal, g.direction = True, -1
                functions.append(g)
            done = solve_ivp(
                lambda t, y: self.rates(path, y),
                (now, length),
                self.y,
                "DOP853",
                events=functions,
                rtol=1e-12,
                atol=1e-15,
                max_step=(length - now) / 12 or np.inf,
            )
            self.y, now = done.y[:, -1].copy(), float(done.t[-1])
            hit = next((k for k, times in enumerate(done.t_events) if len(times)), None)
            if hit is None:
                return
            self.met(watched[hit][0], path)
            if now >= length:
                return
        raise AssertionError("the reference does not get on")

    def met(self, what: str, path: str) -> None:
        p = self.p
        if what == "end":
            self.y[0], self.flows = 0.0, 0
            push, drop = self.push(path), p.fixed_drop_v
            if (path in ("forward", "back", "short") and abs(push) > drop) or (
                path == "off" and abs(push) > self.y[3] + drop + 2 * p.diode_v
            ):
                self.flows = int(np.sign(push))
        elif what == "start":
            self.flows = int(np.sign(self.push(path)))
        elif what == "stop":
            self.y[1] = 0.0
            torque = p.constant * self.y[0] - p.load_nm
            self.motion = 0 if abs(torque) <= p.stiction_nm else int(np.sign(torque))
        elif what == "break":
            self.motion = int(np.sign(p.constant * self.y[0] - p.load_nm))
        elif what == "source":
            self.y[3], self.source = p.source_v, not self.source
        else:
            self.y[3], self.clamp = p.clamp_v, not self.clamp


def seeded(seed: int) -> tuple[Plant, list[Phase]]:
    """A drive and a schedule, made from a seed: starts, speed changes, reversals, braking, coasting, every second
    source
    one that cannot sink."""
    random = np.random.default_rng(seed)
    coulomb = random.uniform(0.001, 0.006)
    plant = Plant(
        resistance_ohm=random.uniform(0.4, 4),
        inductance_h=random.uniform(2e-4, 3e-3),
        constant=random.uniform(0.01, 0.04),
        inertia=random.uniform(2e-6, 1e-5),
        coulomb_nm=coulomb,
        viscous=random.uniform(0, 3e-6),
        load_nm=float(random.choice([0.0, 0.5])) * coulomb,
        stiction_nm=coulomb * random.uniform(1.05, 1.6),
        source_v=random.uniform(9, 24),
        source_ohm=random.uniform(0.05, 0.3),
        bus_f=random.uniform(1e-4, 1e-3),
        sinks=bool(seed % 2),
        diode_v=0.7,
        fixed_drop_v=float(random.choice([0.0, 0.4])),
        clamp_v=None if seed % 3 else 26.0,
        clamp_ohm=2.0,
    )
    period = 1 / random.choice([5e3, 10e3, 20e3])
    off = ["short", "wheel", "off"][seed % 3]
    pieces = [Phase(int(random.integers(16, 48)), period, random.uniform(0.3, 0.9), "forward", off)]  # type: ignore[arg-type]
    for _ in range(3):
        kind = random.integers(0, 4) if off != "wheel" else random.choice([1, 3])  # one diode: one way, no brake
        if kind == 0:
            pieces.append(Phase(1, random.uniform(0.005, 0.03), 1.0, "short", "short"))
        elif kind == 1:
            pieces.append(Phase(1, random.uniform(0.005, 0.05), 1.0, "off", "off"))
        elif kind == 2:
            pieces.append(Phase(int(random.integers(10, 30)), period, random.uniform(0.2, 0.8), "back", "short"))
        else:
            pieces.append(Phase(int(random.integers(10, 30)), period, random.uniform(0.2, 0.8), "forward", off))  # type: ignore[arg-type]
    return plant, pieces


@pytest.mark.parametrize("seed", range(30))
def test_thirty_seeded_drives_against_dop853(seed: int) -> None:
    """Currents and speeds to 1e-6 of their largest, at the end of every phase."""
    held_against_dop853(*seeded(seed))


@pytest.mark.parametrize("seed", [1, 4, 7, 10])
def test_contacts_that_change_over_against_dop853(seed: int) -> None:
    """Forward, a rest, the contacts, a rest in which the turning motor drives the diode, and the other way; a brake."""
    plant, _ = seeded(seed)
    forward = Phase(40, 1e-4, 0.6, "forward", "wheel")
    rest, turned = Phase(1, 0.004, 1.0, "wheel", "wheel"), Phase(1, 0.004, 1.0, "wheel back", "wheel back")
    back = Phase(40, 1e-4, 0.7, "back", "wheel back")
    held_against_dop853(plant, [forward, rest, turned, back, turned, Phase(1, 0.01, 1.0, "short", "short")])


def held_against_dop853(plant: Plant, schedule: list[Phase]) -> None:
    engine, theirs = Engine(plant), Reference(plant)
    x = engine.rest()
    most = np.array([1e-3, 1e-1, 1.0, plant.source_v])
    for phase in schedule:
        run = engine.run([phase], x)
        _, x = run.last
        for _ in range(phase.periods):
            on = phase.duty * phase.period_s
            if on > 0:
                theirs.go(phase.on, on)
            if on < phase.period_s:
                theirs.go(phase.off, phase.period_s - on)
        _, states = run.arrays()
        most = np.maximum(most, np.abs(states[:, :4]).max(axis=0))
        assert np.abs((x[:4] - theirs.y) / most).max() < 1e-6, (phase, x, theirs.y)


def test_ripple_of_the_steady_state_is_the_closed_form() -> None:
    """(V/R)(1 − e^(−DT/τ))(1 − e^(−(1−D)T/τ))/(1 − e^(−T/τ)): 12 V, D ½, 20 kHz, 1 mH: 0.15 A."""
    plant = replace(SMALL, inductance_h=1e-3, source_v=12.0, source_ohm=1e-6, bus_f=1.0, inertia=1.0, stiction_nm=1e3)
    run = Engine(plant).run([Phase(4000, 50e-6, 0.5, "forward", "short")])
    times, states = run.arrays()
    last = states[times > times[-1] - 100e-6, I]
    tau = plant.inductance_h / plant.resistance_ohm
    half = 1 - math.exp(-25e-6 / tau)
    wanted = 12 / plant.resistance_ohm * half**2 / (1 - math.exp(-50e-6 / tau))
    assert last.max() - last.min() == pytest.approx(wanted, rel=1e-4)
    assert wanted == pytest.approx(0.15, abs=0.001)


def test_a_diodes_end_is_where_the_closed_form_says() -> None:
    """Current into a diode with the shaft held: i = (I + V/R)e^(−t/τ) − V/R ends at t = L/R ln(1 + I R/V)."""
    plant = replace(SMALL, stiction_nm=1e3)
    x = Engine(plant).rest()
    x[I] = 1.5
    run = Engine(plant).run([Phase(1, 0.05, 1.0, "wheel", "wheel")], x)
    at = next(t for t, words in run.events if words == "the current ends")
    wanted = plant.inductance_h / plant.resistance_ohm * math.log(1 + 1.5 * plant.resistance_ohm / plant.diode_v)
    assert at == pytest.approx(wanted, rel=1e-9)
    assert run.last[1][I] == 0.0


def test_a_coast_down_is_the_closed_form() -> None:
    """J dω/dt = −Tc − bω from ω0 stops at J/b ln(1 + b ω0/Tc); it then stands exactly still."""
    plant = replace(SMALL, viscous=2e-5)
    x = Engine(plant).rest()
    x[OMEGA] = 300.0
    run = Engine(plant).run([Phase(1, 2.0, 1.0, "off", "off")], x)
    at = next(t for t, words in run.events if words == "it stops")
    assert at == pytest.approx(
        plant.inertia / plant.viscous * math.log(1 + plant.viscous * 300 / plant.coulomb_nm), rel=1e-9
    )
    assert run.last[1][OMEGA] == 0.0


def test_the_averaged_linear_drive_against_python_control() -> None:
    """Without friction and with a stiff bus the averaged drive is a linear system; its step response by
    python-control."""
    plant = replace(SMALL, coulomb_nm=0.0, stiction_nm=0.0, viscous=1e-5, source_ohm=1e-9, bus_f=1e3)
    duty, end = 0.6, 0.4
    p = plant
    system = control.ss(
        [
            [-p.resistance_ohm / p.inductance_h, -p.constant / p.inductance_h],
            [p.constant / p.inertia, -p.viscous / p.inertia],
        ],
        [[1 / p.inductance_h], [0.0]],
        np.eye(2),
        np.zeros((2, 1)),
    )
    times = np.linspace(0, end, 41)
    theirs = control.step_response(system, times).outputs[:, 0, :] * duty * p.source_v
    run = Engine(plant).run([Phase(40, end / 40, duty, "forward", "short", averaged=True)])
    found, states = run.arrays()
    keep = [int(np.argmin(np.abs(found - t))) for t in times]
    assert np.abs(states[keep, I] - theirs[0]).max() < 1e-6
    assert np.abs(states[keep, OMEGA] - theirs[1]).max() / theirs[1].max() < 1e-7


def test_averaged_and_switched_agree_where_they_should() -> None:
    """Synchronous slow decay at 20 kHz: the mean over a period is the averaged drive, to the ripple's share."""
    switched = Engine(SMALL).run([Phase(8000, 50e-6, 0.5, "forward", "short")]).last[1]
    averaged = Engine(SMALL).run([Phase(400, 1e-3, 0.5, "forward", "short", averaged=True)]).last[1]
    assert switched[OMEGA] == pytest.approx(averaged[OMEGA], rel=2e-3)


@settings(max_examples=6)
@given(st.floats(0.05, 0.95), st.sampled_from(["short", "off", "wheel"]), st.floats(0.1, 0.9))
def test_splitting_an_interval_changes_nothing(duty: float, off: Any, where: float) -> None:
    length = 4e-3
    x = Engine(SMALL).rest()
    x[I], x[OMEGA] = 0.8, 120.0
    whole = Engine(SMALL).run([Phase(1, length, 1.0, off, off)], x).last[1]
    split = [Phase(1, length * where, 1.0, off, off), Phase(1, length * (1 - where), 1.0, off, off)]
    parts = Engine(SMALL).run(split, x).last[1]
    assert parts == pytest.approx(whole, rel=1e-9, abs=1e-10)
    run = Engine(SMALL).run([Phase(500, 50e-6, duty, "forward", "short")]).last[1]
    halves = Engine(SMALL)
    first = halves.run([Phase(250, 50e-6, duty, "forward", "short")]).last[1]
    assert halves.run([Phase(250, 50e-6, duty, "forward", "short")], first).last[1] == pytest.approx(
        run, rel=1e-9, abs=1e-11
    )


@pytest.mark.parametrize("seed", [0, 1, 15, 16])
def test_mirrored_it_runs_the_same_the_other_way(seed: int) -> None:
    plant, schedule = seeded(seed)
    plant = replace(plant, load_nm=0.0)
    turned = {"forward": "back", "back": "forward", "wheel": "wheel back"}
    mirror = [replace(p, on=turned.get(p.on, p.on), off=turned.get(p.off, p.off)) for p in schedule]  # type: ignore[arg-type]
    one, other = Engine(plant).run(schedule).last[1], Engine(plant).run(mirror).last[1]
    assert other[[I, OMEGA, THETA]] == pytest.approx(-one[[I, OMEGA, THETA]], rel=1e-9, abs=1e-9)
    assert other[BUS] == pytest.approx(one[BUS])


def test_the_energy_of_a_start_balances() -> None:
    """What the source gives is in the winding's heat, friction, the coil, the flywheel and the bus."""
    p = SMALL
    times, x = Engine(p).run([Phase(90, 50e-6, 0.7, "forward", "short")]).arrays()
    fine = Engine(p)
    heat = friction = given_ = source_heat = 0.0
    nodes, weights = (np.polynomial.legendre.leggauss(7)[0] + 1) / 2, np.polynomial.legendre.leggauss(7)[1] / 2
    for k in range(len(times) - 1):
        length = times[k + 1] - times[k]
        path = "forward" if (times[k] / 50e-6 + 1e-6) % 1.0 < 0.7 - 1e-5 else "short"
        points = np.stack([fine.run([Phase(1, float(q), 1.0, path, path)], x[k]).last[1] for q in length * nodes])  # type: ignore[arg-type]
        weight = length * weights
        heat += float(weight @ (p.resistance_ohm * points[:, I] ** 2))
        friction += float(weight @ (np.abs(points[:, OMEGA]) * p.coulomb_nm + p.viscous * points[:, OMEGA] ** 2))
        flow = (p.source_v - points[:, BUS]) / p.source_ohm
        given_ += float(weight @ (p.source_v * flow))
        source_heat += float(weight @ (p.source_ohm * flow**2))
    end, start = x[-1], x[0]
    stored = (
        p.inductance_h * end[I] ** 2 / 2
        + p.inertia * end[OMEGA] ** 2 / 2
        + p.bus_f * (end[BUS] ** 2 - start[BUS] ** 2) / 2
    )
    assert given_ == pytest.approx(heat + friction + source_heat + stored, rel=1e-6)


def test_braking_into_a_source_that_cannot_sink_lifts_the_bus() -> None:
    """An upper bound by energy: all of the flywheel into the capacitor, V = √(V0² + J ω²/C)."""
    plant = replace(SMALL, sinks=False, inertia=5e-5, bus_f=1e-3)
    fast = Engine(plant).run([Phase(20000, 50e-6, 0.9, "forward", "short")])
    _, x = fast.last
    run = Engine(plant).run([Phase(2000, 50e-6, 0.2, "forward", "short")], x)
    _, states = run.arrays()
    top = states[:, BUS].max()
    assert top > plant.source_v + 1
    assert top < math.sqrt(plant.source_v**2 + plant.inertia * x[OMEGA] ** 2 / plant.bus_f)
    assert ("the source gives no more") in {words for _, words in run.events}
    clamped = Engine(replace(plant, clamp_v=plant.source_v + 1, clamp_ohm=0.5))
    held = clamped.run([Phase(2000, 50e-6, 0.2, "forward", "short")], x).arrays()[1][:, BUS].max()
    assert held < top


def test_what_makes_no_sense_is_refused() -> None:
    for wrong, says in (
        ({"bus_f": 0.0}, "capacitor"),
        ({"resistance_ohm": 0.0}, "above zero"),
        ({"stiction_nm": 0.001}, "stiction"),
    ):
        with pytest.raises(ValueError, match=says):
            replace(SMALL, **wrong)  # type: ignore[arg-type]


CLAMPED = replace(SMALL, sinks=False, clamp_v=13.05, clamp_ohm=0.2, bus_f=10e-6, inductance_h=1e-3)
CROWDED: dict[str, tuple[Plant, Path, float]] = {
    "the current ends in the diode": (replace(SMALL, inductance_h=5e-5), "wheel", 0.3),
    "the current ends in the bus": (replace(SMALL, inductance_h=2e-4, sinks=False), "off", 0.5),
    "brushes end it in a short": (replace(SMALL, inductance_h=1e-4, fixed_drop_v=0.8), "short", 0.2),
    "the clamp opens and shuts": (CLAMPED, "off", 0.6),
}


@pytest.mark.parametrize("case", CROWDED)
def test_periods_taken_together_are_as_one_by_one(case: str, monkeypatch: pytest.MonkeyPatch) -> None:
    """150 periods of a start with an event in nearly each of them, against each of them worked out by itself."""
    plant, off, duty = CROWDED[case]
    schedule = [Phase(150, 1e-4, duty, "forward", off)]
    together = Engine(plant).run(schedule)
    monkeypatch.setattr(Engine, "_cycle", lambda self, pieces: None)
    alone = Engine(plant).run(schedule)
    assert len(alone.events) > 130 and len(alone.events) > 3 * len(together.events), "or it would show nothing"
    (ta, xa), (tb, xb) = together.arrays(), alone.arrays()
    ends = 1e-4 * np.arange(1, 151) + 1e-9
    for column in (I, OMEGA, BUS):
        ours, theirs = xa[np.searchsorted(ta, ends) - 1, column], xb[np.searchsorted(tb, ends) - 1, column]
        assert np.abs(ours - theirs).max() <= 2e-6 * np.abs(xb[:, column]).max()
    assert xa[:, I].max() == pytest.approx(xb[:, I].max(), rel=2e-6)


def test_powers_by_doubling_are_powers() -> None:
    step = np.array([[0.9, 0.1], [-0.2, 0.95]])
    x = np.array([1.0, -2.0])
    found = powers(step, x, 37)
    for k in (0, 1, 2, 3, 17, 36):
        assert found[k] == pytest.approx(np.linalg.matrix_power(step, k) @ x)
