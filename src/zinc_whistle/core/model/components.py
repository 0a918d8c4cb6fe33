"""Components as their data sheets tell them: every figure with where it stands and what the headline hides."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from .fuses import FUSE_CURVES, FUSE_HELP, FuseCurve
from .given import Given, Item, choice, given


class Component(Item):
    """What every component has. ``NEEDED`` names the figures without which no check can tell."""

    NEEDED: ClassVar[tuple[str, ...]] = ()
    name: str = Field("", max_length=80, description="Name")
    sample: bool = Field(False, description="An invented sample, typical of its class")


class Priced(Component):
    """A component with its price, which all of them have."""

    price: Given = given("price", "€", "Price, each", default="0 €", low=0)
    note: str = Field("", max_length=300, description="Note")


class Mosfet(Priced):
    """A MOSFET, N or P channel."""

    NEEDED = ("v_ds", "v_gs", "on_resistance", "on_resistance_at", "to_air", "switching_charge", "plateau", "threshold")
    kind: Literal["mosfet"] = "mosfet"
    channel: Literal["N", "P"] = choice("Channel", {"N": "N channel", "P": "P channel"}, "N")
    v_ds: Given = given("voltage", "V", "Drain to source, absolute", above=0, help="Absolute maximum ratings, V_DSS.")
    v_gs: Given = given(
        "voltage",
        "V",
        "Gate to source, absolute",
        above=0,
        help="Absolute maximum ratings, ±V_GS: the number that kills boards on which no motor ever turned.",
    )
    headline_a: Given = given(
        "current",
        "A",
        "Headline current",
        above=0,
        optional=True,
        help="First page, I_D: holds for a case kept at 25 °C. It is shown, and used for nothing.",
    )
    package_a: Given = given(
        "current",
        "A",
        "Package current",
        above=0,
        optional=True,
        help="“Limited by package” in the notes below the ratings; a peak must stay below it.",
    )
    on_resistance: Given = given(
        "resistance",
        "Ω",
        "On-resistance, 25 °C, highest",
        above=0,
        help="R_DS(on), the “max” column at 25 °C, at the gate voltage that you will really have.",
    )
    on_resistance_at: Given = given(
        "voltage",
        "V",
        "… at a gate voltage of",
        above=0,
        help="The V_GS in the same line. A part given at 10 V only is not for a 5 V pin.",
    )
    hot_factor: Given = given(
        "ratio",
        "1",
        "On-resistance at its limit, against 25 °C",
        default="1.9",
        origin="assumed",
        low=1,
        high=4,
        help="The curve of normalised on-resistance, at the junction limit.",
    )
    junction_limit: Given = given("temperature", "°C", "Junction limit", default="175 °C", low=26, high=250)
    to_case: Given = given(
        "thermal resistance",
        "K/W",
        "Junction to case",
        default="1 K/W",
        origin="assumed",
        low=0,
        help="R_thJC, from the thermal table.",
    )
    to_air: Given = given(
        "thermal resistance",
        "K/W",
        "Junction to air, no heat sink",
        above=0,
        help="R_thJA: 62 K/W is usual for a tab package standing free, 40 K/W on a square inch of copper.",
    )
    heat_capacity: Given = given(
        "heat capacity",
        "J/K",
        "Heat capacity of the package",
        default="0.8 J/K",
        origin="assumed",
        above=0,
        help="About 0.8 J/K for a tab package, 0.1 J/K for a small one: decides how long an overload is borne.",
    )
    threshold: Given = given(
        "voltage",
        "V",
        "Threshold, lowest",
        above=0,
        help="V_GS(th), the “min” column. It is where the part begins to leak, not where it is on.",
    )
    threshold_max: Given = given(
        "voltage",
        "V",
        "Threshold, highest",
        above=0,
        optional=True,
        help="The “max” column. Empty: twice the lowest. Below it the part is not on at all.",
    )
    plateau: Given = given("voltage", "V", "Plateau", above=0, help="The flat part of the gate-charge curve.")
    gate_charge: Given = given("charge", "nC", "Gate charge, total", above=0, help="Q_g at your gate voltage.")
    switching_charge: Given = given(
        "charge",
        "nC",
        "Switching charge",
        above=0,
        help="From the threshold to the end of the plateau: Q_sw, or Q_gd and half of Q_gs.",
    )
    drain_charge: Given = given(
        "charge",
        "nC",
        "… of it, gate to drain",
        above=0,
        optional=True,
        help="Q_gd, the flat part: how fast the volts move. Empty: two thirds of the switching charge, assumed.",
    )
    gate_resistance: Given = given(
        "resistance", "Ω", "Gate resistance inside", default="1.5 Ω", origin="assumed", low=0
    )
    miller: Given = given(
        "capacitance",
        "pF",
        "Reverse transfer capacitance",
        default="50 pF",
        origin="assumed",
        low=0,
        help="C_rss at the bus voltage.",
    )
    output: Given = given(
        "capacitance",
        "pF",
        "Output capacitance",
        default="500 pF",
        origin="assumed",
        low=0,
        help="C_oss, the effective figure related to energy if there is one.",
    )
    recovery: Given = given(
        "charge",
        "nC",
        "Recovered charge of its diode",
        default="50 nC",
        origin="assumed",
        low=0,
        help="Q_rr at your current; it grows with temperature.",
    )
    diode_v: Given = given("voltage", "V", "Drop of its diode", default="1 V", origin="assumed", low=0)
    linear_a: Given = given(
        "current",
        "A",
        "Bears slowly, at full voltage",
        above=0,
        optional=True,
        help="Safe operating area: the 1 ms line at your bus voltage. Matters where a bare pin drives the gate.",
    )


class Bjt(Priced):
    """A bipolar transistor as a switch."""

    NEEDED = ("v_ceo", "collector_a", "saturation_v", "to_air")
    kind: Literal["bjt"] = "bjt"
    v_ceo: Given = given("voltage", "V", "Collector to emitter, absolute", above=0, help="V_CEO.")
    collector_a: Given = given("current", "A", "Collector current, continuous", above=0)
    saturation_v: Given = given(
        "voltage", "V", "Saturation voltage", above=0, help="V_CE(sat) at your current and a tenth of it in the base."
    )
    base_v: Given = given("voltage", "V", "Base to emitter, on", default="0.8 V", above=0)
    forced_gain: Given = given(
        "ratio",
        "1",
        "Collector over base current at which it saturates",
        default="10",
        origin="assumed",
        low=1,
        high=5000,
        help="What the sheet gives V_CE(sat) at: 10 for most, 250 and more for a Darlington.",
    )
    fall_time: Given = given("time", "ns", "Storage and fall time", default="500 ns", origin="assumed", low=0)
    junction_limit: Given = given("temperature", "°C", "Junction limit", default="150 °C", low=26, high=250)
    to_air: Given = given("thermal resistance", "K/W", "Junction to air, no heat sink", above=0)
    heat_capacity: Given = given(
        "heat capacity", "J/K", "Heat capacity of the package", default="0.1 J/K", origin="assumed", above=0
    )


class HalfBridgeModule(Priced):
    """A finished half bridge: two switches with their gate driver in one package."""

    NEEDED = ("v_max", "on_resistance", "to_air", "switching_time", "peak_a", "pwm_limit")
    kind: Literal["module"] = "module"
    v_min: Given = given("voltage", "V", "Supply, lowest", default="5 V", low=0)
    v_max: Given = given("voltage", "V", "Supply, absolute", above=0)
    on_resistance: Given = given(
        "resistance",
        "Ω",
        "On-resistance of one switch, 25 °C",
        above=0,
        help="One path; the headline adds nothing for the other half bridge.",
    )
    hot_factor: Given = given(
        "ratio", "1", "On-resistance at its limit, against 25 °C", default="1.8", origin="assumed", low=1, high=4
    )
    junction_limit: Given = given("temperature", "°C", "Junction limit", default="150 °C", low=26, high=250)
    to_case: Given = given("thermal resistance", "K/W", "Junction to case", default="1 K/W", origin="assumed", low=0)
    to_air: Given = given("thermal resistance", "K/W", "Junction to air, on its board", above=0)
    heat_capacity: Given = given(
        "heat capacity", "J/K", "Heat capacity of the package", default="0.5 J/K", origin="assumed", above=0
    )
    switching_time: Given = given("time", "ns", "Rise and fall time together", low=0)
    dead_time: Given = given("time", "ns", "Dead time inside", default="1 µs", origin="assumed", low=0)
    diode_v: Given = given("voltage", "V", "Drop of its diodes", default="1 V", origin="assumed", low=0)
    peak_a: Given = given("current", "A", "Its current limit", above=0)
    pwm_limit: Given = given("frequency", "kHz", "PWM, at most", above=0)
    input_high: Given = given("voltage", "V", "Input high, at least", default="2 V", low=0)
    sense_gain: Given = given("sense gain", "V/A", "Current sense", low=0, optional=True)


class GateDriver(Priced):
    """A driver of gates: one output, or a half bridge with a bootstrapped high side."""

    NEEDED = ("source_a", "sink_a", "supply_min", "supply_max")
    kind: Literal["gate driver"] = "gate driver"
    sides: Literal["low", "half bridge", "charge pump"] = choice(
        "Drives",
        {
            "low": "Low sides only",
            "half bridge": "A half bridge, the high side by bootstrap",
            "charge pump": "A half bridge, the high side by charge pump (full duty)",
        },
        "low",
    )
    channels: Given = given("number", "1", "Outputs", default="1", low=1, high=8, whole=True)
    source_a: Given = given("current", "A", "Output current, turning on", above=0, help="Peak source current.")
    sink_a: Given = given("current", "A", "Output current, turning off", above=0, help="Peak sink current.")
    source_ohm: Given = given("resistance", "Ω", "Output resistance, high", default="3 Ω", origin="assumed", low=0)
    sink_ohm: Given = given("resistance", "Ω", "Output resistance, low", default="2 Ω", origin="assumed", low=0)
    supply_min: Given = given(
        "voltage", "V", "Own supply, lowest", above=0, help="Above its under-voltage lock-out, at the worst end."
    )
    supply_max: Given = given("voltage", "V", "Own supply, highest", above=0)
    bus_max: Given = given(
        "voltage",
        "V",
        "High side, absolute",
        above=0,
        optional=True,
        help="The offset voltage, with the gate's voltage on top.",
    )
    leak: Given = given("current", "µA", "Draws from the bootstrap", default="150 µA", origin="assumed", low=0)
    refresh: Given = given("time", "ns", "Low side on, at least, to refill", default="1 µs", origin="assumed", low=0)
    mismatch: Given = given("time", "ns", "Delay mismatch", default="50 ns", origin="assumed", low=0)
    own_dead_time: Given = given("time", "ns", "Dead time of its own", low=0, optional=True)
    input_high: Given = given("voltage", "V", "Input high, at least", default="2 V", low=0)
    to_air: Given = given("thermal resistance", "K/W", "Junction to air", default="120 K/W", origin="assumed", above=0)
    junction_limit: Given = given("temperature", "°C", "Junction limit", default="125 °C", low=26, high=250)


class Relay(Priced):
    """A change-over relay."""

    NEEDED = ("contact_a", "contact_v", "coil_v", "coil_a")
    kind: Literal["relay"] = "relay"
    contact_a: Given = given(
        "current",
        "A",
        "Contact, DC",
        above=0,
        help="The DC line, at your voltage: not the AC figure printed on the case.",
    )
    contact_v: Given = given("voltage", "V", "Contact, DC voltage", above=0)
    coil_v: Given = given("voltage", "V", "Coil voltage", above=0)
    coil_a: Given = given("current", "mA", "Coil current", above=0)
    release: Given = given(
        "time",
        "ms",
        "Releases in",
        default="10 ms",
        origin="assumed",
        low=0,
        help="With a diode across the coil it takes two or three times the figure printed.",
    )
    bounce: Given = given("time", "ms", "Bounces for", default="15 ms", origin="assumed", low=0)


class Diode(Priced):
    """A diode for the motor's current."""

    NEEDED = ("reverse_v", "forward_a", "forward_v", "recovery")
    kind: Literal["diode"] = "diode"
    reverse_v: Given = given("voltage", "V", "Reverse voltage", above=0)
    forward_a: Given = given("current", "A", "Average current", above=0)
    surge_a: Given = given("current", "A", "Repeated peak current", above=0, optional=True)
    forward_v: Given = given("voltage", "V", "Drop, at your current", above=0)
    recovery: Given = given(
        "charge",
        "nC",
        "Recovered charge",
        low=0,
        help="A Schottky has next to none; a mains rectifier so much that it is of no use here.",
    )
    junction_limit: Given = given("temperature", "°C", "Junction limit", default="150 °C", low=26, high=250)
    to_air: Given = given("thermal resistance", "K/W", "Junction to air", default="50 K/W", origin="assumed", above=0)
    settle_time: Given = given(
        "time",
        "s",
        "It warms up within",
        default="10 s",
        origin="assumed",
        low=0.01,
        help="Time constant: some 10 s for one on its leads, a second for a small one on a board.",
    )


