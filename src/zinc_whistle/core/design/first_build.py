"""A build from the few answers that decide, all else an estimate that is marked as one; and what it comes to.

Asked first: what is moved, how fast, by which motor, on which supply, one way or both. From there a builder walks the
stations and puts what is measured in the estimates' place.
"""

from __future__ import annotations

import json
import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from typing import Any

from ..algebra.quantities import QuantityError, parse, phrase
from ..laws import wiring as rules
from ..model.build import Build
from ..model.given import Origin
from ..model.motor import MotorPart

GRAVITY = 9.81
RUBS = 0.02
"""Friction at a turntable's rim over its weight (common practice, no source): a luggage scale tells the true one."""
SHARE = 0.65
"""Of the free speed at which a gear that is still to be chosen lets the motor work: what is left is for a flat supply
and a warm winding (common practice, no source)."""
GAUGES = tuple(range(28, 7, -2))
"""Sizes of wire that are looked at, thin ones first (AWG)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Question:
    """One thing that is asked. ``path`` is where a quantity goes, ``kind`` of what; ``when`` are the answers to other
    questions under which it is asked at all; ``estimate`` is put where it is left empty, and marked so."""

    id: str
    label: str
    kind: str = ""
    unit: str = ""
    path: str = ""
    options: Mapping[str, str] = field(default_factory=dict)
    when: tuple[str, tuple[str, ...]] | None = None
    estimate: str = ""
    help: str = ""


MOVES = {
    "turntable": "A turntable, a carousel",
    "wheels": "A vehicle on wheels",
    "winch": "A winch, a hoist, a belt",
    "direct": "Something else that turns",
}
MOTORS = {
    "readings": "In my hand: I can measure it",
    "data sheet": "By its label or data sheet",
    "shelf": "On my shelf",
}
SUPPLIES = {
    "lifepo4": "Lithium iron phosphate cells",
    "li-ion": "Lithium-ion cells",
    "lead": "Lead-acid cells",
    "nimh": "Nickel-metal hydride cells",
    "alkaline": "Alkaline cells",
    "adaptor": "A mains adaptor",
}
CELLS = ("lifepo4", "li-ion", "lead", "nimh", "alkaline")
D, M = "drives.d1.", "drives.d1.motor."
TABLE, WHEELS, WINCH, DIRECT = (("moves", (k,)) for k in MOVES)
HELD, SHEET, SHELF = (("motor", (k,)) for k in MOTORS)
NOT_KNOWN_WHOLE = ("motor", ("", "readings", "data sheet"))
"""What a motor of the shelf has told already is not asked."""
QUESTIONS = (
    Question(id="moves", label="What it moves", options=MOVES),
    Question(id="table_mass", label="Mass that turns", kind="mass", unit="kg", when=TABLE),
    Question(id="table_radius", label="Outer radius", kind="length", unit="m", when=TABLE),
    Question(id="table_speed", label="Speed wanted", kind="speed", unit="rpm", when=TABLE),
    Question(id="car_mass", label="Mass, all told", kind="mass", unit="kg", when=WHEELS),
    Question(id="car_wheel", label="Wheel diameter", kind="length", unit="mm", when=WHEELS),
    Question(
        id="car_speed", label="Speed wanted", kind="velocity", unit="m/s", when=WHEELS, help="Walking is 1.4 m/s."
    ),
    Question(id="winch_mass", label="Mass lifted", kind="mass", unit="kg", when=WINCH),
    Question(id="winch_radius", label="Drum radius", kind="length", unit="mm", when=WINCH),
    Question(id="winch_speed", label="Speed wanted", kind="velocity", unit="mm/s", when=WINCH),
    Question(id="torque", label="Torque at the output", kind="torque", unit="N·m", when=DIRECT),
    Question(id="turn_speed", label="Speed wanted", kind="speed", unit="rpm", when=DIRECT),
    Question(
        id="gear", label="Gear between motor and output", kind="ratio", unit="1", path=f"{D}load.gear_ratio",
        help="As 75 for 75:1. Empty: what would suit is told.",
    ),
    Question(id="way", label="It turns", options={"one way": "One way", "through zero": "Both ways"}),
    Question(id="motor", label="The motor", options=MOTORS),
    Question(
        id="held_v", label="Shaft held: volts", kind="voltage", unit="V", when=HELD,
        help="One second, a low voltage: a cell or a limited supply.",
    ),
    Question(id="held_a", label="Shaft held: current", kind="current", unit="A", when=HELD),
    Question(id="free_v", label="Running free: volts", kind="voltage", unit="V", path=f"{M}no_load_v", when=HELD),
    Question(id="free_a", label="Running free: current", kind="current", unit="A", path=f"{M}no_load_a", when=HELD),
    Question(
        id="free_speed", label="Running free: speed", kind="speed", unit="rpm", path=f"{M}no_load_speed", when=HELD,
        help="At the motor's own shaft, before any gear.",
    ),
    Question(id="rated_v", label="Rated voltage", kind="voltage", unit="V", path=f"{M}sheet.voltage", when=SHEET),
    Question(
        id="rated_speed", label="No-load speed", kind="speed", unit="rpm", path=f"{M}sheet.no_load_speed", when=SHEET,
        help="At the motor's own shaft, before any gear.",
    ),
    Question(id="rated_a", label="No-load current", kind="current", unit="A", path=f"{M}sheet.no_load_a", when=SHEET),
    Question(id="stall_a", label="Stall current", kind="current", unit="A", path=f"{M}sheet.stall_a", when=SHEET),
    Question(
        id="weight", label="Weight of the motor", kind="mass", unit="g", path=f"{M}weight", estimate="150 g",
        when=NOT_KNOWN_WHOLE,
        help="With its diameter it lets inertia, inductance and heat be estimated.",
    ),
    Question(
        id="case", label="Diameter of its case", kind="length", unit="mm", path=f"{M}case_diameter", estimate="35 mm",
        when=NOT_KNOWN_WHOLE,
    ),
    Question(id="supply", label="Supply", options=SUPPLIES),
    Question(
        id="cells", label="Cells in series", kind="number", unit="1", path="supply.sources.s1.cells",
        when=("supply", CELLS),
    ),
    Question(id="adaptor_v", label="Its volts", kind="voltage", unit="V", when=("supply", ("adaptor",))),
    Question(
        id="adaptor_a", label="Its amperes", kind="current", unit="A", path="supply.sources.s1.limit",
        when=("supply", ("adaptor",)),
    ),
)  # fmt: skip
BY_ID = {q.id: q for q in QUESTIONS}
SHELF_MOTOR = "shelf_motor"
NO_MOTORS: Mapping[str, MotorPart] = {}


@dataclass(frozen=True, slots=True, kw_only=True)
class First:
    """The build, what cannot be read of the answers (by question), what is still to be answered, what is estimated, and
    the gear that would suit (None: too little is known)."""

    build: Build
    errors: Mapping[str, str]
    missing: tuple[str, ...]
    estimates: tuple[str, ...]
    suits: float | None


def asked(answers: Mapping[str, str]) -> list[Question]:
    """The questions that these answers leave."""
    return [q for q in QUESTIONS if q.when is None or answers.get(q.when[0], "") in q.when[1]]


def first_build(blank: Build, answers: Mapping[str, str], motors: Mapping[str, MotorPart] = NO_MOTORS) -> First:
    """A blank build with the answers in it, and estimates where an empty answer allows one; ``motors`` are those of the
    shelf, by id."""
    data: dict[str, Any] = json.loads(blank.model_dump_json())
    errors, missing, estimates = {}, [], []
    values: dict[str, float] = {}
    for q in asked(answers):
        text = answers.get(q.id, "").strip()
        if q.options:
            if not text:
                missing.append(q.label)
            elif text not in q.options:
                errors[q.id] = "That is none of the answers."
            continue
        if not text:
            if q.estimate:
                _put(data, q.path, q.estimate, "assumed")
                estimates.append(f"{q.label.lower()} {q.estimate}")
            elif q.id != "gear":
                missing.append(q.label)
            continue
        try:
            values[q.id] = parse(text, q.kind, q.unit).value
        except QuantityError as error:
            errors[q.id] = str(error)
            continue
        if values[q.id] <= 0:
            errors[q.id] = f"{q.label} is above nothing."
            del values[q.id]
        elif q.path:
            _put(data, q.path, _with_unit(text, q), "measured")
    drive = data["drives"][0]
    # Until it is told what is moved, the blank build's own stands there, with nothing in it.
    drive["load"]["mechanisms"] = list(_mechanism(answers, values, estimates)) or drive["load"]["mechanisms"]
    drive["load"]["time_to_speed"] = _given("1 s", "assumed")
    estimates.append("a second to its speed")
    if answers.get("motor") == "shelf":
        _from_shelf(drive, answers.get(SHELF_MOTOR, ""), motors, values, errors, missing)
    else:
        drive["motor"]["known_by"] = answers.get("motor") or "readings"
    if answers.get("way") == "through zero":
        drive["signals"]["reversal"] = "through zero"
    _held(drive, answers, values)
    _source(data, answers, values)
    ratio = _suits(values)
    if "gear" not in values and ratio is not None:
        _put(data, BY_ID["gear"].path, f"{ratio:.3g}", "assumed")
        estimates.append(f"a gear of {ratio:.3g}:1, which would suit")
    return First(
        build=Build.model_validate(data), errors=errors, missing=tuple(missing), estimates=tuple(estimates), suits=ratio
    )


def _with_unit(text: str, q: Question) -> str:
    """A bare number is in the question's own unit, which need not be the field's."""
    return f"{text} {q.unit}" if q.unit != "1" and re.fullmatch(r"[\d.,\s\u202f]+", text) else text


def _given(text: str, origin: Origin) -> dict[str, str]:
    return {"text": text, "origin": origin}


def _put(data: dict[str, Any], path: str, text: str, origin: Origin) -> None:
    """A text at a path, items of lists by their ids."""
    *way, last = path.split(".")
    at: Any = data
    for step in way:
        at = next(i for i in at if i["id"] == step) if isinstance(at, list) else at[step]
    at[last] = _given(text, origin)


def _mechanism(answers: Mapping[str, str], values: Mapping[str, float], told: list[str]) -> Iterator[dict[str, Any]]:
    """What is moved, as far as it is told."""

    def text(id: str) -> dict[str, str]:
        return _given(_with_unit(answers[id].strip(), BY_ID[id]) if id in values else "", "measured")

    moves = answers.get("moves")
    if moves == "turntable":
        rub = None
        if "table_mass" in values and "table_radius" in values:
            rub = RUBS * values["table_mass"] * GRAVITY * values["table_radius"]
            told.append(f"friction of {phrase(rub, 'torque')} at the turntable")
        yield {
            "id": "m1", "kind": moves, "mass": text("table_mass"), "radius": text("table_radius"),
            "speed": text("table_speed"),
            "friction_torque": _given("" if rub is None else f"{rub:.4g} N·m", "assumed"),
        }  # fmt: skip
    elif moves == "wheels":
        yield {
            "id": "m1", "kind": moves, "mass": text("car_mass"), "diameter": text("car_wheel"),
            "velocity": text("car_speed"),
        }  # fmt: skip
        told.append("two motors that share it, on a hard floor")
    elif moves == "winch":
        yield {
            "id": "m1", "kind": moves, "mass": text("winch_mass"), "radius": text("winch_radius"),
            "velocity": text("winch_speed"),
        }  # fmt: skip
    elif moves == "direct":
        yield {
            "id": "m1", "kind": moves, "friction_torque": text("torque"), "speed": text("turn_speed"),
            "inertia": _given("0 kg·m²", "assumed"),
        }  # fmt: skip
        told.append("no inertia of what is turned")


def _from_shelf(
    drive: dict[str, Any],
    id: str,
    motors: Mapping[str, MotorPart],
    values: dict[str, float],
    errors: dict[str, str],
    missing: list[str],
) -> None:
    """A copy of the shelf's motor, as choosing it at its station makes one; its free speed tells a gear."""
    if not id:
        missing.append("Which motor of the shelf")
        return
    if id not in motors:
        errors[SHELF_MOTOR] = "There is no such motor on the shelf."
        return
    spec = motors[id].motor
    drive["motor"] = json.loads(spec.model_dump_json())
    free = spec.no_load_speed.value or spec.sheet.no_load_speed.value
    if free:
        values["free_speed"] = free


