"""A timer circuit held against its limits: its own supply, its knob at both ends, its pulses."""

from __future__ import annotations

from collections.abc import Iterator

from ...algebra.findings import Remedy
from ...algebra.limits import Check, lower, upper
from ...algebra.preferred import at_least
from ...algebra.quantities import notation
from ...cases import breakaway
from ...cases.circuit import DriveCircuit
from ...cases.operating import DriveContext
from ...cases.timer_circuit import TimerFigures, of_drive, supply_of
from ...laws import driver as driver_laws
from ...laws import motor as motor_laws
from ...laws.nothing import NO_OHMS
from ...model.timer_circuit import TimerCircuit
from .window import HEARD, STATION


def _unheard(spec: TimerCircuit, made: TimerFigures) -> Remedy | None:
    """The next smaller capacitor at which nobody hears even the slowest pulses that its tolerance allows."""
    slow, farad = made.slowest.value, spec.capacitor.value
    if slow is None or farad is None or not slow > 0:
        return None
    most = farad * slow / HEARD
    taken = at_least(most / SERIES_STEP, "E6")
    return Remedy("Take a smaller timing capacitor", f"{spec.path}.capacitor", notation(taken, "capacitance", "pF"))


SERIES_STEP = 1.55
"""Two values of the E6 series are never further apart: the one above this share of a value lies below it."""


def checks(at: DriveContext, solved: DriveCircuit) -> Iterator[Check]:
    """The timer has the supply that it takes, nobody hears it, and its knob reaches rest and the working duty."""
    drive, spec, made = at.drive.id, at.drive.signals.timer, of_drive(at.build, at.drive)
    yield upper(
        "signals.timer_high",
        station=STATION,
        title="Supply of the timer, highest",
        stress=made.any_supply,
        bound=spec.v_max.leaf,
        todo="Give the timer a regulator of its own: the motor's supply is above what it bears.",
        drive=drive,
        where=f"{spec.path}.regulated_v",
    )
    yield lower(
        "signals.timer_low",
        station=STATION,
        title="Supply of the timer, lowest",
        # Nothing ramps: switched on with the knob up, the motor starts from its stall.
        stress=supply_of(spec, solved.anywhere.bus_start),
        bound=spec.v_min.leaf,
        todo="Below it the timer stops, and what it then tells the switch is luck: a supply that sags less, a timer "
        "that works from less, or a diode and a capacitor before its supply pin.",
        drive=drive,
        where=f"{spec.path}.v_min",
        destructive=False,
    )
    yield upper(
        "signals.knob_high",
        station=STATION,
        title="Duty at work, against the knob's greatest",
        stress=solved.anywhere.duty,
        bound=made.any_greatest,
        todo="The knob does not reach it: smaller end resistors, a larger potentiometer, or more supply.",
        drive=drive,
        over="warn",
        where=f"{spec.path}.end_resistor",
        destructive=False,
    )
    motor, turning = at.of_motor, solved.of_motor
    if motor is not None and turning is not None and breakaway.known(motor):
        around = driver_laws.loop_resistance(
            at.feed_resistance, NO_OHMS, turning.any_inner, NO_OHMS, NO_OHMS, title="Resistance round the circuit"
        )
        starts = motor_laws.breakaway_duty(
            breakaway.current(motor),
            around,
            turning.lost_volts,
            at.volts.any,
            title="Duty at which it starts",
        )
        yield upper(
            "signals.knob_low",
            station=STATION,
            title="The knob's least duty, against the one at which it starts",
            stress=made.any_least,
            bound=starts,
            todo="Turned down it creeps on and does not stop: larger than that no end resistor may be. Stop it by a "
            "switch in its supply.",
            drive=drive,
            over="warn",
            where=f"{spec.path}.end_resistor",
            destructive=False,
        )
    yield lower(
        "signals.audible",
        station=STATION,
        title="Above hearing",
        stress=at.plan.any_frequency,
        bound=HEARD,
        todo="It will whine: take a smaller capacitor if driver and switch allow, or accept the sound.",
        drive=drive,
        over="warn",
        where=f"{spec.path}.capacitor",
        destructive=False,
        remedy=_unheard(spec, made),
    )
