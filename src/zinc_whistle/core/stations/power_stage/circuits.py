"""The way of the current through each circuit, state by state: what is on, what carries, and what to know of it."""

from __future__ import annotations

from dataclasses import replace
from typing import Literal

from ...model.driver import DriverPart
from ...model.stage import CIRCUITS
from . import contact_circuits
from .drawn import CircuitState, Drawn

_LOW = Drawn(
    "low side",
    (
        CircuitState(
            "drive",
            "Drive",
            ("switch",),
            ("supply", "motor", "switch", "ground"),
            "The switch is closed: supply, motor, switch, ground.",
        ),
        CircuitState(
            key="freewheel",
            title="Slow decay",
            on=(),
            way=("motor", "diode"),
            words=(
                "The switch is open. The motor's current cannot stop at once: it "
                "circles through the diode and dies slowly."
            ),
            diodes=("diode",),
        ),
        CircuitState(
            "coast",
            "Coast",
            (),
            (),
            "The current has died. The motor turns on by itself; its voltage pushes nothing.",
            current="none",
        ),
    ),
)
_HIGH = Drawn(
    "high side",
    (
        CircuitState(
            "drive",
            "Drive",
            ("switch",),
            ("supply", "switch", "motor", "ground"),
            "The switch is closed: supply, switch, motor, ground.",
        ),
        CircuitState(
            key="freewheel",
            title="Slow decay",
            on=(),
            way=("motor", "diode"),
            words="The switch is open. The current circles from ground through the diode, and dies slowly.",
            diodes=("diode",),
        ),
        CircuitState("coast", "Coast", (), (), "The current has died; the motor turns on by itself.", current="none"),
    ),
)
_HALF = Drawn(
    "half bridge",
    (
        CircuitState(
            "drive",
            "Drive",
            ("A.high",),
            ("supply", "A.high", "motor", "ground"),
            "The upper switch is closed, the lower one open.",
        ),
        CircuitState(
            key="dead",
            title="Dead time",
            on=(),
            way=("A.low", "motor"),
            words="Both are open for a moment, so that they never short the supply: the lower diode carries.",
            diodes=("A.low",),
        ),
        CircuitState(
            "slow",
            "Slow decay",
            ("A.low",),
            ("A.low", "motor"),
            "The lower switch is closed: the current circles through it, with less loss than in the diode.",
        ),
        CircuitState(
            "brake",
            "Brake",
            ("A.low",),
            ("motor", "A.low"),
            "The lower switch stays closed: the motor is a generator on a short, its "
            "current runs the other way, past the "
            "fuse and the bench limit.",
            current="braking",
        ),
        CircuitState("coast", "Coast", (), (), "Both open, the current has died.", current="none"),
        CircuitState(
            "both",
            "Both on: forbidden",
            ("A.high", "A.low"),
            ("supply", "A.high", "A.low", "ground"),
            "Shoot-through: the supply is shorted through both switches. Only dead time and sound gates prevent it.",
            current="shoot-through",
            forbidden=True,
        ),
    ),
)


def _bridge(above: bool) -> Drawn:
    """A bridge of two legs; ``above``: the current circles through the upper switches when it is chopped."""
    side, place = ("upper", "high") if above else ("lower", "low")
    circles = (f"A.{place}", "motor", f"B.{place}")
    return Drawn(
        "full bridge",
        (
            CircuitState(
                "forward",
                "Drive forward",
                ("A.high", "B.low"),
                ("supply", "A.high", "motor", "B.low", "ground"),
                "One diagonal is closed.",
            ),
            CircuitState(
                "back",
                "Drive back",
                ("B.high", "A.low"),
                ("supply", "B.high", "motor", "A.low", "ground"),
                "The other diagonal: the motor turns back.",
            ),
            CircuitState(
                key="dead",
                title="Dead time",
                on=(circles[2],),
                way=circles,
                words=f"The chopping leg is open for a moment: the {side} diode carries.",
                diodes=(circles[0],),
            ),
            CircuitState(
                "slow",
                "Slow decay",
                (circles[0], circles[2]),
                circles,
                f"Both {side} switches are closed: the current circles and dies slowly.",
            ),
            CircuitState(
                key="fast",
                title="Fast decay",
                on=(),
                way=("ground", "A.low", "motor", "B.high", "supply"),
                words="All four are open: the current returns into the supply through two "
                "diodes and dies quickly. What cannot "
                "take it back is lifted.",
                diodes=("A.low", "B.high"),
            ),
            CircuitState(
                "brake",
                "Brake",
                ("A.low", "B.low"),
                ("motor", "A.low", "B.low"),
                "Both lower switches are closed: the motor is a generator on a short. The "
                "current runs the other way, through "
                "the bridge but not through the fuse, the bench limit or a ground-leg shunt.",
                current="braking",
            ),
            CircuitState("coast", "Coast", (), (), "All open, the current has died.", current="none"),
            CircuitState(
                "both",
                "Both on: forbidden",
                ("A.high", "A.low"),
                ("supply", "A.high", "A.low", "ground"),
                "Shoot-through: one leg shorts the supply. Dead time and sound gates are all that prevents it.",
                current="shoot-through",
                forbidden=True,
            ),
        ),
    )


