"""The rules of conductors: wire, drop, and track on a board."""

from __future__ import annotations

from ..algebra.expressions import exp, log, sqrt
from ..algebra.kinds import (
    Ampere,
    AmperePerArea,
    Celsius,
    Farad,
    Fraction,
    Gauge,
    Hertz,
    Kelvin,
    Metre,
    Number,
    Ohm,
    OhmPerMetre,
    Second,
    SquareMetre,
    Volt,
    Watt,
)
from ..algebra.nodes import Constant
from ..algebra.rules import rule

ONE_MM = Constant("1 mm", 1e-3, "length")
MELTS = Constant("80 A", 80.0, "current", "W. H. Preece 1888: copper, 80 A at a diameter of 1 mm (from memory)")
TABLE_RISE = Constant("40 K", 40.0, "temperature difference", "70 °C of the wire less 30 °C of the table's air")
PIN_FARAD = Constant("10 pF", 10e-12, "capacitance", "common practice, no source: one pin on the bus")
LEAD_FARAD = Constant("100 pF/m", 100e-12, "capacitance per length", "common practice, no source: leads side by side")
BUS_RISES = Constant("1 µs", 1e-6, "time", "I²C-bus specification (UM10204): rise at 100 kHz, at most")
BREADBOARD = Constant("1 A", 1.0, "current", "common practice, no source: one contact of a breadboard")
BUS_LOW = Constant("0.4 V", 0.4, "voltage", "I²C-bus specification: an output pulls at least so low")
BUS_SINKS = Constant("3 mA", 3e-3, "current", "I²C-bus specification: an output sinks at least that")
BUS_RISE = Constant("0.8473", 0.8473, "number", "I²C-bus specification: ln(0.7/0.3), from 30 % to 70 % of the supply")
BASE_DIAMETER = Constant("0.127 mm", 0.127e-3, "length", "ASTM B258: gauge 36")
COPPER_RESISTIVITY = Constant("1.7241e−8 Ω·m", 1.7241e-8, "resistivity", "IACS, annealed copper at 20 °C")
TWO_PI = Constant("2π", 6.283185307179586, "number")
PI_QUARTER = Constant("π/4", 0.7853981633974483, "number")
ONE_MIL2 = Constant("1 mil²", 0.0254e-3**2, "area")
ONE_MM2 = Constant("1 mm²", 1e-6, "area")
FREE_WIRE = Constant(
    "18.7 A",
    18.7,
    "current",
    "fit to DIN VDE 0298-4, single cores in free air at 30 °C, 0.75 to 10 mm² within 5 % (from memory)",
)
HOT_COPPER = Constant("2.063e−8 Ω·m", 2.063e-8, "resistivity", "IACS at 20 °C, at 70 °C by 0.393 % a kelvin")
COPPER_HEAT = Constant(
    "3.45 MJ/(m³·K)", 3.45e6, "volumetric heat capacity", "copper: 8,960 kg/m³ × 385 J/(kg·K) (from memory)"
)
PVC_LIMIT = Constant("70 °C", 70.0, "temperature", "IEC 60364-5-52: PVC, for good (from memory)")
TABLE_AIR = Constant("30 °C", 30.0, "temperature", "IEC 60364-5-52: the air of its tables (from memory)")
ONE_AMPERE = Constant("1 A", 1.0, "current")
ONE_KELVIN = Constant("1 K", 1.0, "temperature difference")
TRACK = {
    "outer": Constant("0.048 A", 0.048, "current", "IPC-2221, outer layer"),
    "inner": Constant("0.024 A", 0.024, "current", "IPC-2221, inner layer"),
}
GAUGE_SOURCE = "ASTM B258, American wire gauge"
IPC = "IPC-2221, generic standard on printed board design: I = k ΔT^0.44 A^0.725"


@rule("d", source=GAUGE_SOURCE, title="Wire diameter")
def wire_diameter(n: Gauge) -> Metre:
    return BASE_DIAMETER * 92 ** ((36 - n) / 39)  # type: ignore[no-any-return]


@rule("A", source="area of a circle", title="Copper area")
def wire_area(d: Metre) -> SquareMetre:
    return PI_QUARTER * d**2


@rule("R'", source="IACS, 1.7241e−8 Ω·m at 20 °C", title="Resistance per length")
def resistance_per_length(A: SquareMetre) -> OhmPerMetre:
    return COPPER_RESISTIVITY / A


@rule(
    "I_z",
    source="DIN VDE 0298-4, single cores in free air; warmer air by IEC 60364-5-52",
    title="Wire carries for good",
)
def wire_carries(S: SquareMetre, T_a: Celsius) -> Ampere:
    return (  # type: ignore[no-any-return]
        FREE_WIRE * (S / ONE_MM2) ** 0.6 * sqrt((PVC_LIMIT - T_a) / (PVC_LIMIT - TABLE_AIR))
    )


