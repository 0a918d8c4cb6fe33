"""The panel of one drive as designed: its machine, its driver's lines, its settings, and what the checks say."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache

from ...algebra.findings import Remedy
from ...algebra.limits import Check, claim, lower, upper
from ...algebra.nodes import Constant, Figure
from ...cases import breakaway
from ...cases.circuit import DriveCircuit
from ...cases.driving import sense_of
from ...cases.operating import DriveContext
from ...cases.truth import truth_table
from ...laws import driver as driver_laws
from ...laws import fuse as fuse_laws
from ...model.loop import LoopSpec
from ...model.panel import PanelSpec
from ...panel.check import Checked, check
from ...panel.lamps import never_lit, rules_of
from ...panel.lines import Lines, lines_of
from ...panel.machine import Around, Machine, assemble
from ...panel.runtime import FINE, MILLIAMPS, SPEED_FINE, Loop, Settings
from ...panel.strips import StripSegment, changeover
from .compute import SignalsResult

STATION = "signals"
RPM = 30 / math.pi
"""Revolutions a minute in one radian a second."""


@dataclass(frozen=True, slots=True)
class PanelResult:
    """The machine that the choices make (None with the reason where they make none), checked."""

    machine: Machine | None
    checked: Checked | None
    refusal: str
    around: Around


def around_of(at: DriveContext) -> Around:
    """Whether the drive reverses and how, and what its driver does at rest."""
    signals, part = at.drive.signals, at.part
    both = signals.reversal != "one way" and (part is None or part.reverses == "yes")
    brakes = signals.braking == "brake" and (part is None or part.brakes == "yes")
    locked = any(x.drive == at.drive.id for x in at.build.interlocks)
    remote = any(b.drive == at.drive.id for h in at.build.handsets for b in h.buttons)
    return Around(both, signals.reversal == "slammed", "brake" if brakes else "off", locked, remote)


def lines_for(at: DriveContext) -> Lines | None:
    """The driver's lines; None without a driver."""
    return _lines(*told(at)) if at.part is not None else None


Told = tuple[str, str, bool]
"""How a driver is told: its input style, its decay, and whether by pulses."""


def told(at: DriveContext) -> Told:
    """How the driver of a drive is told; without a driver an empty style."""
    signals = at.drive.signals
    return (at.part.input_style if at.part is not None else "", signals.decay, signals.pulsed)


@lru_cache(maxsize=64)
def _lines(style: str, decay: str, pulsed: bool = True) -> Lines:
    return lines_of(truth_table(style, decay, pulsed))


def compute(at: DriveContext) -> PanelResult:
    """The machine and its exhaustive check."""
    around = around_of(at)
    if not at.drive.signals.by_program:
        return PanelResult(None, None, NO_PROGRAM, around)
    return _made(at.drive.panel.model_dump_json(exclude=_NUMBERS), around, told(at))


@lru_cache(maxsize=64)
def turning(machine: Machine, how: Told, settings: Settings) -> tuple[StripSegment, ...]:
    """A whole change of direction on a driver's lines; kept, since it is played tick by tick."""
    return tuple(changeover(machine, _lines(*how), settings))


NO_PROGRAM = "No program reads a panel here: what is pressed is in the motor's own current, or turned at the knob."


_NUMBERS = {
    *("watch_time", "link_time", "pause", "debounce", "trip_a", "trip_time", "home_duty", "end_front", "end_back"),
    "lamps",
}
"""What no state of the machine hangs on."""


@lru_cache(maxsize=256)
def _made(choices: str, around: Around, how: Told) -> PanelResult:
    # A check of the largest panel takes half a second, and its choices change seldom.
    spec = PanelSpec.model_validate_json(choices)
    if spec.speed_by == "knob" and not how[2]:
        return PanelResult(None, None, "A knob sets a speed, and on or off has none: let the speed be fixed.", around)
    try:
        machine = assemble(spec, around)
    except ValueError as error:
        return PanelResult(None, None, str(error), around)
    return PanelResult(machine, check(machine, spec, _lines(*how) if how[0] else None), "", around)


