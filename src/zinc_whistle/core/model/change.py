"""A change of a build that the app offers: told once, whether it is only drawn or taken over."""

from __future__ import annotations

from dataclasses import dataclass

from .given import Origin


@dataclass(frozen=True, slots=True, kw_only=True)
class Change:
    """A text to put at a path, and where it comes from then (None: a choice, which has no origin).

    What was known of the old text goes with it: its doubt, its meter, its reading, its basis.
    """

    path: str
    text: str
    origin: Origin | None
    note: str = ""
