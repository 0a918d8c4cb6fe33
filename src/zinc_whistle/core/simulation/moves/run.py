"""A move in time, and what it amounts to."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from .happening import Happening
from .laws import STRAIGHT, Control, MoveLaw, control_of
from .setpoint import Course, along
from .shaft import Shaft, Turning, held_for

MOST_STEPS = 60_000
TAIL = 5
"""The last fifth of a move is looked at for hunting."""
INSIDE = 12
"""So many moments within each sample are looked at for the largest current, closer together at its beginning."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Move:
    """What happened: times (s), places (counts, of what is counted), duties, currents (A).

    Overshoot, hunting and rest in counts, the same overshoot behind the play as an angle at the motor's shaft (rad),
    when it stays within its window (s; None: never), by how much it is pushed away at most by what happens (counts),
    largest current with half of its ripple (A), energy drawn (J), and how far it lags behind its setpoint at most
    (counts; None: it follows none).
    """

    time_s: list[float]
    place: np.ndarray
    duty: np.ndarray
    current_a: np.ndarray
    overshoot: float
    overshoot_rad: float
    settled_s: float | None
    hunting: float
    peak_a: float
    energy_j: float
    rest_error: float
    pushed: float
    lag: float | None


def move(
    shaft: Shaft,
    law: MoveLaw,
    target: int,
    seconds: float,
    *,
    course: Course = "step",
    speed: float = 0.0,
    acceleration: float = 0.0,
    happens: Sequence[Happening] = (),
) -> Move:
    """A move from rest at 0 to ``target`` counts by a law. ``speed`` (counts/s) and ``acceleration`` (counts/s²) are of
    a setpoint that is ramped. ValueError where it would take too many samples."""
    count = _samples(seconds, law.period_s)
    own: Course = "step" if law.way in STRAIGHT else course
    places, speeds = along(own, target, speed, acceleration, law.period_s, count)
    control = control_of(law, target, places, speeds, shaft.counts_per_turn / (2 * math.pi))
    followed = None if law.way in STRAIGHT else places
    return follow(shaft, control, law.period_s, target, seconds, law.window, law.delay_s, happens, followed)


def _samples(seconds: float, period_s: float) -> int:
    count = round(seconds / period_s)
    if count <= 0:
        raise ValueError("That is less than a control period: look at a longer time.")
    if count > MOST_STEPS:
        raise ValueError(f"A move may take at most {MOST_STEPS} samples: look at a shorter time or sample less often.")
    return count


def follow(
    shaft: Shaft,
    control: Control,
    period_s: float,
    target: int,
    seconds: float,
    window: int,
    delay_s: float = 0.0,
    happens: Sequence[Happening] = (),
    setpoint: np.ndarray | None = None,
) -> Move:
    """The move that a control makes of a shaft. ValueError where it would take too many samples."""
    count = _samples(seconds, period_s)
    turning, per_rad = Turning(shaft), shaft.counts_per_turn / (2 * math.pi)
    late = min(max(delay_s, 0.0), period_s)
    behind = shaft.counted == "output"
    spans = [(h, *h.samples(period_s)) for h in happens]
    places, duties, currents = [0.0], [0.0], [0.0]
    duty: float | None = 0.0
    out, back, floor, now = 0.0, 0.0, math.floor, None
    for n in range(count):
        if spans:
            now = _now(turning, spans, n)
        seen = floor((turning.turned if behind else turning.angle) * per_rad)
        wanted = control(n, seen)
        if now is not None:
            _held(turning, now, duty, late)
            _held(turning, now, wanted, period_s - late)
        else:
            if late > 0:
                # Until it has computed, the duty of before stands.
                turning.go(duty, late)
            turning.go(wanted, period_s - late)
        duty = wanted
        turned = turning.turned
        if turned > out:
            out = turned
        elif -turned > back:
            back = -turned
        places.append((turned if behind else turning.angle) * per_rad)
        duties.append(duty or 0.0)
        currents.append(turning.current)
    rows = (np.array(places), np.array(duties), np.array(currents))
    return _measured(turning, period_s, target, window, *rows, out if target >= 0 else back, spans, setpoint)


