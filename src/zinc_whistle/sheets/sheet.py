"""One station's sheet, the job card's stamps and the tight spots: all that a reply to the screen holds."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from ..core.assess import STATIONS, Assessment, DriveAssessment
from ..core.bench.readings import Reading
from ..core.build import Build
from ..core.cautions import cautions
from ..core.motor.spec import LockedReading
from ..core.spec import Meter
from ..core.supply.spec import Regulator, Source
from . import draw
from . import pictures as p
from .fields import Describer, Field, Section
from .views import FigureView, FindingView, figure_view, finding_view

TITLES = {
    "build": ("Build", "What stands round it?"),
    "motor": ("Motor", "What have I got?"),
    "load": ("Load", "What must it move?"),
    "supply": ("Supply", "What feeds it?"),
    "driver": ("Driver", "Which kind, which part?"),
    "power_stage": ("Power stage", "Does it stay cool?"),
    "signals": ("Signals", "What does it hear?"),
    "wiring": ("Wiring", "What goes where?"),
    "encoder": ("Encoder", "Can it keep count?"),
    "loop": ("Loop", "Does it settle?"),
    "bench": ("Bench", "Is what I read right?"),
    "log": ("Log", "What was done?"),
}


@dataclass(frozen=True, slots=True)
class StampView:
    """A station on the job card."""

    station: str
    title: str
    state: str
    text: str


@dataclass(frozen=True, slots=True)
class DriveView:
    """A drive in the drive switch."""

    id: str
    name: str
    kind: str


@dataclass(frozen=True, slots=True)
class Sheet:
    """One station: what is given, what follows, and what the checks say."""

    station: str
    title: str
    question: str
    subject: str
    sections: list[Section]
    figures: list[FigureView]
    findings: list[FindingView]
    cautions: list[str]
    hint: str
    picture: p.Picture


@dataclass(frozen=True, slots=True)
class Reply:
    """The reply to a draft: stamps and tight spots of the whole build, one sheet, and the errors by path."""

    name: str
    drive: str
    drives: list[DriveView]
    stamps: list[StampView]
    spots: list[FindingView]
    unknown: int
    sheet: Sheet
    errors: dict[str, str]
    values: dict[str, float | None]


def reply(assessment: Assessment, station: str, drive_id: str, readings: Sequence[Reading] = ()) -> Reply:
    """Everything that the screen shows of one station; the first drive where ``drive_id`` is not there."""
    build = assessment.build
    done = assessment.drives.get(drive_id) or next(iter(assessment.drives.values()), None)
    stamps = []
    if done is not None:
        for name in STATIONS:
            stamp = assessment.stamp(done.drive.id, name)
            stamps.append(StampView(name, TITLES[name][0], stamp.state, stamp.text))
    describer = Describer(assessment)
    sheet = build_sheet(assessment, describer) if station == "build" or done is None else station_sheet(
        assessment, done, station, describer, readings)  # fmt: skip
    return Reply(
        build.name, done.drive.id if done else "",
        [DriveView(d.id, d.name or d.id, d.kind) for d in build.drives], stamps,
        [finding_view(x) for x in assessment.spots()],
        sum(1 for x in assessment.findings if x.unknown and x.station != "bench"), sheet, assessment.bound.errors,
        {path: given.value for path, given in assessment.bound.givens.items() if path not in assessment.bound.errors},
    )  # fmt: skip


def build_sheet(assessment: Assessment, describer: Describer) -> Sheet:
    """The page before station 1: controllers, ambient, meters, schools, and which drive uses what."""
    build = assessment.build
    sections = [
        describer.section(build, "The build", ("name", "note", "issue")),
        describer.section(build.schools, "Schools"),
        describer.section(build.ambient, "Air round it"),
        describer.table(build, "meters", Meter),
    ]
    for controller in build.controllers:
        made = describer.section(controller, f"Controller: {controller.name}")
        link = describer.link(controller, "regulator", "Logic fed by", build.supply.regulators)
        sections.append(_with(made, link))
    for drive in build.drives:
        made = describer.section(drive, f"Drive: {drive.name or drive.id}", ("name", "channel"))
        sections.append(_with(
            made, describer.link(drive, "unit", "Driver unit", build.units),
            describer.link(drive, "controller", "Controller", build.controllers)))  # fmt: skip
    title, question = TITLES["build"]
    return Sheet("build", title, question, "", sections, [], [], [], "", p.PlainPicture())


def _with(section: Section, *fields: Field) -> Section:
    kept = [f for f in section.fields if f.path not in {x.path for x in fields}]
    return Section(section.title, section.help, [*kept, *fields], section.path)


def station_sheet(
    assessment: Assessment,
    done: DriveAssessment,
    station: str,
    describer: Describer,
    readings: Sequence[Reading],
) -> Sheet:
    """One station of one drive."""
    title, question = TITLES[station]
    if station == "bench":
        picture: p.Picture = draw.bench(done, readings, describer)
    elif station in draw.PICTURES:
        picture = draw.PICTURES[station](done)
    else:
        picture = p.PlainPicture()
    junction = done.stage.heat.junction.value if done.stage.heat is not None else None
    own = sorted((x for x in done.findings if x.station == station), key=lambda x: -(x.used or 0.0))
    subject, figures = FIGURES[station](done) if station in FIGURES else ("", [])
    return Sheet(
        station, title, question, subject, SECTIONS[station](done, describer) if station in SECTIONS else [],
        figures, [finding_view(x) for x in own], cautions(done.context, done.circuit, station, junction),
        _hint(done, station), picture,
    )  # fmt: skip


def _hint(done: DriveAssessment, station: str) -> str:
    if station == "motor" and done.motor.resistance_25.value is None:
        return (
            "Start with three readings: hold the shaft, give it a low voltage, read volts and amperes at three shaft angles. "
            "Then let it spin free and read volts, amperes and speed."
        )
    if station == "motor" and done.motor.angles and done.motor.angles < 3:
        return "Worth one more reading: the rotor locked at another shaft angle. Resistance changes from bar to bar."
    if station == "power_stage" and done.chosen is not None:
        return "Switches, gates and diodes are built into this part. What stands beside it is the bulk capacitor."
    if station == "driver" and done.chosen is None:
        return "Choose a part from the list: the best one that holds stands first."
    return ""


def _motor_sections(done: DriveAssessment, d: Describer) -> list[Section]:
    spec = done.drive.motor
    return [
        d.section(spec, "", ("name",)),
        d.table(spec, "locked", LockedReading),
        d.section(spec, "", ("volts_read_at", "lead_resistance", "locked_temperature")),
        d.section(spec, "Spinning free", ("no_load_v", "no_load_a", "no_load_speed", "no_load_temperature")),
        d.section(
            spec,
            "The winding",
            ("inductance", "rotor_inertia", "winding_copper", "winding_hot", "winding_limit"),
        ),
    ]


def _load_sections(done: DriveAssessment, d: Describer) -> list[Section]:
    spec = done.drive.load
    kinds = {"turntable": "Turntable", "direct": "Torque and inertia, known"}
    moved = d.section(spec.mechanism, "Mechanism")
    kind = d.variant(spec, "mechanism", "Mechanism", kinds)
    return [
        Section(moved.title, "", [kind, *moved.fields], moved.path),
        d.section(spec, "Gear", ("gear_ratio", "gear_efficiency", "gear_torque_limit")),
        d.section(spec, "Duty", ("run_for", "rest_for")),
    ]


def _supply_sections(done: DriveAssessment, d: Describer) -> list[Section]:
    build: Build = done.context.build
    regulators = d.table(build.supply, "regulators", Regulator)
    return [d.table(build.supply, "sources", Source), regulators]


def _driver_sections(done: DriveAssessment, d: Describer) -> list[Section]:
    build = done.context.build
    return [
        d.section(build.schools, "School"),
        d.section(done.context.unit, "In a jam", ("jam_stop", "jam_time", "current_limit")),
    ]


def _stage_sections(done: DriveAssessment, d: Describer) -> list[Section]:
    names = ("bulk_capacitance", "bulk_voltage", "bulk_ripple", "bulk_esr", "ripple_allowed")
    return [
        d.section(done.context.unit, "Bulk capacitor", names),
        d.section(done.context.build.ambient, "Air", ("hot",)),
    ]


def _wiring_sections(done: DriveAssessment, d: Describer) -> list[Section]:
    return [
        d.section(done.context.unit.supply_run, "Source to driver"),
        d.section(done.drive.wiring.motor_run, "Driver to motor"),
        d.section(done.drive.wiring.signal_run, "Signals and encoder"),
    ]


SECTIONS: dict[str, Callable[[DriveAssessment, Describer], list[Section]]] = {
    "motor": _motor_sections,
    "load": _load_sections,
    "supply": _supply_sections,
    "driver": _driver_sections,
    "power_stage": _stage_sections,
    "signals": lambda done, d: [d.section(done.drive.signals, "PWM and ramps")],
    "wiring": _wiring_sections,
    "encoder": lambda done, d: [d.section(done.drive.encoder, "Encoder")],
    "loop": lambda done, d: [d.section(done.drive.loop, "Speed loop")],
}


def _figures(subject: str, *wanted: tuple[object, str] | object) -> tuple[str, list[FigureView]]:
    made = []
    for item in wanted:
        node, unit = item if isinstance(item, tuple) else (item, "")
        if node is not None:
            made.append(figure_view(node, unit))
    return subject, made


def _motor_figures(done: DriveAssessment) -> tuple[str, list[FigureView]]:
    m, s = done.motor, done.at_supply
    volts = done.context.source.nominal_v.value
    subject = f"at {volts:.3g} V, 25 °C" if volts else "at the nominal supply"
    subject, figures = _figures(
        subject, s.stall_current, s.stall_torque, (s.no_load_speed, "rpm"), m.resistance_25,
        (m.motor_constant, "mN·m/A"), m.friction_torque, (s.best_efficiency, "%"), s.greatest_power, s.survivable_stall,
        m.brush_drop, s.best_efficiency_current, s.time_constant,
    )  # fmt: skip
    return subject, [replace(view, case="") for view in figures]


def _load_figures(done: DriveAssessment) -> tuple[str, list[FigureView]]:
    r = done.load
    return _figures(
        "at the motor shaft", r.working_current, r.starting_current, r.rms_current, r.motor_torque, r.starting_torque,
        (r.motor_speed, "rpm"), (r.reflected_inertia, "g·cm²"), (r.inertia, "kg·m²"), r.power,
    )  # fmt: skip


def _supply_figures(done: DriveAssessment) -> tuple[str, list[FigureView]]:
    r = done.supply
    return _figures(
        "at the driver", r.bus_working, r.bus_start, r.bus_jam, r.source_current, r.runtime, r.regulator_heat,
        r.logic_needs, r.brake_energy, done.context.feed_resistance,
    )  # fmt: skip


def _driver_figures(done: DriveAssessment) -> tuple[str, list[FigureView]]:
    c = done.circuit
    heat = done.chosen.heat if done.chosen else None
    return _figures(
        done.chosen.part.name if done.chosen else "no part chosen yet", c.stall_full, c.peak, done.load.rms_current,
        c.driver_drop, c.motor_volts, (c.top_speed_flat, "rpm"), (c.duty_nominal, "%"),
        heat.junction if heat else None, heat.allowed_current if heat else None,
    )  # fmt: skip


def _stage_figures(done: DriveAssessment) -> tuple[str, list[FigureView]]:
    r, heat = done.stage, done.stage.heat
    first = [heat.junction, heat.total, heat.allowed_current, heat.conduction, heat.switching] if heat else []
    return _figures("hottest air", *first, r.bus_ripple, r.ripple_current, r.capacitance_needed, r.rating_needed)


def _signals_figures(done: DriveAssessment) -> tuple[str, list[FigureView]]:
    r = done.signals
    timer = done.context.plan.timer
    subject = f"{timer.name}, ÷{done.context.plan.prescaler}" if timer else "no timer yet"
    return _figures(
        subject, r.frequency, (r.steps, "steps"), (r.bits, "bit"), (r.duty, "%"), r.ripple, (r.top, "counts"),
        r.shortest_ramp, done.load.starting_current, (r.error, "%"),
    )  # fmt: skip


def _wiring_figures(done: DriveAssessment) -> tuple[str, list[FigureView]]:
    r, at = done.wiring, done.context
    return _figures(
        "at the RMS current", r.supply_drop, (r.supply_density, "A/mm²"), at.supply_wire.resistance, r.motor_drop,
        (r.motor_density, "A/mm²"), at.motor_wire.resistance,
    )  # fmt: skip


def _encoder_figures(done: DriveAssessment) -> tuple[str, list[FigureView]]:
    r = done.encoder
    if done.drive.encoder.fitted == "no":
        return "none fitted", []
    return _figures(
        "at both shafts", (r.counts_per_turn, "counts"), (r.counts_per_output_turn, "counts"),
        (r.output_angle_per_count, "°"), r.rate_working, r.rate_top, (r.counts_per_period, "counts"),
        r.polling_limit, r.interrupt_limit, (r.angle_per_count, "°"),
    )  # fmt: skip


def _loop_figures(done: DriveAssessment) -> tuple[str, list[FigureView]]:
    r = done.loop
    if done.drive.loop.closed == "no":
        return "open, no loop", []
    return _figures(
        "step from rest to the working speed", (r.overshoot, "%"), r.settling, (r.droop, "%"), r.peak_current,
        (r.damping, "1"), r.load_torque,
    )  # fmt: skip


FIGURES: dict[str, Callable[[DriveAssessment], tuple[str, list[FigureView]]]] = {
    "motor": _motor_figures, "load": _load_figures, "supply": _supply_figures, "driver": _driver_figures,
    "power_stage": _stage_figures, "signals": _signals_figures, "wiring": _wiring_figures,
    "encoder": _encoder_figures, "loop": _loop_figures,
}  # fmt: skip
