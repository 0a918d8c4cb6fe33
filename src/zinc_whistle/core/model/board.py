"""What a bought board brings along: the pins that it takes, and what the builder has altered on it."""

from __future__ import annotations

import re
from typing import Literal

from pydantic import Field

from .given import Item, choice

ENTRY = re.compile(r"(?P<signal>[^=@,]+?)\s*(?:@\s*(?P<channel>\d{1,2}))?\s*=\s*(?P<label>[A-Za-z0-9_+~./ -]{1,20})")


def parsed(pin_map: str) -> list[tuple[str, int, str]]:
    """A board's map of pins, ``PWM=D9, DIR=D7, PWM@2=D10``, as signal, channel and the label that the controller has
    printed there. ValueError with a sentence for an entry that cannot be read."""
    found = []
    for piece in (x.strip() for x in pin_map.split(",")):
        if not piece:
            continue
        match = ENTRY.fullmatch(piece)
        if match is None:
            raise ValueError(f"“{piece}” is no pin: write PWM=D9, or PWM@2=D10 for the second channel.")
        found.append((match["signal"].strip().upper(), int(match["channel"] or 1), match["label"].strip()))
    return found


LAMP = re.compile(r"(?P<lamp>[^=,]{1,20}?)\s*=\s*(?P<when>supply|forward|back|brake|fault)")


def lamps_of(text: str) -> dict[str, str]:
    """A board's lamps and what lights them, ``ON=supply, A=forward``. ValueError with a sentence for what cannot be
    read."""
    found: dict[str, str] = {}
    for piece in (x.strip() for x in text.split(",") if x.strip()):
        match = LAMP.fullmatch(piece)
        if match is None:
            raise ValueError(
                f"“{piece}” is no lamp: write its name and what lights it (supply, forward, back, brake, fault), as in "
                "ON=supply, A=forward."
            )
        found[match["lamp"].strip()] = match["when"]
    return found


def lit(lamps: str, action: str) -> tuple[str, ...]:
    """The lamps that burn while a board does something (a row's ``action`` of its truth table, or nothing): those of
    its supply always. Nothing where the text cannot be read: that is told where the part is checked."""
    try:
        found = lamps_of(lamps)
    except ValueError:
        return ()
    return tuple(name for name, when in found.items() if when == "supply" or when in action.split())


LEVEL = re.compile(r"(?P<line>[A-Za-z0-9_+~/-]{1,12})\s*=\s*(?P<level>[01])")


def levels_of(text: str) -> dict[str, int]:
    """Lines and their levels, ``EN=1, SLEEP=0``, as written. ValueError with a sentence for what cannot be read."""
    found: dict[str, int] = {}
    for piece in (x.strip() for x in re.split(r"[,;\s]+(?=[A-Za-z0-9_+~/-]+\s*=)", text.strip()) if x.strip()):
        match = LEVEL.fullmatch(piece)
        if match is None:
            raise ValueError(f"“{piece}” is no level on a pad or line: write A=1 for high, B=0 for low.")
        found[match["line"]] = int(match["level"])
    return found


ALTERATIONS = {
    "guard bridged": "A link over its guard or power switch",
    "link cut": "A link or trace cut, so that a pin is free",
    "supply split": "A link cut, so that motor and logic are fed apart",
    "other": "Something else",
}


DRAWN = {
    "guard bridged": "guard bridged by a link",
    "link cut": "link cut",
    "supply split": "supply link cut",
    "other": "altered",
}
"""An alteration as it is written on a drawing."""


class Alteration(Item):
    """What the builder has changed on a bought board; it stays a warning until it is undone."""

    kind: Literal["guard bridged", "link cut", "supply split", "other"] = choice("What", ALTERATIONS, "other")
    which: str = Field("", max_length=20, description="Which signal or pin, if one")
    note: str = Field("", max_length=200, description="Why, and what")
    undone: Literal["no", "yes"] = choice("Undone since", {"no": "No", "yes": "Yes, or replaced by something"}, "no")

    @property
    def drawn(self) -> str:
        """What a drawing says of it while it stands."""
        return f"{DRAWN[self.kind]}: {self.which}" if self.which else DRAWN[self.kind]
