"""A board of one's own: nothing overlaps, every joint is joined and touches no other, and what does not fit is told."""

from __future__ import annotations

from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.kit import staged
from tests.verdicts.kit import SHELF, altered, said, verdict
from zinc_whistle.core.assess import assess
from zinc_whistle.core.cases.bodies import PITCH_MM, Body, body_of, on_grid, screws, tallest
from zinc_whistle.core.cases.netlist import Netlist, WiredPart
from zinc_whistle.core.cases.netlist.stage_parts import legs_of
from zinc_whistle.core.design.board import BoardError, BoardPlan, board_plan, boards, hole_name, plan
from zinc_whistle.core.design.board.route import route
from zinc_whistle.core.model.build import Build
from zinc_whistle.demo.data import cider_stirrer, lantern_carousel, puppet_stage

CIRCUITS = ("bipolar low side", "full bridge", "p/n bridge", "crossed relay", "modules")


def net_of(build: Build) -> Netlist:
    return next(iter(assess(build, SHELF).drives.values())).wiring.netlist


def all_boards() -> list[tuple[str, Netlist, str]]:
    made = {"stirrer": cider_stirrer(), "puppets": puppet_stage()}
    made |= {circuit: staged(lantern_carousel(), circuit) for circuit in CIRCUITS}
    return [(f"{name}, {id}", net, id) for name, b in made.items() for net in [net_of(b)] for id in boards(net)]


@pytest.fixture(scope="module", params=all_boards(), ids=lambda x: str(x[0]))
def planned(request: pytest.FixtureRequest) -> tuple[Netlist, str, BoardPlan]:
    _, net, board = request.param
    with pytest.MonkeyPatch.context() as quick:
        # What is held here holds for any plan, also for one that was not searched for long.
        quick.setattr(plan, "STARTS", 1)
        quick.setattr(plan, "MOVES", 40)
        return net, board, board_plan(net, board)


def test_no_part_lies_on_another_and_all_lie_on_the_board(planned: tuple[Netlist, str, BoardPlan]) -> None:
    found = planned[2]
    covered: dict[tuple[int, int], str] = {}
    for p in found.parts:
        left, top, right, bottom = p.box
        assert 0 <= left <= right < found.columns and 0 <= top <= bottom < found.rows
        for c in range(left, right + 1):
            for r in range(top, bottom + 1):
                assert covered.setdefault((c, r), p.name) == p.name
        assert all(left <= c <= right and top <= r <= bottom for c, r in p.pins.values())
        assert len(set(p.pins.values())) == len(p.pins)
    assert not {(c + dx, r + dy) for c, r in found.mounting for dx in (-1, 0, 1) for dy in (-1, 0, 1)} & set(covered)


def test_every_joint_is_one_piece_and_touches_no_other(planned: tuple[Netlist, str, BoardPlan]) -> None:
    found = planned[2]
    owner = {h: j.name for j in found.joints for h in j.holes}
    parts = {j.name: [{h} for h in set(j.holes)] for j in found.joints}
    for t in found.tracks:
        assert all(abs(a[0] - b[0]) + abs(a[1] - b[1]) == 1 for a, b in pairwise(t.holes))
        for h in t.holes:
            assert owner.setdefault(h, t.joint) == t.joint, f"{hole_name(h)} is of two joints"
        parts[t.joint].append(set(t.holes))
    for x in found.links:
        assert owner[x.one] == owner[x.other] == x.joint
        parts[x.joint].append({x.one, x.other})
    for name, pieces in parts.items():
        whole = pieces.pop()
        while near := [p for p in pieces if p & whole]:
            whole |= set().union(*near)
            pieces = [p for p in pieces if p not in near]
        assert pieces == [], f"{name} is in pieces"


