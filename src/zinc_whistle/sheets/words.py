"""The trade's words and ours, a sentence each and where to see it; docs/glossary.md holds the same."""

from __future__ import annotations

import json
from dataclasses import dataclass
from functools import cache
from importlib.resources import files


@dataclass(frozen=True, slots=True, kw_only=True)
class Word:
    """``also`` are other names that people look for; ``station`` is where it stands (empty: everywhere)."""

    term: str
    also: list[str]
    station: str
    says: str
    plain: bool = False
    """Whether people also write it meaning nothing of the kind: it is explained when asked for, not where it is met."""


@cache
def words() -> tuple[Word, ...]:
    """All of them."""
    text = files(__package__).joinpath("words.json").read_text("utf-8")
    return tuple(Word(**w) for w in json.loads(text))
