"""What would have to change for a refused check to hold: the reverse of the comparison."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from ..algebra.along import nearest_that_holds
from ..algebra.findings import Finding
from ..algebra.limits import Limit
from ..algebra.nodes import Node, number
from ..algebra.quantities import notation, phrase
from ..cases.operating import DriveContext
from ..cases.timer_plan import free_timers, settings
from ..cases.timers import timetable
from ..model.signals import SignalsSpec
from ..stations.driver.candidates import Candidate, limits

ROOM = 1.001
"""A little beyond the limit, so that rounding a text does not fall back over it."""
FAR = 1e4
"""So many times the present figure is looked at; beyond it a change is no advice."""
NOTHING = 1e-9
"""Where a search downward ends, and where one from an empty field begins (SI)."""


@dataclass(frozen=True, slots=True)
class NeededChange:
    """One change: in words, and the text to put at ``path`` (of the build, or of the part after ``part.``)."""

    sentence: str
    path: str
    text: str


@dataclass(frozen=True, slots=True)
class _Asked:
    """A refused check of a candidate, with the limit that it is the finding of (None: a claim)."""

    at: DriveContext
    candidate: Candidate
    finding: Finding
    limit: Limit | None

    def least(self, node: Node, end: float = math.inf) -> float | None:
        """The least value above the present one at which the limit holds, a little room added."""
        present = max(number(node) if node.value is not None else NOTHING, NOTHING)
        # Nothing was given: any size may be asked for.
        far = FAR * present if node.value else 1.0
        found = self._nearest(node, present, min(end, far))
        return None if found is None or found * ROOM > end else found * ROOM

    def most(self, node: Node, end: float = NOTHING) -> float | None:
        """The largest value below the present one at which the limit holds, a little room taken off."""
        if not node.value:
            return None
        found = self._nearest(node, float(node.value), max(end, NOTHING))
        return None if found is None or found / ROOM < end else found / ROOM

    def _nearest(self, node: Node, present: float, end: float) -> float | None:
        if self.limit is None or not end > 0 or not math.isfinite(end):
            return None
        return nearest_that_holds(self.limit, node, present, end)


def change_for(at: DriveContext, candidate: Candidate, finding: Finding) -> NeededChange | None:
    """What would make a failed check hold; None where nothing the app knows would."""
    return changes_for(at, candidate, [finding])[0]


def changes_for(at: DriveContext, candidate: Candidate, findings: Sequence[Finding]) -> list[NeededChange | None]:
    """What would make each of some failed checks of a candidate hold, by the limits as they are declared."""
    if not findings:
        return []
    declared = {x.code: x for x in limits(at, candidate) if isinstance(x, Limit)}
    return [
        made(_Asked(at, candidate, f, declared.get(f.code)))
        if f.severity == "stop" and (made := _CHANGES.get(f.code)) is not None
        else None
        for f in findings
    ]


def _value(node: object) -> float:
    return float(getattr(node, "value", None) or 0.0)


def _told(value: float | None, kind: str, unit: str, path: str, sentence: str) -> NeededChange | None:
    """A value that was found, put into a sentence at ``{}`` and into a text for its path; None where none was."""
    if value is None:
        return None
    return NeededChange(sentence.format(phrase(value, kind)), path, notation(value, kind, unit))


def _part(field: str, kind: str, unit: str, words: str) -> Callable[[_Asked], NeededChange | None]:
    """The part's own figure would have to be larger."""

    def made(asked: _Asked) -> NeededChange | None:
        rated = asked.least(getattr(asked.candidate.part, field).leaf)
        if rated is None:
            return None
        below = phrase(_value(asked.finding.limit), kind, unit)
        return NeededChange(
            f"Would hold below {below}, or with {words} {phrase(rated, kind, unit)}",
            f"part.{field}",
            notation(rated, kind, unit),
        )

    return made


