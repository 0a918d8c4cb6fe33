"""Parts of a duty that last minutes: judged by the hottest moment, not by the mean over the rest that follows."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import solve_ivp

from zinc_whistle.core.assess import DrivenAssessment, assess
from zinc_whistle.core.laws.driver import junction_temperature
from zinc_whistle.core.laws.heat import heating_current
from zinc_whistle.core.laws.wiring import wire_time
from zinc_whistle.core.model.build import Build
from zinc_whistle.core.model.given import Given
from zinc_whistle.core.model.load import Segment
from zinc_whistle.demo.data import lantern_carousel, puppet_stage

from .kit import SHELF, altered, said


def segment(id: str, torque: str, time: str, speed: str = "") -> Segment:
    return Segment(id=id, torque=Given(text=torque), time=Given(text=time), speed=Given(text=speed))


def carousel(torque: str, work: str, rest: str) -> Build:
    """The carousel with one hard part and a rest."""
    build = altered(lantern_carousel)
    motor = build.drives[0].of_motor
    assert motor is not None
    motor.load.segments = [
        segment("a", torque, work),
        segment("b", "0 N·m", rest, "0 rpm"),
    ]
    return build


def current_of(build: Build) -> float:
    drive = assess(build, SHELF).drives["d1"]
    assert isinstance(drive, DrivenAssessment)
    return max(n.value or 0.0 for n in drive.context.duty.currents)


def test_five_minutes_of_work_heat_a_board_for_good_whatever_the_rest() -> None:
    """Five minutes are five times a board's minute: 1 − e⁻⁵ = 99 % of the steady rise is reached, so an hour of rest
    must not be counted. The RMS over the whole would count the square root of 5/65, 28 % of the current."""
    long = carousel("0.5 N·m", "5 min", "60 min")
    drive = assess(long, SHELF).drives["d1"]
    assert isinstance(drive, DrivenAssessment) and drive.chosen is not None
    current, counted = current_of(long), drive.chosen.heat.current.value or 0.0
    assert counted > 0.99 * current
    assert (drive.context.rms_current.value or 0.0) == pytest.approx(current * math.sqrt(5 / 65), rel=0.05)


def test_the_same_work_in_seconds_does_not() -> None:
    """1 s of work in 13 s: the board's share (70 %) follows the mean of a thirteenth, the package's (30 %) nearly all
    of the work: (0.3·(1 − e⁻¹) + 0.7/13) = 24 % of the heat, 49 % of the current at the least, well below all of it."""
    short = carousel("0.5 N·m", "1 s", "12 s")
    drive = assess(short, SHELF).drives["d1"]
    assert isinstance(drive, DrivenAssessment) and drive.chosen is not None
    share = (drive.chosen.heat.current.value or 0.0) / current_of(short)
    assert share == pytest.approx(math.sqrt(0.3 * (1 - math.exp(-1)) + 0.7 / 13), rel=0.02)


@pytest.mark.parametrize(("work", "rest", "verdict"), [("5 min", "60 min", "exceeded"), ("1 s", "12 s", "holds")])
def test_driver_heat_trips_on_the_long_cycle_alone(work: str, rest: str, verdict: str) -> None:
    """Both have a thirteenth of work; only the long one burns the driver."""
    found = said(carousel("8 N·m", work, rest), "driver.heat")
    assert found is not None and found.verdict == verdict


def test_a_wire_is_judged_by_its_own_seconds() -> None:
    """A thirteenth of work: the mean square would allow 3.6 times the current; 5 min of it heat any hook-up wire."""
    long, short = (
        said(carousel("2.2 N·m", *x), "wiring.motor_density") for x in (("5 min", "60 min"), ("0.1 s", "1.2 s"))
    )
    assert long is not None and short is not None and long.used is not None and short.used is not None
    assert long.used == pytest.approx(short.used * math.sqrt(13), rel=0.05)


def test_thermal_time_of_a_thin_wire() -> None:
    """AWG 24, by hand: 0.205 mm², 18.7 · 0.205^0.6 = 7.23 A make 52.2 · 0.1007 = 5.26 W/m in its hot copper, which
    stores 0.707 J/(m·K): 0.707 · 40 / 5.26 = 5.4 s."""
    assert wire_time.bare(0.205e-6) == pytest.approx(5.4, rel=0.01)


CYCLES = st.lists(st.tuples(st.floats(0, 8), st.floats(0.05, 400)), min_size=1, max_size=4)


def stepped(
    cycle: list[tuple[float, float]], share: float, quick: float, slow: float, ohm: float, r_th: float
) -> float:
    """Peak rise of a two-node network under the cycle, stepped through until it repeats; copper grows with heat."""
    rise, peak = np.zeros(2), 0.0
    for _ in range(60):
        before, peak = rise, 0.0
        for current, span in cycle:

            def flow(_: float, x: np.ndarray, i: float = current) -> np.ndarray:
                watts = i * i * ohm * (1 + 0.004 * float(x.sum()))
                return np.array([(share * r_th * watts - x[0]) / quick, ((1 - share) * r_th * watts - x[1]) / slow])

            run = solve_ivp(flow, (0, span), rise, "LSODA", rtol=1e-8, atol=1e-9)
            rise, peak = run.y[:, -1], max(peak, float(run.y.sum(axis=0).max()))
        if np.allclose(before, rise, rtol=1e-5, atol=1e-6):
            break
    return peak


@pytest.mark.parametrize(
    "cycle",
    [
        [(4.6, 300.0), (0.0, 3600.0)],
        [(3.0, 2.0), (1.0, 20.0), (0.0, 30.0)],
        [(5.0, 0.5), (0.0, 4.0)],
        [(4.0, 40.0), (0.0, 1.0), (3.5, 5.0), (0.0, 200.0)],
    ],
)
def test_no_stepped_network_gets_hotter_than_what_is_counted(cycle: list[tuple[float, float]]) -> None:
    """The peak with a resistance that grows is below the steady state at the counted current, and not far below it:
    what is left is the resistance's growth, counted all the time."""
    share, quick, slow, ohm, r_th = 0.3, 1.0, 60.0, 0.1, 30.0
    counted = heating_current.function([i for i, _ in cycle], [t for _, t in cycle], share, quick, slow)
    heat = counted**2 * ohm * r_th
    bound = heat / (1 - 0.004 * heat)
    peak = stepped(cycle, share, quick, slow, ohm, r_th)
    assert peak <= bound * 1.0005
    assert peak >= heat * 0.995


