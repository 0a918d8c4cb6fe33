"""The speed loop's step: overshoot, settling and droop, on the averaged model."""

from __future__ import annotations

from dataclasses import dataclass

from .. import findings as f
from ..expressions import sqrt
from ..findings import Finding
from ..kinds import (
    Fraction,
    Henry,
    Inertia,
    LoopGain,
    MotorConstant,
    NewtonMetre,
    Number,
    Ohm,
    RadPerSecond,
    Second,
    Volt,
)  # fmt: skip
from ..operating import Circuit, Context
from ..working import Constant, Figure, Node, Unbounded, procedure, rule
from .simulate import Plant, Step, step

STATION = "loop"
AVERAGED = "averaged motor, exact zero-order hold between samples (matrix exponential)"
NO_DUTY = Constant("0", 0.0, "fraction")
NOTHING = Constant("0 Ω", 0.0, "resistance")


@rule(
    "ζ",
    source="characteristic L J s² + R J s + K_e (K_e + K_p V) of the loop without sampling",
    title="Damping without sampling",
)
def damping(R: Ohm, J: Inertia, L: Henry, K_e: MotorConstant, K_p: LoopGain, V: Volt) -> Number:
    return R * J / (2 * sqrt(L * J * K_e * (K_e + K_p * V)))


def _step(V: float, R: float, L: float, K_e: float, J: float, T: float, K_p: float, T_c: float, ff: float,
          target: float) -> Step:  # fmt: skip
    # A plain number cannot be negative zero or unsettled: the cache wants exact repeats, not near ones.
    return step(Plant(V, R, L, K_e, J, T, 0.0), target, K_p, T_c, ff)


@procedure(
    "overshoot",
    "fraction",
    says="largest speed over the final one, less one, of the simulated step",
    source=AVERAGED,
)
def overshoot(V: Volt, R: Ohm, L: Henry, K_e: MotorConstant, J: Inertia, T: NewtonMetre, K_p: LoopGain,
              T_c: Second, ff: Fraction, target: RadPerSecond) -> Fraction:  # fmt: skip
    """Share of the final speed."""
    return _step(V, R, L, K_e, J, T, K_p, T_c, ff, target).overshoot


@procedure("t_settle", "time", says="when the simulated step stays within 2 % of its final speed", source=AVERAGED)
def settling(V: Volt, R: Ohm, L: Henry, K_e: MotorConstant, J: Inertia, T: NewtonMetre, K_p: LoopGain,
             T_c: Second, ff: Fraction, target: RadPerSecond) -> Second:  # fmt: skip
    """Seconds from the step."""
    found = _step(V, R, L, K_e, J, T, K_p, T_c, ff, target).settling_s
    if found is None:
        raise Unbounded("it does not settle")
    return found


@procedure("droop", "fraction", says="how far the final speed stays below the target", source=AVERAGED)
def droop(V: Volt, R: Ohm, L: Henry, K_e: MotorConstant, J: Inertia, T: NewtonMetre, K_p: LoopGain,
          T_c: Second, ff: Fraction, target: RadPerSecond) -> Fraction:  # fmt: skip
    """Share of the target; below zero when it ends too fast."""
    return 1.0 - _step(V, R, L, K_e, J, T, K_p, T_c, ff, target).final / target


@dataclass(frozen=True, slots=True)
class LoopResult:
    """Figures of the step; ``inputs`` are what it was simulated with."""

    overshoot: Figure
    settling: Figure
    droop: Figure
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
    bus = at.source.nominal_v.leaf
    torque = opposing_torque(at.load.motor_torque, at.motor.friction_torque)
    feed: Node = solved.duty_nominal if spec.feed_forward == "yes" else NO_DUTY
    inputs: tuple[Node, ...] = (
        bus, at.winding_hot, at.drive.motor.inductance.leaf, at.motor.motor_constant, at.load.reflected_inertia,
        torque, spec.gain.leaf, spec.period.leaf, feed, at.load.motor_speed,
    )  # fmt: skip
    return LoopResult(
        overshoot=overshoot(*inputs, because=because, title="Overshoot"),
        settling=settling(*inputs, because=because, title="Settling to 2 %"),
        droop=droop(*inputs, because=because, title="Droop below the target"),
        damping=damping(inputs[1], inputs[4], inputs[2], inputs[3], inputs[6], bus),
        load_torque=torque,
        inputs=inputs,
    )


def simulated(result: LoopResult) -> Step | None:
    """The samples behind the figures; None until everything is known or when the loop does not settle."""
    values = [float(n) if isinstance(n, float) else n.value for n in result.inputs]
    if any(v is None for v in values):
        return None
    try:
        return _step(*values)
    except (ValueError, ZeroDivisionError, OverflowError):
        return None


def checks(at: Context, result: LoopResult) -> list[Finding]:
    """Overshoot and settling against what the builder allows."""
    spec, drive = at.drive.loop, at.drive.id
    if spec.closed == "no":
        return []
    gain = f"{spec.path}.gain"
    return [
        f.upper("loop.overshoot", STATION, "Overshoot", result.overshoot, spec.overshoot_allowed.leaf,
                "Lower the gain or shorten the control period.", drive=drive, over="warn", where=gain, destructive=False),
        f.upper("loop.settling", STATION, "Settling time", result.settling, spec.settling_allowed.leaf,
                "Raise the gain until it overshoots a little, or allow more time.", drive=drive, over="warn", where=gain,
                destructive=False),
    ]  # fmt: skip
