"""Other numbers beside a build: a torque that is asked for is reached by its gear, and what cannot be is told."""

from __future__ import annotations

from collections.abc import Callable

import pytest

from tests.kit import changed
from zinc_whistle.core.algebra.quantities import parse
from zinc_whistle.core.assess import Assessment, MotorAssessment, assess
from zinc_whistle.core.design import what_if
from zinc_whistle.core.design.what_if import OtherNumbers, Wanted
from zinc_whistle.core.model.build import Build
from zinc_whistle.demo.data import cider_stirrer, lantern_carousel, puppet_stage

WITH_MOTORS = [lantern_carousel, cider_stirrer, puppet_stage]


def turning(done: Assessment) -> MotorAssessment:
    return next(m for d in done.drives.values() if (m := d.of_motor) is not None)


def wanted(build: Build, **asked: str) -> Wanted:
    own = turning(assess(build))
    return what_if.wanted(build, own.drive, OtherNumbers(**asked), own.load)


@pytest.mark.parametrize("make", WITH_MOTORS)
@pytest.mark.parametrize("share", [0.3, 1.0, 2.5])
def test_the_gear_for_a_torque_leaves_the_motor_that_torque(make: Callable[[], Build], share: float) -> None:
    """Held against the whole assessment of the changed build: load, gear and efficiency are worked out anew there."""
    build = make()
    own = turning(assess(build))
    torque = share * float(own.load.motor_torque.value or 0.0)
    found = wanted(build, motor_torque=f"{torque * 1000:.6g} mN·m")
    assert not found.refused
    other = turning(assess(what_if.changed(build, own.drive, found.changes, None)))
    assert other.load.motor_torque.value == pytest.approx(torque, rel=1e-3)
    # The load is the same: what the gear takes of the torque it adds to the speed.
    assert other.load.motor_speed.value == pytest.approx(float(own.load.motor_speed.value or 0.0) / share, rel=1e-3)


def test_half_the_torque_is_twice_the_ratio() -> None:
    """Common practice, no source: a gear trades torque for speed. 150 to 1 becomes 300 to 1."""
    build = lantern_carousel()
    half = float(turning(assess(build)).load.motor_torque.value or 0.0) / 2
    (change,) = wanted(build, motor_torque=f"{half:.9g} N·m").changes
    assert change.path.endswith("load.gear_ratio")
    assert parse(change.text, "ratio", "1").value == pytest.approx(300.0)
    assert change.origin == "chosen"


@pytest.mark.parametrize(
    ("asked", "says"),
    [
        ({"motor_torque": "-3"}, "must be above 0"),
        ({"motor_torque": "0"}, "must be above 0"),
        ({"motor_torque": "a lot"}, "a lot"),
        ({"motor_torque": "3 V"}, "V"),
        ({"motor_torque": "1e9 N·m"}, "Gear ratio must be at least"),
        ({"gear_ratio": "fast"}, "fast"),
        ({"gear_ratio": "0"}, "Gear ratio must be at least"),
        ({"supply_v": "-12 V"}, "must be above 0"),
        ({"supply_v": "12 A"}, "A"),
    ],
)
def test_what_cannot_be_is_told_and_changes_nothing(asked: dict[str, str], says: str) -> None:
    found = wanted(lantern_carousel(), **asked)
    assert found.changes == []
    (sentence,) = found.refused.values()
    assert says in sentence
    assert sentence.endswith(".")


def test_what_can_be_of_it_is_done_all_the_same() -> None:
    found = wanted(lantern_carousel(), supply_v="24 V", gear_ratio="fast")
    assert [c.text for c in found.changes] == ["24 V"]
    assert list(found.refused) == ["gear_ratio"]


def test_a_load_that_is_not_known_or_pulls_has_no_gear_for_it() -> None:
    unknown = changed(lantern_carousel(), drives__d1__load__gear_ratio="")
    assert "not known yet" in wanted(unknown, motor_torque="5").refused["motor_torque"]
    heavier = changed(puppet_stage(), drives__d1__load__mechanisms__m1__counterweight="9 kg")
    assert "no gear gives it that torque" in wanted(heavier, motor_torque="5").refused["motor_torque"]


def test_a_drive_without_a_supply_is_told() -> None:
    build = lantern_carousel()
    build.units[0].source = ""
    assert "no supply yet" in wanted(build, supply_v="24 V").refused["supply_v"]
