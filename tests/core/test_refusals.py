"""What would have to change for a refused part to pass, verified by changing it; remedies that the app can apply."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.test_properties import put
from tests.kit import finding, given_at
from zinc_whistle.core.assess import assess
from zinc_whistle.core.cases.operating import contexts
from zinc_whistle.core.design.change import NeededChange, change_for
from zinc_whistle.core.model.build import Build
from zinc_whistle.core.model.driver import DriverPart
from zinc_whistle.core.model.given import Given
from zinc_whistle.core.stations.driver.candidates import evaluate
from zinc_whistle.demo.data import cider_stirrer, lantern_carousel, puppet_stage, sample_parts
from zinc_whistle.sheets.views import remedy_view


def applied(build: Build, part: DriverPart, change: NeededChange) -> tuple[Build, DriverPart]:
    """Copies of build and part with the change made."""
    build, part = build.model_copy(deep=True), part.model_copy(deep=True)
    part._path = ""
    if change.path.startswith("part."):
        getattr(part, change.path.removeprefix("part.")).text = change.text
        return build, part
    try:
        given_at(build, change.path).text = change.text
    except AssertionError:
        put(build, change.path, change.text)
    return build, part


def candidate_of(build: Build, part: DriverPart) -> Any:
    from zinc_whistle.core.model.build import bind_build, bind_parts

    bind_build(build)
    bind_parts([part])
    at = contexts(build)["d1"]
    return at, evaluate(at, part)


PARTS = [p.id for p in sample_parts()]


@pytest.mark.parametrize("make", [lantern_carousel, cider_stirrer, puppet_stage])
@pytest.mark.parametrize("part_id", PARTS)
@pytest.mark.parametrize("school", ["stall", "run and peak", "limited"])
def test_each_refusal_holds_after_what_would_have_to_change(make: Any, part_id: str, school: str) -> None:
    build = make()
    build.schools.sizing = school
    build.supply.sources[0].sinks = "no"
    part = next(p for p in sample_parts() if p.id == part_id)
    at, candidate = candidate_of(build, part)
    for refused in candidate.refusals:
        change = change_for(at, candidate, refused)
        if change is None:
            # A supply that is too high when flat, or too low when full, is mended by no one of its ends.
            ends = ("driver.volts_high", "driver.volts_low", "driver.volts_absolute", "driver.speed", "driver.guard")
            hopeless = refused.code in (*ends, "driver.channel", "driver.heat")
            assert hopeless or refused.utilisation is None or refused.utilisation.value is None, refused.code
            continue
        assert change.sentence.startswith("Would ")
        _, after = candidate_of(*applied(build, part, change))
        # A check of an ability that is no longer asked for is gone altogether.
        again = next((x for x in after.checks if x.code == refused.code), None)
        assert again is None or again.severity != "stop", (refused.code, change, again.used)


@settings(max_examples=60)
@given(st.floats(0.2, 30.0), st.floats(20, 200), st.sampled_from(PARTS))
def test_a_heat_sink_that_is_asked_for_is_enough(load: float, path: float, part_id: str) -> None:
    build = lantern_carousel()
    build.drives[0].load.mechanisms[0].friction_torque.text = f"{load:.4f} N·m"
    part = next(p for p in sample_parts() if p.id == part_id)
    if part.kind == "contacts":
        return  # they have no junction
    part.thermal_resistance.text = f"{path:.3f} K/W"
    at, candidate = candidate_of(build, part)
    refused = next(x for x in candidate.checks if x.code == "driver.heat")
    change = change_for(at, candidate, refused)
    if change is None:
        return
    _, after = candidate_of(*applied(build, part, change))
    used = next(x for x in after.checks if x.code == "driver.heat").used
    assert used is not None
    assert 0 < used <= 1.0


def test_the_puppet_stages_one_wrong_choice_is_found_and_mended(shelf: list[DriverPart]) -> None:
    build = puppet_stage()
    done = assess(build, shelf)
    stops = [x for x in done.findings if x.severity == "stop"]
    assert [x.code for x in stops] == ["stage.flyback"]
    assert "whenever the motor runs the other way" in stops[0].todo
    remedy = stops[0].remedy
    assert remedy is not None
    shown = remedy_view(remedy, build)
    assert shown is not None
    assert "Across the motor's own terminals → On the transistor's side, to the rails" in shown.preview
    put(build, remedy.path, remedy.text)
    assert not [x for x in assess(build, shelf).findings if x.severity == "stop"]


def test_a_diode_across_a_motor_that_runs_one_way_is_right(shelf: list[DriverPart]) -> None:
    build = puppet_stage()
    build.drives[0].signals.reversal = "one way"
    assert finding(assess(build, shelf), "stage.flyback").severity == "note"
    build.units[0].flyback, build.units[0].stage.diode = "none", None
    assert finding(assess(build, shelf), "stage.flyback").severity == "stop"


def test_every_remedy_leads_to_a_field_and_mends_its_check(shelf: list[DriverPart]) -> None:
    """Each remedy is applied to a build that fails its check; the check then holds."""
    jam = lantern_carousel()
    jam.units[0].jam_stop = "none"
    ramp = lantern_carousel()
    ramp.drives[0].signals.ramp_time.text = "0.1 s"
    start = lantern_carousel()
    start.supply.sources[0].resistance.text = "4 Ω"
    start.drives[0].signals.soft_start = "no"
    bare = puppet_stage()
    bare.units[0].flyback, bare.units[0].stage.diode = "none", None
    for build, code in (
        (jam, "driver.jam_named"),
        (ramp, "signals.ramp"),
        (start, "supply.brown_out_start"),
        (bare, "stage.flyback"),
    ):
        failed = finding(assess(build, shelf), code)
        assert failed.severity in ("stop", "warn"), code
        assert failed.remedy is not None, code
        assert remedy_view(failed.remedy, build) is not None, code
        spot: Any = build
        *way, last = failed.remedy.path.split(".")
        for step in way:
            spot = next(i for i in spot if i.id == step) if isinstance(spot, list) else getattr(spot, step)
        if isinstance(getattr(spot, last), Given):
            getattr(spot, last).text = failed.remedy.text
        else:
            setattr(spot, last, failed.remedy.text)
        assert finding(assess(build, shelf), code).severity == "note", code
