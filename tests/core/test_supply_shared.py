"""The supply as a whole: regulators and sources with everything on them, and what braking asks for."""

from __future__ import annotations

import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.kit import changed, finding, worked
from zinc_whistle.core.assess import Assessment, assess
from zinc_whistle.core.model.build import Build
from zinc_whistle.core.model.driver import DriverPart
from zinc_whistle.core.model.given import Given
from zinc_whistle.core.model.supply import Consumer
from zinc_whistle.demo.data import lantern_carousel, puppet_stage

R = "supply__regulators__r1__"
S = "supply__sources__s1__"


def regulator(done: Assessment, id: str = "r1"):  # type: ignore[no-untyped-def]
    found = done.shared.regulator(id)
    assert found is not None
    return found


def test_consumers_add_to_the_load_and_to_the_heat(carousel: Build) -> None:
    plain = regulator(assess(carousel))
    carousel.supply.regulators[0].consumers = [
        Consumer(id="k1", name="Lamp", current=Given(text="30 mA")),
        Consumer(id="k2", name="Not known", current=Given(text="")),
    ]
    more = regulator(assess(carousel))
    assert more.load.value == pytest.approx(plain.load.value + 0.03)
    assert more.heat.value == pytest.approx((14.6 - 5) * (0.12 + 0.03))
    assert more.junction.value == pytest.approx(35 + 45 * more.heat.value)


def test_a_heat_sink_is_asked_for_and_then_enough(carousel: Build) -> None:
    hot = changed(carousel, **{R + "load": "0.4 A"})
    done = assess(hot)
    assert finding(done, "supply.r1.heat").severity == "stop"
    needed = regulator(done).sink_needed.value
    assert needed == pytest.approx((125 - 35) / ((14.6 - 5) * 0.4))
    cooled = changed(hot, **{R + "sink_resistance": f"{needed * 0.99:.4f} K/W"})
    assert finding(assess(cooled), "supply.r1.heat").severity == "note"
    small = changed(hot, **{R + "sink_resistance": f"{needed * 1.05:.4f} K/W"})
    assert finding(assess(small), "supply.r1.heat").severity == "stop"


def test_a_switching_regulator_draws_power_not_current(carousel: Build) -> None:
    carousel.supply.regulators[0].kind = "switching"
    found = regulator(assess(changed(carousel, **{R + "efficiency": "80 %"})))
    assert found.input_current.value == pytest.approx(5 * 0.12 / (0.8 * 10.8))
    carousel.supply.regulators[0].kind = "linear"
    assert regulator(assess(carousel)).input_current.value == pytest.approx(0.12)


def test_the_regulators_input_limit_is_held_against_the_full_supply(carousel: Build) -> None:
    assert finding(assess(changed(carousel, **{R + "input_max": "20 V"})), "supply.r1.input").severity == "note"
    assert finding(assess(changed(carousel, **{R + "input_max": "14 V"})), "supply.r1.input").severity == "stop"


def test_the_fuse_carries_three_quarters_of_its_rating(carousel: Build) -> None:
    """Common practice, no source: 75 % for good."""
    done = assess(carousel)
    drive = done.drives["d1"]
    # The motor's current comes from a flat supply at the largest duty; the regulator takes its own besides.
    working = drive.circuit.duty_flat.value * drive.load.working_current.value
    working += done.shared.regulators[0].input_current.value
    found = finding(done, "supply.s1.fuse")
    assert found.used == pytest.approx(working / (0.75 * 5))
    tight = changed(carousel, **{S + "fuse": f"{working / 0.75 * 0.98:.6f} A"})
    assert finding(assess(tight), "supply.s1.fuse").severity == "warn"


def test_a_switch_is_judged_by_its_dc_rating(carousel: Build) -> None:
    assert finding(assess(changed(carousel, **{S + "switch_dc": "3 A"})), "supply.s1.switch").severity == "note"
    assert finding(assess(changed(carousel, **{S + "switch_dc": "0.3 A"})), "supply.s1.switch").severity == "stop"


