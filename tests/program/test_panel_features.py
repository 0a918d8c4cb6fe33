"""What a panel has beside its buttons, on the model, on the compiled program and in the interpreter: both ways of
holding, lamps, the stop by current, moves from where it stands, and the proving mode."""

from __future__ import annotations

import json
from collections.abc import Iterator
from dataclasses import dataclass, field
from itertools import pairwise
from pathlib import Path

import pytest

from zinc_whistle.core.model.build import MotorDrive
from zinc_whistle.core.model.panel import PanelLamp
from zinc_whistle.core.panel.lamps import BLINK_MS
from zinc_whistle.core.panel.settings import BOUNCING
from zinc_whistle.core.program.board import Board
from zinc_whistle.core.program.micropython_source import micropython_source
from zinc_whistle.core.program.planned import DriveProgram, ProgramPlan
from zinc_whistle.core.program.protocol import framed, unframed

from .kit import MS, Avr, Interpreter, compiled, planned
from .test_protocol import serial_build

HAND = {
    "command": "hold",
    "touch_too": "yes",
    "limits": "both",
    "limit_contact": "open",
    "stop_input": "open",
    "trip": "yes",
    "trip_a": "2 A",
    "trip_time": "50 ms",
    "clear_by": "release",
    "watch": "no",
    "pause": "60 ms",
    "debounce": "10 ms",
}
PORT = HAND | {
    "command": "serial",
    "touch_too": "no",
    "limits": "none",
    "moves": "relative",
    "end_front": "400",
    "end_back": "-100",
}
LAMPS = (
    ("Runs", "driving", "no"),
    ("Ready", "ready", "no"),
    ("Stop", "stopped", "no"),
    ("Wrong", "failed", "no"),
    ("Top", "limit_front", "no"),
)
TURNS = ((1, 1), (0, 1), (0, 0), (1, 0))


def panelled(controller: str, choices: dict[str, str], lamps: tuple[tuple[str, str, str], ...] = ()) -> ProgramPlan:
    build, choices = serial_build(controller), dict(choices)
    if volts := choices.pop("tacho", ""):
        spec = build.driven[0].of_motor.encoder
        spec.kind, spec.place, spec.tacho_v.text, spec.rectified = "tacho", "motor", volts, "yes"
    if "slow_within" in choices:
        # A shaft that stands would be given all by a closed loop, whatever level is asked for.
        build.driven[0].of_motor.loop.closed = "no"
    for place, (name, when, blinks) in enumerate(lamps, 1):
        lamp = PanelLamp.model_validate({"id": f"l{place}", "name": name, "when": when, "blinks": blinks})
        build.drives[0].panel.lamps.append(lamp)
    return planned(build, **choices)


@dataclass
class Rig:
    """A program with hands on its panel: contacts, shaft, current and time."""

    plan: ProgramPlan
    at: int = 0
    way: int = 1
    pressed: dict[str, bool] = field(default_factory=dict)

    @property
    def drive(self) -> DriveProgram:
        return self.plan.drives[0]

    def press(self, *names: str) -> None:
        """These contacts are pressed, no others."""
        self.pressed = {c.input: c.input in names for c in self.drive.contacts}
        self.contacts({c.pin.id: int(self.pressed[c.input] != c.low) for c in self.drive.contacts})

    def turn(self, counts: int) -> None:
        """The shaft is turned by so many counts."""
        for _ in range(abs(counts)):
            self.at += self.way if counts > 0 else -self.way
            a, b = TURNS[self.at % 4]
            self.levels({self.drive.counting.a.id: a, self.drive.counting.b.id: b})

    def contacts(self, levels: dict[str, int]) -> None:
        self.levels(levels)

    def levels(self, levels: dict[str, int]) -> None:
        raise NotImplementedError

    def wait(self, ms: float) -> None:
        raise NotImplementedError

    def sense(self, reading: int) -> None:
        raise NotImplementedError

    def tacho(self, reading: int) -> None:
        raise NotImplementedError

    def lit(self) -> list[bool]:
        raise NotImplementedError

    def tell(self, text: str) -> str:
        raise NotImplementedError

    def mode(self) -> str:
        return self.tell("status 1").split(" ")[3]


