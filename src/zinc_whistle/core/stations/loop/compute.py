"""The speed loop's step: overshoot, settling and droop, on the averaged model."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

from ...algebra.expressions import sqrt
from ...algebra.findings import Remedy
from ...algebra.kinds import Henry, Inertia, LoopGain, MotorConstant, NewtonMetre, Number, Ohm, Volt
from ...algebra.limits import Check, claim, lower, upper
from ...algebra.nodes import Constant, Figure, Node, Unbounded, number, presence
from ...algebra.quantities import phrase
from ...algebra.rules import Procedure, procedure, rule
from ...cases.circuit import Circuit
from ...cases.operating import Context
from ...laws.loop_margins import margins_of, suggested
from ...laws.loop_step import LoopLaw, LoopPlant, LoopResponse, step
from ...laws.tuning import SIMC, Gains, Margins
from ...model.loop import LoopSpec

STATION = "loop"
AVERAGED = "averaged motor, exact zero-order hold between samples (matrix exponential)"
LINEAR = "averaged motor, exact zero-order hold, speed as the mean over a period; crossings by bracketing"
HALF_RULE = "his half rule for the electrical time; half a period each for the hold and for counting"
ROUNDING = 1e-5
NO_DUTY = Constant("0", 0.0, "fraction")
NO_INTEGRAL = Constant("none", 0.0, "time")
LEAST_GAIN_MARGIN = Constant("2", 2.0, "number", "common practice, no source: the gain may double")
LEAST_PHASE_MARGIN = Constant("30°", math.pi / 6, "angle", "common practice, no source")


@rule(
    "ζ",
    source="characteristic L J s² + R J s + K_e (K_e + K_p V) of the loop without sampling",
    title="Damping without sampling",
)
def damping(R: Ohm, J: Inertia, L: Henry, K_e: MotorConstant, K_p: LoopGain, V: Volt) -> Number:
    return R * J / (2 * sqrt(L * J * K_e * (K_e + K_p * V)))


def _plant(V: float, V_d: float, R: float, L: float, K_e: float, J: float, T: float) -> LoopPlant:
    return LoopPlant(
        bus_v=V, lost_v=V_d, resistance_ohm=R, inductance_h=L, constant=K_e, inertia=J, load_nm=T, least_duty=0.0
    )


def _law(K_p: float, T_i: float, T_c: float, ff: float) -> LoopLaw:
    """The controller; an integral time of 0 is none. The speed is known by counts."""
    return LoopLaw(K_p, T_i or None, T_c, ff, counted=True)


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
        T_i: float,
        T_c: float,
        ff: float,
        target: float,
    ) -> float:
        return pick(step(_plant(V, V_d, R, L, K_e, J, T), target, _law(K_p, T_i, T_c, ff)))

    return procedure(symbol, kind, says=f"simulated step: {says}", source=AVERAGED)(law)


def _of_margins(symbol: str, kind: str, says: str, pick: Callable[[Margins], float]) -> Procedure:
    def law(V: float, R: float, L: float, K_e: float, J: float, K_p: float, T_i: float, T_c: float) -> float:
        found = pick(margins_of(_plant(V, 0.0, R, L, K_e, J, 0.0), _law(K_p, T_i, T_c, 0.0)))
        if math.isinf(found):
            raise Unbounded("nothing bounds it")
        return found

    return procedure(symbol, kind, says=f"sampled linear loop: {says}", source=LINEAR)(law)


gain_margin = _of_margins("GM", "number", "by how much the gain may grow before it swings", lambda m: m.gain)
phase_margin = _of_margins("PM", "angle", "the phase that is left where the gain is one", lambda m: m.phase)
largest_sensitivity = _of_margins("M_s", "number", "one over the least distance from −1", lambda m: m.sensitivity)


def _of_suggestion(symbol: str, kind: str, says: str, pick: Callable[[Gains], float]) -> Procedure:
    def law(V: float, R: float, L: float, K_e: float, J: float, T_c: float) -> float:
        return pick(suggested(_plant(V, 0.0, R, L, K_e, J, 0.0), T_c))

    return procedure(symbol, kind, says=says, source=f"{SIMC}; {HALF_RULE}")(law)


suggested_gain = _of_suggestion("K_p", "loop gain", "lag over gain and twice the dead time", lambda g: g.gain)
suggested_integral = _of_suggestion("T_i", "time", "the lag, at most eight dead times", lambda g: g.integral_s or 0.0)


def _settled(done: LoopResponse) -> float:
    if done.settling_s is None:
        raise Unbounded("it does not settle")
    return done.settling_s


def _droop(done: LoopResponse) -> float:
    """What only the tail's rounding shows counts as none."""
    share = 1.0 - done.final / done.target
    return share if abs(share) > ROUNDING else 0.0


