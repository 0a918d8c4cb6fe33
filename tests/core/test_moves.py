"""Moves to a count and the map of gains: against python-control where nothing is crooked, a brute stepper elsewhere."""

from __future__ import annotations

import math
from dataclasses import replace

import control
import numpy as np
import pytest

from zinc_whistle.core.assess import MotorAssessment, assess
from zinc_whistle.core.laws.gain_map import gain_map
from zinc_whistle.core.laws.loop_margins import lagging, suggested
from zinc_whistle.core.laws.loop_step import LoopLaw, LoopPlant, step
from zinc_whistle.core.model.build import Build
from zinc_whistle.core.simulation.position import MoveLaw, Shaft, move, suggested_laws
from zinc_whistle.core.stations.loop.moves import map_of, moves_of
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


def test_a_load_that_pulls_back_leaves_a_proportional_move_short() -> None:
    """Against 4 mN·m a proportional law ends where its duty holds them: 4 mN·m ÷ 0.02 N·m/A × 2 Ω ÷ 12 V = 3.3 %."""
    heavy = replace(SMOOTH, motor=replace(MOTOR, load_nm=4e-3), counts_per_turn=4800.0)
    gain = 2e-4
    found = move(heavy, MoveLaw("p", 1e-3, gain=gain, window=0), 2400, 4.0)
    assert found.rest_error == pytest.approx(4e-3 / 0.02 * 2 / 12 / gain, rel=0.02)


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
    found = moves_of(done.context, done.circuit, done.encoder, math.radians(90), 3.0)
    assert found.target == round(7197 / 4) and len(found.moves) == 5
    for wrong, seconds, says in (
        (0.0, 3.0, "less than a count"),
        (1.0, 31.0, "between nothing and 30 s"),
        (1e300, 3.0, "turns"),
    ):
        with pytest.raises(ValueError, match=says):
            moves_of(done.context, done.circuit, done.encoder, wrong, seconds)
    assert all(min(m.duty) >= 0 for _, m in found.moves) and found.said.startswith("It runs one way")
    with pytest.raises(ValueError, match="one way"):
        moves_of(done.context, done.circuit, done.encoder, -1.0, 1.0)
    bare = carousel(period="")
    with pytest.raises(ValueError, match="the control period"):
        moves_of(bare.context, bare.circuit, bare.encoder, 1.0, 1.0)
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
