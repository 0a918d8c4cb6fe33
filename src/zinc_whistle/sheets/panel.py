"""A drive's panel: its machine drawn, what can be pressed, and which of its fields mean anything."""

from __future__ import annotations

from ..core.assess import DrivenAssessment
from ..core.model.panel import PanelSpec
from ..core.panel.machine import STOPS
from ..core.panel.trial import inputs_to_press
from .signals_views import EdgeView, ModeView, PanelInputView, PanelView, PressView, VerdictView

INPUT_LABELS = {
    "forward": "Forward",
    "back": "Back",
    "run_forward": "Run forward",
    "run_back": "Run back",
    "home": "Home",
    "ahead": "A position ahead",
    "behind": "A position behind",
    "stop": "Stop",
    "clear": "Clear",
    "limit_front": "Front limit",
    "limit_back": "Back limit",
    "fault": "Driver's fault",
    "link_lost": "Port silent",
    "radio_lost": "Handset silent",
    "locked": "Interlock open",
}


def panel_view(done: DrivenAssessment) -> PanelView:
    panel = done.panel
    if panel.machine is None:
        return PanelView(
            modes=[], edges=[], verdicts=[], inputs=[], knob=False, states=0, combinations=0, refusal=panel.refusal
        )
    machine, checked = panel.machine, panel.checked
    edges = [
        EdgeView(start=start, end=rule.to, says=rule.says)
        for rule in machine.rules
        for start in rule.modes
        if start != rule.to
    ]
    verdicts = (
        []
        if checked is None
        else [
            VerdictView(
                says=x.says,
                holds=x.holds,
                steps=[PressView(says=s.says, mode=machine.by_name[s.mode].says) for s in x.steps],
            )
            for x in checked.verdicts
        ]
    )
    inputs = [
        PanelInputView(name=n, label=INPUT_LABELS[n], control=control)
        for n, control in inputs_to_press(machine).items()
    ]
    return PanelView(
        modes=[
            ModeView(
                name=m.name,
                title=m.name.replace("_", " "),
                says=m.says,
                action=m.action,
                from_everywhere=m.name in STOPS,
            )
            for m in machine.modes
        ],
        edges=edges,
        verdicts=verdicts,
        inputs=inputs,
        knob="knob_zero" in machine.inputs,
        states=checked.states if checked else 0,
        combinations=checked.inputs if checked else 0,
        refusal="",
    )


def asked_of_panel(name: str, spec: PanelSpec, turns: bool, pulsed: bool) -> bool:
    """Whether a field of a panel means anything beside what is chosen there; for what turns, and by pulses."""
    by_port, stops = spec.command == "serial", spec.stops
    return {
        "touch_too": spec.command == "hold",
        "pressed": spec.wired,
        "both": not by_port,
        "limit_contact": spec.limits != "none",
        "limit_stops": spec.limits != "none",
        "homing": turns,
        "home_duty": turns and spec.homing != "none",
        "moves": turns,
        "approach": spec.moves != "no",
        "slow_within": spec.moves != "no" and spec.approach == "slowing",
        "end_front": spec.moves == "relative",
        "end_back": spec.moves == "relative",
        "stop_latched": stops,
        "clear_by": spec.fails,
        "trip_a": spec.trip == "yes",
        "trip_time": spec.trip == "yes",
        "watch": turns,
        "watch_time": turns and spec.watch == "yes",
        "link_time": by_port or spec.moves != "no",
        "offset": turns,
        "most_duty": pulsed,
    }.get(name, True)
