"""The data of each station's picture, in people's units; the screen scales and draws, and computes nothing."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

from .signal_views import SignalsPicture
from .stage_views import Loss, StagePicture
from .views import FigureView, FindingView


@dataclass(frozen=True, slots=True)
class OtherCurve:
    """The curves of a what-if, over the same torques, and its working point."""

    text: str
    speed_rpm: list[float | None]
    current_a: list[float | None]
    working_torque_mnm: float | None
    working_speed_rpm: float | None
    words: list[str]


@dataclass(frozen=True, slots=True)
class NextReadingView:
    """The guided session: what to read next, or why nothing more is needed."""

    title: str
    how: str
    setting: str
    caution: str
    where: str
    narrows: str
    done: str
    weakest: str


@dataclass(frozen=True, slots=True)
class WayView:
    """One way to a constant from the data sheet, beside the trusted one."""

    constant: str
    words: str
    value: str
    trusted: bool
    off: str
    disagrees: bool


@dataclass(frozen=True, slots=True)
class RemedyView:
    """One way to creep more slowly, and its costs."""

    name: str
    lowest: str
    top_speed: str
    torque: str
    price: str
    reaches: bool


@dataclass(frozen=True, slots=True)
class HeatView:
    """Winding and housing over time at work (°C, minutes), and a stall from there (s)."""

    minutes: list[float]
    winding_c: list[float]
    housing_c: list[float]
    limit_c: float | None
    stall_text: str


@dataclass(frozen=True, slots=True)
class MotorChoice:
    """A motor of the shelf, for the what-if and for choosing."""

    id: str
    name: str
    kind: str
    sample: bool
    text: str
    note: str


@dataclass(frozen=True, slots=True)
class MotorPicture:
    """Curves over shaft torque (mN·m): speed (rpm), current (A), power (W), efficiency (%)."""

    known: bool
    torque_mnm: list[float]
    speed_rpm: list[float]
    current_a: list[float]
    power_w: list[float]
    efficiency_pct: list[float]
    working_torque_mnm: float | None
    working_text: str
    driver_torque_mnm: float | None
    driver_text: str
    duties: list[str]
    other: OtherCurve | None
    session: NextReadingView | None
    ways: list[WayView]
    remedies: list[RemedyView]
    heat: HeatView | None
    motors: list[MotorChoice]
    kind: Literal["motor"] = "motor"


@dataclass(frozen=True, slots=True)
class MechanismView:
    """One mechanism, to be drawn to its numbers: plain numbers in SI, and the texts beside them."""

    id: str
    kind: str
    title: str
    numbers: dict[str, float]
    texts: dict[str, str]


@dataclass(frozen=True, slots=True)
class GearView:
    """One ratio, or one motor with its best ratio, held against the load."""

    name: str
    ratio: str
    does: bool
    chosen: bool
    speed: str
    torque: str
    heat: str
    current: str
    worst: float
    text: str


@dataclass(frozen=True, slots=True)
class LoadPicture:
    """The mechanisms to their numbers, and one duty cycle as a strip (s, rpm at the load, A)."""

    mechanisms: list[MechanismView]
    ratio_text: str
    speed_text: str
    strip_time_s: list[float]
    strip_speed_rpm: list[float]
    strip_current_a: list[float]
    cycle_text: str
    gears: list[GearView]
    motors: list[GearView]
    books: list[Loss]
    kind: Literal["load"] = "load"


@dataclass(frozen=True, slots=True)
class ServoPicture:
    """A servo's sweep and pulse: angles in degrees, times in ms."""

    style: str
    sweep_deg: float | None
    travel_deg: float | None
    arm_text: str
    force_text: str
    low_ms: float | None
    high_ms: float | None
    frame_ms: float | None
    move_text: str
    dwell_text: str
    texts: dict[str, str]
    kind: Literal["servo"] = "servo"


@dataclass(frozen=True, slots=True)
class DcLoadPicture:
    """Current of a solenoid, pump or lamp over its cycle (s, A)."""

    load: str
    time_s: list[float]
    current_a: list[float]
    texts: dict[str, str]
    kind: Literal["dc_load"] = "dc_load"


@dataclass(frozen=True, slots=True)
class Band:
    """A range of volts, or a single mark where both ends agree."""

    label: str
    low: float
    high: float
    text: str
    role: Literal["source", "window", "need", "moment"]


