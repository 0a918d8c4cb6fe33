"""What happens over time, as straight pieces: a ramp, the supply through a start, one cycle of a duty, a switched load.

Times in s, speeds in rad/s, currents in A, volts in V; lists of one course have the same length. Empty where something
is not known yet. Exact courses are simulated, on request.
"""

from __future__ import annotations

from dataclasses import dataclass

from ..algebra.nodes import Node, number
from ..laws import driver as driver_laws
from ..laws import motor as motor_laws
from .dc_load import DcLoadResult
from .load import LoadResult
from .motor import Constants
from .operating import Context, DriveContext, LoadContext

UNRAMPED_S = 0.3
"""Width of the picture of a start that has no ramp: time enough to see it."""
GLIMPSE_S = 0.05
"""An inrush that has no time of its own is drawn so long, or a quarter of the time on if that is less."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Ramp:
    """Duty (a share) and current over a start."""

    time_s: tuple[float, ...] = ()
    duty: tuple[float, ...] = ()
    current_a: tuple[float, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class Sag:
    """Volts at the driver over one start from a flat supply: at rest, starting, then at work."""

    time_s: tuple[float, ...] = ()
    bus_v: tuple[float, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class Cycle:
    """Speed at the output and motor current over one cycle of the duty."""

    time_s: tuple[float, ...] = ()
    speed: tuple[float, ...] = ()
    current_a: tuple[float, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class AtDuty:
    """What PWM leaves of a motor in the open loop: stall torque (N·m) and free speed (rad/s) at a duty."""

    duty: float
    stall_torque: float
    free_speed: float


def start_time(at: Context) -> Node:
    """How long the starting current flows: the ramp, or what a start from the stall heats as long as."""
    if at.drive.signals.ramped:
        return at.load.ramp_time
    ohms = driver_laws.feed_resistance(at.feed_resistance, at.winding_hot, title="Source, wire and winding")
    return motor_laws.unramped_start(
        ohms, at.load.reflected_inertia, at.motor.motor_constant, because=[at.drive.signals.chosen("told_by")]
    )


def ramp(at: DriveContext, ramp_time: Node, working_duty: Node, stall: Node) -> Ramp:
    """A soft start's duty runs ahead of the speed by what the starting current drops; an unramped one stalls first."""
    span, start, work = ramp_time.value, at.starting_current.value, at.working_current.value
    duty = working_duty.value
    if not span or start is None or work is None or duty is None:
        return Ramp()
    soft = at.drive.signals.ramped
    peak = start if soft else (stall.value or start)
    head = duty * (peak - work) / peak if soft and peak else 0.0
    return Ramp(
        time_s=(0.0, span, span, 1.6 * span),
        duty=(max(head, 0.0), duty, duty, duty),
        current_a=(peak, peak if soft else work, work, work),
    )


def sag(at: DriveContext, bus_start: Node, bus_working: Node, ramp_time: Node) -> Sag:
    """The supply through one start, flat."""
    flat, start, work, span = at.volts.flat.value, bus_start.value, bus_working.value, ramp_time.value
    if flat is None or start is None or work is None:
        return Sag()
    width = span or UNRAMPED_S
    if at.drive.signals.ramped and span is not None:
        points = [(0.0, flat), (0.1 * width, flat), (1.1 * width, start), (1.1 * width, work), (1.6 * width, work)]
    else:
        points = [(0.0, flat), (0.1 * width, flat), (0.1 * width, start), (0.6 * width, work), (1.2 * width, work)]
    return Sag(time_s=tuple(t for t, _ in points), bus_v=tuple(v for _, v in points))


def cycle(at: Context, load: LoadResult) -> Cycle:
    """The ramp, run and rest (long parts cut short to be seen), or the builder's own parts."""
    ratio, parts = at.drive.load.gear_ratio.value, load.parts
    if ratio is None or any(x.current.value is None or x.time.value is None for x in parts):
        return Cycle()
    own = bool(at.drive.load.segments)
    spans = [x.time.value or 0.0 for x in parts]
    if not own:
        first = spans[0]
        spans = [first, min(spans[1], 3 * first), min(spans[2], first)]
    speeds = [(-1 if x.back else 1) * (x.speed.value or 0.0) / ratio for x in parts]
    work = (load.motor_speed.value or 0.0) / ratio
    times: list[float] = []
    shown: list[float] = []
    amperes: list[float] = []
    now = 0.0
    for i, (part, span, speed) in enumerate(zip(parts, spans, speeds, strict=True)):
        if span <= 0:
            continue
        times += [now, now + span]
        shown += [0.0, work] if not own and i == 0 else [speed, speed]
        amperes += [part.current.value or 0.0] * 2
        now += span
    return Cycle(time_s=tuple(times), speed=tuple(shown), current_a=tuple(amperes))


def switched(at: LoadContext, load: DcLoadResult) -> Cycle:
    """A load's current over one cycle: inrush or pull-in, then held or running, then off."""
    spec = at.drive.load
    peak, held, on = load.peak_current.value, load.working_current.value, spec.on_for.value
    if peak is None or held is None or on is None or spec.off_for.value is None:
        return Cycle()
    first = min(spec.pull_time.value or 0.0, on) if spec.kind == "solenoid" else min(GLIMPSE_S, on / 4)
    end = min(on, first * 5 if first else on)
    return Cycle(
        time_s=(0.0, first, first, end, end, end * 1.2),
        speed=(0.0,) * 6,
        current_a=(peak, peak, held, held, 0.0, 0.0),
    )


def at_duties(motor: Constants, supply: Node, duties: tuple[float, ...]) -> list[AtDuty]:
    """Stall torque and free speed at several duties: PWM lowers the open-loop stall torque with the volts."""
    volts, r, k_e = number(supply), number(motor.resistance_25), number(motor.motor_constant)
    i_c, b, drop = number(motor.friction_a), number(motor.viscous), number(motor.brush_drop)
    if not r > 0 or not k_e > 0:
        return []
    found = []
    for duty in duties:
        stall = motor_laws.stall_torque.bare(k_e, motor_laws.stall_current.bare(duty * volts, drop, r), i_c)
        speed = motor_laws.no_load_speed.bare(V=duty * volts, V_b=drop, I_c=i_c, R=r, K_e=k_e, b=b)
        if stall > 0 and speed > 0:
            found.append(AtDuty(duty=duty, stall_torque=float(stall), free_speed=float(speed)))
    return found


def at_work(motor: Constants, supply: Node, torque: Node, speed: Node) -> AtDuty | None:
    """The line on which a motor works: at the duty whose volts, averaged, give that speed at that torque.

    None where something is not known, and where the supply has not the volts. At 25 °C and without the driver's drop,
    as the other lines are: the duty of the controls lies a little higher."""
    r, k_e, i_c = number(motor.resistance_25), number(motor.motor_constant), number(motor.friction_a)
    b, drop, omega = number(motor.viscous), number(motor.brush_drop), number(speed)
    if not r > 0 or not k_e > 0:
        return None
    current = motor_laws.current_for.bare(number(torque), k_e, motor_laws.friction_current.bare(i_c, b, k_e, omega))
    duty = motor_laws.motor_volts.bare(k_e, omega, current, r, drop) / number(supply)
    return next(iter(at_duties(motor, supply, (float(duty),))), None) if 0 < duty <= 1 else None
