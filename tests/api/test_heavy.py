"""Work that takes seconds: one piece at a time, and none for an asker who has left."""

from __future__ import annotations

import threading
from collections.abc import Awaitable, Callable
from concurrent.futures import ThreadPoolExecutor
from typing import Any

import anyio
import anyio.to_thread
import pytest
from fastapi import HTTPException

from zinc_whistle.api.heavy import MOST_WAITING, Heavy, ShareFile
from zinc_whistle.cli import _listening
from zinc_whistle.core.algebra.giving_up import GivenUp, go_on, while_wanted
from zinc_whistle.core.assess import assess
from zinc_whistle.core.simulation.scenario import simulate
from zinc_whistle.demo.data import lantern_carousel


def apart(go: Callable[[], Awaitable[Any]]) -> Any:
    """In a thread of its own: a browser test may hold this one's event loop."""
    with ThreadPoolExecutor(1) as pool:
        return pool.submit(anyio.run, go).result()


class Asker:
    """A request whose sender may leave."""

    def __init__(self) -> None:
        self.left = False

    async def is_disconnected(self) -> bool:
        return self.left


def test_work_ends_soon_after_the_asker_left() -> None:
    asker, begun, rounds = Asker(), threading.Event(), [0]

    def working() -> None:
        begun.set()
        while True:
            rounds[0] += 1
            go_on()

    async def go() -> None:
        queue = Heavy()
        async with anyio.create_task_group() as tasks:

            async def leave() -> None:
                await anyio.to_thread.run_sync(begun.wait)
                asker.left = True

            tasks.start_soon(leave)
            with pytest.raises(HTTPException) as refused:
                await queue.run(asker, working)  # type: ignore[arg-type]
        assert refused.value.status_code == 503 and queue.waiting == 0
        assert await queue.run(Asker(), lambda: 7) == 7, "the place is free again"  # type: ignore[arg-type]

    apart(go)


def test_one_at_a_time_and_not_without_end() -> None:
    running, most = [0], [0]

    def piece() -> int:
        running[0] += 1
        most[0] = max(most[0], running[0])
        running[0] -= 1
        return 1

    async def go() -> list[Any]:
        queue, told = Heavy(), list[Any]()

        async def ask() -> None:
            try:
                told.append(await queue.run(Asker(), piece))  # type: ignore[arg-type]
            except HTTPException as error:
                told.append(error.status_code)

        async with anyio.create_task_group() as tasks:
            for _ in range(MOST_WAITING + 5):
                tasks.start_soon(ask)
        return told

    told = apart(go)
    assert most[0] == 1
    assert told.count(1) == MOST_WAITING and told.count(503) == 5


def test_a_failure_comes_through_as_it_is() -> None:
    async def go() -> None:
        with pytest.raises(ZeroDivisionError):
            await Heavy().run(Asker(), lambda: 1 / 0)  # type: ignore[arg-type]

    apart(go)


def endless() -> None:
    while True:
        pass


def refuses() -> None:
    raise HTTPException(422, "Not so.")


def test_in_a_process_of_its_own_it_answers_refuses_and_is_ended() -> None:
    """Work that never asks is ended all the same: its process is."""
    asker = Asker()

    async def leave() -> None:
        await anyio.sleep(3)
        asker.left = True

    async def go() -> None:
        queue = Heavy(processes=True)
        assert await queue.run(Asker(), max, 3, 7) == 7  # type: ignore[arg-type]
        with pytest.raises(HTTPException) as told:
            await queue.run(Asker(), refuses)  # type: ignore[arg-type]
        assert (told.value.status_code, told.value.detail) == (422, "Not so.")
        async with anyio.create_task_group() as tasks:
            tasks.start_soon(leave)
            with pytest.raises(HTTPException) as left:
                await queue.run(asker, endless)  # type: ignore[arg-type]
        assert left.value.status_code == 503 and queue.waiting == 0
        assert await queue.run(Asker(), min, 3, 7) == 3  # type: ignore[arg-type]

    apart(go)


def test_a_run_asks_whether_it_is_still_wanted() -> None:
    drive = assess(lantern_carousel()).drives["d1"].of_motor
    assert drive is not None
    asked = [0]

    def gone() -> bool:
        asked[0] += 1
        return asked[0] > 5

    with pytest.raises(GivenUp), while_wanted(gone):
        simulate(drive.context, drive.circuit, "start")
    assert asked[0] == 6
    simulate(drive.context, drive.circuit, "start at once", averaged=True)


def test_the_service_listens_on_this_machine_alone() -> None:
    held = _listening(0)
    assert held.getsockname()[0] == "127.0.0.1"
    held.close()


def test_a_look_that_comes_after_the_work_is_done_is_no_failure(monkeypatch: pytest.MonkeyPatch) -> None:
    """What tells how far a piece is goes as soon as it is done; somebody may just be about to look at it."""

    def gone(self: ShareFile) -> float | None:
        raise FileNotFoundError(self.path)

    monkeypatch.setattr(ShareFile, "read", gone)

    async def go() -> None:
        queue = Heavy(processes=True)
        assert await queue.run(Asker(), abs, -7) == 7  # type: ignore[arg-type]

    apart(go)
