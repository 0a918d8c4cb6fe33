"""The same instruments on a serial port: the operating system's own terminal pair stands for the cable.

What is open at this end is a real character device with its own termios, by the very path that a cable's adapter takes.
"""

from __future__ import annotations

import os
import select
import threading
import tty
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field

import pytest

from zinc_whistle.instruments.desk import Desk
from zinc_whistle.instruments.link import LinkError
from zinc_whistle.standins import scpi

from .conftest import waits_for, world

Answer = Callable[[str], list[str | None]]


@dataclass
class Cable:
    """A pair of terminals with something that answers at its far end."""

    answer: Answer
    heard: list[str] = field(default_factory=list)

    def __post_init__(self) -> None:
        self.far, self.near = os.openpty()
        tty.setraw(self.far)
        tty.setraw(self.near)
        self.address = f"ASRL{os.ttyname(self.near)}::INSTR"
        self._stop = threading.Event()
        self._thread = threading.Thread(target=self._serve, daemon=True)
        self._thread.start()

    def _serve(self) -> None:
        rest = b""
        while not self._stop.is_set():
            if not select.select([self.far], [], [], 0.05)[0]:
                continue
            rest += os.read(self.far, 4096)
            *lines, rest = rest.split(b"\n")
            for line in lines:
                text = line.decode("ascii", "replace").strip()
                self.heard.append(text)
                for reply in self.answer(text):
                    if reply is not None:
                        os.write(self.far, (reply.rstrip("\n") + "\n").encode())

    def pulled(self) -> None:
        """The cable is pulled: what answers ends first, then both ends of it are gone."""
        if self._stop.is_set():
            return
        self._stop.set()
        self._thread.join(5)
        os.close(self.near)
        os.close(self.far)


@pytest.fixture
def supply() -> Iterator[tuple[Cable, scpi.Scpi]]:
    at = scpi.supply(world())
    cable = Cable(lambda text: [at.line(text)])
    yield cable, at
    cable.pulled()


def test_a_supply_is_set_and_read_over_a_serial_port(supply: tuple[Cable, scpi.Scpi], desk: Desk) -> None:
    cable, _ = supply
    item = desk.open(cable.address)
    assert item.kind == "supply"
    desk.supply(item.id, 12.0, 0.8, True)
    assert waits_for(lambda: any(x.startswith(("OUTP ON", "OUTP 1")) for x in cable.heard))
    orders = [x.split(" ")[0] for x in cable.heard if not x.endswith("?")]
    assert orders[-3:] == ["SOUR:CURR", "SOUR:VOLT", "OUTP"], "the limit first, over this line too"
    assert desk.read(item.id, "volts")[1] == "V"


def test_a_cable_that_is_pulled_is_told(supply: tuple[Cable, scpi.Scpi], desk: Desk) -> None:
    cable, _ = supply
    item = desk.open(cable.address)
    cable.pulled()
    with pytest.raises(LinkError, match=r"is gone|broke off|did not answer"):
        desk.read(item.id, "volts")
    assert item.lost


def test_a_motor_board_is_opened_over_a_serial_port(desk: Desk) -> None:
    at = world()
    cable = Cable(lambda text: list(at.tell(text + "\n")))
    try:
        item = desk.open(cable.address, board=True)
        assert item.kind == "motor board" and cable.heard
    finally:
        cable.pulled()


def test_nothing_at_the_port_and_a_port_that_answers_nothing_are_told(desk: Desk) -> None:
    with pytest.raises(LinkError, match="Nothing answers at ASRL/dev/zw-none::INSTR"):
        desk.open("ASRL/dev/zw-none::INSTR")
    deaf = Cable(lambda text: [])
    try:
        with pytest.raises(LinkError, match="did not answer"):
            desk.open(deaf.address)
    finally:
        deaf.pulled()
