"""Moves to a count and the map of gains: against python-control where nothing is crooked, a brute stepper elsewhere."""

from __future__ import annotations

import math
from dataclasses import replace

import control
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.linalg import expm

from zinc_whistle.core.assess import MotorAssessment, assess
from zinc_whistle.core.laws.gain_map import gain_map
from zinc_whistle.core.laws.loop_margins import lagging, suggested
from zinc_whistle.core.laws.loop_step import LoopLaw, LoopPlant, step
from zinc_whistle.core.model.build import Build
from zinc_whistle.core.simulation.moves.happening import Happening
from zinc_whistle.core.simulation.moves.homing import homing
from zinc_whistle.core.simulation.moves.laws import WAYS, MoveLaw, suggested_laws
from zinc_whistle.core.simulation.moves.run import follow, move
from zinc_whistle.core.simulation.moves.setpoint import along, time_of
from zinc_whistle.core.simulation.moves.shaft import Shaft, held_for
from zinc_whistle.core.stations.loop.moves import MoveAsked, map_of, moves_of
from zinc_whistle.demo.data import lantern_carousel

MOTOR = LoopPlant(12.0, 0.0, 2.0, 1e-3, 0.02, 2e-5, 0.0, -1.0)
SMOOTH = Shaft(MOTOR, 0.0, 0.0, 1e7)
"""No friction, and counts so fine that counting does nothing."""
ROUGH = Shaft(MOTOR, 1e-3, 1.5e-3, 48.0)


@pytest.mark.parametrize("late", [0.0, 0.4, 1.0])
def test_a_proportional_move_agrees_with_python_control(late: float) -> None:
    """The linear sampled loop with a computing delay of so much of a period: within 1 % of the step."""
    period, per_rad = 2e-3, SMOOTH.counts_per_turn / (2 * math.pi)
    gain, target = 0.15 / per_rad, round(2.0 * per_rad)
    ours = move(SMOOTH, MoveLaw("p", period, delay_s=late * period, gain=gain, window=0), target, 1.0)
    r, inductance, k, j = MOTOR.resistance_ohm, MOTOR.inductance_h, MOTOR.constant, MOTOR.inertia
    a = np.array([[-r / inductance, -k / inductance, 0], [k / j, 0, 0], [0, 1, 0]])
    b = np.array([[MOTOR.bus_v / inductance], [0], [0]])
    # The old duty for the delay, the new one for the rest: two holds one after the other, the old duty a state.
    first = control.c2d(control.ss(a, b, np.eye(3), np.zeros((3, 1))), max(late * period, 1e-12), "zoh")
    second = control.c2d(control.ss(a, b, np.eye(3), np.zeros((3, 1))), max((1 - late) * period, 1e-12), "zoh")
    x, old, places = np.zeros((3, 1)), 0.0, [0.0]
    for _ in range(500):
        duty = gain * (target - float(x[2, 0]) * per_rad)
        assert abs(duty) < 1, "nothing is at its end"
        x = second.A @ (first.A @ x + first.B * old) + second.B * duty
        old = duty
        places.append(float(x[2, 0]) * per_rad)
    assert np.max(np.abs(np.array(ours.place) - np.array(places))) < 0.01 * target


def stepped(shaft: Shaft, law: MoveLaw, target: int, seconds: float) -> list[float]:
    """The same move in steps of 2 µs, written from the differential equations: places at the samples."""
    motor, dt = shaft.motor, 2e-6
    i = w = angle = duty = 0.0
    places = [0.0]
    for _ in range(round(seconds / law.period_s)):
        error = target - math.floor(angle * shaft.counts_per_turn / (2 * math.pi))
        duty = 0.0 if abs(error) <= law.window else math.copysign(law.most, error)
        for _ in range(round(law.period_s / dt)):
            i += dt * (duty * motor.bus_v - motor.resistance_ohm * i - motor.constant * w) / motor.inductance_h
            free = motor.constant * i
            if w == 0.0 and abs(free) <= shaft.stiction_nm:
                continue
            way = math.copysign(1.0, w if w != 0.0 else free)
            new = w + dt * (free - way * shaft.coulomb_nm) / motor.inertia
            w = 0.0 if w != 0.0 and new * w < 0 else new
            angle += dt * w
        places.append(angle * shaft.counts_per_turn / (2 * math.pi))
    return places


