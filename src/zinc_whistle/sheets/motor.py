"""Motor: the curves, the heat, the next reading, what it is known by."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from ..core.algebra.quantities import phrase
from ..core.assess import MotorAssessment
from ..core.cases import breakaway, course
from ..core.cases.motor import constants_of, curve
from ..core.cases.motor_sheet import WORTH_ASKING, Way
from ..core.laws import motor as motor_rules
from ..core.model.motor import LockedReading, MotorPart
from ..core.stations.motor import thermal
from ..core.stations.motor.low_speed import remedies
from ..core.stations.motor.session import session
from .fields import Describer, Section
from .inputs import Inputs, Shown, StationSheet, shown
from .scale import in_unit, one_in
from .views import text_of


@dataclass(frozen=True, slots=True, kw_only=True)
class OtherCurve:
    """The curves of a what-if, over the same torques, and its working point."""

    text: str
    speed_rpm: list[float | None]
    current_a: list[float | None]
    working_torque_mnm: float | None
    working_speed_rpm: float | None
    words: list[str]


@dataclass(frozen=True, slots=True, kw_only=True)
class NextReadingView:
    """The guided session: what to read next, or why nothing more is needed."""

    title: str
    how: str
    setting: str
    caution: str
    where: str
    narrows: str
    done: str
    weakest: str


@dataclass(frozen=True, slots=True, kw_only=True)
class WayView:
    """One way to a constant from the data sheet, beside the trusted one."""

    constant: str
    words: str
    value: str
    trusted: bool
    off: str
    disagrees: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class CreepRemedyView:
    """One way to creep more slowly, and its costs."""

    name: str
    lowest: str
    top_speed: str
    torque: str
    price: str
    reaches: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class HeatView:
    """Winding and housing over time at work (°C, minutes), and a stall from there (s)."""

    minutes: list[float]
    winding_c: list[float]
    housing_c: list[float]
    limit_c: float | None
    stall_text: str


@dataclass(frozen=True, slots=True, kw_only=True)
class MotorChoice:
    """A motor of the shelf, for the what-if and for choosing."""

    id: str
    name: str
    kind: str
    sample: bool
    text: str
    note: str


@dataclass(frozen=True, slots=True, kw_only=True)
class DutyLine:
    """Speed over torque at one duty: straight from ``free_rpm`` at no torque to ``stall_mnm`` at no speed."""

    text: str
    free_rpm: float
    stall_mnm: float
    at_work: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class MotorPicture:
    """Curves over shaft torque (mN·m): speed (rpm), current (A), power (W), efficiency (%)."""

    known: bool
    torque_mnm: list[float]
    speed_rpm: list[float]
    current_a: list[float]
    power_w: list[float]
    efficiency_pct: list[float]
    working_torque_mnm: float | None
    working_text: str
    driver_torque_mnm: float | None
    driver_text: str
    duty_lines: list[DutyLine]
    working_speed_rpm: float | None
    other: OtherCurve | None
    refused: dict[str, str]
    """Of the what-if's numbers those that cannot be, by field, and why."""
    session: NextReadingView | None
    ways: list[WayView]
    remedies: list[CreepRemedyView]
    heat: HeatView | None
    kind: Literal["motor"] = "motor"


PARTIAL_DUTIES = (0.75, 0.5, 0.25)


def motor(
    done: MotorAssessment, shelf: Sequence[MotorPart], other: MotorAssessment | None, refused: Mapping[str, str]
) -> MotorPicture:
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
    return MotorPicture(
        known=drawn is not None,
        torque_mnm=torque,
        speed_rpm=in_unit(drawn.speed_rad_s, "rpm") if drawn else [],
        current_a=in_unit(drawn.current_a, "A") if drawn else [],
        power_w=in_unit(drawn.power_w, "W") if drawn else [],
        efficiency_pct=in_unit(drawn.efficiency, "%") if drawn else [],
        working_torque_mnm=one_in(done.load.motor_torque.value, "mN·m"),
        working_text=f"working, {text_of(working)}" if working.value else "",
        driver_torque_mnm=limit_torque,
        driver_text=limit_text,
        duty_lines=_duty_lines(done) if drawn else [],
        working_speed_rpm=one_in(done.load.motor_speed.value, "rpm"),
        other=_other(torque, other) if other is not None and drawn is not None else None,
        refused=dict(refused),
        session=next_reading(done),
        ways=_ways(done),
        remedies=_remedies(done, shelf),
        heat=_heat(done),
    )


def _duty_lines(done: MotorAssessment) -> list[DutyLine]:
    """Lines of speed over torque at several duties, straight from no load to stall; first that of the work, if any."""
    volts = done.context.volts.nominal
    work = course.at_work(done.motor, volts, done.load.motor_torque, done.load.motor_speed)
    found = [(work, True)] if work is not None else []
    found += [(x, False) for x in course.at_duties(done.motor, volts, PARTIAL_DUTIES)]
    return [
        DutyLine(
            text=f"{x.duty:.0%}".replace("%", " %"),
            free_rpm=in_unit([x.free_speed], "rpm")[0],
            stall_mnm=in_unit([x.stall_torque], "mN·m")[0],
            at_work=working,
        )
        for x, working in found
    ]


