"""The piece of perforated board that a stage of one's own goes on, as far as it is there already."""

from __future__ import annotations

from typing import Literal

from .given import Given, Spec, choice, given


class PerfBoard(Spec):
    """Its size, and the room above and below it; nothing given: as large as it must be."""

    width: Given = given(
        "length", "mm", "Board, across", above=0, high=1, optional=True, help="Empty: as wide as it must be."
    )
    length: Given = given("length", "mm", "Board, down", above=0, high=1, optional=True)
    room: Given = given(
        "length",
        "mm",
        "Height that it has",
        above=0,
        high=1,
        optional=True,
        help="From what it is screwed to up to the lid.",
    )
    holes: Literal["plated", "one side"] = choice(
        "Its holes", {"one side": "Copper on one side only", "plated": "Plated through"}, "one side"
    )
