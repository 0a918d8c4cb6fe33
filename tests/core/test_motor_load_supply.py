"""Motor, load and supply in full: every way in, every mechanism, the whole supply."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.kit import changed, finding, worked
from zinc_whistle.core.algebra.quantities import notation
from zinc_whistle.core.assess import Assessment, assess
from zinc_whistle.core.cases.motor_sheet import solve
from zinc_whistle.core.design import gears as search
from zinc_whistle.core.model.build import Build, bind_motors
from zinc_whistle.core.model.driver import DriverPart
from zinc_whistle.core.model.given import Given, bind
from zinc_whistle.core.model.load import MECHANISMS, Direct, Fan, Lever, Rack, Screw, Segment, Turntable, Wheels, Winch
from zinc_whistle.core.model.motor import MotorSheet
from zinc_whistle.core.stations.motor.low_speed import remedies
from zinc_whistle.core.stations.motor.session import session
from zinc_whistle.demo.data import blank_build, cider_stirrer, lantern_carousel, puppet_stage, sample_motors
from zinc_whistle.sheets.sheet import reply

D = "drives__d1__"
TRUE = {"voltage": 12.0, "r": 1.7, "k": 0.022, "i0": 0.31}
STALL = TRUE["voltage"] / TRUE["r"]
SHEET = {
    "voltage": "12 V",
    "no_load_speed": notation((12 - 0.31 * 1.7) / 0.022, "speed", "rpm"),
    "no_load_a": "0.31 A",
    "stall_a": notation(STALL, "current", "A"),
    "stall_torque": notation(0.022 * (STALL - 0.31), "torque", "mN·m"),
    "speed_constant": notation(1 / 0.022, "speed constant", "rpm/V"),
    "resistance": "1.7 Ω",
}
ENOUGH = [
    ("voltage", "no_load_speed", "no_load_a", "stall_a"),
    ("voltage", "no_load_speed", "no_load_a", "resistance"),
    ("voltage", "no_load_speed", "no_load_a", "stall_torque"),
    ("voltage", "no_load_speed", "stall_a", "stall_torque"),
    ("speed_constant", "resistance", "no_load_a"),
    ("voltage", "speed_constant", "stall_a", "stall_torque"),
    ("voltage", "speed_constant", "stall_a", "no_load_a"),
    ("resistance", "stall_a", "stall_torque", "no_load_a"),
    tuple(SHEET),
]


def sheet_of(names: tuple[str, ...], **other: str) -> MotorSheet:
    texts = {n: SHEET[n] for n in names} | other
    made = MotorSheet(**{n: Given(text=t, origin="data sheet") for n, t in texts.items()})
    bind(made, "sheet")
    return made


@pytest.mark.parametrize("names", ENOUGH)
def test_any_sufficient_part_of_a_sheet_gives_the_constants(names: tuple[str, ...]) -> None:
    found = solve(sheet_of(names))
    assert found.resistance.value == pytest.approx(TRUE["r"], rel=1e-6)
    assert found.constant.value == pytest.approx(TRUE["k"], rel=1e-6)
    assert found.no_load_a.value == pytest.approx(TRUE["i0"], rel=1e-5)
    for way in (*found.resistance_ways[1:], *found.constant_ways[1:]):
        assert way.ratio is not None
        assert way.ratio.value == pytest.approx(1.0, rel=1e-5)


@pytest.mark.parametrize("names", [("voltage", "no_load_speed"), ("resistance",), ("voltage", "stall_a"), ()])
def test_too_little_of_a_sheet_says_what_to_give(names: tuple[str, ...], carousel: Build) -> None:
    motor = carousel.drives[0].motor
    motor.known_by, motor.sheet = "data sheet", sheet_of(names)
    found = finding(assess(carousel), "motor.known")
    assert "give" in found.unknown


def test_a_sheet_that_contradicts_itself_asks_which_to_trust(carousel: Build) -> None:
    motor = carousel.drives[0].motor
    motor.known_by, motor.sheet = "data sheet", sheet_of(tuple(SHEET), resistance="2.3 Ω")
    done = assess(carousel)
    said = finding(done, "motor.sheet_resistance")
    assert said.severity == "warn"
    assert "2.30 Ω" in said.todo
    assert "1.70" in said.todo
    assert done.drives["d1"].motor.resistance_25.value == pytest.approx(2.3)
    motor.sheet.trust_resistance = "stall"
    assert worked(carousel).motor.resistance_25.value == pytest.approx(1.7)


def test_a_second_no_load_voltage_splits_the_friction(carousel: Build) -> None:
    one = worked(carousel).motor
    two = worked(changed(carousel, **{D + "motor__second_v": "6 V", D + "motor__second_a": "0.26 A"})).motor
    assert one.viscous.value == 0.0
    assert two.two_points
    assert two.friction_a.value < one.friction_a.value
    at_12 = two.friction_a.value + two.viscous.value * (4850 * 2 * math.pi / 60) / two.motor_constant.value
    assert at_12 == pytest.approx(0.31, rel=1e-3)


def test_best_efficiency_with_viscous_friction_is_the_curves_own(carousel: Build) -> None:
    from zinc_whistle.core.cases.motor import curve

    drive = worked(changed(carousel, **{D + "motor__second_v": "6 V", D + "motor__second_a": "0.22 A"}))
    drawn = curve(drive.motor, 12.8, drive.at_supply, 4001)
    assert drawn is not None
    assert drive.at_supply.best_efficiency.value == pytest.approx(max(drawn.efficiency), rel=1e-6)
    assert drive.at_supply.greatest_power.value == pytest.approx(max(drawn.power_w), rel=1e-6)


def test_inductance_and_inertia_from_time_constants_and_coasting(carousel: Build) -> None:
    motor = carousel.drives[0].motor
    base = worked(carousel).motor
    motor.inductance_by, motor.electrical_time.text = "time constant", "0.6 ms"
    motor.inertia_by, motor.mechanical_time.text = "time constant", "15 ms"
    found = worked(carousel).motor
    assert found.inductance.value == pytest.approx(0.6e-3 * base.resistance_25.value)
    assert found.rotor_inertia.value == pytest.approx(15e-3 * base.motor_constant.value**2 / base.resistance_25.value)
    motor.inertia_by, motor.coast_speed.text, motor.coast_time.text = "coast-down", "4850 rpm", "0.4 s"
    coasting = worked(carousel).motor
    assert coasting.rotor_inertia.value == pytest.approx(base.friction_torque.value * 0.4 / (4850 * 2 * math.pi / 60))


@given(st.floats(0.005, 0.2), st.floats(0.0, 5e-6), st.floats(0.05, 3.0))
def test_coasting_down_under_both_frictions_inverts_its_own_course(friction: float, b: float, seconds: float) -> None:
    from zinc_whistle.core.laws import motor as rules

    speed = 900.0
    if b < 1e-9:
        return
    inertia = rules.inertia_from_viscous_coasting.evaluate([friction, b, seconds, speed])
    left = (speed + friction / b) * math.exp(-b * seconds / inertia) - friction / b
    assert left == pytest.approx(0.0, abs=1e-6 * speed)


def mechanism(kind: str) -> Any:
    def g(text: str) -> Given:
        return Given(text=text, origin="measured")

    makers: dict[str, Callable[[], Any]] = {
        "turntable": lambda: Turntable(
            id="m1", mass=g("9 kg"), radius=g("0.45 m"), friction_torque=g("0.35 N·m"), speed=g("12 rpm")
        ),
        "wheels": lambda: Wheels(id="m1", mass=g("6 kg"), diameter=g("100 mm"), slope=g("5 °"), velocity=g("0.6 m/s")),
        "winch": lambda: Winch(id="m1", mass=g("2 kg"), radius=g("15 mm"), velocity=g("80 mm/s")),
        "screw": lambda: Screw(
            id="m1", force=g("150 N"), mean_diameter=g("9 mm"), lead=g("2 mm"), velocity=g("4 mm/s")
        ),
        "rack": lambda: Rack(id="m1", mass=g("3 kg"), radius=g("10 mm"), velocity=g("120 mm/s")),
        "lever": lambda: Lever(id="m1", mass=g("1.2 kg"), length=g("300 mm"), centre=g("150 mm"), speed=g("6 rpm")),
        "fan": lambda: Fan(id="m1", torque=g("0.2 N·m"), at_speed=g("100 rpm"), speed=g("80 rpm")),
        "direct": lambda: Direct(id="m1", friction_torque=g("0.4 N·m"), inertia=g("0.1 kg·m²"), speed=g("20 rpm")),
    }
    return makers[kind]()


def with_mechanism(kind: str) -> Build:
    build = lantern_carousel()
    build.drives[0].load.mechanisms = [mechanism(kind)]
    return build


G = 9.80665
EXPECTED = {
    "turntable": (0.35, 0.5 * 9 * 0.45**2, 12 * 2 * math.pi / 60),
    "wheels": (
        6 * G * (0.015 * math.cos(math.radians(5)) + math.sin(math.radians(5))) * 0.05 / 2,
        6 * 0.05**2 / 2,
        12.0,
    ),
    "winch": (2 * G * 0.015, 2 * 0.015**2, 0.08 / 0.015),
    "screw": (150 * 4.5e-3 * (2 + math.pi * 0.12 * 9) / (math.pi * 9 - 0.12 * 2), 0.0, 4 * math.pi),
    "rack": (0.1 * 3 * G * 0.01, 3 * 0.01**2, 12.0),
    "lever": (1.2 * G * 0.15 * math.sqrt(0.5), 1.2 * 0.3**2 / 3, 6 * 2 * math.pi / 60),
    "fan": (0.2 * 0.8**2, 0.0, 80 * 2 * math.pi / 60),
    "direct": (0.4, 0.1, 20 * 2 * math.pi / 60),
}


@pytest.mark.parametrize("kind", sorted(MECHANISMS))
def test_each_mechanism_by_hand(kind: str) -> None:
    torque, inertia, speed = EXPECTED[kind]
    load = worked(with_mechanism(kind)).load
    assert load.torque.value == pytest.approx(torque)
    assert load.inertia.value == pytest.approx(inertia)
    assert load.speed.value == pytest.approx(speed)
    assert load.motor_torque.value == pytest.approx(torque / (150 * 0.6))


def test_several_mechanisms_act_together(carousel: Build) -> None:
    one = worked(carousel).load
    second = mechanism("direct")
    second.id = "m2"
    carousel.drives[0].load.mechanisms.append(second)
    both = worked(carousel).load
    assert both.torque.value == pytest.approx(one.torque.value + 0.4)
    assert both.inertia.value == pytest.approx(one.inertia.value + 0.1)
    assert both.speed.value == one.speed.value


def test_a_skidding_robot_is_hardest_in_its_turn() -> None:
    build = with_mechanism("wheels")
    wheels = build.drives[0].load.mechanisms[0]
    wheels.turning = "corners"
    wheels.contact_length.text, wheels.track_width.text = "0.2 m", "0.25 m"
    load = worked(build).load
    assert load.hardest.value == pytest.approx(0.6 * 6 * G * 0.2 / 2 / 0.25 * 0.05 * 2 / 2)
    assert load.hardest.value > load.torque.value
    assert finding(assess(build), "load.grip").utilisation is not None


def test_a_winch_runs_back_and_a_fine_screw_does_not() -> None:
    assert finding(assess(with_mechanism("winch")), "load.runs_back").severity == "warn"
    assert finding(assess(with_mechanism("screw")), "load.runs_back").severity == "note"
    build = with_mechanism("screw")
    build.drives[0].load.mechanisms[0].lead.text = "20 mm"
    assert finding(assess(build), "load.runs_back").severity == "warn"


def test_a_load_that_creeps_through_the_limit_it_rests_on_is_a_stop() -> None:
    """1 kg on a drum the motor's friction holds; 40 kg it does not. Without limits it is a warning either way."""
    build = with_mechanism("winch")
    winch, panel = build.drives[0].load.mechanisms[0], build.drives[0].panel
    for mass, limits, severity in (
        ("1 kg", "both", "warn"),
        ("400 kg", "both", "stop"),
        ("400 kg", "none", "warn"),
    ):
        winch.mass.text, panel.limits = mass, limits
        assert finding(assess(build), "load.runs_back").severity == severity


