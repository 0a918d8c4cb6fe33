"""A drive with something wrong, many times over: arrays of draws, and what its tests read then.

The circuit is the direct-current one that a bench sees: source, its resistance, switches, lead, winding, brushes and
the voltage that the turning motor makes. Speeds follow from the balance of torques. SI units.
"""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from .healthy import Healthy

Draws = NDArray[np.float64]
OVER_RANGE = 1e6
"""What stands for a meter that shows nothing but its end: far beyond every reading."""
BLOWS = 2.0
"""Of its rating, a fuse is gone before a meter is read (ISO 8820-3: at 200 % within 5 s, from memory)."""
FLOATING_SHARE = 0.45
"""A line without any pull floats at about half the logic's volts (common practice, no source)."""


@dataclass(slots=True)
class BenchState:
    """What a fault changes. All fields are arrays of one length, in order unless a fault says otherwise."""

    emf_v: Draws
    """Of the source at rest."""
    near_v: Draws
    """The same when the source is brought near its nominal volts, as some steps ask."""
    supplied: Draws
    """1 where the driver is joined to its source."""
    source_ohm: Draws
    limit_a: Draws
    short_ohm: Draws
    """Between supply and ground at the driver."""
    lead_ohm: Draws
    lead: Draws
    """1 where both leads of the motor are joined."""
    winding: Draws
    constant: Draws
    friction: Draws
    load: Draws
    locked: Draws
    slips: Draws
    """1 where the load stays behind the motor."""
    turned: Draws
    """−1 where the motor turns the other way than it is told."""
    bridge_ohm: Draws
    heat: Draws
    """Of the way from the case to the air: 1 as designed."""
    forward: Draws
    """1 where the driver gives its volts forward when it is told so, 0 where nothing, −1 where it gives them back."""
    back: Draws
    stuck: Draws
    """1 where the motor has its volts without any order."""
    floats: Draws
    """1 where a line that nothing holds tells the driver to run."""
    stray_v: Draws
    """Between outputs that nothing drives, as a meter reads it."""
    commanded: Draws
    """1 where what the controller says arrives at the driver."""
    by_hand: Draws
    """1 where a level on the driver's line does by hand what it does when it runs, 0 where nothing, 2 where all."""
    frequency: Draws
    duty: Draws
    """Added to what is expected."""
    pulses: Draws
    idle: Draws
    logic: Draws
    gate: Draws
    boot: Draws
    dead_time: Draws
    rest: Draws
    """Of a line at rest, as a share of the logic's volts."""
    diode_v: Draws
    count: Draws
    """Of the counts that there should be, signed."""
    lit: Draws
    dark: Draws
    sense: Draws
    contacts_lost: Draws
    lost_counts: Draws
    driven_short: Draws
    """The volts left between outputs that are shorted as soon as they are driven; 0 where they are not."""
    own: dict[str, Draws] = field(default_factory=dict)
    """The spread of each step's reading in a drive in order, as a factor about 1."""


def in_order(h: Healthy, draws: int, chance: np.random.Generator) -> BenchState:
    """So many drives in order: the source anywhere between full and flat, tolerances drawn."""

    def one(value: float = 1.0) -> Draws:
        return np.full(draws, value)

    return BenchState(
        emf_v=chance.uniform(h.flat_v, h.full_v, draws),
        near_v=h.nominal_v * chance.uniform(0.98, 1.02, draws),
        supplied=one(),
        source_ohm=h.source_ohm * chance.lognormal(0, 0.15, draws),
        limit_a=one(np.inf),
        short_ohm=chance.lognormal(np.log(8e3), 0.9, draws).clip(520.0, None),
        lead_ohm=h.lead_ohm * chance.lognormal(0, 0.1, draws),
        lead=one(),
        winding=one(),
        constant=one(),
        friction=one(),
        load=one(),
        locked=one(0),
        slips=one(0),
        turned=one(),
        bridge_ohm=h.bridge_ohm * chance.lognormal(0, 0.1, draws),
        heat=one(),
        forward=one(),
        back=one(),
        stuck=one(0),
        floats=one(0),
        stray_v=chance.uniform(0, 0.3, draws),
        commanded=one(),
        by_hand=one(),
        frequency=one(),
        duty=one(0),
        pulses=one(),
        idle=one(),
        logic=one(),
        gate=one(),
        boot=one(),
        dead_time=one(),
        rest=chance.uniform(0, 0.06, draws),
        diode_v=chance.uniform(0.2, 0.7, draws),
        count=one(),
        lit=one(0),
        dark=one(0),
        sense=one(),
        contacts_lost=one(0),
        lost_counts=one(0),
        driven_short=one(0),
        own={id: _spread(s.low, s.high, s.expected.value or 0.0, draws, chance) for id, s in h.steps.items()},
    )