def test_the_joints_are_those_of_the_netlist(planned: tuple[Netlist, str, BoardPlan]) -> None:
    """Two pins share a joint just where wires on the board join them: followed wire by wire, from the netlist alone."""
    net, board, found = planned
    plain = {p.id: (p.id if p.id in net.parts else p.id.rpartition(" ")[0]) for p in found.parts}
    here = {board, *(x for x in plain.values() if x in net.parts)}
    near: dict[tuple[str, str], set[tuple[str, str]]] = {}
    for w in net.wires:
        one, other = (w.start.block, w.start.pin), (w.end.block, w.end.pin)
        if w.fitted and one[0] in here and other[0] in here:
            near.setdefault(one, set()).add(other)
            near.setdefault(other, set()).add(one)

    def reached(pin: tuple[str, str]) -> frozenset[tuple[str, str]]:
        seen, todo = {pin}, [pin]
        while todo:
            for there in near.get(todo.pop(), ()):
                if there not in seen:
                    seen.add(there)
                    todo.append(there)
        return frozenset(seen)

    owner = {h: j.name for j in found.joints for h in j.holes}
    told: dict[str, set[frozenset[tuple[str, str]]]] = {}
    for p in found.parts:
        for pin, hole in p.pins.items():
            at = board if p.kind == "terminal" else plain[p.id]
            if p.kind != "loop" and hole in owner:
                told.setdefault(owner[hole], set()).add(reached((at, pin)))
    assert all(len(groups) == 1 for groups in told.values())
    assert len({next(iter(g)) for g in told.values()}) == len(told)


def test_every_small_part_is_on_it(planned: tuple[Netlist, str, BoardPlan]) -> None:
    net, board, found = planned
    small = sum(p.each if p.kind in ("transistor", "resistor", "zener") else 1 for p in net.parts.values()
                if p.pins and p.on and net.under(p.id) == board)  # fmt: skip
    can = 1 if f"capacitor {board.partition(' ')[2]}" in net.parts and board.startswith("unit ") else 0
    assert sum(1 for p in found.parts if p.kind not in ("terminal", "loop")) == small + can


def test_the_same_board_twice_is_the_same_plan() -> None:
    net = net_of(puppet_stage())
    assert board_plan(net, "encoder d1") == board_plan(net, "encoder d1")


def test_what_has_nothing_to_solder_is_refused_in_words() -> None:
    with pytest.raises(BoardError, match="nothing to solder"):
        board_plan(net_of(cider_stirrer()), "motor d1")


def test_motor_current_gets_wire_that_carries_it() -> None:
    """6 A/mm² (common practice, no source): 6 A take 1 mm², a wire of 1.13 mm, so 1.2 mm; a panel's ground does not."""
    net = net_of(cider_stirrer())
    stage = {j.name: j for j in board_plan(net, "unit u1").joints}
    assert stage["Motor +"].current_a == pytest.approx(5.96, abs=0.1) and stage["Motor +"].wire_mm == 1.2
    assert stage["Supply, guarded"].current_a == stage["Motor +"].current_a, "behind the guard nobody tells it"
    assert stage["Gate low"].wire_mm == 0.6
    panel = {j.name: j for j in board_plan(net, "panel d1").joints}
    assert panel["ground"].wire_mm == 0.6 and not panel["ground"].current_a


def test_the_switching_loop_is_longer_than_the_air_line() -> None:
    net = net_of(cider_stirrer())
    found = board_plan(net, "unit u1")
    parts = {p.name: p for p in found.parts}
    can = next(p for p in found.parts if p.kind == "capacitor" and "+" in p.pins)
    guard, shunt = parts["Guard"], parts["Shunt"]
    # From the capacitor through the guard and back through the shunt: no way round is shorter than their air lines.
    air = sum(abs(a[0] - b[0]) + abs(a[1] - b[1]) for a, b in (
        (can.pins["+"], guard.pins["D"]), (shunt.pins["2"], can.pins["−"])))  # fmt: skip
    assert found.loop_mm is not None and found.loop_mm > 0.6 * air * PITCH_MM
    assert board_plan(net, "panel d1").loop_mm is None


@pytest.mark.parametrize(("poles", "off"), [(2, 0.04), (3, 0.08), (4, 0.12), (6, 0.20)])
def test_screws_of_five_millimetres_drift_off_the_grid(poles: int, off: float) -> None:
    """Each pole is 0.08 mm short of two holes; shifted to the middle the outer ones miss by half of all."""
    assert on_grid(screws([str(k) for k in range(poles)])).off_mm == pytest.approx(off, abs=0.01)


def standing(part: WiredPart) -> Body:
    body = body_of(part)
    assert body is not None
    return body


def test_a_relay_stands_off_the_grid_and_a_chip_on_it() -> None:
    relay = WiredPart(id="k", kind="relay", name="K", pins=("coil 1", "coil 2", "COM 1", "NO 1", "NC 1"))
    chip = WiredPart(id="u", kind="gate driver", name="U", pins=("VCC", "GND", "IN 1", "LO"))
    found = on_grid(standing(relay))
    assert found.off_mm > 0.3 and set(found.drilled) == set(relay.pins)
    # 7.62 mm are three holes.
    assert on_grid(standing(chip)).off_mm == pytest.approx(0, abs=1e-6)


