"""Tables that the trade prints, entry by entry."""

from __future__ import annotations

import math

import pytest

from zinc_whistle.core.algebra.bands import bands_of, value_of
from zinc_whistle.core.algebra.evaluators import plain
from zinc_whistle.core.algebra.preferred import at_least, series
from zinc_whistle.core.algebra.quantities import parse
from zinc_whistle.core.laws import wiring as wire_rules

# ASTM B258 diameters in mm and copper's ohms a kilometre at 20 °C (IACS), as wire tables print them; from memory.
WIRES = [
    (10, 2.588, 3.277),
    (12, 2.053, 5.211),
    (14, 1.628, 8.286),
    (16, 1.291, 13.17),
    (18, 1.024, 20.95),
    (20, 0.812, 33.31),
    (22, 0.644, 52.96),
    (24, 0.511, 84.22),
    (26, 0.405, 133.9),
    (28, 0.321, 212.9),
    (30, 0.255, 338.6),
]


@pytest.mark.parametrize(("gauge", "diameter_mm", "ohm_per_km"), WIRES)
def test_wire_gauges(gauge: int, diameter_mm: float, ohm_per_km: float) -> None:
    diameter = plain(wire_rules.wire_diameter, float(gauge))
    assert diameter * 1e3 == pytest.approx(diameter_mm, abs=6e-4)
    per_length = plain(wire_rules.resistance_per_length, plain(wire_rules.wire_area, diameter))
    assert per_length * 1e3 == pytest.approx(ohm_per_km, rel=4e-3)


def test_three_gauges_halve_the_copper_nearly_and_six_the_diameter() -> None:
    """ASTM B258: the ratio of steps is the 39th root of 92; six steps 2.005, three steps of area 2.01."""
    for gauge in range(34):
        first, sixth = (plain(wire_rules.wire_diameter, float(g)) for g in (gauge, gauge + 6))
        assert first / sixth == pytest.approx(92 ** (6 / 39))
        areas = [plain(wire_rules.wire_area, plain(wire_rules.wire_diameter, float(g))) for g in (gauge, gauge + 3)]
        assert areas[0] / areas[1] == pytest.approx(2.005, abs=2e-3)


# IEC 60063, as printed there; from memory.
E12 = [1.0, 1.2, 1.5, 1.8, 2.2, 2.7, 3.3, 3.9, 4.7, 5.6, 6.8, 8.2]
E24 = [
    1.0,
    1.1,
    1.2,
    1.3,
    1.5,
    1.6,
    1.8,
    2.0,
    2.2,
    2.4,
    2.7,
    3.0,
    3.3,
    3.6,
    3.9,
    4.3,
    4.7,
    5.1,
    5.6,
    6.2,
    6.8,
    7.5,
    8.2,
    9.1,
]
E96_FIRST = [1.00, 1.02, 1.05, 1.07, 1.10, 1.13, 1.15, 1.18, 1.21, 1.24, 1.27, 1.30, 1.33, 1.37, 1.40, 1.43, 1.47, 1.50]


def test_preferred_values() -> None:
    assert list(series("E12")) == E12
    assert list(series("E24")) == E24
    assert list(series("E6")) == E12[::2]
    assert [round(v, 2) for v in series("E96")][: len(E96_FIRST)] == E96_FIRST
    assert (len(series("E48")), len(series("E96"))) == (48, 96)


@pytest.mark.parametrize(
    ("value", "name", "wanted"),
    [
        (1.0, "E6", 1.0),
        (1.01, "E6", 1.5),
        (463e-9, "E6", 470e-9),
        (6.9e3, "E12", 8.2e3),
        (8.3, "E12", 10.0),
        (4.71, "E24", 5.1),
        (101.0, "E96", 102.0),
    ],
)
def test_the_next_preferred_value(value: float, name: str, wanted: float) -> None:
    assert at_least(value, name) == pytest.approx(wanted)


# IEC 60062: digits black to white, tolerances brown 1 %, red 2 %, gold 5 %, silver 10 %; from memory.
COLOURS = ["black", "brown", "red", "orange", "yellow", "green", "blue", "violet", "grey", "white"]


@pytest.mark.parametrize("value", [v * 10**d for v in (10, 12, 22, 33, 47, 56, 68, 82, 91) for d in range(5)])
def test_four_bands_both_ways(value: float) -> None:
    digits = f"{value:.0f}"
    wanted = [COLOURS[int(digits[0])], COLOURS[int(digits[1])], COLOURS[len(digits) - 2], "gold"]
    assert [b.lower() for b in bands_of(float(value), 0.05, 2)] == wanted
    ohms, tolerance = value_of(wanted)
    assert (ohms, tolerance) == (pytest.approx(value), pytest.approx(0.05))


@pytest.mark.parametrize(
    ("ohms", "tolerance", "bands"),
    [
        (4990.0, 0.01, ["yellow", "white", "white", "brown", "brown"]),
        (100.0, 0.02, ["brown", "black", "black", "black", "red"]),
        (15.0e3, 0.01, ["brown", "green", "black", "red", "brown"]),
    ],
)
def test_five_bands_both_ways(ohms: float, tolerance: float, bands: list[str]) -> None:
    assert [b.lower() for b in bands_of(ohms, tolerance, 3)] == bands
    assert value_of(bands) == (pytest.approx(ohms), pytest.approx(tolerance))


# IPC-2221 charts, outer layers, 1 oz (from memory): width in mil for amperes and rise; fitted form I = k ΔT^0.44
# A^0.725.
@pytest.mark.parametrize(("amps", "rise"), [(1.0, 10.0), (2.0, 20.0), (5.0, 10.0), (10.0, 10.0), (10.0, 30.0)])
@pytest.mark.parametrize("layer", ["outer", "inner"])
def test_tracks_both_ways(amps: float, rise: float, layer: str) -> None:
    constant = {"outer": 0.048, "inner": 0.024}[layer]
    area = plain(wire_rules.track_area, amps, wire_rules.TRACK[layer], rise)
    mil2 = area / (25.4e-6) ** 2
    assert constant * rise**0.44 * mil2**0.725 == pytest.approx(amps, rel=1e-9)
    assert plain(wire_rules.track_warms, amps, wire_rules.TRACK[layer], area) == pytest.approx(rise, rel=1e-9)


# NIST SP 811, appendix B (from memory).
@pytest.mark.parametrize(
    ("text", "kind", "si"),
    [
        ("1 lb·ft", "torque", 1.355818),
        ("1 oz·in", "torque", 7.061552e-3),
        ("1 lb·in", "torque", 0.1129848),
        ("1 kg·cm", "torque", 9.80665e-2),
        ("1 in", "length", 0.0254),
        ("1 ft", "length", 0.3048),
        ("1 mil", "length", 2.54e-5),
        ("1 lb", "mass", 0.45359237),
        ("1 rpm", "speed", math.pi / 30),
        ("68 °F", "temperature", 20.0),
        ("-40 °F", "temperature", -40.0),
        ("1 Wh", "energy", 3600.0),
        ("1 Ah", "charge", 3600.0),
        ("36 km/h", "velocity", 10.0),
        ("1 g·cm²", "inertia", 1e-7),
        ("180 °", "angle", math.pi),
    ],
)
def test_conversions(text: str, kind: str, si: float) -> None:
    assert parse(text, kind).value == pytest.approx(si, rel=1e-6)
