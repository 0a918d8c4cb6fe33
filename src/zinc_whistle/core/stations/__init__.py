"""The table of stations: all that makes one a station stands in its row.

Titles, questions and keys on the screen, the words that the service accepts, which drives pass it, what it works
out and
checks, and its cautions follow from here. The order is the order of work.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any, Literal

from ..cases.scene import Outcome
from .bench import station as bench
from .driver import station as driver
from .encoder import station as encoder
from .load import station as load
from .loop import station as loop
from .motor import station as motor
from .power_stage import station as power_stage
from .signals import station as signals
from .supply import station as supply
from .wiring import station as wiring

Kind = Literal["motor", "servo", "load"]
"""The kinds of drive, as the union in ``model.build`` names them."""
Work = Callable[[Any], Outcome]
"""From a scene of one kind of drive to what the station makes of it."""
Cautions = Callable[[Any, Outcome], list[str]]


@dataclass(frozen=True, slots=True, kw_only=True)
class Station:
    """One station: what it is called, its key, and by kind of drive what it works out and which cautions it shows."""

    id: str
    title: str
    question: str
    key: str
    work: Mapping[Kind, Work]
    cautions: Mapping[Kind, Cautions]


def _nothing(scene: Any) -> Outcome:
    return Outcome()


def _no_cautions(scene: Any, outcome: Outcome) -> list[str]:
    return []


TABLE: tuple[Station, ...] = (
    Station(
        id="motor",
        title="Motor",
        question="What have I got?",
        key="1",
        work={"motor": motor.motor},
        cautions={"motor": motor.cautions},
    ),
    Station(
        id="load",
        title="Load",
        question="What must it move?",
        key="2",
        work={"motor": load.motor, "load": load.load, "servo": load.servo},
        cautions={"motor": load.cautions, "load": load.cautions, "servo": load.servo_cautions},
    ),
    Station(
        id="supply",
        title="Supply",
        question="What feeds it?",
        key="3",
        work={"motor": supply.driven, "load": supply.driven, "servo": supply.servo},
        cautions={"motor": supply.cautions, "load": supply.cautions, "servo": supply.servo_cautions},
    ),
    Station(
        id="driver",
        title="Driver",
        question="Which kind, which part?",
        key="4",
        work={"motor": driver.motor, "load": driver.load},
        cautions={"motor": driver.cautions, "load": driver.cautions},
    ),
    Station(
        id="power_stage",
        title="Power stage",
        question="Does it stay cool?",
        key="5",
        work={"motor": power_stage.driven, "load": power_stage.driven},
        cautions={"motor": power_stage.cautions, "load": power_stage.cautions},
    ),
    Station(
        id="signals",
        title="Signals",
        question="What does it hear?",
        key="6",
        work={"motor": signals.driven, "load": signals.driven, "servo": signals.servo},
        cautions={"motor": signals.cautions, "load": signals.cautions, "servo": signals.cautions},
    ),
    Station(
        id="wiring",
        title="Wiring",
        question="What goes where?",
        key="7",
        work={"motor": wiring.driven, "load": wiring.driven, "servo": wiring.servo},
        cautions={"motor": wiring.cautions, "load": wiring.cautions, "servo": wiring.servo_cautions},
    ),
    Station(
        id="encoder",
        title="Encoder",
        question="Can it keep count?",
        key="8",
        work={"motor": encoder.motor},
        cautions={"motor": encoder.cautions},
    ),
    Station(
        id="loop",
        title="Loop",
        question="Does it settle?",
        key="9",
        work={"motor": loop.motor},
        cautions={"motor": loop.cautions},
    ),
    Station(
        id="bench",
        title="Bench",
        question="Is what I read right?",
        key="0",
        work={"motor": bench.motor, "load": bench.load, "servo": bench.servo},
        cautions={"motor": bench.cautions, "load": bench.cautions, "servo": bench.servo_cautions},
    ),
    Station(
        id="log",
        title="Log",
        question="What was done?",
        key="-",
        work={"motor": _nothing, "load": _nothing, "servo": _nothing},
        cautions={"motor": _no_cautions, "load": _no_cautions, "servo": _no_cautions},
    ),
)
BY_ID: Mapping[str, Station] = {s.id: s for s in TABLE}
IDS: tuple[str, ...] = tuple(BY_ID)


def of_kind(kind: Kind) -> tuple[str, ...]:
    """The stations that a drive of that kind passes, in order."""
    return tuple(s.id for s in TABLE if kind in s.work)
