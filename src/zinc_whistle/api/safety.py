"""What the service refuses before anything else: foreign hosts and origins, bodies too large or too deep."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any
from urllib.parse import urlsplit

import pydantic_core
from fastapi import Request, Response
from fastapi.routing import APIRoute
from starlette.exceptions import HTTPException
from starlette.types import ASGIApp, Message, Receive, Scope, Send

MOST_BYTES = 4_000_000
MOST_CAPTURE_BYTES = 80_000_000
LOCAL = ("127.0.0.1", "localhost", "[::1]", "::1", "testserver")
POLICY = (
    "default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline'; font-src 'self'; img-src 'self' data:; "
    "connect-src 'self'; worker-src 'self' blob:; base-uri 'none'; form-action 'none'; frame-ancestors 'none'"
)
HEADERS = [
    (b"content-security-policy", POLICY.encode()),
    (b"x-content-type-options", b"nosniff"),
    (b"referrer-policy", b"no-referrer"),
    (b"cross-origin-opener-policy", b"same-origin"),
]


def _host_of(value: str) -> str:
    return value.rsplit(":", 1)[0] if not value.endswith("]") and value.count(":") <= 1 else value.split("]")[0] + "]"


class RequestGate:
    """Refuses foreign Host and Origin, limits the body, and sets the protective headers."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        headers = {k.lower(): v.decode("latin-1") for k, v in scope["headers"]}
        refusal = self._refusal(headers, scope["path"])
        if refusal is not None:
            await _answer(send, *refusal)
            return
        most = MOST_CAPTURE_BYTES if scope["path"].startswith("/api/captures/") else MOST_BYTES
        taken = 0

        async def limited() -> Message:
            nonlocal taken
            message = await receive()
            taken += len(message.get("body", b""))
            if taken > most:
                raise HTTPException(413, too_large(most))
            return message

        async def guarded(message: Message) -> None:
            if message["type"] == "http.response.start":
                message["headers"] = [*message["headers"], *HEADERS]
            await send(message)

        await self.app(scope, limited, guarded)

    @staticmethod
    def _refusal(headers: dict[bytes, str], path: str) -> tuple[int, str] | None:
        if _host_of(headers.get(b"host", "")) not in LOCAL:
            return 400, "This service answers only to its own machine (127.0.0.1)."
        origin = headers.get(b"origin")
        if origin is not None and (urlsplit(origin).hostname or "") not in LOCAL:
            return 403, "A page from elsewhere may not use this service."
        length = headers.get(b"content-length", "0")
        most = MOST_CAPTURE_BYTES if path.startswith("/api/captures/") else MOST_BYTES
        if length.isdigit() and int(length) > most:
            return 413, too_large(most)
        return None


def too_large(most: int) -> str:
    """The sentence for a body over ``most`` bytes."""
    what = "a build file is far smaller" if most == MOST_BYTES else "cut the capture down to what matters"
    return f"That is larger than {most // 1_000_000} MB: {what}."


async def _answer(send: Send, status: int, sentence: str) -> None:
    body = pydantic_core.to_json({"detail": sentence, "field": ""})
    headers = [(b"content-type", b"application/json"), (b"content-length", str(len(body)).encode()), *HEADERS]
    await send({"type": "http.response.start", "status": status, "headers": headers})
    await send({"type": "http.response.body", "body": body})


class StrictJson(Request):
    """A request whose JSON is finite and not too deep; anything else is refused with a sentence."""

    async def json(self) -> Any:
        if not hasattr(self, "_json"):
            body = await self.body()
            try:
                self._json = pydantic_core.from_json(body, allow_inf_nan=False)
            except ValueError as error:
                raise HTTPException(422, f"That is not JSON that can be read: {error}.") from error
        return self._json


class StrictRoute(APIRoute):
    """A route that reads its body through StrictJson."""

    def get_route_handler(self) -> Callable[[Request], Any]:
        handler = super().get_route_handler()

        async def strict(request: Request) -> Response:
            return await handler(StrictJson(request.scope, request.receive))

        return strict