def test_whatever_pulls_without_power_is_told_whichever_way() -> None:
    """A counterweight of 3 kg against 1 kg pulls as 2 kg do; a rack on 30° slides with tan 30° = 0.58 above a friction
    of 0.1 and rests with 0.7; a flap beyond the vertical falls to the other side."""
    build = with_mechanism("winch")
    winch = build.drives[0].load.mechanisms[0]
    winch.mass.text, winch.counterweight.text = "1 kg", "3 kg"
    heavy = worked(build).load.creeping.value
    winch.mass.text, winch.counterweight.text = "2 kg", "0 kg"
    assert heavy == pytest.approx(worked(build).load.creeping.value)
    build = with_mechanism("rack")
    rack = build.drives[0].load.mechanisms[0]
    rack.slope.text, rack.friction.text = "30 °", "0.1"
    assert worked(build).load.creeping.value > 0
    rack.friction.text = "0.7"
    assert worked(build).load.creeping.value == 0
    build = with_mechanism("lever")
    flap = build.drives[0].load.mechanisms[0]
    flap.start.text, flap.end.text = "100 °", "170 °"
    beyond = worked(build).load.creeping.value
    flap.start.text, flap.end.text = "10 °", "80 °"
    assert beyond == pytest.approx(worked(build).load.creeping.value)


