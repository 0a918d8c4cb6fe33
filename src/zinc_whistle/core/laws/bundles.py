"""Wires that lie together warm one another: factors of a published table, and what each insulation bears."""

from __future__ import annotations

from ..algebra.nodes import Constant

SOURCE = "IEC 60364-5-52, table B.52.17, line 1: bunched, each wire counted as a circuit (from memory)"
_TABLE = (
    (1, 1.0),
    (2, 0.8),
    (3, 0.7),
    (4, 0.65),
    (5, 0.6),
    (6, 0.57),
    (7, 0.54),
    (8, 0.52),
    (9, 0.5),
    (12, 0.45),
    (16, 0.41),
    (20, 0.38),
)
MOST = _TABLE[-1][0]
INSULATION = {
    "pvc": Constant("70 °C", 70.0, "temperature", "IEC 60364-5-52: PVC, for good (from memory)"),
    "xlpe": Constant("90 °C", 90.0, "temperature", "IEC 60364-5-52: cross-linked polyethylene, for good (from memory)"),
    "silicone": Constant("180 °C", 180.0, "temperature", "EN 50525-2-41: heat-resistant silicone (from memory)"),
    "ptfe": Constant("200 °C", 200.0, "temperature", "common practice, no source: silvered copper in PTFE"),
}


def together(wires: int) -> Constant:
    """The factor of so many loaded wires in one bundle; between two lines of the table that of the larger number.

    ValueError where the table ends.
    """
    for count, factor in _TABLE:
        if wires <= count:
            return Constant(f"{factor:g}", factor, "fraction", SOURCE)
    raise ValueError(f"The table of bundles ends at {MOST} wires.")
