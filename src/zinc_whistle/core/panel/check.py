"""Looks at every state that a panel can reach, with every input, for what must never happen.

What is forbidden is told here apart from the machine, in terms of what it does and of what was pressed: the monitor
keeps its own memory (last direction under power, stop seen, all released once, home touched).
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import combinations

from ..model.panel import FOUND, INPUTS, PanelSpec
from .lines import Lines, shorts
from .machine import Machine, PanelMode

Combinations = int
"""A set of combinations of the inputs: a bit for each."""

FORBIDDEN: dict[str, str] = {
    "limit": "It never drives into a pressed limit",
    "stop": "It never drives with the stop latched",
    "leg": "It never closes both sides of a leg, nor moves a relay under power",
    "direction": "It never changes direction under power",
    "start": "It never drives before all was released once",
    "fault": "It never drives on a fault, a lost wire, or after its port or handset fell silent",
    "both": "It never starts with both buttons pressed",
    "homing": "It never moves to a position before homing",
    "ends": "It never drives beyond its ends in counts",
    "locked": "It never drives against its interlock",
    "trapped": "It can always leave a limit",
}


NEEDS = {"ends": "end_front", "locked": "locked"}
"""What a panel must have, so that it is asked at all."""


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


LEAVING = (
    ("limit_front", "back", 2),
    ("limit_back", "forward", 1),
    ("end_front", "back", 2),
    ("end_back", "forward", 1),
)
"""What is left by which button, and the way that it must then drive."""


class _StateSearch:
    """One breadth-first search. All combinations of the inputs are looked at together: a set of them is a whole number
    with a bit for each, so that "and" and "or" of two million combinations take some microseconds."""

    def __init__(self, machine: Machine, lines: Lines | None, spec: PanelSpec) -> None:
        self.machine, self.lines = machine, lines
        self.inputs = len(machine.inputs)
        self.size = 1 << self.inputs
        self.every: Combinations = (1 << self.size) - 1
        self.on: dict[str, Combinations] = {n: _where_set(k, self.inputs) for k, n in enumerate(machine.inputs)}
        self.place = {m.name: k for k, m in enumerate(machine.modes)}
        self.ways = [{"forward": 1, "back": 2}.get(m.action, 0) for m in machine.modes]
        self.wanted = [m.target == "wanted" for m in machine.modes]
        self.by_port = [
            way > 0 and (spec.command == "serial" or m.name.startswith(("moving", "homing")))
            for way, m in zip(self.ways, machine.modes, strict=True)
        ]
        self.next = {(m, h): self._over(m, h) for m in range(len(machine.modes)) for h in (False, True)}
        self.writes_bad = [
            [lines is not None and wrong_writes(lines, before, after) for after in machine.modes]
            for before in machine.modes
        ]
        on, none = self.input, self.without
        # What does not depend on the state is worked out once: it is looked at in every one of them.
        self.asked = on("forward") | on("back") | on("home") | on("run_forward") | on("run_back")
        self.absolute = spec.moves != "relative"
        self.quiet = none(self.asked | (none(on("knob_zero")) if "knob_zero" in self.on else 0))
        self.stop_stays = on("stop") | none(on("clear"))
        self.hurt = on("fault") | on("knob_lost")
        ahead, back = on("forward") | on("run_forward"), on("back") | on("run_back")
        self.two = ahead & back if spec.both == "stop" else 0
        self.possible = none(on("ahead") & on("behind") | on("end_front") & on("end_back"))
        self.come_from: dict[int, tuple[int, int]] = {}
        self.found: dict[str, tuple[int, int]] = {}

    def input(self, name: str) -> Combinations:
        """Where an input is on; nowhere if the machine has none of that name."""
        return self.on.get(name, 0)

    def without(self, some: Combinations) -> Combinations:
        """All combinations but some."""
        return self.every ^ some

    def _over(self, mode: int, homed: bool) -> dict[tuple[int, bool], Combinations]:
        """Where each next mode with its homed flag is reached from a mode."""
        name = self.machine.modes[mode].name
        values = {**self.on, "homed": self.every if homed else 0}
        found: dict[tuple[int, bool], Combinations] = {}
        left = self.every
        for holds, rule in self.machine.over(name, values, self.every):
            if holds:
                to = self.place[rule.to], homed if rule.homed is None else rule.homed
                found[to] = found.get(to, 0) | holds
                left ^= holds
        if left:
            found[mode, homed] = found.get((mode, homed), 0) | left
        return found

    def run(self) -> int:
        """Explore; gives how many states there are."""
        start = self._key(0, homed=False, last=0, latched=False, ready=False, home=False)
        seen, front = {start}, [start]
        while front:
            ahead = []
            for state in front:
                reached, wrong = self._expand(state)
                for code, where in wrong.items():
                    if where and code not in self.found:
                        self.found[code] = state, _lowest(where)
                for key in sorted(reached.keys() - seen):
                    seen.add(key)
                    self.come_from[key] = state, _lowest(reached[key])
                    ahead.append(key)
            front = ahead
        self._look_for_traps(sorted(seen))
        return len(seen)

    @staticmethod
    def _key(mode: int, homed: bool, last: int, latched: bool, ready: bool, home: bool) -> int:
        return ((((mode * 2 + homed) * 3 + last) * 2 + latched) * 2 + ready) * 2 + home

    def parts(self, key: int) -> tuple[int, bool, int, bool, bool, bool]:
        """Mode, homed, last direction, stop seen, released once, home touched."""
        key, home = divmod(key, 2)
        key, ready = divmod(key, 2)
        key, latched = divmod(key, 2)
        key, last = divmod(key, 3)
        mode, homed = divmod(key, 2)
        return mode, bool(homed), last, bool(latched), bool(ready), bool(home)

    def _expand(self, state: int) -> tuple[dict[int, Combinations], dict[str, Combinations]]:
        """The states that can be reached, each with the combinations that lead there, and where something forbidden is
        done."""
        mode, homed, last, latched, ready, home = self.parts(state)
        on, way = self.input, self.ways[mode]
        # Nothing rests while it is driven, and a position lies on one side.
        valid = self.possible & self.without(on("rested")) if way else self.possible
        stop = self.stop_stays if latched else on("stop")
        released = self.every if ready else self.quiet if way == 0 else 0
        at_home = self.every if home else on("limit_back") & (self.every if way == 2 else on("home"))
        reached: dict[int, Combinations] = {}
        wrong: dict[str, Combinations] = {}
        for (to, flag), leads in self.next[mode, homed].items():
            holds = leads & valid
            drives = self.ways[to]
            if drives:
                for code, where in self._forbidden(state, to, stop, at_home).items():
                    wrong[code] = wrong.get(code, 0) | holds & where
            if self.writes_bad[mode][to]:
                wrong["leg"] = wrong.get("leg", 0) | holds
            calm = on("rested") if way == 0 and drives == 0 else 0
            for (is_calm, latch, free, came_home), some in _split(holds, calm, stop, released, at_home):
                after = drives or (0 if is_calm else last)
                key = self._key(to, flag, after, latch, free, came_home)
                reached[key] = reached.get(key, 0) | some
        return reached, wrong

    def _forbidden(self, state: int, to: int, stop: Combinations, at_home: Combinations) -> dict[str, Combinations]:
        """Where it is wrong to drive on, or to begin to, in a mode."""
        mode, _, last, _, ready, _ = self.parts(state)
        on, way, drives = self.input, self.ways[mode], self.ways[to]
        hurt = self.hurt | (on("stuck") | on("over") if way else 0)
        if self.by_port[mode] and self.by_port[to]:
            hurt |= on("link_lost")
        if way:
            hurt |= on("radio_lost")
        return {
            "limit": on("limit_front") if drives == 1 else on("limit_back"),
            "stop": stop,
            "direction": self.every if last and drives != last else 0,
            "start": 0 if ready else self.every,
            "fault": hurt,
            "both": self.two if self.wanted[to] else 0,
            "homing": self.without(self.asked | at_home) if way == 0 and self.absolute else 0,
            "locked": on("locked"),
            "ends": on("end_front") if drives == 1 else on("end_back"),
        }

    def _look_for_traps(self, reached: Sequence[int]) -> None:
        """Ready at a limit, the other direction asked for, nothing else on: it must drive away."""
        for limit, away, way in LEAVING:
            if limit not in self.on or away not in self.on:
                continue
            quiet = {limit, away, "rested"}
            where = self.every
            for name, bits in self.on.items():
                if name != "knob_zero":
                    where &= bits if name in quiet else self.without(bits)
            for key in reached:
                mode, homed, *_ = self.parts(key)
                if self.machine.modes[mode].name != "idle":
                    continue
                stays = 0
                for (to, _), leads in self.next[mode, homed].items():
                    stays |= leads & where if self.ways[to] != way else 0
                if stays:
                    self.found.setdefault("trapped", (key, _lowest(where)))

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
                chosen = self._nearest(self._expand(at)[0][goal], last)
            elif code != "trapped":
                chosen = self._nearest(self._expand(at)[1][code], last)
            made.append(self._step(at, chosen, last))
            last = chosen
        return tuple(made)

    def _nearest(self, some: Combinations, last: int) -> int:
        """Of some combinations the one that differs from the last in the fewest inputs."""
        for changes in range(self.inputs + 1):
            near = [last ^ sum(1 << k for k in which) for which in combinations(range(self.inputs), changes)]
            hits = [c for c in near if some >> c & 1]
            if hits:
                return min(hits)
        raise ValueError("there is no combination to come from")

    def _step(self, state: int, chosen: int, last: int) -> PressStep:
        mode, homed, *_ = self.parts(state)
        to = next(self.machine.modes[t] for (t, _), leads in self.next[mode, homed].items() if leads >> chosen & 1)
        on = {n: bool(chosen >> k & 1) for k, n in enumerate(self.machine.inputs)}
        before = {n: bool(last >> k & 1) for k, n in enumerate(self.machine.inputs)}
        changes = [
            INPUTS[n][0 if on[n] else 1] for n in self.machine.inputs if on[n] != before[n] and _worth_telling(n, on[n])
        ]
        return PressStep(on, ", ".join(changes) or "wait", to.name, to.action)


def _where_set(bit: int, bits: int) -> Combinations:
    """The combinations of so many bits in which one of them is set."""
    block = 1 << bit
    found, length = ((1 << block) - 1) << block, 2 * block
    while length < 1 << bits:
        found |= found << length
        length *= 2
    return found


def _lowest(some: Combinations) -> int:
    """The first of some combinations."""
    return (some & -some).bit_length() - 1


def _split(some: Combinations, *facts: Combinations) -> Iterator[tuple[tuple[bool, ...], Combinations]]:
    """Some combinations parted by facts that hold in some of them; parts in which nothing is left are not told."""
    if not some:
        return
    if not facts:
        yield (), some
        return
    first, rest = facts[0], facts[1:]
    for holds, part in ((True, some & first), (False, some & ~first)):
        yield from (((holds, *more), left) for more, left in _split(part, *rest))


def _worth_telling(name: str, on: bool) -> bool:
    """What passes by itself is told when it comes, not when it goes."""
    return on or name not in FOUND


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
        if NEEDS.get(code, machine.inputs[0]) in machine.inputs
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
