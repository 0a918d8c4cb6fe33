"""Encoder: the disc, where it sits, and how the controller reads it."""

from __future__ import annotations

from typing import Literal

from .given import Given, Item, ListOwner, Spec, choice, given, listing

Kind = Literal["bought", "disc", "contacts", "tacho"]


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
            "disc": "A disc of one's own, light barriers",
            "contacts": "A knob's switch contacts",
            "tacho": "A tacho generator: volts for speed, no counts",
        },
        "bought",
        leads=True,
    )
    fitted: Literal["yes", "no"] = choice("Encoder", {"yes": "Fitted", "no": "None"}, "yes", leads=True)
    channels: Literal["2", "1"] = choice(
        "Sensors",
        {"2": "Two, a quarter apart", "1": "One alone, along the way it is driven"},
        "2",
        help="One alone is cheaper; it counts wrongly when the shaft is turned by hand, pulled back, or runs on after "
        "a change of direction.",
    )
    place: Literal["motor", "between", "output"] = choice(
        "It sits on",
        {"motor": "The motor shaft", "between": "A shaft between two stages", "output": "The output shaft"},
        "motor",
    )
    before: Given = given(
        "ratio", "1", "Gear before it", low=0.01, high=1e6, help="Motor turns for one turn of the encoder's shaft."
    )
    teeth: Given = given("teeth", "teeth", "Slots, teeth or lines per turn", above=0, whole=True, high=100000)
    decoding: Literal["1", "2", "4"] = choice("Decoding", {"1": "×1", "2": "×2", "4": "×4, or all there are"}, "4")
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
    takes: Given = given(
        "current",
        "mA",
        "Takes from the logic's supply",
        low=0,
        high=5,
        optional=True,
        help="By its sheet; light barriers: their lamps, and what lit sensors pull.",
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
    tacho_v: Given = given("motor constant", "V/krpm", "Its volts for its speed", above=0, high=10)
    divider: Given = given(
        "ratio",
        "1",
        "Divided by",
        default="1",
        origin="chosen",
        low=1,
        high=1000,
        help="Volts before over volts behind.",
    )
    rectified: Literal["no", "yes"] = choice(
        "Rectified", {"no": "No: back is below nothing", "yes": "Yes: the way is that which is driven"}, "no"
    )
    reads: Literal["input", "comparator"] = choice(
        "Read by",
        {"input": "The controller's input itself", "comparator": "A comparator with hysteresis before it"},
        "input",
    )
    switch_low: Given = given("voltage", "V", "It switches low below", above=0, high=60)
    switch_high: Given = given("voltage", "V", "It switches high above", above=0, high=60)
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
    def single(self) -> bool:
        """Whether one sensor alone tells it."""
        return self.channels == "1"

    @property
    def edges(self) -> Literal["1", "2", "4"]:
        """Edges of a tooth that count: one sensor alone has two."""
        return "2" if self.single and self.decoding == "4" else self.decoding

    @property
    def optical(self) -> bool:
        """Whether its sensors are light barriers of one's own."""
        return self.kind == "disc"
