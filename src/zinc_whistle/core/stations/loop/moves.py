"""What the loop station tries out: a move by several laws and by the program, homing, the map of gain and integral."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from ...algebra.nodes import Node, number
from ...algebra.quantities import phrase
from ...cases.circuit import Circuit
from ...cases.encoder import EncoderResult
from ...cases.operating import Context
from ...laws.gain_map import GainMap, gain_map
from ...laws.loop_margins import lagging, suggested
from ...laws.loop_step import LoopLaw, LoopPlant
from ...panel.player import UPSET
from ...panel.runtime import Panel
from ...panel.settings import WINDOW
from ...simulation.moves.happening import Happening, Kind
from ...simulation.moves.homing import HomingFound, homing
from ...simulation.moves.laws import WAYS, Control, suggested_laws
from ...simulation.moves.run import Move, follow, move
from ...simulation.moves.setpoint import Course, time_of
from ...simulation.moves.shaft import Shaft
from ...simulation.torque import load_torque
from .compute import LoopResult

ACROSS = 60
"""Gains and integral times that the map looks at."""
LONGEST_S = 30.0
MOST_TURNS = 100
STICKS = 1.3
"""Friction at rest over friction in motion (common practice, no source)."""
TICK_S = 1e-3
IN_PROGRAM = "As the program moves it"


@dataclass(frozen=True, slots=True, kw_only=True)
class MoveAsked:
    """A move of the output by an angle (rad), looked at for a time (s): along which course, with which computing delay
    (s), with what happening on the way (at the output: N·m more, or rad/s of a hand), and with a driver that holds its
    current at so much (A; None: it holds none)."""

    output_rad: float
    seconds: float
    course: Course = "step"
    delay_s: float = 0.0
    happens: Kind | None = None
    at_s: float = 0.0
    for_s: float = 0.0
    amount: float = 0.0
    limit_a: float | None = None


@dataclass(frozen=True, slots=True)
class MovesFound:
    """A move by each law with its name, the target and the window in counts, how long the setpoint takes (s), the angle
    of the output for one radian of the motor, and what to know about them."""

    target: int
    window: int
    setpoint_s: float
    ratio: float
    moves: tuple[tuple[str, Move], ...]
    said: tuple[str, ...]


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


def shaft_of(at: Context, solved: Circuit, encoder: EncoderResult, limit_a: float | None = None) -> Shaft:
    """The drive at its motor's shaft, winding hot and supply nominal. ValueError with what is missing."""
    bus, lost, ohms, henries, constant, inertia, friction, counts, ratio, source = _known(
        ("the supply", at.volts.nominal),
        ("the driver's drop", solved.lost_volts),
        ("the resistance", solved.inner_resistance),
        ("the motor's inductance", at.motor.inductance),
        ("the motor's constant", at.motor.motor_constant),
        ("the inertia", at.load.reflected_inertia),
        ("the motor's friction", at.motor.friction_torque),
        ("the encoder's counts", encoder.counts_per_motor_turn),
        ("the gear ratio", at.drive.load.gear_ratio.value),
        ("the source's resistance", at.feed_resistance),
    )
    _known(("the load's torque", at.load.motor_torque))
    load = load_torque(at)
    # A fan's torque and a flap's weight change on the way: they count as friction of their working size.
    moving = friction + load.rub + load.square * (at.load.motor_speed.value or 0.0) ** 2 + abs(load.lever)
    return Shaft(
        motor=LoopPlant(
            bus_v=bus,
            lost_v=lost,
            resistance_ohm=ohms,
            inductance_h=henries,
            constant=constant,
            inertia=inertia,
            load_nm=load.pull,
            least_duty=-1.0,
        ),
        coulomb_nm=moving,
        stiction_nm=STICKS * moving,
        counts_per_turn=counts,
        play_rad=(at.drive.load.backlash.value or 0.0) * ratio,
        counted="output" if at.drive.encoder.place == "output" else "motor",
        source_ohm=source,
        limit_a=limit_a,
        pulses_hz=at.plan.frequency.value if at.drive.signals.pulsed else None,
    )


