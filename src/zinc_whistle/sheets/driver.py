"""Driver: every candidate with its margins, refusals with their reasons."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from ..core.algebra.quantities import phrase
from ..core.assess import DrivenAssessment
from ..core.cases.operating import DriveContext
from ..core.cases.salvage import OWN_SWITCH
from ..core.cases.salvaged import find_out
from ..core.design.accessories import surroundings
from ..core.design.change import changes_for
from ..core.model.board import Alteration
from ..core.model.build import Schools
from ..core.model.component import Component
from ..core.model.driver import PART_KINDS, DriverPart, DriverUnit
from ..core.model.salvaged import Pad, Trial
from ..core.stations.driver.candidates import ORDER, Candidate, verdicts
from ..core.stations.driver.jam import typed_time_counts
from .fields import Describer, Section
from .inputs import Inputs, Shown, StationSheet, shown
from .views import CheckState, FindingView, finding_view, text_of


@dataclass(frozen=True, slots=True, kw_only=True)
class SchoolVerdictView:
    """What one school says of the chosen part."""

    school: str
    label: str
    followed: bool
    state: CheckState
    text: str


@dataclass(frozen=True, slots=True, kw_only=True)
class CandidateNumbers:
    """What parts can be sorted by besides their checks; None where it is not known."""

    price_eur: float | None
    drop_v: float | None
    top_speed_rad_s: float | None
    junction_c: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class CandidateView:
    """One part of the comparison, with all its checks and what the motor would get."""

    id: str
    name: str
    part_kind: str
    sample: bool
    chosen: bool
    verdict: Literal["holds", "open", "refused"]
    """Holds only if every check of it is known and holds."""
    price: str
    effort: str
    condition: str
    drop: str
    top_speed: str
    junction: str
    numbers: CandidateNumbers
    checks: list[FindingView]
    reasons: list[str]
    note: str
    torque: str
    part: DriverPart | None = None
    """The part whole, where it is on no shelf from which it could be taken."""


@dataclass(frozen=True, slots=True, kw_only=True)
class CandidateDetail:
    """What an opened part says besides: what would have to change, what it needs around it, each school's verdict."""

    changes: list[str]
    total: str
    extras: list[str]
    verdicts: list[SchoolVerdictView]


@dataclass(frozen=True, slots=True, kw_only=True)
class SalvageView:
    """What a salvaged board may be, the next trial, what is wrong with the worksheet, and the part once one is left."""

    says: list[str]
    next: str
    problem: str
    part: DriverPart | None


@dataclass(frozen=True, slots=True, kw_only=True)
class DriverPicture:
    """All candidates, best first, refused ones last."""

    candidates: list[CandidateView]
    verdicts: list[SchoolVerdictView]
    order: str
    """Why they stand in this order."""
    left_out: int
    salvage: SalvageView | None = None
    kind: Literal["driver"] = "driver"


def driver(done: DrivenAssessment) -> DriverPicture:
    """The comparison of every candidate; a stage of one's own stands among them."""
    at, chosen = done.context, done.context.part
    shown = [done.chosen] if done.discrete is not None and done.chosen is not None else []
    views = [_candidate(c, chosen is not None and c.part.id == chosen.id) for c in (*shown, *done.candidates)]
    schools = _verdicts(at, done.chosen) if done.chosen is not None else []
    return DriverPicture(
        candidates=views,
        verdicts=schools,
        order=ORDER,
        left_out=len(done.shelf) - _of_shelf(done),
        salvage=_salvage(at),
    )


def _salvage(at: DriveContext) -> SalvageView | None:
    if at.unit.salvaged.used != "yes" or at.unit.made_of != "part":
        return None
    try:
        found = find_out(at.unit.salvaged)
    except ValueError as error:
        return SalvageView(says=[], next="", problem=str(error), part=None)
    return SalvageView(says=list(found.says), next=found.next, problem="", part=found.part)


def _of_shelf(done: DrivenAssessment) -> int:
    """How many of the candidates come from the shelf."""
    return sum(c.part.id != OWN_SWITCH for c in done.candidates)


def _verdicts(at: DriveContext, candidate: Candidate) -> list[SchoolVerdictView]:
    labels = Schools.meta("sizing").choose
    made = []
    for school, found in verdicts(at, candidate).items():
        worst = max(found, key=lambda x: x.used or 0.0)
        view = finding_view(worst)
        label = labels.options[school] if labels else school
        made.append(
            SchoolVerdictView(
                school=school,
                label=label,
                followed=school == at.build.schools.sizing,
                state=view.state,
                text=f"{worst.title}: {view.detail}",
            )
        )
    return made