def test_all_or_nothing_with_friction_agrees_with_a_brute_stepper() -> None:
    law = MoveLaw("on/off", 5e-3, window=2)
    ours = move(ROUGH, law, 200, 0.35)
    brute = stepped(ROUGH, law, 200, 0.35)
    assert np.max(np.abs(np.array(ours.place) - np.array(brute))) < 2.5, "counts, over two reversals"
    assert ours.overshoot > 20


def test_the_schools_differ_as_the_trade_says() -> None:
    """All or nothing hunts round its place; with a fifth of the duty after the first crossing it creeps back and stays;
    a proportional one draws far less (common practice, no source)."""
    period = 1e-3
    slow, gains = lagging(MOTOR, period), suggested(MOTOR, period)
    laws = {
        x.way: x
        for x in suggested_laws(ROUGH, period, slow.lag_s or 0, slow.dead_s, (gains.gain, gains.integral_s or 1))
    }
    found = {way: move(ROUGH, law, 480, 2.5) for way, law in laws.items()}
    assert found["on/off"].hunting > 5 and found["reduced"].hunting == 0
    assert found["on/off"].energy_j > 5 * found["p"].energy_j
    assert all(abs(found[w].rest_error) <= 3 for w in ("reduced", "p", "pd", "cascade"))
    assert found["cascade"].settled_s is not None and found["pd"].overshoot < found["p"].overshoot
    back = move(ROUGH, laws["p"], -480, 2.5)
    assert back.place[-1] == pytest.approx(-found["p"].place[-1], abs=3), "the other way round the same"


def test_what_sticks_does_not_move() -> None:
    """A duty whose torque is below the friction at rest: 12 V × 1 % ÷ 2 Ω × 0.02 N·m/A = 1.2 mN·m of 1.5 mN·m."""
    still = move(ROUGH, MoveLaw("on/off", 1e-3, most=0.01), 100, 0.5)
    assert max(still.place) == 0 and still.settled_s is None
    moves = move(ROUGH, MoveLaw("on/off", 1e-3, most=0.014), 100, 0.5)
    assert moves.place[-1] > 1
    with pytest.raises(ValueError, match="samples"):
        move(ROUGH, MoveLaw("p", 1e-5), 10, 10.0)
    with pytest.raises(ValueError, match="longer time"):
        move(ROUGH, MoveLaw("p", 5.0), 10, 1.0)


def test_a_load_that_pulls_back_leaves_a_proportional_move_short() -> None:
    """Against 4 mN·m a proportional law ends where its duty holds them: 4 mN·m ÷ 0.02 N·m/A × 2 Ω ÷ 12 V = 3.3 %."""
    heavy = replace(SMOOTH, motor=replace(MOTOR, load_nm=4e-3), counts_per_turn=4800.0)
    gain = 2e-4
    found = move(heavy, MoveLaw("p", 1e-3, gain=gain, window=0), 2400, 4.0)
    assert found.rest_error == pytest.approx(4e-3 / 0.02 * 2 / 12 / gain, rel=0.02)


