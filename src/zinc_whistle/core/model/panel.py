"""What the builder puts on the panel: buttons, knob, limit switches, stop, and what each does."""

from __future__ import annotations

from typing import Literal

from .given import Given, Spec, choice, given

YES_NO = {"yes": "Yes", "no": "No"}


class PanelSpec(Spec):
    """The controls of one drive. Every choice changes the state machine that is drawn, checked and generated."""

    command: Literal["hold", "touch", "serial"] = choice(
        "Commanded by",
        {
            "hold": "Buttons, runs while held",
            "touch": "Buttons, one touch starts, the next stops",
            "serial": "The serial port",
        },
        "hold",
        help="What lifts, closes or crushes wants hold-to-run.",
    )
    pressed: Literal["low", "high"] = choice(
        "A pressed button reads",
        {"low": "Low: to ground, with a pull-up", "high": "High: to logic supply, with a pull-down"},
        "low",
    )
    both: Literal["stop", "first"] = choice("Both pressed", {"stop": "Stop", "first": "The first one counts"}, "stop")
    speed_by: Literal["fixed", "knob"] = choice(
        "Speed from", {"fixed": "The design's working duty", "knob": "A knob"}, "fixed"
    )
    start_up: Literal["released", "at once"] = choice(
        "At power-up",
        {"released": "Off until all is released and the knob at zero", "at once": "As the buttons then stand"},
        "released",
    )
    limits: Literal["none", "both"] = choice("Limit switches", {"none": "None", "both": "One at each end"}, "none")
    limit_contact: Literal["closed", "open"] = choice(
        "Their contacts",
        {"closed": "Open when pressed (a broken wire stops)", "open": "Close when pressed"},
        "closed",
    )
    limit_stops: Literal["own", "all"] = choice(
        "A limit stops", {"own": "Its own direction", "all": "Both directions"}, "own"
    )
    homing: Literal["none", "back"] = choice("Homing", {"none": "None", "back": "Back to its limit"}, "none")
    moves: Literal["no", "yes"] = choice(
        "Moves to a position", YES_NO, "no", help="By the serial port, counted by the encoder; only after homing."
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
    )
    stop_latched: Literal["yes", "no"] = choice(
        "Stop stays until cleared", YES_NO, "yes", help="The principle of ISO 13850: releasing it starts nothing."
    )
    fault_input: Literal["none", "low", "high"] = choice(
        "Driver's fault output", {"none": "Not used", "low": "Low when it trips", "high": "High when it trips"}, "none"
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
    "stop": ("press stop", "release stop"),
    "clear": ("press clear", "release clear"),
    "limit_front": ("the front limit is reached", "the front limit is left"),
    "limit_back": ("the back limit is reached", "the back limit is left"),
    "fault": ("the driver reports a fault", "the fault goes away"),
    "knob_zero": ("turn the knob to zero", "turn the knob up"),
    "knob_lost": ("a wire of the knob comes off", "the knob's wire is back"),
    "link_lost": ("the serial port falls silent", "the serial port is heard again"),
    "stuck": ("it is driven and no counts come", "counts come again"),
    "still": ("the ramp reaches zero", "the ramp is above zero"),
    "rested": ("the rest is over", "the rest begins"),
}
"""Every input that a machine may have, with what happens when it comes and when it goes."""
