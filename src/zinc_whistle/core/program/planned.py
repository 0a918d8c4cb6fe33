"""What a program holds, made ready: every drive and servo of a controller as whole numbers."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from ..model.panel import PanelSpec
from ..model.signals import Controller, Pin
from ..panel.lamps import LampRule
from ..panel.lines import Lines
from ..panel.machine import Machine
from ..panel.receiver import Remote
from ..panel.script import Guard, Script
from ..panel.settings import Settings


@dataclass(frozen=True, slots=True)
class PinTiming:
    """A timer's setting: which, its prescaler, its top, which way it counts, and its frequency in Hz."""

    timer: str
    bits: int
    free_top: bool
    prescaler: int
    top: int
    centre: bool
    frequency_hz: float
    timer_number: str = ""
    """What the target calls the timer."""


@dataclass(frozen=True, slots=True)
class Counting:
    """An encoder: its pins and the count of each change (before << 2 | now). One sensor alone has no ``b``: it counts
    along the way that is driven."""

    a: Pin
    b: Pin | None
    table: tuple[int, ...]

    @property
    def pins(self) -> tuple[Pin, ...]:
        return (self.a,) if self.b is None else (self.a, self.b)


@dataclass(frozen=True, slots=True)
class PanelContact:
    """A button or switch: the machine's input, its pin, and how it reads when it counts as pressed."""

    input: str
    pin: Pin
    low: bool
    pull_up: bool


@dataclass(frozen=True, slots=True)
class DriveProgram:
    """One drive with a panel. ``reasons`` tell where each number comes from, by the name of the setting."""

    id: str
    number: int
    name: str
    slug: str
    panel: PanelSpec
    machine: Machine
    lines: Lines
    settings: Settings
    timing: PinTiming
    pins: Mapping[str, Pin]
    dead_steps: int
    contacts: tuple[PanelContact, ...]
    counting: Counting | None
    lamps: tuple[LampRule, ...] = ()
    reasons: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class ServoProgram:
    """One servo: its pin and its pulses in µs."""

    id: str
    number: int
    name: str
    slug: str
    pin: Pin
    timing: PinTiming
    low_us: float
    high_us: float
    poses: tuple[tuple[str, int], ...] = ()
    """Names and places, of 1000."""
    knob: Pin | None = None
    """The pin of the knob that it follows."""
    turn: int | None = None
    """Its place among those whose pulses one timer makes in turn; None where a compare output makes them."""


@dataclass(frozen=True, slots=True)
class ProgramPlan:
    """All of one controller."""

    build: str
    controller: Controller
    clock_hz: float
    drives: tuple[DriveProgram, ...]
    servos: tuple[ServoProgram, ...]
    tick_ms: int = 1
    scripts: tuple[Script, ...] = ()
    plays: tuple[PanelContact | None, ...] = ()
    """The button of each sequence, if it has one."""
    guards: tuple[Guard, ...] = ()
    steering: tuple[int, int, bool] | None = None
    """The numbers of the left and the right drive, and whether the right motor sits the other way round."""
    remote: Remote | None = None
    """The handsets that it hears."""
    identity: Pin | None = None
    """The pin that tells which of two the program runs in: open in the first, at ground in the second."""
    second: bool = False
    """Whether it is told for the second of two; the program is the first's."""

    @property
    def count(self) -> int:
        """Drives and servos; each has its number in the protocol, in the second of two counted on from the first's."""
        return len(self.drives) + len(self.servos)

    @property
    def numbers(self) -> dict[str, int]:
        """The number of each drive and servo by its id."""
        return {d.id: d.number for d in self.drives} | {s.id: s.number for s in self.servos}

    @property
    def nodes(self) -> int:
        """How many controllers run this program on one line."""
        return 1 if self.identity is None else 2

    @property
    def shift(self) -> int:
        """What the second of two adds to the numbers of its drives."""
        return self.count if self.second else 0

    @property
    def link_ms(self) -> int:
        """Silence of the port after which what it commanded stops, in ticks."""
        return max((d.settings.link_ms for d in self.drives), default=500 // self.tick_ms)


class NotYet(ValueError):
    """The program cannot be written: a sentence for each thing that is missing."""

    def __init__(self, missing: list[str]) -> None:
        super().__init__(" ".join(missing))
        self.missing = missing
