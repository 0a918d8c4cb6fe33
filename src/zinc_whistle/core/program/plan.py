"""What a program needs to know of the build: every drive of one controller, as whole numbers with their reasons."""

from __future__ import annotations

import itertools
import math
from collections.abc import Mapping
from dataclasses import replace

from ..algebra.quantities import phrase
from ..assess import Assessment, DriveAssessment, DrivenAssessment, ServoAssessment, transits
from ..cases.pins import IDENTITY, PANEL, block_of, panel_contacts
from ..cases.timer_plan import TimerPlan
from ..laws.decoder import alone, table
from ..model.panel import PanelSpec
from ..model.sequence import PLAY
from ..model.signals import Controller, Pin, Timer
from ..panel.lamps import rules_of
from ..panel.script import Guard, Script, guards_of, play_signal
from ..panel.settings import Settings
from ..stations.signals.panel import lines_for
from ..stations.signals.panel_settings import settings_of
from ..stations.signals.radio import remote_of
from .handset import HandsetProgram
from .numbering import told_by
from .planned import Counting, DriveProgram, NotYet, PanelContact, PinTiming, ProgramPlan, ServoProgram
from .twins import differences, other_of_two
from .words import identifier

TICK_MS = {"avr": 1, "micropython": 5}
"""How often each program looks: an interpreter needs a few ms for a round."""
WIDE = 65535
"""Top of a level where a language's pulses do not tell their timer's top."""


def contacts_of(panel: PanelSpec, pins: Mapping[str, Pin], two_way: bool) -> tuple[PanelContact, ...]:
    """The contacts that have a pin. Stop, limits and fault always go to ground, so that the pull-up is the chip's
    own."""
    found = []
    for name in [n for n in panel_contacts(panel, two_way) if PANEL[n] in pins] + (
        ["fault"] if "FAULT" in pins else []
    ):
        own = name in ("stop", "limit_front", "limit_back", "fault")
        low = {
            "stop": panel.stop_input == "open",
            "limit_front": panel.limit_contact == "open",
            "limit_back": panel.limit_contact == "open",
            "fault": panel.fault_input == "low",
        }.get(name, panel.pressed == "low")
        pin = pins["FAULT" if name == "fault" else PANEL[name]]
        found.append(PanelContact(name, pin, low, own or panel.pressed == "low"))
    return tuple(found)


NO_PULSES = PinTiming(timer="", bits=8, free_top=False, prescaler=1, top=1, centre=False, frequency_hz=0.0)
"""Of a drive that is on or off: no timer makes anything for it."""


def plan_program(assessment: Assessment, controller_id: str) -> ProgramPlan:
    """Everything that the program of a controller holds. NotYet with sentences where something is missing, or where the
    other of two that run one program would need another."""
    own = _planned(assessment, controller_id)
    if not own.controller.node:
        return own
    other = _planned(assessment, other_of_two(assessment.build, own.controller).id)
    first, second = (own, other) if own.controller.node == "first" else (other, own)
    if apart := differences(first, second):
        raise NotYet(apart)
    return replace(first, second=own is second)


