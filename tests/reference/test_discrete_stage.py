"""A discrete stage against the trade's figures, integrated waveforms and independent solvers."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import quad, solve_ivp
from scipy.optimize import brentq

from tests.kit import leaf, staged
from zinc_whistle.core.algebra.evaluators import plain
from zinc_whistle.core.assess import assess
from zinc_whistle.core.cases import arrange
from zinc_whistle.core.cases.arrange import Gate
from zinc_whistle.core.laws import stage as stage_rules
from zinc_whistle.core.laws import switch as switch_rules
from zinc_whistle.core.laws import wiring as wire_rules
from zinc_whistle.core.sums import SUMS, work_out
from zinc_whistle.demo.data import cider_stirrer, lantern_carousel, sample_parts


def test_the_headline_of_202_amperes_carries_15_6() -> None:
    """Common practice, no source: 40 V, 4 mΩ, 62 K/W, 175 °C, factor 2.07, 50 °C, no heat sink: 15.6 A; with the
    resistance linear in temperature it runs away at 23.8 A."""
    build = staged(lantern_carousel(), "low side", switch="m-n40-4")
    build.ambient.hot.text = "50 °C"
    built = assess(build, sample_parts()).drives["d1"].discrete
    assert built is not None and built.spec.switch is not None
    assert built.spec.switch.headline_a.value == 202
    extras = {x.title: x.value for x in built.extras}
    assert extras["One transistor alone, free in the air"] == pytest.approx(15.6, abs=0.05)
    assert extras["One transistor alone runs away above"] == pytest.approx(23.8, abs=0.05)


@pytest.mark.parametrize("gates", [1, 3])
@pytest.mark.parametrize(("volts", "amps"), [(24.0, 10.0), (42.0, 6.0)])
def test_switching_time_and_loss_against_an_integrated_gate(gates: int, volts: float, amps: float) -> None:
    """The gate as a circuit, integrated: the plateau holds while its charge is moved through all resistances, the drain
    falls and the current rises in that time. The energy is the integral of v·i over both edges."""
    drive_v, plateau, charge, r_drv, r_ext, r_int = 12.0, 5.0, 24e-9, 4.0, 10.0, 1.5
    gate = Gate(
        charge, charge / 2, 3 * charge, plateau, r_int, drive_v, r_ext, r_ext, r_drv, r_drv, 1e3, 1e3, float(gates)
    )
    times = arrange.gate_times(plain, gate)

    def moved(current: float) -> float:
        """Time until the integral of the gate's own current reaches the charge (the driver carries n of them)."""
        hit = lambda t, q: q[0] - charge  # noqa: E731
        hit.terminal = True
        done = solve_ivp(lambda t, q: [current], (0, 1), [0.0], events=hit, rtol=1e-10, atol=1e-18)
        return float(done.t_events[0][0])

    # n gates draw n times the current through the driver: V = n·i·R_drv + i·(R_ext + R_int).
    on = brentq(lambda i: drive_v - plateau - gates * i * r_drv - i * (r_ext + r_int), 0, 10)
    off = brentq(lambda i: plateau - gates * i * r_drv - i * (r_ext + r_int), 0, 10)
    assert times.on_s == pytest.approx(moved(on), rel=1e-9)
    assert times.off_s == pytest.approx(moved(off), rel=1e-9)

    def edge(length: float) -> float:
        """Inductive load: the current rises first at full volts, then the volts fall at full current."""
        half = length / 2
        rising = quad(lambda t: volts * amps * t / half, 0, half)[0]
        falling = quad(lambda t: amps * volts * (1 - t / half), 0, half)[0]
        return rising + falling

    frequency = 20e3
    wanted = (edge(times.on_s) + edge(times.off_s)) * frequency
    assert plain(switch_rules.switching_loss, volts, amps, times.on_s, times.off_s, frequency) == pytest.approx(wanted)


