"""The page before station 1: controllers, air, meters, schools, and which drive uses what."""

from __future__ import annotations

from dataclasses import replace

from ..core.model.build import Build, LoadDrive, MotorDrive, ServoDrive
from ..core.model.given import Meter
from ..core.model.signals import IN_ITS_BUILD, Controller, Library, Peripheral
from .fields import Describer, Section, set_aside
from .links import rail_link, with_links

CONTROLLER = {n: n for n in Controller.model_fields if n not in ("id", "sample", *IN_ITS_BUILD)}
"""Which figure of a shelf part goes into which field."""


def _devices(build: Build, controller: Controller, d: Describer) -> Section:
    """The other devices of a controller, each with what feeds it."""
    made = d.table(controller, "devices", Peripheral, title=f"Other devices on {controller.name}")
    feeds = [*build.supply.regulators, *build.supply.sources]
    fed = {x.id: d.link(x, "feed", "Fed by", feeds, none="What feeds the controller") for x in controller.devices}
    rows = [
        replace(row, fields=[fed[row.id] if f.path == fed[row.id].path else f for f in row.fields])
        for row in made.rows or ()
    ]
    return replace(made, rows=rows)


def _meters(build: Build, d: Describer) -> Section:
    """A meter's accuracy is copied from its leaflet once."""
    made = d.table(build, "meters", Meter)
    return replace(made, rows=[replace(row, fields=set_aside(row.fields)) for row in made.rows or ()])


def build_sections(build: Build, d: Describer) -> list[Section]:
    """The page before station 1: controllers, ambient, meters, schools, and which drive uses what."""
    sections = [
        d.section(build, "The build", ("name", "note", "issue", *(("stop_line",) * bool(build.controllers)))),
        d.section(build.schools, "Schools"),
        d.section(build.ambient, "Air round it"),
        _meters(build, d),
        d.section(build.tools, "Beside a meter"),
    ]
    busy = {x.controller for things in (build.drives, build.sequences, build.handsets) for x in things}
    busy.add(build.radio.board)
    for controller in build.controllers:
        made = d.section(controller, f"Controller: {controller.name}")
        made = replace(made, fields=set_aside(made.fields, ("name", "language")))
        profile = d.copier(controller, "controller", "Profile from the shelf", CONTROLLER)
        fed = d.link(controller, "regulator", "Logic fed by", [*build.supply.regulators, *build.supply.sources])
        named = controller.id in busy
        sections.append(replace(with_links(made, fed, profile), editor="controller", removable=not named))
        sections.append(_devices(build, controller, d))
        sections.append(d.table(controller, "libraries", Library, title=f"Someone else's code on {controller.name}"))
    sections.append(d.adder(build, "controllers", "Add a controller"))
    used = {x.unit for x in build.driven}
    ordered = {x.drive for s in build.sequences for x in s.steps} | {build.steering.left, build.steering.right}
    ordered |= {name for x in build.interlocks for name in (x.drive, x.of)}
    ordered |= {b.drive for h in build.handsets for b in h.buttons}
    for unit in build.units:
        made = d.section(unit, f"Driver unit: {unit.name or unit.id}", ("name",))
        made = with_links(made, d.link(unit, "source", "Fed from", build.supply.sources))
        sections.append(replace(made, removable=unit.id not in used))
    sections.append(d.adder(build, "units", "Add a driver unit"))
    for drive in build.drives:
        controllers = d.link(drive, "controller", "Controller", build.controllers)
        if (servo := drive.of_servo) is not None:
            made = d.section(drive, f"Drive: {drive.name or drive.id}", ("name",))
            made = with_links(made, rail_link(build, servo, d), controllers)
        else:
            made = d.section(drive, f"Drive: {drive.name or drive.id}", ("name", "channel"))
            made = with_links(made, d.link(drive, "unit", "Driver unit", build.units), controllers)
        sections.append(replace(made, removable=len(build.drives) > 1 and drive.id not in ordered))
    motors = [x for x in build.driven if x.of_motor is not None]
    if len(motors) > 1:
        made = d.section(build.steering, "Steered by their difference", ("mirrored",))
        sides = [d.link(build.steering, n, f"{n.capitalize()} drive", motors, none="None") for n in ("left", "right")]
        sections.append(with_links(made, *sides))
    first = build.controllers[0].id if build.controllers else ""
    for model, label in (
        (MotorDrive, "Add a motor"),
        (ServoDrive, "Add a servo"),
        (LoadDrive, "Add a solenoid, pump or lamp"),
    ):
        blank = model(id="new", name=label.removeprefix("Add a ").capitalize(), controller=first)
        sections.append(
            Section(title=label, help="", fields=[], path="drives", rows=None, blank=blank.model_dump(mode="json"))
        )
    return sections
