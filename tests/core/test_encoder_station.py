"""The encoder station: each check trips where it must and not beside it, and what was counted by hand is used."""

from __future__ import annotations

import math
import re

import pytest

from zinc_whistle.core.algebra.findings import Finding
from zinc_whistle.core.assess import MotorAssessment, assess
from zinc_whistle.core.captures.encoder_words import said
from zinc_whistle.core.captures.quadrature import analyse
from zinc_whistle.core.design.disc_print import disc_svg
from zinc_whistle.core.model.build import Build, MotorDrive
from zinc_whistle.core.model.encoder import HandRun
from zinc_whistle.core.program.plan import plan_program
from zinc_whistle.demo.data import lantern_carousel, puppet_stage

from .test_quadrature import TEETH, changes, seen


def stage(**texts: str) -> Build:
    """The curtain winch with its own disc, its fields as given."""
    build = puppet_stage()
    drive = build.drives[0]
    assert isinstance(drive, MotorDrive)
    for name, text in {"spacing": "13.1 mm", **texts}.items():
        spot = getattr(drive.encoder, name)
        if hasattr(spot, "text"):
            spot.text = text
        else:
            setattr(drive.encoder, name, text)
    return build


def found(build: Build) -> dict[str, Finding]:
    return {f.code: f for f in assess(build).drives["d1"].findings if f.code.startswith("encoder.")}


def of(build: Build) -> MotorAssessment:
    done = assess(build).drives["d1"]
    assert isinstance(done, MotorAssessment)
    return done


def test_a_good_disc_holds_throughout() -> None:
    """12 teeth at 40 mm: a pitch of 10.47 mm; 13.1 mm are 1.251 of it."""
    assert {f.verdict for f in found(stage()).values()} == {"holds"}
    disc = of(stage()).encoder.disc
    assert disc is not None and disc.pair is not None and disc.pitch.value == pytest.approx(math.pi * 40e-3 / 12)
    assert math.degrees(disc.pair.phase.value or 0) == pytest.approx(90.4, abs=0.1)


@pytest.mark.parametrize(
    ("name", "text", "code", "verdict", "near"),
    [
        # 12.2 mm of 10.47 mm: 59.4°, 30.6° off; 12.3 mm 62.8°, 27° off.
        ("spacing", "12.2 mm", "encoder.phase", "exceeded", "12.3 mm"),
        # Two whole pitches: B sees what A sees.
        ("spacing", "20.944 mm", "encoder.states", "exceeded", "13.1 mm"),
        # A tooth of 2.4 mm is narrower than the 2.6 mm between the sensors.
        ("tooth", "2.4 mm", "encoder.states", "exceeded", "3.5 mm"),
        ("tooth", "", "encoder.states", "unknown", "5.2 mm"),
        ("aperture", "5.3 mm", "encoder.aperture", "exceeded", "4 mm"),
        # 5 V − 10 kΩ × 0.3 mA = 2 V above 1.5 V; at 0.4 mA 1 V.
        ("lit_a", "0.3 mA", "encoder.lit", "exceeded", "0.4 mA"),
        # 5 V − 10 kΩ × (1 + 160 + 12) µA = 3.27 V below 3.5 V; with 120 µA 3.67 V.
        ("stray_a", "160 µA", "encoder.dark", "exceeded", "120 µA"),
        # Plain paper: 15 % of 1.2 mA are 180 µA, 1.8 V; 8 % take 0.96 V.
        ("leak", "15 %", "encoder.dark", "exceeded", "8 %"),
        # 2.2 × 10 kΩ × 6 nF = 132 µs; a quarter of the shortest state as cut is some 60 µs.
        ("line_capacitance", "6 nF", "encoder.rise", "exceeded", "1 nF"),
        # The shortest state as cut at the top speed is some 0.25 ms.
        ("interrupt_time", "1 ms", "encoder.state", "exceeded", "0.1 ms"),
        ("cut", "1.4 mm", "encoder.state", "exceeded", "0.2 mm"),
        ("kind", "contacts", "encoder.contacts", "exceeded", ""),
    ],
)
def test_what_trips_each_check_and_its_neighbour(name: str, text: str, code: str, verdict: str, near: str) -> None:
    assert found(stage(**{name: text}))[code].verdict == verdict
    if near:
        assert found(stage(**{name: near}))[code].verdict in ("holds", "tight")
    else:
        assert code not in found(stage())