def _lower_full(asked: _Asked) -> NeededChange | None:
    # Where flat is too much already, no full supply can lie below it.
    full = asked.most(asked.at.volts.full, _value(asked.at.volts.flat))
    path = f"{asked.at.source.path}.full_v"
    return _told(full, "voltage", "V", path, "Would hold with a supply below {} when full")


def _higher_flat(asked: _Asked) -> NeededChange | None:
    # A flat supply above the full one would be none: then even a full one is too little.
    flat = asked.least(asked.at.volts.flat, _value(asked.at.volts.full))
    path = f"{asked.at.source.path}.flat_v"
    return _told(flat, "voltage", "V", path, "Would hold with a supply above {} when flat")


def _after_braking(asked: _Asked) -> NeededChange | None:
    if _value(asked.finding.limit) <= _value(asked.at.volts.full):
        return _lower_full(asked)
    bulk = asked.at.unit.bulk_capacitance
    path = f"{asked.at.unit.path}.bulk_capacitance"
    return _told(asked.least(bulk.leaf), "capacitance", "µF", path, "Would hold with a bulk capacitor of {}")


def _heat(asked: _Asked) -> NeededChange | None:
    """The thermal path that would shed the heat at the limit, the neighbours' heat counted."""
    now = asked.candidate.part.thermal_resistance.leaf
    present = phrase(_value(now), "thermal resistance")
    sentence = "Would hold with {} from junction to air (now " + present + "): a heat sink"
    return _told(asked.most(now), "thermal resistance", "K/W", "part.thermal_resistance", sentence)


def _frequency(asked: _Asked) -> NeededChange | None:
    at, limit = asked.at, _value(asked.finding.limit)
    if at.drive.signals.told_by != "pulses":
        return None
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


def _logic(asked: _Asked) -> NeededChange | None:
    pins = asked.at.controller
    volts = asked.least(pins.output_high.leaf)
    return _told(volts, "voltage", "V", f"{pins.path}.output_high", "Would hold with outputs above {}")


def _pin(asked: _Asked) -> NeededChange | None:
    pins = asked.at.controller
    current = asked.least(pins.pin_current.leaf)
    return _told(current, "current", "mA", f"{pins.path}.pin_current", "Would hold from pins that give {}")


def _choice(field: str, text: str, words: str) -> Callable[[_Asked], NeededChange]:
    def made(asked: _Asked) -> NeededChange:
        owner = asked.at.unit.path if field in ("flyback", "inverters") else asked.at.drive.signals.path
        return NeededChange(words, f"{owner}.{field}", text)

    return made


def _told_otherwise(asked: _Asked) -> NeededChange | None:
    """What must tell the driver, where the app knows of something that could."""
    remedy = asked.finding.remedy
    if remedy is None:
        return None
    label = SignalsSpec.meta("told_by").choose
    words = label.options[remedy.text] if label is not None else remedy.text
    return NeededChange(f"Would do if it is told by {words[:1].lower()}{words[1:]}", remedy.path, remedy.text)


_CHANGES: dict[str, Callable[[_Asked], NeededChange | None]] = {
    "driver.volts_high": _lower_full,
    "driver.guard": _lower_full,
    "driver.told": _told_otherwise,
    "driver.volts_low": _higher_flat,
    "driver.volts_absolute": _after_braking,
    "driver.stall": _part("continuous_a", "current", "A", "a continuous rating of"),
    "driver.continuous": _part("continuous_a", "current", "A", "a continuous rating of"),
    "driver.peak": _part("peak_a", "current", "A", "a peak rating of"),
    "driver.heat": _heat,
    "driver.pwm": _frequency,
    "driver.logic": _logic,
    "driver.pin": _pin,
    "driver.speed": _higher_flat,
    "driver.reverses": _choice("reversal", "one way", "Would do for one direction"),
    "driver.brakes": _choice("braking", "coast", "Would do if the motor coasts"),
    "driver.active_low": _choice("inverters", "yes", "Would do with a transistor in each line that acts when low"),
    "driver.diodes": _choice("flyback", "rails", "Would do with flyback diodes of your own, to the rails"),
}
