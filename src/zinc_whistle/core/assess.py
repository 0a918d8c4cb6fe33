"""Build and shelf and readings in, assessment out: pure, and the same for screen, command line and tests.

``cases`` solves every drive, each station of the table says what it makes of it, the judge turns checks into findings.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any, ClassVar, Literal, cast

from . import stations
from .algebra.doubt import basis_of, leaves, moved
from .algebra.findings import Finding, order
from .algebra.limits import Check, Judge
from .algebra.naming import name_figures, node_below
from .algebra.nodes import Figure, Leaf, Node
from .cases.axes import AXES
from .cases.circuit import Circuit, DriveCircuit
from .cases.encoder import EncoderResult
from .cases.load import LoadResult
from .cases.motor import AtSupply, Constants
from .cases.operating import Context, DriveContext, LoadContext
from .cases.salvage import own_switch
from .cases.scene import DrivenScene, LoadScene, MotorScene, Outcome, Scene, ServoScene, scenes
from .cases.servo import ServoResult
from .cases.shared_supply import SharedSupply
from .cases.stage_result import StageResult
from .design import screen
from .model.build import Build, LoadDrive, MotorDrive, ServoDrive, bound_build, bound_parts
from .model.driver import DriverPart
from .model.given import Bound
from .model.reading import Reading
from .model.signals import Controller
from .panel.machine import Machine
from .stations.bench.step import Step
from .stations.driver.candidates import Candidate, evaluate, rank
from .stations.encoder import pair
from .stations.loop.compute import LoopResult
from .stations.motor.low_speed import LowSpeed
from .stations.motor.thermal import WindingHeat
from .stations.power_stage.compute import PowerStageResult
from .stations.signals import radio, sequences
from .stations.signals.compute import SignalsResult
from .stations.signals.panel import PanelResult
from .stations.signals.radio import RadioResult
from .stations.signals.sequences import SequenceResult
from .stations.supply import shared_limits
from .stations.supply.compute import SupplyResult
from .stations.wiring import review
from .stations.wiring.compute import WiringResult

SHORT_LIST = 60
"""So many candidates are worked out in full and shown."""
State = Literal["stops", "stale", "tight", "open", "holds"]


@dataclass(frozen=True, slots=True)
class Stamp:
    """A station's state, and a word for it (91 %); ``open`` where something is not known besides."""

    state: State
    text: str
    open: bool = False


@dataclass(kw_only=True)
class DriveAssessment:
    """What follows for any drive: what each of its stations makes of it, and the findings."""

    scene: Scene
    outcomes: Mapping[str, Outcome]
    findings: list[Finding]
    shelf: Sequence[DriverPart]
    NAMED: ClassVar[tuple[str, ...]] = ("wiring", "steps")
    """The results whose figures bear ids, in the order in which a shared figure gets its name."""

    @property
    def drive(self) -> Any:
        return self.scene.drive

    # As with the drive itself: who needs one kind asks for that kind, or None.

    @property
    def driven(self) -> DrivenAssessment | None:
        """This assessment, if a driver switches the drive."""
        return None

    @property
    def of_motor(self) -> MotorAssessment | None:
        """This assessment, if the drive turns a motor."""
        return None

    @property
    def of_servo(self) -> ServoAssessment | None:
        """This assessment, if the drive is a servo."""
        return None

    @property
    def stations(self) -> tuple[str, ...]:
        """The stations that a drive of this kind passes."""
        return tuple(self.outcomes)

    def result(self, name: str) -> Any:
        """A station's result by name."""
        return next(x.results[name] for x in self.outcomes.values() if name in x.results)

    def named(self) -> Iterator[tuple[str, Any]]:
        """Every result whose figures bear ids, by the name that their ids begin with."""
        for name in self.NAMED:
            yield name, getattr(self, name)

    @property
    def wiring(self) -> WiringResult:
        return cast(WiringResult, self.result("wiring"))

    @property
    def steps(self) -> tuple[Step, ...]:
        return cast(tuple[Step, ...], self.result("steps"))

    @property
    def stale_readings(self) -> dict[str, list[str]]:
        """Readings by id, and the paths that moved under them."""
        return cast(dict[str, list[str]], self.result("stale_readings"))

    @cached_property
    def stale_givens(self) -> dict[str, list[str]]:
        """Measured or tuned givens by path, and what moved under them."""
        found = {}
        for outcome in self.outcomes.values():
            for path, standing in outcome.standing.items():
                if standing.given.basis is None or standing.given.value is None:
                    continue
                if gone := moved(standing.given.basis, standing_basis(standing.on, path)):
                    found[path] = gone
        return found

    def stands_on(self) -> dict[str, Node]:
        """Paths of measured or tuned givens, and the figure that each stands on."""
        return {path: x.on for outcome in self.outcomes.values() for path, x in outcome.standing.items()}


