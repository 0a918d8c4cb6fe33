"""What is asked and answered of captures and of what is fitted to them."""

from __future__ import annotations

from pydantic import BaseModel

from .models import ChangeView


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