def ring(*runs: tuple[str, str], **texts: str) -> Build:
    build = lantern_carousel()
    drive = build.drives[0]
    assert isinstance(drive, MotorDrive)
    drive.encoder.runs = [
        HandRun.model_validate({"id": f"r{k}", "turns": {"text": n}, "counts": {"text": c}})
        for k, (n, c) in enumerate(runs)
    ]
    for name, text in texts.items():
        getattr(drive.encoder, name).text = text
    return build


def test_turns_by_hand_take_the_place_of_what_was_typed() -> None:
    """2,470 + 12,391 + 24,768 = 39,629 counts of 16 turns."""
    done = of(ring(("1", "2470"), ("5", "12391"), ("10", "24768"), calibrated="7197"))
    counts = done.encoder
    assert counts.used_per_output_turn.value == pytest.approx(39629 / 16)
    ratio = done.drive.load.gear_ratio.value
    assert ratio and counts.counts_per_motor_turn.value == pytest.approx(39629 / 16 / ratio)
    assert counts.by_hand is not None and counts.spread is not None and counts.spread.value == pytest.approx(8.2)
    assert of(ring(calibrated="7197")).encoder.used_per_output_turn.value == 7197
    half = of(ring(("1", "2470"), ("5", ""), calibrated="7197")).encoder.used_per_output_turn.value
    assert half == 2470, "a run of which the counts are missing is not counted"


def test_the_run_that_lost_a_tooth_is_named() -> None:
    """7,197 counts a turn: a hand that stops 2° off at both ends explains 80 counts, a run of 5 turns that is 200 short
    not."""
    good = (("1", "7202"), ("5", "35981"), ("10", "71969"))
    assert found(ring(*good))["encoder.runs"].verdict == "holds"
    told = found(ring(good[0], ("5", "35600"), good[2]))["encoder.runs"]
    assert told.verdict == "exceeded" and "run of 5 turns" in told.todo
    assert "encoder.runs" not in found(ring(good[0])), "one run agrees with itself"


def test_backlash_in_counts_and_the_other_speeds() -> None:
    """0.8° at the output of 7,197 counts a turn are 16 counts. One count in 10 ms at the motor's 54.9 counts a turn is
    1.82 turns a second. Both methods step alike at √(250 kHz/10 ms) = 5,000 counts a second."""
    done = of(ring(calibrated="7197"))
    counts = done.encoder
    backlash = done.drive.load.backlash.value
    assert backlash and counts.backlash.value == pytest.approx(backlash / (2 * math.pi) * 7197)
    per_turn, period = counts.counts_per_motor_turn.value, done.drive.loop.period.value
    assert per_turn and period
    assert (counts.step_by_counting.value or 0) / (2 * math.pi) == pytest.approx(1 / (per_turn * period))
    at = (counts.changeover.value or 0) / (2 * math.pi) * per_turn
    assert at == pytest.approx(math.sqrt(250e3 / period))


def test_travel_of_a_count() -> None:
    """The winch's drum of 18 mm: 2π × 18 mm a turn over 48 × 60 counts."""
    travel = of(stage()).encoder.travel
    assert travel is not None and travel.value == pytest.approx(2 * math.pi * 18e-3 / (48 * 60), rel=1e-6)


def test_the_printed_disc_has_its_true_size() -> None:
    done = of(stage())
    assert done.encoder.disc is not None
    drawing = disc_svg(done.drive.encoder, done.encoder.disc, "A <disc> & more")
    size = re.search(
        r'width="([\d.]+)mm" height="([\d.]+)mm" viewBox="(-?[\d.]+) (-?[\d.]+) ([\d.]+) ([\d.]+)"', drawing
    )
    assert size and float(size[1]) == pytest.approx(float(size[5])), "a unit of the drawing is a millimetre"
    assert "A &lt;disc&gt; &amp; more" in drawing and 'r="20.000"' in drawing and "h50.000" in drawing
    arcs = re.findall(r"A([\d.]+) [\d.]+ 0 0 1 (-?[\d.]+) (-?[\d.]+)", drawing)
    rims = sorted({float(r) for r, _, _ in arcs})
    assert rims == pytest.approx([17, 23]) and len(arcs) == 24
    start, end = 0.0, math.degrees(math.atan2(float(arcs[0][2]), float(arcs[0][1])))
    assert end - start == pytest.approx(5.2 / (math.pi * 40) * 360, abs=0.01), "the first tooth's width, in degrees"
    assert 'fill="#000"' in disc_svg(done.drive.encoder, done.encoder.disc, "x", film=True)
    bare = of(stage(tooth=""))
    assert bare.encoder.disc is not None
    with pytest.raises(ValueError, match="width of a tooth"):
        disc_svg(bare.drive.encoder, bare.encoder.disc, "x")


