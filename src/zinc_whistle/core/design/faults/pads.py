"""Where a found fault sits: joint by joint and pad by pad, by a meter that beeps.

The finder names a cause by what the tests of the sheet read. Which of a dozen joints it is, no such test tells: the
netlist does. Every joint that may be open and every pair of pads that may be bridged is put into the netlist in turn,
and what a meter does between any two places is solved there, with every winding, shunt and resistor in its place.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

import numpy as np
import scipy
from numpy.typing import NDArray

from ...cases.netlist import Netlist, Wire
from ...cases.wires.terminal import Terminal
from ..continuity import BEEPS_BELOW, JOINED, Must

SLIP = 0.03
"""How often a reading is taken that was not there (common practice, no source)."""
NEAR_OHM = 0.5
"""Ω: below it, probe leads taken off, it is a joint; above it something lies between, beep or not (common practice, no
source)."""
HEARD: tuple[Must, ...] = ("beeps", "reads", "silent")
SURE = 0.95
WORTH_BITS = 0.02
Sort = Literal["joint", "lead", "bridge", "part", "none"]
WEIGHTS: Mapping[Sort, float] = {"joint": 4.0, "lead": 1.0, "bridge": 2.0, "part": 2.0, "none": 2.0}
"""Joints go before leads; a lead breaks where it is soldered (common practice, no source)."""
UNTICKED = 3.0
"""So much likelier is a joint that nobody ticked as made (common practice, no source)."""
LIFT_MINUTES = 10.0

FEED = frozenset({"source", "fuse", "switch"})
TOUCHED: Mapping[str, tuple[frozenset[str], frozenset[str]]] = {
    "joint": (frozenset({"driver"}), frozenset({"motor"})),
    "open_lead": (frozenset({"driver"}), frozenset({"motor"})),
    "fuse": (FEED, FEED | {"driver"}),
    "feed": (FEED, FEED | {"driver"}),
    "ground": (frozenset({"controller", "source", "regulator"}), frozenset({"driver", "source"})),
    "line": (frozenset({"controller", "radio", "timer"}), frozenset({"driver"})),
    "mixed": (frozenset({"controller"}), frozenset({"driver"})),
    "sense_off": (frozenset({"driver"}), frozenset({"controller"})),
    "channel": (frozenset({"encoder"}), frozenset({"controller", "encoder"})),
    "channels": (frozenset({"encoder"}), frozenset({"controller"})),
    "lost": (frozenset({"encoder"}), frozenset({"controller"})),
    "contact": (frozenset({"panel", "contact"}), frozenset({"controller", "panel"})),
    "logic": (frozenset({"controller"}), FEED | {"regulator"}),
}
"""Causes that may sit in a joint between two kinds of parts."""
INSIDE: Mapping[str, frozenset[str]] = {
    "gate": frozenset({"VCC", "Gate supply"}),
    "boot": frozenset({"VB", "VS", "HO"}),
    "leg": frozenset({"G", "D", "S", "B", "C", "E", "HO", "LO"}),
    "dead": frozenset(),
}
"""Causes that may sit in a joint on the driver's own board, and a pin that such a net has (none: any)."""
SHORTS = ("short",)
HERE = frozenset({*TOUCHED, *INSIDE, *SHORTS})
"""Causes of which a place can be looked for."""


@dataclass(frozen=True, slots=True)
class Spot:
    """Something that a probe can touch: a pin's own metal, or what is joined to it there (a lead's bare end, a track);
    ``wire`` is empty for the pin."""

    at: Terminal
    wire: str = ""


@dataclass(frozen=True, slots=True)
class FaultPlace:
    """One place at which the fault may sit: what opens (edges taken out) or bridges (an edge put in)."""

    sort: Sort
    where: str
    opens: tuple[tuple[Spot, Spot], ...] = ()
    bridges: tuple[Spot, Spot] | None = None
    part: str = ""
    weight: float = 1.0


@dataclass(frozen=True, slots=True)
class Touch:
    """Two places to touch, and what the meter does on a sound board; ``lifted`` is a part of which a leg is lifted
    first."""

    id: str
    one: Spot
    other: Spot
    must: Must
    lifted: str = ""

    @property
    def minutes(self) -> float:
        return LIFT_MINUTES if self.lifted else 1.0


@dataclass(frozen=True, slots=True)
class PlacesFound:
    """The places by their probability, those that no touch tells apart together; the touch that tells most for its
    time (None: none tells anything more), and whether it is as good as found."""

    places: tuple[tuple[float, tuple[FaultPlace, ...]], ...]
    next: Touch | None
    sure: bool


