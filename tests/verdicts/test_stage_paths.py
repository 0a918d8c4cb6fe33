"""Diode, contacts and rails: what must trip, its nearest neighbour that must not, and the arithmetic of each."""

from __future__ import annotations

import pytest

from zinc_whistle.core.assess import assess
from zinc_whistle.core.model.build import Build
from zinc_whistle.demo.data import cider_stirrer, puppet_stage

from .kit import SHELF, altered, said


def winch(**changes: str) -> Build:
    return altered(puppet_stage, units__u1__flyback="rails", **changes)


def test_a_small_diode_carries_the_whole_start_where_the_duty_is_near_nothing() -> None:
    """While the ramp begins the switch is open nearly all of the time, so a diode that warms up within 50 ms bears the
    starting current itself. One for a little more holds, one for a little less does not; at the working duty of 84 % it
    would have had a sixth of it."""
    small = {"units__u1__stage__diode__settle_time": "50 ms"}
    done = assess(winch(**small), SHELF).drives["d1"].driven
    assert done is not None
    start = done.context.starting_current.value or 0.0
    mean = said(winch(**small), "stage.diode_mean")
    assert mean is not None and mean.stress is not None and mean.stress.value == pytest.approx(start, rel=0.02)
    for times, verdict in ((1.4, "holds"), (0.9, "exceeded")):
        build = winch(**small, units__u1__stage__diode__forward_a=f"{start * times:.4f} A")
        found = said(build, "stage.diode_mean")
        assert found is not None and found.verdict == verdict


def test_a_large_diode_does_not_notice_the_ramp() -> None:
    """The winch's ramp of a fraction of a second is over before a diode on its leads (10 s) is warm: what lasts is the
    working duty's rest, 16 % or, from the full adaptor, a little more, of about the working current."""
    done = assess(winch(), SHELF).drives["d1"].driven
    assert done is not None
    work = done.context.working_current.value or 0.0
    mean = said(winch(), "stage.diode_mean")
    assert mean is not None and mean.stress is not None and mean.stress.value is not None
    assert 0.1 * work < mean.stress.value < 0.4 * work
    knob = said(winch(drives__d1__panel__speed_by="knob"), "stage.diode_mean")
    assert knob is not None and knob.stress is not None and (knob.stress.value or 0) > 2 * mean.stress.value


def test_a_diodes_peak_rating_covers_a_jam_that_is_switched_off() -> None:
    """The winch stalls at about 3.2 A; 5 A repeated peak holds, 2 A does not, and an empty field is not asked."""
    holds = said(winch(units__u1__stage__diode__surge_a="5 A"), "stage.diode_surge")
    assert holds is not None and holds.verdict == "holds"
    small = said(winch(units__u1__stage__diode__surge_a="2 A"), "stage.diode_surge")
    assert small is not None and small.verdict == "exceeded"
    assert said(winch(units__u1__stage__diode__surge_a=""), "stage.diode_surge") is None


def test_contacts_carry_a_stall_where_nothing_ramps() -> None:
    """Contacts for 2 A bear the winch's ramped start, not its stall of 3.2 A."""
    ramped = said(winch(units__u1__stage__relay__contact_a="2 A"), "stage.contact")
    assert ramped is not None and ramped.verdict in ("holds", "tight")
    hard = winch(units__u1__stage__relay__contact_a="2 A", drives__d1__signals__soft_start="no")
    found = said(hard, "stage.contact")
    assert found is not None and found.verdict == "exceeded" and ((found.stress and found.stress.value) or 0) > 3.0


def test_a_regulator_cannot_lift_what_the_source_no_longer_gives() -> None:
    """The servo rail of 5.5 V with its headroom from the 18 V adaptor holds; from 5 V it does not, full or flat."""
    code = next(
        x.code for x in assess(puppet_stage(), SHELF).findings if x.code.endswith(".input_low") and x.used is not None
    )
    source = "supply__sources__s1__"
    assert (said(puppet_stage(), code) or pytest.fail(code)).verdict == "holds"
    low = altered(puppet_stage, **{source + "full_v": "5.2 V", source + "nominal_v": "5 V", source + "flat_v": "4.8 V"})
    found = said(low, code)
    assert found is not None and found.verdict == "exceeded" and "cannot lift" in found.todo


def test_a_servo_straight_on_cells_is_judged_when_both_are_stalled_on_a_flat_pack() -> None:
    """4.8 V flat, two servos of 0.7 A stalled, 0.5 Ω inside: 4.8 − 1.4 · 0.5 = 4.1 V for both, of the 4.6 V they need;
    with 20 mΩ they keep 4.77 V. At rest both look alike."""
    changes: dict[str, str] = {}
    for d in ("d2", "d3"):
        own = f"drives__{d}__"
        changes |= {f"{own}rail": "s1", f"{own}servo__stall_a": "0.7 A", f"{own}servo__low_v": "4.6 V"}
    for name, text in {"full_v": "6 V", "nominal_v": "5.2 V", "flat_v": "4.8 V"}.items():
        changes[f"supply__sources__s1__{name}"] = text
    for ohms, verdict, volts in (("0.5 Ω", "exceeded", 4.1), ("20 mΩ", "tight", 4.772)):
        found = said(altered(puppet_stage, **changes, supply__sources__s1__resistance=ohms), "servo.volts_low")
        assert found is not None and found.verdict == verdict
        assert found.stress is not None and found.stress.value == pytest.approx(volts)


def test_a_dead_time_that_forgets_the_turn_off_delay_is_too_short() -> None:
    """The stirrer's gates fall from 12.6 V to their plateau before anything moves: R (Q_g − Q_sw)/V_g · ln(V_g/V_p). A
    dead time that covers the edge and the driver's mismatch alone does not hold; one that covers the delay too does."""
    found = said(cider_stirrer(), "stage.dead_time")
    assert found is not None and found.verdict == "holds" and found.limit is not None
    needed = float(found.limit.value or 0.0)
    delay, edge = (f for f in _turn_off(found.limit))
    assert 0.1 * needed < delay < needed
    for seconds, verdict in ((needed - delay, "exceeded"), (needed * 1.3, "holds")):
        build = altered(cider_stirrer, units__u1__stage__dead_time=f"{seconds * 1e9:.2f} ns")
        again = said(build, "stage.dead_time")
        assert again is not None and again.verdict == verdict
    assert edge > 0


def _turn_off(limit: object) -> tuple[float, float]:
    """Delay and edge below the dead time that is needed."""
    dead = limit
    slowest = dead.inputs[0]
    off = slowest.inputs[0]
    return float(off.inputs[0].value), float(off.inputs[1].value)
