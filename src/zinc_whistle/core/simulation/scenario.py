"""What a builder wants to see happen: a start, a stop, a reversal, a jam; from the build's own numbers."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from ..operating import Circuit, Context
from .engine import Engine, Phase, Run
from .plant import BUS, OMEGA, I, Path, Plant, State

Scenario = Literal["start", "start at once", "brake", "coast", "reverse", "reverse at once", "jam"]
SCENARIOS: dict[str, str] = {
    "start": "Start, with its ramp",
    "start at once": "Start at full duty at once",
    "brake": "Brake from the working speed",
    "coast": "Coast from the working speed",
    "reverse": "Reverse through zero, with a pause",
    "reverse at once": "Reverse at once",
    "jam": "Jam at the working speed",
}
RAMP_STEPS = 60
LONGEST_S = 4.0
BINS = 320
PATIENCE = 600
"""More events than this in one run would take more than a few seconds."""
STIFF_BUS_F = 1e-3
"""A capacitor that stands for a battery's own stiffness where none is fitted; told as a note."""
Grid = NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Measured:
    """Figures of a run, SI: currents, time to 95 % of the last speed (None: not reached), energy drawn, bus at most and least."""

    peak_a: float
    rms_a: float
    ripple_a: float
    last_speed: float
    time_to_speed_s: float | None
    energy_j: float
    bus_high_v: float
    bus_low_v: float


@dataclass(frozen=True, slots=True)
class Told:
    """A run for the screen: bins of time with lowest and highest current and bus, speed; figures, events, notes."""

    time_s: Grid
    current_low: Grid
    current_high: Grid
    speed: Grid
    bus_low: Grid
    bus_high: Grid
    measured: Measured
    events: list[tuple[float, str]]
    notes: list[str]
    run: Run


def plant_of(at: Context, solved: Circuit) -> tuple[Plant, list[str]]:
    """The drive as a plant, and what had to be assumed. ValueError with a sentence where something is not known yet."""
    notes: list[str] = []
    needed = {
        "the motor's resistance": at.winding_cold, "the motor's inductance": at.motor.inductance,
        "the motor constant": at.motor.motor_constant, "the inertia": at.load.reflected_inertia,
        "the load's torque": at.load.motor_torque, "the friction": at.motor.friction_torque,
        "the supply": at.volts.nominal, "the source's resistance": at.feed_resistance,
    }  # fmt: skip
    missing = [name for name, node in needed.items() if node.value is None]
    if missing or at.part is None:
        raise ValueError("Not known yet: " + ", ".join(missing or ["the driver"]) + ".")
    bus = at.unit.bulk_capacitance.value
    if bus is None:
        bus = STIFF_BUS_F
        notes.append("No bulk capacitor is given: 1 mF stands in for it.")
    friction = float(at.motor.friction_torque.value or 0.0)
    breakaway = at.drive.motor.breakaway_a.value
    stiction = max(friction, (breakaway or 0.0) * float(at.motor.motor_constant.value or 0.0), 1e-6)
    on = float(at.part.on_resistance.value or 0.0)
    load = max(float(at.load.motor_torque.value or 0.0), 0.0)
    notes.append("The load's torque counts as friction of the working size, at any speed.")
    return Plant(
        resistance_ohm=float(at.winding_cold.value or 0.0) + float(at.motor_wire.resistance.value or 0.0) + on,
        inductance_h=float(at.motor.inductance.value or 0.0), constant=float(at.motor.motor_constant.value or 0.0),
        inertia=float(at.load.reflected_inertia.value or 0.0), coulomb_nm=friction + load,
        viscous=float(at.motor.viscous.value or 0.0), load_nm=0.0, stiction_nm=max(stiction, friction) + load,
        source_v=float(at.volts.nominal.value or 0.0), source_ohm=max(float(at.feed_resistance.value or 0.0), 1e-3),
        bus_f=bus, sinks=at.source.sinks == "yes", fixed_drop_v=float(solved.lost_volts.value or 0.0),
        clamp_v=at.build.supply.clamp_v.value,
    ), notes  # fmt: skip


