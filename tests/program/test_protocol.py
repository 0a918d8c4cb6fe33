"""The line protocol: its check against the published one, and the same script on the model, on C and on MicroPython."""

from __future__ import annotations

import itertools
import re
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from zinc_whistle.core.model.build import Build
from zinc_whistle.core.program.board import Board
from zinc_whistle.core.program.micropython_source import micropython_source
from zinc_whistle.core.program.planned import ProgramPlan
from zinc_whistle.core.program.protocol import LONGEST, crc8, framed, unframed, whole
from zinc_whistle.demo.data import lantern_carousel, profile

from .kit import Avr, Interpreter, compiled, planned


def test_the_check_is_the_published_one() -> None:
    # CRC-8, polynomial 0x07, start 0, no reflection; check value for "123456789" is 0xF4
    # (ITU-T I.432.1 uses this polynomial for its header check; the check value is from memory, and derived here as
    # well).
    assert crc8(b"123456789") == 0xF4
    remainder = int.from_bytes(b"123456789", "big") << 8
    for shift in range(remainder.bit_length() - 9, -1, -1):
        if remainder >> (shift + 8) & 1:
            remainder ^= 0x107 << shift
    assert remainder == 0xF4


@given(st.text(alphabet=[chr(c) for c in range(32, 126)], max_size=LONGEST - 3), st.data())
def test_a_line_comes_back_whole_and_never_with_one_bit_or_two_neighbours_wrong(text: str, data: st.DataObject) -> None:
    line = framed(text)
    assert unframed(line) == text
    at, bit = data.draw(st.integers(0, len(line) - 1)), data.draw(st.integers(0, 6))
    broken = line[:at] + chr(ord(line[at]) ^ 1 << bit) + line[at + 1 :]
    assert unframed(broken) != text
    if len(line) > 1 and at + 1 < len(line) and line[at] != line[at + 1]:
        swapped = line[:at] + line[at + 1] + line[at] + line[at + 2 :]
        assert unframed(swapped) is None or unframed(swapped) != text


@pytest.mark.parametrize("text", ["a~b", "ümlaut", "x" * LONGEST, "a\nb"])
def test_what_cannot_go_over_the_wire_is_refused(text: str) -> None:
    with pytest.raises(ValueError, match="line"):
        framed(text)


@pytest.mark.parametrize(
    ("word", "number"),
    [
        ("12", 12),
        ("-7", -7),
        ("+5", 5),
        ("", None),
        ("-", None),
        ("1.5", None),
        ("1234567890", None),
        ("٣", None),
        ("1_0", None),
    ],
)
def test_whole_numbers_are_read_strictly(word: str, number: int | None) -> None:
    assert whole(word) == number


def serial_build(controller: str = "eight-bit-16") -> Build:
    """The carousel made to run both ways and to move, on one of the profiles."""
    build = lantern_carousel()
    drive = build.drives[0]
    build.controllers = [profile(controller).model_copy(update={"id": "c1", "regulator": "r1"}, deep=True)]
    drive.wiring.fixed_pins = []
    drive.signals.reversal = "through zero"
    drive.signals.ramp_time.text = "0.2 s"
    return build


PANEL = {
    "command": "serial",
    "limits": "both",
    "limit_contact": "open",
    "homing": "back",
    "moves": "yes",
    "stop_input": "open",
    "watch": "no",
    "pause": "60 ms",
    "debounce": "10 ms",
    "link_time": "300 ms",
}


@dataclass
class Target:
    """Something that speaks the protocol: send raw characters, pass time, press contacts by the panel's names."""

    send: Callable[[str, float], list[str]]
    press: Callable[[str, bool], None]
    plan: ProgramPlan

    def tell(self, text: str, wait: float = 25) -> list[str]:
        """A line, and what comes back."""
        return self.send(framed(text) + "\n", wait)

    def status(self) -> list[str]:
        """The words after the drive's number."""
        return self.tell("status 1", 20)[-1].split(" ")[3:]


def _model(plan: ProgramPlan) -> Target:
    board, pressed = Board(plan), dict[str, bool]()

    def send(text: str, wait: float) -> list[str]:
        said = board.receive(text)
        for _ in range(round(wait / plan.tick_ms)):
            said += board.tick({1: pressed})
        return [unframed(x) or "" for x in said]

    return Target(send, lambda name, on: pressed.update({name: on}), plan)


