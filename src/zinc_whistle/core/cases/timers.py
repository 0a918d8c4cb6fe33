"""All the PWM and servo pulses of one controller on its timers and pins: searched whole, conflicts proved.

A timer counts to one top with one prescaler: what shares it shares its frequency and its alignment, and takes a compare
output each. The search looks at every way; if there is none, the smallest group of wishes that cannot stand together is
found by trying all smaller ones.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from ..laws import signals as rules
from ..model.signals import Controller, Pin, Timer
from .timer_plan import CLOSE, Setting, kept, settings

TOGETHER = 0.1
"""A wish may share a timer whose frequency lies within a tenth of its own, or that runs as it would alone."""


@dataclass(frozen=True, slots=True)
class Wish:
    """What a drive asks of the timers: signals that share one timer, at a frequency (Hz)."""

    drive: str
    name: str
    signals: tuple[str, ...]
    frequency_hz: float
    centre: bool
    fixed: Mapping[str, str]


@dataclass(frozen=True, slots=True)
class Place:
    """A wish on a timer: its setting, how far it is off, and a pin for each signal."""

    wish: Wish
    setting: Setting
    pins: Mapping[str, Pin]


@dataclass(frozen=True, slots=True)
class Timetable:
    """Where every wish went; ``conflict`` is empty, or the fewest wishes that cannot stand together with why not."""

    places: Mapping[str, Place]
    conflict: tuple[Wish, ...] = ()
    why: tuple[str, ...] = ()
    turned: tuple[str, ...] = ()
    """Drives whose pulses one timer makes in turn."""


def taken_pins(controller: Controller) -> set[str]:
    """Ids of pins that a library takes."""
    taken = set().union(*(x.takes("pins") for x in controller.libraries)) if controller.libraries else set()
    return {p.id for p in controller.pins if {p.id.lower(), p.label.lower()} & taken}


def can_pulse(pin: Pin) -> bool:
    """Whether a timer's pulses may leave by a pin."""
    return "pwm" in pin.can and not {"input only", "absent", "serial"} & set(pin.can)


def timetable(
    controller: Controller, wishes: Sequence[Wish], fixed_elsewhere: Iterable[str] = (), without: str = ""
) -> Timetable:
    """The best way to give every wish a timer and pins, or the smallest conflict. Frequencies in Hz, clock as given.

    ``without``: the id of a timer that is not to be used."""
    clock = controller.clock.value
    if not clock or not wishes:
        return Timetable({})
    search = _Search(controller, clock, set(fixed_elsewhere) | taken_pins(controller), without)
    found = search.best(wishes)
    if found is not None:
        return Timetable({p.wish.drive: p for p in found})
    for size in range(1, len(wishes) + 1):
        for group in search.groups(wishes, size):
            if search.best(group) is None:
                return Timetable(search.most(wishes), group, tuple(search.why(group)))
    raise AssertionError("a set of wishes fails as a whole but none of its parts does")


GAP_S = 100e-6
"""Between the pulses of two servos in turn: room for an interrupt that comes late (common practice, no source)."""
TURN_BITS = 16


def in_turn(
    controller: Controller, wishes: Sequence[Wish], servos: Mapping[str, float], fixed_elsewhere: Iterable[str] = ()
) -> Timetable | None:
    """The servos on one timer, one pulse after the other on any pins, all else as before; None where that cannot be.

    ``servos``: the longest pulse of each (s). The timer is a wide one that nothing else wants, and all pulses must fit
    into one frame. Its prescaler is the finest with which a frame can be counted.
    """
    clock = controller.clock.value
    turned = [w for w in wishes if w.drive in servos]
    if not clock or len(turned) < 2:
        return None
    frames = 1 / max(w.frequency_hz for w in turned)
    if sum(servos[w.drive] + GAP_S for w in turned) > frames:
        return None
    others = [w for w in wishes if w.drive not in servos]
    for timer in (t for t in controller.timers if t.bits >= TURN_BITS and t.id not in kept(controller)):
        rest = timetable(controller, others, fixed_elsewhere, timer.id)
        found = settings(clock, 1 / frames, [timer], False)
        if not rest.conflict and found:
            places = dict(rest.places) | {w.drive: Place(w, found[0], {}) for w in turned}
            return Timetable(places, turned=tuple(w.drive for w in turned))
    return None


