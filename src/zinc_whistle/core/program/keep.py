"""What the builder wrote into a generated program: taken over when it is made anew, or told where it cannot be."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass

BEGIN = re.compile(r"^[ \t]*(?:/\*|#) yours: (?P<name>.+?)(?: \*/)?[ \t]*$")
END = re.compile(r"^[ \t]*(?:/\*|#) end of yours: (?P<name>.+?)(?: \*/)?[ \t]*$")


@dataclass(frozen=True, slots=True)
class Kept:
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


def renewed(new: str, edited: str, before: str = "") -> Kept:
    """A new program with the parts that the builder wrote into ``edited``.

    ``before`` is what was generated then (empty: not known); lines outside the marks that differ from it are told, for
    they are lost. ValueError where the marks of ``edited`` do not pair.
    """
    theirs, blank = own_parts(edited), own_parts(new)
    old = own_parts(before) if before else blank
    written: Mapping[str, str] = {n: t for n, t in theirs.items() if t.strip() != old.get(n, "").strip()}
    warnings = [
        f"“{name}” has no place in the new program: its {len(text.splitlines())} lines are left out."
        for name, text in written.items()
        if name not in blank
    ]
    if before:
        lost = [line for line in _around(edited) if line and line not in set(_around(before))]
        warnings += [f"Changed outside your own parts, and lost: {line.strip()[:80]}" for line in lost[:8]]
        if len(lost) > 8:
            warnings.append(f"… and {len(lost) - 8} more such lines.")
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
    return Kept("\n".join(lines) + "\n", tuple(warnings), tuple(n for n in written if n in blank))
