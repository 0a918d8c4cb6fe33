"""The current at which a motor lets go: read as such, or told by the slowest speed at which it ran smoothly."""

from __future__ import annotations

from ..algebra.nodes import Node, presence
from ..laws import driver as driver_laws
from ..laws import motor as laws
from ..laws.nothing import NO_DUTY, NO_VOLTS
from .circuit import DriveCircuit
from .operating import Context


def known(at: Context) -> bool:
    """Whether anything tells how it starts from rest."""
    spec = at.drive.motor
    return spec.breakaway_a.value is not None or spec.smooth_open.value is not None


def first_duty(at: Context, solved: DriveCircuit) -> Node | None:
    """The duty at which a program begins that skips those at which the motor only hums; None where it does not, or
    nothing tells how the motor starts: such a program begins at nothing."""
    circuit = solved.of_motor
    if not at.drive.signals.pulsed or at.drive.panel.offset != "yes" or circuit is None or not known(at):
        return None
    return laws.breakaway_duty(
        current(at), circuit.inner_resistance, NO_VOLTS, at.volts.nominal, title="Duty at which the program begins"
    )


def watched_from(at: Context, solved: DriveCircuit) -> Node | None:
    """The duty from which its program takes missing counts for a jam: below it the motor need not turn."""
    circuit = solved.of_motor
    if circuit is None or not at.drive.signals.pulsed:
        return None
    turns = laws.breakaway_duty(
        at.working_current,
        circuit.inner_resistance,
        circuit.lost_volts,
        at.volts.nominal,
        title="Duty from which it must turn",
    )
    return laws.watched_from(turns, first_duty(at, solved) or NO_DUTY, because=[at.drive.panel.chosen("offset")])


def current(at: Context, around: Node | None = None) -> Node:
    """The breakaway current; ``around`` is all resistance round the circuit (else source, wire and hot winding).

    A measured lowest smooth speed comes before the current: it is what the current would have to foretell.
    """
    spec = at.drive.motor
    if spec.smooth_open.value is None:
        return spec.breakaway_a.leaf
    if around is None:
        around = driver_laws.feed_resistance(at.feed_resistance, at.winding_hot, title="Source, wire and winding")
    return laws.breakaway_from_speed(
        at.load.slow_current,
        spec.smooth_open.leaf,
        around,
        at.motor.motor_constant,
        because=[presence(spec.smooth_open.leaf)],
    )
