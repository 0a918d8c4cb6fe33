"""Which timer setting makes the wanted PWM, and what it really makes."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from ..algebra.nodes import Constant, Figure, Leaf, Node, choice_leaf
from ..algebra.rules import AsItIs, procedure
from ..algebra.units import KINDS
from ..laws import signals as rules
from ..model.signals import Controller, Pin, SignalsSpec, Timer


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
    pins: Mapping[str, Pin] = field(default_factory=dict)
    waits_for: tuple[str, ...] = ()
    """Other drives of the controller whose pulses are not known yet: they will want timers too."""
    in_turn: bool = False
    """Pulses of several servos, one after the other: the timer's interrupt switches any pins."""
    varies: Node | None = None
    """The frequency wherever it may stand, where it is no clock's."""

    @property
    def any_frequency(self) -> Node:
        """The frequency wherever it may stand: what limits are held against."""
        return self.varies if self.varies is not None else self.frequency


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


def kept(controller: Controller) -> dict[str, str]:
    """Timers that are not free, by id, and for what."""
    found = {t.id: t.kept_for for t in controller.timers if t.kept_for}
    for library in controller.libraries:
        for timer in controller.timers:
            if library.takes("timers") & {timer.id.lower(), timer.name.lower(), timer.name.split(",")[0].lower()}:
                found[timer.id] = f"the library {library.name or library.id}"
    return found


def free_timers(controller: Controller) -> list[Timer]:
    """Timers that nothing keeps for itself."""
    taken = kept(controller)
    return [t for t in controller.timers if t.id not in taken]


def plan_for(
    controller: Controller,
    spec: SignalsSpec,
    chosen: Setting | None = None,
    pins: Mapping[str, Pin] | None = None,
    others: Sequence[Leaf] = (),
) -> TimerPlan:
    """The best timer setting of a controller for the wanted frequency, or the one ``chosen`` for it and for
    ``others``."""
    clock, wanted = controller.clock.leaf, spec.pwm_frequency.leaf
    centre = spec.alignment == "centre"
    because = [
        spec.chosen("alignment"),
        choice_leaf(f"{controller.path}.timers", "Timers", _timers(controller)),
        *others,
    ]
    found: list[Setting] = []
    if clock.value and wanted.value:
        found = settings(clock.value, wanted.value, free_timers(controller), centre)
    best = chosen or (found[0] if found else None)
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
        pins=pins or {},
    )


def uncounted(spec: SignalsSpec, frequency: Figure, varies: Node | None = None) -> TimerPlan:
    """A plan where nothing counts: a timer circuit's frequency, or none. It has no steps."""
    lack = Leaf(f"{spec.path}.told_by", "a program's timer", KINDS["count"], None, choice=spec.told_by)
    steps = rules.duty_steps(lack)
    return TimerPlan(
        timer=None,
        prescaler=None,
        top=taken_count(lack),
        frequency=frequency,
        steps=steps,
        bits=rules.resolution_bits(steps),
        error=rules.frequency_error(frequency, spec.pwm_frequency.leaf),
        others=(),
        varies=varies,
    )


def still(spec: SignalsSpec) -> TimerPlan:
    """The plan of a drive that is on or off: no pulses at all."""
    return uncounted(
        spec, NOT_PULSED(NO_PULSES, because=[spec.chosen("told_by")], title="PWM frequency", kind="frequency")
    )


NO_PULSES = Constant("0 Hz", 0.0, "frequency", "switched on or off, not pulsed")
NOT_PULSED = AsItIs("switched on or off, not pulsed")


@procedure("TOP", "count", says="what a timer counts to", source=rules.TIMER)
def taken_count(n: float) -> float:
    """A count as it is."""
    return n


@procedure("TOP", "count", says="the timer's full count, the nearest it can get", source=rules.TIMER)
def full_count(most: float, F: float, f: float) -> float:
    """The whole width of a timer whose top cannot be chosen, or that would have to count further."""
    return most


def _timers(controller: Controller) -> str:
    free = free_timers(controller)
    return " ".join(f"{t.id}:{t.bits}:{'/'.join(map(str, t.prescalers))}:{t.free_top}" for t in free)
