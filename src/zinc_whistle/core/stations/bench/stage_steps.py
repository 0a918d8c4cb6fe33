"""A stage of one's own before its motor: gate supply, gates, dead time, bootstrap; then a lamp in the motor's place."""

from __future__ import annotations

from dataclasses import replace

from ...algebra.nodes import Constant
from ...cases.operating import DriveContext
from ...laws import bench as rules
from ...model.stage import BRIDGES
from .places import Places
from .scope import scope_setting
from .step import Step, dc_volts, step
from .telling import ordered

GATE_SHARE = 0.08
BOOT_DIODE = Constant("0.7 V", 0.7, "voltage", "common practice, no source: a bootstrap diode's drop")
DEAD_SHARE = 0.3
LAMP_SHARE = 0.1
FROM_V = 3.0
"""Below it no usual lamp lights (common practice, no source)."""


def stage_steps(at: DriveContext) -> list[Step]:
    """Nothing for a part of the shelf, and for what has no gate driver only what it has."""
    stage, places = at.unit.stage, Places(at)
    if at.unit.made_of != "stage" or stage.circuit == "bipolar low side" or not at.drive.signals.by_program:
        return []
    if stage.driven_by != "driver" or stage.circuit == "modules":
        return []
    found = [_gate_supply(at, places)]
    if at.drive.signals.pulsed:
        if stage.circuit in BRIDGES:
            found.append(ordered(_dead(at, places), at, 0.5))
        if stage.gate_driver is not None and stage.gate_driver.sides == "half bridge" and stage.circuit in BRIDGES:
            found.append(ordered(_boot(at, places), at, 0.5))
    return found


def _gate_supply(at: DriveContext, places: Places) -> Step:
    volts = at.unit.stage.gate_v
    return step(
        "gate_supply",
        title="Gate supply",
        where="Gate driver, its supply to ground",
        instrument="Meter",
        setting=dc_volts(volts.value),
        expected=volts.leaf,
        unit="V",
        share=GATE_SHARE,
        reason="regulators are made to about ±5 %, and it may sag a little",
        stage="power",
        purpose="With half of it a transistor is half on, and burns at its first load.",
        means="Low: no headroom above the regulator, or something on it is the wrong way round.",
        probes=(places.driver("Gate supply"), places.ground),
    )


def _dead(at: DriveContext, places: Places) -> Step:
    stage = at.unit.stage
    level = stage.gate_v.value or 12.0
    return step(
        "dead_time",
        title=f"Dead time between the gates, {places.turns} unplugged",
        where="Lower gate on one channel; the leg's output falls on the other: from the one low to the other high",
        instrument="Oscilloscope",
        setting=scope_setting(level, 1 / (10 * stage.dead_time.value)) if stage.dead_time.value else "Probe ×10",
        expected=stage.dead_time.leaf,
        unit="ns",
        share=DEAD_SHARE,
        reason="a step of the timer, and the drivers' own delays differ",
        caution="Both ground clips on the stage's ground at one point: never on a gate of the upper switch.",
        stage="pulses",
        purpose="Without it both switches conduct for a moment in every period.",
        stop="The supply goes into its limit: both conduct.",
        means="None at all: the driver has none of its own and the program's is not set. Twice as long: both have one.",
        probes=(places.inner("Q low", "G"), places.ground) if stage.circuit == "half bridge" else (
            places.inner("Q A low", "G"), places.ground,
        ),
    )  # fmt: skip


def _boot(at: DriveContext, places: Places) -> Step:
    stage = at.unit.stage
    leg, out = ("", "OUT 1") if stage.circuit == "half bridge" else ("A", "OUT 1")
    made = step(
        "boot",
        title=f"Bootstrap, half duty, {places.turns} unplugged",
        where="Across the bootstrap capacitor",
        instrument="Meter",
        setting="DC volts; the meter floats with the output: battery-fed, nothing else joined to it",
        expected=rules.boot_volts(stage.gate_v.leaf, BOOT_DIODE),
        unit="V",
        share=0.1,
        reason="the gate supply less the diode's drop, sagging a little in each period",
        caution="A mains oscilloscope here shorts the output to earth.",
    )
    return replace(
        made,
        stage="pulses",
        purpose="The upper gate lives on it.",
        means="Low: the lower switch never conducts long enough to refill it, or the capacitor is too small.",
        probes=(places.inner(f"Gate driver {leg}".strip(), "VB"), places.driver(out)),
    )


def lamp_step(at: DriveContext) -> list[Step]:
    """A lamp of the supply's volts where motor or load will be: what is wrong glows instead of burning."""
    nominal = at.volts.nominal.value
    if nominal is None or nominal < FROM_V or not at.drive.signals.by_program:
        return []
    places = Places(at)
    made = step(
        "lamp",
        title=f"A lamp in the {places.turns}'s place, full on",
        where=f"Across the lamp, on the {places.turns}'s two terminals",
        instrument="Meter",
        setting="DC volts, highest range first",
        expected=at.volts.nominal,
        unit="V",
        share=LAMP_SHARE,
        reason="the supply less the drop of switches and wire at the lamp's current",
    )
    low, high = at.volts.flat.value, at.volts.full.value
    if low is not None and high is not None:
        made = replace(made, low=low * (1 - LAMP_SHARE), high=high)
    made = replace(
        made,
        stage="pulses",
        do="Halve and quarter the duty too: it dims. Press the stop, each limit and both directions.",
        purpose="A lamp takes no harm, limits the current by itself, and shows every state at a glance.",
        stop="It glows before anything was ordered.",
        means="Dark both ways: an output or its enable line. Glows at rest: a line without a pull-down.",
        probes=places.outputs,
    )
    return [ordered(made, at, 1.0)]
