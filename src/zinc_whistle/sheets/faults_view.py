"""The fault finder's answer in words: suspects with reasons, the next tests, and a hidden fault to practise on."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ..core.cases.netlist import Netlist
from ..core.design.continuity import Must
from ..core.design.faults.finder import Finder, NextTest, Suspect, Suspects
from ..core.design.faults.pads import HERE, FaultPlace, JointMap, PlacesFound
from ..core.design.faults.practice import Hidden, Judged, shown
from ..core.design.faults.state import OVER_RANGE
from ..core.model.bench import STAGES
from ..core.stations.bench.step import Step

LISTED = 8
LEAST_SHOWN = 0.005
WORTHLESS_BITS = 0.02
"""A test that tells less is not asked for."""
BURNING_SAID = 0.05


@dataclass(frozen=True, slots=True, kw_only=True)
class SymptomView:
    """What is seen without an instrument, and what was answered."""

    id: str
    question: str
    answer: bool | None


@dataclass(frozen=True, slots=True, kw_only=True)
class TakenView:
    """A reading that the finder goes by, or what is wrong with its text."""

    step: str
    title: str
    text: str
    from_log: bool
    error: str


@dataclass(frozen=True, slots=True, kw_only=True)
class SitsIn:
    """A cause that sits in some joint."""

    id: str
    name: str


@dataclass(frozen=True, slots=True, kw_only=True)
class SuspectView:
    """A cause, or several that no test tells apart."""

    id: str
    names: list[str]
    percent: float
    mends: list[str]
    reasons: list[str]
    """Reading by reading: what it was, and what this cause would make of it."""
    again: list[str]
    """The steps to repeat when it is mended."""
    sits: list[SitsIn]
    """The causes of these of which the joint can be looked for."""


@dataclass(frozen=True, slots=True, kw_only=True)
class PlacesLeft:
    """Places that no touch tells apart, with their share."""

    percent: float
    where: list[str]


@dataclass(frozen=True, slots=True, kw_only=True)
class TouchView:
    """Two places to touch with the probes, the source off; ``must`` is what a sound board does."""

    id: str
    one: str
    other: str
    lifted: str
    must: Must


@dataclass(frozen=True, slots=True, kw_only=True)
class PlacesView:
    """Where a cause sits, as far as it is known, and what to touch next."""

    places: list[PlacesLeft]
    next: TouchView | None
    says: str


@dataclass(frozen=True, slots=True, kw_only=True)
class NextTestView:
    """A test that is left: how it is done, and what it would read of the two most probable causes."""

    step: str
    title: str
    stage: str
    where: str
    instrument: str
    setting: str
    caution: str
    unit: str
    minutes: int
    bits: float
    tells: list[str]


@dataclass(frozen=True, slots=True, kw_only=True)
class FaultsView:
    """What symptoms and readings come to."""

    symptoms: list[SymptomView]
    taken: list[TakenView]
    passed: list[str]
    """Steps whose last reading passed: they count only when it is told that they still hold."""
    suspects: list[SuspectView]
    tests: list[NextTestView]
    says: list[str]


@dataclass(frozen=True, slots=True, kw_only=True)
class JudgedView:
    """How a guess did."""

    right: bool
    points: int
    cause: list[str]
    mends: list[str]
    minutes: float
    risks: int
    way: list[str]
    """What the finder would have measured, with what it read."""


@dataclass(frozen=True, slots=True, kw_only=True)
class PracticeView:
    """A hidden fault as far as it was looked at."""

    symptoms: list[SymptomView]
    read: list[TakenView]
    tests: list[NextTestView]
    guesses: list[SuspectView]
    judged: JudgedView | None


def faults_view(
    finder: Finder, found: Suspects, taken: list[TakenView], passed: list[str], answers: Mapping[str, bool]
) -> FaultsView:
    """The whole answer."""
    texts = {t.step: t.text for t in taken if not t.error}
    listed = [s for s in found.suspects if s.probability >= LEAST_SHOWN][:LISTED]
    left = [t for t in found.tests if t.bits >= WORTHLESS_BITS]
    says = []
    if not texts and not any(answers.values()):
        says.append("Nothing is told yet: the order below is only how often each is met.")
    if found.unfit:
        says.append(
            "Nothing in this list reads all of this together: two faults at once, a slip of the meter, or something "
            "that is not listed. Measure the reading that fits least once more."
        )
    if found.burning > BURNING_SAID:
        says.append(
            f"With {found.burning:.0%} it is something that burns under power: cold tests first, the source off."
        )
    if not left:
        says.append("No test of this sheet would tell much more.")
    return FaultsView(
        symptoms=_symptoms(finder, answers),
        taken=taken,
        passed=passed,
        suspects=[_suspect(finder, s, texts) for s in listed],
        tests=[_test(t, listed) for t in left],
        says=says,
    )


def _symptoms(finder: Finder, answers: Mapping[str, bool]) -> list[SymptomView]:
    return [SymptomView(id=s.id, question=s.question, answer=answers.get(s.id)) for s in finder.symptoms]


def _suspect(finder: Finder, s: Suspect, texts: Mapping[str, str]) -> SuspectView:
    steps = finder.healthy.steps
    reasons = [
        f"{steps[id].title}: {text} {'fits' if fits else 'does not fit'}; it would read {_between(steps[id], s)}"
        for id, text in texts.items()
        if (fits := s.fits.get(id)) is not None
    ]
    again = dict.fromkeys(id for c in s.causes for id in c.again if id in steps)
    return SuspectView(
        id=s.causes[0].id,
        names=[c.name for c in s.causes],
        percent=100 * s.probability,
        mends=[c.mend for c in s.causes],
        reasons=reasons,
        again=[steps[id].title for id in again],
        sits=[SitsIn(id=c.id, name=c.name) for c in s.causes if c.id in HERE],
    )


def _between(step: Step, s: Suspect) -> str:
    """Where a cause's readings lie, in words."""
    low, high = s.reads[step.id]
    if low >= OVER_RANGE:
        return "over range"
    one, other = shown(step, low), shown(step, high)
    return f"about {one}" if one == other else f"{one} to {other}"


