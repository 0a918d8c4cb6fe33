"""All pulses of a controller on its timers: the best place for each, and proof where there is none. The window."""

from __future__ import annotations

import itertools
import math

import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

from tests.kit import finding, given_at
from zinc_whistle.core.assess import Assessment, MotorAssessment, assess
from zinc_whistle.core.cases.timers import Timetable, Wish, _Search, in_software, timetable
from zinc_whistle.core.model.build import Build, MotorDrive, ServoDrive, bind_build
from zinc_whistle.core.model.signals import Controller, Library
from zinc_whistle.demo.data import cider_stirrer, lantern_carousel, profile, puppet_stage


def controller(name: str = "eight-bit-16") -> Controller:
    build = Build.model_validate({"controllers": [profile(name).model_dump() | {"id": "c1"}]})
    bind_build(build)
    return build.controllers[0]


def wish(name: str, hz: float, signals: tuple[str, ...] = ("PWM",), centre: bool = False, **fixed: str) -> Wish:
    return Wish(name, name, signals, hz, centre, fixed)


def honest(at: Controller, table: Timetable) -> None:
    """Nothing shares what it cannot share."""
    pins = [p.id for place in table.places.values() for p in place.pins.values()]
    assert len(pins) == len(set(pins))
    for place in table.places.values():
        assert all(p.timer == place.setting.timer.id and "pwm" in p.can for p in place.pins.values())
    for a, b in itertools.combinations(table.places.values(), 2):
        if a.setting.timer is b.setting.timer:
            assert (a.setting.prescaler, a.setting.top, a.wish.centre) == (
                b.setting.prescaler,
                b.setting.top,
                b.wish.centre,
            )


def test_two_servos_share_the_wide_timer_and_the_winch_takes_the_other() -> None:
    table = timetable(controller(), [wish("winch", 31e3, centre=True), wish("left", 50), wish("right", 50)])
    assert not table.conflict
    honest(controller(), table)
    assert {table.places["left"].setting.timer.id, table.places["right"].setting.timer.id} == {"t1"}
    assert table.places["winch"].setting.timer.id == "t2"
    # 16 MHz / 8 / 40,000 = 50 Hz: the datasheet arithmetic of domain's timers, worked by hand.
    setting = table.places["left"].setting
    assert (setting.prescaler, setting.top, setting.frequency_hz) == (8, 39999, 50.0)


def test_alone_each_wish_gets_the_timer_that_serves_it_best() -> None:
    table = timetable(controller(), [wish("a", 20e3, centre=True)])
    assert (table.places["a"].setting.top, table.places["a"].setting.frequency_hz) == (400, 20e3)


def test_a_conflict_is_proved_by_the_fewest_wishes_and_told_timer_by_timer() -> None:
    wishes = [wish("servo", 50), wish("motor", 20e3, centre=True), wish("lamp", 200), wish("pump", 1000)]
    table = timetable(controller(), wishes)
    assert len(table.conflict) == 3, "any two of them find a timer each"
    text = " ".join(table.why)
    assert "Timer 0, 8 bit is kept for the program's millisecond." in text
    assert "want different frequencies" in text or "count differently" in text
    for smaller in itertools.combinations(table.conflict, 2):
        assert not timetable(controller(), smaller).conflict
    honest(controller(), table)
    assert len(table.places) >= 2, "the others still get theirs"


def test_too_few_pins_are_told_as_such() -> None:
    table = timetable(controller(), [wish("a", 50), wish("b", 50), wish("c", 50), wish("d", 50), wish("e", 50)])
    assert len(table.conflict) == 5
    assert any("too few pins" in line for line in table.why)


def test_a_library_takes_its_timer_and_pins_away() -> None:
    at = controller()
    at.libraries = [Library(id="l1", name="Someone's servos", timers="Timer 1", pins="D3")]
    table = timetable(at, [wish("a", 20e3, centre=True), wish("b", 50)])
    assert [w.name for w in table.conflict] == ["a", "b"]
    assert any("kept for the library Someone's servos" in line for line in table.why)
    alone = timetable(at, [wish("a", 20e3)])
    assert alone.places["a"].pins["PWM"].label == "D11"


