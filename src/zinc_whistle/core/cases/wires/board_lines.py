"""A board's other lines: a small transistor before each input that acts when it is low, and lines that are tied."""

from __future__ import annotations

from collections.abc import Collection, Iterator

from ...model.driver import DriverPart
from ..polarity import tied_lines
from .terminal import Row, Terminal, grounded

BLOCK, LOGIC = "inverters", "logic +"


def tied(part: DriverPart | None, ground: str) -> Iterator[Row]:
    """The wires of lines that stand at one level for good, on the board itself."""
    try:
        levels = tied_lines(part) if part is not None else {}
    except ValueError:
        return
    for name, level in levels.items():
        start, colour = (Terminal("driver", LOGIC), "orange") if level else (Terminal("driver", ground), "black")
        said = f"{name}, tied {'high' if level else 'low'}"
        yield Row(f"tied:{name}", start, Terminal("driver", name), said, colour)


def by_way_of(end: Terminal, turned: Collection[str]) -> Terminal:
    """Where a line to the driver ends: at the transistor, where its input acts when low."""
    return Terminal(BLOCK, f"{end.pin} in") if end.block == "driver" and end.pin in turned else end


def rows(turned: Collection[str], ground: str) -> Iterator[Row]:
    """The wires behind the transistors: to the inputs, their common ground, and the supply of their pull-ups."""
    for name in turned:
        start, end = Terminal(BLOCK, f"{name} out"), Terminal("driver", name)
        yield Row(f"turned:{name}", start, end, f"{name}, turned round", "violet", "signal")
    if turned:
        pull_ups = Terminal(BLOCK, "pull-ups")
        yield grounded("turned-", Terminal("driver", ground), Terminal(BLOCK, "GND"))
        yield Row("turned+", Terminal("driver", LOGIC), pull_ups, "Board's logic supply", "orange")
