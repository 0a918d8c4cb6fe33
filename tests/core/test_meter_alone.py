"""The test sheet of a builder without an oscilloscope: pulses by their mean, and what has to be left open."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from zinc_whistle.core.assess import assess
from zinc_whistle.core.design.faults import finder_of
from zinc_whistle.core.model.build import Build
from zinc_whistle.core.stations.bench.step import Step
from zinc_whistle.demo.data import cider_stirrer, lantern_carousel, puppet_stage, snow_fan


def sheet(make: Any, drive: str = "d1", scope: str = "no") -> dict[str, Step]:
    build: Build = make()
    build.tools.scope = scope  # type: ignore[assignment]
    return {s.id: s for s in assess(build).drives[drive].steps}


@pytest.mark.parametrize("make", [cider_stirrer, lantern_carousel, puppet_stage, snow_fan])
def test_no_step_asks_for_what_is_not_there(make: Any) -> None:
    for drive in make().drives:
        steps = sheet(make, drive.id)
        assert list(steps) == list(sheet(make, drive.id, "yes")), "the same tests, otherwise done"
        for step in steps.values():
            assert "scilloscope" not in step.instrument or "borrow one" in step.setting, step.id
            assert step.wave is None


@pytest.mark.parametrize(("make", "id"), [(lantern_carousel, "duty"), (snow_fan, "knob_low"), (snow_fan, "knob_high")])
def test_a_duty_is_read_as_the_mean_of_its_pulses(make: Any, id: str) -> None:
    """The mean of a million samples of the wave that an oscilloscope would show."""
    seen, read = sheet(make, scope="yes")[id], sheet(make)[id]
    assert seen.wave is not None and seen.expected.value is not None and read.expected.value is not None
    phase = (np.arange(1_000_000) + 0.5) / 1_000_000
    mean = float(np.where(phase < seen.expected.value, seen.wave.high_v, seen.wave.low_v).mean())
    assert read.unit == "V" and read.expected.value == pytest.approx(mean, abs=1e-5 * seen.wave.high_v)
    assert read.holds(mean) is True
    assert seen.low is not None and seen.high is not None
    far = 2 * (seen.high - seen.low) + 0.15
    for wrong in (seen.expected.value + far, seen.expected.value - far):
        if 0 < wrong < 1:
            assert read.holds(wrong * seen.wave.high_v) is False


def test_a_servos_pulse_is_read_as_millivolts() -> None:
    """1.5 ms, fifty times a second, is 7.5 % of the level: 5 V make 375 mV."""
    step = sheet(puppet_stage, "d2")["servo_pulse"]
    before = sheet(puppet_stage, "d2", "yes")["servo_pulse"]
    assert before.wave is not None and before.expected.value is not None
    assert step.expected.value == pytest.approx(before.wave.high_v * before.expected.value * 50, rel=1e-6)
    assert step.expected.value is not None
    assert step.kind == "voltage" and step.holds(step.expected.value) is True
    assert step.holds(1.15 * step.expected.value) is False


def test_what_no_meter_tells_is_said() -> None:
    step = sheet(cider_stirrer)["dead_time"]
    assert "borrow one" in step.setting and "no more than at rest" in step.setting
    assert sheet(cider_stirrer)["sag"].instrument == "Meter with MIN"
    assert "Hz" in sheet(cider_stirrer)["frequency"].instrument


def test_the_finder_reads_the_mean_too() -> None:
    """A drive in order passes the duty's step in volts, as it does in per cent."""
    build = lantern_carousel()
    build.tools.scope = "no"
    motor = next(m for d in assess(build).drives.values() if (m := d.of_motor) is not None)
    finder = finder_of(motor.context, motor.steps)
    healthy = [c.id for c in finder.causes].index("none")
    step = next(s for s in finder.steps if s.id == "duty")
    assert step.unit == "V" and step.holds(float(np.median(finder.reads["duty"][healthy]))) is True
