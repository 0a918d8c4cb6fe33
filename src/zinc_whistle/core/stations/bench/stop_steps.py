"""What must stop by itself, tried before anything can move: no counts for a time, and a current above a bound."""

from __future__ import annotations

import math
from dataclasses import replace

from ...algebra.nodes import Node
from ...cases import breakaway
from ...cases.driving import Driving, sense_of
from ...cases.operating import Context
from ...laws import bench as rules
from ...laws import driver as driver_laws
from ...laws import motor as motor_laws
from ...laws.nothing import NO_DUTY, NO_TIME
from .places import Places
from .step import Step, dc_volts, step
from .telling import BY_PORT, ordered

HAND_S = 0.3
"""How late and how early a stop-watch is pressed (common practice, no source)."""
OF_RAMP = 0.05
"""A ramp climbs by whole steps of the timer, and its time is rounded to them."""
ABOVE = 0.15
"""A current a tenth above its bound is borne for long: the level at which it stops lies above the bound itself."""
BELOW = 0.04
"""Reference of the converter and divider, and one step of it (common practice, no source)."""


def stop_steps(at: Context, chosen: Driving | None) -> list[Step]:
    """The steps of the stops that its program has; none for a drive that no program tells."""
    if not at.drive.signals.by_program:
        return []
    if at.drive.has_encoder and at.drive.panel.watch == "yes":
        return _watch(at, chosen) if chosen is not None else []
    return _trip(at)


def _watch(at: Context, chosen: Driving) -> list[Step]:
    """Ordered to run with no motor joined it sees what it would see in a jam: no counts."""
    by_port = at.drive.panel.command == BY_PORT
    climb: Node = NO_TIME
    begins = breakaway.watched_from(at, chosen.circuit)
    if begins is not None and at.drive.signals.ramped:
        first = breakaway.first_duty(at, chosen.circuit) or NO_DUTY
        climb = motor_laws.first_turn(begins, first, at.load.ramp_time, chosen.circuit.duty_nominal)
    signals = at.drive.signals
    because = [signals.chosen("soft_start"), signals.chosen("told_by")]
    expected = rules.stop_without_counts(climb, at.drive.panel.watch_time.leaf, because=because)
    made = step(
        "jam_stop",
        title="Stops without counts, the motor unplugged",
        where="From the order to the moment at which its outputs fall to nothing",
        instrument="Stop-watch",
        setting="The motor's two leads off, the encoder joined; watch its lamp, or a meter on the driver's outputs"
        + ("; in a terminal, report 20 tells it to 20 ms" if by_port else ""),
        expected=expected,
        unit="s",
        share=0.0,
        reason="the ramp up to where the motor must turn, and the time of its watch from there; a hand is late or "
        "early by 0.3 s",
        caution="If it does not stop, do not join the motor: in a jam nothing would stop it.",
        extra=math.hypot(HAND_S, OF_RAMP * (climb.value or 0.0)),
    )
    made = replace(
        made,
        stage="pulses",
        purpose="A jam, a slipping coupling or an encoder lead off end in it: the one stop that the winding has.",
        means="Never: the watch is not in this program, or its encoder's lines pick up the pulses and count by "
        "themselves. At once: it watches from before it is told to run.",
        stop="Outputs still on after twice that time.",
        probes=Places(at).outputs,
    )
    made = ordered(made, at, 1.0, off=False)
    return [replace(made, type=(*made.type, "status {n}", "duty {n} 0")) if by_port else made]


def _trip(at: Context) -> list[Step]:
    """The sense line fed by hand: the level at which it stops, with no current flowing at all."""
    part, panel = at.part, at.drive.panel
    if part is None or part.sense_gain.value is None or panel.trip != "yes":
        return []
    expected = driver_laws.sense_volts(sense_of(at, part), panel.trip_a.leaf, title="Sense signal at the stop")
    time = panel.trip_time.value
    wait = f"{14 * time:.3g} s" if time else "some seconds"
    made = step(
        "trip_level",
        title="Stops above a current, told by hand",
        where="Sense wire off the driver, on the wiper of a 10 kΩ knob from the logic's supply to ground",
        instrument="Meter",
        setting=f"{dc_volts(expected.value)}; turn it up a little at a time, {wait} at each",
        expected=expected,
        unit="V",
        share=0.0,
        reason="a tenth above its bound it takes fourteen times its time: it stops there or a little above",
        caution="The wire back on the driver afterwards: open, it never stops.",
    )
    volts = expected.value
    made = replace(
        made,
        low=None if volts is None else (1 - BELOW) * volts,
        high=None if volts is None else (1 + ABOVE) * volts,
        stage="pulses",
        purpose="The stop that a jam ends in, without risking one.",
        means="Never: the stop is not in this program, or the wrong pin is read. Far off: another gain or divider.",
        stop="Outputs still on at twice that level.",
    )
    return [ordered(made, at, 0.5, off=False)]
