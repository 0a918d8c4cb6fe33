"""The first page of a new build: its questions, and the verdict that grows while they are answered."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace

from ..core.algebra.doubt import doubt_of
from ..core.algebra.nodes import Node
from ..core.algebra.quantities import COVERAGE, phrase
from ..core.assess import Assessment, MotorAssessment
from ..core.design.first_build import QUESTIONS, SHELF, SHELF_MOTOR, First, Question, least_gauge
from ..core.stations.driver.candidates import Candidate
from .motor import next_reading
from .views import finding_view

SHOWN = 3
CONTROLLER = "controller"


@dataclass(frozen=True, slots=True, kw_only=True)
class QuestionView:
    """A question; ``options`` as key and label, else a quantity in ``unit``. ``empty``: what no choice means, of a list
    that is too long to stand open."""

    id: str
    label: str
    unit: str
    options: list[list[str]]
    when: str
    among: list[str]
    help: str
    estimate: str
    empty: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class FirstCandidate:
    """A driver that may do, and why."""

    name: str
    verdict: str
    why: str


@dataclass(frozen=True, slots=True, kw_only=True)
class FirstVerdict:
    """What it comes to so far: sentences, drivers, what would sharpen it most, what is estimated, what is missing.

    ``errors``: by question, what cannot be read."""

    lines: list[str]
    candidates: list[FirstCandidate]
    sharpen: str
    estimates: list[str]
    missing: list[str]
    errors: dict[str, str]


def questions(controllers: Mapping[str, str], motors: Mapping[str, str]) -> list[QuestionView]:
    """All of them, in order; ``controllers`` are the profiles that ship, ``motors`` those of the shelf: names by id."""
    shelf = _question(Question(id=SHELF_MOTOR, label="Which one", options=motors, when=SHELF))
    last = _question(Question(id=CONTROLLER, label="Controller", options=controllers))
    made = []
    for q in QUESTIONS:
        made.append(_question(q))
        if q.id == "motor":
            made.append(replace(shelf, empty="Choose one"))
    return [*made, replace(last, empty="The usual small one")]


def _question(q: Question) -> QuestionView:
    when, among = q.when if q.when is not None else ("", ())
    return QuestionView(
        id=q.id,
        label=q.label,
        unit="" if q.unit == "1" else q.unit,
        options=[[k, v] for k, v in q.options.items()],
        when=when,
        among=list(among),
        help=q.help,
        estimate=q.estimate,
    )


def first_verdict(first: First, done: Assessment) -> FirstVerdict:
    """What the answers come to."""
    own = next(iter(done.drives.values()))
    driven = own.driven
    motor = driven.of_motor if driven is not None else None
    assert motor is not None
    return FirstVerdict(
        lines=list(_lines(motor, first)),
        candidates=[_candidate(c) for c in _first(motor)],
        sharpen=_sharpen(motor),
        estimates=list(first.estimates),
        missing=list(first.missing),
        errors=dict(first.errors),
    )


def _told(node: Node, kind: str) -> str:
    """A value with its doubt, where it has one."""
    value = node.value
    assert value is not None
    doubt, said = doubt_of(node), phrase(value, kind)
    if doubt.standard is None or not value:
        return f"{said}, its doubt not known"
    least = "at least " if doubt.at_least else ""
    return f"{said} (± {least}{100 * COVERAGE * doubt.standard / abs(value):.0f} %)"


def _lines(motor: MotorAssessment, first: First) -> Iterator[str]:
    at = motor.context
    stall, running = motor.at_supply.stall_current, at.working_current
    if stall.value is not None:
        yield f"Held fast it draws {_told(stall, 'current')}: the driver bears that, or something acts before."
    if running.value is not None:
        yield f"At its work it draws {_told(running, 'current')}."
    if running.value is not None and (gauge := least_gauge(running.value)) is not None:
        area = f"AWG {gauge:.0f} carries what it draws at work"
        held = least_gauge(stall.value) if stall.value is not None else None
        yield f"{area}; AWG {held:.0f} what it draws held fast." if held is not None and held < gauge else f"{area}."
    found = next((f for f in motor.findings if f.code == "load.speed"), None)
    if found is not None and found.verdict != "unknown":
        gear = f" A gear of about {first.suits:.2g}:1 would suit." if found.stops and first.suits else ""
        yield f"{found.title}: {finding_view(found).detail}.{gear}"
    if (hertz := at.plan.frequency.value) and at.plan.timer is not None:
        yield f"Pulses of {phrase(hertz, 'frequency')} come from {at.plan.timer.name} of the controller."
    if _known(motor) and not _first(motor):
        best = motor.candidates[0] if motor.candidates else None
        lacks = ", ".join(f"“{x.title}”" for x in best.refusals[:2]) if best is not None else ""
        why = f" {best.part.name} comes nearest; what does not hold: {lacks}." if best is not None else ""
        yield f"No driver of the shelf does this as it stands.{why}"


def _known(motor: MotorAssessment) -> bool:
    """Whether enough is known for a driver to be named at all."""
    return motor.at_supply.stall_current.value is not None and motor.context.working_current.value is not None


def _first(motor: MotorAssessment) -> list[Candidate]:
    """The first few that are not refused; none while they would be named without a reason."""
    return [c for c in motor.candidates if c.verdict != "refused"][:SHOWN] if _known(motor) else []


def _candidate(c: Candidate) -> FirstCandidate:
    tight = c.tightest
    view = finding_view(tight) if tight is not None else None
    said = f"nearest limit: {tight.title}, {view.detail}" if tight is not None and view is not None else ""
    opened = ", ".join(x.title for x in c.open[:2])
    return FirstCandidate(
        name=c.part.name,
        verdict="holds" if c.verdict == "holds" else "open",
        why="; ".join(x for x in (said, f"not known yet: {opened}" if opened else "") if x),
    )


def _sharpen(motor: MotorAssessment) -> str:
    """The reading that would narrow the verdict most, as the Motor station tells it."""
    found = next_reading(motor)
    return f"{found.title}: {found.narrows or found.how}" if found is not None and found.title else ""
