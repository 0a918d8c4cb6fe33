"""The Signals station's pictures."""

from __future__ import annotations

from collections.abc import Sequence

from ..core.algebra.quantities import phrase
from ..core.assess import DrivenAssessment, MotorAssessment
from ..core.cases.operating import Context
from ..core.cases.timer_plan import kept, settings
from ..core.cases.timers import in_software
from ..core.panel.strips import Segment, period
from ..core.panel.trial import inputs_to_press
from ..core.simulation.faults import FAULTS
from ..core.simulation.scenario import SCENARIOS
from ..core.stations.signals.compute import scales, strip, table
from ..core.stations.signals.panel import lines_for, settings_of, turning
from ..core.stations.signals.window import HIGHEST_HZ, LOWEST_HZ
from . import signal_views as v
from .scale import in_unit

INPUT_LABELS = {
    "forward": "Forward",
    "back": "Back",
    "home": "Home",
    "ahead": "A position ahead",
    "behind": "A position behind",
    "stop": "Stop",
    "clear": "Clear",
    "limit_front": "Front limit",
    "limit_back": "Back limit",
    "fault": "Driver's fault",
    "link_lost": "Port silent",
}


def signals(done: DrivenAssessment) -> v.SignalsPicture:
    """Everything of a drive with a driver."""
    at, result = done.context, done.signals
    drawn = strip(at, result) if isinstance(at, Context) else None
    truth = table(at)
    times, duties, currents = _ramp(done)
    return v.SignalsPicture(
        in_unit(drawn.time_s, "µs") if drawn else [],
        drawn.level if drawn else [],
        in_unit(drawn.motor_v, "V") if drawn else [],
        in_unit(drawn.current_a, "A") if drawn else [],
        times,
        duties,
        currents,
        result.current_limit.value,
        _timers(done),
        list(truth.names) if truth else [],
        [v.TruthRow(list(r.inputs), r.output_1, r.output_2, r.motor) for r in truth.rows] if truth else [],
        [v.ScenarioView(value, label) for value, label in SCENARIOS.items()] if isinstance(at, Context) else [],
        [v.ScenarioView(value, label) for value, label in FAULTS.items()],
        _window(done),
        _pulse_pins(done),
        list(at.timetable.why) if at.timetable and at.timetable.conflict else [],
        _software(done),
        _scales(done),
        _strips(done),
        _panel(done),
        at.drive.controller,
    )


def _ramp(done: DrivenAssessment) -> tuple[list[float], list[float], list[float]]:
    at, result = done.context, done.signals
    ramp, start, work = result.ramp.value, at.starting_current.value, at.working_current.value
    duty = result.duty.value
    if not ramp or start is None or work is None or duty is None:
        return [], [], []
    soft = at.drive.signals.soft_start == "yes"
    peak = start if soft else (done.circuit.stall_full.value or start)
    head = duty * (peak - work) / peak if soft and peak else 0.0
    return (
        [0.0, ramp, ramp, 1.6 * ramp],
        [100 * max(head, 0.0), 100 * duty, 100 * duty, 100 * duty],
        [peak, peak if soft else work, work, work],
    )


def _signed(error: float) -> str:
    return f"{error:+.1%}".replace("-", "−").replace("%", " %")


def _timers(done: DrivenAssessment) -> list[v.TimerView]:
    at, plan = done.context, done.context.plan
    made = []
    for setting in plan.others:
        pins = [x.label for x in at.controller.pins if x.timer == setting.timer.id and "pwm" in x.can]
        chosen = plan.timer is setting.timer and plan.prescaler == setting.prescaler
        made.append(
            v.TimerView(
                setting.timer.name,
                setting.prescaler,
                setting.top,
                phrase(setting.frequency_hz, "frequency"),
                _signed(setting.error),
                setting.top + 1,
                ", ".join(pins),
                chosen,
            )
        )
    return made


def _pulse_pins(done: DrivenAssessment) -> list[v.PulsePin]:
    """Every pin that can carry pulses, side by side: what this drive would get there, and who has it."""
    at = done.context
    controller, spec = at.controller, at.drive.signals
    clock, wanted = controller.clock.value, spec.pwm_frequency.value
    if not clock or not wanted:
        return []
    owners = {}
    if at.timetable is not None:
        owners = {p.id: f"{x.wish.name}: {s}" for x in at.timetable.places.values() for s, p in x.pins.items()}
    away = kept(controller)
    made = []
    for pin in (p for p in controller.pins if "pwm" in p.can):
        timer = next((t for t in controller.timers if t.id == pin.timer), None)
        if timer is None:
            continue
        best = settings(clock, wanted, [timer], spec.alignment == "centre")[0]
        made.append(
            v.PulsePin(
                pin.label,
                timer.name,
                f"÷{best.prescaler}, {phrase(best.frequency_hz, 'frequency')}",
                _signed(best.error),
                f"{best.top + 1}",
                f"kept for {away[timer.id]}" if timer.id in away else owners.get(pin.id, "free"),
            )
        )
    return made


