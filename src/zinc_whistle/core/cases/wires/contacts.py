"""How contacts are wired: which of their terminals goes to which line, by COM, NC and NO."""

from __future__ import annotations

from dataclasses import dataclass

from ...model.driver import DriverPart

SUPPLY_LINE, SWITCHED_LINE = "Supply line", "Switched line"


@dataclass(frozen=True, slots=True)
class ContactWiring:
    """The terminals of contacts: where the supply comes in, where the motor's leads go out, and what links them.

    A link is an id, two terminals and what the wire carries (None: the ground of the supply).
    """

    plus: str
    minus: str
    out_1: str
    out_2: str
    links: tuple[tuple[str, str, str, str | None], ...] = ()


_SPLIT = (("link+", "NO 1", "NC 2", SUPPLY_LINE), ("link-", "NC 1", "NO 2", SWITCHED_LINE))
BY_STYLE: dict[str, ContactWiring] = {
    # A relay for each end: released, both common terminals rest on the lower line.
    "two coils": ContactWiring(
        plus="K1 NO",
        minus="K1 NC",
        out_1="K1 COM",
        out_2="K2 COM",
        links=(("link+", "K1 NO", "K2 NO", SUPPLY_LINE), ("link-", "K1 NC", "K2 NC", None)),
    ),
    "coil and pwm": ContactWiring(
        plus="K1 NO",
        minus="GND",
        out_1="K1 COM",
        out_2="K2 COM",
        links=(
            ("link+", "K1 NO", "K2 NO", SUPPLY_LINE),
            ("link-", "K1 NC", "K2 NC", SWITCHED_LINE),
            ("drain", "K1 NC", "transistor", SWITCHED_LINE),
        ),
    ),
    # One relay of two poles, crossed: what is supply at rest for one end is the switched line for the other.
    "crossed coil and pwm": ContactWiring(
        plus="NO 1",
        minus="GND",
        out_1="COM 1",
        out_2="COM 2",
        links=(*_SPLIT, ("drain", "NC 1", "transistor", SWITCHED_LINE)),
    ),
    "one coil": ContactWiring(plus="COM", minus="GND", out_1="NO", out_2="GND"),
}
SWITCH_OF_TWO = ContactWiring(
    plus="A 1",
    minus="B 1",
    out_1="COM 1",
    out_2="COM 2",
    links=(("link+", "A 1", "B 2", SUPPLY_LINE), ("link-", "B 1", "A 2", None)),
)
"""A switch of two poles by hand, crossed: one way over A, the other over B, in the middle off."""
SWITCH_OF_ONE = ContactWiring(plus="COM", minus="GND", out_1="NO", out_2="GND")
PLAIN = ContactWiring(plus="V+", minus="GND", out_1="OUT 1", out_2="OUT 2")
"""A driver without contacts of its own."""


def contacts_of(part: DriverPart | None) -> ContactWiring:
    """The terminals of what drives, by how it is told."""
    if part is None:
        return PLAIN
    if part.input_style == "by hand":
        return SWITCH_OF_TWO if part.reverses == "yes" else SWITCH_OF_ONE
    return BY_STYLE.get(part.input_style, PLAIN)
