"""The wiring takes the ways that were planned: what must be in the list, and what must never be."""

from __future__ import annotations

from zinc_whistle.core.assess import assess
from zinc_whistle.core.model.build import Build
from zinc_whistle.core.model.given import Given
from zinc_whistle.core.model.supply import Source
from zinc_whistle.demo.data import cider_stirrer, lantern_carousel

from .kit import SHELF, altered


def wires(build: Build) -> set[tuple[str, str]]:
    """Every wire as its two ends, block and pin."""
    found = assess(build, SHELF).drives["d1"].wiring.connections
    return {(f"{c.start.block} {c.start.pin}", f"{c.end.block} {c.end.pin}") for c in found}


def test_the_packs_42_v_never_reach_a_5_v_board() -> None:
    """The stirrer's logic goes through its step-down: nothing but its 5 V meets the controller."""
    found = wires(cider_stirrer())
    assert ("fuse out", "regulator in") in found and ("regulator out", "controller 5 V") in found
    assert not any(end.startswith("controller V") for _, end in found)
    assert not any(
        start.split()[0] in ("source", "fuse", "switch") and end.startswith("controller") for start, end in found
    )


def test_a_boards_own_regulator_takes_the_motors_feed() -> None:
    found = wires(lantern_carousel())
    assert ("fuse out", "controller V in") in found
    assert not any("regulator" in f"{a}{b}" for a, b in found)


def test_split_supplies_meet_at_ground_alone() -> None:
    """The logic from a source of its own: its plus goes to the board, the motor's pack gives it nothing but ground."""
    build = lantern_carousel()
    build.supply.sources.append(
        Source(id="s2", name="Four small cells", full_v=Given(text="6.4 V"), flat_v=Given(text="4.4 V"))
    )
    build.supply.regulators[0].source = "s2"
    build.supply.motor_and_logic = "split"
    found = wires(build)
    assert ("logic source +", "controller V in") in found
    crossing = {(a, b) for a, b in found if a.startswith(("source", "fuse")) and b.startswith("controller")}
    assert crossing == set()
    grounds = assess(build, SHELF).drives["d1"].wiring.grounds
    assert len(set(grounds.values())) == 1


def test_without_a_regulator_named_no_wire_is_drawn_to_the_board() -> None:
    build = lantern_carousel()
    build.controllers[0].regulator = ""
    assert not any(b.startswith("controller V") for _, b in wires(build))


def test_switch_and_capacitor_stand_in_the_list() -> None:
    found = wires(altered(lantern_carousel, supply__sources__s1__switch_dc="10 A"))
    assert {("fuse out", "switch in"), ("switch out", "driver V+"), ("switch out", "controller V in")} <= found
    assert ("driver V+", "capacitor +") in found
