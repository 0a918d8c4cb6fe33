"""Power stage: the circuit with its current, the map of heat, losses, places and materials."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np

from ..core.algebra.quantities import phrase
from ..core.assess import DrivenAssessment
from ..core.cases.stage_result import StageResult
from ..core.design.heatmap import Grid, HeatMap, of_part, of_stage, over_air
from ..core.model.stage import DIODE_CIRCUITS
from ..core.model.transistors import Mosfet
from .circuit_view import CircuitView, circuit_view
from .fields import Describer, Section
from .inputs import Inputs, Shown, StationSheet, shown
from .stage_fields import own_stage
from .views import text_of


@dataclass(frozen=True, slots=True, kw_only=True)
class Loss:
    """One share of the heat, or of the energy."""

    label: str
    watts: float
    text: str


@dataclass(frozen=True, slots=True, kw_only=True)
class MapView:
    """Junction (°C) and loss (W) by row of frequency (Hz) and column of current (A); empty where it runs away."""

    current_a: list[float]
    frequency_hz: list[float]
    junction_c: list[list[float | None]]
    loss_w: list[list[float | None]]
    limit_a: list[float | None]
    limit_c: float
    working_a: float
    working_hz: float
    words: str


@dataclass(frozen=True, slots=True, kw_only=True)
class AirView:
    """Motor current that the heat allows over the air's temperature, free and on the sink."""

    air_c: list[float]
    free_a: list[float]
    sink_a: list[float]
    hot_c: float | None
    working_a: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class PlaceView:
    """One place of the circuit: its busiest transistor's share, losses and junction."""

    name: str
    current: str
    conduction: str
    switching: str
    heat: str
    junction: str
    allowed: str
    use: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class LineView:
    """One line of the bill of materials."""

    what: str
    part: str
    number: int
    each: str
    price: str


@dataclass(frozen=True, slots=True, kw_only=True)
class BillView:
    """The bill of materials: lines, boards, one piece, all pieces."""

    lines: list[LineView]
    board: str
    piece: str
    pieces: int
    all: str


@dataclass(frozen=True, slots=True, kw_only=True)
class StagePicture:
    """Losses, the junction between air and limit (°C), junction over current (A); of a stage of one's own all the
    rest."""

    built_in: bool
    own: bool
    losses: list[Loss]
    air_c: float | None
    junction_c: float | None
    limit_c: float | None
    junction_text: str
    working_a: float | None
    allowed_a: float | None
    circuit: CircuitView | None
    map: MapView | None
    air: AirView | None
    places: list[PlaceView]
    bill: BillView | None
    unit_path: str
    kind: Literal["stage"] = "stage"


def stage(done: DrivenAssessment) -> StagePicture:
    """A part's heat and map; of a stage of one's own also its parts, places and bill."""
    chosen, at, built = done.chosen, done.context, done.discrete
    path = at.unit.path
    if chosen is None or done.stage.heat is None:
        return StagePicture(
            built_in=False,
            own=False,
            losses=[],
            air_c=None,
            junction_c=None,
            limit_c=None,
            junction_text="",
            working_a=None,
            allowed_a=None,
            circuit=None,
            map=None,
            air=None,
            places=[],
            bill=None,
            unit_path=path,
        )
    heat = done.stage.heat
    limit = chosen.part.junction_limit.value
    if built is not None:
        limits = [p.limit.value for p in built.places]
        limit = min((x for x in limits if x is not None), default=None)
    drawn = of_stage(at, built) if built is not None else of_part(at, chosen)
    return StagePicture(
        built_in=True,
        own=built is not None,
        losses=_losses(done),
        air_c=at.build.ambient.hot.value,
        junction_c=heat.junction.value,
        limit_c=limit,
        junction_text=text_of(heat.junction)
        if heat.junction.value is not None
        else heat.junction.reason or "not known yet",
        working_a=heat.current.value,
        allowed_a=heat.allowed_current.value,
        circuit=circuit_view(done),
        map=_map(drawn),
        air=_air(done, built),
        places=_places(built) if built is not None else [],
        bill=_bill(built) if built is not None else None,
        unit_path=path,
    )


def _losses(done: DrivenAssessment) -> list[Loss]:
    heat = done.stage.heat
    assert heat is not None
    own = None if heat.fixed.value is None or heat.switching.value is None else heat.fixed.value - heat.switching.value
    other = "Diodes, recovery, capacitance" if done.discrete is not None else "Fixed drop and own current"
    shares = (("Conduction, I²R", heat.conduction.value), ("Switching", heat.switching.value), (other, own))
    return [Loss(label=label, watts=watts, text=phrase(watts, "power")) for label, watts in shares if watts is not None]


def _clean(values: Grid, places: int) -> list[Any]:
    """Numbers for the wire, rounded; what is not finite goes over the wire as nothing."""
    found: list[Any] = np.round(values, places).tolist()
    return found


