"""A long shelf, joined channels, what a part needs around it, and each school's verdict."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.kit import changed, components, finding, staged, worked
from zinc_whistle.core.assess import SHORT_LIST, assess
from zinc_whistle.core.design import screen
from zinc_whistle.core.design.accessories import surroundings
from zinc_whistle.core.model.build import Build, bind_parts
from zinc_whistle.core.model.driver import DriverPart
from zinc_whistle.core.stations.driver.candidates import evaluate, rank
from zinc_whistle.demo.data import cider_stirrer, lantern_carousel, puppet_stage, sample_parts
from zinc_whistle.sheets.driver import detail_of
from zinc_whistle.sheets.sheet import reply


def long_shelf(count: int, factor: float = 1.0) -> list[DriverPart]:
    """Parts like the samples, each with other figures: the k-th is a little better or worse than its sample."""
    made = []
    samples = sample_parts()
    for k in range(count):
        part = samples[k % len(samples)].model_copy(deep=True)
        part.id, part.name = f"p{k}", f"Part {k}"
        bind_parts([part])
        for name, step in (
            ("continuous_a", 0.013),
            ("peak_a", 0.011),
            ("on_resistance", -0.009),
            ("thermal_resistance", 0.007),
        ):
            given_ = getattr(part, name)
            if given_.value:
                given_.text = f"{given_.value * (1 + step * factor * (k // len(samples))):.9g}"
        part._path = ""
        made.append(part)
    bind_parts(made)
    return made


SETTINGS: dict[str, Any] = {
    "as it is": lambda b: b,
    "stall": lambda b: school(b, "stall"),
    "limited": lambda b: school(b, "limited"),
    "brakes": lambda b: signal(b, "braking", "brake"),
    "slammed": lambda b: signal(b, "reversal", "slammed"),
    "adaptor": lambda b: adaptor(b),
    "joined": lambda b: changed(b, drives__d1__joined="2"),
    "no soft start": lambda b: signal(b, "soft_start", "no"),
}


def school(build: Build, name: str) -> Build:
    build.schools.sizing = name  # type: ignore[assignment]
    return build


def signal(build: Build, name: str, value: str) -> Build:
    setattr(build.drives[0].signals, name, value)
    return build


def adaptor(build: Build) -> Build:
    build.supply.sources[0].sinks = "no"
    return build


@pytest.mark.parametrize("setting", SETTINGS)
def test_the_arrays_order_a_shelf_as_the_full_working_does(setting: str) -> None:
    build = SETTINGS[setting](lantern_carousel())
    shelf = long_shelf(70)
    drive = worked(build, shelf)
    places = screen.order(drive.context, shelf, drive.chosen)
    on_arrays = [evaluate(drive.context, shelf[i]).rank for i in places]
    assert on_arrays == sorted(on_arrays)
    assert sorted(places) == list(range(len(shelf)))


def test_of_a_long_shelf_the_best_are_shown_and_the_chosen_one() -> None:
    shelf = long_shelf(300)
    build = lantern_carousel()
    build.units[0].part = shelf[-1].model_copy(deep=True)
    done = assess(Build.model_validate(build.model_dump()), shelf)
    drive: Any = done.drives["d1"]
    assert len(drive.candidates) in (SHORT_LIST, SHORT_LIST + 1)
    assert drive.context.part.id in {c.part.id for c in drive.candidates}
    everything = [c.part.id for c in rank(drive.context, shelf)]
    assert [c.part.id for c in drive.candidates][:20] == everything[:20]
    picture = reply(done, "driver", "d1").sheet.picture
    assert picture.left_out == 300 - len(drive.candidates)


def test_joined_channels_carry_and_warm_as_two_in_parallel(carousel: Build) -> None:
    part = next(p for p in sample_parts() if p.id == "mos-twin-7a").model_copy(deep=True)
    part.joins = "yes"
    carousel.units[0].part = part
    carousel = Build.model_validate(carousel.model_dump())
    one, two = worked(carousel), worked(changed(carousel, drives__d1__joined="2"))
    first, second = one.chosen, two.chosen
    by = {c.code: c for c in first.checks}, {c.code: c for c in second.checks}
    assert by[1]["driver.continuous"].limit.value == pytest.approx(2 * by[0]["driver.continuous"].limit.value)
    assert by[1]["driver.peak"].limit.value == pytest.approx(2 * by[0]["driver.peak"].limit.value)
    assert second.heat.conduction.value < first.heat.conduction.value * 0.52
    assert two.circuit.stall_full.value > one.circuit.stall_full.value, "less resistance in the way"
    assert by[1]["driver.channel"].severity == "note"


@pytest.mark.parametrize(
    ("joins", "channel", "count", "says"),
    [("no", "1", "2", "does not allow"), ("yes", "2", "2", "fewer channels"), ("yes", "1", "3", "fewer channels")],
)
def test_channels_that_cannot_be_joined_are_refused(
    carousel: Build, joins: str, channel: str, count: str, says: str
) -> None:
    part = next(p for p in sample_parts() if p.id == "mos-twin-7a").model_copy(deep=True)
    part.joins = joins  # type: ignore[assignment]
    carousel.units[0].part = part
    done = assess(changed(carousel, drives__d1__joined=count, drives__d1__channel=channel))
    found = finding(done, "driver.channel")
    assert found.severity == "stop"
    assert says in found.todo


def extras(build: Build, part_id: str) -> tuple[list[str], float, Any]:
    part = next(p for p in sample_parts() if p.id == part_id)
    bind_parts([part])
    drive = worked(build, sample_parts())
    found = surroundings(drive.context, evaluate(drive.context, part), list(components().values()))
    return [e.what for e in found.extras], found.total, found


def test_what_a_part_needs_around_it_is_added_to_its_price() -> None:
    build = puppet_stage()
    build.units[0].flyback = "none"
    bare = next(p for p in sample_parts() if p.id == "npn-1a")
    bind_parts([bare])
    what, total, found = extras(build, "npn-1a")
    assert any("Schottky" in w or "diode" in w.lower() for w in what), "it has no diode of its own"
    assert total > (bare.price.value or 0)
    diode = next(e for e in found.extras if "no diodes" in e.why)
    named = next(c for c in components().values() if c.name == diode.what)
    assert named.reverse_v.value >= 1.25 * 18.6
    cheaper = [
        c
        for c in components().values()
        if c.kind == "diode"
        and c.reverse_v.value >= 1.25 * 18.6
        and c.forward_a.value >= 0.33
        and c.recovery.value < 1e-6
    ]
    assert named.price.value == min(c.price.value for c in cheaper)


def test_a_bulk_capacitor_is_counted_only_where_none_is_fitted(carousel: Build) -> None:
    with_one, _, _ = extras(carousel, "mos-single-5a")
    assert not any("lectrolytic" in w for w in with_one)
    carousel.units[0].bulk_capacitance.text = ""
    without, _, _ = extras(Build.model_validate(carousel.model_dump()), "mos-single-5a")
    assert any("lectrolytic" in w or "olymer" in w for w in without)


def test_what_the_shelf_lacks_is_said() -> None:
    drive = worked(cider_stirrer(), sample_parts())
    part = next(p for p in sample_parts() if p.id == "npn-1a")
    bind_parts([part])
    drive.context.unit.flyback = "none"
    found = surroundings(drive.context, evaluate(drive.context, part), [])
    assert "a flyback diode" in found.lacking


def test_the_motors_torque_and_speed_after_the_drop(carousel: Build) -> None:
    """Kirchhoff by hand: a bipolar bridge's drop is volts that the motor never sees."""
    shelf = sample_parts()
    bind_parts(shelf)
    parts = {p.id: p for p in shelf}
    drive = worked(carousel, shelf)
    bridge, fet = (evaluate(drive.context, parts[i]) for i in ("bip-twin-2a", "mos-single-5a"))
    for one in (bridge, fet):
        at, solved = drive.context, one.circuit
        stall = (at.volts.flat.value - (one.part.drop_v.value or 0) - at.motor.brush_drop.value) / (
            at.volts.resistance.value
            + at.supply_wire.resistance.value
            + one.part.on_resistance.value
            + at.motor_wire.resistance.value
            + at.winding_cold.value
        )
        wanted = at.motor.motor_constant.value * (stall - at.motor.friction_a.value)
        assert solved.stall_torque.value == pytest.approx(wanted, rel=1e-9)
    assert bridge.circuit.stall_torque.value < fet.circuit.stall_torque.value
    assert bridge.circuit.delivered_flat.value < fet.circuit.delivered_flat.value