@settings(max_examples=200)
@given(
    ohms=st.floats(0.05, 200),
    tau=st.floats(1e-5, 0.1),
    constant=st.floats(1e-3, 2),
    lag=st.floats(1e-4, 20),
    time=st.floats(1e-6, 0.1),
)
def test_the_step_of_the_shaft_is_the_matrix_exponential(
    ohms: float, tau: float, constant: float, lag: float, time: float
) -> None:
    """Against scipy's, over and under the damping at which both roots are one."""
    henries, inertia = ohms * tau, lag * constant**2 / ohms
    a = np.array([[-ohms / henries, -constant / henries], [constant / inertia, 0.0]])
    whole = expm(a * time)
    got = np.array(held_for(ohms, henries, constant, inertia, time))
    # Current and speed have units of their own: each number is held against the size that it takes part in.
    root = math.sqrt(inertia / henries)
    alike = np.array([[1, 1 / root], [root, 1]])
    assert got[:4].reshape(2, 2) * alike == pytest.approx(whole * alike, abs=1e-9)
    assert got[4] == pytest.approx(math.exp(-ohms / henries * time))


LIFTS = Shaft(
    replace(MOTOR, load_nm=5e-3), 1e-3, 1.5e-3, 48.0, play_rad=0.4, counted="motor", source_ohm=0.3, limit_a=None
)
PLAYS = replace(ROUGH, play_rad=1.5, counted="output")


def brute(
    shaft: Shaft, law: MoveLaw, target: int, seconds: float, happens: tuple[Happening, ...] = ()
) -> tuple[list[float], float]:
    """The same in steps of 2 µs, written from the differential equations with play, a source that gives way, a limit
    of the current, a jam, a hand and more load: counted places at the samples, and the energy drawn."""
    motor, dt, energy = shaft.motor, 2e-6, 0.0
    i = w = angle = out = 0.0
    places, per_rad = [0.0], shaft.counts_per_turn / (2 * math.pi)
    for n in range(round(seconds / law.period_s)):
        seen = math.floor((out if shaft.counted == "output" else angle) * per_rad)
        error = target - seen
        duty = 0.0 if abs(error) <= law.window else math.copysign(law.most, error)
        for _ in range(round(law.period_s / dt)):
            now = n * law.period_s
            more, held, hand = 0.0, False, None
            for h in happens:
                if h.at_s - 1e-9 <= now < h.at_s + h.for_s - 1e-9:
                    more += h.amount if h.kind == "load" else 0.0
                    held = held or h.kind == "jam"
                    hand = h.amount if h.kind == "hand" else hand
            drawn = duty * i
            volts = duty * (motor.bus_v - shaft.source_ohm * drawn)
            i += dt * (volts - motor.resistance_ohm * i - motor.constant * w) / motor.inductance_h
            energy += dt * max(motor.bus_v * drawn, 0.0)
            free = motor.constant * i - motor.load_nm - more
            if held:
                w = 0.0
            elif hand is not None:
                w = hand
            elif w != 0.0 or abs(free) > shaft.stiction_nm:
                way = math.copysign(1.0, w if w != 0.0 else free)
                new = w + dt * (free - way * shaft.coulomb_nm) / motor.inertia
                w = 0.0 if w != 0.0 and new * w < 0 else new
            angle += dt * w
            half = 0.0 if abs(motor.load_nm) > shaft.coulomb_nm else shaft.play_rad / 2
            out = min(max(out, angle - half), angle + half)
        if hand is not None and all(now + law.period_s > h.at_s + h.for_s - 1e-9 for h in happens if h.kind == "hand"):
            w = 0.0
        places.append((out if shaft.counted == "output" else angle) * per_rad)
    return places, energy


@pytest.mark.parametrize(
    ("shaft", "happens", "within"),
    [
        (LIFTS, (), 3.0),
        (PLAYS, (), 4.0),
        (ROUGH, (Happening("jam", 0.05, 0.08),), 3.0),
        (ROUGH, (Happening("hand", 0.2, 0.05, -60.0),), 4.0),
        (LIFTS, (Happening("load", 0.1, 0.1, 6e-3),), 4.0),
    ],
    ids=["a weight and a soft source", "play in the loop", "a jam", "a hand", "more load"],
)
def test_what_happens_on_the_way_agrees_with_a_brute_stepper(
    shaft: Shaft, happens: tuple[Happening, ...], within: float
) -> None:
    law = MoveLaw("reduced", 5e-3, most=0.8)
    all_or_nothing = replace(law, way="on/off")
    ours = move(shaft, all_or_nothing, 120, 0.35, happens=happens)
    places, energy = brute(shaft, all_or_nothing, 120, 0.35, happens)
    assert np.max(np.abs(np.array(ours.place) - np.array(places))) < within
    assert ours.energy_j == pytest.approx(energy, rel=0.03)


