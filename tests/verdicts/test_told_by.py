"""What tells a driver: timer circuits, controllers that only switch, hands; each verdict with its neighbour."""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import partial

import pytest
from scipy.optimize import brentq

from tests.kit import codes, staged, worked
from zinc_whistle.core.assess import MotorAssessment, assess
from zinc_whistle.core.cases.wires.contacts import contacts_of
from zinc_whistle.core.model.build import Build, MotorDrive
from zinc_whistle.core.simulation.scenario import simulate
from zinc_whistle.demo.data import cider_stirrer, lantern_carousel, puppet_stage, sample_parts, snow_fan

from .kit import SHELF, altered, said, verdict

PART = {p.id: p for p in sample_parts()}
FAN: Callable[..., Build] = partial(altered, snow_fan)
CAROUSEL: Callable[..., Build] = partial(altered, lantern_carousel)


def motor_of(build: Build) -> MotorAssessment:
    """The first drive of a build, worked out."""
    done = worked(build, SHELF)
    assert isinstance(done, MotorAssessment)
    return done


def with_part(build: Build, part: str, told: str) -> Build:
    """A build whose first unit is a part of the shelf, told in another way."""
    build.units[0].part, build.units[0].made_of = PART[part].model_copy(deep=True), "part"
    drive = build.drives[0]
    assert isinstance(drive, MotorDrive)
    drive.signals.told_by = told  # type: ignore[assignment]
    return build


# -- a timer circuit ---------------------------------------------------------------------------------------------------


def test_the_timer_circuits_pace_and_knob() -> None:
    """12 V, 0.6 V: ln(7.4/3.4)/ln 2 = 1.122 (slower by 11 %, the handbook figure for steering diodes at 12 V); with
    100 kΩ + 2 · 1 kΩ and 1 nF: 1/(0.6931 · 1.122 · 102 kΩ · 1 nF) = 12.6 kHz; 1/102 to 101/102 of the period."""
    at = motor_of(snow_fan()).context
    assert at.plan.frequency.value == pytest.approx(12_606, rel=1e-3)
    five = motor_of(FAN(drives__d1__signals__timer__regulated_v="5 V")).context
    ideal = 1 / (math.log(2) * 102e3 * 1e-9)
    assert at.plan.frequency.value / ideal == pytest.approx(1 - 0.11, abs=0.005)
    assert (five.plan.frequency.value or 0.0) / ideal == pytest.approx(1 - 0.26, abs=0.005), "26 % at 5 V"
    steps = {s.id: s for s in motor_of(snow_fan()).steps}
    assert steps["knob_low"].expected.value == pytest.approx(1 / 102)
    assert steps["knob_high"].expected.value == pytest.approx(101 / 102)


def test_the_whine_is_judged_with_the_slowest_parts() -> None:
    """As marked 680 pF gives 18.5 kHz, above hearing; the potentiometer 20 % and the capacitor 10 % more, on a flat
    battery, 13.8 kHz: below it. 470 pF at the slowest: 20 kHz."""
    heard = said(FAN(drives__d1__signals__timer__capacitor="680 pF"), "signals.audible")
    assert heard is not None and heard.verdict == "exceeded" and "parts at their most" in heard.corner
    assert heard.stress is not None and heard.stress.value == pytest.approx(13.8e3, rel=0.02)
    unheard = said(FAN(drives__d1__signals__timer__capacitor="470 pF"), "signals.audible")
    assert unheard is not None and unheard.verdict in ("holds", "tight")


def test_a_smaller_capacitor_mends_the_whine_and_stops_nothing() -> None:
    found = said(snow_fan(), "signals.audible")
    assert found is not None and found.remedy is not None
    mended = FAN(**{found.remedy.path.replace(".", "__"): found.remedy.text})
    again = said(mended, "signals.audible")
    assert again is not None and again.verdict in ("holds", "tight")
    assert codes(assess(mended, SHELF)) <= codes(assess(snow_fan(), SHELF))


