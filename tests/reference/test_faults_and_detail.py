"""Runs with faults, with loads that change, in single cycles and as files: against closed forms and integration."""

from __future__ import annotations

import io
import math
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from scipy.integrate import solve_ivp
from scipy.interpolate import CubicHermiteSpline
from scipy.optimize import brentq
from vcd.reader import TokenKind, tokenize

from tests.kit import worked
from zinc_whistle.core.assess import MotorAssessment
from zinc_whistle.core.captures.quadrature import Changes, analyse
from zinc_whistle.core.captures.vcd import read_vcd, together
from zinc_whistle.core.model.build import Build, MotorDrive
from zinc_whistle.core.model.load import Fan, Lever
from zinc_whistle.core.simulation.digital import lines_of
from zinc_whistle.core.simulation.engine import CUT_OFF, Engine, Phase
from zinc_whistle.core.simulation.faults import FAULTS, SHOOT_S, SLIP_SHARE, put_in
from zinc_whistle.core.simulation.files import to_csv, to_vcd
from zinc_whistle.core.simulation.plant import BUS, OMEGA, THETA, I, Plant
from zinc_whistle.core.simulation.scenario import SCENARIOS, bare_plant, drive_of, simulate
from zinc_whistle.core.simulation.torque import WITHIN, LoadTorque, load_torque, run_held
from zinc_whistle.core.simulation.zoom import zoom
from zinc_whistle.demo.data import cider_stirrer, lantern_carousel, puppet_stage

PLANT = Plant(
    resistance_ohm=1.2,
    inductance_h=0.8e-3,
    constant=0.03,
    inertia=2e-5,
    coulomb_nm=0.01,
    viscous=0.0,
    load_nm=0.0,
    stiction_nm=0.01,
    source_v=12.0,
    source_ohm=0.05,
    bus_f=1e-3,
    sinks=True,
)


def drive(build: Build) -> MotorAssessment:
    found = worked(build)
    assert isinstance(found, MotorAssessment)
    return found


def run(build: Build, scenario: str, **more: Any) -> Any:
    done = drive(build)
    return simulate(done.context, done.circuit, scenario, **more)  # type: ignore[arg-type]


def test_an_open_diode_tears_the_current_and_half_l_i_squared_goes_into_the_switch() -> None:
    # Energy of an inductance, ½ L I² (any handbook): each turn-off leaves it in the switch.
    made = put_in("open diode", PLANT, [Phase(5, 50e-6, 0.5, "forward", "wheel")], None)
    done = Engine(made.plant).run(made.schedule)
    torn = [t for t, words in done.events if words == CUT_OFF]
    assert len(torn) == 5
    times, states = done.arrays()
    for at in torn:
        here = np.flatnonzero(times == at)
        assert states[here[0], I] > 0 and states[here[-1], I] == 0
    peak = states[np.flatnonzero(times == torn[0])[0], I]
    assert peak == pytest.approx(12.0 / 1.2 * (1 - math.exp(-1.2 * 25e-6 / 0.8e-3)), rel=2e-3)
    winch = run(puppet_stage(), "coast", fault="open diode", averaged=True)
    inductance = drive(puppet_stage()).motor.inductance.value
    assert inductance
    assert winch.measured.torn_most_j == pytest.approx(inductance / 2 * float(winch.current_high[0]) ** 2, rel=0.02)
    assert winch.measured.torn_j == winch.measured.torn_most_j, "it is torn once, when the pulses end"


def test_a_bridge_in_slow_decay_needs_no_diode() -> None:
    with pytest.raises(ValueError, match="no diode"):
        run(lantern_carousel(), "start", fault="open diode")


