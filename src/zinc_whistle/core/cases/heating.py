"""The current that heats a thing as much as the worst moment of a drive's duty does, by how its heat settles."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..algebra.nodes import Figure, Leaf, Node
from ..laws import heat as laws
from ..laws import wiring as wire_laws
from ..model.components import Diode
from ..model.driver import DriverPart
from . import chopping
from .operating import DriveContext, WireFigures


@dataclass(frozen=True, slots=True, kw_only=True)
class Lag:
    """A thing's thermal nodes: a share of its way to the air settles quickly, the rest slowly (times in s)."""

    share: Node = laws.NONE_OF_IT
    quick: Node = laws.PACKAGE_TIME
    slow: Node
    because: Sequence[Leaf] = ()


SHUNT = Lag(slow=laws.SHUNT_TIME)
TRACK = Lag(slow=laws.TRACK_TIME)
FUSE = Lag(slow=laws.FUSE_TIME)
CAPACITOR = Lag(slow=laws.CAPACITOR_TIME)


def of_part(part: DriverPart) -> Lag:
    """A driver of the shelf: its package, and the board that carries the heat away."""
    return Lag(share=part.package_share.leaf, slow=part.board_time.leaf)


def of_diode(diode: Diode) -> Lag:
    """A diode: one node, from its junction to its leads."""
    return Lag(slow=diode.settle_time.leaf)


def of_wire(wire: WireFigures) -> Lag:
    """A wire in free air: its copper."""
    return Lag(slow=wire_laws.wire_time(wire.area))


def heating(at: DriveContext, lag: Lag, pulsed: Node | None = None) -> Figure:
    """The steady current that is as hot as the hottest moment of the drive's duty, at its working speed.

    ``pulsed``: the share of each period at which it flows, for what its ripple heats besides.
    """
    duty = at.duty
    current = laws.heating_current(
        duty.currents,
        duty.times,
        lag.share,
        lag.quick,
        lag.slow,
        because=[*duty.because, *lag.because],
        title="Current, as its heat counts it",
    )
    return current if pulsed is None else chopping.as_it_heats(current, pulsed)


def any_heating(at: DriveContext, lag: Lag, pulsed: Node | None = None) -> Node:
    """The same at any speed that can be set."""
    current = at.at_any_speed(heating(at, lag))
    return current if pulsed is None else chopping.as_it_heats(current, pulsed)
