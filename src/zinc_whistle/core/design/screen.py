"""A first look at a long shelf: every part's order of merit on arrays, by the rules that its full working uses.

Tracing a part costs about a millisecond, the arrays a few microseconds; so of a long shelf only the parts that come
first here are worked out in full, and those are then ranked by their full working.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..algebra.doubt import doubt_of
from ..algebra.evaluators import plain as k
from ..algebra.findings import LEAST_RELATIVE, MARGIN_CAP
from ..cases.driving import channels_of
from ..cases.operating import Context
from ..laws import driver as rules
from ..laws import supply as supply_rules
from ..model.driver import ONE_SWITCH, DriverPart
from ..stations.driver.candidates import Candidate

WARNS = ("driver.sense",)
"""Checks that warn and do not stop."""
Grid = NDArray[np.float64]


def _number(node: Any) -> float:
    return math.nan if node.value is None else float(node.value)


def order(at: Context, parts: Sequence[DriverPart], reference: Candidate) -> list[int]:
    """Places of the parts, best first: no stop, then the least sure destructive margin, then speed, then price.

    How sure each margin is comes from ``reference``, a part worked out in full: the doubt of a stress is the motor's
    and the supply's, and hardly the part's.
    """
    column = _Columns(parts)
    solved = _circuit(at, column)
    uses, stopped = _uses(at, column, solved), _abilities(at, parts)
    relative = {c.code: max(_relative(c), LEAST_RELATIVE) for c in reference.checks if c.use is not None}
    surety = np.full(len(parts), MARGIN_CAP)
    stops = stopped.astype(float)
    for code, (use, destructive) in uses.items():
        use = np.broadcast_to(use, len(parts))
        with np.errstate(divide="ignore", invalid="ignore"):
            z = np.where(use > 0, np.log(1 / use) / relative.get(code, LEAST_RELATIVE), MARGIN_CAP)
        if code not in WARNS:
            stops += (use > 1) | (use < 0)
        if destructive:
            surety = np.fmin(surety, np.clip(z, -MARGIN_CAP, MARGIN_CAP))
    speed = np.round(np.nan_to_num(np.broadcast_to(solved.delivered_flat, len(parts))), 0)
    price = np.nan_to_num(column["price"])
    bad = stops > 0
    second = np.where(bad, stops, -np.round(surety, 1))
    return [int(i) for i in np.lexsort((price, -speed, second, bad))]


def _relative(check: Any) -> float:
    return (doubt_of(check.use).standard or 0.0) / check.used if check.used else 0.0


class _Columns:
    """One figure of every part, as an array; nan where it is not given."""

    def __init__(self, parts: Sequence[DriverPart]) -> None:
        self.parts = parts

    def __getitem__(self, name: str) -> Grid:
        values = [getattr(p, name).value for p in self.parts]
        return np.array([math.nan if v is None else v for v in values], dtype=float)


@dataclass(frozen=True, slots=True)
class _Solved:
    """What the checks need of the motor's circuit with each part in it."""

    stall_full: Any
    peak: Any
    planned_peak: Any
    delivered_flat: Any


def _circuit(at: Context, column: _Columns) -> _Solved:
    cold = k(rules.joined_resistance, column["on_resistance"], _number(at.drive.joined))
    hot, drop = k(rules.hot_resistance, cold, column["hot_factor"]), column["drop_v"]
    full, flat, brush = (_number(x) for x in (at.volts.full, at.volts.flat, at.motor.brush_drop))
    feed = [_number(at.volts.resistance), _number(at.supply_wire.resistance)]
    leads, k_e, working = (_number(x) for x in (at.motor_wire.resistance, at.motor.motor_constant, at.working_current))
    winding = _number(at.winding_cold)
    cold_loop = k(rules.loop_resistance, *feed, cold, leads, winding)
    hot_loop = k(rules.loop_resistance, *feed, hot, leads, _number(at.winding_hot))
    stall = k(rules.stall_in_circuit, full, drop, brush, cold_loop)
    top_full = k(rules.top_speed, full, drop, brush, working, cold_loop, k_e)
    shorted = k(rules.loop_resistance, 0.0, 0.0, cold, leads, winding)
    braking = k(rules.braking_in_circuit, k_e, _number(at.load.motor_speed), drop, brush, shorted)
    signals, limit = at.drive.signals, at.unit.current_limit.value
    peak = planned = stall
    if signals.reversal == "slammed":
        peak = np.maximum(stall, k(rules.reversal_in_circuit, full, drop, brush, cold_loop, k_e, top_full))
    elif signals.braking == "brake":
        peak = np.maximum(stall, braking)
    starting = _number(at.starting_current)
    first = starting if signals.soft_start == "yes" else stall
    planned = np.maximum(np.maximum(first, starting if limit is None else limit), _number(at.load.peak_current))
    if signals.braking == "brake":
        planned = np.maximum(planned, braking)
    return _Solved(stall, peak, planned, k(rules.top_speed, flat, drop, brush, working, hot_loop, k_e))