@settings(max_examples=120)
@given(st.sampled_from(sorted(MECHANISMS)), st.floats(1, 400), st.floats(0.2, 1.0), st.floats(0.3, 5), st.booleans())
def test_the_energy_books_balance(kind: str, ratio: float, efficiency: float, ohms: float, two: bool) -> None:
    """What goes in electrically is what comes out at the load and the heats, to one part in a million."""
    build = with_mechanism(kind)
    texts = {D + "load__gear_ratio": f"{ratio:.6f}", D + "load__gear_efficiency": f"{efficiency * 100:.6f} %"}
    if two:
        texts |= {D + "motor__second_v": "6 V", D + "motor__second_a": "0.25 A"}
    for row in build.drives[0].motor.locked:
        row.voltage.text = f"{0.2 + ohms * float(row.current.text.split()[0]):.6f} V"
    books = worked(changed(build, **texts)).load.books
    values = [
        n.value for n in (books.electrical, books.mechanical, books.copper, books.brushes, books.friction, books.gear)
    ]
    if any(v is None for v in values):
        return
    given_in, *out = values
    assert given_in == pytest.approx(math.fsum(out), rel=1e-6, abs=1e-9)


def test_duty_in_parts(carousel: Build) -> None:
    spec = carousel.drives[0].load
    texts = (("12 rpm", "", "30 s"), ("6 rpm", "0.2 N·m", "60 s"), ("0 rpm", "", "10 s"))
    spec.segments = [
        Segment(id=f"s{i}", speed=Given(text=s), torque=Given(text=t), time=Given(text=d))
        for i, (s, t, d) in enumerate(texts)
    ]
    drive = worked(carousel)
    first = drive.load.working_current.value
    second = 0.2 / 90 / drive.motor.motor_constant.value + drive.motor.friction_a.value
    expected = math.sqrt((first**2 * 30 + second**2 * 60) / 100)
    assert drive.load.rms_current.value == pytest.approx(expected)
    assert drive.load.cycle_time.value == pytest.approx(100.0)
    assert drive.load.peak_current.value == drive.load.starting_current.value
    spec.segments[1].torque.text = "3 N·m"
    hard = worked(carousel)
    assert hard.load.peak_current.value > drive.load.peak_current.value
    assert hard.circuit.planned_peak.value >= hard.load.peak_current.value
    assert drive.load.heat_current.value >= drive.load.rms_current.value


