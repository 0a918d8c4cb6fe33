"""What all routers share: bodies are read strictly, and the refusals that any request may meet are told."""

from __future__ import annotations

from typing import Any

from fastapi import APIRouter

from . import models
from .safety import StrictRoute

Responses = dict[int | str, dict[str, Any]]
REFUSALS: Responses = {
    400: {"model": models.Problem},
    403: {"model": models.Problem},
    413: {"model": models.Problem},
    422: {"model": models.Problem},
}


def strict_router(prefix: str, tag: str, besides: Responses | None = None) -> APIRouter:
    """A router whose routes are whole as they are declared: the application takes them over unchanged."""
    return APIRouter(prefix=prefix, route_class=StrictRoute, tags=[tag], responses=REFUSALS | (besides or {}))
