"""Driver: a part as its data sheet tells it, and the unit of the build that holds one."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from .board import Alteration
from .given import Given, Item, ListOwner, Spec, choice, given, listing
from .salvaged import SalvagedBoard
from .stage import DIODE_CIRCUITS, StageSpec
from .wiring import WireRun

PartKind = Literal[
    "pin",
    "bjt switch",
    "mosfet switch",
    "relay pair",
    "bipolar bridge",
    "mosfet bridge",
    "half-bridge pair",
    "stacked board",
    "discrete bridge",
    "contacts",
]
PART_KINDS: dict[str, str] = {
    "pin": "Straight on a pin",
    "bjt switch": "One bipolar transistor",
    "mosfet switch": "One MOSFET",
    "relay pair": "Relay pair and one MOSFET",
    "bipolar bridge": "Bipolar bridge",
    "mosfet bridge": "MOSFET bridge",
    "half-bridge pair": "Two half bridges",
    "stacked board": "Stacked board",
    "discrete bridge": "Discrete bridge, gate drivers",
    "contacts": "Contacts alone: relays or a switch",
}
InputStyle = Literal[
    "two inputs",
    "pwm and direction",
    "pwm, direction, brake",
    "two inputs and enable",
    "coil and pwm",
    "one input",
    "two gates",
    "crossed coil and pwm",
    "two coils",
    "one coil",
    "by hand",
]
INPUT_STYLES: dict[str, str] = {
    "two inputs": "Two inputs",
    "pwm and direction": "PWM and direction",
    "pwm, direction, brake": "PWM, direction and brake",
    "two inputs and enable": "Two inputs and enable",
    "coil and pwm": "Relay coils and PWM",
    "one input": "One input",
    "two gates": "A gate above, a gate below",
    "crossed coil and pwm": "One relay coil, contacts crossed, and PWM",
    "two coils": "A relay coil for each end, no transistor",
    "one coil": "One relay coil, on or off",
    "by hand": "None: moved by hand",
}
YES_NO = {"yes": "Yes", "no": "No"}


RELAY_PAUSE_S = 0.06
"""Release and bounce of a common relay, some times over (common practice, no source)."""
ONE_SWITCH = ("pin", "bjt switch", "mosfet switch", "relay pair", "contacts")
"""Kinds that switch one line: with a diode they cannot send energy back to the supply."""

REVERSING_CONTACTS = ("relay pair", "contacts")
"""Kinds whose contacts may turn the motor round, behind whatever else switches it."""


class DriverPart(Item):
    """A driver as a part: every figure with the condition it holds for."""

    name: str = Field("", max_length=80, description="Name")
    sample: bool = Field(False, description="An invented sample, typical of its class")
    kind: PartKind = choice("Kind", PART_KINDS, "mosfet bridge")
    input_style: InputStyle = choice("Inputs", INPUT_STYLES, "two inputs")
    channels: Given = given("number", "1", "Channels", default="1", low=1, high=16, whole=True)
    joins: Literal["yes", "no"] = choice(
        "Channels may be joined", YES_NO, "no", help="Only if the sheet says so: inputs and outputs side by side."
    )
    v_min: Given = given(
        "voltage",
        "V",
        "Motor supply, lowest",
        low=0,
        help="Recommended operating conditions, motor supply, minimum.",
    )
    v_max: Given = given(
        "voltage",
        "V",
        "Motor supply, highest",
        above=0,
        help="Recommended operating conditions, motor supply, maximum: not the absolute figure.",
    )
    v_absolute: Given = given(
        "voltage",
        "V",
        "Absolute highest",
        above=0,
        help="Absolute maximum ratings: a stress that may damage, never a working point.",
    )
    continuous_a: Given = given(
        "current",
        "A",
        "Continuous current",
        above=0,
        help="For each channel. The headline often holds for a case held at 25 °C: note its condition below.",
    )
    continuous_condition: str = Field("", max_length=200, description="Continuous current holds for")
    peak_a: Given = given(
        "current",
        "A",
        "Peak current",
        above=0,
        help="With the time it may last: without one it is worth little.",
    )
    peak_time: Given = given(
        "time",
        "s",
        "Peak current for at most",
        above=0,
        help="From the same line, or the pulse curve.",
    )
    drop_v: Given = given(
        "voltage",
        "V",
        "Fixed drop, both switches",
        default="0 V",
        low=0,
        help="Bipolar parts: both saturation voltages at a small current. MOSFETs: 0 V.",
    )
    on_resistance: Given = given(
        "resistance",
        "Ω",
        "On-resistance, both switches, 25 °C",
        default="0 Ω",
        low=0,
        help="MOSFETs: high side and low side together, at 25 °C. The headline is often one switch alone.",
    )
    hot_factor: Given = given(
        "ratio",
        "1",
        "On-resistance at its limit, against 25 °C",
        default="1.7",
        origin="assumed",
        low=1,
        high=4,
    )
    junction_limit: Given = given("temperature", "°C", "Junction limit", default="150 °C", low=26, high=250)
    thermal_resistance: Given = given(
        "thermal resistance",
        "K/W",
        "Junction to air, on its board",
        above=0,
        help="On the actual board: the figure without heat sink and with little copper.",
    )
    package_share: Given = given(
        "fraction",
        "%",
        "Of it, junction to board",
        default="30 %",
        origin="assumed",
        low=0,
        high=1,
        help="R_thJC or R_thJB over R_thJA. This share of the warmth comes and goes within about a second.",
    )
    board_time: Given = given(
        "time",
        "s",
        "The board warms up within",
        default="60 s",
        origin="assumed",
        low=0.1,
        help="Time constant: two thirds of the way. A large heat sink takes minutes.",
    )
    switching_time: Given = given(
        "time",
        "ns",
        "Rise and fall time together",
        default="0 s",
        low=0,
        help="Rise and fall together, from the switching characteristics.",
    )
    quiescent_a: Given = given("current", "mA", "Own current", default="5 mA", origin="assumed", low=0)
    input_high: Given = given(
        "voltage",
        "V",
        "Input high, at least",
        default="2 V",
        low=0,
        help="Logic input high, minimum: compare with what your controller gives.",
    )
    input_current: Given = given("current", "mA", "Input current", default="0.1 mA", low=0)
    pwm_limit: Given = given(
        "frequency",
        "kHz",
        "PWM, at most",
        above=0,
        help="From the features or the switching characteristics.",
    )
    sense_gain: Given = given(
        "sense gain",
        "V/A",
        "Current sense",
        low=0,
        optional=True,
        help="Volts at the sense pin for each ampere, with its resistor.",
    )
    diodes: Literal["yes", "no"] = choice("Flyback diodes inside", YES_NO, "yes")
    isolated: Literal["yes", "no"] = choice(
        "Inputs isolated from the motor's side",
        YES_NO,
        "no",
        help="By contacts alone with coils on the controller's supply, or by opto-couplers.",
    )
    reverses: Literal["yes", "no"] = choice("Drives both ways", YES_NO, "yes")
    brakes: Literal["yes", "no"] = choice("Can brake", YES_NO, "yes")
    trip: Literal["none", "current limit", "thermal"] = choice(
        "Protects itself by",
        {"none": "Nothing", "current limit": "A current limit", "thermal": "A thermal cut-out"},
        "none",
    )
    trip_a: Given = given(
        "current",
        "A",
        "It limits or trips at",
        above=0,
        optional=True,
        help="The highest that its sheet allows for the level: a jam that draws less is never seen.",
    )
    guard_v: Given = given(
        "voltage",
        "V",
        "Its guard's gate bears",
        above=0,
        optional=True,
        help="A transistor against reversed polarity, or a power switch on the board: its gate sees the whole supply.",
    )
    pin_map: str = Field("", max_length=300, description="Pins that it takes, stacked: PWM=D9, DIR=D7, PWM@2=D10")
    tied: str = Field("", max_length=100, description="Lines that are tied for good: EN=1, MODE=0")
    active_low: str = Field("", max_length=100, description="Inputs that act when they are low: IN 1, ENABLE")
    lamps: str = Field("", max_length=160, description="Lamps on it, and what lights them: ON=supply, A=forward")
    price: Given = given("price", "€", "Price", default="0 €", low=0)
    effort: Literal["ready board", "kit", "bare chip"] = choice(
        "Comes as",
        {"ready board": "A ready board", "kit": "A kit", "bare chip": "A bare chip"},
        "ready board",
    )
    note: str = Field("", max_length=300, description="Note")


class DriverUnit(ListOwner, Item):
    """One driver of the build; it may serve several drives, a channel each."""

    name: str = Field("", max_length=80, description="Name")
    source: str = Field("", max_length=40, description="Fed from")
    made_of: Literal["part", "stage"] = choice(
        "Made of", {"part": "A driver from the shelf", "stage": "A stage built from transistors"}, "part", leads=True
    )
    part: DriverPart | None = Field(None, description="The part, copied from the shelf")
    stage: StageSpec = Field(default_factory=StageSpec)
    jam_stop: Literal["none", "fuse", "program", "driver limit", "cut-out"] = choice(
        "What acts in a jam",
        {
            "none": "Nothing yet",
            "fuse": "The fuse",
            "program": "The program (no counts, or current sensed)",
            "driver limit": "The driver's own limit",
            "cut-out": "A cut-out in the motor's lead",
        },
        "none",
        leads=True,
    )
    jam_time: Given = given(
        "time",
        "s",
        "It acts within",
        above=0,
        help="For the driver's own limit or a cut-out. A fuse and the program have times of their own.",
    )
    cutout_a: Given = given(
        "current",
        "A",
        "The cut-out trips at",
        above=0,
        optional=True,
        help="The current at which its sheet promises that it trips, within the time above: not the one that it holds.",
    )
    current_limit: Given = given(
        "current",
        "A",
        "Current limit for ramps",
        above=0,
        optional=True,
        help="Empty: the part's continuous current.",
    )
    flyback: Literal["none", "rails", "motor"] = choice(
        "Flyback diodes of your own",
        {
            "none": "None fitted",
            "rails": "On the transistor's side, to the rails",
            "motor": "Across the motor's own terminals",
        },
        "none",
        help="Counts where the part has none inside. Across a motor that is reversed it is a short.",
        leads=True,
    )
    bulk_capacitance: Given = given("capacitance", "µF", "Bulk capacitor", above=0)
    bulk_voltage: Given = given("voltage", "V", "Its voltage rating", above=0)
    bulk_ripple: Given = given("current", "A", "Its ripple current rating", above=0)
    bulk_esr: Given = given("resistance", "Ω", "Its series resistance", default="0.1 Ω", origin="assumed", low=0)
    ripple_allowed: Given = given("voltage", "V", "Ripple allowed on the supply", default="0.5 V", above=0)
    alterations: list[Alteration] = listing(
        "Altered on the board",
        help="A link over a burnt guard, a cut trace: recorded until it is undone.",
        columns=False,
    )
    inverters: Literal["no", "yes"] = choice(
        "Inputs that act when they are low",
        {"no": "Go straight to what tells them", "yes": "Each has a transistor that turns its line round"},
        "no",
    )
    salvaged: SalvagedBoard = Field(default_factory=SalvagedBoard, description="Off a salvaged board")
    warmer: Given = given(
        "temperature difference",
        "K",
        "Air at the board is warmer by",
        default="0 K",
        origin="assumed",
        low=0,
        high=80,
        help="Beside the motor or in a shut box: a thermometer there says it, often 10 to 20 K.",
    )
    supply_run: WireRun = Field(default_factory=WireRun, description="Wire from the source")

    @property
    def relay_pause_s(self) -> float:
        """How long the pulses rest before and after contacts change over, in s; of bought relays a common one's."""
        own = self.stage.relay_pause.value if self.made_of == "stage" else None
        return own or RELAY_PAUSE_S

    @property
    def diode_at(self) -> Literal["none", "rails", "motor"]:
        """Where the flyback diode stands: one that is chosen for a stage stands at its rails unless told otherwise."""
        own = self.made_of == "stage" and self.stage.circuit in DIODE_CIRCUITS and self.stage.diode is not None
        return "rails" if own and self.flyback == "none" else self.flyback


class Ambient(Spec):
    """The air round the build."""

    cold: Given = given("temperature", "°C", "Coldest air", default="0 °C", low=-60, high=80, leads=True)
    hot: Given = given("temperature", "°C", "Hottest air", default="40 °C", low=-20, high=90, leads=True)
