"""The spin-up fit: coverage of its intervals, an independent optimiser, and what it must refuse."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.integrate import solve_ivp
from scipy.linalg import expm
from scipy.optimize import curve_fit

from zinc_whistle.core.captures import spinup
from zinc_whistle.core.captures.spinup import fit
from zinc_whistle.core.captures.spinup_capture import SpinUp, prepare, simulate
from zinc_whistle.core.captures.table import CaptureError

TRUE = {
    "resistance": 0.29,
    "inductance": 3e-4,
    "constant": 0.0285,
    "inertia": 6e-5,
    "friction": 0.03,
    "viscous": 1.2e-5,
}
P = np.array(list(TRUE.values()))


def capture(
    seed: int, *, rows: int = 900, span: float = 0.3, two: bool = True, speed: bool = True, p: np.ndarray = P
) -> SpinUp:
    """A noisy capture of a known motor; with ``two`` the supply is halved midway."""
    random = np.random.default_rng(seed)
    period = span / rows
    volts = np.full(rows, 36.0)
    if two:
        volts[rows // 2 :] = 18.0
    blank = np.zeros(rows)
    current, omega = simulate(p, SpinUp(period, volts, blank, blank))
    return prepare(
        np.arange(rows) * period,
        current + random.normal(0, 0.3, rows),
        volts=volts,
        speed=omega + random.normal(0, 4.0, rows) if speed else None,
    )


def test_simulation_against_an_independent_integration() -> None:
    """R-L and rotor with dry friction, integrated by DOP853 with the release as an event."""
    r, inductance, k, j, friction, b = P
    rows, period = 400, 2e-4
    volts = np.full(rows, 24.0)
    current, omega = simulate(P, SpinUp(period, volts, np.zeros(rows), np.zeros(rows)))

    def loose(t: float, x: np.ndarray) -> float:
        return float(k * x[0] - friction)

    loose.terminal = True
    stuck = solve_ivp(lambda t, x: [(24 - r * x[0]) / inductance], (0, 1), [0.0], events=loose, rtol=1e-11, atol=1e-12)
    begin = float(stuck.t_events[0][0])
    times = np.arange(rows) * period
    run = solve_ivp(
        lambda t, x: [(24 - r * x[0] - k * x[1]) / inductance, (k * x[0] - friction - b * x[1]) / j],
        (begin, times[-1]),
        [friction / k, 0.0],
        method="DOP853",
        rtol=1e-11,
        atol=1e-12,
        t_eval=times[times > begin],
    )
    assert current[times > begin] == pytest.approx(run.y[0], rel=1e-7, abs=1e-8)
    assert omega[times > begin] == pytest.approx(run.y[1], rel=1e-7, abs=1e-7)


def test_two_hundred_noisy_captures_lie_within_their_own_intervals() -> None:
    """95 % intervals must hold the true constants in at least 90 % of 200 seeded captures."""
    inside = dict.fromkeys(TRUE, 0)
    meta = dict.fromkeys(TRUE, 0)
    for seed in range(200):
        for name, found in fit(capture(seed, rows=700)).constants.items():
            if name in TRUE and found.value is not None and found.half_width is not None:
                meta[name] += 1
                inside[name] += abs(found.value - TRUE[name]) <= found.half_width
    for name, count in meta.items():
        assert count >= 190, f"{name} was reported in {count} of 200"
        assert inside[name] >= 0.9 * count, f"{name}: {inside[name]} of {count}"


def test_against_scipys_own_optimiser_on_a_written_out_model() -> None:
    """One voltage, no friction, so the current has a closed form of two exponentials; fitted by curve_fit."""
    motor = np.array([0.8, 1e-3, 0.03, 4e-5, 1e-9, 1e-9])
    made = capture(7, rows=1500, span=0.15, two=False, p=motor)
    times = np.arange(len(made.current)) * made.period_s

    def closed(t: np.ndarray, r: float, milli: float, k2_over_j: float) -> np.ndarray:
        inductance = milli * 1e-3
        half = r / (2 * inductance)
        root = np.sqrt(np.complex128(half**2 - k2_over_j / inductance))
        fast, slow = -half - root, -half + root
        return (36.0 / inductance * (np.exp(slow * t) - np.exp(fast * t)) / (slow - fast)).real

    theirs, spread = curve_fit(closed, times, made.current, p0=(1.0, 0.8, 20.0))
    ours = fit(made).constants
    r, milli, ratio = theirs
    assert ours["resistance"].value == pytest.approx(r, abs=3 * np.sqrt(spread[0, 0]))
    assert ours["inductance"].value == pytest.approx(milli * 1e-3, abs=3e-3 * np.sqrt(spread[1, 1]))
    assert ours["constant"].value is not None and ours["inertia"].value is not None
    assert ours["constant"].value ** 2 / ours["inertia"].value == pytest.approx(ratio, rel=0.01)


def test_current_alone_does_not_tell_the_mechanical_side() -> None:
    found = fit(capture(1, speed=False))
    assert found.constants["resistance"].value == pytest.approx(0.29, rel=0.01)
    for name in ("constant", "inertia", "friction_at_speed", "friction", "viscous"):
        assert found.constants[name].value is None
        assert "speed" in found.constants[name].reason
    assert found.time_constant_s == pytest.approx(0.29 * 6e-5 / (0.0285**2 + 0.29 * 1.2e-5), rel=0.02)


def test_a_final_speed_read_by_hand_is_enough_for_the_constant() -> None:
    made = capture(3, speed=False, two=False)
    end = simulate(P, SpinUp(made.period_s, made.volts, made.current, None))[1][-1]
    given = SpinUp(made.period_s, made.volts, made.current, None, final_speed=float(end))
    found = fit(given).constants["constant"]
    assert found.value == pytest.approx(0.0285, rel=0.03)


def test_one_voltage_does_not_split_the_friction_but_covers_it() -> None:
    """A single exponential: more of one friction looks like less of the other with another inertia."""
    found = fit(capture(2, two=False)).constants
    assert found["friction"].value is None
    assert "two voltages" in found["friction"].reason
    inertia = found["inertia"]
    assert inertia.value is not None and inertia.half_width is not None
    assert abs(inertia.value - 6e-5) <= inertia.half_width
    top = 36.0 / 0.0285
    assert found["friction_at_speed"].value == pytest.approx(0.03 + 1.2e-5 * top, rel=0.05)


def test_coarse_samples_do_not_tell_the_inductance() -> None:
    found = fit(capture(4, rows=150)).constants["inductance"]
    assert found.value is None
    assert "too far apart" in found.reason


@pytest.mark.parametrize(
    ("change", "says"),
    [
        (lambda t, i: (t[:20], i[:20]), "at least 30"),
        (lambda t, i: (t[::-1], i), "forward"),
        (lambda t, i: (t, i * 0), "No current"),
    ],
)
def test_unusable_captures_are_refused_in_words(change, says: str) -> None:  # type: ignore[no-untyped-def]
    time, current = np.arange(200) * 1e-3, np.ones(200)
    time, current = change(time, current)
    with pytest.raises(CaptureError, match=says):
        prepare(time, current, volts=12.0)


def test_a_motor_that_already_turns_is_refused() -> None:
    time = np.arange(200) * 1e-3
    with pytest.raises(CaptureError, match="already turns"):
        prepare(time, np.ones(200), volts=12.0, speed=np.full(200, 300.0))


def test_uneven_samples_and_a_turned_current_are_taken_and_said() -> None:
    made = capture(5)
    random = np.random.default_rng(9)
    time = np.arange(len(made.current)) * made.period_s
    time = time + random.uniform(-0.2, 0.2, len(time)) * made.period_s
    again = prepare(time, -made.current, volts=made.volts, speed=made.speed)
    assert len(again.notes) == 2
    assert fit(again).constants["resistance"].value == pytest.approx(0.29, rel=0.05)


def test_a_model_that_leaves_something_out_is_said() -> None:
    made = capture(6)
    ripple = 1.5 * np.sin(np.arange(len(made.current)) / 9.0)
    found = fit(SpinUp(made.period_s, made.volts, made.current + ripple, made.speed))
    assert not found.follows
    assert any("leaves something out" in n for n in found.notes)


def test_titles_cover_every_constant() -> None:
    assert set(fit(capture(8)).constants) == set(spinup.TITLES)


def test_what_is_taken_over_follows_what_was_told() -> None:
    both = {t.path: t for t in spinup.take_over(fit(capture(2)))}
    assert both["fitted.friction"].constant.name == "friction"
    assert both["fitted.friction"].note == ""
    assert both["fitted.viscous"].constant.value == pytest.approx(1.2e-5, rel=0.3)
    single = {t.path: t for t in spinup.take_over(fit(capture(2, two=False)))}
    assert single["fitted.friction"].constant.name == "friction_at_speed"
    assert "counted as constant" in single["fitted.friction"].note
    assert single["fitted.viscous"].constant.value == 0.0
    coarse = {t.path for t in spinup.take_over(fit(capture(4, rows=150)))}
    assert "inductance" not in coarse
    assert spinup.take_over(fit(capture(1, speed=False))) == []


def switched_on_late(seed: int, period: float, delay: float, volts_told: bool) -> SpinUp:
    """A motor that stands, is switched on between two samples, and is captured with noise: exact by expm, no step."""
    r, inductance, k, j, friction, b = P
    random = np.random.default_rng(seed)
    rows, before = 6000, 40
    times = (np.arange(rows) - before) * period - delay
    release = -inductance / r * np.log(1 - friction / k * r / 24.0)
    system = np.zeros((3, 3))
    system[:2] = [[-r / inductance, -k / inductance, 24 / inductance], [k / j, -b / j, -friction / j]]
    turning = expm(system * period)
    current = np.where(times > 0, 24 / r * (1 - np.exp(-r / inductance * np.maximum(times, 0))), 0.0)
    speed = np.zeros(rows)
    first = int(np.argmax(times > release))
    state = expm(system * (times[first] - release)) @ np.array([friction / k, 0.0, 1.0])
    for row in range(first, rows):
        current[row], speed[row] = state[:2]
        state = turning @ state
    volts: np.ndarray | float = np.where(times > 0, 24.0, 0.0) if volts_told else 24.0
    noisy = current + random.normal(0, 0.1, rows)
    return prepare(np.arange(rows) * period, noisy, volts=volts, speed=speed + random.normal(0, 2.0, rows))


@pytest.mark.parametrize("volts_told", [False, True])
@pytest.mark.parametrize("period", [1e-5, 5e-5])
def test_the_moment_of_switching_on_does_not_falsify_the_inductance(period: float, volts_told: bool) -> None:
    """L/R is 1 ms. A cut where 4 % of the peak flow is some 40 µs late, a cut at a sample up to one sample."""
    inside, widest = 0, 0.0
    for seed in range(20):
        found = fit(switched_on_late(seed, period, delay=period * (seed + 0.5) / 20, volts_told=volts_told))
        told = found.constants["inductance"]
        assert told.value is not None and told.half_width is not None
        inside += abs(told.value - TRUE["inductance"]) <= told.half_width
        widest = max(widest, told.half_width)
    assert inside >= 17, f"{inside} of 20 within their 95 % intervals"
    assert widest < 0.03 * TRUE["inductance"], "and the interval says something"


def test_a_current_in_the_wrong_unit_is_questioned() -> None:
    """The same capture with its amperes taken for milliamperes: 0.29 Ω become 290 Ω."""
    random, times = np.random.default_rng(3), np.arange(900) / 3000
    sound = capture(3)
    right = fit(sound)
    assert not [n for n in right.notes if "hardly" in n]
    wrong = prepare(
        times[: len(sound.current)], sound.current / 1000, volts=sound.volts + random.normal(0, 1e-9), speed=sound.speed
    )
    assert any("290 ohms" in n and "mA" in n for n in fit(wrong).notes)


def test_the_time_constant_is_told_by_the_current_alone_and_not_by_a_start_cut_short() -> None:
    """Inertia and constant scale together and leave their ratio; before the speed has risen not even that is told."""
    r, _, k, j, _, b = P
    alone = fit(capture(1, speed=False))
    assert alone.constants["inertia"].value is None
    assert alone.time_constant_s == pytest.approx(r * j / (k**2 + r * b), rel=0.05)
    short = capture(1, rows=60, span=0.0004, two=False, speed=False)
    assert fit(short).time_constant_s is None
