"""What a modelled controller has of each drive and servo, and the words that it takes."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from ..panel.player import Placed
from ..panel.runtime import Now, Panel, divided
from .planned import DriveProgram, ServoProgram


def mixed(speed: int, turn: int) -> tuple[int, int]:
    """Left and right (‰) from speed and turn: turning right, the left side is the quicker one."""
    left, right = speed + turn, speed - turn
    most = max(abs(left), abs(right), 1000)
    return divided(left * 1000, most), divided(right * 1000, most)


@dataclass(slots=True)
class BoardDrive:
    """A drive's panel and what the port asks of it."""

    program: DriveProgram
    panel: Panel
    way: int = 0
    goal: int | None = None
    home: bool = False
    stop: bool = False
    count: int = 0
    bad: int = 0
    zero: int = 0
    """What is taken off the encoder's own count."""
    sensed: int = 0
    hand: int = 0
    """The handset that has it in hand; 0: none."""
    pressed: frozenset[str] = frozenset()
    """What handsets press of it."""
    contacts: Mapping[str, bool] = field(default_factory=dict)
    knob: int = 0
    now: Now | None = None


@dataclass(slots=True)
class BoardServo:
    program: ServoProgram
    placed: Placed = field(default_factory=Placed)

    @property
    def place(self) -> int | None:
        return self.placed.place

    @place.setter
    def place(self, to: int | None) -> None:
        self.placed.place, self.placed.ticks = to, 0


WORDS = {
    "status": 1,
    "duty": 2,
    "speed": 2,
    "go": 2,
    "move": 2,
    "home": 1,
    "counts": 1,
    "report": 1,
    "sense": 1,
    "play": 1,
    "zero": 1,
    "steer": 2,
    "inputs": 1,
    "prove": 1,
    "hand": 4,
    "gains": 1,
    "tune": 3,
}
"""Commands with numbers, and how many they take."""
NOT_FOR_US = ("ok", "no", "at")
"""What others say: where a radio carries the port, answers of a neighbour are heard, and none of them is answered."""
START_MS = 50
"""Buttons of sequences are not looked at before."""
