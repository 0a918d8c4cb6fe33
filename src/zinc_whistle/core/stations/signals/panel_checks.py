"""Checks of a panel: what can never happen, lines shared by drives, the stop by current, lamps."""

from __future__ import annotations

from collections.abc import Iterator

from ...algebra.findings import Remedy
from ...algebra.limits import Check, claim, lower, upper
from ...algebra.nodes import Constant
from ...cases import breakaway
from ...cases.circuit import DriveCircuit
from ...cases.driving import sense_of
from ...cases.operating import DriveContext
from ...laws import driver as driver_laws
from ...laws import fuse as fuse_laws
from ...laws import motor as motor_laws
from ...laws.nothing import NO_DUTY, NO_OHMS
from ...panel.lamps import never_lit, rules_of
from ...panel.machine import Machine
from .compute import SignalsResult
from .panel import PanelResult

STATION = "signals"


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


def _watched_start(at: DriveContext, signals: SignalsResult, solved: DriveCircuit) -> list[Check]:
    """A start is over before the watch takes it for a jam: there are no counts while the duty climbs from where the
    watch begins to where the motor breaks away. Asked where its breakaway is known."""
    motor, circuit, panel = at.of_motor, solved.of_motor, at.drive.panel
    if motor is None or circuit is None or not at.drive.signals.ramped or not breakaway.known(motor):
        return []
    around = driver_laws.loop_resistance(
        at.feed_resistance, NO_OHMS, circuit.any_inner, NO_OHMS, NO_OHMS, title="Resistance round the circuit"
    )
    starts = motor_laws.breakaway_duty(
        breakaway.current(motor), around, circuit.lost_volts, at.volts.any, title="Duty at which it starts"
    )
    return [
        upper(
            "panel.watch_start",
            station=STATION,
            title="A start, before the watch takes it for a jam",
            stress=motor_laws.first_turn(
                starts,
                breakaway.watched_from(motor, solved) or NO_DUTY,
                signals.ramp,
                circuit.duty_nominal,
                because=[panel.chosen("offset")],
            ),
            bound=panel.watch_time.leaf,
            todo="The ramp has not reached the duty at which it lets go: watch for longer, ramp faster, or start from "
            "the breakaway duty.",
            drive=at.drive.id,
            over="warn",
            where=f"{panel.path}.watch_time",
            destructive=False,
        )
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


def checks(at: DriveContext, signals: SignalsResult, result: PanelResult, solved: DriveCircuit) -> list[Check]:
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
        found += _watched_start(at, signals, solved)
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