@dataclass(kw_only=True)
class DrivenAssessment(DriveAssessment):
    """What follows for a drive that has a driver."""

    scene: DrivenScene
    NAMED = (*DriveAssessment.NAMED, "context", "circuit", "chosen", "supply", "stage", "signals", "panel", "discrete")

    @property
    def drive(self) -> MotorDrive | LoadDrive:
        return cast("MotorDrive | LoadDrive", self.scene.drive)

    @property
    def driven(self) -> DrivenAssessment:
        return self

    @property
    def context(self) -> DriveContext:
        return self.scene.at

    @property
    def circuit(self) -> DriveCircuit:
        return self.scene.circuit

    @property
    def chosen(self) -> Candidate | None:
        return cast("Candidate | None", self.result("chosen"))

    @property
    def supply(self) -> SupplyResult:
        return cast(SupplyResult, self.result("supply"))

    @property
    def stage(self) -> PowerStageResult:
        return cast(PowerStageResult, self.result("stage"))

    @property
    def discrete(self) -> StageResult | None:
        return cast("StageResult | None", self.result("discrete"))

    @property
    def signals(self) -> SignalsResult:
        return cast(SignalsResult, self.result("signals"))

    @property
    def panel(self) -> PanelResult:
        return cast(PanelResult, self.result("panel"))

    @property
    def counts_per_motor_turn(self) -> Figure | None:
        """Counts of the encoder in one turn of the motor; None where nothing counts."""
        return None

    @cached_property
    def candidates(self) -> list[Candidate]:
        """The parts of the shelf (of a long one the best), best first; worked out when first asked for."""
        return rank(self.context, [*self._short_list(), *self._own_parts()])

    def _own_parts(self) -> Sequence[DriverPart]:
        """Parts that the drive brings along, beside the shelf's."""
        return ()

    def _short_list(self) -> Sequence[DriverPart]:
        """The parts to work out in full: of a long shelf those that come first on the arrays, and the chosen one."""
        motor = self.context.of_motor
        if len(self.shelf) <= SHORT_LIST or motor is None:
            return self.shelf
        reference = self.chosen or evaluate(self.context, self.shelf[0])
        places = screen.order(motor, self.shelf, reference)
        chosen = self.context.part.id if self.context.part is not None else ""
        return [p for n, p in enumerate(self.shelf[i] for i in places) if n < SHORT_LIST or p.id == chosen]


@dataclass(kw_only=True)
class MotorAssessment(DrivenAssessment):
    """Everything that follows for a motor's drive."""

    scene: MotorScene
    NAMED = (*DrivenAssessment.NAMED, "motor", "at_supply", "load", "heat", "low_speed", "encoder", "loop")

    @property
    def drive(self) -> MotorDrive:
        return self.scene.drive

    @property
    def of_motor(self) -> MotorAssessment:
        return self

    @property
    def context(self) -> Context:
        return self.scene.at

    @property
    def circuit(self) -> Circuit:
        return self.scene.circuit

    def _own_parts(self) -> Sequence[DriverPart]:
        seeded = own_switch(self.drive)
        return () if seeded is None else (seeded,)

    @property
    def motor(self) -> Constants:
        return self.scene.at.motor

    @property
    def at_supply(self) -> AtSupply:
        return self.scene.at_supply

    @property
    def load(self) -> LoadResult:
        return self.scene.at.load

    @property
    def encoder(self) -> EncoderResult:
        return self.scene.counts

    @property
    def heat(self) -> WindingHeat:
        return cast(WindingHeat, self.result("heat"))

    @property
    def low_speed(self) -> LowSpeed:
        return cast(LowSpeed, self.result("low_speed"))

    @property
    def loop(self) -> LoopResult:
        return cast(LoopResult, self.result("loop"))

    @property
    def counts_per_motor_turn(self) -> Figure | None:
        return self.encoder.counts_per_motor_turn


