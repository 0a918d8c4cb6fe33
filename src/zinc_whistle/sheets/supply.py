"""Supply: the range from full to flat, who hangs on it, and the sag at a start."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, Literal

from ..core.assess import Assessment, DrivenAssessment, ServoAssessment
from ..core.cases import course
from ..core.model.build import Build
from ..core.model.supply import Consumer, Regulator, Source
from .fields import Describer, Section
from .inputs import Shown, StationSheet, shown
from .links import rail_link, with_links
from .other_loads import servo_hint
from .views import text_of


@dataclass(frozen=True, slots=True, kw_only=True)
class Band:
    """A range of volts, or a single mark where both ends agree."""

    label: str
    low: float
    high: float
    text: str
    role: Literal["source", "window", "need", "moment"]


@dataclass(frozen=True, slots=True, kw_only=True)
class SupplyPicture:
    """Volts from the source's window down to each consumer's need, with the worst moments between."""

    bands: list[Band]
    sag_time_s: list[float]
    sag_v: list[float]
    need_v: float | None
    advice: list[str]
    kind: Literal["supply"] = "supply"


def _range(label: str, low: Any, high: Any, role: Any) -> list[Band]:
    """A band, or none where an end of it is not known."""
    if low.value is None or high.value is None:
        return []
    text = text_of(low) if low.value == high.value else f"{text_of(low)} to {text_of(high)}"
    return [Band(label=label, low=low.value, high=high.value, text=text, role=role)]


def _source_bands(all: Assessment, only: str | None) -> list[Band]:
    """The windows of the sources, or of the one that feeds the drive where there are several."""
    return [
        band
        for source in all.shared.sources
        if len(all.shared.sources) == 1 or only is None or source.id == only
        for band in _range(
            next(s for s in all.build.supply.sources if s.id == source.id).name or "Source",
            source.window.flat,
            source.window.full,
            "source",
        )
    ]


def _regulator_bands(all: Assessment) -> list[Band]:
    names = {r.id: r.name for r in all.build.supply.regulators}
    return [
        band
        for r in all.shared.regulators
        for band in _range(f"{names[r.id] or 'The regulator'} needs", r.needs, r.needs, "need")
    ]


def _driven_picture(all: Assessment, done: DrivenAssessment) -> SupplyPicture:
    """Bands of volts that can be compared by eye, and the start of this drive on a flat supply."""
    at, result = done.context, done.supply
    bands = _source_bands(all, at.source.id)
    if at.part is not None:
        bands += _range(at.part.name, at.part.v_min.leaf, at.part.v_max.leaf, "window")
    bands += _range("At the driver, flat and working", result.bus_working, result.bus_working, "moment")
    bands += _range("At the driver, flat and starting", result.bus_start, result.bus_start, "moment")
    bands += _range("At the driver, flat and jammed", result.bus_jam, result.bus_jam, "moment")
    needs = done.scene.logic_needs
    times, volts = _sag(done)
    return SupplyPicture(
        bands=[*bands, *_regulator_bands(all)],
        sag_time_s=times,
        sag_v=volts,
        need_v=needs.value if needs is not None else None,
        advice=_advice(all, at.source.id),
    )


def _servo_picture(all: Assessment, done: ServoAssessment) -> SupplyPicture:
    """Bands of volts from the sources to the servo's rail."""
    servo, rail = done.drive.servo, done.servo.rail
    bands = [*_source_bands(all, None), *_regulator_bands(all)]
    bands += _range("The servo works from", servo.low_v.leaf, servo.high_v.leaf, "window")
    if not isinstance(rail, float):
        bands += _range("Its rail", rail, rail, "moment")
    return SupplyPicture(bands=bands, sag_time_s=[], sag_v=[], need_v=None, advice=_advice(all, ""))


def _advice(all: Assessment, source_id: str) -> list[str]:
    return all.advice.get(source_id) or next((a for a in all.advice.values() if a), [])


def _sag(done: DrivenAssessment) -> tuple[list[float], list[float]]:
    """The supply at the driver through one start, flat."""
    found = course.sag(done.context, done.supply.bus_start, done.supply.bus_working, done.signals.ramp)
    return [float(f"{t:.5g}") for t in found.time_s], [float(f"{v:.5g}") for v in found.bus_v]


