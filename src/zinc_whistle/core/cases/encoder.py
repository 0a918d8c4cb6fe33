"""What the encoder resolves, how fast it counts, and whether the controller keeps up."""

from __future__ import annotations

from dataclasses import dataclass

from ..algebra.nodes import Constant, Figure, Node, presence
from ..laws import encoder as rules
from .circuit import Circuit
from .operating import Context

DECODING = {n: Constant(f"×{n}", float(n), "number") for n in ("1", "2", "4")}


@dataclass(frozen=True, slots=True)
class EncoderResult:
    """Counts at both shafts and the limits on their rate."""

    counts_per_turn: Figure
    counts_per_motor_turn: Figure
    counts_per_output_turn: Figure
    used_per_output_turn: Node
    angle_per_count: Figure
    output_angle_per_count: Figure
    rate_working: Figure
    rate_top: Figure
    speed_followed: Figure
    """The fastest that the chosen way of reading follows, at the motor."""
    duty_followed: Figure
    polling_limit: Figure
    interrupt_limit: Figure
    counts_per_period: Figure


def compute(at: Context, solved: Circuit) -> EncoderResult:
    """Counts per turn, rates at working and at top speed, limits of polling and of interrupts."""
    spec, ratio = at.drive.encoder, at.drive.load.gear_ratio.leaf
    because = [spec.chosen("decoding"), spec.chosen("place")]
    on_motor = spec.place == "motor"
    disc = rules.counts_per_turn(spec.teeth.leaf, DECODING[spec.decoding], because=because)
    one = Constant("1", 1.0, "ratio")
    output = rules.counts_per_output_turn(disc, ratio if on_motor else one, because=because)
    motor = disc if on_motor else rules.counts_at_motor(disc, ratio, because=because)
    if spec.calibrated.value is not None:
        # What was counted over whole turns of the output is so, whatever gear and disc should have given.
        motor = rules.counts_at_motor(spec.calibrated.leaf, ratio, because=[*because, presence(spec.calibrated.leaf)])
    working, top = at.load.motor_speed, _commanded_top(at, solved)
    loop = _loop_time(at)
    polled = rules.polling_limit(loop, spec.safety.leaf)
    limit = polled
    if spec.method == "interrupt":
        limit = rules.interrupt_limit(spec.interrupt_share.leaf, spec.interrupt_time.leaf)
    followed = rules.speed_followed(limit, motor, because=[spec.chosen("method")])
    rate = rules.count_rate(motor, working, case="working")
    return EncoderResult(
        counts_per_turn=disc,
        counts_per_motor_turn=motor,
        counts_per_output_turn=output,
        used_per_output_turn=spec.calibrated.leaf if spec.calibrated.value is not None else output,
        angle_per_count=rules.angle_per_count(disc),
        output_angle_per_count=rules.angle_per_count(output, title="Angle of one count, output"),
        rate_working=rate,
        rate_top=rules.count_rate(motor, top, case="top speed", title="Count rate, fastest commanded"),
        polling_limit=polled,
        interrupt_limit=rules.interrupt_limit(spec.interrupt_share.leaf, spec.interrupt_time.leaf),
        speed_followed=followed,
        duty_followed=rules.duty_followed(
            followed, at.motor.motor_constant, at.motor.brush_drop, at.volts.full, case="supply full"
        ),
        counts_per_period=rules.counts_per_period(rate, at.drive.loop.period.leaf),
    )


def _loop_time(at: Context) -> Node:
    """A pass of the loop, with what other devices on the controller take of it."""
    spec, board = at.drive.encoder, at.controller
    takes = [d.loop.leaf for d in board.devices if d.loop.value]
    because = [board.members("devices")]
    return rules.loop_with_devices([spec.loop_time.leaf, *takes], because=because) if takes else spec.loop_time.leaf


def _commanded_top(at: Context, solved: Circuit) -> Node:
    """The fastest that the drive is told to go: full duty by a knob or the port, else the loop's speed, or what the
    working duty makes of a full supply with nothing on the shaft."""
    loop = at.drive.loop
    because = [*at.drive.setting(), loop.chosen("closed")]
    if at.drive.sets_speed or not at.drive.signals.pulsed:
        return rules.as_commanded(solved.delivered_full, because=because)
    if at.drive.closes_loop:
        return rules.as_commanded(at.load.motor_speed, because=because)
    return rules.top_at_duty(
        solved.duty_nominal, at.volts.full, at.motor.brush_drop, at.motor.motor_constant, because=because
    )