@pytest.mark.parametrize(("full", "flat", "severity"), [("14.6 V", "10.8 V", "note"), ("12 V", "13 V", "stop")])
def test_the_window_must_be_in_order(carousel: Build, full: str, flat: str, severity: str) -> None:
    done = assess(changed(carousel, **{S + "full_v": full, S + "flat_v": flat}))
    assert finding(done, "supply.s1.window").severity == severity


def test_a_gap_in_the_window_is_named(carousel: Build) -> None:
    found = finding(assess(changed(carousel, **{S + "nominal_v": ""})), "supply.s1.window")
    assert found.unknown == "Not known yet: give nominal voltage."


def test_a_programming_lead_left_in_is_looked_at(carousel: Build) -> None:
    assert not [x for x in assess(carousel).findings if x.code == "supply.back_feed"]
    carousel.supply.lead_in = "yes"
    assert finding(assess(carousel), "supply.back_feed").severity == "warn"


def test_split_supplies_take_the_brown_out_away(carousel: Build) -> None:
    weak = changed(carousel, **{S + "resistance": "3 Ω"})
    weak.drives[0].signals.soft_start = "no"
    assert finding(assess(weak), "supply.brown_out_start").severity == "stop"
    weak.supply.motor_and_logic = "split"
    assert not [x for x in assess(weak).findings if x.code.startswith("supply.brown_out")]


def test_an_adaptor_knows_nothing_of_the_cells_before_it(carousel: Build) -> None:
    """Six lithium cells are 25.2 V; an adaptor that is put in their place has no volts until they are given."""
    bare = changed(carousel, **{S + n: "" for n in ("full_v", "nominal_v", "flat_v", "resistance")})
    bare.supply.sources[0].chemistry, bare.supply.sources[0].cells.text = "li-ion", "6"
    assert worked(bare).context.volts.full.value == pytest.approx(25.2)
    bare.supply.sources[0].kind = "adaptor"
    assert worked(bare).context.volts.full.value is None


def test_shared_or_split_is_reasoned() -> None:
    advice = assess(lantern_carousel()).advice["s1"]
    assert advice[0].startswith("Split")
    assert "linear regulator" in advice[1]
    stage = assess(puppet_stage()).advice["s1"]
    assert any("adaptor folds back" in x for x in stage)
    calm = changed(lantern_carousel(), **{S + "full_v": "8.4 V", S + "nominal_v": "7.4 V", S + "flat_v": "6.4 V"})
    assert assess(calm).advice["s1"][0].startswith("One shared supply")
    unknown = changed(calm, **{S + "resistance": ""})
    assert "not known yet" in assess(unknown).advice["s1"][0], "nothing is concluded from nothing"


def test_braking_asks_for_a_capacitor_or_a_resistor(carousel: Build, shelf: list[DriverPart]) -> None:
    carousel.supply.clamp_v.text = "20 V"
    drive = assess(carousel, shelf).drives["d1"]
    s, load = drive.supply, drive.load
    r, k = drive.context.winding_hot.value, drive.motor.motor_constant.value
    speed, current = load.motor_speed.value, load.working_current.value
    back = 0.5 * load.reflected_inertia.value * speed**2 * (1 - current * r / (k * speed)) ** 2
    assert s.returned_energy.value == pytest.approx(back)
    assert s.returned_energy.value < s.brake_energy.value
    assert s.braking_capacitor.value == pytest.approx(2 * back / (20**2 - 14.6**2))
    assert s.brake_resistor.value == pytest.approx(20 / drive.circuit.braking.value)
    assert s.brake_power.value == pytest.approx(back / 0.5)


def test_without_an_electrolytic_the_plug_rings(carousel: Build, shelf: list[DriverPart]) -> None:
    bare = changed(
        carousel, units__u1__bulk_capacitance="4.7 µF", units__u1__bulk_esr="2 mΩ", **{S + "resistance": "5 mΩ"}
    )
    quiet = assess(carousel, shelf).drives["d1"].supply.plug_in_peak.value
    rings = assess(bare, shelf).drives["d1"].supply.plug_in_peak.value
    assert quiet == pytest.approx(14.6)
    assert 1.5 * 14.6 < rings < 2 * 14.6
    assert finding(assess(bare, shelf), "supply.plug_in").used > 0.8


