"""Work that takes seconds: a piece at a time, beside the answers to keys, no longer than somebody waits for it."""

from __future__ import annotations

import threading
from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from typing import Any, TypeVar

import anyio
import anyio.to_process
import anyio.to_thread
from fastapi import HTTPException, Request

from ..core.algebra.giving_up import GivenUp, while_wanted

T = TypeVar("T")
MOST_WAITING = 20
LOOK_EVERY_S = 0.1
LONGEST_S = 120.0


@dataclass(frozen=True, slots=True)
class _Refusal:
    """A refusal on its way out of another process, which a web framework's own exception does not survive."""

    status: int
    sentence: str


class Heavy:
    """The queue of heavy work of one service. ``processes``: in a worker process, so that keys are answered meanwhile;
    else in a thread, which shares the interpreter with them."""

    def __init__(self, *, processes: bool = False, at_once: int = 1) -> None:
        self._slots = anyio.CapacityLimiter(at_once)
        self.processes = processes
        self.waiting = 0

    async def run(self, request: Request, work: Callable[..., T], *values: Any) -> T:
        """What ``work`` makes of ``values``; in a process both must be ones that can be sent there.

        HTTPException where too many wait, it took too long, or the asker left.
        """
        if self.waiting >= MOST_WAITING:
            raise HTTPException(503, "Too much is being worked out at once: try again in a moment.")
        self.waiting += 1
        gone, found, failed = threading.Event(), list[T | _Refusal](), list[Exception]()

        async def watch() -> None:
            with anyio.move_on_after(LONGEST_S):
                while not await request.is_disconnected():
                    await anyio.sleep(LOOK_EVERY_S)
            gone.set()
            if self.processes:
                tasks.cancel_scope.cancel()  # which ends the process

        try:
            async with anyio.create_task_group() as tasks:
                tasks.start_soon(watch)
                try:
                    found.append(await self._begin(work, values, gone))
                except Exception as error:  # a group would wrap it
                    failed.append(error)
                tasks.cancel_scope.cancel()
        finally:
            self.waiting -= 1
        if failed and not isinstance(failed[0], GivenUp):
            raise failed[0]
        if not found:
            raise HTTPException(503, "This took too long, or nobody waited for it any more.")
        if isinstance(found[0], _Refusal):
            raise HTTPException(found[0].status, found[0].sentence)
        return found[0]

    async def _begin(self, work: Callable[..., T], values: tuple[Any, ...], gone: threading.Event) -> T | _Refusal:
        if self.processes:
            return await anyio.to_process.run_sync(_answered, work, values, cancellable=True, limiter=self._slots)
        return await anyio.to_thread.run_sync(partial(_watched, work, values, gone), limiter=self._slots)


def _answered(work: Callable[..., T], values: tuple[Any, ...]) -> T | _Refusal:
    try:
        return work(*values)
    except HTTPException as error:
        return _Refusal(error.status_code, str(error.detail))


def _watched(work: Callable[..., T], values: tuple[Any, ...], gone: threading.Event) -> T:
    if gone.is_set():
        raise GivenUp
    with while_wanted(gone.is_set):
        return work(*values)


async def heavy(request: Request, work: Callable[..., T], *values: Any) -> T:
    """``work`` in the queue of the service that was asked."""
    queue: Heavy = request.app.state.heavy
    return await queue.run(request, work, *values)
