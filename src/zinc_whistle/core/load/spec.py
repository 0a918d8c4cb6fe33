"""Load: the gear, the mechanism and the duty."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..spec import Given, Spec, choice, given


class Turntable(Spec):
    """A mass that turns about an upright axis."""

    kind: Literal["turntable"] = "turntable"
    mass: Given = given("mass", "kg", "Mass that turns", above=0)
    radius: Given = given("length", "m", "Outer radius", above=0)
    spread: Literal["disc", "ring"] = choice(
        "Where the mass sits", {"disc": "Evenly, as a disc", "ring": "At the rim, as a ring"}, "disc"
    )
    friction_torque: Given = given(
        "torque",
        "N·m",
        "Friction torque",
        low=0,
        help="A luggage scale at the rim times the radius, as it just keeps turning.",
    )
    speed: Given = given("speed", "rpm", "Speed wanted", above=0)
    time_to_speed: Given = given("time", "s", "Time to speed", above=0)


class Direct(Spec):
    """A load known by its torque and inertia."""

    kind: Literal["direct"] = "direct"
    friction_torque: Given = given("torque", "N·m", "Torque", low=0)
    inertia: Given = given("inertia", "kg·m²", "Inertia", low=0)
    speed: Given = given("speed", "rpm", "Speed wanted", above=0)
    time_to_speed: Given = given("time", "s", "Time to speed", above=0)


Mechanism = Annotated[Turntable | Direct, Field(discriminator="kind")]


class LoadSpec(Spec):
    """What one drive must move."""

    gear_ratio: Given = given(
        "ratio", "1", "Gear ratio", default="1", low=0.01, help="Motor turns for one output turn."
    )
    gear_efficiency: Given = given(
        "fraction", "%", "Gear efficiency", default="70 %", origin="assumed", above=0, high=1
    )
    gear_torque_limit: Given = given(
        "torque", "N·m", "Gear torque limit", above=0, optional=True, help="At the output shaft."
    )
    mechanism: Mechanism = Field(default_factory=Turntable, description="Mechanism")
    run_for: Given = given("time", "s", "Runs for", default="10 min", above=0)
    rest_for: Given = given("time", "s", "Then rests for", default="0 s", low=0)
