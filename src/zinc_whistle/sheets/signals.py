"""Signals: pulses and timers, the window of frequencies, strips, the panel."""

from __future__ import annotations

from collections.abc import Sequence

from ..core.algebra.quantities import phrase
from ..core.assess import Assessment, DrivenAssessment, ServoAssessment
from ..core.cases import course
from ..core.cases.timer_plan import kept, settings
from ..core.cases.timers import can_pulse, in_software
from ..core.model.board import lit
from ..core.model.panel import PanelLamp
from ..core.panel.strips import StripSegment, period
from ..core.simulation.faults import FAULTS
from ..core.simulation.scenario import SCENARIOS
from ..core.stations.signals.compute import scales, strip, table
from ..core.stations.signals.panel import lines_for, told, turning
from ..core.stations.signals.panel_settings import settings_of
from ..core.stations.signals.window import HIGHEST_HZ, LOWEST_HZ
from . import handsets, sequences, timer_circuit
from .fields import Describer, Section
from .inputs import Shown, StationSheet, shown
from .other_loads import servo, servo_hint
from .panel import asked_of_panel, panel_view
from .scale import in_unit
from .signals_views import (
    BoundView,
    PulsePin,
    RadioView,
    ScaleView,
    ScenarioView,
    SegmentView,
    SequenceView,
    SignalsPicture,
    StripView,
    TimerView,
    TruthRow,
    WindowView,
)


def signals(done: DrivenAssessment, played: list[SequenceView], radio: RadioView | None) -> SignalsPicture:
    """Everything of a drive with a driver."""
    at, result = done.context, done.signals
    drawn = strip(at.of_motor, result) if at.of_motor is not None else None
    truth = table(at)
    lamps = at.part.lamps if at.part is not None else ""
    times, duties, currents = _ramp(done)
    return SignalsPicture(
        time_us=in_unit(drawn.time_s, "µs") if drawn else [],
        level=drawn.level if drawn else [],
        motor_v=in_unit(drawn.motor_v, "V") if drawn else [],
        current_a=in_unit(drawn.current_a, "A") if drawn else [],
        ramp_time_s=times,
        ramp_duty_pct=duties,
        ramp_current_a=currents,
        current_limit_a=result.current_limit.value,
        timers=_timers(done),
        truth_names=list(truth.names) if truth else [],
        truth=[
            TruthRow(
                inputs=list(r.inputs),
                output_1=r.output_1,
                output_2=r.output_2,
                motor=r.motor,
                lamps=", ".join(lit(lamps, r.action)),
            )
            for r in truth.rows
        ]
        if truth
        else [],
        scenarios=[ScenarioView(value=value, label=label) for value, label in SCENARIOS.items()]
        if at.of_motor is not None
        else [],
        faults=[ScenarioView(value=value, label=label) for value, label in FAULTS.items()],
        window=_window(done),
        pulse_pins=_pulse_pins(done),
        conflict=list(at.timetable.why) if at.timetable and at.timetable.conflict else [],
        software=_software(done),
        scales=_scales(done),
        strips=_strips(done),
        panel=panel_view(done),
        sequences=played,
        radio=radio,
        controller=at.drive.controller if at.drive.signals.by_program else "",
        told_by=at.drive.signals.told_by,
        timer=timer_circuit.drawn(done) if at.drive.signals.told_by == "timer" else None,
    )


def _ramp(done: DrivenAssessment) -> tuple[list[float], list[float], list[float]]:
    found = course.ramp(done.context, done.signals.ramp, done.signals.duty, done.circuit.stall_full)
    return list(found.time_s), in_unit(found.duty, "%"), list(found.current_a)


def _signed(error: float) -> str:
    return f"{error:+.1%}".replace("-", "−").replace("%", " %")


def _timers(done: DrivenAssessment) -> list[TimerView]:
    at, plan = done.context, done.context.plan
    made: list[TimerView] = []
    if at.drive.signals.told_by != "pulses":
        return made
    for setting in plan.others:
        pins = [x.label for x in at.controller.pins if x.timer == setting.timer.id and can_pulse(x)]
        chosen = plan.timer is setting.timer and plan.prescaler == setting.prescaler
        made.append(
            TimerView(
                timer=setting.timer.name,
                prescaler=setting.prescaler,
                top=setting.top,
                frequency=phrase(setting.frequency_hz, "frequency"),
                error=_signed(setting.error),
                steps=setting.top + 1,
                pins=", ".join(pins),
                chosen=chosen,
            )
        )
    return made


