"""The lamps of a panel: which modes and inputs light each. Screen, model and both programs go by these rules."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ..model.panel import PanelLamp, lamp_signal
from .machine import Machine, PanelMode

BLINK_MS = 256
"""Half of a blink: a quarter of a second, and one bit of a millisecond counter."""


@dataclass(frozen=True, slots=True)
class LampRule:
    """A lamp is lit in some modes, while an input is on, or once it is homed."""

    signal: str
    name: str
    modes: tuple[str, ...]
    input: str
    blinks: bool

    def lit(self, mode: str, homed: bool, inputs: Mapping[str, bool]) -> bool:
        """Whether it is lit, blinking or not."""
        held = homed if self.input == "homed" else bool(inputs.get(self.input, False))
        return mode in self.modes or held


def _in(mode: PanelMode, when: str) -> bool:
    """Whether a mode lights a lamp."""
    driving = mode.action in ("forward", "back")
    return {
        "driving": driving,
        "forward": mode.action == "forward",
        "back": mode.action == "back",
        "ready": mode.name == "idle",
        "waiting": mode.name == "waiting",
        "stopped": mode.name == "stopped",
        "failed": mode.name == "failed",
        "trouble": mode.name in ("stopped", "failed"),
    }.get(when, False)


def rules_of(machine: Machine, lamps: Sequence[PanelLamp]) -> tuple[LampRule, ...]:
    """The rule of each lamp on a panel's machine."""
    found = []
    for place, lamp in enumerate(lamps, 1):
        input = lamp.when if lamp.when in (*machine.inputs, "homed") and lamp.when not in machine.by_name else ""
        found.append(
            LampRule(
                signal=lamp_signal(place, lamp),
                name=lamp.name.strip() or f"Lamp {place}",
                modes=tuple(m.name for m in machine.modes if _in(m, lamp.when)),
                input=input,
                blinks=lamp.blinks == "yes",
            )
        )
    return tuple(found)


def never_lit(machine: Machine, rule: LampRule) -> bool:
    """Whether nothing that this panel can do lights a lamp."""
    homes = any(r.homed for r in machine.rules)
    return not rule.modes and not (homes if rule.input == "homed" else rule.input)
