"""What a builder wants to see happen: a start, a stop, a reversal, a jam; from the build's own numbers."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from ..algebra.giving_up import within
from ..algebra.quantities import phrase
from ..cases import breakaway, chopping
from ..cases.circuit import Circuit, diode_drop
from ..cases.operating import Context
from ..model.driver import ONE_SWITCH
from .engine import Engine, Phase, Run
from .faults import Contacts, Fault, put_in
from .plant import OMEGA, Path, Plant, State
from .telling import Leg, RunStory, story_of
from .torque import WITHIN, LoadTorque, load_torque, run_held

Scenario = Literal[
    "start",
    "start at once",
    "speed change",
    "brake",
    "coast",
    "reverse",
    "reverse at once",
    "regenerate",
    "stall",
    "jam",
    "jam and release",
    "sag",
    "flat",
]
SCENARIOS: dict[str, str] = {
    "start": "Start, with its ramp",
    "start at once": "Start at full duty at once",
    "speed change": "From half the duty to the working one",
    "brake": "Brake from the working speed",
    "coast": "Coast from the working speed",
    "reverse": "Reverse through zero, with a pause",
    "reverse at once": "Reverse at once",
    "regenerate": "Duty cut to a third: the motor feeds the supply",
    "stall": "Start against a held shaft",
    "jam": "Jam at the working speed",
    "jam and release": "Jam, then free again",
    "sag": "Start at once on a flat supply",
    "flat": "Start with its ramp on a flat supply",
}
RAMP_STEPS = 60
LONGEST_S = 4.0
PATIENCE = 2000
"""More events than this in one run, those in alike periods counted once, would take more than some ten seconds."""
BARE_BUS_F = 10e-6
"""What a board carries beside its driver anyway, where no bulk capacitor is fitted; told as a note."""
JAM_S = 0.3
LOOKED_S = 1e-4
"""Nothing pulses in a drive that is on or off: its runs are cut into such pieces."""


def _needed(at: Context) -> list[str]:
    needed = {
        "the motor's resistance": at.winding_cold,
        "the motor's inductance": at.motor.inductance,
        "the motor constant": at.motor.motor_constant,
        "the inertia": at.load.reflected_inertia,
        "the load's torque": at.load.motor_torque,
        "the friction": at.motor.friction_torque,
        "the supply": at.volts.nominal,
        "the source's resistance": at.feed_resistance,
    }
    return [name for name, node in needed.items() if node.value is None]


def plant_of(at: Context, solved: Circuit) -> tuple[Plant, list[str]]:
    """The drive as a plant at its working point, and what had to be assumed. ValueError with a sentence where something
    is not known yet."""
    bare, torque, notes = bare_plant(at, solved)
    speed = float(at.load.motor_speed.value or 0.0)
    return torque.on(bare, np.array([0.0, speed, 0.0, 0.0, 1.0])) if torque.square else bare, notes


def bare_plant(at: Context, solved: Circuit) -> tuple[Plant, LoadTorque, list[str]]:
    """The drive as a plant without what of its load changes with speed or angle; that load; notes."""
    missing = _needed(at)
    if missing or at.part is None:
        raise ValueError("Not known yet: " + ", ".join(missing or ["the driver"]) + ".")
    notes: list[str] = []
    bus = at.unit.bulk_capacitance.value
    if bus is None:
        bus = BARE_BUS_F
        notes.append("No bulk capacitor is given: the 10 µF of a bare board stand in for it.")
    friction = float(at.motor.friction_torque.value or 0.0)
    lets_go = breakaway.current(at).value
    stiction = max(friction, (lets_go or 0.0) * float(at.motor.motor_constant.value or 0.0), 1e-6)
    if (cold := at.build.ambient.cold.value) is not None:
        notes.append(
            f"The winding is at {phrase(cold, 'temperature')} all along, where peaks are highest; the duty counts it "
            "hot, so a run ends a little faster."
        )
    on, torque = float(at.part.on_resistance.value or 0.0), load_torque(at)
    if torque.pull:
        notes.append("A weight pulls back always; the rest of the load rubs against any motion.")
    elif not torque.held:
        notes.append("The load's torque counts as friction of the working size, at any speed.")
    return (
        Plant(
            resistance_ohm=float(at.winding_cold.value or 0.0) + float(at.motor_wire.resistance.value or 0.0) + on,
            inductance_h=float(at.motor.inductance.value or 0.0),
            constant=float(at.motor.motor_constant.value or 0.0),
            inertia=float(at.load.reflected_inertia.value or 0.0),
            coulomb_nm=friction + torque.rub,
            viscous=float(at.motor.viscous.value or 0.0),
            load_nm=torque.pull,
            stiction_nm=stiction + torque.rub,
            source_v=float(at.volts.nominal.value or 0.0),
            source_ohm=max(float(at.feed_resistance.value or 0.0), 1e-3),
            bus_f=bus,
            sinks=at.source.takes_back,
            diode_v=float(diode_drop(at).value or 0.0),
            fixed_drop_v=float(solved.lost_volts.value or 0.0),
            clamp_v=at.build.supply.clamp_v.value,
            leg_ohm=max(on, 1e-2),
        ),
        torque,
        notes,
    )


@dataclass(frozen=True, slots=True)
class SimulatedDrive:
    """How the drive is pulsed: its period, the working duty, and what the bridge does between pulses."""

    period_s: float
    duty: float
    off: Path
    averaged: bool
    opposed: bool
    relay_pause_s: float | None = None
    """How long the pulses rest around a change-over, where contacts turn the motor round."""

    @property
    def one_switch(self) -> bool:
        return self.off == "wheel"

    def at(self, duty: float, seconds: float, on: Path = "forward") -> Phase:
        """So many periods at a duty; locked anti-phase swings between both ways."""
        off: Path = "wheel back" if self.one_switch and on == "back" else self.off
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

    def pulsed(self, phase: Phase) -> Phase:
        """A phase as it is with every pulse."""
        if not phase.averaged:
            return phase
        return replace(self, averaged=False).at(phase.duty, phase.periods * phase.period_s, phase.on)


def drive_of(at: Context, solved: Circuit, averaged: bool, duty: float | None = None) -> SimulatedDrive:
    """The drive's pulses as the build has them, or at another ``duty``. ValueError where frequency or duty is not
    known."""
    own = solved.averaged_duty if averaged else solved.duty_nominal
    frequency, working = at.plan.frequency.value, own.value if duty is None else duty
    if not at.drive.signals.pulsed:
        frequency, working = 1 / LOOKED_S, 1.0
    if not frequency or working is None:
        raise ValueError("Not known yet: the PWM frequency and the working duty.")
    one_way = at.part is not None and at.part.kind in ONE_SWITCH
    decay = at.drive.signals.decay
    off: Path = "wheel" if one_way else "off" if decay == "fast" else "short"
    contacts = at.part is not None and at.part.kind == "relay pair"
    if at.part is not None and at.part.kind == "contacts":
        # Relays at both ends rest on one line and short the motor; a single contact leaves it open.
        off = "short" if at.part.brakes == "yes" else "wheel" if at.unit.diode_at != "none" else "off"
    return SimulatedDrive(
        period_s=1 / frequency,
        duty=min(max(working, 0.02), 1.0),
        off=off,
        averaged=averaged,
        opposed=decay == "locked anti-phase" and not one_way,
        relay_pause_s=at.unit.relay_pause_s if contacts else None,
    )


def _refuse(at: Context, drive: SimulatedDrive, scenario: Scenario) -> None:
    if not at.drive.signals.pulsed and scenario in ("speed change", "regenerate"):
        raise ValueError("This drive is on or off: it knows no part of the duty.")
    one_switch, part, contacts = drive.one_switch, at.part, drive.relay_pause_s is not None
    if one_switch and not contacts and scenario in ("brake", "reverse", "reverse at once"):
        raise ValueError("This stage has one switch and a diode: it can neither brake nor reverse by itself.")
    if one_switch and scenario == "regenerate":
        raise ValueError("With one switch and a diode nothing is fed back: the current only circles till it ends.")
    if scenario in ("reverse", "reverse at once") and part is not None and part.reverses == "no":
        raise ValueError("This driver turns the motor one way only: it cannot reverse it.")
    if scenario == "brake" and part is not None and part.brakes == "no":
        raise ValueError("This driver cannot short the motor: let it coast.")
    if scenario == "regenerate" and drive.off == "off":
        raise ValueError("In fast decay the current ends between pulses: nothing is fed back this way.")


@dataclass(frozen=True, slots=True)
class _Times:
    """A run's lengths in s."""

    length: float
    ramp: float
    soft: bool