class JointMap:
    """A netlist joint by joint: every pin, every lead's ends, every track, and what lies between them at rest."""

    def __init__(self, net: Netlist) -> None:
        self.net = net
        self.wires = [w for w in net.wires if w.fitted]
        self.edges: list[tuple[Spot, Spot]] = []
        for w in self.wires:
            a, b = self.ends(w)
            self.edges += [(Spot(w.start), a), (a, b), (b, Spot(w.end))]
        self.edges = list(dict.fromkeys(self.edges))
        self.spots = list(dict.fromkeys(s for e in self.edges for s in e))
        self.index = {s: k for k, s in enumerate(self.spots)}

    @staticmethod
    def ends(w: Wire) -> tuple[Spot, Spot]:
        """What is joined to the two pins: the lead's own ends; on a board the tracks, which all wires of a pin
        share."""
        name = "track" if w.inside else w.id
        return Spot(w.start, name), Spot(w.end, name)

    @cached_property
    def resistors(self) -> list[tuple[int, int, float, str]]:
        """What an ohmmeter sees in parts, by the places of their pins (Ω)."""
        found = []
        for part in self.net.parts.values():
            for a, b, ohms in part.ohms:
                i, j = (self.index.get(Spot(Terminal(part.id, pin))) for pin in (a, b))
                if i is not None and j is not None:
                    found.append((i, j, max(ohms, JOINED) / part.each, part.id))
        return found

    def heard(self, touches: Sequence[Touch], place: FaultPlace | None = None) -> NDArray[np.int64]:
        """What a meter does at each touch, by its place in HEARD, with a fault in its place (None: a sound board)."""
        found = np.zeros(len(touches), dtype=np.int64)
        for lifted in {t.lifted for t in touches}:
            own = [k for k, t in enumerate(touches) if t.lifted == lifted]
            pairs = [(self.index[touches[k].one], self.index[touches[k].other]) for k in own]
            ohms = self._between(pairs, place, lifted)
            found[own] = (ohms >= NEAR_OHM).astype(np.int64) + (ohms >= BEEPS_BELOW)
        return found

    def _between(self, pairs: Sequence[tuple[int, int]], place: FaultPlace | None, lifted: str) -> NDArray[np.float64]:
        """Ω between places, infinite where nothing joins them."""
        opened = set(place.opens) if place is not None else set()
        joined = [(self.index[a], self.index[b]) for a, b in self.edges if (a, b) not in opened]
        if place is not None and place.bridges is not None and (not place.part or place.part != lifted):
            joined.append((self.index[place.bridges[0]], self.index[place.bridges[1]]))
        label = _pieces(len(self.spots), joined)
        # Joints are far below what makes a meter beep: each piece that hangs together is one point of the circuit.
        count = int(label.max()) + 1 if len(label) else 0
        matrix = np.zeros((count, count))
        links = []
        for i, j, ohms, part in self.resistors:
            a, b = label[i], label[j]
            if a == b or part == lifted:
                continue
            links.append((int(a), int(b)))
            matrix[[a, b], [a, b]] += 1 / ohms
            matrix[[a, b], [b, a]] -= 1 / ohms
        together = _pieces(count, links)
        used = sorted({x for link in links for x in link})
        inverse = np.linalg.pinv(matrix[np.ix_(used, used)], hermitian=True) if used else np.zeros((0, 0))
        at = {x: k for k, x in enumerate(used)}
        ohms_of = []
        for i, j in pairs:
            a, b = int(label[i]), int(label[j])
            if a == b:
                ohms_of.append(0.0)
            elif together[a] != together[b]:
                ohms_of.append(math.inf)
            else:
                x, y = at[a], at[b]
                ohms_of.append(float(inverse[x, x] + inverse[y, y] - 2 * inverse[x, y]))
        return np.array(ohms_of)

    def words(self, spot: Spot) -> str:
        """A spot as somebody with a probe in hand would call it."""
        part = self.net.parts[spot.at.block]
        pin = f"{spot.at.pin} of {part.name}"
        if not spot.wire:
            return pin
        if spot.wire == "track":
            return f"the track at {pin}"
        wire = next(w for w in self.wires if w.id == spot.wire)
        return f"the bare end of the {wire.colour.partition(',')[0]} lead at {pin}".replace("the  lead", "the lead")


def _pieces(count: int, links: Sequence[tuple[int, int]]) -> NDArray[np.int64]:
    if not links:
        return np.arange(count)
    one, other = np.array(links, dtype=np.int64).T
    found = scipy.sparse.csgraph.connected_components(
        scipy.sparse.coo_array((np.ones(len(one)), (one, other)), shape=(count, count)), directed=False
    )[1]
    return np.asarray(found, dtype=np.int64)