@dataclass(kw_only=True)
class LoadAssessment(DrivenAssessment):
    """Everything that follows for a solenoid, a pump or a lamp."""

    scene: LoadScene

    @property
    def drive(self) -> LoadDrive:
        return self.scene.drive

    @property
    def context(self) -> LoadContext:
        return self.scene.at


@dataclass(kw_only=True)
class ServoAssessment(DriveAssessment):
    """Everything that follows for a servo."""

    scene: ServoScene
    NAMED = (*DriveAssessment.NAMED, "servo")

    @property
    def drive(self) -> ServoDrive:
        return self.scene.drive

    @property
    def of_servo(self) -> ServoAssessment:
        return self

    @property
    def servo(self) -> ServoResult:
        return self.scene.servo

    @property
    def controller(self) -> Controller:
        return self.scene.controller


BY_KIND: Mapping[str, type[DriveAssessment]] = {
    "motor": MotorAssessment,
    "load": LoadAssessment,
    "servo": ServoAssessment,
}


@dataclass
class Assessment:
    """The drives in order, every figure by id, and the findings of the whole build, nearest limit first."""

    build: Build
    bound: Bound
    drives: dict[str, DriveAssessment]
    shared: SharedSupply
    shared_findings: list[Finding]
    advice: dict[str, list[str]]
    """Shared or split, by source: a verdict first, then its reasons."""
    sequences: tuple[SequenceResult, ...] = ()
    radio: RadioResult | None = None
    figures: dict[str, Figure] = field(default_factory=dict)
    findings: list[Finding] = field(default_factory=list)

    def of_station(self, drive_id: str, station: str) -> list[Finding]:
        """The findings of one station of one drive; the supply's own belong to every drive."""
        own = [x for x in self.drives[drive_id].findings if x.station == station]
        return own + [x for x in self.shared_findings if x.station == station]

    def stamp(self, drive_id: str, station: str) -> Stamp:
        """The first of: stops, stale, tight, open, holds; what is tight and open besides says both."""
        drive = self.drives[drive_id]
        own = self.of_station(drive_id, station)
        stops = [x for x in own if x.stops]
        if stops:
            return Stamp("stops", str(len(stops)))
        if station == "bench" and drive.stale_readings:
            return Stamp("stale", "stale")
        if any(path.split(".")[2] == station for path in drive.stale_givens):
            return Stamp("stale", "stale")
        unknown = any(x.verdict == "unknown" for x in own)
        tight = [x for x in own if x.tight or x.verdict == "exceeded"]
        if tight:
            worst = max((x.used or 0.0 for x in tight), default=0.0)
            words = f"{worst:.0%}".replace("%", " %") if worst else "check"
            return Stamp("tight", f"{words} · open" if unknown else words, unknown)
        if unknown or not own:
            return Stamp("open", "open", True)
        return Stamp("holds", "holds")

    def spots(self) -> list[Finding]:
        """Checks with a fraction of a limit or a failed yes or no, nearest first; the quiet ones left out."""
        return [x for x in self.findings if x.used is not None or x.severity != "note"]

    def used_in(self, node: Figure | Leaf) -> tuple[list[Figure], list[Finding]]:
        """Named figures that rest directly on a node, and findings that hold it against a limit."""
        figures = [x for x in self.figures.values() if any(p is node for p in x.parents())]
        checks = [x for x in self.findings if x.stress is node or x.limit is node]
        return figures, checks


def _encoders_together(build: Build, drives: Mapping[str, DriveAssessment]) -> list[Check]:
    """Whether a controller bears the interrupts of all its encoders, and both sides of what steers go straight."""
    turning = [m for d in drives.values() if (m := d.of_motor) is not None]
    found: list[Check] = []
    for controller in build.controllers:
        own = [(m.drive, m.encoder) for m in turning if m.drive.controller == controller.id]
        found += pair.interrupts(controller, own)
    sides = [drives[id].of_motor for id in (build.steering.left, build.steering.right) if id in drives]
    left, right = sides if len(sides) == 2 else (None, None)
    if left is None or right is None or left is right:
        return found
    return found + pair.checks((left.drive, left.encoder), (right.drive, right.encoder))