def settings_of(
    at: DriveContext,
    solved: DriveCircuit,
    signals: SignalsResult,
    per_turn: Figure | None,
    full: int | None = None,
) -> Settings:
    """The numbers that a program holds. ``full`` is the top of the level (None: the timer's). ValueError where one is
    not known yet."""
    spec, panel, plan = at.drive.signals, at.drive.panel, at.plan
    duty, top = solved.duty_nominal.value, plan.top.value
    if not spec.pulsed:
        # On is the whole of one step, whatever the language's pulses would count to.
        full, duty, top = full or 1, 1.0, 1.0
    if duty is None or top is None:
        raise ValueError("Not known yet: the working duty and a timer for the pulses.")
    own = full if full is not None else int(top)
    steps = own if spec.alignment == "centre" or full is not None else own + 1
    wanted = min(max(round(duty * steps) - (steps - own), 1), own)
    ramp = signals.ramp.value or 0.0
    # The ramp's time is to the working duty; a program's ramp is from nothing to full.
    ramp_ms = round(ramp * 1e3 * own / wanted) if spec.ramped else 0
    offset = 0
    if spec.pulsed and panel.offset == "yes" and (motor := at.of_motor) is not None:
        offset = round((breakaway.current(motor).value or 0.0) * _around(at, solved) * own)
    loop = _loop(at, solved, per_turn, own)
    step = _milliamps(at)
    return Settings(
        full=own,
        wanted=wanted,
        ramp_ms=ramp_ms,
        pause_ms=_ms(panel.pause.value),
        debounce_ms=_ms(panel.debounce.value),
        watch_ms=_ms(panel.watch_time.value),
        link_ms=_ms(panel.link_time.value),
        coil_ms=_ms(at.unit.relay_pause_s),
        offset=min(offset, own),
        knob_full=(1 << int(at.controller.sense_bits.value or 10)) - 1,
        home=min(round((panel.home_duty.value or 0.0) * own), own) if spec.pulsed else 0,
        trip=_trip(at, step),
        trip_ms=_ms(panel.trip_time.value) if panel.trip == "yes" else 0,
        milliamps_fine=step,
        ends=_ends(panel),
        loop=loop,
        watch_from=min(loop.level_of(1), own) if loop is not None else 1,
    )


def _milliamps(at: DriveContext) -> int:
    """What one of 1023 steps at the sense pin stands for (1/256 mA); 0 where nothing is sensed."""
    reference = at.controller.sense_reference.value
    gain = sense_of(at, at.part).value if at.part is not None and at.part.sense_gain.value is not None else None
    return round(reference / 1023 / gain * 1000 * MILLIAMPS) if gain and reference else 0


def _trip(at: DriveContext, step: int) -> int:
    """The reading above which the panel fails. ValueError where it is to, and cannot."""
    panel = at.drive.panel
    if panel.trip == "no":
        return 0
    if panel.trip_a.value is None:
        raise ValueError("Not known yet: the current above which it stops.")
    if not step:
        raise ValueError("it stops above a current, but nothing tells it the current.")
    return max(round(panel.trip_a.value * 1000 * MILLIAMPS / step), 1)


def _ends(panel: PanelSpec) -> tuple[int, int] | None:
    """The counts between which it drives, where they are counted from power-up. ValueError where one is missing."""
    if panel.moves != "relative":
        return None
    if panel.end_front.value is None or panel.end_back.value is None:
        raise ValueError("Not known yet: the ends in counts of its moves.")
    return int(panel.end_back.value), int(panel.end_front.value)


def _ms(seconds: float | None) -> int:
    return max(round((seconds or 0.0) * 1e3), 1)


def _around(at: DriveContext, solved: DriveCircuit) -> float:
    """Duty that one ampere of breakaway current needs at standstill."""
    turning = solved.of_motor
    volts, ohms = at.volts.nominal.value, turning.inner_resistance.value if turning is not None else None
    return ohms / volts if volts and ohms else 0.0


