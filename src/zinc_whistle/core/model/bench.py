"""Bench: the stages of a test sheet, and the steps that a builder adds to it."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from .given import Given, Item, ListOwner, Spec, choice, given, listing

STAGES = {
    "cold": "Cold: nothing joined that gives power",
    "power": "First power, behind a limit",
    "inputs": "Inputs by hand, before any program",
    "pulses": "Signals, before anything moves",
    "motor": "It moves, without its load",
    "load": "With its load",
    "long": "Warm, and on the final source",
}
"""The stages of a test sheet in the order in which they are safe, and what is joined by then."""

READS = {
    "voltage": "Volts",
    "current": "Amperes",
    "resistance": "Ohms",
    "frequency": "A frequency",
    "time": "A time",
    "temperature": "A temperature",
    "count": "A count",
}
"""What a step of one's own can read."""


class _OwnStep(Item):
    """A test that the builder wants done, beside those that follow from the design."""

    name: str = Field("", max_length=80, description="What is tested")
    where: str = Field("", max_length=200, description="Where")
    instrument: str = Field("", max_length=80, description="Instrument")
    setting: str = Field("", max_length=200, description="Its setting, and what to do")
    stage: Literal["cold", "power", "inputs", "pulses", "motor", "load", "long"] = choice("When", STAGES, "power")
    caution: str = Field("", max_length=200, description="Caution")


def _should(kind: str, unit: str) -> Given:
    return given(kind, unit, "It should read", optional=True)  # type: ignore[no-any-return]


def _beside(kind: str, unit: str) -> Given:
    return given(  # type: ignore[no-any-return]
        kind,
        unit,
        "Give or take",
        low=0,
        optional=True,
        help="Without it a reading is kept, and not judged.",
    )


class VoltageStep(_OwnStep):
    """Volts."""

    kind: Literal["voltage"] = "voltage"
    should: Given = _should("voltage", "V")
    beside: Given = _beside("voltage", "V")


class CurrentStep(_OwnStep):
    """Amperes."""

    kind: Literal["current"] = "current"
    should: Given = _should("current", "A")
    beside: Given = _beside("current", "A")


class ResistanceStep(_OwnStep):
    """Ohms."""

    kind: Literal["resistance"] = "resistance"
    should: Given = _should("resistance", "Ω")
    beside: Given = _beside("resistance", "Ω")


class FrequencyStep(_OwnStep):
    """A frequency."""

    kind: Literal["frequency"] = "frequency"
    should: Given = _should("frequency", "Hz")
    beside: Given = _beside("frequency", "Hz")


class TimeStep(_OwnStep):
    """A time."""

    kind: Literal["time"] = "time"
    should: Given = _should("time", "s")
    beside: Given = _beside("time", "s")


class TemperatureStep(_OwnStep):
    """A temperature."""

    kind: Literal["temperature"] = "temperature"
    should: Given = _should("temperature", "°C")
    beside: Given = _beside("temperature difference", "K")


class CountStep(_OwnStep):
    """A count."""

    kind: Literal["count"] = "count"
    should: Given = _should("count", "counts")
    beside: Given = _beside("count", "counts")


OwnStep = Annotated[
    VoltageStep | CurrentStep | ResistanceStep | FrequencyStep | TimeStep | TemperatureStep | CountStep,
    Field(discriminator="kind"),
]


class Tools(Spec):
    """What a builder has to measure with, beside a meter."""

    scope: Literal["yes", "no"] = choice(
        "Oscilloscope",
        {"yes": "Yes", "no": "No: a meter alone"},
        "yes",
        help="Without one the test sheet reads pulses by their mean, and says what has to be left open.",
    )


class BenchSpec(ListOwner):
    """What a builder adds to the test sheet of a drive."""

    steps: list[OwnStep] = listing("Steps of your own", columns=False, most=40)
