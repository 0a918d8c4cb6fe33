"""The schematic of a stage: its circuit, what is fitted round it, and the way of the current in each state."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from ..core.assess import DrivenAssessment
from ..core.model.stage import DIODE_CIRCUITS
from ..core.model.transistors import Bjt, Mosfet
from ..core.stations.power_stage.circuits import CIRCUIT_STATES, DiodeAt, as_fitted, circuit_of, title_of
from .views import text_of


@dataclass(frozen=True, slots=True, kw_only=True)
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


@dataclass(frozen=True, slots=True, kw_only=True)
class CircuitView:
    """The circuit to be drawn: its layout, the names of its elements, its states, and what is fitted round it.

    ``diode``: where one beside the switches' own stands; ``fitted``: by element what to write at it.
    """

    layout: str
    title: str
    names: dict[str, str]
    states: list[StateView]
    diode: DiodeAt
    inside: bool
    parallel: int
    fitted: dict[str, str]


def circuit_view(done: DrivenAssessment) -> CircuitView:
    """The circuit of a drive that has a driver."""
    chosen, built, solved = done.chosen, done.discrete, done.circuit
    assert chosen is not None
    circuit = built.spec.circuit if built is not None else circuit_of(chosen.part)
    diode, inside = done.context.unit.diode_at, chosen.part.diodes == "yes"
    drawn = as_fitted(circuit, diode, inside) if done.of_motor is not None else CIRCUIT_STATES[circuit]
    flows: dict[str, Any] = {
        "working": done.context.working_current,
        "braking": turning.braking if (turning := solved.of_motor) is not None else None,
        "shoot-through": done.stage.shoot_through,
    }
    names = {"motor": getattr(done.drive, "name", "") or "Motor"}
    if built is not None:
        number = int(built.spec.parallel.value or 1)
        times = f"{number} × " if number > 1 and isinstance(built.spec.switch, Mosfet) else ""
        if built.spec.switch is not None:
            names["switch"] = f"{times}{built.spec.switch.name}"
        if built.spec.upper is not None and circuit == "p/n bridge":
            names["upper"] = f"{times}{built.spec.upper.name}"
        if built.spec.diode is not None:
            names["diode"] = built.spec.diode.name
    else:
        names["switch"] = chosen.part.name
    states = [
        StateView(
            key=s.key,
            title=s.title,
            on=list(s.on),
            way=list(s.way),
            diodes=list(s.diodes),
            words=s.words,
            current=text_of(flows[s.current]) if flows.get(s.current) is not None else "",
            forbidden=s.forbidden,
        )
        for s in drawn.states
    ]
    title = title_of(circuit) if built is not None else f"Inside: {title_of(circuit).split(',')[0].lower()}"
    return CircuitView(
        layout=drawn.layout,
        title=title,
        names=names,
        states=states,
        diode="rails" if diode == "none" and inside and circuit in DIODE_CIRCUITS else diode,
        inside=inside and circuit not in DIODE_CIRCUITS,
        parallel=int(built.spec.parallel.value or 1) if built is not None else 1,
        fitted=_fitted(done),
    )


def _fitted(done: DrivenAssessment) -> dict[str, str]:
    """What stands round the switches, and what is written at it."""
    unit, source = done.context.unit, done.context.source
    found = {"fuse": source.fuse, "capacitor": unit.bulk_capacitance}
    parts: dict[str, Any] = {}
    if done.discrete is not None:
        stage = done.discrete.spec
        parts = {"fuse": stage.fuse, "guard": stage.guard}
        found |= {"shunt": stage.shunt}
        if isinstance(stage.switch, Bjt):
            found |= {"base": stage.base_resistor}
        elif isinstance(stage.switch, Mosfet):
            found |= {"gate": stage.gate_resistor, "pull-down": stage.pull_down, "off": stage.off_resistor}
            parts |= {"driver": stage.gate_driver if stage.driven_by == "driver" else None}
    words = {key: text_of(given.leaf) for key, given in found.items() if given.value is not None}
    return words | {key: part.name for key, part in parts.items() if part is not None}
