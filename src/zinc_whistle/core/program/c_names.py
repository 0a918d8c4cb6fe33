"""What the C program calls things: registers, bits, names of drives, text inside comments."""

from __future__ import annotations

from ..model.signals import Pin
from ..panel.lines import Lines, is_pulsed
from .plan import DriveProgram, PanelContact, ServoProgram

PRESCALERS = {
    "1": {1: "CS10", 8: "CS11", 64: "CS11 CS10", 256: "CS12", 1024: "CS12 CS10"},
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
"""Pin-change interrupt by port."""


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