@settings(max_examples=60)
@given(
    st.floats(1, 40),
    st.floats(0.5e-3, 60e-3),
    st.floats(1.0, 2.6),
    st.floats(0.5, 70),
    st.floats(-10, 80),
    st.floats(0, 5),
)
def test_the_junctions_fixed_point_against_a_bracketed_root(
    current: float, ohms: float, factor: float, way: float, air: float, apart: float
) -> None:
    limit = 175.0

    def gap(t: float) -> float:
        return air + way * (current**2 * ohms * (1 + (factor - 1) * (t - 25) / (limit - 25)) + apart) - t

    gain = way * current**2 * ohms * (factor - 1) / (limit - 25)
    found = plain(switch_rules.junction, air, way, current, ohms, factor, limit, apart)
    names = [
        leaf(v, k)
        for v, k in (
            (air, "temperature"),
            (way, "thermal resistance"),
            (current, "current"),
            (ohms, "resistance"),
            (factor, "ratio"),
            (limit, "temperature"),
            (apart, "power"),
        )
    ]
    figure = switch_rules.junction(*names)
    if gain >= 1:
        assert math.isinf(found)
        assert "runs away" in figure.reason
        return
    root = brentq(gap, -1e3, (1e4 + abs(gap(0))) / (1 - gain) + 1e4, xtol=1e-9, rtol=1e-14)
    assert float(found) == pytest.approx(root, rel=1e-9, abs=1e-6)
    assert figure.value == pytest.approx(root, rel=1e-9, abs=1e-6)


def test_the_busiest_of_three_against_the_node_solved() -> None:
    """Three resistances across one drop, one at the low end of ±20 %: Kirchhoff's current law, solved as a system."""
    ohms = np.array([0.8, 1.2, 1.2])
    system = np.array([[ohms[0], -ohms[1], 0.0], [0.0, ohms[1], -ohms[2]], [1.0, 1.0, 1.0]])
    currents = np.linalg.solve(system, [0.0, 0.0, 30.0])
    share = plain(stage_rules.busiest_share, 3.0, 0.2)
    assert plain(stage_rules.busiest_current, 30.0, share) == pytest.approx(currents[0])


def test_ringing_is_bounded_by_the_undamped_circuit() -> None:
    """The loop's inductance swings its energy into the output capacitance: the undamped L-C circuit, integrated."""
    bus, loop, amps, farads = 24.0, 25e-9, 10.0, 500e-12
    done = solve_ivp(
        lambda t, y: [-(y[1] - bus) / loop, y[0] / farads],
        (0, 4 * math.pi * math.sqrt(loop * farads)),
        [amps, bus],
        rtol=1e-9,
        atol=1e-12,
        max_step=1e-10,
    )
    assert plain(stage_rules.ringing, bus, loop, amps, farads, 1e-12) == pytest.approx(done.y[1].max(), rel=1e-4)
    slow = plain(stage_rules.ringing, bus, loop, amps, farads, 100e-9)
    assert slow == pytest.approx(bus + loop * amps / 100e-9), "a slow edge: L dI/dt"


def test_how_long_a_jam_is_borne_against_an_integrated_junction() -> None:
    capacity, start, limit, amps, ohms, factor = 0.8, 70.0, 175.0, 40.0, 8e-3, 1.9
    reached = lambda t, y: y[0] - limit  # noqa: E731
    reached.terminal = True
    done = solve_ivp(lambda t, y: [amps**2 * ohms * factor / capacity], (0, 60), [start], events=reached)
    bears = plain(stage_rules.overload_time, capacity, limit, start, amps, ohms, factor)
    assert bears == pytest.approx(done.t_events[0][0], rel=1e-9)
    rising = lambda t, y: [amps**2 * ohms * (1 + (factor - 1) * (y[0] - 25) / (limit - 25)) / capacity]  # noqa: E731
    real = solve_ivp(rising, (0, 60), [start], events=reached, rtol=1e-9)
    assert bears < real.t_events[0][0], "hot from the start is the cautious side"


def test_what_a_follower_gives_and_burns() -> None:
    """Common practice, no source: a motor on the source gets the gate's volts less the gate-source voltage."""
    got = plain(stage_rules.follower_volts, 5.0, 3.0)
    assert got == 2.0
    assert plain(stage_rules.follower_heat, 12.0, got, 2.0) == 20.0


