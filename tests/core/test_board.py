"""The model of the board under any traffic, the panel under any presses, and the strips that are drawn of it."""

from __future__ import annotations

import itertools
from functools import cache
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from zinc_whistle.core.assess import assess
from zinc_whistle.core.cases.truth import truth_table
from zinc_whistle.core.model.build import MotorDrive
from zinc_whistle.core.model.panel import PanelSpec
from zinc_whistle.core.panel.lines import lines_of
from zinc_whistle.core.panel.machine import Around, assemble
from zinc_whistle.core.panel.runtime import Panel
from zinc_whistle.core.panel.settings import KNOB_LOST, KNOB_TOP, KNOB_ZERO, Settings
from zinc_whistle.core.panel.strips import changeover, period
from zinc_whistle.core.panel.trial import Memory, advance
from zinc_whistle.core.program.board import Board
from zinc_whistle.core.program.plan import plan_program
from zinc_whistle.core.program.planned import ProgramPlan
from zinc_whistle.core.program.protocol import framed, unframed
from zinc_whistle.demo.data import lantern_carousel, puppet_stage


@cache
def serial_plan() -> ProgramPlan:
    build = lantern_carousel()
    drive, part = build.drives[0], build.units[0].part
    assert isinstance(drive, MotorDrive) and part is not None
    drive.signals.reversal, part.reverses = "through zero", "yes"
    drive.signals.ramp_time.text = "0.1 s"
    drive.panel.watch = "no"
    drive.panel.pause.text, drive.panel.link_time.text = "30 ms", "120 ms"
    return plan_program(assess(build), "c1")


def tell(board: Board, text: str) -> list[str]:
    return [unframed(x) or "" for x in board.receive(framed(text) + "\n")]


COMMANDS = st.one_of(
    st.sampled_from(["stop", "clear", "hello", "status 1", "counts 1", "home 1", "go 1 5", "report 20", "report 0"]),
    st.integers(-1200, 1200).map(lambda x: f"duty 1 {x}"),
    st.integers(-6000, 6000).map(lambda x: f"speed 1 {x}"),
)


@given(st.lists(st.tuples(COMMANDS, st.integers(1, 150)), max_size=30))
@settings(deadline=None, max_examples=80)
def test_whatever_the_port_says_the_board_keeps_its_rules(traffic: list[tuple[str, int]]) -> None:
    board = Board(serial_plan())
    drive, stopped, course = board.drives[1], False, []
    for text, ms in traffic:
        assert all(x.startswith(("ok ", "no ")) for x in tell(board, text))
        stopped = True if text == "stop" else False if text == "clear" else stopped
        for silent in range(1, ms + 1):
            board.tick({1: {"stop": False}})
            now = drive.now
            assert now is not None
            assert 0 <= now.level <= drive.program.settings.full
            if now.level:
                assert not stopped, "it drives though it was told to stop"
                assert silent <= board.plan.link_ms, "it drives though the port is silent"
            course.append((now.action, now.level))
    driven = [(k, a) for k, (a, level) in enumerate(course) if a in ("forward", "back") and level]
    for (i, a), (j, b) in itertools.pairwise(driven):
        if a != b:
            assert j - i > drive.program.settings.pause_ms, "it turned round without its rest"


@given(st.text(max_size=200))
def test_no_noise_on_the_line_does_anything_or_breaks_it(noise: str) -> None:
    board = Board(serial_plan())
    answers = board.receive(noise + "\n")
    assert all(unframed(x) == "no check" for x in answers if unframed(x) != "no such command")
    assert board.drives[1].way == 0
    assert tell(board, "hello")[-1] == "ok hello 2 1"


def test_a_servo_takes_its_place_and_loses_it_in_silence() -> None:
    board = Board(plan_program(assess(puppet_stage()), "c1"))
    assert tell(board, "duty 2 400") == ["ok duty"]
    assert tell(board, "status 2") == ["ok status 2 on 400 0 0 0"]
    assert tell(board, "speed 2 400") == ["no servo"]
    assert tell(board, "duty 2 -1") == ["no range"]
    for _ in range(board.plan.link_ms + 1):
        board.tick()
    assert tell(board, "status 2") == ["ok status 2 off 0 0 0 0"]
    assert tell(board, "duty 1 500") == ["no panel"], "the winch is commanded by its buttons"


PANELS = st.fixed_dictionaries(
    {
        "command": st.sampled_from(["hold", "touch"]),
        "limits": st.just("both"),
        "both": st.sampled_from(["stop", "first"]),
        "stop_input": st.sampled_from(["none", "open"]),
        "speed_by": st.just("fixed"),
        "fault_input": st.sampled_from(["none", "low"]),
    }
)
PRESSES = st.lists(
    st.tuples(
        st.sampled_from(["forward", "back", "stop", "clear", "limit_front", "limit_back", "fault"]),
        st.booleans(),
        st.integers(1, 80),
    ),
    max_size=40,
)