class Search:
    """The places of a cause, and what the meter would do at every touch with the fault in each of them."""

    def __init__(self, net: Netlist, drive: str, cause: str) -> None:
        """LookupError with a sentence where the cause sits in no joint, or this build has none."""
        board = JointMap(net)
        places = list(_places(board, drive, cause))
        if not places:
            raise LookupError("This cause sits in no joint that the netlist of this build has.")
        self.places = [*places, FaultPlace("none", "Nothing of these: it is something else", weight=WEIGHTS["none"])]
        self.touches = list(_touches(board, places))
        sound = board.heard(self.touches)
        self.reads = np.array([*(board.heard(self.touches, p) for p in places), sound])
        groups: dict[bytes, list[int]] = {}
        for n, row in enumerate(self.reads):
            groups.setdefault(row.tobytes(), []).append(n)
        self.groups = list(groups.values())

    def ask(self, answers: Mapping[str, Must]) -> PlacesFound:
        """After so many touches: by their id what the meter did."""
        weight = np.array([p.weight for p in self.places])
        for k, touch in enumerate(self.touches):
            if (heard := answers.get(touch.id)) is not None:
                weight = weight * np.where(self.reads[:, k] == HEARD.index(heard), 1 - SLIP, SLIP / 2)
        weight = weight / weight.sum()
        shares = sorted(((float(weight[m].sum()), m) for m in self.groups), key=lambda g: -g[0])
        # A touch that says nothing new is not asked for; one that was made is not made again.
        bits = [0.0 if t.id in answers else _bits(weight, self.reads[:, k]) for k, t in enumerate(self.touches)]
        left = [(b / t.minutes, -k) for k, (t, b) in enumerate(zip(self.touches, bits, strict=True)) if b > WORTH_BITS]
        sure = shares[0][0] > SURE
        return PlacesFound(
            places=tuple((share, tuple(self.places[n] for n in members)) for share, members in shares),
            next=self.touches[-max(left)[1]] if left and not sure else None,
            sure=sure,
        )


def locate(net: Netlist, drive: str, cause: str, answers: Mapping[str, Must]) -> PlacesFound:
    """The places of a cause after so many touches. LookupError with a sentence where it sits in no joint."""
    return Search(net, drive, cause).ask(answers)


def _bits(weight: NDArray[np.float64], heard: NDArray[np.int64]) -> float:
    """What a touch tells on the average: how open its answer is, less how open it stays where the place is known."""
    shares = np.bincount(heard, weights=weight, minlength=len(HEARD))
    told = np.asarray(shares * (1 - 1.5 * SLIP) + SLIP / 2, dtype=np.float64)
    return _entropy(told) - _entropy(np.array([1 - SLIP, SLIP / 2, SLIP / 2]))


def _entropy(p: NDArray[np.float64]) -> float:
    return float(-np.sum(p * np.log2(p)))


def _places(board: JointMap, drive: str, cause: str) -> Iterator[FaultPlace]:
    if cause in SHORTS:
        yield from _shorts(board)
        return
    wires = [w for w in board.wires if _concerned(board.net, w, drive, cause)]
    joints: dict[tuple[Spot, Spot], Wire] = {}
    for w in wires:
        a, b = JointMap.ends(w)
        joints.setdefault((Spot(w.start), a), w)
        joints.setdefault((b, Spot(w.end)), w)
    for (one, other), w in joints.items():
        pin, end = (one, other) if not one.wire else (other, one)
        alike = [e for e in board.edges if set(e) == {pin, end}]
        ticked = 1.0 if w.made or w.inside else UNTICKED
        what = "Solder" if w.inside else "Joint"
        where = f"{what} of {board.words(pin)}" + ("" if w.inside else f", {w.name} ({w.colour.partition(',')[0]})")
        yield FaultPlace("joint", where, tuple(alike), weight=WEIGHTS["joint"] * ticked)
    for w in wires:
        if not w.inside:
            a, b = JointMap.ends(w)
            ends = f"{board.words(Spot(w.start))} to {board.words(Spot(w.end))}"
            words = f"The {w.colour.partition(',')[0]} lead itself, {w.name}, {ends}"
            yield FaultPlace("lead", words, ((a, b),), weight=WEIGHTS["lead"])


def _kind(net: Netlist, t: Terminal) -> str:
    return net.parts[net.under(t.block)].kind


