"""What is simulated, and its modes: in each one the drive is a linear system with constant inputs."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

Path = Literal["forward", "back", "short", "wheel", "wheel back", "off", "shoot", "cut"]
"""What the bridge does: drives either way, shorts the motor, opens with a diode across it (behind contacts that turn
the motor round: the other way too), opens altogether. Two that must not be: both switches of a leg closed (the supply
shorted, the motor too), and a current cut off with no way left."""
WHEELS: dict[str, int] = {"wheel": 1, "wheel back": -1}
"""Paths over one diode, and the sign of the only current that it carries."""
State = NDArray[np.float64]
I, OMEGA, THETA, BUS, ONE = range(5)
"""Places in the state: current (A), speed (rad/s), angle (rad), bus (V), and a constant one."""


@dataclass(frozen=True, slots=True)
class Plant:
    """A drive in SI units.

    ``resistance_ohm`` is all that the motor's current passes; ``fixed_drop_v`` stands against it in every path
    (brushes,
    saturation); ``diode_v`` is one diode. ``coulomb_nm`` holds while it turns, ``stiction_nm`` (at least as much)
    until it
    does; ``load_nm`` pulls back always, as a weight does. A source that cannot sink gives current one way only;
    ``clamp_v`` (None: no clamp) opens a resistor across the bus. ``leg_ohm`` is both switches of one leg in a row.
    """

    resistance_ohm: float
    inductance_h: float
    constant: float
    inertia: float
    coulomb_nm: float
    viscous: float
    load_nm: float
    stiction_nm: float
    source_v: float
    source_ohm: float
    bus_f: float
    sinks: bool
    diode_v: float = 0.7
    fixed_drop_v: float = 0.0
    clamp_v: float | None = None
    clamp_ohm: float = 1.0
    leg_ohm: float = 0.05

    def __post_init__(self) -> None:
        if self.bus_f <= 0:
            raise ValueError(
                "the bus needs a capacitor: with none a source that cannot sink has nowhere to put current"
            )
        if min(self.resistance_ohm, self.inductance_h, self.inertia, self.source_ohm) <= 0:
            raise ValueError("resistance, inductance, inertia and the source's resistance must be above zero")
        if self.stiction_nm < self.coulomb_nm:
            raise ValueError("stiction is at least the friction in motion")


@dataclass(frozen=True, slots=True)
class Mode:
    """One linear system: what conducts (``swing`` times the bus drives the motor), source, clamp, and the motion's
    sign.

    ``flows`` is the sign of the current that fixed drops stand against; 0 where no current can flow.
    """

    swing: float
    drop_v: float
    flows: int
    open: bool
    source: bool
    clamp: bool
    motion: int
    shorted: bool = False


def matrix(plant: Plant, mode: Mode) -> State:
    """d/dt of (i, ω, θ, v, 1) in a mode; shape (5, 5)."""
    p, a = plant, np.zeros((5, 5))
    if not mode.open:
        a[I, I] = -p.resistance_ohm / p.inductance_h
        a[I, OMEGA] = -p.constant / p.inductance_h
        a[I, BUS] = mode.swing / p.inductance_h
        a[I, ONE] = -mode.flows * mode.drop_v / p.inductance_h
    if mode.motion:
        a[OMEGA, I] = p.constant / p.inertia
        a[OMEGA, OMEGA] = -p.viscous / p.inertia
        a[OMEGA, ONE] = -(mode.motion * p.coulomb_nm + p.load_nm) / p.inertia
        a[THETA, OMEGA] = 1.0
    if mode.source:
        a[BUS, BUS] -= 1 / (p.source_ohm * p.bus_f)
        a[BUS, ONE] += p.source_v / (p.source_ohm * p.bus_f)
    if mode.clamp and p.clamp_v is not None:
        a[BUS, BUS] -= 1 / (p.clamp_ohm * p.bus_f)
        a[BUS, ONE] += p.clamp_v / (p.clamp_ohm * p.bus_f)
    if not mode.open:
        a[BUS, I] = -mode.swing / p.bus_f
    if mode.shorted:
        a[BUS, BUS] -= 1 / (p.leg_ohm * p.bus_f)
    return a


def mode_of(plant: Plant, path: Path, x: State, duty: float = 1.0) -> Mode:
    """The mode in which a state stands, from its signs; where a variable is exactly zero, from which way it will go.

    ``duty`` below one makes the averaged drive: the bus acts for that share of the time.
    """
    p = plant
    current, speed, bus = x[I], x[OMEGA], x[BUS]
    swing, drop, flows, opened = 0.0, p.fixed_drop_v, int(np.sign(current)), False
    if path in ("forward", "back"):
        swing = duty if path == "forward" else -duty
        flows = flows or int(np.sign(swing * bus - p.constant * speed))
    elif path == "cut":
        flows, opened = 0, True
    elif path in ("short", "shoot"):
        flows = flows or int(np.sign(-p.constant * speed))
    elif path in WHEELS:
        way = WHEELS[path]
        if way * current < 0:
            raise ValueError("the diode across the motor cannot carry a current that runs the other way")
        drop += p.diode_v
        if not flows and -way * p.constant * speed > drop:
            flows = way
        opened = not flows
    else:
        drop += 2 * p.diode_v
        if not flows and abs(p.constant * speed) > bus + drop:
            flows = -int(np.sign(speed))
        opened, swing = flows == 0, -float(flows)
    if not opened and flows and not current and path in ("forward", "back", "short", "shoot"):
        push = swing * bus - p.constant * speed
        opened = abs(push) <= drop and drop > 0
    source = p.sinks or bus < p.source_v or (bus == p.source_v and not opened and swing * current > 0)
    clamp = p.clamp_v is not None and bus > p.clamp_v
    shorted = path == "shoot"
    source = source or shorted
    return Mode(
        swing=swing,
        drop_v=drop,
        flows=0 if opened else flows,
        open=opened,
        source=bool(source),
        clamp=clamp,
        motion=motion_of(p, x),
        shorted=shorted,
    )


def motion_of(plant: Plant, x: State) -> int:
    """Which way it turns or will turn; 0 when stiction holds it."""
    if x[OMEGA]:
        return 1 if x[OMEGA] > 0 else -1
    torque = plant.constant * x[I] - plant.load_nm
    return 0 if abs(torque) <= plant.stiction_nm else (1 if torque > 0 else -1)
