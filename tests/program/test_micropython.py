"""The MicroPython program in the real interpreter: every combination runs, and its pins do what was planned."""

from __future__ import annotations

import itertools
from typing import Any

import pytest

from zinc_whistle.core.assess import assess
from zinc_whistle.core.model.build import Build
from zinc_whistle.core.program.board import Board
from zinc_whistle.core.program.micropython_source import guard, micropython_source
from zinc_whistle.core.program.plan import plan_program
from zinc_whistle.core.program.planned import NotYet, ProgramPlan
from zinc_whistle.demo.data import profile, puppet_stage

from .kit import Interpreter, planned
from .test_c import STYLES, styled


def on_python(build: Build) -> Build:
    """The same build on the controller that speaks MicroPython."""
    build.controllers = [profile("thirty-two-bit-48").model_copy(update={"id": "c1", "regulator": "r1"}, deep=True)]
    for drive in build.drives:
        drive.wiring.fixed_pins = []
    return build


def roomy(build: Build) -> Build:
    """With pins enough for everything at once."""
    pins = build.controllers[0].pins
    for number in range(10, 22):
        more = pins[6].model_copy(update={"id": f"m{number}", "label": f"G{number}", "program": str(number)})
        pins.append(more)
    return build


def started(python: Interpreter, plan: ProgramPlan, **pressed: bool) -> None:
    """Contacts as they stand at rest, then power up."""
    for drive in plan.drives:
        for c in drive.contacts:
            on = pressed.get(c.input, False)
            python.levels(**{f"p{c.pin.program}": int(on != c.low)})
    python.start()
    python.run(60)


@pytest.fixture(scope="module")
def interpreter() -> Any:
    with Interpreter("", 5) as python:
        yield python


@pytest.mark.parametrize("style", [s for s in STYLES if s != "two gates"])
@pytest.mark.parametrize("command", ["hold", "touch", "serial"])
def test_every_style_and_command_runs(interpreter: Interpreter, style: str, command: str) -> None:
    both_ways = style != "one input"
    full = {
        "limits": "both",
        "stop_input": "closed",
        "fault_input": "low",
        "watch": "yes",
        "offset": "yes",
        "speed_by": "knob",
    }
    for extra in ({}, full | ({"homing": "back", "moves": "yes"} if both_ways else {})):
        plan = planned(roomy(on_python(styled(style))), command=command, **extra)
        interpreter.ask(files={"/program.py": micropython_source(plan)})
        interpreter.ask(
            run=(
                "import sys, machine\nsys.modules.pop('program', "
                "None)\nmachine.handlers.clear()\nmachine.levels.clear()"
            )
        )
        interpreter.ask(run="import program\nfor _ in range(40):\n    program.listen()\n    program.tick()")
        mode = interpreter.seen("program.drives[1].mode")
        # With all contacts open a stop that opens reads as pressed: a broken wire stops.
        assert mode == "stopped"


@pytest.mark.parametrize("decay", ["slow", "fast", "locked anti-phase"])
def test_pulses_have_the_planned_frequency_and_duty(decay: str) -> None:
    plan = planned(
        on_python(styled("pwm and direction", decay=decay, soft_start="no")),
        command="serial",
        stop_input="none",
        watch="no",
    )
    pins = {s: p.program for s, p in plan.drives[0].pins.items()}
    with Interpreter(micropython_source(plan), plan.tick_ms) as python:
        started(python, plan)
        for share in (250, -600):
            python.tell(f"duty 1 {share}", 400)
            python.tell(f"duty 1 {share}", 300)
            pulsed = python.seen("machine.pwm")
            if decay == "locked anti-phase":
                (frequency, duty), other = pulsed[pins["DIR"]], python.seen(f"machine.levels[{pins['PWM']}]")
                assert duty / 65535 == pytest.approx((1 + share / 1000) / 2, abs=1e-3)
                assert other == 1
            else:
                frequency, duty = pulsed[pins["PWM"]]
                assert duty / 65535 == pytest.approx(abs(share) / 1000, abs=1e-3)
                assert python.seen(f"machine.levels[{pins['DIR']}]") == int(share > 0)
            assert frequency == pytest.approx(plan.drives[0].timing.frequency_hz, rel=1e-3)
        python.tell("stop")
        assert python.seen("machine.pwm") == {}
        assert python.seen(f"machine.levels[{pins['PWM']}]") == 0


