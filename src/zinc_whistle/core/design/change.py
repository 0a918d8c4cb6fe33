"""What would have to change for a refused check to hold: the reverse of the comparison."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace

from ..algebra.findings import Finding
from ..algebra.quantities import notation, phrase
from ..cases.operating import DriveContext
from ..cases.timer_plan import free_timers, settings
from ..cases.timers import timetable
from ..laws import driver as rules
from ..stations.driver.candidates import Candidate

ROOM = 1.001
"""A little beyond the limit, so that rounding a text does not fall back over it."""


@dataclass(frozen=True, slots=True)
class NeededChange:
    """One change: in words, and the text to put at ``path`` (of the build, or of the part after ``part.``)."""

    sentence: str
    path: str
    text: str


def change_for(at: DriveContext, candidate: Candidate, finding: Finding) -> NeededChange | None:
    """What would make a failed check hold; None where nothing the app knows would."""
    made = _CHANGES.get(finding.code)
    return made(at, candidate, finding) if made is not None and finding.severity == "stop" else None


def _value(node: object) -> float:
    return float(getattr(node, "value", None) or 0.0)


def _part(field: str, kind: str, unit: str, words: str) -> Callable[[DriveContext, Candidate, Finding], NeededChange]:
    """The part's own figure would have to reach the stress."""

    def made(at: DriveContext, candidate: Candidate, finding: Finding) -> NeededChange:
        stress, limit = _value(finding.stress), _value(finding.limit)
        rated = stress * ROOM / (_value(at.drive.joined.leaf) or 1.0)
        return NeededChange(
            f"Would hold below {phrase(limit, kind, unit)}, or with {words} {phrase(rated, kind, unit)}",
            f"part.{field}",
            notation(rated, kind, unit),
        )

    return made


def _supply_high(at: DriveContext, candidate: Candidate, finding: Finding) -> NeededChange | None:
    limit = _value(candidate.part.v_max.leaf) / ROOM
    if limit < _value(at.volts.flat):
        return None  # flat is too much already: no full supply can lie below it
    return NeededChange(
        f"Would hold with a supply below {phrase(limit, 'voltage')} when full",
        f"{at.source.path}.full_v",
        notation(limit, "voltage", "V"),
    )


def _supply_low(at: DriveContext, candidate: Candidate, finding: Finding) -> NeededChange | None:
    missing = _value(finding.limit) - _value(finding.stress)
    flat = _value(at.volts.flat) + missing * ROOM
    if flat > _value(at.volts.full):
        return None
    return NeededChange(
        f"Would hold with a supply above {phrase(flat, 'voltage')} when flat",
        f"{at.source.path}.flat_v",
        notation(flat, "voltage", "V"),
    )


def _after_braking(at: DriveContext, candidate: Candidate, finding: Finding) -> NeededChange | None:
    full, limit, stress = _value(at.volts.full), _value(finding.limit), _value(finding.stress)
    if limit <= full:
        # What braking adds to the square of the volts stays the same when the supply is lowered.
        room = (limit / ROOM) ** 2 - max(stress**2 - full**2, 0.0)
        if room <= 0 or room**0.5 < _value(at.volts.flat):
            return None
        return NeededChange(
            f"Would hold with a supply below {phrase(room**0.5, 'voltage')} when full",
            f"{at.source.path}.full_v",
            notation(room**0.5, "voltage", "V"),
        )
    capacitance = 2 * _value(at.stored_energy) / (limit**2 - full**2) * ROOM
    return NeededChange(
        f"Would hold with a bulk capacitor of {phrase(capacitance, 'capacitance')}",
        f"{at.unit.path}.bulk_capacitance",
        notation(capacitance, "capacitance", "µF"),
    )


def _heat(at: DriveContext, candidate: Candidate, finding: Finding) -> NeededChange | None:
    """The thermal path that would shed the heat at the limit, the neighbours' heat counted."""
    part = candidate.part
    air, limit = _value(at.build.ambient.hot.leaf), _value(part.junction_limit.leaf)
    joined = _value(at.drive.joined.leaf) or 1.0
    hot = _value(part.on_resistance.leaf) * _value(part.hot_factor.leaf) / joined
    volts, frequency = _value(at.volts.full), _value(at.plan.frequency)
    heat = volts * _value(part.quiescent_a.leaf)
    for current in (_value(at.rms_current), *(_value(o.rms_current) for o in at.sharing)):
        lost = rules.linear_loss.bare(_value(part.drop_v.leaf), volts, _value(part.switching_time.leaf), frequency)
        heat += float(rules.heat_at_limit.bare(current, lost, hot))
    if heat <= 0 or limit <= air:
        return None
    path = (limit - air) / heat / ROOM
    return NeededChange(
        f"Would hold with {phrase(path, 'thermal resistance')} from junction to air (now "
        f"{phrase(_value(part.thermal_resistance.leaf), 'thermal resistance')}): a heat sink",
        "part.thermal_resistance",
        notation(path, "thermal resistance", "K/W"),
    )


