"""Small parts that stand on others: contacts and lamps of a panel, knobs, pull-ups, and the wires between them."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field

from ...algebra.quantities import phrase
from ...model.given import Given
from ...model.panel import PanelSpec, is_lamp, lamp_signal
from ..operating import DriveContext
from ..pins import PANEL, STOP, PinUse, block_of
from ..wires.rows import lamp_resistance
from ..wires.terminal import Terminal
from .parts import Kind, WiredPart

PULL_OHM = 10e3
"""A pull-up or pull-down of a contact (common practice, no source)."""

KNOB_END_OHM = 390.0
"""At each end of a knob of 10 kΩ ± 20 %: its ends then read 31 to 45 of 1,023, within what a program takes for them."""


@dataclass(slots=True)
class Inner:
    """Parts that stand on another, and the joints between their pins."""

    on: str
    drives: tuple[str, ...] = ()
    parts: list[WiredPart] = field(default_factory=list)
    joints: list[tuple[Terminal, Terminal, str]] = field(default_factory=list)

    def add(
        self,
        kind: Kind,
        name: str,
        pins: tuple[str, ...],
        *,
        value: str = "",
        marks: dict[str, str] | None = None,
        each: int = 1,
        price: Given | None = None,
        ohms: tuple[tuple[str, str, float], ...] = (),
        in_order: bool = False,
    ) -> str:
        """A part on this one; its id."""
        id = f"{self.on}/{name}"
        self.parts.append(
            WiredPart(
                id=id,
                kind=kind,
                name=name,
                value=value,
                pins=pins,
                on=self.on,
                drives=self.drives,
                marks=marks or {},
                each=each,
                price=price,
                ohms=ohms,
                in_order=in_order,
            )
        )
        return id

    def join(self, one: tuple[str, str], other: tuple[str, str], carries: str) -> None:
        """Two pins as one point; what it carries names the net."""
        self.joints.append((Terminal(*one), Terminal(*other), carries))

    def strip(self, part: str, pin: str, outer: str, carries: str) -> None:
        """A pin of a small part on a terminal of what it stands on."""
        self.join((part, pin), (self.on, outer), carries)

    def resistor(self, name: str, ohms: float | None, *, each: int = 1) -> str:
        """A resistor with its value, as far as that is known; ``each`` of them stand side by side at as many places."""
        between = () if ohms is None else (("1", "2", ohms),)
        value = phrase(ohms, "resistance") if ohms is not None else ""
        return self.add("resistor", name, ("1", "2"), value=value, each=each, ohms=between)

    def ends(self, id: str, ends: tuple[str, str], carries: tuple[str, str]) -> str:
        """A part with two ends between two terminals of what it stands on."""
        for pin, end, said in zip(("1", "2"), ends, carries, strict=True):
            self.strip(id, pin, end, said)
        return id

    def contact(self, name: str, ends: tuple[str, str], carries: tuple[str, str], closed: bool = False) -> str:
        """A button or switch between two terminals; ``closed`` at rest."""
        id = self.add("contact", name, ("1", "2"), ohms=(("1", "2", 0.0),) if closed else ())
        return self.ends(id, ends, carries)


LED = {"A": "long lead", "K": "short lead, flat side of the rim"}
GROUND, RAIL = "ground", "Logic rail"


def panel_inner(at: DriveContext, pins: tuple[PinUse, ...]) -> Inner:
    """A panel's contacts, lamps and knob. A contact that acts when it is at ground has its pull-up in the chip."""
    made = Inner(on=f"panel {at.drive.id}", drives=(at.drive.id,))
    panel = at.drive.panel
    to_ground = {PANEL[n] for n in ("stop", "limit_front", "limit_back")}
    lamps = {lamp_signal(place, lamp): lamp for place, lamp in enumerate(panel.lamps, 1)}
    for use in pins:
        signal = use.signal
        if use.pin is None or block_of(signal) != "panel" or (signal == STOP and at.build.stop_line == "yes"):
            continue
        if is_lamp(signal) and signal in lamps:
            lamp = lamps[signal]
            before = made.resistor(f"Resistor of {signal.lower()}", lamp_resistance(at.controller.logic_v.leaf, lamp))
            led = made.add("lamp", signal.capitalize(), ("A", "K"), marks=LED)
            made.strip(before, "1", signal, signal)
            made.join((before, "2"), (led, "A"), f"{signal}, behind its resistor")
            made.strip(led, "K", "GND", GROUND)
        elif signal == "KNOB":
            _knob(made)
        elif signal in to_ground or panel.pressed == "low" or signal not in PANEL.values():
            made.contact(signal.capitalize(), (signal, "GND"), (signal, GROUND), _closed(panel, signal))
        else:
            made.contact(signal.capitalize(), (signal, "V+"), (signal, RAIL))
            pull = made.resistor(f"Pull-down of {signal.lower()}", PULL_OHM)
            made.ends(pull, (signal, "GND"), (signal, GROUND))
    return made


