"""The PWM that the motor gets: its ripple, its ramp, and one strip of its time."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ...algebra.doubt import why_unknown
from ...algebra.findings import Remedy
from ...algebra.limits import Check, claim, lower
from ...algebra.nodes import Constant, Figure, Node, Varied, presence
from ...algebra.quantities import notation
from ...cases import chopping
from ...cases.axes import WINDING
from ...cases.circuit import DriveCircuit
from ...cases.operating import Context, DriveContext
from ...cases.truth import TruthTable, truth_table
from ...laws import signals as rules
from ...laws import stage as stage_laws
from . import on_off, timer_limits, window
from .window import STATION, FrequencyWindow

AUDIBLE = Constant("16 kHz", 16e3, "frequency", "common practice, no source: above 16 to 20 kHz few people hear it")


@dataclass(frozen=True, slots=True)
class SignalsResult:
    """Real frequency and steps, ripple at work, the ramp and its shortest."""

    frequency: Figure
    top: Figure
    steps: Figure
    bits: Figure
    error: Figure
    duty: Node
    ripple: Figure | None
    ramp: Node
    shortest_ramp: Figure | None
    current_limit: Node
    swing: Node
    window: FrequencyWindow
    reversal_time: Figure | None
    step_speed: Figure | None


def compute(at: DriveContext, solved: DriveCircuit, chosen: object = None) -> SignalsResult:
    """Timer figures, ripple at the working duty, supply full, the shortest ramp under the current limit, and the window
    of frequencies with the driver that is ``chosen``."""
    spec, plan = at.drive.signals, at.plan
    because = [spec.chosen("decay")]
    full = at.volts.full
    swing: Node = full
    duty: Node = solved.duty_full
    if spec.decay == "locked anti-phase":
        swing, duty = rules.double_swing(full), rules.antiphase_duty(solved.duty_full)
    limit: Node = at.unit.current_limit.leaf
    if at.unit.current_limit.value is None and at.part is not None:
        limit = at.part.continuous_a.leaf
    ripple = shortest = None
    ramp: Node = spec.ramp_time.leaf
    if (motor := at.of_motor) is not None and spec.pulsed:
        ramp = motor.load.ramp_time
        ripple = chopping.swing(duty, case="working") or rules.ripple(
            swing, motor.winding_hot, duty, plan.frequency, motor.motor.inductance, case="working", because=because
        )
        shortest = rules.shortest_ramp(
            motor.load.reflected_inertia,
            motor.load.motor_speed,
            motor.motor.motor_constant,
            limit,
            at.working_current,
            because=[presence(at.unit.current_limit.leaf)],
        )
    if (held := at.of_load) is not None and held.drive.load.inductance.value and spec.pulsed:
        ripple = rules.ripple(
            swing,
            held.load.resistance,
            duty,
            plan.frequency,
            held.drive.load.inductance.leaf,
            case="held",
            because=because,
        )
    turning = step = None
    if motor is not None and spec.told_by == "pulses":
        step = rules.speed_of_step(at.volts.nominal, motor.motor.motor_constant, plan.steps)
        if spec.reversal != "one way":  # nothing but a program ramps and rests
            turning = rules.reversal_time(ramp, at.drive.panel.pause.leaf)
    return SignalsResult(
        frequency=plan.frequency,
        top=plan.top,
        steps=plan.steps,
        bits=plan.bits,
        error=plan.error,
        duty=solved.duty_nominal,
        ripple=ripple,
        ramp=ramp,
        shortest_ramp=shortest,
        current_limit=limit,
        swing=swing,
        window=window.compute(at, chosen, solved, swing, ripple, _any_ripple(at, solved)),
        reversal_time=turning,
        step_speed=step,
    )


def _any_ripple(at: DriveContext, solved: DriveCircuit) -> Node | None:
    """The ripple at any duty that can be set, from any supply, the winding cold or hot."""
    motor = at.of_motor
    if motor is None or not at.drive.signals.pulsed:
        return None
    if (chopped := chopping.swing(solved.anywhere.duty, case="working")) is not None:
        return chopped
    swing: Node = at.volts.any
    duty: Node = stage_laws.within_period(solved.anywhere.duty)
    if at.drive.signals.decay == "locked anti-phase":
        swing, duty = rules.double_swing(swing), rules.antiphase_duty(duty)
    winding = Varied(WINDING, (motor.winding_cold, motor.winding_hot), "Winding")
    return rules.ripple(
        swing,
        winding,
        duty,
        at.plan.any_frequency,
        motor.motor.inductance,
        case="working",
        because=[at.drive.signals.chosen("decay")],
    )


def checks(at: DriveContext, solved: DriveCircuit, result: SignalsResult) -> list[Check]:
    """The timer can do it, nobody hears it, and the ramp keeps the current under its limit."""
    spec = at.drive.signals
    if not spec.pulsed:
        return [*on_off.checks(at), *_on_the_controller(at)]
    if spec.told_by == "timer":
        return [*timer_limits.checks(at, solved), *window.checks(at, result.window)]
    return [*_pulse_checks(at, result), *_on_the_controller(at), *_ramp_checks(at, result)]


def _pulse_checks(at: DriveContext, result: SignalsResult) -> list[Check]:
    """The controller's timers make the frequency, and nobody hears it."""
    spec, drive = at.drive.signals, at.drive.id
    error = result.error.value
    found: list[Check] = [
        claim(
            "signals.frequency",
            station=STATION,
            title="The timer makes the frequency",
            holds=None if error is None else abs(error) < 0.1,
            todo="Choose a frequency that a timer of this controller can make, or another controller.",
            drive=drive,
            over="warn",
            where=f"{spec.path}.pwm_frequency",
            destructive=False,
            unknown=why_unknown(result.frequency),
        ),
        claim(
            "signals.audible",
            station=STATION,
            title="Above hearing",
            holds=None if result.frequency.value is None else result.frequency.value >= AUDIBLE,
            todo="It will whine: raise the PWM frequency if driver and timer allow, or accept the sound.",
            drive=drive,
            over="warn",
            where=f"{spec.path}.pwm_frequency",
            destructive=False,
            unknown=why_unknown(result.frequency),
        ),
    ]
    found += window.checks(at, result.window)
    found.append(
        claim(
            "signals.timers",
            station=STATION,
            title="Every pulse of this controller has its timer and pins",
            holds=None if at.plan.waits_for and _timed(at) else _timed(at),
            todo="; ".join(_why(at)),
            drive=drive,
            where=f"{spec.path}.pwm_frequency",
            destructive=False,
            unknown=f"Not known yet: the pulses of {' and '.join(at.plan.waits_for)} want timers too."
            if at.plan.waits_for
            else "Not known yet: name a controller with timers.",
        )
    )
    return found


