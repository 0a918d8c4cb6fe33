"""Ratings of parts that stand beside a driver, held against what they meet: chosen in a stage, or looked for on a
shelf."""

from __future__ import annotations

from collections.abc import Iterator

from ...algebra.limits import Check, claim, upper
from ...algebra.nodes import Constant, Node, Varied, presence
from ...cases.axes import DUTY
from ...cases.operating import DriveContext
from ...model.components import Diode
from ...model.given import Given

STATION = "power_stage"
SLOW = Constant("300 Hz", 300.0, "frequency", "common practice, no source: above it a rectifier recovers too slowly")
RECTIFIER = 1e-6
"""A diode that recovers more than a microcoulomb is of the rectifier class."""


NO_DUTY = Constant("0 %", 0.0, "fraction")


def passed_duties(at: DriveContext, duty: Node) -> Node:
    """Every duty that the controls can command: a ramp passes all up to the working one, a knob stays at any."""
    if at.drive.signals.ramped or at.drive.sets_speed:
        return Varied(DUTY, (duty, NO_DUTY), "Duty")
    return duty


def held_duties(at: DriveContext, duty: Node, settles: Given) -> Node:
    """The duties that last: a ramp that is over before a thing warms up passes its small ones too quickly to count.

    Where a knob or the port sets the speed the duty goes with it already.
    """
    ramp = at.of_motor.load.ramp_time.value if at.of_motor is not None else None
    brief = ramp is not None and settles.value is not None and ramp < settles.value
    return duty if brief or not at.drive.signals.ramped else passed_duties(at, duty)


def diode_ratings(
    diode: Diode, *, bus: Node, current: Node, torn: Node, frequency: Node, drive: str, where: str = ""
) -> Iterator[Check]:
    """A flyback diode against the highest bus, the mean and the largest current that it takes over, and the PWM's
    frequency."""
    yield upper(
        "stage.diode_volts",
        station=STATION,
        title="Diode's reverse voltage",
        stress=bus,
        bound=diode.reverse_v.leaf,
        todo="Take a diode for more volts.",
        drive=drive,
        where=where,
    )
    yield upper(
        "stage.diode_mean",
        station=STATION,
        title="Diode's mean current",
        stress=current,
        bound=diode.forward_a.leaf,
        todo="Take a diode for more current, or two side by side on one sink.",
        drive=drive,
        where=where,
    )
    if diode.surge_a.value is not None:
        yield upper(
            "stage.diode_surge",
            station=STATION,
            title="Diode's peak current",
            stress=torn,
            bound=diode.surge_a.leaf,
            todo="Take a diode whose peak rating covers the largest current that can be switched off.",
            drive=drive,
            where=where,
        )
    if diode.recovery.value is None:
        return
    if diode.recovery.value < RECTIFIER:
        yield claim(
            "stage.diode_speed",
            station=STATION,
            title="The diode is fast enough",
            holds=True,
            todo="",
            drive=drive,
            where=where,
        )
        return
    yield upper(
        "stage.diode_speed",
        station=STATION,
        title="PWM against a diode this slow",
        stress=frequency,
        bound=SLOW,
        todo="A rectifier recovers too slowly above a few hundred hertz: take a Schottky or a fast diode.",
        drive=drive,
        where=where,
        because=[presence(diode.recovery.leaf)],
    )


def capacitor_ratings(
    *, ripple_limit: Node, volts_limit: Node, ripple: Node, rating: Node, drive: str, path: str = ""
) -> Iterator[Check]:
    """A bulk capacitor against its ripple current and the rating that the supply asks for."""
    yield upper(
        "stage.ripple_current",
        station=STATION,
        title="Capacitor ripple current",
        stress=ripple,
        bound=ripple_limit,
        todo="Fit a capacitor for more ripple current, or two side by side.",
        drive=drive,
        over="warn",
        where=f"{path}.bulk_ripple" if path else "",
    )
    yield upper(
        "stage.capacitor_volts",
        station=STATION,
        title="Capacitor voltage rating",
        stress=rating,
        bound=volts_limit,
        todo="Fit a capacitor rated for 1.25 times the highest supply.",
        drive=drive,
        where=f"{path}.bulk_voltage" if path else "",
    )
