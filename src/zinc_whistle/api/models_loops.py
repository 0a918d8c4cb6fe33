"""What is asked and answered of encoders and loops."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, Field

from ..core.model.build import Build
from ..core.simulation.moves.happening import Kind
from ..core.simulation.moves.setpoint import Course
from .models import ChangeView, Said, Strict


class AskDisc(Strict):
    """The build and the drive whose disc is printed; ``film``: what shall be dark is filled."""

    build: Build
    drive: str = Field(max_length=40)
    film: bool = False


class EncoderCapture(BaseModel):
    """Channels of a capture: its signals and which were taken (a ``b`` of −2: one sensor alone), what it says, figures,
    phases (°; of one alone how long it is high) in their order, and count and counts a second over time (s)."""

    signals: list[str]
    a: int
    b: int
    index: int
    says: list[str]
    figures: list[Said]
    phases: list[float]
    time_s: list[float]
    position: list[float]
    per_s: list[float]
    single: bool


class AskLoop(Strict):
    """The build and the drive whose loop is looked at."""

    build: Build
    drive: str = Field(max_length=40)


class AskMoves(AskLoop):
    """A move of the output by an angle (°), looked at for a time (s): its course, the computing delay (ms), what
    happens on the way (``amount``: N·m more at the output, or rpm of a hand there), and the current that the driver
    holds (A)."""

    degrees: float = Field(allow_inf_nan=False)
    seconds: float = Field(3.0, allow_inf_nan=False)
    course: Course = "step"
    delay_ms: float = Field(0.0, ge=0)
    happens: Kind | None = None
    at_s: float = Field(0.0, ge=0)
    for_s: float = Field(0.5, ge=0)
    amount: float = Field(0.0, ge=-1e6, le=1e6)
    limit_a: float | None = Field(None, gt=0, le=1e6)


class AskHoming(AskLoop):
    """Homing from so far away (° of the output)."""

    degrees: float


class HomingView(BaseModel):
    """Homing: speed at the switch (counts/s), how far it runs past the switch and by how much the zero that is set
    differs from time to time (counts, and ° of the output), how late it is at most (counts), A, s; what it means."""

    speed: float
    overrun: float
    overrun_deg: float
    late: float
    spread: float
    spread_deg: float
    peak_a: float
    time_s: float
    says: list[str]


class AskTrace(AskLoop):
    """A record of the loop as text: what the board reported over its port, or a table."""

    text: str = Field(max_length=3_500_000)


class GainsView(BaseModel):
    """Gains, by which rule they come, the changes that take them, and what would be typed at the port to try them."""

    rule: str
    gain_pct_per_rpm: float
    integral_ms: float | None
    changes: list[ChangeView]
    types: str


class TraceView(BaseModel):
    """A record of the loop: times (s), duty (%), speed (rpm) as recorded, as the design foretells it for that duty and
    as fitted; sentences and gains."""

    source: str
    time_s: list[float]
    duty_pct: list[float]
    speed_rpm: list[float]
    foretold_rpm: list[float]
    fitted_rpm: list[float]
    says: list[str]
    gains: list[GainsView]


class AskOuter(AskLoop):
    """An outer loop: what hangs on the drive (balancing: m and °; following: its unit a rpm of the output, s), the
    sensor's table and step, gains of one's own (duty in % a degree or a unit; for its change and its sum a second), and
    whether the breakaway duty is added."""

    kind: Literal["balancing", "following"]
    seconds: float = 6.0
    height_m: float = 0.3
    tilt_deg: float = Field(2.0, ge=-90, le=90)
    unit_per_rpm: float = 1.0
    lag_s: float = Field(0.0, ge=0)
    delay_s: float = Field(0.0, ge=0)
    target: float = 1.0
    table: str = Field("", max_length=1000)
    step: float = Field(0.0, ge=0)
    gain_pct: float | None = None
    change_pct: float | None = None
    adds_pct: float | None = None
    compensated: bool = True


class OuterView(BaseModel):
    """What came of it: times (s), what is felt (° or its unit), the motor's speed (rpm), duty (%), the gains (% of duty
    a degree or a unit, for its change a second, its sum over a second, and a rpm of the motor), and sentences."""

    time_s: list[float]
    felt: list[float]
    speed_rpm: list[float]
    duty_pct: list[float]
    gain_pct: float
    change_pct: float
    adds_pct: float
    by_speed_pct: float
    offset_pct: float
    peak_a: float
    says: list[str]


class MoveView(BaseModel):
    """A move by one law: course (counts, % duty and A at the common times) and its figures (counts, ° of the output, s,
    A, J)."""

    label: str
    place: list[float]
    duty_pct: list[float]
    current_a: list[float]
    overshoot: float
    overshoot_deg: float
    rest_error: float
    pushed: float
    lag: float | None
    settled_s: float | None
    hunting: float
    peak_a: float
    energy_j: float


class MovesView(BaseModel):
    """A move by every law over common times (s); target and window in counts, and how long the setpoint takes (s)."""

    target: int
    window: int
    setpoint_s: float
    time_s: list[float]
    rows: list[MoveView]
    said: list[str]


class GainMapView(BaseModel):
    """Overshoot (share) and settling (s) by rows of integral time (ms) and columns of gain (%/rpm); nothing where it
    does not come there within the seconds looked at."""

    gain_pct_per_rpm: list[float]
    integral_ms: list[float]
    overshoot: list[list[float | None]]
    settling_s: list[list[float | None]]
    seconds: float
