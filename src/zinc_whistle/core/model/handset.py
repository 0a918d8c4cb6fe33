"""Handsets: buttons on a controller of their own that command the drives of another one by radio."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from .given import Given, Item, ListOwner, Spec, choice, given, listing

MOST_HANDSETS = 4
MOST_BUTTONS = 8
"""A line by radio tells them as one number below 256."""
Presses = Literal["forward", "back", "run_forward", "run_back", "home", "stop", "clear"]
MOTION: tuple[Presses, ...] = ("forward", "back", "run_forward", "run_back", "home")
"""Who presses one of these has the drive in hand: it stops when that handset falls silent."""


class HandsetButton(Item):
    """A button of a handset: which drive it is for, and what of its panel it presses."""

    name: str = Field("", max_length=30, description="What stands beside it")
    drive: str = Field("", max_length=40, description="Drive")
    presses: Presses = choice(
        "It presses",
        {
            "forward": "Forward",
            "back": "Back",
            "run_forward": "Run forward, one touch",
            "run_back": "Run back, one touch",
            "home": "Home",
            "stop": "Stop",
            "clear": "Clear",
        },
        "forward",
        leads=True,
    )


class Handset(ListOwner, Item):
    """One handset: its controller, its buttons and its battery."""

    name: str = Field("", max_length=40, description="Name")
    number: Given = given(
        "number",
        "1",
        "Its number",
        low=1,
        high=8,
        whole=True,
        help="Each handset its own, 1 to 8: it goes out with every line.",
    )
    controller: str = Field("", max_length=40, description="Its controller")
    v_full: Given = given("voltage", "V", "Its battery, full", above=0, high=60)
    v_flat: Given = given("voltage", "V", "Its battery, flat", above=0, high=60)
    capacity: Given = given("capacity", "mAh", "Its battery holds", above=0, optional=True)
    buttons: list[HandsetButton] = listing("Buttons", columns=False, most=MOST_BUTTONS)


class Radio(Spec):
    """The link between the handsets and one controller: serial radio modules, one at each end, all alike."""

    board: str = Field("", max_length=40, description="Heard by")
    address: Given = given(
        "number",
        "1",
        "Paired address",
        low=1,
        high=250,
        whole=True,
        help="Choose one from 1 to 250 that nobody else within reach has; it stands in both programs.",
    )
    period: Given = given("time", "ms", "A handset sends every", default="100 ms", origin="chosen", low=0.02, high=1.0)
    tries: Given = given(
        "number",
        "1",
        "Lost after so many lines missed in a row",
        default="7",
        origin="chosen",
        low=2,
        high=50,
        whole=True,
        help="Fewer stop sooner, and stop more often for nothing.",
    )
    loss: Given = given(
        "fraction",
        "%",
        "Lines that do not arrive",
        default="10 %",
        origin="assumed",
        above=0,
        high=0.9,
        help="Where it will be used, hands round the handset. Count the answers that its lamp misses.",
    )
    air_rate: Given = given(
        "rate",
        "/s",
        "Bits a second over the air",
        default="9600",
        origin="assumed",
        low=300,
        high=1e7,
        help="The module's sheet; often a setting.",
    )
    v_min: Given = given("voltage", "V", "Module's supply, lowest", above=0, high=60, optional=True)
    v_max: Given = given("voltage", "V", "Module's supply, highest", above=0, high=60, optional=True)
    sends: Given = given("current", "mA", "Draws while it sends", above=0, high=5, optional=True)
    listens: Given = given("current", "mA", "Draws while it listens", above=0, high=5, optional=True)
