"""Encoder: the disc, where it sits, and how the controller reads it."""

from __future__ import annotations

from typing import Literal

from .given import Given, Spec, choice, given


class EncoderSpec(Spec):
    """One incremental encoder, or none."""

    fitted: Literal["yes", "no"] = choice("Encoder", {"yes": "Fitted", "no": "None"}, "yes")
    place: Literal["motor", "output"] = choice(
        "It sits on", {"motor": "The motor shaft", "output": "The output shaft"}, "motor"
    )
    teeth: Given = given("teeth", "teeth", "Slots, teeth or lines per turn", above=0, whole=True, high=100000)
    decoding: Literal["1", "2", "4"] = choice("Decoding", {"1": "×1", "2": "×2", "4": "×4"}, "4")
    method: Literal["polling", "interrupt"] = choice(
        "Read by", {"polling": "Polling in the loop", "interrupt": "Interrupts"}, "interrupt"
    )
    loop_time: Given = given(
        "time", "µs", "Loop time, measured", above=0, help="Toggle a pin each pass: half its period."
    )
    safety: Given = given("ratio", "1", "Passes per count", default="10", origin="default", low=1, high=1000)
    interrupt_time: Given = given("time", "µs", "Time in the interrupt", default="5 µs", origin="assumed", above=0)
    interrupt_share: Given = given(
        "fraction", "%", "Time that interrupts may take", default="25 %", origin="chosen", above=0, high=0.9
    )
    calibrated: Given = given(
        "count",
        "counts",
        "Counts per output turn, measured",
        above=0,
        optional=True,
        help="By hand: counts for 10 turns, over 10.",
    )