def test_the_timers_own_supply() -> None:
    """16 V at most: six lead cells are full at 12.9 V, eight at 17.2 V. With a regulator of 12 V before it they do."""
    assert verdict(snow_fan(), "signals.timer_high") != "exceeded"
    eight = {"supply__sources__s1__cells": "8"}
    assert verdict(FAN(**eight), "signals.timer_high") == "exceeded"
    fed = FAN(**eight, drives__d1__signals__timer__regulated_v="12 V")
    assert verdict(fed, "signals.timer_high") == "holds"


def test_the_timers_output_is_what_the_gate_gets() -> None:
    """12.9 V full less 1.7 V is 11.2 V of the gate's 16 V; ten cells give 21.5 − 1.7 = 19.8 V, which breaks it. Flat,
    10.5 − 1.7 = 8.8 V; a timer on 5 V gives 3.3 V, less than the 4.5 V at which the switch is specified."""
    top = said(snow_fan(), "stage.gate_high")
    assert top is not None and top.stress is not None and top.stress.value == pytest.approx(11.2, abs=0.01)
    assert verdict(FAN(supply__sources__s1__cells="10"), "stage.gate_high") == "exceeded"
    low = said(snow_fan(), "stage.gate_low")
    assert low is not None and low.verdict == "holds" and low.stress is not None
    assert low.stress.value == pytest.approx(8.8, abs=0.01)
    weak = said(FAN(drives__d1__signals__timer__regulated_v="5 V"), "stage.gate_low")
    assert weak is not None and weak.verdict == "exceeded"


def test_a_knob_that_does_not_reach_rest() -> None:
    """0.8 A of breakaway through some 1.2 Ω from 12.9 V: 7 %. 10 kΩ at each end of 100 kΩ leave 8 to 10 %."""
    assert verdict(snow_fan(), "signals.knob_low") == "holds"
    creeps = said(FAN(drives__d1__signals__timer__end_resistor="10 kΩ"), "signals.knob_low")
    assert creeps is not None and creeps.verdict == "exceeded"
    reach = said(FAN(drives__d1__signals__timer__end_resistor="10 kΩ"), "signals.knob_high")
    assert reach is not None and reach.verdict == "exceeded", "and it does not reach 92 % either"


def test_without_a_controller_nothing_of_one_is_asked() -> None:
    done = assess(snow_fan(), SHELF)
    drive = motor_of(snow_fan())
    about = {x.code for x in done.findings}
    assert not about & {"signals.frequency", "signals.timers", "panel.choices", "supply.logic", "wiring.pins"}
    blocks = {t.block for c in drive.wiring.connections for t in (c.start, c.end)}
    assert "controller" not in blocks and {"timer", "knob", "driver", "motor"} <= blocks
    assert {c.signal for c in drive.wiring.connections if c.end.block == "knob"} == {
        f"Potentiometer {end}" for end in "AWB"
    }
    assert len(set(drive.wiring.grounds.values())) == 1


def test_a_fuse_sees_less_of_a_jam_than_a_cut_out_in_the_motors_lead() -> None:
    """At half the duty the motor draws half its stall and the battery a quarter: 15.0 / 4 = 3.8 A through a fuse of
    7.5 A, which never opens; the cut-out sees 7.5 A and trips at 4."""
    fused = said(FAN(units__u1__jam_stop="fuse"), "driver.jam_winding")
    assert fused is not None and fused.verdict == "exceeded" and "does not promise" in fused.unknown
    cut = said(snow_fan(), "driver.jam_winding")
    assert cut is not None and cut.verdict == "holds"
    high = said(FAN(units__u1__cutout_a="12 A"), "driver.jam_winding")
    assert high is not None and high.verdict == "exceeded", "11 A never trip it, and the winding does not bear them"
    untold = said(FAN(units__u1__cutout_a=""), "driver.jam_named")
    assert untold is not None and untold.verdict == "unknown"
    program = said(FAN(units__u1__jam_stop="program"), "driver.jam_named")
    assert program is not None and program.verdict == "exceeded" and "No program watches" in program.todo


