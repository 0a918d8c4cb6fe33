"""An outer loop on a sensor of something else: a base that balances, or what follows the drive's speed.

what is felt → law → duty → the drive's shaft with its breakaway and play → what stands or hangs on it
"""

from __future__ import annotations

import math
from collections import deque
from dataclasses import dataclass

import numpy as np
import scipy

from ...laws.load import G
from .shaft import Shaft, Turning

LONGEST_STEPS = 40_000
STEP_S = 1e-3
"""Between the samples the shaft and what it moves are stepped no further."""
FALLEN = math.radians(35)
TAIL = 5
MUCH_TILT = math.radians(4)
"""A tilt that is worth all of the duty, where gains are suggested."""
MUCH_SPEED = 0.5
"""Of the top speed: a speed that is worth as much."""


@dataclass(frozen=True, slots=True)
class Balancing:
    """A base on wheels with its weight above them: height of its centre above the axle (m), metres of way for a radian
    of the motor, and the tilt (rad) from which it begins."""

    height_m: float
    metres_per_rad: float
    start_rad: float

    @property
    def falls_per_s(self) -> float:
        """How fast a tilt grows by itself: √(g/h), 1/s."""
        return math.sqrt(G.value / self.height_m)


@dataclass(frozen=True, slots=True)
class Following:
    """What follows the drive's speed: ``gain`` of its unit for a rad/s of the motor, with a lag (s; 0: it adds up, as a
    place or a level does), told late by ``delay_s``; wanted at ``target``."""

    gain: float
    lag_s: float
    delay_s: float
    target: float


@dataclass(frozen=True, slots=True)
class OuterLaw:
    """Duty for what is felt (a rad of tilt, or a unit of error), for its change a second, for its sum over a second,
    and for each rad/s that the motor turns; ``offset``: duty below which nothing moves, added where any is asked;
    ``least`` and ``most`` duty."""

    period_s: float
    gain: float
    change: float = 0.0
    adds: float = 0.0
    by_speed: float = 0.0
    offset: float = 0.0
    least: float = -1.0
    most: float = 1.0


@dataclass(frozen=True, slots=True)
class Sensed:
    """What the sensor makes of the truth: by a table of truth and told (empty: the truth itself), in steps."""

    truth: tuple[float, ...] = ()
    told: tuple[float, ...] = ()
    step: float = 0.0

    def __call__(self, value: float) -> float:
        if self.truth:
            value = float(np.interp(value, self.truth, self.told))
        return round(value / self.step) * self.step if self.step else value


@dataclass(frozen=True, slots=True, kw_only=True)
class OuterFound:
    """Times (s), what is felt (rad of tilt, or its unit), the motor's speed (rad/s) and duty; when it fell (s; None: it
    stands), how far it swings at the end (peak to peak), the largest jump of speed behind the play (rad/s, at the
    motor's shaft), the largest current (A), and how far it is from its target at the end."""

    time_s: np.ndarray
    felt: np.ndarray
    speed: np.ndarray
    duty: np.ndarray
    fell_s: float | None
    swing: float
    jolt: float
    peak_a: float
    rest: float


def suggested_balance(shaft: Shaft, what: Balancing, period_s: float, lag_s: float) -> OuterLaw:
    """Gains from the linear model by a quadratic cost: a few degrees of tilt and half of the top speed are worth all of
    the duty. ValueError where there is no such law."""
    motor = shaft.motor
    top = motor.bus_v / motor.constant
    quick = what.falls_per_s**2
    per_speed = what.metres_per_rad / what.height_m
    # Tilt, its change, and the motor's speed; the drive as a lag.
    a = np.array([[0, 1, 0], [quick, 0, per_speed / lag_s], [0, 0, -1 / lag_s]])
    b = np.array([[0], [-per_speed * top / lag_s], [top / lag_s]])
    f, g, *_ = scipy.signal.cont2discrete((a, b, np.eye(3), np.zeros((3, 1))), period_s)
    cost = np.diag([1 / MUCH_TILT**2, 0.0, 1 / (MUCH_SPEED * top) ** 2])
    try:
        p = scipy.linalg.solve_discrete_are(f, g, cost, np.eye(1))
    except (np.linalg.LinAlgError, ValueError) as error:
        raise ValueError("No gains balance this base with this period: look more often.") from error
    tilt, change, speed = np.linalg.solve(np.eye(1) + g.T @ p @ g, g.T @ p @ f)[0]
    return OuterLaw(period_s, gain=-float(tilt), change=-float(change), by_speed=-float(speed))


