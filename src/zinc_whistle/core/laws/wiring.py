"""The rules of conductors: wire, drop, and track on a board."""

from __future__ import annotations

from ..algebra.expressions import exp, log, sqrt
from ..algebra.kinds import (
    Ampere,
    AmperePerArea,
    Celsius,
    Fraction,
    Gauge,
    Kelvin,
    Metre,
    Ohm,
    OhmPerMetre,
    Second,
    SquareMetre,
    Volt,
)
from ..algebra.nodes import Constant
from ..algebra.rules import rule

BASE_DIAMETER = Constant("0.127 mm", 0.127e-3, "length", "ASTM B258: gauge 36")
COPPER_RESISTIVITY = Constant("1.7241e−8 Ω·m", 1.7241e-8, "resistivity", "IACS, annealed copper at 20 °C")
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
