"""The Motor station's picture: curves, what-if, session, ways, remedies and the winding's heat."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ..core.algebra.quantities import phrase
from ..core.assess import MotorAssessment
from ..core.cases.motor import Constants, constants, curve
from ..core.cases.motor_sheet import WORTH_ASKING, Way
from ..core.laws import motor as motor_rules
from ..core.model.motor import MotorPart
from ..core.stations.motor import thermal
from ..core.stations.motor.low_speed import remedies
from ..core.stations.motor.session import session
from . import pictures as p
from .scale import in_unit, one_in
from .views import text_of

MOST_KEPT = 2000
PARTIAL_DUTIES = (0.75, 0.5, 0.25)


def motor(done: MotorAssessment, shelf: Sequence[MotorPart], other: MotorAssessment | None) -> p.MotorPicture:
    """Curves at the nominal supply, the working point, the driver's continuous current, and what can be read next."""
    at = done.context
    drawn = curve(done.motor, at.volts.nominal.value, done.at_supply)
    limit_text, limit_torque = "", None
    part, k_e, i_0 = at.part, done.motor.motor_constant.value, done.motor.friction_a.value
    if part is not None and part.continuous_a.value is not None and k_e is not None and i_0 is not None:
        limit_torque = one_in(float(motor_rules.torque_at.bare(k_e, part.continuous_a.value, i_0)), "mN·m")
        limit_text = f"driver, continuous {phrase(part.continuous_a.value, 'current')}"
    working = done.load.working_current
    torque = in_unit(drawn.torque_nm, "mN·m") if drawn else []
    return p.MotorPicture(
        drawn is not None,
        torque,
        in_unit(drawn.speed_rad_s, "rpm") if drawn else [],
        in_unit(drawn.current_a, "A") if drawn else [],
        in_unit(drawn.power_w, "W") if drawn else [],
        in_unit(drawn.efficiency, "%") if drawn else [],
        one_in(done.load.motor_torque.value, "mN·m"),
        f"working, {text_of(working)}" if working.value else "",
        limit_torque,
        limit_text,
        _duties(done),
        _other(torque, other) if other is not None and drawn is not None else None,
        _session(done),
        _ways(done),
        _remedies(done, shelf),
        _heat(done),
        [choice_of(m) for m in shelf],
    )


def _duties(done: MotorAssessment) -> list[str]:
    """Stall torque and no-load speed at several duties: PWM lowers the open-loop stall torque with the volts."""
    volts, r, k_e = done.context.volts.nominal.value, done.motor.resistance_25.value, done.motor.motor_constant.value
    i_c, b = done.motor.friction_a.value, done.motor.viscous.value
    drop = done.motor.brush_drop.value if hasattr(done.motor.brush_drop, "value") else 0.0
    if None in (volts, r, k_e, i_c, b, drop) or not r or not k_e:
        return []
    assert volts is not None and i_c is not None and b is not None and drop is not None
    lines = []
    for duty in PARTIAL_DUTIES:
        stall = motor_rules.stall_torque.bare(k_e, motor_rules.stall_current.bare(duty * volts, drop, r), i_c)
        speed = motor_rules.no_load_speed.bare(duty * volts, drop, i_c, r, k_e, b)
        if stall > 0 and speed > 0:
            lines.append(
                f"{duty:.0%}: {phrase(float(stall), 'torque')} at stall, {phrase(float(speed), 'speed')} free".replace(
                    "%", " %"
                )
            )
    return lines


def _other(torque: list[float], other: MotorAssessment) -> p.OtherCurve:
    """The what-if's curves over the same torques."""
    at = other.context
    drawn = curve(other.motor, at.volts.nominal.value, other.at_supply)
    words = [
        f"stall {text_of(other.at_supply.stall_current)}",
        f"free {text_of(other.at_supply.no_load_speed)}",
        f"working {text_of(other.load.working_current)} at {text_of(other.load.motor_speed)}",
    ]
    name = other.drive.motor.name or "another motor"
    text = f"{name}, {text_of(at.volts.nominal)}, gear {text_of(other.drive.load.gear_ratio.leaf)} to 1"
    if drawn is None:
        return p.OtherCurve(text, [], [], None, None, ["this motor is not known well enough to be drawn"])
    own = np.asarray(in_unit(drawn.torque_nm, "mN·m"))

    def over(values: list[float]) -> list[float | None]:
        found = np.interp(torque, own, values, right=np.nan)
        return [None if np.isnan(v) else float(f"{v:.6g}") for v in found]

    working = one_in(other.load.motor_torque.value, "mN·m")
    return p.OtherCurve(
        text,
        over(in_unit(drawn.speed_rad_s, "rpm")),
        over(in_unit(drawn.current_a, "A")),
        working,
        one_in(other.load.motor_speed.value, "rpm"),
        words,
    )