def test_search_agrees_with_the_assessment(carousel: Build) -> None:
    drive = worked(carousel)
    choice = search.choices(drive.context, drive.heat.allowed, [])
    assert choice is not None and choice.own is not None
    present = choice.ratios.index(choice.ratio)
    assert choice.own.working_a[0, present] == pytest.approx(drive.load.working_current.value)
    assert choice.own.starting_a[0, present] == pytest.approx(drive.load.starting_current.value)


def test_search_finds_the_brute_force_best() -> None:
    random = np.random.default_rng(4)
    columns = (
        random.uniform(0.3, 5, 40),
        random.uniform(0.005, 0.06, 40),
        random.uniform(0.05, 0.8, 40),
        np.zeros(40),
        np.zeros(40),
        random.uniform(1e-7, 1e-5, 40),
        random.uniform(0.5, 6, 40),
    )
    ratios = [5.0, 19.0, 50.0, 131.0, 270.0]
    wanted = search.Wanted(0.5, 0.6, 0.2, 1.5, 1.0, 0.7, 10.8, 0.8)
    found = search.search(search.Motors(*columns), ratios, wanted)
    assert (found.worst_use <= 1).any()
    order = search.best(found, 10)
    does = [(i, j) for i in range(40) for j in range(5) if found.worst_use[i, j] <= 1]
    brute = sorted(does, key=lambda p: found.working_a[p])[:10]
    assert order[: len(brute)] == brute
    assert search.read_ratios("5, 19.2; x, 5, -3, 131") == [5.0, 19.2, 131.0]


