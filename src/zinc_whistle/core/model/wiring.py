"""Wiring: runs of wire, and the pins that the builder has fixed."""

from __future__ import annotations

from pydantic import Field

from .given import Given, Item, ListOwner, Spec, given


class WireRun(Spec):
    """A pair of wires: gauge and length one way; a drop counts both conductors."""

    gauge: Given = given("gauge", "AWG", "Wire size", default="20", origin="assumed", low=0, high=40, whole=True)
    length: Given = given("length", "m", "Length, one way", default="0.5 m", origin="assumed", low=0, high=100)


class FixedPin(Item):
    """A signal that the builder has put on a pin."""

    signal: str = Field(max_length=60)
    pin: str = Field(max_length=40)


class DriveWiring(ListOwner):
    """The wires of one drive."""

    motor_run: WireRun = Field(default_factory=WireRun, description="Wire to the motor")
    signal_run: WireRun = Field(default_factory=WireRun, description="Signal and encoder wire")
    fixed_pins: list[FixedPin] = Field(default_factory=list, max_length=100)
    left_out: list[str] = Field(default_factory=list, max_length=200, description="Connections not made yet")
