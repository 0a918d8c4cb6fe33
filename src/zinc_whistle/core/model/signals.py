"""Signals: PWM, ramps, and the controller as what it can do."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from .given import Given, Item, ListOwner, Spec, choice, given, listing
from .timer_circuit import TimerCircuit

Ability = Literal[
    "digital",
    "pwm",
    "interrupt",
    "change",
    "analogue",
    "bus",
    "serial",
    "input only",
    "boot",
    "lamp",
    "absent",
]
ABILITIES: dict[Ability, str] = {
    "digital": "On and off",
    "pwm": "PWM",
    "interrupt": "Interrupt of its own",
    "change": "Interrupt shared with its port",
    "analogue": "Analogue input",
    "bus": "Bus",
    "serial": "Serial line",
    "input only": "Input only",
    "boot": "Read at start-up",
    "lamp": "Carries the board's lamp",
    "absent": "Not brought out",
}
"""What a pin can do, and what is peculiar to it.

*interrupt* has one of its own, *change* shares one with its port: it tells that something changed, not what. *serial*
carries the line over which the program is loaded and talked to: nothing else is put there."""


class Pin(Item):
    """A controller's pin: the name on the board, the number in the program, and what it can do."""

    label: str = Field("", max_length=20, description="Printed on the board")
    program: str = Field("", max_length=20, description="In the program")
    place: str = Field("", max_length=8, description="Place on the board: row and number")
    can: list[Ability] = Field(default_factory=list, max_length=len(ABILITIES))
    timer: str = Field("", max_length=40)
    port: str = Field("", max_length=8, description="Port and bit, where a program needs them")
    compare: str = Field("", max_length=8, description="Compare output of the timer")
    channel: str = Field("", max_length=4, description="Channel of the analogue converter")
    page: str = Field("", max_length=5, description="Its interrupt: the number of a shared one, or INT and a number")


Prescaler = Annotated[int, Field(ge=1, le=65536)]


class Timer(Item):
    """A timer that makes PWM: its width, prescalers, and whether the top of its count can be chosen."""

    name: str = Field("", max_length=40)
    bits: int = Field(16, ge=4, le=32)
    prescalers: list[Prescaler] = Field(default_factory=lambda: [1], min_length=1, max_length=20)
    free_top: bool = True
    kept_for: str = Field("", max_length=80, description="What the program keeps it for")


class Library(Item):
    """Someone else's code in the program: what it takes, and whether it was read."""

    name: str = Field("", max_length=80, description="Library")
    timers: str = Field("", max_length=80, description="Timers it takes")
    pins: str = Field("", max_length=80, description="Pins it takes")
    pulses: Literal["no", "yes"] = choice(
        "Its timers and pins are",
        {"no": "Kept from this build's drives", "yes": "Those of this build's drives: it makes their pulses"},
        "no",
    )
    reviewed: Literal["no", "yes"] = choice(
        "Read line by line", {"no": "Not yet", "yes": "Read"}, "no", help="Before you rely on it."
    )

    def takes(self, what: Literal["timers", "pins"]) -> set[str]:
        """The names of timers or pins that it keeps for itself, in small letters."""
        if self.pulses == "yes":
            return set()
        return {x.strip().lower() for x in getattr(self, what).split(",") if x.strip()}


class Peripheral(Item):
    """Something else on the controller: a display, a sensor, a sound or radio module."""

    name: str = Field("", max_length=40, description="What it is")
    bus: Literal["no", "yes"] = choice("On the bus", {"no": "No", "yes": "Yes: two wires shared by all"}, "no")
    address: str = Field("", max_length=10, description="Its address there")
    outputs: Given = given("number", "1", "Pins that it is told by", default="0", low=0, high=16, whole=True)
    inputs: Given = given("number", "1", "Pins that it tells by", default="0", low=0, high=16, whole=True)
    analogue: Given = given("number", "1", "Of these, analogue inputs", default="0", low=0, high=16, whole=True)
    feed: str = Field("", max_length=40, description="Fed by")
    v_max: Given = given(
        "voltage",
        "V",
        "Its supply may have at most",
        above=0,
        optional=True,
        help="Asked for where it has a feed of its own.",
    )
    current: Given = given("current", "mA", "Draws", low=0)
    loop: Given = given(
        "time",
        "µs",
        "Takes of each loop pass",
        default="0 s",
        origin="assumed",
        low=0,
        high=10,
        help="A display that is written to may take 15 ms. Nothing, where the loop was measured with it.",
    )


IN_ITS_BUILD = ("regulator", "node", "libraries", "devices")
"""What a controller has in a build and no profile of the shelf tells: another profile in its place leaves it so."""


