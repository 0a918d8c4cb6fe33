"""Motor: what is known of it, by readings, by its data sheet or by a captured spin-up."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import Field

from .given import Choose, Given, Item, ListOwner, Spec, choice, given, listing


def looks(name: str) -> Any:
    """A choice of LOOKS, not made yet."""
    return choice(LOOKS[name].label, LOOKS[name].options, "", help=LOOKS[name].help)


class LockedReading(Item):
    """One reading with the shaft held: its angle, volts across the motor and amperes through it."""

    angle: Given = given("angle", "°", "Shaft angle", low=0, high=6.3)
    voltage: Given = given("voltage", "V", "Voltage, locked", above=0)
    current: Given = given("current", "A", "Current, locked", above=0)


LOOKS: dict[str, Choose] = {
    "leads": Choose("Leads", {"": "Not looked at yet", "two": "Two", "three": "Three", "four or more": "Four or more"}),
    "brushes": Choose(
        "Brushes",
        {"": "Cannot be seen", "seen": "Seen: carbon on a ring of bars", "none": "Seen that there are none"},
        "Through the slots at the back; caps on both sides hold them in larger ones.",
    ),
    "magnets": Choose(
        "A screwdriver at its case",
        {"": "Not tried yet", "pulls": "Is pulled", "nothing": "Is not pulled"},
        "A thick case lets little through: try at the slots.",
    ),
    "by_hand": Choose(
        "Turned by hand, leads open",
        {
            "": "Not tried yet",
            "bumps": "A few soft bumps in a turn",
            "clicks": "Many fine clicks in a turn",
            "free": "Turns freely",
        },
    ),
    "label": Choose("Its label says", {"": "Nothing", "direct": "DC, or volts alone", "alternating": "AC, ~ or Hz"}),
    "rectifier": Choose("A rectifier on its terminals", {"": "Not looked at yet", "none": "No", "on it": "Yes"}),
}
"""What one sees and feels of a motor before any reading."""


class MotorLooks(Spec):
    """Is it a brushed DC motor at all? Empty: not looked at."""

    leads: Literal["", "two", "three", "four or more"] = looks("leads")
    brushes: Literal["", "seen", "none"] = looks("brushes")
    magnets: Literal["", "pulls", "nothing"] = looks("magnets")
    by_hand: Literal["", "bumps", "clicks", "free"] = looks("by_hand")
    label: Literal["", "direct", "alternating"] = looks("label")
    rectifier: Literal["", "none", "on it"] = looks("rectifier")


class MotorSheet(Spec):
    """What a data sheet or a label says, at 25 °C; any sufficient part of it will do."""

    voltage: Given = given("voltage", "V", "Rated voltage", above=0, optional=True)
    no_load_speed: Given = given("speed", "rpm", "No-load speed, rated", above=0, optional=True)
    no_load_a: Given = given("current", "A", "No-load current, rated", above=0, optional=True)
    stall_a: Given = given("current", "A", "Stall current, rated", above=0, optional=True)
    stall_torque: Given = given("torque", "mN·m", "Stall torque, rated", above=0, optional=True)
    speed_constant: Given = given("speed constant", "rpm/V", "Speed constant (Kv)", above=0, optional=True)
    resistance: Given = given("resistance", "Ω", "Winding resistance", above=0, optional=True)
    brush_drop: Given = given("voltage", "V", "Brush drop", default="0 V", origin="assumed", low=0)
    trust_resistance: Literal["first", "given", "stall", "torque"] = choice(
        "Trust for resistance",
        {
            "first": "The first there is",
            "given": "Winding resistance",
            "stall": "Voltage over stall current",
            "torque": "Stall torque and speed",
        },
        "first",
    )
    trust_constant: Literal["first", "speed", "torque", "kv"] = choice(
        "Trust for the constant",
        {
            "first": "The first there is",
            "speed": "No-load speed",
            "torque": "Stall torque over current",
            "kv": "Speed constant (Kv)",
        },
        "first",
    )


class FittedMotor(Spec):
    """Constants taken over from a captured spin-up; the winding was at ``temperature``."""

    resistance: Given = given("resistance", "Ω", "Resistance, fitted", above=0)
    constant: Given = given("motor constant", "mN·m/A", "Motor constant, fitted", above=0)
    friction: Given = given("torque", "mN·m", "Friction torque, fitted", low=0)
    viscous: Given = given("viscous friction", "µN·m·s/rad", "Viscous friction, fitted", default="0 µN·m·s/rad", low=0)
    brush_drop: Given = given("voltage", "V", "Brush drop, in the fit", default="0 V", origin="assumed", low=0)
    temperature: Given = given(
        "temperature", "°C", "Winding, in the capture", default="25 °C", origin="assumed", low=-60, high=200
    )


class Salvage(Spec):
    """Where a motor came from: what its appliance gave it and did with it."""

    appliance: str = Field("", max_length=80, description="Out of which appliance?")
    volts: Given = given(
        "voltage",
        "V",
        "Voltage that it had there",
        above=0,
        optional=True,
        help="On the battery, the transformer or the board: what its brushes and its speed are made for.",
    )
    stages: Given = given(
        "number", "1", "Gear stages", low=0, high=8, whole=True, optional=True, help="Pairs of wheels that mesh."
    )
    grease: Literal["", "soft", "hard"] = choice(
        "Its grease", {"": "Not looked at", "soft": "Soft, or cleaned and greased anew", "hard": "Hard or brown"}, ""
    )
    switch: str = Field("", max_length=80, description="Its own switch there: what is printed on it")
    switch_a: Given = given(
        "current",
        "A",
        "That switch is rated for",
        above=0,
        optional=True,
        help="Its transistor's or relay's figure: a first candidate for a driver, to be checked like any other.",
    )
    switch_v: Given = given("voltage", "V", "… and for", above=0, optional=True)


class MotorSpec(ListOwner):
    """One brushed motor."""

    name: str = Field("", max_length=80, description="What is it?")
    known_by: Literal["readings", "data sheet", "spin-up"] = choice(
        "Known by",
        {"readings": "Readings on the bench", "data sheet": "Its data sheet or label", "spin-up": "A captured spin-up"},
        "readings",
        leads=True,
    )
    looks: MotorLooks = Field(default_factory=MotorLooks, description="Is it a brushed motor?")
    salvage: Salvage = Field(default_factory=Salvage, description="Where it came from")
    sheet: MotorSheet = Field(default_factory=MotorSheet, description="Data sheet")
    fitted: FittedMotor = Field(default_factory=FittedMotor, description="From the spin-up")
    locked: list[LockedReading] = listing(
        "Locked rotor",
        help="Hold the shaft mechanically, low voltage, one second, let it cool. Several angles.",
    )
    volts_read_at: Literal["terminals", "leads"] = choice(
        "Volts read at", {"terminals": "Motor terminals", "leads": "Far end of the leads"}, "terminals"
    )
    lead_resistance: Given = given(
        "resistance",
        "Ω",
        "Leads and meter",
        default="0.1 Ω",
        origin="assumed",
        low=0,
        help="Leads together with the burden of the ammeter, if the volts were read before it.",
    )
    locked_temperature: Given = given(
        "temperature", "°C", "Winding, when locked", default="20 °C", origin="assumed", low=-60, high=200
    )
    no_load_v: Given = given("voltage", "V", "No-load voltage", above=0)
    no_load_a: Given = given("current", "A", "No-load current", above=0)
    no_load_speed: Given = given("speed", "rpm", "No-load speed", above=0, help="At the motor shaft, before any gear.")
    second_v: Given = given(
        "voltage",
        "V",
        "Voltage, second test",
        above=0,
        optional=True,
        help="Half the first, say: two voltages tell constant friction from friction that grows with speed.",
    )
    second_a: Given = given("current", "A", "Current, second test", above=0, optional=True)
    no_load_temperature: Given = given(
        "temperature", "°C", "Winding, at no load", default="25 °C", origin="assumed", low=-60, high=200
    )
    breakaway_a: Given = given(
        "current",
        "A",
        "Current at which it just starts",
        above=0,
        optional=True,
        help="Raise the volts slowly until the shaft lets go; the worst of several angles.",
    )
    smooth_open: Given = given(
        "speed",
        "rpm",
        "Lowest smooth speed, measured",
        above=0,
        optional=True,
        help="At the motor's shaft, with its load, no loop closed: slower it jerks or stops. It corrects the current "
        "above.",
    )
    smooth_closed: Given = given(
        "speed",
        "rpm",
        "The same with the loop closed",
        above=0,
        optional=True,
        help="At the motor's shaft, with the gain that is given at Loop.",
    )
    weight: Given = given(
        "mass", "g", "Weight of the motor", above=0, optional=True, help="The motor alone, without its gear."
    )
    case_diameter: Given = given(
        "length", "mm", "Diameter of its case", above=0, optional=True, help="Of a flat one: the smaller side."
    )
    inductance_by: Literal["given", "time constant", "frame"] = choice(
        "Inductance from",
        {
            "given": "A meter or an estimate",
            "time constant": "Electrical time constant",
            "frame": "Resistance and weight, estimated",
        },
        "given",
        leads=True,
    )
    inductance: Given = given("inductance", "mH", "Inductance", above=0)
    electrical_time: Given = given(
        "time",
        "ms",
        "Electrical time constant",
        above=0,
        optional=True,
        help="Shaft held, volts switched on: time to 63 % of the final current.",
    )
    inertia_by: Literal["given", "time constant", "coast-down", "frame"] = choice(
        "Rotor inertia from",
        {
            "given": "Data sheet or estimate",
            "time constant": "Mechanical time constant",
            "coast-down": "Coasting to rest",
            "frame": "Weight and case, estimated",
        },
        "given",
        leads=True,
    )
    rotor_inertia: Given = given("inertia", "g·cm²", "Rotor inertia", above=0)
    mechanical_time: Given = given(
        "time", "ms", "Mechanical time constant", above=0, optional=True, help="Free shaft: time to 63 % of its speed."
    )
    coast_speed: Given = given("speed", "rpm", "Coasting from", above=0, optional=True)
    coast_time: Given = given("time", "s", "Coasts for", above=0, optional=True)
    heat_by: Literal["given", "frame"] = choice(
        "Heat figures from",
        {"given": "Their own fields", "frame": "The motor's weight, estimated"},
        "given",
        leads=True,
    )
    winding_copper: Given = given(
        "mass", "g", "Copper in the winding", above=0, help="Decides how long a stall is survived."
    )
    housing_mass: Given = given("mass", "g", "Iron and housing", default="150 g", origin="assumed", above=0)
    winding_to_housing: Given = given(
        "thermal resistance", "K/W", "Winding to housing", default="5 K/W", origin="assumed", above=0
    )
    housing_to_air: Given = given(
        "thermal resistance", "K/W", "Housing to air", default="12 K/W", origin="assumed", above=0
    )
    winding_hot: Given = given(
        "temperature", "°C", "Winding, at work", default="80 °C", origin="assumed", low=-60, high=250
    )
    winding_limit: Given = given(
        "temperature", "°C", "Winding limit", default="130 °C", origin="assumed", low=0, high=300
    )


class MotorPart(Item):
    """A motor of the shelf: what its sheet says, and what choosing it copies into a drive."""

    name: str = Field("", max_length=80, description="Name")
    sample: bool = Field(False, description="An invented sample, typical of its class")
    kind: Literal["toy", "gear motor", "appliance", "drill", "wiper", "e-wheel", "own"] = choice(
        "Class",
        {
            "toy": "Toy class",
            "gear motor": "Gear motor class",
            "appliance": "Appliance class",
            "drill": "Drill class",
            "wiper": "Wiper class",
            "e-wheel": "E-wheel class",
            "own": "The builder's own",
        },
        "own",
    )
    motor: MotorSpec = Field(default_factory=MotorSpec)
    price: Given = given("price", "€", "Price", default="0 €", low=0)
    note: str = Field("", max_length=300, description="Note")
