"""One build on a bench: its supply, its board, its motor, and where the probes hang. SI units."""

from __future__ import annotations

import math
from collections import deque
from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from ..core.assess import Assessment, MotorAssessment, assess
from ..core.model.build import Build
from ..core.model.driver import DriverPart
from ..core.panel.settings import MILLIAMPS
from ..core.program.board import Board
from ..core.program.plan import plan_program
from ..core.simulation.moves.shaft import Shaft, Turning
from ..core.stations.loop.moves import shaft_of

TICK_S = 1e-3
PARTS = 4
"""Pieces of a tick in which supply and motor take turns."""
LEAST_FARAD = 100e-6
"""What a bench supply has at its own output (common practice, no source)."""
SUPPLY_OHM = 0.02
METER_OHM = 0.05
"""Burden of the meter in its 10 A socket (common practice, no source)."""
EDGE_S = 100e-9
PLACES = ("supply", "motor", "supply current", "motor current")
"""What the meter can hang on: in parallel with the first two, in series for the others."""
FAULTS = {
    "": "nothing is wrong",
    "motor leads swapped": "the motor turns the other way",
    "motor lead off": "no current flows in the motor",
    "encoder lead off": "no count comes",
    "jam": "something holds the shaft",
    "driver dead": "its outputs stay at ground",
}


class NoBench(ValueError):
    """A build that cannot be put on the bench; the message is a sentence for its reader."""


@dataclass(slots=True)
class SupplySet:
    """What is set at the supply: volts, the current that it gives at most, and whether its output is on."""

    volts: float = 0.0
    limit_a: float = 0.1
    on: bool = False


