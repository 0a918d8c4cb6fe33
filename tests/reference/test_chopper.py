"""The chopped current of one switch and a diode against an integration to its periodic orbit, and closed forms.

Worked by hand, and scipy's solve_ivp with events; nothing here uses the laws' own exponentials.
"""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from scipy.integrate import solve_ivp

from zinc_whistle.core.assess import assess
from zinc_whistle.core.cases import chopping
from zinc_whistle.core.laws.chopper import (
    Chopped,
    Chopper,
    chopped,
    chopped_duty,
    chopped_swing,
    form_factor,
    switch_factor,
)
from zinc_whistle.core.model.build import Build
from zinc_whistle.core.model.components import Diode
from zinc_whistle.core.model.transistors import Mosfet
from zinc_whistle.core.simulation.scenario import drive_of, simulate
from zinc_whistle.core.simulation.zoom import zoom
from zinc_whistle.core.sums import SUMS, work_out
from zinc_whistle.demo.data import sample_components, sample_parts

ENDS = (12.0, 5.0, 2.0, 1e-3, 0.3, 500.0, 0.5)
NEVER_ENDS = (12.0, 5.0, 2.0, 1e-3, 0.6, 20e3, 0.5)
"""Volts, EMF, ohms, henries, duty, hertz and the diode's volts: the order of every tuple here."""


def pulsed(V: float, E: float, R: float, L: float, D: float, f: float, V_d: float) -> Chopped:
    return chopped(Chopper(V=V, E=E, R=R, L=L, f=f, V_d=V_d), D)


def stepped(
    V: float, E: float, R: float, L: float, D: float, f: float, V_d: float
) -> tuple[float, float, float, float]:
    """Mean, RMS, peak and conducting share of the last of many periods, by fine trapezoidal steps with a diode."""
    n, period = 4000, 1 / f
    dt, current = period / n, 0.0
    for _ in range(int(min(400, 12 * L / R * f + 3))):
        trace = np.empty(n + 1)
        trace[0] = current
        for k in range(n):
            volts = V - E if (k + 0.5) / n < D else -(E + V_d)
            a = R * dt / (2 * L)
            current = max((current * (1 - a) + volts * dt / L) / (1 + a), 0.0)
            trace[k + 1] = current
    middle = (trace[1:] + trace[:-1]) / 2
    return float(middle.mean()), float(np.sqrt((middle**2).mean())), float(trace.max()), float((middle > 0).mean())


@pytest.mark.parametrize(
    "values",
    [
        ENDS,
        (12.0, 9.0, 2.0, 0.2e-3, 0.8, 400.0, 0.7),
        (24.0, 0.0, 1.0, 2e-3, 0.05, 20e3, 0.5),
        NEVER_ENDS,
        (6.0, 2.0, 8.0, 5e-3, 0.5, 100.0, 0.0),
    ],
    ids=["ends", "ends, fast motor", "at rest", "never ends", "slow and resistive"],
)
def test_against_fine_steps(values: tuple[float, ...]) -> None:
    found, wanted = pulsed(*values), stepped(*values)
    assert (found.mean_a, found.rms_a, found.peak_a) == pytest.approx(wanted[:3], rel=3e-3, abs=1e-5)
    assert found.conducts == pytest.approx(wanted[3], abs=3e-3)


def test_one_period_that_ends_against_an_integration_with_an_event() -> None:
    V, E, R, L, D, f, V_d = ENDS
    on = solve_ivp(lambda t, i: (V - E - R * i) / L, (0, D / f), [0.0], rtol=1e-10, atol=1e-12)
    peak = float(on.y[0, -1])

    def ended(t: float, i: np.ndarray) -> float:
        return float(i[0])

    ended.terminal = True
    off = solve_ivp(lambda t, i: (-E - V_d - R * i) / L, (0, 1), [peak], events=ended, rtol=1e-10, atol=1e-12)
    found = pulsed(*ENDS)
    assert found.peak_a == pytest.approx(peak, rel=1e-7)
    assert found.conducts == pytest.approx(D + float(off.t[-1]) * f, rel=1e-6)