def _on_the_controller(at: DriveContext) -> list[Check]:
    """What else is on the controller that tells the drive: devices on its bus, other people's code."""
    found: list[Check] = []
    drive = at.drive.id
    on_bus = [x for x in at.controller.devices if x.bus == "yes"]
    if on_bus:
        told = [x.address.strip().lower() for x in on_bus]
        twice = sorted({x for x in told if x and told.count(x) > 1})
        found.append(
            claim(
                "signals.addresses",
                station=STATION,
                title="Each device on the bus has an address of its own",
                holds=False if twice else None if "" in told else True,
                todo=f"{', '.join(twice)} is given twice: both would answer at once. Change one by its links, or give "
                "it a bus of its own.",
                drive=drive,
                where=f"{at.controller.path}.devices",
                destructive=False,
                unknown="Not known yet: give each its address.",
            )
        )
    unread = [x.name or x.id for x in at.controller.libraries if x.reviewed == "no"]
    if at.controller.libraries:
        found.append(
            claim(
                "signals.libraries",
                station=STATION,
                title="Someone else's code was read line by line",
                holds=not unread,
                todo=f"Read {', '.join(unread)} before you rely on it.",
                drive=drive,
                over="warn",
                where=f"{at.controller.path}.libraries",
                destructive=False,
            )
        )
    return found


