"""What a brushed motor's weight and case let one expect of its inside, before anything of it is measured.

Shares and times are those of small iron-cored motors with magnets in the case, 15 g to 3 kg (common practice, no
source; from memory of their data sheets). Each is multiplied by a *scatter* of one, whose doubt is what motors of one
size differ by, so that every verdict that stands on it carries that doubt.
"""

from __future__ import annotations

from ..algebra.expressions import exp, log
from ..algebra.kinds import Henry, Inertia, KelvinPerWatt, Kilogram, Metre, Ohm, Ratio
from ..algebra.nodes import Constant
from ..algebra.rules import rule

SHARES = "weight and case of small iron-cored motors (common practice, no source)"
ROTOR_SHARE = Constant("37 %", 0.37, "ratio", "of the motor's weight is rotor")
ROTOR_RADIUS = Constant("0.31", 0.31, "ratio", "rotor's radius over the case's diameter")
COPPER_SHARE = Constant("12 %", 0.12, "ratio", "of the motor's weight is copper in the winding")
HOUSING_SHARE = Constant("65 %", 0.65, "ratio", "of the motor's weight is its case, magnets and laminations")
TIME_OF_160_G = Constant("0.5 ms", 0.5e-3, "time", "its electrical time constant")
OF_160_G = Constant("160 g", 0.160, "mass", "a motor of 36 mm by 50 mm")
AIR_OF_160_G = Constant("11 K/W", 11.0, "thermal resistance", "its case in still air, 12 W/(m²·K)")
TWO_THIRDS = Constant("2/3", 2 / 3, "ratio", "surface grows with weight to the power of two thirds, and so does L / R")
INNER_SHARE = Constant("0.4", 0.4, "ratio", "winding to case over case to air")


@rule("J", source=f"a solid rotor, m r² / 2: {SHARES}", title="Rotor inertia, estimated")
def rotor_inertia(m: Kilogram, d: Metre, k: Ratio) -> Inertia:
    return ROTOR_SHARE * m * (ROTOR_RADIUS * d) ** 2 / 2 * k


CLASS_TIME = f"L / R grows with the square of a motor's size, as its weight to the power of 2/3: {SHARES}"


@rule("L", source=CLASS_TIME, title="Inductance, estimated")
def inductance(R: Ohm, m: Kilogram, k: Ratio) -> Henry:
    return R * TIME_OF_160_G * exp(TWO_THIRDS * log(m / OF_160_G)) * k


@rule("m_w", source=SHARES, title="Copper in the winding, estimated")
def copper(m: Kilogram, k: Ratio) -> Kilogram:
    return COPPER_SHARE * m * k


@rule("m_h", source=SHARES, title="Iron and housing, estimated")
def housing(m: Kilogram, k: Ratio) -> Kilogram:
    return HOUSING_SHARE * m * k


@rule("R_ha", source=f"surface by weight to the power of 2/3: {SHARES}", title="Housing to air, estimated")
def to_air(m: Kilogram, k: Ratio) -> KelvinPerWatt:
    return AIR_OF_160_G * exp(TWO_THIRDS * log(OF_160_G / m)) * k


@rule("R_wh", source=f"0.4 of housing to air: {SHARES}", title="Winding to housing, estimated")
def to_housing(R_ha: KelvinPerWatt, k: Ratio) -> KelvinPerWatt:
    return INNER_SHARE * R_ha * k
