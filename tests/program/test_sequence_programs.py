"""Sequences on the model, on the compiled program and in the interpreter: the same orders at the same time, and
whatever ends a sequence takes its orders back."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest

from zinc_whistle.core.assess import assess
from zinc_whistle.core.model.build import Build
from zinc_whistle.core.program.board import Board
from zinc_whistle.core.program.micropython_source import micropython_source
from zinc_whistle.core.program.plan import plan_program
from zinc_whistle.core.program.planned import NotYet, ProgramPlan
from zinc_whistle.core.program.protocol import framed, unframed
from zinc_whistle.demo.data import profile, puppet_stage

from .kit import Avr, Interpreter, compiled

STEPS = [
    {"id": "a", "drive": "d2", "do": "place", "place": {"text": "100 %"}, "until": "at once"},
    {"id": "b", "drive": "d3", "do": "place", "place": {"text": "100 %"}, "until": "there"},
    {"id": "c", "drive": "d1", "do": "forward", "until": "limit"},
    {"id": "d", "drive": "d2", "do": "place", "place": {"text": "0 %"}, "until": "time", "time": {"text": "0.2 s"}},
]
LOCK = {"id": "k", "drive": "d1", "fact": "at place", "of": "d3", "place": {"text": "100 %"}}


def stage(controller: str) -> Build:
    """The stage with quick reactions; shutters first, then the curtain, which needs the right shutter open."""
    build = puppet_stage()
    build.handsets, build.radio.board = [], ""
    build.controllers = [profile(controller).model_copy(update={"id": "c1", "regulator": "r1"}, deep=True)]
    winch = build.drives[0]
    winch.signals.ramp_time.text = "0.1 s"
    panel = winch.panel
    panel.debounce.text, panel.limit_contact, panel.stop_input = "10 ms", "open", "open"
    more = {
        "sequences": [{"id": "q", "name": "Opening", "controller": "c1", "steps": STEPS}],
        "interlocks": [LOCK],
    }
    return Build.model_validate(build.model_dump(mode="json") | more)


class Stage:
    """A running stage: contacts of the winch, the button of the sequence, and what is seen."""

    def __init__(self, plan: ProgramPlan) -> None:
        self.plan, self.winch = plan, plan.drives[0]
        self.transit = plan.scripts[0].orders[1].ms

    def press(self, *names: str) -> None:
        raise NotImplementedError

    def wait(self, ms: float) -> None:
        raise NotImplementedError

    def tell(self, text: str) -> str:
        raise NotImplementedError

    def mode(self, number: int = 1) -> str:
        return self.tell(f"status {number}").split(" ")[3]

    def place(self, number: int) -> int | None:
        words = self.tell(f"status {number}").split(" ")
        return int(words[4]) if words[3] == "on" else None


class OnModel(Stage):
    def __init__(self, plan: ProgramPlan) -> None:
        super().__init__(plan)
        self.board, self.pressed = Board(plan), set[str]()

    def press(self, *names: str) -> None:
        self.pressed = set(names)

    def wait(self, ms: float) -> None:
        for _ in range(round(ms)):
            contacts = {c.input: c.input in self.pressed for c in self.winch.contacts}
            self.board.tick({1: contacts}, plays={1: "play" in self.pressed})

    def tell(self, text: str) -> str:
        self.wait(25)
        return unframed(self.board.receive(framed(text) + "\n")[0]) or ""


class InC(Stage):
    avr: Avr

    def press(self, *names: str) -> None:
        levels = {c.pin.port: int((c.input in names) != c.low) for c in self.winch.contacts}
        play = self.plan.plays[0]
        assert play is not None
        self.avr.contacts(**levels | {play.pin.port: 0 if "play" in names else 1})

    def wait(self, ms: float) -> None:
        self.avr.run(ms)

    def tell(self, text: str) -> str:
        return self.avr.tell(text)[-1]


class InPython(Stage):
    interpreter: Interpreter

    def press(self, *names: str) -> None:
        levels = {f"p{c.pin.program}": int((c.input in names) != c.low) for c in self.winch.contacts}
        play = self.plan.plays[0]
        assert play is not None
        self.interpreter.levels(**levels | {f"p{play.pin.program}": 0 if "play" in names else 1})

    def wait(self, ms: float) -> None:
        self.interpreter.run(ms)

    def tell(self, text: str) -> str:
        return self.interpreter.tell(text)[-1]


def plan_of(controller: str) -> ProgramPlan:
    return plan_program(assess(stage(controller)), "c1")


@pytest.fixture(params=["model", "C", "MicroPython"])
def on(request: pytest.FixtureRequest, tmp_path: Path) -> Iterator[Stage]:
    """The stage, ready."""
    if request.param == "model":
        made: Stage = OnModel(plan_of("eight-bit-16"))
        made.wait(200)
        yield made
    elif request.param == "C":
        plan = plan_of("eight-bit-16")
        in_c = InC(plan)
        with Avr(compiled(plan, tmp_path)) as in_c.avr:
            in_c.press()
            in_c.wait(200)
            yield in_c
    else:
        plan = plan_of("thirty-two-bit-radio")
        in_python = InPython(plan)
        with Interpreter(micropython_source(plan), plan.tick_ms) as in_python.interpreter:
            in_python.press()
            in_python.interpreter.start()
            in_python.wait(200)
            yield in_python


def begun(on: Stage) -> None:
    on.press("play")
    on.wait(60)
    on.press()
    assert on.tell("playing").startswith("ok playing 1 ")


def test_shutters_then_curtain_to_its_limit_then_back(on: Stage) -> None:
    begun(on)
    assert on.place(2) == 1000 and on.place(3) == 1000
    assert on.mode() == "idle", "the curtain waits for the shutters' transit"
    on.wait(on.transit - 260)
    assert on.mode() == "idle"
    on.wait(300)
    assert on.mode() == "forward"
    on.wait(300)
    on.press("limit_front")
    on.wait(40)
    assert on.mode() in ("resting", "idle") and on.place(2) == 0
    on.wait(300)
    assert on.tell("playing") == "ok playing 0 0"
    assert on.place(3) == 1000, "a servo stays where it was sent, although no port was heard when it began"


@pytest.mark.parametrize("ends", ["stop", "forward", "line"])
def test_whatever_ends_it_takes_its_orders_back(on: Stage, ends: str) -> None:
    begun(on)
    on.wait(on.transit + 100)
    assert on.mode() == "forward"
    if ends == "line":
        assert on.tell("play 0") == "ok play"
    else:
        on.press(ends)
    on.wait(60)
    assert on.tell("playing") == "ok playing 0 0"
    if ends == "forward":
        assert on.mode() == "forward", "the hand drives it now"
        on.press()
    on.wait(400)
    assert on.mode() == ("stopped" if ends == "stop" else "idle")


def test_silence_ends_only_what_the_port_began(on: Stage) -> None:
    assert on.tell("play 2") == "no sequence"
    assert on.tell("play 1") == "ok play"
    on.wait(300)
    assert on.tell("playing").startswith("ok playing 1")
    on.wait(900)
    assert on.tell("playing") == "ok playing 0 0", "the port fell silent"
    begun(on)
    on.wait(on.transit + 600)
    assert on.mode() == "forward", "a button's sequence does not ask for the port"


def test_the_interlock_holds_whoever_orders(on: Stage) -> None:
    on.press("forward")
    on.wait(100)
    assert on.mode() == "idle", "the right shutter was never opened"
    on.press()
    on.wait(50)
    assert on.tell("duty 3 1000") == "ok duty"
    for _ in range(10):
        on.wait(on.transit / 10)
        on.tell("hello")
    on.press("forward")
    on.wait(60)
    assert on.mode() == "forward"
    assert on.tell("duty 3 400") == "ok duty"
    on.wait(30)
    assert on.mode() in ("resting", "idle"), "it moved from under the curtain"


def test_a_button_that_is_pressed_as_power_comes_begins_nothing(tmp_path: Path) -> None:
    plan = plan_of("eight-bit-16")
    in_c = InC(plan)
    with Avr(compiled(plan, tmp_path)) as in_c.avr:
        in_c.press("play")
        in_c.wait(300)
        assert in_c.tell("playing") == "ok playing 0 0"


def test_servos_alone_have_their_buttons(tmp_path: Path) -> None:
    build = stage("eight-bit-16")
    build.interlocks = []
    build.sequences[0].steps = build.sequences[0].steps[:2]
    plan = plan_program(assess(build), "c1")
    play = plan.plays[0]
    assert play is not None
    with Avr(compiled(plan, tmp_path)) as avr:
        avr.contacts(**{play.pin.port: 1})
        avr.run(200)
        avr.contacts(**{play.pin.port: 0})
        avr.run(60)
        assert [avr.tell(f"status {n}")[-1].split(" ")[3:5] for n in (2, 3)] == [["on", "1000"], ["on", "1000"]]
    wires = {c.id: c for c in assess(build).drives["d2"].wiring.connections}
    assert wires["signal:PLAY 1"].start.block == "panel" and "panel-" in wires


def test_a_sequence_that_cannot_be_done_has_no_program() -> None:
    build = stage("eight-bit-16")
    build.sequences[0].steps[0].do = "on"
    with pytest.raises(NotYet, match="Left shutter cannot do that"):
        plan_program(assess(build), "c1")
