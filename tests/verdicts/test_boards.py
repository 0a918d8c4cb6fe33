"""Bought boards with what sits on them, parts of which little is known, motors out of appliances; with each its
neighbour."""

from __future__ import annotations

from functools import partial
from itertools import count

import pytest

from zinc_whistle.core.assess import MotorAssessment, assess
from zinc_whistle.core.cases import typical
from zinc_whistle.core.cases.polarity import misread
from zinc_whistle.core.cases.salvage import OWN_SWITCH
from zinc_whistle.core.exchange import DRIVERS
from zinc_whistle.core.model.board import Alteration, lit, parsed
from zinc_whistle.core.model.build import Build, MotorDrive
from zinc_whistle.core.model.driver import DriverPart
from zinc_whistle.core.model.given import Given
from zinc_whistle.demo.data import cider_stirrer, lantern_carousel, sample_parts

from .kit import SHELF, altered, said, verdict
from .test_told_by import motor_of, with_part

CAROUSEL = partial(altered, lantern_carousel)
STIRRER = partial(altered, cider_stirrer)


def on_board(part: str, channel: str = "1") -> Build:
    """The carousel with a stacked board, its pins found anew."""
    build = with_part(lantern_carousel(), part, "pulses")
    drive = build.drives[0]
    assert isinstance(drive, MotorDrive)
    drive.wiring.fixed_pins, drive.channel.text = [], channel
    return build


def pins_of(build: Build) -> dict[str, str]:
    """The labels of the pins that the first drive's signals got."""
    return {u.signal: u.pin.label if u.pin is not None else "" for u in motor_of(build).wiring.pins}


def test_a_stacked_board_decides_its_pins_by_channel() -> None:
    first, second = pins_of(on_board("stack-twin-2a5")), pins_of(on_board("stack-twin-2a5", "2"))
    assert {n: first[n] for n in ("PWM", "DIR", "BRAKE", "SENSE")} == dict(
        zip(("PWM", "DIR", "BRAKE", "SENSE"), ("D9", "D7", "D6", "A3"), strict=True)
    )
    assert {n: second[n] for n in ("PWM", "DIR", "BRAKE", "SENSE")} == dict(
        zip(("PWM", "DIR", "BRAKE", "SENSE"), ("D10", "D8", "D4", "A2"), strict=True)
    )
    under = {label for _, _, label in parsed(next(p for p in sample_parts() if p.id == "stack-twin-2a5").pin_map)}
    others = {label for signal, label in first.items() if signal not in ("PWM", "DIR", "BRAKE", "SENSE")}
    assert not others & under, "nothing else is put under the board, not even where its other channel sits"


def test_a_cut_link_frees_its_pin_and_stays_a_warning_until_undone() -> None:
    build = on_board("stack-twin-2a5")
    build.units[0].alterations = [Alteration(id="a1", kind="link cut", which="BRAKE", note="D6 carries the lamp")]
    found = said(build, "driver.altered.a1")
    assert found is not None and found.severity == "warn" and "D6 carries the lamp" in found.todo
    assert pins_of(build)["BRAKE"] != "D6"
    build.units[0].alterations[0].undone = "yes"
    assert said(build, "driver.altered.a1") is None and pins_of(build)["BRAKE"] == "D6"


def test_a_board_that_sits_on_a_pin_the_controller_has_not() -> None:
    build = on_board("stack-twin-2a5")
    assert build.units[0].part is not None
    build.units[0].part.pin_map = "PWM=D9, DIR=X99"
    found = said(build, "wiring.pins")
    assert found is not None and found.stops and "X99" in found.todo


@pytest.mark.parametrize("text", ["PWM D9", "PWM=", "=D9", "PWM@x=D9", "PWM=D9;DIR=D7"])
def test_a_map_that_cannot_be_read_is_told(text: str) -> None:
    part = next(p for p in sample_parts() if p.id == "stack-twin-2a5").model_copy(deep=True)
    part.pin_map = text
    assert "is no pin" in DRIVERS.problems(part)["pin_map"]


def test_a_boards_guard_breaks_although_no_motor_turns() -> None:
    """The guard's gate bears 20 V: the carousel's 14.6 V leave it well, 21 V do not, whatever the duty. Bridged, the
    limit is gone and the alteration is told instead."""
    well = with_part(lantern_carousel(), "mos-twin-7a", "pulses")
    assert verdict(well, "driver.guard") in ("holds", "tight")
    high = with_part(CAROUSEL(supply__sources__s1__full_v="21 V"), "mos-twin-7a", "pulses")
    assert verdict(high, "driver.guard") == "exceeded"
    high.units[0].alterations = [Alteration(id="a1", kind="guard bridged")]
    assert said(high, "driver.guard") is None
    bridged = said(high, "driver.altered.a1")
    assert bridged is not None and bridged.destructive and "reversed polarity" in bridged.todo