def _session(done: MotorAssessment) -> p.NextReadingView | None:
    if done.drive.motor.known_by != "readings":
        return None
    standing = done.chosen or next(iter(done.candidates), None)
    checks = [x for x in standing.checks if x.destructive] if standing is not None else []
    found = session(done.drive.motor, done.motor, done.context.volts.nominal.value, checks)
    if found.next is None:
        return p.NextReadingView("", "", "", "", "", "", found.done, found.weakest)
    n = found.next
    return p.NextReadingView(n.title, n.how, n.setting, n.caution, n.where, n.narrows, "", found.weakest)


def _ways(done: MotorAssessment) -> list[p.WayView]:
    made = []
    for name, ways in (("resistance", done.motor.resistance_ways), ("constant", done.motor.constant_ways)):
        made += [_way(name, way) for way in ways if len(ways) > 1]
    return made


def _way(name: str, way: Way) -> p.WayView:
    ratio = way.ratio.value if way.ratio is not None else None
    off = "" if ratio is None else f"{ratio - 1:+.0%}".replace("-", "−").replace("%", "\u202f%")
    disagrees = ratio is not None and abs(ratio - 1) > WORTH_ASKING
    return p.WayView(name, way.words, text_of(way.figure), ratio is None, off, disagrees)


def _remedies(done: MotorAssessment, shelf: Sequence[MotorPart]) -> list[p.RemedyView]:
    if done.drive.motor.breakaway_a.value is None:
        return []
    return [
        p.RemedyView(
            r.name,
            phrase(r.lowest_rad_s, "speed", "rpm"),
            f"{r.top_speed:.0%}".replace("%", "\u202f%"),
            f"{r.stall_torque:.0%}".replace("%", "\u202f%"),
            phrase(r.price_eur, "price") if r.price_eur else "—",
            r.reaches,
        )
        for r in remedies(done.context, done.circuit, done.low_speed, shelf)[:8]
    ]


def _heat(done: MotorAssessment) -> p.HeatView | None:
    """An hour or so at work from the hottest air, and what a stall does from there."""
    spec = done.drive.motor
    nodes, current = thermal.nodes_of(spec, done.motor, done.heat), done.load.heat_current.value
    air, stall, limit = done.context.build.ambient.hot.value, done.circuit.stall_full.value, spec.winding_limit.value
    if nodes is None or current is None or air is None:
        return None
    span = 4 * nodes.housing_j_k * nodes.outer_k_w
    times = np.linspace(0.0, span, 81)
    rows = thermal.course(nodes, current, air, times, (air, air))
    text = ""
    if stall and limit is not None:
        end = thermal.seconds_to(nodes, stall, air, (float(rows[-1, 0]), float(rows[-1, 1])), limit)
        text = f"Stalled then, it reaches {phrase(limit, 'temperature')} " + (
            "never" if end is None else "at once" if end == 0 else f"after {phrase(end, 'time')}"
        )
    return p.HeatView(
        [float(f"{t / 60:.5g}") for t in times],
        [float(f"{x:.5g}") for x in rows[:, 0]],
        [float(f"{x:.5g}") for x in rows[:, 1]],
        limit,
        text,
    )


def choice_of(part: MotorPart) -> p.MotorChoice:
    """A shelf motor in one line: what it would give at its own rated voltage."""
    known = known_of(part)
    bits = [
        text_of(part.motor.sheet.voltage.leaf),
        f"R {text_of(known.resistance_25)}",
        f"K {text_of(known.motor_constant)}",
        f"idle {text_of(known.friction_a)}",
    ]
    label = MotorPart.told("kind").choose
    return p.MotorChoice(
        part.id, part.name, label.options[part.kind] if label else part.kind, part.sample, ", ".join(bits), part.note
    )


_KNOWN: dict[int, tuple[MotorPart, Constants]] = {}


def known_of(part: MotorPart) -> Constants:
    """The constants of a shelf motor, worked out once: a part on the shelf is bound and does not change."""
    kept = _KNOWN.get(id(part))
    if kept is None or kept[0] is not part:
        if len(_KNOWN) > MOST_KEPT:
            _KNOWN.clear()
        kept = _KNOWN[id(part)] = (part, constants(part.motor))
    return kept[1]
