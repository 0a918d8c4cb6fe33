"""What a program holds of a panel as numbers: units, knob, ramp, stop by current, loop, and how a move nears its
place."""

from __future__ import annotations

from dataclasses import dataclass, replace

ONE = 1 << 14
"""A level of one step of the timer, in the fine units in which the ramp counts."""
BOUNCING = (
    *("forward", "back", "run_forward", "run_back", "home", "stop", "clear"),
    *("limit_front", "limit_back", "fault"),
)
"""Inputs that are contacts: they must stay for the debounce time before they count. A program in its proving mode tells
them in this order."""


FINE = 256
"""Loop gains are kept in 1/256 of their unit."""
TRIP_FINE = 64
"""Squares of readings are summed up in 64ths, so that 32 bits hold half a minute of them."""
MOST_GAIN = 32767
"""A gain in its fine units, so that a program's products stay within 32 bits."""
MILLIAMPS = 256
"""What one step of a sense reading stands for is kept in 1/256 mA."""
SPEED_FINE = 65536
"""A level's speed is kept in 1/65536 rpm: a level may be one step of 65,535."""


@dataclass(frozen=True, slots=True)
class Loop:
    """A proportional speed loop in whole numbers.

    Every ``period_ms`` the counts are read: ``rpm_per_count_fine`` (1/256 rpm) turns their change into speed;
    ``rpm_per_level_fine`` (1/65536 rpm) and ``rpm_drop`` tell the speed that a level should give;
    ``gain_fine`` (1/256 level per rpm)
    corrects the level. ``tacho``: a tacho's reading (of 1023) takes the place of the counts' change, its sign from the
    way that is driven. ``integral_fine`` (1/256 level per rpm) is what each period's error adds to the integral (0:
    none). ``closed`` is no for a drive that only measures.
    """

    period_ms: int
    rpm_per_count_fine: int
    rpm_per_level_fine: int
    rpm_drop: int
    gain_fine: int
    closed: bool = True
    integral_fine: int = 0
    tacho: bool = False

    def speed_of(self, level: int) -> int:
        """The speed (rpm) that a level should give."""
        return max(level * self.rpm_per_level_fine // SPEED_FINE - self.rpm_drop, 0)

    def level_of(self, rpm: int) -> int:
        """The level that a speed (rpm) wants."""
        return (rpm + self.rpm_drop) * SPEED_FINE // self.rpm_per_level_fine if rpm > 0 else 0


WINDOW = 2
"""A move is there within so many counts."""


@dataclass(frozen=True, slots=True)
class Approach:
    """How a move nears its place: within so many counts its level falls evenly to ``creep`` (a level; 0 counts: it does
    not fall); after the first crossing it creeps in any case."""

    within: int
    creep: int

    def level(self, wanted: int, left: int, crossed: bool) -> int:
        """The level for so many counts that are left, either way."""
        made = self.creep if crossed else wanted
        if not crossed and abs(left) < self.within:
            made = max(wanted * abs(left) // self.within, self.creep)
        return min(made, wanted)


KNOB_STILL, KNOB_MOVED = 2, 16
"""Of 1023: a servo's knob that trembles by so little is still; moved by so much since an order it takes over again."""
KNOB_LOST, KNOB_ZERO, KNOB_TOP = 20, 60, 980
"""Of 1023: resistors at both ends keep a whole knob between; below and above, a wire is off."""


@dataclass(frozen=True, slots=True)
class Settings:
    """Times in ms, levels in timer steps: all that a program holds as numbers.

    ``full`` is the timer's top; ``ramp_ms`` is from zero to full; ``offset`` is the level at which the motor
    breaks away, ``watch_from`` the one from which it must turn, ``home`` that of homing (0: the wanted). ``trip`` is a
    sense reading of 1023 above which it fails, at twice of it after ``trip_ms`` (0: it does not), ``hold_ms`` for how
    long the highest reading counts, ``milliamps_fine`` what one step of a reading stands for (1/256 mA). ``ends`` are
    counts beyond which it does not drive.
    """

    full: int
    wanted: int
    ramp_ms: int
    pause_ms: int
    debounce_ms: int
    watch_ms: int = 400
    link_ms: int = 500
    coil_ms: int = 0
    offset: int = 0
    watch_from: int = 1
    knob_full: int = 1023
    home: int = 0
    trip: int = 0
    trip_ms: int = 0
    hold_ms: int = 64
    milliamps_fine: int = 0
    ends: tuple[int, int] | None = None
    loop: Loop | None = None
    approach: Approach | None = None
    most: int = 0
    """The level beyond which it never goes; 0: its full."""

    @property
    def top(self) -> int:
        """The highest level."""
        return self.most or self.full

    def in_ticks(self, tick_ms: int) -> Settings:
        """The same for a program that looks every ``tick_ms``: times become ticks, at least one."""
        if tick_ms == 1:
            return self

        def ticks(ms: int) -> int:
            return max(round(ms / tick_ms), 1)

        loop = self.loop
        if loop is not None:
            period = ticks(loop.period_ms)
            per_count = loop.rpm_per_count_fine
            if not loop.tacho:
                per_count = per_count * loop.period_ms // (period * tick_ms)
            integral = loop.integral_fine * period * tick_ms // loop.period_ms
            loop = replace(loop, period_ms=period, rpm_per_count_fine=per_count, integral_fine=integral)
        return replace(
            self,
            ramp_ms=ticks(self.ramp_ms) if self.ramp_ms else 0,
            pause_ms=ticks(self.pause_ms),
            debounce_ms=ticks(self.debounce_ms),
            watch_ms=ticks(self.watch_ms),
            link_ms=ticks(self.link_ms),
            coil_ms=ticks(self.coil_ms),
            trip_ms=ticks(self.trip_ms) if self.trip_ms else 0,
            hold_ms=ticks(self.hold_ms),
            loop=loop,
        )

    @property
    def trip_sum(self) -> int:
        """What (reading² − trip²)/64 must come to, summed up over ticks, before it fails: at twice the trip in its
        time. Below 2³¹."""
        return 3 * (self.trip * self.trip // TRIP_FINE) * self.trip_ms

    @property
    def ramp_step(self) -> int:
        """Level a tick, in fine units; all at once without a ramp."""
        return max(self.full * ONE // self.ramp_ms, 1) if self.ramp_ms > 0 else self.full * ONE
