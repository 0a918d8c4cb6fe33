"""Each input forced by hand before any program: the truth table with a meter, no motor joined."""

from __future__ import annotations

from dataclasses import replace

from ...algebra.nodes import Constant
from ...cases.operating import DriveContext
from ...cases.polarity import turned_round
from ...cases.truth import LogicRow, truth_table
from .places import Places
from .step import Step, meter_range, step

NOTHING = Constant("0 V", 0.0, "voltage")
NOTHING_V = 0.4
"""Beside nothing, on open outputs (common practice, no source)."""
REST_SHARE = 0.2
"""A line at rest lies below this share of the logic's volts (common practice, no source)."""
FORCED_SHARE = 0.08


def input_steps(at: DriveContext) -> list[Step]:
    """A driver's lines at rest, then each row of its truth table. Nothing for what a hand switches or a stage whose
    gates hang on pins."""
    part = at.part
    if part is None or at.drive.signals.told_by == "hand" or part.input_style == "by hand":
        return []
    if part.active_low.strip() and not turned_round(at.unit, part):
        # What such a line makes of a level is told as a stop at Driver: nothing is forced on it before.
        return []
    table = truth_table(part.input_style, at.drive.signals.decay)
    return [*_rest(at, table.names), *_rows(at, table.names, table.rows)]


def _rest(at: DriveContext, names: tuple[str, ...]) -> list[Step]:
    """The lines with the controller powered and no program: pins are inputs then."""
    logic = at.controller.logic_v.value
    if not at.drive.signals.by_program or not logic or turned_round(at.unit, at.part):
        return []
    places = Places(at)
    made = step(
        "rest",
        title="Driver's lines at rest",
        where=f"{', '.join(names)} to ground, one after the other; the highest counts",
        instrument="Meter",
        setting="DC volts, " + meter_range(logic, "voltage"),
        expected=NOTHING,
        unit="V",
        share=0.0,
        reason="pins are inputs until a program runs: pull-downs hold the lines low",
        extra=REST_SHARE * logic,
    )
    return [
        replace(
            made,
            low=None,
            stage="inputs",
            purpose=f"What a line does while the controller starts, the {places.turns} does.",
            do=f"Controller powered, its chip empty or held in reset, the {places.turns} unplugged.",
            means=f"A line that floats has no pull-down: the {places.turns} may jump at every start.",
            probes=(places.driver(names[0]), places.ground),
        )
    ]


def _rows(at: DriveContext, names: tuple[str, ...], rows: tuple[LogicRow, ...]) -> list[Step]:
    return [made for k, row in enumerate(rows, 1) if (made := _row(at, names, row, k)) is not None]


def _row(at: DriveContext, names: tuple[str, ...], row: LogicRow, number: int) -> Step | None:
    """One row, with PWM as high; rows that leave an output open or a level free read nothing sure."""
    levels = {n: "1" if v == "PWM" else v for n, v in zip(names, row.inputs, strict=True)}
    ends = [{"PWM": "1", "not PWM": "0"}.get(x, x) for x in (row.output_1, row.output_2)]
    if not set(levels.values()) <= {"0", "1"} or not set(ends) <= {"0", "1"}:
        return None
    places = Places(at)
    one, two = places.outputs
    driven = ends[0] != ends[1]
    red, black = (one, two) if ends != ["0", "1"] else (two, one)
    told = ", ".join(f"{n} {'high' if v == '1' else 'low'}" for n, v in levels.items())
    made = step(
        f"hand{number}",
        title=f"By hand: {told}",
        where=f"Red on {red.pin}, black on {black.pin}; the {places.turns} unplugged",
        instrument="Meter",
        setting="DC volts, highest range first",
        expected=at.volts.nominal if driven else NOTHING,
        unit="V",
        share=FORCED_SHARE if driven else 0.0,
        reason="the supply less what the switches lose without load" if driven else "both ends on one rail",
        extra=0.0 if driven else NOTHING_V,
    )
    low, high = at.volts.flat.value, at.volts.full.value
    if driven and low is not None and high is not None:
        made = replace(made, low=low * (1 - FORCED_SHARE), high=high)
    return replace(
        made,
        low=made.low if driven else None,
        stage="inputs",
        purpose=f"The motor {row.motor}." if at.of_motor is not None else "What the load gets: all, or nothing.",
        do="The controller unplugged: each line by a resistor of 1 kΩ to the logic's supply (high) or to ground (low).",
        stop="Anything warm, or the supply in its limit.",
        means="The other sign: outputs or lines are changed over. Nothing: an enable line is open, or no supply.",
        probes=(red, black),
    )
