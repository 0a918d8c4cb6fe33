"""Reads the shipped data: sample parts, controller profiles, and the fair's builds, written with plain texts."""

from __future__ import annotations

import json
from functools import cache
from importlib.resources import files
from typing import Any, get_args

from pydantic import BaseModel

from ..core.model.build import Build, bind_build
from ..core.model.component import Component
from ..core.model.components import CLASSES
from ..core.model.driver import DriverPart
from ..core.model.given import Given
from ..core.model.motor import MotorPart
from ..core.model.signals import Controller
from ..core.model.stage import SLOTS


def _read(name: str) -> Any:
    return json.loads((files(__package__) / name).read_text("utf-8"))


def expand(data: Any, model: type[BaseModel], origin: str) -> Any:
    """Plain texts (``"v_max": "28 V"``) as givens of one origin, through the models below."""
    if not isinstance(data, dict):
        return data
    full: dict[str, Any] = {}
    for name, value in data.items():
        info = model.model_fields.get(name)
        inner = _model_in(info.annotation, value) if info is not None else None
        if inner is Given:
            full[name] = {"text": value, "origin": origin} if isinstance(value, str) else value
        elif info is not None and isinstance(value, list):
            models = [_model_in(info.annotation, item) for item in value]
            full[name] = [expand(v, m, origin) if m else v for v, m in zip(value, models, strict=True)]
        else:
            full[name] = expand(value, inner, origin) if inner is not None else value
    return full


def _model_in(annotation: Any, value: Any) -> type[BaseModel] | None:
    if isinstance(annotation, type) and issubclass(annotation, BaseModel):
        return annotation
    found = [m for m in (_model_in(a, value) for a in get_args(annotation)) if m is not None]
    kind = value.get("kind") if isinstance(value, dict) else None
    for model in found:
        if kind is not None and "kind" in model.model_fields and model.model_fields["kind"].default == kind:
            return model
    return found[0] if found else None


@cache
def _sample_motors() -> tuple[dict[str, Any], ...]:
    return tuple(expand(m, MotorPart, "data sheet") | {"sample": True} for m in _read("motors.json"))


def sample_motors() -> list[MotorPart]:
    """The invented motors that every shelf starts with, each marked as a sample."""
    return [MotorPart.model_validate(m) for m in _sample_motors()]


@cache
def _sample_components() -> tuple[dict[str, Any], ...]:
    return tuple(expand(c, CLASSES[c["kind"]][1], "data sheet") | {"sample": True} for c in _read("components.json"))


def sample_components() -> list[Component]:
    """The invented components that every shelf starts with, each marked as a sample."""
    return [CLASSES[c["kind"]][1].model_validate(c) for c in _sample_components()]


@cache
def _sample_parts() -> tuple[dict[str, Any], ...]:
    return tuple(expand(p, DriverPart, "data sheet") | {"sample": True} for p in _read("shelf.json"))


def sample_parts() -> list[DriverPart]:
    """The invented parts that every shelf starts with, each marked as a sample."""
    return [DriverPart.model_validate(p) for p in _sample_parts()]


@cache
def _controllers() -> tuple[dict[str, Any], ...]:
    return tuple(expand(c, Controller, "data sheet") for c in _read("controllers.json"))


def controllers() -> list[Controller]:
    """The controller profiles that ship, by what they can do."""
    return [Controller.model_validate(c) for c in _controllers()]


def profile(id: str) -> Controller:
    """One of the controller profiles that ship. KeyError if there is none of that id."""
    return Controller.model_validate({c["id"]: c for c in _controllers()}[id])


def _filled(compact: dict[str, Any]) -> dict[str, Any]:
    parts = {p["id"]: p for p in _sample_parts()}
    profiles = {c.id: c for c in controllers()}
    compact = {**compact}
    compact["units"] = [{**_staged(u), "part": parts.get(u.get("part", ""))} for u in compact["units"]]
    compact["controllers"] = [_taken(profiles, entry, i) for i, entry in enumerate(compact["controllers"], 1)]
    return compact


def _taken(profiles: dict[str, Controller], entry: str | dict[str, Any], place: int) -> dict[str, Any]:
    """A controller of a demo: the name of its profile, or that with what differs."""
    differs = {"profile": entry, "regulator": "r1"} if isinstance(entry, str) else entry
    own = {k: v for k, v in differs.items() if k != "profile"}
    return profiles[differs["profile"]].model_dump() | {"sample": False, "id": f"c{place}"} | own


def _staged(unit: dict[str, Any]) -> dict[str, Any]:
    """A unit whose stage names its parts by id, with copies from the shelf in their places."""
    if "stage" not in unit:
        return unit
    shelf = {c["id"]: c for c in _sample_components()}
    return {**unit, "stage": {k: shelf[v] if k in SLOTS else v for k, v in unit["stage"].items()}}


def _measured(motor: dict[str, Any]) -> None:
    """Mark a motor's own readings as taken with the first meter."""
    readings = [row[q] for row in motor["locked"] for q in ("voltage", "current", "angle")]
    extra = [motor[n] for n in ("no_load_v", "no_load_a", "second_v", "second_a") if n in motor]
    for given in (*readings, *extra):
        given |= {"origin": "measured", "meter": "m1"}
    for row in motor["locked"]:
        row["angle"] |= {"origin": "chosen", "meter": ""}


@cache
def _whole(name: str) -> str:
    """A demo with all that its file leaves to shelf and profiles, as JSON."""
    full = expand(_filled(_read(name)), Build, "data sheet")
    for drive in full["drives"]:
        if drive["kind"] == "motor" and drive["motor"].get("locked"):
            _measured(drive["motor"])
    return Build.model_validate(full).model_dump_json()


def _build(name: str) -> Build:
    build = Build.model_validate_json(_whole(name))
    bind_build(build)
    return build


def lantern_carousel() -> Build:
    """The fair's carousel: nearly finished, closed loop."""
    return _build("lantern_carousel.json")


def cider_stirrer() -> Build:
    """The mulled-cider stirrer: a motor from a dead garden tool, in the middle of the work."""
    return _build("cider_stirrer.json")


def puppet_stage() -> Build:
    """The puppet stage: a winch and two servos on one supply and one controller."""
    return _build("puppet_stage.json")


def snow_fan() -> Build:
    """The snow machine's fan: a timer circuit and a knob, no controller."""
    return _build("snow_fan.json")


ESTIMATED = {"inductance_by": "frame", "inertia_by": "frame", "heat_by": "frame"}
"""How a new motor begins: with what its weight and case let one expect, until it is measured."""


def blank_build(name: str, controller_profile: str = "eight-bit-16") -> Build:
    """A build with one of each thing, and nothing known yet."""
    controller = profile(controller_profile).model_dump() | {"sample": False, "id": "c1", "regulator": "r1"}
    build = Build.model_validate(
        {
            "name": name,
            "meters": [{"id": "m1", "name": "My meter"}],
            "supply": {
                "sources": [{"id": "s1", "name": "Battery"}],
                "regulators": [{"id": "r1", "name": "Logic regulator", "source": "s1"}],
            },
            "controllers": [controller],
            "units": [{"id": "u1", "name": "Driver", "source": "s1"}],
            "drives": [
                {"id": "d1", "kind": "motor", "name": "Drive 1", "unit": "u1", "controller": "c1", "motor": ESTIMATED}
            ],
        }
    )
    bind_build(build)
    return build
