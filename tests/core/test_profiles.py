"""Controller profiles: what contradicts itself, files both ways, and pins on every profile that ships."""

from __future__ import annotations

import itertools
import json
import random
from types import SimpleNamespace
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.sparse import csr_matrix
from scipy.sparse.csgraph import maximum_bipartite_matching

from zinc_whistle.core.cases.pins import allot, can, unfit
from zinc_whistle.core.model.build import MotorDrive
from zinc_whistle.core.model.signals import Controller
from zinc_whistle.core.profile_files import from_csv, from_json, to_csv, to_json
from zinc_whistle.core.profiles import problems
from zinc_whistle.demo.data import controllers, profile

SHIPPED = [c.id for c in controllers()]


def ids() -> Any:
    count = itertools.count()
    return lambda: f"x{next(count)}"


@pytest.mark.parametrize("id", SHIPPED)
def test_a_profile_that_ships_contradicts_nothing(id: str) -> None:
    found = profile(id)
    assert problems(found) == {} and found.sample


def test_there_are_six_classes_and_one_of_three_volts() -> None:
    shipped = controllers()
    assert len(shipped) >= 6
    assert [c.program for c in shipped].count("avr") == 2
    assert min(c.logic_v.text for c in shipped) == "3 V"


@pytest.mark.parametrize(("write", "read"), [(to_csv, from_csv), (to_json, from_json)])
def test_profiles_come_back_from_their_files_as_they_were(write: Any, read: Any) -> None:
    text = write(controllers())
    taken = read(text, ids())
    assert taken.bad == [] and len(taken.parts) == len(SHIPPED)
    assert write(taken.parts) == text
    for before, after in zip(controllers(), taken.parts, strict=True):
        assert [p.can for p in before.pins] == [p.can for p in after.pins]
        names = {t.id: t.name for t in before.timers}, {t.id: t.name for t in after.timers}
        assert [names[0].get(p.timer) for p in before.pins] == [names[1].get(p.timer) for p in after.pins]


def pin(at: Controller, label: str) -> Any:
    return next(p for p in at.pins if p.label == label)


@pytest.mark.parametrize(
    ("change", "path", "words"),
    [
        (lambda c: setattr(c, "name", " "), "name", "name"),
        (lambda c: setattr(c.clock, "text", ""), "clock", "Clock is needed"),
        (lambda c: setattr(c.clock, "text", "soon"), "clock", "does not begin"),
        (lambda c: c.pins.clear(), "pins", "at least one"),
        (lambda c: setattr(pin(c, "D4"), "label", "d5"), "pins.p5", "beside two pins"),
        (lambda c: setattr(pin(c, "D4"), "program", "5"), "pins.p4", "two pins have the number 5"),
        (lambda c: setattr(pin(c, "D4"), "port", "D5"), "pins.p4", "two pins are bit D5"),
        (lambda c: setattr(pin(c, "D10"), "compare", "1A"), "pins.p10", "compare output 1A"),
        (lambda c: setattr(pin(c, "D9"), "timer", ""), "pins.p9", "by which timer"),
        (lambda c: setattr(pin(c, "D4"), "timer", "t1"), "pins.p4", "makes no pulses"),
        (lambda c: setattr(pin(c, "D4"), "can", ["lamp"]), "pins.p4", "can do nothing"),
        (lambda c: pin(c, "D9").can.append("input only"), "pins.p9", "input only and cannot"),
        (lambda c: setattr(pin(c, "D4"), "port", ""), "pins.p4", "port and bit"),
        (lambda c: setattr(pin(c, "D9"), "compare", "x"), "pins.p9", "compare output, as 1A"),
        (lambda c: setattr(c.timers[1], "name", "timer 0, 8 BIT"), "timers.t0", "Two timers"),
        (lambda c: setattr(c.timers[1], "prescalers", [1, 1]), "timers.t1", "twice"),
    ],
)
def test_what_contradicts_itself_is_told_where_it_is(change: Any, path: str, words: str) -> None:
    at = profile("eight-bit-16")
    change(at)
    found = problems(at)
    assert words in found[path], found


def test_its_nearest_neighbours_are_fine() -> None:
    at = profile("eight-bit-16")
    pin(at, "D4").can = ["absent"]
    pin(at, "D4").port = ""
    pin(at, "D5").program = ""
    assert problems(at) == {}


HEAD = "line,name,value,program,can,timer,bits,prescalers,top,port\n"


