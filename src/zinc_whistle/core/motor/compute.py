"""From readings to the motor's constants and its figures at a supply."""

from __future__ import annotations

import math
from collections import defaultdict
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..units import KINDS
from ..working import Constant, Figure, Leaf
from . import rules
from .spec import LockedReading, MotorSpec

TELLING_SPAN = 1.3
"""Locked currents at one angle must span this ratio before their slope tells more than their quotient."""


@dataclass(frozen=True, slots=True)
class Constants:
    """What the motor is, whatever feeds it."""

    resistance_25: Figure
    motor_constant: Figure
    friction_torque: Figure
    brush_drop: Figure
    no_load_a: Leaf
    by_slope: bool
    angles: int


@dataclass(frozen=True, slots=True)
class AtSupply:
    """The motor's figures at one supply voltage and winding temperature."""

    stall_current: Figure
    stall_torque: Figure
    no_load_speed: Figure
    best_efficiency: Figure
    best_efficiency_current: Figure
    greatest_power: Figure
    survivable_stall: Figure
    time_constant: Figure


def constants(spec: MotorSpec) -> Constants:
    """R at 25 °C, Ke, friction and brush drop from the readings; figures without value where readings lack."""
    resistances, drops = _by_angle(spec)
    members = spec.members("locked")
    because = [members, spec.chosen("volts_read_at")]
    leads: Any = spec.lead_resistance.leaf if spec.volts_read_at == "leads" else NO_LEADS
    measured = rules.measured_resistance(
        resistances or [_no_readings(spec)], leads, _spread(spec, resistances), because=because
    )
    drop = (
        rules.brush_drop(drops, because=[members]) if drops else rules.no_brush_drop(rules.NO_VOLTS, because=[members])
    )
    at_25 = rules.resistance_at_25(measured, spec.locked_temperature.leaf)
    at_no_load = rules.resistance_at(at_25, spec.no_load_temperature.leaf, case="no-load test")
    constant = rules.motor_constant(spec.no_load_v.leaf, spec.no_load_a.leaf, at_no_load, drop, spec.no_load_speed.leaf)
    friction = rules.friction_torque(constant, spec.no_load_a.leaf)
    return Constants(at_25, constant, friction, drop, spec.no_load_a.leaf, bool(drops), len(resistances))


NO_LEADS = Constant("0 Ω", 0.0, "resistance")


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
        angles = [Leaf(r.angle.leaf.id, r.angle.leaf.title, r.angle.leaf.kind, r.angle.value,
                       choice=r.angle.leaf.token) for r in rows]  # fmt: skip
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
        f"{spec.path}.locked.spread", "Spread over shaft angles", KINDS["resistance"], 0.0,
        origin="measured" if doubt is not None else "assumed", doubt=doubt,
    )  # fmt: skip


def at_supply(spec: MotorSpec, known: Constants, supply_v: Any, case: str) -> AtSupply:
    """The figures that a data sheet would give, at a supply and with the winding at 25 °C.

    How long a stall is survived counts from the winding's temperature at work.
    """
    r = known.resistance_25
    i_0, drop, k_e = known.no_load_a, known.brush_drop, known.motor_constant
    stall = rules.stall_current(supply_v, drop, r, case=case)
    return AtSupply(
        stall_current=stall,
        stall_torque=rules.stall_torque(k_e, stall, i_0, case=case),
        no_load_speed=rules.no_load_speed(supply_v, drop, i_0, r, k_e, case=case),
        best_efficiency=rules.best_efficiency(supply_v, drop, i_0, stall, case=case),
        best_efficiency_current=rules.best_efficiency_current(i_0, stall, case=case),
        greatest_power=rules.greatest_power(r, stall, i_0, case=case),
        survivable_stall=rules.survivable_stall(
            spec.winding_copper.leaf, spec.winding_limit.leaf, spec.winding_hot.leaf, stall, r, case=case
        ),
        time_constant=rules.mechanical_time_constant(r, spec.rotor_inertia.leaf, k_e, case=case),
    )


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
    i_0, stall, k_e = known.no_load_a.value, at.stall_current.value, known.motor_constant.value
    drop, no_load = known.brush_drop.value, at.no_load_speed.value
    if None in (i_0, stall, k_e, drop, no_load, supply_v):
        return None
    assert i_0 is not None and stall is not None and k_e is not None and drop is not None and supply_v is not None
    if stall <= i_0 or k_e <= 0:
        return None
    current = np.linspace(i_0, stall, points)
    torque = np.asarray(rules.torque_at.bare(k_e, current, i_0))
    speed = np.asarray(rules.speed_at.bare(supply_v, drop, current, (supply_v - drop) / stall, k_e))
    power = torque * speed
    return Curve(
        torque.tolist(),
        speed.tolist(),
        current.tolist(),
        power.tolist(),
        (power / (supply_v * current)).tolist(),
    )
