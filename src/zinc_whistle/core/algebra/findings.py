"""What the checks say: each a fraction of a limit, or a yes or no, with what to do about it."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from .doubt import doubt_of
from .nodes import Figure, Node

Severity = Literal["stop", "warn", "note"]
Verdict = Literal["holds", "tight", "exceeded", "unknown"]
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
    origin: Literal["chosen", "assumed"] = "chosen"
    """Of a quantity: *assumed* where it is an estimate."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Finding:
    """One check's outcome.

    ``use`` is how much of the limit is used (1 = at the limit). A yes-or-no check has no use; where an input is
    missing, or
    a figure has no bound, ``unknown`` says so in a sentence. ``over``: how bad it is once exceeded. ``destructive``:
    crossing it can break something. ``corner``: the worst case, in words, where several were searched.
    """

    code: str
    station: str
    title: str
    todo: str
    verdict: Verdict
    over: Severity = "stop"
    drive: str = ""
    stress: Node | None = None
    limit: Node | None = None
    utilisation: Figure | None = None
    unknown: str = ""
    where: str = ""
    destructive: bool = True
    remedy: Remedy | None = None
    corner: str = ""

    @property
    def severity(self) -> Severity:
        """How bad it is now: a note unless its limit is exceeded."""
        return self.over if self.verdict == "exceeded" else "note"

    @property
    def key(self) -> str:
        return f"{self.drive}/{self.code}" if self.drive else self.code

    @property
    def used(self) -> float | None:
        return self.utilisation.value if self.utilisation is not None else None

    @property
    def stops(self) -> bool:
        return self.severity == "stop"

    @property
    def tight(self) -> bool:
        return self.verdict == "tight"

    @property
    def surety(self) -> float:
        """Margin in standard uncertainties, z = ln(1/use)/u, at most MARGIN_CAP; below 0 when crossed."""
        if self.utilisation is None or self.used is None:
            return MARGIN_CAP if self.verdict == "holds" else -MARGIN_CAP
        if self.used <= 0:
            return MARGIN_CAP
        standard = doubt_of(self.utilisation).standard or 0.0
        relative = max(standard / self.used, LEAST_RELATIVE)
        return max(min(math.log(1 / self.used) / relative, MARGIN_CAP), -MARGIN_CAP)


def order(finding: Finding) -> tuple[int, float]:
    """Sort key: failed yes-or-no checks first, then by use, unknown last."""
    if finding.used is None:
        if finding.stops:
            return (0, 0.0)
        if finding.severity == "warn":
            return (1, -1.0)
        return (3, 0.0)
    return (1, -finding.used if finding.used >= 0 else -9.0)