def little(**more: str) -> DriverPart:
    """A part of which only the first page is known."""
    part = DriverPart(id="p1", name="Bridge from the drawer", kind="mosfet bridge", input_style="pwm and direction")
    for name, text in ({"v_max": "24 V", "v_absolute": "28 V", "continuous_a": "6 A", "peak_a": "10 A"} | more).items():
        setattr(part, name, Given(text=text, origin="data sheet"))
    return part


def test_a_part_with_a_few_numbers_is_asked_for_the_rest_and_offered_what_is_typical() -> None:
    """Nothing that is not given counts as good: with neither resistance nor drop there would be no heat at all, with a
    switching time of nothing none at any frequency. Each is offered as an estimate, until nothing is left."""
    build = lantern_carousel()
    build.units[0].part = little()
    found = said(build, "driver.sheet")
    assert found is not None and found.verdict == "unknown" and "On-resistance" in found.unknown
    for _ in count():
        found = said(build, "driver.sheet")
        if found is None:
            break
        assert found.remedy is not None and found.remedy.origin == "assumed"
        owner, name = build.units[0].part, found.remedy.path.rpartition(".")[2]
        assert owner is not None
        setattr(owner, name, Given(text=found.remedy.text, origin="assumed"))
    part = build.units[0].part
    assert part is not None and part.on_resistance.text == "0.1 Ω", "0.6 V at its 6 A"
    assert {part.thermal_resistance.origin, part.peak_time.origin, part.pwm_limit.origin} == {"assumed"}
    heat = said(build, "driver.heat")
    assert heat is not None and heat.used is not None


def test_a_few_numbers_are_enough_for_the_shelf_but_not_for_a_verdict() -> None:
    part = little()
    assert set(DRIVERS.problems(part)) == {"on_resistance"}
    part.on_resistance = Given(text="0.1 Ω", origin="data sheet")
    assert DRIVERS.problems(part) == {}
    build = lantern_carousel()
    done = assess(build, [*SHELF, part]).drives["d1"].driven
    assert done is not None
    own = next(c for c in done.candidates if c.part.id == "p1")
    assert own.verdict == "open", "it waits among those that are not known, never among those that hold"


def test_every_class_has_what_is_typical_and_samples_lack_nothing() -> None:
    for part in sample_parts():
        fresh = DRIVERS.problems(part)
        assert fresh == {} and typical.missing(part) == [], part.id
    for kind in typical.TYPICAL:
        bare = little()
        bare.kind = kind  # type: ignore[assignment]
        assert DRIVERS.problems(bare).keys() <= {"on_resistance"}
        for name in typical.missing(bare):
            assert typical.estimate(bare, name) is not None, (kind, name)


# -- the motor ---------------------------------------------------------------------------------------------------------


def test_the_slowest_speed_that_was_measured_corrects_the_breakaway_model() -> None:
    """ω_min = (I_b − I_w) R / K: the measured speed gives the current back, and with it the breakaway duty."""
    plain = motor_of(cider_stirrer())
    told = plain.low_speed.open_loop.value
    assert told is not None
    rpm = told * 9.5492966 * 1.5
    measured = motor_of(STIRRER(drives__d1__motor__smooth_open=f"{rpm} rpm"))
    assert measured.low_speed.open_loop.value == pytest.approx(1.5 * told, rel=1e-6)
    assert (measured.low_speed.duty.value or 0.0) > (plain.low_speed.duty.value or 1.0)
    assert measured.low_speed.agreement is not None
    assert measured.low_speed.agreement.value == pytest.approx(1 / 1.5, rel=1e-6)
    assert verdict(STIRRER(drives__d1__motor__smooth_open=f"{rpm} rpm"), "motor.smooth") == "holds"
    assert verdict(STIRRER(drives__d1__motor__smooth_open=f"{3 * rpm} rpm"), "motor.smooth") == "exceeded"
    alone = motor_of(STIRRER(drives__d1__motor__breakaway_a="", drives__d1__motor__smooth_open=f"{rpm} rpm"))
    assert alone.low_speed.open_loop.value == pytest.approx(1.5 * told, rel=1e-6)


