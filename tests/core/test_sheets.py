"""What the screen gets: every path leads to a field, every figure to its working, in every demo and station."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import pytest

from zinc_whistle.core.assess import assess
from zinc_whistle.core.model.build import Build
from zinc_whistle.core.model.driver import DriverPart
from zinc_whistle.core.model.given import Spec
from zinc_whistle.core.stations import IDS as STATIONS
from zinc_whistle.demo.data import blank_build, cider_stirrer, lantern_carousel, puppet_stage, sample_motors
from zinc_whistle.sheets.sheet import reply
from zinc_whistle.sheets.views import working_view

MAKERS: dict[str, Callable[[], Build]] = {
    "carousel": lantern_carousel,
    "stirrer": cider_stirrer,
    "puppets": puppet_stage,
    "blank": lambda: blank_build("New"),
}


def at(build: Build, path: str) -> Any:
    """What stands at a path (None in an empty place for a part); KeyError if there is no such place."""
    spot: Any = build
    for step in filter(None, path.split(".")):
        if isinstance(spot, list):
            spot = next((i for i in spot if i.id == step), None)
            if spot is None:
                raise KeyError(path)
        elif isinstance(spot, Spec) and step in type(spot).model_fields:
            spot = getattr(spot, step)
        else:
            raise KeyError(path)
    return spot


def sheets(name: str, shelf: list[DriverPart]) -> Any:
    build = MAKERS[name]()
    done = assess(build, shelf)
    motors = sample_motors()
    for drive in done.drives:
        for station in ("build", *STATIONS):
            yield build, done, reply(done, station, drive, (), motors)


@pytest.mark.parametrize("name", sorted(MAKERS))
def test_every_field_and_list_stands_in_the_build(name: str, shelf: list[DriverPart]) -> None:
    for build, _, made in sheets(name, shelf):
        for section in made.sheet.sections:
            at(build, section.path)
            assert len({f.label for f in section.fields}) == len(section.fields), section.title
            for field in section.fields:
                at(build, field.path)
            for row in section.rows or []:
                for field in row.fields:
                    at(build, field.path)


@pytest.mark.parametrize("name", sorted(MAKERS))
def test_every_finding_leads_somewhere(name: str, shelf: list[DriverPart]) -> None:
    for build, _, made in sheets(name, shelf):
        for found in (*made.sheet.findings, *made.spots):
            assert found.title
            assert found.state in ("stop", "warn", "tight", "holds", "unknown")
            if found.state in ("stop", "warn"):
                assert found.todo.strip().strip("."), found.code
            if found.state == "unknown" and found.station != "bench":
                assert (
                    "give" in found.detail
                    or "choose" in found.detail
                    or "add" in found.detail
                    or "name" in found.detail
                    or "say" in found.detail
                ), found.code
            if found.where and ".none" not in found.where:
                at(build, found.where)


@pytest.mark.parametrize("name", ["stirrer", "puppets"])
def test_every_shown_figure_has_its_working_down_to_the_givens(name: str, shelf: list[DriverPart]) -> None:
    seen: set[str] = set()
    for _, done, made in sheets(name, shelf):
        stack = [f.id for f in made.sheet.figures if f.id]
        while stack:
            id = stack.pop()
            if not id or id in seen:
                continue
            seen.add(id)
            view = working_view(done, id)
            assert view is not None, id
            assert view.source, id
            stack += [i.id for i in view.inputs]
    assert len(seen) > 150


@pytest.mark.parametrize("name", sorted(MAKERS))
def test_numbers_on_screen_are_never_without_a_reason(name: str, shelf: list[DriverPart]) -> None:
    for _, _, made in sheets(name, shelf):
        for figure in made.sheet.figures:
            assert figure.number or figure.reason, figure.id
            assert "nan" not in figure.number
            assert "inf" not in figure.number


def test_every_station_carries_its_cautions(shelf: list[DriverPart]) -> None:
    """Common practice, no source: the cautions that a bench teacher gives, each where it fits."""
    said = {made.sheet.station: " ".join(made.sheet.cautions) for _, _, made in sheets("carousel", shelf)}
    assert "Clamp the motor" in said["motor"]
    assert "lift, gate, hoist or vehicle" in said["load"]
    assert "Fuse first" in said["supply"]
    assert "does not cut power" in said["signals"]
    assert "eye protection" in said["wiring"]
    assert "never on a bridge output" in said["bench"]
    servo = {made.sheet.station: made.sheet.cautions for _, _, made in sheets("puppets", shelf) if made.drive == "d2"}
    assert all(servo[s] for s in ("load", "supply", "wiring", "bench"))


def test_every_field_with_few_values_is_a_choice_and_a_profile_leaves_libraries_alone() -> None:
    from zinc_whistle.sheets.build_page import CONTROLLER, build_sections
    from zinc_whistle.sheets.fields import Describer

    done = assess(lantern_carousel())
    fields = {f.path: f for s in build_sections(done.build, Describer(done)) for f in s.fields}
    assert fields["controllers.c1.program"].control == "choice"
    assert [o.value for o in fields["controllers.c1.program"].options] == ["", "avr", "micropython"]
    assert "libraries" not in CONTROLLER and {"pins", "timers", "program"} <= set(CONTROLLER)
