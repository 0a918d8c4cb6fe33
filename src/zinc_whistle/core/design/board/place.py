"""Where the parts of a board stand: on shelves across it, near what they are joined to."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np
from numpy.typing import NDArray

from ...cases.bodies import OnGrid

Hole = tuple[int, int]
"""Column from the left and row from the top, both from 0."""
Whole = NDArray[np.int64]
GAP = 1
"""Holes left free between two bodies, for tracks and fingers."""
EDGE = 1
"""Holes left free along the edge."""
CORNER = 3
"""A mounting hole takes a square of so many holes at a corner."""


@dataclass(frozen=True, slots=True, kw_only=True)
class BoardPiece:
    """One part to place: its shape, the joint of each of its pins, and the edge that it must stand at, if any."""

    id: str
    shape: OnGrid
    joints: Mapping[str, str]
    edge: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class PlacedPiece:
    """A piece where it stands."""

    piece: BoardPiece
    at: Hole

    @property
    def holes(self) -> dict[str, Hole]:
        """The hole of each pin."""
        (x, y) = self.at
        return {k: (x + a, y + b) for k, (a, b) in self.piece.shape.pins.items()}

    @property
    def box(self) -> tuple[int, int, int, int]:
        """First and last column and row that it covers: columns first (left, top, right, bottom)."""
        (x, y), (a, b, c, d) = self.at, self.piece.shape.box
        return x + a, y + b, x + c, y + d


@dataclass(frozen=True, slots=True, kw_only=True)
class Placement:
    """All pieces on a board of so many columns and rows of holes."""

    columns: int
    rows: int
    placed: tuple[PlacedPiece, ...]
    corners: tuple[Hole, ...] = field(default=())

    def joints(self) -> dict[str, list[Hole]]:
        """The holes of each joint, in the order of the pieces."""
        found: dict[str, list[Hole]] = {}
        for p in self.placed:
            for pin, hole in p.holes.items():
                if pin in p.piece.joints:
                    found.setdefault(p.piece.joints[pin], []).append(hole)
        return found


def steps(one: Hole, other: Hole) -> int:
    """From hole to hole, across and down."""
    return abs(one[0] - other[0]) + abs(one[1] - other[1])


def placements(
    pieces: Sequence[BoardPiece], columns: int, *, count: int, moves: int, gap: int, weights: Mapping[str, float]
) -> Iterator[Placement]:
    """Placements on a board of so many columns, each found from another beginning; the same for the same pieces.
    ``weights`` tell how much dearer than others a joint's wire is.

    Two pieces are swapped, or one is turned, as long as the wire gets shorter; now and then a longer one is taken, ever
    more rarely, so that the first hollow is not the last.
    """
    for seed in range(count):
        chance = np.random.default_rng(seed)
        order = [p for p in pieces if not p.edge]
        if seed:
            order = [order[k] for k in chance.permutation(len(order))]
        edges = [p for p in pieces if p.edge]
        best = _shelves(order, edges, columns, gap)
        price = least = cost(best, weights)
        heat = price * HOT
        pairs = chance.integers(max(len(order), 1), size=(moves, 2)).tolist()
        turns, heats = chance.random((2, moves)).tolist()
        for k in range(moves if order else 0):
            tried = list(order)
            one, other = pairs[k]
            if one == other or turns[k] < TURNS:
                tried[one] = replace(tried[one], shape=tried[one].shape.turned())
            else:
                tried[one], tried[other] = tried[other], tried[one]
            next_ = _shelves(tried, edges, columns, gap)
            dearer = cost(next_, weights) - price
            if dearer <= 0 or heats[k] < math.exp(-dearer / (heat * (1 - k / moves))):
                order, price = tried, price + dearer
                if price < least:
                    best, least = next_, price
        yield best


HOT, TURNS = 0.01, 0.3
"""How much dearer a placement may get at first, as a share; and the share of moves that turn a piece."""
CROSSING = 8
"""What two wires that cross weigh, in steps of wire: one of them goes round, or becomes a link."""


def cost(p: Placement, weights: Mapping[str, float]) -> float:
    """What a placement is judged by before it is joined, in steps of wire."""
    # A row more is a longer board: it weighs as much as the wire that it would take across.
    joints = p.joints()
    lines = [(a, b, k) for k, holes in enumerate(joints.values()) for a, b in _tree(holes)]
    dear = [weights.get(name, 1.0) for name in joints]
    return sum(dear[k] * steps(a, b) for a, b, k in lines) + CROSSING * _crossings(lines) + p.rows * p.columns // 8


def _tree(holes: Sequence[Hole]) -> list[tuple[Hole, Hole]]:
    """The shortest lines that join some holes (Prim 1957)."""
    near = {h: (steps(holes[0], h), holes[0]) for h in holes[1:]}
    lines = []
    while near:
        h, (_, to) = min(near.items(), key=lambda x: x[1][0])
        del near[h]
        lines.append((to, h))
        for other, (far, _) in near.items():
            if (nearer := steps(h, other)) < far:
                near[other] = (nearer, h)
    return lines


def _crossings(lines: Sequence[tuple[Hole, Hole, int]]) -> int:
    """How many of the straight lines cross one of another joint."""
    if len(lines) < 2:
        return 0
    ends = np.array([(*a, *b) for a, b, _ in lines], dtype=np.int64)
    joint = np.array([k for *_, k in lines])
    ax, ay, bx, by = ends.T[:, :, None]
    cx, cy, dx, dy = ends.T[:, None, :]

    over = (_side(ax, ay, bx, by, cx, cy) != _side(ax, ay, bx, by, dx, dy)) & (
        _side(cx, cy, dx, dy, ax, ay) != _side(cx, cy, dx, dy, bx, by)
    )
    return int(np.count_nonzero(over & (joint[:, None] != joint[None, :])) // 2)


def _side(px: Whole, py: Whole, qx: Whole, qy: Whole, rx: Whole, ry: Whole) -> Whole:
    """On which side of the line from p to q a point r lies."""
    found: Whole = np.sign((qx - px) * (ry - py) - (qy - py) * (rx - px))
    return found


def _shelves(order: Sequence[BoardPiece], edges: Sequence[BoardPiece], columns: int, gap: int) -> Placement:
    """Pieces side by side on shelves from the top: terminals along the first, plugs along the last."""
    placed: list[PlacedPiece] = []
    top = EDGE
    for edge in ("top", "", "bottom"):
        own = [p for p in (order if not edge else edges) if p.edge == edge]
        # The mounting holes take the corners of the first and the last shelf.
        inset = CORNER + EDGE if edge else EDGE
        top = _fill(own, placed, top, inset, columns, gap)
    rows = top - gap + EDGE
    corners = tuple((c, r) for c in (1, columns - 2) for r in (1, rows - 2))
    return Placement(columns=columns, rows=rows, placed=tuple(placed), corners=corners)


def _fill(own: Sequence[BoardPiece], placed: list[PlacedPiece], top: int, inset: int, columns: int, gap: int) -> int:
    """Puts pieces on shelves from ``top`` on; the row at which the next shelf may begin."""
    left, deepest = inset, 0
    for piece in own:
        a, b, c, d = piece.shape.box
        wide, deep = c - a + 1, d - b + 1
        if left > inset and left + wide + inset > columns:
            top, left, deepest = top + deepest + gap, inset, 0
        placed.append(PlacedPiece(piece=piece, at=(left - a, top - b)))
        left, deepest = left + wide + GAP, max(deepest, deep)
    return top + max(deepest, CORNER if inset > EDGE else 0) + gap if own or inset > EDGE else top


def narrowest(pieces: Sequence[BoardPiece]) -> int:
    """The fewest columns on which each piece has a place."""
    widest = [p.shape.box[2] - p.shape.box[0] + 1 + 2 * (CORNER + EDGE if p.edge else EDGE) for p in pieces]
    return max(widest, default=2 * CORNER)
