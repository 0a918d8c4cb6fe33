"""Supply: sources, the regulators behind them, and the fuse."""

from __future__ import annotations

from typing import Literal, Self

from pydantic import Field, model_validator

from .fuses import FUSE_CURVES, FUSE_HELP, FuseCurve
from .given import Given, Item, ListOwner, choice, given, listing

Chemistry = Literal["own", "lifepo4", "li-ion", "lead", "nimh", "alkaline", "9 v block"]


class Source(Item):
    """A battery, an adaptor or a USB port, at both ends of its range."""

    name: str = Field("", max_length=80, description="Name")
    kind: Literal["battery", "adaptor", "usb"] = choice(
        "Kind", {"battery": "Battery", "adaptor": "Adaptor", "usb": "USB port"}, "battery", leads=True
    )
    chemistry: Chemistry = choice(
        "Cells",
        {
            "own": "As given below",
            "lifepo4": "Lithium iron phosphate",
            "li-ion": "Lithium ion",
            "lead": "Lead-acid",
            "nimh": "Nickel-metal hydride",
            "alkaline": "Alkaline",
            "9 v block": "9 V block",
        },
        "own",
        help="Fills in what is left empty below, from class figures a cell.",
        leads=True,
    )
    cells: Given = given("number", "1", "Cells in series", low=1, high=60, whole=True, optional=True)
    full_v: Given = given("voltage", "V", "Full, at rest", above=0)
    nominal_v: Given = given("voltage", "V", "Nominal", above=0)
    flat_v: Given = given("voltage", "V", "Flat, at rest", above=0)
    resistance: Given = given("resistance", "Ω", "Internal resistance", low=0)
    capacity: Given = given("capacity", "Ah", "Capacity", above=0, optional=True)
    rated_hours: Given = given("time", "h", "Capacity holds for a discharge in", default="20 h", above=0)
    peukert: Given = given(
        "ratio",
        "1",
        "Peukert exponent",
        default="1.05",
        origin="assumed",
        low=1,
        high=1.6,
        help="1.05 for lithium, about 1.2 for lead-acid.",
    )
    limit: Given = given(
        "current", "A", "Gives at most", above=0, optional=True, help="An adaptor's rated current, a port's budget."
    )
    sinks: Literal["", "yes", "no"] = choice(
        "Takes current back",
        {"": "By its kind: a battery does, an adaptor does not", "yes": "Yes", "no": "No"},
        "",
    )
    fuse: Given = given("current", "A", "Fuse at the source", above=0)
    fuse_curve: FuseCurve = choice("Kind of fuse", FUSE_CURVES, "", help=FUSE_HELP)
    switch_dc: Given = given(
        "current", "A", "Switch, its DC rating", above=0, optional=True, help="Not the AC figure printed larger."
    )
    lamp_a: Given = given(
        "current",
        "mA",
        "Arming lamp draws",
        above=0,
        optional=True,
        help="A lamp behind the switch tells that the power is on: an LED with a resistor takes 2 to 10 mA.",
    )
    packs: Given = given(
        "number",
        "1",
        "Packs side by side",
        default="1",
        origin="chosen",
        low=1,
        high=20,
        whole=True,
        help="Alike, of one age and charged alike: their resistance is shared, their charge adds.",
    )
    spare: Given = given(
        "number", "1", "Spare packs to change to", default="0", origin="chosen", low=0, high=50, whole=True
    )
    charger: Literal["no", "yes"] = choice(
        "While it runs, a charger",
        {"no": "Is off, or the pack is taken out", "yes": "May stay on: its volts are those of charging"},
        "no",
    )
    charge_v: Given = given(
        "voltage",
        "V",
        "Charged at",
        above=0,
        optional=True,
        help="The charger's highest. Empty: from the class of cells.",
    )
    solar_w: Given = given(
        "power", "W", "Solar panel that charges it", above=0, optional=True, help="Its rated power, in full sun."
    )
    sun_for: Given = given(
        "time",
        "h",
        "Full sun on it, a day",
        default="2 h",
        origin="assumed",
        above=0,
        help="Winter one, summer five.",
    )
    used_for: Given = given("time", "h", "The build is in use, a day", above=0, optional=True)

    @property
    def takes_back(self) -> bool:
        """Whether current may flow back into it: only a battery's may, unless the builder says so."""
        return self.sinks == "yes" or (self.sinks == "" and self.kind == "battery")


