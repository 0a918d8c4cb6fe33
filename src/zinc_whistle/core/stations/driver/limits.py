"""Checks of the chosen driver that belong to the unit: a part is chosen, and something acts in a jam."""

from __future__ import annotations

from ...algebra.limits import Check, claim
from .telling import STATION


def not_chosen(drive: str) -> Check:
    """There is no driver yet."""
    return claim(
        "driver.chosen",
        station=STATION,
        title="A driver is chosen",
        holds=None,
        todo="Choose one from the list.",
        drive=drive,
        unknown="Not known yet: choose a driver part from the list.",
    )
