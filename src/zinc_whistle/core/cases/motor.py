"""From what is known of a motor to its constants, and to its figures at a supply."""

from __future__ import annotations

import math
from collections import defaultdict
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any, cast

import numpy as np

from ..algebra.nodes import Constant, Figure, Leaf, Node, presence
from ..algebra.units import KINDS
from ..laws import motor as rules
from ..laws.nothing import NO_OHMS, NO_VOLTS
from ..model.given import bind
from ..model.motor import LockedReading, MotorPart, MotorSpec
from . import frame
from .motor_sheet import Way, solve

MOST_KEPT = 2000
TELLING_SPAN = 1.3
"""Locked currents at one angle must span this ratio before their slope tells more than their quotient."""


@dataclass(frozen=True, slots=True)
class Constants:
    """What the motor is, whatever feeds it. ``friction_a`` is the current that constant friction takes."""

    resistance_25: Figure
    motor_constant: Figure
    friction_a: Figure
    viscous: Figure
    friction_torque: Figure
    brush_drop: Node
    inductance: Figure
    rotor_inertia: Figure
    by_slope: bool
    angles: int
    two_points: bool
    resistance_ways: tuple[Way, ...] = ()
    constant_ways: tuple[Way, ...] = ()
    contradicts: bool = False
    """Whether the figures given make a motor that cannot be; its constants then count as not known."""


@dataclass(frozen=True, slots=True)
class AtSupply:
    """The motor's figures at one supply voltage and winding temperature."""

    stall_current: Figure
    stall_torque: Figure
    no_load_speed: Figure
    no_load_a: Figure
    best_efficiency: Figure
    best_efficiency_current: Figure
    greatest_power: Figure
    survivable_stall: Figure
    time_constant: Figure
    rated_a: Figure


@dataclass(frozen=True, slots=True)
class _Core:
    resistance: Figure
    constant: Figure
    friction_a: Figure
    viscous: Figure
    drop: Node
    by_slope: bool = True
    angles: int = 0
    two_points: bool = False
    resistance_ways: tuple[Way, ...] = ()
    constant_ways: tuple[Way, ...] = ()
    contradicts: bool = False


@lru_cache(maxsize=MOST_KEPT)
def _constants_of(motor: str) -> Constants:
    # By what the motor says, not by which object says it: a shelf that is read anew gives new objects.
    spec = MotorSpec.model_validate_json(motor)
    bind(spec, "shelf.motor")
    return constants(spec)


def constants_of(part: MotorPart) -> Constants:
    """The constants of a shelf motor, worked out once for each that is different."""
    return _constants_of(part.motor.model_dump_json())


def constants(spec: MotorSpec) -> Constants:
    """R at 25 °C, Ke, friction, L and J, by the way the builder knows the motor; no values where figures lack."""
    core = {"readings": _from_readings, "data sheet": _from_sheet, "spin-up": _from_capture}[spec.known_by](spec)
    core = _agreeing(core, [spec.chosen("known_by")])
    torque = rules.friction_torque(core.constant, core.friction_a, because=[spec.chosen("known_by")])
    return Constants(
        resistance_25=core.resistance,
        motor_constant=core.constant,
        friction_a=core.friction_a,
        viscous=core.viscous,
        friction_torque=torque,
        brush_drop=core.drop,
        inductance=_inductance(spec, core.resistance),
        rotor_inertia=_inertia(spec, core, torque),
        by_slope=core.by_slope,
        angles=core.angles,
        two_points=core.two_points,
        resistance_ways=core.resistance_ways,
        constant_ways=core.constant_ways,
        contradicts=core.contradicts,
    )


def _agreeing(core: _Core, because: list[Leaf]) -> _Core:
    """Constants of a motor that can be; where the figures given contradict one another, constants not known yet."""

    def of(figure: Figure, law: Any) -> Figure:
        if figure.value is None or figure.value > 0:
            return figure
        words = f"figures that agree: these make the {figure.title[:1].lower()}{figure.title[1:]} nothing or less"
        return cast(Figure, law(Leaf(f"{figure.id}.agreeing", words, figure.kind, None), because=because))

    if all(f.value is None or f.value > 0 for f in (core.resistance, core.constant)):
        return core
    return replace(
        core,
        contradicts=True,
        resistance=of(core.resistance, rules.told_resistance),
        constant=of(core.constant, rules.fitted_constant),
    )


