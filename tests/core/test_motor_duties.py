"""Lines at several duties: straight and parallel, and the working point lies on its own."""

from __future__ import annotations

from collections.abc import Callable

import pytest

from zinc_whistle.core.algebra.nodes import Constant, number
from zinc_whistle.core.assess import MotorAssessment, assess
from zinc_whistle.core.cases import course
from zinc_whistle.core.model.build import Build
from zinc_whistle.demo.data import cider_stirrer, lantern_carousel


@pytest.mark.parametrize("make", [lantern_carousel, cider_stirrer])
def test_the_working_point_lies_on_its_own_line_and_all_lines_are_parallel(make: Callable[[], Build]) -> None:
    done = assess(make()).drives["d1"]
    assert isinstance(done, MotorAssessment)
    volts, torque, speed = done.context.volts.nominal, done.load.motor_torque, done.load.motor_speed
    own = course.at_work(done.motor, volts, torque, speed)
    assert own is not None
    assert own.free_speed * (1 - number(torque) / own.stall_torque) == pytest.approx(number(speed), rel=1e-3)
    # PWM moves the line, R and K alone tilt it: common practice, no source.
    slopes = [x.free_speed / x.stall_torque for x in (own, *course.at_duties(done.motor, volts, (1.0, 0.5)))]
    assert max(slopes) == pytest.approx(min(slopes), rel=1e-6)


def test_what_the_supply_has_not_the_volts_for_has_no_line() -> None:
    done = assess(lantern_carousel()).drives["d1"]
    assert isinstance(done, MotorAssessment)
    fast = Constant("fast", 1e4, "speed")
    assert course.at_work(done.motor, done.context.volts.nominal, done.load.motor_torque, fast) is None
