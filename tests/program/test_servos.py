"""Servos in both languages: several on one timer in turn, a knob that is followed, sequences with staggered starts."""

from __future__ import annotations

from itertools import pairwise
from pathlib import Path

import pytest

from tests.kit import finding
from zinc_whistle.core.assess import assess
from zinc_whistle.core.cases.pulses import pulses
from zinc_whistle.core.model.build import Build, bound_build
from zinc_whistle.core.model.given import Given
from zinc_whistle.core.model.sequence import Sequence
from zinc_whistle.core.panel.script import Order, script_of
from zinc_whistle.core.program.micropython_source import micropython_source
from zinc_whistle.core.program.plan import plan_program
from zinc_whistle.demo.data import puppet_stage

from .kit import CLOCK, Avr, Interpreter, compiled
from .test_micropython import on_python, roomy, started

FULL_SCALE = 1023


def stage_of(servos: int, knob: bool = False) -> Build:
    """So many servos on the small 8-bit controller beside the winch, which has no panel to speak of."""
    build = puppet_stage()
    build.sequences, build.interlocks, build.handsets = [], [], []
    winch, first = build.drives[0], build.drives[1].of_servo
    assert first is not None and winch.driven is not None
    winch.driven.panel.lamps = []
    first.servo.knob = "no"
    more = [first.model_copy(update={"id": f"s{k}", "name": f"Shutter {k}"}, deep=True) for k in range(2, servos + 1)]
    first.servo.knob = "yes" if knob else "no"
    build.drives = [winch, first, *more]
    return Build.model_validate(build.model_dump(mode="json"))


def widths(edges: list[tuple[int, str, int]], pin: str) -> list[float]:
    """The lengths of a pin's whole pulses (s)."""
    own = [(c, v) for c, p, v in edges if p == pin]
    return [(b - a) / CLOCK for (a, up), (b, down) in pairwise(own) if up and not down]


def test_two_servos_have_a_compare_output_each_and_three_take_turns() -> None:
    for count, turned in ((2, False), (3, True), (8, True)):
        build = stage_of(count)
        plans = pulses(bound_build(build)[0]).plans
        assert [plans[d.id].in_turn for d in build.servos] == [turned] * count
        done = assess(build)
        pins = [u.pin.id for d in build.servos for u in done.drives[d.id].wiring.pins if u.pin is not None]
        assert len(set(pins)) == count
        assert finding_of(done, build.servos[0].id, "servo.timer") == "holds"


def finding_of(done, drive: str, code: str) -> str:  # type: ignore[no-untyped-def]
    return next(f.verdict for f in done.findings if f.code == code and f.drive == drive)


def test_more_than_a_frame_holds_do_not_fit() -> None:
    """2 ms and 0.1 ms each: nine take 18.9 of 20 ms, ten 21. Then the conflict is told as before."""
    build = bound_build(stage_of(9))[0]
    assert all(pulses(build).plans[d.id].in_turn for d in build.servos)
    build = bound_build(stage_of(10))[0]
    assert not any(pulses(build).plans[d.id].in_turn for d in build.servos)
    assert pulses(build).tables["c1"].conflict


def test_pulses_in_turn_tremble_the_more_the_farther_it_turns() -> None:
    """10 µs of 1 ms: 0.9° of 90°, and 2.7° of 270°. With an output each nothing is asked."""
    build = stage_of(3)
    first = build.servos[0].id
    assert finding_of(assess(build), first, "servo.turn") == "holds"
    build.servos[0].servo.travel.text = "270 °"
    assert finding_of(assess(build), first, "servo.turn") == "exceeded"
    assert not [f for f in assess(stage_of(2)).findings if f.code == "servo.turn"]


def test_three_in_turn_give_each_its_pulse(tmp_path: Path) -> None:
    """1, 1.5 and 2 ms, 50 times a second, never two at once; silence and a stop take them away."""
    build = stage_of(3)
    plan = plan_program(assess(build), "c1")
    assert [s.turn for s in plan.servos] == [0, 1, 2]
    pins = [s.pin.port for s in plan.servos]
    with Avr(compiled(plan, tmp_path), *pins) as avr:
        avr.run(30)
        assert avr.edges == []
        for servo, place in zip(plan.servos, (0, 500, 1000), strict=True):
            assert avr.tell(f"duty {servo.number} {place}") == ["ok duty"]
        avr.tell("hello")
        edges = avr.run(200)
        for pin, wanted in zip(pins, (1e-3, 1.5e-3, 2e-3), strict=True):
            found = widths(edges, pin)
            assert 9 <= len(found) <= 11
            assert found == pytest.approx([wanted] * len(found), abs=8e-6), "an interrupt may come a little late"
        level = dict.fromkeys(pins, 0)
        for _, pin, up in edges:
            level[pin] = up
            assert sum(level.values()) <= 1
        assert avr.tell("stop") == ["ok stop"]
        avr.run(20)
        assert avr.run(60) == []


