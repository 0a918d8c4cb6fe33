"""What must hold for any motor and any load: inversions, monotony, bounds."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from tests.core.test_motor_load_supply import ENOUGH, mechanism
from tests.kit import changed
from zinc_whistle.core.algebra.quantities import notation
from zinc_whistle.core.assess import assess
from zinc_whistle.core.cases.motor_sheet import solve
from zinc_whistle.core.laws import load as load_rules
from zinc_whistle.core.laws import motor as motor_rules
from zinc_whistle.core.laws.heat import heating_current
from zinc_whistle.core.model.given import Given, bind
from zinc_whistle.core.model.load import MECHANISMS
from zinc_whistle.core.model.motor import MotorSheet
from zinc_whistle.core.stations.motor import thermal
from zinc_whistle.demo.data import lantern_carousel

D = "drives__d1__"
VOLTS, OHMS, CONSTANT = st.floats(3, 60), st.floats(0.05, 30), st.floats(0.002, 0.2)


@settings(max_examples=150)
@given(VOLTS, OHMS, CONSTANT, st.floats(0.005, 0.35), st.sampled_from(ENOUGH))
def test_any_motor_comes_back_from_any_sufficient_sheet(
    volts: float, ohms: float, constant: float, idle_share: float, names: tuple[str, ...]
) -> None:
    """A data sheet made from known constants gives them back, whichever part of it is used."""
    stall = volts / ohms
    idle = idle_share * stall
    values = {
        "voltage": (volts, "voltage", "V"),
        "no_load_speed": ((volts - idle * ohms) / constant, "speed", "rpm"),
        "no_load_a": (idle, "current", "A"),
        "stall_a": (stall, "current", "A"),
        "stall_torque": (constant * (stall - idle), "torque", "mN·m"),
        "speed_constant": (1 / constant, "speed constant", "rpm/V"),
        "resistance": (ohms, "resistance", "Ω"),
    }
    sheet = MotorSheet(**{n: Given(text=notation(*values[n]), origin="data sheet") for n in names})
    bind(sheet, "sheet")
    found = solve(sheet)
    assert found.resistance.value == pytest.approx(ohms, rel=1e-5)
    assert found.constant.value == pytest.approx(constant, rel=1e-5)
    assert found.no_load_a.value == pytest.approx(idle, rel=1e-4)


@given(OHMS, CONSTANT, st.floats(0, 1e-5), st.floats(0.01, 0.5), VOLTS)
def test_no_load_speed_solves_the_motor_equation(r: float, k: float, b: float, friction: float, volts: float) -> None:
    assume(volts > friction * r)  # else it stands
    omega = motor_rules.no_load_speed.evaluate([volts, 0.0, friction, r, k, b])
    current = motor_rules.friction_current.evaluate([friction, b, k, omega])
    assert motor_rules.motor_volts.evaluate([k, omega, current, r, 0.0]) == pytest.approx(volts, rel=1e-9)


@given(OHMS, CONSTANT, st.floats(1e-9, 1e-5), st.floats(0.001, 0.3))
def test_two_no_load_tests_invert_their_own_motor(r: float, k: float, b: float, friction: float) -> None:
    readings = []
    for omega in (200.0, 500.0):
        current = motor_rules.friction_current.evaluate([friction, b, k, omega])
        emf = motor_rules.back_emf.evaluate([k * omega + r * current, current, r, 0.0])
        readings += [current, emf]
    assert motor_rules.constant_friction.evaluate(readings) == pytest.approx(friction, rel=1e-6, abs=1e-9)
    assert motor_rules.viscous_friction.evaluate([k, *readings]) == pytest.approx(b, rel=1e-5, abs=1e-13)


NODES = st.builds(
    thermal.TwoNodes, st.floats(1, 100), st.floats(10, 2000), st.floats(0.5, 10), st.floats(0.5, 20), st.floats(0.05, 5)
)


@settings(max_examples=60)
@given(NODES, st.floats(0.05, 2.0), st.floats(-20, 60), st.floats(0.01, 0.5), st.floats(1, 20))
def test_the_winding_never_cools_with_air_or_current(
    nodes: thermal.TwoNodes, current: float, air: float, more: float, warmer: float
) -> None:
    times = np.linspace(0, 600, 13)
    base = thermal.course(nodes, current, air, times, (air, air))
    for amperes, around in ((current + more, air), (current, air + warmer)):
        other = thermal.course(nodes, amperes, around, times, (around, around))
        assert np.all(other[:, 0] >= base[:, 0] - 1e-6)


@settings(max_examples=60)
@given(NODES, st.floats(0.05, 3.0), st.floats(0, 50))
def test_splitting_the_course_changes_nothing(nodes: thermal.TwoNodes, current: float, air: float) -> None:
    whole = thermal.course(nodes, current, air, np.linspace(0, 300, 2), (air, air))[-1]
    assume(whole[0] < 1000)
    half = thermal.course(nodes, current, air, np.linspace(0, 150, 2), (air, air))[-1]
    rest = thermal.course(nodes, current, air, np.linspace(0, 150, 2), (float(half[0]), float(half[1])))[-1]
    assert rest == pytest.approx(whole, rel=1e-9)


@settings(max_examples=60)
@given(NODES, st.floats(0.5, 20.0), st.floats(0, 40))
def test_a_larger_stall_current_is_never_survived_for_longer(
    nodes: thermal.TwoNodes, current: float, air: float
) -> None:
    short = thermal.seconds_to(nodes, current * 1.5, air, (air, air), 120.0)
    long = thermal.seconds_to(nodes, current, air, (air, air), 120.0)
    if long is not None:
        assert short is not None
        assert short <= long * (1 + 1e-6)


@given(st.lists(st.tuples(st.floats(0, 20), st.floats(0.01, 100)), min_size=1, max_size=8), st.floats(0.1, 1000))
def test_heat_counts_between_the_mean_and_the_peak(parts: list[tuple[float, float]], tau: float) -> None:
    currents, times = [p[0] for p in parts], [p[1] for p in parts]
    rms = load_rules.rms_of_parts.evaluate([currents, times])
    heat = heating_current.function(currents, times, 0.0, tau, tau)
    assert rms * (1 - 1e-9) <= heat <= max(currents) * (1 + 1e-9) + 1e-12


@given(st.lists(st.tuples(st.floats(0.1, 20), st.floats(0.1, 10)), min_size=1, max_size=6))
def test_a_slow_winding_feels_only_the_mean(parts: list[tuple[float, float]]) -> None:
    currents, times = [p[0] for p in parts], [p[1] for p in parts]
    slow = heating_current.function(currents, times, 0.0, 1e6, 1e6)
    fast = heating_current.function(currents, times, 0.0, 1e-3, 1e-3)
    assert slow == pytest.approx(load_rules.rms_of_parts.evaluate([currents, times]), rel=1e-3)
    assert fast == pytest.approx(max(currents), rel=1e-9)


HEAVIER = {
    "turntable": ("friction_torque", "0.35 N·m", "0.5 N·m"),
    "wheels": ("mass", "6 kg", "9 kg"),
    "winch": ("mass", "2 kg", "3 kg"),
    "screw": ("force", "150 N", "220 N"),
    "rack": ("mass", "3 kg", "5 kg"),
    "lever": ("mass", "1.2 kg", "2 kg"),
    "fan": ("torque", "0.2 N·m", "0.3 N·m"),
    "direct": ("friction_torque", "0.4 N·m", "0.6 N·m"),
}


def loaded(kind: str, **texts: str) -> Any:
    build = lantern_carousel()
    build.drives[0].load.mechanisms = [mechanism(kind)]
    for name, text in texts.items():
        getattr(build.drives[0].load.mechanisms[0], name).text = text
    return assess(build).drives["d1"].load


@pytest.mark.parametrize("kind", sorted(MECHANISMS))
def test_more_to_move_never_asks_for_less(kind: str) -> None:
    name, light, heavy = HEAVIER[kind]
    less, more = loaded(kind, **{name: light}), loaded(kind, **{name: heavy})
    assert more.torque.value > less.torque.value
    assert more.working_current.value > less.working_current.value
    assert more.starting_current.value > less.starting_current.value
    assert more.power.value > less.power.value


@pytest.mark.parametrize("kind", sorted(MECHANISMS))
def test_a_finer_gear_needs_less_torque_and_more_speed(kind: str) -> None:
    build = lantern_carousel()
    build.drives[0].load.mechanisms = [mechanism(kind)]
    coarse, fine = (assess(changed(build, **{D + "load__gear_ratio": n})).drives["d1"].load for n in ("50", "100"))
    assert fine.motor_torque.value == pytest.approx(coarse.motor_torque.value / 2)
    assert fine.motor_speed.value == pytest.approx(coarse.motor_speed.value * 2)


@given(st.floats(-3.1, 3.1), st.floats(-3.1, 3.1))
def test_the_flaps_arm_over_its_sweep_against_sampling(start: float, end: float) -> None:
    angles = np.linspace(start, end, 20001)
    assert load_rules.largest_cosine.evaluate([start, end]) == pytest.approx(
        max(float(np.max(np.cos(angles))), 0.0), abs=1e-6
    )
    mean = math.sqrt(float(np.mean(np.cos(angles) ** 2)))
    assert load_rules.mean_cosine.evaluate([start, end]) == pytest.approx(mean, abs=1e-3)


@given(st.floats(1, 5000), st.floats(2e-3, 0.1), st.floats(5e-4, 0.02), st.floats(0.02, 0.4))
def test_a_screw_gives_out_no_more_than_goes_in(force: float, d: float, lead: float, mu: float) -> None:
    assume(math.pi * d > 3 * mu * lead)
    up = load_rules.screw_raise.evaluate([force, d, lead, mu])
    down = load_rules.screw_lower.evaluate([force, d, lead, mu])
    efficiency = load_rules.screw_efficiency.evaluate([force, lead, up])
    assert 0 < efficiency < 1
    assert -up < down < up
    if efficiency > 0.5:
        assert down < 1e-9 * up, "a screw of more than half efficiency does not hold itself"
