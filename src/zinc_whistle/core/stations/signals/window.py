"""The frequencies between which all is well: ripple and hearing from below, heat, part and steps from above."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Literal

from ...algebra.findings import Remedy
from ...algebra.limits import Check, claim, upper
from ...algebra.nodes import Constant, Figure, Node, number
from ...algebra.quantities import notation, phrase
from ...cases import chopping
from ...cases.circuit import DriveCircuit
from ...cases.operating import DriveContext
from ...laws import driver as driver_rules
from ...laws import signals as rules

STATION = "signals"
RIPPLE_SHARE = Constant("5 %", 0.05, "fraction", "common practice, no source: heat that the ripple may add")
HEARD = Constant("16 kHz", 16e3, "frequency", "common practice, no source: above 16 to 20 kHz few people hear it")
LEAST_STEPS = Constant("256", 256.0, "steps", "common practice, no source: eight bits of speed")
LOWEST_HZ, HIGHEST_HZ = 50.0, 200e3
"""Ends of the picture's scale."""


@dataclass(frozen=True, slots=True)
class FrequencyBound:
    """One limit: from below or from above, with what lies beyond it; ``soft`` ones are given up first."""

    name: str
    side: Literal["low", "high"]
    frequency: Node
    beyond: str
    soft: bool = False


@dataclass(frozen=True, slots=True)
class FrequencyWindow:
    """All bounds, the window's ends in Hz (None: open or not known), and what to do if there is none."""

    bounds: tuple[FrequencyBound, ...]
    low_hz: float | None
    high_hz: float | None
    reason: str
    compromise_hz: float | None
    ripple_heat: Figure | None
    ripple_allowed: Figure | None
    ripple_frequency: Figure | None
    heat_frequency: Figure | None
    steps_frequency: Figure
    missing: bool = False
    """Whether something that could narrow it is not known."""
    any_ripple_heat: Node | None = None
    """The heat of the ripple at any duty, from any supply."""

    @property
    def open(self) -> bool:
        """Whether there are frequencies at which all is well."""
        return self.low_hz is None or self.high_hz is None or self.low_hz <= self.high_hz


def compute(
    at: DriveContext, chosen: object, solved: DriveCircuit, swing: Node, ripple: Figure | None, any_ripple: Node | None
) -> FrequencyWindow:
    """The window for a drive with its driver (a Candidate, or None)."""
    spec = at.drive.signals
    because = [spec.chosen("decay")]
    inductance, current = _winding(at)
    allowed = lowest = heated = None
    if inductance is not None:
        allowed = rules.ripple_allowed(current, RIPPLE_SHARE)
        # So little ripple does not end in any period: there the mean volts say the duty, of one switch as of a bridge.
        duty = solved.averaged_full
        if spec.decay == "locked anti-phase":
            duty = rules.antiphase_duty(duty)
        lowest = rules.ripple_frequency(swing, duty, inductance, allowed, because=because)
        if ripple is not None:
            heated = chopping.extra_heat(solved.duty_full) or rules.ripple_heat(ripple, current)
    hottest = _heat(at, chosen)
    steps = (rules.steps_frequency_centre if spec.alignment == "centre" else rules.steps_frequency_edge)(
        at.controller.clock.leaf, LEAST_STEPS, because=[spec.chosen("alignment")]
    )
    if not spec.pulsed:
        return FrequencyWindow((), None, None, "", None, None, None, None, None, steps)
    bounds = []
    if lowest is not None:
        bounds.append(FrequencyBound("Ripple", "low", lowest, "the ripple heats the motor by more than 5 %"))
    bounds.append(FrequencyBound("Hearing", "low", HEARD, "it can be heard", soft=True))
    if hottest is not None:
        bounds.append(FrequencyBound("Switching heat", "high", hottest, "the switches grow too hot"))
    if at.part is not None:
        bounds.append(FrequencyBound("Part", "high", at.part.pwm_limit.leaf, "faster than the part's sheet allows"))
    if spec.told_by == "pulses":
        bounds.append(FrequencyBound("Steps", "high", steps, "fewer than 256 steps of duty", soft=True))
    anywhere = None
    if any_ripple is not None and heated is not None:
        anywhere = chopping.extra_heat(solved.anywhere.duty) or rules.ripple_heat(any_ripple, at.any_current)
    heat = getattr(chosen, "heat", None)
    unknown = at.part is None or heat is None or heat.switching.value is None
    unknown = unknown or any(b.frequency.value is None and not _unbounded(b.frequency) for b in bounds)
    return replace(
        _judged(tuple(bounds), heated=heated, allowed=allowed, lowest=lowest, hottest=hottest, steps=steps),
        any_ripple_heat=anywhere,
        missing=unknown or (at.of_motor is not None and lowest is None),
    )


def _unbounded(frequency: Node) -> bool:
    return isinstance(frequency, Figure) and bool(frequency.reason)


def _winding(at: DriveContext) -> tuple[Node | None, Node]:
    if (motor := at.of_motor) is not None:
        return motor.motor.inductance, at.working_current
    held = at.of_load
    given = held.drive.load.inductance if held is not None else None
    return (given.leaf if given is not None and given.value else None), at.working_current