@dataclass(frozen=True, slots=True)
class SupplyPicture:
    """Volts from the source's window down to each consumer's need, with the worst moments between."""

    bands: list[Band]
    sag_time_s: list[float]
    sag_v: list[float]
    need_v: float | None
    advice: list[str]
    kind: Literal["supply"] = "supply"


@dataclass(frozen=True, slots=True)
class VerdictView:
    """What one school says of the chosen part."""

    school: str
    label: str
    followed: bool
    state: str
    text: str


@dataclass(frozen=True, slots=True)
class CandidateView:
    """One part of the comparison, with all its checks and what the motor would get."""

    id: str
    name: str
    part_kind: str
    sample: bool
    chosen: bool
    refused: bool
    price: str
    effort: str
    condition: str
    drop: str
    top_speed: str
    junction: str
    checks: list[FindingView]
    reasons: list[str]
    changes: list[str]
    note: str
    torque: str
    total: str
    extras: list[str]
    verdicts: list[VerdictView]


@dataclass(frozen=True, slots=True)
class DriverPicture:
    """All candidates, best first, refused ones last."""

    candidates: list[CandidateView]
    verdicts: list[VerdictView]
    left_out: int
    kind: Literal["driver"] = "driver"


@dataclass(frozen=True, slots=True)
class ConnectionView:
    """One wire."""

    id: str
    start_block: str
    start_pin: str
    end_block: str
    end_pin: str
    signal: str
    colour: str
    gauge: str
    length: str
    drop: str
    role: str
    made: bool


@dataclass(frozen=True, slots=True)
class PinView:
    """A signal and the controller pin that carries it."""

    signal: str
    needs: str
    pin: str
    pin_id: str
    program: str
    fixed: bool
    refusal: str
    choices: list[str] = field(default_factory=list)
    choice_labels: list[str] = field(default_factory=list)


@dataclass(frozen=True, slots=True)
class WiringPicture:
    """Blocks by key and name, the wires between them, and the pins."""

    blocks: dict[str, str]
    connections: list[ConnectionView]
    pins: list[PinView]
    drive_path: str
    kind: Literal["wiring"] = "wiring"


@dataclass(frozen=True, slots=True)
class RateView:
    """A count rate or a limit on one scale."""

    label: str
    per_second: float
    text: str
    role: Literal["rate", "limit", "other"]


@dataclass(frozen=True, slots=True)
class EncoderPicture:
    """The disc's teeth, one A/B strip in degrees of the disc, and rates against limits."""

    teeth: int | None
    fitted: bool
    counts_text: str
    strip_deg: list[float]
    strip_a: list[int]
    strip_b: list[int]
    edges_deg: list[float]
    rates: list[RateView]
    kind: Literal["encoder"] = "encoder"


@dataclass(frozen=True, slots=True)
class LoopPicture:
    """Step response: s, rpm at the motor, duty %, A; with target and the band of 2 %."""

    time_s: list[float]
    speed_rpm: list[float]
    duty_pct: list[float]
    current_a: list[float]
    target_rpm: float | None
    final_rpm: float | None
    settling_s: float | None
    note: str
    kind: Literal["loop"] = "loop"


@dataclass(frozen=True, slots=True)
class StepView:
    """One test of the sheet with its last reading."""

    id: str
    title: str
    where: str
    instrument: str
    setting: str
    expected: FigureView
    unit: str
    low: str
    high: str
    reason: str
    caution: str
    reading_id: str
    reading: str
    verdict: str
    taken_at: str
    stale: list[str]


@dataclass(frozen=True, slots=True)
class BenchPicture:
    """The test sheet."""

    steps: list[StepView]
    passed: int
    kind: Literal["bench"] = "bench"


@dataclass(frozen=True, slots=True)
class PlainPicture:
    """A station that is a list: its own page shows it."""

    kind: Literal["plain"] = "plain"


Picture = (
    MotorPicture
    | LoadPicture
    | ServoPicture
    | DcLoadPicture
    | SupplyPicture
    | DriverPicture
    | StagePicture
    | SignalsPicture
    | WiringPicture
    | EncoderPicture
    | LoopPicture
    | BenchPicture
    | PlainPicture
)
