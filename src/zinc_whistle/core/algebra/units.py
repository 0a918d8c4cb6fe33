"""Dimensions and units: what a number means, in SI inside and in people's units at the edge.

Conversion factors: NIST Special Publication 811 (2008), appendix B; exact where SI defines them.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from fractions import Fraction

Exponents = tuple[Fraction, ...]


@dataclass(frozen=True, slots=True)
class Dimension:
    """Exponents of kilogram, metre, second, ampere and kelvin. Angles and counts are plain numbers."""

    exponents: Exponents

    def __mul__(self, other: Dimension) -> Dimension:
        return Dimension(tuple(a + b for a, b in zip(self.exponents, other.exponents, strict=True)))

    def __truediv__(self, other: Dimension) -> Dimension:
        return Dimension(tuple(a - b for a, b in zip(self.exponents, other.exponents, strict=True)))

    def __pow__(self, power: Fraction | float) -> Dimension:
        exact = Fraction(power).limit_denominator(1000)
        return Dimension(tuple(a * exact for a in self.exponents))

    def __str__(self) -> str:
        names = ("kg", "m", "s", "A", "K")
        parts = [f"{n}^{e}" for n, e in zip(names, self.exponents, strict=True) if e]
        return "·".join(parts) or "a plain number"


def _dim(kg: int = 0, m: int = 0, s: int = 0, a: int = 0, k: int = 0) -> Dimension:
    return Dimension(tuple(Fraction(x) for x in (kg, m, s, a, k)))


NUMBER = _dim()
KILOGRAM, METRE, SECOND, AMPERE, KELVIN = _dim(kg=1), _dim(m=1), _dim(s=1), _dim(a=1), _dim(k=1)
NEWTON = KILOGRAM * METRE / SECOND**2
JOULE = NEWTON * METRE
WATT = JOULE / SECOND
VOLT = WATT / AMPERE
OHM = VOLT / AMPERE


@dataclass(frozen=True, slots=True)
class Unit:
    """A unit: ``si = number * factor + offset``. ``prefixes`` tells which SI prefixes people put before it."""

    symbol: str
    dimension: Dimension
    factor: float = 1.0
    offset: float = 0.0
    prefixes: str = ""


PREFIXES = {"p": 1e-12, "n": 1e-9, "µ": 1e-6, "m": 1e-3, "k": 1e3, "M": 1e6, "G": 1e9}
TURN = 2 * math.pi
GRAVITY = 9.80665
INCH = 0.0254
POUND = 0.45359237
OUNCE_FORCE = POUND / 16 * GRAVITY

_TABLE = (
    Unit("V", VOLT, prefixes="µmk"),
    Unit("A", AMPERE, prefixes="nµmk"),
    Unit("Ω", OHM, prefixes="mkM"),
    Unit("W", WATT, prefixes="µmk"),
    Unit("J", JOULE, prefixes="µmk"),
    Unit("Wh", JOULE, 3600.0, prefixes="m"),
    Unit("F", AMPERE * SECOND / VOLT, prefixes="pnµm"),
    Unit("H", VOLT * SECOND / AMPERE, prefixes="nµm"),
    Unit("C", AMPERE * SECOND, prefixes="pnµm"),
    Unit("Ah", AMPERE * SECOND, 3600.0, prefixes="m"),
    Unit("A²·s", AMPERE**2 * SECOND),
    Unit("s", SECOND, prefixes="nµm"),
    Unit("min", SECOND, 60.0),
    Unit("h", SECOND, 3600.0),
    Unit("Hz", NUMBER / SECOND, prefixes="mkM"),
    Unit("/s", NUMBER / SECOND),
    Unit("/min", NUMBER / SECOND, 1 / 60),
    Unit("m", METRE, prefixes="µmk"),
    Unit("cm", METRE, 0.01),
    Unit("in", METRE, INCH),
    Unit("mil", METRE, INCH / 1000),
    Unit("ft", METRE, 12 * INCH),
    Unit("mm²", METRE**2, 1e-6),
    Unit("mil²", METRE**2, (INCH / 1000) ** 2),
    Unit("m²", METRE**2),
    Unit("kg", KILOGRAM),
    Unit("g", KILOGRAM, 1e-3, prefixes="m"),
    Unit("lb", KILOGRAM, POUND),
    Unit("oz", KILOGRAM, POUND / 16),
    Unit("N", NEWTON, prefixes="mk"),
    Unit("kgf", NEWTON, GRAVITY),
    Unit("gf", NEWTON, GRAVITY / 1000),
    Unit("lbf", NEWTON, POUND * GRAVITY),
    Unit("ozf", NEWTON, POUND * GRAVITY / 16),
    Unit("N·m", JOULE, prefixes="µmk"),
    Unit("N·cm", JOULE, 0.01),
    Unit("kg·cm", JOULE, GRAVITY * 0.01),
    Unit("g·cm", JOULE, GRAVITY * 1e-5),
    Unit("oz·in", JOULE, OUNCE_FORCE * INCH),
    Unit("lb·in", JOULE, POUND * GRAVITY * INCH),
    Unit("lb·ft", JOULE, POUND * GRAVITY * 12 * INCH),
    Unit("rad/s", NUMBER / SECOND),
    Unit("rpm", NUMBER / SECOND, TURN / 60),
    Unit("rps", NUMBER / SECOND, TURN),
    Unit("°/s", NUMBER / SECOND, TURN / 360),
    Unit("rad/s²", NUMBER / SECOND**2),
    Unit("rad", NUMBER, prefixes="m"),
    Unit("°", NUMBER, TURN / 360),
    Unit("rev", NUMBER, TURN),
    Unit("kg·m²", KILOGRAM * METRE**2),
    Unit("g·cm²", KILOGRAM * METRE**2, 1e-7),
    Unit("kg·cm²", KILOGRAM * METRE**2, 1e-4),
    Unit("V·s/rad", VOLT * SECOND, prefixes="m"),
    Unit("N·m/A", VOLT * SECOND, prefixes="m"),
    Unit("N·m·s/rad", JOULE * SECOND, prefixes="nµm"),
    Unit("rad/s/V", NUMBER / SECOND / VOLT),
    Unit("rpm/V", NUMBER / SECOND / VOLT, TURN / 60),
    Unit("H/m", VOLT * SECOND / AMPERE / METRE, prefixes="nµ"),
    Unit("F/m", AMPERE * SECOND / VOLT / METRE, prefixes="pn"),
    Unit("A·√s/m²", AMPERE * SECOND ** Fraction(1, 2) / METRE**2),
    Unit("J/K", JOULE / KELVIN),
    Unit("km/h", METRE / SECOND, 1 / 3.6),
    Unit("m/min", METRE / SECOND, 1 / 60),
    Unit("ft/min", METRE / SECOND, 12 * INCH / 60),
    Unit("mm/s", METRE / SECOND, 1e-3),
    Unit("cm/s", METRE / SECOND, 1e-2),
    Unit("V/krpm", VOLT * SECOND, 60 / (TURN * 1000)),
    Unit("°C", KELVIN),
    Unit("°F", KELVIN, 5 / 9, -160 / 9),
    Unit("K", KELVIN),
    Unit("/K", NUMBER / KELVIN),
    Unit("%/K", NUMBER / KELVIN, 0.01),
    Unit("K/W", KELVIN / WATT),
    Unit("°C/W", KELVIN / WATT),
    Unit("J/(kg·K)", JOULE / KILOGRAM / KELVIN),
    Unit("J/(m³·K)", JOULE / METRE**3 / KELVIN),
    Unit("A/mm²", AMPERE / METRE**2, 1e6),
    Unit("V/A", OHM, prefixes="m"),
    Unit("Ω·m", OHM * METRE),
    Unit("Ω/m", OHM / METRE, prefixes="m"),
    Unit("Ω/km", OHM / METRE, 1e-3),
    Unit("kg/m³", KILOGRAM / METRE**3),
    Unit("oz/ft²", METRE, 35e-6),
    Unit("A/mil^1.45", AMPERE),
    Unit("%·s/rad", SECOND, 0.01),
    Unit("%/rpm", SECOND, 0.01 * 60 / TURN),
    Unit("1", NUMBER),
    Unit("", NUMBER),
    Unit("%", NUMBER, 0.01),
    Unit("ppm", NUMBER, 1e-6),
    Unit("steps", NUMBER),
    Unit("bit", NUMBER),
    Unit("counts", NUMBER),
    Unit("counts/s", NUMBER / SECOND),
    Unit("teeth", NUMBER),
    Unit("AWG", NUMBER),
    Unit("m/s", METRE / SECOND),
    Unit("m/s²", METRE / SECOND**2),
    Unit("€", NUMBER),
)

UNITS: dict[str, Unit] = {unit.symbol: unit for unit in _TABLE}
for _unit in _TABLE:
    for _letter in _unit.prefixes:
        UNITS.setdefault(
            _letter + _unit.symbol,
            Unit(_letter + _unit.symbol, _unit.dimension, _unit.factor * PREFIXES[_letter]),
        )

# What people type for a unit; the right side is the table's symbol.
SYNONYMS = {
    "ohm": "Ω",
    "ohms": "Ω",
    "R": "Ω",
    "kohm": "kΩ",
    "mohm": "mΩ",
    "Mohm": "MΩ",
    "ohm/km": "Ω/km",
    "ohm/m": "Ω/m",
    "v": "V",
    "volt": "V",
    "volts": "V",
    "V·DC": "V",
    "VDC": "V",
    "Vdc": "V",
    "A·DC": "A",
    "ADC": "A",
    "lbs": "lb",
    "fpm": "ft/min",
    "a": "A",
    "amp": "A",
    "amps": "A",
    "w": "W",
    "hz": "Hz",
    "khz": "kHz",
    "Khz": "kHz",
    "KHz": "kHz",
    "mhz": "MHz",
    "sec": "s",
    "secs": "s",
    "seconds": "s",
    "hours": "h",
    "minutes": "min",
    "degC": "°C",
    "deg": "°",
    "degrees": "°",
    "C": "°C",
    "degF": "°F",
    "F": "°F",
    "r/min": "rpm",
    "min⁻¹": "rpm",
    "RPM": "rpm",
    "turns": "rev",
    "turn": "rev",
    "rev/s": "rps",
    "Nm": "N·m",
    "mNm": "mN·m",
    "Ncm": "N·cm",
    "kgcm": "kg·cm",
    "kgfcm": "kg·cm",
    "kgf·cm": "kg·cm",
    "gcm": "g·cm",
    "gf·cm": "g·cm",
    "ozin": "oz·in",
    "ozf·in": "oz·in",
    "lbin": "lb·in",
    "lbf·in": "lb·in",
    "lb·f": "lb·ft",
    "lbft": "lb·ft",
    "gcm²": "g·cm²",
    "kgm²": "kg·m²",
    "kgcm²": "kg·cm²",
    "Nm/A": "N·m/A",
    "mNm/A": "mN·m/A",
    "V/(rad/s)": "V·s/rad",
    "Vs/rad": "V·s/rad",
    "inch": "in",
    '"': "in",
    "sqmm": "mm²",
    "degC/W": "K/W",
    "C/W": "K/W",
    "oz": "oz/ft²",
    "percent": "%",
    "lines": "teeth",
    "count": "counts",
    "awg": "AWG",
    "1/s": "/s",
    "1/min": "/min",
    "bits": "bit",
    "AH": "Ah",
    "mAH": "mAh",
}


@dataclass(frozen=True, slots=True)
class Kind:
    """What a field asks for: a dimension, the units it accepts and those it prints in, smallest first."""

    name: str
    units: tuple[str, ...]
    display: tuple[str, ...]
    zero_based: bool = True
    signed: bool = False
    """Whether less than nothing of it has a meaning."""

    @property
    def dimension(self) -> Dimension:
        return UNITS[self.units[0]].dimension

    @property
    def si(self) -> str:
        return self.units[0]


SIGNED = frozenset(
    (
        *("current", "torque", "force", "speed", "acceleration", "angle", "velocity"),
        *("temperature", "temperature difference", "temperature coefficient", "loop gain"),
        *("fraction", "number", "ratio", "count", "steps", "price", "rate"),
    )
)


def _kind(name: str, units: str, display: str, *, zero_based: bool = True) -> Kind:
    return Kind(name, tuple(units.split()), tuple(display.split()), zero_based, signed=name in SIGNED)


KINDS: dict[str, Kind] = {
    k.name: k
    for k in (
        _kind("voltage", "V", "µV mV V kV"),
        _kind("current", "A", "nA µA mA A kA"),
        _kind("resistance", "Ω", "mΩ Ω kΩ MΩ"),
        _kind("power", "W", "µW mW W kW"),
        _kind("energy", "J Wh", "µJ mJ J kJ"),
        _kind("capacitance", "F", "pF nF µF mF F"),
        _kind("inductance", "H", "nH µH mH H"),
        _kind("charge", "C Ah", "nC µC mC C"),
        _kind("capacity", "C Ah", "mAh Ah"),
        _kind("time", "s min h", "ns µs ms s min h"),
        _kind("frequency", "Hz", "mHz Hz kHz MHz"),
        _kind("rate", "/s /min counts/s", "/s"),
        _kind("length", "m cm in mil ft", "µm mm m"),
        _kind("area", "m² mm² mil²", "mm²"),
        _kind("mass", "kg g lb oz", "g kg"),
        _kind("force", "N kgf gf lbf ozf", "mN N kN"),
        _kind("torque", "N·m N·cm kg·cm g·cm oz·in lb·in lb·ft", "µN·m mN·m N·m"),
        _kind("speed", "rad/s rpm rps °/s", "rpm"),
        _kind("acceleration", "rad/s²", "rad/s²"),
        _kind("angle", "rad ° rev", "°"),
        _kind("inertia", "kg·m² g·cm² kg·cm²", "g·cm² kg·m²"),
        _kind("motor constant", "V·s/rad N·m/A V/krpm", "mV·s/rad"),
        _kind("viscous friction", "N·m·s/rad", "nN·m·s/rad µN·m·s/rad mN·m·s/rad"),
        _kind("speed constant", "rad/s/V rpm/V", "rpm/V"),
        _kind("inductance per length", "H/m", "nH/m µH/m"),
        _kind("capacitance per length", "F/m", "pF/m nF/m"),
        _kind("fuse factor", "A·√s/m²", "A·√s/m²"),
        _kind("joule integral", "A²·s", "A²·s"),
        _kind("heat capacity", "J/K", "J/K"),
        _kind("velocity", "m/s mm/s cm/s km/h m/min ft/min", "mm/s m/s"),
        _kind("acceleration of gravity", "m/s²", "m/s²"),
        _kind("temperature", "°C °F", "°C", zero_based=False),
        _kind("temperature difference", "K °C", "K"),
        _kind("thermal resistance", "K/W °C/W", "K/W"),
        _kind("temperature coefficient", "/K %/K", "%/K"),
        _kind("current density", "A/mm²", "A/mm²"),
        _kind("resistivity", "Ω·m", "Ω·m"),
        _kind("volumetric heat capacity", "J/(m³·K)", "J/(m³·K)"),
        _kind("specific heat", "J/(kg·K)", "J/(kg·K)"),
        _kind("sense gain", "V/A", "mV/A V/A"),
        _kind("resistance per length", "Ω/m Ω/km", "mΩ/m"),
        _kind("copper weight", "m oz/ft²", "oz/ft² µm"),
        _kind("loop gain", "%·s/rad %/rpm", "%/rpm"),
        _kind("fraction", "1 % ppm", "%"),
        _kind("number", "1", "1"),
        _kind("ratio", "1", "1"),
        _kind("count", "counts", "counts"),
        _kind("gauge", "AWG", "AWG"),
        _kind("teeth", "teeth", "teeth"),
        _kind("bits", "bit", "bit"),
        _kind("steps", "steps", "steps"),
        _kind("price", "€", "€"),
    )
}
# The SI unit of a loop gain is the plain second per radian; a percent stands in the unit's name only.
UNITS["s/rad"] = Unit("s/rad", SECOND)
