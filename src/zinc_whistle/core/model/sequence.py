"""Sequences: orders to several drives one after the other, and interlocks that hold whatever is ordered."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from .given import Given, Item, ListOwner, Spec, choice, given, listing

PLAY = "PLAY "
"""What the wire of a sequence's button begins with; its number among the build's follows."""
Do = Literal["forward", "back", "stop", "on", "off", "place"]
Until = Literal["limit", "time", "rest", "there", "at once"]
Fact = Literal["at front", "at back", "at rest", "on", "off", "at place"]


class SequenceStep(Item):
    """One order, and what is waited for before the next."""

    drive: str = Field("", max_length=40, description="Drive")
    do: Do = choice(
        "Does",
        {
            "forward": "Drives forward",
            "back": "Drives back",
            "stop": "Stops",
            "on": "Is switched on",
            "off": "Is switched off",
            "place": "A servo goes to its place (a continuous one turns so fast)",
        },
        "forward",
        leads=True,
    )
    pose: str = Field("", max_length=40, description="Pose")
    place: Given = given("fraction", "%", "Place of its travel", low=0, high=1, optional=True)
    until: Until = choice(
        "Until",
        {
            "limit": "Its limit is reached",
            "time": "So much time has passed",
            "rest": "It has come to rest",
            "there": "The servo is there",
            "at once": "Goes on at once, the order stands",
        },
        "limit",
        leads=True,
    )
    time: Given = given(
        "time",
        "s",
        "Time",
        default="1 s",
        origin="chosen",
        above=0,
        high=3600,
        help="To a limit: about how long it takes, for the drawing alone; the program waits for the limit.",
    )


class Sequence(ListOwner, Item):
    """Orders of one controller, started by a button of its own or by the port."""

    name: str = Field("", max_length=60, description="Name")
    controller: str = Field("", max_length=40, description="Controller")
    started_by: Literal["button", "port"] = choice(
        "Started by", {"button": "A button of its own", "port": "The serial port, which must be heard"}, "button"
    )
    stagger: Given = given(
        "time",
        "ms",
        "Servos start apart by",
        default="0 s",
        origin="chosen",
        low=0,
        high=5,
        help="Of servos that are ordered at once each starts so much after the one before: their starts do not add up.",
    )
    steps: list[SequenceStep] = listing("Steps", columns=False, most=40)


class Steering(Spec):
    """Two drives that steer by their difference: one on each side."""

    left: str = Field("", max_length=40, description="Left drive")
    right: str = Field("", max_length=40, description="Right drive")
    mirrored: Literal["no", "yes"] = choice(
        "Right motor sits the other way round",
        {"no": "No: both drive ahead when forward", "yes": "Yes: it drives ahead when it runs back"},
        "yes",
    )


class Interlock(Item):
    """A drive runs only while another is as it should be; else it is stopped at once, whoever orders it."""

    drive: str = Field("", max_length=40, description="Drive")
    fact: Fact = choice(
        "Runs only while the other is",
        {
            "at front": "At its front limit",
            "at back": "At its back limit",
            "at rest": "At rest",
            "on": "Switched on",
            "off": "Switched off",
            "at place": "A servo at its place",
        },
        "at rest",
    )
    of: str = Field("", max_length=40, description="The other drive")
    pose: str = Field("", max_length=40, description="That pose")
    place: Given = given("fraction", "%", "That place", low=0, high=1, optional=True)
