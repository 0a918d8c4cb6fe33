"""Checks of the chosen driver that belong to the unit: a part is chosen, and something acts in a jam."""

from __future__ import annotations

from ...algebra import findings as f
from ...algebra.findings import Finding
from ...cases.motor import AtSupply
from ...cases.operating import DriveContext
from .candidates import STATION, Candidate, verdicts


def checks(at: DriveContext, chosen: Candidate | None, motor: AtSupply | None) -> list[Finding]:
    """The chosen part's findings, and whether a jam is survived."""
    drive, unit = at.drive.id, at.unit
    if chosen is None:
        return [
            f.yes_no(
                "driver.chosen",
                STATION,
                "A driver is chosen",
                None,
                "Choose one from the list.",
                drive=drive,
                unknown="Not known yet: choose a driver part from the list.",
            )
        ]
    if motor is None:
        return list(chosen.checks)
    return [*chosen.checks, *_jam(at, chosen, motor, drive, unit.path)]


def _jam(at: DriveContext, chosen: Candidate, motor: AtSupply, drive: str, unit_path: str) -> list[Finding]:
    unit, part = at.unit, chosen.part
    named = unit.jam_stop != "none"
    believable = unit.jam_stop != "driver limit" or part.trip != "none"
    where = f"{unit_path}.jam_stop"
    found = []
    covers_stall = verdicts(at, chosen)["stall"][0]
    survives = covers_stall.severity != "stop" and not covers_stall.unknown
    if at.build.schools.sizing != "stall" or not survives:
        found.append(
            f.yes_no(
                "driver.jam_named",
                STATION,
                "Something acts in a jam",
                named and believable,
                (
                    "Name what stops the motor before driver and winding overheat: a fuse, "
                    "the program, or the driver's own limit."
                )
                if not named
                else "This part has no limit of its own: name the fuse or the program.",
                drive=drive,
                where=where,
                remedy=f.Remedy("The program stops it", where, "program"),
            )
        )
        if named:
            found.append(
                f.upper(
                    "driver.jam_driver",
                    STATION,
                    "Jam: time against the driver's peak",
                    unit.jam_time.leaf,
                    part.peak_time.leaf,
                    "Make the stop act sooner, or take a part that bears its peak for longer.",
                    drive=drive,
                    where=f"{unit_path}.jam_time",
                )
            )
    if named:
        found.append(
            f.upper(
                "driver.jam_winding",
                STATION,
                "Jam: time against the winding",
                unit.jam_time.leaf,
                motor.survivable_stall,
                "Make the stop act sooner: the winding is past its limit before it does.",
                drive=drive,
                where=f"{unit_path}.jam_time",
            )
        )
    return found
