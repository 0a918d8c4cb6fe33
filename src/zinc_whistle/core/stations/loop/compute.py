"""The speed loop's step: overshoot, settling and droop, on the averaged model."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

from ...algebra.expressions import sqrt
from ...algebra.kinds import Henry, Inertia, LoopGain, MotorConstant, NewtonMetre, Number, Ohm, Volt
from ...algebra.limits import Check, upper
from ...algebra.nodes import Constant, Figure, Node, Unbounded, number
from ...algebra.rules import Procedure, procedure, rule
from ...cases.circuit import Circuit
from ...cases.operating import Context
from ...laws.loop_step import LoopPlant, LoopResponse, step

STATION = "loop"
AVERAGED = "averaged motor, exact zero-order hold between samples (matrix exponential)"
NO_DUTY = Constant("0", 0.0, "fraction")


@rule(
    "ζ",
    source="characteristic L J s² + R J s + K_e (K_e + K_p V) of the loop without sampling",
    title="Damping without sampling",
)
def damping(R: Ohm, J: Inertia, L: Henry, K_e: MotorConstant, K_p: LoopGain, V: Volt) -> Number:
    return R * J / (2 * sqrt(L * J * K_e * (K_e + K_p * V)))


def _step(
    V: float,
    V_d: float,
    R: float,
    L: float,
    K_e: float,
    J: float,
    T: float,
    K_p: float,
    T_c: float,
    ff: float,
    target: float,
) -> LoopResponse:
    return step(
        LoopPlant(
            bus_v=V, lost_v=V_d, resistance_ohm=R, inductance_h=L, constant=K_e, inertia=J, load_nm=T, least_duty=0.0
        ),
        target,
        K_p,
        T_c,
        ff,
    )


def _of_step(symbol: str, kind: str, says: str, pick: Callable[[LoopResponse], float]) -> Procedure:
    def law(
        V: float,
        V_d: float,
        R: float,
        L: float,
        K_e: float,
        J: float,
        T: float,
        K_p: float,
        T_c: float,
        ff: float,
        target: float,
    ) -> float:
        return pick(_step(V, V_d=V_d, R=R, L=L, K_e=K_e, J=J, T=T, K_p=K_p, T_c=T_c, ff=ff, target=target))

    return procedure(symbol, kind, says=f"simulated step: {says}", source=AVERAGED)(law)


def _settled(done: LoopResponse) -> float:
    if done.settling_s is None:
        raise Unbounded("it does not settle")
    return done.settling_s


overshoot = _of_step("overshoot", "fraction", "largest speed over the final one, less one", lambda s: s.overshoot)
settling = _of_step("t_settle", "time", "when it stays within 2 % of its final speed", _settled)
droop = _of_step("droop", "fraction", "how far it ends below the target", lambda s: 1.0 - s.final / s.target)
peak_current = _of_step("I_max", "current", "largest current", lambda s: s.peak_current_a)


@dataclass(frozen=True, slots=True)
class LoopResult:
    """Figures of the step; ``inputs`` are what it was simulated with."""

    overshoot: Figure
    settling: Figure
    droop: Figure
    peak_current: Figure
    any_peak: Node
    """The same from any supply, everything cold or hot."""
    damping: Figure
    load_torque: Figure
    inputs: tuple[Node, ...]


@rule("T", source="load at the shaft and the motor's own friction", title="Torque to overcome")
def opposing_torque(T: NewtonMetre, T_f: NewtonMetre) -> NewtonMetre:
    return T + T_f


def compute(at: Context, solved: Circuit) -> LoopResult:
    """A step from rest to the working speed, supply nominal, winding hot."""
    spec = at.drive.loop
    because = [spec.chosen("feed_forward")]
    bus = at.volts.nominal
    torque = opposing_torque(at.load.motor_torque, at.motor.friction_torque)
    feed: Node = solved.duty_nominal if spec.feed_forward == "yes" else NO_DUTY
    inputs: tuple[Node, ...] = (
        bus,
        solved.lost_volts,
        solved.inner_resistance,
        at.motor.inductance,
        at.motor.motor_constant,
        at.load.reflected_inertia,
        torque,
        spec.gain.leaf,
        spec.period.leaf,
        feed,
        at.load.motor_speed,
    )
    worst = (at.volts.any, solved.lost_volts, solved.any_inner, *inputs[3:])
    return LoopResult(
        any_peak=peak_current(*worst, because=because, title="Largest current in the step"),
        overshoot=overshoot(*inputs, because=because, title="Overshoot"),
        settling=settling(*inputs, because=because, title="Settling to 2 %"),
        droop=droop(*inputs, because=because, title="Droop below the target"),
        peak_current=peak_current(*inputs, because=because, title="Largest current in the step"),
        damping=damping(
            solved.inner_resistance,
            at.load.reflected_inertia,
            at.motor.inductance,
            at.motor.motor_constant,
            spec.gain.leaf,
            bus,
        ),
        load_torque=torque,
        inputs=inputs,
    )


def simulated(result: LoopResult) -> LoopResponse | None:
    """The samples behind the figures; None until everything is known or when the loop does not settle."""
    values = [number(n) for n in result.inputs]
    if any(math.isnan(v) for v in values):
        return None
    try:
        return _step(*values)
    except (ValueError, ZeroDivisionError, OverflowError):
        return None


def checks(at: Context, result: LoopResult) -> list[Check]:
    """Overshoot and settling against what the builder allows."""
    spec, drive = at.drive.loop, at.drive.id
    if not at.drive.closes_loop:
        return []
    gain = f"{spec.path}.gain"
    found: list[Check] = []
    if at.part is not None:
        found.append(
            upper(
                "loop.current",
                station=STATION,
                title="Current in the step",
                stress=result.any_peak,
                bound=at.part.peak_a.leaf,
                todo="Ramp the target, lower the gain, or let the driver limit the current.",
                drive=drive,
                where=gain,
            )
        )
    return [
        *found,
        upper(
            "loop.overshoot",
            station=STATION,
            title="Overshoot",
            stress=result.overshoot,
            bound=spec.overshoot_allowed.leaf,
            todo="Lower the gain or shorten the control period.",
            drive=drive,
            over="warn",
            where=gain,
            destructive=False,
        ),
        upper(
            "loop.settling",
            station=STATION,
            title="Settling time",
            stress=result.settling,
            bound=spec.settling_allowed.leaf,
            todo="Raise the gain until it overshoots a little, or allow more time.",
            drive=drive,
            over="warn",
            where=gain,
            destructive=False,
        ),
    ]
