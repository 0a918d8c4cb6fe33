"""Before any source: what must not be joined, and what a winding and a diode read."""

from __future__ import annotations

from dataclasses import replace

from ...algebra.nodes import Constant
from ...cases.operating import Context, DriveContext
from .places import Places
from .step import Step, meter_range, step

NO_SHORT = Constant("500 Ω", 500.0, "resistance", "common practice, no source: a board's own electronics read more")
DIODE = Constant("0.45 V", 0.45, "voltage", "common practice, no source: a diode on a meter's diode range")
DIODE_SPREAD_V = 0.3
LEADS_OHM = 0.2
"""What a meter's own leads add (common practice, no source)."""
WINDING_SHARE = 0.15


def cold_steps(at: DriveContext) -> list[Step]:
    """Shorts, winding and diode of a drive that has a driver."""
    places = Places(at)
    found = [_no_short(places)]
    if (motor := at.of_motor) is not None:
        found.append(_winding(motor, places))
    if at.unit.diode_at != "none":
        found.append(_diode(at, places))
    return found


def _no_short(places: Places) -> Step:
    made = step(
        "short",
        title="No short from supply to ground",
        where=f"Driver, supply to ground; the source off{places.fuse_out}",
        instrument="Meter",
        setting="Ohms; wait until it stops rising: the capacitor charges from the meter",
        expected=NO_SHORT,
        unit="Ω",
        share=0.0,
        reason="electronics at rest draw little; a bridge of solder reads below 1 Ω",
    )
    return replace(
        made,
        high=None,
        stage="cold",
        purpose="A short is found here for nothing; with a battery it burns a track.",
        means="A bridge of solder, a capacitor or a transistor in the wrong way round, or one that is dead.",
        probes=(places.supply, places.ground),
    )


def _winding(motor: Context, places: Places) -> Step:
    expected = motor.motor.resistance_25
    return step(
        "winding",
        title="Winding, the shaft turned by hand",
        where="The motor's leads, taken off the driver",
        instrument="Meter",
        setting="Ohms, "
        + (meter_range(expected.value, "resistance") if expected.value else "lowest range")
        + "; turn the shaft a little at a time and take the lowest",
        expected=expected,
        unit="Ω",
        share=WINDING_SHARE,
        reason="brushes and leads add some tenths, and each segment reads a little differently",
        extra=LEADS_OHM,
        stage="cold",
        purpose="Every current of this build rests on it.",
        means="Far higher at some angle: a worn brush or a dirty commutator. Far lower: a shorted winding.",
        probes=places.motor,
    )


def _diode(at: DriveContext, places: Places) -> Step:
    across = at.unit.diode_at == "motor"
    ends = places.motor if across else places.outputs
    return step(
        "diode",
        title="Flyback diode, forward",
        where=f"Across the diode, red on its anode; the {places.turns} unplugged" + ("" if across else ", source off"),
        instrument="Meter",
        setting="Diode range; then with the leads changed over: nothing, or beyond the range",
        expected=DIODE,
        unit="V",
        share=0.0,
        reason="Schottky diodes read 0.15 to 0.4 V, others 0.5 to 0.75 V",
        extra=DIODE_SPREAD_V,
        stage="cold",
        purpose="The wrong way round it shorts the supply at the first pulse; missing, the switch dies.",
        means="0 V both ways: shorted. Nothing either way: open, or a dry joint.",
        probes=ends,
    )
