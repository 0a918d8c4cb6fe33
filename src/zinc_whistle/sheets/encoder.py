"""Encoder: the disc, two of its periods as A and B, and the rates on one scale."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..core.assess import MotorAssessment
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


def encoder(done: MotorAssessment) -> EncoderPicture:
    """The disc, two of its periods as A and B, and the rates on one scale."""
    spec, result = done.drive.encoder, done.encoder
    teeth = None if spec.teeth.value is None else int(spec.teeth.value)
    degrees: list[float] = []
    a: list[int] = []
    b: list[int] = []
    edges: list[float] = []
    if teeth:
        pitch = 360.0 / teeth
        degrees = [float(f"{x:.6g}") for x in np.linspace(0, 2 * pitch, 161)]
        a = [int((x / pitch) % 1.0 < 0.5) for x in degrees]
        b = [int((x / pitch - 0.25) % 1.0 < 0.5) for x in degrees]
        wanted = {"4": (0.0, 0.25, 0.5, 0.75), "2": (0.0, 0.5), "1": (0.0,)}[spec.decoding]
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
    )


def _figures_of(done: MotorAssessment) -> Shown:
    r = done.encoder
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
        ),
    )


SHEETS = {
    "motor": StationSheet(
        sections=lambda asked: [asked.describer.section(asked.done.drive.encoder, "Encoder")],
        figures=lambda asked: _figures_of(asked.done),
        picture=lambda asked: encoder(asked.done),
        hint=lambda asked: no_program(asked.done.drive, "counts"),
    )
}