def test_shoot_through_takes_v_squared_over_r_for_its_time_at_each_edge() -> None:
    # Ohm's law: while both switches are on, the bus gives V²/R.
    # A winding of 100 kΩ keeps the motor's own share, which a shorter pulse makes smaller, out of it.
    stiff = replace(PLANT, bus_f=1.0, source_ohm=1e-4, leg_ohm=0.1, resistance_ohm=1e5)
    phase = Phase(200, 50e-6, 0.5, "forward", "short")
    held = replace(stiff, stiction_nm=1e6)
    made = put_in("shoot-through", held, [phase], None)
    lost = []
    for schedule in ([phase], made.schedule):
        times, states = Engine(held).run(schedule).arrays()
        flow = (held.source_v - states[:, BUS]) / held.source_ohm
        lost.append(
            float(np.trapezoid(flow, times)) * held.source_v + 0.5 * held.bus_f * (12.0**2 - states[-1, BUS] ** 2)
        )
    assert lost[1] - lost[0] == pytest.approx(200 * 2 * SHOOT_S * 12.0**2 / 0.1, rel=0.02)


def test_swapped_wires_are_the_mirror_of_the_run() -> None:
    right, wrong = (run(lantern_carousel(), "start at once", fault=f) for f in ("none", "swapped wires"))
    assert wrong.measured.last_speed == pytest.approx(-right.measured.last_speed, rel=1e-9)
    assert wrong.measured.peak_a == pytest.approx(right.measured.peak_a, rel=1e-9)


def test_without_a_common_ground_nothing_moves() -> None:
    still = run(lantern_carousel(), "start", fault="missing ground")
    assert (still.measured.peak_a, still.measured.last_speed) == (0.0, 0.0)
    assert "signal wire" in " ".join(still.notes)


def test_a_stuck_gate_gives_full_duty_whatever_is_asked() -> None:
    stuck, full = (
        run(lantern_carousel(), "start", fault="stuck gate"),
        run(lantern_carousel(), "start at once", duty=1.0),
    )
    assert stuck.measured.peak_a == pytest.approx(full.measured.peak_a, rel=0.02)
    braked = run(puppet_stage(), "coast", fault="stuck gate")
    assert braked.measured.last_speed > 0.9 * float(braked.speed[0]), "it does not stop"


def test_a_slipping_coupling_lets_the_rotor_run_up_alone() -> None:
    done = drive(lantern_carousel())
    rotor = done.motor.rotor_inertia.value
    assert rotor
    slipping = simulate(done.context, done.circuit, "start at once", True, "slipping coupling")
    plant = bare_plant(done.context, done.circuit)[0]
    carried = SLIP_SHARE * (plant.coulomb_nm + plant.load_nm)
    duty = done.circuit.duty_nominal.value
    assert duty
    # Steady state of v = R i + Ke ω + drops with Kt i = carried torque (domain's own motor equations, solved for ω).
    current = carried / plant.constant
    source = plant.source_v - plant.source_ohm * duty * current
    ohms = plant.resistance_ohm
    speed = (duty * source - ohms * current - plant.fixed_drop_v) / plant.constant
    assert slipping.measured.last_speed == pytest.approx(speed, rel=0.02)
    assert (
        slipping.measured.time_to_speed_s
        < 0.5 * run(lantern_carousel(), "start at once", averaged=True).measured.time_to_speed_s
    )


def fanned() -> Build:
    build = lantern_carousel()
    spec = build.drives[0]
    assert isinstance(spec, MotorDrive)
    spec.load.mechanisms = [Fan(id="m1")]
    fan = spec.load.mechanisms[0]
    assert isinstance(fan, Fan)
    for name, text in (
        ("torque", "0.02 N·m"),
        ("at_speed", "2000 rpm"),
        ("speed", "2000 rpm"),
        ("inertia", "0.00002 kg·m²"),
    ):
        getattr(fan, name).text = text
    spec.load.gear_ratio.text, spec.load.gear_efficiency.text = "1", "100 %"
    return build


def test_a_fan_settles_where_torque_and_square_law_meet() -> None:
    done = drive(fanned())
    torque = load_torque(done.context)
    assert torque.square > 0
    ran = simulate(done.context, done.circuit, "start at once", True, duty=0.6)
    plant = bare_plant(done.context, done.circuit)[0]

    def short_of(speed: float) -> float:
        current = (plant.coulomb_nm + plant.viscous * speed + torque.square * speed**2) / plant.constant
        bus = plant.source_v - plant.source_ohm * 0.6 * current
        return 0.6 * bus - plant.resistance_ohm * current - plant.fixed_drop_v - plant.constant * speed

    steady = brentq(short_of, 0.0, 2000.0)
    assert ran.measured.last_speed == pytest.approx(steady, rel=0.01)
    assert any("halving" in n for n in ran.notes)


