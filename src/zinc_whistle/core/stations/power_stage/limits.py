"""Every stress of a discrete stage held against its limit: volts, gates, heat, diode, relay, protection, copper."""

from __future__ import annotations

from collections.abc import Iterator

from ...algebra.limits import Check
from ...cases.operating import DriveContext
from ...cases.stage_parts import fits
from ...cases.stage_result import StageResult
from ...model.stage import BRIDGES, switch_kind
from ...model.transistors import Mosfet
from .gate_limits import gates
from .path_limits import capacitor, copper, diode, protection, relay, sense
from .stage_checks import StageChecks
from .voltage_limits import voltage


def checks(at: DriveContext, result: StageResult) -> list[Check]:
    """All checks of the stage that are not the same for any driver."""
    made = StageChecks(at, result)
    return [found for some in PARTS for found in some(made)]


def choices(c: StageChecks) -> Iterator[Check]:
    stage = c.stage
    wanted = {"mosfet": "a MOSFET", "bjt": "a bipolar transistor", "module": "a half-bridge module"}[
        switch_kind(stage.circuit)
    ]
    chosen = None if stage.switch is None else fits(stage)
    yield c.so(
        "switch",
        "The switch fits the circuit",
        chosen,
        f"This circuit needs {wanted}: choose one.",
        "switch",
        unknown="Not known yet: choose a switch.",
    )
    if stage.circuit == "p/n bridge":
        p = None if stage.upper is None else stage.upper.channel == "P"
        yield c.so(
            "upper",
            "The upper switch is a P channel",
            p,
            "Choose a P channel for the upper places.",
            "upper",
            unknown="Not known yet: choose the upper switch.",
        )
    if isinstance(c.switch, Mosfet):
        lower = c.switch.channel == "N" or stage.circuit == "high side"
        yield c.so(
            "channel",
            "The switch is an N channel",
            lower,
            "A P channel belongs above the motor: choose an N channel.",
            "switch",
        )
    if stage.circuit not in BRIDGES and c.at.drive.signals.decay == "locked anti-phase":
        yield c.so(
            "decay",
            "The circuit can do this drive mode",
            False,
            "Locked anti-phase needs a bridge: take sign-magnitude at Signals.",
            "circuit",
        )


def heat(c: StageChecks) -> Iterator[Check]:
    """Junctions are the driver's check (current against what the heat allows); here are packages and the sink."""
    stage, result = c.stage, c.result
    sink = stage.heat_sink
    if sink is not None:
        yield c.up(
            "sink_room",
            title="Room on the heat sink",
            stress=result.count,
            limit=sink.places.leaf,
            todo="Take a longer heat sink, or one for each side.",
            field="heat_sink",
            destructive=False,
            over="warn",
        )


PARTS = (choices, voltage, gates, heat, diode, relay, protection, sense, copper, capacitor)
"""Every subject's limits, in the order in which they are told where none is nearer than another."""
