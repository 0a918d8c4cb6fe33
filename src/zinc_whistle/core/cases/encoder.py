"""What the encoder resolves, how fast it counts, and whether the controller keeps up."""

from __future__ import annotations

from dataclasses import dataclass

from ..algebra.nodes import Constant, Figure, Leaf, Node, presence
from ..laws import encoder as rules
from ..model.encoder import EncoderSpec, HandRun
from . import encoder_sensors as sensors
from .circuit import Circuit
from .encoder_sensors import DiscResult, LevelResult, TachoResult
from .operating import Context

ONE = Constant("1", 1.0, "ratio")
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
    by_hand: Figure | None
    """Counts of an output turn from the runs by hand."""
    plain_mean: Figure | None
    spread: Figure | None
    backlash: Figure
    travel: Figure | None
    state_time: Figure
    step_by_counting: Figure
    changeover: Figure
    rise: Figure | None
    disc: DiscResult | None
    levels: LevelResult | None
    tacho: TachoResult | None = None
    cycles_per_motor_turn: float | None = None
    """Periods of each of its two channels; None where there are not two, or nothing is known of them."""


def compute(at: Context, solved: Circuit) -> EncoderResult:
    """Counts per turn, rates at working and at top speed, limits of polling and of interrupts."""
    spec, ratio = at.drive.encoder, at.drive.load.gear_ratio.leaf
    because = [spec.chosen("decoding"), spec.chosen("place"), spec.chosen("channels")]
    disc = rules.counts_per_turn(spec.teeth.leaf, DECODING[spec.edges], because=because)
    before, behind = _gears(at)
    output = rules.counts_per_output_turn(disc, behind, because=because)
    motor = disc if spec.place == "motor" else rules.counts_at_motor(disc, before, because=because)
    counted = _counted(at)
    if counted is not None:
        # What was counted over whole turns of the output is so, whatever gear and disc should have given.
        motor = rules.counts_at_motor(counted, ratio, because=[*because, *_which(at)])
    working, top = at.load.motor_speed, _commanded_top(at, solved)
    loop = _loop_time(at)
    polled = rules.polling_limit(loop, spec.safety.leaf)
    limit = polled
    if spec.method == "interrupt":
        limit = rules.interrupt_limit(spec.interrupt_share.leaf, spec.interrupt_time.leaf)
    followed = rules.speed_followed(limit, motor, because=[spec.chosen("method")])
    rate = rules.count_rate(motor, working, case="working")
    own = sensors.disc(at)
    disc_top: Node = top if spec.place == "motor" else rules.speed_at_output(top, before)
    return EncoderResult(
        counts_per_turn=disc,
        counts_per_motor_turn=motor,
        counts_per_output_turn=output,
        used_per_output_turn=counted if counted is not None else output,
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
        **_of_runs(at),
        backlash=rules.backlash_in_counts(
            at.drive.load.backlash.leaf, counted if counted is not None else output, because=_which(at)
        ),
        travel=_travel(at, rate),
        state_time=rules.state_time(sensors.shortest_share(at, own), spec.teeth.leaf, disc_top, because=because),
        step_by_counting=rules.step_by_counting(motor, at.drive.loop.period.leaf),
        changeover=rules.changeover(motor, TIMER_CLOCK, at.drive.loop.period.leaf),
        rise=sensors.rise(at),
        disc=own,
        levels=sensors.levels(at),
        tacho=sensors.tacho(at, top, before),
        cycles_per_motor_turn=_cycles(spec, motor),
    )


def _cycles(spec: EncoderSpec, counts: Figure) -> float | None:
    if spec.fitted == "no" or spec.kind == "tacho" or spec.single:
        return None
    # A calibration at the output tells the gear, not how many slots a disc on the motor has.
    return spec.teeth.value if spec.place == "motor" else counts.value and counts.value / int(spec.edges)


def _gears(at: Context) -> tuple[Node, Node]:
    """Motor turns for one of the encoder's shaft, and its turns for one of the output."""
    spec, ratio = at.drive.encoder, at.drive.load.gear_ratio.leaf
    if spec.place == "motor":
        return ONE, ratio
    if spec.place == "output":
        return ratio, ONE
    return spec.before.leaf, rules.ratio_behind(ratio, spec.before.leaf)


TIMER_CLOCK = Constant("250 kHz", 250e3, "frequency", "16 MHz ÷ 64: what a timer of an 8-bit controller counts")


def complete_runs(at: Context) -> list[HandRun]:
    """The runs by hand of which turns and counts are known."""
    return [r for r in at.drive.encoder.runs if r.turns.value is not None and r.counts.value is not None]


def _counted(at: Context) -> Node | None:
    """Counts of an output turn as they were counted; runs by hand before a figure that was typed."""
    runs, spec = complete_runs(at), at.drive.encoder
    if runs:
        return rules.weighted_by_turns([r.counts.leaf for r in runs], [r.turns.leaf for r in runs], because=_which(at))
    return spec.calibrated.leaf if spec.calibrated.value is not None else None


def _which(at: Context) -> list[Leaf]:
    """What decides which counts are used."""
    spec = at.drive.encoder
    told = [presence(x.leaf) for r in spec.runs for x in (r.turns, r.counts)]
    return [spec.members("runs"), presence(spec.calibrated.leaf), *told]


def _of_runs(at: Context) -> dict[str, Figure | None]:
    runs = complete_runs(at)
    if not runs:
        return {"by_hand": None, "plain_mean": None, "spread": None}
    counts, turns, because = [r.counts.leaf for r in runs], [r.turns.leaf for r in runs], _which(at)
    return {
        "by_hand": rules.weighted_by_turns(counts, turns, because=because),
        "plain_mean": rules.plain_mean(counts, turns, because=because),
        "spread": rules.spread_of_runs(counts, turns, because=because),
    }


def _travel(at: Context, rate: Figure) -> Figure | None:
    """What the load moves in a count, where it moves along a line."""
    mechanism = at.drive.load.mechanisms[0] if at.drive.load.mechanisms else None
    velocity = getattr(mechanism, "velocity", None)
    if velocity is None or velocity.value is None:
        return None
    return rules.travel_per_count(velocity.leaf, rate, because=[at.drive.load.members("mechanisms")])


def _loop_time(at: Context) -> Node:
    """A pass of the loop, with what other devices on the controller take of it."""
    spec, board = at.drive.encoder, at.controller
    takes = [d.loop.leaf for d in board.devices if d.loop.value]
    because = [board.members("devices")]
    return rules.loop_with_devices([spec.loop_time.leaf, *takes], because=because) if takes else spec.loop_time.leaf


def _commanded_top(at: Context, solved: Circuit) -> Node:
    """The fastest that the drive is told to go: full duty by a knob or the port, else the loop's speed, or what the
    working duty makes of a full supply with nothing on the shaft."""
    loop, most = at.drive.loop, at.drive.panel.most_duty.leaf
    because = [*at.drive.setting(), loop.chosen("closed"), presence(most)]
    bounded = most.value is not None and at.drive.signals.by_program
    if at.drive.sets_speed and at.drive.signals.pulsed and bounded:
        return rules.top_at_duty(most, at.volts.full, at.motor.brush_drop, at.motor.motor_constant, because=because)
    if at.drive.sets_speed or not at.drive.signals.pulsed:
        return rules.as_commanded(solved.delivered_full, because=because)
    if at.drive.closes_loop:
        return rules.as_commanded(at.load.motor_speed, because=because)
    return rules.top_at_duty(
        solved.duty_nominal, at.volts.full, at.motor.brush_drop, at.motor.motor_constant, because=because
    )