def test_a_held_torque_agrees_with_integration_and_its_error_is_as_told() -> None:
    torque = LoadTorque(0.0, 0.0, square=2e-7)
    plant = replace(PLANT, bus_f=1.0, source_ohm=1e-4)
    phases = [Phase(1, 0.4, 0.7, "forward", "short", averaged=True)]
    ran, change = run_held(plant, torque, phases, Engine(plant).rest(), 10_000)
    assert change <= WITHIN

    def rate(_: float, y: np.ndarray) -> list[float]:
        i, w = y
        rub = plant.coulomb_nm + torque.square * w**2
        turning = plant.constant * i - rub if w > 0 or plant.constant * i > rub else 0.0
        return [
            (0.7 * 12.0 - plant.resistance_ohm * i - plant.constant * w) / plant.inductance_h,
            turning / plant.inertia,
        ]

    known = solve_ivp(rate, (0, 0.4), [0.0, 0.0], method="DOP853", rtol=1e-9, atol=1e-9, max_step=1e-3)
    times, states = ran.arrays()
    at = np.searchsorted(times, [0.05, 0.1, 0.2, 0.4]) - 1
    exact = np.interp(times[at], known.t, known.y[1])
    assert np.abs(states[at, OMEGA] - exact).max() < 2 * WITHIN * exact.max()


def test_a_weight_on_a_lever_keeps_its_energy() -> None:
    # A pendulum without friction: ½ J ω² + T₀ sin θ stays (mechanics).
    plant = replace(PLANT, coulomb_nm=0.0, stiction_nm=0.0, inertia=1e-4)
    torque = LoadTorque(0.0, 0.0, lever=0.02)
    x = Engine(plant).rest()
    x[THETA] = 0.3
    ran, change = run_held(plant, torque, [Phase(1, 0.25, 1.0, "cut", "cut")], x, 1000)
    times, states = ran.arrays()
    energy = 0.5 * plant.inertia * states[:, OMEGA] ** 2 + 0.02 * np.sin(states[:, THETA])
    assert np.ptp(energy) < 0.02 * np.ptp(0.02 * np.sin(states[:, THETA]))
    assert change < 0.01 and len(times) > 40


def test_a_lever_of_a_build_pulls_with_its_angle() -> None:
    build = lantern_carousel()
    spec = build.drives[0]
    assert isinstance(spec, MotorDrive)
    spec.load.mechanisms = [Lever(id="m1")]
    lever = spec.load.mechanisms[0]
    for name, text in (
        ("mass", "2 kg"),
        ("length", "0.3 m"),
        ("centre", "0.15 m"),
        ("end", "80 °"),
        ("speed", "4 rpm"),
    ):
        getattr(lever, name).text = text
    done = drive(build)
    torque = load_torque(done.context)
    assert torque.lever > 0
    plant = bare_plant(done.context, done.circuit)[0]
    level, up = (
        torque.on(plant, np.array([0, 0, a * torque.lever_ratio, 12, 1.0])).load_nm for a in (0.0, math.pi / 3)
    )
    assert up - torque.pull == pytest.approx((level - torque.pull) / 2, rel=1e-6), "cos 60° is a half"


def test_a_weight_on_the_winch_pulls_back_and_runs_away_when_let_go() -> None:
    done = drive(puppet_stage())
    torque = load_torque(done.context)
    whole, back = done.load.motor_torque.value, done.load.back_torque
    assert whole and back is not None and back.value
    assert torque.pull + torque.rub == pytest.approx(whole)
    assert torque.pull - torque.rub == pytest.approx(back.value)
    coasting = run(puppet_stage(), "coast")
    assert coasting.measured.last_speed <= 0.0 or back.value < (done.motor.friction_torque.value or 0.0)