def _regulator_figures(all: Assessment) -> list[Any]:
    return [x for r in all.shared.regulators for x in (r.load, r.worst, r.heat, r.junction, r.needs)]


def _driven_figures(all: Assessment, done: DrivenAssessment) -> Shown:
    r, own = done.supply, all.shared.source(done.context.source.id)
    return shown(
        "at the driver",
        (
            r.bus_working,
            r.bus_start,
            r.bus_jam,
            r.source_current,
            *([own.working, own.starting, own.runtime, own.with_spares] if own else []),
            *([own.sun, own.used, own.lamp_resistor, own.lamp_heat] if own else []),
            done.context.feed_resistance,
            r.brake_energy,
            r.after_braking,
            r.returned_energy,
            r.braking_capacitor,
            r.brake_resistor,
            r.brake_power,
            r.plug_in_peak,
            *_regulator_figures(all),
        ),
    )


REGULATOR = {
    "name": "name",
    "type": "kind",
    "output_v": "output_v",
    "dropout": "dropout",
    "limit": "limit",
    "input_max": "input_max",
    "efficiency": "efficiency",
}


def _sections(d: Describer) -> list[Section]:
    build = d.build
    sources = d.table(build.supply, "sources", Source, without=_unused(build), idle=_no_battery)
    sections = [sources, d.table(build.supply, "regulators", Regulator, without=("source",), idle=_not_of_kind)]
    sections += [
        d.table(r, "consumers", Consumer, title=f"On {r.name or 'the regulator'}, besides the logic", columns=True)
        for r in build.supply.regulators
    ]
    sections.append(
        d.section(build.supply, "All together", ("together", "motor_and_logic", "lead_in", "clamp_v", "brake_time"))
    )
    for regulator in build.supply.regulators:
        made = Section(title=f"{regulator.name or 'Regulator'}, fed from", help="", fields=[], path=regulator.path)
        copied = d.copier(regulator, "regulator", "Figures from the shelf", REGULATOR)
        sections.append(with_links(made, d.link(regulator, "source", "Source", _before(build, regulator)), copied))
    return sections


OF_BATTERIES = ("chemistry", "cells", "capacity", "rated_hours", "peukert", "packs", "spare", "charger", "solar_w")


def _no_battery(source: Source) -> Sequence[str]:
    return () if source.kind == "battery" else OF_BATTERIES


def _not_of_kind(regulator: Regulator) -> Sequence[str]:
    """A linear one turns all volts that are too many into heat, whatever its sheet says."""
    return ("efficiency",) if regulator.kind == "linear" else ()


def _unused(build: Build) -> tuple[str, ...]:
    """Fields of a source that mean nothing on any that is there."""
    found: tuple[str, ...] = ()
    if all(s.charger == "no" for s in build.supply.sources):
        found += ("charge_v",)
    if all(not s.solar_w.text for s in build.supply.sources):
        found += ("sun_for", "used_for")
    return found


def _before(build: Build, regulator: Regulator) -> list[Source | Regulator]:
    """What a regulator may be fed from: the sources, and regulators that do not hang on it themselves."""
    free = [r for r in build.supply.regulators if regulator not in build.supply.chain(r.id)]
    return [*build.supply.sources, *free]


def _servo_sections(done: ServoAssessment, d: Describer) -> list[Section]:
    made = Section(title="This servo", help="", fields=[], path=done.drive.path)
    return [with_links(made, rail_link(d.build, done.drive, d)), *_sections(d)]


_DRIVEN = StationSheet(
    sections=lambda asked: _sections(asked.describer),
    figures=lambda asked: _driven_figures(asked.all, asked.done),
    picture=lambda asked: _driven_picture(asked.all, asked.done),
)
SHEETS = {
    "motor": _DRIVEN,
    "load": _DRIVEN,
    "servo": StationSheet(
        sections=lambda asked: _servo_sections(asked.done, asked.describer),
        figures=lambda asked: shown("on the rails", (*_regulator_figures(asked.all),)),
        picture=lambda asked: _servo_picture(asked.all, asked.done),
        hint=servo_hint,
    ),
}