def _from_readings(spec: MotorSpec) -> _Core:
    resistances, drops = _by_angle(spec)
    members = spec.members("locked")
    because = [members, spec.chosen("volts_read_at"), spec.chosen("known_by")]
    leads: Node = spec.lead_resistance.leaf if spec.volts_read_at == "leads" else NO_OHMS
    measured = rules.measured_resistance(
        resistances or [_no_readings(spec)], leads, _spread(spec, resistances), because=because
    )
    drop = rules.brush_drop(drops, because=[members]) if drops else rules.no_brush_drop(NO_VOLTS, because=[members])
    at_25 = rules.resistance_at_25(measured, spec.locked_temperature.leaf, because=[spec.chosen("known_by")])
    at_no_load = rules.resistance_at(at_25, spec.no_load_temperature.leaf, case="no-load test")
    constant = rules.motor_constant(
        spec.no_load_v.leaf,
        spec.no_load_a.leaf,
        at_no_load,
        drop,
        spec.no_load_speed.leaf,
        because=[spec.chosen("known_by")],
    )
    friction, viscous, two = _frictions(spec, constant, at_no_load, drop)
    return _Core(
        at_25,
        constant=constant,
        friction_a=friction,
        viscous=viscous,
        drop=drop,
        by_slope=bool(drops),
        angles=len(resistances),
        two_points=two,
    )


def _frictions(spec: MotorSpec, constant: Figure, ohms: Figure, drop: Figure) -> tuple[Figure, Figure, bool]:
    """Constant friction as a current, and viscous friction, from one no-load test or from two."""
    because = [presence(spec.second_v.leaf), presence(spec.second_a.leaf), spec.chosen("known_by")]
    amperes = spec.no_load_a.leaf
    if spec.second_v.value is None or spec.second_a.value is None:
        return (
            rules.all_constant_friction(amperes, because=because),
            rules.no_viscous_friction(rules.NO_VISCOUS, because=because),
            False,
        )
    first = rules.back_emf(spec.no_load_v.leaf, amperes, ohms, drop, case="first")
    second = rules.back_emf(spec.second_v.leaf, spec.second_a.leaf, ohms, drop, case="second")
    pair = (amperes, first, spec.second_a.leaf, second)
    return (
        rules.constant_friction(*pair, because=because),
        rules.viscous_friction(constant, *pair, because=because),
        True,
    )


def _from_sheet(spec: MotorSpec) -> _Core:
    found = solve(spec.sheet)
    because = [spec.chosen("known_by")]
    return _Core(
        found.resistance,
        found.constant,
        rules.all_constant_friction(found.no_load_a, because=because),
        rules.no_viscous_friction(rules.NO_VISCOUS, because=because),
        spec.sheet.brush_drop.leaf,
        resistance_ways=found.resistance_ways,
        constant_ways=found.constant_ways,
    )


def _from_capture(spec: MotorSpec) -> _Core:
    fit = spec.fitted
    because = [spec.chosen("known_by")]
    at_25 = rules.resistance_at_25(fit.resistance.leaf, fit.temperature.leaf, because=because)
    constant = rules.fitted_constant(fit.constant.leaf, because=because)
    friction = rules.current_of_friction(fit.friction.leaf, constant, because=because)
    viscous = rules.no_viscous_friction(fit.viscous.leaf, because=because)
    return _Core(at_25, constant, friction, viscous, fit.brush_drop.leaf)


def _inductance(spec: MotorSpec, resistance: Figure) -> Figure:
    because = [spec.chosen("inductance_by")]
    if spec.inductance_by == "frame":
        return frame.inductance(spec, resistance)
    if spec.inductance_by == "time constant":
        return rules.inductance_from_time(spec.electrical_time.leaf, resistance, because=because)
    return rules.inductance_given(spec.inductance.leaf, because=because)


def _inertia(spec: MotorSpec, core: _Core, friction: Figure) -> Figure:
    because = [spec.chosen("inertia_by")]
    if spec.inertia_by == "frame":
        return frame.rotor_inertia(spec)
    if spec.inertia_by == "time constant":
        return rules.inertia_from_time(
            spec.mechanical_time.leaf, core.resistance, core.constant, core.viscous, because=because
        )
    if spec.inertia_by == "coast-down":
        if core.viscous.value:
            return rules.inertia_from_viscous_coasting(
                friction, core.viscous, spec.coast_time.leaf, spec.coast_speed.leaf, because=because
            )
        return rules.inertia_from_coasting(friction, spec.coast_time.leaf, spec.coast_speed.leaf, because=because)
    return rules.inertia_given(spec.rotor_inertia.leaf, because=because)


def _no_readings(spec: MotorSpec) -> Leaf:
    """Stands for the readings when none is complete, so that the figure says what to give."""
    return Leaf(f"{spec.path}.locked", "Locked rotor readings", KINDS["resistance"], None, origin="assumed")


def _complete(row: LockedReading) -> bool:
    return row.voltage.value is not None and row.current.value is not None


