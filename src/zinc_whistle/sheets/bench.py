"""Bench: the test sheet with the last reading of every step."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

from ..core.algebra.quantities import phrase
from ..core.assess import DriveAssessment
from ..core.model.reading import Reading, ReadingVerdict
from .fields import Describer
from .inputs import StationSheet
from .other_loads import servo_hint
from .views import FigureView, figure_view


@dataclass(frozen=True, slots=True, kw_only=True)
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
    verdict: ReadingVerdict | Literal[""]
    taken_at: str
    stale: list[str]


@dataclass(frozen=True, slots=True, kw_only=True)
class BenchPicture:
    """The test sheet."""

    steps: list[StepView]
    passed: int
    kind: Literal["bench"] = "bench"


def bench(done: DriveAssessment, readings: Sequence[Reading], describer: Describer) -> BenchPicture:
    """Every step with its last reading."""
    last = {r.step: r for r in readings if r.drive == done.drive.id and not r.withdrawn}
    steps = []
    for step in done.steps:
        reading = last.get(step.id)
        low = "" if step.low is None else phrase(step.low, step.kind, step.unit)
        high = "" if step.high is None else phrase(step.high, step.kind, step.unit)
        gone = done.stale_readings.get(reading.id, []) if reading else []
        steps.append(
            StepView(
                id=step.id,
                title=step.title,
                where=step.where,
                instrument=step.instrument,
                setting=step.setting,
                expected=figure_view(step.expected, step.unit),
                unit=step.unit,
                low=low,
                high=high,
                reason=step.reason,
                caution=step.caution,
                reading_id=reading.id if reading else "",
                reading=reading.text if reading else "",
                verdict=reading.verdict if reading else "",
                taken_at=reading.taken_at if reading else "",
                stale=[describer.name_of(x) for x in gone],
            )
        )
    return BenchPicture(steps=steps, passed=sum(s.verdict == "pass" and not s.stale for s in steps))


_ANY = StationSheet(picture=lambda asked: bench(asked.done, asked.readings, asked.describer))
SHEETS = {"motor": _ANY, "load": _ANY, "servo": replace(_ANY, hint=servo_hint)}