def _planned(assessment: Assessment, controller_id: str) -> ProgramPlan:
    """What the program of a controller holds, seen alone."""
    build = assessment.build
    controller = next((c for c in build.controllers if c.id == controller_id), None)
    if controller is None:
        raise NotYet(["This build has no such controller."])
    missing: list[str] = []
    if controller.program == "":
        missing.append("This controller's profile names no language for a program: choose a profile from the shelf.")
    if not controller.clock.value:
        missing.append("Not known yet: the controller's clock.")
    told = told_by(build, controller_id)
    drives: list[DriveProgram] = []
    servos: list[ServoProgram] = []
    slugs: set[str] = set()
    for number, drive in enumerate(told, 1):
        done = assessment.drives[drive.id]
        slug = identifier(drive.name or drive.id, slugs)
        try:
            if (servo := done.of_servo) is not None:
                servos.append(_servo(servo, number, slug))
            if (driven := done.driven) is not None:
                drives.append(_drive(driven, number, slug))
        except ValueError as error:
            missing.append(f"{drive.name or drive.id}: {error}")
    scripts, guards = _scripts(assessment, controller_id, missing)
    if not drives and not servos and not missing:
        missing.append("No drive is told by this controller yet.")
    tick = TICK_MS.get(controller.program, 1)
    remote = None
    if build.handsets and build.radio.board == controller_id:
        if controller.node:
            missing.append("One program for two controllers has no handsets.")
        try:
            remote = remote_of(build, {d.id: d.number for d in drives}, tick)
        except ValueError as error:
            missing.append(str(error))
    if missing:
        raise NotYet(missing)
    turns = itertools.count()
    servos = [replace(s, turn=next(turns)) if s.turn is not None else s for s in servos]
    ticked = tuple(replace(d, settings=d.settings.in_ticks(tick)) for d in drives)
    uses = [u for d in told for u in assessment.drives[d.id].wiring.pins if u.signal == IDENTITY and not u.refusal]
    if controller.node and not uses:
        raise NotYet(["One program for two: the identity pin has no place yet; it needs a drive with a driver."])
    return ProgramPlan(
        build=build.name,
        controller=controller,
        clock_hz=float(controller.clock.value or 0.0),
        drives=ticked,
        servos=tuple(servos),
        tick_ms=tick,
        scripts=scripts,
        plays=_plays(assessment, scripts),
        guards=guards,
        remote=remote,
        steering=_steered(assessment, tuple(drives)),
        identity=uses[0].pin if uses else None,
    )


def _steered(assessment: Assessment, drives: tuple[DriveProgram, ...]) -> tuple[int, int, bool] | None:
    """What steers by its difference, where both sides are among these and can."""
    steering, numbers = assessment.build.steering, {d.id: d.number for d in drives}
    told = [f for f in assessment.shared_findings if f.code == "panel.steering"]
    if not told or told[0].verdict != "holds" or steering.left not in numbers:
        return None
    return numbers[steering.left], numbers[steering.right], steering.mirrored == "yes"


def _plays(assessment: Assessment, scripts: tuple[Script, ...]) -> tuple[PanelContact | None, ...]:
    """The buttons of the sequences, in their order: each to ground, on the chip's own pull-up."""
    wires = {s.id: play_signal(n) for n, s in enumerate(assessment.build.sequences, 1)}
    uses = [u for d in assessment.drives.values() for u in d.wiring.pins if u.signal.startswith(PLAY)]
    pins = {u.signal: u.pin for u in uses if u.pin is not None and not u.refusal}
    found = [(wires[s.id], pins.get(wires[s.id])) for s in scripts]
    return tuple(None if pin is None else PanelContact(signal, pin, True, True) for signal, pin in found)


def _scripts(
    assessment: Assessment, controller_id: str, missing: list[str]
) -> tuple[tuple[Script, ...], tuple[Guard, ...]]:
    """The sequences and interlocks of a controller; what is missing is added to the list."""
    build = assessment.build
    own = {s.id for s in build.sequences if s.controller == controller_id}
    results = [r for r in assessment.sequences if r.id in own]
    missing += [r.refusal for r in results if r.script is None]
    try:
        guards = guards_of(build, controller_id, transits(assessment.drives))
    except ValueError as error:
        missing.append(str(error))
        guards = ()
    return tuple(r.script for r in results if r.script is not None), guards


def _timing(plan: TimerPlan, centre: bool, controller: Controller | None = None) -> PinTiming:
    top, frequency = plan.top.value, plan.frequency.value
    if plan.timer is None or plan.prescaler is None or top is None or frequency is None:
        raise ValueError("no timer makes its pulses: see the timers at Signals.")
    timer = plan.timer
    return PinTiming(
        timer=timer.id,
        bits=timer.bits,
        free_top=timer.free_top,
        prescaler=plan.prescaler,
        top=int(top),
        centre=centre,
        frequency_hz=frequency,
        timer_number=_number_of(timer, controller),
    )