def _map(drawn: HeatMap | None) -> MapView | None:
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
    return MapView(
        current_a=_clean(drawn.current_a, 4),
        frequency_hz=_clean(drawn.frequency_hz, 1),
        junction_c=_clean(drawn.junction_c, 0),
        loss_w=_clean(drawn.loss_w, 2),
        limit_a=_clean(drawn.limit_a, 3),
        limit_c=drawn.limit_c,
        working_a=drawn.working_a,
        working_hz=drawn.working_hz,
        words=words,
    )


def _air(done: DrivenAssessment, built: StageResult | None) -> AirView | None:
    found = over_air(done.context, built) if built is not None else None
    if found is None:
        return None
    return AirView(
        air_c=_clean(found.air_c, 2),
        free_a=_clean(found.free_a, 3),
        sink_a=_clean(found.sink_a, 3) if found.sink_a is not None else [],
        hot_c=done.context.build.ambient.hot.value,
        working_a=built.around.current.value if built is not None else None,
    )


def _places(built: StageResult) -> list[PlaceView]:
    made = []
    for place in built.places:
        current, allowed = built.around.current.value, place.allowed.value
        made.append(
            PlaceView(
                name=place.plan.name,
                current=text_of(place.current),
                conduction=text_of(place.conduction),
                switching=text_of(place.switching),
                heat=text_of(place.heat),
                junction=text_of(place.junction) if place.junction.value is not None else place.junction.reason,
                allowed=text_of(place.allowed),
                use=current / allowed if current is not None and allowed else None,
            )
        )
    return made


def _bill(built: StageResult) -> BillView:
    found, spec = built.materials, built.spec
    pieces = int(spec.pieces.value or 1)
    share = ((spec.board_price.value or 0.0) + (spec.delivery.value or 0.0)) / pieces
    lines = [
        LineView(what=x.what, part=x.part, number=x.number, each=text_of(x.each), price=text_of(x.price))
        for x in found.lines
    ]
    total = found.price.value
    return BillView(
        lines=lines,
        board=phrase(share, "price"),
        piece=text_of(found.price),
        pieces=pieces,
        all="" if total is None else phrase(total * pieces, "price"),
    )


def _figures_of(done: DrivenAssessment) -> Shown:
    r, heat = done.stage, done.stage.heat
    first: list[Any] = []
    if heat is not None and done.chosen is not None and done.chosen.part.kind == "contacts":
        first = [done.circuit.driver_drop]
    elif heat is not None:
        first = [heat.junction, heat.total, heat.allowed_current, heat.conduction, heat.switching]
    if done.discrete is not None:
        first += _own_stage(done.discrete)
    return shown(
        "hottest air",
        (
            *first,
            *((r.bus_ripple, r.ripple_current, r.capacitance_needed) if done.drive.signals.pulsed else ()),
            r.rating_needed if done.drive.signals.pulsed or done.context.unit.bulk_capacitance.value else None,
        ),
    )


def _own_stage(built: StageResult) -> list[Any]:
    """What a discrete stage adds: sharing, gates and times, the heat sink that it would need, its price."""
    switch = built.spec.switch
    found: list[Any] = [built.current, (built.sigma, "%"), (built.duty, "%")]
    if isinstance(switch, Mosfet):
        times = built.times
        found += [built.gate_low, times.on_a, times.off_a, times.on_s, times.off_s, built.gate_power]
    return [*found, *built.extras, built.sink_needed, built.materials.price]


CAPACITOR = {
    "capacitance": "bulk_capacitance",
    "rated_v": "bulk_voltage",
    "ripple_a": "bulk_ripple",
    "esr": "bulk_esr",
}


def _sections(done: DrivenAssessment, d: Describer) -> list[Section]:
    unit = done.context.unit
    made = d.section(unit, "The stage", ("made_of",))
    flyback = d.section(unit, "Flyback", ("flyback",))
    bulk = d.section(
        unit, "Bulk capacitor", ("bulk_capacitance", "bulk_voltage", "bulk_ripple", "bulk_esr", "ripple_allowed")
    )
    from_shelf = CAPACITOR | ({"life": "stage.life", "life_at": "stage.life_at"} if done.discrete is not None else {})
    bulk.fields.insert(0, d.copier(unit, "capacitor", "Figures from the shelf", from_shelf))
    air = d.section(d.build.ambient, "Air", ("hot",))
    if done.discrete is None:
        return [made, flyback, bulk, air]
    return [
        made,
        *own_stage(unit.stage, d),
        *([flyback] if unit.stage.circuit in DIODE_CIRCUITS else []),
        bulk,
        air,
        d.section(d.build.schools, "School", ("standoff",)),
    ]


def _hint(asked: Inputs) -> str:
    if asked.done.chosen is not None and asked.done.chosen.part.kind == "contacts":
        return "Contacts have no junction that warms up: what counts is what they may carry and part, held at Driver."
    if asked.done.discrete is None and asked.done.chosen is not None:
        return "Switches, gates and diodes are built into this part. What stands beside it is the bulk capacitor."
    return ""


_DRIVEN = StationSheet(
    sections=lambda asked: _sections(asked.done, asked.describer),
    figures=lambda asked: _figures_of(asked.done),
    picture=lambda asked: stage(asked.done),
    hint=_hint,
)
SHEETS = {"motor": _DRIVEN, "load": _DRIVEN}