def _test(t: NextTest, listed: list[Suspect]) -> NextTestView:
    step = t.step
    return NextTestView(
        step=step.id,
        title=step.title,
        stage=STAGES[step.stage],
        where=step.where,
        instrument=step.instrument,
        setting=step.setting,
        caution=step.caution,
        unit=step.unit,
        minutes=step.minutes,
        bits=t.bits,
        tells=[f"{_between(step, s)}: {s.causes[0].name}" for s in listed[:3]],
    )


def practice_view(finder: Finder, hidden: Hidden, done: list[str], judged: Judged | None) -> PracticeView:
    """What was looked at of a hidden fault; its name only when it was guessed."""
    steps = finder.healthy.steps

    def taken(id: str) -> TakenView:
        text = shown(steps[id], hidden.readings[id])
        return TakenView(step=id, title=steps[id].title, text=text, from_log=False, error="")

    read = [taken(id) for id in dict.fromkeys(done) if id in hidden.readings]
    left = [NextTest(s, 0.0, 0.0) for s in finder.steps if s.id not in {r.step for r in read}]
    groups = dict.fromkeys(finder.group)
    guesses = [
        SuspectView(
            id=finder.causes[g].id,
            names=[c.name for k, c in enumerate(finder.causes) if finder.group[k] == g],
            percent=0.0,
            mends=[],
            reasons=[],
            again=[],
            sits=[],
        )
        for g in groups
        if finder.causes[g].id != "none"
    ]
    return PracticeView(
        symptoms=[SymptomView(id=s.id, question=s.question, answer=hidden.symptoms[s.id]) for s in finder.symptoms],
        read=read,
        tests=[_test(t, []) for t in left],
        guesses=guesses,
        judged=_judged(finder, hidden, judged) if judged is not None else None,
    )


def _judged(finder: Finder, hidden: Hidden, judged: Judged) -> JudgedView:
    steps = finder.healthy.steps
    return JudgedView(
        right=judged.right,
        points=judged.points,
        cause=[c.name for c in judged.alike],
        mends=[c.mend for c in judged.alike],
        minutes=judged.minutes,
        risks=judged.under_power,
        way=[f"{steps[id].title}: {shown(steps[id], hidden.readings[id])}" for id in judged.way],
    )


def places_view(net: Netlist, found: PlacesFound) -> PlacesView:
    """Where a cause sits, in words."""
    board = JointMap(net)
    best = found.places[0]
    if found.sure:
        says = _found(best[1])
    elif found.next is None:
        says = "No touch tells these apart any more: look, wiggle, and solder the first ones again."
    else:
        says = "Every source off and unplugged, capacitors empty. Probes on the metal itself, not on the lead's skin."
    touch = found.next
    return PlacesView(
        places=[
            PlacesLeft(percent=100 * share, where=[p.where for p in places])
            for share, places in found.places
            if share >= LEAST_SHOWN
        ][:LISTED],
        next=None
        if touch is None
        else TouchView(
            id=touch.id,
            one=board.words(touch.one),
            other=board.words(touch.other),
            lifted=net.parts[touch.lifted].name if touch.lifted else "",
            must=touch.must,
        ),
        says=says,
    )


def _found(places: tuple[FaultPlace, ...]) -> str:
    if places[0].sort == "none":
        return "Every joint here holds: the cause is another one, or it comes and goes. Measure again while you pull."
    return "Found, as far as a meter tells. Mend it, and touch there once more."