def _heat(at: DriveContext, chosen: object) -> Figure | None:
    heat = getattr(chosen, "heat", None)
    if heat is None or not heat.switching.value or at.part is None:
        return None
    limit, factor = at.part.junction_limit.leaf, at.part.hot_factor.leaf
    able = rules.heat_to_limit(heat.total, heat.junction, at.board_hot, limit)
    now = driver_rules.warm_factor(factor, heat.junction, limit)
    rest = rules.heat_besides(heat.total, heat.switching, heat.conduction, factor, now)
    return rules.heat_frequency(at.plan.frequency, able, rest, heat.switching)


def _ends(bounds: tuple[FrequencyBound, ...]) -> tuple[FrequencyBound | None, FrequencyBound | None]:
    known = [b for b in bounds if b.frequency.value is not None]
    low = max((b for b in known if b.side == "low"), key=lambda b: number(b.frequency), default=None)
    high = min((b for b in known if b.side == "high"), key=lambda b: number(b.frequency), default=None)
    return low, high


def _judged(
    bounds: tuple[FrequencyBound, ...],
    heated: Figure | None,
    allowed: Figure | None,
    lowest: Figure | None,
    hottest: Figure | None,
    steps: Figure,
) -> FrequencyWindow:
    low, high = _ends(bounds)
    low_hz = number(low.frequency) if low is not None else None
    high_hz = number(high.frequency) if high is not None else None
    reason, compromise = "", None
    if low is not None and high is not None and low_hz is not None and high_hz is not None and low_hz > high_hz:
        hard_low, hard_high = _ends(tuple(b for b in bounds if not b.soft))
        if high_hz <= 0:
            return FrequencyWindow(
                bounds=bounds,
                low_hz=low_hz,
                high_hz=0.0,
                reason=f"No window: {high.beyond} at any frequency.",
                compromise_hz=None,
                ripple_heat=heated,
                ripple_allowed=allowed,
                ripple_frequency=lowest,
                heat_frequency=hottest,
                steps_frequency=steps,
            )
        reason = (
            f"No window: below {phrase(low_hz, 'frequency')} {low.beyond}; "
            f"above {phrase(high_hz, 'frequency')} {high.beyond}."
        )
        floor = number(hard_low.frequency) if hard_low is not None else 0.0
        compromise = _rounded_down(_between(hard_low, hard_high, high_hz), floor)
    return FrequencyWindow(
        bounds=bounds,
        low_hz=low_hz,
        high_hz=high_hz,
        reason=reason,
        compromise_hz=compromise,
        ripple_heat=heated,
        ripple_allowed=allowed,
        ripple_frequency=lowest,
        heat_frequency=hottest,
        steps_frequency=steps,
    )


def _between(low: FrequencyBound | None, high: FrequencyBound | None, wanted_high: float) -> float:
    """What to take where there is no window: as near to it as the hard limits let. What lies above breaks parts; too
    much ripple only heats the winding."""
    floor = number(low.frequency) if low is not None else 0.0
    ceiling = number(high.frequency) if high is not None else math.inf
    return min(max(wanted_high, floor), ceiling)


def _rounded_down(hertz: float, floor: float) -> float:
    """So few digits as still lie above the floor, two at least; never above the frequency itself."""
    for digits in range(1, MOST_DIGITS):
        step = 10.0 ** (math.floor(math.log10(hertz)) - digits)
        rounded = math.floor(hertz / step * (1 + 1e-9)) * step
        if rounded >= floor:
            return rounded
    return hertz


MOST_DIGITS = 7


def checks(at: DriveContext, window: FrequencyWindow) -> list[Check]:
    """There is a window, or what to take instead; and the ripple heats little."""
    spec = at.drive.signals
    path = f"{spec.path}.pwm_frequency" if spec.told_by == "pulses" else f"{spec.timer.path}.capacitor"
    todo, remedy = window.reason, None
    if window.compromise_hz is not None:
        near = window.compromise_hz
        borne = [
            b.beyond
            for b in window.bounds
            if b.frequency.value is not None
            and (near < b.frequency.value if b.side == "low" else near > b.frequency.value)
        ]
        todo += f" Take about {phrase(near, 'frequency')} and live with it: {'; '.join(borne)}."
        if spec.told_by == "pulses":
            remedy = Remedy("Take the nearest compromise", path, notation(near, "frequency", "kHz"))
    found: list[Check] = [
        claim(
            "signals.window",
            station=STATION,
            title="There is a frequency at which all is well",
            holds=None if window.open and window.missing else window.open,
            unknown="Not known yet: give the motor's inductance and the load, and choose a driver with its limits.",
            todo=todo,
            drive=at.drive.id,
            over="warn",
            where=path,
            destructive=False,
            remedy=remedy,
        ),
    ]
    if window.ripple_heat is not None:
        found.append(
            upper(
                "signals.ripple",
                station=STATION,
                title="Heat that the ripple adds",
                stress=window.any_ripple_heat if window.any_ripple_heat is not None else window.ripple_heat,
                bound=RIPPLE_SHARE,
                todo="Raise the PWM frequency: the ripple heats the winding and turns nothing.",
                drive=at.drive.id,
                over="warn",
                where=path,
                destructive=False,
            )
        )
    return found
