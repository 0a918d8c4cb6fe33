"""Two states of a build, ready to be shown: paths in words, drives by their names."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..core.assess import Assessment
from ..core.compare import compare
from ..core.model.build import Build
from ..core.retuning import retuning


@dataclass(frozen=True, slots=True, kw_only=True)
class ChangeRow:
    """One line: what, of which drive, before and after; ``worse`` where a limit came nearer."""

    what: str
    drive: str
    before: str
    after: str
    worse: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class RetuneRow:
    """A setting that stayed while what it was set for moved."""

    what: str
    drive: str
    text: str
    moved: list[str]
    now: str
    """What would be worked out for it now; nothing where it is found on the bench."""


@dataclass(frozen=True, slots=True, kw_only=True)
class ComparisonView:
    """What was given otherwise, which figures moved, which limits, and which settings are to be set again; ``more``
    figures moved beside those told."""

    given: list[ChangeRow]
    figures: list[ChangeRow]
    limits: list[ChangeRow]
    retune: list[RetuneRow]
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
        retune=retune_rows(one, other),
        more=found.more,
    )


def retune_rows(one: Assessment, other: Assessment) -> list[RetuneRow]:
    """The settings to be set again from one state to the other."""
    return [
        RetuneRow(
            what=r.label,
            drive=drive_name((one.build, other.build), r.drive),
            text=r.text,
            moved=[f"{title}: {before} → {after}" for title, before, after in r.moved],
            now=r.now,
        )
        for r in retuning(one, other)
    ]


def retune_words(rows: Sequence[RetuneRow]) -> str:
    """The list as an entry of the log."""
    return "\n".join(
        f"{r.what}{f', {r.drive}' if r.drive else ''}, set to {r.text}: {'; '.join(r.moved)}."
        + (f" Worked out now: {r.now}." if r.now else " To be found on the bench.")
        for r in rows
    )


def _drive(one: Build, other: Build, path: str) -> str:
    words = path.split(".")
    return drive_name((one, other), words[1]) if words[0] == "drives" and len(words) > 1 else ""


def drive_name(builds: Sequence[Build], id: str) -> str:
    """A drive by its name, where there is more than one."""
    names = {d.id: d.name or d.id for b in builds for d in b.drives}
    return names.get(id, "") if len(names) > 1 else ""
