"""How a move nears its place: whether it runs past it, and whether it has the way to slow down."""

from __future__ import annotations

from ...algebra.findings import Remedy
from ...algebra.limits import Check, lower, upper
from ...algebra.nodes import Constant, Node
from ...algebra.quantities import phrase
from ...cases.scene import MotorScene
from ...laws import encoder as encoder_laws
from ...laws import motor as motor_laws
from ...laws import signals as laws
from ...panel.settings import WINDOW

STATION = "signals"
NEAR_ENOUGH = Constant(f"{WINDOW} counts", float(WINDOW), "count", "a move is there within so many")
NO_TIME = Constant("0 s", 0.0, "time", "it does not ramp")


def checks(scene: MotorScene, ramp_time: Node) -> list[Check]:
    """At its speed it runs past its place and comes back, again and again; one that slows down has the way for it."""
    at, drive = scene.at, scene.drive
    panel = drive.panel
    if panel.moves == "no" or panel.approach == "creep" or not drive.has_encoder:
        return []
    lag = motor_laws.mechanical_time_constant(
        scene.circuit.inner_resistance, at.load.reflected_inertia, at.motor.motor_constant
    )
    ramp = ramp_time if drive.signals.ramped else NO_TIME
    speed = encoder_laws.speed_at_output(at.load.motor_speed, drive.load.gear_ratio.leaf)
    because = [drive.signals.chosen("soft_start"), panel.chosen("approach"), panel.chosen("moves")]
    if panel.approach == "all":
        where = f"{panel.path}.approach"
        return [
            upper(
                "panel.overrun",
                station=STATION,
                title="A move stops at its place",
                stress=laws.way_past(speed, lag, ramp, because=because),
                bound=laws.angle_of_counts(NEAR_ENOUGH, scene.counts.used_per_output_turn),
                todo="Nothing slows it down before its place: it runs past it and comes back, again and again.",
                drive=drive.id,
                over="warn",
                where=where,
                destructive=False,
                remedy=Remedy("Creep back after the first crossing", where, "creep"),
                because=because,
            )
        ]
    way = laws.way_to_slow_down(speed, lag, ramp, because=because)
    where = f"{panel.path}.slow_within"
    return [
        lower(
            "panel.slows",
            station=STATION,
            title="A move slows down in time",
            stress=panel.slow_within.leaf,
            bound=way,
            todo="Its place comes nearer than it can slow down: it runs past it and creeps back. Slow down earlier.",
            drive=drive.id,
            over="warn",
            where=where,
            destructive=False,
            remedy=Remedy("Slow down over that way", where, phrase(way.value * 1.02, "angle")) if way.value else None,
            because=because,
        )
    ]
