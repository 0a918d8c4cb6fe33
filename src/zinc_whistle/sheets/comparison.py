"""Two states of a build, ready to be shown: paths in words, drives by their names."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..core.assess import Assessment
from ..core.compare import compare
from ..core.model.build import Build


@dataclass(frozen=True, slots=True, kw_only=True)
class ChangeRow:
    """One line: what, of which drive, before and after; ``worse`` where a limit came nearer."""

    what: str
    drive: str
    before: str
    after: str
    worse: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class ComparisonView:
    """What was given otherwise, which figures moved, which limits; ``more`` figures moved beside those told."""

    given: list[ChangeRow]
    figures: list[ChangeRow]
    limits: list[ChangeRow]
    more: int


def comparison_view(one: Assessment, other: Assessment) -> ComparisonView:
    """The comparison in words."""
    found = compare(one, other)
    return ComparisonView(
        given=[
            ChangeRow(
                what=g.label,
                drive=_drive(one.build, other.build, g.path),
                before=g.before or "nothing",
                after=g.after or "nothing",
            )
            for g in found.given
        ],
        figures=[
            ChangeRow(
                what=f.title,
                drive=drive_name((one.build, other.build), f.drive),
                before=f.before,
                after=f.after + (f", × {f.ratio:.3g}" if f.ratio else ""),
            )
            for f in found.figures
        ],
        limits=[
            ChangeRow(
                what=x.title,
                drive=drive_name((one.build, other.build), x.drive),
                before=x.before,
                after=x.after,
                worse=x.worse,
            )
            for x in found.limits
        ],
        more=found.more,
    )


def _drive(one: Build, other: Build, path: str) -> str:
    words = path.split(".")
    return drive_name((one, other), words[1]) if words[0] == "drives" and len(words) > 1 else ""


def drive_name(builds: Sequence[Build], id: str) -> str:
    """A drive by its name, where there is more than one."""
    names = {d.id: d.name or d.id for b in builds for d in b.drives}
    return names.get(id, "") if len(names) > 1 else ""