def _duty_of(done: MotorAssessment) -> str:
    """What of the supply the work takes."""
    work = course.at_work(done.motor, done.context.volts.nominal, done.load.motor_torque, done.load.motor_speed)
    if work is not None:
        return f"at a duty of {work.duty:.0%}".replace("%", " %")
    torque, speed = done.load.motor_torque.value, done.load.motor_speed.value
    if torque is None or speed is None or done.motor.motor_constant.value is None:
        return "its duty is not known yet"
    return "pulled along by its load" if torque <= 0 else "a speed that this supply does not reach"


def _other(torque: list[float], other: MotorAssessment) -> OtherCurve:
    """The what-if's curves over the same torques."""
    at = other.context
    drawn = curve(other.motor, at.volts.nominal.value, other.at_supply)
    words = [
        f"stall {text_of(other.at_supply.stall_current)}",
        f"free {text_of(other.at_supply.no_load_speed)}",
        f"working {text_of(other.load.working_current)} at {text_of(other.load.motor_speed)}",
        _duty_of(other),
    ]
    name = other.drive.motor.name or "another motor"
    text = f"{name}, {text_of(at.volts.nominal)}, gear {text_of(other.drive.load.gear_ratio.leaf)} to 1"
    if drawn is None:
        return OtherCurve(
            text=text,
            speed_rpm=[],
            current_a=[],
            working_torque_mnm=None,
            working_speed_rpm=None,
            words=["this motor is not known well enough to be drawn"],
        )
    own = np.asarray(in_unit(drawn.torque_nm, "mN·m"))

    def over(values: list[float]) -> list[float | None]:
        found = np.interp(torque, own, values, right=np.nan)
        return [None if np.isnan(v) else float(f"{v:.6g}") for v in found]

    working = one_in(other.load.motor_torque.value, "mN·m")
    return OtherCurve(
        text=text,
        speed_rpm=over(in_unit(drawn.speed_rad_s, "rpm")),
        current_a=over(in_unit(drawn.current_a, "A")),
        working_torque_mnm=working,
        working_speed_rpm=one_in(other.load.motor_speed.value, "rpm"),
        words=words,
    )


def next_reading(done: MotorAssessment) -> NextReadingView | None:
    """What to read next of a motor that is known by readings; None for one that is not."""
    if done.drive.motor.known_by != "readings":
        return None
    standing = done.chosen or next(iter(done.candidates), None)
    checks = [x for x in standing.checks if x.destructive] if standing is not None else []
    found = session(done.drive.motor, done.motor, done.context.volts.nominal.value, checks)
    if found.next is None:
        return NextReadingView(
            title="", how="", setting="", caution="", where="", narrows="", done=found.done, weakest=found.weakest
        )
    n = found.next
    return NextReadingView(
        title=n.title,
        how=n.how,
        setting=n.setting,
        caution=n.caution,
        where=n.where,
        narrows=n.narrows,
        done="",
        weakest=found.weakest,
    )


def _ways(done: MotorAssessment) -> list[WayView]:
    made = []
    for name, ways in (("resistance", done.motor.resistance_ways), ("constant", done.motor.constant_ways)):
        made += [_way(name, way) for way in ways if len(ways) > 1]
    return made


def _way(name: str, way: Way) -> WayView:
    ratio = way.ratio.value if way.ratio is not None else None
    off = "" if ratio is None else f"{ratio - 1:+.0%}".replace("-", "−").replace("%", "\u202f%")
    disagrees = ratio is not None and abs(ratio - 1) > WORTH_ASKING
    return WayView(
        constant=name, words=way.words, value=text_of(way.figure), trusted=ratio is None, off=off, disagrees=disagrees
    )


def _remedies(done: MotorAssessment, shelf: Sequence[MotorPart]) -> list[CreepRemedyView]:
    if not breakaway.known(done.context):
        return []
    return [
        CreepRemedyView(
            name=r.name,
            lowest=phrase(r.lowest_rad_s, "speed", "rpm"),
            top_speed=f"{r.top_speed:.0%}".replace("%", "\u202f%"),
            torque=f"{r.stall_torque:.0%}".replace("%", "\u202f%"),
            price=phrase(r.price_eur, "price") if r.price_eur else "—",
            reaches=r.reaches,
        )
        for r in remedies(done.context, done.circuit, done.low_speed, shelf)[:8]
    ]


def _heat(done: MotorAssessment) -> HeatView | None:
    """An hour or so at work from the hottest air, and what a stall does from there."""
    spec = done.drive.motor
    nodes, current = thermal.nodes_of(spec, done.motor, done.heat), done.heat.current.value
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
    return HeatView(
        minutes=[float(f"{t / 60:.5g}") for t in times],
        winding_c=[float(f"{x:.5g}") for x in rows[:, 0]],
        housing_c=[float(f"{x:.5g}") for x in rows[:, 1]],
        limit_c=limit,
        stall_text=text,
    )


