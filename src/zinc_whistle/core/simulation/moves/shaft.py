"""The drive's shaft from one sample to the next, exactly: the averaged motor with friction that sticks, a load that
pulls back, play in the gear, a source that gives way and a driver that holds its current."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Literal

from ...laws.loop_step import LoopPlant

DUTIES = 64
"""Places of the duty's size between which the source's share of the ohms is not told apart."""


NO_CURRENT = 1e-9


@dataclass(frozen=True, slots=True)
class Shaft:
    """The drive at the motor's shaft, SI.

    The motor's ``load_nm`` pulls back always, as a weight does; ``coulomb_nm`` rubs against any motion and
    ``stiction_nm`` holds what stands (N·m). ``counts_per_turn`` are of a turn of the motor, whatever ``counted`` on:
    with the encoder on the output the play of the gear (``play_rad``, at the motor's shaft) lies within the loop.
    ``source_ohm`` gives way under the current drawn; ``limit_a`` is what the driver lets through at most (None: all);
    ``pulses_hz`` make the ripple on the current (None: none is told).
    """

    motor: LoopPlant
    coulomb_nm: float
    stiction_nm: float
    counts_per_turn: float
    play_rad: float = 0.0
    counted: Literal["motor", "output"] = "motor"
    source_ohm: float = 0.0
    limit_a: float | None = None
    pulses_hz: float | None = None

    @property
    def leans(self) -> bool:
        """Whether the load's pull keeps the teeth on one flank, so that there is no play to cross."""
        return abs(self.motor.load_nm) > self.coulomb_nm

    def with_load(self, more_nm: float) -> Shaft:
        """The same with more that pulls back."""
        return replace(self, motor=replace(self.motor, load_nm=self.motor.load_nm + more_nm))


def held_for(ohms: float, henries: float, constant: float, inertia: float, time: float) -> tuple[float, ...]:
    """exp(A t) of current and speed under held volts and load: the four numbers of the matrix, and the share of a
    current that is left after the time at a shaft that stands.

    A = [[−R/L, −K/L], [K/J, 0]], by its two roots; both are in the left half plane, so nothing overflows.
    """
    middle, product = -ohms / (2 * henries), constant * constant / (henries * inertia)
    square = middle * middle - product
    root = math.sqrt(abs(square))
    if root * time < 1e-6:
        even = math.exp(middle * time)
        odd = even * time
    elif square > 0:
        # The slow root by the product of both: their difference would lose its digits.
        quick = middle - root
        one, two = math.exp(product / quick * time), math.exp(quick * time)
        even, odd = (one + two) / 2, (one - two) / (2 * root)
    else:
        size = math.exp(middle * time)
        even, odd = size * math.cos(root * time), size * math.sin(root * time) / root
    return (
        even + odd * middle,
        -odd * constant / henries,
        odd * constant / inertia,
        even - odd * middle,
        math.exp(2 * middle * time),
    )


class Turning:
    """A shaft in motion: current (A), speed (rad/s) and angle (rad) of the motor, angle of what it moves behind the
    play, energy drawn (J). ``began`` are current, speed, volts, load and ohms at the beginning of every piece in which
    it turned freely."""

    __slots__ = ("angle", "began", "current", "energy", "holds", "plays", "shaft", "speed", "steps", "turned")

    def __init__(self, shaft: Shaft) -> None:
        self.shaft = shaft
        self.current = self.speed = self.angle = self.turned = self.energy = 0.0
        self.began: list[tuple[float, float, float, float, float]] = []
        self.steps: dict[tuple[int, float], tuple[float, ...]] = {}
        self._known()

    def _known(self) -> None:
        """What does not change from step to step: whether friction holds the load's pull by itself, and whether there
        is play to cross."""
        self.holds = abs(self.shaft.motor.load_nm) <= self.shaft.stiction_nm
        self.plays = self.shaft.play_rad > 0 and not self.shaft.leans

    def loaded(self, more_nm: float) -> None:
        """From now on so much more pulls back."""
        self.shaft = self.shaft.with_load(more_nm)
        self._known()

    def _ohms(self, duty: float) -> tuple[int, float]:
        """What stands in the current's way at a duty: the bus carries its share of the current, the source sees the
        share's share. The place of the duty with it."""
        place = round(abs(duty) * DUTIES) if self.shaft.source_ohm else 0
        return place, self.shaft.motor.resistance_ohm + self.shaft.source_ohm * (place / DUTIES) ** 2

    def _volts(self, duty: float, ohms: float) -> float:
        """What reaches the motor's terminals (the source's share counts as ohms): less what the driver drops, and no
        more than drives its limit of current at this speed."""
        motor = self.shaft.motor
        volts, lost = duty * motor.bus_v, motor.lost_v
        volts = volts - lost if volts > lost else volts + lost if volts < -lost else 0.0
        limit = self.shaft.limit_a
        if limit is not None:
            back = motor.constant * self.speed
            volts = min(max(volts, back - ohms * limit), back + ohms * limit)
        return volts

    def go(self, duty: float | None, time: float) -> None:
        """On for a time at a duty; None: nothing is driven, and the motor coasts."""
        if time <= 0:
            return
        if duty is None:
            self._coast(time)
        elif duty == 0.0 and self.speed == 0.0 and self.current == 0.0 and self.holds:
            return
        else:
            place, ohms = self._ohms(duty) if self.shaft.source_ohm else (0, self.shaft.motor.resistance_ohm)
            self._driven(duty, self._volts(duty, ohms), place, ohms, time)
        if self.plays:
            self._follow()
        else:
            self.turned = self.angle

    def locked(self, duty: float | None, time: float) -> None:
        """For a time something holds the shaft, however hard it pulls."""
        self.speed = 0.0
        ohms = self._ohms(duty or 0.0)[1]
        self._stands(duty, self._volts(duty, ohms) if duty is not None else 0.0, ohms, time)

    def by_hand(self, duty: float | None, speed: float, time: float) -> None:
        """For a time a hand turns the shaft at a speed (rad/s), whatever the motor does about it."""
        self.speed = speed
        if duty is None:
            self.current = 0.0
        else:
            ohms = self._ohms(duty)[1]
            self._stands(duty, self._volts(duty, ohms) - self.shaft.motor.constant * speed, ohms, time)
        self.angle += speed * time
        self._follow()

    def _follow(self) -> None:
        half = self.shaft.play_rad / 2 if self.plays else 0.0
        if self.angle - self.turned > half:
            self.turned = self.angle - half
        elif self.turned - self.angle > half:
            self.turned = self.angle + half

    def _stands(self, duty: float | None, volts: float, ohms: float, time: float) -> None:
        """The current goes its own way."""
        if duty is None:
            self.current = 0.0
            return
        motor = self.shaft.motor
        end, settle = volts / ohms, motor.inductance_h / ohms
        left = math.exp(-time / settle)
        passed = end * time + (self.current - end) * settle * (1 - left)
        self.energy += max(duty * motor.bus_v * passed, 0.0)
        # What has died away by itself counts as nothing, or rest would never be rest.
        self.current = end + (self.current - end) * left if end or abs(self.current) > NO_CURRENT else 0.0

    def _coast(self, time: float) -> None:
        """No current: friction and the load alone."""
        shaft, motor = self.shaft, self.shaft.motor
        self.current = 0.0
        if self.speed == 0.0:
            if abs(motor.load_nm) <= shaft.stiction_nm:
                return
            way = -math.copysign(1.0, motor.load_nm)
        else:
            way = math.copysign(1.0, self.speed)
        slope = -(motor.load_nm + way * shaft.coulomb_nm) / motor.inertia
        rest = -self.speed / slope if slope else math.inf
        if 0 < rest < time:
            self.angle += self.speed * rest / 2
            self.speed = 0.0
            self._coast(time - rest)
            return
        self.angle += (self.speed + slope * time / 2) * time
        self.speed += slope * time

    def _driven(self, duty: float, volts: float, place: int, ohms: float, time: float) -> None:
        shaft, motor = self.shaft, self.shaft.motor
        constant, inertia = motor.constant, motor.inertia
        current, speed = self.current, self.speed
        key = (place, time)
        step = self.steps.get(key)
        if step is None:
            step = held_for(ohms, motor.inductance_h, constant, inertia, time)
            if place >= 0:
                self.steps[key] = step
        if speed == 0.0:
            # Where it stands the current goes its own way; it breaks away in this step if its torque does at the end.
            end = volts / ohms
            stood = end + (current - end) * step[4]
            free = constant * stood - motor.load_nm
            if abs(free) <= shaft.stiction_nm and abs(constant * current - motor.load_nm) <= shaft.stiction_nm:
                self._stands(duty, volts, ohms, time)
                return
            way = 1.0 if free > 0 else -1.0
        else:
            way = 1.0 if speed > 0 else -1.0
        load = motor.load_nm + way * shaft.coulomb_nm
        # From how far they are from where they would settle.
        end_i = load / constant
        end_w = (volts - ohms * end_i) / constant
        i, w = current - end_i, speed - end_w
        turns = end_w + step[2] * i + step[3] * w
        if speed == 0.0 and turns * way < 0:
            self._stands(duty, volts, ohms, time)
            return
        if turns * speed < 0 and shaft.stiction_nm > 0:
            # It comes to rest on the way: from there it sticks, or turns round against the friction of the other way.
            share = abs(speed) / (abs(speed) + abs(turns)) * time
            part = held_for(ohms, motor.inductance_h, constant, inertia, share)
            turns = end_w + part[2] * i + part[3] * w
            self._turn(duty, volts, load, ohms, share, end_i + part[0] * i + part[1] * w, turns)
            self.speed = 0.0
            left = time - share
            if left > 1e-9 * time:
                # Not kept: such a rest of a step hardly comes again.
                self._driven(duty, volts, -1 - place, ohms, left)
            return
        self._turn(duty, volts, load, ohms, time, end_i + step[0] * i + step[1] * w, turns)

    def _turn(
        self, duty: float, volts: float, load: float, ohms: float, time: float, current: float, speed: float
    ) -> None:
        """Take over what was reached; charge and angle follow from the two equations, without another exponential."""
        motor = self.shaft.motor
        self.began.append((self.current, self.speed, volts, load, ohms))
        passed = (motor.inertia * (speed - self.speed) + load * time) / motor.constant
        self.angle += (volts * time - ohms * passed - motor.inductance_h * (current - self.current)) / motor.constant
        drawn = duty * motor.bus_v * passed
        if drawn > 0:
            self.energy += drawn
        self.current, self.speed = current, speed
