"""How the holes of a board are joined: bare wire along the underside, and insulated wire above where it cannot pass."""

from __future__ import annotations

import heapq
from collections import deque
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass

from .place import Hole, steps


@dataclass(frozen=True, slots=True, kw_only=True)
class Track:
    """Bare wire from hole to hole of one joint; ``holes`` are all it passes, neighbours one step apart."""

    joint: str
    holes: tuple[Hole, ...]

    @property
    def corners(self) -> tuple[Hole, ...]:
        """Its ends, and the holes at which it turns."""
        h = self.holes
        turns = [
            b
            for a, b, c in zip(h, h[1:], h[2:], strict=False)
            if (b[0] - a[0], b[1] - a[1]) != (c[0] - b[0], c[1] - b[1])
        ]
        return (h[0], *turns, h[-1])


@dataclass(frozen=True, slots=True, kw_only=True)
class BoardLink:
    """Insulated wire on the side of the parts, straight from hole to hole."""

    joint: str
    one: Hole
    other: Hole


@dataclass(frozen=True, slots=True, kw_only=True)
class Routing:
    """All tracks and links of a board."""

    tracks: tuple[Track, ...]
    links: tuple[BoardLink, ...]

    @property
    def length(self) -> int:
        """Of all tracks (steps from hole to hole)."""
        return sum(len(t.holes) - 1 for t in self.tracks)


class _Field:
    """The holes of a board, numbered row by row, and whose each is: ``#`` where nothing passes, empty where all may."""

    def __init__(self, columns: int, rows: int, taken: Iterable[Hole], weights: Mapping[str, float]) -> None:
        self.weights = weights
        self.columns, size = columns, columns * rows
        self.owner = [""] * size
        for h in taken:
            self.owner[self.number(h)] = "#"
        self.next_to = [
            [
                *((n - 1,) if n % columns else ()),
                *((n + 1,) if n % columns < columns - 1 else ()),
                *((n - columns,) if n >= columns else ()),
                *((n + columns,) if n < size - columns else ()),
            ]
            for n in range(size)
        ]

    def number(self, hole: Hole) -> int:
        return hole[1] * self.columns + hole[0]

    def hole(self, number: int) -> Hole:
        return number % self.columns, number // self.columns

    def way(self, joint: str, have: Iterable[int], wanted: set[int]) -> list[int] | None:
        """The fewest steps from what a joint has to one of some holes, through its own and free ones (Lee 1961); None
        where there is no way."""
        before: dict[int, int] = dict.fromkeys(sorted(have), -1)
        queue = deque(before)
        while queue:
            here = queue.popleft()
            if here in wanted:
                way = [here]
                while before[way[-1]] >= 0:
                    way.append(before[way[-1]])
                return way[::-1]
            for there in self.next_to[here]:
                if there not in before and self.owner[there] in ("", joint):
                    before[there] = here
                    queue.append(there)
        return None

    def apart(self, one: Iterable[int], other: Iterable[int]) -> tuple[int, int, int]:
        """The nearest two holes of two pieces of a joint, with the steps between them before them."""
        return min((steps(self.hole(a), self.hole(b)), a, b) for a in one for b in other)


def route(
    joints: Mapping[str, Sequence[Hole]],
    columns: int,
    rows: int,
    taken: Iterable[Hole],
    weights: Mapping[str, float] | None = None,
) -> Routing:
    """Joins the holes of each joint; ``taken`` holes are passed by none; joints of more weight come sooner.

    The two nearest pieces of any joint are joined first, so that no long wire lies across what a short one would have
    done; what cannot pass any more gets a link of insulated wire. No two joints share a hole, so no wires touch.
    """
    field = _Field(columns, rows, taken, weights or {})
    pieces = {joint: [{field.number(h)} for h in dict.fromkeys(holes)] for joint, holes in joints.items()}
    queue: list[tuple[float, str, int, int]] = []
    for joint, own in pieces.items():
        for k, one in enumerate(own):
            field.owner[min(one)] = joint
            queue += [_first(field, one, other, joint) for other in own[k + 1 :]]
    heapq.heapify(queue)
    tracks, links = [], []
    while queue:
        _, joint, a, b = heapq.heappop(queue)
        one, other = _with(pieces[joint], a), _with(pieces[joint], b)
        if one is other:
            continue
        way = field.way(joint, one, other)
        if way is None:
            continue
        tracks.append(Track(joint=joint, holes=tuple(field.hole(n) for n in way)))
        for n in way:
            field.owner[n] = joint
        pieces[joint] = [p for p in pieces[joint] if p is not one and p is not other]
        grown = one | other | set(way)
        for p in pieces[joint]:
            heapq.heappush(queue, _first(field, grown, p, joint))
        pieces[joint].append(grown)
    for joint, left in pieces.items():
        links += list(_linked(field, joint, left, {field.number(h) for h in joints[joint]}))
    return Routing(tracks=tuple(tracks), links=tuple(links))


def _first(field: _Field, one: set[int], other: set[int], joint: str) -> tuple[float, str, int, int]:
    far, a, b = field.apart(one, other)
    return far / field.weights.get(joint, 1.0), joint, a, b


def _with(pieces: Sequence[set[int]], hole: int) -> set[int]:
    return next(p for p in pieces if hole in p)


def _linked(field: _Field, joint: str, pieces: Sequence[set[int]], pins: set[int]) -> Iterator[BoardLink]:
    """Links between the pieces of a joint that no track joins, from pin to pin, the shortest first."""
    left = [p & pins for p in pieces]
    while len(left) > 1:
        _, a, b = min(field.apart(one, other) for k, one in enumerate(left) for other in left[k + 1 :])
        yield BoardLink(joint=joint, one=field.hole(a), other=field.hole(b))
        one, other = _with(left, a), _with(left, b)
        left = [p for p in left if p is not one and p is not other] + [one | other]