# -- on or off ---------------------------------------------------------------------------------------------------------

PULSED = {"signals.frequency", "signals.audible", "signals.window", "signals.ripple", "driver.pwm", "stage.ripple"}


@pytest.mark.parametrize("make", [lantern_carousel, puppet_stage, cider_stirrer])
def test_what_is_only_switched_is_asked_for_no_frequency(make: Callable[[], Build]) -> None:
    build = altered(make, drives__d1__signals__told_by="level")
    found = {x.code for x in assess(build, SHELF).findings if x.drive == "d1"}
    assert not found & PULSED and "signals.too_fast" in found
    drive = motor_of(build)
    assert all(need != "pwm" for need in (u.needs for u in drive.wiring.pins))
    assert {s.id for s in drive.steps} & {"frequency", "duty"} == set()


def settles(at: MotorAssessment, volts: float, fan: bool) -> float:
    """Where volts, friction and load meet (rad/s), found by a bracketing search of our own."""
    motor, load = at.motor, at.load
    ohms = (at.context.feed_resistance.value or 0.0) + (at.context.winding_cold.value or 0.0)
    k, friction = motor.motor_constant.value or 0.0, motor.friction_a.value or 0.0
    work, speed = load.working_current.value or 0.0, load.motor_speed.value or 0.0

    def short_of(w: float) -> float:
        amps = friction + (work - friction) * ((w / speed) ** 2 if fan else 1.0)
        return volts - (motor.brush_drop.value or 0.0) - ohms * amps - k * w

    return float(brentq(short_of, 0.0, volts / k))


@pytest.mark.parametrize(("make", "fan"), [(lantern_carousel, False), (snow_fan, True)])
def test_nothing_holds_it_back(make: Callable[[], Build], fan: bool) -> None:
    """It settles where the motor's equation and the load's meet; a fan's current grows with it."""
    done = motor_of(altered(make, drives__d1__signals__told_by="level"))
    at = done.context
    nominal = settles(done, at.volts.nominal.value or 0.0, fan)
    assert at.working_speed.value == pytest.approx(nominal, rel=1e-6)
    assert at.braked_from.value == pytest.approx(settles(done, at.volts.full.value or 0.0, fan), rel=1e-6)
    wanted = done.load.working_current.value or 0.0
    grown = (at.working_current.value or 0.0) / wanted
    assert grown > 1.2 if fan else grown == pytest.approx(1.0)


def test_the_simulated_start_ends_at_that_speed() -> None:
    """A fan switched on at once, by the engine, driver and wires counted: within what those take (2 %)."""
    build = with_part(FAN(drives__d1__signals__told_by="level"), "fet-12a", "level")
    done = motor_of(build)
    run = simulate(done.context, done.circuit, "start at once", averaged=True)
    assert float(run.speed[-1]) == pytest.approx(done.context.working_speed.value or 0.0, rel=0.04)


def test_too_fast_or_not() -> None:
    """The carousel wants 12 rpm and its battery makes some 30 of it; a fan that wants 2,400 of some 2,500 is well."""
    fast = said(CAROUSEL(drives__d1__signals__told_by="level"), "signals.too_fast")
    assert fast is not None and fast.verdict == "exceeded" and fast.remedy is not None
    fan = FAN(drives__d1__signals__told_by="level", drives__d1__load__mechanisms__m1__speed="2400 rpm")
    well = said(fan, "signals.too_fast")
    assert well is not None and well.verdict in ("holds", "tight")