overshoot = _of_step("overshoot", "fraction", "largest speed over the final one, less one", lambda s: s.overshoot)
settling = _of_step("t_settle", "time", "when it stays within 2 % of its final speed", _settled)
droop = _of_step("droop", "fraction", "how far it ends below the target", _droop)
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
    gain_margin: Figure
    phase_margin: Figure
    sensitivity: Figure
    suggested_gain: Figure
    suggested_integral: Figure
    inputs: tuple[Node, ...]


@rule("T", source="load at the shaft and the motor's own friction", title="Torque to overcome")
def opposing_torque(T: NewtonMetre, T_f: NewtonMetre) -> NewtonMetre:
    return T + T_f


def compute(at: Context, solved: Circuit) -> LoopResult:
    """A step from rest to the working speed, supply nominal, winding hot."""
    spec = at.drive.loop
    because = [spec.chosen("feed_forward"), presence(spec.integral.leaf)]
    integral: Node = spec.integral.leaf if spec.integral.value is not None else NO_INTEGRAL
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
        integral,
        spec.period.leaf,
        feed,
        at.load.motor_speed,
    )
    shaft = (solved.inner_resistance, at.motor.inductance, at.motor.motor_constant, at.load.reflected_inertia)
    linear = (bus, *shaft, spec.gain.leaf, integral, spec.period.leaf)
    model = (bus, *shaft, spec.period.leaf)
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
        gain_margin=gain_margin(*linear, because=because, title="Gain margin"),
        phase_margin=phase_margin(*linear, because=because, title="Phase margin"),
        sensitivity=largest_sensitivity(*linear, because=because, title="Largest sensitivity"),
        suggested_gain=suggested_gain(*model, title="Suggested gain"),
        suggested_integral=suggested_integral(*model, title="Suggested integral time"),
        inputs=inputs,
    )


def simulated(result: LoopResult) -> LoopResponse | None:
    """The samples behind the figures; None until everything is known or when the loop does not settle."""
    values = [number(n) for n in result.inputs]
    if any(math.isnan(v) for v in values):
        return None
    try:
        V, V_d, R, L, K_e, J, T, K_p, T_i, T_c, ff, target = values
        return step(_plant(V, V_d, R, L, K_e, J, T), target, _law(K_p, T_i, T_c, ff))
    except (ValueError, ZeroDivisionError, OverflowError):
        return None


def _offer(spec: LoopSpec, result: LoopResult) -> Remedy | None:
    """The suggested gain as a change of the build."""
    value = result.suggested_gain.value
    return Remedy("Take the suggested gain", f"{spec.path}.gain", phrase(value, "loop gain")) if value else None


def checks(at: Context, result: LoopResult) -> list[Check]:
    """Overshoot and settling against what the builder allows."""
    spec, drive = at.drive.loop, at.drive.id
    if not at.drive.closes_loop:
        return []
    gain = f"{spec.path}.gain"
    offered = _offer(spec, result)
    found: list[Check] = [
        claim(
            "loop.gain",
            station=STATION,
            title="A gain is given",
            holds=True if spec.gain.value is not None else None,
            todo="",
            drive=drive,
            where=gain,
            unknown="Not known yet: give the gain, or begin with the suggested one.",
            remedy=offered if spec.gain.value is None else None,
            destructive=False,
        ),
        lower(
            "loop.gain_margin",
            station=STATION,
            title="Gain margin",
            stress=result.gain_margin,
            bound=LEAST_GAIN_MARGIN,
            todo="Lower the gain, or shorten the control period: it is near to swinging by itself.",
            drive=drive,
            over="warn",
            where=gain,
            destructive=False,
            remedy=offered,
        ),
        lower(
            "loop.phase_margin",
            station=STATION,
            title="Phase margin",
            stress=result.phase_margin,
            bound=LEAST_PHASE_MARGIN,
            todo="Lower the gain, lengthen the integral time, or shorten the control period.",
            drive=drive,
            over="warn",
            where=gain,
            destructive=False,
            remedy=offered,
        ),
    ]
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
