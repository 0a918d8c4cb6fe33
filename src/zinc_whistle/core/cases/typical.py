"""What a driver's sheet must tell and often does not: which figures are missing, and what a typical one of its class
has.

The figures are common practice, from memory, on the cautious side: a part that only just holds with them wants its own.
"""

from __future__ import annotations

from collections.abc import Mapping

from ..algebra.quantities import notation
from ..model.driver import DriverPart

FIGURES = ("thermal_resistance", "peak_time", "pwm_limit", "switching_time")
"""Figures without which heat, a peak or pulses cannot be judged, in the order in which they are asked for."""
TYPICAL: Mapping[str, tuple[str, str, str, str]] = {
    "pin": ("200 K/W", "10 ms", "20 kHz", "100 ns"),
    "bjt switch": ("150 K/W", "10 ms", "5 kHz", "1 µs"),
    "mosfet switch": ("50 K/W", "100 ms", "20 kHz", "400 ns"),
    "relay pair": ("50 K/W", "100 ms", "10 kHz", "500 ns"),
    "bipolar bridge": ("40 K/W", "10 ms", "5 kHz", "1.5 µs"),
    "mosfet bridge": ("45 K/W", "20 ms", "20 kHz", "400 ns"),
    "half-bridge pair": ("30 K/W", "50 ms", "20 kHz", "1 µs"),
    "stacked board": ("40 K/W", "20 ms", "20 kHz", "500 ns"),
    "discrete bridge": ("20 K/W", "50 ms", "20 kHz", "300 ns"),
}
CONTACT_TIME = "100 ms"
LOST_V, BIPOLAR_V = 0.6, "2.5 V"
"""Volts that a MOSFET driver of its class loses at its continuous current, and a bipolar one at any."""
BIPOLAR = ("bipolar bridge", "bjt switch")


def lossless(part: DriverPart) -> bool:
    """Whether neither a resistance nor a drop is given, so that no heat would come of any current."""
    return part.kind not in ("pin", "contacts") and not part.on_resistance.value and not part.drop_v.value


def missing(part: DriverPart) -> list[str]:
    """Fields that nobody has given and that a limit rests on; a time of nothing by default is none."""
    if part.kind == "contacts":
        return ["peak_time"] if part.peak_time.value is None else []
    found = ["on_resistance"] if lossless(part) else []
    for name in FIGURES:
        held = getattr(part, name)
        if held.value is None or (held.origin == "default" and not held.value):
            found.append(name)
    return found


def estimate(part: DriverPart, name: str) -> tuple[str, str] | None:
    """The field and the text that a typical one of its class has there; None where the class tells nothing."""
    if part.kind == "contacts":
        return (name, CONTACT_TIME) if name == "peak_time" else None
    if name in ("on_resistance", "drop_v"):
        if part.kind in BIPOLAR:
            return "drop_v", BIPOLAR_V
        amps = part.continuous_a.value
        return ("on_resistance", notation(float(f"{LOST_V / amps:.2g}"), "resistance", "Ω")) if amps else None
    return (name, TYPICAL[part.kind][FIGURES.index(name)]) if name in FIGURES else None
