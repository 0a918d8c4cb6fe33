"""What the Signals sheet shows: timers, window of frequencies, strips, the panel."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from ..core.model.signals import ToldBy
from ..core.panel.machine import Action


@dataclass(frozen=True, slots=True, kw_only=True)
class TimerView:
    """One timer setting, beside the others."""

    timer: str
    prescaler: int
    top: int
    frequency: str
    error: str
    steps: int
    pins: str
    chosen: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class TruthRow:
    """One row of the truth table."""

    inputs: list[str]
    output_1: str
    output_2: str
    motor: str
    lamps: str
    """Which of the board's lamps burn."""


@dataclass(frozen=True, slots=True, kw_only=True)
class ScenarioView:
    """A run that this drive can make."""

    value: str
    label: str


@dataclass(frozen=True, slots=True, kw_only=True)
class PulsePin:
    """A pin that can carry pulses: its timer, what this drive would get on it, and who has it."""

    pin: str
    timer: str
    setting: str
    error: str
    steps: str
    taken_by: str


@dataclass(frozen=True, slots=True, kw_only=True)
class BoundView:
    """One limit of the frequency, on a scale in Hz."""

    name: str
    side: Literal["low", "high"]
    hz: float | None
    text: str
    beyond: str
    soft: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class WindowView:
    """The window of frequencies: its bounds, the present frequency, and what it says."""

    low_hz: float
    high_hz: float
    present_hz: float | None
    bounds: list[BoundView]
    verdict: str


@dataclass(frozen=True, slots=True, kw_only=True)
class SegmentView:
    """A piece of a strip: its length in the strip's own unit, every line's level, and what happens."""

    length: float
    levels: dict[str, str]
    says: str
    text: str


@dataclass(frozen=True, slots=True, kw_only=True)
class StripView:
    """A strip of lines, to be stepped through."""

    title: str
    lines: list[str]
    segments: list[SegmentView]


@dataclass(frozen=True, slots=True, kw_only=True)
class ModeView:
    """A mode of the panel's machine."""

    name: str
    title: str
    says: str
    action: Action
    from_everywhere: bool
    """Whether every other mode leads there: a stop, which words say better than lines."""


@dataclass(frozen=True, slots=True, kw_only=True)
class EdgeView:
    """A way from one mode to another, and why."""

    start: str
    end: str
    says: str


@dataclass(frozen=True, slots=True, kw_only=True)
class PressView:
    """A step of a counter-example."""

    says: str
    mode: str


@dataclass(frozen=True, slots=True, kw_only=True)
class VerdictView:
    """What must never happen, and the presses that make it happen (none: it cannot)."""

    says: str
    holds: bool
    steps: list[PressView]


@dataclass(frozen=True, slots=True, kw_only=True)
class PanelInputView:
    """An input to press: a button is held, a switch stays."""

    name: str
    label: str
    control: Literal["button", "switch"]


@dataclass(frozen=True, slots=True, kw_only=True)
class PanelView:
    """The panel's machine, drawn and checked."""

    modes: list[ModeView]
    edges: list[EdgeView]
    verdicts: list[VerdictView]
    inputs: list[PanelInputView]
    knob: bool
    states: int
    combinations: int
    refusal: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ScaleView:
    """The working duty in one scale."""

    name: str
    text: str


@dataclass(frozen=True, slots=True, kw_only=True)
class TimerCircuitView:
    """A timer circuit: the values at its parts, and its output with the knob down, at work and up (shares, µs)."""

    pot: str
    end_resistor: str
    capacitor: str
    diode: str
    supply: str
    level: str
    frequency: str
    frequency_range: str
    duty_range: str
    period_us: float | None
    duties: list[float]
    duty_names: list[str]


@dataclass(frozen=True, slots=True, kw_only=True)
class SequenceStepView:
    """A step: who, what, and until when."""

    who: str
    does: str
    until: str


@dataclass(frozen=True, slots=True, kw_only=True)
class SequenceView:
    """A sequence as it is drawn: who takes part, its steps, its interlocks, and its check."""

    id: str
    name: str
    refusal: str
    actors: list[str]
    steps: list[SequenceStepView]
    interlocks: list[str]
    verdicts: list[VerdictView]
    states: int
    left_out: list[str]


@dataclass(frozen=True, slots=True, kw_only=True)
class HandsetWireView:
    """A wire: from, to, and what stands in it."""

    start: str
    end: str
    by: str


@dataclass(frozen=True, slots=True, kw_only=True)
class HandsetView:
    """A handset: its controller's id and name, and its wires."""

    id: str
    name: str
    controller: str
    of: str
    wires: list[HandsetWireView]


@dataclass(frozen=True, slots=True, kw_only=True)
class RadioView:
    """The handsets that a controller hears, and the wires of the module at its end."""

    handsets: list[HandsetView]
    board: list[HandsetWireView]


@dataclass(frozen=True, slots=True, kw_only=True)
class SignalsPicture:
    """PWM strip (µs, level, V, A), ramp (s, %, A), timers and pins, window, strips, truth table, panel."""

    time_us: list[float]
    level: list[int]
    motor_v: list[float]
    current_a: list[float]
    ramp_time_s: list[float]
    ramp_duty_pct: list[float]
    ramp_current_a: list[float]
    current_limit_a: float | None
    timers: list[TimerView]
    truth_names: list[str]
    truth: list[TruthRow]
    scenarios: list[ScenarioView]
    faults: list[ScenarioView]
    window: WindowView
    pulse_pins: list[PulsePin]
    conflict: list[str]
    software: str
    scales: list[ScaleView]
    strips: list[StripView]
    panel: PanelView
    sequences: list[SequenceView]
    radio: RadioView | None = None
    controller: str = ""
    told_by: ToldBy = "pulses"
    timer: TimerCircuitView | None = None
    kind: Literal["signals"] = "signals"
