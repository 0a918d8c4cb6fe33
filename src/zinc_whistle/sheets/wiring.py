"""Wiring: the harness and its table."""

from __future__ import annotations

from ..core.assess import DrivenAssessment, ServoAssessment
from ..core.model.wiring import WireRun
from .fields import Describer, Section
from .inputs import Shown, StationSheet, shown
from .other_loads import servo_hint
from .wiring_views import WiringPicture, wiring_picture

__all__ = ["SHEETS", "WiringPicture"]


def _servo_figures(done: ServoAssessment) -> Shown:
    return shown(
        "with the servo stalled",
        (
            done.wiring.motor_drop,
            (done.wiring.motor_density, "A/mm²"),
        ),
    )


def _driven_figures(done: DrivenAssessment) -> Shown:
    r, at = done.wiring, done.context
    return shown(
        "at the current that warms them",
        (
            r.supply_drop,
            (r.supply_density, "A/mm²"),
            at.supply_wire.resistance,
            r.motor_drop,
            (r.motor_density, "A/mm²"),
            at.motor_wire.resistance,
        ),
    )


def _fields(run: WireRun) -> tuple[str, ...]:
    """The fields of a power run: those of its contacts only where it has some."""
    at_its_ends = {"fixed": (), "plug": ("contact_a", "keyed"), "breadboard": ()}[run.ends]
    return ("gauge", "length", "insulation", "together", "ends", *at_its_ends)


def _driven_sections(done: DrivenAssessment, d: Describer) -> list[Section]:
    supply, wiring = done.context.unit.supply_run, done.drive.wiring
    found = [
        d.section(supply, "Source to driver", _fields(supply)),
        d.section(wiring.motor_run, "Driver to motor", _fields(wiring.motor_run)),
        d.section(wiring.signal_run, "Signals and encoder", ("gauge", "length")),
    ]
    if done.drive.has_encoder:
        found.append(d.section(wiring, "How they lie", ("laid",)))
    if done.context.unit.made_of == "stage":
        found.append(d.section(done.context.unit.stage.board, "Perforated board of the stage"))
    return found


def _servo_sections(done: ServoAssessment, d: Describer) -> list[Section]:
    run = done.drive.wiring.signal_run
    wanted = tuple(f for f in _fields(run) if f not in ("insulation", "together"))
    return [d.section(run, "To the servo", wanted)]


_DRIVEN = StationSheet(
    sections=lambda asked: _driven_sections(asked.done, asked.describer),
    figures=lambda asked: _driven_figures(asked.done),
    picture=lambda asked: wiring_picture(asked.all, asked.done),
)
SHEETS = {
    "motor": _DRIVEN,
    "load": _DRIVEN,
    "servo": StationSheet(
        sections=lambda asked: _servo_sections(asked.done, asked.describer),
        figures=lambda asked: _servo_figures(asked.done),
        picture=lambda asked: wiring_picture(asked.all, asked.done),
        hint=servo_hint,
    ),
}
