"""Handsets as the board hears them, tick by tick: the reference that both generated programs are held against.

A line counts only from a handset that has *joined*: that sent SYNC lines one after the other, nothing pressed. So what
was repeated or comes late from before a silence never starts anything. A joined one's line must be newer than the last,
and a silence ends it: every button of it is let go, and the drives that it had in hand stop.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

SYNC = 3
"""Lines with nothing pressed, each by a little newer than the one before, with which a handset joins."""
LITTLE = 8
"""Newer by so many at most while it joins."""
NEWER = 127
"""Of 256 numbers, those that count as newer; the others are old lines that come late."""


@dataclass(frozen=True, slots=True)
class RemoteButton:
    """A bit of a handset's line: the number of the drive and the input of its panel."""

    bit: int
    drive: int
    input: str


@dataclass(frozen=True, slots=True)
class Remote:
    """What a board's program holds of its handsets. ``lost_ms`` are ticks once the program's tick is known."""

    address: int
    lost_ms: int
    buttons: Mapping[int, tuple[RemoteButton, ...]]
    """By the number of the handset."""


@dataclass(slots=True)
class Heard:
    """One handset."""

    last: int = 0
    run: int = 0
    joined: bool = False
    bits: int = 0
    quiet: int = 0


@dataclass(slots=True)
class Receiver:
    """All handsets of a board."""

    remote: Remote
    heard: dict[int, Heard] = field(default_factory=dict)

    def __post_init__(self) -> None:
        self.heard = {n: Heard() for n in self.remote.buttons}

    def take(self, address: int, number: int, sequence: int, bits: int) -> bool:
        """A line whose check was right; gives whether it is answered. A line for others, or one that is no newer, is
        not."""
        hand = self.heard.get(number)
        if address != self.remote.address or hand is None or not 0 <= sequence < 256 or not 0 <= bits < 256:
            return False
        step = (sequence - hand.last) % 256
        if hand.joined:
            if not 1 <= step <= NEWER:
                return False
            hand.bits, hand.quiet = bits, 0
        else:
            follows = hand.run > 0 and 1 <= step <= LITTLE
            if hand.run and not step:
                return False  # repeated
            hand.run = 0 if bits else hand.run + 1 if follows else 1
            hand.quiet = 0
            hand.joined = hand.run >= SYNC
        hand.last = sequence
        return True

    def tick(self) -> None:
        """One tick: silence ends what a handset holds."""
        for hand in self.heard.values():
            hand.quiet = min(hand.quiet + 1, self.remote.lost_ms)
            if hand.quiet >= self.remote.lost_ms:
                hand.joined, hand.run, hand.bits = False, 0, 0

    def pressed(self, drive: int) -> dict[str, int]:
        """The inputs of a drive that are pressed, each with the number of the handset (the last one's, of several)."""
        return {
            b.input: number
            for number, hand in self.heard.items()
            for b in self.remote.buttons[number]
            if b.drive == drive and hand.bits >> b.bit & 1
        }
