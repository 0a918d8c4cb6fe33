"""Checks of what the mechanism asks of motor and gear."""

from __future__ import annotations

from .. import findings as f
from ..findings import Finding
from ..operating import Circuit, Context

STATION = "load"


def checks(at: Context, solved: Circuit) -> list[Finding]:
    """Torque against the gear's limit, and speed against what the motor reaches in the worst case."""
    drive, spec = at.drive.id, at.drive.load
    found = [
        f.upper("load.starting_current", STATION, "Starting against stall", at.load.starting_current, solved.stall_flat,
                "Gear down, take more time to get to speed, or take a stronger motor.", drive=drive,
                where=f"{spec.path}.mechanism.time_to_speed", destructive=False),
        f.upper("load.speed", STATION, "Speed against what the motor reaches", at.load.motor_speed, solved.top_speed_flat,
                "Lower the ratio, raise the voltage, or accept less speed.", drive=drive,
                where=f"{spec.path}.mechanism.speed", destructive=False),
    ]  # fmt: skip
    if spec.gear_torque_limit.value is not None:
        found.append(f.upper(
            "load.gear", STATION, "Torque through the gear", at.load.output_torque, spec.gear_torque_limit.leaf,
            "Take more time to get to speed, or a stronger gear.", drive=drive, where=f"{spec.path}.gear_torque_limit",
        ))  # fmt: skip
    return found
