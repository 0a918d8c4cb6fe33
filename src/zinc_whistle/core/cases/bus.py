"""How high the bus stands, with what a drive sends back into it."""

from __future__ import annotations

from ..algebra.nodes import Constant, Figure, Leaf, Node, presence
from ..algebra.rules import Procedure
from ..laws import supply as laws
from .operating import DriveContext


def sends_back(at: DriveContext, bridge: bool) -> bool:
    """Whether the drive can push energy into its bus.

    One switch and a diode cannot. A bridge whose motor coasts cannot either: its diodes pass only what lies above the
    bus, and the motor's EMF never does. Nor does a motor that is shorted: all that turns ends in its winding. A duty
    that is lowered under way (by a ramp, a knob, the port or a loop), fast decay and a slammed reversal make a step-up
    converter of bridge and winding; and so does a load that pulls the motor along in a part of the duty.
    """
    signals = at.drive.signals
    motor = at.drive.of_motor
    lowered = signals.ramped or at.drive.sets_speed
    lowered = lowered or (motor is not None and motor.has_encoder and motor.closes_loop)
    pulled = at.of_motor is not None and at.of_motor.load.lowering is not None
    moves = lowered or pulled or signals.slams
    return bridge and (moves or signals.decay != "slow")


def rises(at: DriveContext, bridge: bool) -> bool:
    """Whether what comes back lifts the bus: the source does not take it."""
    return not at.source.takes_back and sends_back(at, bridge)


def because_of(at: DriveContext) -> list[Leaf]:
    """The choices that decide whether anything comes back."""
    source, signals = at.source, at.drive.signals
    told = [source.chosen("sinks"), source.chosen("kind"), presence(at.unit.bulk_capacitance.leaf)]
    told += at.drive.setting()
    if (motor := at.drive.of_motor) is not None:
        told += [motor.loop.chosen("closed"), motor.encoder.chosen("fitted"), motor.load.members("segments")]
    return told + [signals.chosen(n) for n in ("soft_start", "reversal", "decay")]


def highest_bus(at: DriveContext, bridge: bool, volts: Node) -> Node:
    """The volts, risen by all that turns at its top speed where that comes back and the source does not take it.

    Without a capacitor they are not known: nothing takes the energy.
    """
    if not rises(at, bridge):
        return volts
    return laws.risen_voltage(volts, at.stored_energy, at.unit.bulk_capacitance.leaf, because=because_of(at))


ONCE, TWICE = Constant("1", 1.0, "number"), Constant("2", 2.0, "number")


def step_factor(at: DriveContext) -> Constant:
    """How often the bus sees the motor's current as its step: twice where it turns round, or flows back."""
    return TWICE if at.drive.signals.decay != "slow" else ONCE


def ripple_in(at: DriveContext, law: Procedure, current: Node, duty: Node) -> Figure:
    """What ``law`` makes of the pulses that the bridge takes from the bus, the lead and the source counted."""
    unit = at.unit
    return law(
        k=step_factor(at),
        I=current,
        D=duty,
        f=at.plan.any_frequency,
        C=unit.bulk_capacitance.leaf,
        ESR=unit.bulk_esr.leaf,
        R_s=at.feed_resistance,
        L=at.lead,
        because=[at.drive.signals.chosen("decay")],
    )