class _Search:
    def __init__(self, controller: Controller, clock_hz: float, taken: set[str], without: str) -> None:
        self.controller, self.clock, self.taken = controller, clock_hz, taken
        self.kept = kept(controller)
        self._outputs: dict[str, list[Pin]] = {}
        self._alone: dict[tuple[str, float, bool], Setting | None] = {}
        self.free = [t for t in controller.timers if t.id not in self.kept and t.id != without]

    @staticmethod
    def groups(wishes: Sequence[Wish], size: int) -> Iterable[tuple[Wish, ...]]:
        """Groups of so many wishes, of those that ask for the very same only the first: the others fare no better."""
        seen = set()
        for group in itertools.combinations(wishes, size):
            asks = tuple((w.frequency_hz, w.centre, len(w.signals), tuple(sorted(w.fixed.items()))) for w in group)
            if asks not in seen:
                seen.add(asks)
                yield group

    def outputs(self, timer: Timer) -> list[Pin]:
        """Pins of a timer that may carry pulses; pins that start the board are taken last."""
        if timer.id not in self._outputs:
            self._outputs[timer.id] = self._able(timer)
        return self._outputs[timer.id]

    def _able(self, timer: Timer) -> list[Pin]:
        found = [p for p in self.controller.pins if p.timer == timer.id and can_pulse(p) and p.id not in self.taken]
        return sorted(found, key=lambda p: ("boot" in p.can, len(p.can)))

    def best(self, wishes: Sequence[Wish]) -> list[Place] | None:
        """The cheapest complete assignment."""
        best: tuple[tuple[float, float, float], list[Place]] | None = None
        for chosen in self._ways(list(wishes), {}, set()):
            cost = (
                sum(max(abs(p.setting.error) - CLOSE, 0.0) for p in chosen),
                -sum(math.log2(p.setting.top + 1) for p in chosen),
                float(sum(p.setting.prescaler for p in chosen)),
            )
            if best is None or cost < best[0]:
                best = cost, chosen
        return best[1] if best is not None else None

    def _ways(
        self, wishes: list[Wish], running: dict[str, tuple[Setting, bool]], used: set[str]
    ) -> Iterable[list[Place]]:
        if not wishes:
            yield []
            return
        wish, *rest = wishes
        for timer in self.free:
            setting = self.setting(wish, timer, running.get(timer.id))
            pins = self.pins(wish, timer, used)
            if setting is None or pins is None:
                continue
            mine = Place(wish, setting, pins)
            for others in self._ways(
                rest, running | {timer.id: (setting, wish.centre)}, used | {p.id for p in pins.values()}
            ):
                yield [mine, *others]

    def setting(self, wish: Wish, timer: Timer, running: tuple[Setting, bool] | None) -> Setting | None:
        """How a timer would serve a wish: its best setting alone, or the one that it already runs, if that will do."""
        asked = (timer.id, wish.frequency_hz, wish.centre)
        if asked not in self._alone:
            self._alone[asked] = next(iter(settings(self.clock, wish.frequency_hz, [timer], wish.centre)), None)
        own = self._alone[asked]
        if running is None or own is None:
            return own
        setting, centre = running
        error = setting.frequency_hz / wish.frequency_hz - 1
        same = (setting.prescaler, setting.top) == (own.prescaler, own.top)
        if centre != wish.centre or (abs(error) > TOGETHER and not same):
            return None
        return Setting(timer, setting.prescaler, setting.top, setting.frequency_hz, error)

    def pins(self, wish: Wish, timer: Timer, used: set[str]) -> dict[str, Pin] | None:
        """A pin of the timer for each signal, the builder's own first; None if they do not reach."""
        able = {p.id: p for p in self.outputs(timer) if p.id not in used}
        found: dict[str, Pin] = {}
        for signal in (s for s in wish.signals if s in wish.fixed):
            pin = able.pop(wish.fixed[signal], None)
            if pin is None:
                return None
            found[signal] = pin
        for signal in (s for s in wish.signals if s not in wish.fixed):
            left = list(able.values())
            if not left:
                return None
            found[signal] = able.pop(left[0].id)
        return {s: found[s] for s in wish.signals}

    def most(self, wishes: Sequence[Wish]) -> dict[str, Place]:
        """As many wishes as can be served together, the earlier ones first."""
        for size in range(len(wishes) - 1, 0, -1):
            for group in self.groups(wishes, size):
                found = self.best(group)
                if found is not None:
                    return {p.wish.drive: p for p in found}
        return {}

    def why(self, group: Sequence[Wish]) -> list[str]:
        """Timer by timer, why a group cannot stand together."""
        lines = []
        for timer in self.controller.timers:
            if timer.id in self.kept:
                lines.append(f"{timer.name} is kept for {self.kept[timer.id]}.")
                continue
            able = [w for w in group if self.pins(w, timer, set()) is not None]
            lines += [
                f"{timer.name} has not the pins that {w.name} needs ({', '.join(w.signals)})."
                for w in group
                if w not in able
            ]
            asked = sum(len(w.signals) for w in able)
            if len(able) > 1 and asked > len(self.outputs(timer)):
                lines.append(f"{timer.name} has too few pins: {len(self.outputs(timer))} where {asked} are asked for.")
            for a, b in itertools.combinations(able, 2):
                first = self.setting(a, timer, None)
                if first is not None and self.setting(b, timer, (first, a.centre)) is None:
                    reason = "count differently" if a.centre != b.centre else "want different frequencies"
                    lines.append(f"On {timer.name} {a.name} and {b.name} {reason}.")
        return lines


@dataclass(frozen=True, slots=True)
class Software:
    """Pulses made by the program: how many steps it can honestly make, and the jitter of each edge (s)."""

    steps: float
    jitter_s: float
    share: float
    honest: bool
    says: str


LEAST_STEPS = 32
"""Fewer steps than this are no speed setting."""


USUAL_INTERRUPT_S, USUAL_SHARE = 5e-6, 0.25
"""Common practice, no source: an interrupt's length, and the time that interrupts may take, where neither is given."""


def in_software(frequency_hz: float, interrupt_s: float | None = None, share: float | None = None) -> Software:
    """Pulses from an interrupt a step: the steps that fit into the share of time that interrupts may take."""
    each, part = interrupt_s or USUAL_INTERRUPT_S, share or USUAL_SHARE
    steps = rules.software_steps.bare(part, frequency_hz, each)
    honest = steps >= LEAST_STEPS
    says = (
        "possible, but each edge jitters by an interrupt's length"
        if honest
        else "not honest: too few steps in the time that the program can spare"
    )
    return Software(steps, each, part, honest, says)
