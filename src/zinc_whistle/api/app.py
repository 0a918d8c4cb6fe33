"""The application: routers, sentences for what goes wrong, and the built front end."""

from __future__ import annotations

import logging
import sqlite3
import uuid
from pathlib import Path

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import FileResponse, JSONResponse, Response
from starlette.exceptions import HTTPException
from starlette.middleware.gzip import GZipMiddleware

from .. import __version__
from ..instruments.desk import Desk, DeskError
from ..instruments.link import LinkError
from ..store.builds import Conflict, NotFound, Unreadable
from ..store.parts import ShelfFull
from ..store.store import Store
from . import (
    routes_builds,
    routes_captures,
    routes_components,
    routes_controllers,
    routes_encoder,
    routes_faults,
    routes_files,
    routes_find,
    routes_first,
    routes_instruments,
    routes_lan,
    routes_loop,
    routes_overview,
    routes_parts,
    routes_show,
    routes_signals,
    routes_simulation,
    routes_stage,
    routes_tries,
    routes_wiring,
    routes_work,
)
from .heavy import Heavy
from .lan import Lan, LanError
from .safety import HEADERS, RequestGate
from .timing import Timing

log = logging.getLogger("zinc_whistle")
ROUTERS = (
    routes_builds.router,
    routes_work.router,
    routes_captures.router,
    routes_encoder.router,
    routes_lan.router,
    routes_loop.router,
    routes_faults.router,
    routes_files.router,
    routes_find.router,
    routes_first.router,
    routes_tries.router,
    routes_show.router,
    routes_instruments.router,
    routes_overview.router,
    routes_parts.router,
    routes_components.router,
    routes_controllers.router,
    routes_signals.router,
    routes_simulation.router,
    routes_stage.router,
    routes_wiring.router,
)


def create_app(
    store: Store,
    web: Path | None = None,
    *,
    processes: bool = False,
    instruments: Path | None = None,
    lan: Lan | None = None,
) -> FastAPI:
    """The service over a store; ``web`` is the built front end, if it is served too.

    ``processes``: what takes seconds is worked out in a process beside it. ``instruments``: a folder of the builder's
    own tables of what instruments can do. ``lan``: what is offered to phones, if anything is.
    """

    app = FastAPI(
        title="Zinc Whistle",
        version=__version__,
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
        # Not by include_router: that builds all hundred of them anew at the first request of each application.
        routes=[route for router in ROUTERS for route in router.routes],
    )
    app.state.store = store
    app.state.heavy = Heavy(processes=processes)
    app.state.desk = Desk(instruments)
    app.state.lan = lan
    app.add_exception_handler(NotFound, _not_found)
    app.add_exception_handler(Conflict, _conflict)
    app.add_exception_handler(Unreadable, _told)
    app.add_exception_handler(ShelfFull, _told)
    for refusal in (DeskError, LinkError, LanError):
        app.add_exception_handler(refusal, _told)
    app.add_exception_handler(sqlite3.OperationalError, _not_kept)
    app.add_exception_handler(RequestValidationError, _invalid)
    app.add_exception_handler(HTTPException, _refused)
    app.add_exception_handler(Exception, _unknown)
    app.add_middleware(GZipMiddleware, minimum_size=800, compresslevel=4)
    app.add_middleware(RequestGate, lan=lan)
    app.add_middleware(Timing)
    if web is not None:
        _serve_front_end(app, web)
    return app


def _serve_front_end(app: FastAPI, web: Path) -> None:
    root = web.resolve()

    @app.get("/{path:path}", include_in_schema=False)
    def page(path: str, request: Request) -> Response:
        file = (root / path).resolve()
        if path.startswith("api/") or (path and not file.is_relative_to(root)):
            raise HTTPException(404, "There is nothing at that address.")
        if not path or not file.is_file():
            return FileResponse(root / "index.html", headers={"cache-control": "no-cache"})
        packed = file.with_name(file.name + ".br")
        headers = {"cache-control": "public, max-age=31536000, immutable" if "/assets/" in f"/{path}" else "no-cache"}
        if packed.is_file() and "br" in request.headers.get("accept-encoding", ""):
            kind = {".js": "text/javascript", ".css": "text/css", ".svg": "image/svg+xml"}.get(file.suffix)
            return FileResponse(
                packed,
                media_type=kind,
                headers={**headers, "content-encoding": "br", "vary": "accept-encoding"},
            )
        return FileResponse(file, headers=headers)


def _problem(status: int, detail: str, field: str = "") -> JSONResponse:
    return JSONResponse({"detail": detail, "field": field}, status)


async def _not_found(request: Request, error: Exception) -> JSONResponse:
    return _problem(404, str(error))


async def _not_kept(request: Request, error: Exception) -> JSONResponse:
    """The data file does not take it: told as it is, and tried again by the page, which keeps what was typed."""
    log.warning("the data file: %s at %s %s", error, request.method, request.url.path)
    words = str(error)
    if "full" in words:
        return _problem(503, "The disk is full: make room, nothing that was saved is lost.")
    if "locked" in words or "busy" in words:
        return _problem(503, "The data file is held by another program.")
    if "readonly" in words:
        return _problem(503, "The data file may not be written to.")
    return _problem(503, f"The data file does not take it ({words}).")


async def _told(request: Request, error: Exception) -> JSONResponse:
    return _problem(422, str(error))


async def _conflict(request: Request, error: Exception) -> JSONResponse:
    assert isinstance(error, Conflict)
    kept = error.sibling
    sentence = "This build was saved elsewhere meanwhile. " + (
        "What you typed here is kept as a build of its own."
        if kept is not None
        else "What you typed here is not saved."
    )
    return JSONResponse(
        {
            "detail": sentence,
            "field": "",
            "current": error.current,
            "sibling_id": kept.id if kept is not None else "",
            "sibling_name": kept.build.name if kept is not None else "",
        },
        409,
    )


async def _invalid(request: Request, error: Exception) -> JSONResponse:
    assert isinstance(error, RequestValidationError)
    first = error.errors()[0]
    path = ".".join(str(p) for p in first["loc"] if p != "body")
    message = str(first["msg"]).removeprefix("Value error, ")
    if first["type"] == "json_invalid":
        message = "That is not JSON that can be read"
    if first["type"].startswith("union_tag"):
        context = first.get("ctx", {})
        name = str(context.get("discriminator", "kind")).strip("'")
        path = f"{path}.{name}"
        allowed = context.get("expected_tags", "")
        message = f"say which kind it is{': ' + str(allowed) if allowed else ''}"
    sentence = f"{path}: {message}." if path else f"{message}."
    given = first.get("input")
    if isinstance(given, str | int | float) and len(str(given)) < 60:
        sentence = f"{sentence[:-1]}; “{given}” was given."
    return _problem(422, sentence, path)


async def _refused(request: Request, error: Exception) -> JSONResponse:
    assert isinstance(error, HTTPException)
    return _problem(error.status_code, str(error.detail))


async def _unknown(request: Request, error: Exception) -> JSONResponse:
    reference = uuid.uuid4().hex[:8]
    log.exception("unexpected error %s at %s %s", reference, request.method, request.url.path, exc_info=error)
    answer = _problem(500, f"Something went wrong that should not. Nothing was changed. Reference {reference}.")
    # This answer is given outside of all that stands round the app, so it carries its headers itself.
    answer.raw_headers.extend(HEADERS)
    return answer
