"""A build on one page, for a club or a friend: what it is, what decided, what was measured, what is still tight."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from ..core.algebra.quantities import phrase
from ..core.assess import Assessment, DriveAssessment
from ..core.design.bill import bill
from ..core.model.reading import Reading
from ..core.tries import NO_FIGURE, side_by_side
from .circuit_view import CircuitView, circuit_view
from .log_report import VERDICTS, LogLine, plain
from .overview import spot_text
from .wiring_views import HarnessView, harness_view

MOST_SPOTS = 5


@dataclass(frozen=True, slots=True, kw_only=True)
class ShowLine:
    """A name and what it comes to."""

    title: str
    text: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ShowDrive:
    """A drive: what it is made of, and the figures by which it was decided."""

    name: str
    made_of: list[ShowLine]
    decided: list[ShowLine]
    circuit: CircuitView | None


@dataclass(frozen=True, slots=True, kw_only=True)
class ShowReading:
    """A reading that stands: what was measured, what it read, what was expected then, and the verdict of that time."""

    title: str
    drive: str
    text: str
    expected: str
    verdict: str
    stale: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class ShowPicture:
    """A picture of the log."""

    id: str
    says: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ShowView:
    """The whole page. ``price`` is what the priced lines of the bill come to, and ``unpriced`` how many have none."""

    name: str
    note: str
    issue: str
    drives: list[ShowDrive]
    stops: int
    unknown: int
    tight: list[str]
    measured: list[ShowReading]
    price: str
    unpriced: int
    open: list[str]
    pictures: list[ShowPicture]
    harness: HarnessView | None


def show_view(done: Assessment, readings: Sequence[Reading], log: Iterable[LogLine]) -> ShowView:
    """A build that is worked out, with its readings and its log."""
    entries = [e for e in log if not e.withdrawn]
    first = next(iter(done.drives.values()), None)
    cost = bill(done.build, first.wiring.netlist) if first is not None else None
    return ShowView(
        name=done.build.name,
        note=done.build.note.strip(),
        issue=done.build.issue,
        drives=[_drive(done, d) for d in done.drives.values()],
        stops=sum(1 for x in done.findings if x.stops),
        unknown=sum(1 for x in done.findings if x.verdict == "unknown"),
        tight=[spot_text(x) for x in done.spots() if x.stops or x.tight or x.verdict == "exceeded"][:MOST_SPOTS],
        measured=_measured(done, readings),
        price=f"{cost.known:.2f} €" if cost is not None and cost.known > 0 else "",
        unpriced=cost.unpriced if cost is not None else 0,
        open=[e.details.get("undo") or e.text for e in entries if e.open],
        pictures=[ShowPicture(id=e.id, says=e.text or e.file) for e in entries if e.file.endswith(".jpg")],
        harness=harness_view(done, first) if first is not None else None,
    )


def _drive(done: Assessment, drive: DriveAssessment) -> ShowDrive:
    id, build = drive.drive.id, done.build
    made: list[tuple[str, str]] = []
    motor, driven = drive.of_motor, drive.driven
    if motor is not None:
        made.append(("Motor", motor.drive.motor.name))
    if driven is not None:
        unit = next((u for u in build.units if u.id == driven.drive.unit), None)
        if unit is not None:
            made.append(("Driver", unit.part.name if unit.made_of == "part" and unit.part is not None else unit.name))
            source = next((s for s in build.supply.sources if s.id == unit.source), None)
            if source is not None:
                made.append(("Supply", source.name or source.id))
    controller = next((c for c in build.controllers if c.id == drive.drive.controller), None)
    if controller is not None:
        made.append(("Controller", controller.name))
    lines = [f for f in side_by_side([done]).figures if f.drive == id and f.texts[0] not in (NO_FIGURE, "not known")]
    return ShowDrive(
        name=drive.drive.name or id,
        made_of=[ShowLine(title=t, text=x) for t, x in made if x.strip()],
        decided=[ShowLine(title=f.title, text=f.texts[0]) for f in lines],
        circuit=circuit_view(driven) if driven is not None and driven.chosen is not None else None,
    )


def _measured(done: Assessment, readings: Sequence[Reading]) -> list[ShowReading]:
    """The last reading of each step that was not withdrawn."""
    last = {(r.drive, r.step): r for r in readings if not r.withdrawn}
    found = []
    for drive in done.drives.values():
        for step in drive.steps:
            r = last.get((drive.drive.id, step.id))
            if r is None:
                continue
            kind = step.expected.kind.name if step.expected is not None else ""
            found.append(
                ShowReading(
                    title=step.title,
                    drive=drive.drive.name or drive.drive.id,
                    text=r.text,
                    expected=phrase(r.expected, kind) if r.expected is not None and kind else "",
                    verdict=r.verdict,
                    stale=r.id in drive.stale_readings,
                )
            )
    return found


def show_markdown(view: ShowView, pictures: dict[str, str]) -> str:
    """The page as Markdown; ``pictures`` tells where a picture lies beside, by an entry's id, ``circuit-1`` (of the
    first drive) and so on, or ``harness``."""
    out = [f"# {plain(view.name)}", "", f"Board {plain(view.issue)}."]
    if view.note:
        out += ["", plain(view.note)]
    for n, d in enumerate(view.drives, 1):
        out += ["", f"## {plain(d.name)}", ""]
        out += [f"- {x.title}: {plain(x.text)}" for x in d.made_of]
        if d.decided:
            out += ["", "| What decided | |", "|---|---|"]
            out += [f"| {plain(x.title)} | {plain(x.text)} |" for x in d.decided]
        if (drawn := pictures.get(f"circuit-{n}")) is not None:
            out += ["", f"![Circuit of {plain(d.name)}]({drawn})"]
    if "harness" in pictures:
        out += ["", "## How it is wired", "", f"![Harness]({pictures['harness']})"]
    out += ["", "## How it stands", "", stand_words(view), *(f"- {plain(x)}" for x in view.tight)]
    out += ["", "## Measured", ""]
    if not view.measured:
        out.append("Nothing yet.")
    for r in view.measured:
        expected = f", expected {r.expected}" if r.expected else ""
        stale = "; something changed since" if r.stale else ""
        out.append(f"- {plain(r.title)}, {plain(r.drive)}: {plain(r.text)}{expected}: {VERDICTS[r.verdict]}{stale}")
    out += ["", "## What it cost", "", cost_words(view)]
    if view.open:
        out += ["", "## Still open", "", *(f"- {plain(x)}" for x in view.open)]
    for p in view.pictures:
        if p.id in pictures:
            out += ["", f"![{plain(p.says)}]({pictures[p.id]})"]
    return "\n".join(out) + "\n"


def stand_words(view: ShowView) -> str:
    """How a build stands, in a sentence; what is not known is never told as held."""
    if not view.drives:
        return "It has no drive yet."
    said = f"{view.stops} of its checks stop it." if view.stops else "No check stops it."
    if view.unknown:
        said += f" {view.unknown} cannot be told yet."
    return said + (" Nearest to their limits:" if view.tight else "")


def cost_words(view: ShowView) -> str:
    """What is known of its price, and of how much nothing is."""
    if not view.price:
        return "No part has a price yet."
    return f"{view.price} for the parts that have a price" + (
        f"; {view.unpriced} lines of the bill have none." if view.unpriced else "."
    )