class Controller(ListOwner, Item):
    """A controller by what it can do."""

    sample: bool = Field(False, description="A profile that ships, typical of its class")
    name: str = Field("", max_length=80, description="Name")
    regulator: str = Field("", max_length=40, description="Logic fed by")
    clock: Given = given("frequency", "MHz", "Clock", above=0)
    clock_tolerance: Given = given(
        "fraction", "%", "Clock tolerance", default="0.5 %", origin="data sheet", low=0, high=0.2
    )
    logic_v: Given = given("voltage", "V", "Logic voltage", default="5 V", above=0)
    output_high: Given = given("voltage", "V", "Output high, at least", default="4.2 V", low=0)
    pin_current: Given = given("current", "mA", "Current a pin may give", default="20 mA", above=0)
    sense_reference: Given = given("voltage", "V", "Analogue input, full scale", default="5 V", above=0)
    sense_bits: Given = given("bits", "bit", "Analogue converter", default="10", low=6, high=24, whole=True)
    program: Literal["", "avr", "micropython"] = choice(
        "Language of the program", {"": "None known", "avr": "C, 8-bit", "micropython": "MicroPython"}, ""
    )
    price: Given = given("price", "€", "Price", low=0, optional=True)
    height: Given = given("length", "mm", "Height, with its pins", above=0, optional=True)
    draws: Given = given(
        "current",
        "mA",
        "Draws itself",
        above=0,
        optional=True,
        help="Lamp and radio on: its sheet, or read.",
    )
    vin_min: Given = given(
        "voltage",
        "V",
        "V in, lowest",
        above=0,
        optional=True,
        help="Of its own regulator, so that the logic holds.",
    )
    vin_max: Given = given("voltage", "V", "V in, highest", above=0, optional=True)
    rail_a: Given = given(
        "current",
        "mA",
        "Its rails give others, all told",
        above=0,
        optional=True,
        help="What its own regulator leaves for encoders, displays and the driver's logic.",
    )
    grid: Literal["", "strip", "other"] = choice(
        "Its pins stand", {"": "Not told", "strip": "On the grid of strip board", "other": "Off that grid"}, ""
    )
    effort: Literal["", "ready", "header", "bare"] = choice(
        "Comes as",
        {
            "": "Not told",
            "ready": "A board with sockets and USB",
            "header": "A module, its headers to be soldered",
            "bare": "A bare chip: clock, regulator and loader are yours",
        },
        "",
    )
    node: Literal["", "first", "second"] = choice(
        "One program for two",
        {
            "": "No: its program is its own",
            "first": "The first of two: its identity pin is left open",
            "second": "The second of two: its identity pin goes to ground",
        },
        "",
        help="Two controllers with the same drives on one serial line; a pin tells the program which of them it is in.",
    )
    timers: list[Timer] = Field(default_factory=list, max_length=16)
    pins: list[Pin] = Field(default_factory=list, max_length=100)
    libraries: list[Library] = listing("Someone else's code in the program", columns=False)
    devices: list[Peripheral] = listing(
        "Other devices on it",
        help="Display, meter, sensors, sound, radio: their pins, current and time.",
        columns=False,
    )


ToldBy = Literal["pulses", "level", "timer", "hand"]


class SignalsSpec(Spec):
    """What tells the driver, and what it tells."""

    told_by: ToldBy = choice(
        "Told by",
        {
            "pulses": "A controller's pulses: any speed",
            "level": "A controller: on or off",
            "timer": "A timer circuit with a potentiometer: no controller",
            "hand": "A switch or button in the motor's current: no controller",
        },
        "pulses",
        leads=True,
    )
    pwm_frequency: Given = given(
        "frequency", "kHz", "PWM frequency wanted", default="20 kHz", origin="chosen", above=0, leads=True
    )
    alignment: Literal["edge", "centre"] = choice(
        "Alignment", {"edge": "Edge-aligned", "centre": "Centre-aligned"}, "centre"
    )
    decay: Literal["slow", "fast", "locked anti-phase"] = choice(
        "Drive mode",
        {
            "slow": "Sign-magnitude, slow decay",
            "fast": "Sign-magnitude, fast decay",
            "locked anti-phase": "Locked anti-phase",
        },
        "slow",
        leads=True,
    )
    soft_start: Literal["yes", "no"] = choice(
        "Soft start", {"yes": "Ramp the duty", "no": "Full duty at once"}, "yes", leads=True
    )
    ramp_time: Given = given("time", "s", "Ramp time", above=0, optional=True, help="Empty: the load's time to speed.")
    reversal: Literal["one way", "through zero", "slammed"] = choice(
        "Direction",
        {
            "one way": "One way only",
            "through zero": "Reverses, through zero with a pause",
            "slammed": "Reverses at once",
        },
        "one way",
        leads=True,
    )
    braking: Literal["coast", "brake"] = choice(
        "Stops by", {"coast": "Coasting", "brake": "Shorting the motor (brake)"}, "coast", leads=True
    )
    timer: TimerCircuit = Field(default_factory=TimerCircuit, description="The timer circuit")

    @property
    def pulsed(self) -> bool:
        """Whether the motor gets pulses; else it is on or off."""
        return self.told_by in ("pulses", "timer")

    @property
    def by_program(self) -> bool:
        """Whether a controller's program tells the driver."""
        return self.told_by in ("pulses", "level")

    @property
    def slams(self) -> bool:
        """Whether the motor may be turned round while it runs: a hand keeps no pause."""
        return self.reversal == "slammed" or (not self.by_program and self.reversal != "one way")

    @property
    def ramped(self) -> bool:
        """Whether something ramps the duty up: only a program does."""
        return self.told_by == "pulses" and self.soft_start == "yes"
