"""Controller profiles in files.

A CSV file has a line for each figure, timer and pin; a line that begins with ``controller`` begins the next one. As
JSON it is a list of objects with the same fields. docs/parts.md names them.
"""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Iterator, Sequence
from typing import Any

from pydantic import ValidationError

from .algebra.cells import guarded, unguarded
from .exchange import Ids, Intake, RefusedRow
from .model.signals import ABILITIES, Controller, Pin, Timer
from .profiles import problems

COLUMNS = (
    *("line", "name", "value", "program", "place", "can", "timer", "compare", "port", "channel", "page"),
    *("bits", "prescalers", "top", "kept for"),
)
CHOICES = ("grid", "effort")
FIGURES = (*(n for n in Controller.model_fields if Controller.meta(n).ask is not None), *CHOICES)
TOPS = {"free": True, "fixed": False}
MOST_CONTROLLERS = 200


def to_csv(controllers: Sequence[Controller]) -> str:
    """Profiles as CSV: a line a figure, timer and pin."""
    out = io.StringIO()
    writer = csv.DictWriter(out, COLUMNS, restval="", lineterminator="\n")
    writer.writeheader()
    for controller in controllers:
        for row in _rows(controller):
            writer.writerow({k: guarded(v) for k, v in row.items()})
    return out.getvalue()


def _rows(controller: Controller) -> Iterator[dict[str, str]]:
    yield {"line": "controller", "name": controller.name, "program": controller.program}
    for name in FIGURES:
        held = getattr(controller, name)
        if text := held if name in CHOICES else held.text:
            yield {"line": "figure", "name": name, "value": text}
    names = {t.id: t.name for t in controller.timers}
    for timer in controller.timers:
        yield {
            "line": "timer",
            "name": timer.name,
            "bits": str(timer.bits),
            "prescalers": " ".join(map(str, timer.prescalers)),
            "top": "free" if timer.free_top else "fixed",
            "kept for": timer.kept_for,
        }
    for pin in controller.pins:
        yield {
            "line": "pin",
            "name": pin.label,
            "can": ", ".join(pin.can),
            "timer": names.get(pin.timer, ""),
            **{n: getattr(pin, n) for n in ("program", "place", "compare", "port", "channel", "page")},
        }


def to_json(controllers: Sequence[Controller]) -> str:
    """Profiles as a JSON list of objects: figures as texts, timers and pins as lists; a pin's timer by its name."""
    return json.dumps([_as_object(c) for c in controllers], ensure_ascii=False, indent=1)


def _as_object(controller: Controller) -> dict[str, Any]:
    made: dict[str, Any] = {"name": controller.name, "program": controller.program, "timers": [], "pins": []}
    for row in list(_rows(controller))[1:]:
        line = row.pop("line")
        full = {k: v for k, v in row.items() if v}
        if line == "figure":
            made[row["name"]] = row["value"]
        elif line == "timer":
            made["timers"].append(full)
        else:
            made["pins"].append(full)
    return made


