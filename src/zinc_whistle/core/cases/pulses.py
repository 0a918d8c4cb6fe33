"""Every drive's pulses on its controller's timers, worked out for all drives of a controller together."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import cast

from ..algebra.nodes import Leaf, choice_leaf
from ..model.build import Build, Drive, ServoDrive
from ..model.driver import DriverUnit
from ..model.given import Given, bind
from ..model.signals import Controller, SignalsSpec
from ..model.stage import STAGE_INPUTS
from . import board_pins, timer_circuit
from .timer_plan import TimerPlan, plan_for, still, uncounted
from .timers import Timetable, Wish, in_turn, timetable
from .truth import truth_table

PULSE = "PULSE"
IN_TURN = "avr"
"""The language whose programs make servos' pulses in turn; the other has a timer of its own at every pin."""


@dataclass(frozen=True, slots=True)
class PulsePlan:
    """The timer plan of every drive, and the timetable of every controller by id."""

    plans: Mapping[str, TimerPlan]
    tables: Mapping[str, Timetable]


def input_style(unit: DriverUnit) -> str:
    """How the unit wants to be told: its part's inputs, or its own stage's."""
    if unit.made_of == "stage":
        return STAGE_INPUTS.get(unit.stage.circuit, "one input")
    return unit.part.input_style if unit.part is not None else ""


def signals_of(drive: Drive) -> SignalsSpec:
    """What a drive wants of a timer; a servo's frame is an edge-aligned wish at its own frequency."""
    if (driven := drive.driven) is not None:
        return driven.signals
    spec = cast(ServoDrive, drive).servo
    wanted = SignalsSpec(alignment="edge", pwm_frequency=Given(text=spec.frame.text, origin=spec.frame.origin))
    bind(wanted, spec.path)
    wanted.pwm_frequency._leaf = spec.frame.leaf
    return wanted


def _pulsed(drive: Drive) -> bool:
    """Whether a controller's timer makes pulses for a drive."""
    return drive.driven is None or drive.driven.signals.told_by == "pulses"


def _wish(build: Build, drive: Drive, controller: Controller) -> Wish | None:
    signals = signals_of(drive)
    frequency = signals.pwm_frequency.value
    if not frequency or signals.told_by != "pulses":
        return None
    names: tuple[str, ...] = (PULSE,)
    if (driven := drive.driven) is not None:
        unit = next((u for u in build.units if u.id == driven.unit), None)
        style = input_style(unit) if unit is not None else ""
        if not style:
            names = ("PWM",)
        else:
            table = truth_table(style, signals.decay)
            names = tuple(n for n, need in zip(table.names, table.needs, strict=True) if need == "pwm")
    fixed = board_pins.fixed(build, drive, controller)
    return Wish(
        drive=drive.id,
        name=drive.name or drive.id,
        signals=names,
        frequency_hz=frequency,
        centre=signals.alignment == "centre",
        fixed=fixed,
    )


def _stands_on(build: Build, drive: Drive) -> list[Leaf]:
    """What of another drive decides where this one's pulses go."""
    signals = signals_of(drive)
    leaves = [signals.pwm_frequency.leaf, signals.chosen("told_by")]
    if (driven := drive.driven) is not None:
        unit = next((u for u in build.units if u.id == driven.unit), None)
        leaves += [signals.chosen("alignment"), signals.chosen("decay"), driven.chosen("unit")]
        if unit is not None:
            part = unit.part.id if unit.part is not None else ""
            leaves += [unit.chosen("made_of"), choice_leaf(f"{unit.path}.part", "Driver", part)]
    return leaves


def _unplanned(build: Build, drive: Drive) -> TimerPlan | None:
    """The plan of a drive whose pulses, if it has any, no controller makes."""
    driven = drive.driven
    if driven is None or driven.signals.told_by == "pulses":
        return None
    if driven.signals.told_by != "timer":
        return still(driven.signals)
    made = timer_circuit.of_drive(build, driven)
    return uncounted(driven.signals, made.frequency, made.any_frequency)


def pulses(build: Build) -> PulsePlan:
    """Timetables of all controllers, and each drive's plan with the pins of its pulses."""
    plans: dict[str, TimerPlan] = {}
    tables: dict[str, Timetable] = {}
    blank = Controller(id="none")
    bind(blank, "controllers.none")
    by_id = {c.id: c for c in build.controllers}
    for controller in [*build.controllers, blank]:
        drives = [d for d in build.drives if by_id.get(d.controller, blank) is controller]
        wishes = [w for d in drives if (w := _wish(build, d, controller)) is not None]
        own = {pin for w in wishes for s, pin in w.fixed.items() if s in w.signals}
        elsewhere = {p.pin for d in drives for p in d.wiring.fixed_pins} | board_pins.taken(build, drives, controller)
        elsewhere -= own
        table = timetable(controller, wishes, elsewhere)
        if table.conflict and controller.program == IN_TURN:
            longest = {s.id: s.servo.pulse_high.value for s in build.servos}
            servos = {d.id: p for d in drives if (p := longest.get(d.id)) is not None}
            table = in_turn(controller, wishes, servos, elsewhere) or table
        tables[controller.id] = table
        open_ = {d.id: d.name or d.id for d in drives if _pulsed(d) and signals_of(d).pwm_frequency.value is None}
        for drive in drives:
            place = table.places.get(drive.id)
            others = [leaf for o in drives if o is not drive for leaf in _stands_on(build, o)]
            plan = _unplanned(build, drive) or plan_for(
                controller, signals_of(drive), place.setting if place else None, place.pins if place else None, others
            )
            plan = replace(plan, in_turn=True) if drive.id in table.turned else plan
            waits = tuple(name for id, name in open_.items() if id != drive.id)
            plans[drive.id] = replace(plan, waits_for=waits) if waits else plan
    return PulsePlan(plans, tables)
