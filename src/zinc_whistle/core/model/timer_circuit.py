"""A timer circuit that makes the pulses: a potentiometer sets the share of each period, no program runs."""

from __future__ import annotations

from .given import Given, Spec, given


class TimerCircuit(Spec):
    """The classic timer with a potentiometer between two steering diodes: one charges its capacitor through one part of
    the track, the other discharges it through the rest."""

    pot: Given = given("resistance", "kΩ", "Potentiometer, whole", default="100 kΩ", origin="chosen", above=0)
    pot_tolerance: Given = given(
        "fraction",
        "%",
        "Its tolerance, ±",
        default="20 %",
        origin="assumed",
        low=0,
        high=0.5,
        help="Potentiometers are made to 10 or 20 %: measure yours, end to end.",
    )
    end_resistor: Given = given(
        "resistance",
        "kΩ",
        "Resistor at each of its ends",
        default="1 kΩ",
        origin="chosen",
        above=0,
        help="Keeps the diodes' current in bounds, and the duty away from nothing and from full.",
    )
    capacitor: Given = given("capacitance", "nF", "Timing capacitor", default="470 pF", origin="chosen", above=0)
    capacitor_tolerance: Given = given(
        "fraction", "%", "Its tolerance, ±", default="10 %", origin="assumed", low=0, high=0.8
    )
    diode_v: Given = given("voltage", "V", "Drop of a steering diode", default="0.6 V", origin="assumed", low=0, high=2)
    regulated_v: Given = given(
        "voltage",
        "V",
        "Its own regulator makes",
        above=0,
        optional=True,
        help="Empty: it hangs on the motor's supply as it is.",
    )
    dropout: Given = given(
        "voltage", "V", "The regulator's dropout", default="2 V", origin="assumed", low=0, help="Of its own regulator."
    )
    v_min: Given = given("voltage", "V", "Timer, lowest supply", default="4.5 V", origin="assumed", above=0)
    v_max: Given = given("voltage", "V", "Timer, highest supply", default="16 V", origin="assumed", above=0)
    high_drop: Given = given(
        "voltage",
        "V",
        "Its high output lies below its supply by",
        default="1.7 V",
        origin="assumed",
        low=0,
        help="About 1.7 V for a bipolar timer, next to nothing for a CMOS one that is lightly loaded.",
    )
    current: Given = given("current", "mA", "Its output gives at most", default="100 mA", origin="assumed", above=0)
    price: Given = given("price", "€", "Its parts, together", default="2 €", origin="assumed", low=0)
    own_current: Given = given("current", "mA", "Draws itself", default="10 mA", origin="assumed", low=0)