class Capacitor(Priced):
    """A capacitor for the supply's ripple."""

    NEEDED = ("capacitance", "rated_v", "ripple_a", "esr")
    kind: Literal["capacitor"] = "capacitor"
    capacitance: Given = given("capacitance", "µF", "Capacitance", above=0)
    rated_v: Given = given("voltage", "V", "Rated voltage", above=0)
    ripple_a: Given = given(
        "current",
        "A",
        "Ripple current",
        above=0,
        help="At 100 kHz and the highest temperature, from the table of the series.",
    )
    esr: Given = given("resistance", "Ω", "Series resistance", low=0)
    life: Given = given("time", "h", "Life at its limit", default="2000 h", origin="assumed", above=0)
    life_at: Given = given("temperature", "°C", "… at", default="105 °C", low=26, high=200)


class Fuse(Priced):
    """A fuse."""

    NEEDED = ("rated_a", "rated_v")
    kind: Literal["fuse"] = "fuse"
    rated_a: Given = given("current", "A", "Rated current", above=0)
    rated_v: Given = given("voltage", "V", "Rated DC voltage", above=0)
    melting: Given = given(
        "joule integral",
        "A²·s",
        "Melting I²t",
        above=0,
        optional=True,
        help="From its table; slow fuses have many times that of quick ones.",
    )
    resistance: Given = given("resistance", "Ω", "Cold resistance", default="5 mΩ", origin="assumed", low=0)
    curve: FuseCurve = choice("Kind of fuse", FUSE_CURVES, "", help=FUSE_HELP)


