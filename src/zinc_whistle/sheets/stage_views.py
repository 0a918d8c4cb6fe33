"""The data of the Power stage's picture, in people's units."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal


@dataclass(frozen=True, slots=True)
class Loss:
    """One share of the heat, or of the energy."""

    label: str
    watts: float
    text: str


@dataclass(frozen=True, slots=True)
class StateView:
    """One switch state: what is on, the way of the current in order, and how much flows."""

    key: str
    title: str
    on: list[str]
    way: list[str]
    diodes: list[str]
    words: str
    current: str
    forbidden: bool


@dataclass(frozen=True, slots=True)
class CircuitView:
    """The circuit to be drawn: its layout, the names of its elements, and its states."""

    layout: str
    title: str
    names: dict[str, str]
    states: list[StateView]


@dataclass(frozen=True, slots=True)
class MapView:
    """Junction (°C) and loss (W) by row of frequency (Hz) and column of current (A); empty where it runs away."""

    current_a: list[float]
    frequency_hz: list[float]
    junction_c: list[list[float | None]]
    loss_w: list[list[float | None]]
    limit_a: list[float | None]
    limit_c: float
    working_a: float
    working_hz: float
    words: str


@dataclass(frozen=True, slots=True)
class AirView:
    """Motor current that the heat allows over the air's temperature, free and on the sink."""

    air_c: list[float]
    free_a: list[float]
    sink_a: list[float]
    hot_c: float | None
    working_a: float | None


@dataclass(frozen=True, slots=True)
class PlaceView:
    """One place of the circuit: its busiest transistor's share, losses and junction."""

    name: str
    current: str
    conduction: str
    switching: str
    heat: str
    junction: str
    allowed: str
    use: float | None


@dataclass(frozen=True, slots=True)
class LineView:
    """One line of the bill of materials."""

    what: str
    part: str
    number: int
    each: str
    price: str


@dataclass(frozen=True, slots=True)
class BillView:
    """The bill of materials: lines, boards, one piece, all pieces."""

    lines: list[LineView]
    board: str
    piece: str
    pieces: int
    all: str


@dataclass(frozen=True, slots=True)
class StagePicture:
    """Losses, the junction between air and limit (°C), junction over current (A); of a stage of one's own all the
    rest."""

    built_in: bool
    own: bool
    losses: list[Loss]
    air_c: float | None
    junction_c: float | None
    limit_c: float | None
    junction_text: str
    working_a: float | None
    allowed_a: float | None
    circuit: CircuitView | None
    map: MapView | None
    air: AirView | None
    places: list[PlaceView]
    bill: BillView | None
    unit_path: str
    kind: Literal["stage"] = "stage"
