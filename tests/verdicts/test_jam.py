"""What acts in a jam: what must trip, its nearest neighbour that must not, and the arithmetic of each."""

from __future__ import annotations

import pytest

from zinc_whistle.demo.data import cider_stirrer, lantern_carousel, puppet_stage

from .kit import altered, said

JAM = ("driver.jam_named", "driver.jam_driver", "driver.jam_winding")


def test_a_large_fuse_is_no_jam_stop() -> None:
    """The carousel's motor stalls at 7.27 A; at the duty of 46 % the battery gives 0.46² · 7.27 = 1.5 A. No blade of
    100 A, nor the 5 A one that is there, ever opens at that; 0.5 A × 3 would."""
    for amps in ("100 A", "5 A"):
        build = altered(
            lantern_carousel, units__u1__jam_stop="fuse", supply__sources__s1__fuse=amps, drives__d1__loop__closed="no"
        )
        wound = said(build, "driver.jam_winding")
        assert wound is not None and wound.verdict == "exceeded"
        assert "does not promise" in wound.unknown


def test_the_winchs_small_fuse_opens_in_time_and_the_next_size_does_not() -> None:
    """18.6 V full and hot: the duty of about 0.84 draws 0.84² · 2.6 A = 1.8 A through the fuse. 0.5 A quick: 3.6 times,
    IEC 60127-2 gives between 2 s (2.75 times) and 0.3 s (4 times). 1 A: 1.8 times, below the 2.1 at which the standard
    first promises anything."""
    small = said(puppet_stage(), "driver.jam_winding")
    assert small is not None and small.verdict == "holds"
    assert small.stress is not None and 0.3 < (small.stress.value or 0.0) < 2.0
    large = altered(puppet_stage, units__u1__stage__fuse__rated_a="1 A")
    found = said(large, "driver.jam_winding")
    assert found is not None and found.verdict == "exceeded"


def test_a_fuse_of_unknown_kind_never_passes() -> None:
    build = altered(puppet_stage, units__u1__stage__fuse__curve="")
    found = said(build, "driver.jam_named")
    assert found is not None and found.verdict == "unknown" and "kind the fuse" in found.unknown


def test_a_program_without_eyes_stops_nothing() -> None:
    """No encoder, no sensed current: whatever time is typed, nothing acts. The carousel's board senses, so its program
    may; without its encoder's watch the typed time counts, with it the panel's own."""
    blind = said(altered(puppet_stage, units__u1__jam_stop="program"), "driver.jam_named")
    assert blind is not None and blind.verdict == "exceeded" and "Nothing tells the program" in blind.todo
    watching = altered(lantern_carousel, units__u1__jam_time="1 h", drives__d1__panel__watch_time="0.3 s")
    found = said(watching, "driver.jam_driver")
    assert found is not None and found.stress is not None
    assert found.stress.value == pytest.approx(0.3), "the watch for counts, not the typed hour"
    slow = altered(lantern_carousel, drives__d1__panel__watch_time="0.6 s")
    found = said(slow, "driver.jam_driver")
    assert found is not None and found.verdict == "exceeded", "0.6 s against the part's 0.5 s at 8 A"


def test_a_driver_whose_limit_lies_above_the_stall_never_acts() -> None:
    """The board limits at 8 A, the stall is 7.27 A at most: its limit sees nothing. At 4 A it does, in its 0.2 s."""
    changes = {"units__u1__jam_stop": "driver limit", "units__u1__jam_time": "0.2 s"}
    above = said(altered(lantern_carousel, **changes, units__u1__part__trip_a="8 A"), "driver.jam_driver")
    assert above is not None and above.verdict == "exceeded"
    assert "never acts" in above.unknown
    below = said(altered(lantern_carousel, **changes, units__u1__part__trip_a="4 A"), "driver.jam_driver")
    assert below is not None and below.verdict == "holds"
    untold = said(altered(lantern_carousel, **changes, units__u1__part__trip_a=""), "driver.jam_driver")
    assert untold is not None and untold.verdict == "unknown"


def test_where_winding_and_driver_bear_the_stall_no_stop_is_asked_for() -> None:
    """A winding of 100 Ω draws at most 14.6 V / 100 Ω = 0.146 A stalled. At its limit it bears
    √((125 − 35) / (R_th · 100 · 1.39)) for good: with 8 + 14 K/W that is 0.17 A. At 60 Ω it would be
    0.24 A of 0.22 A."""
    way = {
        "drives__d1__motor__known_by": "spin-up",
        "drives__d1__motor__fitted__constant": "20 mV·s/rad",
        "drives__d1__motor__winding_to_housing": "8 K/W",
        "drives__d1__motor__housing_to_air": "14 K/W",
        "drives__d1__motor__winding_limit": "125 °C",
        "units__u1__jam_stop": "none",
    }
    weak = altered(lantern_carousel, **way, ambient__hot="35 °C", drives__d1__motor__fitted__resistance="100 Ω")
    assert [said(weak, code) for code in JAM] == [None, None, None]
    strong = altered(lantern_carousel, **way, ambient__hot="35 °C", drives__d1__motor__fitted__resistance="60 Ω")
    found = said(strong, "driver.jam_named")
    assert found is not None and found.verdict == "exceeded"
    assert said(strong, "driver.jam_driver") is None, "the driver bears 0.24 A for good"


def test_a_knob_may_stand_where_the_fuse_never_opens() -> None:
    """The stirrer's knob at about half: 0.53² · 95 A = 27 A through a fuse of 20 A, 1.34 times its rating, which ISO
    8820-3 does not promise to open; its winding carries 0.53 · 95 = 50 A then, of 7.6 A for good."""
    build = altered(cider_stirrer, units__u1__jam_stop="fuse")
    found = said(build, "driver.jam_winding")
    assert found is not None and found.verdict == "exceeded" and "% duty" in found.corner
