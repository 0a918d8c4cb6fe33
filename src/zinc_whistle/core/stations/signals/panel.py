"""The panel of one drive as designed: its machine, checked in every state, and its driver's lines."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from ...cases.operating import DriveContext
from ...cases.truth import truth_table
from ...model.panel import PanelSpec
from ...panel.check import Checked, check
from ...panel.lines import Lines, lines_of
from ...panel.machine import Around, Machine, assemble
from ...panel.settings import Settings
from ...panel.strips import StripSegment, changeover


@dataclass(frozen=True, slots=True)
class PanelResult:
    """The machine that the choices make (None with the reason where they make none), checked."""

    machine: Machine | None
    checked: Checked | None
    refusal: str
    around: Around


def around_of(at: DriveContext) -> Around:
    """Whether the drive reverses and how, and what its driver does at rest."""
    signals, part = at.drive.signals, at.part
    both = signals.reversal != "one way" and (part is None or part.reverses == "yes")
    brakes = signals.braking == "brake" and (part is None or part.brakes == "yes")
    locked = any(x.drive == at.drive.id for x in at.build.interlocks)
    remote = any(b.drive == at.drive.id for h in at.build.handsets for b in h.buttons)
    return Around(both, signals.reversal == "slammed", "brake" if brakes else "off", locked, remote)


def lines_for(at: DriveContext) -> Lines | None:
    """The driver's lines; None without a driver."""
    return _lines(*told(at)) if at.part is not None else None


Telling = tuple[str, str, bool]
"""How a driver is told: its input style, its decay, and whether by pulses."""


def told(at: DriveContext) -> Telling:
    """How the driver of a drive is told; without a driver an empty style."""
    signals = at.drive.signals
    return (at.part.input_style if at.part is not None else "", signals.decay, signals.pulsed)


@lru_cache(maxsize=64)
def _lines(style: str, decay: str, pulsed: bool = True) -> Lines:
    return lines_of(truth_table(style, decay, pulsed))


def compute(at: DriveContext) -> PanelResult:
    """The machine and its exhaustive check."""
    around = around_of(at)
    if not at.drive.signals.by_program:
        return PanelResult(None, None, NO_PROGRAM, around)
    return _made(at.drive.panel.model_dump_json(exclude=_NUMBERS), around, told(at))


@lru_cache(maxsize=64)
def turning(machine: Machine, how: Telling, settings: Settings) -> tuple[StripSegment, ...]:
    """A whole change of direction on a driver's lines; kept, since it is played tick by tick."""
    return tuple(changeover(machine, _lines(*how), settings))


NO_PROGRAM = "No program reads a panel here: what is pressed is in the motor's own current, or turned at the knob."


_NUMBERS = {
    *("watch_time", "link_time", "pause", "debounce", "trip_a", "trip_time", "home_duty", "end_front", "end_back"),
    *("approach", "slow_within", "most_duty"),
    "lamps",
}
"""What no state of the machine hangs on."""


@lru_cache(maxsize=256)
def _made(choices: str, around: Around, how: Telling) -> PanelResult:
    # A check of the largest panel takes half a second, and its choices change seldom.
    spec = PanelSpec.model_validate_json(choices)
    if spec.speed_by == "knob" and not how[2]:
        return PanelResult(None, None, "A knob sets a speed, and on or off has none: let the speed be fixed.", around)
    try:
        machine = assemble(spec, around)
    except ValueError as error:
        return PanelResult(None, None, str(error), around)
    return PanelResult(machine, check(machine, spec, _lines(*how) if how[0] else None), "", around)
