"""Driver parts as CSV and JSON, both ways: one column or key a field, texts as people write them.

The columns are the fields of ``DriverPart`` in order (docs/parts.md lists them). A quantity is written with its unit
(``28 V``, ``60 mΩ``); an empty cell leaves a field as it starts. A row that cannot be read is refused by its line.
"""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from pydantic import ValidationError

from ..spec import Given, bind
from .spec import DriverPart

LEFT_OUT = ("id", "sample")
COLUMNS = tuple(n for n in DriverPart.model_fields if n not in LEFT_OUT)
NEEDED = ("v_max", "continuous_a", "peak_a", "peak_time", "thermal_resistance", "pwm_limit")
"""Without these no comparison can tell whether the part holds."""
MOST_ROWS = 5000


@dataclass(frozen=True, slots=True)
class BadRow:
    """A row that was refused: its line in the file (from 1) and why."""

    line: int
    sentence: str


@dataclass(frozen=True, slots=True)
class Taken:
    """What a file held: the parts that are good, and the rows that are not."""

    parts: list[DriverPart]
    bad: list[BadRow]


def as_texts(part: DriverPart) -> dict[str, str]:
    """A part as one text a column."""
    values = {n: getattr(part, n) for n in COLUMNS}
    return {n: v.text if isinstance(v, Given) else str(v) for n, v in values.items()}


def to_csv(parts: Sequence[DriverPart]) -> str:
    """All parts as CSV with a header."""
    out = io.StringIO()
    writer = csv.DictWriter(out, COLUMNS, lineterminator="\n")
    writer.writeheader()
    for part in parts:
        writer.writerow(as_texts(part))
    return out.getvalue()


def to_json(parts: Sequence[DriverPart]) -> str:
    """All parts as a JSON list of objects with the same keys."""
    return json.dumps([as_texts(p) for p in parts], ensure_ascii=False, indent=1)


def problems(part: DriverPart) -> dict[str, str]:
    """What keeps a part from being compared: texts that cannot be read, and figures that are needed, by field."""
    bound = bind(part, "part")
    found = {path.removeprefix("part."): sentence for path, sentence in bound.errors.items()}
    for name in NEEDED:
        if getattr(part, name).value is None and name not in found:
            found[name] = f"{DriverPart.told(name).ask.label} is needed: without it no check can tell."  # type: ignore[union-attr]
    if not part.name.strip():
        found["name"] = "Give the part a name."
    if not part.on_resistance.value and not part.drop_v.value and "on_resistance" not in found:
        found["on_resistance"] = "Give the on-resistance or the fixed drop: with neither there would be no heat."
    low, high = part.v_min.value, part.v_max.value
    if low is not None and high is not None and low > high:
        found["v_min"] = "The lowest motor supply is above the highest."
    continuous, peak = part.continuous_a.value, part.peak_a.value
    if continuous is not None and peak is not None and continuous > peak:
        found["peak_a"] = "The peak current is below the continuous one."
    return found


def part_from(texts: dict[str, Any], id: str) -> DriverPart:
    """A part from one text a column. ValueError with a sentence that names the column."""
    unknown = [k for k in texts if k not in COLUMNS]
    if unknown:
        raise ValueError(f"there is no column “{unknown[0]}”")
    full: dict[str, Any] = {"id": id}
    for name, text in texts.items():
        if text is None or str(text).strip() == "":
            continue
        asked = DriverPart.told(name).ask is not None
        full[name] = {"text": str(text), "origin": "data sheet"} if asked else str(text)
    try:
        part = DriverPart.model_validate(full)
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(p) for p in first["loc"][:1])
        raise ValueError(f"column {where}: {first['msg']}; “{first.get('input')}” was given") from error
    wrong = problems(part)
    if wrong:
        name, sentence = next(iter(wrong.items()))
        raise ValueError(f"column {name}: {sentence}")
    return part


def from_csv(text: str, ids: Any) -> Taken:
    """Parts from CSV; ``ids`` gives an id for each. ValueError if the header itself cannot be used."""
    reader = csv.DictReader(io.StringIO(text.removeprefix("\ufeff")), strict=True)
    try:
        header = list(reader.fieldnames or [])
    except csv.Error as error:
        raise ValueError(f"the header cannot be read: {error}") from error
    if "name" not in header:
        raise ValueError("the first line must name the columns, “name” among them")
    parts: list[DriverPart] = []
    bad: list[BadRow] = []
    while len(parts) + len(bad) < MOST_ROWS:
        try:
            row = next(reader, None)
        except csv.Error as error:
            bad.append(BadRow(reader.line_num, f"This line is not CSV: {error}."))
            break
        if row is None:
            break
        _take(row, reader.line_num, ids, parts, bad)
    return Taken(parts, bad)


def _take(row: dict[Any, Any], line: int, ids: Any, parts: list[DriverPart], bad: list[BadRow]) -> None:
    if row.pop(None, None):
        bad.append(BadRow(line, "This line has more cells than the header."))
        return
    try:
        parts.append(part_from(row, ids()))
    except ValueError as error:
        bad.append(BadRow(line, f"{str(error)[:1].upper()}{str(error)[1:]}".rstrip(".") + "."))


def from_json(text: str, ids: Any) -> Taken:
    """Parts from a JSON list of objects; the line of a bad one is its place in the list. ValueError if it is no list."""
    try:
        rows = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise ValueError(f"that is not JSON that can be read: {error}") from error
    if not isinstance(rows, list):
        raise ValueError("a list of parts is expected")
    parts: list[DriverPart] = []
    bad: list[BadRow] = []
    for place, row in enumerate(rows[:MOST_ROWS], 1):
        if not isinstance(row, dict):
            bad.append(BadRow(place, "This is no object with a part's fields."))
            continue
        _take({str(k): v for k, v in row.items()}, place, ids, parts, bad)
    return Taken(parts, bad)