def _start(drive: SimulatedDrive, t: _Times) -> list[Phase]:
    return [*(drive.ramp(0.0, drive.duty, t.ramp) if t.soft else []), drive.at(drive.duty, t.length)]


def _rest(drive: SimulatedDrive) -> list[Phase]:
    """Between two directions: a bridge shorts the motor; contacts change over between two rests of the pulses."""
    pause = drive.relay_pause_s
    if pause is None:
        return [Phase(1, 0.05, 1.0, "short", "short")]
    return [Phase(1, pause, 1.0, "wheel", "wheel"), Phase(1, pause, 1.0, "wheel back", "wheel back")]


def _reverse(drive: SimulatedDrive, t: _Times) -> list[Phase]:
    slow = max(t.ramp, t.length / 4)
    return [
        drive.at(drive.duty, 0.1 * t.length),
        *drive.ramp(drive.duty, 0.0, slow),
        *_rest(drive),
        *drive.ramp(0.0, drive.duty, slow, "back"),
        drive.at(drive.duty, t.length / 2, "back"),
    ]


def _reverse_at_once(drive: SimulatedDrive, t: _Times) -> list[Phase]:
    between = [] if drive.relay_pause_s is None else _rest(drive)
    return [drive.at(drive.duty, 0.1 * t.length), *between, drive.at(drive.duty, t.length, "back")]