def _ramp_checks(at: DriveContext, result: SignalsResult) -> list[Check]:
    """The ramp keeps the current under its limit, and the driver can do the drive mode."""
    found: list[Check] = []
    spec, drive = at.drive.signals, at.drive.id
    if spec.ramped and result.shortest_ramp is not None:
        found.append(
            lower(
                "signals.ramp",
                station=STATION,
                title="Ramp under the current limit",
                stress=result.ramp,
                bound=result.shortest_ramp,
                todo="Take a longer ramp, or raise the current limit if the driver bears it.",
                drive=drive,
                over="warn",
                where=f"{spec.path}.ramp_time",
                remedy=_longer_ramp(result, f"{spec.path}.ramp_time"),
            )
        )
    if at.part is not None and spec.decay == "locked anti-phase":
        one_way = at.part.reverses == "no"
        found.append(
            claim(
                "signals.mode",
                station=STATION,
                title="The driver can do this drive mode",
                holds=not one_way,
                todo="Locked anti-phase needs a bridge: take sign-magnitude.",
                drive=drive,
                destructive=False,
            )
        )
    return found


def _timed(at: DriveContext) -> bool | None:
    if at.timetable is None or not at.controller.timers or not at.drive.signals.pwm_frequency.value:
        return None
    return at.drive.id in at.timetable.places


def _why(at: DriveContext) -> list[str]:
    if at.timetable is None or not at.timetable.conflict:
        return []
    names = [w.name for w in at.timetable.conflict]
    first = f"{names[0]} finds no timer" if len(names) == 1 else f"{' and '.join(names)} cannot stand together"
    return [first, *(line.rstrip(".") for line in at.timetable.why)]


def _longer_ramp(result: SignalsResult, path: str) -> Remedy | None:
    """A ramp a fifth longer than the shortest that keeps the current under its limit."""
    shortest = result.shortest_ramp.value if result.shortest_ramp is not None else None
    if shortest is None or shortest <= 0:
        return None
    return Remedy("Take a ramp that is long enough", path, notation(float(f"{1.2 * shortest:.2g}"), "time", "s"))


@dataclass(frozen=True, slots=True)
class Strip:
    """Three PWM periods at work: time in s, the PWM level, volts across the motor and its current (SI)."""

    time_s: list[float]
    level: list[int]
    motor_v: list[float]
    current_a: list[float]


def strip(at: Context, result: SignalsResult, periods: int = 3, points: int = 60) -> Strip | None:
    """The steady ripple, exact between edges; None until everything is known."""
    frequency, bus = result.frequency.value, at.volts.full.value
    duty, mean, inductance = result.duty.value, at.working_current.value, at.motor.inductance.value
    resistance, swing = at.winding_hot.value, result.ripple.value if result.ripple is not None else None
    if None in (frequency, bus, duty, mean, inductance, resistance, swing):
        return None
    assert (
        frequency and bus and duty is not None and mean is not None and inductance and resistance and swing is not None
    )
    if not 0 < duty < 1:
        return None
    opposed = at.drive.signals.decay == "locked anti-phase"
    high = (1 + duty) / 2 if opposed else duty
    low_v = -bus if opposed else 0.0
    phase = np.linspace(0, periods, periods * points, endpoint=False)
    within = phase % 1.0
    on = within < high
    tau = inductance / resistance * frequency
    start = mean - swing / 2
    rising = start + swing * (1 - np.exp(-within / tau)) / (1 - np.exp(-high / tau))
    fall = (1 - np.exp(-np.maximum(within - high, 0.0) / tau)) / (1 - np.exp(-(1 - high) / tau))
    current = np.where(on, rising, mean + swing / 2 - swing * fall)
    return Strip(
        (phase / frequency).tolist(),
        on.astype(int).tolist(),
        np.where(on, bus, low_v).tolist(),
        current.tolist(),
    )


def table(at: DriveContext) -> TruthTable | None:
    """The truth table of the chosen part; None without one."""
    signals = at.drive.signals
    return truth_table(at.part.input_style, signals.decay, signals.pulsed) if at.part is not None else None


def scales(duty: float, top: float) -> list[tuple[str, str]]:
    """A duty (0 to 1) in the scales that programs use, by the scale's name; ``top`` is the timer's."""
    return [
        ("Duty", f"{100 * duty:.1f} %"),
        ("0 to 255", f"{round(255 * duty)}"),
        (f"0 to {top:.0f}, this timer", f"{round(top * duty)}"),
        (f"−{top:.0f} to {top:.0f}, back", f"−{round(top * duty)}"),
        ("−1000 to 1000, the port's", f"{round(1000 * duty)}"),
    ]
