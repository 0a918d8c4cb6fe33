"""Encoder: the disc, two of its periods as A and B, and the rates on one scale."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal

import numpy as np

from ..core.algebra.nodes import Figure
from ..core.algebra.quantities import phrase
from ..core.assess import MotorAssessment
from ..core.cases.encoder import EncoderResult
from ..core.cases.encoder_sensors import DiscResult
from ..core.laws.disc import four_states
from ..core.model.encoder import HandRun
from .fields import Describer, Section
from .inputs import Shown, StationSheet, no_program, shown
from .views import text_of


@dataclass(frozen=True, slots=True, kw_only=True)
class RateView:
    """A count rate or a limit on one scale."""

    label: str
    per_second: float
    text: str
    role: Literal["rate", "limit", "other"]


@dataclass(frozen=True, slots=True, kw_only=True)
class DiscStateView:
    """One of the four states of a pitch: what A and B are, how long it lasts (°, of 360 a pitch), and its edge's
    error."""

    a: int
    b: int
    lasts: str
    error: str


@dataclass(frozen=True, slots=True, kw_only=True)
class CommandView:
    """A speed of the output, the counts of a control period that it is, and what a whole number makes of it."""

    speed: str
    exact: str
    sent: str
    error: str


@dataclass(frozen=True, slots=True, kw_only=True)
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
    tooth: float
    """Share of the pitch."""
    shift: float
    """Of the sensors, in pitches."""
    states: list[DiscStateView]
    commands: list[CommandView]
    prints: bool
    tacho: bool = False
    kind: Literal["encoder"] = "encoder"


def encoder(done: MotorAssessment) -> EncoderPicture:
    """The disc, two of its periods as A and B, and the rates on one scale."""
    spec, result = done.drive.encoder, done.encoder
    teeth = None if spec.teeth.value is None else int(spec.teeth.value)
    tooth, shift = _shape(result.disc)
    degrees: list[float] = []
    a: list[int] = []
    b: list[int] = []
    edges: list[float] = []
    if teeth:
        pitch = 360.0 / teeth
        degrees = [float(f"{x:.6g}") for x in np.linspace(0, 2 * pitch, 321)]
        a = [int((x / pitch) % 1.0 < tooth) for x in degrees]
        b = [int((x / pitch - shift) % 1.0 < tooth) for x in degrees]
        rise_a, fall_a, rise_b, fall_b = 0.0, tooth, shift % 1.0, (shift + tooth) % 1.0
        b = [] if spec.single else b
        wanted = {"4": (rise_a, rise_b, fall_a, fall_b), "2": (rise_a, fall_a), "1": (rise_a,)}[spec.edges]
        edges = [float(f"{(n + e) * pitch:.6g}") for n in range(2) for e in wanted]
    rates = [
        ("Working", result.rate_working, "rate"),
        ("Fastest commanded", result.rate_top, "rate"),
        ("Polling limit", result.polling_limit, "limit" if spec.method == "polling" else "other"),
        ("Interrupt limit", result.interrupt_limit, "limit" if spec.method == "interrupt" else "other"),
    ]
    shown = [
        RateView(label=label, per_second=node.value, text=text_of(node), role=role)  # type: ignore[arg-type]
        for label, node, role in rates
        if node.value is not None
    ]
    return EncoderPicture(
        teeth=teeth,
        fitted=done.drive.has_encoder,
        counts_text=text_of(result.counts_per_turn),
        strip_deg=degrees,
        strip_a=a,
        strip_b=b,
        edges_deg=edges,
        rates=shown,
        tooth=tooth,
        shift=shift,
        states=_states(result.disc),
        commands=_commands(done),
        prints=spec.optical,
        tacho=done.drive.has_tacho,
    )


def _shape(disc: DiscResult | None) -> tuple[float, float]:
    """Tooth and sensors as shares of the pitch; the ideal ones where they are not known, and of a bought encoder."""
    tooth = disc.tooth.value if disc is not None else None
    apart = disc.pair.apart.value if disc is not None and disc.pair is not None else None
    return (tooth if tooth is not None and 0 < tooth < 1 else 0.5, apart if apart is not None else 0.25)


def _states(disc: DiscResult | None) -> list[DiscStateView]:
    """The four states of a disc of one's own; nothing where they are not known or one never comes."""
    apart = disc.pair.apart.value if disc is not None and disc.pair is not None else None
    if disc is None or disc.tooth.value is None or apart is None or disc.shortest.value is None:
        return []
    found = four_states(disc.tooth.value, apart)
    seen = ((1, 0), (1, 1), (0, 1), (0, 0)) if not found.backwards else ((0, 1), (1, 1), (1, 0), (0, 0))
    return [
        DiscStateView(a=a, b=b, lasts=f"{360 * width:.0f}°", error=f"{error:+.2f}".replace("-", "−"))
        for (a, b), width, error in zip(seen, found.widths, found.errors, strict=True)
    ]


