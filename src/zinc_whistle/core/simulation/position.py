"""A move to a count, by several laws: sampled, counted, with computing delay, friction that sticks, and a duty that has
its ends.

target → error in whole counts → law → duty → exact propagation of the averaged motor to the next sample
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..laws.loop_step import LoopPlant, _with_angle

Way = Literal["on/off", "reduced", "p", "pd", "cascade"]
WAYS: dict[Way, str] = {
    "on/off": "All or nothing",
    "reduced": "All, then a fifth after the first crossing",
    "p": "Proportional",
    "pd": "Proportional, with the speed taken off",
    "cascade": "Place over speed",
}
REDUCED = 0.2
MOST_STEPS = 60_000


@dataclass(frozen=True, slots=True)
class Shaft:
    """The drive at the motor's shaft, SI: the averaged motor with a load that pulls back, friction that moves and that
    sticks (N·m), and counts of a turn of the motor."""

    motor: LoopPlant
    coulomb_nm: float
    stiction_nm: float
    counts_per_turn: float


@dataclass(frozen=True, slots=True)
class MoveLaw:
    """How a place is gone to. ``gain``: duty a count; ``derivative_s``; ``outer_per_s``: speed asked for a count of
    error (counts/s a count); ``inner``: duty per rad/s and its integral time; ``window``: counts that are near enough;
    ``offset``: duty below which nothing moves, added where any is asked; ``most`` and ``least``: the highest and the
    lowest duty; a drive that runs one way has none below nothing."""

    way: Way
    period_s: float
    delay_s: float = 0.0
    gain: float = 0.0
    derivative_s: float = 0.0
    outer_per_s: float = 0.0
    inner: tuple[float, float] = (0.0, 1.0)
    window: int = 2
    offset: float = 0.0
    most: float = 1.0
    least: float = -1.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Move:
    """What happened: times (s), places (counts), duties, currents (A); overshoot and hunting in counts, when it stays
    within its window (s; None: never), largest current (A), energy drawn (J)."""

    way: Way
    time_s: list[float]
    place: list[float]
    duty: list[float]
    current_a: list[float]
    overshoot: float
    settled_s: float | None
    hunting: float
    peak_a: float
    energy_j: float
    rest_error: float


def suggested_laws(
    shaft: Shaft, period_s: float, lag_s: float, dead_s: float, inner: tuple[float, float]
) -> list[MoveLaw]:
    """Laws to compare, with gains from the model (SIMC for a plant that integrates): the proportional one takes the lag
    for a dead time, the one with the speed taken off cancels it."""
    slope = shaft.motor.bus_v / shaft.motor.constant * shaft.counts_per_turn / (2 * math.pi)
    breakaway = shaft.stiction_nm * shaft.motor.resistance_ohm / (shaft.motor.constant * shaft.motor.bus_v)
    start = min(breakaway, 0.5)
    dead = max(dead_s, period_s)
    return [
        MoveLaw("on/off", period_s),
        MoveLaw("reduced", period_s),
        MoveLaw("p", period_s, gain=1 / (2 * slope * (lag_s + dead)), offset=start),
        MoveLaw("pd", period_s, gain=1 / (2 * slope * dead) / 2, derivative_s=lag_s, offset=start),
        MoveLaw("cascade", period_s, outer_per_s=1 / (8 * dead), inner=inner, offset=start),
    ]


def move(shaft: Shaft, law: MoveLaw, target: int, seconds: float) -> Move:
    """A move from rest at 0 to ``target`` counts. ValueError where it would take too many samples."""
    count = round(seconds / law.period_s)
    if not 0 < count <= MOST_STEPS:
        raise ValueError(f"A move may take at most {MOST_STEPS} samples: look at a shorter time or sample less often.")
    motor, per_rad = shaft.motor, shaft.counts_per_turn / (2 * math.pi)
    late = min(max(law.delay_s, 0.0), law.period_s)
    # Until it has computed, the duty of before stands.
    pieces = [(True, late, _rows(motor, late))] if late > 0 else []
    if late < law.period_s:
        pieces.append((False, law.period_s - late, _rows(motor, law.period_s - late)))
    i = w = angle = duty = energy = peak = integral = 0.0
    last, crossed, seen = 0, False, 0
    sign = 1 if target >= 0 else -1
    places, duties, currents = [0.0] * (count + 1), [0.0] * (count + 1), [0.0] * (count + 1)
    for n in range(count):
        seen = math.floor(angle * per_rad)
        error = target - seen
        crossed = crossed or error * sign <= 0
        speed = (seen - last) / law.period_s
        wanted, integral = _asked(law, error, speed, crossed, integral, per_rad)
        last = seen
        for before, time, rows in pieces:
            i, w, angle, drawn = _advance(shaft, rows, time, i, w, angle, duty if before else wanted)
            energy += drawn
            peak = max(peak, abs(i))
        duty = wanted
        places[n + 1], duties[n + 1], currents[n + 1] = angle * per_rad, duty, i
    return _measured(law, target, count, places, duties, currents, peak, energy)


def _asked(
    law: MoveLaw, error: int, speed: float, crossed: bool, integral: float, per_rad: float
) -> tuple[float, float]:
    """The duty that a law asks for, and its integral."""
    if abs(error) <= law.window and law.way != "cascade":
        return 0.0, 0.0
    if law.way in ("on/off", "reduced"):
        most = REDUCED if crossed and law.way == "reduced" else law.most
        return max(math.copysign(most, error), law.least), 0.0
    if law.way == "cascade":
        if abs(error) <= law.window and abs(speed) * law.outer_per_s < 1:
            return 0.0, 0.0
        gain, time = law.inner
        off = (law.outer_per_s * error - speed) / per_rad
        wanted = gain * off + integral
        if abs(wanted) < law.most or wanted * off < 0:
            integral += gain * off * law.period_s / time
    else:
        wanted = law.gain * (error - law.derivative_s * speed)
    wanted += math.copysign(law.offset, wanted) if wanted else 0.0
    return max(min(wanted, law.most), -law.most, law.least), integral


Rows = tuple[tuple[float, ...], tuple[float, ...], tuple[float, ...], float]


def _rows(motor: LoopPlant, time: float) -> Rows:
    """The exact step of current, speed and angle over a time, and what is left of a current at a shaft that stands."""
    m = _with_angle(motor, time)
    first, second, third = (tuple(float(x) for x in row) for row in m)
    return first, second, third, math.exp(-motor.resistance_ohm / motor.inductance_h * time)


def _advance(
    shaft: Shaft, rows: Rows, time: float, i: float, w: float, angle: float, duty: float
) -> tuple[float, float, float, float]:
    """Current, speed and angle after a time at a duty, and the energy drawn from the supply."""
    motor = shaft.motor
    volts = duty * motor.bus_v
    lost = motor.lost_v
    volts = volts - lost if volts > lost else volts + lost if volts < -lost else 0.0
    if w == 0.0:
        # Where it stands the current goes its own way; it breaks away in this step if its torque does at the end of it.
        end = volts / motor.resistance_ohm
        stood = end + (i - end) * rows[3]
        free = motor.constant * stood - motor.load_nm
        if abs(free) <= shaft.stiction_nm and abs(motor.constant * i - motor.load_nm) <= shaft.stiction_nm:
            return stood, 0.0, angle, max(duty * motor.bus_v * (i + stood) / 2 * time, 0.0)
        way = math.copysign(1.0, free)
    else:
        stood, way = i, math.copysign(1.0, w)
    load = motor.load_nm + way * shaft.coulomb_nm
    (a, b, _, c, d), (e, f, _, g, h), (p, q, _, r, s), _ = rows
    new_i = a * i + b * w + c * volts + d * load
    new_w = e * i + f * w + g * volts + h * load
    new_angle = angle + p * i + q * w + r * volts + s * load
    if w == 0.0 and new_w * way < 0:
        return stood, 0.0, angle, max(duty * motor.bus_v * (i + stood) / 2 * time, 0.0)
    if w != 0.0 and new_w * w < 0 and shaft.stiction_nm > 0:
        # It comes to rest on the way: from there it sticks, or turns round against the friction of the other way.
        share = abs(w) / (abs(w) + abs(new_w))
        (a, b, _, c, d), _, (p, q, _, r, s), _ = _rows(motor, share * time)
        rest_i = a * i + b * w + c * volts + d * load
        rest_angle = angle + p * i + q * w + r * volts + s * load
        drawn = max(duty * motor.bus_v * (i + rest_i) / 2 * share * time, 0.0)
        left = (1 - share) * time
        end_i, end_w, end_angle, more = _advance(shaft, _rows(motor, left), left, rest_i, 0.0, rest_angle, duty)
        return end_i, end_w, end_angle, drawn + more
    return new_i, new_w, new_angle, max(duty * motor.bus_v * (i + new_i) / 2 * time, 0.0)


def _measured(
    law: MoveLaw,
    target: int,
    count: int,
    places: list[float],
    duties: list[float],
    currents: list[float],
    peak: float,
    energy: float,
) -> Move:
    place = np.array(places)
    time = np.arange(count + 1) * law.period_s
    sign = 1 if target >= 0 else -1
    beyond = float(np.max(sign * (place - target)))
    off = np.abs(place - target) > law.window + 1
    last = int(np.flatnonzero(off)[-1]) if off.any() else -1
    tail = place[-max(count // 5, 2) :]
    hunting = float(tail.max() - tail.min())
    return Move(
        way=law.way,
        time_s=[float(x) for x in time],
        place=places,
        duty=duties,
        current_a=currents,
        overshoot=max(beyond, 0.0),
        settled_s=None if last == count else float(time[last + 1]),
        hunting=hunting if hunting > 1.0 else 0.0,
        peak_a=peak,
        energy_j=energy,
        rest_error=float(target - place[-1]),
    )
