"""A transistor off a board, without a sheet: two readings make it a component with its doubts."""

from __future__ import annotations

from collections.abc import Mapping

from .algebra.quantities import QuantityError, notation, parse
from .model.given import Given
from .model.transistors import Mosfet
from .sums import SUMS, SumError, SumInput, work_out

SUM = "donor-transistor"
BORE = SumInput("supply_v", "voltage", "V", "the board it comes from had at most", "24", above=0)
ASKS = (*SUMS[SUM].asks, BORE)
"""The readings, and what the transistor is known to have borne."""
ASSUMED = {"v_gs": "12 V", "switching_charge": "40 nC", "gate_charge": "80 nC", "to_air": "62 K/W"}
"""What a tab package of its time has, on the cautious side: common practice, from memory."""
COOLER_V, ABOVE_V = 0.5, 2.0
"""A threshold falls by some 5 mV/K, so by half a volt when hot; the plateau lies about two volts above it (common
practice, no source)."""


def entry(readings: Mapping[str, str]) -> Mosfet:
    """A MOSFET from the readings of the sum ``donor-transistor`` and ``supply_v``, its board's highest supply.

    It has borne that, and no more is promised. SumError with a sentence where a reading is wrong."""
    asked = {k: v for k, v in readings.items() if k != BORE.key and v.strip()}
    for ask in SUMS[SUM].asks:
        if not ask.default and ask.key not in asked:
            raise SumError(f"Not given yet: “{ask.label}”.")
    found = work_out(SUMS[SUM], asked)
    ohms = found.results["on_resistance_ohm"].value
    threshold = found.given["threshold_v"]
    assert ohms is not None and isinstance(threshold, float)
    if threshold <= COOLER_V:
        raise SumError(f"A transistor that conducts at {threshold:g} V is not off when it grows hot.")
    try:
        bore = parse(readings.get("supply_v", ""), "voltage", "V").value
    except QuantityError as error:
        raise SumError(f"The supply of the board that it comes from: {error}") from error
    if bore <= 0:
        raise SumError("The supply of the board that it comes from must be above 0 V.")

    def volts(value: float) -> str:
        return notation(value, "voltage", "V")

    measured = {
        "on_resistance": notation(ohms, "resistance", "Ω"),
        "on_resistance_at": readings["gate_v"].strip(),
        "threshold_max": readings["threshold_v"].strip(),
    }
    guessed = ASSUMED | {
        "v_ds": volts(bore),
        "threshold": volts(threshold - COOLER_V),
        "plateau": volts(threshold + ABOVE_V),
    }
    made = Mosfet(id="new", name="Off a board", note="No sheet: two readings, the rest typical of its class")
    for origin, texts in (("measured", measured), ("assumed", guessed)):
        for name, text in texts.items():
            setattr(made, name, Given.model_validate({"text": text, "origin": origin}))
    return made
