"""What may stand differently while a drive works: the axes along which the worst case is searched.

The ends are named as a builder would say them; the first decides a tie.
"""

from __future__ import annotations

from ..algebra.nodes import Axis

SUPPLY = Axis("supply", ("supply full", "supply flat"))
WINDING = Axis("winding", ("winding cold", "winding hot"))
"""As cold as the coldest air, or as hot as it gets at work: what the copper's resistance goes with."""
AIR = Axis("air", ("hottest air", "coldest air"))
SPEED = Axis("speed", told=lambda omega: f"at {omega * 60 / 6.283185307179586:.3g} rpm")
"""From rest to the working speed, where something sets it: a knob or the port."""
DUTY = Axis("duty", told=lambda duty: f"at {duty:.0%} duty".replace("%", " %"))
"""From nothing to the working duty: what a ramp passes through."""
FULL, FLAT = {SUPPLY: 0.0}, {SUPPLY: 1.0}
COLD, HOT = {WINDING: 0.0}, {WINDING: 1.0}
HOTTEST = {AIR: 0.0}