def _concerned(net: Netlist, w: Wire, drive: str, cause: str) -> bool:
    """Whether a cause may sit in this wire: it belongs to a net of the right parts, and to this drive or to all."""
    kinds = {_kind(net, w.start), _kind(net, w.end)}
    drives = {d for d, _ in w.own}
    if drives and drive not in drives:
        return False
    if cause in INSIDE:
        parts = [net.parts[t.block] for t in (w.start, w.end)]
        here = w.inside and kinds == {"driver"} and any(p.on and drive in (p.drives or (drive,)) for p in parts)
        return here and (not INSIDE[cause] or any(t.pin in INSIDE[cause] for t in net.net_of[w.start].pins))
    if cause not in TOUCHED or (w.inside and "driver" in kinds):
        return False
    one, other = TOUCHED[cause]
    own = net.net_of[w.start]
    if own.ground:
        return cause in ("ground", "fuse", "feed", "channel", "contact") and kinds <= one | other and bool(kinds & one)
    if cause == "ground" or (cause in ("line", "mixed", "channels", "lost") and own.role == "power"):
        return False
    if cause == "sense_off" and not any(t.pin.startswith("SENSE") for t in own.pins):
        return False
    if cause in ("line", "mixed") and any(t.pin.startswith("SENSE") for t in own.pins):
        return False
    met = {_kind(net, t) for t in own.pins}
    return bool(met & one) and bool(met & other) and bool(kinds & (one | other))


def _shorts(board: JointMap) -> Iterator[FaultPlace]:
    """What may short a supply to ground: pads side by side, a strand between two terminals, a part between the two."""
    net = board.net
    hot = {n.id for n in net.nets if not n.ground and any(_supplied(net, t) for t in n.pins)}
    cold = {n.id for n in net.nets if n.ground}

    def crosses(a: Terminal, b: Terminal) -> bool:
        one, other = (joined.id if (joined := net.net_of.get(t)) is not None else "" for t in (a, b))
        return (one in hot and other in cold) or (other in hot and one in cold)

    for part in net.parts.values():
        pins = [Terminal(part.id, p) for p in part.pins]
        for a, b in _neighbours(part.kind, part.in_order, bool(part.on), pins):
            if crosses(a, b):
                spots = Spot(a), Spot(b)
                words = f"Between {a.pin} and {b.pin} of {part.name}: a bridge of solder or a strand"
                yield FaultPlace("bridge", words, bridges=spots, weight=WEIGHTS["bridge"])
        if part.kind in ("capacitor", "diode", "zener", "device", "transistor", "gate driver"):
            ends = [(a, b) for k, a in enumerate(pins) for b in pins[k + 1 :] if crosses(a, b)]
            if ends:
                (a, b) = ends[0]
                words = f"{part.name}: shorted inside"
                yield FaultPlace("part", words, bridges=(Spot(a), Spot(b)), part=part.id, weight=WEIGHTS["part"])


def _supplied(net: Netlist, t: Terminal) -> bool:
    kind = net.parts[t.block].kind
    return kind in (*FEED, "regulator") or (kind == "driver" and t.pin.startswith("V+"))


def _neighbours(
    kind: str, in_order: bool, on_board: bool, pins: Sequence[Terminal]
) -> Iterator[tuple[Terminal, Terminal]]:
    """Pins that may touch: side by side where the order of the legs is known, else any two of a few terminals."""
    if in_order or (on_board and len(pins) > 2):
        yield from itertools.pairwise(pins)
    elif kind in ("driver", "regulator", "motor"):
        strong = [t for t in pins if t.pin in ("V+", "GND", "OUT 1", "OUT 2", "in", "out")]
        yield from ((a, b) for k, a in enumerate(strong) for b in strong[k + 1 :])


def _touches(board: JointMap, places: Iterable[FaultPlace]) -> Iterator[Touch]:
    """First along each net from place to place, then across each single joint; for a short between the two nets, and
    again with each suspected part lifted."""
    listed = list(places)
    found: dict[str, Touch] = {}

    def touch(one: Spot, other: Spot, must: Must, lifted: str = "") -> None:
        ends = "|".join(f"{s.at.block}:{s.at.pin}:{s.wire}" for s in (one, other))
        name = f"{ends}|{lifted}" if lifted else ends
        found.setdefault(name, Touch(name, one, other, must, lifted))

    pins = list(dict.fromkeys(s for p in listed for e in p.opens for s in e if not s.wire))
    nets: dict[str, list[Spot]] = {}
    for pin in pins:
        nets.setdefault(board.net.net_of[pin.at].id, []).append(pin)
    for own in nets.values():
        for k, one in enumerate(own):
            for other in own[k + 1 :]:
                touch(one, other, "beeps")
    for p in listed:
        for one, other in p.opens:
            if not (one.wire and other.wire):
                touch(one, other, "beeps")
    shorts = [p for p in listed if p.bridges is not None]
    for p in shorts:
        assert p.bridges is not None
        for lifted in ("", *(x.part for x in shorts if x.part)):
            touch(*p.bridges, "silent", lifted)
    yield from found.values()
