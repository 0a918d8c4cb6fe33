"""The Driver station's picture: every candidate, what each school says of it, and what it needs around it."""

from __future__ import annotations

from collections.abc import Sequence

from ..core.algebra.quantities import phrase
from ..core.assess import DrivenAssessment
from ..core.cases.operating import Circuit, DriveContext
from ..core.design.accessories import Surroundings, surroundings
from ..core.design.change import change_for
from ..core.model.build import Schools
from ..core.model.components import Component
from ..core.model.driver import PART_KINDS
from ..core.stations.driver.candidates import Candidate, verdicts
from . import pictures as p
from .views import finding_view, text_of


def driver(done: DrivenAssessment, components: Sequence[Component]) -> p.DriverPicture:
    """The comparison of every candidate; a stage of one's own stands among them."""
    at, chosen = done.context, done.context.part
    shown = [done.chosen] if done.discrete is not None and done.chosen is not None else []
    views = [
        _candidate(at, c, chosen is not None and c.part.id == chosen.id, components) for c in (*shown, *done.candidates)
    ]
    schools = _verdicts(at, done.chosen) if done.chosen is not None else []
    return p.DriverPicture(views, schools, len(done.shelf) - len(done.candidates))


def _verdicts(at: DriveContext, candidate: Candidate) -> list[p.VerdictView]:
    labels = Schools.told("sizing").choose
    made = []
    for school, found in verdicts(at, candidate).items():
        worst = max(found, key=lambda x: x.used or 0.0)
        view = finding_view(worst)
        label = labels.options[school] if labels else school
        made.append(
            p.VerdictView(school, label, school == at.build.schools.sizing, view.state, f"{worst.title}: {view.detail}")
        )
    return made


def _candidate(
    at: DriveContext, candidate: Candidate, chosen: bool, components: Sequence[Component]
) -> p.CandidateView:
    part, heat, solved = candidate.part, candidate.heat, candidate.circuit
    around = surroundings(at, candidate, components) if components else Surroundings((), part.price.value or 0.0, ())
    extras = [
        (
            f"{e.number} × {e.what}, {phrase(e.price, 'price')}: {e.why}{' (estimated)' if e.estimate else ''}"
        ).removeprefix("1 × ")
        for e in around.extras
    ]
    extras += [f"{what[:1].upper()}{what[1:]}: none on the shelf will do" for what in around.lacking]
    return p.CandidateView(
        part.id,
        part.name,
        PART_KINDS[part.kind],
        part.sample,
        chosen,
        bool(candidate.refusals),
        text_of(part.price.leaf),
        part.effort,
        part.continuous_condition,
        text_of(solved.driver_drop),
        text_of(solved.delivered_flat),
        text_of(heat.junction) if heat.junction.value is not None else heat.junction.reason or "not known yet",
        [finding_view(c) for c in candidate.checks],
        [f"{v.title}: {v.detail or v.todo}" for v in map(finding_view, candidate.refusals)],
        [c.sentence for x in candidate.refusals if (c := change_for(at, candidate, x)) is not None],
        part.note,
        text_of(solved.stall_torque) if isinstance(solved, Circuit) else "",
        phrase(around.total, "price"),
        extras,
        _verdicts(at, candidate),
    )
