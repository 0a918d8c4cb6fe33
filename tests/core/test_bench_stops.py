"""Steps for what must stop by itself, for the way on which a load pulls, and for the least duty."""

from __future__ import annotations

from pathlib import Path

import pytest

from tests.kit import staged
from tests.verdicts.hidden_bench import HiddenBench
from tests.verdicts.kit import SHELF, altered
from zinc_whistle.core.assess import assess
from zinc_whistle.core.model.build import Build
from zinc_whistle.core.panel.runtime import Panel
from zinc_whistle.core.program.plan import plan_program
from zinc_whistle.core.stations.bench.readings import judge
from zinc_whistle.core.stations.bench.step import Step
from zinc_whistle.demo.data import cider_stirrer, lantern_carousel, puppet_stage

LONGEST_MS = 120_000


def steps_of(build: Build, drive: str = "d1") -> dict[str, Step]:
    return {s.id: s for s in assess(build, SHELF).drives[drive].steps}


def running(build: Build) -> Panel:
    """The panel that its program runs."""
    drive = plan_program(assess(build, SHELF), build.controllers[0].id).drives[0]
    return Panel(drive.machine, drive.lines, drive.settings)


@pytest.mark.parametrize("watch", ["150 ms", "400 ms", "2 s"])
def test_its_panel_without_counts_fails_inside_the_bounds_of_the_step(watch: str) -> None:
    """The panel itself, told to drive while its counter stands: from the first level to the failure."""
    build = altered(lantern_carousel, drives__d1__panel__watch_time=watch)
    step = steps_of(build)["jam_stop"]
    assert step.stage == "pulses" and step.type == ("clear", "duty {n} 1000", "status {n}", "duty {n} 0")
    panel = running(build)
    panel.open_loop = True
    rest = {"link_lost": False, "stop": False}
    for _ in range(1000):
        panel.tick({}, rest)
    first = None
    for ms in range(LONGEST_MS):
        now = panel.tick({}, rest | {"forward": True})
        if first is None and now.level > 0:
            first = ms
        if first is not None and now.mode == "failed":
            assert step.holds((ms - first) / 1e3) is True, ms - first
            assert step.holds((ms - first) / 1e3 + 0.7) is False
            return
    raise AssertionError("it never stopped")


@pytest.mark.parametrize("trip", ["5 A", "7.2 A", "11 A"])
def test_its_panel_trips_at_the_level_of_the_step_told_by_hand(trip: str) -> None:
    """The sense pin raised in steps of a hundredth, fourteen times its time at each, while the panel drives."""
    build = altered(cider_stirrer, drives__d1__panel__trip_a=trip, drives__d1__panel__trip_time="100 ms")
    step = steps_of(build)["trip_level"]
    assert "1.4 s" in step.setting and step.expected.value is not None
    panel = running(build)
    reference = build.controllers[0].sense_reference.value
    assert reference is not None
    for _ in range(1000):
        panel.tick({}, {"knob_zero": True})
    for percent in range(60, 150):
        volts = step.expected.value * percent / 100
        for _ in range(14 * panel.settings.trip_ms):
            now = panel.tick({"forward": percent < 65}, sensed=round(volts / reference * 1023))
        assert percent < 80 or now.mode in ("forward", "starting_forward", "failed"), now.mode
        if now.mode == "failed":
            assert step.holds(volts) is True, percent
            return
    raise AssertionError("it never tripped")


def test_without_a_watch_or_a_stop_by_current_nothing_is_asked_to_stop() -> None:
    assert not {"jam_stop", "trip_level"} & set(steps_of(altered(lantern_carousel, drives__d1__panel__watch="no")))
    assert not {"jam_stop", "trip_level"} & set(steps_of(altered(cider_stirrer, drives__d1__panel__trip="no")))
    assert not {"jam_stop", "trip_level"} & set(steps_of(puppet_stage()))


def test_at_the_duty_of_the_step_it_comes_to_rest_and_above_it_turns() -> None:
    """The motor as its electrical likeness, fed with a share of its supply, in the tests' own nodal solver."""
    build = cider_stirrer()
    done = assess(build, SHELF).drives["d1"]
    motor = done.of_motor
    assert motor is not None and motor.circuit is not None
    step = next(s for s in done.steps if s.id == "stops_at")
    assert step.expected.value is not None and step.low is None

    def turns(duty: float) -> bool:
        bench = HiddenBench(motor.context, motor.steps, "none", 1)
        at = motor.context
        bench.emf = duty * (at.volts.nominal.value or 0)
        bench.source, bench.lead, bench.on = 1e-3, 1e-3, 2e-3
        bench.winding = motor.circuit.inner_resistance.value or 0
        bench.drop, bench.brush = 0.0, motor.circuit.lost_volts.value or 0
        bench.friction, bench.viscous = at.load.slow_current.value or 0, 0.0
        return bench.solve(0.0)["emf"] > 0.01 * bench.emf

    assert turns(1.1 * step.expected.value) and not turns(0.9 * step.expected.value)


def test_the_least_duty_is_asked_of_what_can_be_turned_down_alone() -> None:
    """A knob or the port; not a loop that holds its speed, nor what is switched on at one duty."""
    assert "stops_at" in steps_of(cider_stirrer())
    assert "stops_at" not in steps_of(lantern_carousel()), "its loop is closed"
    open_loop = steps_of(altered(lantern_carousel, drives__d1__loop__closed="no"))["stops_at"]
    assert open_loop.type[:2] == ("clear", "duty {n} 250") and open_loop.type[-1] == "duty {n} 0"
    fixed = altered(cider_stirrer, drives__d1__panel__speed_by="fixed")
    assert "stops_at" not in steps_of(fixed)
    sticks = altered(cider_stirrer, drives__d1__motor__breakaway_a="8 A")
    high, before = (steps_of(x)["stops_at"].high for x in (sticks, cider_stirrer()))
    assert high is not None and before is not None and high > before, "up to where it breaks away"


def test_a_load_that_pulls_has_a_step_of_its_own() -> None:
    """The hoist down at 60 mm/s through a gear of 10: it is pulled. With a gear of 60 its friction holds it."""
    (path,) = (Path(__file__).parents[1] / "verdicts" / "builds").glob("07-*.json")

    def hoist() -> Build:
        return Build.model_validate_json(path.read_text("utf-8"))

    pulled = altered(hoist, drives__d1__load__gear_ratio="10")
    step = steps_of(pulled)["lowering"]
    motor = assess(pulled, SHELF).drives["d1"].of_motor
    assert motor is not None
    assert step.expected.value == pytest.approx(-(motor.load.parts[1].current.value or 0))
    assert step.stage == "load" and "below it" in step.caution
    assert "lowering" not in steps_of(hoist())


def test_switches_side_by_side_are_compared_and_one_alone_is_not() -> None:
    alone = staged(lantern_carousel(), "low side", parallel="1")
    both = staged(lantern_carousel(), "low side", parallel="2")
    assert "alike" not in steps_of(alone)
    step = steps_of(both)["alike"]
    assert judge(step, "4 K").verdict == "pass" and judge(step, "14 K").verdict == "fail"
    assert step.stage == "long"
