"""A discrete stage's figures."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..algebra.nodes import Figure, Node
from ..model.stage import StageSpec
from .arrange import Gate, PlaceHeat, Surround, Times
from .materials import Materials


def busiest(places: Sequence[PlaceHeat]) -> PlaceHeat:
    """The place whose heat allows the least current."""
    return min(places, key=lambda p: float("inf") if p.allowed.value is None else p.allowed.value)


@dataclass(frozen=True, slots=True, kw_only=True)
class StageAnywhere:
    """What a discrete stage's limits are held against: templates over supply, winding, air and speed."""

    around: Surround
    bus: Node
    """The highest that the switches see, braking included."""
    gate: Node
    """What drives the gates, as far as its own supply lets it."""
    gate_top: Node
    """What the gates may see at most: a gate supply of its own owes nothing to the motor's."""
    upper_gate: Node
    times: Times
    upper_times: Times
    fastest: Times
    """Edges at the highest gate volts, where they lift the other gate most."""
    allowed: Figure
    """The motor current that the busiest place's heat allows."""
    gate_power: Figure
    pulsed: Node
    """The share of each period at which the motor's current is switched."""


@dataclass(frozen=True, slots=True, kw_only=True)
class StageResult:
    """A discrete stage's figures: gates, heat by place, what the driver's gates see, and what it costs."""

    spec: StageSpec
    around: Surround
    sigma: Node
    current: Figure
    duty: Figure
    gate: Gate
    gate_low: Figure
    gate_high: Node
    upper_gate: Node
    times: Times
    upper_times: Times
    places: tuple[PlaceHeat, ...]
    number: Node
    """Transistors side by side in each place."""
    count: Node
    """Transistors that are hot at once, on a sink that they share."""
    sink_needed: Figure
    highest_bus: Node
    gate_power: Figure
    extras: tuple[Figure, ...]
    """A snubber for the loop's ringing, and what one transistor alone carries, free in the air."""
    materials: Materials
    anywhere: StageAnywhere

    @property
    def busiest(self) -> PlaceHeat:
        """The place whose heat allows the least current."""
        return busiest(self.places)