def test_a_start_without_a_ramp_is_a_stall_for_the_driver_and_short_for_the_fuse() -> None:
    """No ramp: the stall flows, but dies with the mechanical time constant: its I² lasts J R / (2 K²)."""
    done = motor_of(CAROUSEL(drives__d1__signals__told_by="level"))
    assert done.circuit.source_start.value == pytest.approx(done.circuit.stall_flat.value or 0.0)
    found = said(CAROUSEL(drives__d1__signals__told_by="level"), "supply.fuse_start")
    assert found is not None and found.stress is not None
    at = done.context
    ohms = (at.feed_resistance.value or 0.0) + (at.winding_hot.value or 0.0)
    k = done.motor.motor_constant.value or 1.0
    assert found.stress.value == pytest.approx(ohms * (done.load.reflected_inertia.value or 0.0) / (2 * k * k))


def test_a_bootstrap_is_not_refilled_by_what_stays_on() -> None:
    """A half bridge that is on for minutes has an upper gate that sags; P channels above need no refill."""
    boot = staged(CAROUSEL(drives__d1__signals__told_by="level"), "full bridge")
    assert "stage.boot_duty" in codes(assess(boot, SHELF))
    p_n = staged(CAROUSEL(drives__d1__signals__told_by="level"), "p/n bridge")
    assert "stage.boot_duty" not in {x.code for x in assess(p_n, SHELF).findings}


# -- contacts ----------------------------------------------------------------------------------------------------------


def test_pulses_through_contacts_are_refused_with_the_remedy() -> None:
    pulsed = with_part(lantern_carousel(), "relay-bridge-8a", "pulses")
    found = said(pulsed, "driver.told")
    assert found is not None and found.severity == "stop" and "bear no pulses" in found.todo
    assert found.remedy is not None and found.remedy.text == "level"
    switched = with_part(lantern_carousel(), "relay-bridge-8a", "level")
    assert verdict(switched, "driver.told") == "holds"
    assert codes(assess(switched, SHELF)) - {"driver.jam_named"} == set(), codes(assess(switched, SHELF))


def test_a_hand_moves_a_switch_and_nothing_else() -> None:
    for part, told, holds in (
        ("hand-two-6a", "hand", True),
        ("hand-two-6a", "level", False),
        ("mos-single-5a", "hand", False),
        ("mos-single-5a", "timer", True),
    ):
        found = said(with_part(lantern_carousel(), part, told), "driver.told")
        assert found is not None and (found.verdict == "holds") is holds, (part, told)


def test_contacts_are_held_against_the_stall_and_the_volts() -> None:
    """The carousel stalls at 7.27 A, within the 20 A that the relays make; at 24 V and more the DC rating ends."""
    build = with_part(lantern_carousel(), "relay-bridge-8a", "level")
    assert verdict(build, "driver.peak") in ("holds", "tight")
    weak = with_part(lantern_carousel(), "hand-push-3a", "hand")
    assert weak.units[0].part is not None
    weak.units[0].part.peak_a.text = "6 A"
    assert verdict(weak, "driver.peak") == "exceeded"
    sparks = said(build, "stage.flyback")
    assert sparks is not None and sparks.severity == "warn" and "spark" in sparks.title


def test_a_hand_keeps_no_pause() -> None:
    """By a program through zero the peak is the stall; by hand the switch may go straight over: (V + K ω)/R, nearly
    twice."""
    paused = CAROUSEL(drives__d1__signals__reversal="through zero")
    by_program = motor_of(with_part(paused, "relay-bridge-8a", "level")).circuit
    assert by_program.peak.value == pytest.approx(by_program.stall_full.value or 0.0)
    by_hand = motor_of(with_part(paused, "hand-two-6a", "hand")).circuit
    assert by_hand.peak.value == pytest.approx(by_hand.reversal.value or 0.0)
    assert (by_hand.peak.value or 0.0) > 1.8 * (by_hand.stall_full.value or 0.0)