def test_the_session_asks_in_order_and_stops(carousel: Build, shelf: list[DriverPart]) -> None:
    blank = blank_build("New")
    drive = worked(blank)
    first = session(drive.drive.motor, drive.motor, None, [])
    assert first.next is not None
    assert "two currents" in first.next.title
    spec = carousel.drives[0].motor
    spec.no_load_speed.text = ""
    without = worked(carousel)
    asked = session(without.drive.motor, without.motor, 12.8, [])
    assert asked.next is not None
    assert asked.next.where.endswith("no_load_speed")
    spec.no_load_speed.text = "4850 rpm ± 50"
    known = worked(carousel, shelf)
    more = session(known.drive.motor, known.motor, 12.8, [])
    assert more.next is not None
    assert "narrow" in more.next.narrows
    roomy = [x for x in known.chosen.checks if x.code != "driver.peak" and x.destructive]
    done = session(known.drive.motor, known.motor, 12.8, roomy)
    assert done.next is None
    assert "no longer depends" in done.done


def test_a_check_near_its_limit_keeps_the_session_going(carousel: Build, shelf: list[DriverPart]) -> None:
    known = worked(carousel, shelf)
    carousel.units[0].part.peak_a.text = f"{known.circuit.peak.value:.3f} A"
    known = worked(carousel, shelf)
    checks = [x for x in known.chosen.checks if x.destructive]
    assert session(known.drive.motor, known.motor, 12.8, checks).next is not None


def test_breakaway_lowest_speed_and_its_remedies(carousel: Build) -> None:
    motors = sample_motors()
    bind_motors(motors)
    drive = worked(changed(carousel, **{D + "motor__breakaway_a": "0.8 A"}))
    low = drive.low_speed
    assert low.open_loop.value > low.by_stiffness.value
    assert low.closed_loop.value >= low.by_count.value
    assert low.open_output.value == pytest.approx(low.open_loop.value / 150)
    found = remedies(drive.context, drive.circuit, low, motors)
    assert [r.reaches for r in found] == sorted((r.reaches for r in found), reverse=True)
    geared = next(r for r in found if r.name.startswith("Gear down"))
    assert geared.top_speed == pytest.approx(1 / 1.5)
    assert geared.lowest_rad_s == pytest.approx(low.closed_output.value / 1.5)