def test_the_builders_own_pin_decides_the_timer() -> None:
    assert timetable(controller(), [wish("a", 50, PWM="p11")]).places["a"].setting.timer.id == "t2"
    table = timetable(controller(), [wish("a", 50, PWM="p4")])
    assert table.conflict and not table.places


WISHES = st.builds(
    wish,
    st.uuids().map(str),
    st.sampled_from([50.0, 52.0, 490.0, 1000.0, 20e3, 31e3]),
    st.sampled_from([("PWM",), ("IN 1", "IN 2")]),
    st.booleans(),
)


@given(st.lists(WISHES, max_size=5))
@settings(deadline=None, max_examples=80)
def test_whatever_is_wished_the_table_is_honest_and_a_conflict_is_real(wishes: list[Wish]) -> None:
    for name in ("eight-bit-16", "thirty-two-bit-48"):
        at = controller(name)
        table = timetable(at, wishes)
        honest(at, table)
        if not table.conflict:
            assert set(table.places) == {w.drive for w in wishes}
        else:
            assert _by_hand(at, list(table.conflict)) is False


def _by_hand(at: Controller, wishes: list[Wish]) -> bool:
    """Whether any assignment of wishes to timers works, by plain enumeration."""
    search = _Search(at, at.clock.value or 0.0, set(), "")
    for timers in itertools.product(search.free, repeat=len(wishes)):
        good = True
        for timer in search.free:
            here = [w for w, t in zip(wishes, timers, strict=True) if t is timer]
            if sum(len(w.signals) for w in here) > len(search.outputs(timer)) or len({w.centre for w in here}) > 1:
                good = False
                break
            for order in itertools.permutations(here) if len(here) < 5 else [here]:
                first = search.setting(order[0], timer, None) if order else None
                if first is None or all(search.setting(w, timer, (first, order[0].centre)) for w in order[1:]):
                    break
            else:
                good = False
        if good:
            return True
    return False


def test_software_pulses_are_honest_where_their_steps_are() -> None:
    # 25 % of the time in interrupts of 5 µs are 50,000 a second: 500 steps at 100 Hz, 2.5 at 20 kHz (by division).
    lamp, motor = in_software(100.0, 5e-6, 0.25), in_software(20e3, 5e-6, 0.25)
    assert (lamp.steps, lamp.honest) == (pytest.approx(500), True)
    assert (motor.steps, motor.honest) == (pytest.approx(2.5), False)
    assert "honest" in motor.says


def test_two_drives_of_one_controller_never_get_one_pin() -> None:
    build = lantern_carousel()
    second = build.drives[0].model_copy(deep=True)
    second.id, second.name, second.unit = "d2", "Second", "u2"
    second.wiring.fixed_pins = []
    unit = build.units[0].model_copy(deep=True)
    unit.id = "u2"
    build.units.append(unit)
    build.drives.append(second)
    done = assess(build)
    pins = [u.pin.label for d in done.drives.values() for u in d.wiring.pins if u.pin is not None]
    assert len(pins) == len(set(pins))
    assert done.drives["d1"].context.plan.timer is done.drives["d2"].context.plan.timer


def test_a_conflict_of_the_build_is_a_stop_that_says_why() -> None:
    build = puppet_stage()
    # Its programs cannot make pulses in turn.
    build.controllers[0].program = "micropython"
    for k in range(3):
        more = next(d for d in build.drives if isinstance(d, ServoDrive)).model_copy(deep=True)
        more.id, more.name = f"s{k}", f"Servo {k}"
        build.drives.append(more)
    done = assess(build)
    found = [x for x in done.findings if x.code == "signals.timers" and x.drive == "d1"]
    assert found[0].severity == "stop"
    assert "cannot stand together" in found[0].todo


def test_a_pulse_of_its_own_follows_the_other_drives_frame() -> None:
    build = puppet_stage()
    names = {leaf.id for leaf in _leaves(assess(build))}
    assert {"drives.d1.signals.pwm_frequency", "drives.d2.servo.frame"} <= names