def _loop(at: DriveContext, solved: DriveCircuit, per_turn: Figure | None, full: int) -> Loop | None:
    motor, turning = at.of_motor, solved.of_motor
    if motor is None or turning is None or per_turn is None or not at.drive.has_encoder:
        return None
    counts, spec = per_turn.value, motor.drive.loop
    volts, constant, current = at.volts.nominal.value, motor.motor.motor_constant.value, at.working_current.value
    ohms = turning.inner_resistance.value
    if not counts or not volts or not constant or current is None or ohms is None:
        return None
    period = _ms(spec.period.value)
    gain = spec.gain.value if spec.closed == "yes" else None
    top_rpm = volts / constant * RPM
    drop_rpm = (ohms * current + (turning.lost_volts.value or 0.0)) / constant * RPM
    per_rpm = (gain or 0.0) / RPM
    return Loop(
        period_ms=period,
        rpm_per_count_fine=round(60_000 * FINE / (counts * period)),
        rpm_per_level_fine=max(round(min(top_rpm, MOST_RPM) * SPEED_FINE / full), 1),
        rpm_drop=round(drop_rpm),
        gain_fine=min(round(per_rpm * full * FINE), MOST_GAIN),
        closed=bool(gain),
        integral_fine=_integral(spec, per_rpm * full * FINE, period),
    )


def _integral(spec: LoopSpec, gain_fine: float, period_ms: int) -> int:
    """What an error of one rpm adds to the integral in a period (1/256 level); at least one step where one is asked
    for."""
    time = spec.integral.value
    if time is None or not gain_fine:
        return 0
    return min(max(round(gain_fine * period_ms / (time * 1000)), 1), MOST_GAIN)


MOST_GAIN, MOST_RPM = 32767, 30000
"""So that a program's products stay within 32 bits."""


def _off_the_line(at: DriveContext) -> list[Check]:
    """A drive that no program tells hears no stop line."""
    if at.build.stop_line == "no":
        return []
    return [
        claim(
            "panel.stop_line",
            station=STATION,
            title="The stop line reaches it",
            holds=False,
            todo="No program reads the line here: the stop must cut this drive's power by a contact in its supply.",
            drive=at.drive.id,
            over="warn",
            where="stop_line",
        )
    ]


def _on_the_line(at: DriveContext) -> list[Check]:
    """Joined to one line, every drive stops when it opens: its own stop input must be of that kind."""
    panel = at.drive.panel
    if at.build.stop_line == "no":
        return []
    return [
        claim(
            "panel.stop_line",
            station=STATION,
            title="The stop line reaches it",
            holds=panel.stop_input == "closed",
            todo="Its program does not listen to the line: give it a stop input that opens when pressed, as a broken "
            "wire does.",
            drive=at.drive.id,
            where=f"{panel.path}.stop_input",
            remedy=Remedy("It stops when the line opens", f"{panel.path}.stop_input", "closed"),
        )
    ]


HOUR = Constant("1 h", 3600.0, "time")
WHOLE = Constant("100 %", 1.0, "fraction")
SEVERE = ("limit", "stop", "leg", "direction", "start", "fault", "homing", "ends", "locked")


def _trip_checks(at: DriveContext, signals: SignalsResult) -> list[Check]:
    """A stop by current sees its current, is not at the converter's end, and stays quiet while all is well."""
    panel, part, drive = at.drive.panel, at.part, at.drive.id
    if panel.trip == "no" or part is None:
        return []
    senses = part.sense_gain.value is not None
    where = f"{panel.path}.trip"
    found: list[Check] = [
        claim(
            "panel.trip",
            station=STATION,
            title="What stops by current can tell it",
            holds=senses,
            todo="Nothing tells the current: take a driver with a sense output, a shunt in a stage of your own, or do "
            "without.",
            drive=drive,
            where=where,
            remedy=Remedy("No stop by current", where, "no"),
        )
    ]
    if not senses:
        return found
    limit, time = panel.trip_a.leaf, panel.trip_time.leaf
    start = fuse_laws.sum_of_a_start(signals.ramp, at.starting_current, time, limit, title="Sum of a start")
    return [
        *found,
        upper(
            "panel.trip_quiet",
            station=STATION,
            title="An hour's work, against the stop by current",
            stress=fuse_laws.sum_of_a_start(HOUR, at.any_current, time, limit, title="Sum of an hour's work"),
            bound=WHOLE,
            todo="It would stop at work: let it act above a higher current.",
            drive=drive,
            over="warn",
            where=f"{panel.path}.trip_a",
            destructive=False,
        ),
        upper(
            "panel.trip_start",
            station=STATION,
            title="A start, against the stop by current",
            stress=start,
            bound=WHOLE,
            todo="It would stop at the start: give it more time, let it act above more, or ramp more slowly.",
            drive=drive,
            over="warn",
            where=f"{panel.path}.trip_time",
            destructive=False,
        ),
        upper(
            "panel.trip_range",
            station=STATION,
            title="Sense signal at the stop",
            stress=driver_laws.sense_volts(sense_of(at, part), panel.trip_a.leaf, title="Sense signal at the stop"),
            bound=at.controller.sense_reference.leaf,
            todo="The converter is at its end before: it would never stop. Divide the signal, or stop at less.",
            drive=drive,
            where=f"{panel.path}.trip_a",
        ),
    ]


