"""The log of a build as Markdown: for a folder, a friend, or paper."""

from __future__ import annotations

from collections.abc import Iterable
from itertools import groupby
from typing import Protocol

from ..core.model.build import Build

VERDICTS = {"pass": "right", "fail": "**not right**", "doubtful": "doubtful", "open": "not judged", "": ""}
SPECIAL = str.maketrans({c: f"\\{c}" for c in "\\`*_{}[]<>#|"})
"""What a builder wrote is words, not marks."""


class LogLine(Protocol):
    """What is asked of an entry."""

    @property
    def kind(self) -> str: ...
    @property
    def text(self) -> str: ...
    @property
    def at(self) -> str: ...
    @property
    def verdict(self) -> str: ...
    @property
    def withdrawn(self) -> bool: ...
    @property
    def number(self) -> int: ...


def log_markdown(build: Build, entries: Iterable[LogLine]) -> str:
    """All entries day by day, the oldest first; what was withdrawn is struck out and stays. Times as kept (UTC)."""
    lines = [f"# {_plain(build.name)}", "", f"Board {_plain(build.issue)}."]
    if build.note.strip():
        lines += ["", _plain(build.note)]
    ordered = sorted(entries, key=lambda e: e.at)
    if not ordered:
        lines += ["", "Nothing is written down yet."]
    for day, own in groupby(ordered, key=lambda e: e.at[:10]):
        lines += ["", f"## {day}", ""]
        lines += [_line(e) for e in own]
    return "\n".join(lines) + "\n"


def _line(e: LogLine) -> str:
    what = f"revision {e.number}" if e.kind == "revision" else e.kind
    said = " ".join(_plain(e.text).split())
    told = f"~~{said}~~ (withdrawn)" if e.withdrawn else said
    verdict = VERDICTS.get(e.verdict, e.verdict)
    return f"- {e.at[11:16]} *{what}* {told}" + (f": {verdict}" if verdict else "")


def _plain(text: str) -> str:
    return text.translate(SPECIAL)
