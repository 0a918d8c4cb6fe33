"""Bench: the test sheet with the last reading of every step."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

from ..core.algebra.quantities import phrase
from ..core.assess import Assessment, DriveAssessment
from ..core.captures.wave import Wave
from ..core.cases.netlist import Netlist
from ..core.cases.wires.terminal import Terminal
from ..core.design.clips import clips
from ..core.model.bench import READS, STAGES
from ..core.model.build import Drive
from ..core.model.reading import Reading, ReadingVerdict
from ..core.program.numbering import number_of
from ..core.program.protocol import framed
from ..core.stations.bench.scope import screen_for
from .fields import Describer, Section
from .inputs import StationSheet
from .other_loads import servo_hint
from .views import FigureView, figure_view
from .wiring_views import HarnessView, harness_view


@dataclass(frozen=True, slots=True, kw_only=True)
class ProbePlace:
    """Where a probe goes: the part that is drawn, its terminal, and both in words."""

    part: str
    pin: str
    words: str


@dataclass(frozen=True, slots=True, kw_only=True)
class WaveView:
    """The pulses that a step is to show (V, Hz), and a screen that shows them: volts and seconds a division, in numbers
    and in words."""

    low_v: float
    high_v: float
    frequency_hz: float
    duty: float
    volts_per_div: float
    time_per_div: float
    words: str


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
    bounds: str
    one_sided: bool
    reason: str
    caution: str
    stage: str
    purpose: str
    do: str
    lines: list[str]
    """To type at the serial port, with their checks."""
    stop: str
    means: str
    probes: list[ProbePlace]
    reading_id: str
    reading: str
    verdict: ReadingVerdict | Literal[""]
    taken_at: str
    stale: list[str]
    minutes: int
    kind: str
    """Of the quantity that it reads."""
    wave: WaveView | None


@dataclass(frozen=True, slots=True, kw_only=True)
class ClipGround:
    """A ground, and the places of it that a clip reaches."""

    name: str
    places: list[str]


@dataclass(frozen=True, slots=True, kw_only=True)
class ClipNever:
    """A place where no clip may sit, and why."""

    place: str
    says: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ClipsView:
    """Where an oscilloscope's ground clips may go on this build."""

    says: list[str]
    grounds: list[ClipGround]
    never: list[ClipNever]


@dataclass(frozen=True, slots=True, kw_only=True)
class BenchPicture:
    """The test sheet, and the harness on which its probes are marked."""

    harness: HarnessView
    steps: list[StepView]
    clips: ClipsView
    passed: int
    again: list[str]
    """The steps whose readings have gone stale, by id, the shortest first."""
    again_minutes: int
    kind: Literal["bench"] = "bench"


def bench(all: Assessment, done: DriveAssessment, readings: Sequence[Reading], describer: Describer) -> BenchPicture:
    """Every step with its last reading."""
    net, number = done.wiring.netlist, number_of(all.build, done.drive)
    last = {r.step: r for r in readings if r.drive == done.drive.id and not r.withdrawn}
    steps = []
    for step in done.steps:
        reading = last.get(step.id)
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
                bounds=step.bounds(),
                one_sided=(step.low is None) != (step.high is None),
                reason=step.reason,
                caution=step.caution,
                stage=STAGES[step.stage],
                purpose=step.purpose,
                do=step.do,
                lines=[framed(x.format(n=number)) for x in step.type] if number else [],
                stop=step.stop,
                means=step.means,
                probes=[_place(net, t) for t in step.probes if t.block in net.parts],
                reading_id=reading.id if reading else "",
                reading=reading.text if reading else "",
                verdict=reading.verdict if reading else "",
                taken_at=reading.taken_at if reading else "",
                stale=[describer.name_of(x) for x in gone],
                minutes=step.minutes,
                kind=step.kind,
                wave=_wave(step.wave),
            )
        )
    passed = sum(s.verdict == "pass" and not s.stale for s in steps)
    again = sorted((s for s in steps if s.stale), key=lambda s: s.minutes)
    return BenchPicture(
        harness=harness_view(all, done),
        steps=steps,
        clips=_clips(net),
        passed=passed,
        again=[s.id for s in again],
        again_minutes=sum(s.minutes for s in again),
    )


def _clips(net: Netlist) -> ClipsView:
    found = clips(net)

    def named(t: Terminal) -> str:
        return f"{net.parts[t.block].name}, {t.pin}"

    return ClipsView(
        says=list(found.says),
        grounds=[ClipGround(name=g.name, places=[named(t) for t in g.places]) for g in found.grounds],
        never=[ClipNever(place=named(x.place), says=x.says) for x in found.never],
    )


def _wave(wave: Wave | None) -> WaveView | None:
    if wave is None:
        return None
    screen = screen_for(wave.high_v, wave.frequency_hz)
    return WaveView(
        low_v=wave.low_v,
        high_v=wave.high_v,
        frequency_hz=wave.frequency_hz,
        duty=wave.duty,
        volts_per_div=screen.volts,
        time_per_div=screen.time,
        words=f"{phrase(screen.volts, 'voltage')} and {phrase(screen.time, 'time')} a division",
    )


def _place(net: Netlist, t: Terminal) -> ProbePlace:
    """A terminal on the part that is drawn; of a small part, the part in words."""
    outer = net.under(t.block)
    return ProbePlace(part=outer, pin=t.pin, words=f"{net.parts[t.block].name}, {t.pin}")


TOLD = ("name", "where", "instrument", "setting", "stage", "caution")


def _own_sections(drive: Drive, d: Describer) -> list[Section]:
    """The steps that the builder added, each with what it reads."""
    spec = drive.bench
    made = []
    for number, own in enumerate(spec.steps, 1):
        told = d.section(own, own.name or f"Step {number} of your own", ("name", "should", "beside", *TOLD[1:]))
        reads = d.item_variant(spec, "steps", own, "It reads", READS, keep=TOLD)
        made.append(replace(told, fields=[told.fields[0], reads, *told.fields[1:]], removable=True))
    return [*made, d.adder(spec, "steps", "Add a step of your own")]


_ANY = StationSheet(
    sections=lambda asked: _own_sections(asked.done.drive, asked.describer),
    picture=lambda asked: bench(asked.all, asked.done, asked.readings, asked.describer),
)
SHEETS = {"motor": _ANY, "load": _ANY, "servo": replace(_ANY, hint=servo_hint)}