def test_the_slowest_speed_with_the_loop_closed_is_what_was_measured() -> None:
    build = CAROUSEL(drives__d1__motor__smooth_closed="30 rpm")
    closed = motor_of(build).low_speed.closed_loop
    assert closed is not None and closed.value == pytest.approx(30 / 9.5492966)


def test_an_appliances_volts_and_its_own_switch() -> None:
    """A motor that had 6 V, on 14.6 V: more than half more. One that had 12 V: not. Its own switch is a candidate that
    lacks what nobody has given."""
    assert verdict(CAROUSEL(drives__d1__motor__salvage__volts="6 V"), "motor.appliance_volts") == "exceeded"
    assert verdict(CAROUSEL(drives__d1__motor__salvage__volts="12 V"), "motor.appliance_volts") != "exceeded"
    build = CAROUSEL(drives__d1__motor__salvage__switch_a="20 A", drives__d1__motor__salvage__switch_v="40 V")
    done = assess(build, SHELF).drives["d1"]
    assert isinstance(done, MotorAssessment)
    own = next(c for c in done.candidates if c.part.id == OWN_SWITCH)
    assert own.verdict in ("open", "refused") and any(c.verdict == "unknown" for c in own.checks)
    assert not [c for c in motor_of(lantern_carousel()).candidates if c.part.id == OWN_SWITCH]


def acting_low(inputs: str, told: str = "pulses") -> Build:
    """The carousel's board with PWM and DIR, of which some inputs act when they are low."""
    build = with_part(lantern_carousel(), "mos-single-5a", told)
    assert build.units[0].part is not None
    build.units[0].part.active_low = inputs
    return build


@pytest.mark.parametrize("told", ["pulses", "level", "timer"])
def test_an_input_that_acts_when_low_runs_the_motor_at_rest(told: str) -> None:
    """Outputs, timers and pull-downs rest low, also before any program has started. Its neighbours: the same board with
    inputs that act when high, one that only takes the way the other way round, and one with a transistor in each line;
    the remedy is the latter."""
    assert said(acting_low("", told), "driver.active_low") is None
    bare = acting_low("dir, PWM", told)
    found = said(bare, "driver.active_low")
    assert found is not None and found.stops and found.destructive
    assert found.todo.startswith("PWM and DIR act when low") and "from the moment of switching on" in found.todo
    way = said(acting_low("DIR", told), "driver.active_low")
    assert way is not None and way.severity == "warn" and not way.destructive and "the other way" in way.todo
    assert found.remedy is not None and found.remedy.path == "units.u1.inverters"
    bare.units[0].inverters = found.remedy.text  # type: ignore[assignment]
    assert verdict(bare, "driver.active_low") == "holds"
    assert said(bare, "driver.logic") is None, "its inputs see its own board's supply"


@pytest.mark.parametrize(
    ("style", "inverted", "sentence"),
    [
        # At rest the levels on the board are (1): on; (0, 1): back; both high: neither end is driven.
        ("one input", "PWM", "from the moment of switching on"),
        ("two inputs", "IN 1", "from the moment of switching on"),
        ("two inputs", "IN 1, IN 2", "the other way"),
        # Enabled while the pulse is low: a tenth of duty is nine tenths.
        ("two inputs and enable", "ENABLE", "the less is commanded"),
        # Told to brake (0, 0, 1), its board sees 1, 0, 1: forward.
        ("two inputs and enable", "IN 1", "when it is told to stop"),
        ("pwm, direction, brake", "PWM, BRAKE", "when it is told to stop"),
        ("pwm, direction, brake", "BRAKE", "would not run"),
        ("two gates", "LOW", "supply would be shorted"),
        ("two coils", "COIL 2", "from the moment of switching on"),
        ("one coil", "", None),
    ],
)
def test_what_a_board_makes_of_lines_that_it_reads_the_other_way_round(
    style: str, inverted: str, sentence: str | None
) -> None:
    found = misread(style, {x.strip() for x in inverted.split(",") if x})
    assert found is None if sentence is None else found is not None and sentence in found.says


def test_half_of_the_inputs_behind_transistors_still_ask_for_a_level() -> None:
    build = acting_low("DIR")
    build.units[0].inverters = "yes"
    assert said(build, "driver.logic") is not None