@dataclass(frozen=True, slots=True)
class _Drive:
    """How the drive is pulsed: its period, the working duty, and what the bridge does between pulses."""

    period_s: float
    duty: float
    off: Path
    averaged: bool
    opposed: bool

    def at(self, duty: float, seconds: float, on: Path = "forward") -> Phase:
        """So many periods at a duty; locked anti-phase swings between both ways."""
        off: Path = self.off
        if self.opposed:
            duty, off = (1 + duty) / 2, ("back" if on == "forward" else "forward")
        if self.averaged:
            mean = 2 * duty - 1 if self.opposed else duty
            pieces = max(round(seconds / (20 * self.period_s)), 1)
            return Phase(pieces, seconds / pieces, mean, on, off, averaged=True)
        return Phase(max(round(seconds / self.period_s), 1), self.period_s, duty, on, off)

    def ramp(self, start: float, end: float, seconds: float, on: Path = "forward") -> list[Phase]:
        """A ramp of the duty in steps."""
        steps = max(min(RAMP_STEPS, round(seconds / self.period_s)), 1)
        return [self.at(start + (end - start) * (k + 0.5) / steps, seconds / steps, on) for k in range(steps)]


def drive_of(at: Context, solved: Circuit, averaged: bool) -> _Drive:
    """The drive's pulses as the build has them. ValueError where frequency or duty is not known."""
    frequency, duty = at.plan.frequency.value, solved.duty_nominal.value
    if not frequency or duty is None:
        raise ValueError("Not known yet: the PWM frequency and the working duty.")
    one_way = at.part is not None and at.part.kind in ("bjt switch", "mosfet switch", "relay pair", "pin")
    decay = at.drive.signals.decay
    off: Path = "wheel" if one_way else "off" if decay == "fast" else "short"
    return _Drive(1 / frequency, min(max(duty, 0.02), 1.0), off, averaged, decay == "locked anti-phase" and not one_way)


def simulate(at: Context, solved: Circuit, scenario: Scenario, averaged: bool = False) -> Told:
    """Run a scenario. ValueError with a sentence where it cannot be run."""
    plant, notes = plant_of(at, solved)
    drive = drive_of(at, solved, averaged)
    if drive.off == "wheel" and scenario in ("brake", "reverse", "reverse at once"):
        raise ValueError("This stage has one switch and a diode: it can neither brake nor reverse by itself.")
    if scenario in ("reverse", "reverse at once") and at.part is not None and at.part.reverses == "no":
        raise ValueError("This driver turns the motor one way only: it cannot reverse it.")
    if scenario == "brake" and at.part is not None and at.part.brakes == "no":
        raise ValueError("This driver cannot short the motor: let it coast.")
    mechanical = plant.inertia * plant.resistance_ohm / plant.constant**2
    ramp = at.load.ramp_time.value or 0.0
    length = min(max(6 * mechanical, 0.05) + 0.3 * ramp, LONGEST_S)
    engine = Engine(plant, PATIENCE)
    before: State | None = None
    soft = at.drive.signals.soft_start == "yes" and ramp > 0
    start = [*(drive.ramp(0.0, drive.duty, ramp) if soft else []), drive.at(drive.duty, length)]
    if scenario == "start":
        schedule = start
    elif scenario == "start at once":
        schedule = [drive.at(drive.duty, length)]
    else:
        before = engine.run([replace(drive, averaged=True, opposed=False).at(drive.duty, 2 * length)]).last[1]
        before = engine.run([drive.at(drive.duty, 40 * drive.period_s)], before).last[1]
        lead = drive.at(drive.duty, 0.1 * length)
        if scenario == "brake":
            schedule = [lead, Phase(1, length, 1.0, "short", "short")]
        elif scenario == "coast":
            schedule = [lead, Phase(1, 2 * length, 1.0, "off", "off")]
        elif scenario == "reverse":
            down = drive.ramp(drive.duty, 0.0, max(ramp, length / 4))
            pause = Phase(1, 0.05, 1.0, "short", "short")
            schedule = [
                lead,
                *down,
                pause,
                *drive.ramp(0.0, drive.duty, max(ramp, length / 4), "back"),
                drive.at(drive.duty, length / 2, "back"),
            ]
        elif scenario == "reverse at once":
            schedule = [lead, drive.at(drive.duty, length, "back")]
        else:
            schedule = [lead]
    run = engine.run(schedule, before)
    if scenario == "jam":
        run = _jammed(plant, run, drive.at(drive.duty, min(length, 0.5)))
        notes.append("The shaft stops dead: a jam takes the flywheel's energy in an instant.")
    return told(plant, run, notes, drive.period_s)