CIRCUIT_STATES: dict[str, Drawn] = {
    "low side": _LOW,
    "bipolar low side": _LOW,
    "high side": _HIGH,
    "half bridge": _HALF,
    "full bridge": _bridge(above=False),
    "p/n bridge": _bridge(above=True),
    "relay pair": contact_circuits.RELAYS,
    "crossed relay": contact_circuits.CROSSED,
    "contacts": contact_circuits.CONTACTS,
    "reversing switch": contact_circuits.BY_HAND,
    "single contact": contact_circuits.SINGLE,
    "modules": _bridge(above=False),
}
PART_CIRCUITS = {
    "bjt switch": "bipolar low side",
    "mosfet switch": "low side",
    "relay pair": "relay pair",
    "bipolar bridge": "full bridge",
    "mosfet bridge": "full bridge",
    "half-bridge pair": "modules",
    "stacked board": "full bridge",
    "discrete bridge": "full bridge",
    "pin": "low side",
    "contacts": "contacts",
}
"""Which circuit is inside a part of the shelf."""


CONTACT_TITLES = {
    "contacts": "A relay contact at each end of the motor",
    "reversing switch": "A switch of two poles, crossed",
    "single contact": "One contact in the motor's line",
}


def title_of(circuit: str) -> str:
    """What a circuit is called."""
    return CONTACT_TITLES.get(circuit) or CIRCUITS[circuit]


def circuit_of(part: DriverPart) -> str:
    """Which circuit is inside a part of the shelf."""
    if part.input_style == "crossed coil and pwm":
        return "crossed relay"
    if part.kind == "contacts" and part.reverses == "no":
        return "single contact"
    if part.kind == "contacts" and part.input_style == "by hand":
        return "reversing switch"
    return PART_CIRCUITS[part.kind]


DiodeAt = Literal["none", "rails", "motor"]
NO_WAY = "There is no diode: the current finds no way, the volts rise until something breaks down."
SHORTED = (
    "The diode across the motor conducts: it shorts the supply through contacts and switch. It belongs before the "
    "contacts."
)
SHORTED_BRIDGE = (
    "The diode across the motor conducts: it shorts the supply through the switches. A motor that is driven "
    "both ways bears none across it."
)


def as_fitted(circuit: str, diode: DiodeAt, inside: bool) -> Drawn:
    """A circuit as it is fitted: the states in which a missing diode leaves no way, or one across the motor shorts.

    ``inside``: the switches carry diodes of their own.
    """
    drawn = CIRCUIT_STATES[circuit]
    if not inside and diode == "none":
        return replace(drawn, states=tuple(_without(s) for s in drawn.states))
    if diode == "motor":
        return replace(drawn, states=tuple(_across(s, circuit) for s in drawn.states))
    return drawn


def drawn_contacts(circuit: str) -> bool:
    """Whether contacts turn the motor round in a circuit."""
    return circuit in ("relay pair", "crossed relay", "contacts", "reversing switch")


def _without(state: CircuitState) -> CircuitState:
    """A state without any diode."""
    if not state.diodes:
        return state
    return replace(state, way=(), diodes=(), words=NO_WAY, forbidden=True)


def _across(state: CircuitState, circuit: str) -> CircuitState:
    """A state with a diode across the motor, its cathode at the end that is at the supply when it drives forward."""
    if state.key == "back":
        way = tuple("diode" if e == "motor" else e for e in state.way)
        words = SHORTED if drawn_contacts(circuit) else SHORTED_BRIDGE
        return replace(state, way=way, diodes=("diode",), words=words, current="shoot-through", forbidden=True)
    if state.diodes:
        words = "The current circles through the diode across the motor, and dies slowly."
        return replace(state, way=("motor", "diode"), diodes=("diode",), words=words)
    return state
