"""A line for each request that the service answers: what was asked, what it answered, and how long it took."""

from __future__ import annotations

import logging
import time

from starlette.types import ASGIApp, Message, Receive, Scope, Send

log = logging.getLogger("zinc_whistle.requests")


class Timing:
    """Logs method, path, status, size in bytes and milliseconds of every request, at the level INFO."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http" or not log.isEnabledFor(logging.INFO):
            await self.app(scope, receive, send)
            return
        start, status, size = time.perf_counter(), 0, 0

        async def counted(message: Message) -> None:
            nonlocal status, size
            if message["type"] == "http.response.start":
                status = message["status"]
            size += len(message.get("body", b""))
            await send(message)

        try:
            await self.app(scope, receive, counted)
        finally:
            took = (time.perf_counter() - start) * 1e3
            log.info("%s %s %d %d bytes %.1f ms", scope["method"], scope["path"], status, size, took)
