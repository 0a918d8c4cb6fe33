"""The rules of hobby servos."""

from __future__ import annotations

import math

from ..algebra.expressions import larger, smaller
from ..algebra.kinds import (
    Ampere,
    Fraction,
    Hertz,
    Metre,
    Newton,
    NewtonMetre,
    Radian,
    RadPerSecond,
    Rate,
    Ratio,
    Second,
    Steps,
    Volt,
)
from ..algebra.nodes import Constant
from ..algebra.rules import procedure, rule

CLASS = "common practice, no source: torque and speed go with the voltage"
SIXTY = Constant("60°", 1.0471975511965976, "angle")
TWO = Constant("2", 2.0, "number")
MARGIN = Constant("½", 0.5, "fraction", "common practice, no source: a servo works at half its stall torque")
MIDDLE = "pulse of the middle position"


@rule("T", source="force at the horn", title="Torque it must give")
def needed_torque(F: Newton, r: Metre) -> NewtonMetre:
    return F * r


@rule("T", source="force at the lever, through the gear and its losses", title="Torque it must give")
def needed_through_gear(F: Newton, r: Metre, n: Ratio, eta: Fraction) -> NewtonMetre:
    return F * r / (n * eta)


@rule("θ", source="the lever's sweep, through the gear", title="Sweep of its own shaft")
def own_sweep(theta: Radian, n: Ratio) -> Radian:
    return theta * n


@rule("T_s", source=CLASS, title="Stall torque on this rail")
def stall_on_rail(T: NewtonMetre, V: Volt, V_r: Volt) -> NewtonMetre:
    return T * V / V_r


@rule("T_use", source="common practice, no source: half the stall torque", title="Torque to count on")
def usable_torque(T_s: NewtonMetre) -> NewtonMetre:
    return MARGIN * T_s


@rule("I_s", source=CLASS, title="Stall current on this rail")
def current_on_rail(I: Ampere, V: Volt, V_r: Volt) -> Ampere:
    return I * V / V_r


@rule("ω", source=CLASS, title="Speed on this rail, free")
def speed_on_rail(t_60: Second, V: Volt, V_r: Volt) -> RadPerSecond:
    return SIXTY / t_60 * V / V_r


@rule("ω_L", source="straight line from free speed to stall", title="Speed under its load")
def loaded_speed(omega: RadPerSecond, T: NewtonMetre, T_s: NewtonMetre) -> RadPerSecond:
    return omega * larger(1 - T / T_s, 0)


@rule("t_move", source="angle over speed", title="Time for the move")
def transit_time(theta: Radian, omega: RadPerSecond) -> Second:
    return theta / omega


@rule(
    "t_dwell",
    source="the command returns before the horn arrives: the move and two frames",
    title="Wait after the command",
)
def dwell(t_move: Second, f: Hertz) -> Second:
    return t_move + TWO / f


@rule("w", source="pulse width goes evenly over the travel", title="Pulse difference for the move")
def pulse_span(w_low: Second, w_high: Second, sweep: Radian, travel: Radian) -> Second:
    return (w_high - w_low) * sweep / travel


@rule("δθ", source="pulse width goes evenly over the travel", title="Angle of a late edge")
def late_angle(t: Second, w_low: Second, w_high: Second, travel: Radian) -> Radian:
    return t * travel / (w_high - w_low)


@rule("w_0", source=MIDDLE, title="Pulse in the middle")
def middle_pulse(w_low: Second, w_high: Second) -> Second:
    return (w_low + w_high) / 2


@rule("steps", source="timer ticks in the pulse's span", title="Steps over the travel")
def pulse_steps(w_low: Second, w_high: Second, t_tick: Second) -> Steps:
    return (w_high - w_low) / t_tick


@rule("Δθ", source="travel over the steps", title="Angle of one step")
def angle_step(travel: Radian, n: Steps) -> Radian:
    return travel / n


@rule("D_moving", source="share of the time that it moves", title="Share of the time moving")
def moving_share(moves: Rate, t_move: Second) -> Fraction:
    return moves * t_move


@rule("I_mean", source="idle and moving by their shares", title="Mean current")
def mean_current(I_idle: Ampere, I_move: Ampere, D: Fraction) -> Ampere:
    return I_idle + (I_move - I_idle) * smaller(D, 1)


@procedure(
    "I_warm",
    "current",
    says="idle current and what moving adds, at its highest behind the regulator's lag",
    source="periodic steady state of a first-order lag; a regulator's heat goes with its current",
)
def warming_current(I_idle: Ampere, I_move: Ampere, D: Fraction, t_move: Second, tau: Second) -> float:
    """The steady current (A) that makes a regulator as warm as the end of a move, ``D`` of the time moving."""
    share = min(D, 1.0)
    if share <= 0 or t_move <= 0:
        return I_idle
    return I_idle + (I_move - I_idle) * math.expm1(-t_move / tau) / math.expm1(-t_move / (share * tau))


@rule("t_tick", source="the timer makes one frame in this many counts", title="Tick of the timer")
def tick(n: Steps, f: Hertz) -> Second:
    return 1 / (n * f)
