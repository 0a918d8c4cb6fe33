"""The log of a build as Markdown: for a folder, a friend, or paper."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from itertools import groupby
from typing import Protocol

from ..core.model.build import Build
from ..core.model.log_topic import TOPICS, TopicKey

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
    @property
    def id(self) -> str: ...
    @property
    def file(self) -> str: ...
    @property
    def settled(self) -> bool: ...
    @property
    def topic(self) -> TopicKey: ...
    @property
    def details(self) -> Mapping[str, str]: ...
    @property
    def open(self) -> bool: ...


def log_markdown(build: Build, entries: Iterable[LogLine], pictures: Mapping[str, str] = {}) -> str:
    """All entries day by day, the oldest first; what was withdrawn is struck out and stays. Times as kept (UTC).
    ``pictures``: by an entry's id where its picture lies beside."""
    lines = [f"# {plain(build.name)}", "", f"Board {plain(build.issue)}."]
    if build.note.strip():
        lines += ["", plain(build.note)]
    ordered = sorted(entries, key=lambda e: e.at)
    if not ordered:
        lines += ["", "Nothing is written down yet."]
    for day, own in groupby(ordered, key=lambda e: e.at[:10]):
        lines += ["", f"## {day}", ""]
        for e in own:
            lines.append(_line(e))
            if e.id in pictures:
                lines += ["", f"  ![{plain(e.text or e.file)}]({pictures[e.id]})", ""]
    return "\n".join(lines) + "\n"


def _line(e: LogLine) -> str:
    own = TOPICS[e.topic]
    what = f"revision {e.number}" if e.kind == "revision" else own.label.lower() if e.kind == "note" else e.kind
    since = f"at revision {e.number}" if e.number else "before any revision"
    said = " ".join(plain(f"{e.text} ({e.file}, {since})" if e.file else e.text).split())
    more = [f"{f.label.lower()}: {' '.join(plain(e.details[f.key]).split())}" for f in own.asks if e.details.get(f.key)]
    said = "; ".join([said, *more, *([f"**{own.open_as.lower()}, still open**"] if e.open else [])])
    told = f"~~{said}~~ (withdrawn)" if e.withdrawn else said
    verdict = VERDICTS.get(e.verdict, e.verdict)
    return f"- {e.at[11:16]} *{what}* {told}" + (f": {verdict}" if verdict else "")


def plain(text: str) -> str:
    return text.translate(SPECIAL)