def test_feeding_back_lifts_a_bus_that_cannot_sink_but_never_past_its_energy() -> None:
    build = lantern_carousel()
    build.supply.sources[0].sinks = "no"
    ran = run(build, "regenerate", averaged=True)
    done = drive(build)
    plant = bare_plant(done.context, done.circuit)[0]
    start = float(ran.speed[0])
    energy = 0.5 * plant.inertia * start**2
    bound = math.sqrt(plant.source_v**2 + 2 * energy / plant.bus_f)
    assert plant.source_v + 0.05 < ran.measured.bus_high_v <= bound
    build.supply.sources[0].sinks = "yes"
    assert run(build, "regenerate", averaged=True).measured.bus_high_v < ran.measured.bus_high_v


def test_a_flat_supply_sags_further_and_a_held_shaft_draws_the_stall_current() -> None:
    fresh, flat = (
        run(cider_stirrer(), "start at once", averaged=True, duty=1.0),
        run(cider_stirrer(), "sag", averaged=True),
    )
    assert flat.measured.bus_low_v < fresh.measured.bus_low_v
    stalled = run(lantern_carousel(), "stall", averaged=True, duty=1.0)
    assert stalled.measured.last_speed == 0.0
    done = drive(lantern_carousel())
    plant = bare_plant(done.context, done.circuit)[0]
    ohms = plant.resistance_ohm + plant.source_ohm
    assert stalled.measured.peak_a == pytest.approx((plant.source_v - plant.fixed_drop_v) / ohms, rel=0.02)


def test_after_a_jam_it_runs_up_again() -> None:
    ran = run(lantern_carousel(), "jam and release", averaged=True)
    assert [w for _, w in ran.events if "jam" in w or "free" in w] == ["it jams", "it is free again"]
    assert ran.measured.last_speed > 0.8 * float(ran.speed[0])
    assert float(ran.speed.min()) == 0.0


@pytest.mark.parametrize("averaged", [True, False])
def test_zoomed_cycles_show_the_ripple_of_the_formula(averaged: bool) -> None:
    done = drive(lantern_carousel())
    ran = simulate(done.context, done.circuit, "start at once", averaged)
    pulses = drive_of(done.context, done.circuit, averaged)
    end = float(ran.run.last[0])
    seen = zoom(ran, pulses, 0.9 * end)
    plant, duty = ran.legs[-1].plant, pulses.duty
    tau, period = plant.inductance_h / plant.resistance_ohm, pulses.period_s
    bus = float(np.mean(seen.bus))
    # Steady ripple of an R-L circuit under PWM (domain section 6), with the drops that stand in the way left out.
    ripple = (
        bus
        / plant.resistance_ohm
        * (1 - math.exp(-duty * period / tau))
        * (1 - math.exp(-(1 - duty) * period / tau))
        / (1 - math.exp(-period / tau))
    )
    assert max(seen.current) - min(seen.current) == pytest.approx(ripple, rel=0.02)
    assert seen.time_s[-1] - seen.time_s[0] == pytest.approx(6 * period)
    assert {"forward", "short"} <= set(seen.path)


def test_zooming_into_a_switched_run_finds_the_runs_own_states() -> None:
    done = drive(lantern_carousel())
    ran = simulate(done.context, done.circuit, "start at once", False)
    pulses = drive_of(done.context, done.circuit, False)
    seen = zoom(ran, pulses, 0.01)
    times, states = ran.run.arrays()
    zoomed = np.array(seen.time_s)
    start = math.floor(0.01 / pulses.period_s + 1e-9) * pulses.period_s
    for k in (20, 40, 60, 80, 100):
        at = zoomed[k] - 0.01 + start + pulses.period_s
        near = int(np.argmin(np.abs(times - at)))
        assert abs(times[near] - at) < 1e-9
        assert seen.current[k] == pytest.approx(states[near, I], rel=1e-9)


def test_a_zoom_outside_the_run_is_refused() -> None:
    done = drive(lantern_carousel())
    ran = simulate(done.context, done.circuit, "start", True)
    with pytest.raises(ValueError, match="lasts from 0"):
        zoom(ran, drive_of(done.context, done.circuit, True), 99.0)