def test_the_medium_winding_creeps_where_the_strong_one_does_not() -> None:
    """Common practice, no source: the medium-power sister is far slower, for roughly a fifth less top speed."""
    build = lantern_carousel()
    motors = {m.id: m for m in sample_motors()}
    build.drives[0].motor = motors["gear-high"].motor
    build.drives[0].loop.closed = "no"
    strong = worked(build)
    build.drives[0].motor = motors["gear-medium"].motor
    medium = worked(build)
    assert strong.low_speed.open_loop.value > 3 * medium.low_speed.open_loop.value
    share = medium.at_supply.no_load_speed.value / strong.at_supply.no_load_speed.value
    assert share == pytest.approx(0.8, abs=0.05)


@pytest.mark.parametrize(
    ("chemistry", "cells", "full"),
    [("lifepo4", "4", 14.6), ("li-ion", "10", 42.0), ("lead", "6", 12.9), ("nimh", "10", 14.0)],
)
def test_a_pack_by_its_chemistry(carousel: Build, chemistry: str, cells: str, full: float) -> None:
    source = carousel.supply.sources[0]
    source.chemistry = chemistry  # type: ignore[assignment]
    source.cells.text = cells
    for given_ in (source.full_v, source.nominal_v, source.flat_v, source.resistance):
        given_.text = ""
    window = assess(carousel).shared.sources[0].window
    assert window.full.value == pytest.approx(full)
    assert window.full.value > window.nominal.value > window.flat.value
    source.full_v.text = "15 V"
    assert assess(carousel).shared.sources[0].window.full.value == 15.0


def test_a_nine_volt_block_is_refused_by_its_ohms_and_not_by_its_name(carousel: Build) -> None:
    """Six cells of 0.33 Ω make 2 Ω: flat it holds 5.4 V − 0.5 A · 2 Ω = 4.4 V at work, of the 5.5 V that the board
    needs. With 10 mΩ in their place the same block feeds it."""
    source = carousel.supply.sources[0]
    source.chemistry = "9 v block"
    for name in ("full_v", "nominal_v", "flat_v", "resistance"):
        getattr(source, name).text = ""
    done = assess(carousel)
    assert finding(done, "driver.volts_low").severity == "stop"
    assert finding(done, "supply.brown_out_start").severity == "stop"
    source.resistance.text, source.flat_v.text = "10 mΩ", "8.4 V"
    strong = assess(carousel)
    assert finding(strong, "driver.volts_low").severity == "note"
    assert finding(strong, "supply.brown_out_start").severity == "note"


def test_a_usb_port_is_refused_for_a_motor_that_wants_more(carousel: Build) -> None:
    carousel.supply.sources[0].kind = "usb"
    found = finding(assess(carousel), "supply.s1.limit")
    assert found.severity == "stop"
    assert "USB port" in found.todo


def test_a_servo_rail_that_cannot_carry_simultaneous_stalls_stops() -> None:
    build = puppet_stage()
    done = assess(build)
    assert finding(done, "supply.r2.limit").severity == "note"
    assert finding(done, "supply.r2.limit").stress.value == pytest.approx(2 * 0.9 * 5.5 / 5)
    build.supply.regulators[1].limit.text = "1.5 A"
    done = assess(build)
    assert finding(done, "supply.r2.limit").severity == "stop"
    assert all(done.stamp(d, "supply").state == "stops" for d in done.drives)


def test_servos_on_the_controllers_own_regulator_stop() -> None:
    build = puppet_stage()
    for drive in build.drives[1:]:
        drive.rail = "r1"
    assert finding(assess(build), "supply.r1.controller").severity == "stop"


def two_motors(together: str) -> Assessment:
    build = lantern_carousel()
    second = build.drives[0].model_copy(deep=True)
    second.id, second.name = "d2", "Second"
    build.drives.append(second)
    build.supply.together = together  # type: ignore[assignment]
    return assess(build)


