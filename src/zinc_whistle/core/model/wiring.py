"""Wiring: runs of wire, and the pins that the builder has fixed."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from .given import Given, Item, ListOwner, Spec, choice, given

INSULATIONS = {
    "pvc": "PVC, up to 70 °C",
    "xlpe": "Cross-linked polyethylene, up to 90 °C",
    "silicone": "Silicone, up to 180 °C",
    "ptfe": "PTFE, up to 200 °C",
}


class WireRun(Spec):
    """A pair of wires: gauge and length one way; a drop counts both conductors."""

    gauge: Given = given(
        "gauge", "AWG", "Wire size", default="20", origin="assumed", low=0, high=40, whole=True, leads=True
    )
    length: Given = given(
        "length", "m", "Length, one way", default="0.5 m", origin="assumed", low=0, high=100, leads=True
    )
    insulation: Literal["pvc", "xlpe", "silicone", "ptfe"] = choice("Insulation", INSULATIONS, "pvc")
    together: Given = given(
        "number",
        "1",
        "Loaded wires in its bundle",
        default="2",
        origin="assumed",
        low=1,
        high=20,
        whole=True,
        help="Wires that lie together warm one another. A pair by itself is two.",
    )
    ends: Literal["fixed", "plug", "breadboard"] = choice(
        "Its ends are",
        {
            "fixed": "Soldered, crimped or under screws",
            "plug": "In a connector that can be pulled",
            "breadboard": "In the holes of a breadboard",
        },
        "fixed",
    )
    keyed: Literal["", "yes", "no"] = choice(
        "The connector goes in one way only",
        {
            "": "Not told",
            "yes": "Yes: it is keyed, or of another kind than the rest",
            "no": "No: it can be turned round",
        },
        "",
    )
    contact_a: Given = given(
        "current",
        "A",
        "A contact of it bears",
        above=0,
        optional=True,
        help="From the connector's sheet, with all its contacts loaded; less with thinner wire.",
    )


class FixedPin(Item):
    """A signal that the builder has put on a pin."""

    signal: str = Field(max_length=60)
    pin: str = Field(max_length=40)


class DriveWiring(ListOwner):
    """The wires of one drive."""

    laid: Literal["", "apart", "twisted", "shielded", "beside"] = choice(
        "Encoder's leads",
        {
            "": "Not told",
            "apart": "Lie apart from the motor's",
            "twisted": "Twisted, each channel with its ground",
            "shielded": "Shielded, the shield at ground on one end",
            "beside": "Lie beside the motor's",
        },
        "",
        help="Each edge of the pulses on the motor's leads couples into what lies beside them, and is counted.",
    )
    motor_run: WireRun = Field(default_factory=WireRun, description="Wire to the motor")
    signal_run: WireRun = Field(default_factory=WireRun, description="Signal and encoder wire")
    fixed_pins: list[FixedPin] = Field(default_factory=list, max_length=100)
    left_out: list[str] = Field(default_factory=list, max_length=200, description="Connections that it does without")
