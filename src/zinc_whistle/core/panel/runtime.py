"""The panel in time, tick by tick: the reference that both generated programs are held against.

raw contacts → debounced → machine → ramp of the level → relay sequence → lines. Whole numbers only, as in the programs.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

from .lamps import LampRule
from .lines import Lines
from .machine import Action, Machine
from .settings import BOUNCING, FINE, KNOB_LOST, KNOB_TOP, KNOB_ZERO, ONE, TRIP_FINE, WINDOW, Settings


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
    goal: int | None = None
    side: int = 0
    """From which side it goes for its place; 0 once it has crossed it."""
    turned: int = 0
    """The tacho's reading of the tick before."""
    driven: int = 1
    """The way that was driven last."""
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
        self,
        contacts: Mapping[str, bool],
        asked: Mapping[str, bool] = {},
        count: int = 0,
        sensed: int = 0,
        goal: int | None = None,
        tacho: int = 0,
    ) -> Now:
        """One millisecond: contacts (true: pressed), what is asked otherwise (no contact, so it counts at once), the
        encoder's count as it stands, the current sense (of 1023), the count that it is to go to, and what a tacho reads
        (of 1023)."""
        fresh = self._measure(count)
        self.turned = tacho
        self._sum_up(sensed)
        inputs = {n: on or bool(asked.get(n, False)) for n, on in self.debounced(contacts).items()}
        inputs["still"] = self.level_fine == 0
        inputs["rested"] = self.rest_ms >= self.settings.pause_ms
        inputs["stuck"] = self.quiet_counts_ms >= self.settings.watch_ms
        inputs["over"] = self.settings.trip > 0 and self.over >= self.settings.trip_sum
        if (ends := self.settings.ends) is not None:
            inputs["end_back"], inputs["end_front"] = count <= ends[0], count >= ends[1]
        if "ahead" in inputs:
            inputs["ahead"] = goal is not None and goal - count > WINDOW
            inputs["behind"] = goal is not None and count - goal > WINDOW
        self.mode, self.homed, _ = self.machine.step(self.mode, self.homed, inputs)
        mode = self.machine.by_name[self.mode]
        driving = mode.action in ("forward", "back")
        if driving:
            self.driven = 1 if mode.action == "forward" else -1
        self.rest_ms = 0 if driving else min(self.rest_ms + 1, self.settings.pause_ms)
        ready = self._sequence(mode.action)
        wanted = self._near(goal, count)
        if mode.target == "cut" or not ready:
            self.level_fine = 0
        else:
            step = self.settings.ramp_step
            left = {"wanted": wanted, "slow": self.settings.home or self.wanted}.get(mode.target, 0) * ONE
            self.level_fine += max(min(left - self.level_fine, step), -step)
        level = self._corrected(self.level_fine // ONE, mode.action, fresh) if driving else self._let_go()
        self.applied_level = level
        moves = level >= self.settings.watch_from
        self.quiet_counts_ms = self.quiet_counts_ms + 1 if moves and count == self.last_count else 0
        self.last_count = count
        lamps = tuple(lamp.lit(self.mode, self.homed, inputs) for lamp in self.lamps)
        return Now(self.mode, mode.action, level, self._levels(mode.action, level), lamps)

    def _near(self, goal: int | None, count: int) -> int:
        """The level that is wanted: on a move it may fall as its place comes near."""
        if goal != self.goal:
            self.goal, self.side = goal, 0 if goal is None else 1 if goal > count else -1
        approach = self.settings.approach
        if goal is None or approach is None:
            return self.wanted
        if (goal - count) * self.side <= 0:
            self.side = 0
        return approach.level(self.wanted, goal - count, self.side == 0)

    def tuned(self, gain_fine: int, integral_fine: int) -> None:
        """Other gains for its loop, until it starts anew."""
        loop = self.settings.loop
        assert loop is not None and loop.closed
        self.settings = replace(self.settings, loop=replace(loop, gain_fine=gain_fine, integral_fine=integral_fine))

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
        change = self.turned * self.driven if loop.tacho else count - self.count
        self.rpm = divided(change * loop.rpm_per_count_fine, FINE)
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
        error, full, top = loop.speed_of(level) - have, self.settings.full, self.settings.top
        if fresh and (self.bound == 0 or (error < 0) == (self.bound > 0)):
            self.integral = min(max(self.integral + error * loop.integral_fine, -full * FINE), full * FINE)
        made = applied + divided(error * loop.gain_fine, FINE) + divided(self.integral, FINE)
        self.bound = (made > top) - (made < 0)
        return min(max(made, 0), top)

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
        made = offset + level * (full - offset) // full if level and offset else level
        return min(made, self.settings.top)

    def _levels(self, action: Action, level: int) -> dict[str, str]:
        found = dict(self.lines.shown(action, level))
        if self.lines.coils:
            found |= self.coils
        return found


def divided(a: int, b: int) -> int:
    """A quotient towards zero, as C divides."""
    return a // b if a >= 0 else -(-a // b)
