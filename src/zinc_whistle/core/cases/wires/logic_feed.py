"""A controller's supply: from the motor's feed or a source of its own, through its regulators or straight."""

from __future__ import annotations

from ...algebra.quantities import phrase
from ...model.supply import Regulator
from ..operating import DriveContext
from .terminal import Row, Terminal, grounded


def logic_feed(at: DriveContext, feed: Terminal) -> list[Row]:
    """The way of the logic's supply, as it was planned: from the motor's feed or its own source, through its regulator.

    Nothing where none is named: a wire straight from the motor's supply would put its volts on the board.
    """
    regulator = at.regulator
    if regulator is None:
        return _straight(at, feed)
    chain = at.build.supply.chain(regulator.id)
    own = chain[0].source != at.source.id
    plus = Terminal("logic source", "+") if own else feed
    minus = Terminal("logic source", "−") if own else Terminal("source", "−")
    rows: list[Row] = []
    for before in chain[:-1]:
        block = regulator_block(before.id, regulator.id)
        rows += [
            Row(f"{block}+", plus, Terminal(block, "in"), f"To {before.name or 'the regulator'}", "orange"),
            grounded(f"{block}-", minus, Terminal(block, "GND")),
        ]
        plus, minus = Terminal(block, "out"), Terminal(block, "GND")
    if regulator.place == "driver":
        return [*rows, *_from_the_driver(regulator)]
    if regulator.place == "board":
        rows.append(Row("logic+", plus, Terminal("controller", "V in"), "Logic supply", "orange"))
        if own or len(chain) > 1:
            rows.append(grounded("logic-", minus, Terminal("controller", "GND")))
        return rows
    volts = _volts(regulator)
    return [
        *rows,
        Row("regulator+", plus, Terminal("regulator", "in"), "To the regulator", "orange"),
        grounded("regulator-", minus, Terminal("regulator", "GND")),
        Row("logic+", Terminal("regulator", "out"), Terminal("controller", volts), "Logic supply", "orange"),
        grounded("logic-", Terminal("regulator", "GND"), Terminal("controller", "GND")),
    ]


def _straight(at: DriveContext, feed: Terminal) -> list[Row]:
    """A controller that hangs on a source as it is: by its USB socket, or at V in; nothing where none is named."""
    source = next((s for s in at.build.supply.sources if s.id == at.controller.regulator), None)
    if source is None:
        return []
    socket = "USB" if source.kind == "usb" else "V in"
    if source.id == at.source.id:
        return [Row("logic+", feed, Terminal("controller", socket), "Logic supply", "orange")]
    return [
        Row("logic+", Terminal("logic source", "+"), Terminal("controller", socket), "Logic supply", "orange"),
        grounded("logic-", Terminal("logic source", "−"), Terminal("controller", "GND")),
    ]


def _from_the_driver(regulator: Regulator) -> list[Row]:
    """The logic's feed out of the driver's own board; its ground is the driver's."""
    volts = _volts(regulator)
    return [Row("logic+", Terminal("driver", f"{volts} out"), Terminal("controller", volts), "Logic supply", "orange")]


def _volts(regulator: Regulator) -> str:
    return phrase(regulator.output_v.value, "voltage", "V") if regulator.output_v.value is not None else "logic"


def regulator_block(id: str, last: str) -> str:
    """What a regulator of the logic's way is called in the drawing: the last one has no number."""
    return "regulator" if id == last else f"regulator {id}"
