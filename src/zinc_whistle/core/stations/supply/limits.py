"""Checks of what one drive sees of its source."""

from __future__ import annotations

from ...algebra.findings import Remedy
from ...algebra.limits import Check, claim, lower, upper
from ...algebra.nodes import Node, number
from ...cases.course import start_time
from ...cases.operating import DriveContext
from ...laws import fuse as fuse_laws
from ...laws import supply as rules
from .compute import STATION, SupplyResult


def _fuse_at_start(at: DriveContext, start: Node) -> list[Check]:
    """The fuse stays whole through the ramp: the earliest that its standard allows it to open at that current."""
    source, motor = at.source, at.of_motor
    if motor is None or not source.fuse_curve or source.fuse.value is None:
        return []
    return [
        upper(
            "supply.fuse_start",
            station=STATION,
            title="Fuse, through the start",
            stress=start_time(motor),
            bound=fuse_laws.EARLIEST[source.fuse_curve](start, source.fuse.leaf, because=[source.chosen("fuse_curve")]),
            todo="Take a slower fuse, or the next size if the wire bears it, or start more softly.",
            drive=at.drive.id,
            over="warn",
            where=f"{source.path}.fuse",
            destructive=False,
        )
    ]


def checks(at: DriveContext, result: SupplyResult, needs: Node | None, start: Node, named: bool = True) -> list[Check]:
    """Brown-out at start and in a jam, and plugging in live, with every other drive on the source."""
    drive, source = at.drive.id, at.source
    found = _fuse_at_start(at, start)
    if at.part is not None:
        found.append(
            upper(
                "supply.plug_in",
                station=STATION,
                title="Ringing, plugged in live",
                stress=result.any_plug_in,
                bound=at.part.v_absolute.leaf,
                todo="Put an electrolytic capacitor beside the driver: its resistance "
                "damps the lead. Or switch on after "
                "plugging in.",
                drive=drive,
                over="warn",
                where=f"{at.unit.path}.bulk_capacitance",
            )
        )
    if not at.drive.signals.by_program:
        return found  # no logic hangs on it
    if needs is None and named:
        return found  # straight on a source of its own, which no motor pulls down
    if needs is None:
        found.append(
            claim(
                "supply.logic",
                station=STATION,
                title="The logic's supply is named",
                holds=None,
                todo="",
                drive=drive,
                unknown="Not known yet: add a regulator and name it at the controller (page Build).",
            )
        )
        return found
    if at.build.supply.motor_and_logic == "split":
        return found
    todo = "Start softer, fit a larger bulk capacitor, use a regulator that drops less, or feed the logic by itself."
    because = [at.build.supply.chosen("motor_and_logic")]
    ramped = rules.loaded_voltage(at.volts.flat, at.starting_current, at.feed_resistance)
    softly = at.drive.signals.told_by == "pulses" and not at.drive.signals.ramped and number(ramped) >= number(needs)
    found += [
        lower(
            "supply.brown_out_start",
            station=STATION,
            title="Logic supply, at start",
            stress=result.any_start,
            bound=needs,
            todo=todo,
            drive=drive,
            where=f"{source.path}.resistance",
            destructive=False,
            because=because,
            remedy=Remedy("Start softly", f"{at.drive.signals.path}.soft_start", "yes") if softly else None,
        ),
        lower(
            "supply.brown_out_jam",
            station=STATION,
            title="Logic supply, in a jam",
            stress=result.any_jam,
            bound=needs,
            todo=todo,
            drive=drive,
            over="warn",
            where=f"{source.path}.resistance",
            destructive=False,
            because=because,
        ),
    ]
    return found