def test_the_sum_of_a_follower_by_hand() -> None:
    """10 V on the gate, 3 V to the source: 7 V; less 2 A in 1 Ω over 10 mV·s: 500 rad/s = 4,775 rpm; 5 V × 2 A burn."""
    asked = {
        "supply_v": "12",
        "drive_v": "10",
        "drop_v": "3",
        "resistance_ohm": "1",
        "ke_v_s_per_rad": "0.01",
        "current_a": "2",
    }
    found = {k: f.value for k, f in work_out(SUMS["follower"], asked).results.items()}
    assert found["motor_v"] == pytest.approx(7.0) and found["heat_w"] == pytest.approx(10.0)
    assert found["speed_rpm"] == pytest.approx(4774.6, rel=1e-4)


def test_a_track_turned_over_gives_its_rise_back() -> None:
    """IPC-2221 (from memory): 10 A, 10 K, 1 oz outside need 283 mil; so 283 mil warm by 10 K."""
    track = wire_rules.TRACK["outer"]
    area = plain(wire_rules.track_area, 10.0, track, 10.0)
    assert plain(wire_rules.track_width, area, 35e-6) / 0.0254e-3 == pytest.approx(283, abs=2)
    assert plain(wire_rules.track_warms, 10.0, track, area) == pytest.approx(10.0, rel=1e-9)
    assert plain(wire_rules.track_warms, 10.0, track, 2 * area) < 10.0


def test_a_capacitors_life_doubles_every_ten_kelvin() -> None:
    """Common practice, no source: half the life for 10 K more."""
    hours = 3600.0
    at_limit = plain(stage_rules.capacitor_life, 2000 * hours, 105.0, 105.0)
    assert at_limit == pytest.approx(2000 * hours)
    assert plain(stage_rules.capacitor_life, 2000 * hours, 105.0, 85.0) == pytest.approx(8000 * hours)


def test_a_diodes_mean_against_the_chopped_current() -> None:
    """Motor current 5 A, duty 30 %: the mean over many periods of what the diode carries."""
    phase = np.linspace(0, 50, 500_000, endpoint=False) % 1.0
    carried = np.where(phase < 0.3, 0.0, 5.0)
    assert plain(stage_rules.diode_mean, 5.0, plain(stage_rules.rest_of, 0.3)) == pytest.approx(
        carried.mean(), rel=1e-3
    )


def test_a_bootstrap_droops_by_what_it_is_asked() -> None:
    """Charge balance, integrated: the gate's charge at once, then the driver's current for the whole on-time."""
    charge, leak, on, droop = 110e-9 * 3, 100e-6, 0.78 / 20e3, 0.5
    needed = plain(switch_rules.bootstrap_capacitor, plain(switch_rules.bootstrap_charge, charge, leak, on), droop)
    volts = 11.2 - charge / needed
    done = solve_ivp(lambda t, v: [-leak / needed], (0, on), [volts], rtol=1e-10)
    assert 11.2 - done.y[0][-1] == pytest.approx(droop, rel=1e-9)


def test_the_stirrers_heat_adds_up_by_hand() -> None:
    """The demo's half bridge of three: every share of the upper place, worked by hand from the parts' figures."""
    drive = assess(cider_stirrer(), sample_parts()).drives["d1"]
    built = drive.discrete
    current, duty = built.around.current.value, built.duty.value
    own = current * 1.15 / (1.15 + 2 * 0.85)
    place = built.places[0]
    t_on = 45e-9 / min((12 - 5.4) / (3 * 8 + 10 + 1.5), 1 / 3)
    t_off = 45e-9 / min(5.4 / (3 * 5 + 10 + 1.5), 1.2 / 3)
    switching = 42 * own * (t_on + t_off) * 20e3 / 2
    apart = switching + 120e-9 * 42 * 20e3 + 480e-12 * 42**2 * 20e3 / 2
    square, slope = own**2 * duty * 11e-3, 1.1 / 150
    junction = (45 + 62 * (square * (1 - 25 * slope) + apart)) / (1 - 62 * square * slope)
    assert place.switching.value == pytest.approx(switching, rel=1e-3)
    assert place.junction.value == pytest.approx(junction, rel=1e-3)
