"""Build and shelf and readings in, assessment out: pure, and the same for screen, command line and tests."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any

from .algebra import findings as f
from .algebra.doubt import basis_of, leaves, moved
from .algebra.findings import Finding
from .algebra.naming import name_figures, node_below
from .algebra.working import Figure, Leaf
from .cases import servo
from .cases import stage as discrete
from .cases.demand import Demand
from .cases.load import LoadResult
from .cases.motor import AtSupply, Constants, at_supply
from .cases.operating import Circuit, Context, DriveCircuit, DriveContext, LoadContext, contexts, servo_rail, solve
from .cases.pins import PinUse, allot, needed
from .cases.pulses import PULSE, Pulses, pulses
from .cases.stage_result import StageResult
from .design import screen
from .laws import supply as supply_rules
from .model.build import Build, Drive, LoadDrive, MotorDrive, ServoDrive, bind_build, bind_parts
from .model.driver import DriverPart
from .model.given import Bound, bind
from .model.signals import Controller
from .stations.bench import compute as bench
from .stations.bench.readings import Reading, stale
from .stations.driver import candidates as driver
from .stations.driver import limits as driver_checks
from .stations.driver.candidates import Candidate
from .stations.encoder import compute as encoder
from .stations.load import dc_load_limits as dc_checks
from .stations.load import limits as load_checks
from .stations.loop import compute as loop
from .stations.motor import limits as motor_checks
from .stations.motor import low_speed, thermal
from .stations.power_stage import compute as stage
from .stations.power_stage import limits as stage_checks
from .stations.signals import compute as signals
from .stations.signals import panel
from .stations.supply import compute as supply
from .stations.supply import shared
from .stations.wiring import compute as wiring

STATIONS = (
    "motor",
    "load",
    "supply",
    "driver",
    "power_stage",
    "signals",
    "wiring",
    "encoder",
    "loop",
    "bench",
    "log",
)
STATIONS_OF: dict[str, tuple[str, ...]] = {
    "motor": STATIONS,
    "servo": ("load", "supply", "signals", "wiring", "bench", "log"),
    "load": ("load", "supply", "driver", "power_stage", "signals", "wiring", "bench", "log"),
}


SHORT_LIST = 60
"""So many candidates are worked out in full and shown."""


@dataclass(frozen=True, slots=True)
class Stamp:
    """A station's state: stops, stale, tight, open or holds, and a word for it (91 %)."""

    state: str
    text: str


@dataclass(slots=True, kw_only=True)
class DriveAssessment:
    """What follows for any drive: findings of its stations, its test sheet, and what has gone stale."""

    drive: Drive
    wiring: wiring.WiringResult
    steps: tuple[bench.Step, ...]
    findings: list[Finding]
    stale_readings: dict[str, list[str]] = field(default_factory=dict)
    stale_givens: dict[str, list[str]] = field(default_factory=dict)

    @property
    def stations(self) -> tuple[str, ...]:
        """The stations that a drive of this kind passes."""
        return STATIONS_OF[self.drive.kind]

    def stands_on(self) -> dict[str, Any]:
        """Paths of measured or tuned givens, and the figure that each stands on."""
        return {}


@dataclass(slots=True, kw_only=True)
class DrivenAssessment(DriveAssessment):
    """What follows for a drive that has a driver."""

    context: DriveContext
    circuit: DriveCircuit
    chosen: Candidate | None
    shelf: list[DriverPart]
    supply: supply.SupplyResult
    stage: stage.PowerStageResult
    signals: signals.SignalsResult
    panel: panel.PanelResult
    discrete: StageResult | None = None

    _ranked: list[Candidate] | None = None

    @property
    def counts_per_motor_turn(self) -> Figure | None:
        """Counts of the encoder in one turn of the motor; None where nothing counts."""
        return None

    @property
    def candidates(self) -> list[Candidate]:
        """The parts of the shelf (of a long one the best), best first; worked out when first asked for."""
        if self._ranked is None:
            self._ranked = driver.rank(self.context, self._short_list())
        return self._ranked

    def _short_list(self) -> list[DriverPart]:
        """The parts to work out in full: of a long shelf those that come first on the arrays, and the chosen one."""
        if len(self.shelf) <= SHORT_LIST or not isinstance(self.context, Context):
            return self.shelf
        reference = self.chosen or driver.evaluate(self.context, self.shelf[0])
        places = screen.order(self.context, self.shelf, reference)
        chosen = self.context.part.id if self.context.part is not None else ""
        return [p for rank, p in enumerate(self.shelf[i] for i in places) if rank < SHORT_LIST or p.id == chosen]


