"""Sequences across drives: every course is looked at, and broken ones are seen with the way that leads there."""

from __future__ import annotations

from collections.abc import Mapping

import pytest

from zinc_whistle.core.model.build import Build
from zinc_whistle.core.model.sequence import Sequence
from zinc_whistle.core.panel.script import Actor, Guard, Order, Script, script_of
from zinc_whistle.core.panel.script_check import ScriptChecked, check_script
from zinc_whistle.demo.data import puppet_stage

GATE = Actor("gate", "Gate", "motor", front=True, back=True)
BOLT = Actor("bolt", "Bolt", "load")
FLAP = Actor("flap", "Flap", "servo")
PUMP = Actor("pump", "Pump", "motor")
BOLTED = Guard("gate", "on", "bolt")
"""The bolt's solenoid pulls it out: the gate runs only while it is on."""
RELEASE, LOCK = Order("bolt", "on", "time", ms=300), Order("bolt", "off", "at once")
OPEN, SHUT = Order("gate", "forward", "limit"), Order("gate", "back", "limit")
HALT = Order("gate", "stop", "rest")


def script(*orders: Order, guards: tuple[Guard, ...] = (BOLTED,), actors: tuple[Actor, ...] = (GATE, BOLT)) -> Script:
    return Script("s1", "Gate", True, {a.id: a for a in actors}, orders, guards)


def wrong(found: ScriptChecked) -> set[str]:
    return {v.code for v in found.verdicts if not v.holds}


def test_release_move_lock_at_the_limit_holds() -> None:
    found = check_script(script(RELEASE, OPEN, LOCK))
    assert found.holds and found.states > 10
    assert any("how long" in x for x in found.left_out)


@pytest.mark.parametrize(
    ("orders", "code", "says"),
    [
        ((OPEN, LOCK), "free", "Gate drives forward"),
        (
            (RELEASE, Order("gate", "forward", "time", ms=2000), LOCK),
            "steady",
            "Gate runs only while Bolt is switched on",
        ),
        ((RELEASE, Order("gate", "forward", "at once"), LOCK), "steady", "Gate runs only while Bolt is switched on"),
        ((RELEASE, Order("gate", "forward", "at once"), SHUT, LOCK), "one", "Gate drives back"),
    ],
)
def test_a_broken_sequence_is_seen(orders: tuple[Order, ...], code: str, says: str) -> None:
    found = check_script(script(*orders))
    assert code in wrong(found)
    (verdict,) = (v for v in found.verdicts if v.code == code)
    assert verdict.steps[0].startswith("it starts with") and says in verdict.steps[-1], verdict.steps


def test_its_nearest_neighbour_waits_for_rest_and_holds() -> None:
    moved = Order("gate", "forward", "time", ms=2000)
    assert wrong(check_script(script(RELEASE, moved, LOCK))) == {"steady"}
    assert check_script(script(RELEASE, moved, HALT, LOCK)).holds


def test_a_limit_that_is_not_there_is_waited_for_for_ever() -> None:
    found = check_script(script(Order("pump", "forward", "limit"), guards=(), actors=(PUMP,)))
    assert wrong(found) == {"ends"}


@pytest.mark.parametrize(("until", "good"), [("there", True), ("at once", False), ("time", False)])
def test_a_servo_needs_its_time_before_what_hangs_on_it_moves(until: str, good: bool) -> None:
    """A servo's order is over at once, the horn comes later: a time that is typed proves nothing, its transit does."""
    aside = Guard("gate", "at place", "flap", 1000, 400)
    sent = Order("flap", "place", until, 1000, 400)  # type: ignore[arg-type]
    found = check_script(script(sent, OPEN, guards=(aside,), actors=(GATE, FLAP)))
    assert found.holds is good
    assert wrong(found) == (set() if good else {"free", "steady"})


def test_what_stands_where_it_should_already_passes() -> None:
    assert check_script(script(RELEASE, OPEN, OPEN, LOCK)).holds, "a limit that is reached is reached"


