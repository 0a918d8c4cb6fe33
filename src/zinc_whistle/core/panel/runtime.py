"""The panel in time, tick by tick: the reference that both generated programs are held against.

raw contacts → debounced → machine → ramp of the level → relay sequence → lines. Whole numbers only, as in the programs.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

from .lamps import LampRule
from .lines import Lines
from .machine import Action, Machine

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
    corrects the level. ``integral_fine`` (1/256 level per rpm) is what each period's error adds to the integral (0:
    none). ``closed`` is no for a drive that only measures.
    """

    period_ms: int
    rpm_per_count_fine: int
    rpm_per_level_fine: int
    rpm_drop: int
    gain_fine: int
    closed: bool = True
    integral_fine: int = 0

    def speed_of(self, level: int) -> int:
        """The speed (rpm) that a level should give."""
        return max(level * self.rpm_per_level_fine // SPEED_FINE - self.rpm_drop, 0)

    def level_of(self, rpm: int) -> int:
        """The level that a speed (rpm) wants."""
        return (rpm + self.rpm_drop) * SPEED_FINE // self.rpm_per_level_fine if rpm > 0 else 0


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

    def in_ticks(self, tick_ms: int) -> Settings:
        """The same for a program that looks every ``tick_ms``: times become ticks, at least one."""
        if tick_ms == 1:
            return self

        def ticks(ms: int) -> int:
            return max(round(ms / tick_ms), 1)

        loop = self.loop
        if loop is not None:
            period = ticks(loop.period_ms)
            per_count = loop.rpm_per_count_fine * loop.period_ms // (period * tick_ms)
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


@dataclass(frozen=True, slots=True)
class Now:
    """What stands on the driver: the action, the level applied to pulsed lines (timer steps) and every line."""

    mode: str
    action: Action
    level: int
    lines: Mapping[str, str]
    lamps: tuple[bool, ...] = ()
    """Which lamps are lit, blinking or not."""


@dataclass(slots=True)
class Panel:
    """A running panel. ``tick`` once a millisecond."""

    machine: Machine
    lines: Lines
    settings: Settings
    mode: str = ""
    homed: bool = False
    level_fine: int = 0
    rest_ms: int = 0
    coils: dict[str, str] = field(default_factory=dict)
    quiet_ms: int = 0
    settled_ms: int = 0
    wanted: int = -1
    open_loop: bool = False
    count: int = 0
    last_count: int = 0
    loop_ms: int = 0
    rpm: int = 0
    integral: int = 0
    """Of the loop, in 1/256 level."""
    bound: int = 0
    """Whether the level was held at its top (1) or at nothing (−1)."""
    quiet_counts_ms: int = 0
    over: int = 0
    peak: int = 0
    peak_before: int = 0
    peak_ms: int = 0
    applied_level: int = 0
    lamps: tuple[LampRule, ...] = ()
    _steady: dict[str, bool] = field(default_factory=dict)
    _since: dict[str, int] = field(default_factory=dict)

    def __post_init__(self) -> None:
        self.mode = self.mode or self.machine.modes[0].name
        self.coils = self.coils or dict.fromkeys(self.lines.coils, "0")
        if self.wanted < 0:
            self.wanted = self.settings.wanted

    def rest_at_start(self) -> None:
        """As power comes: the first mode, nothing homed, nothing driven."""
        self.mode, self.homed = self.machine.modes[0].name, False
        self.level_fine = self.rest_ms = self.quiet_ms = self.settled_ms = self.over = self.quiet_counts_ms = 0
        self.peak = self.peak_before = self.peak_ms = 0
        self.applied_level = self.integral = self.bound = 0
        self.coils = dict.fromkeys(self.lines.coils, "0")

    def nothing(self) -> Now:
        """What stands on the driver while everything is kept off."""
        return Now(self.mode, "off", 0, self._levels("off", 0), tuple(False for _ in self.lamps))

    def debounced(self, raw: Mapping[str, bool]) -> dict[str, bool]:
        """Contacts count once they have stayed for the debounce time; at power-up they count as they stand."""
        found = {}
        for name in self.machine.inputs:
            value = bool(raw.get(name, False))
            if name in BOUNCING:
                if name not in self._steady:
                    self._steady[name] = value
                self._since[name] = self._since.get(name, 0) + 1 if value != self._steady[name] else 0
                if self._since[name] >= self.settings.debounce_ms:
                    self._steady[name], self._since[name] = value, 0
                value = self._steady[name]
            found[name] = value
        return found

    def is_pressed(self, contact: str) -> bool:
        """Whether a contact counts as pressed."""
        return self._steady.get(contact, False)

    def knob(self, reading: int) -> dict[str, bool]:
        """What a knob's reading (of ``knob_full``) says; sets the wanted level."""
        scaled = reading * 1023 // self.settings.knob_full
        span = KNOB_TOP - KNOB_ZERO
        self.wanted = min(max(scaled - KNOB_ZERO, 0), span) * self.settings.full // span
        return {
            "knob_zero": scaled <= KNOB_ZERO,
            "knob_lost": scaled < KNOB_LOST or scaled > 1023 - KNOB_LOST,
        }

    def tick(
        self, contacts: Mapping[str, bool], asked: Mapping[str, bool] = {}, count: int = 0, sensed: int = 0
    ) -> Now:
        """One millisecond: contacts (true: pressed), what is asked otherwise (no contact, so it counts at once), the
        encoder's count as it stands, and the current sense (of 1023)."""
        fresh = self._measure(count)
        self._sum_up(sensed)
        inputs = {n: on or bool(asked.get(n, False)) for n, on in self.debounced(contacts).items()}
        inputs["still"] = self.level_fine == 0
        inputs["rested"] = self.rest_ms >= self.settings.pause_ms
        inputs["stuck"] = self.quiet_counts_ms >= self.settings.watch_ms
        inputs["over"] = self.settings.trip > 0 and self.over >= self.settings.trip_sum
        if (ends := self.settings.ends) is not None:
            inputs["end_back"], inputs["end_front"] = count <= ends[0], count >= ends[1]
        self.mode, self.homed, _ = self.machine.step(self.mode, self.homed, inputs)
        mode = self.machine.by_name[self.mode]
        driving = mode.action in ("forward", "back")
        self.rest_ms = 0 if driving else min(self.rest_ms + 1, self.settings.pause_ms)
        ready = self._sequence(mode.action)
        goal = {"wanted": self.wanted, "slow": self.settings.home or self.wanted}.get(mode.target, 0) * ONE
        if mode.target == "cut" or not ready:
            self.level_fine = 0
        else:
            step = self.settings.ramp_step
            self.level_fine += max(min(goal - self.level_fine, step), -step)
        level = self._corrected(self.level_fine // ONE, mode.action, fresh) if driving else self._let_go()
        self.applied_level = level
        moves = level >= self.settings.watch_from
        self.quiet_counts_ms = self.quiet_counts_ms + 1 if moves and count == self.last_count else 0
        self.last_count = count
        lamps = tuple(lamp.lit(self.mode, self.homed, inputs) for lamp in self.lamps)
        return Now(self.mode, mode.action, level, self._levels(mode.action, level), lamps)

    def _sum_up(self, sensed: int) -> None:
        """How far too much the current was, and for how long: the highest reading of the last 64 to 128 ms counts, for
        most readings fall between the pulses."""
        self.peak = max(self.peak, sensed)
        held = max(self.peak, self.peak_before)
        self.peak_ms += 1
        if self.peak_ms >= self.settings.hold_ms:
            self.peak_before, self.peak, self.peak_ms = self.peak, 0, 0
        grown = divided(held * held - self.settings.trip * self.settings.trip, TRIP_FINE)
        self.over = min(max(self.over + grown, 0), self.settings.trip_sum)

    def _measure(self, count: int) -> bool:
        """The speed, once a control period; gives whether it is a new one."""
        loop = self.settings.loop
        if loop is None:
            return False
        self.loop_ms += 1
        if self.loop_ms < loop.period_ms:
            return False
        self.rpm = divided((count - self.count) * loop.rpm_per_count_fine, FINE)
        self.count, self.loop_ms = count, 0
        return True

    def _let_go(self) -> int:
        """Nothing is driven: the integral begins anew."""
        self.integral = self.bound = 0
        return 0

    def _corrected(self, level: int, action: Action, fresh: bool) -> int:
        """The level with breakaway offset and, in a closed loop, the correction by the speed's error and its integral,
        which stands still while the level is at its end and the error asks for more."""
        applied, loop = self.applied(level), self.settings.loop
        if loop is None or not loop.closed or not level or self.open_loop:
            self._let_go()
            return applied
        have = self.rpm if action == "forward" else -self.rpm
        error, full = loop.speed_of(level) - have, self.settings.full
        if fresh and (self.bound == 0 or (error < 0) == (self.bound > 0)):
            self.integral = min(max(self.integral + error * loop.integral_fine, -full * FINE), full * FINE)
        made = applied + divided(error * loop.gain_fine, FINE) + divided(self.integral, FINE)
        self.bound = (made > full) - (made < 0)
        return min(max(made, 0), full)

    def _sequence(self, action: Action) -> bool:
        """Whether pulses may come: relay coils change only after pulses were off, and pulses wait for the bounce."""
        if not self.lines.coils:
            return True
        wait = self.settings.coil_ms
        self.quiet_ms = 0 if self.level_fine else min(self.quiet_ms + 1, wait)
        self.settled_ms = min(self.settled_ms + 1, wait)
        wanted = {c: self.lines.levels[action][c] for c in self.lines.coils}
        if wanted != self.coils and self.quiet_ms >= wait:
            self.coils, self.settled_ms = wanted, 0
        return wanted == self.coils and self.settled_ms >= wait

    def applied(self, level: int) -> int:
        """The level with the breakaway offset: from nothing it starts where the motor starts."""
        offset, full = self.settings.offset, self.settings.full
        return offset + level * (full - offset) // full if level and offset else level

    def _levels(self, action: Action, level: int) -> dict[str, str]:
        found = dict(self.lines.shown(action, level))
        if self.lines.coils:
            found |= self.coils
        return found


def divided(a: int, b: int) -> int:
    """A quotient towards zero, as C divides."""
    return a // b if a >= 0 else -(-a // b)
