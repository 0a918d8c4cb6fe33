"""All builds at a glance: how each stands and what to do next, and what they teach one another."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from ..core.algebra.findings import Finding
from ..core.algebra.quantities import phrase
from ..core.assess import Assessment, DriveAssessment, State
from ..core.model.build import MotorDrive
from ..core.model.given import Given
from ..core.model.reading import Reading
from ..core.stations import BY_ID, TABLE
from .log_report import LogLine
from .views import CheckState, finding_view

WORST: tuple[State, ...] = ("stops", "stale", "tight", "open", "holds")


@dataclass(frozen=True, slots=True, kw_only=True)
class CardStamp:
    """A station of a build: the worst of its drives."""

    station: str
    title: str
    mark: str
    """Its key, as the list of stations shows it."""
    state: State
    text: str


@dataclass(frozen=True, slots=True, kw_only=True)
class CardMargin:
    """A limit of a build: how much of it is used (2 stands for all beyond), and whether that stops, warns or holds."""

    title: str
    use: float
    state: CheckState


@dataclass(frozen=True, slots=True, kw_only=True)
class CardView:
    """A build in a line: what it drives, its stations, its tightest spot, and what to do next."""

    build: str
    drives: str
    stamps: list[CardStamp]
    tightest: str
    margins: list[CardMargin]
    """Every limit of which the use is known, nearest first; of many the nearest."""
    next: str
    station: str
    drive: str
    """Where what comes next is done."""


@dataclass(frozen=True, slots=True, kw_only=True)
class MotorSeen:
    """A motor of a build in numbers, and by what it is known."""

    build: str
    build_name: str
    drive: str
    drive_name: str
    numbers: list[str]
    known_by: str
    measured: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class LoopSeen:
    """A loop that is closed in a build, and whether its tuning still stands on what it stood on."""

    build: str
    build_name: str
    drive: str
    drive_name: str
    gains: list[str]
    tuned: bool
    stale: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class FailureSeen:
    """Something that failed in a build."""

    build: str
    build_name: str
    at: str
    text: str
    cause: str
    open: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class BuildOverview:
    """What one build brings."""

    card: CardView
    motors: list[MotorSeen]
    loops: list[LoopSeen]
    failures: list[FailureSeen]


@dataclass(frozen=True, slots=True, kw_only=True)
class Overview:
    """Everything of all builds, in the order of the list."""

    cards: list[CardView]
    motors: list[MotorSeen]
    loops: list[LoopSeen]
    failures: list[FailureSeen]


def build_overview(id: str, done: Assessment, readings: Iterable[Reading], log: Iterable[LogLine]) -> BuildOverview:
    """A build that is worked out, with its readings and log."""
    name = done.build.name
    motors, loops = [], []
    for drive in done.drives.values():
        if isinstance(drive.drive, MotorDrive):
            motors.append(_motor(id, name, drive))
            if drive.drive.loop.closed == "yes" and drive.drive.loop.gain.value is not None:
                loops.append(_loop(id, name, drive))
    failures = [
        FailureSeen(
            build=id,
            build_name=name,
            at=e.at,
            text=e.text,
            cause=e.details.get("cause", ""),
            open=e.open and not e.settled,
        )
        for e in log
        if e.topic == "failure" and not e.withdrawn
    ]
    return BuildOverview(card=_card(id, done, readings), motors=motors, loops=loops, failures=failures)


def _card(id: str, done: Assessment, readings: Iterable[Reading]) -> CardView:
    stamps = []
    for row in TABLE:
        own = [done.stamp(d.drive.id, row.id) for d in done.drives.values() if row.id in d.stations]
        # A log is never finished: its stamp tells nothing.
        if own and row.id != "log":
            worst = min(own, key=lambda s: WORST.index(s.state))
            stamps.append(CardStamp(station=row.id, title=row.title, mark=row.key, state=worst.state, text=worst.text))
    spots = done.spots()
    words, station, drive = _next(done, spots, list(readings))
    kinds = [d.kind for d in done.build.drives]
    counted = [f"{kinds.count(k)} {k}{'' if kinds.count(k) == 1 else 's'}" for k in dict.fromkeys(kinds)]
    return CardView(
        build=id,
        drives=", ".join(counted),
        stamps=stamps,
        tightest=spot_text(spots[0]) if spots else "",
        margins=_margins(spots),
        next=words,
        station=station,
        drive=drive,
    )


MOST_MARGINS, FAR_BEYOND = 40, 2.0
"""So many bars are still told apart on a card; what is used twice over, or has no room at all, stands at its top."""


def _margins(spots: Iterable[Finding]) -> list[CardMargin]:
    uses = [(x, FAR_BEYOND if x.used < 0 else min(x.used, FAR_BEYOND)) for x in spots if x.used is not None]
    nearest = sorted(uses, key=lambda found: -found[1])[:MOST_MARGINS]
    return [CardMargin(title=x.title, use=use, state=finding_view(x).state) for x, use in nearest]


def spot_text(x: Finding) -> str:
    """A finding in a line: what, how much of its limit is used, and at which station."""
    used = f" {x.used:.0%}".replace("%", " %") if x.used is not None else ""
    return f"{x.title}{used}, {BY_ID[x.station].title}" if x.station in BY_ID else f"{x.title}{used}"


def _next(done: Assessment, spots: list[Finding], readings: list[Reading]) -> tuple[str, str, str]:
    """What comes next: what stops, else what is not known, else what is stale, else the bench."""
    stop = next((x for x in spots if x.stops), None)
    if stop is not None:
        return f"Mend: {stop.title}", stop.station, stop.drive
    for drive in done.drives.values():
        unknown = next((x for x in drive.findings if x.verdict == "unknown" and x.station != "bench"), None)
        if unknown is not None:
            return f"Not known yet: {unknown.title}", unknown.station, drive.drive.id
    for drive in done.drives.values():
        if drive.stale_readings or drive.stale_givens:
            return "Measure again what has gone stale", "bench", drive.drive.id
    for drive in done.drives.values():
        passed = {r.step for r in readings if r.drive == drive.drive.id and not r.withdrawn and r.verdict == "pass"}
        left = [s for s in drive.steps if s.id not in passed]
        if left:
            return f"Measure: {left[0].title} ({len(left)} steps left)", "bench", drive.drive.id
    return "Everything holds and is measured", "log", ""


def _given(given: Given, unit: str = "") -> str:
    return given.text if not given.text[-1:].isdigit() or not unit else f"{given.text} {unit}"


KNOWN = {"readings": "readings", "data sheet": "its data sheet or label", "spin-up": "a captured spin-up"}


def _motor(id: str, name: str, done: DriveAssessment) -> MotorSeen:
    motor = done.of_motor
    assert motor is not None
    at, drive = motor.motor, motor.drive
    figures: Mapping[str, object] = {
        "R": at.resistance_25,
        "K": at.motor_constant,
        "friction": at.friction_a,
    }
    numbers = [f"{k} {phrase(f.value, f.kind.name)}" for k, f in figures.items() if f.value is not None]  # type: ignore[attr-defined]
    by = drive.motor.known_by
    return MotorSeen(
        build=id,
        build_name=name,
        drive=drive.id,
        drive_name=drive.name or drive.id,
        numbers=numbers,
        known_by=KNOWN.get(by, by),
        measured=by != "data sheet" and bool(numbers),
    )


def _loop(id: str, name: str, done: DriveAssessment) -> LoopSeen:
    motor = done.of_motor
    assert motor is not None
    drive = motor.drive
    loop = drive.loop
    told = {"gain": (loop.gain, "%/rpm"), "integral time": (loop.integral, "ms"), "period": (loop.period, "ms")}
    path = loop.gain.leaf.id
    return LoopSeen(
        build=id,
        build_name=name,
        drive=drive.id,
        drive_name=drive.name or drive.id,
        gains=[f"{k} {_given(g, unit)}" for k, (g, unit) in told.items() if g.value is not None],
        tuned=loop.gain.origin == "measured",
        stale=path in done.stale_givens,
    )


def joined(parts: Iterable[BuildOverview]) -> Overview:
    """What all builds bring together: failures the newest first."""
    all = list(parts)
    return Overview(
        cards=[p.card for p in all],
        motors=[m for p in all for m in p.motors],
        loops=[x for p in all for x in p.loops],
        failures=sorted((f for p in all for f in p.failures), key=lambda f: f.at, reverse=True),
    )