Span = tuple[Happening, int, int]


def _now(turning: Turning, spans: list[Span], n: int) -> Happening | None:
    """What holds the shaft in this sample; more load comes and goes."""
    held = None
    for happening, first, over in spans:
        if happening.kind == "load":
            if n == first:
                turning.loaded(happening.amount)
            elif n == over:
                turning.loaded(-happening.amount)
        elif first <= n < over:
            held = happening
        elif n == over:
            turning.speed = 0.0
    return held


def _held(turning: Turning, happening: Happening, duty: float | None, time: float) -> None:
    if time <= 0:
        return
    if happening.kind == "jam":
        turning.locked(duty, time)
    else:
        turning.by_hand(duty, happening.amount, time)


def _measured(
    turning: Turning,
    period_s: float,
    target: int,
    window: int,
    place: np.ndarray,
    duties: np.ndarray,
    currents: np.ndarray,
    out: float,
    spans: list[Span],
    setpoint: np.ndarray | None,
) -> Move:
    shaft, count = turning.shaft, len(place) - 1
    time = np.arange(count + 1) * period_s
    sign = 1 if target >= 0 else -1
    beyond = float(np.max(sign * (place - target)))
    goal = target / (shaft.counts_per_turn / (2 * math.pi))
    off = np.abs(place - target) > window + 1
    last = int(np.flatnonzero(off)[-1]) if off.any() else -1
    tail = place[-max(count // TAIL, 2) :]
    hunting = float(tail.max() - tail.min())
    during = [np.abs(place[first : over + 1] - target).max(initial=0.0) for _, first, over in spans if first <= count]
    lag = None if setpoint is None else float(np.max(np.abs(setpoint - place[:-1])))
    return Move(
        time_s=[float(x) for x in time],
        place=place,
        duty=duties,
        current_a=currents,
        overshoot=max(beyond, 0.0),
        overshoot_rad=max(out - abs(goal), 0.0),
        settled_s=None if last == count else float(time[last + 1]),
        hunting=hunting if hunting > 1.0 else 0.0,
        peak_a=_peak(turning, period_s, duties, currents),
        energy_j=turning.energy,
        rest_error=float(target - place[-1]),
        pushed=float(max(during, default=0.0)),
        lag=lag,
    )


def _peak(turning: Turning, period_s: float, duties: np.ndarray, currents: np.ndarray) -> float:
    """The largest current: at the samples with half of the ripple that the pulses put on it, and within them, for a
    pulse of duty drives it up in L/R, long before the next sample."""
    motor, hertz = turning.shaft.motor, turning.shaft.pulses_hz
    ripple = 0.0
    if hertz:
        # Peak to peak V D (1 − D)/(f L) where the winding hardly settles within a pulse; never more than V/R.
        share = np.abs(duties)
        whole = motor.bus_v * share * (1 - share) / (hertz * motor.inductance_h)
        ripple = np.minimum(whole, motor.bus_v / motor.resistance_ohm) / 2
    at_samples = float(np.max(np.abs(currents) + ripple))
    if not turning.began:
        return at_samples
    began = np.array(turning.began)
    # Winding and source together settle quickest at the lowest ohms: the moments are chosen by those.
    first = min(motor.inductance_h / motor.resistance_ohm, period_s) / 4
    best = at_samples
    for moment in np.geomspace(first, period_s, INSIDE):
        a, b, *_ = held_for(motor.resistance_ohm, motor.inductance_h, motor.constant, motor.inertia, float(moment))
        end_i = began[:, 3] / motor.constant
        end_w = (began[:, 2] - began[:, 4] * end_i) / motor.constant
        here = np.abs(end_i + a * (began[:, 0] - end_i) + b * (began[:, 1] - end_w))
        best = max(best, float(here.max()) + (float(np.max(ripple)) if hertz else 0.0))
    return best
