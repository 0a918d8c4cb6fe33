"""Load: the mechanism, the duty, the search for gear and motor."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np

from ..core.algebra.quantities import phrase
from ..core.assess import LoadAssessment, MotorAssessment, ServoAssessment
from ..core.cases import course
from ..core.design import gears as search
from ..core.laws import motor as motor_rules
from ..core.model.given import Given
from ..core.model.load import MECHANISMS, Segment
from ..core.model.motor import MotorPart
from .fields import Describer, Section
from .inputs import Inputs, Shown, StationSheet, shown
from .motor import known_of
from .power_stage import Loss
from .scale import one_in
from .views import text_of


@dataclass(frozen=True, slots=True)
class MechanismView:
    """One mechanism, to be drawn to its numbers: plain numbers in SI, and the texts beside them."""

    id: str
    kind: str
    title: str
    numbers: dict[str, float]
    texts: dict[str, str]


@dataclass(frozen=True, slots=True)
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


@dataclass(frozen=True, slots=True)
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


@dataclass(frozen=True, slots=True)
class ServoPicture:
    """A servo's sweep and pulse: angles in degrees, times in ms."""

    style: str
    sweep_deg: float | None
    travel_deg: float | None
    arm_text: str
    force_text: str
    low_ms: float | None
    high_ms: float | None
    frame_ms: float | None
    move_text: str
    dwell_text: str
    texts: dict[str, str]
    kind: Literal["servo"] = "servo"


@dataclass(frozen=True, slots=True)
class DcLoadPicture:
    """Current of a solenoid, pump or lamp over its cycle (s, A)."""

    load: str
    time_s: list[float]
    current_a: list[float]
    texts: dict[str, str]
    kind: Literal["dc_load"] = "dc_load"


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
    return MechanismView(spec.id, spec.kind, MECHANISMS[spec.kind], numbers, texts)


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
        Loss(label, n.value, phrase(n.value, "power")) for label, n in rows if n.value is not None and n.value > 1e-9
    ]


def _wanted(done: MotorAssessment) -> search.Wanted | None:
    r, spec = done.load, done.drive.load
    working, rms = r.working_current.value, r.rms_current.value
    values = (
        r.torque.value,
        r.hardest.value,
        r.inertia.value,
        r.speed if isinstance(r.speed, float) else r.speed.value,
        r.ramp_time.value,
        spec.gear_efficiency.value,
        done.context.volts.flat.value,
    )
    if any(v is None for v in values):
        return None
    share = min((rms / working) ** 2, 4.0) if working and rms else 1.0
    return search.Wanted(*values, share)  # type: ignore[arg-type]


def _row(known: Any, allowed: float | None) -> list[float] | None:
    drop = known.brush_drop
    values = [
        known.resistance_25.value,
        known.motor_constant.value,
        known.friction_a.value,
        known.viscous.value,
        drop if isinstance(drop, float) else drop.value,
        known.rotor_inertia.value or 0.0,
        allowed,
    ]
    return None if any(v is None for v in values) else [float(v) for v in values]


def _search(done: MotorAssessment, motors: Sequence[MotorPart]) -> tuple[list[GearView], list[GearView]]:
    """The present motor with every ratio to be had, and every motor of the shelf with its best one."""
    wanted = _wanted(done)
    ratio = done.drive.load.gear_ratio.value
    ratios = search.read_ratios(done.drive.load.ratios)
    if wanted is None or ratio is None or not ratios:
        return [], []
    if not any(math.isclose(ratio, n, rel_tol=1e-6) for n in ratios):
        ratios = sorted([*ratios, ratio])
    gears: list[GearView] = []
    own = _row(done.motor, done.heat.allowed.value)
    if own is not None:
        found = search.search(search.Motors(*np.asarray([own]).T), ratios, wanted)
        order = search.best(found, min(SHOWN_GEARS, len(ratios)))
        gears = [_view(found, i=i, j=j, name="", ratio=ratios[j], now=ratio, text="") for i, j in order]
    rows, names = [], []
    for part in motors:
        known = known_of(part)
        spec = part.motor
        allowed = _allowed(done, known, spec)
        if (row := _row(known, allowed)) is not None:
            rows.append(row)
            names.append(part)
    if not rows:
        return gears, []
    found = search.search(search.Motors(*np.asarray(rows).T), ratios, wanted)
    views = []
    best_of: dict[int, int] = {}
    for i, j in search.best(found, found.worst_use.size):
        best_of.setdefault(i, j)
    for i, j in list(best_of.items())[:SHOWN_MOTORS]:
        views.append(
            _view(found, i=i, j=j, name=names[i].name, ratio=ratios[j], now=ratio, text=text_of(names[i].price.leaf))
        )
    return gears, views


def _allowed(done: MotorAssessment, known: Any, spec: Any) -> float | None:

    return motor_rules.winding_allowed(
        spec.winding_limit.leaf,
        done.context.build.ambient.hot.leaf,
        known.resistance_25,
        spec.winding_to_housing.leaf,
        spec.housing_to_air.leaf,
    ).value


