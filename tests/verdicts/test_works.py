"""What works is not refused: each with its neighbour that does not."""

from __future__ import annotations

import pytest

from tests.kit import staged
from zinc_whistle.core.model.build import Build
from zinc_whistle.core.model.signals import Library
from zinc_whistle.demo.data import cider_stirrer, lantern_carousel

from .kit import altered, said


@pytest.mark.parametrize(("isolated", "verdict"), [("yes", "holds"), ("no", "exceeded")])
def test_grounds_may_float_where_contacts_part_them(isolated: str, verdict: str) -> None:
    """Without the wire between the grounds a plain bridge sees no level; behind contacts none is needed."""
    build = altered(lantern_carousel, units__u1__part__isolated=isolated)
    build.drives[0].wiring.left_out = ["ground"]
    ground = said(build, "wiring.ground")
    assert ground is not None and ground.verdict == verdict


def with_library(pulses: str) -> Build:
    build = lantern_carousel()
    timers = ", ".join(t.id for t in build.controllers[0].timers)
    build.controllers[0].libraries = [
        Library.model_validate({"id": "l1", "name": "steady pulses", "timers": timers, "pulses": pulses})
    ]
    return build


@pytest.mark.parametrize(("pulses", "verdict"), [("yes", "holds"), ("no", "exceeded")])
def test_a_library_that_makes_the_pulses_takes_no_timer_from_them(pulses: str, verdict: str) -> None:
    found = said(with_library(pulses), "signals.timers")
    assert found is not None and found.verdict == verdict


@pytest.mark.parametrize(("gain", "verdict"), [("10", "exceeded"), ("250", "holds")])
def test_a_darlington_saturates_at_its_own_gain(gain: str, verdict: str) -> None:
    """(4.2 − 0.8) V over 330 Ω are 10 mA: by ten 0.1 A, less than the start's 0.7 A; by 250 some 2.6 A."""
    build = staged(lantern_carousel(), "bipolar low side", base_resistor="330 Ω")
    build.units[0].stage.switch.forced_gain.text = gain
    found = said(build, "stage.base")
    assert found is not None and found.verdict == verdict


@pytest.mark.parametrize(("diode", "verdict"), [("d-sch-100-10", "holds"), (None, "exceeded")])
def test_a_diode_in_its_slot_is_named_once(diode: str | None, verdict: str) -> None:
    """It stands at the rails then; without one the current has no way out."""
    build = staged(lantern_carousel(), "low side", diode=diode)
    build.units[0].flyback = "none"
    for code in ("stage.flyback", "driver.diodes"):
        found = said(build, code)
        assert found is not None and found.verdict == verdict, code


@pytest.mark.parametrize(
    ("clamp", "limit", "verdict"),
    [("60 V", "43 V", "holds"), ("60 V", "41 V", "exceeded"), ("12 V", "13 V", "holds"), ("12 V", "11 V", "exceeded")],
)
def test_a_clamp_above_the_supply_adds_nothing(clamp: str, limit: str, verdict: str) -> None:
    """Ten lithium cells give 42 V at most: a zener of 60 V leaves the gate those 42, one of 12 V leaves 12."""
    found = said(
        altered(cider_stirrer, units__u1__stage__clamp_v=clamp, units__u1__stage__guard__v_gs=limit), "stage.guard_gate"
    )
    assert found is not None
    assert (found.verdict == "exceeded") is (verdict == "exceeded")
