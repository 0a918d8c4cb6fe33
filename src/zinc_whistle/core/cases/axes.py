"""What may stand differently while a drive works: the axes along which the worst case is searched.

The ends are named as a builder would say them; the first decides a tie.
"""

from __future__ import annotations

from collections.abc import Callable

from ..algebra.nodes import Axis


def _of_working(what: str) -> Callable[[float], str]:
    """Words for a share of what the drive does at work, which is where the range begins and goes without saying."""

    def in_words(place: float) -> str:
        share = 100 * (1 - place)
        if share > 99.5:
            return ""
        return f"at {share:.0f} % of the working {what}" if share >= 0.5 else f"at no {what}"

    return in_words


SUPPLY = Axis("supply", ("supply full", "supply flat"))
WINDING = Axis("winding", ("winding cold", "winding hot"), rank=1)
"""As cold as the coldest air, or as hot as it gets at work: what the copper's resistance goes with."""
AIR = Axis("air", ("hottest air", "coldest air"), rank=2)
SPEED = Axis("speed", in_words=_of_working("speed"), rank=3)
"""From the working speed down to rest, where something sets it: a knob or the port."""
DUTY = Axis("duty", in_words=_of_working("duty"), rank=4)
"""From the working duty down to nothing: what a ramp passes through."""
JAM_DUTY = Axis("duty", in_words=lambda place: f"at {100 * (1 - place):.0f} % duty", rank=4)
"""From full duty down to nothing: where a jam may find a drive that a knob or the port sets."""
PARTS = Axis("parts", ("parts at their least", "parts at their most"), rank=5)
"""The parts of a timer circuit at either end of their tolerance."""
FULL, FLAT = {SUPPLY: 0.0}, {SUPPLY: 1.0}
COLD, HOT = {WINDING: 0.0}, {WINDING: 1.0}
HOTTEST = {AIR: 0.0}
AXES = (SUPPLY, WINDING, AIR, SPEED, DUTY, JAM_DUTY, PARTS)
