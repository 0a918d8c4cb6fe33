"""Looks at every state that a panel can reach, with every input, for what must never happen.

What is forbidden is told here apart from the machine, in terms of what it does and of what was pressed: the monitor
keeps its own memory (last direction under power, stop seen, all released once, home touched).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..model.panel import INPUTS, PanelSpec
from .lines import Lines, shorts
from .machine import Machine, PanelMode

Bits = NDArray[np.bool_]

FORBIDDEN: dict[str, str] = {
    "limit": "It never drives into a pressed limit",
    "stop": "It never drives with the stop latched",
    "leg": "It never closes both sides of a leg, nor moves a relay under power",
    "direction": "It never changes direction under power",
    "start": "It never drives before all was released once",
    "fault": "It never drives on a fault, a lost wire or a silent port",
    "both": "It never starts with both buttons pressed",
    "homing": "It never moves to a position before homing",
    "trapped": "It can always leave a limit",
}


@dataclass(frozen=True, slots=True)
class PressStep:
    """One step of a counter-example: the inputs that hold, what changed in words, and what the machine then does."""

    inputs: dict[str, bool]
    says: str
    mode: str
    action: str


@dataclass(frozen=True, slots=True)
class Verdict:
    """Whether something forbidden can happen; ``steps`` lead there from power-up."""

    code: str
    says: str
    holds: bool
    steps: tuple[PressStep, ...] = ()


@dataclass(frozen=True, slots=True)
class Checked:
    """All verdicts, and how many states with how many inputs each were looked at."""

    verdicts: tuple[Verdict, ...]
    states: int
    inputs: int

    @property
    def holds(self) -> bool:
        """Nothing forbidden can happen."""
        return all(v.holds for v in self.verdicts)


MEMORIES = 3 * 2 * 2 * 2
"""Last direction under power (none, forward, back) × stop seen × released once × home touched."""


class _StateSearch:
    """One breadth-first search; arrays run over all combinations of the inputs."""

    def __init__(self, machine: Machine, lines: Lines | None, spec: PanelSpec) -> None:
        self.machine, self.lines, self.both_stops = machine, lines, spec.both == "stop"
        count = len(machine.inputs)
        every = np.arange(1 << count)
        self.on: dict[str, Bits] = {n: (every >> k & 1).astype(bool) for k, n in enumerate(machine.inputs)}
        self.never = np.zeros(len(every), dtype=bool)
        self.size = len(every)
        self.place = {m.name: k for k, m in enumerate(machine.modes)}
        self.ways = np.array([{"forward": 1, "back": 2}.get(m.action, 0) for m in machine.modes])
        self.wanted = np.array([m.target == "wanted" for m in machine.modes])
        by_port = [spec.command == "serial" or m.name.startswith(("moving", "homing")) for m in machine.modes]
        self.by_port = np.array(by_port) & (self.ways > 0)
        self.next = {(m.name, h): self._over(m, h) for m in machine.modes for h in (False, True)}
        self.writes_bad = self._bad_writes()
        on = self.input
        # What does not depend on the state is worked out once: it is looked at in every one of them.
        self.always = ~self.never
        self.asked = on("forward") | on("back") | on("home")
        self.quiet = ~(self.asked | (~on("knob_zero") if "knob_zero" in self.on else self.never))
        self.stop_stays = on("stop") | ~on("clear")
        self.hurt = on("fault") | on("knob_lost")
        self.two = on("forward") & on("back") & self.both_stops
        self.come_from: dict[int, tuple[int, int]] = {}
        self.found: dict[str, tuple[int, int]] = {}

    def input(self, name: str) -> Bits:
        """Where an input is on; nowhere if the machine has none of that name."""
        return self.on.get(name, self.never)

    def _over(self, mode: PanelMode, homed: bool) -> tuple[NDArray[np.int64], Bits]:
        """Next mode and homed flag for every combination."""
        values = {**self.on, "homed": np.full(self.size, homed)}
        to, flag = np.full(self.size, self.place[mode.name]), np.full(self.size, homed)
        for holds, rule in self.machine.over(mode.name, values, self.size):
            to[holds] = self.place[rule.to]
            if rule.homed is not None:
                flag[holds] = rule.homed
        return to, flag

    def _bad_writes(self) -> NDArray[np.bool_]:
        modes = self.machine.modes
        bad = np.zeros((len(modes), len(modes)), dtype=bool)
        if self.lines is not None:
            for a, before in enumerate(modes):
                for b, after in enumerate(modes):
                    bad[a, b] = wrong_writes(self.lines, before, after)
        return bad

    def run(self) -> int:
        """Explore; gives how many states there are."""
        start = self._key(0, homed=0, last=0, latched=0, ready=0, home=0)
        seen = np.zeros(len(self.machine.modes) * 2 * MEMORIES, dtype=bool)
        seen[start] = True
        front = [start]
        while front:
            ahead = []
            for state in front:
                keys, valid, wrong = self._expand(state)
                self._note(state, valid, wrong)
                first = np.full(len(seen), -1)
                where = np.flatnonzero(valid)[::-1]
                first[keys[where]] = where
                for key in np.flatnonzero((first >= 0) & ~seen).tolist():
                    seen[key] = True
                    self.come_from[key] = (state, int(first[key]))
                    ahead.append(key)
            front = ahead
        self._look_for_traps(np.flatnonzero(seen).tolist())
        return int(seen.sum())

    @staticmethod
    def _key(mode: Any, homed: Any, last: Any, latched: Any, ready: Any, home: Any) -> Any:
        return ((((mode * 2 + homed) * 3 + last) * 2 + latched) * 2 + ready) * 2 + home

    def parts(self, key: int) -> tuple[int, int, int, int, int, int]:
        """Mode, homed, last direction, stop seen, released once, home touched."""
        key, home = divmod(key, 2)
        key, ready = divmod(key, 2)
        key, latched = divmod(key, 2)
        key, last = divmod(key, 3)
        mode, homed = divmod(key, 2)
        return mode, homed, last, latched, ready, home

    def _valid(self, way: int) -> Bits:
        """What can be: nothing rests while it is driven, and a position lies on one side."""
        valid = ~(self.input("ahead") & self.input("behind"))
        return valid & ~self.input("rested") if way else valid

    def _expand(self, state: int) -> tuple[NDArray[np.int64], Bits, dict[str, Bits]]:
        """The state that each combination leads to, which combinations can be, and where something forbidden is
        done."""
        mode, homed, last, latched, ready, home = self.parts(state)
        to, flag = self.next[self.machine.modes[mode].name, bool(homed)]
        way, valid = int(self.ways[mode]), self._valid(int(self.ways[mode]))
        drives = self.ways[to]
        on = self.input
        stop = self.stop_stays if latched else on("stop")
        released = self.always if ready else self.quiet if way == 0 else self.never
        at_home = self.always if home else on("limit_back") & (self.always if way == 2 else on("home"))
        moving = drives > 0
        wrong = {
            "limit": (drives == 1) & on("limit_front") | (drives == 2) & on("limit_back"),
            "stop": moving & stop,
            "leg": self.writes_bad[mode][to],
            "direction": moving & (drives != last) if last else self.never,
            "start": self.never if ready else moving,
            "fault": moving & (self.hurt | on("stuck") if way else self.hurt) | self._silent(mode, to),
            "both": self.wanted[to] & self.two & moving,
            "homing": moving & ~self.asked & ~at_home if way == 0 else self.never,
        }
        calm = on("rested") & (drives == 0) & (way == 0)
        after = np.where(drives > 0, drives, np.where(calm, 0, last))
        return self._key(to, homed=flag, last=after, latched=stop, ready=released, home=at_home), valid, wrong

    def _silent(self, mode: int, to: NDArray[np.int64]) -> Bits:
        """Driven on by a port that has fallen silent: with serial commands any drive, else moves and homing."""
        if not self.by_port[mode]:
            return self.never
        found: Bits = self.input("link_lost") & self.by_port[to]
        return found

    def _note(self, state: int, valid: Bits, wrong: dict[str, Bits]) -> None:
        for code, where in wrong.items():
            if code not in self.found:
                hit = np.flatnonzero(where & valid)
                if hit.size:
                    self.found[code] = (state, int(hit[0]))

    def _look_for_traps(self, reached: list[int]) -> None:
        """Ready at a limit, the other direction asked for, nothing else on: it must drive away."""
        for limit, away, way in (("limit_front", "back", 2), ("limit_back", "forward", 1)):
            if limit not in self.on or away not in self.on:
                continue
            quiet = {limit, away, "rested"}
            where = np.flatnonzero(
                np.logical_and.reduce([bits == (n in quiet) for n, bits in self.on.items() if n != "knob_zero"])
            )
            for key in reached:
                mode, homed, *_ = self.parts(key)
                if self.machine.modes[mode].name != "idle":
                    continue
                to, _ = self.next["idle", bool(homed)]
                if where.size and not (self.ways[to[where]] == way).all():
                    self.found.setdefault("trapped", (key, int(where[0])))

    def steps(self, code: str) -> tuple[PressStep, ...]:
        """The shortest way there, with as few presses as will do."""
        state, combination = self.found[code]
        legs = [(state, combination, -1)]
        while state in self.come_from:
            before, chosen = self.come_from[state]
            legs.append((before, chosen, state))
            state = before
        made, last = [], 0
        for at, chosen, goal in reversed(legs):
            if goal >= 0:
                keys, valid, _ = self._expand(at)
                alike = np.flatnonzero((keys == goal) & valid)
                chosen = int(min(alike.tolist(), key=lambda c: (bin(c ^ last).count("1"), c)))
            else:
                chosen = self._fewest(code, at, last)
            made.append(self._step(at, chosen, last))
            last = chosen
        return tuple(made)

    def _fewest(self, code: str, state: int, last: int) -> int:
        """Of the inputs that show it in a state, those nearest to the ones before."""
        chosen = self.found[code][1]
        if code == "trapped":
            return chosen
        _, valid, wrong = self._expand(state)
        hits = np.flatnonzero(wrong[code] & valid).tolist()
        return int(min(hits, key=lambda c: (bin(c ^ last).count("1"), c)))

    def _step(self, state: int, chosen: int, last: int) -> PressStep:
        mode, homed, *_ = self.parts(state)
        to = self.machine.modes[int(self.next[self.machine.modes[mode].name, bool(homed)][0][chosen])]
        on = {n: bool(chosen >> k & 1) for k, n in enumerate(self.machine.inputs)}
        before = {n: bool(last >> k & 1) for k, n in enumerate(self.machine.inputs)}
        changes = [
            INPUTS[n][0 if on[n] else 1] for n in self.machine.inputs if on[n] != before[n] and _worth_telling(n, on[n])
        ]
        return PressStep(on, ", ".join(changes) or "wait", to.name, to.action)


def _worth_telling(name: str, on: bool) -> bool:
    """What passes by itself is told when it comes, not when it goes."""
    return on or name not in ("still", "rested", "stuck")


def wrong_writes(lines: Lines, before: PanelMode, after: PanelMode) -> bool:
    """Whether any single write on the way between two modes shorts a leg or moves a coil under pulses."""
    if before.action == after.action:
        return shorts(lines.levels[after.action], lines.leg)
    was = dict(lines.levels[before.action])
    for now in lines.writes(before.action, after.action):
        pulsed = any("PWM" in v for v in was.values())
        if shorts(now, lines.leg) or (pulsed and any(now[c] != was[c] for c in lines.coils)):
            return True
        was = now
    return False


def check(machine: Machine, spec: PanelSpec, lines: Lines | None = None) -> Checked:
    """Every state that can be reached, with every combination of inputs; counter-examples for what can go wrong."""
    search = _StateSearch(machine, lines, spec)
    states = search.run()
    verdicts = tuple(
        Verdict(code, says, code not in search.found, search.steps(code) if code in search.found else ())
        for code, says in FORBIDDEN.items()
    )
    return Checked(verdicts, states, search.size)


def replay(machine: Machine, steps: Sequence[PressStep]) -> list[tuple[str, str]]:
    """The modes and actions that a machine goes through on the inputs of some steps."""
    mode, homed = machine.modes[0].name, False
    found: list[tuple[str, str]] = []
    for step in steps:
        mode, homed, _ = machine.step(mode, homed, step.inputs)
        found.append((mode, machine.by_name[mode].action))
    return found
