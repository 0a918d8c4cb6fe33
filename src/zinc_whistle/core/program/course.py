"""A sequence played on the model of its controller: who does what when. Drives need the time to their limits that the
builder gives; everything else is what the program does."""

from __future__ import annotations

from dataclasses import dataclass, replace

from .board import Board
from .planned import DriveProgram, ProgramPlan

TICK_MS, EACH_MS, LONGEST_MS = 5, 50, 60_000
"""A tick of the played program, how often it is looked at, and when it is given up."""


@dataclass(frozen=True, slots=True)
class CourseTrack:
    """One drive: duty (%, below 0 back), or a servo's place (% of its travel; None: no pulses)."""

    name: str
    kind: str
    values: list[float | None]


@dataclass(frozen=True, slots=True)
class CourseEvent:
    """What happened, and when (s)."""

    at_s: float
    says: str


@dataclass(frozen=True, slots=True)
class SequenceCourse:
    """Times (s), a track for each drive, what happened, and whether it came to its end."""

    time_s: list[float]
    tracks: list[CourseTrack]
    events: list[CourseEvent]
    ended: bool


def play_course(plan: ProgramPlan, number: int, to_limit_ms: dict[str, int]) -> SequenceCourse:
    """Sequence ``number`` of a plan, from a start at which every motor stands at the limit behind its first step.

    ``to_limit_ms``: how long each motor needs from limit to limit at its wanted duty.
    """
    plan = _in_ticks(plan)
    board, script = Board(plan), plan.scripts[number - 1]
    first: dict[str, str] = {}
    for order in script.orders:
        first.setdefault(order.actor, order.do)
    at = {d.number: 1.0 if first.get(d.id) == "back" else 0.0 for d in plan.drives}
    used = {o.actor for o in script.orders}
    drives = [d for d in plan.drives if d.id in used]
    servos = [s for s in plan.servos if s.id in used]
    times: list[float] = []
    tracks: dict[int, list[float | None]] = {plan.numbers[id]: [] for id in used}
    events: list[CourseEvent] = []
    ms = -300
    step = 0
    while ms < LONGEST_MS:
        if ms == 0:
            board.player.play(number, False)
        board.tick({d.number: _contacts(d, at[d.number]) for d in plan.drives})
        for d in drives:
            at[d.number] += _moved(board, d.number, to_limit_ms.get(d.id, 1000))
        reached = board.player.step + 1 if board.player.playing else len(script.orders) if ms > 0 else 0
        events += [
            CourseEvent(ms / 1000, f"step {k + 1}: {script.actors[script.orders[k].actor].name}")
            for k in range(step, min(reached, len(script.orders)))
        ]
        step = max(step, reached)
        if ms >= 0 and ms % EACH_MS == 0:
            times.append(ms / 1000)
            for d in drives:
                tracks[d.number].append(_duty(board, d.number))
            for s in servos:
                place = board.servos[s.number].place
                tracks[s.number].append(None if place is None else place / 10)
        if ms > 0 and not board.player.playing and all(abs(_duty(board, d.number)) < 1e-9 for d in drives):
            break
        ms += TICK_MS
    names = [CourseTrack(d.name, "drive", tracks[d.number]) for d in drives]
    names += [CourseTrack(s.name, "servo", tracks[s.number]) for s in servos]
    return SequenceCourse(times, names, events, board.player.playing == 0 and step == len(script.orders))


def _in_ticks(plan: ProgramPlan) -> ProgramPlan:
    """The plan for a program that looks every few ms: a course of a minute is played in a moment."""
    if plan.tick_ms != 1:
        return plan
    drives = tuple(replace(d, settings=d.settings.in_ticks(TICK_MS)) for d in plan.drives)
    return replace(plan, drives=drives, tick_ms=TICK_MS)


def _contacts(drive: DriveProgram, at: float) -> dict[str, bool]:
    """Limits as they stand; everything else is let go."""
    there = {c.input for c in drive.contacts}
    found = {"limit_front": at >= 1.0, "limit_back": at <= 0.0}
    return {n: on for n, on in found.items() if n in there}


def _duty(board: Board, number: int) -> float:
    now = board.drives[number].now
    if now is None:
        return 0.0
    way = {"forward": 1, "back": -1}.get(now.action, 0)
    return way * now.level / board.drives[number].program.settings.full * 100


def _moved(board: Board, number: int, to_limit_ms: int) -> float:
    """How far a drive goes in a tick, of its way from limit to limit."""
    settings = board.drives[number].program.settings
    return _duty(board, number) / 100 * settings.full / settings.wanted * TICK_MS / to_limit_ms