def knob(place: float) -> float:
    """The reading of a knob, as a share of full scale, at a share of its place."""
    return (60 + place * (980 - 60)) / FULL_SCALE


def test_a_servo_follows_its_knob_until_it_is_ordered(tmp_path: Path) -> None:
    build = stage_of(1, knob=True)
    plan = plan_program(assess(build), "c1")
    (servo,) = plan.servos
    assert servo.knob is not None
    channel = servo.knob.channel or servo.knob.port[1:]

    def place(avr: Avr) -> int:
        said = [x for x in avr.tell(f"status {servo.number}") if x.startswith("ok status")][-1].split(" ")
        return int(said[4]) if said[3] == "on" else -1

    with Avr(compiled(plan, tmp_path), servo.pin.port) as avr:
        avr.ask(volts={channel: 5 * knob(0.25)})
        avr.run(50)
        assert place(avr) == pytest.approx(250, abs=3)
        avr.tell(f"duty {servo.number} 800")
        avr.run(60)
        assert place(avr) == 800, "an order stands while the knob is still"
        avr.ask(volts={channel: 5 * knob(0.26)})
        avr.run(60)
        avr.tell("hello")
        assert place(avr) == 800, "a tremble of one per cent takes nothing over"
        avr.ask(volts={channel: 5 * knob(0.6)})
        avr.run(60)
        assert place(avr) == pytest.approx(600, abs=3)
        avr.ask(volts={channel: 0.0})
        avr.run(60)
        assert place(avr) == pytest.approx(600, abs=3), "a wire that is off moves nothing"
        avr.run(800)
        assert place(avr) == pytest.approx(600, abs=3), "the port's silence ends only what the port ordered"


def test_staggered_starts_part_the_orders_that_follow_at_once() -> None:
    build = stage_of(3)
    steps = [
        {"id": f"x{k}", "drive": d.id, "do": "place", "until": "at once", "place": {"text": "50 %"}}
        for k, d in enumerate(build.servos)
    ]
    sequence = Sequence.model_validate({"id": "q1", "name": "All", "controller": "c1", "steps": steps})
    sequence.stagger = Given(text="150 ms", origin="chosen")
    build.sequences = [sequence]
    own = bound_build(build)[0]
    orders = script_of(own, own.sequences[0], dict.fromkeys((d.id for d in build.servos), 400)).orders
    assert [(o.until, o.ms) for o in orders] == [("time", 150), ("time", 150), ("at once", 0)]
    own.sequences[0].stagger.text = "0 s"
    again = bound_build(own)[0]
    told: tuple[Order, ...] = script_of(again, again.sequences[0], {}).orders
    assert {o.until for o in told} == {"at once"}


def test_a_continuous_servo_is_never_there() -> None:
    build = stage_of(1)
    build.servos[0].servo.style = "continuous"
    step = {"id": "x", "drive": build.servos[0].id, "do": "place", "until": "there", "place": {"text": "100 %"}}
    sequence = Sequence.model_validate({"id": "q", "name": "On", "controller": "c1", "steps": [step]})
    build.sequences = [sequence]
    own = bound_build(build)[0]
    with pytest.raises(ValueError, match="turns on and on"):
        script_of(own, own.sequences[0], {build.servos[0].id: 400})


def test_in_the_interpreter_a_knob_is_followed_too() -> None:
    build = on_python(stage_of(1, knob=True))
    plan = plan_program(assess(roomy(build)), "c1")
    (servo,) = plan.servos
    assert servo.knob is not None
    with Interpreter(micropython_source(plan), plan.tick_ms) as python:
        python.analogue(servo.knob.program, round(knob(0.5) * 65535))
        started(python, plan)
        python.run(60)
        _, duty = python.seen("machine.pwm")[servo.pin.program]
        assert duty / 65536 / 50 == pytest.approx(1.5e-3, abs=5e-6)
        assert python.tell(f"duty {servo.number} 0", 10) == ["ok duty"]
        python.run(60)
        _, duty = python.seen("machine.pwm")[servo.pin.program]
        assert duty / 65536 / 50 == pytest.approx(1e-3, abs=5e-6)


def test_the_knob_of_a_servo_is_wired_with_its_end_resistors() -> None:
    net = assess(stage_of(1, knob=True)).drives["d2"].wiring.netlist
    names = {p.name for p in net.parts.values() if p.on == "panel d2"}
    assert {"Knob", "Upper end of the knob", "Lower end of the knob"} <= names
    assert finding(assess(stage_of(1, knob=True)), "wiring.return").verdict == "holds"