def test_a_jam_draws_what_the_winding_lets_through_and_a_driver_may_hold_less() -> None:
    """12 V ÷ 2 Ω are 6 A; a driver that holds 2 A lets no more through."""
    jam = (Happening("jam", 0.0, 1.0),)
    law = MoveLaw("on/off", 1e-3)
    assert move(ROUGH, law, 500, 0.5, happens=jam).current_a.max() == pytest.approx(6.0, rel=1e-3)
    held = move(replace(ROUGH, limit_a=2.0), law, 500, 0.5, happens=jam)
    assert held.current_a.max() == pytest.approx(2.0, rel=1e-3) and held.place.max() == 0


def test_the_largest_current_is_found_between_the_samples() -> None:
    """Looked at every 20 ms a start seems to draw what is left of it then; a brute stepper sees its peak."""
    law, motor = MoveLaw("on/off", 20e-3), MOTOR
    found = move(ROUGH, law, 5000, 0.1)
    i = w = peak = 0.0
    for _ in range(50_000):
        i += 1e-6 * (12.0 - motor.resistance_ohm * i - motor.constant * w) / motor.inductance_h
        w += 1e-6 * max(motor.constant * i - ROUGH.coulomb_nm, 0.0) / motor.inertia
        peak = max(peak, i)
    assert found.peak_a == pytest.approx(peak, rel=0.02)
    assert found.current_a.max() < 0.9 * peak
    # Pulses of 2 kHz at half duty put 12 V × 1/4 ÷ (2 kHz × 1 mH) = 1.5 A on it, half of that above the mean.
    half = replace(law, most=0.5)
    smooth, pulsed = move(ROUGH, half, 5000, 0.1), move(replace(ROUGH, pulses_hz=2e3), half, 5000, 0.1)
    assert pulsed.peak_a - smooth.peak_a == pytest.approx(0.75, rel=1e-6)


def test_a_ramp_takes_its_time_and_its_corners_bound_the_jerk() -> None:
    """1,000 counts at 500 counts/s with 1,000 counts/s²: 1000/500 + 500/1000 = 2.5 s; 100 counts never come to that
    speed: 2 √(100/1000) s. Rounded over a quarter of a second the acceleration changes by no more than 1,000 ÷ 0.25
    counts/s² in a second, and the whole takes so much longer."""
    places, speeds = along("ramp", 1000, 500, 1000, 1e-3, 4000)
    assert places[2500] == pytest.approx(1000, abs=0.01) and places[2400] < 999
    assert speeds.max() == pytest.approx(500, rel=1e-6)
    short, quick = along("ramp", -100, 500, 1000, 1e-3, 1000)
    assert short[round(2 * math.sqrt(0.1) * 1000) + 1] == pytest.approx(-100, abs=0.01)
    assert abs(quick).max() == pytest.approx(math.sqrt(100 * 1000), rel=0.01)
    smooth, moves = along("s", 1000, 500, 1000, 1e-3, 4000)
    assert smooth[2751] == pytest.approx(1000, abs=0.05)
    pull = np.diff(moves) / 1e-3
    assert abs(pull).max() <= 1000 * 1.01 and abs(np.diff(pull)).max() / 1e-3 <= 1000 / 0.25 * 1.05
    assert time_of("ramp", 1000, 500, 1000) == 2.5 and time_of("s", 1000, 500, 1000) == 2.75
    with pytest.raises(ValueError, match="time to speed"):
        along("ramp", 10, 0.0, 1.0, 1e-3, 10)


