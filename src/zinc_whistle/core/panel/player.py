"""A sequence in time, tick by tick, and the interlocks: the reference that both generated programs are held against."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from .script import Guard, Script, ticks_of

HANDS = ("forward", "back", "run_forward", "run_back", "home")
"""Buttons that end a sequence when they are touched on one of its drives."""
UPSET = ("waiting", "stopped", "failed")
"""Modes in which a drive takes no orders: a sequence ends there."""


@dataclass(slots=True)
class DriveReport:
    """What a drive tells the others: its limits, whether it rests, whether it takes orders, whether hands are on it."""

    at_front: bool = False
    at_back: bool = False
    rests: bool = True
    upset: bool = False
    touched: bool = False


@dataclass(slots=True)
class Placed:
    """Where a servo was sent (None: no pulses), and for how many ticks."""

    place: int | None = None
    ticks: int = 0
    by_port: bool = True
    """Sent by the port, or by what the port began: its silence ends that."""


@dataclass(slots=True)
class Player:
    """Plays one sequence at a time. ``orders`` hold for each drive −1, 0 or 1."""

    scripts: Sequence[Script]
    tick_ms: int = 1
    playing: int = 0
    """The number of the sequence that runs, from 1; 0: none."""
    step: int = 0
    given: bool = False
    ticks: int = 0
    by_port: bool = False
    orders: dict[str, int] = field(default_factory=dict)

    def play(self, number: int, by_port: bool) -> None:
        """Begin a sequence anew, or end (0): all orders are taken back first."""
        self.orders.clear()
        self.playing, self.step, self.given, self.ticks, self.by_port = number, 0, False, 0, by_port

    def tick(self, told: Mapping[str, DriveReport], servos: Mapping[str, Placed], silent: bool) -> None:
        """One tick, before the drives': orders are given, waited for, and taken back. Changes where servos are sent."""
        if not self.playing:
            return
        script = self.scripts[self.playing - 1]
        involved = {o.actor for o in script.orders}
        if (self.by_port and silent) or any(told[a].upset or told[a].touched for a in involved if a in told):
            self.play(0, False)
            return
        order = script.orders[self.step]
        if not self.given:
            self.given, self.ticks = True, 0
            if order.do == "place":
                sent = servos[order.actor]
                sent.place, sent.ticks, sent.by_port = order.place, 0, self.by_port
            else:
                self.orders[order.actor] = {"forward": 1, "back": -1, "on": 1}.get(order.do, 0)
        else:
            self.ticks += 1
        if not self._done(told):
            return
        if order.do in ("forward", "back") and order.until != "at once":
            self.orders[order.actor] = 0
        self.step, self.given = self.step + 1, False
        if self.step == len(script.orders):
            self.playing = 0
            for actor in script.actors.values():
                if actor.kind == "motor":
                    self.orders[actor.id] = 0

    def _done(self, told: Mapping[str, DriveReport]) -> bool:
        order = self.scripts[self.playing - 1].orders[self.step]
        if order.until in ("time", "there"):
            return self.ticks >= ticks_of(order.ms, self.tick_ms)
        if order.until == "at once":
            return True
        here = told[order.actor]
        if order.until == "rest":
            return here.rests and self.ticks > 0
        return here.at_front if order.do == "forward" else here.at_back


def locked(
    guards: Sequence[Guard], told: Mapping[str, DriveReport], servos: Mapping[str, Placed], tick_ms: int
) -> set[str]:
    """The drives that an open interlock stops."""
    found = set()
    for guard in guards:
        if guard.fact == "at place":
            servo = servos[guard.of]
            holds = servo.place == guard.place and servo.ticks >= ticks_of(guard.ms, tick_ms)
        else:
            other = told[guard.of]
            holds = {
                "at front": other.at_front,
                "at back": other.at_back,
                "at rest": other.rests,
                "on": not other.rests,
                "off": other.rests,
            }[guard.fact]
        if not holds:
            found.add(guard.actor)
    return found