class World:
    """The bench. ``advance`` passes time; all else looks at it or turns a knob.

    The averaged motor goes exactly from tick to tick; bus and supply are told four times a tick: the supply holds its
    volts, or in its current limit feeds the capacitors at its output and on the board with what it has left over.
    """

    def __init__(self, build: Build, shelf: list[DriverPart], drive: str = "", seed: int = 1) -> None:
        done = assess(build, shelf)
        self.driven = _chosen(done, drive)
        at = self.driven.context
        self.board = Board(plan_program(done, at.controller.id))
        self.number = next(d.number for d in self.board.plan.drives if d.id == self.driven.drive.id)
        try:
            self.shaft = shaft_of(at, self.driven.circuit, self.driven.encoder)
        except ValueError as error:
            raise NoBench(str(error)) from error
        self.shaft = replace(self.shaft, source_ohm=0.0, motor=replace(self.shaft.motor, bus_v=1.0))
        self.turning = Turning(self.shaft)
        self.farad = LEAST_FARAD + (at.unit.bulk_capacitance.value or 0.0)
        self.idle_a = _idle(self.driven)
        self.least_v = max(at.part.v_min.value or 0.0 if at.part is not None else 0.0, 1.0)
        self.pulses_hz = at.plan.frequency.value or 1e3
        self.supply = SupplySet()
        self.bus_v = self.supply_a = 0.0
        self.place, self.fault = "supply", ""
        self.contacts: set[str] = set()
        self._drive = self.board.drives[self.number]
        self._senses = "SENSE" in self._drive.program.pins
        self.level = 0.0
        self.action = "off"
        self.ticks = 0
        self._burden = 0.0
        self.noise = np.random.default_rng(seed)
        self.lines: deque[str] = deque(maxlen=200)
        """What the board says by itself, until somebody takes it."""

    @property
    def duty(self) -> float | None:
        """Of the driver's outputs: signed; None where they let the motor coast."""
        way = {"forward": 1.0, "back": -1.0}.get(self.action)
        if way is None:
            return 0.0 if self.action == "brake" else None
        return way * self.level

    @property
    def powered(self) -> bool:
        """Whether the driver has the volts that it works from."""
        return self.bus_v >= self.least_v and self.fault != "driver dead"

    def advance(self, ticks: int = 1) -> None:
        """So many milliseconds."""
        for _ in range(ticks):
            self.ticks += 1
            self._board()
            for _ in range(PARTS):
                self._power(TICK_S / PARTS)

    def _board(self) -> None:
        """The program's own tick: it runs on its own supply, from the programming lead."""
        counts = self.turning.turned if self.shaft.counted == "output" else self.turning.angle
        turns = counts / (2 * np.pi)
        count = 0 if self.fault == "encoder lead off" else int(turns * self.shaft.counts_per_turn // 1)
        sensed = self._sensed()
        said = self.board.tick(
            {self.number: dict.fromkeys(self.contacts, True)}, {self.number: count}, sensed={self.number: sensed}
        )
        self.lines.extend(said)
        if (now := self._drive.now) is not None:
            self.action = now.action
            self.level = now.level / self._drive.program.settings.full

    def _sensed(self) -> int:
        """What the converter reads of the sense output."""
        fine = self._drive.program.settings.milliamps_fine
        if not self._senses or not fine:
            return 0
        return min(int(abs(self.turning.current) * 1e3 * MILLIAMPS / fine), 1023)

    def _power(self, time: float) -> None:
        powered = self.powered
        duty = self.duty if powered else None
        if self.fault == "motor lead off":
            duty = None
        elif duty is not None and self.fault == "motor leads swapped":
            duty = -duty
        burden = METER_OHM if self.place == "motor current" else 0.0
        if burden != self._burden:
            self._burden = burden
            self.turning.steps.clear()
            ohms = self.shaft.motor.resistance_ohm + burden
            self.turning.shaft = replace(self.shaft, motor=replace(self.shaft.motor, resistance_ohm=ohms))
        self.turning.began.clear()
        # The shaft's bus has one volt: the duty brings the volts along, which change from piece to piece.
        driven = None if duty is None else duty * self.bus_v
        if self.fault == "jam":
            self.turning.locked(driven, time)
        else:
            self.turning.go(driven, time)
        drawn = self.idle_a if powered else 0.0
        # What the bus gives is the motor's current for as long as the switches lead to it.
        drawn += self.turning.current * (duty or 0.0)
        ohms = SUPPLY_OHM + (METER_OHM if self.place == "supply current" else 0.0)
        if self.supply.on:
            # As a source with a small resistance, exactly over the piece; it takes nothing back.
            settles = self.supply.volts - drawn * ohms
            after = settles + (self.bus_v - settles) * math.exp(-time / (ohms * self.farad))
            given = drawn + self.farad * (after - self.bus_v) / time
            self.supply_a = min(max(given, 0.0), self.supply.limit_a)
        else:
            self.supply_a = 0.0
        self.bus_v = max(self.bus_v + (self.supply_a - drawn) * time / self.farad, 0.0)

    @property
    def limiting(self) -> bool:
        """Whether the supply holds its current instead of its volts."""
        held = self.supply_a >= self.supply.limit_a * (1 - 1e-9)
        return self.supply.on and held and self.bus_v < self.supply.volts - 0.05

    @property
    def motor_v(self) -> float:
        """Mean volts at the motor's terminals: driven, shorted, or what it makes itself."""
        duty = self.duty if self.powered else None
        if duty is None or self.fault == "motor lead off":
            return self.shaft.motor.constant * self.turning.speed if self.fault != "motor lead off" else 0.0
        lost = self.shaft.motor.lost_v
        volts = duty * self.bus_v
        return volts - lost if volts > lost else volts + lost if volts < -lost else 0.0

    def measured(self, what: str) -> float:
        """What the meter's input sees: ``dc``, ``ac`` (the pulses' true RMS without the mean) or ``frequency`` of
        volts, or ``current``. Where it hangs in parallel it sees no current, in series no volts."""
        if what == "current":
            found = {"supply current": self.supply_a, "motor current": self.turning.current}.get(self.place, 0.0)
            return self._noisy(found, 1e-3)
        duty = abs(self.duty or 0.0) if self.powered else 0.0
        pulsing = self.place == "motor" and 0 < duty < 1
        if what == "frequency":
            return self.pulses_hz if pulsing else 0.0
        if what == "ac":
            return self._noisy(self.bus_v * (duty - duty * duty) ** 0.5 if pulsing else 0.0, 1e-3)
        found = {"supply": self.bus_v, "motor": self.motor_v}.get(self.place, 0.0)
        return self._noisy(found, 1e-3)

    def _noisy(self, value: float, digit: float) -> float:
        """A twentieth of a per cent and a digit, as a usual meter wavers."""
        wavers = value * (1 + 5e-4 * self.noise.standard_normal()) + digit * self.noise.standard_normal()
        return round(wavers / digit) * digit

    def seen(self, count: int, interval_s: float, most_v: float) -> NDArray[np.float64]:
        """What an oscilloscope takes at the motor's plus terminal against ground: so many samples, from a rising edge a
        tenth in, cut at its screen and told in 256 steps."""
        time = (np.arange(count) - count // 10) * interval_s
        duty = self.duty if self.powered else None
        if duty is None:
            volts = np.full(count, self.motor_v)
        else:
            period = 1 / self.pulses_hz
            phase = np.mod(time, period)
            on = abs(duty) * period
            rising = np.clip(phase / EDGE_S, 0, 1)
            falling = np.clip((phase - on) / EDGE_S, 0, 1)
            share = np.where(abs(duty) >= 1, 1.0, rising - falling) if duty else np.zeros(count)
            volts = (self.bus_v - self.shaft.motor.lost_v) * np.clip(share, 0, 1) * (1 if duty >= 0 else 0)
        volts = volts + 0.004 * most_v * self.noise.standard_normal(count)
        step = 2 * most_v / 256
        return np.clip(np.round(volts / step) * step, -most_v, most_v - step)

    def tell(self, text: str) -> list[str]:
        """Characters to the board's port, and its answers."""
        return self.board.receive(text)


def _chosen(done: Assessment, drive: str) -> MotorAssessment:
    """The drive that is put on the bench: the one named, or the first with a motor."""
    driven: Mapping[str, MotorAssessment] = {
        id: motor
        for id, d in done.drives.items()
        if (own := d.driven) is not None and (motor := own.of_motor) is not None
    }
    if drive and drive not in driven:
        raise NoBench(f"There is no motor drive {drive} in this build.")
    if not driven:
        raise NoBench("This build has no motor drive.")
    return driven[drive] if drive else next(iter(driven.values()))


def _idle(driven: MotorAssessment) -> float:
    """What the driver itself draws (A), where that is known."""
    part = driven.context.part
    value = part.quiescent_a.value if part is not None else None
    return value or 0.0


__all__ = ["FAULTS", "PLACES", "NoBench", "Shaft", "World"]
