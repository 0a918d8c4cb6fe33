"""Supply: the range from full to flat, who hangs on it, and the sag at a start."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any, Literal

from ..core.assess import Assessment, DriveAssessment, DrivenAssessment, ServoAssessment
from ..core.cases import course
from ..core.model.supply import Consumer, Regulator, Source
from .fields import Describer, Section
from .inputs import Shown, StationSheet, shown
from .links import rail_link, with_links
from .load import servo_hint
from .views import text_of


@dataclass(frozen=True, slots=True)
class Band:
    """A range of volts, or a single mark where both ends agree."""

    label: str
    low: float
    high: float
    text: str
    role: Literal["source", "window", "need", "moment"]


@dataclass(frozen=True, slots=True)
class SupplyPicture:
    """Volts from the source's window down to each consumer's need, with the worst moments between."""

    bands: list[Band]
    sag_time_s: list[float]
    sag_v: list[float]
    need_v: float | None
    advice: list[str]
    kind: Literal["supply"] = "supply"


def supply(all: Assessment, done: DriveAssessment) -> SupplyPicture:
    """Bands of volts that can be compared by eye, and the start of this drive on a flat supply."""
    bands: list[Band] = []

    def band(label: str, low: Any, high: Any, role: Any) -> None:
        if low.value is None or high.value is None:
            return
        text = text_of(low) if low.value == high.value else f"{text_of(low)} to {text_of(high)}"
        bands.append(Band(label, low.value, high.value, text, role))

    source_id = done.context.source.id if isinstance(done, DrivenAssessment) else ""
    for source in all.shared.sources:
        spec = next(s for s in all.build.supply.sources if s.id == source.id)
        if len(all.shared.sources) == 1 or source.id == source_id or isinstance(done, ServoAssessment):
            band(spec.name or "Source", source.window.flat, source.window.full, "source")
    times: list[float] = []
    volts: list[float] = []
    need = None
    if isinstance(done, DrivenAssessment):
        at, result = done.context, done.supply
        if at.part is not None:
            band(at.part.name, at.part.v_min.leaf, at.part.v_max.leaf, "window")
        band("At the driver, flat and working", result.bus_working, result.bus_working, "moment")
        band("At the driver, flat and starting", result.bus_start, result.bus_start, "moment")
        band("At the driver, flat and jammed", result.bus_jam, result.bus_jam, "moment")
        times, volts = _sag(done)
    for regulator in all.shared.regulators:
        spec_r = next(r for r in all.build.supply.regulators if r.id == regulator.id)
        band(f"{spec_r.name or 'The regulator'} needs", regulator.needs, regulator.needs, "need")
        if (
            isinstance(done, DrivenAssessment)
            and done.context.regulator is not None
            and done.context.regulator.id == regulator.id
        ):
            need = regulator.needs.value
    if isinstance(done, ServoAssessment):
        servo = done.drive.servo
        band("The servo works from", servo.low_v.leaf, servo.high_v.leaf, "window")
        if not isinstance(done.servo.rail, float):
            band("Its rail", done.servo.rail, done.servo.rail, "moment")
    advice = all.advice.get(source_id) or next((a for a in all.advice.values() if a), [])
    return SupplyPicture(bands, times, volts, need, advice)


def _sag(done: DrivenAssessment) -> tuple[list[float], list[float]]:
    """The supply at the driver through one start, flat."""
    found = course.sag(done.context, done.supply.bus_start, done.supply.bus_working, done.signals.ramp)
    return [float(f"{t:.5g}") for t in found.time_s], [float(f"{v:.5g}") for v in found.bus_v]


def _figures_of(done: DriveAssessment, all: Assessment) -> Shown:
    nodes: list[Any] = []
    if isinstance(done, DrivenAssessment):
        r = done.supply
        own = all.shared.source(done.context.source.id)
        nodes = [
            r.bus_working,
            r.bus_start,
            r.bus_jam,
            r.source_current,
            *([own.working, own.starting] if own else []),
            own.runtime if own else None,
            done.context.feed_resistance,
            r.brake_energy,
            r.after_braking,
            r.returned_energy,
            r.braking_capacitor,
            r.brake_resistor,
            r.brake_power,
            r.plug_in_peak,
        ]
    for regulator in all.shared.regulators:
        nodes += [regulator.load, regulator.worst, regulator.heat, regulator.junction, regulator.needs]
    return shown("at the driver" if isinstance(done, DrivenAssessment) else "on the rails", *nodes)


REGULATOR = {
    "name": "name",
    "type": "kind",
    "output_v": "output_v",
    "dropout": "dropout",
    "limit": "limit",
    "input_max": "input_max",
    "efficiency": "efficiency",
}


def _sections(done: DriveAssessment, d: Describer) -> list[Section]:
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


_DRIVEN = StationSheet(
    sections=lambda asked: _sections(asked.done, asked.describer),
    figures=lambda asked: _figures_of(asked.done, asked.all),
    picture=lambda asked: supply(asked.all, asked.done),
)
SHEETS = {"motor": _DRIVEN, "load": _DRIVEN, "servo": replace(_DRIVEN, hint=servo_hint)}
