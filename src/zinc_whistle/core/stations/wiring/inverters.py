"""Lines that are turned round on their way: a small transistor before each input that acts when it is low."""

from __future__ import annotations

from collections.abc import Collection, Iterator

from .terminal import GROUND, Role, Terminal

BLOCK = "inverters"


def by_way_of(end: Terminal, turned: Collection[str]) -> Terminal:
    """Where a line to the driver ends: at the transistor, where its input acts when low."""
    return Terminal(BLOCK, f"{end.pin} in") if end.block == "driver" and end.pin in turned else end


def rows(turned: Collection[str], ground: str) -> Iterator[tuple[str, Terminal, Terminal, str, str, Role]]:
    """The wires behind the transistors: to the inputs, their common ground, and the supply of their pull-ups."""
    for name in turned:
        there = Terminal("driver", name)
        yield f"turned:{name}", Terminal(BLOCK, f"{name} out"), there, f"{name}, turned round", "violet", "signal"
    if turned:
        pull_ups = Terminal(BLOCK, "pull-ups")
        yield "turned-", Terminal("driver", ground), Terminal(BLOCK, "GND"), GROUND, "black", "logic"
        yield "turned+", Terminal("driver", "logic +"), pull_ups, "Board's logic supply", "orange", "logic"