def _software(done: DrivenAssessment) -> str:
    at = done.context
    wanted = at.drive.signals.pwm_frequency.value
    encoder = at.drive.encoder if isinstance(done, MotorAssessment) else None  # type: ignore[union-attr]
    each = encoder.interrupt_time.value if encoder is not None else None
    share = encoder.interrupt_share.value if encoder is not None else None
    if not wanted:
        return ""
    made = in_software(wanted, each, share)
    steps = f"{made.steps:.0f}" if made.steps >= 1 else "no"
    return (
        f"In software, at {phrase(wanted, 'frequency')}: {steps} steps in {made.share * 100:.0f} % of the time, "
        f"an interrupt of {phrase(made.jitter_s, 'time')} a step: {made.says}."
    )


def _window(done: DrivenAssessment) -> v.WindowView:
    window, present = done.signals.window, done.context.plan.frequency.value
    bounds = []
    for b in window.bounds:
        hz = b.frequency.value
        bounds.append(
            v.BoundView(
                b.name, b.side, hz, "not known yet" if hz is None else phrase(hz, "frequency"), b.beyond, b.soft
            )
        )
    if not window.open:
        verdict = window.reason
        if window.compromise_hz is not None:
            verdict += f" Nearest compromise: about {phrase(float(f'{window.compromise_hz:.2g}'), 'frequency')}."
    else:
        low = "no limit from below" if window.low_hz is None else f"from {phrase(window.low_hz, 'frequency')}"
        high = "no limit from above" if window.high_hz is None else f"to {phrase(window.high_hz, 'frequency')}"
        verdict = f"All is well {low} {high}." if window.low_hz and window.high_hz else f"{low}, {high}.".capitalize()
    return v.WindowView(LOWEST_HZ, HIGHEST_HZ, present, bounds, verdict)


def _scales(done: DrivenAssessment) -> list[v.ScaleView]:
    """The working duty in the scales that programs use."""
    duty, top = done.signals.duty.value, done.context.plan.top.value
    return [] if duty is None or top is None else [v.ScaleView(name, text) for name, text in scales(duty, top)]


def _strips(done: DrivenAssessment) -> list[v.StripView]:
    at, lines = done.context, lines_for(done.context)
    frequency, duty = at.plan.frequency.value, done.signals.duty.value
    if lines is None or not frequency or duty is None:
        return []
    dead = at.unit.stage.dead_time.value if at.unit.made_of == "stage" else None
    shown = period(lines, frequency, min(max(duty, 0.0), 1.0), dead or 0.0, at.drive.signals.decay)
    made = [_strip("One PWM period at work", list(lines.names), shown)]
    machine = done.panel.machine
    if machine is None:
        return made
    try:
        assert at.part is not None
        numbers = settings_of(at, done.circuit, done.signals, done.counts_per_motor_turn)
        turned = turning(machine, at.part.input_style, at.drive.signals.decay, numbers)
    except ValueError:
        return made
    return [*made, _strip("Changing direction", list(lines.names), turned)] if turned else made


def _strip(title: str, lines: list[str], segments: Sequence[Segment]) -> v.StripView:
    return v.StripView(
        title, lines, [v.SegmentView(s.seconds, dict(s.levels), s.says, phrase(s.seconds, "time")) for s in segments]
    )


def _panel(done: DrivenAssessment) -> v.PanelView:
    panel = done.panel
    if panel.machine is None:
        return v.PanelView([], [], [], [], False, 0, 0, panel.refusal)
    machine, checked = panel.machine, panel.checked
    edges = [
        v.EdgeView(start, rule.to, rule.says) for rule in machine.rules for start in rule.modes if start != rule.to
    ]
    verdicts = (
        []
        if checked is None
        else [
            v.VerdictView(x.says, x.holds, [v.PressView(s.says, machine.by_name[s.mode].says) for s in x.steps])
            for x in checked.verdicts
        ]
    )
    inputs = [v.InputView(n, INPUT_LABELS[n], control) for n, control in inputs_to_press(machine).items()]  # type: ignore[arg-type]
    return v.PanelView(
        [v.ModeView(m.name, m.says, m.action) for m in machine.modes],
        edges,
        verdicts,
        inputs,
        "knob_zero" in machine.inputs,
        checked.states if checked else 0,
        checked.inputs if checked else 0,
        "",
    )
