"""A solenoid, a pump or a lamp on direct current."""

from __future__ import annotations

from typing import Literal

from .given import Given, Spec, choice, given


class DcLoadSpec(Spec):
    """What the driver switches when it is no motor that we model."""

    kind: Literal["solenoid", "pump", "lamp"] = choice(
        "Kind", {"solenoid": "Solenoid", "pump": "Pump", "lamp": "Filament lamp"}, "solenoid"
    )
    rated_v: Given = given("voltage", "V", "Rated voltage", above=0)
    rated_a: Given = given("current", "A", "Rated current", above=0, help="At the rated voltage, running or held.")
    needs_v: Given = given(
        "voltage", "V", "Works down to", above=0, optional=True, help="Empty: 80 % of the rated voltage."
    )
    blocked_a: Given = given(
        "current",
        "A",
        "Blocked, it draws",
        above=0,
        optional=True,
        help="A pump's motor held by dirt or ice, at the rated voltage. Empty: what it starts with.",
    )
    inductance: Given = given("inductance", "mH", "Inductance", low=0, optional=True)
    pull_time: Given = given(
        "time",
        "s",
        "Full current for",
        default="0.1 s",
        origin="assumed",
        low=0,
        help="A solenoid pulls in with full current and is then held with less.",
    )
    hold_duty: Given = given("fraction", "%", "Held with a duty of", default="100 %", origin="chosen", above=0, high=1)
    on_for: Given = given("time", "s", "On for", default="10 s", above=0)
    off_for: Given = given("time", "s", "Then off for", default="0 s", low=0)
