"""What the builder puts on the panel: buttons, knob, limit switches, stop, and what each does."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from .given import Given, Item, ListOwner, Spec, choice, given, listing

LAMP = "LAMP "
YES_NO = {"yes": "Yes", "no": "No"}
LAMPS = {
    "driving": "While it drives",
    "forward": "While it drives forward",
    "back": "While it drives back",
    "ready": "While it is ready",
    "waiting": "While it waits for all to be let go",
    "stopped": "While it is stopped",
    "failed": "After a failure",
    "trouble": "While it is stopped, or after a failure",
    "homed": "Once it is homed",
    "limit_front": "At the front limit",
    "limit_back": "At the back limit",
}


FROM_POWER_UP = "Counted from where it stood when power came: bring it there by hand before."


class PanelLamp(Item):
    """A lamp on the panel that the program lights, on a pin of its own."""

    name: str = Field("", max_length=30, description="What stands beside it")
    when: Literal[
        "driving",
        "forward",
        "back",
        "ready",
        "waiting",
        "stopped",
        "failed",
        "trouble",
        "homed",
        "limit_front",
        "limit_back",
    ] = choice("It is lit", LAMPS, "driving", leads=True)
    blinks: Literal["no", "yes"] = choice("It blinks", YES_NO, "no")
    current: Given = given("current", "mA", "Its current", default="5 mA", origin="chosen", above=0, high=1)
    drop_v: Given = given("voltage", "V", "Its forward volts", default="2 V", origin="assumed", low=0)


def lamp_signal(place: int, lamp: PanelLamp) -> str:
    """What a lamp's wire is called; ``place`` counts from 1."""
    return f"{LAMP}{place} {lamp.name.strip()}".strip()


def is_lamp(signal: str) -> bool:
    """Whether a wire is a lamp's."""
    return signal.startswith(LAMP)


