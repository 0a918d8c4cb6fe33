"""What the service refuses before anything else: foreign hosts and pages, bodies too large or too deep.

A browser lets any page send requests to this machine; which page it was, the browser tells in Origin and in
Sec-Fetch-Site. Only the page that this service gave itself, from the same host and the same port, may ask for data.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import anyio
import pydantic_core
from fastapi import Request, Response
from fastapi.routing import APIRoute
from starlette.exceptions import HTTPException
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from .lan import Lan, cookies_of

MOST_BYTES = 4_000_000
BODY_S = 30.0
"""The longest pause between two pieces of a body."""
MOST_CAPTURE_BYTES = 300_000_000
MOST_KEPT_BYTES = 25_000_000
LOCAL = ("127.0.0.1", "localhost", "[::1]")
READING = ("GET", "HEAD", "OPTIONS")
OWN_HEADER = b"x-zinc-whistle"
"""Set by the app's own page: another page cannot set it without being asked for leave first, which is never given."""
POLICY = (
    "default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline'; font-src 'self'; img-src 'self' data:; "
    "connect-src 'self'; worker-src 'self' blob:; base-uri 'none'; form-action 'none'; frame-ancestors 'none'"
)
HEADERS = [
    (b"content-security-policy", POLICY.encode()),
    (b"x-content-type-options", b"nosniff"),
    (b"referrer-policy", b"no-referrer"),
    (b"cross-origin-opener-policy", b"same-origin"),
    (b"cross-origin-resource-policy", b"same-origin"),
]

CAPTURES, KEPT = ("/api/captures/", "/api/encoder/capture"), "/api/files/"
"""Where files are sent that may be large, and where those that are kept."""


def most_of(path: str) -> int:
    """How many bytes a body may have there."""
    return MOST_CAPTURE_BYTES if path.startswith(CAPTURES) else MOST_KEPT_BYTES if path.startswith(KEPT) else MOST_BYTES


def _hosts(scope: Scope) -> set[bytes]:
    """What Host may say: this machine's names with the port on which it was asked."""
    port = (scope.get("server") or ("", 80))[1]
    return {f"{name}:{port}".encode() for name in LOCAL} | ({name.encode() for name in LOCAL} if port == 80 else set())


class RequestGate:
    """Refuses foreign Host and Origin, limits the body, and sets the protective headers."""

    def __init__(self, app: ASGIApp, lan: Lan | None = None) -> None:
        self.app, self.lan = app, lan

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        refusal = self._refusal(scope)
        if refusal is not None:
            await _answer(send, *refusal)
            return
        most = most_of(scope["path"])
        taken, whole = 0, False

        async def limited() -> Message:
            nonlocal taken, whole
            if whole:  # what comes now is that the asker has left
                return await receive()
            with anyio.move_on_after(BODY_S) as waited:
                message = await receive()
            if waited.cancelled_caught:
                raise HTTPException(408, "The rest of what was sent did not come.")
            whole = not message.get("more_body", False)
            taken += len(message.get("body", b""))
            if taken > most:
                raise HTTPException(413, too_large(most))
            return message

        async def guarded(message: Message) -> None:
            if message["type"] == "http.response.start":
                message["headers"] = [*message["headers"], *HEADERS]
            await send(message)

        await self.app(scope, limited, guarded)

    def _refusal(self, scope: Scope) -> tuple[int, str] | None:
        told: dict[bytes, list[bytes]] = {}
        for name, value in scope["headers"]:
            told.setdefault(name.lower(), []).append(value)
        hosts, origins = told.get(b"host", []), told.get(b"origin", [])
        # Which address it came by the system tells, not the asker.
        lan = self.lan if self.lan is not None and (scope.get("server") or ("",))[0] == self.lan.address else None
        own = _hosts(scope) if lan is None else {lan.host.encode()}
        if len(hosts) != 1 or hosts[0] not in own:
            return 400, "This service answers only to its own machine and port (127.0.0.1)."
        if origins and origins != [b"http://" + hosts[0]]:
            return 403, "A page from elsewhere may not use this service."
        asks = scope["path"].startswith("/api/")
        opened = not asks and scope["method"] == "GET" and told.get(b"sec-fetch-mode") == [b"navigate"]
        if told.get(b"sec-fetch-site", [b"none"]) not in ([b"same-origin"], [b"none"]) and not opened:
            return 403, "A page from elsewhere may not use this service."
        kind = told.get(b"content-type", [b""])[0].split(b";")[0].strip().lower()
        if scope["method"] not in READING and kind != b"application/json" and OWN_HEADER not in told:
            return 403, "What changes something must be sent as JSON, or with the header X-Zinc-Whistle."
        if lan is not None:
            cookies = cookies_of(b"; ".join(told.get(b"cookie", [])))
            if (refused := lan.refusal(scope["method"], scope["path"], cookies)) is not None:
                return refused
        length = told.get(b"content-length", [b"0"])[0]
        most = most_of(scope["path"])
        if length.isdigit() and (len(length) > 15 or int(length) > most):
            return 413, too_large(most)
        return None


def too_large(most: int) -> str:
    """The sentence for a body over ``most`` bytes."""
    what = "a build file is far smaller" if most == MOST_BYTES else "cut it down to what matters"
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
