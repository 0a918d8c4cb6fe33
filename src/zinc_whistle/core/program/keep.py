"""What the builder wrote into a generated program: taken over when it is made anew, or told where it cannot be."""

from __future__ import annotations

import re
import zlib
from collections.abc import Mapping
from dataclasses import dataclass

BEGIN = re.compile(r"^[ \t]*(?:/\*|#) yours: (?P<name>.+?)(?: \*/)?[ \t]*$")
END = re.compile(r"^[ \t]*(?:/\*|#) end of yours: (?P<name>.+?)(?: \*/)?[ \t]*$")


@dataclass(frozen=True, slots=True)
class StoreOf:
    """The new program with the builder's own parts in it, and sentences on what to look at."""

    source: str
    warnings: tuple[str, ...]
    kept: tuple[str, ...]


def own_parts(source: str) -> dict[str, str]:
    """The text between the marks, by name. ValueError with a sentence where marks do not pair."""
    found: dict[str, str] = {}
    name, lines = None, list[str]()
    for number, line in enumerate(source.splitlines(), 1):
        begins, ends = BEGIN.match(line), END.match(line)
        if begins and name is None:
            name, lines = begins["name"], []
            if name in found:
                raise ValueError(f"Line {number}: “{name}” begins twice.")
        elif ends and name == ends["name"]:
            found[name], name = "\n".join(lines), None
        elif begins or ends:
            raise ValueError(f"Line {number}: “{line.strip()}” does not pair with the mark before it.")
        elif name is not None:
            lines.append(line)
    if name is not None:
        raise ValueError(f"“{name}” has no end: put its “end of yours” back.")
    return found


def _around(source: str) -> list[str]:
    """Everything outside the marks, line by line."""
    out, inside = [], False
    for line in source.splitlines():
        if BEGIN.match(line):
            inside = True
        elif END.match(line):
            inside = False
        elif not inside:
            out.append(line.rstrip())
    return out


MADE = re.compile(r"^(?:/\*|#) made whole: (?P<sum>[0-9A-F]{8})(?: \*/)?$")


def _sum(source: str) -> str:
    """A sum over everything outside the marks."""
    return f"{zlib.crc32(chr(10).join(x for x in _around(source) if not MADE.match(x)).encode()):08X}"


def stamped(source: str, comment: tuple[str, str]) -> str:
    """A generated program with its sum as the last line, so that a change outside the marks can be told later."""
    return f"{source.rstrip()}\n\n{comment[0]} made whole: {_sum(source.rstrip())}{comment[1]}\n"


def _changed_outside(new: str, edited: str) -> list[str]:
    """Sentences on what was changed outside the marks and will be lost."""
    stored = next((m["sum"] for x in edited.splitlines() if (m := MADE.match(x.rstrip()))), None)
    body = "\n".join(x for x in edited.splitlines() if not MADE.match(x.rstrip())).rstrip()
    if stored == _sum(body):
        return []
    known = {x.strip() for x in _around(new)}
    other = [x.strip() for x in _around(body) if x.strip() and x.strip() not in known]
    found = (
        ["Something outside your own parts was changed: it is not taken over."]
        if stored
        else ["This file does not tell whether anything outside your own parts was changed."]
    )
    found += [f"Not in the new program: {line[:80]}" for line in other[:8]]
    return [*found, f"… and {len(other) - 8} more such lines."] if len(other) > 8 else found


def renewed(new: str, edited: str) -> StoreOf:
    """A new program with the parts that the builder wrote into ``edited``; what lies outside the marks is new.

    ValueError where the marks of ``edited`` do not pair.
    """
    theirs, blank = own_parts(edited), own_parts(new)
    written: Mapping[str, str] = {n: t for n, t in theirs.items() if t.strip() != blank.get(n, "").strip()}
    warnings = [
        f"“{name}” has no place in the new program: its {len(text.splitlines())} lines are left out."
        for name, text in written.items()
        if name not in blank
    ]
    warnings += _changed_outside(new, edited)
    lines, name = list[str](), None
    for line in new.splitlines():
        begins, ends = BEGIN.match(line), END.match(line)
        if begins:
            name = begins["name"]
            lines.append(line)
            if name in written:
                lines += written[name].splitlines()
            continue
        if ends:
            name = None
        if name is None or name not in written:
            lines.append(line)
    return StoreOf("\n".join(lines) + "\n", tuple(warnings), tuple(n for n in written if n in blank))
