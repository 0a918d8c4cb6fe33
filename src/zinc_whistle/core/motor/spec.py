"""Motor: readings taken on the motor and what is known of its build."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from ..spec import Given, Item, ListOwner, choice, given, listing


class LockedReading(Item):
    """One reading with the shaft held: its angle, volts across the motor and amperes through it."""

    angle: Given = given("angle", "°", "Shaft angle", low=0, high=6.3)
    voltage: Given = given("voltage", "V", "Voltage, locked", above=0)
    current: Given = given("current", "A", "Current, locked", above=0)


class MotorSpec(ListOwner):
    """One brushed motor."""

    name: str = Field("", max_length=80, description="What is it?")
    locked: list[LockedReading] = listing(
        "Locked rotor",
        help="Hold the shaft mechanically, low voltage, one second, let it cool. Several angles.",
    )
    volts_read_at: Literal["terminals", "leads"] = choice(
        "Volts read at", {"terminals": "Motor terminals", "leads": "Far end of the leads"}, "terminals"
    )
    lead_resistance: Given = given("resistance", "Ω", "Leads and meter", default="0.1 Ω", origin="assumed", low=0)
    locked_temperature: Given = given(
        "temperature", "°C", "Winding, when locked", default="20 °C", origin="assumed", low=-60, high=200
    )
    no_load_v: Given = given("voltage", "V", "No-load voltage", above=0)
    no_load_a: Given = given("current", "A", "No-load current", above=0)
    no_load_speed: Given = given("speed", "rpm", "No-load speed", above=0, help="At the motor shaft, before any gear.")
    no_load_temperature: Given = given(
        "temperature", "°C", "Winding, at no load", default="25 °C", origin="assumed", low=-60, high=200
    )
    inductance: Given = given("inductance", "mH", "Inductance", above=0)
    rotor_inertia: Given = given("inertia", "g·cm²", "Rotor inertia", above=0)
    winding_copper: Given = given(
        "mass", "g", "Copper in the winding", above=0, help="Decides how long a stall is survived."
    )
    winding_hot: Given = given(
        "temperature", "°C", "Winding, at work", default="80 °C", origin="assumed", low=-60, high=250
    )
    winding_limit: Given = given(
        "temperature", "°C", "Winding limit", default="130 °C", origin="assumed", low=0, high=300
    )