def test_the_three_schools_stand_beside_every_candidate(carousel: Build) -> None:
    done = assess(carousel, sample_parts())
    shown = reply(done, "driver", "d1").sheet.picture
    assert done.drives["d1"].driven is not None
    for candidate in shown.candidates:
        detail = detail_of(done.drives["d1"].driven, candidate.id, list(components().values()))
        assert detail is not None
        assert [v.school for v in detail.verdicts] == ["stall", "run and peak", "limited"]
        assert [v.followed for v in detail.verdicts].count(True) == 1
        assert detail.total
    assert detail_of(done.drives["d1"].driven, "no-such", []) is None


def test_a_stage_of_ones_own_stands_among_the_candidates() -> None:
    build = staged(lantern_carousel(), "full bridge")
    shown = reply(assess(build, sample_parts()), "driver", "d1").sheet.picture
    assert shown.candidates[0].id == "stage"
    assert shown.candidates[0].chosen
    assert sum(c.chosen for c in shown.candidates) == 1


@settings(max_examples=25)
@given(st.sampled_from(["continuous_a", "peak_a", "v_max", "pwm_limit"]), st.floats(1.05, 4), st.integers(0, 13))
def test_a_better_figure_never_ranks_a_part_lower(name: str, times: float, place: int) -> None:
    parts = sample_parts()
    bind_parts(parts)
    drive = worked(lantern_carousel(), parts)
    part = parts[place]
    better = part.model_copy(deep=True)
    spot = getattr(better, name)
    if spot.value is None:
        return
    spot.text = f"{spot.value * times:.9g} {'' if name != 'pwm_limit' else 'Hz'}"
    better._path = ""
    bind_parts([better])
    before, after = evaluate(drive.context, part), evaluate(drive.context, better)
    assert after.rank <= before.rank
