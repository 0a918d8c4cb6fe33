"""An end of a wire, and what a wire carries."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

GROUND = "ground"
Role = Literal["power", "motor", "logic", "signal"]
"""What a wire carries: the drawing and the list tell them apart."""


@dataclass(frozen=True, slots=True)
class Terminal:
    """One end of a connection: the block it belongs to and the pin's name there."""

    block: str
    pin: str


@dataclass(frozen=True, slots=True)
class Row:
    """A wire of small current: what it is called, its ends, what it carries, and its colour."""

    id: str
    start: Terminal
    end: Terminal
    name: str
    colour: str
    role: Role = "logic"


def grounded(id: str, start: Terminal, end: Terminal) -> Row:
    """A wire that joins grounds."""
    return Row(id, start, end, GROUND, "black")
