"""The map: junction and loss over motor current and PWM frequency, from the very rules of the stage."""

from __future__ import annotations

from dataclasses import dataclass, fields, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..algebra.evaluators import plain
from ..algebra.nodes import number
from ..cases import arrange
from ..cases.arrange import Cooling, Device, PlaceHeat, Surround, Times
from ..cases.operating import DriveContext
from ..cases.stage_parts import device_of, fits
from ..cases.stage_result import StageResult
from ..laws import driver as driver_rules
from ..stations.driver.candidates import Candidate

COLUMNS, ROWS = 120, 80
Grid = NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class HeatMap:
    """``junction_c`` and ``loss_w`` have shape (rows, columns): frequency down, current across; nan where it runs away.

    ``limit_a``: at each frequency the current at which the first junction reaches its limit, nan where none does on
    the map. SI units (°C for temperatures).
    """

    current_a: Grid
    frequency_hz: Grid
    junction_c: Grid
    loss_w: Grid
    limit_a: Grid
    limit_c: float
    working_a: float
    working_hz: float


def bare(held: Any) -> Any:
    """A record of nodes as the same record of numbers; nan for what is not known."""
    changed = {}
    for item in fields(held):
        node = getattr(held, item.name)
        if hasattr(node, "value"):
            changed[item.name] = number(node)
    return replace(held, **changed)


def _axes(working_a: float, allowed_a: float | None, working_hz: float, columns: int, rows: int) -> tuple[Grid, Grid]:
    most = 1.35 * max(working_a, min(allowed_a or 0.0, 12 * working_a), 0.5)
    low = min(500.0, working_hz / 4)
    high = max(100e3, working_hz * 3)
    return np.linspace(most / columns, most, columns), np.geomspace(low, high, rows)


def _limits(current: Grid, junction: Grid, limit: float) -> Grid:
    """Where each row crosses the limit, between the columns; nan where it does not."""
    found = np.full(len(junction), np.nan)
    for row, temperatures in enumerate(junction):
        beyond = np.flatnonzero(~(temperatures <= limit))
        if not beyond.size:
            continue
        at = int(beyond[0])
        if at == 0 or not np.isfinite(temperatures[at]):
            found[row] = current[max(at - 1, 0)]
            continue
        low, high = temperatures[at - 1], temperatures[at]
        found[row] = current[at - 1] + (limit - low) / (high - low) * (current[at] - current[at - 1])
    return found


def stage_places(result: StageResult, around: Surround) -> list[PlaceHeat]:
    """Every place of a stage on plain numbers or arrays of current and frequency."""
    stage = result.spec
    part = stage.switch if fits(stage) else None
    devices: dict[bool, Device] = {
        False: bare(device_of(stage, part, gate_v=result.gate_low)),
        True: bare(device_of(stage, stage.upper, "upper")),
    }
    times: dict[bool, Times] = {False: bare(result.times), True: bare(result.upper_times)}
    sigma = number(result.sigma)
    return [
        arrange.place_heat(
            plain,
            plan=p.plan,
            device=devices[p.plan.upper],
            times=times[p.plan.upper],
            way=p.way.value,
            around=around,
            sigma=sigma,
        )
        for p in result.places
    ]


def of_stage(at: DriveContext, result: StageResult, columns: int = COLUMNS, rows: int = ROWS) -> HeatMap | None:
    """The map of a discrete stage; None until everything is known."""
    working, frequency = result.around.current.value, at.plan.frequency.value
    known = [result.duty.value, result.sigma.value, at.volts.full.value, at.board_hot.value, frequency, working]
    limits = [p.junction for p in result.places]
    if None in known or not frequency or not working or any(x.value is None and not x.reason for x in limits):
        return None
    allowed = result.busiest.allowed.value
    current, frequencies = _axes(working, allowed, frequency, columns, rows)
    stage = result.spec
    around = Surround(
        air=at.board_hot.value,
        bus=at.volts.full.value,
        current=current[None, :],
        frequency=frequencies[:, None],
        duty=result.duty.value,
        dead_time=result.around.dead_time.value,
        recovery=result.around.recovery.value,
    )
    side_by_side = number(result.number)
    junction, loss = np.full((rows, columns), -np.inf), np.zeros((rows, columns))
    device = device_of(stage, stage.switch if fits(stage) else None)
    upper = device_of(stage, stage.upper, "upper")
    limit_c = min(number(d.limit) for d in (device, *([upper] if stage.circuit == "p/n bridge" else [])))
    for place in stage_places(result, around):
        here = np.broadcast_to(place.junction, junction.shape)
        junction = np.where(np.isnan(here) | np.isnan(junction), np.nan, np.maximum(junction, here))
        loss = loss + np.broadcast_to(place.heat, loss.shape) * side_by_side
    return HeatMap(
        current_a=current,
        frequency_hz=frequencies,
        junction_c=junction,
        loss_w=loss,
        limit_a=_limits(current, junction, limit_c),
        limit_c=limit_c,
        working_a=working,
        working_hz=frequency,
    )


