"""Looks at every course that a sequence can take: positions, waits and coming to rest are left open.

Each drive alone was looked at with its orders left free (check.py). Here all drives of a sequence are put together by
the few facts that they tell each other: where a motor stands between its limits, whether it moves, whether a load is
on, where a servo is.
"""

from __future__ import annotations

from collections import deque
from collections.abc import Iterator
from dataclasses import dataclass, replace
from itertools import islice, product

from .script import Guard, Order, Script

MOST_STATES = 40_000
"""More are not looked at: so many take about two seconds."""
BACK, BETWEEN, FRONT = 0, 1, 2
ELSEWHERE = -1
"""A servo that is not where an order or an interlock puts it, or on its way."""
NEVER: dict[str, str] = {
    "free": "No step is given against an interlock",
    "steady": "No interlock opens while what it guards moves",
    "one": "No drive gets two orders at once",
    "ends": "It comes to its end from wherever it starts",
}


@dataclass(frozen=True, slots=True)
class Stand:
    """How one drive stands: a motor's place (back, between, front), what moves it (forward, back, slowing, nothing) and
    its order (−1, 0, 1); a load's order (0, 1); a servo's place and where it was sent."""

    place: int = BETWEEN
    moves: str = ""
    order: int = 0
    goal: int = ELSEWHERE


@dataclass(frozen=True, slots=True)
class ScriptCourse:
    """A state of the whole: the step, whether its order was given, and how every drive stands, by its place."""

    step: int
    given: bool
    stands: tuple[Stand, ...]


@dataclass(frozen=True, slots=True)
class CourseVerdict:
    """Whether a course can go wrong, and the one that does, in words; None where it was too much to look at."""

    code: str
    says: str
    holds: bool | None
    steps: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class ScriptChecked:
    """All verdicts, how many states there are, and what was left out."""

    verdicts: tuple[CourseVerdict, ...]
    states: int
    left_out: tuple[str, ...]

    @property
    def holds(self) -> bool:
        return all(v.holds for v in self.verdicts)


LEFT_OUT = (
    "how long a drive needs to its limit",
    "that a limit, a wire or a motor fails: any failure ends the sequence and takes its orders back",
    "hands on the buttons of its drives: they end it too",
)


