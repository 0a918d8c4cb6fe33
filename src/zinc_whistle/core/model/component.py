"""What every component of the shelf has."""

from __future__ import annotations

from typing import ClassVar

from pydantic import Field

from .given import Given, Item, given


class Component(Item):
    """What every component has. ``NEEDED`` names the figures without which no check can tell."""

    NEEDED: ClassVar[tuple[str, ...]] = ()
    name: str = Field("", max_length=80, description="Name")
    sample: bool = Field(False, description="An invented sample, typical of its class")


class Priced(Component):
    """A component with its price, which all of them have."""

    price: Given = given("price", "€", "Price, each", default="0 €", low=0)
    note: str = Field("", max_length=300, description="Note")
