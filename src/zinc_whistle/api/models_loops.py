"""What is asked and answered of encoders and loops."""

from __future__ import annotations

from pydantic import BaseModel, Field

from ..core.model.build import Build
from .models import Said, Strict


class AskDisc(Strict):
    """The build and the drive whose disc is printed; ``film``: what shall be dark is filled."""

    build: Build
    drive: str = Field(max_length=40)
    film: bool = False


class EncoderCapture(BaseModel):
    """Two channels of a capture: its signals and which were taken, what it says, figures, phases (°) in their order,
    and the count over time (s)."""

    signals: list[str]
    a: int
    b: int
    index: int
    says: list[str]
    figures: list[Said]
    phases: list[float]
    time_s: list[float]
    position: list[float]


class AskLoop(Strict):
    """The build and the drive whose loop is looked at."""

    build: Build
    drive: str = Field(max_length=40)


class AskMoves(AskLoop):
    """A move of the output by an angle (°), looked at for a time (s)."""

    degrees: float = Field(allow_inf_nan=False)
    seconds: float = Field(3.0, allow_inf_nan=False)


class MoveView(BaseModel):
    """A move by one law: course (s, counts, % duty) and its figures (counts, s, A, J)."""

    way: str
    label: str
    time_s: list[float]
    place: list[float]
    duty_pct: list[float]
    overshoot: float
    settled_s: float | None
    hunting: float
    peak_a: float
    energy_j: float


class MovesView(BaseModel):
    """A move by every law; target and window in counts."""

    target: int
    window: int
    rows: list[MoveView]
    said: str


class GainMapView(BaseModel):
    """Overshoot (share) and settling (s) by rows of integral time (ms) and columns of gain (%/rpm); nothing where it
    does not come there within the seconds looked at."""

    gain_pct_per_rpm: list[float]
    integral_ms: list[float]
    overshoot: list[list[float | None]]
    settling_s: list[list[float | None]]
    seconds: float