def _number_of(timer: Timer, controller: Controller | None) -> str:
    """What the target calls a timer: as the compare outputs of its pins are called."""
    pins = controller.pins if controller is not None else []
    return next((p.compare[0] for p in pins if p.timer == timer.id and p.compare), "")


NOT_OF_A_DRIVE = ("devices", "identity")
"""Where wires end that are told with a drive and belong to its controller."""


def _pins(done: DriveAssessment) -> dict[str, Pin]:
    refused = [f"{u.signal} has no pin ({u.refusal})" for u in done.wiring.pins if u.pin is None or u.refusal]
    if refused:
        raise ValueError("; ".join(refused) + ".")
    # What other devices hang on is left to the builder's own code.
    return {u.signal: u.pin for u in done.wiring.pins if u.pin is not None and block_of(u.signal) not in NOT_OF_A_DRIVE}


def numbers_of(done: DrivenAssessment) -> Settings:
    """The numbers of a drive as the language of its controller counts them, times in ms. ValueError where one is not
    known yet."""
    wide = done.context.controller.program == "micropython"
    return settings_of(done.context, done.circuit, done.signals, done.counts_per_motor_turn, WIDE if wide else None)


def _drive(done: DrivenAssessment, number: int, slug: str) -> DriveProgram:
    at, panel = done.context, done.panel
    drive = done.drive
    lines = lines_for(at)
    if lines is None:
        raise ValueError("no driver is chosen yet.")
    if panel.machine is None:
        raise ValueError(panel.refusal)
    settings = numbers_of(done)
    pins = _pins(done)
    counting = None
    if "ENC A" in pins and (motor := drive.of_motor) is not None:
        read = alone if motor.encoder.single else table
        counting = Counting(pins["ENC A"], pins.get("ENC B"), read(motor.encoder.edges))
    if "ahead" in panel.machine.inputs and counting is None:
        raise ValueError("it moves by counts, but has no encoder.")
    if drive.panel.watch == "yes" and counting is None:
        raise ValueError("it watches for counts, but has no encoder.")
    timing = _timing(at.plan, drive.signals.alignment == "centre") if drive.signals.pulsed else NO_PULSES
    dead = at.unit.stage.dead_time.value if at.unit.made_of == "stage" else None
    clock = at.controller.clock.value or 0.0
    return DriveProgram(
        id=drive.id,
        number=number,
        name=drive.name or drive.id,
        slug=slug,
        panel=drive.panel,
        machine=panel.machine,
        lines=lines,
        settings=settings,
        timing=timing,
        pins=pins,
        # Rounding first: a dead time of exactly seven steps must not become eight by a last digit.
        dead_steps=math.ceil(round((dead or 0.0) * clock / timing.prescaler, 6)),
        contacts=contacts_of(drive.panel, pins, "back" in panel.machine.inputs),
        counting=counting,
        lamps=rules_of(panel.machine, drive.panel.lamps),
        reasons=_reasons(done, settings, dead),
    )


