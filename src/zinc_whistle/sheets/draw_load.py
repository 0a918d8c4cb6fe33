"""The Load station's pictures: mechanisms to their numbers, the duty, gears and motors that would do; servos and
others."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any

import numpy as np

from ..core.algebra.quantities import phrase
from ..core.assess import LoadAssessment, MotorAssessment, ServoAssessment
from ..core.design import gears as search
from ..core.model.given import Given
from ..core.model.load import MECHANISMS
from ..core.model.motor import MotorPart
from . import pictures as p
from .draw_motor import known_of
from .scale import one_in
from .stage_views import Loss
from .views import text_of

SHOWN_GEARS = 12
SHOWN_MOTORS = 6


def load(done: MotorAssessment, motors: Sequence[MotorPart]) -> p.LoadPicture:
    """The mechanisms, one cycle, and what else would do."""
    result, spec = done.load, done.drive.load
    times, speeds, currents = _strip(done)
    gears, others = _search(done, motors)
    return p.LoadPicture(
        [_mechanism(m) for m in spec.mechanisms],
        text_of(spec.gear_ratio.leaf),
        text_of(result.speed),
        times,
        speeds,
        currents,
        _cycle_text(done),
        gears,
        others,
        _books(done),
    )


def _mechanism(spec: Any) -> p.MechanismView:
    numbers, texts = {}, {}
    for name in type(spec).model_fields:
        value = getattr(spec, name)
        if isinstance(value, Given):
            if value.value is not None:
                numbers[name] = float(f"{value.value:.6g}")
            texts[name] = text_of(value.leaf)
        elif isinstance(value, str) and name not in ("id", "kind"):
            texts[name] = value
    return p.MechanismView(spec.id, spec.kind, MECHANISMS[spec.kind], numbers, texts)


def _strip(done: MotorAssessment) -> tuple[list[float], list[float], list[float]]:
    """One cycle: the ramp, run and rest (long parts cut short to be seen), or the builder's own parts."""
    result, ratio = done.load, done.drive.load.gear_ratio.value
    parts = result.parts
    if ratio is None or any(x.current.value is None or x.time.value is None for x in parts):
        return [], [], []
    own = bool(done.drive.load.segments)
    spans = [x.time.value or 0.0 for x in parts]
    if not own:
        ramp = spans[0]
        spans = [ramp, min(spans[1], 3 * ramp), min(spans[2], ramp)]
    speeds = [(0.0 if isinstance(x.speed, float) else x.speed.value or 0.0) / ratio for x in parts]
    work = (result.motor_speed.value or 0.0) / ratio
    times: list[float] = []
    shown: list[float] = []
    amperes: list[float] = []
    at = 0.0
    for i, (part, span, speed) in enumerate(zip(parts, spans, speeds, strict=True)):
        if span <= 0:
            continue
        first, last = (0.0, work) if not own and i == 0 else (speed, speed)
        times += [at, at + span]
        shown += [first, last]
        amperes += [part.current.value or 0.0] * 2
        at += span
    return (
        [float(f"{t:.6g}") for t in times],
        [float(f"{one_in(s, 'rpm') or 0.0:.6g}") for s in shown],
        [float(f"{a:.5g}") for a in amperes],
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


def _search(done: MotorAssessment, motors: Sequence[MotorPart]) -> tuple[list[p.GearView], list[p.GearView]]:
    """The present motor with every ratio to be had, and every motor of the shelf with its best one."""
    wanted = _wanted(done)
    ratio = done.drive.load.gear_ratio.value
    ratios = search.read_ratios(done.drive.load.ratios)
    if wanted is None or ratio is None or not ratios:
        return [], []
    if not any(math.isclose(ratio, n, rel_tol=1e-6) for n in ratios):
        ratios = sorted([*ratios, ratio])
    gears: list[p.GearView] = []
    own = _row(done.motor, done.heat.allowed.value)
    if own is not None:
        found = search.search(search.Motors(*np.asarray([own]).T), ratios, wanted)
        order = search.best(found, min(SHOWN_GEARS, len(ratios)))
        gears = [_view(found, i, j, "", ratios[j], ratio, "") for i, j in order]
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
        views.append(_view(found, i, j, names[i].name, ratios[j], ratio, text_of(names[i].price.leaf)))
    return gears, views


def _allowed(done: MotorAssessment, known: Any, spec: Any) -> float | None:
    from ..core.laws import motor as motor_rules

    return motor_rules.winding_allowed(
        spec.winding_limit.leaf,
        done.context.build.ambient.hot.leaf,
        known.resistance_25,
        spec.winding_to_housing.leaf,
        spec.housing_to_air.leaf,
    ).value


def _view(found: search.Found, i: int, j: int, name: str, ratio: float, now: float, text: str) -> p.GearView:
    def use(values: Any) -> str:
        value = float(values[i, j])
        return f"{value * 100:.0f}\u202f%" if 0 <= value < 10 else "far over"

    worst = float(found.worst_use[i, j])
    current = float(found.working_a[i, j])
    return p.GearView(
        name,
        phrase(ratio, "ratio"),
        worst <= 1.0,
        math.isclose(ratio, now, rel_tol=1e-6) and not name,
        use(found.speed_use),
        use(found.torque_use),
        use(found.heat_use),
        phrase(current, "current") if math.isfinite(current) else "—",
        min(worst, 9.99) if math.isfinite(worst) else 9.99,
        text,
    )


def servo(done: ServoAssessment) -> p.ServoPicture:
    """The horn's sweep and its pulse."""
    s, r = done.drive.servo, done.servo
    frame = s.frame.value
    return p.ServoPicture(
        s.style,
        one_in(s.sweep.value, "°"),
        one_in(s.travel.value, "°"),
        text_of(s.arm.leaf),
        text_of(s.force.leaf),
        one_in(s.pulse_low.value, "ms"),
        one_in(s.pulse_high.value, "ms"),
        1000 / frame if frame else None,
        text_of(r.transit_time),
        text_of(r.dwell),
        {
            "torque": text_of(r.torque_needed),
            "usable": text_of(r.usable_torque),
            "rail": text_of(r.rail),
            "stall": text_of(r.stall_current),
            "step": text_of(r.angle_step),
            "pulse": text_of(r.middle_pulse),
        },
    )


def dc_load(done: LoadAssessment) -> p.DcLoadPicture:
    """The current over one cycle: inrush or pull-in, then held or running, then off."""
    spec, r = done.drive.load, done.context.load
    peak, held = r.peak_current.value, r.working_current.value
    on, off = spec.on_for.value, spec.off_for.value
    times: list[float] = []
    amperes: list[float] = []
    if None not in (peak, held, on, off):
        assert peak is not None and held is not None and on is not None and off is not None
        first = min(spec.pull_time.value or 0.0, on) if spec.kind == "solenoid" else min(0.05, on / 4)
        end = min(on, first * 5 if first else on)
        times = [0.0, first, first, end, end, end * 1.2]
        amperes = [peak, peak, held, held, 0.0, 0.0]
    return p.DcLoadPicture(
        spec.kind,
        [float(f"{t:.5g}") for t in times],
        [float(f"{a:.5g}") for a in amperes],
        {
            "on": text_of(spec.on_for.leaf),
            "off": text_of(spec.off_for.leaf),
            "peak": text_of(r.peak_current),
            "held": text_of(r.working_current),
            "needs": text_of(r.volts_needed),
        },
    )
