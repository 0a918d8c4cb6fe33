"""What a builder wants of a design besides that it holds: limits of one's own, as typed, and read."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ..algebra.quantities import QuantityError, parse, phrase
from ..model.components import HeatSink


@dataclass(frozen=True, slots=True)
class WishKind:
    """One limit of one's own: what it is called, and its kind and unit."""

    label: str
    kind: str
    unit: str


WISHES: dict[str, WishKind] = {
    "price": WishKind("Price, at most", "price", "€"),
    "junction": WishKind("Junction, at most", "temperature", "°C"),
    "height": WishKind("Heat sink's height, at most", "length", "mm"),
    "slowest": WishKind("PWM frequency, at least", "frequency", "kHz"),
    "fastest": WishKind("PWM frequency, at most", "frequency", "kHz"),
    "parallel": WishKind("In parallel, at most", "number", "1"),
}


YOURS = {"price": "within your price of {}", "temperature": "within your junction of {}"}
"""A wish that a design did not keep to, in words, by its kind."""


class WishError(ValueError):
    """A wish that cannot be read, by its name; the message is a sentence."""

    def __init__(self, name: str, sentence: str) -> None:
        super().__init__(f"{WISHES[name].label}: {sentence}")
        self.name = name


@dataclass(frozen=True, slots=True, kw_only=True)
class Wishes:
    """Limits of one's own (€, °C, m, Hz, pieces), each None where nothing is wished."""

    price: float | None = None
    junction: float | None = None
    height: float | None = None
    slowest: float | None = None
    fastest: float | None = None
    parallel: float | None = None

    def takes(self, frequency: float) -> bool:
        """Whether a PWM frequency lies within what is wished."""
        return (self.slowest is None or frequency >= self.slowest) and (
            self.fastest is None or frequency <= self.fastest
        )

    def fits(self, sink: HeatSink | None) -> bool:
        """Whether a heat sink is low enough: one whose height nobody told is not known to be."""
        if self.height is None or sink is None:
            return True
        return sink.height.value is not None and sink.height.value <= self.height

    def refuses(self, price: float | None, junction_c: float) -> str:
        """Which wish a design worked out in full does not meet, in words; nothing where it meets all."""
        if self.price is not None and price is None:
            return "of a known price"
        if self.price is not None and price is not None and price > self.price:
            return YOURS["price"].format(phrase(self.price, "price"))
        if self.junction is not None and junction_c > self.junction:
            return YOURS["temperature"].format(phrase(self.junction, "temperature"))
        return ""


def wishes_of(texts: Mapping[str, str]) -> Wishes:
    """What was typed, read. WishError with a sentence where it cannot be, or where no design could meet it."""
    read: dict[str, float] = {}
    for name, text in texts.items():
        wish = WISHES[name]
        if not text.strip():
            continue
        try:
            read[name] = parse(text, wish.kind, wish.unit).value
        except QuantityError as error:
            raise WishError(name, str(error)) from error
        if wish.kind != "temperature" and read[name] <= 0:
            raise WishError(name, "this must be more than nothing.")
    slowest, fastest = read.get("slowest"), read.get("fastest")
    if slowest is not None and fastest is not None and slowest > fastest:
        raise WishError("fastest", "this lies below the least that you ask for.")
    if read.get("parallel", 1.0) < 1 or read.get("parallel", 1.0) % 1:
        raise WishError("parallel", "this is a whole number, 1 or more.")
    return Wishes(**read)
