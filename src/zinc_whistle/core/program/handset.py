"""The program of a handset: reads its buttons, tells them again and again, and lights its lamp while it is answered.

pins and buttons → a line every period → the answer → the lamp. One model, and the same in C and in MicroPython.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from ..model.signals import Controller, Pin
from .protocol import LONGEST, crc8, framed, unframed

DEBOUNCE_MS = 20
SPREAD = 1024
"""256 of it is the most that a check of eight bits takes off."""
ANSWERED_FOR = 3
"""The lamp stays lit for so many periods after an answer; an answer to one of so many lines counts."""


@dataclass(frozen=True, slots=True)
class HandsetProgram:
    """All that a handset's program holds; ``buttons`` are names and pins by their bits, each to ground."""

    build: str
    name: str
    controller: Controller
    clock_hz: float
    address: int
    number: int
    period_ms: int
    buttons: tuple[tuple[str, Pin], ...]
    lamp: Pin
    tick_ms: int


def gap_ms(program: HandsetProgram, sequence: int) -> int:
    """The time from a line to the next: up to a quarter less than the period, as by dice, from line to line. Two
    handsets that kept the same time would meet in the air again and again."""
    return program.period_ms - crc8(bytes((program.number, sequence))) * program.period_ms // SPREAD


@dataclass(slots=True)
class HandsetModel:
    """A handset that runs its program, tick by tick."""

    program: HandsetProgram
    sequence: int = 0
    ms: int = 0
    since: dict[int, int] = field(default_factory=dict)
    steady: int = 0
    answered_ms: int = -1
    """How long ago it was answered; below 0: never."""
    _line: str = ""

    def receive(self, text: str) -> None:
        """Characters that come by radio."""
        for char in text:
            if char == "\n":
                said = unframed(self._line)
                last = [(self.sequence - k) % 256 for k in range(ANSWERED_FOR)]
                if said in [f"ok hand {self.program.number} {k}" for k in last]:
                    self.answered_ms = 0
                self._line = ""
            elif char != "\r":
                self._line = (self._line + char)[: LONGEST + 1]

    def tick(self, pressed: Mapping[int, bool]) -> str:
        """One tick with buttons pressed by their bits; a line to send, or nothing."""
        tick = self.program.tick_ms
        wait = max(DEBOUNCE_MS // tick, 1)
        for bit in range(len(self.program.buttons)):
            now, was = bool(pressed.get(bit, False)), bool(self.steady >> bit & 1)
            self.since[bit] = self.since.get(bit, 0) + 1 if now != was else 0
            if self.since[bit] >= wait:
                self.steady, self.since[bit] = self.steady ^ 1 << bit, 0
        self.ms += tick
        if self.answered_ms >= 0:
            self.answered_ms = min(self.answered_ms + tick, 60_000)
        if self.ms < gap_ms(self.program, self.sequence):
            return ""
        self.ms, self.sequence = 0, (self.sequence + 1) % 256
        return framed(f"hand {self.program.address} {self.program.number} {self.sequence} {self.steady}") + "\n"

    @property
    def lit(self) -> bool:
        """Whether its lamp is lit: it was answered a moment ago."""
        return 0 <= self.answered_ms < ANSWERED_FOR * self.program.period_ms