def assess(build: Build, shelf: Sequence[DriverPart] = (), readings: Sequence[Reading] = ()) -> Assessment:
    """Work out everything that follows from a build. Never raises on a valid build, and changes nothing it is given."""
    own, bound = bound_build(build)
    parts = bound_parts(shelf)
    judge = Judge()
    # All axes at once: a frame that grows forgets what it has worked out.
    judge.frame(AXES)
    solved = scenes(own, readings, judge)
    drives = {id: _drive(scene, parts) for id, scene in solved.drives.items()}
    shared = judge.all(shared_limits.checks(own, solved.supply, solved.demands))
    advice = shared_limits.advice(own, solved.supply, solved.demands)
    played = sequences.compute(own, transits(drives))
    shared += judge.all(sequences.checks(own, played))
    shared += judge.all(_encoders_together(own, drives))
    link = radio.compute(own)
    shared += judge.all(radio.checks(own, link, machines_of(drives)))
    shared += judge.all(review.checks(own, solved.netlist, solved.drives))
    done = Assessment(
        build=own,
        bound=bound,
        drives=drives,
        shared=solved.supply,
        shared_findings=shared,
        advice=advice,
        sequences=played,
        radio=link,
    )
    _name(done)
    done.findings = sorted((*shared, *(x for d in drives.values() for x in d.findings)), key=order)
    return done


def machines_of(drives: Mapping[str, DriveAssessment]) -> dict[str, Machine]:
    """The panels' machines, by drive."""
    driven = ((id, own.panel.machine) for id, d in drives.items() if (own := d.driven) is not None)
    return {id: machine for id, machine in driven if machine is not None}


def transits(drives: Mapping[str, DriveAssessment]) -> dict[str, int]:
    """How long each servo needs from end to end (ms)."""
    servos = {id: s for id, d in drives.items() if (s := d.of_servo) is not None}
    return {id: sequences.transit_ms(s.drive.servo, s.servo) for id, s in servos.items()}


def _drive(scene: Scene, parts: Sequence[DriverPart]) -> DriveAssessment:
    """What every station of the table makes of one drive."""
    kind = scene.drive.kind
    outcomes = {s.id: s.work[kind](scene) for s in stations.TABLE if kind in s.work}
    found = [scene.judge(x) for outcome in outcomes.values() for x in outcome.checks]
    return BY_KIND[kind](scene=scene, outcomes=outcomes, findings=found, shelf=parts)


def _name(done: Assessment) -> None:
    """Give the figures their ids: shared supply first, then drive by drive its results and its checks."""
    name_figures("supply", done.shared, done.figures)
    if done.radio is not None:
        name_figures("radio", done.radio, done.figures)
    for id, drive in done.drives.items():
        for name, result in drive.named():
            name_figures(f"drives.{id}.{name}", result, done.figures)
        for finding in drive.findings:
            name_figures(f"drives.{id}.checks.{finding.code}", finding.utilisation, done.figures)
    for finding in done.shared_findings:
        name_figures(f"checks.{finding.code}", finding.utilisation, done.figures)


def standing_basis(node: Any, own_path: str) -> dict[str, str]:
    """What a measured or tuned given stands on: the basis of its figure, itself left out."""
    return {p: t for p, t in basis_of(node).items() if p != own_path}


def candidate_figures(done: DrivenAssessment) -> dict[str, Figure]:
    """The figures of every candidate by id, for a sheet that shows them all."""
    found: dict[str, Figure] = {}
    for candidate in done.candidates:
        prefix = f"drives.{done.drive.id}.candidates.{candidate.part.id}"
        for finding in candidate.checks:
            name_figures(f"{prefix}.{finding.code}", finding.utilisation, found)
        name_figures(prefix, candidate, found)
    return found


def find_node(assessment: Assessment, id: str) -> Figure | Leaf | None:
    """The figure or given of an id, named or met on the way to a named one."""
    figures = assessment.figures
    if ".candidates." in id:
        figures = dict(figures)
        for drive in assessment.drives.values():
            if (driven := drive.driven) is not None:
                figures |= candidate_figures(driven)
    named, _, below = id.partition("/")
    if named in figures:
        return node_below(figures[named], below)
    given = assessment.bound.givens.get(id)
    if given is not None:
        return given.leaf
    for figure in figures.values():
        for leaf in leaves(figure):
            if leaf.id == id:
                return leaf
    return None
