"""Where the time of a request goes: a line for each in the log, and the standard's Server-Timing header for the page.

Source of the header: W3C, Server Timing. A browser hands it to the page that asked, and shows it beside the request.
"""

from __future__ import annotations

import logging
import time
from collections.abc import Iterator, MutableMapping
from contextlib import contextmanager
from contextvars import ContextVar

from starlette.datastructures import MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

log = logging.getLogger("zinc_whistle.requests")
_spans: ContextVar[MutableMapping[str, float] | None] = ContextVar("spans", default=None)


@contextmanager
def span(name: str) -> Iterator[None]:
    """Counts what is done inside to ``name``, a word of letters, of the request that is being answered."""
    found, start = _spans.get(), time.perf_counter()
    try:
        yield
    finally:
        if found is not None:
            found[name] = found.get(name, 0.0) + time.perf_counter() - start


class Timing:
    """Tells how long each answer took: in Server-Timing until its first byte, and at the level INFO in the log, with
    method, path, status, size in bytes and milliseconds."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        start, status, size = time.perf_counter(), 0, 0
        spans: dict[str, float] = {}
        told = _spans.set(spans)

        async def counted(message: Message) -> None:
            nonlocal status, size
            if message["type"] == "http.response.start":
                status = message["status"]
                whole = spans | {"total": time.perf_counter() - start}
                figures = ", ".join(f"{name};dur={seconds * 1e3:.2f}" for name, seconds in whole.items())
                MutableHeaders(scope=message)["server-timing"] = figures
            size += len(message.get("body", b""))
            await send(message)

        try:
            await self.app(scope, receive, counted)
        finally:
            _spans.reset(told)
            took = (time.perf_counter() - start) * 1e3
            log.info("%s %s %d %d bytes %.1f ms", scope["method"], scope["path"], status, size, took)
