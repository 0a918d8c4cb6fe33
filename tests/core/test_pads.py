"""Where a fault sits: joints opened and pads bridged one at a time, and found again by the touches asked for.

What the meter does comes from a nodal solver of these tests: every joint a milliohm, every part its ohms, one unit
current from place to place. It knows nothing of how the finder contracts joints or counts its bits.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Mapping

import numpy as np
import pytest
from scipy.sparse import lil_array
from scipy.sparse.linalg import SuperLU, splu

from tests.verdicts.kit import SHELF
from zinc_whistle.core.assess import assess
from zinc_whistle.core.cases.netlist import Netlist
from zinc_whistle.core.cases.wires.terminal import Terminal
from zinc_whistle.core.design.continuity import Must
from zinc_whistle.core.design.faults.pads import HERE, FaultPlace, JointMap, PlacesFound, Search, Spot, Touch, locate
from zinc_whistle.core.model.build import Build
from zinc_whistle.demo.data import cider_stirrer, lantern_carousel, puppet_stage, snow_fan

DEMOS = pytest.mark.parametrize("make", [lantern_carousel, cider_stirrer, puppet_stage, snow_fan])
AIR = 1e-7
"""S from every place to one far node: what hangs together with nothing has a voltage too."""


def netlist_of(make: Callable[[], Build]) -> Netlist:
    return next(iter(assess(make(), SHELF).drives.values())).wiring.netlist


class Bench:
    """A board with one fault in it, and a meter."""

    def __init__(self, net: Netlist, fault: FaultPlace | None) -> None:
        self.net, self.fault = net, fault
        self.links = list(JointMap(net).edges)
        self.at = {s: k for k, s in enumerate(dict.fromkeys(s for e in self.links for s in e))}
        self.solved: dict[str, SuperLU] = {}

    def _solver(self, lifted: str) -> SuperLU:
        """The conductances of all places, factored once for each part that is lifted."""
        fault = self.fault
        links = [(a, b, 1e-3) for a, b in self.links if fault is None or (a, b) not in fault.opens]
        for part in self.net.parts.values():
            if part.id != lifted:
                ends = [(Spot(Terminal(part.id, a)), Spot(Terminal(part.id, b)), r) for a, b, r in part.ohms]
                links += [(a, b, max(r, 1e-3) / part.each) for a, b, r in ends if a in self.at and b in self.at]
        if fault is not None and fault.bridges is not None and not (fault.part and fault.part == lifted):
            links.append((*fault.bridges, 1e-3))
        matrix = lil_array((len(self.at), len(self.at)))
        matrix.setdiag(AIR)
        for a, b, r in links:
            i, j = self.at[a], self.at[b]
            for x, y, sign in ((i, i, 1), (j, j, 1), (i, j, -1), (j, i, -1)):
                matrix[x, y] += sign / r
        return splu(matrix.tocsc())

    def ohms(self, one: Spot, other: Spot, lifted: str) -> float:
        """One ampere in at one place and out at the other."""
        if lifted not in self.solved:
            self.solved[lifted] = self._solver(lifted)
        current = np.zeros(len(self.at))
        current[self.at[one]], current[self.at[other]] = 1.0, -1.0
        volts = self.solved[lifted].solve(current)
        return float(volts[self.at[one]] - volts[self.at[other]])

    def touch(self, t: Touch) -> Must:
        ohms = self.ohms(t.one, t.other, t.lifted)
        return "beeps" if ohms < 0.5 else "reads" if ohms < 50 else "silent"


def look(net: Netlist, cause: str, fault: FaultPlace | None, most: int) -> tuple[PlacesFound, int]:
    """Follow the touches that are asked for."""
    bench, answers, search = Bench(net, fault), dict[str, Must](), Search(net, "d1", cause)
    while True:
        found = search.ask(answers)
        if found.next is None or len(answers) >= most:
            return found, len(answers)
        answers[found.next.id] = bench.touch(found.next)


def places_of(net: Netlist, cause: str) -> list[FaultPlace]:
    return [p for _, group in locate(net, "d1", cause, {}).places for p in group]


def causes_of(net: Netlist) -> list[str]:
    def has(cause: str) -> bool:
        try:
            locate(net, "d1", cause, {})
        except LookupError:
            return False
        return True

    return [c for c in sorted(HERE) if has(c)]


@DEMOS
def test_every_fault_that_is_put_in_is_found_in_few_touches(make: Callable[[], Build]) -> None:
    """Every seventh place of every cause. A touch asks one way through one net, so that more nets take more touches:
    never more than there are pins, and four for what a slip of the meter would need."""
    net = netlist_of(make)
    tried = 0
    for cause in causes_of(net):
        places = places_of(net, cause)
        pins = {s for p in places for e in p.opens for s in e if not s.wire}
        most = len(pins) + 4 if pins else 2 * len(places)
        for place in places[tried % 7 :: 7]:
            fault = None if place.sort == "none" else place
            found, count = look(net, cause, fault, most)
            share, best = found.places[0]
            assert place.where in {p.where for p in best}, f"{cause}: {place.where}, told {[p.where for p in best]}"
            assert share > 0.9 or found.next is None, f"{cause}: {place.where} after {count} of {most}"
            tried += 1
    assert tried >= 5


def test_one_wrong_reading_is_overcome_by_those_that_follow() -> None:
    """The first touch is told the wrong way round; two that cross the joint itself put it right."""
    net = netlist_of(lantern_carousel)
    place = next(p for p in places_of(net, "joint") if p.where.startswith("Joint of M+"))
    bench, answers = Bench(net, place), dict[str, Must]()
    first = locate(net, "d1", "joint", {}).next
    assert first is not None
    answers[first.id] = "silent" if bench.touch(first) == "beeps" else "beeps"
    for touch_one, touch_other in itertools.product([Spot(Terminal("motor d1", "M+"))], JointMap(net).spots):
        pair = f"motor d1:M+:|{touch_other.at.block}:{touch_other.at.pin}:{touch_other.wire}"
        back = f"{touch_other.at.block}:{touch_other.at.pin}:{touch_other.wire}|motor d1:M+:"
        if touch_other.wire and touch_other.at == touch_one.at:
            answers[pair] = answers[back] = "silent"
    for _ in range(8):
        found = locate(net, "d1", "joint", answers)
        if found.next is None:
            break
        answers[found.next.id] = bench.touch(found.next)
    assert place.where in {p.where for p in found.places[0][1]}


def test_a_lead_that_is_off_reads_ohms_where_another_way_round_goes_through_the_winding() -> None:
    """Carousel: with the joint at OUT 1 open nothing joins OUT 1 and M+ at rest. Puppets: both relays rest on one rail,
    so that OUT 1 reaches M+ through the other relay and the winding (5.54 Ω cold): a meter beeps there all the same."""
    for make, must, low, high in ((lantern_carousel, "silent", 1e6, math.inf), (puppet_stage, "reads", 5.0, 6.5)):
        net = netlist_of(make)
        place = next(p for p in places_of(net, "joint") if "M+" not in p.where and "Motor +" in p.where)
        touch = locate(net, "d1", "joint", {}).next
        assert touch is not None
        assert low < Bench(net, place).ohms(touch.one, touch.other, "") <= high
        board = JointMap(net)
        assert ["beeps", "reads", "silent"][int(board.heard([touch], place)[0])] == must
        assert ["beeps", "reads", "silent"][int(board.heard([touch])[0])] == "beeps"


@DEMOS
def test_what_the_meter_does_is_the_same_by_both_ways(make: Callable[[], Build]) -> None:
    """A few touches of every cause with every fourth fault: contracted joints against the whole matrix."""
    net = netlist_of(make)
    board = JointMap(net)
    for cause in causes_of(net)[::3]:
        for place in [p for p in places_of(net, cause) if p.sort != "none"][::9]:
            touch = locate(net, "d1", cause, {}).next
            assert touch is not None
            heard = ["beeps", "reads", "silent"][int(board.heard([touch], place)[0])]
            assert heard == Bench(net, place).touch(touch)


def test_a_capacitor_is_lifted_only_when_it_is_worth_its_time() -> None:
    """A short between supply and ground: the whole net reads alike, so that only a lifted leg tells the capacitor from
    a strand beside it; a touch costs a tenth of that and comes first where it tells anything."""
    net = netlist_of(lantern_carousel)
    capacitor = next(p for p in places_of(net, "short") if p.sort == "part")
    found, _ = look(net, "short", capacitor, 8)
    assert [p.where for p in found.places[0][1]] == [capacitor.where]
    first = locate(net, "d1", "short", {}).next
    assert first is not None and not first.lifted


def test_the_touch_asked_for_is_the_one_that_leaves_least_open() -> None:
    """Brute force on a small set: for every touch, the mean entropy of the places after its answer, each answer by its
    chance; the first touch of equal time leaves no more open than any other."""
    net = netlist_of(lantern_carousel)
    for cause in ("joint", "line", "ground"):
        places = places_of(net, cause)
        prior = np.array([p.weight for p in places]) / sum(p.weight for p in places)
        board = JointMap(net)
        asked = locate(net, "d1", cause, {}).next
        assert asked is not None

        def left(
            t: Touch, places: list[FaultPlace] = places, prior: np.ndarray = prior, board: JointMap = board
        ) -> float:
            reads = [int(board.heard([t], None if p.sort == "none" else p)[0]) for p in places]
            total = 0.0
            for answer in range(3):
                joint = prior * np.where(np.array(reads) == answer, 0.97, 0.015)
                chance = float(joint.sum())
                after = joint / chance
                total -= chance * float(np.sum(after * np.log2(after)))
            return total

        pins = list(dict.fromkeys(s for p in places for e in p.opens for s in e))
        pairs = [(a, b) for a, b in itertools.combinations(pins, 2) if board.net.net_of[a.at] == board.net.net_of[b.at]]
        touches = [Touch(str(n), a, b, "beeps") for n, (a, b) in enumerate(pairs) if not (a.wire and b.wire)]
        own = [t for t in touches if not t.one.wire and not t.other.wire]
        assert left(asked) <= min(left(t) for t in own) + 1e-9


@pytest.mark.parametrize("cause", ["magnets", "nothing of the kind", "turns"])
def test_a_cause_that_sits_in_no_joint_says_so(cause: str) -> None:
    with pytest.raises(LookupError, match=r"sits in no joint"):
        locate(netlist_of(lantern_carousel), "d1", cause, {})


def test_words_name_part_pin_and_the_lead_by_its_colour() -> None:
    net = netlist_of(lantern_carousel)
    texts = [p.where for p in places_of(net, "joint")]
    assert any("yellow" in t for t in texts) and any("M−" in t for t in texts)
    board = JointMap(net)
    ends: Mapping[bool, list[Spot]] = {w: [s for s in board.spots if bool(s.wire) is w] for w in (True, False)}
    assert all("lead" in board.words(s) or "track" in board.words(s) for s in ends[True])
    assert all(net.parts[s.at.block].name in board.words(s) for s in ends[False])