def _reasons(done: DrivenAssessment, settings: Settings, dead_s: float | None) -> dict[str, str]:
    at, wanted = done.context, done.drive.signals.pwm_frequency.value
    frequency, duty, ramp = at.plan.frequency.value, done.circuit.duty_nominal.value, done.signals.ramp.value
    panel = done.drive.panel
    said = {
        "full": f"{phrase(frequency or 0.0, 'frequency')} where {phrase(wanted or 0.0, 'frequency')} was wanted"
        if done.drive.signals.pulsed
        else "on or off: one step",
        "wanted": f"working duty {(duty or 0.0) * 100:.1f} %" if done.drive.signals.pulsed else "on is on all the time",
        "ramp_ms": f"ramp of {phrase(ramp or 0.0, 'time')} to the working duty" if settings.ramp_ms else "no ramp",
        "pause_ms": f"rest of {phrase(panel.pause.value or 0.0, 'time')} before the other direction",
        "debounce_ms": "contacts bounce for several ms",
        "home": "duty of homing" if settings.home else "homing at the working duty",
        "trip": f"stops above {phrase(panel.trip_a.value or 0.0, 'current')}"
        if settings.trip
        else "no stop by current",
        "trip_ms": f"at twice that within {phrase(panel.trip_time.value or 0.0, 'time')}, the more the sooner",
        "milliamps": "one step of the converter at the sense pin, in 1/256 mA",
        "ends": "counted from where it stood when power came",
        "most": "no more duty than this, whatever is asked for",
        "slow": "counts over which a move slows down",
        "creep": "a move creeps at this level after its first crossing",
        "watch_ms": "driven without counts for so long: a jam, or a lead off",
        "link_ms": "the port must be heard within this time",
        "coil_ms": "relays: pulses off, and contacts at rest, for so long",
        "offset": "duty at which the motor breaks away" if settings.offset else "no breakaway offset",
        "dead": f"dead time of at least {phrase(dead_s, 'time')}" if dead_s else "",
    }
    if settings.loop is not None:
        said["loop"] = "gain, period and counts of the Loop and Encoder stations"
    return said


def _servo(done: ServoAssessment, number: int, slug: str) -> ServoProgram:
    spec, pins = done.drive.servo, _pins(done)
    low, high = spec.pulse_low.value, spec.pulse_high.value
    if low is None or high is None:
        raise ValueError("its pulses are not known yet.")
    pin, plan = pins["PULSE"], done.servo.plan
    if not plan.in_turn and (pin.timer != (plan.timer.id if plan.timer else None) or not plan.pins):
        raise ValueError("no timer has room for its pulses: see the timers at Signals.")
    return ServoProgram(
        id=done.drive.id,
        number=number,
        name=done.drive.name or done.drive.id,
        slug=slug,
        pin=pin,
        timing=_timing(done.servo.plan, False, done.controller),
        low_us=low * 1e6,
        high_us=high * 1e6,
        poses=tuple(
            (p.name or p.id, min(round(share * 1000), 1000))
            for p in spec.poses
            if (share := spec.place_of(p.id)) is not None
        ),
        knob=pins.get("KNOB"),
        turn=0 if plan.in_turn else None,
    )


def plan_handset(assessment: Assessment, controller_id: str) -> HandsetProgram | None:
    """What the program of a handset holds; None for a controller that is no handset's. NotYet with sentences where
    something is missing."""
    build = assessment.build
    handset = next((h for h in build.handsets if h.controller == controller_id), None)
    controller = next((c for c in build.controllers if c.id == controller_id), None)
    if handset is None or controller is None or any(d.controller == controller_id for d in build.drives):
        return None
    wrong = [
        f.title + ": " + (f.todo or "not known yet.")
        for f in assessment.shared_findings
        if f.code.startswith((f"radio.{handset.id}.", "radio.address")) and f.code.rpartition(".")[2] in NEEDED
        if f.verdict != "holds"
    ]
    if not controller.clock.value:
        wrong.append("Not known yet: the controller's clock.")
    period = build.radio.period.value
    if wrong or period is None:
        raise NotYet(wrong or ["Not known yet: how often a handset sends."])
    link = assessment.radio
    assert link is not None
    own = next(h for h in link.handsets if h.id == handset.id)
    *pins, lamp = [u.pin for u in own.pins if u.pin is not None]
    names = [b.name or b.presses.replace("_", " ") for b in handset.buttons]
    return HandsetProgram(
        build=build.name,
        name=handset.name or "Handset",
        controller=controller,
        clock_hz=float(controller.clock.value or 0.0),
        address=int(build.radio.address.value or 0),
        number=int(handset.number.value or 0),
        period_ms=round(period * 1000),
        buttons=tuple(zip(names, pins, strict=True)),
        lamp=lamp,
        tick_ms=TICK_MS.get(controller.program, 1),
    )


NEEDED = ("number", "controller", "buttons", "pins", "address")
"""Checks of a handset without which it has no program."""