@pytest.fixture(scope="module", params=["model", "C", "MicroPython"])
def target(request: pytest.FixtureRequest, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Target]:
    """The same drive on the model, on the compiled program and in the interpreter."""
    if request.param == "model":
        yield _model(planned(serial_build(), **PANEL))
    elif request.param == "C":
        plan = planned(serial_build(), **PANEL)
        ports = {c.input: c.pin.port for c in plan.drives[0].contacts}
        with Avr(compiled(plan, tmp_path_factory.mktemp("c"))) as avr:

            def send(text: str, wait: float) -> list[str]:
                avr.ask(send=text)
                avr.run(wait)
                return avr.lines()

            avr.contacts(**dict.fromkeys(ports.values(), 1))
            avr.run(30)
            yield Target(send, lambda name, on: avr.contacts(**{ports[name]: 0 if on else 1}), plan)
    else:
        plan = planned(serial_build("thirty-two-bit-48"), **PANEL)
        pins = {c.input: f"p{c.pin.program}" for c in plan.drives[0].contacts}
        with Interpreter(micropython_source(plan), plan.tick_ms) as python:
            python.levels(**dict.fromkeys(pins.values(), 1))
            python.start()
            python.run(30)
            yield Target(python.send, lambda name, on: python.levels(**{pins[name]: 0 if on else 1}), plan)


def test_it_introduces_itself_and_refuses_what_it_cannot_do_in_words(target: Target) -> None:
    for asked, answered in [
        ("hello", "ok hello 2 1"),
        ("hello 1", "no such command"),
        ("", "no such command"),
        ("dance", "no such command"),
        ("duty 1", "no such command"),
        ("duty 1 2 3", "no such command"),
        ("duty 1 x", "no number"),
        ("duty 1 1001", "no range"),
        ("duty 1 -1001", "no range"),
        ("speed 1 40000", "no range"),
        ("duty 2 0", "no such drive"),
        ("report 5", "no range"),
        ("go 1 100", "no home yet"),
        ("counts 1", "ok counts 1 0 0"),
        ("duty  1 5", "no such command"),
        ("status 1x", "no number"),
        ("report 0", "ok report"),
        ("duty 1 0", "ok duty"),
    ]:
        assert target.tell(asked) == [answered], asked


@pytest.mark.parametrize(
    "raw",
    [
        "hello\n",
        "hello~00\n",
        "hello~7g\n",
        framed("hello").lower().replace("hello", "HELLO") + "\n",
        "~\n",
        "x" * 90 + "\n",
    ],
)
def test_a_line_with_a_wrong_check_does_nothing(target: Target, raw: str) -> None:
    assert target.send(raw, 40) == ["no check"]
    assert target.send("\n\r\n", 5) == []
    assert target.send(framed("hello") + "\r\n", 25) == ["ok hello 2 1"]


def _quiet(target: Target) -> None:
    target.tell("clear")
    target.press("stop", False)
    for _ in range(20):
        if target.status()[0] in ("idle", "waiting"):
            break
        target.tell("clear", 30)
    assert target.status()[:2] == ["idle", "0"]


def test_duty_drives_and_silence_stops(target: Target) -> None:
    _quiet(target)
    assert target.tell("duty 1 500", 40) == ["ok duty"]
    for _ in range(6):
        assert target.status()[0] == "forward"
        target.tell("hello", 60)
    assert 490 <= int(target.status()[1]) <= 500
    target.send("", 240)
    assert target.status()[0] == "forward"
    target.send("", 330)
    assert target.status()[0] in ("resting", "idle")
    target.send("", 100)
    assert target.status()[:2] == ["idle", "0"], "a line after the silence does not bring the old wish back"


def test_stop_is_latched_until_cleared(target: Target) -> None:
    _quiet(target)
    target.tell("duty 1 300", 60)
    assert target.status()[0] == "forward"
    assert target.tell("stop", 20) == ["ok stop"]
    assert target.status()[:2] == ["stopped", "0"]
    assert target.tell("duty 1 300", 60) == ["ok duty"]
    assert target.status()[0] == "stopped"
    assert target.tell("clear", 100) == ["ok clear"]
    assert target.status()[0] == "idle", "what was asked while it was stopped is forgotten"


def test_a_stop_button_counts_whatever_the_port_says(target: Target) -> None:
    _quiet(target)
    target.tell("duty 1 -300", 60)
    assert target.status()[0] == "back"
    target.press("stop", True)
    target.send("", 20)
    assert target.status()[:2] == ["stopped", "0"]
    target.tell("clear", 30)
    assert target.status()[0] == "stopped", "it is still pressed"
    target.press("stop", False)
    target.send("", 20)
    assert target.status()[0] == "stopped"
    target.tell("clear", 100)
    assert target.status()[0] == "idle"


