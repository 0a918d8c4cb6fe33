"""What a builder wrote into a program stays; tables of quadrature; whole numbers of the plan."""

from __future__ import annotations

import itertools

import pytest
from hypothesis import given
from hypothesis import strategies as st

from zinc_whistle.core.assess import assess
from zinc_whistle.core.laws.decoder import ILLEGAL, RING, table
from zinc_whistle.core.panel.runtime import divided
from zinc_whistle.core.panel.settings import Loop, Settings
from zinc_whistle.core.program.c_source import c_source
from zinc_whistle.core.program.keep import own_parts, renewed
from zinc_whistle.core.program.plan import plan_program
from zinc_whistle.demo.data import cider_stirrer, lantern_carousel, puppet_stage


def source() -> str:
    return c_source(plan_program(assess(lantern_carousel()), "c1"))


def test_what_was_written_between_the_marks_is_in_the_new_program() -> None:
    old = source()
    edited = old.replace(
        "/* yours: includes and variables */", "/* yours: includes and variables */\nstatic int lamps;", 1
    )
    build = lantern_carousel()
    build.drives[0].signals.ramp_time.text = "1 s"
    new = c_source(plan_program(assess(build), "c1"))
    kept = renewed(new, edited)
    assert "static int lamps;" in kept.source
    assert kept.kept == ("includes and variables",)
    assert not kept.warnings
    assert kept.source.replace("static int lamps;\n", "") == new


def test_a_change_outside_the_marks_is_told_before_it_is_lost() -> None:
    old = source()
    edited = old.replace("CAROUSEL_PAUSE_MS 200", "CAROUSEL_PAUSE_MS 900")
    assert edited != old
    kept = renewed(old, edited)
    assert kept.source == old
    assert any("CAROUSEL_PAUSE_MS 900" in w for w in kept.warnings)


def test_a_part_that_has_no_place_any_more_is_told() -> None:
    edited = source() + "/* yours: my lamp */\nlamp();\n/* end of yours: my lamp */\n"
    kept = renewed(source(), edited)
    assert any("my lamp" in w and "1 lines" in w for w in kept.warnings)


@pytest.mark.parametrize(
    ("broken", "sentence"),
    [
        ("/* end of yours: includes and variables */", "no end|does not pair"),
        ("/* yours: includes and variables */", "does not pair"),
    ],
)
def test_marks_that_do_not_pair_are_refused(broken: str, sentence: str) -> None:
    with pytest.raises(ValueError, match=sentence):
        renewed(source(), source().replace(broken, "", 1))


def test_a_part_that_begins_twice_is_refused() -> None:
    text = "# yours: a\n# end of yours: a\n"
    with pytest.raises(ValueError, match="twice"):
        own_parts(text + text)


@given(st.text(alphabet="ab {};\n", max_size=60))
def test_any_own_text_survives_twice(text: str) -> None:
    mark = "/* yours: includes and variables */\n"
    new = mark + "/* end of yours: includes and variables */\nrest\n"
    once = renewed(new, new.replace(mark, mark + text.strip("\n") + "\n")).source
    assert renewed(new, once).source == once
    assert own_parts(once)["includes and variables"].strip() == text.strip()


@pytest.mark.parametrize(("decoding", "per_period"), [("4", 4), ("2", 2), ("1", 1)])
def test_a_period_gives_its_counts_both_ways(decoding: str, per_period: int) -> None:
    turns = table(decoding)
    ring = [*RING, RING[0]]
    forwards = sum(turns[a << 2 | b] for a, b in itertools.pairwise(ring))
    backwards = sum(turns[b << 2 | a] for a, b in itertools.pairwise(ring))
    assert (forwards, backwards) == (per_period, -per_period)


@pytest.mark.parametrize("decoding", ["4", "2", "1"])
def test_standing_still_counts_nothing_and_both_at_once_is_illegal(decoding: str) -> None:
    turns = table(decoding)
    for before, now in itertools.product(range(4), repeat=2):
        if before == now:
            assert turns[before << 2 | now] == 0
        elif before ^ now == 3:
            assert turns[before << 2 | now] == ILLEGAL
        else:
            # Common practice, no source: a sensor that trembles on an edge counts there and back.
            assert turns[before << 2 | now] == -turns[now << 2 | before]


@given(st.lists(st.sampled_from([1, -1]), max_size=80))
def test_any_walk_along_the_gray_code_ends_at_its_own_sum(steps: list[int]) -> None:
    turns, place, count = table("4"), 0, 0
    for step in steps:
        count += turns[RING[place % 4] << 2 | RING[(place + step) % 4]]
        place += step
    assert count == sum(steps)


@given(st.integers(-(10**6), 10**6), st.integers(1, 1000))
def test_quotients_go_towards_zero_as_in_c(a: int, b: int) -> None:
    assert divided(a, b) == int(a / b)


@given(st.integers(0, 6000), st.integers(50, 65535))
def test_a_speed_and_its_level_belong_together(rpm: int, full: int) -> None:
    loop = Loop(20, 1000, max(round(8000 * 65536 / full), 1), 500, 0)
    level = loop.level_of(rpm)
    if rpm:
        assert abs(loop.speed_of(level) - rpm) <= 8000 / full + 2


@given(st.integers(1, 9000), st.sampled_from([1, 5, 10]))
def test_a_ramp_in_ticks_takes_as_long_as_in_milliseconds(ramp_ms: int, tick: int) -> None:
    settings = Settings(1000, 500, ramp_ms, 100, 20)
    ticked = settings.in_ticks(tick)
    assert abs(ticked.ramp_ms * tick - ramp_ms) <= tick
    assert ticked.pause_ms * tick == pytest.approx(100, abs=tick)


def test_the_plans_of_all_demos_hold_the_designs_own_numbers() -> None:
    for build in (lantern_carousel(), cider_stirrer(), puppet_stage()):
        done = assess(build)
        plan = plan_program(done, "c1")
        for drive in plan.drives:
            worked = next(d for d in done.drives.values() if d.drive.name == drive.name)
            duty = worked.circuit.duty_nominal.value
            assert drive.settings.wanted / drive.settings.full == pytest.approx(duty, abs=0.006)
            ramp = worked.signals.ramp.value
            assert drive.settings.ramp_ms * drive.settings.wanted / drive.settings.full == pytest.approx(
                1e3 * ramp, rel=0.01
            )
            assert drive.timing.frequency_hz == pytest.approx(worked.context.plan.frequency.value)
