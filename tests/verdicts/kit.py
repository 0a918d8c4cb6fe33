"""What the verdicts are asked with: a build with some texts and choices changed, and what is said of it."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from tests.kit import given_at
from zinc_whistle.core.algebra.findings import Finding
from zinc_whistle.core.assess import Assessment, assess
from zinc_whistle.core.model.build import Build
from zinc_whistle.core.model.given import Given
from zinc_whistle.demo.data import sample_parts

SHELF = sample_parts()


def owner_of(build: Build, path: str) -> tuple[Any, str]:
    """The spec that holds the last name of a path, and that name."""
    *way, last = path.split(".")
    at: Any = build
    for step in way:
        at = next(i for i in at if i.id == step) if isinstance(at, list) else getattr(at, step)
    return at, last


def altered(make: Callable[[], Build], **changes: str) -> Build:
    """A build with texts and choices changed by path, ``__`` for a dot."""
    build = make()
    for name, text in changes.items():
        owner, last = owner_of(build, name.replace("__", "."))
        held = getattr(owner, last)
        setattr(owner, last, Given(text=text, origin="measured") if isinstance(held, Given) else text)
    return build


def said(build: Build, code: str) -> Finding | None:
    """The finding of a code; None where it is not asked."""
    return next((x for x in _of(build).findings if x.code == code), None)


def verdict(build: Build, code: str) -> str:
    """The verdict of a finding that must be there."""
    found = said(build, code)
    assert found is not None, code
    return found.verdict


def _of(build: Build) -> Assessment:
    return assess(build, SHELF)


__all__ = ["altered", "given_at", "owner_of", "said", "verdict"]
