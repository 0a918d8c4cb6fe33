"""Small helpers of the tests."""

from __future__ import annotations

from functools import cache
from typing import Any

from zinc_whistle.core.algebra.findings import Finding
from zinc_whistle.core.algebra.nodes import Leaf
from zinc_whistle.core.algebra.units import KINDS
from zinc_whistle.core.assess import Assessment, assess
from zinc_whistle.core.model.build import Build, bind_components
from zinc_whistle.core.model.component import Component
from zinc_whistle.core.model.given import Given
from zinc_whistle.core.model.stage import SLOTS
from zinc_whistle.demo.data import sample_components


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


def staged(build: Build, circuit: str, unit: str = "u1", **more: Any) -> Build:
    """A copy whose unit is a discrete stage of that circuit, with sample parts that suit it; ``more`` overrides.

    Values that are strings in a place for a part name a sample; other strings are texts or choices.
    """
    copy = build.model_copy(deep=True)
    stage = copy.units[[u.id for u in copy.units].index(unit)].stage
    copy.units[[u.id for u in copy.units].index(unit)].made_of = "stage"
    usual: dict[str, Any] = {
        "circuit": circuit,
        "switch": {"bipolar low side": "b-npn-8a", "modules": "h-60-25"}.get(circuit, "m-n55-22-ll"),
        "upper": "m-p55-20",
        "relay": "r-12v-10a",
        "diode": "d-sch-100-10",
        "fuse": None,
        "guard": None,
        "heat_sink": None,
        "gate_driver": "g-low-4a" if circuit in ("low side", "relay pair", "p/n bridge") else "g-half-4a",
        "gate_clamp": "yes",
        "parallel": "1",
        "base_resistor": "10 Ω",
    }
    parts = components()
    for name, value in (usual | more).items():
        if name in SLOTS:
            setattr(stage, name, parts[value].model_copy(deep=True) if value else None)
        elif isinstance(getattr(stage, name), Given):
            getattr(stage, name).text = value
            getattr(stage, name).origin = "chosen"
        else:
            setattr(stage, name, value)
    return copy


@cache
def components() -> dict[str, Component]:
    """The sample components by id, bound; nobody changes them."""
    found = sample_components()
    bind_components(found)
    return {c.id: c for c in found}


def codes(done: Assessment, severity: str = "stop") -> set[str]:
    """The codes of all findings of one severity."""
    return {x.code for x in done.findings if x.severity == severity}
