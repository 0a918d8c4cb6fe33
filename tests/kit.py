"""Small helpers of the tests."""

from __future__ import annotations

from typing import Any

from zinc_whistle.core.assess import Assessment, assess
from zinc_whistle.core.build import Build
from zinc_whistle.core.findings import Finding
from zinc_whistle.core.spec import Given
from zinc_whistle.core.units import KINDS
from zinc_whistle.core.working import Leaf


def leaf(value: float | None, kind: str = "number", id: str = "x", **more: Any) -> Leaf:
    """A given, made by hand."""
    return Leaf(id, id, KINDS[kind], value, **more)


def given_at(build: Build, path: str) -> Given:
    """The given at a path of a build."""
    at: Any = build
    for step in path.split("."):
        at = next(i for i in at if i.id == step) if isinstance(at, list) else getattr(at, step)
    assert isinstance(at, Given)
    return at


def changed(build: Build, **texts: str) -> Build:
    """A copy with other texts; the path's dots are written as two underlines."""
    copy = build.model_copy(deep=True)
    for path, text in texts.items():
        given_at(copy, path.replace("__", ".")).text = text
    return copy


def finding(done: Assessment, code: str) -> Finding:
    """The one finding with that code."""
    found = [x for x in done.findings if x.code == code]
    assert len(found) == 1, f"{code}: {[x.code for x in done.findings]}"
    return found[0]


def worked(build: Build, *args: Any) -> Any:
    """The first drive of a build, worked out."""
    return next(iter(assess(build, *args).drives.values()))