class PanelSpec(ListOwner, Spec):
    """The controls of one drive. Every choice changes the state machine that is drawn, checked and generated."""

    command: Literal["hold", "touch", "serial", "radio"] = choice(
        "Commanded by",
        {
            "hold": "Buttons, runs while held",
            "touch": "Buttons, one touch starts, the next stops",
            "serial": "The serial port",
            "radio": "Handsets alone, by radio: runs while held",
        },
        "hold",
        help="What lifts, closes or crushes wants hold-to-run.",
        leads=True,
    )
    pressed: Literal["low", "high"] = choice(
        "A pressed button reads",
        {"low": "Low: to ground, with a pull-up", "high": "High: to logic supply, with a pull-down"},
        "low",
    )
    touch_too: Literal["no", "yes"] = choice(
        "One-touch buttons beside them",
        {"no": "None", "yes": "One for each direction: a touch starts it, the next of any button stops it"},
        "no",
        help="For buttons that run while held: some tasks want a hand that stays, some want it free.",
    )
    both: Literal["stop", "first"] = choice("Both pressed", {"stop": "Stop", "first": "The first one counts"}, "stop")
    speed_by: Literal["fixed", "knob"] = choice(
        "Speed from", {"fixed": "The design's working duty", "knob": "A knob"}, "fixed", leads=True
    )
    start_up: Literal["released", "at once"] = choice(
        "At power-up",
        {"released": "Off until all is released and the knob at zero", "at once": "As the buttons then stand"},
        "released",
    )
    limits: Literal["none", "both", "back"] = choice(
        "Limit switches",
        {"none": "None", "both": "One at each end", "back": "One, or a sensor, at the back"},
        "none",
        leads=True,
    )
    limit_contact: Literal["closed", "open"] = choice(
        "Their contacts",
        {"closed": "Open when pressed (a broken wire stops)", "open": "Close when pressed"},
        "closed",
    )
    limit_stops: Literal["own", "all"] = choice(
        "A limit stops", {"own": "Its own direction", "all": "Both directions"}, "own"
    )
    homing: Literal["none", "back"] = choice("Homing", {"none": "None", "back": "Back to its limit"}, "none")
    home_duty: Given = given(
        "fraction",
        "%",
        "Homing at a duty of",
        above=0,
        high=1,
        optional=True,
        help="Slow enough that the switch is met softly. Empty: the working duty.",
    )
    moves: Literal["no", "yes", "relative"] = choice(
        "Moves to a position",
        {
            "no": "No",
            "yes": "To a count; only after homing",
            "relative": "By so many counts from where it stands, between ends in counts",
        },
        "no",
        help="By the serial port, counted by the encoder. Two schools: a known zero, or ends counted from where it "
        "stood when power came.",
    )
    end_front: Given = given(
        "count", "counts", "No further forward than", low=0, high=1e8, whole=True, optional=True, help=FROM_POWER_UP
    )
    end_back: Given = given(
        "count", "counts", "No further back than (0 or below)", low=-1e8, high=0, whole=True, optional=True
    )
    approach: Literal["all", "creep", "slowing"] = choice(
        "Nears its place",
        {
            "all": "At its speed until it is there",
            "creep": "At its speed; after the first crossing it creeps back",
            "slowing": "Slowing down over the last stretch, then creeping",
        },
        "all",
        help="It creeps at the duty of homing, or at a fifth of its own.",
    )
    slow_within: Given = given(
        "angle", "°", "Slows down within, of the output", above=0, high=6283.0, optional=True, help="Of its way."
    )
    stop_input: Literal["none", "closed", "open"] = choice(
        "Stop input",
        {
            "none": "None",
            "closed": "Opens when pressed (a broken wire stops)",
            "open": "Closes when pressed",
        },
        "none",
        help="A stop in the program does not cut power: a switch or contactor in the supply does.",
        leads=True,
    )
    stop_latched: Literal["yes", "no"] = choice(
        "Stop stays until cleared", YES_NO, "yes", help="The principle of ISO 13850: releasing it starts nothing."
    )
    fault_input: Literal["none", "low", "high"] = choice(
        "Driver's fault output", {"none": "Not used", "low": "Low when it trips", "high": "High when it trips"}, "none"
    )
    clear_by: Literal["button", "release"] = choice(
        "A failure is cleared by",
        {"button": "A button of its own", "release": "Letting go of everything, once its cause is gone"},
        "button",
        help="A stop that is latched always has its own.",
    )
    trip: Literal["no", "yes"] = choice(
        "Stop above a current", YES_NO, "no", help="Needs a driver or a shunt that tells its current."
    )
    trip_a: Given = given(
        "current",
        "A",
        "Above",
        above=0,
        optional=True,
        help="Above what it takes at work, and below what its winding and driver bear for good.",
    )
    trip_time: Given = given(
        "time",
        "ms",
        "At twice that, within",
        default="500 ms",
        origin="chosen",
        above=0,
        high=30,
        help="The more above it, the sooner: at three times within three eighths of it, at a tenth more in 14 times.",
    )
    watch: Literal["no", "yes"] = choice(
        "Stop when driven without counts", YES_NO, "no", help="A jam, or an encoder lead off. Needs an encoder."
    )
    watch_time: Given = given("time", "ms", "Without counts for", default="400 ms", origin="chosen", above=0, high=30)
    link_time: Given = given(
        "time", "ms", "Serial silence that stops", default="500 ms", origin="chosen", above=0, high=30
    )
    pause: Given = given(
        "time", "ms", "Rest before the other direction", default="200 ms", origin="chosen", above=0, high=30
    )
    debounce: Given = given(
        "time",
        "ms",
        "Contacts must stay for",
        default="20 ms",
        origin="chosen",
        low=1e-3,
        high=0.25,
        help="Contacts bounce for several ms: 10 kΩ with 100 nF crosses half after 0.7 ms, too short.",
    )
    offset: Literal["no", "yes"] = choice(
        "Start from the breakaway duty", YES_NO, "no", help="Skips the duties at which it only hums."
    )

    most_duty: Given = given(
        "fraction",
        "%",
        "No more duty than",
        above=0,
        high=1,
        optional=True,
        help="Whatever knob, port or loop ask for: for an encoder that is read no faster, or a load that must not.",
    )

    lamps: list[PanelLamp] = listing(
        "Lamps", help="Which state lights which; each takes a pin and a resistor.", columns=False, most=12
    )

    @property
    def wired(self) -> bool:
        """Whether it has buttons of its own, on wires."""
        return self.command in ("hold", "touch")

    @property
    def stops(self) -> bool:
        """Whether something can tell it to stop: an input of its own, or a command that comes from elsewhere."""
        return self.stop_input != "none" or not self.wired

    @property
    def touches(self) -> bool:
        """Whether one-touch buttons stand beside those that run while held."""
        return self.command == "hold" and self.touch_too == "yes"

    @property
    def clears(self) -> bool:
        """Whether something has to be cleared by hand: a latched stop, or a failure that does not clear itself."""
        latched = self.stop_latched == "yes" and self.stops
        return latched or (self.fails and self.clear_by == "button")

    @property
    def fails(self) -> bool:
        """Whether anything can make it fail."""
        watched = "yes" in (self.watch, self.trip)
        return self.fault_input != "none" or self.speed_by == "knob" or watched

    @property
    def sets_speed(self) -> bool:
        """Whether a hand or the port sets the speed as it runs: any from the highest down to rest may be asked for."""
        return self.speed_by == "knob" or self.command == "serial"


INPUTS: dict[str, tuple[str, str]] = {
    "forward": ("press forward", "release forward"),
    "back": ("press back", "release back"),
    "home": ("ask for homing", "the request ends"),
    "ahead": ("ask for a position ahead", "no position ahead is asked for"),
    "behind": ("ask for a position behind", "no position behind is asked for"),
    "run_forward": ("touch run forward", "let go of run forward"),
    "run_back": ("touch run back", "let go of run back"),
    "end_front": ("the front end in counts is reached", "the front end in counts is left"),
    "end_back": ("the back end in counts is reached", "the back end in counts is left"),
    "stop": ("press stop", "release stop"),
    "clear": ("press clear", "release clear"),
    "limit_front": ("the front limit is reached", "the front limit is left"),
    "limit_back": ("the back limit is reached", "the back limit is left"),
    "fault": ("the driver reports a fault", "the fault goes away"),
    "knob_zero": ("turn the knob to zero", "turn the knob up"),
    "knob_lost": ("a wire of the knob comes off", "the knob's wire is back"),
    "link_lost": ("the serial port falls silent", "the serial port is heard again"),
    "radio_lost": ("the handset falls silent", "the handset is heard again"),
    "stuck": ("it is driven and no counts come", "counts come again"),
    "over": ("the current stays above its limit", "the current is below its limit again"),
    "locked": ("its interlock opens", "its interlock closes"),
    "still": ("the ramp reaches zero", "the ramp is above zero"),
    "rested": ("the rest is over", "the rest begins"),
}
"""Every input that a machine may have, with what happens when it comes and when it goes."""
FOUND = ("end_front", "end_back", "stuck", "over", "locked", "still", "rested")
"""Inputs that a program finds out by itself: nobody presses them."""
