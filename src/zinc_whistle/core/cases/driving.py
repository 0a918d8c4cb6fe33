"""What drives a drive: a part of the shelf, or a stage of one's own seen as one, with its circuit and its heat."""

from __future__ import annotations

from dataclasses import dataclass

from ..algebra.nodes import Constant, Figure, Node
from ..laws import driver as rules
from ..model.driver import DriverPart
from .operating import DriveCircuit, DriveContext
from .stage_result import StageResult

NO_CURRENT = Constant("0 A", 0.0, "current")


@dataclass(frozen=True, slots=True)
class Heat:
    """Where a part's heat comes from and where its junction ends, on the hottest day."""

    conduction: Figure
    switching: Figure
    fixed: Figure
    total: Figure
    junction: Figure
    allowed_current: Figure


@dataclass(frozen=True, slots=True, kw_only=True)
class Driving:
    """A part with the circuit that it closes and the heat that it makes; a stage of one's own with its working
    besides."""

    part: DriverPart
    circuit: DriveCircuit
    heat: Heat
    result: StageResult | None = None


def heat_of(at: DriveContext, part: DriverPart) -> Heat:
    """Losses and junction temperature at the RMS current, supply full, hottest air, real PWM frequency."""
    current, volts, frequency = at.rms_current, at.volts.full, at.plan.frequency
    air, limit = at.build.ambient.hot.leaf, part.junction_limit.leaf
    resistance = rules.joined_resistance(part.on_resistance.leaf, at.drive.joined.leaf)
    factor, time = part.hot_factor.leaf, part.switching_time.leaf
    drop, own = part.drop_v.leaf, part.quiescent_a.leaf
    fixed = rules.fixed_heat(drop, current, volts, time, frequency, own)
    lost, hot = rules.linear_loss(drop, volts, time, frequency), rules.hot_resistance(resistance, factor)
    left = rules.heat_allowed(limit, air, part.thermal_resistance.leaf, volts, own)
    whole: Node = current
    for other in at.sharing:
        because = [other.drive.chosen("unit")]
        theirs, pace = other.rms_current, other.plan.frequency
        whole = rules.together(whole, theirs, because=because)
        fixed = rules.total_heat(fixed, rules.fixed_heat(drop, theirs, volts, time, pace, NO_CURRENT), because=because)
        spent = rules.heat_at_limit(theirs, rules.linear_loss(drop, volts, time, pace), hot)
        left = rules.heat_left(left, spent, because=because)
    junction = rules.junction_temperature(
        air, part.thermal_resistance.leaf, whole, resistance, factor, limit, fixed, case="hottest air"
    )
    conduction = rules.conduction_loss(whole, resistance, factor, junction, limit)
    allowed = rules.current_allowed(left, lost, hot, case="hottest air")
    return Heat(
        conduction=conduction,
        switching=rules.switching_loss(volts, current, time, frequency),
        fixed=fixed,
        total=rules.total_heat(conduction, fixed),
        junction=junction,
        allowed_current=allowed,
    )


def channels_of(at: DriveContext) -> range | None:
    """The channels that a drive takes: its own, and those joined to it."""
    first, count = at.drive.channel.value, at.drive.joined.value
    return None if first is None or count is None else range(int(first), int(first + count))