@settings(max_examples=80)
@given(
    st.floats(3, 48),
    st.floats(0, 0.9),
    st.floats(0.2, 20),
    st.floats(5e-5, 1e-2),
    st.floats(0.02, 1.0),
    st.floats(50, 30e3),
    st.floats(0, 1),
)
def test_volt_seconds_balance_and_order(
    V: float, share: float, R: float, L: float, D: float, f: float, V_d: float
) -> None:
    """Over a period the inductance keeps nothing: R · I_mean = D V − s E − (s − D) V_d, with s the conducting share."""
    E = share * V
    assume(V - E > 0.1)
    found = chopped(Chopper(V=V, E=E, R=R, L=L, f=f, V_d=V_d), D)
    balance = (D * V - found.conducts * E - (found.conducts - D) * V_d) / R
    assert found.mean_a == pytest.approx(balance, rel=1e-6, abs=1e-9)
    assert found.mean_a <= found.rms_a * (1 + 1e-9) and found.rms_a <= found.peak_a * (1 + 1e-9)
    assert D - 1e-12 <= found.conducts <= 1 + 1e-12


def test_where_it_never_ends_the_mean_is_the_averaged_models() -> None:
    """(D V − E − (1 − D) V_d) / R: 0.6 · 12 − 5 − 0.4 · 0.5 = 2 V over 2 Ω."""
    assert pulsed(*NEVER_ENDS).mean_a == pytest.approx(1.0, rel=1e-9)


def test_the_quick_sums_say_the_same() -> None:
    got = work_out(SUMS["discontinuous"], {a.key: a.example for a in SUMS["discontinuous"].asks}).results
    found = pulsed(*ENDS)
    assert got["mean_a"].value == pytest.approx(found.mean_a)
    assert got["conducts_share"].value == pytest.approx(100 * found.conducts)
    blade = work_out(SUMS["fuse-time"], {"rating_a": "5", "current_a": "10", "class": "blade"}).results
    assert blade["opens_after_most_s"].value == pytest.approx(5.0), "ISO 8820-3: 2.00 times, 5 s"
    near = work_out(SUMS["fuse-time"], {"rating_a": "5", "current_a": "6", "class": "blade"}).results
    assert near["opens_after_most_s"].value is None
    assert "does not promise" in near["opens_after_most_s"].formula
    dead = work_out(SUMS["dead-time"], {a.key: a.example for a in SUMS["dead-time"].asks}).results
    # 13 Ω · 4 nF · ln(12/5) = 45.5 ns; 15 nC · 13 Ω / 5 V = 39 ns; 13 Ω · 4 nF · ln(5/2) = 47.6 ns.
    assert [dead[k].value for k in ("delay_ns", "off_ns", "dead_ns")] == pytest.approx([45.5, 86.6, 132.2], abs=0.1)


CURRENTS = st.tuples(
    st.floats(5, 40),
    st.floats(0.0, 0.9),
    st.floats(0.5, 10),
    st.floats(2e-5, 5e-3),
    st.floats(0.02, 0.9),
    st.floats(200, 30e3),
    st.floats(0.3, 1.0),
)


@given(CURRENTS)
def test_the_duty_for_a_current_gives_that_current(values: tuple[float, ...]) -> None:
    """Turned round and back; never more than the averaged duty with the diode's drop, and less where it ends."""
    V, share, R, L, part, f, V_d = values
    E = share * V
    wanted = part * (V - E) / R
    duty = chopped_duty.function(V=V, E=E, R=R, L=L, I=wanted, f=f, V_d=V_d, R_s=0.0)
    averaged = (E + wanted * R + V_d) / (V + V_d)
    assert 0 < duty <= averaged * (1 + 1e-9)
    assume(1e-5 < duty < 1)
    found = chopped(Chopper(V=V, E=E, R=R, L=L, f=f, V_d=V_d), duty)
    assert found.mean_a == pytest.approx(wanted, rel=1e-6)
    assert found.conducts == pytest.approx(1.0) or duty < averaged
    many = chopped_duty.on_arrays([np.array([V, V]), E, R, L, wanted, f, V_d, 0.0])
    assert many == pytest.approx([duty, duty], abs=1e-9)


