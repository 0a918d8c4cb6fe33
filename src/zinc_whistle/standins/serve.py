"""The stand-ins on local ports, in real time."""

from __future__ import annotations

import asyncio
import sys
import time
from collections.abc import Callable
from dataclasses import dataclass

from . import scpi
from .world import FAULTS, PLACES, World

LONGEST = 10_000
LATEST_MS = 200
"""Time that is made up at most where the machine was busy: the bench stands still for the rest."""
HELP = (
    f"probe {' | '.join(PLACES)} · press NAME · let NAME · fault {' | '.join(k for k in FAULTS if k)} · fault none · "
    "look · quit"
)


@dataclass(frozen=True, slots=True)
class Address:
    """Where one of them listens."""

    name: str
    speaks: str
    port: int

    @property
    def resource(self) -> str:
        """As it is typed into the app."""
        return f"TCPIP::127.0.0.1::{self.port}::SOCKET"


class Bench:
    """All of them. ``deaf`` ones take what is said and never answer; ``garbled`` ones answer nonsense."""

    def __init__(self, world: World, *, speed: float = 1.0) -> None:
        self.world, self.speed = world, speed
        self.supply, self.meter, self.scope = scpi.supply(world), scpi.meter(world), scpi.scope(world)
        self.deaf, self.garbled = set[str](), set[str]()
        self.addresses: list[Address] = []
        self._servers: list[asyncio.Server] = []
        self._open: dict[str, set[asyncio.StreamWriter]] = {}
        self._clock: asyncio.Task[None] | None = None

    async def start(self) -> list[Address]:
        """Listens on free local ports, and lets time pass."""
        for name, speaks, answer in (
            ("supply", "scpi", lambda text: self.supply.line(text)),
            ("meter", "scpi", lambda text: self.meter.line(text)),
            ("oscilloscope", "scpi", lambda text: self.scope.line(text)),
            ("motor board", "board", None),
        ):
            server = await asyncio.start_server(self._session(name, answer), "127.0.0.1", 0, limit=LONGEST)
            self._servers.append(server)
            self.addresses.append(Address(name, speaks, server.sockets[0].getsockname()[1]))
        self._clock = asyncio.create_task(self._run())
        return self.addresses

    async def stop(self) -> None:
        """Ends all of it."""
        if self._clock is not None:
            self._clock.cancel()
        for name in list(self._open):
            self.unplug(name)
        for server in self._servers:
            server.close()

    def unplug(self, name: str) -> None:
        """Cuts every connection of one of them."""
        for writer in self._open.pop(name, set()):
            writer.transport.abort()

    async def _run(self) -> None:
        done = 0
        begun = time.monotonic()
        while True:
            await asyncio.sleep(0.005)
            due = int((time.monotonic() - begun) * 1e3 * self.speed) - done
            self.world.advance(min(due, LATEST_MS))
            done += due

    def _session(
        self, name: str, answer: Callable[[str], str | None] | None
    ) -> Callable[[asyncio.StreamReader, asyncio.StreamWriter], asyncio.Future[None]]:
        async def speak(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
            self._open.setdefault(name, set()).add(writer)
            try:
                while line := await reader.readline():
                    text = line.decode("ascii", "replace").strip()
                    said = [answer(text)] if answer is not None else self._to_board(text)
                    if name in self.deaf:
                        continue
                    for reply in said:
                        if reply is not None:
                            writer.write((("?#" * 5 if name in self.garbled else reply.rstrip("\n")) + "\n").encode())
                    await writer.drain()
            except (ConnectionError, ValueError):
                pass
            finally:
                self._open.get(name, set()).discard(writer)
                writer.close()

        return speak  # type: ignore[return-value]

    def _to_board(self, text: str) -> list[str | None]:
        """The board's answers, and before them what it had to say by itself."""
        before = list(self.world.lines)
        self.world.lines.clear()
        return [*before, *self.world.tell(text + "\n")]

    def by_hand(self, line: str) -> str:
        """What a hand does at the bench: moves a probe, presses a contact, does mischief, looks."""
        word, _, rest = line.strip().partition(" ")
        rest = rest.strip()
        world = self.world
        if word == "probe" and rest in PLACES:
            world.place = rest
            return f"The meter hangs on: {rest}."
        if word in ("press", "let") and rest:
            (world.contacts.add if word == "press" else world.contacts.discard)(rest)
            return f"Pressed: {', '.join(sorted(world.contacts)) or 'nothing'}."
        if word == "fault" and (rest in FAULTS or rest == "none"):
            world.fault = "" if rest == "none" else rest
            return f"Now {FAULTS[world.fault]}."
        if word == "look":
            rpm = world.turning.speed * 60 / 6.283185307179586
            amps = f"supply {world.supply_a:.3f} A, motor {world.turning.current:.3f} A"
            return f"Bus {world.bus_v:.2f} V, {amps}, {rpm:.0f} rpm."
        return HELP


async def run(bench: Bench) -> None:
    """Until the console says quit, or ends."""
    for a in await bench.start():
        print(f"{a.name}: {a.resource}  ({'SCPI' if a.speaks == 'scpi' else 'the line protocol'})", flush=True)
    print(HELP, flush=True)
    loop = asyncio.get_running_loop()
    while line := await loop.run_in_executor(None, sys.stdin.readline):
        if line.strip() == "quit":
            break
        if line.strip():
            print(bench.by_hand(line), flush=True)
    await bench.stop()
