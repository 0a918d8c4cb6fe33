"""A hobby servo as its sheet tells it, and what it must move."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from .given import Given, Item, ListOwner, Spec, choice, given, listing


class Pose(Item):
    """A place of a servo that has a name."""

    name: str = Field("", max_length=30, description="Name")
    angle: Given = given("angle", "°", "Angle, from its shortest pulse", low=0, high=6.3)


class ServoSpec(ListOwner, Spec):
    """One servo, positional or continuous."""

    name: str = Field("", max_length=80, description="What is it?")
    style: Literal["positional", "continuous"] = choice(
        "Style", {"positional": "Positional", "continuous": "Continuous rotation"}, "positional"
    )
    rated_v: Given = given("voltage", "V", "Figures hold at", default="5 V", origin="data sheet", above=0)
    low_v: Given = given("voltage", "V", "Works from", default="4.8 V", origin="data sheet", above=0)
    high_v: Given = given("voltage", "V", "Works up to", default="6 V", origin="data sheet", above=0)
    stall_torque: Given = given("torque", "kg·cm", "Stall torque", above=0)
    sixty_time: Given = given(
        "time", "s", "Time for 60°", above=0, help="A continuous one: time for a sixth of a turn."
    )
    idle_a: Given = given("current", "mA", "Current, idle", default="10 mA", origin="assumed", low=0)
    moving_a: Given = given("current", "mA", "Current, moving", above=0)
    stall_a: Given = given("current", "A", "Current, stalled", above=0)
    pulse_low: Given = given("time", "ms", "Shortest pulse", default="1 ms", above=0)
    pulse_high: Given = given("time", "ms", "Longest pulse", default="2 ms", above=0)
    travel: Given = given(
        "angle",
        "°",
        "Travel between them",
        default="90 °",
        origin="assumed",
        above=0,
        high=6.3,
        help="A continuous one: not used.",
    )
    knob: Literal["no", "yes"] = choice(
        "A knob sets its place",
        {"no": "No", "yes": "Yes: it follows the knob, unless the port or a sequence orders it"},
        "no",
    )
    frame: Given = given("frequency", "Hz", "Pulses a second", default="50 Hz", above=0)
    through: Literal["horn", "pulley", "rack", "gear"] = choice(
        "It moves its load by",
        {
            "horn": "Its horn, or a lever on it",
            "pulley": "A pulley on its shaft",
            "rack": "A pinion on its shaft and a rack",
            "gear": "A gear behind it, then a lever",
        },
        "horn",
    )
    ratio: Given = given(
        "ratio", "1", "Its turns for one of the lever", default="1", origin="chosen", above=0, high=1000
    )
    gear_efficiency: Given = given(
        "fraction", "%", "Efficiency of that gear", default="80 %", origin="assumed", above=0, high=1
    )
    arm: Given = given(
        "length",
        "mm",
        "Radius at which it pulls",
        above=0,
        help="Of the horn, lever, pulley or pinion, from the shaft's middle.",
    )
    force: Given = given("force", "N", "Force it must pull", low=0)
    sweep: Given = given("angle", "°", "It must turn by", default="60 °", origin="chosen", above=0, high=6.3)
    poses: list[Pose] = listing(
        "Poses", help="Places with a name, in degrees: sequences go to them.", columns=False, most=20
    )
    moves: Given = given("rate", "/min", "Moves", default="4 /min", origin="assumed", low=0)

    def place_of(self, pose: str) -> float | None:
        """A pose as a share of its travel; None where pose, angle or travel is missing."""
        found = next((p for p in self.poses if p.id == pose), None)
        angle, travel = (found.angle.value if found is not None else None), self.travel.value
        return None if angle is None or not travel else angle / travel

    @property
    def pulses_cross(self) -> bool:
        """Whether the longest pulse is told no longer than the shortest."""
        low, high = self.pulse_low.value, self.pulse_high.value
        return low is not None and high is not None and low >= high