def _by_angle(spec: MotorSpec) -> tuple[list[Figure], list[Figure]]:
    groups: dict[float, list[LockedReading]] = defaultdict(list)
    for row in spec.locked:
        if _complete(row):
            groups[round(row.angle.value or 0.0, 6)].append(row)
    resistances: list[Figure] = []
    drops: list[Figure] = []
    sloped = bool(groups) and all(_telling(rows) for rows in groups.values())
    for angle, rows in groups.items():
        case = f"{math.degrees(angle):.0f}°"
        angles = [
            Leaf(r.angle.leaf.id, r.angle.leaf.title, r.angle.leaf.kind, r.angle.value, choice=r.angle.leaf.token)
            for r in rows
        ]
        volts, amperes = [r.voltage.leaf for r in rows], [r.current.leaf for r in rows]
        if sloped:
            resistances.append(rules.slope_resistance(volts, amperes, case=case, because=angles))
            drops.append(rules.slope_intercept(volts, amperes, case=case, because=angles))
        else:
            resistances += [
                rules.row_resistance(v, i, case=case, because=angles) for v, i in zip(volts, amperes, strict=True)
            ]
    return resistances, drops


def _telling(rows: list[LockedReading]) -> bool:
    currents = [r.current.value for r in rows if r.current.value]
    return len(currents) >= 2 and max(currents) / min(currents) >= TELLING_SPAN


def _spread(spec: MotorSpec, resistances: list[Figure]) -> Leaf:
    """A correction of zero whose doubt is the standard error over shaft angles (JCGM 100:2008, 4.2.3)."""
    values = [r.value for r in resistances if r.value is not None]
    doubt = float(np.std(values, ddof=1) / math.sqrt(len(values))) if len(values) >= 2 else None
    return Leaf(
        f"{spec.path}.locked.spread",
        "Spread over shaft angles",
        KINDS["resistance"],
        0.0,
        origin="measured" if doubt is not None else "assumed",
        doubt=doubt,
    )


def at_supply(spec: MotorSpec, known: Constants, supply_v: Any, case: str) -> AtSupply:
    """The figures that a data sheet would give, at a supply and with the winding at 25 °C.

    How long a stall is survived counts from the winding's temperature at work.
    """
    r, friction, b = known.resistance_25, known.friction_a, known.viscous
    drop, k_e = known.brush_drop, known.motor_constant
    stall = rules.stall_current(supply_v, drop, r, case=case)
    free = rules.no_load_speed(V=supply_v, V_b=drop, I_c=friction, R=r, K_e=k_e, b=b, case=case)
    if known.viscous.value:
        pair = (supply_v, drop, friction, stall, k_e, b)
        best, best_current = (
            rules.searched_best_efficiency(*pair, case=case),
            rules.searched_best_current(*pair, case=case),
        )
        best.title, best_current.title = "Best efficiency", "Current at best efficiency"
    else:
        best = rules.best_efficiency(supply_v, drop, friction, stall, case=case)
        best_current = rules.best_efficiency_current(friction, stall, case=case)
    return AtSupply(
        stall_current=stall,
        stall_torque=rules.stall_torque(k_e, stall, friction, case=case),
        no_load_speed=free,
        no_load_a=rules.friction_current(friction, b, k_e, free, case=case, title="No-load current"),
        best_efficiency=best,
        best_efficiency_current=best_current,
        greatest_power=rules.greatest_power(r, stall, friction, k_e, b, case=case),
        survivable_stall=rules.survivable_stall(
            frame.copper(spec), spec.winding_limit.leaf, spec.winding_hot.leaf, stall, r, case=case
        ),
        time_constant=rules.mechanical_time_constant(r, known.rotor_inertia, k_e, case=case),
        rated_a=rules.winding_allowed(
            spec.winding_limit.leaf, ROOM, r, frame.to_housing(spec), frame.to_air(spec), case="25 °C air"
        ),
    )


ROOM = Constant("25 °C", 25.0, "temperature")


@dataclass(frozen=True, slots=True)
class Curve:
    """The motor's curves over shaft torque, in SI units; all lists have the same length."""

    torque_nm: list[float]
    speed_rad_s: list[float]
    current_a: list[float]
    power_w: list[float]
    efficiency: list[float]


def curve(known: Constants, supply_v: float | None, at: AtSupply, points: int = 81) -> Curve | None:
    """Speed, current, power and efficiency from no load to stall; None until the motor is known."""
    i_0, stall, k_e = at.no_load_a.value, at.stall_current.value, known.motor_constant.value
    friction, b = known.friction_a.value, known.viscous.value
    drop = known.brush_drop.value
    if None in (i_0, stall, k_e, drop, friction, b, supply_v):
        return None
    assert i_0 is not None and stall is not None and k_e is not None and drop is not None and supply_v is not None
    if stall <= i_0 or k_e <= 0:
        return None
    current = np.linspace(i_0, stall, points)
    speed = np.asarray(rules.speed_at.bare(supply_v, drop, current, (supply_v - drop) / stall, k_e))
    torque = np.asarray(rules.torque_at.bare(k_e, current, rules.friction_current.bare(friction, b, k_e, speed)))
    power = torque * speed
    return Curve(
        torque.tolist(),
        speed.tolist(),
        current.tolist(),
        power.tolist(),
        (power / (supply_v * current)).tolist(),
    )