def test_what_a_capture_says_in_words() -> None:
    good = said(analyse(changes(*seen()), teeth=TEETH), 4.0 * TEETH)
    assert good == ["Nothing is wrong with it: phase, duty and counts are as they should be."]
    bad = said(analyse(changes(*seen(phase=60, tooth=0.35, wrong={5: 20.0})), teeth=TEETH), None)
    assert any("60° apart" in s and "further apart" in s for s in bad)
    assert any("Tooth 4 is cut wrong" in s for s in bad)
    assert any("high for 35 %" in s and "wider teeth" in s for s in bad)
    time, a, b = seen(0.2)
    still = said(analyse(changes(time, a & False, b & False)), None)
    assert still == ["Nothing was counted: turn the shaft while you record."]


def test_the_bench_proves_barriers_direction_and_the_way_back() -> None:
    """Forward counts up before any loop is closed: at a quarter duty 18 V × 1/4 over K, 48 counts a turn. Out and back
    to the mark the counter is where it was: ±4° of 2,880 counts are 32, and one more."""
    done = of(stage())
    steps = {s.id: s for s in done.outcomes["bench"].results["steps"]}
    assert (steps["barrier_lit"].high, steps["barrier_dark"].low) == pytest.approx((1.5, 3.5))
    constant = done.context.motor.motor_constant.value
    expected = steps["direction"].expected.value
    assert constant and expected == pytest.approx(18 / 4 / constant / (2 * math.pi) * 48, rel=0.02)
    assert steps["direction"].holds(400) and not steps["direction"].holds(0) and not steps["direction"].holds(-400)
    assert steps["out_and_back"].holds(-32) and not steps["out_and_back"].holds(34)
    plain = {s.id for s in of(lantern_carousel()).outcomes["bench"].results["steps"]}
    assert "barrier_lit" not in plain and "out_and_back" not in plain and "direction" in plain


def test_the_wires_name_pull_ups_and_lamp_resistors() -> None:
    wires = [c.signal for c in of(stage()).wiring.connections]
    assert "ENC A, 10 kΩ up to the logic's supply" in wires and "Encoder supply, each lamp by 220 Ω" in wires
    assert "ENC A" in [c.signal for c in of(lantern_carousel()).wiring.connections]


def test_one_sensor_alone_has_two_edges_a_tooth_and_the_shorter_of_tooth_and_gap() -> None:
    """12 teeth: 24 counts where two sensors give 48; a tooth of 5.2 mm of 10.47 mm leaves 50.3 % gap, so 49.7 % is the
    shorter, and edges off by 0.2 mm at both ends leave 45.8 %."""
    two, one = of(stage()).encoder, of(stage(channels="1")).encoder
    assert (two.counts_per_turn.value, one.counts_per_turn.value) == (48, 24)
    assert one.disc is not None and one.disc.pair is None
    pitch = math.pi * 40 / 12
    tooth = stage().driven[0].of_motor.encoder.tooth.value * 1000
    shorter = min(tooth, pitch - tooth) / pitch
    cut = stage().driven[0].of_motor.encoder.cut.value * 1000
    assert one.disc.shortest.value == pytest.approx(shorter)
    assert one.disc.as_cut.value == pytest.approx(shorter - 2 * cut / pitch)
    codes = set(found(stage(channels="1")))
    assert "encoder.alone" in codes and not codes & {"encoder.states", "encoder.phase"}
    assert of(stage(channels="1", decoding="1")).encoder.counts_per_turn.value == 12


def test_a_weight_that_may_pull_it_back_is_told_of_one_sensor_alone() -> None:
    """The curtain hangs on its winch: let go it may run back, and one sensor takes that for more of the way up."""
    told = found(stage(channels="1"))["encoder.alone"]
    assert told.verdict == "exceeded" and "pull it back" in told.todo and told.remedy is not None
    assert "encoder.alone" not in found(stage(channels=told.remedy.text))


