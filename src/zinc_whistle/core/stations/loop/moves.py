"""What the loop station tries out: a move by several laws, and the map of gain and integral time."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from ...algebra.nodes import Node, number
from ...cases.circuit import Circuit
from ...cases.encoder import EncoderResult
from ...cases.operating import Context
from ...laws.gain_map import GainMap, gain_map
from ...laws.loop_margins import lagging, suggested
from ...laws.loop_step import LoopLaw, LoopPlant
from ...simulation.position import WAYS, Move, Shaft, move, suggested_laws
from .compute import LoopResult

ACROSS = 60
"""Gains and integral times that the map looks at."""
LONGEST_S = 30.0
MOST_TURNS = 100
STICKS = 1.3
"""Friction at rest over friction in motion (common practice, no source)."""


@dataclass(frozen=True, slots=True)
class MovesFound:
    """A move by each law with its name, the target and the window in counts, and what to know about them."""

    target: int
    window: int
    moves: tuple[tuple[str, Move], ...]
    said: str


def _known(*named: tuple[str, Node | float | None]) -> list[float]:
    """The values; ValueError names those that are not known yet."""
    missing, values = [], []
    for name, node in named:
        value = node if isinstance(node, int | float) or node is None else number(node)
        if value is None or math.isnan(value):
            missing.append(name)
        else:
            values.append(float(value))
    if missing:
        raise ValueError(f"Not known yet: {', '.join(missing)}.")
    return values


def moves_of(at: Context, solved: Circuit, encoder: EncoderResult, output_rad: float, seconds: float) -> MovesFound:
    """A move of the output by an angle. ValueError with what is missing, or for a time that is too long."""
    if not 0 < seconds <= LONGEST_S:
        raise ValueError(f"Look at between nothing and {LONGEST_S:g} s.")
    if abs(output_rad) > MOST_TURNS * 2 * math.pi:
        raise ValueError(f"A move is at most {MOST_TURNS} turns of the output, either way.")
    bus, lost, ohms, henries, constant, inertia, load, friction, counts, ratio, period = _known(
        ("the supply", at.volts.nominal),
        ("the driver's drop", solved.lost_volts),
        ("the resistance", solved.inner_resistance),
        ("the motor's inductance", at.motor.inductance),
        ("the motor's constant", at.motor.motor_constant),
        ("the inertia", at.load.reflected_inertia),
        ("the load's torque", at.load.motor_torque),
        ("the motor's friction", at.motor.friction_torque),
        ("the encoder's counts", encoder.counts_per_motor_turn),
        ("the gear ratio", at.drive.load.gear_ratio.value),
        ("the control period", at.drive.loop.period.value),
    )
    motor = LoopPlant(
        bus_v=bus,
        lost_v=lost,
        resistance_ohm=ohms,
        inductance_h=henries,
        constant=constant,
        inertia=inertia,
        load_nm=0.0,
        least_duty=-1.0,
    )
    # What the load asks for opposes either way, as friction does: what pulls back by itself is told apart below.
    moving = friction + load
    shaft = Shaft(motor, moving, STICKS * moving, counts)
    slow, gains = lagging(motor, period), suggested(motor, period)
    target = round(output_rad * ratio * counts / (2 * math.pi))
    laws = suggested_laws(shaft, period, slow.lag_s or 0.0, slow.dead_s, (gains.gain, gains.integral_s or 1.0))
    if target == 0:
        raise ValueError("That is less than a count: give a larger move.")
    one_way = at.drive.signals.reversal == "one way"
    if one_way and target < 0:
        raise ValueError("It runs one way: a move back is none of its own.")
    able = [replace(law, least=0.0) for law in laws] if one_way else laws
    found = tuple((WAYS[law.way], move(shaft, law, target, seconds)) for law in able)
    said = (
        "The load is taken as friction that opposes either way; one that pulls back by itself settles on one side of "
        "its place. The generated program moves by the first of these, at the wanted duty, and stops within 2 counts."
    )
    alone = "It runs one way: what it has gone too far it does not come back. " if one_way else ""
    return MovesFound(target, laws[0].window, found, alone + said)


def map_of(result: LoopResult) -> GainMap:
    """The map round the working point and the suggestion. ValueError with what is missing."""
    names = ("supply", "drop", "resistance", "inductance", "constant", "inertia", "torque")
    places = (0, 1, 2, 3, 4, 5, 6)
    shaft = _known(*((f"the {name}", result.inputs[k]) for name, k in zip(names, places, strict=True)))
    period, feed, target, gain, integral = _known(
        ("the control period", result.inputs[9]),
        ("the duty fed forward", result.inputs[10]),
        ("the speed", result.inputs[11]),
        ("the motor's constants", result.suggested_gain),
        ("the motor's constants", result.suggested_integral),
    )
    bus, lost, ohms, henries, constant, inertia, load = shaft
    plant = LoopPlant(
        bus_v=bus,
        lost_v=lost,
        resistance_ohm=ohms,
        inductance_h=henries,
        constant=constant,
        inertia=inertia,
        load_nm=load,
        least_duty=0.0,
    )
    own = result.inputs[7].value
    low, high = min(gain / 10, (own or gain) / 2), max(gain * 4, (own or gain) * 2)
    seconds = min(max(10 * integral, 40 * period), 400 * period)
    law = LoopLaw(gain, integral, period, feed, counted=True)
    return gain_map(
        plant, law, target, np.geomspace(low, high, ACROSS), np.geomspace(integral / 5, integral * 10, ACROSS), seconds
    )
