"""Checks of the chosen driver that belong to the unit: a part is chosen, and something acts in a jam."""

from __future__ import annotations

from ...algebra.findings import Remedy
from ...algebra.limits import Check, Judge, claim, upper
from ...algebra.nodes import Node, Varied
from ...cases.axes import WINDING
from ...cases.driving import Driving
from ...cases.motor import AtSupply
from ...cases.operating import DriveContext
from ...laws import motor as motor_laws
from .candidates import STATION, verdicts


def not_chosen(drive: str) -> Check:
    """There is no driver yet."""
    return claim(
        "driver.chosen",
        station=STATION,
        title="A driver is chosen",
        holds=None,
        todo="Choose one from the list.",
        drive=drive,
        unknown="Not known yet: choose a driver part from the list.",
    )


def _survived(at: DriveContext, driving: Driving, motor: AtSupply) -> Node:
    """How long the winding bears a stall, from cold or from its temperature at work, whatever the supply then is."""
    turning = at.of_motor
    if turning is None:
        return motor.survivable_stall
    spec = turning.drive.motor
    start = Varied(WINDING, (turning.build.ambient.cold.leaf, spec.winding_hot.leaf), "Winding, before")
    ohms = Varied(WINDING, (turning.winding_cold, turning.winding_hot), "Winding")
    return motor_laws.survivable_stall(
        m=spec.winding_copper.leaf,
        T_limit=spec.winding_limit.leaf,
        T_start=start,
        I_s=driving.circuit.anywhere.stall,
        R=ohms,
    )


def jam_on_driver(at: DriveContext, driving: Driving) -> list[Check]:
    """The named stop acts before the driver has borne its peak for too long."""
    unit = at.unit
    if unit.jam_stop == "none" or at.of_motor is None:
        return []
    return [
        upper(
            "driver.jam_driver",
            station=STATION,
            title="Jam: time against the driver's peak",
            stress=unit.jam_time.leaf,
            bound=driving.part.peak_time.leaf,
            todo="Make the stop act sooner, or take a part that bears its peak for longer.",
            drive=at.drive.id,
            where=f"{unit.path}.jam_time",
        )
    ]


def jam(at: DriveContext, driving: Driving, motor: AtSupply, judge: Judge) -> list[Check]:
    """Something acts in a jam, before driver and winding overheat."""
    unit, part, drive, unit_path = at.unit, driving.part, at.drive.id, at.unit.path
    named = unit.jam_stop != "none"
    believable = unit.jam_stop != "driver limit" or part.trip != "none"
    where = f"{unit_path}.jam_stop"
    found: list[Check] = []
    survives = verdicts(at, driving, judge)["stall"][0].verdict in ("holds", "tight")
    if at.build.schools.sizing != "stall" or not survives:
        found.append(
            claim(
                "driver.jam_named",
                station=STATION,
                title="Something acts in a jam",
                holds=named and believable,
                todo=(
                    "Name what stops the motor before driver and winding overheat: a fuse, "
                    "the program, or the driver's own limit."
                )
                if not named
                else "This part has no limit of its own: name the fuse or the program.",
                drive=drive,
                where=where,
                remedy=Remedy("The program stops it", where, "program"),
            )
        )
        found += jam_on_driver(at, driving)
    if named:
        found.append(
            upper(
                "driver.jam_winding",
                station=STATION,
                title="Jam: time against the winding",
                stress=unit.jam_time.leaf,
                bound=_survived(at, driving, motor),
                todo="Make the stop act sooner: the winding is past its limit before it does.",
                drive=drive,
                where=f"{unit_path}.jam_time",
            )
        )
    return found
