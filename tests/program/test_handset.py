"""Handset and board as programs that talk by radio: nothing that is lost, repeated, late, false or foreign ever leaves
the drive running. On the models, and compiled C and MicroPython at both ends."""

from __future__ import annotations

import random
import subprocess
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from zinc_whistle.core.assess import assess
from zinc_whistle.core.model.build import Build
from zinc_whistle.core.panel.receiver import Receiver, Remote, RemoteButton
from zinc_whistle.core.program.board import Board
from zinc_whistle.core.program.c_handset import c_handset
from zinc_whistle.core.program.handset import HandsetModel, HandsetProgram
from zinc_whistle.core.program.micropython_handset import micropython_handset
from zinc_whistle.core.program.micropython_source import micropython_source
from zinc_whistle.core.program.plan import plan_handset, plan_program
from zinc_whistle.core.program.planned import NotYet, ProgramPlan
from zinc_whistle.core.program.protocol import framed, unframed

from .kit import FLAGS, Avr, Interpreter, compiled, target
from .radio_kit import ADDRESS, LOST_MS, Channel, radio_build


@pytest.fixture(scope="module")
def plan() -> ProgramPlan:
    return plan_program(assess(radio_build()), "c1")


@pytest.fixture(scope="module")
def hand() -> HandsetProgram:
    found = plan_handset(assess(radio_build()), "c2")
    assert found is not None
    return found


def drives(board: Board) -> bool:
    panel = board.drives[1].panel
    return panel.machine.by_name[panel.mode].action in ("forward", "back")


def told(sequence: int, bits: int, number: int = 1, address: int = ADDRESS) -> str:
    return framed(f"hand {address} {number} {sequence} {bits}") + "\n"


def joined(plan: ProgramPlan, number: int = 1) -> Board:
    """A board that has heard a handset three times with nothing pressed."""
    board = Board(plan)
    for k in (1, 2, 3):
        board.receive(told(k, 0, number))
        for _ in range(60):
            board.tick()
    return board


def test_the_design_holds_what_it_was_given(plan: ProgramPlan, hand: HandsetProgram) -> None:
    assert plan.remote is not None
    assert (plan.remote.address, plan.remote.lost_ms) == (ADDRESS, LOST_MS)
    assert [b.input for b in plan.remote.buttons[1]] == ["forward", "back", "stop"]
    assert (hand.number, hand.period_ms, [n for n, _ in hand.buttons]) == (1, 60, ["Up", "Down", "Halt"])
    assert plan_handset(assess(radio_build()), "c1") is None, "the board is no handset"


def test_a_press_drives_and_silence_ends_it(plan: ProgramPlan) -> None:
    board = joined(plan)
    assert board.receive(told(4, 1)) == [framed("ok hand 1 4")]
    for _ in range(LOST_MS - 1):
        board.tick()
    assert drives(board), "it is heard for so long"
    for _ in range(2):
        board.tick()
    assert not drives(board)
    # The same line again, or a later one with the button still down, starts nothing.
    for k, line in enumerate((told(4, 1), told(5, 1), told(6, 1), told(7, 1))):
        board.receive(line)
        for _ in range(100):
            board.tick()
        assert not drives(board), k


@pytest.mark.parametrize(
    ("line", "why"),
    [
        (told(4, 1, address=ADDRESS + 1), "another address"),
        (told(4, 1, number=7), "no such handset"),
        (told(4, 1, number=2), "the other handset has not joined"),
        (told(3, 1), "repeated"),
        (told(2, 1), "older"),
        (told(3 + 128, 1), "too new to be new"),
        (told(4, 256), "no bits"),
        (framed(f"hand {ADDRESS} 1 4") + "\n", "a word is missing"),
        (framed(f"hand {ADDRESS} 1 4 1 1") + "\n", "a word too many"),
        (told(4, 1)[:-3] + "0\n", "a wrong check"),
    ],
)
def test_what_is_not_for_it_moves_nothing(plan: ProgramPlan, line: str, why: str) -> None:
    board = joined(plan)
    answered = [unframed(x) for x in board.receive(line)]
    for _ in range(30):
        board.tick()
    assert not drives(board), why
    assert all(x == "no check" for x in answered if x != "ok hand 2 4"), answered