def _spread(low: float | None, high: float | None, expected: float, draws: int, chance: np.random.Generator) -> Draws:
    """A factor about 1 whose two standard deviations reach the bounds; 1 where there is one bound alone."""
    if low is None or high is None or expected == 0:
        return np.ones(draws)
    sigma = min((high - low) / 4 / abs(expected), 0.3)
    return np.clip(1 + sigma * chance.standard_normal(draws), 0.2, 2.0)


@dataclass(frozen=True, slots=True)
class SettledMotor:
    """A motor that has settled: amperes, rad/s (signed), volts at the driver."""

    current_a: Draws
    speed: Draws
    bus_v: Draws
    stalled: Draws


def fed(h: Healthy, s: BenchState) -> tuple[Draws, Draws]:
    """Source and resistance as the driver sees them, a short beside it taken in (Thévenin)."""
    share = s.short_ohm / (s.short_ohm + s.source_ohm)
    # A fuse bears twice its rating for minutes at most; what a short draws is above that, or it only warms a board.
    holds = s.emf_v / (s.short_ohm + s.source_ohm) < BLOWS * h.fuse_a
    return s.emf_v * s.supplied * share * holds, s.source_ohm * share


def run(h: Healthy, s: BenchState, extra_a: float = 0.0, ordered: float = 1.0) -> SettledMotor:
    """Told forward at full duty, with a load of so many amperes beyond the motor's own friction."""
    emf, source = fed(h, s)
    told = np.maximum(s.forward * s.commanded * ordered, np.maximum(s.stuck, s.floats))
    told = np.where((s.forward < 0) & (s.commanded * ordered > 0), s.forward, told)
    joined = s.lead * (told != 0)
    volts = np.maximum(emf - h.bridge_v - h.brush_v, 0.0) * joined
    shorted = (s.driven_short > 0) & (told != 0)
    volts = np.where(shorted, np.minimum(volts, np.maximum(s.driven_short - h.brush_v, 0.0) * joined), volts)
    ohms = source + s.bridge_ohm + s.lead_ohm + h.winding_ohm * s.winding
    k = h.constant * s.constant
    load = extra_a * s.load * (1 - s.slips)
    # Friction is a torque: a weaker magnet makes it cost more amperes.
    need = (h.friction_a * s.friction + load) * h.constant / k
    most = np.minimum(volts / ohms, s.limit_a)
    stalled = (s.locked > 0) | (most <= need * 1.0001)
    speed = np.maximum(volts - need * ohms, 0.0) / (k + ohms * h.viscous / k)
    turning = need + h.viscous * speed / k
    # In its limit the source gives no more amperes: the speed is what is left for it.
    held = turning > s.limit_a
    speed = np.where(held, np.maximum(s.limit_a - need, 0.0) * k / max(h.viscous, 1e-12), speed) if h.viscous else speed
    current = np.where(stalled, most, np.minimum(turning, s.limit_a))
    # Into a short the source is divided between itself and the switches.
    collapsed = emf * s.bridge_ohm / np.maximum(s.bridge_ohm + source, 1e-9) + s.driven_short
    return SettledMotor(
        current_a=current * joined,
        speed=np.where(stalled, 0.0, speed) * joined * np.sign(told) * s.turned,
        bus_v=np.where(shorted, collapsed, np.where(most >= s.limit_a, emf * 0.3, emf - source * current * joined)),
        stalled=stalled & (joined > 0),
    )