def moves_of(
    at: Context,
    solved: Circuit,
    encoder: EncoderResult,
    asked: MoveAsked,
    panel: Panel | None = None,
    tick_s: float = 1e-3,
) -> MovesFound:
    """A move of the output. ``panel``: the program's own, where it makes moves, looking every ``tick_s``. ValueError
    with what is missing, or for what is beyond all bounds."""
    if not 0 < asked.seconds <= LONGEST_S:
        raise ValueError(f"Look at between nothing and {LONGEST_S:g} s.")
    if abs(asked.output_rad) > MOST_TURNS * 2 * math.pi:
        raise ValueError(f"A move is at most {MOST_TURNS} turns of the output, either way.")
    shaft = shaft_of(at, solved, encoder, asked.limit_a)
    ratio, period = _known(
        ("the gear ratio", at.drive.load.gear_ratio.value), ("the control period", at.drive.loop.period.value)
    )
    if not 0 <= asked.delay_s <= period:
        raise ValueError(f"Computing takes between nothing and a control period, {phrase(period, 'time')}.")
    counts = shaft.counts_per_turn
    slow, gains = lagging(shaft.motor, period), suggested(shaft.motor, period)
    target = round(asked.output_rad * ratio * counts / (2 * math.pi))
    laws = suggested_laws(shaft, period, slow.lag_s or 0.0, slow.dead_s, (gains.gain, gains.integral_s or 1.0))
    if target == 0:
        raise ValueError("That is less than a count: give a larger move.")
    one_way = at.drive.signals.reversal == "one way"
    if one_way and target < 0:
        raise ValueError("It runs one way: a move back is none of its own.")
    happens = _happening(asked, ratio)
    speed = acceleration = 0.0
    if asked.course != "step":
        speed, acceleration = (
            x * counts / (2 * math.pi)
            for x in _known(("the speed", at.load.motor_speed), ("the time to speed", _motors(at, ratio)))
        )
    found = [
        (
            WAYS[law.way],
            move(
                shaft,
                replace(law, least=0.0 if one_way else law.least, delay_s=asked.delay_s, window=WINDOW),
                target,
                asked.seconds,
                course=asked.course,
                speed=speed,
                acceleration=acceleration,
                happens=happens,
            ),
        )
        for law in laws
    ]
    said = _said(at, shaft, one_way, panel)
    if panel is not None:
        found.append(
            (IN_PROGRAM, follow(shaft, programmed(panel, target), tick_s, target, asked.seconds, WINDOW, 0.0, happens))
        )
        if panel.mode in UPSET:
            said.append(f"The program ends as “{panel.mode}”: it waits to be cleared.")
    return MovesFound(
        target=target,
        window=WINDOW,
        setpoint_s=time_of(asked.course, target, speed, acceleration),
        ratio=1 / ratio,
        moves=tuple(found),
        said=tuple(said),
    )


def _motors(at: Context, ratio: float) -> float | None:
    """The motor's acceleration."""
    value = at.load.acceleration.value
    return None if value is None else value * ratio


def _said(at: Context, shaft: Shaft, one_way: bool, panel: Panel | None) -> list[str]:
    """What to know about the moves."""
    load = load_torque(at)
    said = []
    if shaft.motor.load_nm:
        said.append(
            "What pulls back does so always: it is held against, lowered, and keeps the gear's teeth on a flank."
        )
    if load.square or load.lever:
        said.append("A load that changes with speed or angle counts as friction of its working size.")
    if shaft.play_rad and not shaft.leans:
        where = (
            "within the loop: it may hunt by it" if shaft.counted == "output" else "behind the encoder: unseen by it"
        )
        said.append(f"The gear's backlash lies {where}.")
    elif at.drive.load.backlash.value is None:
        said.append("The gear's backlash is not known: none is counted (Load).")
    if one_way:
        said.append("It runs one way: what it has gone too far it does not come back.")
    if panel is None:
        said.append(
            "The program makes no moves here: choose them at Signals, under Panel, to see its own beside these."
        )
    return said


def programmed(panel: Panel, goal: int) -> Control:
    """The program's own panel as a control, one of its rounds a sample."""
    full = panel.settings.full

    def control(_: int, seen: int) -> float | None:
        now = panel.tick({}, {}, seen, 0, goal)
        if now.action == "off":
            return None
        return {"forward": 1, "back": -1}.get(now.action, 0) * now.level / full

    return control


def _happening(asked: MoveAsked, ratio: float) -> tuple[Happening, ...]:
    """What happens on the way, at the motor's shaft. ValueError where it does not happen within what is looked at."""
    if asked.happens is None:
        return ()
    if not (0 <= asked.at_s < asked.seconds and asked.for_s > 0):
        raise ValueError("What happens begins within the time that is looked at, and lasts a while.")
    amount = asked.amount / ratio if asked.happens == "load" else asked.amount * ratio
    return (Happening(asked.happens, asked.at_s, asked.for_s, amount),)


def homing_of(
    at: Context, solved: Circuit, encoder: EncoderResult, duty: float, ramp_s: float, debounce_s: float, away_rad: float
) -> HomingFound:
    """Homing from an angle of the output away, at a duty; debounced as the panel does. ValueError with what is missing,
    or where it does not come there."""
    if not 0 < away_rad <= MOST_TURNS * 2 * math.pi:
        raise ValueError(f"Homing begins up to {MOST_TURNS} turns of the output away.")
    if at.drive.signals.reversal == "one way":
        raise ValueError("It runs one way: it has no way back to a limit.")
    if not 0 < duty <= 1:
        raise ValueError("Not known yet: the duty of homing, or the working duty in its place.")
    shaft = shaft_of(at, solved, encoder)
    # It goes back to its limit: what pulls back helps it there.
    motor = replace(shaft.motor, load_nm=-shaft.motor.load_nm)
    (ratio,) = _known(("the gear ratio", at.drive.load.gear_ratio.value))
    away = away_rad * ratio * shaft.counts_per_turn / (2 * math.pi)
    shorts = at.drive.signals.braking == "brake" and (at.part is None or at.part.brakes == "yes")
    return homing(replace(shaft, motor=motor), duty, ramp_s, TICK_S, debounce_s, away, shorts=shorts)


def homing_says(found: HomingFound, at_working_duty: bool) -> list[str]:
    """What homing found, in sentences."""
    late = f"{found.zero[1]:.0f} counts" if found.zero[1] >= 0.5 else "less than a count"
    said = [
        f"The zero is set up to {late} after the switch, and differs by {found.spread:.1f} counts from time to time."
    ]
    if found.overrun > 2 * max(found.zero[1], 1.0):
        said.append("It runs on well beyond the switch: leave it room there, or home more slowly.")
    if at_working_duty:
        said.append("No duty is given for homing: it homes at its working duty. Give a lower one at Signals.")
    return said


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