@settings(max_examples=40)
@given(st.floats(0.01, 1.5), st.floats(1.0, 10.0))
def test_the_supply_never_rises_with_more_drives_or_resistance(ohms: float, times: float) -> None:
    alone = changed(lantern_carousel(), **{S + "resistance": f"{ohms:.5f} Ω"})
    weaker = changed(lantern_carousel(), **{S + "resistance": f"{ohms * times:.5f} Ω"})
    both = alone.model_copy(deep=True)
    second = both.drives[0].model_copy(deep=True)
    second.id = "d2"
    both.drives.append(second)
    start = [assess(b).drives["d1"].supply.bus_start.value for b in (alone, weaker, both)]
    assert start[1] <= start[0] + 1e-9
    assert start[2] <= start[0] + 1e-9


@settings(max_examples=40)
@given(st.floats(0.5, 40.0), st.floats(1.0, 1.4))
def test_a_higher_peukert_exponent_never_lengthens_a_fast_discharge(current: float, exponent: float) -> None:
    from zinc_whistle.core.laws import supply as rules

    fast = max(current, 0.36)
    ideal, real = (rules.runtime.evaluate([7 * 3600.0, fast, 20 * 3600.0, k]) for k in (1.0, exponent))
    assert real <= ideal * (1 + 1e-9)
    assert math.isfinite(real)


def servos_on_a_linear_regulator(style: str, moves: str) -> Build:
    build = puppet_stage()
    for regulator_ in build.supply.regulators:
        regulator_.kind = "linear"
    for drive in build.servos:
        drive.servo.style = style  # type: ignore[assignment]
        drive.servo.moves = Given(text=moves)
    return build


def stepped(idle: float, moving: float, transit: float, period: float, tau: float = 30.0) -> float:
    """The lag stepped through two hundred cycles, and the highest it comes to in the last."""
    level, step = idle, transit / 200
    highest = 0.0
    for _ in range(max(20, int(12 * tau / period))):
        highest = 0.0
        for _ in range(200):
            level += (moving - level) * -math.expm1(-step / tau)
            highest = max(highest, level)
        level += (idle - level) * -math.expm1(-(period - transit) / tau)
    return highest


@pytest.mark.parametrize("moves", ["0.2 /min", "4 /min", "30 /min"])
def test_a_regulators_heat_counts_the_end_of_a_move_not_the_mean(moves: str) -> None:
    """The lag stepped by hand; the mean of a servo that moves seldom is below what the move's end makes."""
    done = assess(servos_on_a_linear_regulator("positional", moves))
    for drive in done.drives.values():
        if (servo := drive.of_servo) is None:
            continue
        s = servo.servo
        spec = servo.drive.servo
        period = 60 / float(moves.split()[0])
        transit, idle, moving = s.transit_time.value, spec.idle_a.value, spec.moving_a.value
        assert transit and idle is not None and moving
        assert s.warming_current.value == pytest.approx(stepped(idle, moving, transit, period), rel=2e-3)
        assert s.mean_current.value is not None and s.warming_current.value is not None
        assert s.mean_current.value <= s.warming_current.value <= moving


def test_a_servo_that_turns_on_and_on_warms_its_regulator_for_good() -> None:
    """Nothing says how long a continuous one turns: what it draws turning lasts."""
    still, turning = (assess(servos_on_a_linear_regulator(s, "4 /min")) for s in ("positional", "continuous"))
    rails = {d.rail for d in turning.build.servos}
    fed = next(r for r in turning.shared.regulators if r.id in rails)
    own = sum(d.servo.moving_a.value or 0.0 for d in turning.build.servos if d.rail == fed.id)
    spec = next(r for r in turning.build.supply.regulators if r.id == fed.id)
    source = next(s for s in turning.shared.sources if s.id == spec.source)
    full, out = source.window.full.value, spec.output_v.value
    assert full is not None and out is not None and fed.heat.value is not None
    assert fed.heat.value >= (full - out) * own * 0.999
    assert fed.heat.value > 1.2 * (next(r for r in still.shared.regulators if r.id == fed.id).heat.value or 0.0)
