"""What is checked, as data: a limit is a stress held against a bound, a claim is so or is not.

A station declares them and judges nothing. Where stress or bound rest on varied quantities the limit stands for
all their
cases: the worst corner is searched on arrays, then traced, and the finding names it. The same declaration is
worked out on
arrays where many designs are looked at together.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, field, replace
from typing import Any, Required, TypeAlias, TypedDict, Unpack

import numpy as np

from .alike import Alike
from .corners import Corner, Frame, Traced, axes_of, coarse, in_words, worst
from .doubt import why_unknown
from .findings import TIGHT, Finding, Remedy, Severity, Verdict
from .nodes import Axis, Figure, Leaf, Node
from .rules import Quotient

STRESS_OVER_BOUND = Quotient("use", "Use of the limit", "stress", "limit", "use = 1/λ, λ = limit / stress")
BOUND_OVER_STRESS = Quotient("use", "Use of the limit", "limit", "stress", "use = 1/λ; a lower limit is turned over")


@dataclass(frozen=True, slots=True, kw_only=True)
class Limit:
    """``stress`` stays below ``bound`` (above it, if ``is_lower``). ``because`` names the choices that made it
    this limit."""

    code: str
    station: str
    title: str
    stress: Node
    bound: Node
    todo: str
    is_lower: bool = False
    drive: str = ""
    over: Severity = "stop"
    where: str = ""
    destructive: bool = True
    remedy: Remedy | None = None
    because: tuple[Leaf, ...] = ()

    def utilisation_on(self, frame: Frame) -> Any:
        """Utilisation on the points of a frame: nan where something is missing, inf where there is no bound to hold."""
        with np.errstate(all="ignore"):
            stress, bound = frame(self.stress), frame(self.bound)
            return np.divide(bound, stress) if self.is_lower else np.divide(stress, bound)


@dataclass(frozen=True, slots=True, kw_only=True)
class Claim:
    """Something that is so or is not; ``holds`` is None where it cannot be told yet, and ``unknown`` says why."""

    code: str
    station: str
    title: str
    holds: bool | None
    todo: str
    drive: str = ""
    over: Severity = "stop"
    where: str = ""
    destructive: bool = True
    unknown: str = ""
    remedy: Remedy | None = None


Check: TypeAlias = Limit | Claim


class Declared(TypedDict, total=False):
    """What a limit is declared with, besides its code."""

    station: Required[str]
    title: Required[str]
    stress: Required[Node]
    bound: Required[Node]
    todo: Required[str]
    drive: str
    over: Severity
    where: str
    destructive: bool
    remedy: Remedy | None
    because: Sequence[Leaf]


def upper(code: str, **declared: Unpack[Declared]) -> Limit:
    """The limit that ``stress`` stays below ``bound``."""
    because = tuple(declared.pop("because", ()))
    return Limit(code=code, because=because, **declared)  # type: ignore[arg-type, misc]


def lower(code: str, **declared: Unpack[Declared]) -> Limit:
    """The limit that ``stress`` stays above ``bound``; its utilisation is the bound over the stress."""
    return replace(upper(code, **declared), is_lower=True)


def claim(
    code: str,
    *,
    station: str,
    title: str,
    holds: bool | None,
    todo: str,
    drive: str = "",
    over: Severity = "stop",
    where: str = "",
    destructive: bool = True,
    unknown: str = "",
    remedy: Remedy | None = None,
) -> Claim:
    """The claim that something is so."""
    return Claim(
        code=code,
        station=station,
        title=title,
        holds=holds,
        todo=todo,
        drive=drive,
        over=over,
        where=where,
        destructive=destructive,
        unknown=unknown,
        remedy=remedy,
    )


@dataclass(slots=True)
class Judge:
    """Turns checks into findings. One judge for one assessment: corners that many limits share are worked out once."""

    _frame: Frame = field(default_factory=lambda: Frame({}))
    _traces: dict[tuple[int, tuple[float, ...]], tuple[Node, Node]] = field(default_factory=dict)
    _alike: Alike = field(default_factory=Alike)

    def all(self, checks: Iterable[Check | Finding]) -> list[Finding]:
        """The findings of some checks, in their order."""
        return [self(check) for check in checks]

    def __call__(self, check: Check | Finding) -> Finding:
        """The finding of one check; what is judged already stays as it is."""
        if isinstance(check, Finding):
            return check
        return _of_claim(check) if isinstance(check, Claim) else self._of_limit(check)

    def at(self, corner: Corner) -> Callable[[Node], Node]:
        """Traces templates at one corner."""
        return Traced(corner, self._traces)

    def seed(self, known: Iterable[tuple[Node, Corner, Node]]) -> None:
        """Corners of templates that have a figure of their own already: a limit that is worst there shows that
        figure."""
        for template, corner, figure in known:
            self._traces[id(template), tuple(corner.get(a, 0.0) for a in template.axes)] = (template, figure)

    def frame(self, axes: tuple[Axis, ...]) -> Frame:
        """All ends and a first sight of the ranges of some axes."""
        if not self._frame.points.keys() >= set(axes):
            self._frame = coarse(tuple(dict.fromkeys((*self._frame.axes, *axes))))
        return self._frame

    def worst_of(self, limit: Limit, axes: tuple[Axis, ...], besides: Corner) -> Corner:
        """The corner of some axes at which a limit is worst, the others standing where ``besides`` says."""
        points = dict(coarse(axes).points.items())
        frame = Frame({**{a: [p] for a, p in besides.items()}, **{a: p.tolist() for a, p in points.items()}})
        return worst(limit.utilisation_on, axes_of(limit.stress, limit.bound), frame).corner

    def _of_limit(self, limit: Limit) -> Finding:
        axes = axes_of(limit.stress, limit.bound)
        stress, bound, words = limit.stress, limit.bound, ""
        if axes:
            said = (self._alike.mark(limit.stress), self._alike.mark(limit.bound), limit.is_lower)
            corner = self._alike.worst(limit.utilisation_on, said, axes, self.frame(axes)).corner
            trace = self.at(corner)
            stress, bound = trace(limit.stress), trace(limit.bound)
            words = in_words(corner, axes)
        title = f"{limit.title}: use of the limit"
        if limit.is_lower:
            utilisation = BOUND_OVER_STRESS(bound, stress, title=title, because=limit.because)
        else:
            utilisation = STRESS_OVER_BOUND(stress, bound, title=title, because=limit.because)
        if axes:
            utilisation.others = (limit.stress, limit.bound)
        return Finding(
            code=limit.code,
            station=limit.station,
            title=limit.title,
            todo=limit.todo,
            verdict=_verdict(stress, bound, utilisation),
            over=limit.over,
            drive=limit.drive,
            stress=stress,
            limit=bound,
            utilisation=utilisation,
            unknown=why_unknown(utilisation) if utilisation.value is None and not _no_room(stress, bound) else "",
            where=limit.where,
            destructive=limit.destructive,
            remedy=limit.remedy,
            corner=words,
        )


def _verdict(stress: Node, bound: Node, utilisation: Figure) -> Verdict:
    if utilisation.value is None:
        unbounded = any(isinstance(n, Figure) and n.value is None and n.reason for n in (stress, bound))
        return "exceeded" if unbounded or utilisation.runs_away or _no_room(stress, bound) else "unknown"
    if utilisation.value > 1.0 or utilisation.value < 0.0:
        return "exceeded"
    return "tight" if utilisation.value >= TIGHT else "holds"


def _no_room(stress: Node, bound: Node) -> bool:
    """Both are known, and one is nothing or below: any stress at all is beyond such a bound."""
    known = [n.value for n in (stress, bound) if n.value is not None]
    return len(known) == 2 and min(known) <= 0 < max(known)


def _of_claim(claim: Claim) -> Finding:
    verdict: Verdict = "unknown" if claim.holds is None else "holds" if claim.holds else "exceeded"
    return Finding(
        code=claim.code,
        station=claim.station,
        title=claim.title,
        todo=claim.todo,
        verdict=verdict,
        over=claim.over,
        drive=claim.drive,
        unknown=claim.unknown if claim.holds is None else "",
        where=claim.where,
        destructive=claim.destructive,
        remedy=claim.remedy,
    )
