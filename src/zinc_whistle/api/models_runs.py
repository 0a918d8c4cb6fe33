"""What is asked and answered of runs, panels and programs."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, Field

from ..core.model.build import Build
from ..core.simulation.faults import Fault
from ..core.simulation.scenario import Scenario
from .models import Said, Strict


class AskRun(Strict):
    """Which scenario of a drive to simulate; ``averaged`` leaves the single PWM pulses out, ``duty_pct`` stands for the
    working duty."""

    build: Build
    drive: str = Field(max_length=40)
    scenario: Scenario
    averaged: bool = True
    fault: Fault = "none"
    duty_pct: float | None = Field(None, ge=2, le=100)


class AskZoom(AskRun):
    """Single cycles of a run at a time (s)."""

    at_s: float = Field(ge=0, le=100)


class AskRunFile(AskRun):
    """A run as a file."""

    kind: Literal["csv", "vcd"] = "csv"


class RunView(BaseModel):
    """A run in bins that hide no peak (s, A, rpm, V), what would be measured on it, its events, and what was
    assumed."""

    time_s: list[float]
    current_low_a: list[float]
    current_high_a: list[float]
    speed_rpm: list[float]
    bus_low_v: list[float]
    bus_high_v: list[float]
    measured: list[Said]
    events: list[str]
    notes: list[str]
    duty_pct: float


class ZoomView(BaseModel):
    """A few PWM cycles (µs, A, V): what the bridge does at each time, the speed, the ripple."""

    time_us: list[float]
    current_a: list[float]
    bus_v: list[float]
    path: list[str]
    speed: str
    ripple: str


class PanelMemory(Strict):
    """What a trial of a panel remembers from call to call."""

    ms: int = Field(0, ge=0, le=10**9)
    mode: str = Field("", max_length=40)
    homed: bool = False
    level_fine: int = Field(0, ge=0, le=2**31)
    rest_ms: int = Field(0, ge=0, le=10**6)
    quiet_ms: int = Field(0, ge=0, le=10**6)
    settled_ms: int = Field(0, ge=0, le=10**6)
    quiet_counts_ms: int = Field(0, ge=0, le=10**9)
    over: int = Field(0, ge=0, le=2**31)
    peak: int = Field(0, ge=0, le=1023)
    peak_before: int = Field(0, ge=0, le=1023)
    peak_ms: int = Field(0, ge=0, le=10**6)
    last_count: int = Field(0, ge=-(2**53), le=2**53)
    count: int = Field(0, ge=-(2**53), le=2**53)
    loop_ms: int = Field(0, ge=0, le=10**6)
    rpm: int = Field(0, ge=-(10**6), le=10**6)
    integral: int = Field(0, ge=-(2**31), lt=2**31)
    bound: int = Field(0, ge=-1, le=1)
    coils: dict[str, Literal["0", "1"]] = Field(default_factory=dict, max_length=4)
    steady: dict[str, bool] = Field(default_factory=dict, max_length=20)
    since: dict[str, int] = Field(default_factory=dict, max_length=20)
    motor: list[float] = Field(default_factory=list, max_length=5)


class Press(Strict):
    """Inputs of a drive's panel held for some time; ``memory`` is what the call before gave (none: power-up)."""

    build: Build
    drive: str = Field(max_length=40)
    memory: PanelMemory | None = None
    pressed: list[str] = Field(default_factory=list, max_length=20)
    knob: int = Field(0, ge=0, le=1023)
    ms: int = Field(200, ge=1, le=3000)
    prove: bool = False


class LampLit(BaseModel):
    """A lamp of the panel, and whether it burns or blinks now."""

    name: str
    lit: bool
    blinks: bool


class Pressed(BaseModel):
    """What the panel and the motor did in that time (s, %, rpm, A), and what to send with the next call."""

    memory: PanelMemory
    mode: str
    says: str
    action: str
    lines: dict[str, str]
    time_s: list[float]
    level_pct: list[float]
    speed_rpm: list[float]
    current_a: list[float]
    entered: list[Said]
    lamps: list[LampLit]
    proved: list[Said]
    """What stands on the inputs, while it proves."""
    note: str


class AskCourse(Strict):
    """A sequence of a build to be played."""

    build: Build
    sequence: str = Field(max_length=40)


class AskProgram(Strict):
    """The program of a controller; ``edited`` is one that the builder changed."""

    build: Build
    controller: str = Field(max_length=40)
    edited: str = Field("", max_length=200_000)


class ProgramView(BaseModel):
    """The source and its file's name, or what is missing; what was taken over, and what to look at."""

    language: str
    file: str
    source: str
    missing: list[str]
    warnings: list[str]
    kept: list[str]