class Consumer(Item):
    """Something small that hangs on a regulator: a lamp, a relay coil, a sensor, the controller itself."""

    name: str = Field("", max_length=80, description="What")
    current: Given = given("current", "mA", "Draws", low=0)


class Regulator(Item, ListOwner):
    """What makes a lower rail from a source: for the logic, or for servos."""

    name: str = Field("", max_length=80, description="Name")
    kind: Literal["linear", "switching", "step-up"] = choice(
        "Kind",
        {"linear": "Linear", "switching": "Switching (step-down)", "step-up": "Switching (step-up)"},
        "linear",
        leads=True,
    )
    source: str = Field("", max_length=40, description="Source")
    place: Literal["own", "board", "driver"] = choice(
        "Where it sits",
        {"own": "A part of its own", "board": "On the controller's board", "driver": "On the driver's board"},
        "own",
    )
    output_v: Given = given("voltage", "V", "Output", default="5 V", above=0, leads=True)
    dropout: Given = given(
        "voltage", "V", "Dropout", default="2 V", origin="assumed", low=0, help="Classical linear parts lose about 2 V."
    )
    input_min: Given = given(
        "voltage", "V", "Lowest input", above=0, optional=True, help="Of a step-up: below it it does not start."
    )
    load: Given = given("current", "A", "Logic current, all told", low=0)
    consumers: list[Consumer] = listing("What else hangs on it", help="Sensors, lamps, relay coils, radio.")
    limit: Given = given("current", "A", "Gives at most", above=0, optional=True)
    input_max: Given = given("voltage", "V", "Highest input", above=0, optional=True)
    efficiency: Given = given(
        "fraction",
        "%",
        "Efficiency",
        default="85 %",
        origin="assumed",
        above=0,
        high=1,
        help="Counts for a switching one only.",
    )
    bare_resistance: Given = given(
        "thermal resistance", "K/W", "Junction to air, bare", default="65 K/W", origin="assumed", above=0
    )
    sink_resistance: Given = given(
        "thermal resistance", "K/W", "Junction to air, with heat sink", above=0, optional=True
    )
    junction_limit: Given = given("temperature", "°C", "Junction limit", default="125 °C", low=26, high=250)


class SupplySpec(ListOwner):
    """What feeds the build."""

    def chain(self, regulator: str) -> list[Regulator]:
        """The regulators from the source to one of them, in the order in which the current passes them."""
        by_id = {r.id: r for r in self.regulators}
        found: list[Regulator] = []
        while (at := by_id.get(regulator)) is not None and at not in found:
            found.insert(0, at)
            regulator = at.source
        return found

    @model_validator(mode="after")
    def _regulators_end_at_a_source(self) -> Self:
        ids = {r.id for r in self.regulators}
        for r in self.regulators:
            if self.chain(r.id)[0].source in ids:
                raise ValueError(f"supply.regulators.{r.id}.source leads back to itself: none can feed itself")
        return self

    sources: list[Source] = listing("Sources", columns=False)
    regulators: list[Regulator] = listing("Regulators", columns=False)
    together: Literal["yes", "no"] = choice(
        "Drives start together",
        {"yes": "They may: count all starts at once", "no": "Never: the program starts them one by one"},
        "yes",
        leads=True,
    )
    motor_and_logic: Literal["shared", "split"] = choice(
        "Motor and logic", {"shared": "Fed by one source", "split": "Fed by separate sources"}, "shared", leads=True
    )
    lead_in: Literal["no", "yes", "blocked"] = choice(
        "Programming lead stays in",
        {
            "no": "No: unplugged in use",
            "yes": "Yes: USB and own supply at once",
            "blocked": "Yes, its supply wire cut or behind a diode",
        },
        "no",
    )
    clamp_v: Given = given(
        "voltage", "V", "Braking clamp opens at", above=0, optional=True, help="A brake resistor's switch, or a clamp."
    )
    brake_time: Given = given("time", "s", "Brakes within", default="0.5 s", origin="assumed", above=0)