class _Taken:
    """One profile as it is read, line by line."""

    def __init__(self, line: int, row: dict[str, str]) -> None:
        self.line, self.name, self.program = line, row.get("name", "").strip(), row.get("program", "").strip()
        self.figures: dict[str, str] = {}
        self.timers: list[dict[str, Any]] = []
        self.pins: list[dict[str, Any]] = []
        self.bad: list[RefusedRow] = []

    def take(self, line: int, kind: str, row: dict[str, str]) -> None:
        """One more line of it. A line that cannot be used is kept with its sentence."""
        try:
            if kind == "figure":
                self._figure(row)
            elif kind == "timer":
                self.timers.append(_timer(row, f"t{len(self.timers)}"))
            elif kind == "pin":
                self.pins.append(self._pin(row))
            else:
                raise ValueError(f"“{kind[:40]}” is no kind of line: there are controller, figure, timer and pin")
        except ValueError as error:
            self.bad.append(RefusedRow(line, _sentence(str(error))))

    def _figure(self, row: dict[str, str]) -> None:
        name = row.get("name", "").strip()
        if name not in FIGURES:
            raise ValueError(f"there is no figure “{name[:40]}”: there are {', '.join(FIGURES)}")
        value = row.get("value", "").strip()
        if name in CHOICES and value not in (options := Controller.meta(name).choose.options):  # type: ignore[union-attr]
            raise ValueError(f"{name}: “{value[:40]}” is none of {', '.join(filter(None, options))}")
        self.figures[name] = value

    def _pin(self, row: dict[str, str]) -> dict[str, Any]:
        can = [a.strip().lower() for a in row.get("can", "").split(",") if a.strip()]
        unknown = next((a for a in can if a not in ABILITIES), None)
        if unknown is not None:
            raise ValueError(f"no pin can “{unknown[:40]}”: there are {', '.join(ABILITIES)}")
        timer = row.get("timer", "").strip()
        by_name = {t["name"].lower(): t["id"] for t in self.timers}
        if timer and timer.lower() not in by_name:
            raise ValueError(f"there is no timer “{timer[:40]}” above this line")
        made = {n: row.get(n, "").strip() for n in ("program", "place", "compare", "port", "channel", "page")}
        whole = {"id": f"p{len(self.pins)}", "label": row.get("name", "").strip(), "can": can, **made}
        return _checked(Pin, whole | {"timer": by_name.get(timer.lower(), "")})

    def made(self, id: str) -> Controller:
        """The profile. ValueError with a sentence."""
        if self.program not in ("", "avr", "micropython"):
            raise ValueError(f"“{self.program[:40]}” is no language of a program: avr, micropython, or nothing")
        figures: dict[str, Any] = {
            n: t if n in CHOICES else {"text": t, "origin": "data sheet"} for n, t in self.figures.items() if t
        }
        lists = {"timers": self.timers, "pins": self.pins}
        whole = {"id": id, "name": self.name, "program": self.program, **lists, **figures}
        made = Controller.model_validate(_checked(Controller, whole))
        wrong = next(iter(problems(made).values()), "")
        if wrong:
            raise ValueError(f"{self.name or 'a controller'}: {wrong}")
        return made


def _timer(row: dict[str, str], id: str) -> dict[str, Any]:
    bits, top = row.get("bits", "").strip(), row.get("top", "").strip().lower() or "free"
    prescalers = row.get("prescalers", "").replace(",", " ").split()
    if not bits.isascii() or not bits.isdigit() or len(bits) > 2:
        raise ValueError(f"bits: a timer's width in bits is a whole number, “{bits[:40]}” was given")
    if not prescalers or not all(p.isascii() and p.isdigit() and len(p) < 6 for p in prescalers):
        raise ValueError("prescalers: whole numbers with spaces between them, as 1 8 64")
    if top not in TOPS:
        raise ValueError(f"top: free where the count's top can be chosen, else fixed; “{top[:40]}” was given")
    whole = {
        "id": id,
        "name": row.get("name", "").strip(),
        "bits": int(bits),
        "prescalers": [int(p) for p in prescalers],
        "free_top": TOPS[top],
        "kept_for": row.get("kept for", "").strip(),
    }
    return _checked(Timer, whole)


def _checked(model: Any, whole: dict[str, Any]) -> dict[str, Any]:
    """The same, if the model takes it. ValueError with what it does not take."""
    try:
        model.model_validate(whole)
    except ValidationError as error:
        first = error.errors()[0]
        where = " ".join(str(p) for p in first["loc"] if not isinstance(p, int))
        raise ValueError(f"{where}: {_in_words(first)}") from error
    return whole


def _in_words(error: Any) -> str:
    """What a model does not take, in words of the builder's."""
    allowed = error.get("ctx", {})
    given = f"“{str(error.get('input'))[:40]}” was given"
    match error["type"]:
        case "string_too_long":
            return f"at most {allowed['max_length']} signs"
        case "greater_than_equal" | "less_than_equal":
            most = allowed.get("le", allowed.get("ge"))
            return f"{'at most' if 'le' in allowed else 'at least'} {most}; {given}"
        case "too_long":
            return f"at most {allowed['max_length']} of them"
        case _:
            return given


def _sentence(words: str) -> str:
    return f"{words[:1].upper()}{words[1:]}".rstrip(".") + "."


