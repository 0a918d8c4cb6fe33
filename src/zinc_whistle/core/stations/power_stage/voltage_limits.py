"""Volts of a stage held against their limits: standoff by school, ringing, the guard."""

from __future__ import annotations

from collections.abc import Iterator

from ...algebra.findings import Remedy
from ...algebra.limits import Check
from ...algebra.nodes import Constant, Node
from ...cases.stage import at_stall
from ...cases.stage_parts import rating_of
from ...laws import stage as stage_laws
from ...model.transistors import Mosfet
from .stage_checks import StageChecks

SCHOOL = {
    "bus": Constant("1.5", 1.5, "ratio", "common practice, no source"),
    "clamp": Constant("1.25", 1.25, "ratio", "common practice, no source: over the clamp's voltage"),
    "twice": Constant("2", 2.0, "ratio", "common practice, no source: where nothing clamps"),
}


def voltage(c: StageChecks) -> Iterator[Check]:
    at, stage, k = c.at, c.stage, c.k
    school = at.build.schools.standoff
    because = [at.build.schools.chosen("standoff")]
    highest: Node = c.result.anywhere.bus
    if school == "clamp":
        highest = at.build.supply.clamp_v.leaf
    wanted = stage_laws.standoff(SCHOOL[school], highest, because=because)
    rating = rating_of(stage, k, c.switch)
    yield c.up(
        "standoff",
        title="Voltage of the switch",
        stress=wanted,
        limit=rating,
        todo="Take a switch for more volts, fit a clamp, or lower the supply.",
        field="switch",
    )
    if isinstance(c.switch, Mosfet):
        peak = k(
            stage_laws.ringing,
            at.volts.any,
            stage.loop.leaf,
            # A jam may be switched off at any moment of it.
            at_stall(at),
            c.switch.output.leaf,
            c.anywhere.times.fall_s,
            title="Ringing over the supply",
        )
        yield c.up(
            "ringing",
            title="Ringing at turn-off",
            stress=peak,
            limit=rating,
            todo="Shorten the loop of capacitor and switches, slow the turn-off with a larger gate resistor, "
            "or fit a snubber.",
            field="loop",
            over="warn",
        )
    if stage.guard is not None:
        yield from _guard(c)


def _guard(c: StageChecks) -> Iterator[Check]:
    stage, at = c.stage, c.at
    assert stage.guard is not None
    clamped = stage.guard_clamp == "yes"
    seen: Node = c.k(stage_laws.clamped_gate, at.volts.any, stage.clamp_v.leaf) if clamped else at.volts.any
    fix = Remedy("Fit a zener and a resistor at its gate", f"{c.path}.guard_clamp", "yes")
    yield c.up(
        "guard_gate",
        title="Guard's gate against the supply",
        stress=seen,
        limit=stage.guard.v_gs.leaf,
        todo=(
            "Its gate sees the whole supply although no motor turns: fit a zener of "
            "less than its limit, and a resistor."
        ),
        field="guard_clamp",
        remedy=None if clamped else fix,
        because=[stage.chosen("guard_clamp")],
    )
    yield c.up(
        "guard_volts",
        title="Guard's voltage",
        stress=c.anywhere.bus,
        limit=stage.guard.v_ds.leaf,
        todo="Take a guard transistor for more volts.",
        field="guard",
    )
