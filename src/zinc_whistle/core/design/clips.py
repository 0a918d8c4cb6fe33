"""Where an oscilloscope's ground clips may go: they are one wire, and earth besides.

Worked out from the netlist. Each net that a probe reaches is a ground (a clip may sit there), a ground behind a shunt
(the clip bridges what is measured), or carries volts (the clip shorts it as soon as two things are earthed).
"""

from __future__ import annotations

from dataclasses import dataclass

from ..algebra.quantities import phrase
from ..cases.netlist import Net, Netlist
from ..cases.wires.terminal import Terminal

SHUNT_BELOW = 2.0
"""Ω between two nets that a clip's lead would bridge: a shunt, and not a load (common practice, no source)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Ground:
    """One ground of the build: the places at which both clips may sit together."""

    name: str
    places: tuple[Terminal, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Never:
    """A net at which no clip may sit, by one of its places, and what it would do there."""

    place: Terminal
    says: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Clips:
    """``says`` is the rule for this build, in sentences."""

    grounds: tuple[Ground, ...]
    never: tuple[Never, ...]
    says: tuple[str, ...]


def clips(net: Netlist) -> Clips:
    """Where both clips of a two-channel oscilloscope may go on a build, and where none may."""
    reached = [(n, places) for n in net.nets if (places := _reached(net, n))]
    grounds = [(n, places) for n, places in reached if n.ground]
    never = []
    for one, places in reached:
        if one.ground:
            continue
        if (shunt := _shunt(net, one)) is not None:
            says = f"bridges {phrase(shunt, 'resistance')} between it and ground: what is sensed there is gone"
        elif _of(net, one, ("source", "regulator", "fuse")):
            says = "shorts a supply through the instrument's earth, as soon as anything else of the build is earthed"
        elif _driven(net, one):
            says = "shorts what drives the motor; look at it with two probes, and let the instrument subtract them"
        else:
            continue
        never.append(Never(place=places[0], says=says))
    return Clips(
        grounds=tuple(Ground(name=n.name, places=tuple(places)) for n, places in grounds),
        never=tuple(never),
        says=tuple(_rule(grounds)),
    )


def _rule(grounds: list[tuple[Net, list[Terminal]]]) -> list[str]:
    if not grounds:
        return ["No ground is joined to anything yet: no clip may go anywhere."]
    both = "The clips of all channels are one wire, and most instruments' are earth besides: "
    if len(grounds) == 1:
        return [f"{both}both sit on {grounds[0][0].name}, near each other; the second may as well stay off."]
    names = ", ".join(n.name for n, _ in grounds)
    return [
        f"{both}both sit on the same ground.",
        f"This build has {len(grounds)} grounds that are apart ({names}): one clip on each would join them, and what "
        "keeps them apart is for nothing.",
    ]


def _reached(net: Netlist, one: Net) -> list[Terminal]:
    """The places of a net that a clip reaches: terminals of parts that stand by themselves."""
    return [t for t in one.pins if not net.parts[t.block].on]


def _of(net: Netlist, one: Net, kinds: tuple[str, ...]) -> bool:
    return any(net.parts[t.block].kind in kinds for t in one.pins)


def _shunt(net: Netlist, one: Net) -> float | None:
    """The small resistor (Ω) between a net and a ground; None where there is none."""
    for part in net.parts.values():
        if part.kind != "resistor":
            continue
        for a, b, ohms in part.ohms:
            ends = [net.net_of.get(Terminal(part.id, pin)) for pin in (a, b)]
            other = [n for n in ends if n is not None and n.id != one.id]
            if one in ends and ohms < SHUNT_BELOW and any(n.ground for n in other):
                return ohms
    return None


def _driven(net: Netlist, one: Net) -> bool:
    return one.role == "motor" and _of(net, one, ("motor", "load"))