class OnModel(Rig):
    def start(self) -> None:
        self.board, self.reading, self.turned = Board(self.plan), 0, 0

    def turn(self, counts: int) -> None:
        self.at += counts

    def levels(self, levels: dict[str, int]) -> None:
        pass

    def wait(self, ms: float) -> None:
        for _ in range(round(ms)):
            self.board.tick({1: self.pressed}, {1: self.at}, {}, {1: self.reading}, {}, {1: self.turned})

    def sense(self, reading: int) -> None:
        self.reading = reading

    def tacho(self, reading: int) -> None:
        self.turned = reading

    def lit(self) -> list[bool]:
        now = self.board.drives[1].now
        assert now is not None
        return list(now.lamps)

    def tell(self, text: str) -> str:
        self.wait(25)
        return unframed(self.board.receive(framed(text) + "\n")[0]) or ""


class InC(Rig):
    avr: Avr

    def contacts(self, levels: dict[str, int]) -> None:
        # Between two looks of the program: what is pressed together is seen together.
        self.avr.run((0.6 - self.avr.cycle / MS) % 1)
        self.levels(levels)

    def levels(self, levels: dict[str, int]) -> None:
        self.avr.contacts(**{self.port(p): v for p, v in levels.items()})
        self.avr.run(0.1)

    def port(self, pin: str) -> str:
        return next(p.port for p in self.plan.controller.pins if p.id == pin)

    def wait(self, ms: float) -> None:
        self.avr.run(ms)

    def sense(self, reading: int) -> None:
        self.avr.ask(volts={self.drive.pins["SENSE"].port[1:]: (reading + 0.5) * 5 / 1024})

    def tacho(self, reading: int) -> None:
        self.avr.ask(volts={self.drive.pins["ENC TACHO"].port[1:]: (reading + 0.5) * 5 / 1024})

    def lit(self) -> list[bool]:
        return [bool(self.avr.levels[self.drive.pins[lamp.signal].port]) for lamp in self.drive.lamps]

    def tell(self, text: str) -> str:
        return self.avr.tell(text)[-1]


class InPython(Rig):
    interpreter: Interpreter

    def levels(self, levels: dict[str, int]) -> None:
        numbers = {p.id: p.program for p in self.plan.controller.pins}
        self.interpreter.levels(**{f"p{numbers[p]}": v for p, v in levels.items()})

    def wait(self, ms: float) -> None:
        self.interpreter.run(ms)

    def sense(self, reading: int) -> None:
        self.interpreter.ask(run=f"machine.volts[{self.drive.pins['SENSE'].program}] = {reading << 6}")

    def tacho(self, reading: int) -> None:
        self.interpreter.ask(run=f"machine.volts[{self.drive.pins['ENC TACHO'].program}] = {reading << 6}")

    def lit(self) -> list[bool]:
        pins = [int(self.drive.pins[lamp.signal].program) for lamp in self.drive.lamps]
        return [bool(x) for x in self.interpreter.seen(f"[machine.levels.get(p, 0) for p in {json.dumps(pins)}]")]

    def tell(self, text: str) -> str:
        return self.interpreter.tell(text)[-1]


def rigged(kind: str, folder: Path, choices: dict[str, str], lamps: tuple[tuple[str, str, str], ...]) -> Iterator[Rig]:
    if kind == "model":
        model = OnModel(panelled("eight-bit-16", choices, lamps))
        model.start()
        model.press()
        yield model
    elif kind == "C":
        plan = panelled("eight-bit-16", choices, lamps)
        ports = [plan.drives[0].pins[lamp.signal].port for lamp in plan.drives[0].lamps]
        with Avr(compiled(plan, folder), *ports) as avr:
            in_c = InC(plan)
            in_c.avr = avr
            in_c.press()
            if in_c.drive.counting is not None:
                in_c.levels({in_c.drive.counting.a.id: 1, in_c.drive.counting.b.id: 1})
            in_c.wait(50)
            yield in_c
    else:
        plan = panelled("thirty-two-bit-radio", choices, lamps)
        with Interpreter(micropython_source(plan), plan.tick_ms) as interpreter:
            in_python = InPython(plan)
            in_python.interpreter = interpreter
            in_python.press()
            interpreter.start()
            yield in_python


