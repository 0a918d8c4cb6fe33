"""Builds with a handset, and a channel that loses, repeats, delays and falsifies lines."""

from __future__ import annotations

import random
from dataclasses import dataclass, field

from zinc_whistle.core.model.build import Build, MotorDrive
from zinc_whistle.core.model.handset import Handset

from .test_protocol import profile, serial_build

ADDRESS, LOST_MS = 23, 510
"""Eight lines of 60 ms may be missed: (8 + 1/2) × 60 ms."""


def handset(number: int, controller: str, *buttons: tuple[str, str], drive: str = "d1") -> Handset:
    """A handset with its buttons: names and what they press."""
    return Handset.model_validate(
        {
            "id": f"h{number}",
            "name": f"Handset {number}",
            "number": {"text": str(number)},
            "controller": controller,
            "v_full": {"text": "4.8 V"},
            "v_flat": {"text": "4.6 V"},
            "capacity": {"text": "1 Ah"},
            "buttons": [
                {"id": f"b{k}", "name": name, "drive": drive, "presses": presses}
                for k, (name, presses) in enumerate(buttons)
            ],
        }
    )


def radio_build(controller: str = "eight-bit-16", *, command: str = "radio", of_handset: str = "") -> Build:
    """The carousel's motor both ways, commanded by two handsets; no stop that stays, so that nothing hides a fault."""
    build = serial_build(controller)
    drive = build.drives[0]
    assert isinstance(drive, MotorDrive)
    drive.panel.command, drive.panel.watch = command, "no"  # type: ignore[assignment]
    drive.panel.stop_input, drive.panel.stop_latched = "none", "no"
    drive.panel.pause.text, drive.panel.debounce.text = "60 ms", "10 ms"
    drive.signals.soft_start = "no"
    for k in (2, 3):
        own = profile(of_handset or controller).model_copy(update={"id": f"c{k}"}, deep=True)
        build.controllers.append(own)
    build.handsets = [
        handset(1, "c2", ("Up", "forward"), ("Down", "back"), ("Halt", "stop")),
        handset(2, "c3", ("Up", "forward")),
    ]
    build.radio.board = "c1"
    build.radio.period.text, build.radio.tries.text = "60 ms", "8"
    build.radio.address.text = str(ADDRESS)
    return build


@dataclass
class Channel:
    """Lines on their way, in ms: each may be lost, come again, come late (by ``most_late`` at most) or be falsified;
    a neighbour sends with another address."""

    seed: int
    loss: float = 0.2
    repeat: float = 0.2
    most_late: int = 150
    false: float = 0.05
    foreign: float = 0.1
    due: list[tuple[int, int, str]] = field(default_factory=list)
    _sent: int = 0

    def __post_init__(self) -> None:
        self.chance = random.Random(self.seed)

    def send(self, now: int, line: str) -> None:
        """A line goes on its way."""
        roll = self.chance.random
        copies = (roll() >= self.loss) + sum(roll() < self.repeat for _ in range(3))
        for _ in range(copies):
            text = line
            if roll() < self.false:
                place = self.chance.randrange(len(text) - 1)
                text = text[:place] + self.chance.choice("0123456789~ hand") + text[place + 1 :]
            self._sent += 1
            self.due.append((now + self.chance.randint(0, self.most_late), self._sent, text))

    def come(self, now: int) -> list[str]:
        """What arrives by now, in its order."""
        arrived = sorted(x for x in self.due if x[0] <= now)
        self.due = [x for x in self.due if x[0] > now]
        return [text for _, _, text in arrived]