def _lamp_checks(at: DriveContext, machine: Machine) -> Iterator[Check]:
    """Each lamp can be lit by something, and its pin can feed it."""
    panel, drive = at.drive.panel, at.drive.id
    for lamp, rule in zip(panel.lamps, rules_of(machine, panel.lamps), strict=True):
        yield claim(
            f"panel.lamp.{lamp.id}",
            station=STATION,
            title=f"{rule.name} can be lit",
            holds=not never_lit(machine, rule),
            todo="Nothing on this panel lights it: choose another state, or take it away.",
            drive=drive,
            over="warn",
            where=f"{panel.path}.lamps",
            destructive=False,
        )
        yield upper(
            f"panel.lamp_a.{lamp.id}",
            station=STATION,
            title=f"Current of {rule.name}",
            stress=lamp.current.leaf,
            bound=at.controller.pin_current.leaf,
            todo="More than a pin gives: a small transistor, or a lamp for less.",
            drive=drive,
            where=f"{panel.path}.lamps",
        )


def checks(at: DriveContext, signals: SignalsResult, result: PanelResult) -> list[Check]:
    """The choices go together, nothing forbidden can be reached, and the times suit what is driven."""
    panel, drive = at.drive.panel, at.drive.id
    if not at.drive.signals.by_program:
        return _off_the_line(at)
    found: list[Check] = [
        claim(
            "panel.choices",
            station=STATION,
            title="The panel's choices go together",
            holds=result.machine is not None,
            todo=result.refusal,
            drive=drive,
            where=f"{panel.path}.{'homing' if at.drive.signals.pulsed else 'speed_by'}",
            destructive=False,
            remedy=None
            if at.drive.signals.pulsed or panel.speed_by != "knob"
            else Remedy("The speed is fixed", f"{panel.path}.speed_by", "fixed"),
        ),
    ]
    if result.checked is not None:
        for verdict in result.checked.verdicts:
            presses = "; ".join(s.says for s in verdict.steps)
            found.append(
                claim(
                    f"panel.{verdict.code}",
                    station=STATION,
                    title=verdict.says,
                    holds=verdict.holds,
                    todo=f"It {'cannot' if verdict.code == 'trapped' else 'can'}: {presses}.",
                    drive=drive,
                    over="stop" if verdict.code in SEVERE else "warn",
                    where=_WHERE[verdict.code].format(p=panel.path, s=at.drive.signals.path),
                    destructive=verdict.code in SEVERE,
                )
            )
    found += _on_the_line(at)
    found += _trip_checks(at, signals)
    if result.machine is not None:
        found += _lamp_checks(at, result.machine)
    if panel.watch == "yes":
        found.append(
            claim(
                "panel.watch",
                station=STATION,
                title="What watches for counts has an encoder",
                holds=at.drive.has_encoder,
                todo="Fit an encoder, or do without the watch.",
                drive=drive,
                where=f"{panel.path}.watch",
                destructive=False,
            )
        )
    if (
        at.part is not None
        and at.part.input_style in ("coil and pwm", "crossed coil and pwm")
        and at.unit.made_of == "stage"
    ):
        found.append(
            lower(
                "panel.pause",
                station=STATION,
                title="Rest before the relays change over",
                stress=panel.pause.leaf,
                bound=at.unit.stage.relay_pause.leaf,
                todo="Rest longer: the current must die and the contacts settle first.",
                drive=drive,
                where=f"{panel.path}.pause",
            )
        )
    return found


_WHERE = {
    "limit": "{p}.limits",
    "stop": "{p}.stop_latched",
    "leg": "{s}.decay",
    "direction": "{s}.reversal",
    "start": "{p}.start_up",
    "fault": "{p}.fault_input",
    "both": "{p}.both",
    "homing": "{p}.homing",
    "ends": "{p}.end_front",
    "locked": "interlocks",
    "trapped": "{p}.limit_stops",
}
