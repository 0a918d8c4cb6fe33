"""Shelf parts as CSV and JSON, both ways: one column or key a field, texts as people write them.

The columns of a class are the fields of its model in order (docs/parts.md lists them). A quantity is written with its
unit (``28 V``, ``60 mΩ``); an empty cell leaves a field as it starts. A row that cannot be read is refused by its line.
"""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any, Generic, Protocol, TypeVar

from pydantic import ValidationError

from .algebra.cells import guarded, unguarded
from .cases.polarity import acting_low, tied_lines
from .cases.typical import lossless
from .model.board import lamps_of, parsed
from .model.component import Component
from .model.components import CLASSES, part_problems
from .model.driver import DriverPart
from .model.given import Given, Item, bind

LEFT_OUT = ("id", "sample", "kind")
MOST_ROWS = 5000
P = TypeVar("P", bound=Item)
Ids = Callable[[], str]


@dataclass(frozen=True, slots=True)
class RefusedRow:
    """A row that was refused: its line in the file (from 1) and why."""

    line: int
    sentence: str


@dataclass(frozen=True, slots=True)
class Intake(Generic[P]):
    """What a file held: the parts that are good, and the rows that are not."""

    parts: list[P]
    bad: list[RefusedRow]


class PartFile(Protocol[P]):
    """Parts of one class in files, both ways."""

    @property
    def model(self) -> type[P]:
        """What they are."""

    def to_csv(self, parts: Sequence[P], /) -> str:
        """All of them as CSV."""

    def to_json(self, parts: Sequence[P], /) -> str:
        """All of them as JSON."""

    def from_csv(self, text: str, ids: Ids, /) -> Intake[P]:
        """Those of a CSV file. ValueError if it cannot be used at all."""

    def from_json(self, text: str, ids: Ids, /) -> Intake[P]:
        """Those of a JSON file. ValueError if it cannot be used at all."""