def test_four_drives_are_looked_at_whole() -> None:
    actors = (GATE, BOLT, FLAP, Actor("curtain", "Curtain", "motor", front=True, back=True))
    guards = (BOLTED, Guard("curtain", "at front", "gate"), Guard("bolt", "at place", "flap", 1000, 400))
    orders = (
        Order("flap", "place", "there", 1000, 400),
        RELEASE,
        OPEN,
        Order("curtain", "forward", "limit"),
        Order("curtain", "back", "limit"),
        SHUT,
        LOCK,
    )
    found = check_script(script(*orders, guards=guards, actors=actors))
    assert found.holds, [v.steps for v in found.verdicts if not v.holds]
    assert found.states > 100


def test_what_is_too_much_to_look_at_is_said_and_nothing_holds() -> None:
    """Twelve motors with two limits each can begin in 3¹² = 531,441 ways."""
    many = tuple(Actor(f"g{k}", f"Gate {k}", "motor", front=True, back=True) for k in range(12))
    orders = tuple(Order(a.id, "forward", "limit") for a in many)
    found = check_script(script(*orders, guards=(), actors=many))
    assert not found.holds and {v.holds for v in found.verdicts} == {None}
    assert any("beyond 40,000 states" in x for x in found.left_out)


def staged(*steps: Mapping[str, object], **more: object) -> Build:
    build = puppet_stage()
    build.sequences = [Sequence.model_validate({"id": "q1", "name": "Opening", "controller": "c1", "steps": [*steps]})]
    return Build.model_validate(build.model_dump(mode="json") | more)


LEFT = {"id": "a", "drive": "d2", "do": "place", "place": {"text": "100 %"}, "until": "there"}
UP = {"id": "b", "drive": "d1", "do": "forward", "until": "limit"}


def scripted(build: Build) -> Script:
    from zinc_whistle.core.model.build import bind_build

    bind_build(build)
    return script_of(build, build.sequences[0], {"d2": 500, "d3": 500})


def test_a_sequence_of_a_build_is_made_ready() -> None:
    locks = [{"id": "k", "drive": "d1", "fact": "at place", "of": "d2", "place": {"text": "100 %"}}]
    made = scripted(staged(LEFT, UP, interlocks=locks))
    assert made.orders == (Order("d2", "place", "there", 1000, 500), Order("d1", "forward", "limit"))
    assert made.guards == (Guard("d1", "at place", "d2", 1000, 500),)
    assert check_script(made).holds
    assert not check_script(scripted(staged(UP, LEFT, interlocks=locks))).holds


@pytest.mark.parametrize(
    ("steps", "says"),
    [
        ((), "no steps yet"),
        (({"id": "a", "drive": "d1", "do": "on"},), "Curtain winch cannot do that"),
        (({"id": "a", "drive": "d2", "do": "place"},), "give the place of Left shutter"),
        (({"id": "a", "drive": "d2", "do": "place", "place": {"text": "1"}, "until": "limit"},), "only what drives"),
        (({"id": "a", "drive": "", "do": "forward"},), "names no drive"),
        (({"id": "a", "drive": "d1", "do": "forward", "until": "rest"},), "only what is stopped"),
    ],
)
def test_a_step_that_cannot_be_is_told_in_a_sentence(steps: tuple[dict[str, object], ...], says: str) -> None:
    with pytest.raises(ValueError, match=says):
        scripted(staged(*steps))


def test_a_sequence_names_only_drives_of_the_build() -> None:
    with pytest.raises(ValueError, match="not in the build"):
        staged({"id": "a", "drive": "nobody", "do": "forward"})


def test_a_pose_is_an_angle_of_its_servo() -> None:
    """The left shutter is open at 83° of 90°: 922 of 1000; an interlock by the same pose is met there."""
    sent = {"id": "a", "drive": "d2", "do": "place", "pose": "p2", "until": "there"}
    locks = [{"id": "k", "drive": "d1", "fact": "at place", "of": "d2", "pose": "p2"}]
    made = scripted(staged(sent, UP, interlocks=locks))
    assert made.orders[0].place == made.guards[0].place == 922
    assert check_script(made).holds
    with pytest.raises(ValueError, match="give the place of Left shutter"):
        scripted(staged(sent | {"pose": "gone"}, UP))
