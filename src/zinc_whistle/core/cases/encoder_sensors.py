"""What a disc of one's own and its light barriers give, and what an encoder's outputs do on their wires."""

from __future__ import annotations

from dataclasses import dataclass

from ..algebra.nodes import Constant, Figure, Node
from ..laws import encoder as rules
from .operating import Context

EVEN = Constant("1/4", 0.25, "fraction", "a bought encoder's states are even")
LOW_SHARE = Constant("0.3", 0.3, "fraction", "common practice, no source: CMOS reads low below 0.3 of its supply")
HIGH_SHARE = Constant("0.7", 0.7, "fraction", "common practice, no source: CMOS reads high above 0.7 of its supply")


@dataclass(frozen=True, slots=True, kw_only=True)
class DiscResult:
    """The disc: its pitch and shares of it, the phase of the sensors, its shortest state as drawn and as cut."""

    pitch: Figure
    tooth: Figure
    gap: Figure
    apart: Figure
    phase: Figure
    shortest: Figure
    error: Figure
    cut_share: Figure
    as_cut: Figure


@dataclass(frozen=True, slots=True, kw_only=True)
class LevelResult:
    """A light barrier: its lamp's current, its levels, and the thresholds of the input."""

    lamp: Figure
    lit: Figure
    dark: Figure
    low: Figure
    high: Figure


def disc(at: Context) -> DiscResult | None:
    """A disc of one's own; None for another kind."""
    spec = at.drive.encoder
    if not spec.optical:
        return None
    because = [spec.chosen("kind")]
    pitch = rules.pitch(spec.disc_diameter.leaf, spec.teeth.leaf, because=because)
    tooth = rules.in_pitches(spec.tooth.leaf, pitch, title="Tooth, of the pitch")
    apart = rules.in_pitches(spec.spacing.leaf, pitch)
    cut = rules.in_pitches(spec.cut.leaf, pitch, title="Cut, of the pitch")
    return DiscResult(
        pitch=pitch,
        tooth=tooth,
        gap=rules.gap_width(pitch, spec.tooth.leaf),
        apart=apart,
        phase=rules.phase_of_sensors(apart),
        shortest=rules.shortest_state(tooth, apart),
        error=rules.step_error(tooth, apart),
        cut_share=cut,
        as_cut=rules.state_cut_by_hand(spec.teeth.leaf, tooth, apart, cut),
    )


def levels(at: Context) -> LevelResult | None:
    """The levels of a light barrier of one's own; None for another kind."""
    spec = at.drive.encoder
    if not spec.optical:
        return None
    logic = at.controller.logic_v.leaf
    return LevelResult(
        lamp=rules.lamp_current(spec.supply_v.leaf, spec.lamp_v.leaf, spec.lamp_ohm.leaf),
        lit=rules.lit_level(logic, spec.pull_up.leaf, spec.lit_a.leaf, spec.saturation.leaf),
        dark=rules.dark_level(
            logic, spec.pull_up.leaf, spec.dark_a.leaf, spec.stray_a.leaf, spec.lit_a.leaf, spec.leak.leaf
        ),
        low=rules.threshold(LOW_SHARE, logic, title="Reads low below"),
        high=rules.threshold(HIGH_SHARE, logic, title="Reads high above"),
    )


def shortest_share(at: Context, own: DiscResult | None) -> Node:
    """The shortest state, of the pitch: as it was cut, or an even quarter."""
    return own.as_cut if own is not None else EVEN


def rise(at: Context) -> Figure | None:
    """How long a channel with a pull-up takes to rise; None where its outputs drive both ways."""
    spec = at.drive.encoder
    if not spec.optical and spec.outputs != "open collector":
        return None
    return rules.channel_rise(spec.pull_up.leaf, spec.line_capacitance.leaf)