def _frequency(at: DriveContext, candidate: Candidate, finding: Finding) -> NeededChange | None:
    limit = _value(finding.limit)
    wanted = next((w for w in _slower(at, limit) if _made(at, w) <= limit), None)
    if wanted is None:
        return None
    return NeededChange(
        f"Would hold at {phrase(limit, 'frequency')} or below",
        f"{at.drive.signals.path}.pwm_frequency",
        notation(wanted, "frequency", "Hz"),
    )


def _slower(at: DriveContext, limit_hz: float) -> list[float]:
    """Frequencies to ask for, highest first: a tenth less than the limit (timers land within a few per cent of what is
    asked), then what a timer of fixed width can make."""
    clock, centre = at.controller.clock.value or 0.0, at.drive.signals.alignment == "centre"
    made = settings(clock, limit_hz, free_timers(at.controller), centre) if clock else []
    return sorted({0.9 * limit_hz, *(s.frequency_hz for s in made if s.frequency_hz <= limit_hz)}, reverse=True)


def _made(at: DriveContext, wanted_hz: float) -> float:
    """What the controller's timers, shared with the other drives, make of a wish (Hz)."""
    if at.timetable is None or at.drive.id not in at.timetable.places:
        return wanted_hz
    wishes = [
        replace(p.wish, frequency_hz=wanted_hz) if p.wish.drive == at.drive.id else p.wish
        for p in at.timetable.places.values()
    ]
    place = timetable(at.controller, wishes).places.get(at.drive.id)
    return place.setting.frequency_hz if place is not None else math.inf


def _logic(at: DriveContext, candidate: Candidate, finding: Finding) -> NeededChange:
    limit = _value(finding.limit) * ROOM
    return NeededChange(
        f"Would hold with outputs above {phrase(limit, 'voltage')}",
        f"{at.controller.path}.output_high",
        notation(limit, "voltage", "V"),
    )


def _pin(at: DriveContext, candidate: Candidate, finding: Finding) -> NeededChange:
    stress = _value(finding.stress) * ROOM
    return NeededChange(
        f"Would hold from pins that give {phrase(stress, 'current')}",
        f"{at.controller.path}.pin_current",
        notation(stress, "current", "mA"),
    )


def _speed(at: DriveContext, candidate: Candidate, finding: Finding) -> NeededChange | None:
    motor = at.of_motor
    if motor is None:
        return None
    missing = (_value(finding.limit) - _value(finding.stress)) * _value(motor.motor.motor_constant)
    flat = _value(at.volts.flat) + missing * ROOM
    if flat > _value(at.volts.full):
        return None  # even a full one is too little
    return NeededChange(
        f"Would hold with a supply above {phrase(flat, 'voltage')} when flat",
        f"{at.source.path}.flat_v",
        notation(flat, "voltage", "V"),
    )


def _choice(field: str, text: str, words: str) -> Callable[[DriveContext, Candidate, Finding], NeededChange]:
    def made(at: DriveContext, candidate: Candidate, finding: Finding) -> NeededChange:
        owner = at.unit.path if field == "flyback" else at.drive.signals.path
        return NeededChange(words, f"{owner}.{field}", text)

    return made


_CHANGES: dict[str, Callable[[DriveContext, Candidate, Finding], NeededChange | None]] = {
    "driver.volts_high": _supply_high,
    "driver.volts_low": _supply_low,
    "driver.volts_absolute": _after_braking,
    "driver.stall": _part("continuous_a", "current", "A", "a continuous rating of"),
    "driver.continuous": _part("continuous_a", "current", "A", "a continuous rating of"),
    "driver.peak": _part("peak_a", "current", "A", "a peak rating of"),
    "driver.heat": _heat,
    "driver.pwm": _frequency,
    "driver.logic": _logic,
    "driver.pin": _pin,
    "driver.speed": _speed,
    "driver.reverses": _choice("reversal", "one way", "Would do for one direction"),
    "driver.brakes": _choice("braking", "coast", "Would do if the motor coasts"),
    "driver.diodes": _choice("flyback", "rails", "Would do with flyback diodes of your own, to the rails"),
}