@given(PANELS, PRESSES)
@settings(deadline=None, max_examples=80)
def test_a_running_panel_never_does_what_its_check_forbids(choices: dict[str, str], presses: Any) -> None:
    machine = assemble(PanelSpec.model_validate(choices), Around(rest="brake"))
    made = Settings(full=400, wanted=300, ramp_ms=30, pause_ms=25, debounce_ms=4, coil_ms=10)
    panel = Panel(machine, lines_of(truth_table("coil and pwm", "slow")), made)
    contacts: dict[str, bool] = {}
    held: dict[str, int] = {}
    latched, last = False, ""
    since = 10**6
    for name, on, ms in presses:
        contacts[name] = on
        for _ in range(ms):
            for n in machine.inputs:
                held[n] = held.get(n, 0) + 1 if contacts.get(n) else 0
            now = panel.tick(contacts)
            sure = {n for n, k in held.items() if k > made.debounce_ms}
            latched = latched or "stop" in sure
            if now.level:
                way = now.action
                assert not (way == "forward" and "limit_front" in sure)
                assert not (way == "back" and "limit_back" in sure)
                assert not sure & {"stop", "fault"}
                assert way == last or not last or since > made.pause_ms
                last, since = way, 0
            since += 1


@given(st.integers(0, 1023))
def test_a_knob_is_whole_or_lost_and_rises_evenly(reading: int) -> None:
    machine = assemble(PanelSpec(speed_by="knob"), Around())
    panel = Panel(machine, lines_of(truth_table("two inputs", "slow")), Settings(400, 300, 0, 10, 5))
    said = panel.knob(reading)
    assert said["knob_lost"] == (reading < KNOB_LOST or reading > 1023 - KNOB_LOST)
    assert said["knob_zero"] == (reading <= KNOB_ZERO)
    assert 0 <= panel.wanted <= 400
    expected = 400 * (reading - KNOB_ZERO) / (KNOB_TOP - KNOB_ZERO)
    assert panel.wanted == pytest.approx(min(max(expected, 0), 400), abs=1)


@pytest.mark.parametrize("style", ["two inputs", "pwm and direction", "two gates", "coil and pwm", "one input"])
@given(duty=st.floats(0.0, 1.0), dead=st.floats(0.0, 5e-6))
@settings(deadline=None, max_examples=25)
def test_a_period_is_whole_and_a_leg_never_shorted(style: str, duty: float, dead: float) -> None:
    lines = lines_of(truth_table(style, "slow"))
    shown = period(lines, 20e3, duty, dead, "slow")
    assert sum(s.seconds for s in shown) == pytest.approx(50e-6)
    assert all(s.seconds >= -1e-18 for s in shown)
    if style == "two gates":
        assert all((s.levels["HIGH"], s.levels["LOW"]) != ("1", "1") for s in shown)
        high = sum(s.seconds for s in shown if s.levels["HIGH"] == "1")
        assert high == pytest.approx(duty * 50e-6 - min(dead, duty * 25e-6, (1 - duty) * 25e-6), abs=1e-12)


def test_a_change_of_direction_lasts_as_long_as_ramps_rest_and_relays_ask() -> None:
    machine = assemble(PanelSpec(), Around(rest="brake"))
    made = Settings(full=400, wanted=400, ramp_ms=100, pause_ms=50, debounce_ms=5, coil_ms=30)
    shown = changeover(machine, lines_of(truth_table("coil and pwm", "slow")), made)
    total = sum(s.seconds for s in shown)
    # Ramp down and up 100 ms each; between them the longer of the rest and the relays' own 30 + 30 ms, and some ticks.
    assert total == pytest.approx(0.1 + 0.1 + 0.06 + 0.03, abs=0.045)
    assert (
        changeover(assemble(PanelSpec(), Around(reverses=False)), lines_of(truth_table("one input", "slow")), made)
        == []
    )
    touched = changeover(
        assemble(PanelSpec(command="touch"), Around()), lines_of(truth_table("two inputs", "slow")), made
    )
    assert touched[-1].levels == {"IN 1": "0", "IN 2": "PWM"}


def test_a_trial_goes_on_where_it_was_and_refuses_what_is_not_there() -> None:
    machine = assemble(PanelSpec(stop_input="open"), Around())
    lines, made = lines_of(truth_table("two inputs", "slow")), Settings(400, 300, 50, 20, 5)
    memory = Memory()
    for pressed, ms, mode in (
        ([], 60, "idle"),
        (["forward"], 100, "forward"),
        (["forward", "stop"], 60, "stopped"),
        ([], 60, "stopped"),
        (["clear"], 100, "idle"),
    ):
        course = advance(machine, lines, made, memory, pressed, 0, ms)
        assert memory.mode == course.now.mode == mode
    assert memory.ms == 380
    with pytest.raises(ValueError, match="no input"):
        advance(machine, lines, made, memory, ["limit_front"], 0, 10)
    with pytest.raises(ValueError, match="last from 1"):
        advance(machine, lines, made, memory, [], 0, 99_999)