def test_answers_that_are_overheard_are_not_answered(plan: ProgramPlan) -> None:
    board = Board(plan)
    for text in ("ok hand 1 4", "no such command", "at 10 1 idle 0 0 0 0"):
        assert board.receive(framed(text) + "\n") == []
    assert board.silent_ms == plan.link_ms, "none of it counts as the port's"
    board.receive(framed("hello") + "\n")
    assert board.silent_ms == 0
    board.receive(told(1, 0))
    board.tick()
    assert board.silent_ms == 1, "nor does a handset keep the port alive"


def test_the_other_handset_s_silence_stops_nothing(plan: ProgramPlan) -> None:
    board = joined(plan)
    for k in range(1, 4):
        board.receive(told(k, 0, 2))
    for k in range(4, 40):
        board.receive(told(k, 1))
        for _ in range(60):
            board.tick()
    assert drives(board)
    assert board.receiver is not None and not board.receiver.heard[2].joined


@settings(max_examples=60, deadline=None)
@given(st.integers(0, 10**6), st.integers(400, 4000))
def test_a_lossy_channel_never_leaves_it_running(seed: int, dies_ms: int) -> None:
    """The handset is pressed and let go at random and goes dead at some moment. Whenever it drives, a line that was
    pressed was sent no longer ago than the channel may be late, the silence that stops and one round; and of the lines
    that came, the one that was sent last is not one of a button let go, whatever came after it."""
    run_through(seed, dies_ms, Channel(seed, loss=0.3))


PLAN = plan_program(assess(radio_build()), "c1")
HAND = plan_handset(assess(radio_build()), "c2")


def run_through(seed: int, dies_ms: int, channel: Channel) -> int:
    """Gives for how many ms it drove."""
    assert HAND is not None
    board, model, chance = Board(PLAN), HandsetModel(HAND), random.Random(seed + 1)
    pressed, pressed_sent, drove = False, -(10**6), 0
    sent, newest, calm_since = dict[str, tuple[int, bool]](), -1, -1
    for now in range(dies_ms + 2 * LOST_MS):
        if chance.random() < 0.004:
            pressed = not pressed
        if now < dies_ms and (line := model.tick({0: pressed})):
            channel.send(now, line)
            sent[line] = now, model.steady > 0
            if model.steady:
                pressed_sent = now
            if chance.random() < channel.foreign:
                channel.send(now, told(chance.randrange(256), 1, address=chance.randrange(1, ADDRESS)))
        for line in channel.come(now):
            board.receive(line)
            at, down = sent.get(line, (-1, False))
            if at > newest:
                newest, calm_since = at, -1 if down else now
        board.tick()
        if drives(board):
            drove += 1
            assert calm_since < 0 or now - calm_since < 5, "an old line started it again"
            assert now - pressed_sent <= channel.most_late + LOST_MS + 1, now
    assert not drives(board)
    return drove


def test_a_good_channel_lets_it_drive() -> None:
    """Else the test above would hold of a board that never moves."""
    assert sum(run_through(seed, 4000, Channel(seed, 0.05, 0.05, 20, 0.0, 0.1)) for seed in range(6)) > 3000


def test_a_receiver_that_takes_the_repeated_would_be_caught(monkeypatch: pytest.MonkeyPatch) -> None:
    """With any line taken as new, a pressed one that comes late starts it after the button was let go."""

    def gullible(self: Receiver, address: int, number: int, sequence: int, bits: int) -> bool:
        hand = self.heard[1]
        hand.bits, hand.quiet, hand.joined = bits, 0, True
        return True

    monkeypatch.setattr(Receiver, "take", gullible)
    with pytest.raises(AssertionError, match="an old line"):
        sum([run_through(seed, 3000, Channel(seed, loss=0.3)) for seed in range(20)])


