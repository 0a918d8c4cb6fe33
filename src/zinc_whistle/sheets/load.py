"""Load: the mechanism, the duty, the search for gear and motor."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, Literal

from ..core.algebra.quantities import phrase
from ..core.assess import MotorAssessment
from ..core.cases import course
from ..core.cases.mechanisms import moves_along
from ..core.design import gears as search
from ..core.model.change import Change
from ..core.model.given import Given
from ..core.model.load import MECHANISMS, LoadSpec, Segment
from ..core.model.motor import MotorPart
from .fields import Describer, Section
from .inputs import Shown, StationSheet, shown
from .other_loads import (
    _dc_load_figures,
    _dc_load_sections,
    _servo_load_figures,
    _servo_load_sections,
    dc_load,
    servo,
    servo_hint,
)
from .power_stage import Loss
from .scale import one_in
from .views import text_of


@dataclass(frozen=True, slots=True, kw_only=True)
class MechanismView:
    """One mechanism, to be drawn to its numbers: plain numbers in SI, and the texts beside them."""

    id: str
    kind: str
    title: str
    numbers: dict[str, float]
    texts: dict[str, str]


@dataclass(frozen=True, slots=True, kw_only=True)
class GearView:
    """One ratio, or one motor with its best ratio, held against the load."""

    name: str
    ratio: str
    does: bool
    chosen: bool
    speed: str
    torque: str
    heat: str
    current: str
    worst: float
    text: str
    changes: tuple[Change, ...]
    """What taking it changes of the build; nothing for another motor, which is chosen at Motor."""


@dataclass(frozen=True, slots=True, kw_only=True)
class LoadPicture:
    """The mechanisms to their numbers, and one duty cycle as a strip (s, rpm at the load, A)."""

    mechanisms: list[MechanismView]
    ratio_text: str
    speed_text: str
    strip_time_s: list[float]
    strip_speed_rpm: list[float]
    strip_current_a: list[float]
    cycle_text: str
    gears: list[GearView]
    motors: list[GearView]
    books: list[Loss]
    kind: Literal["load"] = "load"


SHOWN_GEARS = 12


SHOWN_MOTORS = 6


def load(done: MotorAssessment, motors: Sequence[MotorPart]) -> LoadPicture:
    """The mechanisms, one cycle, and what else would do."""
    result, spec = done.load, done.drive.load
    times, speeds, currents = _strip(done)
    gears, others = _search(done, motors)
    return LoadPicture(
        mechanisms=[_mechanism(m) for m in spec.mechanisms],
        ratio_text=text_of(spec.gear_ratio.leaf),
        speed_text=text_of(result.speed),
        strip_time_s=times,
        strip_speed_rpm=speeds,
        strip_current_a=currents,
        cycle_text=_cycle_text(done),
        gears=gears,
        motors=others,
        books=_books(done),
    )


def _mechanism(spec: Any) -> MechanismView:
    numbers, texts = {}, {}
    for name in type(spec).model_fields:
        value = getattr(spec, name)
        if isinstance(value, Given):
            if value.value is not None:
                numbers[name] = float(f"{value.value:.6g}")
            texts[name] = text_of(value.leaf)
        elif isinstance(value, str) and name not in ("id", "kind"):
            texts[name] = value
    return MechanismView(id=spec.id, kind=spec.kind, title=MECHANISMS[spec.kind], numbers=numbers, texts=texts)


def _strip(done: MotorAssessment) -> tuple[list[float], list[float], list[float]]:
    """One cycle of the duty, in rpm at the output."""
    found = course.cycle(done.context, done.load)
    return (
        [float(f"{t:.6g}") for t in found.time_s],
        [float(f"{one_in(s, 'rpm') or 0.0:.6g}") for s in found.speed],
        [float(f"{a:.5g}") for a in found.current_a],
    )


def _cycle_text(done: MotorAssessment) -> str:
    spec = done.drive.load
    if spec.segments:
        return f"repeats every {text_of(done.load.cycle_time)}"
    return f"runs {text_of(spec.run_for.leaf)}, rests {text_of(spec.rest_for.leaf)}; long parts are cut short here"


def _books(done: MotorAssessment) -> list[Loss]:
    b = done.load.books
    rows = (
        ("At the load", b.mechanical),
        ("Winding", b.copper),
        ("Friction", b.friction),
        ("Gear", b.gear),
        ("Brushes", b.brushes),
    )
    return [
        Loss(label=label, watts=n.value, text=phrase(n.value, "power"))
        for label, n in rows
        if n.value is not None and n.value > 1e-9
    ]


def _search(done: MotorAssessment, motors: Sequence[MotorPart]) -> tuple[list[GearView], list[GearView]]:
    """The present motor with every ratio to be had, and every motor of the shelf with its best one."""
    choice = search.choices(done.context, done.heat.allowed, motors)
    if choice is None:
        return [], []
    gears = []
    if choice.own is not None:
        own = choice.own
        order = search.best(own, min(SHOWN_GEARS, len(choice.ratios)))
        gears = [
            _view(
                own,
                i=i,
                j=j,
                name="",
                ratio=choice.ratios[j],
                now=choice.ratio,
                text="",
                path=f"{done.drive.load.path}.gear_ratio",
            )
            for i, j in order
        ]
    others = [
        _view(
            choice.shelf,
            i=i,
            j=j,
            name=choice.motors[i].name,
            ratio=choice.ratios[j],
            now=choice.ratio,
            text=text_of(choice.motors[i].price.leaf),
        )
        for i, j in choice.best_of_each(SHOWN_MOTORS)
        if choice.shelf is not None
    ]
    return gears, others


def _view(
    found: search.GearsFound, i: int, j: int, name: str, ratio: float, now: float, text: str, path: str = ""
) -> GearView:
    def use(values: Any) -> str:
        value = float(values[i, j])
        return f"{value * 100:.0f}\u202f%" if 0 <= value < 10 else "far over"

    worst = float(found.worst_use[i, j])
    current = float(found.working_a[i, j])
    return GearView(
        name=name,
        ratio=phrase(ratio, "ratio"),
        does=worst <= 1.0,
        chosen=math.isclose(ratio, now, rel_tol=1e-6) and not name,
        speed=use(found.speed_use),
        torque=use(found.torque_use),
        heat=use(found.heat_use),
        current=phrase(current, "current") if math.isfinite(current) else "—",
        worst=min(worst, 9.99) if math.isfinite(worst) else 9.99,
        text=text,
        changes=(Change(path=path, text=phrase(ratio, "ratio"), origin="chosen"),) if path else (),
    )


def _load_figures(done: MotorAssessment) -> Shown:
    r = done.load
    extras = [x for m in r.mechanisms for x in m.extras]
    return shown(
        "at the motor shaft",
        (
            r.working_current,
            r.starting_current,
            r.rms_current,
            r.motor_torque,
            r.starting_torque,
            (r.motor_speed, "rpm"),
            (r.reflected_inertia, "g·cm²"),
            (r.inertia, "kg·m²"),
            r.power,
            r.hardest_current if r.hardest.value != r.torque.value else None,
            r.peak_current,
            r.heat_current,
            r.cycle_energy,
            r.books.electrical,
            r.books.copper,
            r.books.friction,
            r.books.gear,
            r.creeping,
            *extras,
        ),
    )


def _not_asked(spec: LoadSpec) -> tuple[str, ...]:
    """A part's speed is asked for as the first mechanism's own is; what the builder gave the other way stays."""
    other = "speed" if moves_along(spec.mechanisms[0]) else "velocity"
    return () if any(getattr(s, other).text for s in spec.segments) else (other,)


def _load_sections(done: MotorAssessment, d: Describer) -> list[Section]:
    spec = done.drive.load
    sections = []
    for number, mechanism in enumerate(spec.mechanisms, 1):
        title = "Mechanism" if len(spec.mechanisms) == 1 else f"Mechanism {number}"
        moved = d.section(mechanism, title)
        kind = d.item_variant(spec, "mechanisms", mechanism, "Mechanism", MECHANISMS)
        sections.append(
            Section(
                title=title, help="", fields=[kind, *moved.fields], path=moved.path, removable=len(spec.mechanisms) > 1
            )
        )
    sections.append(d.adder(spec, "mechanisms", "Another mechanism on the same shaft"))
    sections += [
        d.section(
            spec, "Gear", ("gear_ratio", "gear_efficiency", "gear_torque_limit", "coupling_slip", "backlash", "ratios")
        ),
        d.section(spec, "Duty", ("time_to_speed", "run_for", "rest_for")),
        d.table(spec, "segments", Segment, without=_not_asked(spec)),
    ]
    return sections


SHEETS = {
    "motor": StationSheet(
        sections=lambda asked: _load_sections(asked.done, asked.describer),
        figures=lambda asked: _load_figures(asked.done),
        picture=lambda asked: load(asked.done, asked.motors),
    ),
    "load": StationSheet(
        sections=lambda asked: _dc_load_sections(asked.done, asked.describer),
        figures=lambda asked: _dc_load_figures(asked.done),
        picture=lambda asked: dc_load(asked.done),
    ),
    "servo": StationSheet(
        sections=lambda asked: _servo_load_sections(asked.done, asked.describer),
        figures=lambda asked: _servo_load_figures(asked.done),
        picture=lambda asked: servo(asked.done),
        hint=servo_hint,
    ),
}
