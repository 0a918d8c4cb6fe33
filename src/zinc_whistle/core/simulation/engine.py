"""Steps a drive through its schedule: the exact solution between events, each event located and set exactly.

Between events the state after a time t is expm(A t) times the state before. A run of equal PWM periods is one matrix
to a power, worked out for all periods at once by doubling, as far as no event falls into it; periods that pass the same
events are taken together by their map (cycles).
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field
from functools import lru_cache

import numpy as np
import scipy
from numpy.typing import NDArray

from ..algebra.giving_up import go_on
from .course import Course, dips, root
from .cycles import APART, Event, PeriodMap, Piece, agree, bent, period_map, powers
from .plant import BUS, OMEGA, WHEELS, I, Mode, Path, Plant, State, matrix, mode_of

Grid = NDArray[np.float64]
SPREAD = 1.6
"""Inside an interval each event's function is looked at ever later by this factor, from a part of the fastest time
constant on: what settles fast is seen while it moves, and a long coast is not cut into thousands of steps."""
FIRST_ALIKE = 16
"""So many periods with the same events are tried together at first."""
FIRST_BLOCK = 64
"""So many periods are looked at together at first; eight times as many after each that passes without an event."""
MOST_EVENTS = 200_000
TINY = 1e-13
CUT_OFF = "the current is cut off with no way left"


@dataclass(frozen=True, slots=True)
class Phase:
    """A piece of the schedule: ``periods`` of PWM, on by ``on`` for ``duty`` of the period, then by ``off``.

    With ``averaged`` the bus acts for the share ``duty`` all the time, over the whole of the phase. ``shoot_s``:
    at both
    edges of each pulse both switches of a leg are closed for so long.
    """

    periods: int
    period_s: float
    duty: float
    on: Path
    off: Path
    averaged: bool = False
    shoot_s: float = 0.0

    def paths(self) -> list[tuple[Path, float]]:
        """What the bridge does in one period, in order, each for so long (s)."""
        on, shoot = self.duty * self.period_s, self.shoot_s
        made: list[tuple[Path, float]] = [
            (self.on, on - shoot),
            ("shoot", shoot),
            (self.off, self.period_s - on - shoot),
            ("shoot", shoot),
        ]
        return [(path, length) for path, length in made if length > 0]


@dataclass(slots=True)
class Run:
    """States at every edge and event, in pieces of times (n,) and states (n, 5), and the events in words.

    ``length_s``: how long it will be.
    """

    pieces: list[tuple[Grid, Grid]] = field(default_factory=list)
    events: list[tuple[float, str]] = field(default_factory=list)
    length_s: float = math.inf

    def add(self, time: float, x: State) -> None:
        self.pieces.append((np.array([time]), x[None].copy()))

    @property
    def last(self) -> tuple[float, State]:
        """Where it has got to."""
        times, states = self.pieces[-1]
        return float(times[-1]), states[-1]

    def arrays(self) -> tuple[Grid, Grid]:
        """Times (n,) and states (n, 5), edges and events in order."""
        return np.concatenate([t for t, _ in self.pieces]), np.concatenate([x for _, x in self.pieces])


class TooManyEvents(ValueError):
    """A run with more events than it was allowed."""


class Patience:
    """Whether to try again what failed: at once, then later and later."""

    def __init__(self) -> None:
        self.wait, self.pause = 0, 1

    def asks(self) -> bool:
        """Whether it is time, one period on."""
        self.wait -= 1
        return self.wait < 0

    def failed(self) -> None:
        """It did not work: look again twice as late as the last time."""
        self.wait, self.pause = self.pause, min(2 * self.pause, FIRST_BLOCK)

    def worked(self) -> None:
        """It worked: look at once."""
        self.wait, self.pause = 0, 1


class Engine:
    """One drive; keeps the exponentials of its modes."""

    def __init__(self, plant: Plant, most_events: int = MOST_EVENTS) -> None:
        self.plant, self.most_events = plant, most_events
        p = plant
        # What currents, speeds, angles and volts are of the order of: a norm in these units says how far a series
        # reaches.
        volts = max(p.source_v, 1.0)
        self._sizes = np.array([volts / p.resistance_ohm, volts / p.constant, volts / p.constant * 1e-3, volts, 1.0])
        self._matrix = lru_cache(maxsize=256)(lambda mode: matrix(plant, mode))
        self._over: Callable[[Mode, float], State] = lru_cache(maxsize=4096)(
            lambda mode, t: np.asarray(scipy.linalg.expm(self._matrix(mode) * t))
        )

    def rest(self) -> State:
        """Standing still on a charged bus."""
        return np.array([0.0, 0.0, 0.0, self.plant.source_v, 1.0])

    def run(self, schedule: Sequence[Phase], x: State | None = None) -> Run:
        """The states over a schedule. ValueError if events crowd without end."""
        run = Run(length_s=sum(p.periods * p.period_s for p in schedule) or math.inf)
        now, x = 0.0, self.rest() if x is None else np.array(x, dtype=float)
        run.add(now, x)
        for phase in schedule:
            now, x = self._phase(run, now, x, phase)
        return run

    def _phase(self, run: Run, now: float, x: State, phase: Phase) -> tuple[float, State]:
        done, block, alike = 0, FIRST_BLOCK, FIRST_ALIKE
        plain, crowded = Patience(), Patience()
        while (left := phase.periods - done) > 0:
            go_on(now / run.length_s)
            if plain.asks():
                asked = min(block, left)
                count = self._many(run, now, x, phase, asked)
                if count:
                    block = 8 * block if count == asked else FIRST_BLOCK
                    done, (now, x) = done + count, run.last
                    plain.worked()
                    continue
                # An event right ahead, and likely one in each period that follows.
                block = FIRST_BLOCK
                plain.failed()
            pieces = list[Piece]()
            for path, length, duty in _edges(phase):
                now, x = self._interval(run, now=now, x=x, path=path, length=length, duty=duty, pieces=pieces)
            done += 1
            cycle = self._cycle(pieces) if phase.periods - done > 2 and crowded.asks() else None
            while cycle is not None and phase.periods - done > 2:
                count, cycle, alike = self._alike(run, now, phase, cycle, min(alike, phase.periods - done - 1))
                if not count:
                    crowded.failed()
                    break
                done, (now, x) = done + count, run.last
                crowded.worked()
        return now, x

    def _cycle(self, pieces: Sequence[Piece]) -> PeriodMap | None:
        """The map of a period; its moments never come twice, so nothing of it is kept."""
        return period_map(
            pieces, self._matrix, lambda mode, t: np.asarray(scipy.linalg.expm(self._matrix(mode) * t)), self._sizes
        )

    def _alike(
        self, run: Run, now: float, phase: Phase, cycle: PeriodMap, wanted: int
    ) -> tuple[int, PeriodMap | None, int]:
        """Periods that pass the same events as a known one, by its map: how many they were, a later period's map, and
        how many to try next. What the map is off by at the last of them is worked out event by event and taken into
        account; where that is much, they are fewer."""
        x, count = run.last[1], wanted
        while count >= 2:
            starts = powers(cycle.whole, x, count + 1)
            count = min(count, agree(cycle, starts[:-1], lambda p: self._events(p.mode, p.path, p.duty), self._sizes))
            if count < 2:
                break
            trial, pieces = Run(), list[Piece]()
            at, end = now + count * phase.period_s, starts[count]
            for path, length, duty in _edges(phase):
                at, end = self._interval(trial, now=at, x=end, path=path, length=length, duty=duty, pieces=pieces)
            off = cycle.apart(starts[count], end, self._sizes) if cycle.passes_as(pieces) else math.inf
            if off * count > APART:
                count //= 2
                continue
            starts = bent(cycle.whole, x, end - cycle.whole @ starts[count], count)
            times, states = cycle.rows(starts[:-1])
            begins = now + phase.period_s * np.arange(count)
            states[:, -1] = starts[1:]
            run.pieces.append(((begins[:, None] + times).ravel(), states.reshape(-1, states.shape[-1])))
            run.events += trial.events
            more = min(max(0.8 * (APART / (off * count)) ** (1 / 3), 0.5), 4.0) if off else 4.0
            return count, self._cycle(pieces), max(int(more * count), 2)
        return 0, None, FIRST_ALIKE

    def _many(self, run: Run, now: float, x: State, phase: Phase, wanted: int) -> int:
        """As many whole periods as pass without an event, worked out at once; how many they were."""
        if wanted < 4 or "cut" in (phase.on, phase.off):
            return 0
        modes, steps, at = [], [], x
        for path, length, duty in _edges(phase):
            mode = mode_of(self.plant, path, at, duty)
            modes.append(mode)
            steps.append(self._over(mode, length))
            at = steps[-1] @ at
        whole = np.linalg.multi_dot([*reversed(steps)]) if len(steps) > 1 else steps[0]
        starts = powers(whole, x, wanted)
        count, inner = wanted, [starts]
        for step in steps[:-1]:
            inner.append(inner[-1] @ step.T)
        for k, (mode, (path, length, duty)) in enumerate(zip(modes, _edges(phase), strict=True)):
            before, after = (
                inner[k],
                inner[k + 1] if k + 1 < len(inner) else np.vstack([starts[1:], whole @ starts[-1]]),
            )
            crossed = self._crossed(mode, path=path, before=before, after=after, duty=duty, length=length)
            if crossed.any():
                count = min(count, int(np.argmax(crossed)))
        if count < 2:
            return 0
        lengths = [length for _, length, _ in _edges(phase)]
        offset = 0.0
        columns = []
        for k, length in enumerate(lengths):
            offset += length
            after = (
                inner[k + 1][:count]
                if k + 1 < len(inner)
                else np.vstack([starts[1:count], (whole @ starts[count - 1])[None]])
            )
            columns.append((offset, after))
        times = np.stack([now + phase.period_s * np.arange(count) + o for o, _ in columns], axis=1).ravel()
        states = np.stack([a for _, a in columns], axis=1).reshape(-1, 5)
        run.pieces.append((times, states))
        return count

    def _crossed(
        self, mode: Mode, path: Path, before: Grid, after: Grid, duty: float, length: float
    ) -> NDArray[np.bool_]:
        """Where an event's function changes sign between two rows of states, or may dip below zero on the way."""
        crossed = np.zeros(len(before), dtype=bool)
        rates = length * self._matrix(mode).T
        for event in self._events(mode, path, duty):
            function = event.function
            a, b = function(before), function(after)
            crossed |= (a > 0) & (b <= 0) | (b < -TINY)
            falls, rises = function(before + before @ rates) - a, function(after + after @ rates) - b
            crossed |= dips(a, b, falls, rises)
        return crossed

    def _events(self, mode: Mode, path: Path, duty: float) -> list[Event]:
        """What ends a mode."""
        p = self.plant
        found: list[Event] = []
        if mode.flows and (path in WHEELS or path == "off" or mode.drop_v):
            sign = mode.flows
            found.append(Event("the current ends", lambda x: sign * x[..., I], I))
        if mode.open and path != "cut":
            found.append(self._begins(mode, path, duty))
        if mode.motion:
            turn = mode.motion
            found.append(Event("it stops", lambda x: turn * x[..., OMEGA], OMEGA))
        else:
            found.append(Event("it breaks away", lambda x: p.stiction_nm - abs(p.constant * x[..., I] - p.load_nm)))
        if not p.sinks:
            side = 1.0 if mode.source else -1.0
            words = "the source gives no more" if mode.source else "the source gives again"
            found.append(Event(words, lambda x: side * (p.source_v - x[..., BUS]), BUS, p.source_v))
        if p.clamp_v is not None:
            limit, over = p.clamp_v, -1.0 if mode.clamp else 1.0
            words = "the clamp opens" if not mode.clamp else "the clamp shuts"
            found.append(Event(words, lambda x: over * (limit - x[..., BUS]), BUS, limit))
        return found

    def _begins(self, mode: Mode, path: Path, duty: float) -> Event:
        """What makes current flow in a path where none does."""
        p, swing = self.plant, {"forward": duty, "back": -duty}.get(path, 0.0)
        if path == "off":
            again = lambda x: x[..., BUS] + mode.drop_v - abs(p.constant * x[..., OMEGA])  # noqa: E731
        elif path in WHEELS:
            way = WHEELS[path]
            again = lambda x: mode.drop_v + way * p.constant * x[..., OMEGA]  # noqa: E731
        else:
            begins = lambda x: mode.drop_v - abs(swing * x[..., BUS] - p.constant * x[..., OMEGA])  # noqa: E731
            return Event("the current begins", begins)
        return Event("a diode conducts again", again)

    def _interval(
        self, run: Run, now: float, x: State, path: Path, length: float, duty: float, pieces: list[Piece]
    ) -> tuple[float, State]:
        """One interval of one path, through all its events; what it passes is added to ``pieces``."""
        end = now + length
        left = length
        if path == "cut" and x[I]:
            x = x.copy()
            x[I] = 0.0
            run.events.append((now, CUT_OFF))
            run.add(now, x)
        for _ in range(MOST_EVENTS):
            mode = mode_of(self.plant, path, x, duty)
            hit = self._first(mode, path, x, left, duty)
            began = x
            if hit is None:
                x = (
                    self._over(mode, left) @ x
                    if left == length
                    else Course(self._matrix(mode), x, left, self._sizes).one(left)
                )
                pieces.append(
                    Piece(mode=mode, path=path, duty=duty, length=left, begin=began, end=x, set=x, event=None)
                )
                run.add(end, x)
                return end, x
            at, event = hit
            reached = Course(self._matrix(mode), x, at, self._sizes).one(at) if at else x
            x = reached.copy()
            event.put(x)
            x = self._nudged(mode, path, x, event.words)
            pieces.append(
                Piece(mode=mode, path=path, duty=duty, length=at, begin=began, end=reached, set=x, event=event)
            )
            left -= at
            run.events.append((end - left, event.words))
            if len(run.events) > self.most_events:
                raise TooManyEvents("Each pulse of this run goes another way: take the averaged model.")
            run.add(end - left, x)
            if left <= length * 1e-12:
                return end, x
        raise ValueError("events crowd without end: the numbers given make no sense together")

    def _nudged(self, mode: Mode, path: Path, x: State, words: str) -> State:
        """A state on the far side of what was just crossed, where setting it exactly would leave it on the edge."""
        p = self.plant
        if words == "the clamp opens":
            x[BUS] = np.nextafter(x[BUS], np.inf)
        elif words == "the source gives no more":
            x[BUS] = np.nextafter(p.source_v, np.inf)
        elif words == "the source gives again":
            x[BUS] = np.nextafter(p.source_v, -np.inf)
        elif words == "it breaks away":
            x[OMEGA] = np.copysign(1e-12, p.constant * x[I] - p.load_nm)
        elif words in ("a diode conducts again", "the current begins"):
            push = (
                -p.constant * x[OMEGA]
                if path in WHEELS or path == "off"
                else (x[BUS] if path == "forward" else -x[BUS]) - p.constant * x[OMEGA]
            )
            x[I] = np.copysign(1e-12, push)
        return x

    def _first(self, mode: Mode, path: Path, x: State, length: float, duty: float) -> tuple[float, Event] | None:
        """The first event inside an interval and its time; None if there is none."""
        a = self._matrix(mode)
        course = Course(a, x, length, self._sizes)
        places = self._places(length)
        states = course.at(places)
        best: tuple[float, Event] | None = None
        for event in self._events(mode, path, duty):
            at = root(course, places, states, states @ a.T, event.function)
            if at is not None and (best is None or at < best[0]):
                best = (at, event)
        return best

    def _places(self, length: float) -> Grid:
        p = self.plant
        fastest = min(
            p.inductance_h / p.resistance_ohm,
            p.source_ohm * p.bus_f,
            math.sqrt(p.inductance_h * p.bus_f),
            p.clamp_ohm * p.bus_f if p.clamp_v is not None else math.inf,
        )
        first = min(fastest / 4, length / 4)
        count = max(math.ceil(math.log(length / first) / math.log(SPREAD)) + 1, 4)
        return np.array([0.0, *np.geomspace(first, length, count)[:-1], length])


def _edges(phase: Phase) -> Iterator[tuple[Path, float, float]]:
    if phase.averaged:
        yield phase.on, phase.period_s, phase.duty
        return
    on, shoot = phase.duty * phase.period_s, phase.shoot_s
    if not 0 < on < phase.period_s:
        shoot = 0.0
    if on > 0:
        yield phase.on, on - shoot, 1.0
    if shoot:
        yield "shoot", shoot, 1.0
    if on < phase.period_s:
        yield phase.off, phase.period_s - on - shoot, 1.0
    if shoot:
        yield "shoot", shoot, 1.0
