"""What a disc of one's own and its light barriers give, and what an encoder's outputs do on their wires."""

from __future__ import annotations

from dataclasses import dataclass

from ..algebra.nodes import Constant, Figure, Node
from ..laws import encoder as rules
from .operating import Context

HALF = Constant("1/2", 0.5, "fraction", "a bought sensor is high as long as low")
EVEN = Constant("1/4", 0.25, "fraction", "a bought encoder's states are even")
LOW_SHARE = Constant("0.3", 0.3, "fraction", "common practice, no source: CMOS reads low below 0.3 of its supply")
HIGH_SHARE = Constant("0.7", 0.7, "fraction", "common practice, no source: CMOS reads high above 0.7 of its supply")


@dataclass(frozen=True, slots=True, kw_only=True)
class PairResult:
    """Two sensors: how far apart in pitches, their phase, and the largest error of a step."""

    apart: Figure
    phase: Figure
    error: Figure


@dataclass(frozen=True, slots=True, kw_only=True)
class DiscResult:
    """The disc: its pitch and shares of it, its shortest state as drawn and as cut."""

    pitch: Figure
    tooth: Figure
    gap: Figure
    shortest: Figure
    cut_share: Figure
    as_cut: Figure
    pair: PairResult | None
    """Of two sensors; one alone has no phase."""


@dataclass(frozen=True, slots=True, kw_only=True)
class LevelResult:
    """A light barrier: its lamp's current, its levels, and the thresholds of the input."""

    lamp: Figure
    lit: Figure
    dark: Figure
    low: Node
    high: Node


def disc(at: Context) -> DiscResult | None:
    """A disc of one's own; None for another kind."""
    spec = at.drive.encoder
    if not spec.optical:
        return None
    because = [spec.chosen("kind"), spec.chosen("channels")]
    pitch = rules.pitch(spec.disc_diameter.leaf, spec.teeth.leaf, because=because)
    tooth = rules.in_pitches(spec.tooth.leaf, pitch, title="Tooth, of the pitch")
    cut = rules.in_pitches(spec.cut.leaf, pitch, title="Cut, of the pitch")
    gap = rules.gap_width(pitch, spec.tooth.leaf)
    if spec.single:
        shorter = rules.shorter_part(tooth)
        as_cut = rules.shorter_as_cut(shorter, cut)
        return DiscResult(pitch=pitch, tooth=tooth, gap=gap, shortest=shorter, cut_share=cut, as_cut=as_cut, pair=None)
    apart = rules.in_pitches(spec.spacing.leaf, pitch)
    return DiscResult(
        pitch=pitch,
        tooth=tooth,
        gap=gap,
        shortest=rules.shortest_state(tooth, apart),
        cut_share=cut,
        as_cut=rules.state_cut_by_hand(spec.teeth.leaf, tooth, apart, cut),
        pair=PairResult(apart=apart, phase=rules.phase_of_sensors(apart), error=rules.step_error(tooth, apart)),
    )


def levels(at: Context) -> LevelResult | None:
    """The levels of a light barrier of one's own; None for another kind."""
    spec = at.drive.encoder
    if not spec.optical:
        return None
    logic, compared = at.controller.logic_v.leaf, spec.reads == "comparator"
    return LevelResult(
        lamp=rules.lamp_current(spec.supply_v.leaf, spec.lamp_v.leaf, spec.lamp_ohm.leaf),
        lit=rules.lit_level(logic, spec.pull_up.leaf, spec.lit_a.leaf, spec.saturation.leaf),
        dark=rules.dark_level(
            logic, spec.pull_up.leaf, spec.dark_a.leaf, spec.stray_a.leaf, spec.lit_a.leaf, spec.leak.leaf
        ),
        low=spec.switch_low.leaf if compared else rules.threshold(LOW_SHARE, logic, title="Reads low below"),
        high=spec.switch_high.leaf if compared else rules.threshold(HIGH_SHARE, logic, title="Reads high above"),
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class TachoResult:
    """A tacho: its volts at the converter when it turns fastest, and the speed of the motor that a step of the
    converter is."""

    volts: Figure
    step: Figure


READINGS = Constant("1023", 1023.0, "number", "a program takes readings of 10 bits")


def tacho(at: Context, top: Node, before: Node) -> TachoResult | None:
    """A tacho that a program reads; None for anything else. ``top``: the motor's fastest; ``before``: its turns for one
    of the tacho."""
    spec = at.drive.encoder
    if not at.drive.has_tacho:
        return None
    because = [spec.chosen("kind"), spec.chosen("place")]
    own = rules.speed_at_output(top, before)
    return TachoResult(
        volts=rules.tacho_volts(spec.tacho_v.leaf, own, spec.divider.leaf, because=because),
        step=rules.tacho_step(
            at.controller.sense_reference.leaf, READINGS, spec.tacho_v.leaf, spec.divider.leaf, before, because=because
        ),
    )


def shortest_share(at: Context, own: DiscResult | None) -> Node:
    """The shortest state, of the pitch: as it was cut, or an even quarter."""
    return own.as_cut if own is not None else HALF if at.drive.encoder.single else EVEN


def rise(at: Context) -> Figure | None:
    """How long a channel with a pull-up takes to rise; None where its outputs drive both ways."""
    spec = at.drive.encoder
    if not spec.optical and spec.outputs != "open collector":
        return None
    return rules.channel_rise(spec.pull_up.leaf, spec.line_capacitance.leaf)