@given(CYCLES, st.floats(0, 1))
def test_between_mean_and_largest(cycle: list[tuple[float, float]], share: float) -> None:
    """Never below the root mean square, never above the largest current; a longer cycle of the same shape is hotter."""
    currents, times = [i for i, _ in cycle], [t for _, t in cycle]
    counted = heating_current.function(currents, times, share, 1.0, 60.0)
    rms = math.sqrt(sum(i * i * t for i, t in cycle) / sum(times))
    assert rms * (1 - 1e-9) <= counted <= max(currents) * (1 + 1e-9)
    assert heating_current.function(currents, [10 * t for t in times], share, 1.0, 60.0) >= counted * (1 - 1e-9)


@given(CYCLES, st.floats(0.05, 0.95))
def test_turning_points_inside_a_part_are_found(cycle: list[tuple[float, float]], share: float) -> None:
    """Against the sum of both lags at four hundred places of each part."""
    currents, times = [i for i, _ in cycle], [t for _, t in cycle]
    levels, taus = [0.0, 0.0], (1.0, 60.0)
    for _ in range(math.ceil(1200 / sum(times))):
        for current, span in cycle:
            levels = [
                current**2 + (v - current**2) * math.exp(-span / tau) for v, tau in zip(levels, taus, strict=True)
            ]
    highest = 0.0
    for current, span in cycle:
        at = np.linspace(0, span, 4000)
        both = [current**2 + (v - current**2) * np.exp(-at / tau) for v, tau in zip(levels, taus, strict=True)]
        highest = max(highest, float((share * both[0] + (1 - share) * both[1]).max()))
        levels = [float(b[-1]) for b in both]
    assert heating_current.function(currents, times, share, *taus) ** 2 == pytest.approx(highest, rel=1e-3, abs=1e-9)


@given(CYCLES, st.lists(st.tuples(st.floats(0, 1), st.floats(0.1, 5), st.floats(6, 300)), min_size=2, max_size=5))
def test_on_arrays_it_is_the_same(cycle: list[tuple[float, float]], many: list[tuple[float, float, float]]) -> None:
    currents, times = [i for i, _ in cycle], [t for _, t in cycle]
    shares, quick, slow = (np.array(x) for x in zip(*many, strict=True))
    found = heating_current.on_arrays([currents, times, shares, quick, slow])
    assert found == pytest.approx([heating_current.function(currents, times, *x) for x in many], rel=1e-9, abs=1e-12)


def test_the_example_that_was_once_called_good() -> None:
    """4.6 A through 0.25 Ω hot at 50 K/W, 40 °C: the steady state of the five minutes is 40 + 50·4.6²·0.25 ≈ 304 °C
    with the resistance at its limit; by the RMS over an hour it would be 60 °C."""
    over = heating_current.function([4.6, 0.0], [300.0, 3600.0], 0.3, 1.0, 60.0)
    hot = junction_temperature.evaluate([40.0, 50.0, over, 0.15, 1.7, 150.0, 0.0])
    rms = 4.6 * math.sqrt(300 / 3900)
    assert hot > 250 and junction_temperature.evaluate([40.0, 50.0, rms, 0.15, 1.7, 150.0, 0.0]) < 70


def test_a_relays_diode_and_the_stages_switch_count_the_hottest_moment_too() -> None:
    """The winch's own stage: half a minute of pull in ten minutes. Its switch stands free: 0.8 J/K · 62 K/W = 50 s."""
    build = altered(puppet_stage, units__u1__flyback="rails")
    motor = build.drives[0].of_motor
    assert motor is not None
    motor.load.segments = [
        segment("a", "1 N·m", "30 s"),
        segment("b", "0 N·m", "570 s", "0 rpm"),
    ]
    drive = assess(build, SHELF).drives["d1"]
    assert isinstance(drive, DrivenAssessment) and drive.discrete is not None
    current = current_of(build)
    switch = drive.discrete.spec.switch
    counted = (drive.discrete.around.current.value or 0.0) / current
    slow = (switch.to_air.value or 0.0) * (switch.heat_capacity.value or 0.0)
    assert counted > math.sqrt(1 - math.exp(-30 / slow)) * 0.97 > (drive.context.rms_current.value or 0.0) / current