@pytest.mark.parametrize(("hertz", "file"), [("1 kHz", "19"), ("4 kHz", "19"), ("20 kHz", "19"), ("500 Hz", "24")])
def test_a_drive_at_its_duty_runs_at_the_speed_that_was_asked_for(hertz: str, file: str) -> None:
    """Fans on one switch and a diode, their current ending in each period: every pulse simulated, at the duty that the
    checks use, within 1 % of 5,000 rpm (the averaged duty would run them up to twice as fast), the averaged model with
    it; and ripple, mean, RMS and RMS while the switch is on are the run's within 2 % (a fan's torque goes with the
    square of the speed). Everything at 25 °C."""
    (path,) = (Path(__file__).resolve().parents[1] / "verdicts" / "builds").glob(f"{file}-*.json")
    build = Build.model_validate(json.loads(path.read_text("utf-8")))
    motor, unit = build.drives[0].of_motor, build.units[0]
    assert motor is not None
    motor.signals.pwm_frequency.text, motor.motor.winding_hot.text, motor.panel.speed_by = hertz, "25 °C", "fixed"
    build.ambient.cold.text, unit.flyback = "25 °C", "rails"
    if unit.part is not None:
        unit.part.hot_factor.text = "1"
    if unit.made_of == "stage":
        unit.stage.diode = next(c for c in sample_components() if isinstance(c, Diode) and c.id == "d-sch-40-3")
        assert isinstance(unit.stage.switch, Mosfet)
        unit.stage.switch.hot_factor.text = "1"
    drive = assess(build, sample_parts()).drives["d1"].of_motor
    assert drive is not None
    wanted, duty = drive.context.load.motor_speed.value, drive.circuit.duty_nominal
    run = simulate(drive.context, drive.circuit, "start at once", averaged=False)
    smooth = simulate(drive.context, drive.circuit, "start at once", averaged=True).measured.last_speed
    assert run.measured.last_speed == pytest.approx(wanted, rel=0.01)
    assert smooth == pytest.approx(run.measured.last_speed, rel=0.01)
    ripple = chopping.swing(duty)
    assert ripple is not None
    assert run.measured.ripple_a == pytest.approx(ripple.value, rel=0.02)
    plan = drive.context.plan.frequency.value
    assert plan is not None
    seen = zoom(run, drive_of(drive.context, drive.circuit, False), run.time_s[-1] - 20 / plan)
    time, current = np.array(seen.time_s), np.array(seen.current)
    on = np.array(seen.path[1:]) == "forward"
    square, mean = _mean_square(time, current), np.trapezoid(current, time) / (time[-1] - time[0])
    working = drive.load.working_current
    assert mean == pytest.approx(working.value, rel=0.02)
    assert np.sqrt(square.sum() / (time[-1] - time[0])) == pytest.approx(
        chopping.as_it_heats(working, duty).value, rel=0.02
    )
    lasts = np.diff(time)
    assert np.sqrt(square[on].sum() / lasts[on].sum()) == pytest.approx(
        chopping.in_the_switch(working, duty).value, rel=0.02
    )
    if hertz != "20 kHz":  # there the diode's drop, which the averaged duty leaves out, weighs more
        assert (duty.value or 1) < (drive.circuit.averaged_duty.value or 0)


def _mean_square(time: np.ndarray, current: np.ndarray) -> np.ndarray:
    """∫ i² of each piece of a line."""
    a, b = current[:-1], current[1:]
    found: np.ndarray = np.diff(time) * (a * a + a * b + b * b) / 3
    return found


@given(CURRENTS, st.floats(0, 2))
def test_the_factors_are_the_same_for_numbers_and_arrays(values: tuple[float, ...], sag: float) -> None:
    """And lie where they must: an RMS is no less than its mean, nor than its part of the period while on."""
    V, share, R, L, part, f, V_d = values
    E = share * V
    assume(part * (V - E) / R * sag < 0.9 * V)
    duty = chopped_duty.function(V=V, E=E, R=R, L=L, I=part * (V - E) / (R + sag), f=f, V_d=V_d, R_s=sag)
    assume(1e-5 < duty < 1)
    given_ = (V, E, R, L, duty, f, V_d, sag)
    for law in (form_factor, switch_factor, chopped_swing):
        number = law.function(*given_)
        assert law.on_arrays([np.array([V, V]), *given_[1:]]) == pytest.approx([number, number], rel=1e-6, abs=1e-9)
    whole, on = form_factor.function(*given_), switch_factor.function(*given_)
    assert whole >= 1 - 1e-9
    assert on**2 * duty <= whole**2 * (1 + 1e-9)