def test_an_encoder_between_two_stages() -> None:
    """12 teeth × 4 on a shaft that turns once in 5 turns of the motor, behind it 150 ÷ 5 = 30: 48 × 30 an output turn,
    48 ÷ 5 a motor turn."""
    build = lantern_carousel()
    motor = build.driven[0].of_motor
    motor.encoder.runs.clear()
    motor.encoder.calibrated.text, motor.encoder.place, motor.encoder.before.text = "", "between", "5"
    teeth, ratio = motor.encoder.teeth.value, motor.load.gear_ratio.value
    counts = of(build).encoder
    assert counts.counts_per_output_turn.value == pytest.approx(4 * teeth * ratio / 5)
    assert counts.counts_per_motor_turn.value == pytest.approx(4 * teeth / 5)
    motor.encoder.before.text = ""
    assert of(build).encoder.counts_per_output_turn.value is None
    rate = next(f for f in assess(build).drives["d1"].findings if f.code == "encoder.rate")
    assert rate.verdict == "unknown" and "Gear before it" in rate.unknown


def test_a_comparator_reads_what_an_input_would_not() -> None:
    """Paper lets half the light pass: 2.2 V in the dark, where an input wants 3.5 V; a comparator at 0.8 V and 1.6 V
    reads both levels."""
    poor = {"leak": "25 %", "lit_a": "1 mA", "stray_a": "0 µA"}
    assert found(stage(**poor))["encoder.dark"].verdict == "exceeded"
    compared = found(stage(**poor, reads="comparator", switch_low="0.8 V", switch_high="1.6 V"))
    assert {compared[c].verdict for c in ("encoder.lit", "encoder.dark", "encoder.hysteresis")} <= {"holds", "tight"}
    bare = found(stage(**poor, reads="comparator"))
    assert bare["encoder.lit"].verdict == bare["encoder.hysteresis"].verdict == "unknown"


def test_the_bound_that_is_offered_for_a_speed_that_is_not_read_holds_once_it_is_taken() -> None:
    build = lantern_carousel()
    motor = build.driven[0].of_motor
    motor.encoder.interrupt_time.text = "80 µs"
    told = next(f for f in assess(build).drives["d1"].findings if f.code == "encoder.rate")
    assert told.verdict == "exceeded" and told.remedy is not None and told.remedy.path.endswith("panel.most_duty")
    motor.panel.most_duty.text = told.remedy.text
    after = next(f for f in assess(build).drives["d1"].findings if f.code == "encoder.rate")
    assert after.verdict in ("holds", "tight")
    settings = plan_program(assess(build), build.controllers[0].id).drives[0].settings
    share = float(told.remedy.text.split()[0].rstrip("%").replace("\u2009", "")) / 100
    assert settings.most == pytest.approx(share * settings.full, abs=1)


def test_a_tacho_is_read_before_its_wire_is_joined() -> None:
    """A quarter of the supply's 12.8 V turns the motor at 3.2 V ÷ K; 2 V for 1,000 rpm, halved."""
    build = lantern_carousel()
    encoder = build.driven[0].of_motor.encoder
    encoder.kind, encoder.tacho_v.text, encoder.divider.text = "tacho", "2 V/krpm", "2"
    done = of(build)
    assert not done.drive.has_encoder and done.drive.has_tacho
    (step,) = (s for s in done.steps if s.id == "tacho")
    volts, constant = done.context.volts.nominal.value, done.context.motor.motor_constant.value
    drop = done.context.motor.brush_drop.value
    assert volts and constant and drop is not None and step.expected.value is not None
    rpm = (volts / 4 - drop) / constant * 30 / math.pi
    assert step.expected.value == pytest.approx(2 * rpm / 1000 / 2, rel=1e-6)
    assert step.low == 0 and not [s for s in done.steps if s.id in ("counts", "direction", "out_and_back")]
    encoder.place, encoder.before.text = "between", "5"
    (step,) = (s for s in of(build).steps if s.id == "tacho")
    assert step.expected.value == pytest.approx(2 * rpm / 5 / 1000 / 2, rel=1e-6)


def test_what_an_encoder_takes_hangs_on_the_logics_regulator() -> None:
    """40 mA more at the regulator, while it is fitted."""

    def load(takes: str, fitted: str = "yes") -> float:
        build = lantern_carousel()
        encoder = build.driven[0].of_motor.encoder
        encoder.takes.text, encoder.fitted = takes, fitted
        (regulator,) = assess(build).shared.regulators
        return float(regulator.load.value or 0.0)

    assert load("40 mA") - load("") == pytest.approx(0.04) and load("40 mA", "no") == load("", "no")