def _jammed(plant: Plant, run: Run, phase: Phase) -> Run:
    """The run goes on with the shaft held."""
    now, x = run.last
    held = replace(plant, stiction_nm=1e6)
    x = x.copy()
    x[OMEGA] = 0.0
    after = Engine(held).run([phase], x)
    run.pieces += [(times + now, states) for times, states in after.pieces]
    run.events += [(now, "it jams"), *((t + now, w) for t, w in after.events)]
    return run


def told(plant: Plant, run: Run, notes: list[str], period_s: float) -> Told:
    """A run in bins that hide no peak, and what a builder would measure on it."""
    times, states = run.arrays()
    end = float(times[-1])
    edges = np.linspace(0, end, BINS + 1)
    place = np.clip(np.searchsorted(edges, times, side="right") - 1, 0, BINS - 1)
    low, high = np.full((BINS, 2), np.inf), np.full((BINS, 2), -np.inf)
    for k, column in enumerate((I, BUS)):
        np.minimum.at(low[:, k], place, states[:, column])
        np.maximum.at(high[:, k], place, states[:, column])
    middle = (edges[:-1] + edges[1:]) / 2
    for k, column in enumerate((I, BUS)):
        between = np.interp(middle, times, states[:, column])
        low[:, k] = np.where(np.isfinite(low[:, k]), np.minimum(low[:, k], between), between)
        high[:, k] = np.where(np.isfinite(high[:, k]), np.maximum(high[:, k], between), between)
    shown = [
        e
        for e in run.events
        if e[1] in ("it stops", "it jams", "it breaks away", "the clamp opens", "the source gives no more")
    ]
    return Told(
        middle, low[:, 0], high[:, 0], np.interp(middle, times, states[:, OMEGA]), low[:, 1], high[:, 1],
        measured(plant, times, states, period_s), shown[:12], notes, run,
    )  # fmt: skip


def measured(plant: Plant, times: Grid, states: Grid, period_s: float) -> Measured:
    """Peak, RMS, ripple over the last periods, time to speed, energy from the source, and the bus's extremes."""
    current, speed, bus = states[:, I], states[:, OMEGA], states[:, BUS]
    widths = np.diff(times)
    span = float(times[-1] - times[0])
    a, b = current[:-1], current[1:]
    square = float(np.sum(widths * (a * a + a * b + b * b) / 3))
    flow = (plant.source_v - bus) / plant.source_ohm
    if not plant.sinks:
        flow = np.maximum(flow, 0.0)
    energy = float(np.sum(widths * (flow[:-1] + flow[1:]) / 2)) * plant.source_v
    late = current[times >= times[-1] - 2.01 * period_s]
    last = float(speed[-1])
    reached = None
    if abs(last) > 1e-6:
        far = np.flatnonzero(np.abs(speed - last) > 0.05 * abs(last))
        reached = float(times[far[-1] + 1]) if far.size and far[-1] + 1 < len(times) else 0.0 if not far.size else None
    return Measured(
        float(np.abs(current).max()), math.sqrt(square / span) if span else 0.0, float(late.max() - late.min()), last,
        reached, energy, float(bus.max()), float(bus.min()),
    )  # fmt: skip


def to_csv(run: Run) -> str:
    """Every edge and event: time (s), current (A), speed (rad/s), angle (rad), bus (V)."""
    times, states = run.arrays()
    rows = ["time (s),current (A),speed (rad/s),angle (rad),bus (V)"]
    rows += [f"{t:.9g},{x[0]:.6g},{x[1]:.6g},{x[2]:.6g},{x[3]:.6g}" for t, x in zip(times, states, strict=True)]
    return "\n".join(rows) + "\n"
