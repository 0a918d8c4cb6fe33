"""Which fields are folded: what nobody has touched and need not be given. Never what lacks, nor what cannot be read."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import pytest

from zinc_whistle.core.assess import assess
from zinc_whistle.core.model.build import Build
from zinc_whistle.core.model.driver import DriverPart
from zinc_whistle.demo.data import blank_build, cider_stirrer, lantern_carousel, puppet_stage, snow_fan
from zinc_whistle.sheets.fields import Field
from zinc_whistle.sheets.sheet import reply


def new() -> Build:
    return blank_build("New")


BUILDS = (lantern_carousel, cider_stirrer, puppet_stage, snow_fan, new)


def fields(build: Build, shelf: list[DriverPart], station: str = "") -> Iterator[Field]:
    done = assess(build, shelf)
    for drive in done.drives.values():
        for name in ("build", *drive.stations):
            if not station or name == station:
                for section in reply(done, name, drive.drive.id).sheet.sections:
                    yield from section.fields
                    yield from (f for row in section.rows or () for f in row.fields)


def at(found: Iterator[Field], path: str) -> Field:
    return next(f for f in found if f.path == path)


@pytest.mark.parametrize("make", BUILDS)
def test_what_is_needed_and_lacks_is_in_sight(make: Callable[[], Build], shelf: list[DriverPart]) -> None:
    for field in fields(make(), shelf):
        if field.control == "quantity" and not field.optional and not field.text.strip():
            assert not field.aside, field.path


def test_a_new_build_asks_less_than_half_of_its_fields(shelf: list[DriverPart]) -> None:
    every = list(fields(new(), shelf))
    assert sum(not f.aside for f in every) < 0.5 * len(every)


def test_a_touched_field_comes_into_sight_and_its_neighbour_does_not(shelf: list[DriverPart]) -> None:
    build = lantern_carousel()
    source = build.supply.sources[0]
    touched, neighbour = f"supply.sources.{source.id}.peukert", f"supply.sources.{source.id}.rated_hours"
    assert at(fields(build, shelf, "supply"), touched).aside
    source.peukert.text = "1.1"
    assert not at(fields(build, shelf, "supply"), touched).aside
    assert at(fields(build, shelf, "supply"), neighbour).aside


def test_a_figure_that_somebody_stands_for_is_in_sight_though_it_is_the_usual_one(shelf: list[DriverPart]) -> None:
    build = lantern_carousel()
    build.supply.sources[0].peukert.origin = "measured"
    assert not at(fields(build, shelf, "supply"), f"supply.sources.{build.supply.sources[0].id}.peukert").aside


def test_an_adaptor_is_asked_nothing_of_a_battery_but_what_was_given_is_not_hidden(shelf: list[DriverPart]) -> None:
    build = puppet_stage()
    adaptor = build.supply.sources[0]
    assert adaptor.kind == "adaptor"

    def asked() -> set[str]:
        return {f.path.rpartition(".")[2] for f in fields(build, shelf, "supply") if f.path.startswith(adaptor.path)}

    assert not {"peukert", "cells", "capacity", "packs"} & asked()
    assert "limit" in asked()
    adaptor.capacity.text = "2 Ah"
    assert "capacity" in asked()
    assert "peukert" not in asked()
