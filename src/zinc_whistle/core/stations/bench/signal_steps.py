"""What tells the driver, on the bench: a controller's pulses, a level, or a timer circuit."""

from __future__ import annotations

import math
from dataclasses import replace

from ...algebra.nodes import Constant, Node
from ...captures.wave import Wave
from ...cases import breakaway
from ...cases.driving import Driving
from ...cases.operating import DriveContext
from ...cases.pins import PANEL, panel_contacts
from ...cases.polarity import turned_round
from ...cases.timer_circuit import of_drive
from ...cases.truth import truth_table
from ...cases.wires.terminal import Terminal
from ...laws import bench as rules
from .places import Places
from .scope import scope_setting
from .step import Step, dc_volts, step
from .telling import ordered

CLIP = "Ground clip to the controller's ground, never to a bridge output: the clip is earth."
LEVEL_SHARE = 0.1
TRACK_END = 0.03
"""Share of a potentiometer's turn in which its track does nothing (common practice, no source)."""


def signal_steps(at: DriveContext, chosen: Driving | None) -> list[Step]:
    """What tells the driver, looked at by its kind: nothing of a hand, a level, a timer's output or pulses; before
    either of a program's, its inputs."""
    told = at.drive.signals.told_by
    if told == "hand":
        return []
    if told == "timer":
        return [_unplugged(s, at) for s in _timer(at)]
    made = (
        [ordered(s, at, 1.0) for s in [_level(at)]]
        if told == "level"
        else [ordered(s, at, 0.5) for s in _pulses(at, chosen)]
    )
    return [_unplugged(s, at) for s in (*_proving(at), *made)]


def _unplugged(step: Step, at: DriveContext) -> Step:
    """A step with the program loaded and what hangs on the driver unplugged, called by its name."""
    return replace(step, stage="pulses", title=f"{step.title}, {Places(at).turns} unplugged")


def _proving(at: DriveContext) -> list[Step]:
    """Every contact of the panel, pressed once while the program keeps its outputs off."""
    contacts = panel_contacts(at.drive.panel, at.drive.signals.reversal != "one way")
    if not contacts:
        return []
    names = ", ".join(PANEL[n].lower() for n in contacts)
    return [
        step(
            "proving",
            title="Inputs, proved",
            where=f"Controller alone: {names}",
            instrument="Program's proving mode",
            setting="Type prove 1, press one after the other, type inputs and the drive's number after each",
            expected=Constant(str(len(contacts)), float(len(contacts)), "number", "contacts of its panel"),
            unit="1",
            share=0.0,
            reason="each must read 1 while it is pressed and 0 when let go; count those that do",
            caution="Type prove 0 afterwards: until then nothing runs.",
            type=("prove 1", "inputs {n}", "prove 0"),
            purpose="Every button, limit and stop is known to work before anything can move.",
            means="Always 0 or always 1: a broken wire, a missing ground, or the contact of the other kind.",
        )
    ]


def _wave(level: float | None, frequency: Node, duty: Node) -> Wave | None:
    """Pulses from nothing to a level; None where one of the three is not known."""
    pace, share = frequency.value, duty.value
    return Wave(0.0, level, pace, share) if level and pace and share is not None else None


def _frequency(
    where: str, setting: str, expected: Node, share: float, reason: str, caution: str, wave: Wave | None
) -> Step:
    return step(
        "frequency",
        title="PWM frequency",
        where=where,
        instrument="Oscilloscope",
        setting=setting,
        expected=expected,
        unit="kHz",
        share=share,
        reason=reason,
        caution=caution,
        purpose="Heat, whine and ripple were worked out for it.",
        means="Off by whole factors: the wrong prescaler or clock. Nothing: another pin than planned.",
        wave=wave,
    )