def from_csv(text: str, ids: Ids) -> Intake[Controller]:
    """Profiles from CSV; ``ids`` gives an id for each. ValueError if the header itself cannot be used."""
    reader = csv.DictReader(io.StringIO(text.removeprefix("\ufeff")), strict=True)
    try:
        header = [h.strip().lower() for h in reader.fieldnames or []]
    except csv.Error as error:
        raise ValueError(f"the header cannot be read: {error}") from error
    if not {"line", "name"} <= set(header):
        raise ValueError("the first line must name the columns, “line” and “name” among them")
    unknown = next((h for h in header if h not in COLUMNS), None)
    if unknown is not None:
        raise ValueError(f"there is no column “{unknown[:40]}”: there are {', '.join(COLUMNS)}")
    reader.fieldnames = header

    def rows() -> Iterator[tuple[int, dict[str, str] | str]]:
        try:
            for row in reader:
                if row.pop(None, None):
                    yield reader.line_num, "This line has more cells than the header."
                else:
                    yield reader.line_num, {k: unguarded(v or "") for k, v in row.items()}
        except csv.Error as error:
            yield reader.line_num, f"This line is not CSV: {error}."

    return _taken(rows(), ids)


def _taken(rows: Iterator[tuple[int, dict[str, str] | str]], ids: Ids) -> Intake[Controller]:
    taken: Intake[Controller] = Intake([], [])
    current: _Taken | None = None

    def close() -> None:
        if current is None:
            return
        try:
            if current.bad:
                raise ValueError("")
            taken.parts.append(current.made(ids()))
        except ValueError as error:
            taken.bad.extend(current.bad or [RefusedRow(current.line, _sentence(str(error)))])

    for line, row in rows:
        if isinstance(row, str):
            taken.bad.append(RefusedRow(line, row))
            continue
        kind = row.get("line", "").strip().lower()
        if not any(v.strip() for v in row.values()):
            continue
        if kind == "controller":
            close()
            current = _Taken(line, row)
            if len(taken.parts) + len(taken.bad) >= MOST_CONTROLLERS:
                taken.bad.append(RefusedRow(line, f"More than {MOST_CONTROLLERS} controllers: the rest was left."))
                return taken
        elif current is None:
            taken.bad.append(RefusedRow(line, "A line that begins with “controller” must come first."))
        else:
            current.take(line, kind, row)
    close()
    return taken


def from_json(text: str, ids: Ids) -> Intake[Controller]:
    """Profiles from JSON as ``to_json`` writes it; a bad one's line is its place. ValueError if it is no list."""
    try:
        found = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise ValueError(f"that is not JSON that can be read: {error}") from error
    if not isinstance(found, list):
        raise ValueError("a list of controllers is expected")
    taken: Intake[Controller] = Intake([], [])
    for place, one in enumerate(found[:MOST_CONTROLLERS], 1):
        part = _taken(_rows_of(one, place), ids) if isinstance(one, dict) else None
        if part is None:
            taken.bad.append(RefusedRow(place, "This is no object with a controller's fields."))
            continue
        taken.parts.extend(part.parts)
        taken.bad.extend(RefusedRow(place, b.sentence) for b in part.bad)
    return taken


def _rows_of(one: dict[Any, Any], place: int) -> Iterator[tuple[int, dict[str, str] | str]]:
    def texts(found: Any, line: str) -> dict[str, str] | str:
        if not isinstance(found, dict):
            return f"A {line} is an object with its fields."
        unknown = next((k for k in found if k not in COLUMNS), None)
        if unknown is not None:
            return f"A {line} has no “{str(unknown)[:40]}”."
        joined = {k: ", ".join(map(str, v)) if isinstance(v, list) else str(v) for k, v in found.items()}
        return {"line": line, **joined}

    lists = {"timers": "timer", "pins": "pin"}
    yield place, {"line": "controller", "name": str(one.get("name", "")), "program": str(one.get("program", ""))}
    for key, value in one.items():
        if key in lists and not isinstance(value, list):
            yield place, f"“{key}” is a list."
        elif key not in ("name", "program", *lists):
            yield place, {"line": "figure", "name": str(key), "value": str(value)}
    for key, line in lists.items():
        for found in one.get(key, []) if isinstance(one.get(key, []), list) else []:
            yield place, texts(found, line)


class ProfileFile:
    """Profiles in files, in the way in which other parts of the shelf have theirs."""

    model = Controller
    to_csv = staticmethod(to_csv)
    to_json = staticmethod(to_json)
    from_csv = staticmethod(from_csv)
    from_json = staticmethod(from_json)


PROFILES = ProfileFile()
