"""What a drawn circuit is made of: its layout, and the way of the current in each state."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class CircuitState:
    """One switch state.

    ``on``: elements that are switched on; ``way``: elements in the order in which the current passes them (empty: none
    flows); ``diodes``: those of them that carry by their diode; ``current`` names which figure flows.
    """

    key: str
    title: str
    on: tuple[str, ...]
    way: tuple[str, ...]
    words: str
    diodes: tuple[str, ...] = ()
    current: str = "working"
    forbidden: bool = False


@dataclass(frozen=True, slots=True)
class Drawn:
    """A circuit as it is drawn: which of the layouts, and its states in order."""

    layout: str
    states: tuple[CircuitState, ...]