def test_each_line_that_acts_low_goes_by_way_of_its_transistor() -> None:
    plain, build = motor_of(acting_low("")), acting_low("DIR")
    build.units[0].inverters = "yes"
    wires = {c.id: c for c in motor_of(build).wiring.connections}
    assert (wires["signal:PWM"].end.block, wires["signal:DIR"].end.block) == ("driver", "inverters")
    behind = wires["turned:DIR"]
    assert (behind.start.block, behind.end.block, behind.end.pin) == ("inverters", "driver", "DIR")
    added = {"turned:DIR", "turned+", "turned-"}
    assert added <= set(wires) and {c.id for c in plain.wiring.connections} == set(wires) - added
    assert len(set(motor_of(build).wiring.grounds.values())) == len(set(plain.wiring.grounds.values()))


def test_an_input_that_the_part_has_not() -> None:
    build = acting_low("ENABEL")
    found = said(build, "driver.active_low")
    assert found is not None and found.stops and "has PWM, DIR" in found.todo
    assert build.units[0].part is not None
    assert "is no input" in DRIVERS.problems(build.units[0].part)["active_low"]


def test_tied_lines_are_wired_on_the_board() -> None:
    build = acting_low("")
    part = build.units[0].part
    assert part is not None
    part.tied = "EN=1, MODE=0"
    wires = {c.id: c for c in motor_of(build).wiring.connections}
    high, low = wires["tied:EN"], wires["tied:MODE"]
    assert (high.start.pin, high.end.pin) == ("logic +", "EN") and (low.start.pin, low.end.pin) == ("GND", "MODE")
    assert said(build, "driver.tied") is None and DRIVERS.problems(part).get("tied") is None


@pytest.mark.parametrize(("text", "sentence"), [("EN", "no level"), ("EN=2", "no level"), ("pwm=1", "is told")])
def test_tied_lines_that_cannot_be(text: str, sentence: str) -> None:
    build = acting_low("")
    part = build.units[0].part
    assert part is not None
    part.tied = text
    found = said(build, "driver.tied")
    assert found is not None and sentence in found.todo and sentence in DRIVERS.problems(part)["tied"]
    assert not any(c.id.startswith("tied:") for c in motor_of(build).wiring.connections)


LAMPS = "ON=supply, FWD = forward, REV=back"


@pytest.mark.parametrize(
    ("action", "burning"),
    [("", ("ON",)), ("off", ("ON",)), ("forward", ("ON", "FWD")), ("back", ("ON", "REV")), ("brake", ("ON",))],
)
def test_which_of_a_boards_lamps_burn(action: str, burning: tuple[str, ...]) -> None:
    assert lit(LAMPS, action) == burning


def test_the_bench_counts_the_lamps_that_burn_at_rest() -> None:
    build = on_board("stack-twin-2a5")
    assert build.units[0].part is not None
    assert not any(s.id == "lamps" for s in motor_of(build).steps)
    build.units[0].part.lamps = LAMPS
    (counted,) = (s for s in motor_of(build).steps if s.id == "lamps")
    assert counted.holds(1.0) is True and counted.holds(0.0) is False and counted.holds(2.0) is False


def test_lamps_that_cannot_be_read_are_told() -> None:
    build = on_board("stack-twin-2a5")
    part = build.units[0].part
    assert part is not None
    part.lamps = "ON=sometimes"
    found = said(build, "driver.lamps")
    assert found is not None and "ON=sometimes" in found.todo and not lit(part.lamps, "")
    assert "no lamp" in DRIVERS.problems(part)["lamps"]


def test_an_alteration_is_written_on_the_drawn_board_until_it_is_undone() -> None:
    build = on_board("stack-twin-2a5")
    build.units[0].alterations = [Alteration(id="a1", kind="link cut", which="BRAKE")]
    drawn = partial(_altered_parts, build)
    assert drawn() == {"unit u1": ("link cut: BRAKE",)}
    build.units[0].alterations[0].undone = "yes"
    assert drawn() == {}


def _altered_parts(build: Build) -> dict[str, tuple[str, ...]]:
    """The parts of the harness on which something is written as altered."""
    parts = assess(build).drives["d1"].wiring.netlist.parts
    return {id: p.altered for id, p in parts.items() if p.altered}


def test_joined_channels_each_sense_their_share() -> None:
    """7.27 A at 0.525 V/A are 3.82 V on one channel; of two that are joined each senses half: 1.91 V. Against 2.5 V of
    full scale that is the difference between too much and well."""
    build = CAROUSEL(controllers__c1__sense_reference="2.5 V")
    part = build.units[0].part
    assert part is not None
    part.channels, part.joins = Given(text="2", origin="data sheet"), "yes"
    assert verdict(build, "driver.sense") == "exceeded"
    build.drives[0].joined = Given(text="2", origin="chosen")
    assert verdict(build, "driver.sense") == "holds"