def test_the_dump_reads_back_as_what_the_csv_holds() -> None:
    ran = run(lantern_carousel(), "start at once", averaged=True).run
    table = np.genfromtxt(io.StringIO(to_csv(ran)), delimiter=",", skip_header=1)
    names: dict[str, str] = {}
    found: dict[str, list[tuple[int, float]]] = {}
    now = 0
    for token in tokenize(io.BytesIO(to_vcd(ran).encode())):
        if token.kind is TokenKind.VAR:
            names[token.var.id_code] = token.var.reference
            found[token.var.reference] = []
        elif token.kind is TokenKind.CHANGE_TIME:
            now = token.time_change
        elif token.kind is TokenKind.CHANGE_REAL:
            found[names[token.real_change.id_code]].append((now, token.real_change.value))
    current = np.array(found["current_a"])
    # In the units of the screen: the last speed is the one that is told beside the plot.
    last = float(ran.arrays()[1][-1, OMEGA]) * 30 / math.pi
    assert table[-1, 2] == pytest.approx(last, rel=1e-5) and found["speed_rpm"][-1][1] == pytest.approx(last, rel=1e-5)
    # The CSV prints nine figures of the time.
    assert current[-1, 0] == pytest.approx(table[-1, 0] * 1e9, rel=1e-8)
    assert current[:, 1].max() == pytest.approx(table[:, 1].max(), rel=1e-5)
    assert np.interp(0.02e9, current[:, 0], current[:, 1]) == pytest.approx(
        np.interp(0.02, table[:, 0], table[:, 1]), rel=1e-3
    )


def dumped(text: str) -> dict[str, list[tuple[float, str]]]:
    """The single-bit lines of a dump, as pyvcd's own reader sees them: times (s) and values."""
    names: dict[str, str] = {}
    found: dict[str, list[tuple[float, str]]] = {}
    now = 0.0
    for token in tokenize(io.BytesIO(text.encode())):
        if token.kind is TokenKind.VAR and token.var.type_.value == "wire":
            names[token.var.id_code] = token.var.reference
            found[token.var.reference] = []
        elif token.kind is TokenKind.CHANGE_TIME:
            now = token.time_change * 1e-9
        elif token.kind is TokenKind.CHANGE_SCALAR:
            found[names[token.scalar_change.id_code]].append((now, token.scalar_change.value))
    return found


def test_the_pulses_of_a_dump_have_the_frequency_and_duty_that_the_run_had() -> None:
    done = drive(lantern_carousel())
    ran = simulate(done.context, done.circuit, "start at once", False)
    lines = dumped(to_vcd(ran.run, lines_of(ran, done.encoder.cycles_per_motor_turn)))
    assert {"forward", "encoder_a", "encoder_b"} <= set(lines)
    period, duty = drive_of(done.context, done.circuit, False).period_s, ran.legs[-1].phase.duty
    rises = np.array([t for t, v in lines["forward"] if v == "1"])
    falls = np.array([t for t, v in lines["forward"] if v == "0"])
    late, gone = rises[rises > 0.1][:200], falls[falls > 0.1][:201]
    assert np.diff(late) == pytest.approx(period, abs=2e-9)
    assert duty < 1
    high = [float(gone[gone > t][0]) - t for t in late]
    assert high == pytest.approx([duty * period] * len(high), abs=2e-9)
    # Never two things at once: what it is told between the pulses begins where the pulse ends.
    other = next(n for n in lines if n not in ("forward", "encoder_a", "encoder_b"))
    begins = {round(t * 1e9) for t, v in lines[other] if v == "1"}
    assert {round(t * 1e9) for t in gone} <= begins


def test_an_averaged_stretch_tells_no_pulse() -> None:
    done = drive(lantern_carousel())
    ran = simulate(done.context, done.circuit, "start at once", True)
    told = dumped(to_vcd(ran.run, lines_of(ran, None)))
    assert set(told) >= {"forward"} and "encoder_a" not in told
    assert {v for _, v in told["forward"]} <= {"x", "0", "1"}
    assert "x" in {v for _, v in told["forward"]}


