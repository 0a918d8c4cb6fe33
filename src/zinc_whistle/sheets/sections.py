"""What each station asks for: its sections of fields, by the kind of drive."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import Any

from ..core.assess import DriveAssessment, DrivenAssessment, MotorAssessment, ServoAssessment
from ..core.model.build import Build, LoadDrive, MotorDrive, ServoDrive
from ..core.model.given import Meter
from ..core.model.load import MECHANISMS, Segment
from ..core.model.motor import LockedReading
from ..core.model.signals import Controller, Library
from ..core.model.stage import DIODE_CIRCUITS
from ..core.model.supply import Consumer, Regulator, Source
from .fields import Describer, Field, Section
from .stage_sections import own_stage

CAPACITOR = {
    "capacitance": "bulk_capacitance",
    "rated_v": "bulk_voltage",
    "ripple_a": "bulk_ripple",
    "esr": "bulk_esr",
}
REGULATOR = {
    "name": "name",
    "type": "kind",
    "output_v": "output_v",
    "dropout": "dropout",
    "limit": "limit",
    "input_max": "input_max",
    "efficiency": "efficiency",
}
CONTROLLER = {n: n for n in Controller.model_fields if n not in ("id", "regulator", "libraries")}
"""Which figure of a shelf part goes into which field."""


def with_links(section: Section, *fields: Field) -> Section:
    """A section with fields that name other parts of the build added at its end."""
    kept = [f for f in section.fields if f.path not in {x.path for x in fields}]
    return Section(section.title, section.help, [*kept, *fields], section.path)


def build_sections(build: Build, d: Describer) -> list[Section]:
    """The page before station 1: controllers, ambient, meters, schools, and which drive uses what."""
    sections = [
        d.section(build, "The build", ("name", "note", "issue")),
        d.section(build.schools, "Schools"),
        d.section(build.ambient, "Air round it"),
        d.table(build, "meters", Meter),
    ]
    for controller in build.controllers:
        made = d.section(controller, f"Controller: {controller.name}")
        profile = d.copier(controller, "controller", "Profile from the shelf", CONTROLLER)
        fed = d.link(controller, "regulator", "Logic fed by", build.supply.regulators)
        sections.append(with_links(made, fed, profile))
        sections.append(d.table(controller, "libraries", Library, title=f"Someone else's code on {controller.name}"))
    used = {x.unit for x in build.drives if not isinstance(x, ServoDrive)}
    for unit in build.units:
        made = d.section(unit, f"Driver unit: {unit.name or unit.id}", ("name",))
        made = with_links(made, d.link(unit, "source", "Fed from", build.supply.sources))
        sections.append(replace(made, removable=unit.id not in used))
    sections.append(d.adder(build, "units", "Add a driver unit"))
    for drive in build.drives:
        controllers = d.link(drive, "controller", "Controller", build.controllers)
        if isinstance(drive, ServoDrive):
            made = d.section(drive, f"Drive: {drive.name or drive.id}", ("name",))
            made = with_links(made, rail_link(build, drive, d), controllers)
        else:
            made = d.section(drive, f"Drive: {drive.name or drive.id}", ("name", "channel"))
            made = with_links(made, d.link(drive, "unit", "Driver unit", build.units), controllers)
        sections.append(replace(made, removable=len(build.drives) > 1))
    first = build.controllers[0].id if build.controllers else ""
    for model, label in (
        (MotorDrive, "Add a motor"),
        (ServoDrive, "Add a servo"),
        (LoadDrive, "Add a solenoid, pump or lamp"),
    ):
        blank = model(id="new", name=label.removeprefix("Add a ").capitalize(), controller=first)
        sections.append(Section(label, "", [], "drives", None, blank.model_dump(mode="json")))
    return sections


def rail_link(build: Build, drive: ServoDrive, d: Describer) -> Field:
    """Which regulator or source feeds a servo."""
    return d.link(drive, "rail", "Rail", [*build.supply.regulators, *build.supply.sources])


def _motor(done: MotorAssessment, d: Describer) -> list[Section]:
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
    inductance = "electrical_time" if spec.inductance_by == "time constant" else "inductance"
    inertia = {"time constant": ("mechanical_time",), "coast-down": ("coast_speed", "coast_time")}.get(
        spec.inertia_by, ("rotor_inertia",)
    )
    return [
        d.section(spec, "", ("name", "known_by")),
        *ways[spec.known_by],
        d.section(spec, "Winding and rotor", ("inductance_by", inductance, "inertia_by", *inertia)),
        d.section(spec, "Starting from rest", ("breakaway_a",)),
        d.section(
            spec,
            "Heat",
            ("winding_copper", "housing_mass", "winding_to_housing", "housing_to_air", "winding_hot", "winding_limit"),
        ),
    ]


def _load(done: MotorAssessment, d: Describer) -> list[Section]:
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


def _dc_load(done: DriveAssessment, d: Describer) -> list[Section]:
    assert isinstance(done.drive, LoadDrive)
    spec = done.drive.load
    names: tuple[str, ...] = ("kind", "rated_v", "rated_a", "needs_v", "inductance")
    duty: tuple[str, ...] = ("on_for", "off_for")
    if spec.kind == "solenoid":
        duty = ("pull_time", "hold_duty", *duty)
    return [d.section(spec, "The load", names), d.section(spec, "Duty", duty)]


def _servo_load(done: ServoAssessment, d: Describer) -> list[Section]:
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


def _supply(done: DriveAssessment, d: Describer) -> list[Section]:
    build = d.build
    sections = [d.table(build.supply, "sources", Source), d.table(build.supply, "regulators", Regulator)]
    sections += [
        d.table(r, "consumers", Consumer, title=f"On {r.name or 'the regulator'}, besides the logic", columns=True)
        for r in build.supply.regulators
    ]
    sections.append(
        d.section(build.supply, "All together", ("together", "motor_and_logic", "lead_in", "clamp_v", "brake_time"))
    )
    for regulator in build.supply.regulators:
        made = Section(f"{regulator.name or 'Regulator'}, fed from", "", [], regulator.path)
        copied = d.copier(regulator, "regulator", "Figures from the shelf", REGULATOR)
        sections.append(with_links(made, d.link(regulator, "source", "Source", build.supply.sources), copied))
    if isinstance(done, ServoAssessment):
        made = Section("This servo", "", [], done.drive.path)
        sections.insert(0, with_links(made, rail_link(build, done.drive, d)))
    return sections


def _driver(done: DrivenAssessment, d: Describer) -> list[Section]:
    unit = done.context.unit
    return [
        d.section(unit, "The driver", ("made_of",)),
        d.section(done.context.drive, "Channels", ("channel", "joined")),
        d.section(d.build.schools, "School", ("sizing",)),
        d.section(unit, "In a jam", ("jam_stop", "jam_time", "current_limit")),
    ]


def _stage(done: DrivenAssessment, d: Describer) -> list[Section]:
    unit = done.context.unit
    made = d.section(unit, "The stage", ("made_of",))
    flyback = d.section(unit, "Flyback", ("flyback",))
    bulk = d.section(
        unit, "Bulk capacitor", ("bulk_capacitance", "bulk_voltage", "bulk_ripple", "bulk_esr", "ripple_allowed")
    )
    from_shelf = CAPACITOR | ({"life": "stage.life", "life_at": "stage.life_at"} if done.discrete is not None else {})
    bulk.fields.insert(0, d.copier(unit, "capacitor", "Figures from the shelf", from_shelf))
    air = d.section(d.build.ambient, "Air", ("hot",))
    if done.discrete is None:
        return [made, flyback, bulk, air]
    return [
        made,
        *own_stage(unit.stage, d),
        *([flyback] if unit.stage.circuit in DIODE_CIRCUITS else []),
        bulk,
        air,
        d.section(d.build.schools, "School", ("standoff",)),
    ]


def _signals(done: DrivenAssessment, d: Describer) -> list[Section]:
    assert not isinstance(done.drive, ServoDrive)
    spec = done.drive.panel
    panel = [n for n in type(spec).model_fields if n not in ("homing", "moves") or isinstance(done, MotorAssessment)]
    return [d.section(done.drive.signals, "PWM and ramps"), d.section(spec, "Control panel", panel)]


def _servo_signals(done: ServoAssessment, d: Describer) -> list[Section]:
    return [d.section(done.drive.servo, "Pulse", ("pulse_low", "pulse_high", "frame"))]


def _wiring(done: DriveAssessment, d: Describer) -> list[Section]:
    if isinstance(done, DrivenAssessment):
        first = [
            d.section(done.context.unit.supply_run, "Source to driver"),
            d.section(done.drive.wiring.motor_run, "Driver to motor"),
        ]
        return [*first, d.section(done.drive.wiring.signal_run, "Signals and encoder")]
    return [d.section(done.drive.wiring.signal_run, "To the servo")]


SECTIONS: dict[tuple[str, str], Callable[[Any, Describer], Sequence[Section]]] = {
    ("motor", "motor"): _motor,
    ("motor", "load"): _load,
    ("load", "load"): _dc_load,
    ("servo", "load"): _servo_load,
    ("servo", "signals"): _servo_signals,
    ("motor", "encoder"): lambda done, d: [d.section(done.drive.encoder, "Encoder")],
    ("motor", "loop"): lambda done, d: [d.section(done.drive.loop, "Speed loop")],
    **{(kind, "supply"): _supply for kind in ("motor", "load", "servo")},
    **{(kind, "wiring"): _wiring for kind in ("motor", "load", "servo")},
    **{(kind, "driver"): _driver for kind in ("motor", "load")},
    **{(kind, "power_stage"): _stage for kind in ("motor", "load")},
    **{(kind, "signals"): _signals for kind in ("motor", "load")},
}


def sections_of(done: DriveAssessment, station: str, d: Describer) -> list[Section]:
    """The sections of one station of one drive."""
    made = SECTIONS.get((done.drive.kind, station))
    return list(made(done, d)) if made is not None else []