def _view(found: search.GearsFound, i: int, j: int, name: str, ratio: float, now: float, text: str) -> GearView:
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
    )


def servo(done: ServoAssessment) -> ServoPicture:
    """The horn's sweep and its pulse."""
    s, r = done.drive.servo, done.servo
    frame = s.frame.value
    return ServoPicture(
        style=s.style,
        sweep_deg=one_in(s.sweep.value, "°"),
        travel_deg=one_in(s.travel.value, "°"),
        arm_text=text_of(s.arm.leaf),
        force_text=text_of(s.force.leaf),
        low_ms=one_in(s.pulse_low.value, "ms"),
        high_ms=one_in(s.pulse_high.value, "ms"),
        frame_ms=1000 / frame if frame else None,
        move_text=text_of(r.transit_time),
        dwell_text=text_of(r.dwell),
        texts={
            "torque": text_of(r.torque_needed),
            "usable": text_of(r.usable_torque),
            "rail": text_of(r.rail),
            "stall": text_of(r.stall_current),
            "step": text_of(r.angle_step),
            "pulse": text_of(r.middle_pulse),
        },
    )


def dc_load(done: LoadAssessment) -> DcLoadPicture:
    """The current over one cycle: inrush or pull-in, then held or running, then off."""
    spec, r = done.drive.load, done.context.load
    found = course.switched(done.context, r)
    return DcLoadPicture(
        spec.kind,
        [float(f"{t:.5g}") for t in found.time_s],
        [float(f"{a:.5g}") for a in found.current_a],
        {
            "on": text_of(spec.on_for.leaf),
            "off": text_of(spec.off_for.leaf),
            "peak": text_of(r.peak_current),
            "held": text_of(r.working_current),
            "needs": text_of(r.volts_needed),
        },
    )


def _load_figures(done: MotorAssessment) -> Shown:
    r = done.load
    extras = [x for m in r.mechanisms for x in m.extras]
    return shown(
        "at the motor shaft",
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
        r.back_torque,
        *extras,
    )


def _dc_load_figures(done: LoadAssessment) -> Shown:
    r = done.context.load
    return shown(
        "at the load",
        r.on_current,
        r.working_current,
        r.peak_current,
        r.rms_current,
        r.resistance,
        r.volts_needed,
        r.coil_energy,
    )


def _servo_load_figures(done: ServoAssessment) -> Shown:
    r = done.servo
    return shown(
        "on its rail",
        (r.torque_needed, "N·m"),
        (r.stall_torque, "N·m"),
        (r.usable_torque, "N·m"),
        r.transit_time,
        r.dwell,
        (r.loaded_speed, "rpm"),
        r.mean_current,
        r.stall_current,
        (r.moving_share, "%"),
    )


def _load_sections(done: MotorAssessment, d: Describer) -> list[Section]:
    spec = done.drive.load
    sections = []
    for number, mechanism in enumerate(spec.mechanisms, 1):
        title = "Mechanism" if len(spec.mechanisms) == 1 else f"Mechanism {number}"
        moved = d.section(mechanism, title)
        kind = d.item_variant(spec, "mechanisms", mechanism, "Mechanism", MECHANISMS)
        sections.append(Section(title, "", [kind, *moved.fields], moved.path, removable=len(spec.mechanisms) > 1))
    sections.append(d.adder(spec, "mechanisms", "Another mechanism on the same shaft"))
    sections += [
        d.section(
            spec, "Gear", ("gear_ratio", "gear_efficiency", "gear_torque_limit", "coupling_slip", "backlash", "ratios")
        ),
        d.section(spec, "Duty", ("time_to_speed", "run_for", "rest_for")),
        d.table(spec, "segments", Segment),
    ]
    return sections


def _dc_load_sections(done: LoadAssessment, d: Describer) -> list[Section]:
    spec = done.drive.load
    names: tuple[str, ...] = ("kind", "rated_v", "rated_a", "needs_v", "inductance")
    duty: tuple[str, ...] = ("on_for", "off_for")
    if spec.kind == "solenoid":
        duty = ("pull_time", "hold_duty", *duty)
    return [d.section(spec, "The load", names), d.section(spec, "Duty", duty)]


def _servo_load_sections(done: ServoAssessment, d: Describer) -> list[Section]:
    spec = done.drive.servo
    return [
        d.section(
            spec,
            "The servo",
            (
                "name",
                "style",
                "rated_v",
                "low_v",
                "high_v",
                "stall_torque",
                "sixty_time",
                "idle_a",
                "moving_a",
                "stall_a",
                "travel",
            ),
        ),
        d.section(spec, "What it moves", ("arm", "force", "sweep", "moves")),
    ]


SERVO_HINT = "Give the rail a name at Supply: torque and speed go with its volts."


def servo_hint(asked: Inputs) -> str:
    """What a servo without a rail lacks."""
    return SERVO_HINT if not asked.done.drive.rail else ""


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