class Format(Generic[P]):
    """How the parts of one class stand in a file: ``needed`` fields, and what may contradict itself in a part."""

    def __init__(
        self,
        model: type[P],
        needed: Sequence[str],
        part_problems: Callable[[P], dict[str, str]],
        left_out: Sequence[str] = (),
    ) -> None:
        self.model, self.needed, self.part_problems = model, tuple(needed), part_problems
        self.columns = tuple(n for n in model.model_fields if n not in (left_out or LEFT_OUT))

    def as_texts(self, part: P) -> dict[str, str]:
        """A part as one text a column."""
        values = {n: getattr(part, n) for n in self.columns}
        return {n: v.text if isinstance(v, Given) else str(v) for n, v in values.items()}

    def to_csv(self, parts: Sequence[P]) -> str:
        """All parts as CSV with a header."""
        out = io.StringIO()
        writer = csv.DictWriter(out, self.columns, lineterminator="\n")
        writer.writeheader()
        for part in parts:
            writer.writerow({name: guarded(text) for name, text in self.as_texts(part).items()})
        return out.getvalue()

    def to_json(self, parts: Sequence[P]) -> str:
        """All parts as a JSON list of objects with the same keys."""
        return json.dumps([self.as_texts(p) for p in parts], ensure_ascii=False, indent=1)

    def problems(self, part: P) -> dict[str, str]:
        """What keeps a part from being used: texts that cannot be read, and figures that are needed, by field."""
        bound = bind(part, "part")
        found = {path.removeprefix("part."): sentence for path, sentence in bound.errors.items()}
        for name in self.needed:
            if getattr(part, name).value is None and name not in found:
                label = self.model.meta(name).ask.label  # type: ignore[union-attr]
                found[name] = f"{label} is needed: without it no check can tell."
        if not getattr(part, "name", "").strip():
            found["name"] = "Give the part a name."
        for name, sentence in self.part_problems(part).items():
            found.setdefault(name, sentence)
        return found

    def part_from(self, texts: dict[str, Any], id: str) -> P:
        """A part from one text a column. ValueError with a sentence that names the column."""
        unknown = [k for k in texts if k not in self.columns]
        if unknown:
            raise ValueError(f"there is no column “{unknown[0]}”")
        full: dict[str, Any] = {"id": id}
        for name, text in texts.items():
            if text is None or str(text).strip() == "":
                continue
            asked = self.model.meta(name).ask is not None
            full[name] = {"text": str(text), "origin": "data sheet"} if asked else str(text)
        try:
            part = self.model.model_validate(full)
        except ValidationError as error:
            first = error.errors()[0]
            where = ".".join(str(p) for p in first["loc"][:1])
            raise ValueError(f"column {where}: {first['msg']}; “{first.get('input')}” was given") from error
        wrong = self.problems(part)
        if wrong:
            name, sentence = next(iter(wrong.items()))
            raise ValueError(f"column {name}: {sentence}")
        return part

    def from_csv(self, text: str, ids: Ids) -> Intake[P]:
        """Parts from CSV; ``ids`` gives an id for each. ValueError if the header itself cannot be used."""
        reader = csv.DictReader(io.StringIO(text.removeprefix("\ufeff")), strict=True)
        try:
            header = list(reader.fieldnames or [])
        except csv.Error as error:
            raise ValueError(f"the header cannot be read: {error}") from error
        if "name" not in header:
            raise ValueError("the first line must name the columns, “name” among them")
        taken: Intake[P] = Intake([], [])
        while len(taken.parts) + len(taken.bad) < MOST_ROWS:
            try:
                row = next(reader, None)
            except csv.Error as error:
                taken.bad.append(RefusedRow(reader.line_num, f"This line is not CSV: {error}."))
                break
            if row is None:
                break
            texts = {name: unguarded(cell) if isinstance(cell, str) else cell for name, cell in row.items()}
            self._take(texts, reader.line_num, ids, taken)
        return taken

    def from_json(self, text: str, ids: Ids) -> Intake[P]:
        """Parts from a JSON list of objects; a bad one's line is its place in the list. ValueError if it is no list."""
        try:
            rows = json.loads(text)
        except (ValueError, RecursionError) as error:
            raise ValueError(f"that is not JSON that can be read: {error}") from error
        if not isinstance(rows, list):
            raise ValueError("a list of parts is expected")
        taken: Intake[P] = Intake([], [])
        for place, row in enumerate(rows[:MOST_ROWS], 1):
            if not isinstance(row, dict):
                taken.bad.append(RefusedRow(place, "This is no object with a part's fields."))
                continue
            self._take({str(k): v for k, v in row.items()}, place, ids, taken)
        return taken

    def _take(self, row: dict[Any, Any], line: int, ids: Ids, taken: Intake[P]) -> None:
        if row.pop(None, None):
            taken.bad.append(RefusedRow(line, "This line has more cells than the header."))
            return
        try:
            taken.parts.append(self.part_from(row, ids()))
        except ValueError as error:
            taken.bad.append(RefusedRow(line, f"{str(error)[:1].upper()}{str(error)[1:]}".rstrip(".") + "."))


def _driver_amiss(part: DriverPart) -> dict[str, str]:
    found = {}
    if lossless(part):
        found["on_resistance"] = "Give the on-resistance or the fixed drop: with neither there would be no heat."
    low, high = part.v_min.value, part.v_max.value
    if low is not None and high is not None and low > high:
        found["v_min"] = "The lowest motor supply is above the highest."
    for name, read in (
        ("pin_map", lambda: parsed(part.pin_map)),
        ("lamps", lambda: lamps_of(part.lamps)),
        ("active_low", lambda: acting_low(part)),
        ("tied", lambda: tied_lines(part)),
    ):
        try:
            read()
        except ValueError as error:
            found[name] = str(error)
    continuous, peak = part.continuous_a.value, part.peak_a.value
    if continuous is not None and peak is not None and continuous > peak:
        found["peak_a"] = "The peak current is below the continuous one."
    return found


DRIVERS: Format[DriverPart] = Format(
    DriverPart,
    ("v_max", "continuous_a", "peak_a"),
    _driver_amiss,
    ("id", "sample"),
)
COMPONENTS: dict[str, Format[Component]] = {
    kind: Format(model, model.NEEDED, part_problems) for kind, (_, model) in CLASSES.items()
}
