"""Work that takes seconds: a piece at a time, beside the answers to keys, no longer than somebody waits for it."""

from __future__ import annotations

import threading
from collections.abc import Callable
from functools import partial
from typing import TypeVar

import anyio
import anyio.to_thread
from fastapi import HTTPException, Request

from ..core.algebra.giving_up import GivenUp, while_wanted

T = TypeVar("T")
MOST_WAITING = 20
LOOK_EVERY_S = 0.1


class Heavy:
    """The queue of heavy work of one service."""

    def __init__(self, at_once: int = 1) -> None:
        self._slots = anyio.CapacityLimiter(at_once)
        self.waiting = 0

    async def run(self, request: Request, work: Callable[[], T]) -> T:
        """What ``work`` gives, from a thread of its own. HTTPException where too many wait or the asker left."""
        if self.waiting >= MOST_WAITING:
            raise HTTPException(503, "Too much is being worked out at once: try again in a moment.")
        self.waiting += 1
        gone, found, failed = threading.Event(), list[T](), list[Exception]()

        async def watch() -> None:
            while not await request.is_disconnected():
                await anyio.sleep(LOOK_EVERY_S)
            gone.set()

        try:
            async with anyio.create_task_group() as tasks:
                tasks.start_soon(watch)
                try:
                    found.append(await anyio.to_thread.run_sync(partial(_watched, work, gone), limiter=self._slots))
                except Exception as error:  # a group would wrap it
                    failed.append(error)
                tasks.cancel_scope.cancel()
        finally:
            self.waiting -= 1
        if failed:
            if isinstance(failed[0], GivenUp):
                raise HTTPException(503, "Nobody waited for this any more.")
            raise failed[0]
        return found[0]


def _watched(work: Callable[[], T], gone: threading.Event) -> T:
    if gone.is_set():
        raise GivenUp
    with while_wanted(gone.is_set):
        return work()


async def heavy(request: Request, work: Callable[[], T]) -> T:
    """``work`` in the queue of the service that was asked."""
    queue: Heavy = request.app.state.heavy
    return await queue.run(request, work)