@dataclass(slots=True, kw_only=True)
class MotorAssessment(DrivenAssessment):
    """Everything that follows for a motor's drive."""

    drive: MotorDrive
    context: Context
    circuit: Circuit
    motor: Constants
    at_supply: AtSupply
    load: LoadResult
    heat: thermal.WindingHeat
    low_speed: low_speed.LowSpeed
    encoder: encoder.EncoderResult
    loop: loop.LoopResult

    @property
    def counts_per_motor_turn(self) -> Figure | None:
        return self.encoder.counts_per_motor_turn

    def stands_on(self) -> dict[str, Any]:
        return {
            f"{self.drive.encoder.path}.calibrated": self.encoder.counts_per_output_turn,
            f"{self.drive.loop.path}.gain": self.loop.damping,
        }


@dataclass(slots=True, kw_only=True)
class LoadAssessment(DrivenAssessment):
    """Everything that follows for a solenoid, a pump or a lamp."""

    drive: LoadDrive
    context: LoadContext


@dataclass(slots=True, kw_only=True)
class ServoAssessment(DriveAssessment):
    """Everything that follows for a servo."""

    drive: ServoDrive
    servo: servo.ServoResult
    controller: Controller


@dataclass(slots=True)
class Assessment:
    """The drives in order, every figure by id, and the findings of the whole build, nearest limit first."""

    build: Build
    bound: Bound
    drives: dict[str, DriveAssessment]
    shared: shared.SharedSupply
    figures: dict[str, Figure]
    findings: list[Finding]

    def of_station(self, drive_id: str, station: str) -> list[Finding]:
        """The findings of one station of one drive; the supply's own belong to every drive."""
        own = [x for x in self.drives[drive_id].findings if x.station == station]
        return own + [x for x in self.shared.findings if x.station == station]

    def stamp(self, drive_id: str, station: str) -> Stamp:
        """The first of: stops, stale, tight, open, holds."""
        drive = self.drives[drive_id]
        own = self.of_station(drive_id, station)
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


@dataclass(slots=True)
class _Ready:
    """A drive with a driver, its part evaluated: what the supply must know before the stations are worked out."""

    at: DriveContext
    chosen: Candidate | None
    circuit: DriveCircuit


def assess(build: Build, shelf: Sequence[DriverPart] = (), readings: Sequence[Reading] = ()) -> Assessment:
    """Work out everything that follows from a build. Never raises on a valid build."""
    bound = bind_build(build)
    parts = list(shelf)
    bind_parts(parts)
    ready = {}
    planned = pulses(build)
    for id, at in contexts(build, planned).items():
        ready[id] = _ready(at)
    servos = {d.id: _servo(build, d, planned) for d in build.drives if isinstance(d, ServoDrive)}
    pins = _pins(build, ready, planned)
    demands = [*(_demand(r) for r in ready.values()), *(_servo_demand(d, s) for d, s in servos.values())]
    together = shared.compute(build, demands)
    figures: dict[str, Figure] = {}
    drives: dict[str, DriveAssessment] = {}
    name_figures("supply", together, figures)
    for drive in build.drives:
        own = [r for r in readings if r.drive == drive.id and not r.withdrawn]
        if isinstance(drive, ServoDrive):
            done: DriveAssessment = _assess_servo(build, drive, servos[drive.id][1], pins[drive.id])
        elif isinstance(drive, MotorDrive):
            done = _assess_motor(ready[drive.id], parts, demands, together, pins[drive.id])
        else:
            done = _assess_load(ready[drive.id], parts, demands, together, pins[drive.id])
        _take_readings(done, own)
        drives[drive.id] = done
        name_figures(f"drives.{drive.id}", done, figures)
        for finding in done.findings:
            name_figures(f"drives.{drive.id}.checks.{finding.code}", finding.use, figures)
    for finding in together.findings:
        name_figures(f"checks.{finding.code}", finding.use, figures)
    findings = sorted((*together.findings, *(x for d in drives.values() for x in d.findings)), key=f.order)
    return Assessment(build, bound, drives, together, figures, findings)


