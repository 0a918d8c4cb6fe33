"""How slowly the drive can creep: breakaway, lowest smooth speed, and what would lower it at which cost."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ...algebra.limits import Check, claim, lower
from ...algebra.nodes import Figure, presence
from ...cases import breakaway
from ...cases.circuit import Circuit
from ...cases.motor import constants
from ...cases.operating import Context
from ...laws import driver as driver_rules
from ...laws import encoder as encoder_rules
from ...laws import motor as rules
from ...laws import signals as signal_rules
from ...laws.nothing import NO_OHMS
from ...model.motor import MotorPart

STATION = "motor"


@dataclass(frozen=True, slots=True)
class LowSpeed:
    """Breakaway duty and lowest smooth speeds; at the motor and at the output."""

    duty: Figure
    open_loop: Figure
    closed_loop: Figure | None
    open_output: Figure
    closed_output: Figure | None
    by_stiffness: Figure | None
    by_count: Figure | None
    steps_left: Figure
    agreement: Figure | None = None
    """What the breakaway current foretells over what was measured, where both are there."""


def compute(at: Context, solved: Circuit, counts_per_turn: Figure) -> LowSpeed:
    """What the breakaway current makes of the lowest speed, with the driver and the gear that are there."""
    motor, spec, ratio = at.motor, at.drive.motor, at.drive.load.gear_ratio.leaf
    around = driver_rules.loop_resistance(
        at.feed_resistance, NO_OHMS, solved.inner_resistance, NO_OHMS, NO_OHMS, case="hot"
    )
    start = breakaway.current(at, around)
    duty = rules.breakaway_duty(start, around, solved.lost_volts, at.volts.nominal, case="supply nominal")
    opened = rules.lowest_open(start, at.load.slow_current, around, motor.motor_constant)
    stiff = counted = closed = None
    loop = at.drive.loop
    if at.drive.has_encoder and at.drive.closes_loop:
        because = [loop.chosen("closed"), at.drive.encoder.chosen("fitted")]
        stiff = rules.lowest_stiff(opened, loop.gain.leaf, at.volts.nominal, motor.motor_constant, because=because)
        counted = rules.lowest_counted(
            encoder_rules.angle_per_count(counts_per_turn), loop.period.leaf, because=because
        )
        closed = rules.lowest_closed(stiff, counted, because=because)
        if spec.smooth_closed.value is not None:
            closed = rules.smooth_as_measured(spec.smooth_closed.leaf, because=[presence(spec.smooth_closed.leaf)])
    return LowSpeed(
        duty=duty,
        open_loop=opened,
        closed_loop=closed,
        open_output=rules.at_output(opened, ratio, title="Lowest smooth speed at the output, open loop"),
        closed_output=rules.at_output(closed, ratio, title="Lowest smooth speed at the output, closed loop")
        if closed
        else None,
        by_stiffness=stiff,
        by_count=counted,
        steps_left=signal_rules.steps_above(at.plan.steps, duty),
        agreement=_agreement(at, around),
    )


def _agreement(at: Context, around: Figure) -> Figure | None:
    spec = at.drive.motor
    if spec.breakaway_a.value is None or spec.smooth_open.value is None:
        return None
    told = rules.lowest_open(spec.breakaway_a.leaf, at.load.slow_current, around, at.motor.motor_constant)
    return rules.smooth_agreement(told, spec.smooth_open.leaf)


def checks(at: Context, result: LowSpeed) -> list[Check]:
    """The working speed against the lowest smooth one, once the breakaway current is known."""
    if not breakaway.known(at):
        return []
    lowest = result.closed_loop or result.open_loop
    spec = at.drive.motor
    agree: list[Check] = []
    if result.agreement is not None:
        ratio = result.agreement.value
        agree = [
            claim(
                "motor.smooth",
                station=STATION,
                title="The measured slowest speed and the breakaway current agree",
                holds=None if ratio is None else 0.5 <= ratio <= 2,
                todo="They differ by more than half: read the current again at several angles, and the speed with the "
                "load on. The measured speed is what counts here.",
                drive=at.drive.id,
                over="warn",
                where=f"{spec.path}.smooth_open",
                destructive=False,
                unknown="Not known yet: what the breakaway current foretells.",
            )
        ]
    return [
        *agree,
        lower(
            "motor.creep",
            station=STATION,
            title="Speed wanted against the lowest smooth one",
            stress=at.load.motor_speed,
            bound=lowest,
            todo="Gear down, close the loop, or take a weaker motor: see the remedies.",
            drive=at.drive.id,
            over="warn",
            where=f"{at.drive.motor.path}.breakaway_a",
            destructive=False,
            because=[presence(spec.breakaway_a.leaf), presence(spec.smooth_open.leaf)],
        ),
    ]


@dataclass(frozen=True, slots=True)
class CreepRemedy:
    """One way to creep: lowest speed at the output, and what it leaves of top speed and stall torque (shares)."""

    name: str
    lowest_rad_s: float
    top_speed: float
    stall_torque: float
    price_eur: float
    reaches: bool


FINER = 1.5
"""How far the gear is lowered in the suggestion."""


def remedies(at: Context, solved: Circuit, result: LowSpeed, shelf: Sequence[MotorPart]) -> list[CreepRemedy]:
    """What would lower the lowest smooth speed, the cheapest in top speed first among those that reach the wanted
    one."""
    opened, speed, ratio = result.open_loop.value, at.load.motor_speed.value, at.drive.load.gear_ratio.value
    top, stall = solved.delivered_flat.value, solved.stall_flat.value
    k_e, friction = at.motor.motor_constant.value, at.motor.friction_a.value
    if opened is None or speed is None or friction is None or not (ratio and top and stall and k_e):
        return []
    wanted = speed / ratio
    lowest = (result.closed_loop or result.open_loop).value or opened

    def made(name: str, low: float, top_share: float, torque_share: float, price: float) -> CreepRemedy:
        return CreepRemedy(
            name=name,
            lowest_rad_s=low,
            top_speed=top_share,
            stall_torque=torque_share,
            price_eur=price,
            reaches=low <= wanted,
        )

    found = [
        made("As it is", lowest / ratio, 1.0, 1.0, 0.0),
        made(f"Gear down by {FINER:g}", lowest / ratio / FINER, 1 / FINER, FINER, 0.0),
    ]
    volt = at.volts.nominal.value
    if volt:
        # The volt comes on top of what the motor gets now: it wins back the speed that gearing down loses.
        gained = 1 + 1 / (top * k_e + (at.motor.brush_drop.value or 0.0))
        found.append(made("One volt more supply", lowest / ratio, gained, (volt + 1) / volt, 0.0))
    if result.closed_output is None:
        gain = at.drive.loop.gain.value
        volts = at.volts.nominal.value
        if gain and volts:
            stiff = float(rules.lowest_stiff.bare(opened, gain, volts, k_e))
            found.append(made("Close the loop with an encoder", stiff / ratio, 1.0, 1.0, 0.0))
    steps, volts = at.plan.steps.value, at.volts.nominal.value
    if steps and volts:
        step_speed = volts / steps / k_e
        if step_speed > lowest * 0.2:
            found.append(
                made(f"Finer PWM (a step is {step_speed / ratio * 9.549:.2g} rpm)", lowest / ratio, 1.0, 1.0, 0.0)
            )
    found += [
        m
        for p in shelf
        if (
            m := _with_motor(
                at,
                solved=solved,
                part=p,
                opened=opened,
                friction=friction,
                k_e=k_e,
                top=top,
                ratio=ratio,
                wanted=wanted,
            )
        )
        is not None
    ]
    return sorted(found, key=lambda r: (not r.reaches, -r.top_speed if r.reaches else r.lowest_rad_s, r.price_eur))


def _with_motor(
    at: Context,
    solved: Circuit,
    part: MotorPart,
    opened: float,
    friction: float,
    k_e: float,
    top: float,
    ratio: float,
    wanted: float,
) -> CreepRemedy | None:
    """Another motor on the same gear: its own breakaway, resistance and constant."""
    other = constants(part.motor)
    start, r, k, i_c = (
        part.motor.breakaway_a.value,
        other.resistance_25.value,
        other.motor_constant.value,
        other.friction_a.value,
    )
    volts, torque = at.volts.flat.value, at.load.motor_torque.value
    if None in (start, r, k, i_c, volts, torque):
        return None
    assert start and r and k and i_c is not None and volts and torque is not None
    working = torque / k + i_c
    speed = (volts - working * r) / k
    if speed <= 0:
        return None
    low = float(rules.lowest_open.bare(start, working, r, k))
    if at.drive.has_encoder and at.drive.closes_loop and at.drive.loop.gain.value:
        low = float(rules.lowest_stiff.bare(low, at.drive.loop.gain.value, volts, k))
    if low >= opened:
        return None
    stall = k * (volts / r - i_c)
    now = k_e * ((solved.stall_flat.value or 0.0) - friction)
    return CreepRemedy(
        name=part.name,
        lowest_rad_s=low / ratio,
        top_speed=speed / top,
        stall_torque=stall / now if now > 0 else 1.0,
        price_eur=part.price.value or 0.0,
        reaches=low / ratio <= wanted,
    )
