"""The Power stage's picture: circuit and states, the map, heat by place, parts and their bill."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from ..core.algebra.quantities import phrase
from ..core.assess import DrivenAssessment
from ..core.cases.operating import Circuit
from ..core.cases.stage_result import StageResult
from ..core.design.heatmap import Grid, HeatMap, of_part, of_stage, over_air
from ..core.model.components import Mosfet
from ..core.model.stage import CIRCUITS
from ..core.stations.power_stage.circuits import CIRCUIT_STATES, PART_CIRCUITS
from . import stage_views as v
from .views import text_of


def stage(done: DrivenAssessment) -> v.StagePicture:
    """A part's heat and map; of a stage of one's own also its parts, places and bill."""
    chosen, at, built = done.chosen, done.context, done.discrete
    path = at.unit.path
    if chosen is None or done.stage.heat is None:
        return v.StagePicture(False, False, [], None, None, None, "", None, None, None, None, None, [], None, path)
    heat = done.stage.heat
    limit = chosen.part.junction_limit.value
    if built is not None:
        limits = [p.limit.value for p in built.places]
        limit = min((x for x in limits if x is not None), default=None)
    drawn = of_stage(at, built) if built is not None else of_part(at, chosen)
    return v.StagePicture(
        True,
        built is not None,
        _losses(done),
        at.build.ambient.hot.value,
        heat.junction.value,
        limit,
        text_of(heat.junction) if heat.junction.value is not None else heat.junction.reason or "not known yet",
        at.rms_current.value,
        heat.allowed_current.value,
        _circuit(done),
        _map(drawn),
        _air(done, built),
        _places(built) if built is not None else [],
        _bill(built) if built is not None else None,
        path,
    )


def _losses(done: DrivenAssessment) -> list[v.Loss]:
    heat = done.stage.heat
    assert heat is not None
    own = None if heat.fixed.value is None or heat.switching.value is None else heat.fixed.value - heat.switching.value
    other = "Diodes, recovery, capacitance" if done.discrete is not None else "Fixed drop and own current"
    shares = (("Conduction, I²R", heat.conduction.value), ("Switching", heat.switching.value), (other, own))
    return [v.Loss(label, watts, phrase(watts, "power")) for label, watts in shares if watts is not None]


def _circuit(done: DrivenAssessment) -> v.CircuitView | None:
    chosen, built, solved = done.chosen, done.discrete, done.circuit
    assert chosen is not None
    circuit = built.spec.circuit if built is not None else PART_CIRCUITS[chosen.part.kind]
    drawn = CIRCUIT_STATES[circuit]
    flows: dict[str, Any] = {
        "working": done.context.working_current,
        "braking": solved.braking if isinstance(solved, Circuit) else None,
        "shoot-through": done.stage.shoot_through,
    }
    names = {"motor": getattr(done.drive, "name", "") or "Motor"}
    if built is not None:
        number = int(built.spec.parallel.value or 1)
        times = f"{number} × " if number > 1 and isinstance(built.spec.switch, Mosfet) else ""
        if built.spec.switch is not None:
            names["switch"] = f"{times}{built.spec.switch.name}"
        if built.spec.upper is not None and circuit == "p/n bridge":
            names["upper"] = f"{times}{built.spec.upper.name}"
        if built.spec.diode is not None:
            names["diode"] = built.spec.diode.name
    else:
        names["switch"] = chosen.part.name
    states = [
        v.StateView(
            s.key,
            s.title,
            list(s.on),
            list(s.way),
            list(s.diodes),
            s.words,
            text_of(flows[s.current]) if flows.get(s.current) is not None else "",
            s.forbidden,
        )
        for s in drawn.states
    ]
    title = CIRCUITS[circuit] if built is not None else f"Inside: {CIRCUITS[circuit].split(',')[0].lower()}"
    return v.CircuitView(drawn.layout, title, names, states)


def _clean(values: Grid, places: int) -> list[Any]:
    """Numbers for the wire, rounded; what is not finite goes over the wire as nothing."""
    found: list[Any] = np.round(values, places).tolist()
    return found


def _map(drawn: HeatMap | None) -> v.MapView | None:
    if drawn is None:
        return None
    row = int(np.argmin(np.abs(drawn.frequency_hz - drawn.working_hz)))
    limit = drawn.limit_a[row]
    words = (
        f"At {phrase(drawn.working_hz, 'frequency')} the limit of {drawn.limit_c:.0f} °C is reached at {limit:.3g} A; "
        f"the working point is at {phrase(drawn.working_a, 'current')}."
        if math.isfinite(limit)
        else f"At {phrase(drawn.working_hz, 'frequency')} the limit is not reached on this map."
    )
    return v.MapView(
        _clean(drawn.current_a, 4),
        _clean(drawn.frequency_hz, 1),
        _clean(drawn.junction_c, 0),
        _clean(drawn.loss_w, 2),
        _clean(drawn.limit_a, 3),
        drawn.limit_c,
        drawn.working_a,
        drawn.working_hz,
        words,
    )


def _air(done: DrivenAssessment, built: StageResult | None) -> v.AirView | None:
    found = over_air(done.context, built) if built is not None else None
    if found is None:
        return None
    return v.AirView(
        _clean(found.air_c, 2),
        _clean(found.free_a, 3),
        _clean(found.sink_a, 3) if found.sink_a is not None else [],
        done.context.build.ambient.hot.value,
        done.context.rms_current.value,
    )


def _places(built: StageResult) -> list[v.PlaceView]:
    made = []
    for place in built.places:
        current, allowed = built.around.current.value, place.allowed.value
        made.append(
            v.PlaceView(
                place.plan.name,
                text_of(place.current),
                text_of(place.conduction),
                text_of(place.switching),
                text_of(place.heat),
                text_of(place.junction) if place.junction.value is not None else place.junction.reason,
                text_of(place.allowed),
                current / allowed if current is not None and allowed else None,
            )
        )
    return made


def _bill(built: StageResult) -> v.BillView:
    found, spec = built.materials, built.spec
    pieces = int(spec.pieces.value or 1)
    share = ((spec.board_price.value or 0.0) + (spec.delivery.value or 0.0)) / pieces
    lines = [v.LineView(x.what, x.part, x.number, text_of(x.each), text_of(x.price)) for x in found.lines]
    total = found.price.value
    return v.BillView(
        lines,
        phrase(share, "price"),
        text_of(found.price),
        pieces,
        "" if total is None else phrase(total * pieces, "price"),
    )