def _ready(at: DriveContext) -> _Ready:
    """A drive with what drives it worked out: a part of the shelf, or the unit's own stage."""
    if at.unit.made_of == "stage":
        built = discrete.evaluate(at)
        at = replace(at, part=built.part)
        return _Ready(at, driver.held_against(at, built), built.circuit)
    chosen = driver.evaluate(at, at.part) if at.part is not None else None
    return _Ready(at, chosen, chosen.circuit if chosen is not None else solve(at, None))


def _built(ready: _Ready) -> StageResult | None:
    return ready.chosen.result if ready.chosen is not None else None


def _demand(ready: _Ready) -> Demand:
    at = ready.at
    mean: Figure = ready.circuit.source_current
    if isinstance(at, Context):
        mean = supply_rules.mean_of_energy(at.load.cycle_energy, at.load.cycle_time, at.volts.nominal)
    return Demand(
        at.drive.id,
        at.drive.name,
        at.source.id,
        mean,
        ready.circuit.source_current,
        ready.circuit.source_start,
        ready.circuit.stall_full,
    )


def _servo(build: Build, drive: ServoDrive, planned: Pulses) -> tuple[ServoDrive, servo.ServoResult]:
    return drive, servo.compute(drive.servo, servo_rail(build, drive), planned.plans[drive.id])


def _pins(build: Build, ready: dict[str, _Ready], planned: Pulses) -> dict[str, tuple[PinUse, ...]]:
    """Pins of every drive, controller by controller."""
    found: dict[str, tuple[PinUse, ...]] = {}
    for name in {d.controller: None for d in build.drives}:
        drives = [d for d in build.drives if d.controller == name]
        wants = {d.id: needed(ready[d.id].at) if d.id in ready else [(PULSE, "pwm")] for d in drives}
        found |= allot(_controller(build, drives[0]), drives, wants, planned.plans)
    return found


def _controller(build: Build, drive: Drive) -> Controller:
    found = next((c for c in build.controllers if c.id == drive.controller), None)
    if found is None:
        found = Controller(id="none")
        bind(found, "controllers.none")
    return found


def _servo_demand(drive: ServoDrive, result: servo.ServoResult) -> Demand:
    return Demand(
        drive.id,
        drive.name,
        drive.rail,
        result.mean_current,
        result.moving_current,
        result.moving_current,
        result.stall_current,
    )


def _needs(at: DriveContext, together: shared.SharedSupply) -> Figure | None:
    found = together.regulator(at.regulator.id) if at.regulator is not None else None
    return found.needs if found is not None else None


def _assess_motor(
    ready: _Ready,
    shelf: list[DriverPart],
    demands: list[Demand],
    together: shared.SharedSupply,
    pins: tuple[PinUse, ...],
) -> MotorAssessment:
    at, chosen, solved = ready.at, ready.chosen, ready.circuit
    assert isinstance(at, Context) and isinstance(solved, Circuit)
    drive = at.drive
    motor_here = at_supply(drive.motor, at.motor, at.volts.nominal, "supply nominal, 25 °C")
    heat = thermal.compute(drive.motor, at.motor, at.load.heat_current, at.build.ambient.hot.leaf)
    feeding = supply.compute(at, solved, demands)
    staged, signalled = stage.compute(at, chosen), signals.compute(at, solved, chosen)
    wired, counted, looped = wiring.compute(at, solved, pins), encoder.compute(at, solved), loop.compute(at, solved)
    tests, controls = bench.steps(at, chosen, counted.counts_per_output_turn), panel.compute(at)
    slow = low_speed.compute(at, solved, counted.counts_per_motor_turn)
    found = [
        *motor_checks.checks(drive.motor, at.motor, drive.id),
        *thermal.checks(drive.motor, heat, at.load.heat_current, drive.id),
        *low_speed.checks(at, slow),
        *load_checks.checks(at, solved, motor_here),
        *supply.checks(at, feeding, _needs(at, together)),
        *driver_checks.checks(at, chosen, motor_here),
        *stage.checks(at, chosen, staged),
        *(stage_checks.checks(at, built) if (built := _built(ready)) is not None else ()),
        *signals.checks(at, signalled),
        *panel.checks(at, controls),
        *wiring.checks(at, wired),
        *encoder.checks(at, counted),
        *loop.checks(at, looped),
    ]
    return MotorAssessment(
        drive=drive,
        context=at,
        motor=at.motor,
        at_supply=motor_here,
        load=at.load,
        circuit=solved,
        chosen=chosen,
        shelf=shelf,
        heat=heat,
        low_speed=slow,
        supply=feeding,
        stage=staged,
        signals=signalled,
        panel=controls,
        wiring=wired,
        encoder=counted,
        loop=looped,
        steps=tests,
        findings=found,
        discrete=_built(ready),
    )


