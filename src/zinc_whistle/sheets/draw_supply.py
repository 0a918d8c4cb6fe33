"""The Supply station's picture: every window of volts on one scale, the sag at the start, shared or split."""

from __future__ import annotations

from typing import Any

from ..core.assess import Assessment, DriveAssessment, DrivenAssessment, ServoAssessment
from . import pictures as p
from .views import text_of


def supply(all: Assessment, done: DriveAssessment) -> p.SupplyPicture:
    """Bands of volts that can be compared by eye, and the start of this drive on a flat supply."""
    bands: list[p.Band] = []

    def band(label: str, low: Any, high: Any, role: Any) -> None:
        if low.value is None or high.value is None:
            return
        text = text_of(low) if low.value == high.value else f"{text_of(low)} to {text_of(high)}"
        bands.append(p.Band(label, low.value, high.value, text, role))

    source_id = done.context.source.id if isinstance(done, DrivenAssessment) else ""
    for source in all.shared.sources:
        spec = next(s for s in all.build.supply.sources if s.id == source.id)
        if len(all.shared.sources) == 1 or source.id == source_id or isinstance(done, ServoAssessment):
            band(spec.name or "Source", source.window.flat, source.window.full, "source")
    times: list[float] = []
    volts: list[float] = []
    need = None
    if isinstance(done, DrivenAssessment):
        at, result = done.context, done.supply
        if at.part is not None:
            band(at.part.name, at.part.v_min.leaf, at.part.v_max.leaf, "window")
        band("At the driver, flat and working", result.bus_working, result.bus_working, "moment")
        band("At the driver, flat and starting", result.bus_start, result.bus_start, "moment")
        band("At the driver, flat and jammed", result.bus_jam, result.bus_jam, "moment")
        times, volts = _sag(done)
    for regulator in all.shared.regulators:
        spec_r = next(r for r in all.build.supply.regulators if r.id == regulator.id)
        band(f"{spec_r.name or 'The regulator'} needs", regulator.needs, regulator.needs, "need")
        if (
            isinstance(done, DrivenAssessment)
            and done.context.regulator is not None
            and done.context.regulator.id == regulator.id
        ):
            need = regulator.needs.value
    if isinstance(done, ServoAssessment):
        servo = done.drive.servo
        band("The servo works from", servo.low_v.leaf, servo.high_v.leaf, "window")
        if not isinstance(done.servo.rail, float):
            band("Its rail", done.servo.rail, done.servo.rail, "moment")
    advice = all.shared.advice.get(source_id) or next((a for a in all.shared.advice.values() if a), [])
    return p.SupplyPicture(bands, times, volts, need, advice)


def _sag(done: DrivenAssessment) -> tuple[list[float], list[float]]:
    """The supply at the driver through one start, flat: at rest, starting, then at work."""
    at, result = done.context, done.supply
    flat, start, work, ramp = (
        at.volts.flat.value,
        result.bus_start.value,
        result.bus_working.value,
        done.signals.ramp.value,
    )
    if None in (flat, start, work) or start is None or flat is None or work is None:
        return [], []
    span = ramp or 0.3
    soft = at.drive.signals.soft_start == "yes" and ramp is not None
    if soft:
        points = [(0.0, flat), (0.1 * span, flat), (1.1 * span, start), (1.1 * span, work), (1.6 * span, work)]
    else:
        points = [(0.0, flat), (0.1 * span, flat), (0.1 * span, start), (0.6 * span, work), (1.2 * span, work)]
    return [float(f"{t:.5g}") for t, _ in points], [float(f"{v:.5g}") for _, v in points]
