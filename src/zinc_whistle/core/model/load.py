"""Load: the gear, the mechanisms behind it, and the duty."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from .given import Choose, Given, Item, ListOwner, choice, given, listing

Surface = Literal["own", "hard floor", "carpet", "asphalt", "grass", "sand"]


class Turntable(Item):
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


class Wheels(Item):
    """A vehicle on wheels, driven by one or more like motors."""

    kind: Literal["wheels"] = "wheels"
    mass: Given = given("mass", "kg", "Mass, all told", above=0)
    diameter: Given = given("length", "mm", "Wheel diameter, loaded", above=0, help="Roll one turn on the floor: π D.")
    wheels: Given = given("number", "1", "Wheels", default="4", low=1, high=20, whole=True)
    driven: Given = given("number", "1", "Driven wheels", default="2", low=1, high=20, whole=True)
    motors: Given = given("number", "1", "Motors that share it", default="2", low=1, high=20, whole=True)
    surface: Surface = choice(
        "Surface",
        {
            "own": "As given below",
            "hard floor": "Hard floor",
            "carpet": "Carpet",
            "asphalt": "Asphalt",
            "grass": "Short grass",
            "sand": "Loose sand",
        },
        "hard floor",
    )
    rolling: Given = given("fraction", "%", "Rolling resistance, of weight", low=0, high=2, optional=True)
    slope: Given = given("angle", "°", "Steepest slope", default="0 °", low=0, high=1.2)
    grip: Given = given("ratio", "1", "Grip (friction) on the floor", default="0.6", origin="assumed", low=0.05, high=2)
    turning: Literal["steered", "tracks", "corners"] = choice(
        "Turns by",
        {
            "steered": "Steering or a castor",
            "tracks": "Skidding on tracks or many wheels a side",
            "corners": "Skidding on four wheels at the corners",
        },
        "steered",
    )
    contact_length: Given = given("length", "m", "Length of contact, front to back", above=0, optional=True)
    track_width: Given = given("length", "m", "Width between the sides", above=0, optional=True)
    velocity: Given = given("velocity", "m/s", "Speed wanted", above=0)


class Winch(Item):
    """A drum or a belt that pulls a mass, up or along."""

    kind: Literal["winch"] = "winch"
    mass: Given = given("mass", "kg", "Mass pulled", above=0)
    radius: Given = given("length", "mm", "Drum or pulley radius", above=0)
    slope: Given = given("angle", "°", "Direction: 0° along, 90° up", default="90 °", low=0, high=1.5709)
    counterweight: Given = given("mass", "kg", "Counterweight", default="0 kg", low=0)
    friction: Given = given("force", "N", "Friction of the guides", default="0 N", low=0)
    velocity: Given = given("velocity", "mm/s", "Speed wanted", above=0)


class Screw(Item):
    """A power screw with square thread."""

    kind: Literal["screw"] = "screw"
    force: Given = given("force", "N", "Force along the screw", low=0)
    mass: Given = given("mass", "kg", "Mass moved", default="0 kg", low=0)
    mean_diameter: Given = given("length", "mm", "Mean thread diameter", above=0)
    lead: Given = given("length", "mm", "Lead, per turn", above=0, help="Pitch times the number of starts.")
    friction: Given = given("ratio", "1", "Thread friction", default="0.12", origin="assumed", low=0, high=1)
    collar_diameter: Given = given("length", "mm", "Mean collar diameter", default="0 mm", low=0)
    collar_friction: Given = given("ratio", "1", "Collar friction", default="0.1", origin="assumed", low=0, high=1)
    velocity: Given = given("velocity", "mm/s", "Speed wanted", above=0)


class Rack(Item):
    """A pinion on a rack."""

    kind: Literal["rack"] = "rack"
    mass: Given = given("mass", "kg", "Mass moved", above=0)
    radius: Given = given("length", "mm", "Pinion radius, at the pitch line", above=0)
    slope: Given = given("angle", "°", "Direction: 0° along, 90° up", default="0 °", low=0, high=1.5709)
    friction: Given = given("ratio", "1", "Friction of the guides", default="0.1", origin="assumed", low=0, high=2)
    force: Given = given("force", "N", "Working force", default="0 N", low=0)
    velocity: Given = given("velocity", "mm/s", "Speed wanted", above=0)


class Lever(Item):
    """A flap or an arm that turns against its weight."""

    kind: Literal["lever"] = "lever"
    mass: Given = given("mass", "kg", "Mass of the flap", above=0)
    length: Given = given("length", "mm", "Length from the hinge", above=0)
    centre: Given = given("length", "mm", "Hinge to centre of gravity", above=0)
    start: Given = given("angle", "°", "From, above level", default="0 °", low=-3.2, high=3.2)
    end: Given = given("angle", "°", "To, above level", default="90 °", low=-3.2, high=3.2)
    friction_torque: Given = given("torque", "N·m", "Friction of the hinge", default="0 N·m", low=0)
    speed: Given = given("speed", "rpm", "Speed wanted", above=0)


class Fan(Item):
    """A fan, a pump or a stirrer: torque grows with the square of the speed."""

    kind: Literal["fan"] = "fan"
    torque: Given = given("torque", "N·m", "Torque at a known speed", above=0)
    at_speed: Given = given("speed", "rpm", "That known speed", above=0)
    inertia: Given = given("inertia", "kg·m²", "Inertia", default="0 kg·m²", low=0)
    speed: Given = given("speed", "rpm", "Speed wanted", above=0)


class Direct(Item):
    """A load known by its torque and inertia."""

    kind: Literal["direct"] = "direct"
    friction_torque: Given = given("torque", "N·m", "Torque", low=0)
    inertia: Given = given("inertia", "kg·m²", "Inertia", low=0)
    speed: Given = given("speed", "rpm", "Speed wanted", above=0)


Mechanism = Annotated[Turntable | Wheels | Winch | Screw | Rack | Lever | Fan | Direct, Field(discriminator="kind")]
MECHANISMS: dict[str, str] = {
    "turntable": "Turntable",
    "wheels": "Wheels of a vehicle",
    "winch": "Winch or belt",
    "screw": "Power screw",
    "rack": "Rack and pinion",
    "lever": "Lever or flap",
    "fan": "Fan, pump or stirrer",
    "direct": "Torque and inertia, known",
}


class Segment(Item):
    """One part of the duty: speed and torque at the output, empty for those at work, and how long.

    Below nothing it runs backwards (lowers); a torque below nothing goes with the motion: the load pulls the motor.
    """

    speed: Given = given("speed", "rpm", "Speed", optional=True, help="Below nothing: the other way, as in lowering.")
    velocity: Given = given(
        "velocity",
        "mm/s",
        "Speed along",
        optional=True,
        help="Of what is pulled, driven or pushed; below nothing: the other way, as in lowering. A speed in turns "
        "counts before it.",
    )
    torque: Given = given(
        "torque", "N·m", "Torque", optional=True, help="Below nothing: the load pulls the motor along."
    )
    time: Given = given("time", "s", "For", above=0)


def _one_mechanism() -> list[Mechanism]:
    return [Turntable(id="m1")]


class LoadSpec(ListOwner):
    """What one drive must move. Several mechanisms act together on the output; the first gives the speed."""

    gear_ratio: Given = given(
        "ratio", "1", "Gear ratio", default="1", low=0.01, help="Motor turns for one output turn.", leads=True
    )
    gear_efficiency: Given = given(
        "fraction", "%", "Gear efficiency", default="70 %", origin="assumed", above=0, high=1, leads=True
    )
    gear_torque_limit: Given = given(
        "torque", "N·m", "Gear torque limit", above=0, optional=True, help="At the output shaft."
    )
    coupling_slip: Given = given(
        "torque",
        "N·m",
        "Coupling slips at",
        above=0,
        optional=True,
        help="A clamp, clutch or belt on the output shaft that lets go before anything breaks.",
    )
    backlash: Given = given("angle", "°", "Backlash at the output", low=0, high=1, optional=True)
    time_to_speed: Given = given("time", "s", "Time to speed", above=0)
    mechanisms: list[Mechanism] = Field(default_factory=_one_mechanism, min_length=1, max_length=8)
    run_for: Given = given("time", "s", "Runs for", default="10 min", above=0, leads=True)
    rest_for: Given = given("time", "s", "Then rests for", default="0 s", low=0, leads=True)
    segments: list[Segment] = listing(
        "Duty in parts",
        help="Instead of run and rest: each part with its speed, torque and time, repeated. Empty means as at work.",
    )
    ratios: str = Field(
        "5, 10, 19, 30, 50, 75, 100, 131, 150, 200, 270", max_length=200, description="Ratios to be had"
    )

    @model_validator(mode="before")
    @classmethod
    def _from_earlier(cls, data: Any) -> Any:
        """A build file of before a drive could have several mechanisms: it holds one, with the time to speed."""
        if not (isinstance(data, dict) and isinstance(data.get("mechanism"), dict)) or "mechanisms" in data:
            return data
        one = {"id": "m1", **data["mechanism"]}
        moved = {"time_to_speed": one.pop("time_to_speed")} if "time_to_speed" in one else {}
        return {**moved, **{k: v for k, v in data.items() if k != "mechanism"}, "mechanisms": [one]}


WHOLE_CHOICES: dict[str, Choose] = {"mechanism": Choose("Mechanism", MECHANISMS)}
