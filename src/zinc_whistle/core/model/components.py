"""Components as their data sheets tell them: every figure with where it stands and what the headline hides."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from .component import Component, Priced
from .fuses import FUSE_CURVES, FUSE_HELP, FuseCurve
from .given import Given, choice, given
from .transistors import Bjt, GateDriver, HalfBridgeModule, Mosfet


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
    height: Given = given("length", "mm", "Height over the board", above=0, optional=True)


class RegulatorPart(Priced):
    """A regulator for logic, gates or servos."""

    NEEDED = ("output_v", "limit", "input_max")
    kind: Literal["regulator"] = "regulator"
    type: Literal["linear", "switching", "step-up"] = choice(
        "Kind",
        {"linear": "Linear", "switching": "Switching (step-down)", "step-up": "Switching (step-up)"},
        "linear",
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
