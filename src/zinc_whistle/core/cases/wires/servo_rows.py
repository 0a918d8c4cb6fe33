"""A servo's three wires."""

from __future__ import annotations

from dataclasses import dataclass

from ...algebra.nodes import Figure
from ...laws import wiring as rules
from ...model.build import ServoDrive
from ...model.signals import Controller
from ..operating import wire
from ..pins import PinUse
from ..servo import ServoResult
from .connection import Connection, rail_of
from .terminal import GROUND, Role, Terminal


@dataclass(frozen=True, slots=True, kw_only=True)
class ServoWires:
    """The wires of a servo, and what drops in them with it stalled."""

    connections: tuple[Connection, ...]
    drop: Figure


def servo_wires(drive: ServoDrive, controller: Controller, result: ServoResult, pins: tuple[PinUse, ...]) -> ServoWires:
    """Three wires: signal from the controller, plus from the rail, and the ground that both share."""
    left_out = set(drive.wiring.left_out)
    run = drive.wiring.signal_run
    worst = result.stall_current
    carrying = wire(run)
    rows = []

    def add(id: str, start: Terminal, end: Terminal, signal: str, colour: str, role: Role, drop: Figure | None) -> None:
        rows.append(
            Connection(
                id=id,
                start=start,
                end=end,
                signal=signal,
                colour=colour,
                run=run,
                current=worst if drop is not None else None,
                drop=drop,
                made=id not in left_out,
                role=role,
            )
        )

    drop = rules.pair_drop(carrying.resistance, worst, title="Drop to the servo, stalled")
    add(
        "rail+",
        start=Terminal("source", "+"),
        end=Terminal("servo", "+ (middle)"),
        signal="Servo supply",
        colour="red",
        role="power",
        drop=drop,
    )
    add(
        "rail-",
        start=Terminal("source", "−"),
        end=Terminal("servo", "− (dark)"),
        signal=GROUND,
        colour="black",
        role="power",
        drop=None,
    )
    add(
        "ground",
        start=Terminal("source", "−"),
        end=Terminal("controller", "GND"),
        signal=GROUND,
        colour="black",
        role="logic",
        drop=None,
    )
    if pins[0].pin is not None:
        add(
            "signal:PULSE",
            start=Terminal("controller", pins[0].pin.label),
            end=Terminal("servo", "signal (light)"),
            signal="PULSE",
            colour="yellow",
            role="signal",
            drop=None,
        )
    for use in pins[1:]:
        if use.pin is not None:
            add(
                f"signal:{use.signal}",
                start=Terminal("panel", use.signal),
                end=Terminal("controller", use.pin.label),
                signal=use.signal,
                colour="violet",
                role="signal",
                drop=None,
            )
    if any(use.signal == "KNOB" and use.pin is not None for use in pins):
        add(
            "panel+",
            start=Terminal("controller", rail_of(controller.logic_v.value)),
            end=Terminal("panel", "V+"),
            signal="Panel's supply",
            colour="brown",
            role="logic",
            drop=None,
        )
    if len(pins) > 1:
        add(
            "panel-",
            start=Terminal("controller", "GND"),
            end=Terminal("panel", "GND"),
            signal=GROUND,
            colour="black",
            role="logic",
            drop=None,
        )
    return ServoWires(connections=tuple(rows), drop=drop)
