"""How a timer circuit is wired: its supply, its potentiometer, and its output to the driver's input."""

from __future__ import annotations

from collections.abc import Iterator

from ..operating import DriveContext
from ..truth import truth_table
from .terminal import Row, Terminal, grounded


def rows(at: DriveContext, feed: Terminal, ground: str) -> Iterator[Row]:
    """The wires of a drive's timer circuit. Inputs of its driver that carry no pulses are tied to a level."""
    spec = at.drive.signals.timer
    fed = "Timer's supply" if spec.regulated_v.value is None else "To the timer's regulator"
    yield Row("timer+", feed, Terminal("timer", "V+"), fed, "orange")
    yield grounded("timer-", Terminal("driver", ground), Terminal("timer", "GND"))
    for end, pin, colour in (("A", "POT A", "white"), ("W", "WIPER", "blue"), ("B", "POT B", "grey")):
        name = f"Potentiometer {end}"
        yield Row(f"pot-{end.lower()}", Terminal("timer", pin), Terminal("knob", end), name, colour, "signal")
    if at.part is None:
        return
    table = truth_table(at.part.input_style, at.drive.signals.decay)
    forward = next((r for r in table.rows if "forward" in r.action.split(" and ")), None)
    if forward is None:
        return
    for name, level in zip(table.names, forward.inputs, strict=True):
        there = Terminal("driver", name)
        if level == "PWM":
            yield Row(f"signal:{name}", Terminal("timer", "OUT"), there, name, "violet", "signal")
        elif level == "1":
            yield Row(f"signal:{name}", Terminal("timer", "TIED HIGH"), there, f"{name}, tied high", "pink", "signal")
        else:
            yield Row(f"signal:{name}", Terminal("timer", "GND"), there, f"{name}, tied low", "pink", "signal")
