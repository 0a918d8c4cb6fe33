"""How a timer circuit is wired: its supply, its potentiometer, and its output to the driver's input."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from ...cases.operating import DriveContext
from ...cases.truth import truth_table
from .terminal import GROUND, Role, Terminal


@dataclass(frozen=True, slots=True, kw_only=True)
class Row:
    """One wire of the timer circuit."""

    id: str
    start: Terminal
    end: Terminal
    name: str
    colour: str
    role: Role


def rows(at: DriveContext, feed: Terminal, ground: str) -> Iterator[Row]:
    """The wires of a drive's timer circuit. Inputs of its driver that carry no pulses are tied to a level."""

    def row(id: str, start: Terminal, end: Terminal, name: str, colour: str, role: Role = "signal") -> Row:
        return Row(id=id, start=start, end=end, name=name, colour=colour, role=role)

    spec = at.drive.signals.timer
    fed = "Timer's supply" if spec.regulated_v.value is None else "To the timer's regulator"
    yield row("timer+", feed, Terminal("timer", "V+"), fed, "orange", "logic")
    yield row("timer-", Terminal("driver", ground), Terminal("timer", "GND"), GROUND, "black", "logic")
    for end, pin, colour in (("A", "POT A", "white"), ("W", "WIPER", "blue"), ("B", "POT B", "grey")):
        yield row(f"pot-{end.lower()}", Terminal("timer", pin), Terminal("knob", end), f"Potentiometer {end}", colour)
    if at.part is None:
        return
    table = truth_table(at.part.input_style, at.drive.signals.decay)
    forward = next((r for r in table.rows if "forward" in r.action.split(" and ")), None)
    if forward is None:
        return
    for name, level in zip(table.names, forward.inputs, strict=True):
        there = Terminal("driver", name)
        if level == "PWM":
            yield row(f"signal:{name}", Terminal("timer", "OUT"), there, name, "violet")
        elif level == "1":
            yield row(f"signal:{name}", Terminal("timer", "TIED HIGH"), there, f"{name}, tied high", "pink")
        else:
            yield row(f"signal:{name}", Terminal("timer", "GND"), there, f"{name}, tied low", "pink")
