"""Transistors, half bridges of them and what drives their gates, as their data sheets tell them."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from .component import Priced
from .given import Given, choice, given


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
    legs: str = Field("", max_length=120, description="Its legs in order: VCC, IN 1, GND, LO; – for a free one")
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