def test_a_ramped_move_draws_less_and_lags_less_than_one_at_once() -> None:
    """With counts a hundred times as fine as above: one of 48 counts in a millisecond is 1,250 rpm, and would be most
    of the duty."""
    fine, slow, gains = replace(ROUGH, counts_per_turn=4800.0), lagging(MOTOR, 1e-3), suggested(MOTOR, 1e-3)
    laws = suggested_laws(fine, 1e-3, slow.lag_s or 0, slow.dead_s, (gains.gain, gains.integral_s or 1))
    law = next(x for x in laws if x.way == "pd")
    at_once = move(fine, law, 96_000, 2.0)
    ramped = move(fine, law, 96_000, 2.0, course="ramp", speed=150_000, acceleration=500_000)
    rounded = move(fine, law, 96_000, 2.0, course="s", speed=150_000, acceleration=500_000)
    assert ramped.peak_a < 0.5 * at_once.peak_a and rounded.peak_a <= ramped.peak_a * 1.05
    assert abs(ramped.rest_error) <= 3
    assert abs(ramped.place[1000] - 96_000) < 100, "96/150 + 0.3 s, as the ramp takes: there but for a 48th of a turn"
    blind = move(fine, replace(law, ahead=0.0), 96_000, 2.0, course="ramp", speed=150_000, acceleration=500_000)
    assert ramped.lag is not None and blind.lag is not None and ramped.lag < 0.5 * blind.lag, (
        "what the speed needs is fed forward"
    )


def test_an_integral_holds_a_weight_that_a_proportional_law_leaves_hanging() -> None:
    heavy = replace(ROUGH, motor=replace(MOTOR, load_nm=4e-3), counts_per_turn=480.0)
    gain = 1e-3
    hanging = move(heavy, MoveLaw("p", 1e-3, gain=gain, window=2), 2400, 4.0)
    held = move(heavy, MoveLaw("pid", 1e-3, gain=gain, derivative_s=0.05, integral_s=0.5, window=2), 2400, 4.0)
    # Creeping up it stops where its duty makes 4 + 1 mN·m: 5 mN·m ÷ 0.02 N·m/A × 2 Ω ÷ 12 V = 4.2 %, 42 counts short.
    assert 20 < hanging.rest_error < 60 and abs(held.rest_error) <= 4


def test_nothing_driven_runs_out_as_friction_lets_it() -> None:
    """200 rad/s with 1 mN·m on 2·10⁻⁵ kg·m²: 50 rad/s² for 4 s, 400 rad."""
    start = move(ROUGH, MoveLaw("on/off", 1e-3, most=0.5), 10**6, 1.0)
    speed = (start.place[-1] - start.place[-2]) / 1e-3 / 48 * 2 * math.pi
    free = follow(ROUGH, lambda n, _: 0.5 if n < 1000 else None, 1e-3, 10**6, 1.0 + speed / 50 + 0.5, 2)
    went = (free.place[-1] - free.place[1000]) / 48 * 2 * math.pi
    assert went == pytest.approx(speed**2 / (2 * 50), rel=0.01)


def test_homing_is_late_by_the_time_that_it_takes_to_believe_the_switch() -> None:
    """At a steady speed the zero is late by between the debounce time and one look more: 5 to 6 ms of it."""
    duty, tick, debounce = 0.3, 1e-3, 5e-3
    found = homing(ROUGH, duty, 0.1, tick, debounce, 480.0, shorts=True)
    steady = (duty * 12.0 - 2.0 * 1e-3 / 0.02) / 0.02 / (2 * math.pi) * 48
    assert found.speed == pytest.approx(steady, rel=0.02)
    assert found.zero[0] == pytest.approx(5e-3 * steady, rel=0.06) and found.zero[1] == pytest.approx(
        6e-3 * steady, rel=0.06
    )
    assert found.overrun > found.zero[1]
    coasting = homing(ROUGH, duty, 0.1, tick, debounce, 480.0, shorts=False)
    assert coasting.overrun > 3 * found.overrun, "let run out it goes much further"
    assert found.time_s == pytest.approx(480 / steady + 0.1, rel=0.25)
    with pytest.raises(ValueError, match="within a minute"):
        homing(ROUGH, 0.005, 0.0, tick, debounce, 480.0, shorts=True)