def test_a_turned_body_is_the_same_body() -> None:
    shape = on_grid(Body(pins={"a": (0, 0), "b": (10.16, 2.54)}, box=(0, -1, 10.16, 3), height_mm=3))
    again = shape.turned().turned().turned().turned()
    assert again == shape and shape.turned() != shape


@pytest.mark.parametrize(("hole", "name"), [((0, 0), "A1"), ((25, 8), "Z9"), ((26, 0), "AA1"), ((51, 0), "AZ1")])
def test_holes_are_named_as_columns_of_a_table(hole: tuple[int, int], name: str) -> None:
    assert hole_name(hole) == name


def test_joints_that_alternate_along_an_edge_cross() -> None:
    """A…B…A…B along an edge: whatever joins the two A parts the two B, so one of them goes over, however large the
    board; away from the edge one passes above and the other below."""
    joints = {"a": [(0, 0), (2, 0)], "b": [(1, 0), (3, 0)]}
    assert len(route(joints, 4, 1, ()).links) == 2, "on one row each is stopped by the other's pin"
    for rows in (2, 5, 9):
        found = route(joints, 9, rows, ())
        assert len(found.links) == 1 and len(found.tracks) == 1
    inside = {name: [(c + 1, 2) for c, _ in holes] for name, holes in joints.items()}
    assert not route(inside, 9, 5, ()).links
    fenced = {(c, 1) for c in range(9)}
    assert len(route(inside, 9, 5, fenced).links) == 1, "holes that are taken are passed by none"


@given(st.data())
@settings(max_examples=60)
def test_alone_on_the_board_the_way_is_the_shortest(data: st.DataObject) -> None:
    """With nothing in the way a track takes as many steps as columns and rows lie between (Lee 1961)."""
    hole = st.tuples(st.integers(0, 11), st.integers(0, 8))
    one, other = data.draw(hole), data.draw(hole)
    if one == other:
        return
    found = route({"a": [one, other]}, 12, 9, ())
    assert found.length == abs(one[0] - other[0]) + abs(one[1] - other[1]) and not found.links


def test_legs_in_their_order_are_taken_only_if_all_are_there() -> None:
    pins = ["VCC", "GND", "IN 1", "LO"]
    assert legs_of("–, IN 1, GND, –, LO, VCC", pins) == ("– 1", "IN 1", "GND", "– 4", "LO", "VCC")
    assert legs_of("IN 1, GND, VCC", pins) == (), "LO is missing"
    assert legs_of("IN 1, IN 1, GND, VCC, LO", pins) == () and legs_of("", pins) == ()


def test_told_legs_put_the_chip_right_and_take_its_warning_away() -> None:
    build = puppet_stage()
    driver = build.units[0].stage.gate_driver
    assert driver is not None
    driver.legs = "–, IN 1, GND, –, –, VCC, LO, –"
    found = board_plan(net_of(build), "unit u1")
    chip = next(p for p in found.parts if p.kind == "gate driver")
    assert chip.note == "" and len(chip.pins) == 4
    (x, y), (gx, gy) = chip.pins["IN 1"], chip.pins["GND"]
    assert abs(x - gx) + abs(y - gy) == 1, "legs 2 and 3 are neighbours"


def test_the_tallest_part_decides_the_height() -> None:
    """Post 5, joints 2, board 1.6 and the can's 32 mm: 40.6 mm."""
    assert tallest(net_of(cider_stirrer()), "unit u1") == ("Capacitor 660 µF", pytest.approx(40.6))


def test_a_capacitor_of_unknown_volts_leaves_the_height_unknown() -> None:
    """The stirrer's can of 660 µF makes 40.6 mm; without its volts a usual one is drawn, and nothing is told to fit."""
    tight = altered(cider_stirrer, units__u1__stage__board__room="41 mm")
    assert verdict(tight, "wiring.height") in ("holds", "tight")
    unsure = altered(cider_stirrer, units__u1__stage__board__room="41 mm", units__u1__bulk_voltage="")
    found = said(unsure, "wiring.height")
    assert found is not None and found.verdict == "unknown" and "make its size" in found.unknown
