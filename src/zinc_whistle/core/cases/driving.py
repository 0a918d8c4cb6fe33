"""What drives a drive: a part of the shelf, or a stage of one's own seen as one, with its circuit and its heat."""

from __future__ import annotations

from dataclasses import dataclass

from ..algebra.corners import Corner
from ..algebra.nodes import Figure, Node
from ..laws import driver as rules
from ..laws.nothing import NO_AMPERES
from ..model.driver import DriverPart
from . import heating
from .axes import FULL, HOTTEST
from .circuit import DriveCircuit
from .operating import DriveContext
from .stage_result import StageResult


@dataclass(frozen=True, slots=True, kw_only=True)
class Heat:
    """Where a part's heat comes from and where its junction ends, on the hottest day."""

    conduction: Figure
    switching: Figure
    fixed: Figure
    total: Figure
    junction: Figure
    current: Figure
    """The motor's current as this part's heat counts it."""
    any_current: Node
    """The same at any speed that can be set."""
    allowed_current: Figure
    any_allowed: Node
    """The same from any supply, in any air."""
    any_known: tuple[tuple[Node, Corner, Node], ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class Driving:
    """A part with the circuit that it closes and the heat that it makes; a stage of one's own with its working
    besides."""

    part: DriverPart
    circuit: DriveCircuit
    heat: Heat
    result: StageResult | None = None

    @property
    def known(self) -> tuple[tuple[Node, Corner, Node], ...]:
        """Corners of its templates that have a figure of their own."""
        return (*self.circuit.anywhere.known, *self.heat.any_known)


def heat_of(at: DriveContext, part: DriverPart, solved: DriveCircuit) -> Heat:
    """Losses and junction temperature at the worst moment of the duty, supply full, hottest air, real PWM frequency."""
    lag = heating.of_part(part)
    volts, frequency = at.volts.full, at.plan.frequency
    current = heating.heating(at, lag, solved.duty_nominal)
    air, limit = at.board_hot, part.junction_limit.leaf
    resistance = rules.joined_resistance(part.on_resistance.leaf, at.drive.joined.leaf)
    factor, time = part.hot_factor.leaf, part.switching_time.leaf
    drop, own = part.drop_v.leaf, part.quiescent_a.leaf
    fixed = rules.fixed_heat(V_0=drop, I=current, V=volts, t_sw=time, f=frequency, I_q=own)
    whole: Node = current
    for other in at.sharing:
        because = [other.drive.chosen("unit")]
        theirs, pace = heating.heating(other, lag), other.plan.frequency
        whole = rules.together(whole, theirs, because=because)
        extra = rules.fixed_heat(V_0=drop, I=theirs, V=volts, t_sw=time, f=pace, I_q=NO_AMPERES)
        fixed = rules.total_heat(fixed, extra, because=because)
    junction = rules.junction_temperature(
        T_a=air,
        R_th=part.thermal_resistance.leaf,
        I=whole,
        R_on=resistance,
        h=factor,
        T_lim=limit,
        P_0=fixed,
        case="hottest air",
    )
    conduction = rules.conduction_loss(whole, resistance, factor, junction, limit)
    allowed = _allowed(at, part=part, resistance=resistance, volts=volts, air=air, case="hottest air")
    anywhere = _allowed(at, part, resistance, at.volts.any, at.board_air)
    return Heat(
        conduction=conduction,
        switching=rules.switching_loss(volts, current, time, frequency),
        fixed=fixed,
        total=rules.total_heat(conduction, fixed),
        junction=junction,
        current=current,
        any_current=heating.any_heating(at, lag, solved.anywhere.duty),
        allowed_current=allowed,
        any_allowed=anywhere,
        any_known=((anywhere, FULL | HOTTEST, allowed),),
    )


def _allowed(at: DriveContext, part: DriverPart, resistance: Node, volts: Node, air: Node, case: str = "") -> Figure:
    """The current that the heat leaves to this drive, the others on the part counted first."""
    time, drop = part.switching_time.leaf, part.drop_v.leaf
    hot = rules.hot_resistance(resistance, part.hot_factor.leaf)
    left = rules.heat_allowed(part.junction_limit.leaf, air, part.thermal_resistance.leaf, volts, part.quiescent_a.leaf)
    for other in at.sharing:
        because = [other.drive.chosen("unit")]
        lost = rules.linear_loss(drop, volts, time, other.plan.any_frequency if not case else other.plan.frequency)
        theirs = heating.heating(other, heating.of_part(part))
        left = rules.heat_left(left, rules.heat_at_limit(theirs, lost, hot), because=because)
    return rules.current_allowed(
        left,
        rules.linear_loss(drop, volts, time, at.plan.any_frequency if not case else at.plan.frequency),
        hot,
        case=case,
    )


def sense_of(at: DriveContext, part: DriverPart) -> Figure:
    """Volts at one channel's sense pin for each ampere of the motor; of joined channels each senses its share."""
    return rules.joined_sense(part.sense_gain.leaf, at.drive.joined.leaf)


def channels_of(at: DriveContext) -> range | None:
    """The channels that a drive takes: its own, and those joined to it."""
    first, count = at.drive.channel.value, at.drive.joined.value
    return None if first is None or count is None else range(int(first), int(first + count))
