"""Which timer setting makes the wanted PWM, and what it really makes."""

from __future__ import annotations

from dataclasses import dataclass

from ..units import KINDS
from ..working import Constant, Figure, Leaf, choice_leaf, procedure
from . import rules
from .spec import Controller, SignalsSpec, Timer


@dataclass(frozen=True, slots=True)
class Setting:
    """One timer with one prescaler, and how far it lands from the wanted frequency."""

    timer: Timer
    prescaler: int
    top: int
    frequency_hz: float
    error: float


@dataclass(frozen=True, slots=True)
class TimerPlan:
    """The best setting and its figures; ``timer`` is None when no timer can be set."""

    timer: Timer | None
    prescaler: int | None
    top: Figure
    frequency: Figure
    steps: Figure
    bits: Figure
    error: Figure
    others: tuple[Setting, ...]


CLOSE = 0.02
"""Within two per cent of the wanted frequency, the setting with the most steps wins."""


def settings(clock_hz: float, wanted_hz: float, timers: list[Timer], centre: bool) -> list[Setting]:
    """Every timer and prescaler that can be set, best first. Frequencies in Hz."""
    found = []
    for timer in timers:
        most = 2**timer.bits - 1
        for prescaler in timer.prescalers:
            if timer.free_top:
                law = rules.centre_top if centre else rules.edge_top
                top = min(int(law.evaluate([clock_hz, prescaler, wanted_hz])), most)
            else:
                top = most
            law_f = rules.centre_frequency if centre else rules.edge_frequency
            real = law_f.evaluate([clock_hz, float(prescaler), float(top)])
            found.append(Setting(timer, prescaler, top, real, real / wanted_hz - 1))
    return sorted(found, key=lambda s: (max(abs(s.error) - CLOSE, 0.0), -s.top, s.prescaler))


def plan_for(controller: Controller, spec: SignalsSpec) -> TimerPlan:
    """The best timer setting of a controller for the wanted frequency."""
    clock, wanted = controller.clock.leaf, spec.pwm_frequency.leaf
    centre = spec.alignment == "centre"
    because = [
        spec.chosen("alignment"),
        choice_leaf(f"{controller.path}.timers", "Timers", _timers(controller)),
    ]
    found: list[Setting] = []
    if clock.value and wanted.value:
        found = settings(clock.value, wanted.value, controller.timers, centre)
    best = found[0] if found else None
    prescaler = (
        Constant("prescaler", float(best.prescaler), "number")
        if best
        else Leaf(f"{controller.path}.timers.setting", "a timer that can make PWM", KINDS["number"], None)
    )
    if best is None or (best.timer.free_top and best.top < 2**best.timer.bits - 1):
        top = (rules.centre_top if centre else rules.edge_top)(clock, prescaler, wanted, because=because)
    else:
        fixed = Constant("full count", float(best.top), "number")
        top = full_count(fixed, clock, wanted, because=because)
    law = rules.centre_frequency if centre else rules.edge_frequency
    frequency = law(clock, prescaler, top, because=because)
    steps = rules.duty_steps(top)
    return TimerPlan(
        timer=best.timer if best else None,
        prescaler=best.prescaler if best else None,
        top=top,
        frequency=frequency,
        steps=steps,
        bits=rules.resolution_bits(steps),
        error=rules.frequency_error(frequency, wanted),
        others=tuple(found[:6]),
    )


@procedure("TOP", "count", says="the timer's full count, the nearest it can get", source=rules.TIMER)
def full_count(most: float, F: float, f: float) -> float:
    """The whole width of a timer whose top cannot be chosen, or that would have to count further."""
    return most


def _timers(controller: Controller) -> str:
    return " ".join(f"{t.id}:{t.bits}:{'/'.join(map(str, t.prescalers))}:{t.free_top}" for t in controller.timers)