@pytest.fixture(params=["model", "C", "MicroPython"])
def hand(request: pytest.FixtureRequest, tmp_path: Path) -> Iterator[Rig]:
    """A panel of buttons, with lamps."""
    for rig in rigged(request.param, tmp_path, HAND, LAMPS):
        rig.wait(150)
        yield rig


@pytest.fixture(params=["model", "C", "MicroPython"])
def port(request: pytest.FixtureRequest, tmp_path: Path) -> Iterator[Rig]:
    """A drive that is told by the port, and moves from where it stands."""
    for rig in rigged(request.param, tmp_path, PORT, ()):
        rig.wait(150)
        yield rig


def test_both_ways_of_holding_stand_side_by_side(hand: Rig) -> None:
    hand.press("forward")
    hand.wait(30)
    assert hand.mode() == "forward"
    hand.press()
    hand.wait(60)
    assert hand.mode() in ("slowing_forward", "resting", "idle"), "a held button that is let go stops it"
    hand.wait(400)
    hand.press("run_back")
    hand.wait(30)
    assert hand.mode() == "touched_back"
    hand.press()
    hand.wait(60)
    assert hand.mode() == "running_back", "it goes on by itself"
    hand.press("forward")
    hand.wait(30)
    assert hand.mode() == "slowing_back", "any button ends it"
    hand.press()
    hand.wait(400)
    assert hand.mode() == "idle"
    hand.press("forward", "run_back")
    hand.wait(40)
    assert hand.mode() == "idle", "two that contradict each other start nothing"


def test_lamps_tell_the_state(hand: Rig) -> None:
    assert hand.lit() == [False, True, False, False, False]
    hand.press("forward")
    hand.wait(40)
    assert hand.lit() == [True, False, False, False, False]
    hand.press("forward", "limit_front")
    hand.wait(40)
    assert hand.lit()[0] is False and hand.lit()[4] is True
    hand.press("stop")
    hand.wait(40)
    assert hand.lit() == [False, False, True, False, False]


def test_a_lamp_blinks_twice_a_second(tmp_path: Path) -> None:
    blinking = (("Ready", "ready", "yes"),)
    for rig in rigged("C", tmp_path, HAND, blinking):
        assert isinstance(rig, InC)
        (pin,) = (rig.port(rig.drive.pins[x.signal].id) for x in rig.drive.lamps)
        rig.wait(400)
        rig.avr.edges.clear()
        rig.wait(1700)
        changes = [c for c, p, _ in rig.avr.edges if p == pin]
        apart = {round((b - a) / 16_000) for a, b in pairwise(changes)}
        assert apart == {BLINK_MS}


def test_too_much_current_stops_it_the_sooner_the_more_and_letting_go_clears_it(hand: Rig) -> None:
    """At twice its limit 50 ms after the 64 ms that it may take to see a pulse; at 1.1 times 3/0.21 of that: 714 ms."""
    limit = hand.drive.settings.trip

    def run() -> None:
        hand.press("run_forward")
        hand.wait(40)
        hand.press()
        hand.wait(40)
        assert hand.mode() == "running_forward"

    def let_go() -> None:
        hand.sense(0)
        hand.press("forward")
        hand.wait(20)
        assert hand.mode() == "failed"
        assert hand.lit()[3] is True
        hand.press()
        hand.wait(400)
        assert hand.mode() == "idle", "no third button"

    run()
    hand.sense(limit - 4)
    hand.wait(400)
    assert hand.mode() == "running_forward", "just below it may last"
    hand.sense(2 * limit)
    hand.wait(15)
    assert hand.mode() == "running_forward", "a short one is a start"
    hand.wait(60)
    let_go()
    run()
    hand.sense(round(1.1 * limit))
    hand.wait(450)
    assert hand.mode() == "running_forward"
    hand.wait(400)
    let_go()


def test_two_amperes_are_two_amperes(hand: Rig) -> None:
    """The carousel's board tells 0.525 V/A: 2 A are 1.05 V; of 1023 steps to 5 V that is step 215, and to 3.1 V 346."""
    volts = hand.plan.controller.sense_reference.value
    assert volts is not None
    assert hand.drive.settings.trip == pytest.approx(1.05 / volts * 1023, abs=1)
    hand.sense(hand.drive.settings.trip)
    hand.wait(20)
    assert int(hand.tell("sense 1").split(" ")[3]) == pytest.approx(2000, abs=12)