def _level(at: DriveContext) -> Step:
    """What a controller's output gives the driver's input."""
    high = at.controller.output_high.leaf
    return step(
        "on_level",
        title="Level, switched on",
        where="Controller's pin, before its transistor" if turned_round(at.unit, at.part) else "Driver, its input",
        instrument="Meter",
        setting=dc_volts(high.value),
        expected=at.controller.logic_v.leaf,
        unit="V",
        share=LEVEL_SHARE,
        reason="an output that is lightly loaded comes up to its own supply, ±10 %",
    )


def _timer(at: DriveContext) -> list[Step]:
    """The timer circuit's pace, and its knob at both ends."""
    made, spec = of_drive(at.build, at.drive), at.drive.signals.timer
    setting = "Probe ×10, DC coupling"
    if made.frequency.value and made.high.value:
        setting = scope_setting(made.high.value, made.frequency.value)
    clip = "Ground clip to the timer's ground, never to a motor lead: the clip is earth."
    tolerances = math.hypot(spec.pot_tolerance.value or 0.0, spec.capacitor_tolerance.value or 0.0)
    ends = (
        ("knob_low", "PWM duty, knob turned down", made.least),
        ("knob_high", "PWM duty, knob turned up", made.greatest),
    )
    return [
        _frequency(
            "Timer's output",
            setting,
            made.frequency,
            tolerances,
            "the tolerances of potentiometer and capacitor together",
            clip,
            _wave(made.high.value, made.frequency, rules.HALF),
        ),
        *(
            step(
                id,
                title=title,
                where="Timer's output",
                instrument="Oscilloscope",
                setting=setting,
                expected=expected,
                unit="%",
                share=0.0,
                reason="tracks have a dead end of a few per cent, and one per cent to read it off the screen",
                caution=clip,
                extra=TRACK_END,
                wave=_wave(made.high.value, made.frequency, expected),
                level=made.high,
            )
            for id, title, expected in ends
        ),
    ]


def _pulses(at: DriveContext, chosen: Driving | None) -> list[Step]:
    plan, level = at.plan, at.controller.logic_v.value
    setting = "Probe ×10, DC coupling"
    if plan.frequency.value and level:
        setting = scope_setting(level, plan.frequency.value)
    centre = at.drive.signals.alignment == "centre"
    span = plan.top if centre else rules.edge_span(plan.top)
    duty = rules.half_duty(span, because=[at.drive.signals.chosen("alignment")])
    motor = at.of_motor
    first = breakaway.first_duty(motor, chosen.circuit) if motor is not None and chosen is not None else None
    if first is not None:
        duty = rules.half_beyond(first, duty)
    one_step = 1 / span.value if span.value else 0.0
    wave = _wave(level, plan.frequency, duty)
    return [
        _frequency(
            "Driver, PWM input",
            setting,
            plan.frequency,
            at.controller.clock_tolerance.value or 0.01,
            "the controller's clock tolerance",
            CLIP,
            wave,
        ),
        step(
            "duty",
            title="PWM duty, half commanded",
            where="Driver, PWM input",
            instrument="Oscilloscope",
            setting=setting,
            expected=duty,
            unit="%",
            share=0.0,
            reason="one step of the timer, and one per cent to read it off the screen",
            caution=CLIP,
            extra=one_step + 0.01,
            purpose="That half is half: else every speed is another than ordered.",
            means="The rest of 100 %: the line is inverted, or the probe on the other side of a transistor.",
            probes=_pulse_probes(at),
            wave=wave,
            level=at.controller.logic_v.leaf,
        ),
    ]


def _pulse_probes(at: DriveContext) -> tuple[Terminal, ...]:
    """Where the pulses reach the driver: its first line that carries them."""
    if at.part is None:
        return ()
    table = truth_table(at.part.input_style, at.drive.signals.decay, at.drive.signals.pulsed)
    names = [n for n, need in zip(table.names, table.needs, strict=True) if need == "pwm"]
    places = Places(at)
    return (places.driver(names[0]), places.ground) if names else ()
