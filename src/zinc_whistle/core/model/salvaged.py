"""A worksheet for a board out of a dead appliance: what its pads lead to, and what each does when it is tried."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from .board import levels_of
from .given import Given, Item, ListOwner, choice, given, listing

LEADS = {
    "": "None of these: to be tried",
    "supply": "The supply's plus",
    "ground": "The supply's minus",
    "motor": "A motor lead",
}
EFFECTS = {
    "nothing": "Nothing, or it stands still",
    "one way": "It runs one way",
    "other way": "It runs the other way",
    "stops": "It stops at once, shorted",
}


class Pad(Item):
    """A pad or wire of the board."""

    label: str = Field("", max_length=12, description="Pad: a letter, or what is printed there")
    leads: Literal["", "supply", "ground", "motor"] = choice("By continuity it is", LEADS, "")
    marking: str = Field("", max_length=40, description="What sits behind it, as marked")


class Trial(Item):
    """Pads touched with a level, through a resistor, and what came of it; the others are left alone."""

    pads: str = Field("", max_length=60, description="Touched: A=1 for high, B=0 for low")
    effect: Literal["nothing", "one way", "other way", "stops"] = choice("The motor", EFFECTS, "nothing")
    click: Literal["", "no", "yes"] = choice("A relay", {"": "Not listened", "no": "No click", "yes": "Clicks"}, "")

    def touched(self) -> dict[str, int]:
        """The level on each pad that was touched, by its label in small letters. ValueError for what cannot be read."""
        return {pad.casefold(): level for pad, level in levels_of(self.pads).items()}


class SalvagedBoard(ListOwner):
    """What has been found out about a board without a sheet."""

    used: Literal["no", "yes"] = choice(
        "Off a salvaged board", {"no": "No", "yes": "Yes: find out what its pads do"}, "no"
    )
    volts: Given = given(
        "voltage", "V", "It worked from", above=0, optional=True, help="What its appliance gave it: no more than that."
    )
    pads: list[Pad] = listing("Pads", columns=False)
    trials: list[Trial] = listing(
        "Trials", help="Each through 1 kΩ, the supply limited to half an ampere, the motor clamped.", columns=False
    )
