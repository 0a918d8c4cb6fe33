"""Test sheet of the encoder: light barriers by hand, ten turns, the direction before any loop, a run and back."""

from __future__ import annotations

import math
from dataclasses import replace

from ...algebra.nodes import Constant
from ...cases.encoder import EncoderResult
from ...cases.operating import Context
from ...laws import bench as rules
from ...laws import encoder as encoder_rules
from .step import Step, step

MARK_ANGLE = math.radians(4.0)
LOW_DUTY = Constant("1/4", 0.25, "fraction")
BACK_AGAIN = Constant("0", 0.0, "count")


def encoder_steps(at: Context, counts: EncoderResult) -> list[Step]:
    """The steps, in the order in which they are safe."""
    if counts.tacho is not None:
        return [_tacho(at)]
    if not at.drive.has_encoder:
        return []
    made = [replace(s, stage="pulses") for s in (*_barriers(at, counts), _ten_turns(counts))]
    if at.drive.signals.pulsed:
        made.append(_direction(at, counts))
        if at.drive.signals.reversal != "one way":
            made.append(_out_and_back(counts))
    return made


def _tacho(at: Context) -> Step:
    """Volts for a speed that another instrument tells, before its wire is joined to the input."""
    spec = at.drive.encoder
    speed = encoder_rules.top_at_duty(LOW_DUTY, at.volts.nominal, at.motor.brush_drop, at.motor.motor_constant)
    before = {"between": spec.before.leaf, "output": at.drive.load.gear_ratio.leaf}.get(spec.place)
    own = speed if before is None else encoder_rules.speed_at_output(speed, before)
    made = step(
        "tacho",
        title="Tacho, behind its divider, at a quarter duty",
        where="Divider to ground, its wire to the input not joined yet",
        instrument="Meter",
        setting="DC volts; a quarter duty forward, nothing on the shaft",
        expected=encoder_rules.tacho_volts(spec.tacho_v.leaf, own, spec.divider.leaf),
        unit="V",
        share=0.0,
        reason="above nothing: its volts at that speed, or less with friction",
        caution="Below nothing, its leads are swapped: an input breaks by that. Try it backwards too before it is "
        "joined.",
    )
    # It turns for this: it stands where things move without their load.
    return replace(made, low=0.0, high=None if made.expected.value is None else 1.3 * made.expected.value)


def _barriers(at: Context, counts: EncoderResult) -> list[Step]:
    """Each channel lit and dark, with what will be in its way, and towards the brightest light."""
    found = counts.levels
    if found is None:
        return []
    channels = "Channel A to ground" if at.drive.encoder.single else "Channel A, then B, to ground"
    lit = step(
        "barrier_lit",
        title="Light barrier, a gap before it",
        where=f"{channels}, power off the motor",
        instrument="Meter",
        setting="DC volts; turn the disc by hand until a gap stands before the sensor",
        expected=found.lit,
        unit="V",
        share=0.0,
        reason="below the input's low threshold",
    )
    dark = step(
        "barrier_dark",
        title="Light barrier, a tooth before it",
        where=f"{channels}, power off the motor",
        instrument="Meter",
        setting="DC volts; a tooth before the sensor, then a lamp of 60 W or the sun on it: the lower one counts",
        expected=found.dark,
        unit="V",
        share=0.0,
        reason="above the input's high threshold, in the brightest light that it will see",
        caution="Try metal, card and paper in its way by hand: what only dims the light leaves the level between.",
    )
    return [replace(lit, low=0.0, high=found.low.value), replace(dark, low=found.high.value, high=_logic(at))]


def _logic(at: Context) -> float | None:
    return at.controller.logic_v.value


def _ten_turns(counts: EncoderResult) -> Step:
    per_turn = counts.counts_per_output_turn
    return step(
        "counts",
        title="Encoder, ten turns of the output by hand",
        where="Counter in the program, power off the motor",
        instrument="Program's counter",
        setting="Reset it, turn ten whole turns against a mark, read it",
        expected=rules.counts_for_ten(per_turn),
        unit="counts",
        share=0.0,
        reason="a mark is met to about ±4°; a lost count shows as more",
        extra=(per_turn.value or 0.0) / (2 * math.pi) * MARK_ANGLE + 1,
    )


def _direction(at: Context, counts: EncoderResult) -> Step:
    """Forward must count up: with leads or channels swapped a closed loop runs away at once."""
    speed = encoder_rules.top_at_duty(LOW_DUTY, at.volts.nominal, at.motor.brush_drop, at.motor.motor_constant)
    expected = rules.counts_in_a_second(encoder_rules.count_rate(counts.counts_per_motor_turn, speed))
    made = step(
        "direction",
        title="Direction, a second at low duty",
        where="Counter in the program, nothing on the shaft, the loop open",
        instrument="Program's counter",
        setting="Reset it, a quarter duty forward for a second (a little more if it does not turn), read it",
        expected=expected,
        unit="counts",
        share=0.0,
        reason="above nothing: the count of a second at that duty, or less with friction",
        caution="Before any loop is closed. Counts below nothing: the motor's leads or the channels are swapped, and a "
        "loop would run away.",
    )
    return replace(made, low=1.0, high=None if expected.value is None else 1.5 * expected.value)


def _out_and_back(counts: EncoderResult) -> Step:
    """The proof that nothing is lost at speed: there and back to the mark, and the counter is where it was."""
    made = step(
        "out_and_back",
        title="Out at top speed and back to the mark",
        where="Counter in the program, a mark at the output",
        instrument="Program's counter",
        setting="Stand on the mark, reset it; some seconds forward at full speed, back, the last bit by hand; read it",
        expected=BACK_AGAIN,
        unit="counts",
        share=0.0,
        reason="nothing but how well the mark is met, ±4°: a lost count stays lost",
        caution="Only with room to run, and a hand at the switch that cuts the power.",
    )
    width = (counts.counts_per_output_turn.value or 0.0) / (2 * math.pi) * MARK_ANGLE + 1
    return replace(made, low=-width, high=width)
