"""One wire of a drive, and which ground each block stands on."""

from __future__ import annotations

from dataclasses import dataclass

from ...algebra.nodes import Figure
from ...model.wiring import WireRun
from .terminal import GROUND, Role, Row, Terminal


@dataclass(frozen=True, slots=True, kw_only=True)
class Connection:
    """One wire. ``id`` is stable within its drive, so that the builder can leave it out; ``run`` is None where it has
    no lead of its own."""

    id: str
    start: Terminal
    end: Terminal
    signal: str
    colour: str
    run: WireRun | None
    current: Figure | None = None
    drop: Figure | None = None
    made: bool
    role: Role
    short: bool = False
    """Of what stands beside the source: the run's length is that of the lead behind it."""

    @property
    def gauge(self) -> float | None:
        return self.run.gauge.value if self.run is not None else None

    @property
    def length_m(self) -> float | None:
        return self.run.length.value if self.run is not None and not self.short else None


def rail_of(logic_v: float | None) -> str:
    """What a controller's own rail is called on its board."""
    return "5 V" if (logic_v or 5) > 4 else "3.3 V"


def small(row: Row, run: WireRun, made: bool) -> Connection:
    """A wire of small current as a connection."""
    return Connection(
        id=row.id, start=row.start, end=row.end, signal=row.name, colour=row.colour, run=run, made=made, role=row.role
    )


def grounds_of(connections: tuple[Connection, ...]) -> dict[str, str]:
    """Which ground each block stands on: blocks with the same root share one (union-find)."""
    parent: dict[str, str] = {}

    def root(block: str) -> str:
        parent.setdefault(block, block)
        while parent[block] != block:
            block = parent[block]
        return block

    for c in connections:
        if c.signal == GROUND:
            a, b = root(c.start.block), root(c.end.block)
            if c.made:
                parent[a] = b
    return {block: root(block) for block in parent}
