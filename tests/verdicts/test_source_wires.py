"""Fuse and wire at the source: what must trip, its nearest neighbour that must not, and the arithmetic of each."""

from __future__ import annotations

import pytest

from zinc_whistle.demo.data import cider_stirrer, lantern_carousel

from .kit import altered, said, verdict

S1, RUN = "supply__sources__s1__", "units__u1__supply_run__"


def test_a_fuse_larger_than_its_wire_is_stopped() -> None:
    """AWG 24 is 0.205 mm²: 18.7 · 0.205^0.6 = 7.2 A at 30 °C. In the fair's 35 °C √(35/40) of it: 6.8 A. A fuse of 10 A
    lets it burn, one of 5 A does not."""
    wrong = said(altered(lantern_carousel, **{S1 + "fuse": "10 A", RUN + "gauge": "24"}), "wiring.fuse_for_wire")
    assert wrong is not None and wrong.verdict == "exceeded" and wrong.severity == "stop"
    assert wrong.limit is not None and wrong.limit.value == pytest.approx(6.8, rel=0.03)
    right = said(altered(lantern_carousel, **{S1 + "fuse": "5 A", RUN + "gauge": "24"}), "wiring.fuse_for_wire")
    assert right is not None and right.verdict in ("holds", "tight")


def test_a_short_is_over_before_the_wire_is_past_its_limit() -> None:
    """The carousel's pack gives 14.6 V / (40 mΩ + 33 mΩ) = 200 A into a short at the end of 0.8 m of AWG 18. A blade of
    5 A opens within 0.1 s: 200² · 0.1 = 4,000 A²s of (115 · 0.823)² = 8,960. With AWG 22 (0.326 mm², 84 mΩ) it is
    118² · 0.1 = 1,390 of 1,405: nearly all; AWG 26 (0.129 mm²) bears 220 of its 54² · 0.1 = 290."""
    codes = {
        gauge: said(altered(lantern_carousel, **{RUN + "gauge": gauge}), "wiring.short") for gauge in ("18", "22", "26")
    }
    assert all(x is not None for x in codes.values())
    verdicts = {gauge: x.verdict for gauge, x in codes.items() if x is not None}
    assert verdicts == {"18": "holds", "22": "tight", "26": "exceeded"}
    thick = codes["18"]
    assert thick is not None and thick.limit is not None and thick.limit.value == pytest.approx(8960, rel=0.01)


def test_a_battery_without_a_fuse_is_told_its_short_circuit_current() -> None:
    """14.6 V over 40 mΩ: 365 A. With a fuse nothing is said."""
    bare = said(altered(lantern_carousel, **{S1 + "fuse": ""}), "supply.s1.fused")
    assert bare is not None and bare.verdict == "exceeded" and bare.severity == "warn"
    assert "365 A" in bare.todo
    assert said(lantern_carousel(), "supply.s1.fused") is None


def test_a_batterys_own_limit_is_one() -> None:
    """The stirrer ramps to a few amperes: a pack that gives 2 A does not feed it, one that gives 60 A does."""
    small = said(altered(cider_stirrer, **{S1 + "limit": "2 A"}), "supply.s1.limit")
    assert small is not None and small.verdict == "exceeded" and "start softer" in small.todo
    large = said(altered(cider_stirrer, **{S1 + "limit": "60 A"}), "supply.s1.limit")
    assert large is not None and large.verdict == "holds"


def test_a_fuse_that_the_start_would_blow_is_told() -> None:
    """A ramp of 10 s at more than 1.35 times the rating may open a blade from 0.75 s on; the 5 A one carries it."""
    start = said(lantern_carousel(), "supply.fuse_start")
    assert start is not None and start.verdict == "holds"
    small = altered(lantern_carousel, **{S1 + "fuse": "0.3 A"}, drives__d1__load__time_to_speed="10 s")
    found = said(small, "supply.fuse_start")
    assert found is not None and found.verdict == "exceeded" and found.severity == "warn"


def test_a_fuse_that_never_opens_lets_everything_through() -> None:
    """A fuse of 10,000 A on the stirrer's pack: its short of some 340 A never opens it. Nothing is unknown there:
    the wire burns."""
    found = said(altered(cider_stirrer, supply__sources__s1__fuse="10000 A"), "wiring.short")
    assert found is not None and found.verdict == "exceeded" and "does not promise" in found.unknown
    assert verdict(cider_stirrer(), "wiring.short") in ("holds", "tight")
