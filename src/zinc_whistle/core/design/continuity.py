"""What a meter must say of the finished wiring, with every source taken off: where it beeps, and where it must not.

What lies between two nets at rest is worked out from the netlist's resistances together, not pair by pair: a winding
with a shunt behind it beeps where nobody joined anything.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Literal

import numpy as np
import scipy
from numpy.typing import NDArray

from ..algebra.quantities import phrase
from ..cases.netlist import Net, Netlist
from ..cases.wires.terminal import Terminal

RAILS = ("source", "regulator", "fuse", "motor", "load")
"""What makes a net a rail: it is supplied, or drives a motor."""
BEEPS_BELOW = 50.0
"""Ω: below it most meters beep (common practice, no source)."""
JOINED = 1e-3
"""Ω of a closed contact, so that the equations can be solved."""
Must = Literal["beeps", "reads", "silent"]


@dataclass(frozen=True, slots=True)
class Probe:
    """Two places to touch, and what must be so: it beeps, reads so many ohms, or stays silent; ``says`` tells why, and
    what else may be seen."""

    id: str
    one: Terminal
    other: Terminal
    must: Must
    says: str


def probes(net: Netlist) -> tuple[Probe, ...]:
    """First the rails against one another (a short is what burns), then every net from end to end."""
    return (*_apart(net), *_along(net))


def _reached(net: Netlist, one: Net) -> list[Terminal]:
    """The places of a net that a probe reaches: terminals of parts that stand by themselves."""
    return [t for t in one.pins if not net.parts[t.block].on]


def _apart(net: Netlist) -> Iterator[Probe]:
    rails = [n for n in net.nets if _reached(net, n) and (n.ground or _is_rail(net, n))]
    ohms = resistances(net)
    for k, one in enumerate(rails):
        for other in rails[k + 1 :]:
            a, b = _reached(net, one)[0], _reached(net, other)[0]
            between = ohms.get((one.id, other.id))
            seen = _seen(net, one, other)
            if between is None or between > BEEPS_BELOW:
                reads = [f"an ohmmeter reads {phrase(between, 'resistance')}"] if between is not None else []
                yield Probe(f"apart:{one.id}|{other.id}", a, b, "silent", "; ".join([*reads, *seen]))
            else:
                words = f"{phrase(between, 'resistance')} by design, it may beep"
                yield Probe(f"apart:{one.id}|{other.id}", a, b, "reads", "; ".join([words, *seen]))


def _is_rail(net: Netlist, one: Net) -> bool:
    return bool({net.parts[t.block].kind for t in one.pins} & set(RAILS))


def _seen(net: Netlist, one: Net, other: Net) -> list[str]:
    """What else stands between two nets by design: what charges, and what conducts one way."""
    said = []
    for part in net.parts.values():
        ends = {joined.id for pin in part.pins if (joined := net.net_of.get(Terminal(part.id, pin))) is not None}
        if not {one.id, other.id} <= ends:
            continue
        if part.kind == "capacitor":
            said.append(f"{part.name}: beeps while it charges")
        elif part.kind in ("diode", "lamp", "zener") or (part.kind == "transistor" and "D" in part.pins):
            said.append(f"{part.name}: a diode's drop one way")
    return said


def resistances(net: Netlist) -> Mapping[tuple[str, str], float]:
    """What an ohmmeter reads between each two nets at rest (Ω), by both orders of their ids; pairs that nothing joins
    are left out. By the pseudo-inverse of the conductances of each piece that hangs together."""
    index = {n.id: k for k, n in enumerate(net.nets)}
    matrix = np.zeros((len(index), len(index)))
    for part in net.parts.values():
        for a, b, ohms in part.ohms:
            one, other = (net.net_of.get(Terminal(part.id, pin)) for pin in (a, b))
            if one is None or other is None or one.id == other.id:
                continue
            i, j, g = index[one.id], index[other.id], part.each / max(ohms, JOINED)
            matrix[i, i] += g
            matrix[j, j] += g
            matrix[i, j] -= g
            matrix[j, i] -= g
    together = _pieces(matrix)
    inverse = np.linalg.pinv(matrix, hermitian=True)
    found = {}
    for a, i in index.items():
        for b, j in index.items():
            if i != j and together[i] == together[j]:
                found[a, b] = float(inverse[i, i] + inverse[j, j] - 2 * inverse[i, j])
    return found


def _pieces(matrix: NDArray[np.float64]) -> list[int]:
    """Which piece each net belongs to, by what joins them."""
    return [int(x) for x in scipy.sparse.csgraph.connected_components(matrix != 0, directed=False)[1]]


def _along(net: Netlist) -> Iterator[Probe]:
    for one in net.nets:
        blocks: dict[str, Terminal] = {}
        for t in _reached(net, one):
            blocks.setdefault(t.block, t)
        ends = list(blocks.values())
        for other in ends[1:]:
            yield Probe(f"along:{one.id}:{other.block}:{other.pin}", ends[0], other, "beeps", one.name)
