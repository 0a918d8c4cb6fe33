"""How long the service listens to somebody who began to ask and does not go on."""

from __future__ import annotations

import asyncio
from typing import Any

from uvicorn.protocols.http.h11_impl import H11Protocol

HEAD_S = 20.0
"""A request's head is a few hundred bytes: what has not come in this time never will."""


class Impatient(H11Protocol):
    """HTTP as the server speaks it; a connection on which no whole request head comes is closed."""

    head_s = HEAD_S

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self._hanging: asyncio.TimerHandle | None = None

    def connection_made(self, transport: asyncio.Transport) -> None:  # type: ignore[override]
        super().connection_made(transport)
        self._listen()

    def data_received(self, data: bytes) -> None:
        super().data_received(data)
        if self.cycle is None or self.cycle.response_complete:
            self._listen()
        else:
            self._heard()

    def connection_lost(self, exc: Exception | None) -> None:
        self._heard()
        super().connection_lost(exc)

    def _listen(self) -> None:
        # The time counts from the first byte on: one byte now and then does not buy more of it.
        if self._hanging is None and not self.transport.is_closing():
            self._hanging = self.loop.call_later(self.head_s, self.transport.close)

    def _heard(self) -> None:
        if self._hanging is not None:
            self._hanging.cancel()
            self._hanging = None
