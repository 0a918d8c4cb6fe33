"""What a motor's appliance left with it: its own switch as a first candidate for a driver."""

from __future__ import annotations

from ..model.build import MotorDrive
from ..model.driver import DriverPart
from ..model.given import Given, bind

OWN_SWITCH = "from-the-appliance"
"""The id of the candidate; no part of a shelf is called so."""


def own_switch(drive: MotorDrive) -> DriverPart | None:
    """The appliance's own transistor as a driver, with what is printed on it and nothing else; None without one.

    What is missing stays missing: it is asked for where a limit needs it.
    """
    spec = drive.motor.salvage
    if spec.switch_a.value is None:
        return None
    made = DriverPart(id=OWN_SWITCH, name=f"Its own switch: {spec.switch or 'unnamed'}"[:80], kind="mosfet switch")
    made.input_style, made.reverses, made.brakes, made.diodes = "one input", "no", "no", "no"
    made.continuous_a = Given(text=spec.switch_a.text, origin="data sheet")
    made.peak_a = Given(text=spec.switch_a.text, origin="assumed")
    made.v_max = made.v_absolute = Given(text=spec.switch_v.text, origin="data sheet")
    made.continuous_condition = "printed figure, of a case held at 25 °C as a rule"
    made.note = f"Out of {spec.appliance or 'its appliance'}, with the heat sink that it had there."
    bind(made, f"{spec.path}.own_switch")
    return made