def test_relays_wait_for_the_pulses_and_pulses_for_the_relays() -> None:
    build = on_python(puppet_stage())
    build.drives[0].signals.ramp_time.text = "0.1 s"
    plan = planned(roomy(build), pause="130 ms", debounce="5 ms")
    drive = plan.drives[0]
    coils, pwm = [drive.pins[f"COIL {k}"].program for k in (1, 2)], drive.pins["PWM"].program
    contacts = {c.input: f"p{c.pin.program}" for c in drive.contacts}
    with Interpreter(micropython_source(plan), plan.tick_ms) as python:
        started(python, plan)
        course = []
        for pressed, ms in (("forward", 400), ("", 30), ("back", 700), ("", 60), ("forward", 300)):
            python.levels(**{contacts[n]: 0 if n == pressed else 1 for n in ("forward", "back")})
            for _ in range(ms // plan.tick_ms):
                python.run(plan.tick_ms)
                levels = python.seen(
                    f"[machine.levels.get(p) for p in ({coils[0]}, {coils[1]})] + [{pwm} in machine.pwm]"
                )
                course.append(levels)
        pulses = [k for k, x in enumerate(course) if x[2]]
        moves = [k for k, (a, b) in enumerate(itertools.pairwise(course), 1) if a[:2] != b[:2]]
        assert len(pulses) > 50 and len(moves) >= 3
        wait = drive.settings.coil_ms
        assert all(abs(p - m) >= wait for m in moves for p in pulses)
        assert [1, 1] not in [x[:2] for x in course]


def test_model_and_program_agree_tick_by_tick() -> None:
    import random

    build = roomy(on_python(puppet_stage()))
    build.sequences = []  # a drive that starts at a touch takes no orders
    plan = planned(build, limits="both", speed_by="knob", command="touch", pause="60 ms")
    drive = plan.drives[0]
    contacts = {c.input: c for c in drive.contacts}
    rng, pressed, board = random.Random(3), dict.fromkeys(contacts, False), Board(plan)
    knob, modes = 0, set()
    with Interpreter(micropython_source(plan), plan.tick_ms) as python:
        for c in contacts.values():
            python.levels(**{f"p{c.pin.program}": int(pressed[c.input] != c.low)})
        python.ask(run="import program")
        for _ in range(160):
            name = rng.choice(list(contacts))
            pressed[name] = rng.random() < (0.15 if name in ("stop", "limit_front", "limit_back") else 0.5)
            knob = rng.choice([200, 2500, 2500, 4000, 10]) if rng.random() < 0.3 else knob
            c = contacts[name]
            python.levels(**{f"p{c.pin.program}": int(pressed[name] != c.low)})
            python.ask(run=f"machine.volts[{drive.pins['KNOB'].program}] = {knob << 4}")
            ticks = rng.choice([3, 9, 30])
            for _ in range(ticks):
                board.tick({1: pressed}, knobs={1: knob})
            python.run(ticks * plan.tick_ms)
            model = board.drives[1]
            assert python.seen("[program.drives[1].mode, program.drives[1].level, program.drives[1].coils]") == [
                model.panel.mode,
                model.panel.applied_level,
                sum(1 << k for k, n in enumerate(drive.lines.coils) if model.panel.coils[n] == "1"),
            ]
            modes.add(model.panel.mode)
    assert len(modes) >= 5, modes


def test_servos_give_pulses_once_they_are_told_a_place() -> None:
    build = on_python(puppet_stage())
    plan = plan_program(assess(roomy(build)), "c1")
    pin = plan.servos[0].pin.program
    with Interpreter(micropython_source(plan), plan.tick_ms) as python:
        started(python, plan)
        assert pin not in python.seen("machine.pwm")
        assert python.tell("duty 2 250", 10) == ["ok duty"]
        frequency, duty = python.seen("machine.pwm")[pin]
        assert frequency == 50
        assert duty / 65536 / 50 == pytest.approx(1.25e-3, abs=1e-6)
        python.run(800)
        assert pin not in python.seen("machine.pwm")


def test_two_gates_are_refused_in_words() -> None:
    with pytest.raises(NotYet, match="dead time"):
        micropython_source(planned(on_python(styled("two gates"))))


def test_a_guard_reads_the_inputs() -> None:
    assert guard("homed and (ahead or not back)") == 'self.homed and (on["ahead"] or not on["back"])'