def _leaves(done: Assessment) -> set:  # type: ignore[type-arg]
    from zinc_whistle.core.algebra.doubt import leaves

    return set(leaves(done.drives["d1"].context.plan.frequency))


def motor(done: Assessment) -> MotorAssessment:
    found = next(iter(done.drives.values()))
    assert isinstance(found, MotorAssessment)
    return found


def test_at_the_windows_lower_end_the_ripple_heats_by_what_is_allowed() -> None:
    build = cider_stirrer()
    window = motor(assess(build)).signals.window
    assert window.ripple_frequency is not None and window.ripple_frequency.value is not None
    given_at(build, "drives.d1.signals.pwm_frequency").text = f"{window.ripple_frequency.value:.0f} Hz"
    at_end = motor(assess(build)).signals.window
    assert at_end.ripple_heat is not None
    assert at_end.ripple_heat.value == pytest.approx(0.05, rel=0.15), (
        "the triangle's formula is the limit of the exact one"
    )


def test_the_heat_of_a_ripple_is_that_of_a_triangle() -> None:
    import numpy as np

    time = np.linspace(0, 1, 100_001)
    triangle = 2.0 * np.abs(2 * time - 1) - 1.0
    heat = np.mean((5 + triangle) ** 2) - 25
    # Square mean of a triangle of 2 A peak to peak beside 5 A: 4/12 A² (any handbook; integrated here).
    assert heat == pytest.approx(2.0**2 / 12, rel=1e-3)


def test_at_the_windows_upper_end_the_junction_stands_at_its_limit() -> None:
    build = lantern_carousel()
    done = motor(assess(build))
    hottest = done.signals.window.heat_frequency
    assert hottest is not None and hottest.value is not None and done.context.part is not None
    for timer in build.controllers[0].timers:
        timer.free_top = True
    given_at(build, "controllers.c1.clock").text = "4000 MHz"
    given_at(build, "drives.d1.signals.pwm_frequency").text = f"{hottest.value:.6g} Hz"
    hot = motor(assess(build))
    assert hot.chosen is not None
    limit, air = done.context.part.junction_limit.value, build.ambient.hot.value
    assert limit and air
    # Conduction grows with the junction, which the bound leaves as it is: it is reached a little early.
    rise = (hot.chosen.heat.junction.value or 0.0) - air
    assert rise == pytest.approx(limit - air, rel=0.15)


def test_where_there_is_no_window_it_says_which_limits_collide_and_what_to_take() -> None:
    build = lantern_carousel()
    assert build.units[0].part is not None
    build.units[0].part.pwm_limit.text = "10 kHz"
    done = assess(build)
    window = motor(done).signals.window
    assert not window.open
    assert "it can be heard" in window.reason and "the part's sheet" in window.reason
    assert window.compromise_hz == pytest.approx(10e3)
    found = finding(done, "signals.window")
    assert found.severity == "warn" and found.remedy is not None
    drive = build.drives[0]
    assert isinstance(drive, MotorDrive)
    drive.signals.pwm_frequency.text = found.remedy.text
    assert finding(assess(build), "driver.pwm").severity == "note"


@given(st.floats(2e3, 2e5), st.floats(0.05, 20.0))
@example(36726.0, 0.25)
@settings(deadline=None, max_examples=25)
def test_a_compromise_never_breaks_a_hard_limit_that_can_be_kept(limit_hz: float, henry_milli: float) -> None:
    build = lantern_carousel()
    assert build.units[0].part is not None
    build.units[0].part.pwm_limit.text = f"{limit_hz:.4g} Hz"
    given_at(build, "drives.d1.motor.inductance").text = f"{henry_milli:.4g} mH"
    window = motor(assess(build)).signals.window
    if window.open or window.compromise_hz is None:
        return
    hard = [b for b in window.bounds if not b.soft and b.frequency.value is not None]
    low = max((b.frequency.value for b in hard if b.side == "low"), default=0.0)
    high = min((b.frequency.value for b in hard if b.side == "high"), default=math.inf)
    if low <= high:
        assert low * (1 - 1e-9) <= window.compromise_hz <= high * (1 + 1e-9)
