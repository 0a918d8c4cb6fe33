"""A stage built from transistors: which circuit, which parts, how the gates are driven, what protects it."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from .components import Diode, Fuse, HeatSink, Relay
from .given import Given, Spec, choice, given
from .perf_board import PerfBoard
from .transistors import Bjt, GateDriver, HalfBridgeModule, Mosfet

Circuit = Literal[
    "low side",
    "bipolar low side",
    "high side",
    "half bridge",
    "full bridge",
    "p/n bridge",
    "relay pair",
    "crossed relay",
    "modules",
]
CIRCUITS: dict[str, str] = {
    "low side": "Low-side switch, one MOSFET and a diode",
    "bipolar low side": "Low-side switch, one bipolar transistor and a diode",
    "high side": "High-side switch, one MOSFET and a diode",
    "half bridge": "Half bridge: one direction, with brake",
    "full bridge": "Full bridge, four N channel with bootstrap",
    "p/n bridge": "Full bridge, P channel above, N channel below",
    "relay pair": "Relay pair for direction, one MOSFET for speed",
    "crossed relay": "One relay with crossed contacts for direction, one MOSFET for speed",
    "modules": "Full bridge of two half-bridge modules",
}
ONE_WAY = ("low side", "bipolar low side", "high side")
BRIDGES = ("half bridge", "full bridge", "p/n bridge", "modules")
"""Circuits in which two switches of a leg must never be on together."""
CONTACT_CIRCUITS = ("relay pair", "crossed relay")
"""Circuits in which contacts turn the motor round, above one switch."""
DIODE_CIRCUITS = ("low side", "bipolar low side", "high side", *CONTACT_CIRCUITS)
"""Circuits whose motor current needs a diode of its own when the switch opens."""
YES_NO = {"yes": "Yes", "no": "No"}
Switch = Annotated[Mosfet | Bjt | HalfBridgeModule, Field(discriminator="kind")]


class StageSpec(Spec):
    """A discrete stage. Parts are copies from the shelf; None where none is chosen yet."""

    circuit: Circuit = choice("Circuit", CIRCUITS, "half bridge", leads=True)
    switch: Switch | None = None
    upper: Mosfet | None = None
    gate_driver: GateDriver | None = None
    relay: Relay | None = None
    diode: Diode | None = None
    heat_sink: HeatSink | None = None
    fuse: Fuse | None = None
    guard: Mosfet | None = None
    parallel: Given = given(
        "number", "1", "In parallel, each place", default="1", origin="chosen", low=1, high=8, whole=True
    )
    spread: Given = given(
        "fraction",
        "%",
        "Spread of the on-resistance, ±",
        default="15 %",
        origin="assumed",
        low=0,
        high=0.5,
        help="Half of what lies between the sheet's typical and highest figure, or what you measured.",
    )
    gates: Literal["each", "channel", "tied"] = choice(
        "Gates in parallel",
        {
            "each": "One driver, a resistor for each gate",
            "channel": "A driver channel for each gate",
            "tied": "Gates tied together, one resistor",
        },
        "each",
        help="The first two are schools; tied gates oscillate against each other.",
    )
    driven_by: Literal["driver", "pin"] = choice(
        "Gates driven by", {"driver": "A gate driver", "pin": "The controller's pin"}, "driver", leads=True
    )
    gate_v: Given = given("voltage", "V", "Gate supply", default="12 V", origin="chosen", above=0)
    gate_fed: Literal["own", "bus", "source"] = choice(
        "Gate supply comes from",
        {
            "own": "A regulator behind the motor supply",
            "bus": "The motor supply, as it is",
            "source": "A source of its own",
        },
        "own",
        help="A 12 V regulator fed from 12 V has no headroom: the gate gets what is left.",
    )
    gate_source: str = Field("", max_length=40, description="Gate supply, its source")
    gate_dropout: Given = given("voltage", "V", "Its dropout", default="2 V", origin="assumed", low=0)
    gate_resistor: Given = given("resistance", "Ω", "Gate resistor", default="10 Ω", origin="chosen", low=0)
    off_resistor: Given = given(
        "resistance",
        "Ω",
        "Gate resistor, turning off",
        low=0,
        optional=True,
        help="Empty: the same. Smaller with a diode across the gate resistor.",
    )
    pull_down: Given = given(
        "resistance", "Ω", "Pull-down at each gate", default="10 kΩ", origin="chosen", above=0, optional=True
    )
    dead_time: Given = given("time", "ns", "Dead time", default="500 ns", origin="chosen", low=0)
    boot_capacitor: Given = given(
        "capacitance", "nF", "Bootstrap capacitor", default="220 nF", origin="chosen", above=0
    )
    boot_droop: Given = given("voltage", "V", "It may sag by", default="0.5 V", origin="chosen", above=0)
    gate_clamp: Literal["yes", "no"] = choice(
        "Zener and resistor at the upper gates", YES_NO, "no", help="Keeps a P channel's gate below its limit."
    )
    guard_clamp: Literal["yes", "no"] = choice(
        "Zener and resistor at the guard's gate",
        YES_NO,
        "no",
        help="The transistor against reversed polarity, or the power switch: its gate sees the whole supply.",
    )
    clamp_v: Given = given("voltage", "V", "Zener voltage at gates", default="12 V", origin="chosen", above=0)
    base_resistor: Given = given("resistance", "Ω", "Base resistor", default="330 Ω", origin="chosen", above=0)
    pad: Given = given(
        "thermal resistance",
        "K/W",
        "Case to heat sink",
        default="0.8 K/W",
        origin="assumed",
        low=0,
        help="Pad or mica with paste: 0.3 to 1 K/W.",
    )
    relay_pause: Given = given("time", "ms", "Pause round a change-over", default="60 ms", origin="chosen", low=0)
    loop: Given = given(
        "inductance",
        "nH",
        "Inductance of the switching loop",
        default="25 nH",
        origin="assumed",
        above=0,
        help="About 1 nH a millimetre round capacitor, upper and lower switch.",
    )
    shunt: Given = given("resistance", "Ω", "Shunt", low=0, optional=True)
    shunt_rating: Given = given("power", "W", "Its power rating", default="2 W", origin="assumed", above=0)
    sense_gain: Given = given("ratio", "1", "Gain after the shunt", default="20", origin="chosen", above=0)
    sense_clamp: Literal["yes", "no"] = choice("Resistor and zener at the sense pin", YES_NO, "no")
    track_width: Given = given("length", "mm", "Widest track under power", above=0, optional=True)
    track_layer: Literal["outer", "inner"] = choice("It lies", {"outer": "Outside", "inner": "Inside"}, "outer")
    copper: Given = given("copper weight", "oz/ft²", "Copper", default="1 oz/ft²", above=0)
    track_rise: Given = given("temperature difference", "K", "It may warm by", default="20 K", origin="chosen", above=0)
    life: Given = given("time", "h", "Capacitor's life at its limit", default="2000 h", origin="assumed", above=0)
    life_at: Given = given("temperature", "°C", "… at", default="105 °C", low=26, high=200)
    life_wanted: Given = given("time", "h", "Life wanted", default="500 h", origin="chosen", above=0)
    board: PerfBoard = Field(default_factory=PerfBoard, description="Board of the stage")
    board_price: Given = given("price", "€", "Boards, all", default="0 €", low=0)
    delivery: Given = given("price", "€", "Delivery", default="0 €", low=0)
    pieces: Given = given("number", "1", "Pieces", default="1", origin="chosen", low=1, high=10000, whole=True)


SLOTS: dict[str, tuple[str, tuple[str, ...]]] = {
    "switch": ("Switch", ("mosfet", "bjt", "module")),
    "upper": ("Upper switch, P channel", ("mosfet",)),
    "gate_driver": ("Gate driver", ("gate driver",)),
    "relay": ("Relay", ("relay",)),
    "diode": ("Flyback diode", ("diode",)),
    "heat_sink": ("Heat sink", ("heat sink",)),
    "fuse": ("Fuse", ("fuse",)),
    "guard": ("Guard: reversed polarity or power switch", ("mosfet",)),
}
"""Places for parts: label, and the classes that may stand there."""


STAGE_INPUTS = {
    "half bridge": "two gates",
    "full bridge": "two inputs",
    "p/n bridge": "two inputs",
    "relay pair": "coil and pwm",
    "crossed relay": "crossed coil and pwm",
    "modules": "two inputs and enable",
}
"""Input style by circuit; every other one has a single input."""


def switch_kind(circuit: str) -> str:
    """The class of the switch that a circuit needs."""
    return {"bipolar low side": "bjt", "modules": "module"}.get(circuit, "mosfet")


def slots(stage: StageSpec) -> list[str]:
    """The places that this circuit has."""
    found = ["switch"]
    if stage.circuit == "p/n bridge":
        found.append("upper")
    if stage.circuit not in ("bipolar low side", "modules") and stage.driven_by == "driver":
        found.append("gate_driver")
    if stage.circuit in CONTACT_CIRCUITS:
        found.append("relay")
    if stage.circuit in DIODE_CIRCUITS:
        found.append("diode")
    return [*found, "heat_sink", "fuse", "guard"]