def _knob(made: Inner) -> None:
    """A potentiometer with a resistor at each end: a reading beyond them is a wire that is off."""
    knob = made.add("knob", "Knob", ("A", "W", "B"), value="10 kΩ, linear", ohms=(("A", "B", PULL_OHM),))
    upper, lower = (made.resistor(f"{end} end of the knob", KNOB_END_OHM) for end in ("Upper", "Lower"))
    made.strip(upper, "1", "V+", RAIL)
    made.join((upper, "2"), (knob, "A"), "Knob, upper end")
    made.strip(knob, "W", "KNOB", "KNOB")
    made.join((lower, "1"), (knob, "B"), "Knob, lower end")
    made.strip(lower, "2", "GND", GROUND)


def _closed(panel: PanelSpec, signal: str) -> bool:
    """Whether a contact of the panel is closed at rest."""
    if signal == STOP:
        return panel.stop_input == "closed"
    return signal.startswith("LIMIT") and panel.limit_contact == "closed"


def servo_inner(drive: str, pins: tuple[PinUse, ...]) -> Inner:
    """The buttons of sequences that begin with a servo."""
    made = Inner(on=f"panel {drive}", drives=(drive,))
    for use in pins[1:]:
        if use.pin is not None and use.signal == "KNOB":
            _knob(made)
        elif use.pin is not None and block_of(use.signal) == "panel":
            made.contact(use.signal.capitalize(), (use.signal, "GND"), (use.signal, GROUND))
    return made


def encoder_inner(at: DriveContext) -> Inner:
    """The pull-ups of channels that only pull down, and the lamps of light barriers."""
    made = Inner(on=f"encoder {at.drive.id}", drives=(at.drive.id,))
    motor = at.drive.of_motor
    if motor is None or not motor.has_encoder:
        return made
    spec = motor.encoder
    channels = ("A",) if spec.single else ("A", "B")
    if spec.optical or spec.outputs == "open collector":
        for channel in channels:
            if (ohms := spec.pull_up.value) is not None:
                pull = made.resistor(f"Pull-up of {channel}", ohms)
                made.ends(pull, ("V+", channel), ("Encoder supply", f"ENC {channel}"))
    if spec.optical and (ohms := spec.lamp_ohm.value) is not None:
        for channel in channels:
            before = made.resistor(f"Resistor of lamp {channel}", ohms)
            lamp = made.add("lamp", f"Lamp of barrier {channel}", ("A", "K"), marks=LED)
            made.strip(before, "1", "V+", "Encoder supply")
            made.join((before, "2"), (lamp, "A"), f"Lamp {channel}, behind its resistor")
            made.strip(lamp, "K", "GND", GROUND)
    return made


def inner_of(at: DriveContext, pins: tuple[PinUse, ...]) -> Iterator[Inner]:
    """All small parts of a drive that are not in its driver."""
    yield panel_inner(at, pins)
    yield encoder_inner(at)