def test_a_reversal_rests_on_the_way(target: Target) -> None:
    _quiet(target)
    target.tell("duty 1 200", 120)
    target.tell("duty 1 -200", 5)
    seen: list[str] = []
    for _ in range(60):
        mode = target.status()[0]
        if not seen or mode != seen[-1]:
            seen.append(mode)
        if mode == "back":
            break
    assert seen[0] in ("slowing_forward", "forward")
    assert seen[-3:] in (["resting", "idle", "back"], ["slowing_forward", "resting", "back"])


def test_limits_stop_their_own_direction_and_homing_makes_moves_possible(target: Target) -> None:
    _quiet(target)
    target.tell("duty 1 -200", 60)
    target.press("limit_back", True)
    target.send("", 20)
    assert target.status()[:2] == ["resting", "0"]
    target.tell("duty 1 0", 100)
    target.press("limit_back", False)
    target.send("", 20)
    assert target.tell("home", 40) == ["no such command"]
    assert target.tell("home 1", 40) == ["ok home"]
    assert target.status()[0] == "homing"
    target.press("limit_back", True)
    target.send("", 100)
    assert target.status()[0] == "idle"
    assert target.tell("go 1 500", 60) == ["ok go"]
    assert target.status()[0] == "moving_forward"
    assert target.tell("go 1 0", 60) == ["ok go"]
    assert target.status()[0] in ("slowing_forward", "resting")
    target.press("limit_back", False)
    _quiet(target)


def test_reports_come_at_the_rate_that_was_asked(target: Target) -> None:
    _quiet(target)
    said = target.tell("report 50", 240)
    target.tell("report 0")
    reports = [x.split(" ") for x in said if x.startswith("at ")]
    times = [int(r[1]) for r in reports]
    assert 3 <= len(times) <= 5
    assert all(b - a == 50 for a, b in itertools.pairwise(times))
    assert all(r[2:4] == ["1", "idle"] for r in reports)


def test_a_speed_closes_the_loop_and_a_duty_opens_it(target: Target) -> None:
    _quiet(target)
    target.tell("speed 1 2000", 60)
    for _ in range(6):
        target.tell("hello", 60)
    mode, level, speed, *_ = target.status()
    assert (mode, level, speed) == ("forward", "1000", "0"), "it stands still, so the loop gives all it has"
    target.tell("duty 1 250", 200)
    assert 240 <= int(target.status()[1]) <= 250


def test_gains_are_told_and_others_taken(target: Target) -> None:
    """As the program counts them; what is out of range changes nothing."""
    _quiet(target)
    loop = target.plan.drives[0].settings.loop
    assert loop is not None and loop.closed
    own = f"{loop.gain_fine} {loop.integral_fine}"
    assert target.tell("gains 1") == [f"ok gains 1 {own}"]
    for wrong in ("tune 1 0 5", "tune 1 32768 0", "tune 1 20 -1"):
        assert target.tell(wrong) == ["no range"]
    assert target.tell("tune 1 20") == ["no such command"] and target.tell("tune 1 2x 0") == ["no number"]
    assert target.tell("gains 1") == [f"ok gains 1 {own}"]
    assert target.tell("tune 1 1 0") == ["ok tune 1 1 0"] and target.tell("gains 1") == ["ok gains 1 1 0"]
    # With hardly any gain a shaft that stands asks for little more than the level that the speed needs.
    target.tell("speed 1 1200", 60)
    for _ in range(6):
        target.tell("hello", 60)
    weak = int(target.status()[1])
    assert target.tell(f"tune 1 {own}") == [f"ok tune 1 {own}"]
    assert weak < 700 < int(target.status()[1]), (weak, "the own gain gives all it has")
    target.tell("duty 1 0", 100)


def test_the_document_tells_every_answer_and_its_example_is_right() -> None:
    from zinc_whistle.core.program import c_protocol

    text = (Path(__file__).parents[2] / "docs" / "protocol.md").read_text("utf-8")
    example = next(x.strip() for x in text.splitlines() if x.startswith("    duty"))
    assert unframed(example) == "duty 1 250"
    said = set(re.findall(r'"((?:no|ok) [a-z ]+?)[" ]*(?:%.*)?"', c_protocol.PROTOCOL))
    assert {"no check", "no range", "ok stop", "no way back"} <= said
    for answer in said:
        assert f"`{answer}" in text, answer