def test_the_map_is_the_step_at_each_of_its_places() -> None:
    plant = LoopPlant(12.0, 0.1, 2.0, 1e-3, 0.02, 2e-5, 0.005, 0.0)
    gains = suggested(plant, 5e-3)
    assert gains.integral_s is not None
    across = np.geomspace(gains.gain / 4, gains.gain * 2, 6)
    down = np.geomspace(gains.integral_s / 2, gains.integral_s * 8, 5)
    found = gain_map(plant, LoopLaw(1.0, 1.0, 5e-3, 0.3, True), 300.0, across, down, 2.0)
    for k, integral in enumerate(down):
        for n, gain in enumerate(across):
            one = step(plant, 300.0, LoopLaw(float(gain), float(integral), 5e-3, 0.3, True))
            peak = max(one.speed[: 400 + 1]) / 300 - 1
            assert found.overshoot[k, n] == pytest.approx(max(peak, 0.0), abs=1e-9)


def carousel(**texts: str) -> MotorAssessment:
    build: Build = lantern_carousel()
    for name, text in texts.items():
        getattr(build.driven[0].of_motor.loop, name).text = text
    done = assess(build).drives["d1"]
    assert isinstance(done, MotorAssessment)
    return done


def test_a_move_of_the_demo_and_what_is_missing() -> None:
    done = carousel()
    found = moves_of(done.context, done.circuit, done.encoder, MoveAsked(output_rad=math.radians(90), seconds=3.0))
    assert found.target == round(7197 / 4) and len(found.moves) == len(WAYS)
    for wrong, seconds, says in (
        (0.0, 3.0, "less than a count"),
        (1.0, 31.0, "between nothing and 30 s"),
        (1e300, 3.0, "turns"),
    ):
        with pytest.raises(ValueError, match=says):
            moves_of(done.context, done.circuit, done.encoder, MoveAsked(output_rad=wrong, seconds=seconds))
    assert all(min(m.duty) >= 0 for _, m in found.moves) and any("runs one way" in s for s in found.said)
    with pytest.raises(ValueError, match="one way"):
        moves_of(done.context, done.circuit, done.encoder, MoveAsked(output_rad=-1.0, seconds=1.0))
    bare = carousel(period="")
    with pytest.raises(ValueError, match="the control period"):
        moves_of(bare.context, bare.circuit, bare.encoder, MoveAsked(output_rad=1.0, seconds=1.0))
    with pytest.raises(ValueError, match="the control period"):
        map_of(bare.loop)


def test_the_suggestion_is_offered_where_no_gain_is_given_and_holds_when_taken() -> None:
    bare = carousel(gain="")
    (told,) = (f for f in bare.findings if f.code == "loop.gain")
    assert told.verdict == "unknown" and told.remedy is not None and told.remedy.path.endswith("loop.gain")
    taken = carousel(gain=told.remedy.text)
    verdicts = {f.code: f.verdict for f in taken.findings if f.code.startswith("loop.")}
    assert verdicts["loop.gain"] == verdicts["loop.gain_margin"] == verdicts["loop.phase_margin"] == "holds"


def test_a_gain_that_swings_by_itself_is_told() -> None:
    """Ten times the suggested gain lies beyond the gain margin that 2 leaves."""
    gain = carousel().loop.suggested_gain.value
    assert gain
    quick = {f.code: f.verdict for f in carousel(gain=f"{100 * 10 * gain * math.pi / 30:.5g} %/rpm").findings}
    assert quick["loop.gain_margin"] == "exceeded" and quick["loop.phase_margin"] == "exceeded"
