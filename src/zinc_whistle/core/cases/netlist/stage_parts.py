"""A stage of one's own as its parts: every transistor, gate resistor, diode and relay, and what joins them."""

from __future__ import annotations

from collections.abc import Sequence

from ...model.component import Priced
from ...model.stage import CONTACT_CIRCUITS, DIODE_CIRCUITS, StageSpec
from ..materials import drivers_needed
from ..operating import DriveContext
from ..truth import truth_table
from ..wires.contacts import contacts_of
from .blocks import told
from .inner import Inner

PLUS, MINUS, OUT_1, OUT_2 = "V+", "GND", "OUT 1", "OUT 2"
GATE_RAIL = "Gate supply"
LEGS = {"full bridge": 2, "p/n bridge": 2}
GUARD_OHM, COIL_BASE_OHM = 100e3, 1e3
"""Usual values (common practice, no source): they are part of the bill, and may be any others."""
NEAR = 1.3
"""A coil for at most so many times the logic's volts hangs on the logic's supply."""
TAB = {"D": "the tab, where it is not insulated"}
BAND = {"K": "the band"}
LINES = {PLUS: "Supply", "V+, guarded": "Supply, guarded", MINUS: "ground", OUT_1: "Motor +", OUT_2: "Motor −"}


class _Stage:
    """The parts of one stage while they are put together."""

    def __init__(self, at: DriveContext) -> None:
        self.at, self.stage = at, at.unit.stage
        self.made = Inner(on=f"unit {at.unit.id}", drives=(at.drive.id,))
        style = at.part.input_style if at.part is not None else "one input"
        self.inputs: Sequence[str] = truth_table(style, at.drive.signals.decay, at.drive.signals.pulsed).names
        ends = contacts_of(at.part)
        self.low = ends.minus
        """Where the lower switches end: ground, or above the shunt."""
        self.plus = self.fed = ends.plus
        """Where the upper switches begin: the supply, or behind the guard."""

    def line(self, part: str, pin: str, outer: str) -> None:
        """A pin on one of the stage's own terminals."""
        carries = "Supply" if outer == self.fed else LINES.get(outer, outer)
        self.made.strip(part, pin, outer, carries)

    def bought(self, slot: Priced | None, fallback: str) -> tuple[str, Priced | None]:
        return (slot.name if slot is not None and slot.name else fallback), slot

    def switch(self, place: str, drain: str, source: str, upper: bool = False) -> str:
        """A MOSFET with its gate resistor and pull-down: ``drain`` and ``source`` are terminals, or joints of others.

        Its gate's joint, before the gate resistor."""
        stage, made = self.stage, self.made
        part = stage.upper if upper else stage.switch
        each = int(stage.parallel.value or 1)
        name = f"Q {place}"
        value = part.name if part is not None else ""
        q = made.add(
            "transistor", name, ("G", "D", "S"), value=value, marks=TAB, each=each, price=part.price if part else None
        )
        self.line(q, "D", drain)
        self.line(q, "S", source)
        resistors = 1 if stage.gates == "tied" else each
        gate = made.resistor(f"Gate resistor {place}", stage.gate_resistor.value, each=resistors)
        made.join((gate, "2"), (q, "G"), f"Gate {place}")
        if (pull := stage.pull_down.value) is not None:
            down = made.resistor(f"Gate to source {place}", pull, each=each)
            made.join((down, "1"), (q, "G"), f"Gate {place}")
            self.line(down, "2", source)
        if upper and stage.gate_clamp == "yes":
            zener = made.add("zener", f"Zener {place}", ("A", "K"), value=told(stage.clamp_v), marks=BAND, each=each)
            made.join((zener, "A"), (q, "G"), f"Gate {place}")
            self.line(zener, "K", source)
        return gate

    def bipolar(self, collector: str) -> None:
        made, stage = self.made, self.stage
        value = stage.switch.name if stage.switch is not None else ""
        q = made.add(
            "transistor", "Q", ("B", "C", "E"), value=value, marks={"": "its flat side, or the tab"},
            price=stage.switch.price if stage.switch else None,
        )  # fmt: skip
        self.line(q, "C", collector)
        self.line(q, "E", self.low)
        base = made.resistor("Base resistor", stage.base_resistor.value)
        self.line(base, "1", self.inputs[-1])
        made.join((base, "2"), (q, "B"), "Base")

    def driver(self, leg: str, inputs: Sequence[str], upper: str | None, lower: str | None, swing: str) -> None:
        """A gate driver for a leg: its inputs on the stage's terminals, its outputs to the gate resistors."""
        made, stage = self.made, self.stage
        if stage.driven_by == "pin":
            for gate, name in zip([g for g in (upper, lower) if g], inputs, strict=False):
                self.line(gate, "1", name)
            return
        part = stage.gate_driver
        name = f"Gate driver {leg}".strip()
        pins = ["VCC", "GND", *(f"IN {k}" for k in range(1, len(inputs) + 1))]
        pins += (["HO", "VB", "VS"] if upper else []) + (["LO"] if lower else [])
        legs = legs_of(part.legs if part is not None else "", pins)
        ic = made.add(
            "gate driver", name, legs or tuple(pins), value=part.name if part is not None else "",
            marks={(legs or pins)[0]: "notch or dot at pin 1"}, price=part.price if part else None,
            each=self.packages(), in_order=bool(legs),
        )  # fmt: skip
        self.line(ic, "VCC", GATE_RAIL)
        self.line(ic, "GND", MINUS)
        for k, input in enumerate(inputs, 1):
            self.line(ic, f"IN {k}", input)
        if lower:
            made.join((ic, "LO"), (lower, "1"), f"Gate drive, lower {leg}".strip())
        if upper:
            made.join((ic, "HO"), (upper, "1"), f"Gate drive, upper {leg}".strip())
            self.line(ic, "VS", swing)
            if part is None or part.sides == "half bridge":
                boot = made.add(
                    "capacitor", f"Bootstrap capacitor {leg}".strip(), ("1", "2"), value=told(stage.boot_capacitor)
                )
                made.join((boot, "1"), (ic, "VB"), f"Bootstrap {leg}".strip())
                self.line(boot, "2", swing)
                diode = made.add("diode", f"Bootstrap diode {leg}".strip(), ("A", "K"), marks=BAND)
                self.line(diode, "A", GATE_RAIL)
                made.join((diode, "K"), (ic, "VB"), f"Bootstrap {leg}".strip())
        self.gate_rail()
        decouple = made.add("capacitor", f"Decoupling of {name.lower()}", ("1", "2"), value="100 nF")
        self.line(decouple, "1", GATE_RAIL)
        self.line(decouple, "2", MINUS)

    def packages(self) -> int:
        """Gate-driver packages for one leg."""
        if self.stage.gate_driver is None:
            return 1
        needed = drivers_needed(self.stage, self.stage.gate_driver, int(self.stage.parallel.value or 1))
        return max(needed // LEGS.get(self.stage.circuit, 1), 1)

    def gate_rail(self) -> None:
        """What the gate supply comes from; one of its own has a lead of its own."""
        made = self.made
        if self.stage.gate_fed == "bus":
            self.line(made.on, GATE_RAIL, self.plus)
        elif self.stage.gate_fed == "own" and not any(p.name == "Gate regulator" for p in made.parts):
            volts = told(self.stage.gate_v)
            regulator = made.add("regulator", "Gate regulator", ("in", "GND", "out"), value=volts, marks={"in": "in"})
            self.line(regulator, "in", self.plus)
            self.line(regulator, "GND", MINUS)
            self.line(regulator, "out", GATE_RAIL)

    def guard(self) -> None:
        """The transistor against reversed polarity in the supply's way."""
        part, made = self.stage.guard, self.made
        if part is None:
            return
        self.plus = "V+, guarded"
        q = made.add("transistor", "Guard", ("G", "D", "S"), value=part.name, marks=TAB, price=part.price)
        self.line(q, "D", self.fed)
        self.line(q, "S", self.plus)
        resistor = made.resistor("Guard's gate to ground", GUARD_OHM)
        made.join((resistor, "1"), (q, "G"), "Gate of the guard")
        self.line(resistor, "2", MINUS)
        if self.stage.guard_clamp == "yes":
            zener = made.add("zener", "Zener of the guard", ("A", "K"), value=told(self.stage.clamp_v), marks=BAND)
            made.join((zener, "A"), (q, "G"), "Gate of the guard")
            self.line(zener, "K", self.plus)

    def beside(self) -> None:
        """What has no pins: the heat sink."""
        if (sink := self.stage.heat_sink) is not None:
            self.made.add("heat sink", "Heat sink", (), value=sink.name, price=sink.price)

    def shunt(self) -> None:
        """The shunt in the ground leg, with sense wires of their own from its pads."""
        if (ohms := self.stage.shunt.value) is None:
            return
        made, pins = self.made, ("1", "2", "sense +", "sense −")
        shunt = made.add("resistor", "Shunt", pins, value=told(self.stage.shunt), ohms=(("1", "2", ohms),))
        self.low = "Above the shunt"
        self.line(shunt, "1", self.low)
        self.line(shunt, "2", MINUS)
        made.join((shunt, "sense +"), (shunt, "1"), "Above the shunt")
        made.join((shunt, "sense −"), (shunt, "2"), "ground")
        gain = made.add(
            "device", "Sense amplifier", ("IN +", "IN −", "OUT", "V+", "GND"), value=f"×{told(self.stage.sense_gain)}"
        )
        made.join((gain, "IN +"), (shunt, "sense +"), "Above the shunt")
        made.join((gain, "IN −"), (shunt, "sense −"), "ground")
        self.line(gain, "GND", MINUS)
        self.line(gain, "V+", "logic +")
        if self.stage.sense_clamp == "yes":
            resistor = made.resistor("Clamp resistor", None)
            zener = made.add("zener", "Clamp zener", ("A", "K"), marks=BAND)
            made.join((gain, "OUT"), (resistor, "1"), "Sense, before its clamp")
            self.line(resistor, "2", "SENSE")
            self.line(zener, "K", "SENSE")
            self.line(zener, "A", MINUS)
        else:
            self.line(gain, "OUT", "SENSE")

    def diode(self, anode: str, cathode: str) -> None:
        if self.at.unit.diode_at == "none":
            return
        slot = self.stage.diode
        name, part = self.bought(slot, "")
        made = self.made.add(
            "diode", "Flyback diode", ("A", "K"), value=name, marks=BAND, price=part.price if part is not None else None
        )
        self.line(made, "A", anode)
        self.line(made, "K", cathode)

    def relay(self, name: str, poles: Sequence[tuple[str, str, str]], coil: str) -> None:
        """A relay whose contacts are on the stage's terminals, with the transistor of its coil."""
        slot = self.stage.relay
        pins = ["coil 1", "coil 2", *(f"{c} {k}" for k in range(1, len(poles) + 1) for c in ("COM", "NO", "NC"))]
        made = self.made
        k = made.add(
            "relay", name, tuple(pins), value=slot.name if slot is not None else "", price=slot.price if slot else None,
            ohms=tuple((f"COM {n}", f"NC {n}", 0.0) for n in range(1, len(poles) + 1)),
        )  # fmt: skip
        for number, pole in enumerate(poles, 1):
            for contact, outer in zip(("COM", "NO", "NC"), pole, strict=True):
                self.line(k, f"{contact} {number}", outer)
        coil_v, logic_v = slot.coil_v.value if slot is not None else None, self.at.controller.logic_v.value
        from_logic = coil_v is not None and logic_v is not None and coil_v <= NEAR * logic_v
        self.line(made.on, "Coil supply", "logic +" if from_logic else self.plus)
        made.strip(k, "coil 1", "Coil supply", "Coil supply")
        made.strip(k, "coil 2", coil, coil)
        diode = made.add("diode", f"Diode of {name}'s coil", ("A", "K"), marks=BAND)
        made.strip(diode, "A", coil, coil)
        made.strip(diode, "K", "Coil supply", "Coil supply")

    def coil_switch(self, coil: str, input: str) -> None:
        made = self.made
        q = made.add("transistor", f"Q of {coil.lower()}", ("B", "C", "E"), marks={"": "flat side"})
        resistor = made.resistor(f"Base resistor of {coil.lower()}", COIL_BASE_OHM)
        self.line(resistor, "1", input)
        made.join((resistor, "2"), (q, "B"), f"Base of {coil.lower()}")
        made.strip(q, "C", coil, coil)
        self.line(q, "E", MINUS)


def legs_of(text: str, pins: Sequence[str]) -> tuple[str, ...]:
    """A chip's legs in order, as its sheet was read; empty where a joined pin is missing, or one is told twice."""
    told = [word.strip() for word in text.split(",") if word.strip()]
    legs = [word if word.strip("-–") else f"– {k}" for k, word in enumerate(told, 1)]
    return tuple(legs) if set(pins) <= set(legs) and len(set(legs)) == len(legs) else ()


def stage_inner(at: DriveContext) -> Inner:
    """A stage's parts on its unit. Empty for a part of the shelf."""
    made = _Stage(at)
    if at.unit.made_of != "stage":
        return made.made
    stage = made.stage
    made.guard()
    made.shunt()
    made.beside()
    _WAYS[stage.circuit](made, stage)
    return made.made


def _low(made: _Stage, stage: StageSpec) -> None:
    if stage.circuit == "bipolar low side":
        made.bipolar(OUT_2)
    else:
        gate = made.switch("low", OUT_2, made.low)
        made.driver("", made.inputs[:1], None, gate, OUT_2)
    made.line(made.made.on, OUT_1, made.plus)
    made.diode(OUT_2, made.plus)


def _high(made: _Stage, stage: StageSpec) -> None:
    gate = made.switch("high", made.plus, OUT_1)
    made.driver("", made.inputs[:1], gate, None, OUT_1)
    made.line(made.made.on, OUT_2, made.low)
    made.diode(made.low, OUT_1)


def _half(made: _Stage, stage: StageSpec) -> None:
    upper, lower = made.switch("high", made.plus, OUT_1), made.switch("low", OUT_1, made.low)
    made.driver("", made.inputs[:2], upper, lower, OUT_1)
    made.line(made.made.on, OUT_2, made.low)


def _full(made: _Stage, stage: StageSpec) -> None:
    for leg, out, input in (("A", OUT_1, made.inputs[0]), ("B", OUT_2, made.inputs[1])):
        upper, lower = made.switch(f"{leg} high", made.plus, out), made.switch(f"{leg} low", out, made.low)
        made.driver(leg, [input], upper, lower, out)


def _p_n(made: _Stage, stage: StageSpec) -> None:
    for leg, out, input in (("A", OUT_1, made.inputs[0]), ("B", OUT_2, made.inputs[1])):
        upper = made.switch(f"{leg} high", out, made.plus, upper=True)
        lower = made.switch(f"{leg} low", out, made.low)
        made.driver(leg, [input], upper, lower, out)


def _modules(made: _Stage, stage: StageSpec) -> None:
    module = stage.switch
    for leg, out, input in (("A", OUT_1, made.inputs[0]), ("B", OUT_2, made.inputs[1])):
        id = made.made.add(
            "driver", f"Half bridge {leg}", ("V+", "GND", "OUT", "IN", "INH"), value=module.name if module else "",
            marks={"V+": "pin 1 by its dot"}, price=module.price if module else None,
        )  # fmt: skip
        made.line(id, "V+", made.plus)
        made.line(id, "GND", made.low)
        made.line(id, "OUT", out)
        made.line(id, "IN", input)
        made.line(id, "INH", made.inputs[2])


def _relays(made: _Stage, stage: StageSpec) -> None:
    pulses = made.inputs[-1]
    gate = made.switch("low", "transistor", made.low)
    made.driver("", [pulses], None, gate, "transistor")
    if stage.circuit == "crossed relay":
        made.relay("K", (("COM 1", "NO 1", "NC 1"), ("COM 2", "NO 2", "NC 2")), "Coil K")
        made.coil_switch("Coil K", made.inputs[0])
    else:
        for number in (1, 2):
            made.relay(f"K{number}", ((f"K{number} COM", f"K{number} NO", f"K{number} NC"),), f"Coil K{number}")
            made.coil_switch(f"Coil K{number}", made.inputs[number - 1])
    made.diode("transistor", made.plus)


_WAYS = {
    "low side": _low,
    "bipolar low side": _low,
    "high side": _high,
    "half bridge": _half,
    "full bridge": _full,
    "p/n bridge": _p_n,
    "modules": _modules,
    "relay pair": _relays,
    "crossed relay": _relays,
}
assert set(CONTACT_CIRCUITS) | set(DIODE_CIRCUITS) <= set(_WAYS)
