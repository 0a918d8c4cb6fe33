"""Two edits of one build brought together: each field from whoever changed it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from pydantic import ValidationError

from .compare import labels
from .model.build import Build


class _Gone:
    """What stands where nothing is: a text that is null is something."""

    def __repr__(self) -> str:
        return "nothing"


GONE = _Gone()


@dataclass(frozen=True, slots=True)
class Merged:
    """The build with both edits in it, or None with what both changed differently: paths, and how their fields are
    called."""

    build: Build | None
    conflicts: tuple[str, ...] = ()
    named: tuple[str, ...] = ()


def merged(base: Build, mine: Build, theirs: Build) -> Merged:
    """What ``mine`` and ``theirs`` made of ``base``, together. A quantity is one field with its origin, doubt and
    meter; rows are told apart by their ids, and a row that one took away while the other changed it is of both.

    Edits that stand side by side but make no build together (one took a controller away, the other gave it a drive)
    are a conflict as well.
    """
    found: list[str] = []
    was, own, other = (b.model_dump(mode="json") for b in (base, mine, theirs))
    body = _merge(was, own, other, "", found)
    if not found:
        try:
            return Merged(Build.model_validate(body))
        except ValidationError:
            found.append("")
    named = labels(mine) | labels(theirs)
    words = [named.get(path) or path.rpartition(".")[2].replace("_", " ") or "what hangs together" for path in found]
    return Merged(None, tuple(found), tuple(dict.fromkeys(words)))


def _merge(base: Any, mine: Any, theirs: Any, path: str, found: list[str]) -> Any:
    if mine == theirs or theirs == base:
        return mine
    if mine == base:
        return theirs
    sides = (base, mine, theirs)
    if all(isinstance(x, Mapping) and "origin" not in x for x in sides) and _one_thing(sides):
        return _fields(base, mine, theirs, path, found)
    if all(isinstance(x, list) for x in sides):
        if all(isinstance(item, Mapping) and "id" in item for x in sides for item in x):
            return _rows(base, mine, theirs, path, found)
        if all(isinstance(item, str) for x in sides for item in x):
            return _marks(base, mine, theirs)
    found.append(path)
    return mine


def _one_thing(sides: Sequence[Mapping[str, Any]]) -> bool:
    """Not another part, nor a drive of another kind, in the same place: fields of two things make no third one."""
    return all(len({x.get(name) for x in sides}) == 1 for name in ("id", "kind"))


def _at(path: str, name: str) -> str:
    return f"{path}.{name}" if path else name


def _fields(
    base: Mapping[str, Any], mine: Mapping[str, Any], theirs: Mapping[str, Any], path: str, found: list[str]
) -> dict[str, Any]:
    made = {}
    for name in dict.fromkeys((*mine, *theirs)):
        kept = _merge(base.get(name, GONE), mine.get(name, GONE), theirs.get(name, GONE), _at(path, name), found)
        if kept is not GONE:
            made[name] = kept
    return made


def _rows(base: Sequence[Any], mine: Sequence[Any], theirs: Sequence[Any], path: str, found: list[str]) -> list[Any]:
    of = [{row["id"]: row for row in rows} for rows in (base, mine, theirs)]
    # In my order, the other's new rows behind them.
    order = dict.fromkeys((*of[1], *of[2]))
    was, own, other = of
    made = [_merge(was.get(id, GONE), own.get(id, GONE), other.get(id, GONE), _at(path, id), found) for id in order]
    return [row for row in made if row is not GONE]


def _marks(base: Sequence[str], mine: Sequence[str], theirs: Sequence[str]) -> list[str]:
    """Ticks: what either made or took back."""
    gone = set(base) - set(theirs)
    return [*(m for m in mine if m not in gone), *(t for t in theirs if t not in base and t not in mine)]