def _brake(drive: SimulatedDrive, t: _Times) -> list[Phase]:
    """Contacts that are released short the motor, once the pulses have rested."""
    first = [] if drive.relay_pause_s is None else _rest(drive)[:1]
    return [drive.at(drive.duty, 0.1 * t.length), *first, Phase(1, t.length, 1.0, "short", "short")]


def _coast(drive: SimulatedDrive, t: _Times) -> list[Phase]:
    opened: Path = "wheel" if drive.one_switch else "off"
    return [drive.at(drive.duty, 0.1 * t.length), Phase(1, 2 * t.length, 1.0, opened, opened)]


SCHEDULES: dict[str, tuple[bool, Callable[[SimulatedDrive, _Times], list[Phase]]]] = {
    "start": (False, _start),
    "flat": (False, _start),
    "start at once": (False, lambda d, t: [d.at(d.duty, t.length)]),
    "sag": (False, lambda d, t: [d.at(1.0, t.length)]),
    "stall": (False, lambda d, t: [*(d.ramp(0.0, d.duty, t.ramp) if t.soft else []), d.at(d.duty, min(t.length, 0.5))]),
    "speed change": (
        True,
        lambda d, t: [
            d.at(d.duty / 2, 0.1 * t.length),
            *d.ramp(d.duty / 2, d.duty, max(t.ramp / 2, 0.02)),
            d.at(d.duty, t.length),
        ],
    ),
    "brake": (True, _brake),
    "coast": (True, _coast),
    "reverse": (True, _reverse),
    "reverse at once": (True, _reverse_at_once),
    "regenerate": (True, lambda d, t: [d.at(d.duty, 0.1 * t.length), d.at(d.duty / 3, t.length)]),
    "jam": (True, lambda d, t: [d.at(d.duty, 0.1 * t.length)]),
    "jam and release": (True, lambda d, t: [d.at(d.duty, 0.1 * t.length)]),
}
"""By scenario: whether it begins at speed, and its schedule."""