def choice_of(part: MotorPart) -> MotorChoice:
    """A shelf motor in one line: what it would give at its own rated voltage."""
    known = constants_of(part)
    bits = [
        text_of(part.motor.sheet.voltage.leaf),
        f"R {text_of(known.resistance_25)}",
        f"K {text_of(known.motor_constant)}",
        f"idle {text_of(known.friction_a)}",
    ]
    label = MotorPart.meta("kind").choose
    return MotorChoice(
        id=part.id,
        name=part.name,
        kind=label.options[part.kind] if label else part.kind,
        sample=part.sample,
        text=", ".join(bits),
        note=part.note,
    )


def _figures_of(done: MotorAssessment) -> Shown:
    m, s, low = done.motor, done.at_supply, done.low_speed
    volts = done.context.volts.nominal.value
    subject = f"at {phrase(volts, 'voltage')}, 25 °C" if volts else "at the nominal supply"
    slow = [low.duty, (low.open_output, "rpm"), (low.closed_output, "rpm")]
    subject, figures = shown(
        subject,
        (
            s.stall_current,
            s.stall_torque,
            (s.no_load_speed, "rpm"),
            m.resistance_25,
            (m.motor_constant, "mN·m/A"),
            m.friction_torque,
            m.viscous if m.two_points else None,
            (s.best_efficiency, "%"),
            s.greatest_power,
            s.survivable_stall,
            m.brush_drop,
            s.best_efficiency_current,
            s.time_constant,
            done.heat.temperature,
            done.heat.allowed,
            m.inductance,
            (m.rotor_inertia, "g·cm²"),
            *(slow if breakaway.known(done.context) else []),
            low.agreement,
        ),
    )
    return subject, [replace(view, case="") for view in figures]


def _sections(done: MotorAssessment, d: Describer) -> list[Section]:
    spec = done.drive.motor
    ways = {
        "readings": [
            d.table(spec, "locked", LockedReading),
            d.section(spec, "", ("volts_read_at", "lead_resistance", "locked_temperature")),
            d.section(spec, "Spinning free", ("no_load_v", "no_load_a", "no_load_speed", "no_load_temperature")),
            d.section(spec, "Spinning free at another voltage", ("second_v", "second_a")),
        ],
        "data sheet": [d.section(spec.sheet, "What the sheet says", help="Any sufficient part of it will do.")],
        "spin-up": [d.section(spec.fitted, "From the spin-up")],
    }
    inductance = {"time constant": ("electrical_time",), "frame": ()}.get(spec.inductance_by, ("inductance",))
    inertia = {"time constant": ("mechanical_time",), "coast-down": ("coast_speed", "coast_time"), "frame": ()}.get(
        spec.inertia_by, ("rotor_inertia",)
    )
    weighed = "frame" in (spec.inertia_by, spec.inductance_by, spec.heat_by)
    size = (("weight", "case_diameter") if spec.inertia_by == "frame" else ("weight",)) if weighed else ()
    heat = () if spec.heat_by == "frame" else ("winding_copper", "housing_mass", "winding_to_housing", "housing_to_air")
    looks = d.section(
        spec.looks, "Is it a brushed DC motor at all?", help="Before any reading, of a motor without a label."
    )
    slow = ("breakaway_a", "smooth_open", *(("smooth_closed",) * done.drive.closes_loop))
    # Asked first of a motor that nothing is known of; later it stands where it is out of the way.
    begins = done.motor.motor_constant.value is None
    return [
        d.section(spec, "", ("name", "known_by")),
        *([looks] if begins else []),
        *ways[spec.known_by],
        d.section(spec, "Winding and rotor", ("inductance_by", *inductance, "inertia_by", *inertia, *size)),
        d.section(spec, "Starting from rest", slow),
        d.section(spec.salvage, "Where it came from", help="Of a motor without a sheet."),
        d.section(spec, "Heat", ("heat_by", *heat, "winding_hot", "winding_limit")),
        *([] if begins else [looks]),
    ]


def _picture(asked: Inputs) -> MotorPicture:
    other = asked.what_if.drives.get(asked.done.drive.id) if asked.what_if is not None else None
    return motor(asked.done, asked.motors, other.of_motor if other is not None else None, asked.refused)


def _hint(asked: Inputs) -> str:
    if asked.done.drive.motor.known_by == "spin-up" and asked.done.motor.motor_constant.value is None:
        return "Import a capture of the motor spinning up, fit it, and take the constants over."
    return ""


SHEETS = {
    "motor": StationSheet(
        sections=lambda asked: _sections(asked.done, asked.describer),
        figures=lambda asked: _figures_of(asked.done),
        picture=_picture,
        hint=_hint,
    )
}