def test_the_encoders_lines_count_the_angle_that_the_motor_turned() -> None:
    """Decoded by hand from Gray code (00 → 01 → 11 → 10 the one way), against the angle of the run; at each edge
    scipy's spline through the run's angles and speeds is at a quarter of a cycle."""
    done = drive(puppet_stage())
    cycles = done.encoder.cycles_per_motor_turn
    # Twelve teeth on the motor, here and at the carousel, whose calibrated count at the output is 7197 and not 7200.
    assert cycles == drive(lantern_carousel()).encoder.cycles_per_motor_turn == 12
    for scenario in ("start at once", "reverse at once"):
        ran = simulate(done.context, done.circuit, scenario, True)
        times, states = ran.run.arrays()
        lines = {x.name: x for x in lines_of(ran, cycles)}
        a, b = lines["encoder_a"].changes, lines["encoder_b"].changes
        moves = sorted([(t, "a", v) for t, v in a[1:]] + [(t, "b", v) for t, v in b[1:]])
        now, count = {"a": a[0][1], "b": b[0][1]}, 0
        order = [(True, False), (True, True), (False, True), (False, False)]
        for t, name, value in moves:
            before = order.index((bool(now["a"]), bool(now["b"])))
            now[name] = value
            after = order.index((bool(now["a"]), bool(now["b"])))
            step = (after - before) % 4
            assert step in (1, 3), f"both channels at once at {t} s"
            count += 1 if step == 1 else -1
        turned = float(states[-1, THETA] - states[0, THETA]) / math.tau * cycles * 4
        assert count == pytest.approx(turned, abs=1.0)
        some = moves[:: max(len(moves) // 50, 1)]
        _, first = np.unique(times, return_index=True)
        between = CubicHermiteSpline(times[first], states[first, THETA], states[first, OMEGA])
        quarters = between([t for t, _, _ in some]) / math.tau * cycles * 4
        assert np.abs(quarters - np.round(quarters)).max() < 0.02


@pytest.mark.parametrize("make", [lantern_carousel, cider_stirrer, puppet_stage])
def test_every_scenario_with_every_fault_runs_or_says_why_not(make: Any) -> None:
    done = drive(make())
    ran, refused = 0, list[str]()
    plain = [(scenario, "none") for scenario in SCENARIOS]
    for scenario, fault in [*plain, *(("start at once", fault) for fault in FAULTS), ("coast", "open diode")]:
        try:
            meta = simulate(done.context, done.circuit, scenario, True, fault)  # type: ignore[arg-type]
        except ValueError as error:
            refused.append(str(error))
            continue
        ran += 1
        assert np.isfinite(meta.current_high).all() and np.isfinite(meta.speed).all()
        assert meta.measured.peak_a >= meta.measured.rms_a >= 0
    assert ran > 12
    assert all(len(sentence.split()) > 4 for sentence in refused), refused


def test_an_encoder_too_fine_for_a_file_is_not_told() -> None:
    """2729 quarters of 12 cycles are 45 turns of 48: a disc of 100,000 lines has 18 million edges in them."""
    done = drive(lantern_carousel())
    ran = simulate(done.context, done.circuit, "start at once", True)
    told = lines_of(ran, 100_000)
    assert [x.changes for x in told[:2]] == [[(0.0, None)], [(0.0, None)]]
    assert len(lines_of(ran, 1_000)[0].changes) > 50_000


def test_the_encoder_station_reads_the_dump_as_a_capture(tmp_path: Path) -> None:
    """Its first two lines are the channels: no choosing. Counts against the angle of the run, and no illegal step."""
    done = drive(lantern_carousel())
    ran = simulate(done.context, done.circuit, "start at once", False)
    file = tmp_path / "run.vcd"
    file.write_text(to_vcd(ran.run, lines_of(ran, done.encoder.cycles_per_motor_turn)), "utf-8")
    signals, end = read_vcd(file.read_text("utf-8"))
    assert [s.name for s in signals[:2]] == ["encoder_a", "encoder_b"]
    time, a, b = together(*signals[:2])
    found = analyse(Changes(time, (a.astype(np.uint8) << 1) | b, end))
    turned = float(ran.run.arrays()[1][-1, THETA]) / math.tau * 48
    assert found.count == math.floor(turned) and found.illegal == found.back == 0
    assert found.phase_deg == pytest.approx(90, abs=1)
