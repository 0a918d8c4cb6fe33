"""The netlist as a plain table for whoever draws a board, with the width that each net's track needs."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable

from ..algebra.cells import guarded
from ..algebra.nodes import Node
from ..cases.netlist import Netlist
from ..cases.wires.terminal import Terminal
from ..laws import wiring as rules

RISE_K, COPPER_M = 20.0, 35e-6
"""A track that may warm by 20 K, in copper of 1 oz/ft² outside (common practice, no source)."""


def width_mm(amps: float) -> float:
    """Width of a track for a current (A), by IPC-2221."""
    kind = rules.TRACK["outer"].value
    area = rules.track_area.bare(amps, kind, RISE_K)
    return float(rules.track_width.bare(area, COPPER_M)) * 1e3


def netlist_csv(net: Netlist) -> str:
    """The netlist as a plain table for whoever draws a board: part, pin, net, current (A) and track width (mm).

    What is not known stays empty."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["part", "value", "pin", "net", "current_a", "track_width_mm"])
    currents = net_currents(net)
    for part in net.parts.values():
        for pin in part.pins:
            joined = net.net_of.get(Terminal(part.id, pin))
            amps = currents.get(joined.id) if joined else None
            width = width_mm(amps) if amps else None
            row = [guarded(part.name), guarded(part.value), guarded(pin), guarded(joined.name if joined else "unused")]
            writer.writerow([*row, "" if amps is None else f"{amps:.3g}", "" if width is None else f"{width:.2f}"])
    return out.getvalue()


def net_currents(net: Netlist) -> dict[str, float]:
    """The largest current that a wire of each net carries (A), by net; nets of which nothing is known are left out."""
    found: dict[str, float] = {}
    for w in net.wires:
        amps = wire_current(w.currents)
        joined = net.net_of.get(w.start)
        if amps is not None and joined is not None:
            found[joined.id] = max(found.get(joined.id, 0.0), amps)
    return found


def wire_current(currents: Iterable[Node]) -> float | None:
    """What a wire carries for all the drives that it serves (A); None where one of them is not known."""
    values = [c.value for c in currents]
    known = [v for v in values if v is not None]
    return sum(known) if values and len(known) == len(values) else None
