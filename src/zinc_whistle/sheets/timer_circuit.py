"""A timer circuit at Signals: as it is drawn, its figures, and what is asked of it."""

from __future__ import annotations

from ..core.algebra.quantities import phrase
from ..core.assess import DrivenAssessment
from ..core.cases.timer_circuit import of_drive
from ..core.model.timer_circuit import TimerCircuit
from .inputs import Shown, shown
from .signals_views import TimerCircuitView
from .views import text_of


def drawn(done: DrivenAssessment) -> TimerCircuitView:
    """The timer circuit as it is drawn: values at its parts, and its output at three places of the knob."""
    at = done.context
    spec, made = at.drive.signals.timer, of_drive(at.build, at.drive)
    pace, work = made.frequency.value, done.signals.duty.value
    ends = [("Knob down", made.least.value), ("At work", work), ("Knob up", made.greatest.value)]
    places = [(name, min(max(duty, 0.0), 1.0)) for name, duty in ends if duty is not None]
    span = "not known yet"
    if made.slowest.value is not None and made.fastest.value is not None:
        span = f"{phrase(made.slowest.value, 'frequency')} to {phrase(made.fastest.value, 'frequency')}"
    return TimerCircuitView(
        pot=text_of(spec.pot.leaf),
        end_resistor=text_of(spec.end_resistor.leaf),
        capacitor=text_of(spec.capacitor.leaf),
        diode=text_of(spec.diode_v.leaf),
        supply=text_of(made.supply),
        level=text_of(made.high),
        frequency=text_of(made.frequency),
        frequency_range=span,
        duty_range=f"{text_of(made.least)} to {text_of(made.greatest)}",
        period_us=1e6 / pace if pace else None,
        duties=[d for _, d in places],
        duty_names=[n for n, _ in places],
    )


def figures(done: DrivenAssessment) -> Shown:
    """A timer circuit's pulses, its knob, and what they make of the current."""
    at, r = done.context, done.signals
    made = of_drive(at.build, at.drive)
    return shown(
        "the timer circuit",
        (
            made.frequency,
            made.slowest,
            made.fastest,
            (made.least, "%"),
            (made.greatest, "%"),
            (r.duty, "%"),
            made.high,
            r.ripple,
            *((r.window.ripple_heat, "%"),) * (r.window.ripple_heat is not None),
            done.circuit.source_start,
        ),
    )


def fields(spec: TimerCircuit) -> list[str]:
    """What is asked of a timer circuit: a dropout only where it has a regulator of its own."""
    own = spec.regulated_v.value is not None or bool(spec.regulated_v.text)
    return [n for n in type(spec).model_fields if own or n != "dropout"]
