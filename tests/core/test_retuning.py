"""What is to be set again after a motor or a gear was swapped: listed where the ground moved, and nowhere else."""

from __future__ import annotations

import pytest

from tests.kit import changed, given_at
from zinc_whistle.core.algebra.quantities import phrase
from zinc_whistle.core.assess import assess
from zinc_whistle.core.model.build import Build, MotorDrive
from zinc_whistle.core.retuning import SETTINGS, retuning
from zinc_whistle.demo.data import lantern_carousel, sample_motors

GEAR = "drives__d1__load__gear_ratio"


def _paths(before: Build, after: Build) -> set[str]:
    return {r.path for r in retuning(assess(before), assess(after))}


def _motor(build: Build) -> MotorDrive:
    drive = build.drives[0]
    assert isinstance(drive, MotorDrive)
    return drive


def test_another_gear_leaves_the_loop_to_be_tuned_with_what_it_would_be_now() -> None:
    """150 to 90: the inertia of load, seen by the motor, rises by (150/90)² = 2.8 less the rotor's own part."""
    before = lantern_carousel()
    after = changed(before, **{GEAR: "90"})
    found = {r.path: r for r in retuning(assess(before), assess(after))}
    gain = found["drives.d1.loop.gain"]
    assert gain.text == _motor(before).loop.gain.text
    assert any("Inertia" in title for title, _, _ in gain.moved)
    now = assess(after).figures["drives.d1.loop.suggested_gain"]
    assert gain.now == phrase(now.value or 0.0, now.kind.name)
    inertia = [assess(b).figures["drives.d1.context.load.reflected_inertia"].value or 0.0 for b in (before, after)]
    rotor = assess(before).figures["drives.d1.context.motor.rotor_inertia"].value or 0.0
    assert (inertia[1] - rotor) / (inertia[0] - rotor) == pytest.approx((150 / 90) ** 2, rel=0.02)


def test_another_motor_moves_the_limits_of_current_too() -> None:
    before, after = lantern_carousel(), lantern_carousel()
    other = next(m for m in sample_motors() if m.motor.known_by != "spin-up")
    _motor(after).motor = other.motor.model_copy(deep=True)
    found = _paths(before, after)
    assert "drives.d1.loop.gain" in found
    assert ("units.u1.current_limit" in found) == bool(before.units[0].current_limit.text)


@pytest.mark.parametrize(
    "texts",
    [
        {"units__u1__part__price": "99 €"},
        {"drives__d1__panel__debounce": "30 ms"},
        {"drives__d1__wiring__motor_run__gauge": "24"},
    ],
)
def test_what_no_setting_was_set_for_leaves_none(texts: dict[str, str]) -> None:
    """The nearest neighbours: a price, a button's rest; a longer wire moves the stall in the circuit, but neither the
    plant nor the gain."""
    before = lantern_carousel()
    found = _paths(before, changed(before, **texts))
    assert "drives.d1.loop.gain" not in found and "drives.d1.loop.integral" not in found


def test_a_setting_that_was_set_again_or_does_not_act_is_not_told() -> None:
    before = changed(lantern_carousel(), drives__d1__loop__integral="160 ms")
    again = changed(before, **{GEAR: "90", "drives__d1__loop__gain": "0.2 %/rpm"})
    found = _paths(before, again)
    assert "drives.d1.loop.gain" not in found and "drives.d1.loop.integral" in found
    open_loop = changed(before, **{GEAR: "90"})
    _motor(open_loop).loop.closed = "no"
    assert not any(".loop." in p for p in _paths(before, open_loop))


def test_a_setting_that_is_left_to_the_app_follows_by_itself() -> None:
    before = changed(lantern_carousel(), drives__d1__signals__ramp_time="")
    assert "drives.d1.signals.ramp_time" not in _paths(before, changed(before, **{GEAR: "90"}))
    given = changed(before, drives__d1__signals__ramp_time="2 s")
    assert "drives.d1.signals.ramp_time" in _paths(given, changed(given, **{GEAR: "90"}))


def test_every_setting_has_a_field_and_every_figure_it_stands_on_is_one_of_some_build() -> None:
    """A path or an id that is misspelt would silently list nothing."""
    build = lantern_carousel()
    figures = assess(build).figures
    for setting in SETTINGS:
        given_at(build, f"units.u1.{setting.end}" if setting.of_unit else f"drives.d1.{setting.end}")
        for end in (*setting.on, *([setting.now] if setting.now else [])):
            assert f"drives.d1.{end}" in figures, end