@rule(
    "τ",
    source="heat capacity of its copper × the rise at that current over the heat; the insulation's left out",
    title="Thermal time constant of the wire",
)
def wire_time(S: SquareMetre) -> Second:
    return (  # type: ignore[no-any-return]
        COPPER_HEAT * S**2 * (PVC_LIMIT - TABLE_AIR) / (FREE_WIRE**2 * (S / ONE_MM2) ** 1.2 * HOT_COPPER)
    )


@rule("R_w", source="both conductors carry the current", title="Resistance of the pair")
def pair_resistance(r: OhmPerMetre, length: Metre) -> Ohm:
    return 2 * r * length


@rule("V_w", source="Ohm's law, both conductors", title="Drop in the wire")
def pair_drop(R_w: Ohm, I: Ampere) -> Volt:
    return R_w * I


@rule("V_w / V", source="drop over supply", title="Drop, of the supply")
def drop_share(V_w: Volt, V: Volt) -> Fraction:
    return V_w / V


MOST_DENSITY = Constant("6 A/mm²", 6e6, "current density", "common practice, no source: short open wiring")


@rule("j", source="current over copper area", title="Current density")
def current_density(I: Ampere, A: SquareMetre) -> AmperePerArea:
    return I / A


@rule("A", source=IPC, title="Copper area of the track")
def track_area(I: Ampere, k: Ampere, dT: Kelvin) -> SquareMetre:
    return ONE_MIL2 * exp(log(I / (k * (dT / ONE_KELVIN) ** 0.44)) / 0.725)


@rule("w", source="area over thickness", title="Track width")
def track_width(A: SquareMetre, t: Metre) -> Metre:
    return A / t


@rule("A", source="width × thickness", title="Track's cross-section")
def track_section(w: Metre, t: Metre) -> SquareMetre:
    return w * t


@rule("ΔT", source="IPC-2221, turned over: I = k ΔT^0.44 A^0.725 (from memory)", title="Track warms by")
def track_warms(I: Ampere, k: Ampere, A: SquareMetre) -> Kelvin:
    return ONE_KELVIN * exp(log(I / (k * exp(0.725 * log(A / ONE_MIL2)))) / 0.44)


@rule("I_m", source="W. H. Preece 1888: heat made against heat given off by a bare wire", title="Wire melts")
def melting_current(d: Metre) -> Ampere:
    return MELTS * (d / ONE_MM) ** 1.5  # type: ignore[no-any-return]


@rule(
    "ΔT",
    source="DIN VDE 0298-4, single cores in free air; a rise goes with the square of the current",
    title="Wire warms by",
)
def wire_warms(I: Ampere, S: SquareMetre, k: Fraction) -> Kelvin:
    return TABLE_RISE * (I / (k * FREE_WIRE * (S / ONE_MM2) ** 0.6)) ** 2  # type: ignore[no-any-return]


@rule(
    "I_z",
    source="DIN VDE 0298-4, single cores in free air; other air and other insulation by the square root of the rise",
    title="It may carry for good",
)
def may_carry(S: SquareMetre, k: Fraction, T_i: Celsius, T_a: Celsius) -> Ampere:
    return k * FREE_WIRE * (S / ONE_MM2) ** 0.6 * sqrt((T_i - T_a) / TABLE_RISE)  # type: ignore[no-any-return]


@rule(
    "C_b",
    source="common practice, no source: 10 pF for each device's pin, 100 pF for each metre of lead",
    title="Capacitance of the bus",
)
def bus_capacitance(n: Number, length: Metre) -> Farad:
    return n * PIN_FARAD + length * LEAD_FARAD


@rule("R_max", source="I²C-bus specification (UM10204), 7.1", title="Largest pull-up")
def largest_pull_up(t_r: Second, C_b: Farad) -> Ohm:
    return t_r / (BUS_RISE * C_b)


@rule("R_min", source="I²C-bus specification (UM10204), 7.1", title="Smallest pull-up")
def smallest_pull_up(V: Volt) -> Ohm:
    return (V - BUS_LOW) / BUS_SINKS


@rule(
    "R",
    source="Ohm's law: what the fault has above the zener, at the current that it bears",
    title="Resistor, at least",
)
def clamp_resistor(V_f: Volt, V_z: Volt, P: Watt) -> Ohm:
    return (V_f - V_z) * V_z / P


@rule("R", source="corner of resistor and capacitor", title="Resistor, at most")
def corner_resistor(f: Hertz, C: Farad) -> Ohm:
    return 1 / (TWO_PI * f * C)


@rule("P_z", source="what the resistor lets pass, at the zener's volts", title="Heat of the zener")
def clamp_heat(V_f: Volt, V_z: Volt, R: Ohm) -> Watt:
    return (V_f - V_z) / R * V_z


@rule("P_R", source="Ohm's law", title="Heat of the resistor")
def clamp_resistor_heat(V_f: Volt, V_z: Volt, R: Ohm) -> Watt:
    return (V_f - V_z) ** 2 / R