@given(st.lists(st.tuples(st.integers(0, 255), st.integers(0, 1), st.integers(0, 300)), max_size=60))
def test_nothing_is_pressed_before_three_quiet_lines(lines: list[tuple[int, int, int]]) -> None:
    """Against a rule told apart from the machine: the last lines since the last silence must contain three calm ones
    before any press counts."""
    receiver = Receiver(Remote(1, 200, {1: (RemoteButton(0, 1, "forward"),)}))
    calm = 0
    for sequence, bits, wait in lines:
        taken = receiver.take(1, 1, sequence, bits)
        if taken and not bits:
            calm += 1
        if receiver.pressed(1):
            assert calm >= 3
        for _ in range(wait):
            receiver.tick()
        if wait >= 200:
            assert not receiver.pressed(1)
            calm = 0


# ---- the programs ----


def compiled_handset(hand: HandsetProgram, folder: Path) -> Path:
    source, elf, made = folder / "handset.c", folder / "handset.elf", folder / "handset.hex"
    source.write_text(c_handset(hand), "utf-8")
    done = subprocess.run(["avr-gcc", target(), *FLAGS, "-o", elf, source], capture_output=True, text=True)
    assert done.returncode == 0, done.stderr
    subprocess.run(["avr-objcopy", "-O", "ihex", elf, made], check=True)
    return made


class Both:
    """A handset and a board that run, and a channel between them. Times in ms."""

    def __init__(self, board: Avr | Interpreter, hand: Avr | Interpreter, up: object) -> None:
        self.board, self.hand, self.up = board, hand, up

    def press(self, on: bool) -> None:
        if isinstance(self.hand, Avr):
            self.hand.contacts(**{str(self.up): 0 if on else 1})
        else:
            self.hand.levels(**{f"p{self.up}": 0 if on else 1})

    def step(self, ms: int, over: bool = True, back: bool = True, again: str = "") -> list[str]:
        """Some time of both; gives the lines that the handset sent. ``over``: they arrive; ``again`` comes besides."""
        lines = spoken(self.hand, ms)
        arrive = "".join(framed(x) + "\n" for x in lines) if over else ""
        answers = heard_by(self.board, again + arrive, ms)
        if back and answers:
            heard_by(self.hand, "".join(framed(x) + "\n" for x in answers), 0)
        return lines

    def mode(self) -> str:
        return self.board.status(1)[0]


def spoken(one: Avr | Interpreter, ms: int) -> list[str]:
    return heard_by(one, "", ms)


def heard_by(one: Avr | Interpreter, text: str, ms: int) -> list[str]:
    if isinstance(one, Interpreter):
        return one.send(text, ms)
    if text:
        one.ask(send=text)
    one.run(ms)
    return one.lines()


@pytest.fixture(params=["C", "MicroPython"])
def both(request: pytest.FixtureRequest, tmp_path: Path) -> Iterator[Both]:
    if request.param == "C":
        done = assess(radio_build())
        hand = plan_handset(done, "c2")
        assert hand is not None
        up = hand.buttons[0][1].port
        with (
            Avr(compiled(plan_program(done, "c1"), tmp_path)) as board,
            Avr(compiled_handset(hand, tmp_path), hand.lamp.port) as one,
        ):
            one.contacts(**{pin.port: 1 for _, pin in hand.buttons})
            board.run(150)
            yield Both(board, one, up)
    else:
        done = assess(radio_build("thirty-two-bit-radio"))
        hand, plan = plan_handset(done, "c2"), plan_program(done, "c1")
        assert hand is not None
        with (
            Interpreter(micropython_source(plan), plan.tick_ms) as board,
            Interpreter(micropython_handset(hand), hand.tick_ms) as one,
        ):
            board.start()
            one.levels(**{f"p{pin.program}": 1 for _, pin in hand.buttons})
            one.start()
            board.run(150)
            yield Both(board, one, hand.buttons[0][1].program)


