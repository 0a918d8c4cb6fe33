"""What each action writes to the driver's lines, and in which order: never both sides of a leg, never coils under
power."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from ..cases.truth import TruthTable
from .machine import Action

Levels = Mapping[str, str]
"""Line to level: 0, 1, PWM or not PWM."""


@dataclass(frozen=True)
class Lines:
    """A driver's lines by action, with what must never stand on them together."""

    names: tuple[str, ...]
    levels: Mapping[Action, Levels]
    leg: tuple[str, str] | None = None
    """Two lines that close both sides of one leg."""
    coils: tuple[str, ...] = ()
    """Lines of relay coils: they change only while nothing flows."""
    opposed: bool = False
    """Locked anti-phase: half duty holds still, more drives forward, less drives back."""
    switched: tuple[str, ...] = ()
    """Lines of a driver that is on or off: high only while the level is above nothing."""

    def shown(self, action: Action, level: int) -> Levels:
        """What stands on the lines at an action and a level: without a level nothing is pulsed or switched on."""
        levels = self.levels[action]
        if level or self.opposed:
            return levels
        driving = action in ("forward", "back")
        return {n: "0" if is_pulsed(v) or (driving and n in self.switched) else v for n, v in levels.items()}

    def _late(self, name: str, level: str) -> bool:
        """Whether a line goes low before the others, and high after them."""
        return is_pulsed(level) or (name in self.switched and level == "1")

    def writes(self, before: Action, after: Action) -> Iterator[dict[str, str]]:
        """The levels after each single write on the way from one action to another.

        First what is given up goes low, pulses before anything else; then levels are set; pulses come last.
        """
        now = dict(self.levels[before])
        wanted = self.levels[after]
        changed = [n for n in self.names if now[n] != wanted[n]]
        for name in sorted(changed, key=lambda n: not self._late(n, now[n])):
            now[name] = "0"
            yield dict(now)
        for name in sorted(changed, key=lambda n: self._late(n, wanted[n])):
            now[name] = wanted[name]
            yield dict(now)


def is_pulsed(level: str) -> bool:
    """Whether a line carries pulses."""
    return "PWM" in level


def lines_of(table: TruthTable) -> Lines:
    """The lines of an input style's truth table; an action that it has no row for rests as its nearest."""
    rows = {
        action: dict(zip(table.names, ("0" if x == "any" else x for x in row.inputs), strict=True))
        for row in table.rows
        for action in row.action.split(" and ")
        if action
    }
    quiet = rows.get("off") or rows.get("brake") or dict.fromkeys(table.names, "0")
    levels: dict[Action, Levels] = {
        "off": quiet,
        "brake": rows.get("brake") or quiet,
        "forward": rows["forward"],
        "back": rows.get("back") or quiet,
    }
    leg = ("HIGH", "LOW") if "HIGH" in table.names else None
    # Coils wait for the current to end where a transistor can end it; alone they are what ends it.
    ends = "pwm" in table.needs or bool(table.switched)
    coils = tuple(n for n in table.names if n.startswith("COIL")) if ends else ()
    opposed = bool(table.names) and rows.get("back") == rows["forward"]
    return Lines(table.names, levels, leg, coils, opposed=opposed, switched=table.switched)


def shorts(levels: Levels, leg: tuple[str, str] | None) -> bool:
    """Whether both sides of the leg are closed, at any moment of the pulses."""
    if leg is None:
        return False
    upper, lower = levels[leg[0]], levels[leg[1]]
    if "0" in (upper, lower):
        return False
    return {upper, lower} != {"PWM", "not PWM"}