def test_a_move_goes_from_where_it_stands_and_never_beyond_its_ends(port: Rig) -> None:
    assert port.tell("go 1 100") == "no homing"
    assert port.tell("move 1 401") == "no range" and port.tell("move 1 -101") == "no range"
    port.turn(8)
    port.wait(10)
    there = int(port.tell("counts 1").split(" ")[3])
    assert abs(there) == 8
    port.way = 1 if there > 0 else -1
    assert port.tell(f"move 1 {401 - there}") == "no range"
    assert port.tell("move 1 100") == "ok move"
    port.wait(40)
    assert port.mode() == "moving_forward"
    port.turn(99)
    port.wait(60)
    assert port.mode() in ("slowing_forward", "resting", "idle"), "it is there"


NEAR = {"approach": "slowing", "slow_within": "", "trip": "no", "offset": "no"}


@pytest.fixture(params=["model", "C", "MicroPython"])
def slowing(request: pytest.FixtureRequest, tmp_path: Path) -> Iterator[Rig]:
    """The same, slowing down over its last 80 counts."""
    build = serial_build()
    motor = build.drives[0]
    assert isinstance(motor, MotorDrive)
    whole = 4 * float(motor.encoder.teeth.value or 0) * float(motor.load.gear_ratio.value or 0)
    if motor.encoder.place == "output":
        whole /= float(motor.load.gear_ratio.value or 1)
    within = NEAR | {"slow_within": f"{360 * 80 / whole:.6g} °"}
    for rig in rigged(request.param, tmp_path, PORT | within, ()):
        rig.wait(150)
        yield rig


def test_a_move_slows_down_over_its_last_stretch_and_creeps_after_it_crossed(slowing: Rig) -> None:
    """Of 80 counts: all of its level at 90, half of it at 40, a fifth from 16 on; after the first crossing a fifth,
    however far it went."""
    near, settings = slowing.drive.settings.approach, slowing.drive.settings
    assert near is not None and near.within == 80 and near.creep == settings.wanted // 5
    slowing.turn(4)
    slowing.wait(10)
    slowing.way = 1 if int(slowing.tell("counts 1").split(" ")[3]) > 0 else -1
    assert slowing.tell("zero 1") == "ok zero" and slowing.tell("move 1 200") == "ok move"

    def level() -> int:
        for _ in range(6):
            slowing.wait(60)
            slowing.tell("hello")
        return int(slowing.tell("status 1").split(" ")[4])

    whole = settings.wanted * 1000 // settings.full
    slowing.turn(110)
    assert level() == pytest.approx(whole, abs=2), "90 counts are left"
    slowing.turn(50)
    assert level() == pytest.approx(whole / 2, abs=3), "40 counts are left"
    slowing.turn(30)
    assert level() == pytest.approx(whole / 5, abs=3), "10 counts are left: no slower than it creeps"
    slowing.turn(60)
    for _ in range(6):
        level()
    assert slowing.mode() == "moving_back"
    assert level() == pytest.approx(-whole / 5, abs=3), "50 counts too far: it creeps back"


def test_a_button_stops_at_an_end_in_counts(port: Rig) -> None:
    port.turn(8)
    port.wait(10)
    port.way = 1 if int(port.tell("counts 1").split(" ")[3]) > 0 else -1
    port.turn(-8 * port.way)
    assert port.tell("duty 1 400") == "ok duty"
    port.wait(40)
    assert port.mode() == "forward"
    port.turn(420)
    port.wait(30)
    assert port.mode() in ("resting", "idle")
    port.tell("hello")
    port.wait(100)
    assert port.tell("duty 1 400") == "ok duty" and port.mode() == "idle", "not further out"
    port.tell("duty 1 -400")
    port.wait(40)
    assert port.mode() == "back", "but back"