class HeatSink(Priced):
    """A heat sink in still air."""

    NEEDED = ("to_air",)
    kind: Literal["heat sink"] = "heat sink"
    to_air: Given = given(
        "thermal resistance",
        "K/W",
        "Sink to air",
        above=0,
        help="In still air, fins upright, at about 50 K over the air.",
    )
    settle_time: Given = given(
        "time",
        "s",
        "It warms up within",
        default="60 s",
        origin="assumed",
        low=0.1,
        help="Time constant, its mass × 900 J/(kg·K) × sink to air: 50 g at 5 K/W take 225 s.",
    )
    places: Given = given("number", "1", "Room for transistors", default="1", low=1, high=24, whole=True)


class RegulatorPart(Priced):
    """A regulator for logic, gates or servos."""

    NEEDED = ("output_v", "limit", "input_max")
    kind: Literal["regulator"] = "regulator"
    type: Literal["linear", "switching"] = choice(
        "Kind", {"linear": "Linear", "switching": "Switching (step-down)"}, "linear"
    )
    output_v: Given = given("voltage", "V", "Output", above=0)
    dropout: Given = given("voltage", "V", "Dropout", default="2 V", origin="assumed", low=0)
    limit: Given = given("current", "A", "Gives at most", above=0)
    input_max: Given = given("voltage", "V", "Highest input", above=0)
    efficiency: Given = given("fraction", "%", "Efficiency", default="85 %", origin="assumed", above=0, high=1)
    to_air: Given = given("thermal resistance", "K/W", "Junction to air", default="60 K/W", origin="assumed", above=0)


