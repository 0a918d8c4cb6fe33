"""What is asked and answered of captures and of what is fitted to them."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from ..core.model.build import Build
from .models import ChangeView, Strict


class CaptureColumn(BaseModel):
    """One column of a capture: its name and unit as written, what it likely is, its first values and its shape."""

    name: str
    unit: str
    role: str
    role_unit: str
    first: list[str]
    low: float
    high: float
    shape: list[float]


class CapturePreview(BaseModel):
    """How a CSV file is written, and its columns; ``roles`` lists the units that each role may have."""

    rows: int
    delimiter: str
    decimal: str
    columns: list[CaptureColumn]
    roles: dict[str, list[str]]


class MeasuredRow(BaseModel):
    """One measure of a capture; ``kind`` is that of its quantity, empty where it is no reading."""

    name: str
    text: str
    kind: str


class WaveCaptureView(BaseModel):
    """A capture measured: its signals and which were taken (a ``b`` of −2: none), a table's columns with the one that
    is the time, units as the numbers stand in the file (empty: taken for volts), measures, what it says, and a piece
    to draw (s, V or A) with the expected wave laid over it."""

    signals: list[str]
    a: int
    b: int
    columns: list[str]
    clock: int
    clock_unit: str
    units: list[str]
    rows: list[MeasuredRow]
    says: list[str]
    time_s: list[float]
    first: list[float]
    second: list[float]
    expected: list[float]


Text = Annotated[str, Field(max_length=40)]


class ExpectedWave(Strict):
    """Pulses that a test is to show: levels (V), frequency (Hz) and duty."""

    low_v: float = Field(ge=-1e4, le=1e4)
    high_v: float = Field(ge=-1e4, le=1e4)
    frequency_hz: float = Field(gt=0, le=1e9)
    duty: float = Field(ge=0, le=1)


class AskSetting(Strict):
    """How an oscilloscope is set, as written, and what it is to show."""

    wave: ExpectedWave
    volts_per_div: Text
    time_per_div: Text
    probe: Literal["1", "10"]
    divides_by: Literal["1", "10"]
    coupling: Literal["DC", "AC"]


class SettingRemark(BaseModel):
    """A sentence on the setting; ``good``: nothing is to be changed for it."""

    good: bool
    text: str


class AskWarmUp(Strict):
    """Temperatures of a drive's motor or driver over time, as written, and the air round it then."""

    build: Build
    drive: str = Field(max_length=40)
    of: Literal["housing", "case"]
    readings: str = Field(max_length=4000)
    air: Text


class WarmUpView(BaseModel):
    """Where the rise ends, in sentences, and what the build may take over."""

    says: list[str]
    changes: list[ChangeView]


class FittedConstant(BaseModel):
    """One fitted constant as text for a field, its 95 % interval behind ±, or why it is not reported."""

    name: str
    title: str
    text: str
    doubt: str
    value: float | None
    reason: str


class SpinUpView(BaseModel):
    """A fitted spin-up: constants, how well the model follows, what a build takes over, and traces in SI units."""

    rows: int
    constants: list[FittedConstant]
    take_over: list[ChangeView]
    """What a build takes over, at paths below the motor."""
    time_constant: str
    noise: str
    follows: bool
    notes: list[str]
    trace: dict[str, list[float]]
