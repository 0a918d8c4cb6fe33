"""Colour bands of resistors, both ways: IEC 60062."""

from __future__ import annotations

import math

COLOURS = ("black", "brown", "red", "orange", "yellow", "green", "blue", "violet", "grey", "white")
_TOLERANCES = {
    0.01: "brown",
    0.02: "red",
    0.005: "green",
    0.0025: "blue",
    0.001: "violet",
    0.0005: "orange",
    0.0002: "yellow",
    0.0001: "grey",
    0.05: "gold",
    0.1: "silver",
}
_BY_COLOUR = {c: t for t, c in _TOLERANCES.items()}
_MULTIPLIERS = {-1: "gold", -2: "silver", -3: "pink"} | dict(enumerate(COLOURS))


def bands_of(ohms: float, tolerance: float, digits: int = 2) -> tuple[str, ...]:
    """The colours of a value: two or three digits, multiplier, tolerance. ValueError if bands cannot show it."""
    if not (math.isfinite(ohms) and ohms > 0):
        raise ValueError("a resistor needs a value above zero")
    power = math.floor(math.log10(ohms)) - digits + 1
    number = round(ohms / 10.0**power)
    if number == 10**digits:
        number, power = number // 10, power + 1
    if abs(number * 10.0**power / ohms - 1) > 1e-6:
        raise ValueError(f"{digits + 2} bands show only {digits} digits: take {digits + 3} bands or a preferred value")
    if power not in _MULTIPLIERS:
        raise ValueError("no multiplier band reaches that value")
    if tolerance not in _TOLERANCES:
        raise ValueError("no tolerance band stands for that: 10, 5, 2, 1, 0.5, 0.25 or 0.1 %")
    return (*(COLOURS[int(d)] for d in str(number)), _MULTIPLIERS[power], _TOLERANCES[tolerance])


def value_of(bands: list[str]) -> tuple[float, float]:
    """Ohms and tolerance of four or five bands. ValueError names the band that cannot stand where it does."""
    if len(bands) not in (4, 5):
        raise ValueError("give four or five colours, from the end that is nearer to a band")
    *digits, multiplier, tolerance = (b.strip().lower().replace("gray", "grey") for b in bands)
    for band in digits:
        if band not in COLOURS:
            raise ValueError(f"“{band}” is no digit")
    powers = {c: p for p, c in _MULTIPLIERS.items()}
    if multiplier not in powers:
        raise ValueError(f"“{multiplier}” is no multiplier")
    if tolerance not in _BY_COLOUR:
        raise ValueError(f"“{tolerance}” is no tolerance")
    number = int("".join(str(COLOURS.index(d)) for d in digits))
    return float(f"{number}e{powers[multiplier]}"), _BY_COLOUR[tolerance]
