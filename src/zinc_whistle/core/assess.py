"""Build and shelf and readings in, assessment out: pure, and the same for screen, command line and tests."""

from __future__ import annotations

import dataclasses
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from typing import Any

from . import findings as f
from .bench import compute as bench
from .bench.readings import Reading, stale
from .build import Build, MotorDrive, bind_build, bind_parts
from .doubt import basis_of, leaves, moved
from .driver import candidates as driver
from .driver import checks as driver_checks
from .driver.candidates import Candidate
from .driver.spec import DriverPart
from .encoder import compute as encoder
from .findings import Finding
from .load import checks as load_checks
from .load.compute import LoadResult
from .loop import compute as loop
from .motor import checks as motor_checks
from .motor.compute import AtSupply, Constants, at_supply
from .operating import Circuit, Context, circuit, contexts
from .power_stage import compute as stage
from .signals import compute as signals
from .spec import Bound
from .supply import compute as supply
from .wiring import compute as wiring
from .working import Figure, Leaf

STATIONS = (
    "motor", "load", "supply", "driver", "power_stage", "signals", "wiring", "encoder", "loop", "bench", "log",
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class Stamp:
    """A station's state: stops, stale, tight, open or holds, and a word for it (91 %)."""

    state: str
    text: str


@dataclass(slots=True)
class DriveAssessment:
    """Everything that follows for one drive."""

    context: Context
    motor: Constants
    at_supply: AtSupply
    load: LoadResult
    circuit: Circuit
    chosen: Candidate | None
    shelf: list[DriverPart]
    supply: supply.SupplyResult
    stage: stage.PowerStageResult
    signals: signals.SignalsResult
    wiring: wiring.WiringResult
    encoder: encoder.EncoderResult
    loop: loop.LoopResult
    steps: tuple[bench.Step, ...]
    findings: list[Finding]
    stale_readings: dict[str, list[str]]
    stale_givens: dict[str, list[str]]

    _ranked: list[Candidate] | None = None

    @property
    def drive(self) -> MotorDrive:
        return self.context.drive

    @property
    def candidates(self) -> list[Candidate]:
        """Every part of the shelf, best first; worked out when first asked for, since only one station shows it."""
        if self._ranked is None:
            self._ranked = driver.rank(self.context, self.shelf)
        return self._ranked

    def stands_on(self) -> dict[str, Any]:
        """Paths of measured or tuned givens, and the figure that each stands on."""
        return {
            f"{self.drive.encoder.path}.calibrated": self.encoder.counts_per_output_turn,
            f"{self.drive.loop.path}.gain": self.loop.damping,
        }


@dataclass(slots=True)
class Assessment:
    """The drives in order, every figure by id, and the findings of the whole build, nearest limit first."""

    build: Build
    bound: Bound
    drives: dict[str, DriveAssessment]
    figures: dict[str, Figure]
    findings: list[Finding]

    def stamp(self, drive_id: str, station: str) -> Stamp:
        """The first of: stops, stale, tight, open, holds."""
        drive = self.drives[drive_id]
        own = [x for x in drive.findings if x.station == station]
        stops = [x for x in own if x.severity == "stop"]
        if stops:
            return Stamp("stops", str(len(stops)))
        if station == "bench" and drive.stale_readings:
            return Stamp("stale", "stale")
        if any(path.split(".")[2] == station for path in drive.stale_givens):
            return Stamp("stale", "stale")
        tight = [x for x in own if x.tight or x.severity == "warn"]
        if tight:
            worst = max((x.used or 0.0 for x in tight), default=0.0)
            return Stamp("tight", f"{worst:.0%}".replace("%", " %") if worst else "check")
        if any(x.unknown for x in own) or not own:
            return Stamp("open", "open")
        return Stamp("holds", "holds")

    def spots(self) -> list[Finding]:
        """Checks with a fraction of a limit or a failed yes or no, nearest first; the quiet ones left out."""
        return [x for x in self.findings if x.used is not None or x.severity != "note"]

    def used_in(self, node: Figure | Leaf) -> tuple[list[Figure], list[Finding]]:
        """Named figures that rest directly on a node, and findings that hold it against a limit."""
        figures = [x for x in self.figures.values() if any(p is node for p in x.parents())]
        checks = [x for x in self.findings if x.stress is node or x.limit is node]
        return figures, checks


def assess(build: Build, shelf: Sequence[DriverPart] = (), readings: Sequence[Reading] = ()) -> Assessment:
    """Work out everything that follows from a build. Never raises on a valid build."""
    bound = bind_build(build)
    parts = list(shelf)
    bind_parts(parts)
    figures: dict[str, Figure] = {}
    drives: dict[str, DriveAssessment] = {}
    for at in contexts(build):
        drive = at.drive
        done = _assess_drive(at, parts, [r for r in readings if r.drive == drive.id and not r.withdrawn])
        drives[drive.id] = done
        name_figures(f"drives.{drive.id}", done, figures)
        for finding in done.findings:
            name_figures(f"drives.{drive.id}.checks.{finding.code}", finding.use, figures)
    findings = sorted((x for d in drives.values() for x in d.findings), key=f.order)
    return Assessment(build, bound, drives, figures, findings)


def _assess_drive(at: Context, shelf: list[DriverPart], readings: list[Reading]) -> DriveAssessment:
    drive = at.drive
    chosen = driver.evaluate(at, at.unit.part) if at.unit.part is not None else None
    solved = chosen.circuit if chosen is not None else circuit(at, None)
    motor_here = at_supply(drive.motor, at.motor, at.source.nominal_v.leaf, "supply nominal, 25 °C")
    feeding = supply.compute(at, solved)
    staged = stage.compute(at, chosen)
    signalled = signals.compute(at, solved)
    wired = wiring.compute(at, solved)
    counted = encoder.compute(at, solved)
    looped = loop.compute(at, solved)
    tests = bench.steps(at, chosen, counted)
    found = [
        *motor_checks.checks(drive.motor, at.motor, drive.id),
        *load_checks.checks(at, solved),
        *supply.checks(at, solved, feeding),
        *driver_checks.checks(at, chosen, motor_here),
        *stage.checks(at, chosen, staged),
        *signals.checks(at, signalled),
        *wiring.checks(at, wired),
        *encoder.checks(at, counted),
        *loop.checks(at, looped),
        *_bench_findings(drive, tests, readings),
    ]
    by_id = {s.id: s for s in tests}
    moved_readings = {r.id: gone for r in readings if (gone := stale(r, by_id.get(r.step)))}
    done = DriveAssessment(
        context=at, motor=at.motor, at_supply=motor_here, load=at.load, circuit=solved, chosen=chosen,
        shelf=shelf, supply=feeding, stage=staged, signals=signalled, wiring=wired, encoder=counted,
        loop=looped, steps=tests, findings=found, stale_readings=_latest_only(moved_readings, readings), stale_givens={},
    )  # fmt: skip
    done.stale_givens = _stale_givens(done)
    return done


def _latest_only(gone: Mapping[str, list[str]], readings: Sequence[Reading]) -> dict[str, list[str]]:
    """A step measured again is fresh: only its last reading counts."""
    last = {r.step: r.id for r in readings}
    return {i: paths for i, paths in gone.items() if i in last.values()}


def _stale_givens(done: DriveAssessment) -> dict[str, list[str]]:
    specs = {
        f"{done.drive.encoder.path}.calibrated": done.drive.encoder.calibrated,
        f"{done.drive.loop.path}.gain": done.drive.loop.gain,
    }
    found = {}
    for path, node in done.stands_on().items():
        given = specs[path]
        if given.basis is None or given.value is None:
            continue
        now = standing_basis(node, path)
        if gone := moved(given.basis, now):
            found[path] = gone
    return found


def standing_basis(node: Any, own_path: str) -> dict[str, str]:
    """What a measured or tuned given stands on: the basis of its figure, itself left out."""
    return {p: t for p, t in basis_of(node).items() if p != own_path}


def _bench_findings(drive: MotorDrive, steps: Sequence[bench.Step], readings: Sequence[Reading]) -> list[Finding]:
    last = {r.step: r for r in readings}
    found = []
    for step in steps:
        reading = last.get(step.id)
        if reading is None:
            found.append(f.yes_no(
                f"bench.{step.id}", "bench", step.title, None, "", drive=drive.id, unknown="Not measured yet.",
                destructive=False))  # fmt: skip
        else:
            found.append(f.yes_no(
                f"bench.{step.id}", "bench", f"{step.title}: the reading is right", reading.verdict != "fail",
                "Measure it again with the setting shown; then look for the cause before going on.", drive=drive.id,
                over="warn", destructive=False))  # fmt: skip
    return found


def name_figures(prefix: str, thing: Any, into: dict[str, Figure]) -> None:
    """Give every figure below ``thing`` an id from the fields that lead to it; the first name stays."""
    if isinstance(thing, Figure):
        if not thing.id:
            thing.id = prefix
            into[prefix] = thing
    elif isinstance(thing, tuple | list):
        for i, item in enumerate(thing):
            name_figures(f"{prefix}.{getattr(item, 'id', '') or i}", item, into)
    else:
        for name in _parts_of(thing.__class__):
            name_figures(f"{prefix}.{name}", getattr(thing, name), into)


_SKIPPED = {
    "drive", "build", "findings", "stale_readings", "stale_givens", "others", "sharing", "shelf", "_ranked", "checks",
}  # fmt: skip


@cache
def _parts_of(kind: type) -> tuple[str, ...]:
    """The fields of a result in which figures may lie; nothing of what is no result."""
    if not dataclasses.is_dataclass(kind):
        return ()
    return tuple(x.name for x in dataclasses.fields(kind) if x.name not in _SKIPPED)


def name_candidates(done: DriveAssessment, into: dict[str, Figure]) -> None:
    """Give the figures of every candidate an id, for a sheet that shows them all."""
    for candidate in done.candidates:
        prefix = f"drives.{done.drive.id}.candidates.{candidate.part.id}"
        for finding in candidate.checks:
            name_figures(f"{prefix}.{finding.code}", finding.use, into)
        name_figures(prefix, candidate, into)


def find_node(assessment: Assessment, id: str) -> Figure | Leaf | None:
    """The figure or given of an id, named or met on the way to a named one."""
    if ".candidates." in id:
        for drive in assessment.drives.values():
            name_candidates(drive, assessment.figures)
    named, _, below = id.partition("/")
    if named in assessment.figures:
        return _below(assessment.figures[named], below)
    given = assessment.bound.givens.get(id)
    if given is not None:
        return given.leaf
    for figure in assessment.figures.values():
        for leaf in leaves(figure):
            if leaf.id == id:
                return leaf
    return None


def _below(figure: Figure, steps: str) -> Figure | Leaf | None:
    """Follow input names down from a figure: ``R/R_m`` is the input R_m of its input R."""
    at: Any = figure
    for name in filter(None, steps.split("/")):
        stem, _, place = name.partition(":")
        if not isinstance(at, Figure) or stem not in at.law.names:
            return None
        at = at.inputs[at.law.names.index(stem)]
        if place:
            at = at[int(place)] if place.isdigit() and int(place) < len(at) else None
    return at if isinstance(at, Figure | Leaf) else None