class _Courses:
    """The search: from every way to stand at the start, everything that can happen next."""

    def __init__(self, script: Script) -> None:
        self.script = script
        self.names = list(script.actors)
        self.at = {n: k for k, n in enumerate(self.names)}
        self.used = self._used()
        self.come_from: dict[ScriptCourse, tuple[ScriptCourse, str]] = {}
        self.found: dict[str, tuple[ScriptCourse, str]] = {}
        self.next: dict[ScriptCourse, list[ScriptCourse]] = {}
        self.begun = 0
        """In how many ways it can stand at the start."""

    def _used(self) -> set[str]:
        """Those that the orders or the interlocks of ordered drives ask for."""
        ordered = {o.actor for o in self.script.orders}
        return ordered | {g.of for g in self.script.guards if g.actor in ordered}

    def starts(self) -> Iterator[ScriptCourse]:
        """All ways to stand at rest."""
        ways: list[list[Stand]] = []
        for name in self.names:
            actor = self.script.actors[name]
            if name not in self.used:
                ways.append([Stand()])
            elif actor.kind == "motor":
                places = [BETWEEN, *([FRONT] if actor.front else []), *([BACK] if actor.back else [])]
                ways.append([Stand(place=p) for p in places])
            elif actor.kind == "load":
                ways.append([Stand(order=0), Stand(order=1)])
            else:
                asked = [o.place for o in self.script.orders if o.actor == name and o.do == "place"]
                asked += [g.place for g in self.script.guards if g.of == name]
                ways.append([Stand(place=p, goal=p) for p in sorted({ELSEWHERE, *asked})])
        begun = (ScriptCourse(0, False, stands) for stands in product(*ways))
        # What an interlock forbids is not so at the start either: the program stops it.
        yield from (c for c in begun if self._broken(c) is None)

    def run(self) -> bool:
        """Explore; whether all of it could be looked at."""
        todo = deque(islice(self.starts(), MOST_STATES + 1))
        self.begun = len(todo)
        seen = set(todo)
        while todo:
            if len(seen) > MOST_STATES:
                return False
            course = todo.popleft()
            for after, says in self._after(course):
                self.next.setdefault(course, []).append(after)
                if after not in seen:
                    seen.add(after)
                    self.come_from[after] = course, says
                    self._look(after)
                    todo.append(after)
        self._look_for_ends(seen)
        return True

    def _name(self, place: int) -> str:
        return self.script.actors[self.names[place]].name

    def _after(self, course: ScriptCourse) -> Iterator[tuple[ScriptCourse, str]]:
        """What can happen next: the step's order, its end, or one drive going on by itself."""
        if course.step < len(self.script.orders):
            order = self.script.orders[course.step]
            if not course.given:
                yield self._give(course, order)
            elif self._done(course, order):
                yield self._finish(course, order)
        for place, stand in enumerate(course.stands):
            for moved, says in self._goes_on(place, stand):
                yield self._with(course, place, moved), f"{self._name(place)} {says}"

    @staticmethod
    def _with(course: ScriptCourse, place: int, stand: Stand) -> ScriptCourse:
        stands = (*course.stands[:place], stand, *course.stands[place + 1 :])
        return replace(course, stands=stands)

    def _give(self, course: ScriptCourse, order: Order) -> tuple[ScriptCourse, str]:
        place = self.at[order.actor]
        stand, name = course.stands[place], self._name(place)
        if order.do in ("forward", "back"):
            way = 1 if order.do == "forward" else -1
            limit = FRONT if way > 0 else BACK
            says = f"step {course.step + 1}: {name} drives {order.do}"
            if stand.order:
                self.found.setdefault("one", (course, says))
            self._guarded(course, order.actor, says)
            moves = "" if stand.place == limit else order.do
            return replace(self._with(course, place, replace(stand, order=way, moves=moves)), given=True), says
        if order.do == "stop":
            moved = replace(stand, order=0, moves="slowing" if stand.moves else "")
            return replace(self._with(course, place, moved), given=True), f"step {course.step + 1}: {name} stops"
        if order.do in ("on", "off"):
            says = f"step {course.step + 1}: {name} is switched {order.do}"
            if order.do == "on":
                self._guarded(course, order.actor, says)
            return replace(self._with(course, place, replace(stand, order=int(order.do == "on"))), given=True), says
        moved = stand if stand.place == order.place else replace(stand, place=ELSEWHERE, goal=order.place)
        says = f"step {course.step + 1}: {name} goes to {order.place / 10:.0f} %"
        return replace(self._with(course, place, moved), given=True), says

    def _guarded(self, course: ScriptCourse, actor: str, says: str) -> None:
        for guard in self.script.guards:
            if guard.actor == actor and not self._fact(course, guard):
                self.found.setdefault("free", (course, says))

    def _fact(self, course: ScriptCourse, guard: Guard) -> bool:
        stand = course.stands[self.at[guard.of]]
        return {
            "at front": stand.place == FRONT,
            "at back": stand.place == BACK,
            "at rest": not stand.moves and not (self.script.actors[guard.of].kind == "load" and stand.order),
            "on": stand.order == 1,
            "off": stand.order == 0,
            "at place": stand.place == guard.place,
        }[guard.fact]

    def _done(self, course: ScriptCourse, order: Order) -> bool:
        stand = course.stands[self.at[order.actor]]
        if order.until == "limit":
            return stand.place == (FRONT if order.do == "forward" else BACK)
        if order.until == "rest":
            return not stand.moves
        if order.until == "there":
            return stand.place == order.place
        return True

    def _finish(self, course: ScriptCourse, order: Order) -> tuple[ScriptCourse, str]:
        place = self.at[order.actor]
        stand = course.stands[place]
        if order.do in ("forward", "back") and order.until != "at once":
            stand = replace(stand, order=0, moves="slowing" if stand.moves else "")
        after = replace(self._with(course, place, stand), step=course.step + 1, given=False)
        waited = "the time is over" if order.until == "time" else "that is so"
        if after.step == len(self.script.orders):
            # At the end all orders to motors are taken back; what is on stays on.
            stands = tuple(
                replace(s, order=0, moves="slowing" if s.moves else "") if self._is_motor(k) else s
                for k, s in enumerate(after.stands)
            )
            return replace(after, stands=stands), "it is at its end"
        return after, "it goes on at once" if order.until == "at once" else waited

    def _is_motor(self, place: int) -> bool:
        return self.script.actors[self.names[place]].kind == "motor"

    def _goes_on(self, place: int, stand: Stand) -> Iterator[tuple[Stand, str]]:
        actor = self.script.actors[self.names[place]]
        if actor.kind == "servo":
            if stand.goal != stand.place:
                yield replace(stand, place=stand.goal), "is there"
            return
        if stand.moves == "slowing":
            yield replace(stand, moves=""), "comes to rest"
        elif stand.moves:
            way = 1 if stand.moves == "forward" else -1
            ahead = stand.place + way
            has = {FRONT: actor.front, BACK: actor.back}.get(ahead, True)
            if has and BACK <= ahead <= FRONT:
                there = ahead in (FRONT, BACK) and ahead != BETWEEN
                says = f"reaches its {'front' if ahead == FRONT else 'back'} limit" if there else "leaves its limit"
                yield replace(stand, place=ahead, moves="" if there else stand.moves), says

    def _look(self, course: ScriptCourse) -> None:
        if (guard := self._broken(course)) is not None:
            self.found.setdefault("steady", (course, guard.says(self.script.actors)))

    def _broken(self, course: ScriptCourse) -> Guard | None:
        """An interlock whose drive runs although it is open."""
        for guard in self.script.guards:
            place = self.at[guard.actor]
            stand = course.stands[place]
            runs = stand.moves if self._is_motor(place) else stand.order
            if runs and not self._fact(course, guard):
                return guard
        return None

    def _look_for_ends(self, seen: set[ScriptCourse]) -> None:
        """Every state leads to the end: looked at backwards from there."""
        before: dict[ScriptCourse, list[ScriptCourse]] = {}
        for course, after in self.next.items():
            for one in after:
                before.setdefault(one, []).append(course)
        good = {c for c in seen if c.step == len(self.script.orders)}
        todo = list(good)
        while todo:
            for one in before.get(todo.pop(), []):
                if one not in good:
                    good.add(one)
                    todo.append(one)
        stuck = next((c for c in seen if c not in good), None)
        if stuck is not None:
            self.found.setdefault("ends", (stuck, f"step {stuck.step + 1} waits for ever"))

    def way_to(self, code: str) -> tuple[str, ...]:
        """What happens on the shortest way to what is wrong."""
        course, says = self.found[code]
        made = [says] if code != "steady" else [f"and yet: {says}"]
        while course in self.come_from:
            course, said = self.come_from[course]
            made.append(said)
        return (self._begins(course), *reversed(made))

    def _begins(self, course: ScriptCourse) -> str:
        told = []
        for place, stand in enumerate(course.stands):
            actor = self.script.actors[self.names[place]]
            if self.names[place] not in self.used:
                continue
            if actor.kind == "motor" and (actor.front or actor.back):
                words = {FRONT: "at its front limit", BACK: "at its back limit", BETWEEN: "between its limits"}
                told.append(f"{actor.name} {words[stand.place]}")
            elif actor.kind == "load":
                told.append(f"{actor.name} {'on' if stand.order else 'off'}")
            elif actor.kind == "servo":
                where = "anywhere" if stand.place == ELSEWHERE else f"at {stand.place / 10:.0f} %"
                told.append(f"{actor.name} {where}")
        return f"it starts with {', '.join(told)}" if told else "it starts"


def check_script(script: Script) -> ScriptChecked:
    """Every course of a sequence; verdicts are None where there are too many states to look at all."""
    courses = _Courses(script)
    whole = courses.run()
    verdicts = tuple(
        CourseVerdict(
            code,
            says,
            False if code in courses.found else True if whole else None,
            courses.way_to(code) if code in courses.found else (),
        )
        for code, says in NEVER.items()
    )
    left_out = LEFT_OUT if whole else (*LEFT_OUT, f"what lies beyond {MOST_STATES:,} states")
    return ScriptChecked(verdicts, len(courses.come_from) + courses.begun, left_out)