def detail_of(done: DrivenAssessment, part_id: str, components: Sequence[Component]) -> CandidateDetail | None:
    """What an opened part says besides; None where the comparison has no such part."""
    own = [done.chosen] if done.chosen is not None else []
    candidate = next((c for c in (*own, *done.candidates) if c.part.id == part_id), None)
    if candidate is None:
        return None
    around = surroundings(done.context, candidate, components)
    extras = [
        (
            f"{e.number} × {e.what}, {phrase(e.price, 'price')}: {e.why}{' (estimated)' if e.estimate else ''}"
        ).removeprefix("1 × ")
        for e in around.extras
    ]
    extras += [f"{what[:1].upper()}{what[1:]}: none on the shelf will do" for what in around.lacking]
    return CandidateDetail(
        changes=[c.sentence for c in changes_for(done.context, candidate, candidate.refusals) if c is not None],
        total=phrase(around.total, "price"),
        extras=extras,
        verdicts=_verdicts(done.context, candidate),
    )


def _candidate(candidate: Candidate, chosen: bool) -> CandidateView:
    part, heat, solved = candidate.part, candidate.heat, candidate.circuit
    return CandidateView(
        id=part.id,
        name=part.name,
        part_kind=PART_KINDS[part.kind],
        sample=part.sample,
        chosen=chosen,
        verdict=candidate.verdict,
        price=text_of(part.price.leaf),
        effort=part.effort,
        condition=part.continuous_condition,
        drop=text_of(solved.driver_drop),
        top_speed=text_of(solved.delivered_flat),
        junction=text_of(heat.junction) if heat.junction.value is not None else heat.junction.reason or "not known yet",
        numbers=CandidateNumbers(
            price_eur=part.price.value,
            drop_v=solved.driver_drop.value,
            top_speed_rad_s=solved.delivered_flat.value,
            junction_c=heat.junction.value,
        ),
        checks=[finding_view(c) for c in candidate.checks],
        reasons=[f"{v.title}: {v.detail or v.todo}" for v in map(finding_view, candidate.refusals)],
        note=part.note,
        torque=text_of(turning.stall_torque) if (turning := solved.of_motor) is not None else "",
        part=part if part.id == OWN_SWITCH else None,
    )


def _figures_of(done: DrivenAssessment) -> Shown:
    c = done.circuit
    heat = done.chosen.heat if done.chosen else None
    turning = c.of_motor
    got = (c.delivered_flat, "rpm") if turning is not None else c.delivered_flat
    return shown(
        done.chosen.part.name if done.chosen else "no part chosen yet",
        (
            c.stall_full,
            c.peak,
            heat.current if heat else done.context.rms_current,
            c.driver_drop,
            turning.motor_volts if turning is not None else None,
            got,
            turning.stall_torque if turning is not None else None,
            (c.duty_nominal, "%"),
            heat.junction if heat else None,
            heat.allowed_current if heat else None,
        ),
    )


def _sections(done: DrivenAssessment, d: Describer) -> list[Section]:
    unit = done.context.unit
    # Asked before the ranking, which rests on it; the same fields stand at Signals.
    wanted = ("reversal", "braking") if done.of_motor is not None else ()
    return [
        *([d.section(done.drive.signals, "What it must do", wanted)] if wanted else []),
        d.section(unit, "The driver", ("made_of",)),
        d.section(done.context.drive, "Channels", ("channel", "joined")),
        d.section(d.build.schools, "School", ("sizing",)),
        d.section(unit, "In a jam", _jam_fields(done)),
        d.section(unit, "Where it sits", ("warmer",)),
        *([d.section(unit, "Its inputs", ("inverters",))] if _acts_low(unit) else []),
        *([d.table(unit, "alterations", Alteration), *_worksheet(unit, d)] if unit.made_of == "part" else []),
    ]


def _acts_low(unit: DriverUnit) -> bool:
    """Whether its part has inputs that act when low, so that there is something to ask."""
    return unit.made_of == "part" and unit.part is not None and bool(unit.part.active_low.strip())


def _worksheet(unit: DriverUnit, d: Describer) -> list[Section]:
    """The worksheet of a board without a sheet, once it is asked for."""
    board = unit.salvaged
    asked = d.section(board, "A board without a sheet", ("used", *(("volts",) * (board.used == "yes"))))
    return [asked, d.table(board, "pads", Pad), d.table(board, "trials", Trial)] if board.used == "yes" else [asked]


def _jam_fields(done: DrivenAssessment) -> tuple[str, ...]:
    """What is asked about a jam: the times and currents that count for the stop that is named."""
    at = done.context
    return (
        "jam_stop",
        *(("jam_time",) * typed_time_counts(at)),
        *(("cutout_a",) * (at.unit.jam_stop == "cut-out")),
        *(("current_limit",) * at.drive.signals.ramped),
    )


def _hint(asked: Inputs) -> str:
    return "Choose a part from the list: the best one that holds stands first." if asked.done.chosen is None else ""


_DRIVEN = StationSheet(
    sections=lambda asked: _sections(asked.done, asked.describer),
    figures=lambda asked: _figures_of(asked.done),
    picture=lambda asked: driver(asked.done),
    hint=_hint,
)
SHEETS = {"motor": _DRIVEN, "load": _DRIVEN}
