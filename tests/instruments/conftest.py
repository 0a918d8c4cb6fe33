"""A bench of stand-ins on free ports, its time passing beside the test."""

from __future__ import annotations

import asyncio
import threading
import time
from collections.abc import Callable, Iterator

import pytest

from zinc_whistle.demo.data import lantern_carousel, sample_parts
from zinc_whistle.instruments.desk import Desk
from zinc_whistle.standins.serve import Bench
from zinc_whistle.standins.world import World


def world() -> World:
    return World(lantern_carousel(), sample_parts())


def waits_for(what: Callable[[], bool], seconds: float = 20.0) -> bool:
    """Looks again and again until something is so."""
    end = time.monotonic() + seconds
    while not what():
        if time.monotonic() > end:
            return False
        time.sleep(0.01)
    return True


class Running:
    """A bench, and the addresses of what lies on it."""

    def __init__(self, bench: Bench, loop: asyncio.AbstractEventLoop) -> None:
        self.bench, self.world, self.loop = bench, bench.world, loop
        self.address = {a.name: a.resource for a in bench.addresses}

    def unplug(self, name: str) -> None:
        asyncio.run_coroutine_threadsafe(self._unplug(name), self.loop).result(5)

    async def _unplug(self, name: str) -> None:
        self.bench.unplug(name)


@pytest.fixture
def running() -> Iterator[Running]:
    loop = asyncio.new_event_loop()
    thread = threading.Thread(target=loop.run_forever, daemon=True)
    thread.start()
    bench = Bench(world())
    asyncio.run_coroutine_threadsafe(bench.start(), loop).result(5)
    yield Running(bench, loop)
    asyncio.run_coroutine_threadsafe(bench.stop(), loop).result(5)
    loop.call_soon_threadsafe(loop.stop)
    thread.join(5)


@pytest.fixture
def desk() -> Iterator[Desk]:
    made = Desk()
    yield made
    made.end()
