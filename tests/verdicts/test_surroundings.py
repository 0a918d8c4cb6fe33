"""What stands beside the circuit: the air at the board, channels that are joined, a pump that something holds."""

from __future__ import annotations

from pathlib import Path

import pytest

from zinc_whistle.core.assess import assess
from zinc_whistle.core.model.build import Build
from zinc_whistle.demo.data import lantern_carousel

from .kit import SHELF, altered, said

PUMP = next((Path(__file__).parent / "builds").glob("11-*.json")).read_text("utf-8")


def pump(**changes: str) -> Build:
    return altered(lambda: Build.model_validate_json(PUMP), **changes)


def test_a_board_beside_its_motor_stands_in_warmer_air() -> None:
    """20 K more of air are 20 K more of junction, and a little: the heat of 0.173 W grows by 2 %. The winding's air
    stays as it was."""
    cool, warm = (
        assess(altered(lantern_carousel, units__u1__warmer=text), SHELF).drives["d1"].of_motor
        for text in ("0 K", "20 K")
    )
    assert cool is not None and warm is not None and cool.chosen is not None and warm.chosen is not None
    rise = (warm.chosen.heat.junction.value or 0) - (cool.chosen.heat.junction.value or 0)
    assert 20 < rise < 20.5
    assert warm.heat.temperature.value == cool.heat.temperature.value
    hot, holds = (
        said(altered(lantern_carousel, units__u1__warmer=k, units__u1__part__junction_limit=limit), "driver.heat")
        for k, limit in (("20 K", "60 °C"), ("0 K", "60 °C"))
    )
    assert hot is not None and hot.verdict == "exceeded", "40 + 20 °C of air leave nothing to a limit of 60 °C"
    assert holds is not None and holds.verdict in ("holds", "tight"), "20 K over 30 K/W are 0.67 W, and it makes 0.17"


def test_channels_that_are_joined_trip_at_their_sum() -> None:
    """Stalled, flat and hot, the carousel takes 10.8 V over some 2.6 Ω, 4.2 A: a trip at 3 A acts, and two of them
    joined, at 6 A, do not."""
    trip = {
        "units__u1__jam_stop": "driver limit",
        "units__u1__jam_time": "50 ms",
        "units__u1__part__trip": "current limit",
        "units__u1__part__trip_a": "3 A",
        "units__u1__part__continuous_a": "0.7 A",
        "drives__d1__panel__speed_by": "fixed",
    }
    one = said(altered(lantern_carousel, **trip), "driver.jam_driver")
    two = said(altered(lantern_carousel, **trip, drives__d1__joined="2"), "driver.jam_driver")
    assert one is not None and one.verdict in ("holds", "tight")
    assert two is not None and two.verdict != "holds" and two.verdict != "tight"


@pytest.mark.parametrize(("bears", "asked"), [("1.2 A", True), ("1.3 A", False)])
def test_a_blocked_pump_needs_a_stop_where_its_driver_does_not_bear_it(bears: str, asked: bool) -> None:
    """0.4 A at 12 V are 0.413 A at 12.4 V; blocked it takes three times as much, 1.24 A."""
    named = said(pump(units__u1__part__continuous_a=bears), "driver.jam_named")
    assert (named is not None and named.verdict == "exceeded") is asked


def test_a_measured_blocked_current_counts_instead() -> None:
    """2 A at 12 V are 2.07 A at 12.4 V: more than 2 A, less than 2.1 A."""
    for bears, asked in (("2 A", True), ("2.1 A", False)):
        build = pump(drives__d1__load__blocked_a="2 A", units__u1__part__continuous_a=bears)
        named = said(build, "driver.jam_named")
        assert (named is not None and named.verdict == "exceeded") is asked
