"""One program for two controllers on one serial line: who answers, who obeys, and what cannot be one program."""

from __future__ import annotations

from collections.abc import Callable
from itertools import count
from pathlib import Path

import pytest

from zinc_whistle.core.assess import assess
from zinc_whistle.core.cases.wires.terminal import Terminal
from zinc_whistle.core.model.build import Build
from zinc_whistle.core.node import with_second
from zinc_whistle.core.program.archive import type_this
from zinc_whistle.core.program.board import Board
from zinc_whistle.core.program.micropython_source import micropython_source
from zinc_whistle.core.program.plan import plan_program
from zinc_whistle.core.program.planned import NotYet, ProgramPlan
from zinc_whistle.core.program.protocol import framed, unframed

from .kit import Avr, Interpreter, compiled
from .test_protocol import serial_build


def doubled(controller: str = "eight-bit-16") -> Build:
    numbers = count(1)
    return with_second(serial_build(controller), "c1", lambda: f"n{next(numbers)}")


def plans(build: Build) -> tuple[ProgramPlan, ProgramPlan]:
    done = assess(build)
    first, second = (plan_program(done, c.id) for c in build.controllers)
    return first, second


SCRIPT = [
    ("hello", "ok hello 2 2", ""),
    ("status 1", "ok status 1 idle 0 0 0 0", ""),
    ("status 2", "", "ok status 2 idle 0 0 0 0"),
    ("duty 2 300", "", "ok duty"),
    ("duty 1 2000", "no range", ""),
    ("duty 2 2000", "", "no range"),
    ("status 3", "no such drive", ""),
    ("duty x", "no such command", ""),
    ("duty x 5", "no number", ""),
    ("duty 2 x", "", "no number"),
    ("report 100", "no report", ""),
    ("report 2", "", "no report"),
    ("stop", "ok stop", ""),
    ("clear", "ok clear", ""),
    ("nonsense", "no such command", ""),
]
"""A line, what the first says to it, and what the second says."""
Talk = Callable[[str], list[str]]


def follows(first: Talk, second: Talk) -> None:
    for line, one, other in SCRIPT:
        assert first(line) == [one] * bool(one), line
        assert second(line) == [other] * bool(other), line


def of_board(board: Board) -> Talk:
    def tell(line: str) -> list[str]:
        for _ in range(30):
            board.tick()
        return [unframed(x) or "" for x in board.receive(framed(line) + "\n")]

    return tell


def test_the_model_never_answers_twice() -> None:
    plan, _ = plans(doubled())
    follows(of_board(Board(plan)), of_board(Board(plan, second=True)))
    first, second = Board(plan), Board(plan, second=True)
    assert first.receive("broken\n") == [framed("no check")] and second.receive("broken\n") == []


def test_a_stop_on_the_line_stops_both() -> None:
    plan, _ = plans(doubled())
    first, second = Board(plan), Board(plan, second=True)
    for line in ("hello", "duty 1 400", "duty 2 400"):
        for board in (first, second):
            board.receive(framed(line) + "\n")
            board.tick()
    for _ in range(100):
        for board in (first, second):
            board.receive(framed("hello") + "\n")
            board.tick()
    assert [b.drives[1].now.level > 0 for b in (first, second) if b.drives[1].now] == [True, True]
    for board in (first, second):
        board.receive(framed("stop") + "\n")
        board.tick()
    assert [b.drives[1].now.level for b in (first, second) if b.drives[1].now] == [0, 0]


def test_in_c(tmp_path: Path) -> None:
    plan, other = plans(doubled())
    image = compiled(plan, tmp_path)
    assert plan.identity is not None and other.identity is not None and plan.identity.port == other.identity.port
    with Avr(image) as first, Avr(image) as second:
        second.contacts(**{plan.identity.port: 0})
        first.contacts(**{plan.identity.port: 1})
        for board in (first, second):
            board.run(150)
            board.lines()
        follows(first.tell, second.tell)


def test_in_micropython() -> None:
    plan, _ = plans(doubled("thirty-two-bit-radio"))
    source = micropython_source(plan)
    assert plan.identity is not None
    with Interpreter(source, plan.tick_ms) as first, Interpreter(source, plan.tick_ms) as second:
        second.levels(**{f"p{plan.identity.program}": 0})
        rest = {f"p{plan.drives[0].pins['STOP'].program}": 0}
        for board in (first, second):
            board.levels(**rest)
            board.start()
            board.run(150)
        follows(first.tell, second.tell)


def test_both_tell_the_same_source_and_each_its_own_lines_to_type() -> None:
    first, second = plans(doubled("thirty-two-bit-radio"))
    assert micropython_source(first) == micropython_source(second)
    assert framed("status 1") in type_this(first) and framed("status 2") in type_this(second)
    assert "report" not in type_this(first)


@pytest.mark.parametrize(
    ("path", "text", "says"),
    [("ramp_time", "0.4 s", "differ in their numbers"), ("reversal", "one way", "differ in what their panels do")],
)
def test_drives_that_differ_need_two_programs(path: str, text: str, says: str) -> None:
    build = doubled()
    signals = build.drives[1].signals
    if path == "ramp_time":
        signals.ramp_time.text = text
    else:
        setattr(signals, path, text)
    with pytest.raises(NotYet, match=says):
        plan_program(assess(build), build.controllers[0].id)


def test_one_without_the_other_has_no_program() -> None:
    build = doubled()
    build.controllers[1].node = ""
    with pytest.raises(NotYet, match="one controller that is the first and one that is the second"):
        plan_program(assess(build), "c1")


def test_there_is_no_third() -> None:
    with pytest.raises(ValueError, match="one program serves two"):
        with_second(doubled(), "c1", lambda: "n9")
    with pytest.raises(LookupError):
        with_second(serial_build(), "none", lambda: "n9")


def test_the_identity_pin_is_at_ground_in_the_second_alone() -> None:
    done = assess(doubled())
    first, second = (done.drives[d.id].wiring.connections for d in done.build.drives)
    assert not any(c.id == "signal:IDENTITY" for c in first)
    (linked,) = (c for c in second if c.id == "signal:IDENTITY")
    assert linked.start == Terminal("identity", "GND") and linked.end.block == "controller"
    for wires in (first, second):
        assert {"line:in", "line:out", "line-"} <= {c.id for c in wires}


def test_what_the_copy_brings_along() -> None:
    build = doubled()
    assert [c.node for c in build.controllers] == ["first", "second"]
    assert len(build.drives) == len(build.units) == 2
    assert build.drives[1].controller == build.controllers[1].id
    assert build.drives[1].unit == build.units[1].id
    assert [c.regulator for c in build.controllers] == [r.id for r in build.supply.regulators], "each its own, on board"
    assert len({x.id for x in (*build.controllers, *build.units, *build.drives)}) == 6


def test_two_on_one_line_play_no_sequence() -> None:
    """Both would hear "play 1"."""
    build = doubled()
    step = {"id": "a", "drive": build.drives[0].id, "do": "forward", "until": "time"}
    played = [{"id": "q", "controller": "c1", "steps": [step]}]
    build = Build.model_validate(build.model_dump(mode="json") | {"sequences": played})
    with pytest.raises(NotYet, match="both would follow one order"):
        plan_program(assess(build), "c1")