SPEEDS = (0.1, 0.25, 0.5, 1.0)
"""Of the working speed: what a loop is told at those."""


def _commands(done: MotorAssessment) -> list[CommandView]:
    """Speeds of the output as counts of a control period, and as the whole number that a command without a fraction
    would be."""
    exact, motor = done.encoder.counts_per_period.value, done.context.load.motor_speed.value
    ratio = done.drive.load.gear_ratio.value
    if exact is None or motor is None or not ratio or not done.drive.closes_loop:
        return []
    speed = motor / ratio
    rows = []
    for share in SPEEDS:
        counts = exact * share
        whole = round(counts)
        error = f"{whole / counts - 1:+.2%}".replace("-", "−").replace("%", " %") if counts > 0 else ""
        rows.append(
            CommandView(speed=phrase(speed * share, "speed"), exact=f"{counts:.2f}", sent=str(whole), error=error)
        )
    return rows


def _figures_of(done: MotorAssessment) -> Shown:
    r = done.encoder
    if r.tacho is not None:
        return "volts for speed", shown("", (r.tacho.volts, (r.tacho.step, "rpm")))[1]
    if not done.drive.has_encoder:
        return "none fitted", []
    return shown(
        "at both shafts",
        (
            (r.counts_per_turn, "counts"),
            (r.counts_per_output_turn, "counts"),
            (r.output_angle_per_count, "°"),
            r.rate_working,
            r.rate_top,
            (r.speed_followed, "rpm"),
            (r.duty_followed, "%"),
            (r.counts_per_period, "counts"),
            r.polling_limit,
            r.interrupt_limit,
            (r.angle_per_count, "°"),
            *(((r.backlash, "counts"),) if r.backlash.value is not None else ()),
            r.travel,
            r.state_time,
            (r.step_by_counting, "rpm"),
            (r.changeover, "rpm"),
            r.rise,
            *_of_disc(r),
            *(((r.by_hand, "counts"), (r.plain_mean, "counts"), (r.spread, "counts")) if r.by_hand is not None else ()),
        ),
    )


def _of_disc(r: EncoderResult) -> list[Any]:
    made: list[Any] = []
    if r.disc is not None:
        made += [
            r.disc.pitch,
            *(((r.disc.pair.phase, "°"), (r.disc.pair.error, "counts")) if r.disc.pair is not None else ()),
            (r.disc.shortest, "%"),
            (r.disc.as_cut, "%"),
        ]
    if r.levels is not None:
        thresholds = [x for x in (r.levels.low, r.levels.high) if isinstance(x, Figure)]
        made += [r.levels.lamp, r.levels.lit, r.levels.dark, *thresholds]
    return made


BASIC = ("teeth", "decoding", "method", "loop_time", "safety", "interrupt_time")
BARRIERS = (
    *("supply_v", "lamp_v", "lamp_ohm", "lit_a", "saturation", "dark_a", "stray_a", "leak"),
    *("pull_up", "line_capacitance", "reads"),
)


def _sections(done: MotorAssessment, d: Describer) -> list[Section]:
    """Only what this kind of encoder has is asked for."""
    spec = done.drive.encoder
    if spec.fitted == "no":
        return [d.section(spec, "Encoder", ("fitted",))]
    of_kind = (
        () if spec.optical else ("outputs", *(("pull_up", "line_capacitance") * (spec.outputs == "open collector")))
    )
    if spec.kind == "tacho":
        gear = ("before",) * (spec.place == "between")
        return [d.section(spec, "Tacho", ("fitted", "kind", "place", *gear, "tacho_v", "divider", "rectified"))]
    sits = ("fitted", "kind", "channels", "place", *(("before",) * (spec.place == "between")))
    made = [d.section(spec, "Encoder", (*sits, *BASIC, "interrupt_share", *of_kind, "takes"))]
    if spec.optical:
        disc = ("disc_diameter", "tooth", *(("spacing",) * (not spec.single)), "aperture", "cut")
        switches = ("switch_low", "switch_high") if spec.reads == "comparator" else ()
        barriers = "Light barrier" if spec.single else "Light barriers, both alike"
        made += [d.section(spec, "The disc", disc), d.section(spec, barriers, (*BARRIERS, *switches))]
    return [*made, d.section(spec, "Calibration", ("calibrated",)), d.table(spec, "runs", HandRun)]


SHEETS = {
    "motor": StationSheet(
        sections=lambda asked: _sections(asked.done, asked.describer),
        figures=lambda asked: _figures_of(asked.done),
        picture=lambda asked: encoder(asked.done),
        hint=lambda asked: no_program(asked.done.drive, "counts"),
    )
}
