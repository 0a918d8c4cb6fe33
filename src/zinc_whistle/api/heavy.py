"""Work that takes seconds: a piece at a time, beside the answers to keys, no longer than somebody waits for it."""

from __future__ import annotations

import contextlib
import mmap
import struct
import tempfile
import threading
import time
from collections.abc import AsyncIterator, Callable
from contextlib import asynccontextmanager
from dataclasses import dataclass, field
from functools import partial
from pathlib import Path
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
MOST_MEMORY = 1_500_000_000
"""Bytes that one piece may take beyond what its process holds at rest."""
TOO_MUCH_MEMORY = f"This takes more than {MOST_MEMORY / 1e9:g} GB of memory: ask for less of it at once."
TICKET = "x-ticket"
"""The name under which the asker may look how far its piece is: a header of the request."""
SHARE = struct.Struct("d")
LONGEST_TICKET = 40


@dataclass(frozen=True, slots=True)
class _Refusal:
    """A refusal on its way out of another process, which a web framework's own exception does not survive."""

    status: int
    sentence: str


@dataclass(slots=True)
class Job:
    """One piece of work, and what is known of it: ``share`` is how much is done, where the work tells."""

    ticket: str
    asked: float
    begun: bool = False
    share: float | None = None
    gone: threading.Event = field(default_factory=threading.Event)


class ShareFile:
    """A share of what is done, told by one process to another: eight bytes of a file that both look at."""

    def __init__(self, path: Path) -> None:
        self.path = path
        path.write_bytes(SHARE.pack(-1.0))

    def read(self) -> float | None:
        """What was told last; None before anything was."""
        (share,) = SHARE.unpack(self.path.read_bytes())
        return None if share < 0 else float(share)


class Heavy:
    """The queue of heavy work of one service. ``processes``: in a worker process, so that keys are answered meanwhile;
    else in a thread, which shares the interpreter with them."""

    def __init__(self, *, processes: bool = False, at_once: int = 1) -> None:
        self._slots = anyio.CapacityLimiter(at_once)
        self.processes = processes
        self.pieces: list[Job] = []

    @property
    def waiting(self) -> int:
        """How many pieces wait or are worked on."""
        return len(self.pieces)

    def found(self, ticket: str) -> tuple[Job, int] | None:
        """The piece of a ticket, and how many stand before it; None if there is none (any more)."""
        places = [i for i, p in enumerate(self.pieces) if p.ticket == ticket and ticket]
        return (self.pieces[places[0]], places[0]) if places else None

    async def run(self, request: Request, work: Callable[..., T], *values: Any, ticket: str = "") -> T:
        """What ``work`` makes of ``values``; in a process both must be ones that can be sent there.

        HTTPException where too many wait, it took too long or too much memory, or the asker left.
        """
        if self.waiting >= MOST_WAITING:
            raise HTTPException(503, "Too much is being worked out at once: try again in a moment.")
        piece = Job(ticket[:LONGEST_TICKET], time.monotonic())
        self.pieces.append(piece)
        found, failed = list[T | _Refusal](), list[Exception]()

        async def watch() -> None:
            with anyio.move_on_after(LONGEST_S):
                while not await request.is_disconnected():
                    await anyio.sleep(LOOK_EVERY_S)
            piece.gone.set()
            if self.processes:
                tasks.cancel_scope.cancel()  # which ends the process

        try:
            async with anyio.create_task_group() as tasks:
                tasks.start_soon(watch)
                try:
                    found.append(await self._begin(work, values, piece, tasks))
                except Exception as error:  # a group would wrap it
                    failed.append(error)
                tasks.cancel_scope.cancel()
        finally:
            self.pieces.remove(piece)
        if failed and not isinstance(failed[0], GivenUp):
            raise failed[0]
        if not found:
            raise HTTPException(503, "This took too long, or nobody waited for it any more.")
        if isinstance(found[0], _Refusal):
            raise HTTPException(found[0].status, found[0].sentence)
        return found[0]

    async def _begin(
        self, work: Callable[..., T], values: tuple[Any, ...], piece: Job, tasks: anyio.abc.TaskGroup
    ) -> T | _Refusal:
        async with self._slots:
            piece.begun = True
            if not self.processes:
                return await anyio.to_thread.run_sync(partial(_watched, work, values, piece))
            with tempfile.TemporaryDirectory(prefix="zinc-whistle-") as folder:
                board = ShareFile(Path(folder) / "share")

                async def look() -> None:
                    # The folder goes as soon as the work is done, which may be just before the next look.
                    with contextlib.suppress(FileNotFoundError):
                        while True:
                            piece.share = board.read()
                            await anyio.sleep(LOOK_EVERY_S)

                tasks.start_soon(look)
                return await anyio.to_process.run_sync(
                    partial(_answered, work, values, str(board.path)), cancellable=True
                )


def _answered(work: Callable[..., T], values: tuple[Any, ...], board: str) -> T | _Refusal:
    with open(board, "r+b") as file, mmap.mmap(file.fileno(), SHARE.size) as shared, _in_bounds():
        try:
            with while_wanted(lambda: False, lambda share: SHARE.pack_into(shared, 0, share)):
                return work(*values)
        except HTTPException as error:
            return _Refusal(error.status_code, str(error.detail))
        except MemoryError:
            return _Refusal(503, TOO_MUCH_MEMORY)


@contextlib.contextmanager
def _in_bounds() -> Any:
    """Where the system can, what is asked for beyond MOST_MEMORY is refused in here: the machine stays usable."""
    try:
        import resource

        held = int(Path("/proc/self/status").read_text().partition("VmData:")[2].split()[0]) * 1024
    except (ImportError, OSError, IndexError, ValueError):  # another system than Linux
        yield
        return
    before = resource.getrlimit(resource.RLIMIT_DATA)
    most = held + MOST_MEMORY
    resource.setrlimit(resource.RLIMIT_DATA, (most if before[1] < 0 else min(most, before[1]), before[1]))
    try:
        yield
    finally:
        resource.setrlimit(resource.RLIMIT_DATA, before)


def _watched(work: Callable[..., T], values: tuple[Any, ...], piece: Job) -> T:
    if piece.gone.is_set():
        raise GivenUp
    with while_wanted(piece.gone.is_set, lambda share: setattr(piece, "share", share)):
        return work(*values)


def queue_of(request: Request) -> Heavy:
    """The queue of the service that was asked."""
    queue: Heavy = request.app.state.heavy
    return queue


async def heavy(request: Request, work: Callable[..., T], *values: Any) -> T:
    """``work`` in the queue of the service that was asked."""
    return await queue_of(request).run(request, work, *values, ticket=request.headers.get(TICKET, ""))


@asynccontextmanager
async def uploaded(request: Request) -> AsyncIterator[Path]:
    """The body in a file, for as long as it is worked on: a large one is never held in memory."""
    with tempfile.TemporaryDirectory(prefix="zinc-whistle-") as folder:
        path = Path(folder) / "body"
        with path.open("wb") as file:
            async for piece in request.stream():
                file.write(piece)
        yield path
