"""What a controller may be fed with: within what its V in takes, or its logic's own volts at its rail."""

from __future__ import annotations

from ..model.signals import Controller

NEAR = 0.1
"""A supply within a tenth of the logic's volts may be joined to the logic's own pin (common practice, no source)."""


def is_rail(controller: Controller, high_v: float, low_v: float) -> bool:
    """Whether a supply, full and flat (V), may be joined to the logic's own pin."""
    logic = controller.logic_v.value
    return logic is not None and all(abs(v / logic - 1) <= NEAR for v in (high_v, low_v))


def suits(controller: Controller, high_v: float, low_v: float, *, at_vin: bool = False) -> bool | None:
    """Whether a supply suits a controller; None where its V in is not known. ``at_vin``: it hangs there for certain."""
    if not at_vin and is_rail(controller, high_v, low_v):
        return True
    least, most = controller.vin_min.value, controller.vin_max.value
    return None if least is None or most is None else least <= low_v and high_v <= most