def _uses(at: Context, column: _Columns, solved: _Solved) -> dict[str, tuple[Any, bool]]:
    joined, rms = _number(at.drive.joined), _number(at.rms_current)
    full = _number(at.volts.full)
    continuous = k(rules.joined_current, column["continuous_a"], joined)
    peak = k(rules.joined_current, column["peak_a"], joined)
    school = at.build.schools.sizing
    wanted = solved.stall_full if school == "stall" else k(rules.with_headroom, rms)
    highest = np.full(len(column.parts), full)
    if at.source.sinks == "no" and at.unit.bulk_capacitance.value is not None:
        risen = k(supply_rules.risen_voltage, full, _number(at.stored_energy), _number(at.unit.bulk_capacitance))
        highest = np.where([p.kind in ONE_SWITCH for p in column.parts], full, risen)
    hot = k(rules.hot_resistance, k(rules.joined_resistance, column["on_resistance"], joined), column["hot_factor"])
    bus = k(
        supply_rules.loaded_voltage, _number(at.volts.flat), _number(at.working_current), _number(at.feed_resistance)
    )
    return {
        "driver.volts_high": (full / column["v_max"], True),
        "driver.volts_low": (column["v_min"] / bus, False),
        "driver.volts_absolute": (highest / column["v_absolute"], True),
        "driver.continuous": (wanted / continuous, True),
        "driver.peak": ((solved.planned_peak if school == "limited" else solved.peak) / peak, True),
        "driver.heat": (rms / _allowed(at, column, hot, full), True),
        "driver.pwm": (_number(at.plan.frequency) / column["pwm_limit"], True),
        "driver.logic": (column["input_high"] / _number(at.controller.output_high), False),
        "driver.pin": (column["input_current"] / _number(at.controller.pin_current), True),
        "driver.sense": (
            k(rules.sense_volts, column["sense_gain"], solved.peak) / _number(at.controller.sense_reference),
            True,
        ),
        "driver.speed": (_number(at.load.motor_speed) / solved.delivered_flat, False),
    }


def _allowed(at: Context, column: _Columns, hot: Any, full: float) -> Any:
    """The current that the heat allows, other drives on the part counted as in its full working."""
    pace, time, drop = _number(at.plan.frequency), column["switching_time"], column["drop_v"]
    left = k(
        rules.heat_allowed,
        column["junction_limit"],
        _number(at.build.ambient.hot),
        column["thermal_resistance"],
        full,
        column["quiescent_a"],
    )
    for other in at.sharing:
        lost = k(rules.linear_loss, drop, full, time, _number(other.plan.frequency))
        left = k(rules.heat_left, left, k(rules.heat_at_limit, _number(other.rms_current), lost, hot))
    with np.errstate(invalid="ignore", divide="ignore"):
        found = k(rules.current_allowed, left, k(rules.linear_loss, drop, full, time, pace), hot)
    return np.where(left > 0, found, -1.0)


def _abilities(at: Context, parts: Sequence[DriverPart]) -> NDArray[np.int64]:
    """How many yes-or-no checks each part fails."""
    signals, own = at.drive.signals, channels_of(at)
    taken = any(own and (theirs := channels_of(o)) and set(own) & set(theirs) for o in at.sharing)

    def failed(part: DriverPart) -> int:
        most = part.channels.value
        few = own is not None and most is not None and (own.stop - 1 > most or (len(own) > 1 and part.joins == "no"))
        return sum(
            (
                bool(taken or few),
                signals.reversal != "one way" and part.reverses == "no",
                signals.braking == "brake" and part.brakes == "no",
                part.diodes == "no" and at.unit.flyback == "none",
            )
        )

    return np.array([failed(p) for p in parts])