def test_two_drives_that_start_together_pull_the_supply_lower() -> None:
    alone = worked(lantern_carousel()).supply.bus_start.value
    both, apart = (two_motors(x).drives["d1"].supply.bus_start.value for x in ("yes", "no"))
    start = worked(lantern_carousel()).load.starting_current.value
    assert both == pytest.approx(alone - start * 0.04)
    assert both < apart < alone
    shared = two_motors("yes").shared.sources[0]
    assert shared.starting.value > two_motors("no").shared.sources[0].starting.value


def test_runtime_follows_the_duty_and_peukert(carousel: Build) -> None:
    done = assess(carousel)
    source = done.shared.sources[0]
    hours = 20 * (6 / (source.mean.value * 20)) ** 1.05
    assert source.runtime.value / 3600 == pytest.approx(hours)


def test_a_one_switch_stage_cannot_lift_the_bus(shelf: list[DriverPart]) -> None:
    build = puppet_stage()
    found = finding(assess(build, shelf), "driver.volts_absolute")
    assert found.stress.value == pytest.approx(18.6)


def test_servo_figures_by_hand() -> None:
    servo = assess(puppet_stage()).drives["d2"].servo
    assert servo.torque_needed.value == pytest.approx(4 * 0.02)
    stall = 3.5 * 0.0980665 * 5.5 / 5
    assert servo.stall_torque.value == pytest.approx(stall)
    free = math.radians(60) / 0.2 * 5.5 / 5
    transit = math.radians(75) / (free * (1 - 0.08 / stall))
    assert servo.transit_time.value == pytest.approx(transit)
    assert servo.dwell.value == pytest.approx(transit + 0.04)
    assert servo.middle_pulse.value == pytest.approx(1.5e-3)


@pytest.mark.parametrize(("kind", "factor"), [("solenoid", 1), ("pump", 3), ("lamp", 10)])
def test_other_loads_and_their_inrush(kind: str, factor: float, shelf: list[DriverPart]) -> None:
    """Common practice, no source: a cold lamp takes about ten times, a small pump's motor some three."""
    from zinc_whistle.core.model.build import LoadDrive

    build = lantern_carousel()
    drive = LoadDrive(id="d2", name="Lamp", unit="u2", controller="c1")
    drive.load.kind = kind  # type: ignore[assignment]
    drive.load.rated_v.text, drive.load.rated_a.text = "12 V", "0.8 A"
    build.units.append(build.units[0].model_copy(deep=True, update={"id": "u2"}))
    build.drives.append(drive)
    done = assess(Build.model_validate(build.model_dump()), shelf)
    load = done.drives["d2"]
    on = 14.6 / 15
    assert load.context.load.on_current.value == pytest.approx(on)
    assert load.context.load.peak_current.value == pytest.approx(factor * on)
    assert load.circuit.peak.value < factor * on
    assert done.drives["d2"].candidates
    for station in ("build", *load.stations):
        assert reply(done, station, "d2").sheet.title


def test_a_held_solenoid_draws_less_for_good() -> None:
    from zinc_whistle.core.model.build import LoadDrive

    build = lantern_carousel()
    drive = LoadDrive(id="d2", name="Latch", unit="u1", controller="c1")
    drive.channel.text = "2"
    drive.load.rated_v.text, drive.load.rated_a.text, drive.load.hold_duty.text = "12 V", "1 A", "30 %"
    build.drives.append(drive)
    load = assess(build).drives["d2"].context.load
    on = 14.6 / 12
    assert load.working_current.value == pytest.approx(0.3 * on)
    assert load.rms_current.value == pytest.approx(math.sqrt((on**2 * 0.1 + (0.3 * on) ** 2 * 10) / 10.1))


@pytest.mark.parametrize("make", [cider_stirrer, puppet_stage])
def test_the_other_demos_are_known_and_hold_where_they_should(make: Any, shelf: list[DriverPart]) -> None:
    done = assess(make(), shelf)
    assert not done.bound.errors
    for drive in done.drives.values():
        for station in ("motor", "load", "supply"):
            if station in drive.stations:
                assert done.stamp(drive.drive.id, station).state in ("holds", "tight"), (drive.drive.id, station)
