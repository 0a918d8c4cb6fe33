"""What the C program calls things: registers, bits, names of drives, text inside comments."""

from __future__ import annotations

from ..model.signals import Pin
from ..panel.lines import Lines, is_pulsed
from .planned import DriveProgram, PanelContact, ServoProgram

WIDE = "1345"
"""Timers of 16 bits, all alike; the count's top is a register of its own."""
PRESCALERS = {
    **{n: {1: f"CS{n}0", 8: f"CS{n}1", 64: f"CS{n}1 CS{n}0", 256: f"CS{n}2", 1024: f"CS{n}2 CS{n}0"} for n in WIDE},
    "2": {
        1: "CS20",
        8: "CS21",
        32: "CS21 CS20",
        64: "CS22",
        128: "CS22 CS20",
        256: "CS22 CS21",
        1024: "CS22 CS21 CS20",
    },
}
"""Clock-select bits by timer and prescaler."""


PAGES = {"B": "0", "C": "1", "D": "2"}
"""Pin-change interrupt by port, where the profile does not tell it."""


def interrupt_of(pin: Pin) -> str:
    """What the target calls a pin's interrupt: the number of one shared with its port, or INT and a number."""
    return pin.page.strip().upper() or PAGES.get(pin.port[:1], "")


def vector_of(interrupt: str) -> str:
    """The routine that an interrupt calls."""
    return f"{interrupt}_vect" if interrupt.startswith("INT") else f"PCINT{interrupt}_vect"


def listened(pin: Pin) -> tuple[str, str]:
    """What makes both edges of a pin call its interrupt."""
    name = interrupt_of(pin)
    if name.startswith("INT"):
        number = int(name[3:])
        return f"EICR{'A' if number < 4 else 'B'} |= _BV(ISC{number}0);", f"EIMSK |= _BV({name});"
    return f"PCMSK{name} |= {bit_of(pin)};", f"PCICR |= _BV(PCIE{name});"


def channel_of(pin: Pin) -> str:
    """The converter's channel of a pin; port C's bits are its channels where the profile does not tell it."""
    return pin.channel or (pin.port[1:] if pin.port[:1] == "C" else "")


def pulsed_line(thing: DriveProgram | ServoProgram, signal: str) -> bool:
    return isinstance(thing, DriveProgram) and any(
        signal in levels and is_pulsed(levels[signal]) for levels in thing.lines.levels.values()
    )


def complementary(lines: Lines) -> bool:
    return any(v == "not PWM" for levels in lines.levels.values() for v in levels.values())


def up_name(drive: DriveProgram) -> str:
    return drive.slug.upper()


def register(kind: str, pin: Pin) -> str:
    return f"{kind}{pin.port[0]}"


def bit_of(pin: Pin) -> str:
    return f"_BV({pin.port[1]})"


def put(pin: Pin, level: str) -> str:
    return (
        f"{register('PORT', pin)} |= {bit_of(pin)};" if level == "1" else f"{register('PORT', pin)} &= ~{bit_of(pin)};"
    )


def pressed(contact: PanelContact) -> str:
    read = f"{register('PIN', contact.pin)} & {bit_of(contact.pin)}"
    return f"!({read})" if contact.low else f"({read}) != 0"


def compare(pin: Pin) -> tuple[str, str, str]:
    """Compare register, control register and the bit that connects the output."""
    timer, side = pin.compare[0], pin.compare[1]
    return f"OCR{timer}{side}", f"TCCR{timer}A", f"COM{timer}{side}1"
