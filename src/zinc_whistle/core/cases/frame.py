"""What is known of a motor's rotor and heat: as given, or estimated from its weight and its case."""

from __future__ import annotations

from typing import Any

from ..algebra.nodes import Figure, Leaf, Node
from ..algebra.units import KINDS
from ..laws import frame as laws
from ..model.given import Given
from ..model.motor import MotorSpec

SCATTER = {"inertia": 0.30, "inductance": 0.40, "copper": 0.25, "housing": 0.15, "air": 0.22, "inner": 0.30}
"""Standard doubts of the estimates, as shares: 95 of 100 motors of a size lie within twice as much (from memory of data
sheets, no source)."""


def _scatter(spec: MotorSpec, of: str) -> Leaf:
    title = "Scatter among motors of its size"
    return Leaf(f"{spec.path}.scatter.{of}", title, KINDS["ratio"], 1.0, origin="assumed", doubt=SCATTER[of])


def rotor_inertia(spec: MotorSpec) -> Figure:
    """Estimated from weight and case."""
    because = [spec.chosen("inertia_by")]
    return laws.rotor_inertia(spec.weight.leaf, spec.case_diameter.leaf, _scatter(spec, "inertia"), because=because)


def inductance(spec: MotorSpec, resistance: Figure) -> Figure:
    """Estimated from the winding's resistance and the motor's weight."""
    because = [spec.chosen("inductance_by")]
    return laws.inductance(resistance, spec.weight.leaf, _scatter(spec, "inductance"), because=because)


def copper(spec: MotorSpec) -> Node:
    """Copper in the winding."""
    return _by_weight(spec, spec.winding_copper, laws.copper, "copper")


def housing(spec: MotorSpec) -> Node:
    """Iron and housing."""
    return _by_weight(spec, spec.housing_mass, laws.housing, "housing")


def to_air(spec: MotorSpec) -> Node:
    """Thermal resistance from the housing to the air."""
    return _by_weight(spec, spec.housing_to_air, laws.to_air, "air")


def _by_weight(spec: MotorSpec, own: Given, law: Any, of: str) -> Node:
    if spec.heat_by == "given":
        return own.leaf
    made: Figure = law(spec.weight.leaf, _scatter(spec, of), because=[spec.chosen("heat_by")])
    return made


def to_housing(spec: MotorSpec) -> Node:
    """Thermal resistance from the winding to the housing."""
    if spec.heat_by == "given":
        return spec.winding_to_housing.leaf
    return laws.to_housing(to_air(spec), _scatter(spec, "inner"), because=[spec.chosen("heat_by")])


def estimated(spec: MotorSpec) -> list[tuple[str, str]]:
    """What stands on an estimate, and what would replace it: the shortest reading first."""
    ways = [
        (
            spec.inertia_by == "frame",
            "rotor inertia",
            "let it spin free, switch it off, and take the time until it stands (a minute)",
        ),
        (
            spec.inductance_by == "frame",
            "inductance",
            "a meter that reads inductance, or the current's rise on an oscilloscope with the shaft held",
        ),
        (
            spec.heat_by == "frame",
            "winding's heat",
            "the case's temperature after ten minutes at a known current",
        ),
    ]
    return [(name, words) for there, name, words in ways if there]