def wires(part: str) -> set[tuple[str, str]]:
    """The ends of the power wires at a part's own terminals, links included."""
    done = motor_of(with_part(lantern_carousel(), part, "level"))
    rows = [c for c in done.wiring.connections if "driver" in (c.start.block, c.end.block) and c.role != "logic"]
    return {(f"{c.start.block} {c.start.pin}", f"{c.end.block} {c.end.pin}") for c in rows}


def test_relays_are_wired_by_com_nc_and_no() -> None:
    """A relay an end: rest is the lower line for both, which brakes. Crossed: rest is one way round."""
    ends = contacts_of(PART["relay-bridge-8a"])
    assert (ends.plus, ends.minus, ends.out_1, ends.out_2) == ("K1 NO", "K1 NC", "K1 COM", "K2 COM")
    found = wires("relay-bridge-8a")
    assert ("driver K1 COM", "motor M+") in found and ("driver K2 COM", "motor M−") in found
    assert ("driver K1 NO", "driver K2 NO") in found and ("driver K1 NC", "driver K2 NC") in found
    crossed = wires("relay-crossed-10a")
    assert ("driver NO 1", "driver NC 2") in crossed and ("driver NC 1", "driver NO 2") in crossed
    assert ("driver NC 1", "driver transistor") in crossed


def test_a_stuck_contact_runs_back_by_itself_only_without_a_transistor() -> None:
    """Both released: the welded end stands at the supply, the other at ground, so it runs; with the transistor of a
    relay pair before it nothing flows."""
    alone = motor_of(with_part(CAROUSEL(drives__d1__signals__reversal="through zero"), "relay-bridge-8a", "level"))
    run = simulate(alone.context, alone.circuit, "brake", averaged=True, fault="stuck contact")
    assert float(run.speed[-1]) < -0.5 * (alone.context.working_speed.value or 0.0)
    pair = motor_of(with_part(CAROUSEL(drives__d1__signals__reversal="through zero"), "relay-fet-10a", "pulses"))
    run = simulate(pair.context, pair.circuit, "brake", averaged=True, fault="stuck contact")
    assert abs(float(run.speed[-1])) < 0.05 * (pair.load.motor_speed.value or 0.0)
    bridge = motor_of(lantern_carousel())
    with pytest.raises(ValueError, match="none can stick"):
        simulate(bridge.context, bridge.circuit, "brake", averaged=True, fault="stuck contact")


def test_a_crossed_relay_has_no_brake() -> None:
    braked = CAROUSEL(drives__d1__signals__braking="brake")
    assert verdict(with_part(braked, "relay-crossed-10a", "pulses"), "driver.brakes") == "exceeded"
    built = staged(CAROUSEL(drives__d1__signals__braking="brake"), "crossed relay", gate_driver="g-low-4a")
    assert verdict(built, "driver.brakes") == "exceeded"
    pair = staged(CAROUSEL(drives__d1__signals__braking="brake"), "relay pair")
    assert verdict(pair, "driver.brakes") == "holds"


def test_one_stop_line_to_all_controllers() -> None:
    """The carousel's stop opens when pressed: joined. One that closes, or none, hears nothing; the remedy mends it. A
    drive without a program cannot hear it at all."""
    line = {"stop_line": "yes"}
    assert verdict(CAROUSEL(**line), "panel.stop_line") == "holds"
    deaf = CAROUSEL(**line, drives__d1__panel__stop_input="open")
    found = said(deaf, "panel.stop_line")
    assert found is not None and found.stops and found.remedy is not None
    assert verdict(CAROUSEL(**line, drives__d1__panel__stop_input=found.remedy.text), "panel.stop_line") == "holds"
    rows = {c.id: c for c in motor_of(CAROUSEL(**line)).wiring.connections}
    assert rows["signal:STOP"].start.block == "stop line" and rows["stop-"].end.block == "stop line"
    snow = said(FAN(**line), "panel.stop_line")
    assert snow is not None and snow.severity == "warn" and "cut this drive's power" in snow.todo
    assert said(lantern_carousel(), "panel.stop_line") is None
