"""Where an oscilloscope's ground clips may go, on builds whose wiring is known by hand."""

from __future__ import annotations

import pytest

from tests.verdicts.kit import SHELF
from zinc_whistle.core.assess import assess
from zinc_whistle.core.cases.netlist import Netlist, Wire, WiredPart
from zinc_whistle.core.cases.wires.terminal import Terminal
from zinc_whistle.core.design.clips import Clips, clips
from zinc_whistle.core.model.build import Build
from zinc_whistle.demo.data import cider_stirrer, lantern_carousel, puppet_stage, snow_fan


def netlist_of(build: Build) -> Netlist:
    return next(iter(assess(build, SHELF).drives.values())).wiring.netlist


def never_of(net: Netlist, found: Clips) -> dict[str, str]:
    return {f"{net.parts[x.place.block].kind} {x.place.pin}": x.says for x in found.never}


def test_one_ground_takes_both_clips_and_rails_take_none() -> None:
    net = netlist_of(lantern_carousel())
    found = clips(net)
    (ground,) = found.grounds
    kinds = {f"{net.parts[t.block].kind} {t.pin}" for t in ground.places}
    assert {"source −", "controller GND", "encoder GND"} <= kinds
    told = never_of(net, found)
    assert "shorts a supply" in told["source +"]
    assert sum("subtract" in says for says in told.values()) == 2, "both ends of the motor, and nothing else"
    assert "may as well stay off" in found.says[0]


@pytest.mark.parametrize("make", [lantern_carousel, cider_stirrer, puppet_stage, snow_fan])
def test_no_place_is_both_allowed_and_refused_and_every_supply_is_refused(make) -> None:  # type: ignore[no-untyped-def]
    net = netlist_of(make())
    found = clips(net)
    allowed = {t for g in found.grounds for t in g.places}
    refused_nets = {net.net_of[x.place].id for x in found.never}
    assert allowed.isdisjoint(x.place for x in found.never)
    for part in net.parts.values():
        if part.kind == "source" and not part.on:
            assert any(net.net_of[t].id in refused_nets for t in net.net_of if t.block == part.id and t not in allowed)
    assert not any("1 mΩ" in x.says for x in found.never), "a closed contact is no shunt"


def test_a_low_shunt_is_not_to_be_bridged() -> None:
    """The stirrer's own half bridge with its shunt between switch and ground: the place between them is told."""
    net = netlist_of(cider_stirrer())
    shunts = [p for p in net.parts.values() if p.kind == "resistor" and any(x < 2.0 for *_, x in p.ohms)]
    seen = {net.net_of[x.place].id for x in clips(net).never if "bridges" in x.says}
    assert shunts and seen, "there is one to be told"
    for part in shunts:
        ends = {n.id: n for pin in part.pins if (n := net.net_of.get(Terminal(part.id, pin)))}
        if any(n.ground for n in ends.values()):
            other = {id for id, n in ends.items() if not n.ground}
            reached = {id for id in other if any(not net.parts[t.block].on for t in ends[id].pins)}
            assert reached <= seen


def wire(id: str, one: tuple[str, str], other: tuple[str, str], name: str) -> Wire:
    return Wire(id=id, start=Terminal(*one), end=Terminal(*other), name=name, colour="black", role="power")


def hand_made(joined: bool) -> Netlist:
    """Two batteries: one with a motor's relay, one with a controller; their grounds joined, or not."""
    pins = {"a": ("+", "−"), "relay": ("V", "GND"), "b": ("+", "−"), "c": ("V", "GND")}
    kinds = {"a": "source", "b": "source", "relay": "relay", "c": "controller"}
    parts = {id: WiredPart(id=id, kind=kinds[id], name=id, pins=p) for id, p in pins.items()}  # type: ignore[arg-type]
    wires = [
        wire("1", ("a", "+"), ("relay", "V"), "motor supply"),
        wire("2", ("a", "−"), ("relay", "GND"), "ground"),
        wire("3", ("b", "+"), ("c", "V"), "logic supply"),
        wire("4", ("b", "−"), ("c", "GND"), "ground"),
    ]
    wires += [wire("5", ("relay", "GND"), ("c", "GND"), "ground")] if joined else []
    return Netlist(parts=parts, wires=tuple(wires))


def test_grounds_that_are_apart_are_told_and_joined_ones_are_one() -> None:
    apart, one = clips(hand_made(False)), clips(hand_made(True))
    assert len(apart.grounds) == 2 and any("2 grounds that are apart" in s for s in apart.says)
    assert len(one.grounds) == 1 and not any("apart" in s for s in one.says)
    assert {x.place.block for x in apart.never} == {x.place.block for x in one.never} == {"a", "b"}


def test_nothing_joined_is_told() -> None:
    assert clips(Netlist(parts={}, wires=())).says == ("No ground is joined to anything yet: no clip may go anywhere.",)
