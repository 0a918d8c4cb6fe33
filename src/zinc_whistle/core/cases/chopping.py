"""What the pulses of one switch and a diode make of a current: its ripple, and what of it heats.

A bridge lets its current run on between the pulses, its mean is what counts; here the current may end in each period.
"""

from __future__ import annotations

from typing import Any, TypeVar

from ..algebra.nodes import Figure, Node
from ..algebra.rules import Procedure
from ..laws import chopper as laws


def _course(duty: Node) -> dict[str, Any] | None:
    """What the periodic current goes with, from a duty that was found for it; None for any other duty."""
    if not isinstance(duty, Figure):
        return None
    if duty.law is not laws.chopped_duty:
        return None
    names = ("V", "E", "R", "L", "I", "f", "V_d", "R_s")
    given: dict[str, Any] = dict(zip(names, duty.inputs, strict=True))
    del given["I"]
    return given | {"D": duty}


def swing(duty: Node, case: str = "") -> Figure | None:
    """The ripple at a chopped duty; None where the duty is not one."""
    course = _course(duty)
    return laws.chopped_swing(**course, case=case) if course is not None else None


def extra_heat(duty: Node) -> Figure | None:
    """The share of heat that the ripple adds at a chopped duty."""
    course = _course(duty)
    return laws.extra_heat(laws.form_factor(**course)) if course is not None else None


def stiffness(duty: Node, resistance_ohm: float) -> float:
    """By how many volts of EMF the mean current falls by an ampere: ``resistance_ohm`` where the current never ends,
    more where it does, so that a motor settles more slowly."""
    course = _course(duty)
    if course is None or any(node.value is None for node in course.values()):
        return resistance_ohm
    values = {name: float(node.value) for name, node in course.items()}
    at = values.pop("D")
    of = laws.Chopper(**values)
    if not 0 < at < 1 or not 0 < of.E < 0.98 * of.V:
        return resistance_ohm
    step = 0.01 * of.E
    ends = [laws.chopped(of._replace(E=of.E + side), at).mean_a for side in (-step, step)]
    return max(2.0 * float(step) / (ends[0] - ends[1]), resistance_ohm)


Current = TypeVar("Current", Figure, Node)


def as_it_heats(current: Current, duty: Node, factor: Procedure = laws.form_factor) -> Current:
    """The RMS of a mean current at a duty, by a factor of the periodic current."""
    course = _course(duty)
    return laws.as_it_heats(current, factor(**course)) if course is not None else current


def in_the_switch(current: Current, duty: Node) -> Current:
    """The same while the switch is on."""
    return as_it_heats(current, duty, laws.switch_factor)
