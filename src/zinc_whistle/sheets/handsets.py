"""Handsets: the link's and each handset's fields, its wires, its figures."""

from __future__ import annotations

from dataclasses import replace

from ..core.assess import Assessment, machines_of
from ..core.model.build import Build, LoadDrive, MotorDrive
from ..core.model.handset import Handset, HandsetButton
from ..core.stations.signals.handset_wires import board_wires, wires
from .fields import Describer, FieldRow, Option, Section
from .links import with_links
from .signals_views import HandsetView, HandsetWireView, RadioView


def view(all: Assessment, controller: str) -> RadioView | None:
    """The handsets that a controller hears; None if it hears none."""
    build, link = all.build, all.radio
    if link is None or build.radio.board != controller:
        return None
    board = next((c for c in build.controllers if c.id == controller), None)
    made = []
    for handset, own in zip(build.handsets, link.handsets, strict=True):
        at = next((c for c in build.controllers if c.id == handset.controller), None)
        made.append(
            HandsetView(
                id=handset.id,
                name=handset.name or "Handset",
                controller=at.id if at is not None else "",
                of=at.name if at is not None else "",
                wires=[HandsetWireView(start=w.start, end=w.end, by=w.by) for w in wires(build, handset, own)],
            )
        )
    ends = board_wires(board) if board is not None else []
    return RadioView(handsets=made, board=[HandsetWireView(start=w.start, end=w.end, by=w.by) for w in ends])


def sections(all: Assessment, drive: MotorDrive | LoadDrive, d: Describer) -> list[Section]:
    """The link and every handset, where a drive's controller hears them or none does yet."""
    build, controller = all.build, drive.controller
    if not drive.signals.by_program:
        return []
    blank = Handset(id="new", name="Handset", controller=_idle(build)).model_dump(mode="json")
    adder = Section(title="Add a handset", help="", fields=[], path="handsets", rows=None, blank=blank)
    if not build.handsets:
        return [adder]
    if build.radio.board not in ("", controller):
        return []
    link = with_links(
        d.section(build.radio, "Radio, for all handsets"), d.link(build.radio, "board", "Heard by", build.controllers)
    )
    found = [link]
    for handset in build.handsets:
        title = f"Handset: {handset.name or 'without a name'}"
        own = d.link(handset, "controller", "Its controller", build.controllers)
        found.append(replace(with_links(d.section(handset, title), own), removable=True))
        found.append(_buttons(all, handset, d))
    return [*found, adder]


def _idle(build: Build) -> str:
    """A controller that tells nothing yet: it may be the handset's."""
    busy = {d.controller for d in build.drives} | {h.controller for h in build.handsets} | {build.radio.board}
    return next((c.id for c in build.controllers if c.id not in busy), "")


def _buttons(all: Assessment, handset: Handset, d: Describer) -> Section:
    """The buttons of a handset: only what the panel of its drive has is offered."""
    made = d.table(handset, "buttons", HandsetButton, title="Buttons")
    machines, heard = machines_of(all.drives), all.build.radio.board
    drives = [x for x in all.build.driven if not heard or x.controller == heard]
    rows: list[FieldRow] = []
    for row, button in zip(made.rows or [], handset.buttons, strict=True):
        fields = []
        machine = machines.get(button.drive)
        for f in row.fields:
            name = f.path.rpartition(".")[2]
            if name == "drive":
                options = [
                    Option(value="", label="None yet"),
                    *(Option(value=x.id, label=x.name or x.id) for x in drives),
                ]
                f = replace(f, control="choice", text=button.drive, options=options)
            elif name == "presses" and machine is not None and f.options:
                f = replace(f, options=[o for o in f.options if o.value in (*machine.inputs, button.presses)])
            fields.append(f)
        rows.append(replace(row, fields=fields))
    return replace(made, rows=rows)
