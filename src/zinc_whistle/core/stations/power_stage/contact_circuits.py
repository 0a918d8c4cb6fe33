"""Circuits in which contacts turn the motor round, state by state: before a transistor, alone, or moved by hand."""

from __future__ import annotations

from .drawn import CircuitState, Drawn

RELAYS = Drawn(
    "relay pair",
    (
        CircuitState(
            "forward",
            "Drive forward",
            ("K1", "switch"),
            ("supply", "K1.up", "motor", "K2.down", "switch", "ground"),
            "Relay 1 is pulled in, the switch chops below.",
        ),
        CircuitState(
            "back",
            "Drive back",
            ("K2", "switch"),
            ("supply", "K2.up", "motor", "K1.down", "switch", "ground"),
            "Relay 2 is pulled in: the motor is turned round.",
        ),
        CircuitState(
            key="freewheel",
            title="Slow decay",
            on=("K1",),
            way=("motor", "K2.down", "diode", "K1.up"),
            words="The switch is open: from the switched line the diode leads back to the "
            "supply line. It stands before the "
            "contacts, so it serves both directions.",
            diodes=("diode",),
        ),
        CircuitState(
            "brake",
            "Brake",
            (),
            ("motor", "K1.down", "K2.down"),
            "Both relays are released: both ends lie on one line, the motor is shorted.",
            current="braking",
        ),
        CircuitState(
            "change",
            "Change-over: forbidden under current",
            ("K1", "K2"),
            (),
            "A contact that opens under direct current draws an arc. PWM to zero, let "
            "the current die, change over, wait for "
            "the bounce, ramp.",
            current="none",
            forbidden=True,
        ),
        CircuitState("coast", "Coast", ("K1",), (), "The switch is open and the current has died.", current="none"),
    ),
)

CROSSED = Drawn(
    "crossed relay",
    (
        CircuitState(
            "forward",
            "Drive forward",
            ("K1", "switch"),
            ("supply", "K1.up", "motor", "K2.down", "switch", "ground"),
            "The relay is pulled in: both its poles have changed over, and the switch chops below.",
        ),
        CircuitState(
            "back",
            "Drive back",
            ("K2", "switch"),
            ("supply", "K2.up", "motor", "K1.down", "switch", "ground"),
            "The relay is released: its crossed contacts rest in the other direction. Released is no stop.",
        ),
        CircuitState(
            key="freewheel",
            title="Slow decay",
            on=("K1",),
            way=("motor", "K2.down", "diode", "K1.up"),
            words="The switch is open: from the switched line the diode leads back to the supply line. It stands "
            "before the contacts, so it serves both directions.",
            diodes=("diode",),
        ),
        CircuitState(
            "change",
            "Change-over: forbidden under current",
            ("K1",),
            (),
            "A contact that opens under direct current draws an arc. PWM to zero, let the current die, change over, "
            "wait for the bounce, ramp.",
            current="none",
            forbidden=True,
        ),
        CircuitState(
            "coast",
            "Coast",
            ("K2",),
            (),
            "The switch is open and the current has died. Nothing shorts the motor: this circuit has no brake.",
            current="none",
        ),
    ),
)
OPENS = CircuitState(
    "change",
    "Opening under current",
    (),
    (),
    "A contact that opens under direct current draws an arc: it must be rated for that at these volts, and something "
    "must take the spark.",
    current="none",
)
CONTACTS = Drawn(
    "contacts",
    (
        CircuitState(
            "forward",
            "Drive forward",
            ("K1",),
            ("supply", "K1.up", "motor", "K2.down", "ground"),
            "The first pole stands at the supply, the second at the other line: the motor has all of the volts.",
        ),
        CircuitState(
            "back",
            "Drive back",
            ("K2",),
            ("supply", "K2.up", "motor", "K1.down", "ground"),
            "The poles have changed places: the motor is turned round.",
        ),
        CircuitState(
            "brake",
            "Both released",
            (),
            ("motor", "K1.down", "K2.down"),
            "Both ends rest on one line, and the motor is shorted: it brakes.",
            current="braking",
        ),
        OPENS,
    ),
)
BY_HAND = Drawn(
    "reversing switch",
    (
        *CONTACTS.states[:2],
        CircuitState(
            "coast",
            "In the middle",
            (),
            (),
            "Both poles are open: it coasts, nothing brakes it.",
            current="none",
        ),
        OPENS,
    ),
)
SINGLE = Drawn(
    "single contact",
    (
        CircuitState(
            "drive",
            "On",
            ("switch",),
            ("supply", "switch", "motor", "ground"),
            "The contact is closed: the motor has all of the supply's volts.",
        ),
        CircuitState("coast", "Off", (), (), "The contact is open, the current has died: it coasts.", current="none"),
        OPENS,
    ),
)