def _pulse_pins(done: DrivenAssessment) -> list[PulsePin]:
    """Every pin that can carry pulses, side by side: what this drive would get there, and who has it."""
    at = done.context
    controller, spec = at.controller, at.drive.signals
    clock, wanted = controller.clock.value, spec.pwm_frequency.value
    if not clock or not wanted or spec.told_by != "pulses":
        return []
    owners = {}
    if at.timetable is not None:
        owners = {p.id: f"{x.wish.name}: {s}" for x in at.timetable.places.values() for s, p in x.pins.items()}
    away = kept(controller)
    made = []
    for pin in (p for p in controller.pins if can_pulse(p)):
        timer = next((t for t in controller.timers if t.id == pin.timer), None)
        if timer is None:
            continue
        best = settings(clock, wanted, [timer], spec.alignment == "centre")[0]
        made.append(
            PulsePin(
                pin=pin.label,
                timer=timer.name,
                setting=f"÷{best.prescaler}, {phrase(best.frequency_hz, 'frequency')}",
                error=_signed(best.error),
                steps=f"{best.top + 1}",
                taken_by=f"kept for {away[timer.id]}" if timer.id in away else owners.get(pin.id, "free"),
            )
        )
    return made


def _software(done: DrivenAssessment) -> str:
    at = done.context
    wanted = at.drive.signals.pwm_frequency.value
    encoder = motor.encoder if (motor := at.drive.of_motor) is not None else None
    each = encoder.interrupt_time.value if encoder is not None else None
    share = encoder.interrupt_share.value if encoder is not None else None
    if not wanted or at.drive.signals.told_by != "pulses":
        return ""
    made = in_software(wanted, each, share)
    steps = f"{made.steps:.0f}" if made.steps >= 1 else "no"
    return (
        f"In software, at {phrase(wanted, 'frequency')}: {steps} steps in {made.share * 100:.0f} % of the time, "
        f"an interrupt of {phrase(made.jitter_s, 'time')} a step: {made.says}."
    )


def _window(done: DrivenAssessment) -> WindowView:
    window, present = done.signals.window, done.context.plan.frequency.value
    bounds = []
    for b in window.bounds:
        hz = b.frequency.value
        bounds.append(
            BoundView(
                name=b.name,
                side=b.side,
                hz=hz,
                text="not known yet" if hz is None else phrase(hz, "frequency"),
                beyond=b.beyond,
                soft=b.soft,
            )
        )
    if not window.open:
        verdict = window.reason
        if window.compromise_hz is not None:
            verdict += f" Nearest compromise: about {phrase(window.compromise_hz, 'frequency')}."
    else:
        low = "no limit from below" if window.low_hz is None else f"from {phrase(window.low_hz, 'frequency')}"
        high = "no limit from above" if window.high_hz is None else f"to {phrase(window.high_hz, 'frequency')}"
        verdict = f"All is well {low} {high}." if window.low_hz and window.high_hz else f"{low}, {high}.".capitalize()
        if window.missing:
            verdict = f"As far as it is known: {verdict[:1].lower()}{verdict[1:]}"
    return WindowView(low_hz=LOWEST_HZ, high_hz=HIGHEST_HZ, present_hz=present, bounds=bounds, verdict=verdict)


def _scales(done: DrivenAssessment) -> list[ScaleView]:
    """The working duty in the scales that programs use."""
    duty, top = done.signals.duty.value, done.context.plan.top.value
    if done.drive.signals.told_by != "pulses":
        return []
    return [] if duty is None or top is None else [ScaleView(name=name, text=text) for name, text in scales(duty, top)]


def _strips(done: DrivenAssessment) -> list[StripView]:
    at, lines = done.context, lines_for(done.context)
    frequency, duty = at.plan.frequency.value, done.signals.duty.value
    if lines is None or not lines.names or duty is None:
        return []
    made = []
    if frequency:
        dead = at.unit.stage.dead_time.value if at.unit.made_of == "stage" else None
        shown = period(lines, frequency, min(max(duty, 0.0), 1.0), dead or 0.0, at.drive.signals.decay)
        made.append(_strip("One PWM period at work", list(lines.names), shown))
    machine = done.panel.machine
    if machine is None:
        return made
    try:
        numbers = settings_of(at, done.circuit, done.signals, done.counts_per_motor_turn)
        turned = turning(machine, told(at), numbers)
    except ValueError:
        return made
    return [*made, _strip("Changing direction", list(lines.names), turned)] if turned else made


def _strip(title: str, lines: list[str], segments: Sequence[StripSegment]) -> StripView:
    return StripView(
        title=title,
        lines=lines,
        segments=[
            SegmentView(length=s.seconds, levels=dict(s.levels), says=s.says, text=phrase(s.seconds, "time"))
            for s in segments
        ],
    )


