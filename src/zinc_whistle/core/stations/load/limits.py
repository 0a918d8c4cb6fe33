"""Checks of what the mechanism asks of motor and gear."""

from __future__ import annotations

from ...algebra import findings as f
from ...algebra.findings import Finding
from ...algebra.working import presence
from ...cases.motor import AtSupply
from ...cases.operating import Circuit, Context
from ...laws import load as rules

STATION = "load"
LONG_CYCLE = 0.2
"""A cycle longer than this share of the winding's time constant heats in waves: RMS alone would hide them."""


def checks(at: Context, solved: Circuit, motor: AtSupply) -> list[Finding]:
    """Torque against gear and coupling, speed and torque against what the motor reaches, grip, running back."""
    drive, spec = at.drive.id, at.drive.load
    found = [
        f.upper(
            "load.starting_current",
            STATION,
            "Starting against stall",
            at.load.starting_current,
            solved.stall_flat,
            "Gear down, take more time to get to speed, or take a stronger motor.",
            drive=drive,
            where=f"{spec.path}.time_to_speed",
            destructive=False,
        ),
        f.upper(
            "load.speed",
            STATION,
            "Speed against what the motor reaches",
            at.load.motor_speed,
            solved.delivered_flat,
            "Lower the ratio, raise the voltage, or accept less speed.",
            drive=drive,
            where=f"{spec.path}.gear_ratio",
            destructive=False,
        ),
    ]
    if at.load.hardest is not at.load.torque and at.load.hardest.value != at.load.torque.value:
        found.append(
            f.upper(
                "load.hardest",
                STATION,
                "Hardest moment against stall",
                at.load.hardest_current,
                solved.stall_flat,
                "Gear down, or take a stronger motor: at its hardest moment it would stall.",
                drive=drive,
                where=f"{spec.path}.gear_ratio",
                destructive=False,
            )
        )
    if spec.gear_torque_limit.value is not None:
        found.append(
            f.upper(
                "load.gear",
                STATION,
                "Torque through the gear",
                at.load.output_torque,
                spec.gear_torque_limit.leaf,
                "Take more time to get to speed, or a stronger gear.",
                drive=drive,
                where=f"{spec.path}.gear_torque_limit",
            )
        )
        found.append(_jam_on_gear(at, motor))
    if spec.coupling_slip.value is not None:
        found.append(
            f.upper(
                "load.slip",
                STATION,
                "Torque against the coupling",
                at.load.output_torque,
                spec.coupling_slip.leaf,
                "It slips before the load moves: tighten it, or ask for less torque.",
                drive=drive,
                where=f"{spec.path}.coupling_slip",
                destructive=False,
            )
        )
    found += [
        f.upper(
            "load.grip",
            STATION,
            "Pull against the grip",
            m.grip.force,
            m.grip.limit,
            "The wheels spin: more weight on the driven wheels, a softer start, or a gentler slope.",
            drive=drive,
            over="warn",
            where=f"{spec.path}.mechanisms.{m.id}.grip",
            destructive=False,
        )
        for m in at.load.mechanisms
        if m.grip is not None
    ]
    if at.load.back_torque is not None and at.load.back_torque.value is not None:
        holds = at.load.back_torque.value <= 0
        found.append(
            f.yes_no(
                "load.runs_back",
                STATION,
                "Stays where it is without power",
                holds,
                "Switched off, the load drives the gear and motor back: fit a brake, "
                "a self-locking screw or worm, or a "
                "counterweight. Nothing may be held up by the motor alone.",
                drive=drive,
                over="warn",
                where=f"{spec.path}.mechanisms",
                destructive=False,
            )
        )
    return found


def _jam_on_gear(at: Context, motor: AtSupply) -> Finding:
    """In a jam the motor's whole stall torque goes through the gear, unless a coupling slips first."""
    spec = at.drive.load
    stalled = rules.stall_at_output(motor.stall_torque, spec.gear_ratio.leaf, spec.gear_efficiency.leaf)
    limit = spec.gear_torque_limit.leaf
    slips = spec.coupling_slip.value is not None
    return f.upper(
        "load.gear_jam",
        STATION,
        "Gear in a jam",
        spec.coupling_slip.leaf if slips else stalled,
        limit,
        "In a jam the motor breaks the gear: limit the current, or fit a coupling that slips below the gear's limit.",
        drive=at.drive.id,
        over="warn",
        where=f"{spec.path}.coupling_slip",
        because=[presence(spec.coupling_slip.leaf)],
    )
