"""What the checks say: each a fraction of a limit, or a yes or no, with what to do about it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, Literal

from .doubt import doubt_of, why_unknown
from .working import Figure, Leaf, Quotient

Severity = Literal["stop", "warn", "note"]
TIGHT = 0.8
LEAST_RELATIVE = 0.05
"""No margin is surer than to a twentieth, whatever the data sheet says."""
MARGIN_CAP = 3.0
"""No prize for oversize: beyond three standard uncertainties a margin counts as enough."""


@dataclass(frozen=True, slots=True)
class Remedy:
    """A change of the build that the app can make: path of a field and the text or choice to put there."""

    label: str
    path: str
    text: str


@dataclass(frozen=True, slots=True)
class Finding:
    """One check's outcome.

    ``use`` is how much of the limit is used (1 = at the limit). A yes-or-no check has no use; a check that lacks
    an input has ``unknown`` with a sentence. ``destructive``: crossing it can break something.
    """

    code: str
    station: str
    title: str
    todo: str
    severity: Severity
    drive: str = ""
    stress: Any = None
    limit: Any = None
    use: Figure | None = None
    unknown: str = ""
    where: str = ""
    destructive: bool = True
    remedy: Remedy | None = None

    @property
    def key(self) -> str:
        return f"{self.drive}/{self.code}" if self.drive else self.code

    @property
    def used(self) -> float | None:
        return self.use.value if self.use is not None else None

    @property
    def holds(self) -> bool:
        return self.severity == "note" and not self.unknown and not self.tight

    @property
    def tight(self) -> bool:
        return self.used is not None and TIGHT <= self.used <= 1.0

    @property
    def surety(self) -> float:
        """Margin in standard uncertainties, z = ln(1/use)/u, at most MARGIN_CAP; below 0 when crossed."""
        if self.use is None or self.used is None:
            return MARGIN_CAP if self.severity == "note" else -MARGIN_CAP
        if self.used <= 0:
            return MARGIN_CAP
        standard = doubt_of(self.use).standard or 0.0
        relative = max(standard / self.used, LEAST_RELATIVE)
        return max(min(math.log(1 / self.used) / relative, MARGIN_CAP), -MARGIN_CAP)


STRESS_OVER_LIMIT = Quotient("use", "Use of the limit", "stress", "limit", "use = 1/λ, λ = limit / stress")
LIMIT_OVER_STRESS = Quotient("use", "Use of the limit", "limit", "stress", "use = 1/λ; a lower limit is turned over")


def upper(
    code: str,
    station: str,
    title: str,
    stress: Any,
    limit: Any,
    todo: str,
    *,
    drive: str = "",
    over: Severity = "stop",
    where: str = "",
    destructive: bool = True,
    remedy: Remedy | None = None,
    because: Sequence[Leaf] = (),
) -> Finding:
    """A check that ``stress`` stays below ``limit``; ``because`` names the choices that made it this check."""
    use = STRESS_OVER_LIMIT(stress, limit, title=f"{title}: use of the limit", because=because)
    return _limit(code, station, title, stress, limit, use, todo, drive, over, where, destructive, remedy)


def lower(
    code: str,
    station: str,
    title: str,
    value: Any,
    limit: Any,
    todo: str,
    *,
    drive: str = "",
    over: Severity = "stop",
    where: str = "",
    destructive: bool = True,
    remedy: Remedy | None = None,
    because: Sequence[Leaf] = (),
) -> Finding:
    """A check that ``value`` stays above ``limit``; its use is the limit over the value."""
    use = LIMIT_OVER_STRESS(limit, value, title=f"{title}: use of the limit", because=because)
    return _limit(code, station, title, value, limit, use, todo, drive, over, where, destructive, remedy)


def _limit(
    code: str,
    station: str,
    title: str,
    stress: Any,
    limit: Any,
    use: Figure,
    todo: str,
    drive: str,
    over: Severity,
    where: str,
    destructive: bool,
    remedy: Remedy | None,
) -> Finding:
    unknown = ""
    severity: Severity = "note"
    for node in (stress, limit):
        if isinstance(node, Figure) and node.value is None and node.reason:
            severity = over
    if use.value is None:
        unknown = why_unknown(use)
    elif use.value > 1.0 or use.value < 0.0:
        severity = over
    return Finding(
        code,
        station,
        title,
        todo,
        severity,
        drive,
        stress,
        limit,
        use,
        unknown,
        where,
        destructive,
        remedy,
    )


def yes_no(
    code: str,
    station: str,
    title: str,
    holds: bool | None,
    todo: str,
    *,
    drive: str = "",
    over: Severity = "stop",
    where: str = "",
    destructive: bool = True,
    unknown: str = "",
    remedy: Remedy | None = None,
) -> Finding:
    """A check that is either so or not; ``holds`` is None when it cannot be told yet."""
    severity: Severity = "note" if holds or holds is None else over
    return Finding(
        code,
        station,
        title,
        todo,
        severity,
        drive,
        None,
        None,
        None,
        unknown if holds is None else "",
        where,
        destructive,
        remedy,
    )


def order(finding: Finding) -> tuple[int, float]:
    """Sort key: failed yes-or-no checks first, then by use, unknown last."""
    if finding.used is None:
        if finding.severity == "stop":
            return (0, 0.0)
        if finding.severity == "warn":
            return (1, -1.0)
        return (3, 0.0)
    return (1, -finding.used if finding.used >= 0 else -9.0)