AnyComponent = Annotated[
    Mosfet | Bjt | HalfBridgeModule | GateDriver | Relay | Diode | Capacitor | Fuse | HeatSink | RegulatorPart,
    Field(discriminator="kind"),
]
CLASSES: dict[str, tuple[str, type[Component]]] = {
    "mosfet": ("MOSFETs", Mosfet),
    "bjt": ("Bipolar transistors", Bjt),
    "module": ("Half-bridge modules", HalfBridgeModule),
    "gate driver": ("Gate drivers", GateDriver),
    "relay": ("Relays", Relay),
    "diode": ("Diodes", Diode),
    "capacitor": ("Capacitors", Capacitor),
    "fuse": ("Fuses", Fuse),
    "heat sink": ("Heat sinks", HeatSink),
    "regulator": ("Regulators", RegulatorPart),
}
"""The classes of the shelf: kind to its plural and its model."""
Class = Literal[
    "mosfet", "bjt", "module", "gate driver", "relay", "diode", "capacitor", "fuse", "heat sink", "regulator"
]


def part_problems(part: Component) -> dict[str, str]:
    """What contradicts itself in a component, by field."""
    found: dict[str, str] = {}

    def value(name: str) -> float | None:
        spot = getattr(part, name, None)
        return spot.value if isinstance(spot, Given) else None

    pairs = {
        "mosfet": (
            ("threshold", "plateau", "The lowest threshold is above the plateau."),
            ("plateau", "on_resistance_at", "The plateau is above the gate voltage of the on-resistance."),
            ("on_resistance_at", "v_gs", "The on-resistance is given above the gate's absolute limit."),
            ("switching_charge", "gate_charge", "The switching charge is more than the whole gate charge."),
        ),
        "module": (("v_min", "v_max", "The lowest supply is above the highest."),),
        "gate driver": (("supply_min", "supply_max", "The lowest supply is above the highest."),),
    }
    for low, high, sentence in pairs.get(getattr(part, "kind", ""), ()):
        a, b = value(low), value(high)
        if a is not None and b is not None and a > b:
            found[low] = sentence
    return found