def of_part(at: DriveContext, chosen: Candidate, columns: int = COLUMNS, rows: int = ROWS) -> HeatMap | None:
    """The map of an integrated driver; None until everything is known. Other drives on the part are left out."""
    part, working, frequency = chosen.part, chosen.heat.current.value, at.plan.frequency.value
    named = (
        part.thermal_resistance,
        part.on_resistance,
        part.hot_factor,
        part.junction_limit,
        part.drop_v,
        part.switching_time,
        part.quiescent_a,
    )
    values = [g.value for g in named]
    air, bus, joined = at.board_hot.value, at.volts.full.value, at.drive.joined.value
    if not working or not frequency or None in values or air is None or bus is None or not joined:
        return None
    r_th, r_on, factor, limit, drop, time, own = (float(v or 0.0) for v in values)
    current, frequencies = _axes(working, chosen.heat.allowed_current.value, frequency, columns, rows)
    across, down = current[None, :], frequencies[:, None]
    fixed = driver_rules.fixed_heat.bare(drop, across, bus, time, down, own)
    junction = plain(driver_rules.junction_temperature, air, r_th, across, r_on / joined, factor, limit, fixed)
    loss = driver_rules.conduction_loss.bare(across, r_on / joined, factor, junction, limit) + fixed
    return HeatMap(
        current_a=current,
        frequency_hz=frequencies,
        junction_c=junction,
        loss_w=loss,
        limit_a=_limits(current, junction, limit),
        limit_c=limit,
        working_a=working,
        working_hz=frequency,
    )


@dataclass(frozen=True, slots=True)
class OverAir:
    """Motor current that the stage's heat allows over the air's temperature, free and on its sink (A over °C)."""

    air_c: Grid
    free_a: Grid
    sink_a: Grid | None


def over_air(at: DriveContext, result: StageResult, points: int = 41) -> OverAir | None:
    """The allowed current against the air, with and without the heat sink; None until everything is known."""
    limits = [p.allowed for p in result.places]
    if any(x.value is None for x in limits):
        return None
    stage = result.spec
    part = stage.switch if fits(stage) else None
    limit = min(number(device_of(stage, part).limit), 150.0)
    air = np.linspace(0.0, limit, points)
    around = replace(bare(result.around), air=air)

    def allowed(cooling: Cooling) -> Grid:
        found = np.full(points, np.inf)
        for place in result.places:
            device = bare(
                device_of(stage, stage.upper, "upper")
                if place.plan.upper
                else device_of(stage, part, gate_v=result.gate_low)
            )
            times = bare(result.upper_times if place.plan.upper else result.times)
            way = arrange.thermal_way(plain, device, cooling)
            with np.errstate(invalid="ignore"):
                here = arrange.place_heat(
                    plain,
                    plan=place.plan,
                    device=device,
                    times=times,
                    way=way,
                    around=around,
                    sigma=number(result.sigma),
                )
            found = np.minimum(found, np.where(np.isfinite(here.allowed), np.maximum(here.allowed, 0.0), 0.0))
        return found

    sink = stage.heat_sink
    on_sink = None
    if sink is not None and sink.to_air.value is not None and stage.pad.value is not None:
        on_sink = allowed(Cooling(sink.to_air.value, stage.pad.value, number(result.count)))
    return OverAir(air, allowed(Cooling()), on_sink)