def _assess_load(
    ready: _Ready,
    shelf: list[DriverPart],
    demands: list[Demand],
    together: shared.SharedSupply,
    pins: tuple[PinUse, ...],
) -> LoadAssessment:
    at, chosen, solved = ready.at, ready.chosen, ready.circuit
    assert isinstance(at, LoadContext)
    feeding, controls = supply.compute(at, solved, demands), panel.compute(at)
    staged, signalled, wired = (
        stage.compute(at, chosen),
        signals.compute(at, solved, chosen),
        wiring.compute(at, solved, pins),
    )
    found = [
        *dc_checks.checks(at.drive.load, at.load, at.volts, at.drive.id),
        *supply.checks(at, feeding, _needs(at, together)),
        *driver_checks.checks(at, chosen, None),
        *stage.checks(at, chosen, staged),
        *(stage_checks.checks(at, built) if (built := _built(ready)) is not None else ()),
        *signals.checks(at, signalled),
        *panel.checks(at, controls),
        *wiring.checks(at, wired),
    ]
    return LoadAssessment(
        drive=at.drive,
        context=at,
        circuit=solved,
        chosen=chosen,
        shelf=shelf,
        supply=feeding,
        stage=staged,
        signals=signalled,
        panel=controls,
        wiring=wired,
        steps=bench.load_steps(at, chosen),
        findings=found,
        discrete=_built(ready),
    )


def _assess_servo(
    build: Build, drive: ServoDrive, result: servo.ServoResult, pins: tuple[PinUse, ...]
) -> ServoAssessment:
    controller = _controller(build, drive)
    wired = wiring.for_servo(drive, result, pins)
    found = [
        *servo.checks(drive.servo, result, drive.id, bool(drive.rail)),
        *wiring.servo_checks(drive, wired),
    ]
    return ServoAssessment(
        drive=drive,
        servo=result,
        controller=controller,
        wiring=wired,
        findings=found,
        steps=bench.servo_steps(drive.servo, result),
    )


def _take_readings(done: DriveAssessment, readings: list[Reading]) -> None:
    """Hold readings against the test sheet: verdicts as findings, and what has gone stale."""
    done.findings += _bench_findings(done.drive.id, done.steps, readings)
    by_id = {s.id: s for s in done.steps}
    gone = {r.id: paths for r in readings if (paths := stale(r, by_id.get(r.step)))}
    done.stale_readings = _latest_only(gone, readings)
    done.stale_givens = _stale_givens(done)


def _latest_only(gone: Mapping[str, list[str]], readings: Sequence[Reading]) -> dict[str, list[str]]:
    """A step measured again is fresh: only its last reading counts."""
    last = {r.step: r.id for r in readings}
    return {i: paths for i, paths in gone.items() if i in last.values()}


def _stale_givens(done: DriveAssessment) -> dict[str, list[str]]:
    if not isinstance(done, MotorAssessment):
        return {}
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


def _bench_findings(drive: str, steps: Sequence[bench.Step], readings: Sequence[Reading]) -> list[Finding]:
    last = {r.step: r for r in readings}
    found = []
    for step in steps:
        reading = last.get(step.id)
        if reading is None:
            found.append(
                f.yes_no(
                    f"bench.{step.id}",
                    "bench",
                    step.title,
                    None,
                    "",
                    drive=drive,
                    unknown="Not measured yet.",
                    destructive=False,
                )
            )
        else:
            found.append(
                f.yes_no(
                    f"bench.{step.id}",
                    "bench",
                    f"{step.title}: the reading is right",
                    reading.verdict != "fail",
                    "Measure it again with the setting shown; then look for the cause before going on.",
                    drive=drive,
                    over="warn",
                    destructive=False,
                )
            )
    return found


def name_candidates(done: DrivenAssessment, into: dict[str, Figure]) -> None:
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
            if isinstance(drive, DrivenAssessment):
                name_candidates(drive, assessment.figures)
    named, _, below = id.partition("/")
    if named in assessment.figures:
        return node_below(assessment.figures[named], below)
    given = assessment.bound.givens.get(id)
    if given is not None:
        return given.leaf
    for figure in assessment.figures.values():
        for leaf in leaves(figure):
            if leaf.id == id:
                return leaf
    return None