def simulate(
    at: Context,
    solved: Circuit,
    scenario: Scenario,
    averaged: bool = False,
    fault: Fault = "none",
    duty: float | None = None,
) -> RunStory:
    """Run a scenario, with a fault put in and at another working duty if asked. ValueError with a sentence where it
    cannot be run."""
    plant, torque, notes = bare_plant(at, solved)
    drive = drive_of(at, solved, averaged, duty)
    _refuse(at, drive, scenario)
    if scenario in ("sag", "flat"):
        flat = at.volts.flat.value
        if flat is None:
            raise ValueError("Not known yet: the supply's voltage when flat.")
        plant = replace(plant, source_v=float(flat))
        notes.append(f"The supply is flat: {flat:.3g} V.")
    mechanical = plant.inertia * chopping.stiffness(solved.duty_nominal, plant.resistance_ohm) / plant.constant**2
    ramp = at.load.ramp_time.value or 0.0
    soft = at.drive.signals.ramped and ramp > 0
    times = _Times(min(max(6 * mechanical, 0.05) + 0.3 * ramp, LONGEST_S), ramp, soft)
    at_speed, schedule = SCHEDULES[scenario]
    phases = schedule(drive, times)
    rotor = at.motor.rotor_inertia.value
    made = put_in(fault, plant, phases, float(rotor) if rotor is not None else None, _contacts(at))
    if made.note:
        notes.append(made.note)
    if drive.relay_pause_s is not None and scenario in ("reverse", "reverse at once", "brake"):
        notes.append(f"The pulses rest {phrase(drive.relay_pause_s, 'time')} before the contacts move, and after.")
    working = torque.on(plant, np.array([0.0, float(at.load.motor_speed.value or 0.0), 0.0, 0.0, 1.0]))
    x = _at_speed(working, drive, scenario, times.length) if at_speed else Engine(plant).rest()
    return _play(
        made.plant,
        torque=torque if fault != "slipping coupling" else LoadTorque(0, 0),
        phases=made.schedule,
        x=x,
        scenario=scenario,
        drive=drive,
        times=times,
        notes=notes,
    )


def _contacts(at: Context) -> Contacts:
    """The contacts that turn the motor of a drive round."""
    if at.part is None or at.part.reverses == "no":
        return "none"
    if at.part.kind == "relay pair":
        return "before a switch"
    return "alone" if at.part.kind == "contacts" else "none"


def _at_speed(plant: Plant, drive: SimulatedDrive, scenario: Scenario, length: float) -> State:
    """The state in which the drive has run for a while."""
    duty = drive.duty / 2 if scenario == "speed change" else drive.duty
    engine = Engine(plant, PATIENCE)
    with within(0.0, 0.0):
        x = engine.run([replace(drive, averaged=True, opposed=False).at(duty, 2 * length)]).last[1]
        return engine.run([drive.at(duty, 40 * drive.period_s)], x).last[1]


def _play(
    plant: Plant,
    torque: LoadTorque,
    phases: list[Phase],
    x: State,
    scenario: Scenario,
    drive: SimulatedDrive,
    times: _Times,
    notes: list[str],
) -> RunStory:
    held = replace(plant, stiction_nm=1e6)
    jam = (
        Phase(1, JAM_S, drive.duty, "forward", drive.off, averaged=True)
        if drive.averaged
        else drive.at(drive.duty, JAM_S)
    )
    stages: list[tuple[Plant, list[Phase], str]] = [(held if scenario == "stall" else plant, phases, "")]
    if scenario in ("jam", "jam and release"):
        stages.append((held, [jam], "it jams"))
        notes.append("The shaft stops dead: a jam takes the flywheel's energy in an instant.")
    if scenario == "jam and release":
        stages.append((plant, [drive.at(drive.duty, times.length)], "it is free again"))
    run, now, legs, change = Run(), 0.0, list[Leg](), 0.0
    whole = sum(p.periods * p.period_s for _, parts, _ in stages for p in parts)
    run.add(now, x)
    for stage, parts, words in stages:
        if words:
            run.events.append((now, words))
            x = x.copy()
            x[OMEGA] = 0.0
        with within(now / whole, (now + sum(p.periods * p.period_s for p in parts)) / whole):
            if torque.held and stage is plant:
                part, moved = run_held(stage, torque, parts, x, PATIENCE)
                change = max(change, moved)
            else:
                part = Engine(stage, PATIENCE).run(parts, x)
        begin = now
        for phase in parts:
            legs.append(Leg(begin, stage, phase))
            begin += phase.periods * phase.period_s
        run.pieces += [(t + now, states) for t, states in part.pieces]
        run.events += [(t + now, w) for t, w in part.events]
        span, x = part.last
        now += span
    if torque.held:
        notes.append(
            "The load's torque is held for short steps: halving them moves the speed by "
            + (
                f"{change:.1%}.".replace("%", " %")
                if change > WITHIN
                else f"less than {WITHIN:.1%}.".replace("%", " %")
            )
        )
    return story_of(plant, run, notes, drive.period_s, legs)