def run_outer(
    shaft: Shaft, what: Balancing | Following, law: OuterLaw, seconds: float, sensed: Sensed | None = None
) -> OuterFound:
    """The loop in time. ValueError where it would take too long."""
    count = round(seconds / law.period_s)
    pieces = max(math.ceil(law.period_s / STEP_S - 1e-9), 1)
    if count <= 0:
        raise ValueError("That is less than a control period: look at a longer time.")
    if count * pieces > LONGEST_STEPS:
        raise ValueError(f"That would take more than {LONGEST_STEPS} steps: look at a shorter time.")
    turning, sense = Turning(shaft), sensed or Sensed()
    per_rad, step = shaft.counts_per_turn / (2 * math.pi), law.period_s / pieces
    outside = _Base(what) if isinstance(what, Balancing) else _Follower(what, step)
    felt, speeds, duties = [outside.felt], [0.0], [0.0]
    before, last, added, jolt, peak, seen, fell = sense(outside.felt), 0, 0.0, 0.0, 0.0, 0, None
    wanted = 0.0
    for n in range(count):
        now = sense(outside.felt)
        seen = math.floor((turning.turned if shaft.counted == "output" else turning.angle) * per_rad)
        turns = (seen - last) / per_rad / law.period_s
        error = outside.error(now)
        slope = (now - before) / law.period_s * (1 if isinstance(what, Balancing) else -1)
        before, last = now, seen
        asked = law.gain * error + law.change * slope + added + law.by_speed * turns
        if law.least < asked < law.most or asked * error < 0:
            added += law.adds * error * law.period_s
        wanted = asked + math.copysign(law.offset, asked) if asked else 0.0
        wanted = min(max(wanted, law.least), law.most)
        for _ in range(pieces):
            turned = turning.turned
            turning.go(wanted, step)
            jolt = max(jolt, outside.moved(turning.turned - turned, step))
            peak = max(peak, abs(turning.current))
        felt.append(outside.felt)
        speeds.append(turning.speed)
        duties.append(wanted)
        if outside.fallen:
            fell = (n + 1) * law.period_s
            break
    course = np.array(felt)
    tail = course[-max(len(course) // TAIL, 2) :]
    return OuterFound(
        time_s=np.arange(len(course)) * law.period_s,
        felt=course,
        speed=np.array(speeds),
        duty=np.array(duties),
        fell_s=fell,
        swing=float(tail.max() - tail.min()),
        jolt=jolt,
        peak_a=peak,
        rest=float(outside.error(float(course[-1]))),
    )


class _Base:
    """Tilt and its change. The wheels carry it along: a jump of their speed turns it back by as much over its
    height."""

    def __init__(self, what: Balancing) -> None:
        self.what, self.felt, self.change, self.speed = what, what.start_rad, 0.0, 0.0

    @property
    def fallen(self) -> bool:
        return abs(self.felt) > FALLEN

    def error(self, told: float) -> float:
        return told

    def moved(self, turned: float, time: float) -> float:
        """Moves on with the wheels; gives the jump of their speed (rad/s of the motor)."""
        what = self.what
        speed = turned / time
        jump = speed - self.speed
        self.change -= jump * what.metres_per_rad / what.height_m
        self.speed = speed
        # The fall itself, exactly: sinh and cosh of the time.
        quick = what.falls_per_s
        c, s = math.cosh(quick * time), math.sinh(quick * time)
        self.felt, self.change = self.felt * c + self.change * s / quick, self.felt * quick * s + self.change * c
        return abs(jump)


class _Follower:
    """A lag or a sum of the drive's speed, told late."""

    def __init__(self, what: Following, step: float) -> None:
        self.what, self.value, self.speed = what, 0.0, 0.0
        places = max(round(what.delay_s / step), 0)
        self.late = deque([0.0] * places, maxlen=places)

    fallen = False

    @property
    def felt(self) -> float:
        return self.late[0] if self.late else self.value

    def error(self, told: float) -> float:
        return self.what.target - told

    def moved(self, turned: float, time: float) -> float:
        """Moves on with the drive; gives the jump of its speed (rad/s of the motor)."""
        speed, what = turned / time, self.what
        jump, self.speed = abs(speed - self.speed), speed
        if what.lag_s > 0:
            left = math.exp(-time / what.lag_s)
            self.value = what.gain * speed + (self.value - what.gain * speed) * left
        else:
            self.value += what.gain * turned
        if self.late:
            self.late.append(self.value)
        return jump