def _signals_figures(done: DrivenAssessment) -> Shown:
    r = done.signals
    told = done.drive.signals.told_by
    if told == "timer":
        return timer_circuit.figures(done)
    if told != "pulses":
        motor = done.of_motor
        return shown(
            "on, all the time",
            (
                (motor.context.working_speed if motor is not None else None, "rpm"),
                done.context.working_current,
                done.circuit.source_start,
            ),
        )
    timer = done.context.plan.timer
    low = done.of_motor.low_speed if done.of_motor is not None else None
    subject = f"{timer.name}, ÷{done.context.plan.prescaler}" if timer else "no timer yet"
    return shown(
        subject,
        (
            r.frequency,
            (r.steps, "steps"),
            (r.bits, "bit"),
            (r.duty, "%"),
            r.ripple,
            (r.top, "counts"),
            r.shortest_ramp,
            done.context.starting_current,
            (r.error, "%"),
            *((r.window.ripple_heat, "%"),) * (r.window.ripple_heat is not None),
            (r.step_speed, "rpm"),
            *(((low.steps_left, "steps"),) if low is not None and low.duty.value is not None else ()),
            r.reversal_time,
        ),
    )


def _with_radio(all: Assessment, done: DrivenAssessment, own: Shown) -> Shown:
    """A drive's figures, and those of the handsets where its controller hears them."""
    link = all.radio
    if link is None or all.build.radio.board != done.drive.controller:
        return own
    subject, figures = own
    _, more = shown(
        "",
        (
            link.arrives,
            link.silence,
            link.exchange,
            (link.in_use, "%"),
            (link.lost, "%"),
            (link.chance, "%"),
            *((h.current, "mA") for h in link.handsets),
            *((h.life, "h") for h in link.handsets),
        ),
    )
    return subject, [*figures, *more]


def _servo_signals_figures(done: ServoAssessment) -> Shown:
    r = done.servo
    return shown(
        "the pulse",
        (
            r.middle_pulse,
            r.pulse_span,
            (r.steps, "steps"),
            (r.angle_step, "°"),
            r.plan.frequency,
            (r.plan.error, "%"),
        ),
    )


def _signals_sections(done: DrivenAssessment, d: Describer) -> list[Section]:
    spec = done.drive.panel
    panel = [
        n
        for n in type(spec).model_fields
        if asked_of_panel(n, spec, done.of_motor is not None, done.drive.signals.pulsed)
    ]
    signals = done.drive.signals
    told = signals.told_by
    if told == "timer":
        return [
            d.section(signals, "What tells it", ("told_by", *WITHOUT_PROGRAM)),
            d.section(signals.timer, "Timer circuit", timer_circuit.fields(signals.timer)),
        ]
    if told == "hand":
        return [d.section(signals, "What tells it", ("told_by", *WITHOUT_PROGRAM))]
    if told == "level":
        alone = [n for n in panel if n not in ("speed_by", "offset")]
        fields = ("told_by", "reversal", "braking")
        tells = d.section(signals, "What tells it", fields)
        return [tells, d.section(spec, "Control panel", alone), d.table(spec, "lamps", PanelLamp)]
    return [
        d.section(signals, "PWM and ramps"),
        d.section(spec, "Control panel", panel),
        d.table(spec, "lamps", PanelLamp),
    ]


WITHOUT_PROGRAM = ("reversal", "braking")
"""What of the signals still means something where a knob or a hand gives them."""


def _servo_signals_sections(done: ServoAssessment, d: Describer) -> list[Section]:
    return [d.section(done.drive.servo, "Pulse", ("pulse_low", "pulse_high", "frame", "knob"))]


_DRIVEN = StationSheet(
    sections=lambda asked: [
        *_signals_sections(asked.done, asked.describer),
        *sequences.sections(asked.all.build, asked.done.drive.controller, asked.describer),
        *handsets.sections(asked.all, asked.done.drive, asked.describer),
    ],
    figures=lambda asked: _with_radio(asked.all, asked.done, _signals_figures(asked.done)),
    picture=lambda asked: signals(
        asked.done,
        sequences.views(asked.all, asked.done.drive.controller),
        handsets.view(asked.all, asked.done.drive.controller),
    ),
)


SHEETS = {
    "motor": _DRIVEN,
    "load": _DRIVEN,
    "servo": StationSheet(
        sections=lambda asked: _servo_signals_sections(asked.done, asked.describer),
        figures=lambda asked: _servo_signals_figures(asked.done),
        picture=lambda asked: servo(asked.done),
        hint=servo_hint,
    ),
}
