"""Checks of what the mechanism asks of motor and gear."""

from __future__ import annotations

from ...algebra.doubt import why_unknown
from ...algebra.limits import Check, claim, upper
from ...algebra.nodes import Figure, Varied, number, presence
from ...cases.axes import WINDING
from ...cases.circuit import Circuit
from ...cases.operating import Context
from ...laws import driver as driver_laws
from ...laws import load as rules
from ...laws import motor as motor_laws
from ...laws.nothing import NO_AMPERES

STATION = "load"


def checks(at: Context, solved: Circuit) -> list[Check]:
    """Torque against gear and coupling, speed and torque against what the motor reaches, grip, running back."""
    drive, spec = at.drive.id, at.drive.load
    found: list[Check] = [
        upper(
            "load.starting_current",
            station=STATION,
            title="Starting against stall",
            stress=at.load.starting_current,
            bound=solved.anywhere.stall,
            todo="Gear down, take more time to get to speed, or take a stronger motor.",
            drive=drive,
            where=f"{spec.path}.time_to_speed",
            destructive=False,
        ),
        upper(
            "load.speed",
            station=STATION,
            title="Speed against what the motor reaches",
            stress=at.load.motor_speed,
            bound=solved.anywhere.delivered,
            todo="Lower the ratio, raise the voltage, or accept less speed.",
            drive=drive,
            where=f"{spec.path}.gear_ratio",
            destructive=False,
        ),
    ]
    if at.load.hardest is not at.load.torque and at.load.hardest.value != at.load.torque.value:
        found.append(
            upper(
                "load.hardest",
                station=STATION,
                title="Hardest moment against stall",
                stress=at.load.hardest_current,
                bound=solved.anywhere.stall,
                todo="Gear down, or take a stronger motor: at its hardest moment it would stall.",
                drive=drive,
                where=f"{spec.path}.gear_ratio",
                destructive=False,
            )
        )
    if spec.gear_torque_limit.value is not None:
        found.append(
            upper(
                "load.gear",
                station=STATION,
                title="Torque through the gear",
                stress=at.load.output_torque,
                bound=spec.gear_torque_limit.leaf,
                todo="Take more time to get to speed, or a stronger gear.",
                drive=drive,
                where=f"{spec.path}.gear_torque_limit",
            )
        )
        found.append(_jam_on_gear(at, solved))
    if spec.coupling_slip.value is not None:
        found.append(
            upper(
                "load.slip",
                station=STATION,
                title="Torque against the coupling",
                stress=at.load.output_torque,
                bound=spec.coupling_slip.leaf,
                todo="It slips before the load moves: tighten it, or ask for less torque.",
                drive=drive,
                where=f"{spec.path}.coupling_slip",
                destructive=False,
            )
        )
    found += [
        upper(
            "load.grip",
            station=STATION,
            title="Pull against the grip",
            stress=m.grip.force,
            bound=m.grip.limit,
            todo="The wheels spin: more weight on the driven wheels, a softer start, or a gentler slope.",
            drive=drive,
            over="warn",
            where=f"{spec.path}.mechanisms.{m.id}.grip",
            destructive=False,
        )
        for m in at.load.mechanisms
        if m.grip is not None
    ]
    if at.load.lowering is not None:
        winding = Varied(WINDING, (at.winding_cold, at.winding_hot), "Winding")
        free = motor_laws.speed_at(
            at.volts.full, at.motor.brush_drop, NO_AMPERES, at.motor.resistance_25, at.motor.motor_constant
        )
        found.append(
            upper(
                "load.over_speed",
                station=STATION,
                title="Speed when the load pulls, motor shorted",
                stress=rules.shorted_speed(at.load.lowering, winding, at.motor.motor_constant),
                bound=rules.bears_speed(free),
                todo="Even shorted the motor would not hold it: gear down, fit a counterweight or a brake.",
                drive=drive,
                where=f"{spec.path}.segments",
            )
        )
    if at.load.creeping is not None:
        found.append(_runs_back(at, at.load.creeping))
    return found


def _runs_back(at: Context, creeping: Figure) -> Check:
    """What moves by itself when the power is off. That a motor's friction holds it for now is no reason to stand under
    it; where it does not, and the load rests on a limit, nothing stops it there."""
    drive, where = at.drive.id, f"{at.drive.load.path}.mechanisms"
    todo = "fit a brake, a self-locking screw or worm, or a counterweight. Nothing may be held up by the motor alone."
    friction = rules.friction_holds(at.motor.motor_constant, at.motor.friction_a)
    if at.drive.panel.limits == "both" and number(creeping) > number(friction):
        return upper(
            "load.runs_back",
            station=STATION,
            title="Stays on its limit without power",
            stress=creeping,
            bound=friction,
            todo=f"Switched off, the load creeps through the limit that it rests on: {todo}",
            drive=drive,
            where=where,
            because=[at.drive.panel.chosen("limits")],
        )
    return claim(
        "load.runs_back",
        station=STATION,
        title="Stays where it is without power",
        holds=None if creeping.value is None else creeping.value <= 0,
        todo=f"Switched off, the load drives the gear and motor back: {todo}",
        drive=drive,
        over="warn",
        where=where,
        destructive=False,
        unknown=why_unknown(creeping),
    )


def _jam_on_gear(at: Context, solved: Circuit) -> Check:
    """In a jam the motor's whole stall torque goes through the gear, unless a coupling slips first."""
    spec = at.drive.load
    torque = driver_laws.stall_torque_left(at.motor.motor_constant, solved.anywhere.stall, at.motor.friction_a)
    stalled = rules.stall_at_output(torque, spec.gear_ratio.leaf, spec.gear_efficiency.leaf)
    limit = spec.gear_torque_limit.leaf
    slips = spec.coupling_slip.value is not None
    return upper(
        "load.gear_jam",
        station=STATION,
        title="Gear in a jam",
        stress=spec.coupling_slip.leaf if slips else stalled,
        bound=limit,
        todo=(
            "In a jam the motor breaks the gear: limit the current, or fit a "
            "coupling that slips below the gear's limit."
        ),
        drive=at.drive.id,
        over="warn",
        where=f"{spec.path}.coupling_slip",
        because=[presence(spec.coupling_slip.leaf)],
    )