def test_two_programs_talk(both: Both) -> None:
    for _ in range(8):
        both.step(60)
    assert both.mode() == "idle"
    both.press(True)
    sent: list[str] = []
    for _ in range(4):
        sent += both.step(60)
    assert both.mode() == "forward", sent
    # Each second line is lost: it goes on.
    for k in range(10):
        sent += both.step(60, over=k % 2 == 0)
    assert both.mode() == "forward"
    # All are lost, and an old one comes again and again: it stops.
    old = framed(next(x for x in sent if x.endswith(" 1"))) + "\n"
    for _ in range(10):
        both.step(60, over=False, again=old)
    assert both.mode() in ("resting", "idle")
    # Heard again with the button still down: it starts nothing before the button is let go.
    for _ in range(8):
        both.step(60)
    assert both.mode() == "idle"
    both.press(False)
    for _ in range(6):
        both.step(60)
    both.press(True)
    for _ in range(4):
        both.step(60)
    assert both.mode() == "forward"
    # A foreign handset with nothing pressed does not stop it, a dead one does.
    for _ in range(3):
        both.step(60, again=framed(f"hand {ADDRESS + 1} 1 9 0") + "\n")
    assert both.mode() == "forward"
    heard_by(both.board, "", 700)
    assert both.mode() in ("resting", "idle")


def test_the_lamp_tells_whether_it_is_answered(both: Both) -> None:
    def lit() -> int:
        if isinstance(both.hand, Avr):
            return next(iter(both.hand.levels.values()))
        pin = both.hand.ask(run="print(program.lamp.value())")
        return int(pin)

    for _ in range(8):
        both.step(60)
    assert lit() == 1
    for _ in range(6):
        both.step(60, back=False)
    assert lit() == 0


@pytest.mark.parametrize("language", ["C", "MicroPython"])
def test_a_handset_sends_what_its_model_sends(language: str, tmp_path: Path) -> None:
    """Buttons pressed and let go, one of them bouncing: the same lines in the same order."""
    name = "eight-bit-16" if language == "C" else "thirty-two-bit-radio"
    hand = plan_handset(assess(radio_build(name)), "c2")
    assert hand is not None
    script = [(0, False, 100), (0, True, 200), (1, True, 90), (0, False, 5), (0, True, 95), (2, True, 130)]
    script += [(1, False, 70), (0, False, 200), (2, False, 120)]
    model, wanted = HandsetModel(hand), list[str]()
    held = dict[int, bool]()
    for bit, on, ms in script:
        held[bit] = on
        for _ in range(ms // hand.tick_ms):
            wanted += [x.strip() for x in [model.tick(held)] if x]
    pins = [pin for _, pin in hand.buttons]
    if language == "C":
        with Avr(compiled_handset(hand, tmp_path)) as one:
            one.contacts(**{p.port: 1 for p in pins})
            got: list[str] = []
            for bit, on, ms in script:
                one.contacts(**{pins[bit].port: 0 if on else 1})
                got += spoken(one, ms)
            got += spoken(one, 8)
    else:
        with Interpreter(micropython_handset(hand), hand.tick_ms) as one:
            one.levels(**{f"p{p.program}": 1 for p in pins})
            one.start()
            got = []
            for bit, on, ms in script:
                one.levels(**{f"p{pins[bit].program}": 0 if on else 1})
                got += spoken(one, ms)
    assert got == [unframed(x) for x in wanted]


@pytest.mark.parametrize("name", ["eight-bit-16", "eight-bit-large", "thirty-two-bit-radio"])
def test_every_profile_makes_a_handset(name: str, tmp_path: Path) -> None:
    hand = plan_handset(assess(radio_build(name)), "c2")
    assert hand is not None
    if hand.controller.program == "avr":
        assert "hand %u %u %u %u" in c_handset(hand)
    else:
        compile(micropython_handset(hand), "handset.py", "exec")


@pytest.mark.parametrize(
    ("change", "says"),
    [
        (lambda b: setattr(b.radio.address, "text", ""), "address"),
        (lambda b: setattr(b.handsets[1].number, "text", "1"), "number"),
        (lambda b: setattr(b.controllers[0], "node", "first"), "One program for two"),
    ],
)
def test_what_is_missing_is_told(change: Callable[[Build], None], says: str) -> None:
    build = radio_build()
    change(build)
    with pytest.raises(NotYet) as caught:
        plan_program(assess(build), "c1")
    assert says in str(caught.value)
