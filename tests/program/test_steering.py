"""What steers by the difference of its two sides: mixed within what there is, on the model and in both languages."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import pytest
from hypothesis import given
from hypothesis import strategies as st

from zinc_whistle.core.assess import assess
from zinc_whistle.core.model.build import Build, MotorDrive
from zinc_whistle.core.model.sequence import Steering
from zinc_whistle.core.program.board import Board
from zinc_whistle.core.program.board_parts import mixed
from zinc_whistle.core.program.micropython_source import micropython_source
from zinc_whistle.core.program.plan import plan_program
from zinc_whistle.core.program.planned import ProgramPlan
from zinc_whistle.core.program.protocol import framed, unframed

from .kit import Avr, Interpreter, compiled
from .test_protocol import serial_build

Tell = Callable[[str], str]


def base(controller: str, **steering: str) -> Build:
    """Two motors of the carousel's kind on one controller, the second without an encoder."""
    build = serial_build(controller)
    first = build.drives[0]
    assert isinstance(first, MotorDrive)
    first.signals.soft_start = "no"
    first.panel.command, first.panel.stop_input, first.panel.watch = "serial", "none", "no"
    second = first.model_copy(deep=True)
    second.id, second.name, second.unit, second.encoder.fitted = "d2", "Right", "u2", "no"
    unit = build.units[0].model_copy(update={"id": "u2"}, deep=True)
    build.units.append(unit)
    build.drives.append(second)
    build.steering = Steering.model_validate({"left": "d1", "right": "d2"} | steering)
    return build


def plan(controller: str, **steering: str) -> ProgramPlan:
    return plan_program(assess(base(controller, **steering)), "c1")


@pytest.fixture(scope="module", params=["model", "C", "MicroPython"])
def tell(request: pytest.FixtureRequest, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Tell]:
    """Says a line to a running program, and gives what it answers."""
    if request.param == "model":
        board = Board(plan("eight-bit-16"))

        def ask(text: str) -> str:
            for _ in range(25):
                board.tick()
            return unframed(board.receive(framed(text) + "\n")[0]) or ""

        yield ask
    elif request.param == "C":
        with Avr(compiled(plan("eight-bit-16"), tmp_path_factory.mktemp("c"))) as avr:
            avr.run(150)
            yield lambda text: avr.tell(text)[-1]
    else:
        made = plan("thirty-two-bit-radio")
        with Interpreter(micropython_source(made), made.tick_ms) as interpreter:
            interpreter.start()
            interpreter.run(150)
            yield lambda text: interpreter.tell(text)[-1]


def duties(tell: Tell) -> tuple[int, int]:
    left, right = (int(tell(f"status {n}").split(" ")[4]) for n in (1, 2))
    return left, right


@pytest.mark.parametrize(
    ("asked", "left", "ahead"),
    [("300 0", 300, 300), ("300 100", 400, 200), ("800 400", 1000, 333), ("0 500", 500, -500), ("-600 0", -600, -600)],
)
def test_both_sides_follow_speed_and_turn(tell: Tell, asked: str, left: int, ahead: int) -> None:
    """1200 and 400 are lessened to 1000 and 333. The right motor sits the other way round: ahead is back for it."""
    tell("steer 0 0")
    for _ in range(12):
        tell("hello")
    assert tell(f"steer {asked}") == "ok steer"
    for _ in range(12):
        tell("hello")
    got = duties(tell)
    assert got[0] == pytest.approx(left, abs=4) and -got[1] == pytest.approx(ahead, abs=4)


def test_what_cannot_be_steered_is_told(tell: Tell) -> None:
    assert tell("steer 1001 0") == "no range"
    assert tell("steer 5") == "no such command"
    assert tell("compare").startswith("ok compare 0 ")
    assert tell("compare").split(" ")[4] == "-", "the right side has no encoder"


@given(st.integers(-1000, 1000), st.integers(-1000, 1000))
def test_the_mix_keeps_the_ratio_and_never_asks_for_more_than_all(speed: int, turn: int) -> None:
    left, right = mixed(speed, turn)
    assert max(abs(left), abs(right)) <= 1000
    assert abs(left * (speed - turn) - right * (speed + turn)) <= abs(speed - turn) + abs(speed + turn)
    if max(abs(speed + turn), abs(speed - turn)) <= 1000:
        assert (left, right) == (speed + turn, speed - turn)


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"right": "d1"}, "Name two motors"),
        ({"right": ""}, "Name two motors"),
        ({}, ""),
    ],
)
def test_whether_both_sides_can(change: dict[str, str], says: str) -> None:
    (found,) = (f for f in assess(base("eight-bit-16", **change)).findings if f.code == "panel.steering")
    assert found.todo.startswith(says) and (found.verdict == "holds") is not bool(says)


@pytest.mark.parametrize(
    ("path", "value", "says"), [("command", "hold", "buttons"), ("reversal", "one way", "one way")]
)
def test_a_side_that_cannot_is_named(path: str, value: str, says: str) -> None:
    build = base("eight-bit-16")
    drive = build.drives[1]
    assert isinstance(drive, MotorDrive)
    setattr(drive.panel if path == "command" else drive.signals, path, value)
    (found,) = (f for f in assess(build).findings if f.code == "panel.steering")
    assert found.verdict == "exceeded" and "Right" in found.todo and says in found.todo
    assert plan_program(assess(build), "c1").steering is None
