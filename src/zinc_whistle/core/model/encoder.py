"""Encoder: the disc, where it sits, and how the controller reads it."""

from __future__ import annotations

from typing import Literal

from .given import Given, Item, ListOwner, Spec, choice, given, listing

Kind = Literal["bought", "disc", "contacts"]


class HandRun(Item):
    """Turns by hand, and what was counted."""

    way: Literal["forward", "back"] = choice("Turned", {"forward": "Forward", "back": "Back"}, "forward")
    turns: Given = given("number", "1", "Turns of the output", above=0, high=1e6)
    counts: Given = given("count", "counts", "Counted", above=0, high=1e12)


class EncoderSpec(ListOwner, Spec):
    """One incremental encoder, or none."""

    kind: Kind = choice(
        "What it is",
        {
            "bought": "Bought: optical or Hall, two channels",
            "disc": "A disc of one's own and two light barriers",
            "contacts": "A knob's switch contacts",
        },
        "bought",
    )
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
    runs: list[HandRun] = listing(
        "Turns by hand",
        help="Reset the counter, turn the output by hand whole turns, read it. Σ counts over Σ turns takes the place "
        "of the figure above.",
        columns=True,
        most=20,
    )
    outputs: Literal["push-pull", "open collector"] = choice(
        "Its outputs",
        {"push-pull": "Drive high and low", "open collector": "Pull low only: a pull-up each"},
        "push-pull",
    )
    pull_up: Given = given("resistance", "Ω", "Pull-up of each channel", above=0, high=1e7)
    line_capacitance: Given = given(
        "capacitance", "pF", "Its line to ground", default="300 pF", origin="assumed", low=0, high=1e-6
    )
    disc_diameter: Given = given("length", "mm", "Diameter at the sensors", above=0, high=1)
    tooth: Given = given("length", "mm", "Width of a tooth there", above=0, high=1)
    spacing: Given = given(
        "length",
        "mm",
        "Sensors apart, along the arc",
        above=0,
        high=1,
        help="From the middle of one to that of the other.",
    )
    aperture: Given = given("length", "mm", "What a sensor sees", default="0.5 mm", origin="assumed", above=0, high=0.1)
    cut: Given = given("length", "mm", "Edges are off by up to", default="0.2 mm", origin="assumed", low=0, high=0.01)
    supply_v: Given = given("voltage", "V", "Supply of the light barriers", default="5 V", origin="assumed", above=0)
    lamp_v: Given = given("voltage", "V", "Their lamps drop", default="1.2 V", origin="assumed", above=0)
    lamp_ohm: Given = given("resistance", "Ω", "Resistor of each lamp", above=0, high=1e6)
    lit_a: Given = given(
        "current", "mA", "Sensor lit passes at least", above=0, high=1, help="At the current that its lamp has."
    )
    saturation: Given = given("voltage", "V", "It leaves, when on", default="0.3 V", origin="assumed", low=0)
    dark_a: Given = given("current", "µA", "In the dark it passes at most", default="1 µA", origin="assumed", low=0)
    stray_a: Given = given(
        "current",
        "µA",
        "By sun or filament lamp",
        default="20 µA",
        origin="assumed",
        low=0,
        help="Hold it towards the brightest light that it will see, its own lamp off.",
    )
    leak: Given = given(
        "fraction",
        "%",
        "Light that passes a tooth",
        default="1 %",
        origin="assumed",
        low=0,
        high=1,
        help="Black card 1 %; plain paper lets enough pass to spoil the level.",
    )

    @property
    def optical(self) -> bool:
        """Whether its sensors are light barriers of one's own."""
        return self.kind == "disc"