def _held(drive: dict[str, Any], answers: Mapping[str, str], values: Mapping[str, float]) -> None:
    """One reading with the shaft held."""
    if answers.get("motor") == "readings" and "held_v" in values and "held_a" in values:
        row = {"id": "l1", "angle": _given("0 °", "measured")}
        row |= {"voltage": _given(_with_unit(answers["held_v"].strip(), BY_ID["held_v"]), "measured")}
        row |= {"current": _given(_with_unit(answers["held_a"].strip(), BY_ID["held_a"]), "measured")}
        drive["motor"]["locked"] = [row]


def _source(data: dict[str, Any], answers: Mapping[str, str], values: Mapping[str, float]) -> None:
    source = data["supply"]["sources"][0]
    kind = answers.get("supply", "")
    if kind in CELLS:
        source["kind"], source["chemistry"] = "battery", kind
    elif kind == "adaptor":
        source["kind"], source["name"] = "adaptor", "Adaptor"
        if "adaptor_v" in values:
            for name in ("full_v", "nominal_v", "flat_v"):
                source[name] = _given(_with_unit(answers["adaptor_v"].strip(), BY_ID["adaptor_v"]), "measured")
            source["resistance"] = _given("0.1 Ω", "assumed")


def _suits(values: Mapping[str, float]) -> float | None:
    """The ratio at which the motor has its share of its free speed where the output has its own speed."""
    free = values.get("free_speed") or values.get("rated_speed")
    output = values.get("table_speed") or values.get("turn_speed")
    if output is None and "car_speed" in values and "car_wheel" in values:
        output = values["car_speed"] / (values["car_wheel"] / 2)
    if output is None and "winch_speed" in values and "winch_radius" in values:
        output = values["winch_speed"] / values["winch_radius"]
    return SHARE * free / output if free and output else None


def least_gauge(current_a: float) -> float | None:
    """The thinnest wire that carries a current at 6 A/mm², short and open (common practice, no source), as its gauge;
    None where none of the usual ones does."""
    return next(
        (
            g
            for g in GAUGES
            if current_a / rules.wire_area.bare(rules.wire_diameter.bare(g)) <= rules.MOST_DENSITY.value
        ),
        None,
    )