@pytest.mark.parametrize(
    ("text", "line", "words"),
    [
        ("pin,D1,,,,,,,,\n", 2, "must come first"),
        ("controller,A,,,,,,,,\nfigure,speed,3,,,,,,,\n", 3, "no figure “speed”"),
        ("controller,A,,,,,,,,\ntimer,T,,,,,8.5,1,,\n", 3, "width in bits"),
        ("controller,A,,,,,,,,\ntimer,T,,,,,64,1,,\n", 3, "at most 32"),
        ("controller,A,,,,,,,,\ntimer,T,,,,,8,0,,\n", 3, "at least 1"),
        ("controller,A,,,,,,,,\ntimer,T,,,,,8,one,,\n", 3, "whole numbers"),
        ("controller,A,,,,,,,,\ntimer,T,,,,,8,1,often,\n", 3, "fixed; “often”"),
        ("controller,A,,,,,,,,\npin,D1,,,fly,,,,,\n", 3, "No pin can “fly”"),
        ("controller,A,,,,,,,,\npin,D1,,,pwm,T,,,,\n", 3, "no timer “T” above"),
        ("controller,A,,,,,,,,\nwheel,D1,,,,,,,,\n", 3, "no kind of line"),
        ("controller,A,,rust,,,,,,\nfigure,clock,1 MHz,,,,,,,\npin,1,,,digital,,,,,\n", 2, "no language"),
        ("controller,A,,,,,,,,\npin,D1,,,digital,,,,,\n", 2, "Clock is needed"),
        ("controller,A,,,,,,,,,,,,\n", 2, "more cells"),
        ("controller," + "A" * 90 + ",,,,,,,,\n", 2, "at most 80 signs"),
    ],
)
def test_a_line_that_cannot_be_used_is_told_by_its_number(text: str, line: int, words: str) -> None:
    taken = from_csv(HEAD + text, ids())
    assert taken.parts == []
    assert any(b.line == line and words in b.sentence for b in taken.bad), taken.bad


def test_a_bad_profile_leaves_the_good_one_beside_it() -> None:
    good = "controller,Good,,,,,,,,\nfigure,clock,8 MHz,,,,,,,\npin,1,,1,digital,,,,,\n"
    taken = from_csv(HEAD + good + "controller,Bad,,,,,,,,\n", ids())
    assert [c.name for c in taken.parts] == ["Good"] and len(taken.bad) == 1


@given(st.data())
def test_no_file_makes_the_reader_fail_otherwise_than_in_words(data: Any) -> None:
    text = list(to_csv([profile("teaching-board")]))
    for _ in range(data.draw(st.integers(1, 6))):
        place = data.draw(st.integers(0, len(text) - 1))
        text[place] = data.draw(st.sampled_from([",", "\n", '"', "", "9", "-", "\x00", "é", "pin", "timer,,,\n"]))
    for read, whole in ((from_csv, "".join(text)), (from_json, "".join(text))):
        try:
            taken = read(whole, ids())
        except ValueError:
            continue
        assert all(b.sentence.endswith(".") and "Error" not in b.sentence for b in taken.bad)
        assert all(problems(c) == {} for c in taken.parts)


@given(st.data())
def test_no_json_makes_the_reader_fail_otherwise_than_in_words(data: Any) -> None:
    junk = st.recursive(
        st.none() | st.integers() | st.text(max_size=5), lambda x: st.lists(x, max_size=3), max_leaves=5
    )

    rows = json.loads(to_json([profile("thirty-two-bit-48")]))
    key = data.draw(st.sampled_from([*rows[0], "wheel"]))
    rows[0][key] = data.draw(junk)
    if rows[0].get("pins") and isinstance(rows[0]["pins"], list) and isinstance(rows[0]["pins"][0], dict):
        rows[0]["pins"][0][data.draw(st.sampled_from(["can", "name", "timer", "wheel"]))] = data.draw(junk)
    taken = from_json(json.dumps(rows), ids())
    assert all(problems(c) == {} for c in taken.parts)
    assert taken.parts or taken.bad


SIGNALS = {
    "interrupt": ("ENC A", "ENC B"),
    "analogue": ("SENSE", "KNOB"),
    "digital": ("DIR", "BRAKE", "FORWARD", "BACK", "STOP", "CLEAR", "LIMIT FRONT", "LIMIT BACK", "FAULT"),
}


@pytest.mark.parametrize("id", SHIPPED)
def test_wherever_pins_for_all_signals_can_be_found_they_are(id: str) -> None:
    """Against the largest matching of signals and pins (scipy), over 300 sets of wishes on each profile."""
    at, chance, short = profile(id), random.Random(7), 0
    every = [(s, need) for need, names in SIGNALS.items() for s in names]
    for _ in range(300):
        # Some pins are taken already, so that it gets tight.
        board = at.model_copy(update={"pins": chance.sample(at.pins, chance.randint(3, len(at.pins)))})
        wanted = chance.sample(every, chance.randint(1, len(every)))
        drives = [MotorDrive(id="d1")]
        plans: Any = {"d1": SimpleNamespace(pins={})}
        uses = allot(board, drives, {"d1": wanted}, plans)["d1"]
        able = np.array([[can(p, n) and not unfit(p, s) for p in board.pins] for s, n in wanted])
        most = int((maximum_bipartite_matching(csr_matrix(able), perm_type="column") >= 0).sum())
        got = [u.pin.id for u in uses if u.pin is not None]
        assert len(got) == len(set(got)) == most, f"{most} of {wanted} have pins, {got} were found"
        assert all(able[k, board.pins.index(u.pin)] for k, u in enumerate(uses) if u.pin is not None)
        short += most < len(wanted)
    assert short > 10, "some sets must not fit, or this has looked at nothing"
