"""A board without a sheet: whatever it is, the trials that are asked for find it out."""

from __future__ import annotations

import re

import pytest

from zinc_whistle.core.cases.salvaged import STYLES, Guess, find_out, shown
from zinc_whistle.core.cases.truth import truth_table
from zinc_whistle.core.model.given import Given, bind
from zinc_whistle.core.model.salvaged import Pad, SalvagedBoard, Trial

PADS = ("A", "B", "C", "D")
SIDES = {"the plus": 1, "the minus": 0}


def worksheet(*trials: Trial, pads: tuple[str, ...] = PADS) -> SalvagedBoard:
    board = SalvagedBoard(used="yes", pads=[Pad(id=f"p{k}", label=x) for k, x in enumerate(pads)], trials=list(trials))
    board.volts = Given(text="12 V", origin="measured")
    bind(board, "x")
    return board


def asked(sentence: str) -> dict[str, int]:
    """The levels that the next trial asks for, read as a builder would."""
    return {pad.casefold(): SIDES[side] for pad, side in re.findall(r"(\w+) to (the plus|the minus)", sentence)}


def followed(hidden: Guess, most: int = 25) -> tuple[SalvagedBoard, int]:
    """The worksheet after doing what it asks for, with the hidden board on the table, and how many trials it took."""
    trials: list[Trial] = []
    while len(trials) < most:
        found = find_out(worksheet(*trials))
        if not found.next:
            break
        touched = asked(found.next)
        seen = shown(hidden, touched)
        pads = ", ".join(f"{p}={v}" for p, v in touched.items())
        click = "yes" if seen.clicks else "no"
        trials.append(Trial(id=f"t{len(trials)}", pads=pads, effect=seen.effect, click=click))
    return worksheet(*trials), len(trials)


@pytest.mark.parametrize("style", STYLES)
@pytest.mark.parametrize("active", [1, 0])
def test_each_circuit_is_found_by_the_trials_that_are_asked_for(style: str, active: int) -> None:
    names = truth_table(style, "slow").names
    hidden = Guess(style, names, tuple("dbac"[: len(names)]), (active,) * len(names), turned=False)
    board, number = followed(hidden)
    found = find_out(board)
    assert number <= 20, f"{number} trials"
    assert any((g.style, g.pads, g.active) == (style, hidden.pads, hidden.active) for g in found.guesses)
    # What no trial can tell apart is left, and nothing else: they answer alike whatever is touched.
    others = {g for g in found.guesses if (g.style, g.pads, g.active) != (style, hidden.pads, hidden.active)}
    for other in others:
        for levels in ({"a": 1}, {"b": 0}, {"c": 1, "a": 0}, {"d": 1}, {"d": 0, "b": 1}, {"d": 1, "b": 1, "a": 1}):
            assert shown(other, levels) == shown(hidden, levels) or other.turned, (other, levels)


def test_a_bridge_with_an_input_for_each_way() -> None:
    """High on A runs one way, on B the other, no relay clicks: two inputs, active high. The part says so, and that its
    ratings are nobody's yet."""
    hidden = Guess("two inputs", ("IN 1", "IN 2"), ("a", "b"), (1, 1), False)
    board, _ = followed(hidden)
    found = find_out(board)
    assert any("an input for each way" in line for line in found.says)
    assert found.next == "" and found.part is not None and found.part.input_style == "two inputs"
    assert found.part.v_max.text == "12 V" and found.part.continuous_a.value is None
    assert "IN 1 is A, IN 2 is B" in found.part.note


def test_once_nothing_tells_more_there_is_a_part_of_that_style() -> None:
    for style, part_kind in (("two coils", "contacts"), ("one input", "mosfet switch"), ("coil and pwm", "relay pair")):
        names = truth_table(style, "slow").names
        board, _ = followed(Guess(style, names, tuple("acb"[: len(names)]), (1,) * len(names), turned=False))
        found = find_out(board)
        assert found.next == "" and found.part is not None, style
        assert (found.part.input_style, found.part.kind) == (style, part_kind)


def test_pads_that_act_when_low_are_told_to_whoever_wires_them() -> None:
    """Grounding A runs one way, grounding B the other: the part says so, its neighbour nothing."""
    for active, told in ((0, "IN 1, IN 2"), (1, "")):
        board, _ = followed(Guess("two inputs", ("IN 1", "IN 2"), ("a", "b"), (active, active), False))
        found = find_out(board)
        assert found.part is not None and found.part.active_low == told


def test_relays_are_told_by_their_click() -> None:
    """The same motion without and with a click: a bridge, or a relay for each end."""
    forward = {"pads": "A=1", "effect": "one way"}
    back = {"pads": "B=1", "effect": "other way"}
    silent = find_out(worksheet(Trial(id="a", click="no", **forward), Trial(id="b", click="no", **back)))
    clicks = find_out(worksheet(Trial(id="a", click="yes", **forward), Trial(id="b", click="yes", **back)))
    assert all(g.style not in ("two coils", "coil and pwm") for g in silent.guesses)
    assert any(g.style == "two coils" for g in clicks.guesses)
    assert all(any(n.startswith("COIL") for n in g.inputs) for g in clicks.guesses)


def test_what_cannot_be_is_told() -> None:
    contrary = find_out(
        worksheet(Trial(id="a", pads="A=1", effect="one way"), Trial(id="b", pads="A=1", effect="other way"))
    )
    assert contrary.guesses == () and "one by one" in contrary.says[0] and contrary.part is None


@pytest.mark.parametrize(
    ("trial", "sentence"), [("A=2", "no level on a pad"), ("Z=1", "none of the pads"), ("A high", "no level on a pad")]
)
def test_a_trial_that_cannot_be_read(trial: str, sentence: str) -> None:
    with pytest.raises(ValueError, match=sentence):
        find_out(worksheet(Trial(id="a", pads=trial)))


def test_pads_with_one_label_or_too_many() -> None:
    with pytest.raises(ValueError, match="one label"):
        find_out(worksheet(pads=("A", "a")))
    with pytest.raises(ValueError, match="more than one driver"):
        find_out(worksheet(pads=tuple("ABCDEFG")))
    assert "List the pads" in find_out(worksheet(pads=())).next


def test_nothing_is_said_before_anything_was_tried() -> None:
    found = find_out(worksheet())
    assert found.says == () and found.part is None and found.next