def test_proving_keeps_everything_off_and_tells_what_is_pressed(hand: Rig) -> None:
    hand.press("run_forward")
    hand.wait(40)
    hand.press()
    hand.wait(40)
    assert hand.mode() == "running_forward"
    assert hand.tell("prove 2") == "no range"
    assert hand.tell("prove 1") == "ok prove"
    hand.wait(20)
    assert hand.tell("status 1").split(" ")[3:5] == ["proving", "0"]
    assert not any(hand.lit())
    for name in ("forward", "run_back", "stop", "limit_front"):
        hand.press(name)
        hand.sense(123)
        hand.wait(40)
        _, _, number, bits, knob, sense, _ = hand.tell("inputs 1").split(" ")
        assert (number, knob) == ("1", "-") and abs(int(sense) - 123) <= 1
        there = {c.input for c in hand.drive.contacts}
        assert bits == "".join("-" if n not in there else "1" if n == name else "0" for n in BOUNCING)
        assert hand.tell("status 1").split(" ")[3:5] == ["proving", "0"], "no button drives it"
    hand.press("forward")
    hand.wait(30)
    assert hand.tell("prove 0") == "ok prove"
    hand.wait(60)
    assert hand.mode() == "waiting", "it begins as power comes: nothing starts before all is let go"
    hand.press()
    hand.wait(60)
    assert hand.mode() == "idle"


def test_the_port_moves_nothing_while_it_proves(port: Rig) -> None:
    assert port.tell("prove 1") == "ok prove"
    for line in ("duty 1 300", "move 1 10", "speed 1 100"):
        assert port.tell(line) == "no output", line
    assert port.tell("prove 0") == "ok prove"
    port.wait(80)
    assert port.tell("duty 1 300") == "ok duty"


def test_the_counter_is_set_to_zero_where_it_stands(port: Rig) -> None:
    port.turn(12)
    port.wait(10)
    assert abs(int(port.tell("counts 1").split(" ")[3])) == 12
    assert port.tell("zero 1") == "ok zero"
    assert port.tell("counts 1").split(" ")[3] == "0"
    port.turn(5)
    port.wait(10)
    assert abs(int(port.tell("counts 1").split(" ")[3])) == 5


def test_it_never_goes_beyond_the_duty_that_it_may_have(tmp_path: Path) -> None:
    """In the model, the compiled program and the interpreter alike: 40 % where 90 % are asked for."""
    for kind in ("model", "C", "MicroPython"):
        bounded = PORT | {"moves": "no", "trip": "no", "most_duty": "40 %", "slow_within": "1 °"}
        for rig in rigged(kind, tmp_path, bounded, ()):
            rig.wait(150)
            for duty, level in ((900, 400), (250, 250), (-900, -400)):
                for _ in range(9):
                    rig.tell(f"duty 1 {duty}")
                    rig.wait(100)
                told = rig.tell("status 1").split(" ")
                assert int(told[4]) == pytest.approx(level, abs=3), (kind, told)


def test_a_tacho_tells_the_speed_and_closes_the_loop(tmp_path: Path) -> None:
    """1 V for 1,000 rpm at an input of 5 V: a reading of 409 of 1023 is 2 V, 2,000 rpm, with the sign of the way that
    is driven; below what is asked the duty rises, above it falls."""
    for kind in ("model", "C", "MicroPython"):
        for rig in rigged(kind, tmp_path, PORT | {"moves": "no", "trip": "no", "tacho": "1 V/krpm"}, ()):
            rig.wait(150)
            assert rig.tell("counts 1") == "no encoder"
            loop = rig.drive.settings.loop
            assert loop is not None and loop.tacho and loop.closed
            volts = rig.plan.controller.sense_reference.value
            assert volts is not None
            rpm = 409 / 1023 * volts * 1000
            for way in (1, -1):
                levels = {}
                for reading in (300, 409, 520):
                    rig.tacho(reading)
                    for _ in range(10):
                        rig.tell(f"speed 1 {way * round(rpm)}")
                        rig.wait(60)
                    told = rig.tell("status 1").split(" ")
                    levels[reading] = way * int(told[4])
                    assert int(told[5]) == pytest.approx(way * rpm * reading / 409, abs=12), (kind, told)
                assert levels[300] > levels[409] > levels[520], (kind, levels)
                rig.tell("duty 1 0")
                for _ in range(8):
                    rig.wait(100)
                    rig.tell("hello")
